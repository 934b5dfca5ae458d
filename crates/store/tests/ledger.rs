//! The laws of the ledger, for any writes: a set that fails leaves nothing, what is taken back is as it was before, and what
//! is done again is as it was after. Whole rows are compared, read past the store.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Error, Store, Tx, Way, WriteContext, verify};
use iron_kite_testkit::{content, differ};
use proptest::prelude::*;
use serde_json::{Map, Value, json};

/// Kinds that hang on each other in all the ways there are: what goes along, what stays behind, and what holds fast.
const KINDS: [ThingKind; 15] = [
    ThingKind::Source,
    ThingKind::FeedbackItem,
    ThingKind::Excerpt,
    ThingKind::Finding,
    ThingKind::Idea,
    ThingKind::Increment,
    ThingKind::Objective,
    ThingKind::Measurement,
    ThingKind::Activity,
    ThingKind::Step,
    ThingKind::Release,
    ThingKind::WorkItem,
    ThingKind::Criterion,
    ThingKind::Page,
    ThingKind::Comment,
];

#[derive(Debug, Clone)]
enum Step {
    Add { kind: usize, on: usize },
    Rename { kind: usize, nth: usize },
    Move { nth: usize, to: usize },
    Remove { kind: usize, nth: usize },
    Join { excerpt: usize, finding: usize },
    Part { nth: usize },
}

fn step() -> impl Strategy<Value = Step> {
    let (kind, some) = (|| 0..KINDS.len(), || 0..8_usize);
    prop_oneof![
        6 => (kind(), some()).prop_map(|(kind, on)| Step::Add { kind, on }),
        2 => (kind(), some()).prop_map(|(kind, nth)| Step::Rename { kind, nth }),
        1 => (some(), some()).prop_map(|(nth, to)| Step::Move { nth, to }),
        2 => (kind(), some()).prop_map(|(kind, nth)| Step::Remove { kind, nth }),
        3 => (some(), some()).prop_map(|(excerpt, finding)| Step::Join { excerpt, finding }),
        1 => some().prop_map(|nth| Step::Part { nth }),
    ]
}

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "a step".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

/// The number of the nth of a kind, counted round; nothing where there is none.
fn nth(tx: &Tx<'_>, kind: ThingKind, n: usize) -> Option<i64> {
    let sql = format!("SELECT id FROM {kind} ORDER BY id LIMIT 1 OFFSET {n} % max(1, (SELECT count(*) FROM {kind}))");
    tx.rows().connection.query_row(&sql, [], |row| row.get(0)).ok()
}

/// A new thing of a kind, on others that are there; nothing where it cannot be without one that is not.
fn made(tx: &Tx<'_>, kind: ThingKind, on: usize) -> Option<Value> {
    let of = |kind| nth(tx, kind, on);
    let title = format!("{kind} on {on}");
    Some(match kind {
        ThingKind::Source => json!({ "product_id": 1, "name": title, "brought_on": "2026-01-01" }),
        ThingKind::FeedbackItem => {
            let digest = nth(tx, kind, usize::MAX >> 8).unwrap_or_default();
            let count: i64 =
                tx.rows().connection.query_row("SELECT count(*) FROM change", [], |row| row.get(0)).ok()?;
            json!({ "product_id": 1, "source_id": of(ThingKind::Source)?, "text": title, "digest": format!("{digest} {count}") })
        }
        ThingKind::Excerpt => {
            let item = of(ThingKind::FeedbackItem)?;
            json!({ "item_id": item, "from_char": 0, "to_char": 8, "kind": "defect", "sentiment": 0.5 })
        }
        ThingKind::Finding => json!({ "product_id": 1, "title": title }),
        ThingKind::Idea => json!({ "product_id": 1, "title": title, "state": "raw" }),
        ThingKind::Increment => {
            let idea = of(ThingKind::Idea)?;
            json!({ "product_id": 1, "idea_id": idea, "position": 1.0, "title": title, "state": "planned" })
        }
        ThingKind::Objective => json!({
            "product_id": 1, "title": title, "measure": "boats", "start_value": 0.0, "target_value": 9.5,
            "parent_id": of(ThingKind::Objective),
        }),
        ThingKind::Measurement => {
            let objective = of(ThingKind::Objective)?;
            json!({ "objective_id": objective, "taken_on": format!("2026-02-0{}", on + 1), "value": 1.0 })
        }
        ThingKind::Activity => json!({ "product_id": 1, "position": 1.0, "title": title }),
        ThingKind::Step => json!({ "activity_id": of(ThingKind::Activity)?, "position": 1.0, "title": title }),
        ThingKind::Release => json!({ "product_id": 1, "title": title, "state": "planned" }),
        ThingKind::WorkItem => json!({
            "product_id": 1, "level": "story", "parent_id": of(kind), "position": 1.0, "title": title, "state": "draft",
            "map_position": 1.0, "step_id": of(ThingKind::Step), "release_id": of(ThingKind::Release),
            "increment_id": of(ThingKind::Increment),
        }),
        ThingKind::Criterion => json!({ "story_id": of(ThingKind::WorkItem)?, "position": 1.0, "words": title }),
        ThingKind::Page => json!({ "product_id": 1, "title": title, "parent_id": of(kind), "body": title }),
        ThingKind::Comment => {
            let idea = of(ThingKind::Idea)?;
            json!({ "on_kind": "idea", "on_id": idea, "reply_to": null, "body": title, "written_at": 7 })
        }
        _ => return None,
    })
}

