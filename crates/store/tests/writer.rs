//! The one writer: all or nothing for each, together on the disk, and never stopped by one that fails.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::{Arc, Mutex};

use iron_kite_core::decide::Idea;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, Thing, ThingKind};
use iron_kite_store::{Error, Store, Tx, Way, WriteContext};
use serde_json::{Map, Value, json};
use tempfile::TempDir;

fn store() -> (TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    store.write(context("begin"), |tx| tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))).unwrap();
    (dir, store)
}

fn context(label: &str) -> WriteContext {
    WriteContext { user_id: None, at: 0, label: label.into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

fn idea(tx: &mut Tx<'_>, title: &str) -> Result<i64, Error> {
    tx.insert(ThingKind::Idea, &map(json!({ "product_id": 1, "title": title, "state": "raw" })))
}

fn titles(store: &Store) -> Vec<String> {
    let ideas = store.read(|rows| rows.list::<Idea>("ORDER BY id", [])).unwrap();
    ideas.into_iter().map(|idea| idea.title).collect()
}

#[test]
fn many_writers_at_once_lose_nothing_and_a_failure_takes_nobody_along() {
    let (_dir, store) = store();
    let store = Arc::new(store);
    let threads: Vec<_> = (0..8)
        .map(|writer| {
            let store = Arc::clone(&store);
            std::thread::spawn(move || {
                for n in 0..50 {
                    let done = store.write(context("add"), move |tx| {
                        idea(tx, &format!("{writer}-{n}"))?;
                        if n % 5 == 0 { Err(Error::Refused("no".into())) } else { Ok(()) }
                    });
                    assert_eq!(done.is_err(), n % 5 == 0);
                }
            })
        })
        .collect();
    threads.into_iter().for_each(|thread| thread.join().unwrap());
    let mut found = titles(&store);
    let mut expected: Vec<String> =
        (0..8).flat_map(|w| (0..50).filter(|n| n % 5 != 0).map(move |n| format!("{w}-{n}"))).collect();
    found.sort_unstable();
    expected.sort_unstable();
    assert_eq!(found, expected);
}

#[test]
fn a_write_that_panics_leaves_nothing_and_the_next_one_works() {
    let (dir, store) = store();
    let quiet = std::panic::take_hook();
    std::panic::set_hook(Box::new(|_| {}));
    let done: Result<((), _), Error> = store.write(context("fall"), |tx| {
        idea(tx, "half").unwrap();
        panic!("a fault in a use case")
    });
    std::panic::set_hook(quiet);
    assert!(matches!(done, Err(Error::Busy)));
    store.write(context("go on"), |tx| idea(tx, "whole")).unwrap();
    assert_eq!(titles(&store), ["whole"]);
    drop(store);
    assert!(iron_kite_store::verify(dir.path()).unwrap().faults.is_empty());
}

#[test]
fn listeners_hear_of_each_change_in_order_and_of_nothing_else() {
    let (_dir, store) = store();
    let heard = Arc::new(Mutex::new(Vec::new()));
    let hears = Arc::clone(&heard);
    store
        .on_commit(move |change| hears.lock().unwrap().push((change.label.clone(), change.kinds.clone(), change.rows)));
    store
        .write(context("first"), |tx| {
            tx.label("two ideas");
            idea(tx, "a").and(idea(tx, "b"))
        })
        .unwrap();
    let nothing = store.write(context("nothing"), |tx| tx.rows().get::<Idea>(IdeaId(1))).unwrap();
    assert_eq!(nothing.1, None);
    store.write(context("failed"), |_| Err::<(), _>(Error::Busy)).unwrap_err();
    store.write(context("away"), |tx| tx.remove(Thing::new(ThingKind::Idea, 1))).unwrap();
    let expected = [("two ideas".to_owned(), vec![ThingKind::Idea], 2), ("away".to_owned(), vec![ThingKind::Idea], 1)];
    assert_eq!(*heard.lock().unwrap(), expected);
}

#[test]
fn a_stale_revision_is_told_with_the_present_row() {
    let (_dir, store) = store();
    store.write(context("add"), |tx| idea(tx, "a")).unwrap();
    let update = |rev: i64, title: &'static str| {
        store.write(context("edit"), move |tx| {
            tx.update(Thing::new(ThingKind::Idea, 1), rev, &map(json!({ "title": title })))
        })
    };
    update(1, "b").unwrap();
    match update(1, "c") {
        Err(Error::Stale(row)) => assert_eq!((&row["title"], &row["rev"]), (&json!("b"), &json!(2))),
        other => panic!("{other:?}"),
    }
    assert!(matches!(update(7, "c"), Err(Error::Stale(_))));
    assert_eq!(titles(&store), ["b"]);
}

#[test]
fn a_column_that_is_not_there_is_refused_before_it_reaches_sql() {
    let (_dir, store) = store();
    let strange = map(json!({ "title\" = 1; --": "x" }));
    let done = store.write(context("strange"), move |tx| tx.insert(ThingKind::Idea, &strange));
    assert!(matches!(done, Err(Error::Refused(_))));
}

#[test]
fn a_full_disk_is_told_as_such_and_what_is_there_can_be_read() {
    let (_dir, store) = store();
    // No page more than there are now: to SQLite that is a full disk.
    let room = |pages: u64| {
        let sql = format!("PRAGMA max_page_count = {pages}");
        store.write(context("room"), move |tx| -> Result<(), Error> {
            tx.rows().connection.query_row(&sql, [], |_| Ok(())).map_err(Error::from)
        })
    };
    room(1).unwrap();
    let long =
        |tx: &mut Tx<'_>| -> Result<(), Problem> { idea(tx, &"x".repeat(4 << 20)).map(drop).map_err(Problem::from) };
    assert_eq!(store.write(context("too much"), long).unwrap_err(), Problem::DiskFull);
    assert_eq!(
        store.write(context("tried"), |tx| tx.try_to_write()).map(drop).map_err(Problem::from),
        Err(Problem::DiskFull)
    );
    let filled = |tx: &mut Tx<'_>| -> Result<(), Error> {
        (0..200).try_for_each(|n| idea(tx, &format!("{n}{}", "y".repeat(9_000))).map(drop))
    };
    assert_eq!(store.write(context("too many"), filled).map(drop).map_err(Problem::from), Err(Problem::DiskFull));
    assert_eq!(titles(&store), Vec::<String>::new());
    room(1 << 30).unwrap();
    store.write(context("add"), |tx| idea(tx, "One").map(drop)).unwrap();
    assert_eq!(titles(&store), ["One"]);
}
