//! How long a list, a trace and a write take over loopback, beside the same query asked directly.

use std::time::Duration;

use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::queries::listen::ItemFilter;
use iron_kite_store::queries::trace::Direction;
use iron_kite_store::{Error, Store, Way, WriteContext};
use iron_kite_testkit::{Client, Server, reviews_csv};
use serde_json::{Map, Value, json};

use crate::{ms, tell, times};

const TIMES: usize = 300;

/// Measures on a demo workspace to which this many reviews were added.
pub(crate) fn measure(rows: usize) {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let file = client.put_down(1, "reviews.csv", reviews_csv(rows));
    assert_eq!(client.over(&client.bring_in(1, &file))["state"], "done");
    // The same file, opened a second time beside the server.
    let store = Store::open(server.dir()).expect("the workspace");
    tell(&format!(
        "one after another over loopback, beside the same asked directly; {rows} items more, {TIMES} times each"
    ));
    let filter = ItemFilter { limit: 101, ..ItemFilter::default() };
    compare(
        "list of 100 items",
        || get(&client, "listen/items?product=1"),
        || {
            store.read(|rows| rows.items(ProductId(1), &filter)).expect("items");
        },
    );
    let words = ItemFilter { words: Some("evening boat".into()), ..filter.clone() };
    compare(
        "list of 100 items with two words",
        || get(&client, "listen/items?product=1&words=evening%20boat"),
        || {
            store.read(|rows| rows.items(ProductId(1), &words)).expect("items");
        },
    );
    let result = Thing::new(ThingKind::Result, 1);
    compare(
        "trace of a result",
        || get(&client, "trace/result/1"),
        || {
            store
                .read(|rows| {
                    rows.reach(result, Direction::Down)?;
                    rows.reach(result, Direction::Up)
                })
                .expect("a trace");
        },
    );
    let mut number = 0;
    compare(
        "one write (an idea)",
        || {
            client.done("POST", "decide/ideas", &json!({ "product_id": 1, "title": "Measured" }));
        },
        || {
            number += 1;
            write(&store, number);
        },
    );
}

fn get(client: &Client, path: &str) {
    let _ = client.get(path);
}

fn write(store: &Store, number: i64) {
    let context =
        WriteContext { user_id: None, at: number, label: "measured".into(), way: Way::Person, needs: Right::Edit };
    store
        .write(context, |tx| -> Result<i64, Error> {
            let values = [("product_id", json!(1)), ("title", json!("Measured")), ("state", json!("raw"))];
            let values: Map<String, Value> = values.into_iter().map(|(name, value)| (name.to_owned(), value)).collect();
            tx.insert(ThingKind::Idea, &values)
        })
        .expect("a write");
}

fn compare(name: &str, mut over_loopback: impl FnMut(), mut directly: impl FnMut()) {
    let middle_and_99th = |times: Vec<Duration>| (times[TIMES / 2], times[TIMES * 99 / 100]);
    let far = middle_and_99th(times(&mut over_loopback, TIMES));
    let near = middle_and_99th(times(&mut directly, TIMES));
    tell(&format!(
        "  {name:<34}: p50 {:6.2} ms, p99 {:6.2} ms; directly p50 {:6.2} ms, p99 {:6.2} ms; ratio {:.1}",
        ms(far.0),
        ms(far.1),
        ms(near.0),
        ms(near.1),
        ms(far.0) / ms(near.0)
    ));
}
