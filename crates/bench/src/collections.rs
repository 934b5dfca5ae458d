//! What a view of 100,000 work items costs, beside the same SQL written by hand over the same tables with the best
//! index that there is.

use std::path::Path;
use std::time::{Duration, Instant};

use iron_kite_core::fields::Collection;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use iron_kite_ops::collections::{self, RowsAsk};
use iron_kite_ops::{App, Call};
use iron_kite_store::{Error, Store, Way, WriteContext};
use jiff::Timestamp;
use jiff::civil::date;
use rusqlite::{Connection, OpenFlags};
use serde_json::{Map, Value, json};

use crate::{ms, tell, times};

const TIMES: usize = 40;

/// Measures on this many work items with three fields of the team's own.
pub(crate) fn measure(count: usize) {
    let dir = tempfile::tempdir().expect("a folder");
    let start = Instant::now();
    fill(dir.path(), count);
    let seconds = start.elapsed().as_secs_f64();
    let app = App::open(dir.path()).expect("the workspace");
    let call = Call::command(Timestamp::UNIX_EPOCH, date(2026, 6, 30));
    let hand = beside(dir.path());
    tell(&format!("views of {count} work items (written in {seconds:.0} s), beside SQL by hand, {TIMES} times each"));

    let fields = json!(["reference", "title", "points", "state", "f1", "f2", "f3"]);
    let by_own = json!([{ "field": "f1", "descending": true }]);
    let columns = "id, rev, title, points, state, json_extract(own, '$.f1'), json_extract(own, '$.f2'), json_extract(own, '$.f3')";
    let ordered = "ORDER BY json_extract(own, '$.f1') DESC, id DESC";
    let all = "SELECT count(*) FROM work_item WHERE product_id = 1";
    let page =
        |skip: usize| format!("SELECT {columns} FROM work_item WHERE product_id = 1 {ordered} LIMIT 100 OFFSET {skip}");
    let rows = |skip: usize, query: &Value| ask(&app, &call, query, skip);

    let query = json!({ "fields": fields, "order": by_own });
    compare("first page, ordered by an own field", || rows(0, &query), || by_hand(&hand, &[&page(0), all]));
    let middle = count / 2;
    compare(
        "the page in the middle",
        || rows(middle, &query),
        || {
            // By hand one fetches the numbers from the index first, and then the rows.
            let inner = format!("SELECT id FROM work_item WHERE product_id = 1 {ordered} LIMIT 100 OFFSET {middle}");
            by_hand(&hand, &[&format!("SELECT {columns} FROM work_item WHERE id IN ({inner}) {ordered}"), all]);
        },
    );

    for (field, order) in [("title", "title COLLATE NOCASE, id"), ("points", "points, id"), ("state", "state, id")] {
        let query = json!({ "fields": fields, "order": [{ "field": field }] });
        for (place, skip) in [("first page", 0), ("the page in the middle", middle)] {
            let inner =
                format!("SELECT id FROM work_item WHERE product_id = 1 ORDER BY {order} LIMIT 100 OFFSET {skip}");
            let page = format!("SELECT {columns} FROM work_item WHERE id IN ({inner})");
            compare(&format!("{place}, by {field}"), || rows(skip, &query), || by_hand(&hand, &[&page, all]));
        }
    }

    let filter = json!({ "and": [
        { "field": "points", "operator": "at_least", "value": 5 },
        { "field": "f2", "operator": "any_of", "value": ["c2"] },
    ] });
    let holds = "product_id = 1 AND points >= 5 AND json_extract(own, '$.f2') = 'c2'";
    let query = json!({ "fields": fields, "order": by_own, "filter": filter, "group": [{ "field": "state" }],
        "totals": [{ "field": "points", "measure": "sum" }] });
    compare(
        "filter, order by an own field, and group",
        || {
            rows(0, &query);
            group(&app, &call, &query);
        },
        || {
            by_hand(
                &hand,
                &[
                    &format!("SELECT {columns} FROM work_item WHERE {holds} {ordered} LIMIT 100"),
                    &format!("SELECT count(*) FROM work_item WHERE {holds}"),
                    &format!("SELECT state, count(*), sum(points) FROM work_item WHERE {holds} GROUP BY state"),
                    &format!("SELECT count(*), sum(points) FROM work_item WHERE {holds}"),
                ],
            );
        },
    );
    let query = json!({ "group": [{ "field": "f2" }] });
    compare(
        "group all by an own choice",
        || group(&app, &call, &query),
        || {
            by_hand(
                &hand,
                &["SELECT json_extract(own, '$.f2'), count(*) FROM work_item WHERE product_id = 1 GROUP BY 1", all],
            );
        },
    );
    let query = json!({ "group": [{ "field": "f3", "part": "quarter" }, { "field": "state" }],
        "totals": [{ "field": "points", "measure": "sum" }] });
    let quarter = "substr(json_extract(own, '$.f3'), 1, 4) || '-Q' || ((CAST(substr(json_extract(own, '$.f3'), 6, 2) AS INTEGER) + 2) / 3)";
    compare(
        "chart: points by quarter and state",
        || group(&app, &call, &query),
        || {
            by_hand(
                &hand,
                &[
                    &format!(
                        "SELECT {quarter}, state, count(*), sum(points) FROM work_item WHERE product_id = 1 GROUP BY 1, 2"
                    ),
                    "SELECT count(*), sum(points) FROM work_item WHERE product_id = 1",
                ],
            );
        },
    );
    compare(
        "search for two words",
        || {
            collections::search(&app, &call, 1.into(), "harbour 4217", None).expect("a search");
        },
        || {
            let words = "SELECT kind, thing_id, title, snippet(thing_words, -1, '<', '>', '…', 16) FROM thing_words
                WHERE thing_words MATCH '\"harbour\" \"4217\"*' ORDER BY rank LIMIT 20";
            let feedback = "SELECT rowid FROM feedback_words WHERE feedback_words MATCH '\"harbour\" \"4217\"*' ORDER BY rank LIMIT 20";
            by_hand(&hand, &[words, feedback]);
        },
    );
}