fn carry_out(tx: &mut Tx<'_>, step: &Step) -> Result<(), Error> {
    match *step {
        Step::Add { kind, on } => {
            let Some(values) = made(tx, KINDS[kind], on) else { return Ok(()) };
            tx.insert(KINDS[kind], &map(values)).map(drop)
        }
        Step::Rename { kind, nth: n } => {
            let kind = KINDS[kind];
            let column = match kind {
                ThingKind::Source => "name",
                ThingKind::FeedbackItem => "text",
                ThingKind::Criterion => "words",
                ThingKind::Comment => "body",
                ThingKind::Measurement | ThingKind::Excerpt => return Ok(()),
                _ => "title",
            };
            let Some(id) = nth(tx, kind, n) else { return Ok(()) };
            tx.set(Thing::new(kind, id), &Map::from_iter([(column.to_owned(), Value::from(format!("another {n}")))]))
        }
        Step::Move { nth: n, to } => {
            let (Some(id), to) = (nth(tx, ThingKind::WorkItem, n), nth(tx, ThingKind::Release, to)) else {
                return Ok(());
            };
            tx.set(Thing::new(ThingKind::WorkItem, id), &map(json!({ "release_id": to })))
        }
        Step::Remove { kind, nth: n } => match nth(tx, KINDS[kind], n) {
            Some(id) => tx.remove(Thing::new(KINDS[kind], id)),
            None => Ok(()),
        },
        Step::Join { excerpt, finding } => {
            let both = nth(tx, ThingKind::Excerpt, excerpt).zip(nth(tx, ThingKind::Finding, finding));
            let Some((excerpt, finding)) = both else { return Ok(()) };
            let (from, to) = (Thing::new(ThingKind::Excerpt, excerpt), Thing::new(ThingKind::Finding, finding));
            tx.add_link(LinkKind::Supports, from, to)
        }
        Step::Part { nth: n } => match nth(tx, ThingKind::Link, n) {
            Some(id) => tx.remove(Thing::new(ThingKind::Link, id)),
            None => Ok(()),
        },
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: ProptestConfig::default().cases / 10, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn all_is_taken_back_and_done_again(sets in prop::collection::vec(prop::collection::vec(step(), 1..5), 1..10)) {
        let dir = tempfile::tempdir().unwrap();
        let store = Store::open(dir.path()).unwrap();
        store.write(context(), |tx| tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))).unwrap();
        let mut states = vec![content(dir.path())];
        let mut done = Vec::new();
        for steps in sets {
            let written = store.write(context(), move |tx| steps.iter().try_for_each(|step| carry_out(tx, step)));
            let now = content(dir.path());
            match written {
                Ok(((), Some(committed))) => {
                    done.push(committed.set);
                    states.push(now);
                }
                // It failed as a whole, or there was nothing to do.
                _ => prop_assert_eq!(differ(&now, states.last().unwrap()), []),
            }
        }
        let undo = |set| store.write(context(), move |tx| tx.undo(set)).unwrap();
        let mut undone = Vec::new();
        for (set, before) in done.iter().zip(&states).rev() {
            let (taken_back, committed) = undo(*set);
            prop_assert!(taken_back.is_ok(), "{taken_back:?}");
            let now = content(dir.path());
            prop_assert_eq!(differ(&now, before), []);
            undone.push(committed.map(|committed| committed.set));
        }
        for (set, both) in undone.iter().rev().zip(states.windows(2)) {
            let [before, after] = both else { unreachable!("windows of two") };
            let Some(set) = set else {
                // What was set to what it was is no change.
                prop_assert_eq!(differ(before, after), []);
                continue;
            };
            let (again, _) = undo(*set);
            prop_assert!(again.is_ok(), "{again:?}");
            let now = content(dir.path());
            prop_assert_eq!(differ(&now, after), []);
        }
        drop(store);
        prop_assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
    }
}

/// Were nothing ever written, the laws would hold of nothing.
#[test]
fn each_kind_can_be_added() {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    store
        .write(context(), |tx| -> Result<(), Error> {
            tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
            (0..KINDS.len()).try_for_each(|kind| carry_out(tx, &Step::Add { kind, on: 0 }))
        })
        .unwrap();
    let content = content(dir.path());
    assert!(KINDS.iter().all(|kind| content[&kind.to_string()].len() == 1), "{content:#?}");
}
