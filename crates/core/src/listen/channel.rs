//! A channel: a place outside that is looked at again and again for what is new.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::problem::Fault;
use crate::things::{ChannelId, ProductId};

/// What a channel is connected to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChannelKind {
    /// A folder on the server's disk: every file that is new or changed.
    Folder,
    /// A file of mails (mbox) that grows.
    Mailbox,
    /// A support desk that is asked for its tickets.
    Desk,
    /// A review site that is asked for its reviews.
    Reviews,
}

impl ChannelKind {
    /// Whether it is asked over the network.
    #[must_use]
    pub fn is_far(self) -> bool {
        matches!(self, ChannelKind::Desk | ChannelKind::Reviews)
    }
}

/// A place outside that is looked at.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Channel {
    /// Its number.
    pub id: ChannelId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// What it is called; also the source of what comes through it.
    pub name: String,
    /// What it is connected to.
    pub kind: ChannelKind,
    /// Where: a path on the server, or an address.
    pub place: String,
    /// How often it is looked at, in minutes.
    pub every_minutes: i64,
    /// Whether what tells who somebody is is covered in the words; 0 or 1.
    pub covers: i64,
    /// Whether it is left alone for now; 0 or 1.
    pub paused: i64,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "channel",
    singular: "channel",
    plural: "channels",
    stage: Stage::Listen,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("name")],
    spoken_of: false,
    ..Description::BASE
};

/// How far a channel was read.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct ChannelState {
    /// Where to go on, as the place outside gave it.
    pub cursor: Option<String>,
    /// The key that a place asked for.
    pub secret: Option<String>,
    /// The place whose key it is.
    pub secret_for: Option<String>,
    /// When it was looked at last, in milliseconds since 1970.
    pub looked_at: Option<i64>,
    /// What went wrong then.
    pub problem: Option<String>,
}

impl ChannelState {
    /// The key for a place; another place does not get it.
    #[must_use]
    pub fn key_for(&self, place: &str) -> Option<&str> {
        self.secret.as_deref().filter(|_| self.secret_for.as_deref() == Some(place))
    }
}

/// A week, in minutes: the longest time between two looks.
pub const LONGEST_MINUTES: i64 = 7 * 24 * 60;
const LONGEST_NAME: usize = 80;
const LONGEST_PLACE: usize = 1_000;

/// Checks what a person wrote of a channel.
///
/// # Errors
/// Every field at fault.
pub fn check_channel(name: &str, kind: ChannelKind, place: &str, every_minutes: i64) -> Result<(), Vec<Fault>> {
    let mut faults = Vec::new();
    let fits = |text: &str, most: usize| {
        (1..=most).contains(&text.trim().chars().count()) && !text.chars().any(char::is_control)
    };
    if !fits(name, LONGEST_NAME) {
        faults.push(Fault::new("/name", format!("Name it in at most {LONGEST_NAME} characters.")));
    }
    let far = ["http://", "https://", "stand-in:"].iter().any(|head| place.starts_with(head));
    if !fits(place, LONGEST_PLACE) || place.contains(['?', '#']) && kind.is_far() {
        faults.push(Fault::new("/place", "Say where it is, without a question mark."));
    } else if kind.is_far() && has_user(place) {
        faults.push(Fault::new("/place", "Leave out the name and password before the @: give the key by itself."));
    } else if far != kind.is_far() {
        let words = if kind.is_far() {
            "Write its address, such as https://desk.crossing.example."
        } else {
            "Write its path on the server."
        };
        faults.push(Fault::new("/place", words));
    }
    if !(1..=LONGEST_MINUTES).contains(&every_minutes) {
        faults.push(Fault::new("/every_minutes", format!("Look every 1 to {LONGEST_MINUTES} minutes.")));
    }
    if faults.is_empty() { Ok(()) } else { Err(faults) }
}

/// Whether an address has a part in front of its host that says who asks (RFC 3986, 3.2.1).
fn has_user(place: &str) -> bool {
    let authority = place.split_once("://").map_or("", |(_, rest)| rest.split(['/', '\\']).next().unwrap_or_default());
    authority.contains('@')
}

/// Whether a channel is to be looked at, at a moment in milliseconds since 1970. A clock that went back does not make
/// it wait longer than its time.
#[must_use]
pub fn is_due(channel: &Channel, looked_at: Option<i64>, now: i64) -> bool {
    let wait = channel.every_minutes.saturating_mul(60_000);
    channel.paused == 0 && looked_at.is_none_or(|at| now < at || now.saturating_sub(at) >= wait)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn channel(every_minutes: i64, paused: i64) -> Channel {
        Channel {
            id: ChannelId(1),
            rev: 1,
            product_id: ProductId(1),
            name: "desk".into(),
            kind: ChannelKind::Desk,
            place: "https://desk.crossing.example".into(),
            every_minutes,
            covers: 0,
            paused,
        }
    }

    #[test]
    fn a_place_fits_its_kind() {
        let at = |kind, place: &str| check_channel("Desk", kind, place, 5).err().map(|faults| faults[0].field.clone());
        assert_eq!(at(ChannelKind::Desk, "https://desk.crossing.example"), None);
        assert_eq!(at(ChannelKind::Folder, "/srv/drop"), None);
        for (kind, place) in [
            (ChannelKind::Desk, "/srv/drop"),
            (ChannelKind::Folder, "http://desk.crossing.example"),
            (ChannelKind::Reviews, "https://r.example/?a=b"),
            (ChannelKind::Mailbox, ""),
            (ChannelKind::Mailbox, "/srv\n/drop"),
        ] {
            assert_eq!(at(kind, place).as_deref(), Some("/place"), "{place}");
        }
        assert_eq!(check_channel(" ", ChannelKind::Folder, "/srv", 0).unwrap_err().len(), 2);
    }

    #[test]
    fn it_is_looked_at_in_its_time() {
        let minute = 60_000;
        assert!(is_due(&channel(5, 0), None, 0));
        assert!(!is_due(&channel(5, 0), Some(0), 5 * minute - 1));
        assert!(is_due(&channel(5, 0), Some(0), 5 * minute));
        assert!(is_due(&channel(5, 0), Some(90 * minute), minute), "the clock went back");
        assert!(!is_due(&channel(5, 1), None, 0), "paused");
    }
}