fn asked(query: &Value, skip: usize) -> RowsAsk {
    serde_json::from_value(json!({ "product": 1, "query": query, "skip": skip, "limit": 100 })).expect("a query")
}

fn ask(app: &App, call: &Call, query: &Value, skip: usize) {
    let page = collections::rows(app, call, Collection::WorkItem, &asked(query, skip)).expect("rows");
    assert!(page.count > 0);
}

fn group(app: &App, call: &Call, query: &Value) {
    let groups = collections::groups(app, call, Collection::WorkItem, &asked(query, 0)).expect("groups");
    assert!(!groups.groups.is_empty());
}

/// A connection to ask by hand, set as the program sets its own.
pub(crate) fn beside(dir: &Path) -> Connection {
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    let hand = Connection::open_with_flags(iron_kite_store::database_path(dir), flags).expect("the database");
    hand.execute_batch("PRAGMA cache_size = -16000; PRAGMA temp_store = MEMORY").expect("its settings");
    hand
}

/// Runs statements and reads every column of every row.
pub(crate) fn by_hand(connection: &Connection, statements: &[&str]) {
    for sql in statements {
        let mut statement = connection.prepare_cached(sql).expect("a statement");
        let columns = statement.column_count();
        let mut rows = statement.query([]).expect("rows");
        while let Some(row) = rows.next().expect("a row") {
            for n in 0..columns {
                std::hint::black_box(row.get_ref(n).expect("a value"));
            }
        }
    }
}

fn fill(dir: &Path, count: usize) {
    let store = Store::open(dir).expect("a workspace");
    let context = WriteContext { user_id: None, at: 0, label: "measured".into(), way: Way::Import, needs: Right::Edit };
    let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
        let map = |value: Value| -> Map<String, Value> { value.as_object().cloned().unwrap_or_default() };
        tx.insert(ThingKind::Product, &map(json!({ "name": "x" })))?;
        let choices =
            json!([{ "key": "c1", "label": "a" }, { "key": "c2", "label": "b" }, { "key": "c3", "label": "c" }]);
        for (label, definition) in [
            ("Cost", json!({ "type": "number", "unit": null })),
            ("Part", json!({ "type": "choice", "choices": choices })),
            ("By", json!({ "type": "date" })),
        ] {
            let field = json!({ "collection": "work_item", "position": 1, "label": label, "definition": definition });
            tx.insert(ThingKind::Field, &map(field))?;
        }
        let states = ["draft", "handed_over", "in_build", "in_check", "done"];
        for n in 0..count {
            let own = json!({ "f1": (n * 7919 % 100_003), "f2": format!("c{}", n % 3 + 1),
                "f3": format!("2026-{:02}-{:02}", n % 12 + 1, n % 28 + 1) });
            let row = json!({ "product_id": 1, "level": "story", "position": n, "state": states[n % 5],
                "title": format!("Tell the harbour about boat {n}"), "points": (n % 13) as f64, "map_position": n, "own": own });
            tx.insert(ThingKind::WorkItem, &map(row))?;
        }
        Ok(())
    };
    store.write(context, write).expect("the rows");
    drop(store);
    // The indexes of the fields are made when a workspace is opened.
    drop(Store::open(dir).expect("the workspace"));
}

/// Prints how long ours takes beside the way by hand.
pub(crate) fn compare(name: &str, mut ours: impl FnMut(), mut by_hand: impl FnMut()) {
    let middle_and_95th = |times: Vec<Duration>| (times[TIMES / 2], times[TIMES * 95 / 100]);
    let our = middle_and_95th(times(&mut ours, TIMES));
    let hand = middle_and_95th(times(&mut by_hand, TIMES));
    tell(&format!(
        "  {name:<42}: p50 {:6.1} ms, p95 {:6.1} ms; by hand p50 {:6.1} ms, p95 {:6.1} ms; ratio of p95 {:.2}",
        ms(our.0),
        ms(our.1),
        ms(hand.0),
        ms(hand.1),
        ms(our.1) / ms(hand.1)
    ));
}
