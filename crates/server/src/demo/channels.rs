//! The channels of the demo: a support desk and a review site, simulated on this machine. They are left alone until
//! somebody looks, so that the demo holds still.

use std::time::Duration;

use iron_kite_core::listen::ChannelKind;
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{ChannelId, ProductId};
use iron_kite_ops::listen::{self, ChannelChange, NewChannel};
use iron_kite_ops::{App, Call};
use iron_kite_stand_ins::{Place, StandIn};
use serde_json::Value;

const TICKETS: &str = include_str!("../../../../demo/desk-tickets.json");
const PAGES: &str = include_str!("../../../../demo/library-pages.json");
const REVIEWS: &str = include_str!("../../../../demo/site-reviews.json");
/// So many of each are there from the first; another one comes after each pause.
const FIRST: usize = 5;
const PAUSE: Duration = Duration::from_secs(120);

/// Starts the simulated places.
///
/// # Errors
/// In words, where no port can be had.
pub(crate) fn places() -> Result<Vec<(&'static str, StandIn)>, String> {
    let start = |name, what, records: &str| {
        let records: Vec<Value> = serde_json::from_str(records).map_err(|fault| fault.to_string())?;
        let place = Place { what, key: None, records, first: FIRST, pause: PAUSE };
        StandIn::start(place).map(|place| (name, place))
    };
    let (desk, reviews) = (start("desk", "tickets", TICKETS)?, start("reviews", "reviews", REVIEWS)?);
    Ok(vec![desk, reviews, start("library", "pages", PAGES)?])
}

/// Sets the channels up.
pub(crate) fn load(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    let all = [
        ("Harbour office desk", ChannelKind::Desk, "stand-in:desk"),
        ("App shop", ChannelKind::Reviews, "stand-in:reviews"),
    ];
    for (name, kind, place) in all {
        let new = NewChannel {
            product,
            name: name.into(),
            kind,
            place: place.into(),
            key: None,
            every_minutes: 15,
            covers: kind == ChannelKind::Desk,
        };
        let saved = listen::add_channel(app, call, new)?;
        let id = ChannelId(saved.thing.map_or(0, |thing| thing.id));
        let paused =
            ChannelChange { rev: 1, place: None, key: None, every_minutes: None, covers: None, paused: Some(true) };
        listen::change_channel(app, call, id, paused)?;
    }
    Ok(())
}
