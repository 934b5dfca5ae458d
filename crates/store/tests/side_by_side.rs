//! What is kept side by side by triggers is what it follows from, after any writes.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::listen::spread;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::engine::Told;
use iron_kite_store::{Error, Store, Tx, Way, WriteContext, verify};
use proptest::prelude::*;
use serde_json::{Map, Value, json};

#[derive(Debug, Clone)]
enum Act {
    Item { source: i64, account: i64, day: i64 },
    Excerpt { item: usize, sentiment: i32 },
    Link { excerpt: usize, finding: i64 },
    Unlink { nth: usize },
    Feel { excerpt: usize, sentiment: i32 },
    Move { item: usize, account: i64, day: i64 },
    Drop { excerpt: usize },
    Repeat { excerpt: usize, first: usize },
    Undo,
}

fn act() -> impl Strategy<Value = Act> {
    let some = || 0..40_usize;
    prop_oneof![
        (1..3_i64, 0..3_i64, 0..4_i64).prop_map(|(source, account, day)| Act::Item { source, account, day }),
        (some(), -10..=10_i32).prop_map(|(item, sentiment)| Act::Excerpt { item, sentiment }),
        (some(), 1..4_i64).prop_map(|(excerpt, finding)| Act::Link { excerpt, finding }),
        some().prop_map(|nth| Act::Unlink { nth }),
        (some(), -10..=10_i32).prop_map(|(excerpt, sentiment)| Act::Feel { excerpt, sentiment }),
        (some(), 0..3_i64, 0..4_i64).prop_map(|(item, account, day)| Act::Move { item, account, day }),
        some().prop_map(|excerpt| Act::Drop { excerpt }),
        (some(), some()).prop_map(|(excerpt, first)| Act::Repeat { excerpt, first }),
        Just(Act::Undo),
    ]
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

fn nullable(number: i64) -> Value {
    if number == 0 { Value::Null } else { number.into() }
}

fn day(number: i64) -> Value {
    if number == 0 { Value::Null } else { format!("2026-06-0{number}").into() }
}

/// The number of the nth row of a kind, where there is any.
fn nth(tx: &Tx<'_>, kind: ThingKind, n: usize) -> Option<Thing> {
    let sql = format!("SELECT id FROM {kind} ORDER BY id LIMIT 1 OFFSET {n} % max(1, (SELECT count(*) FROM {kind}))");
    tx.rows().connection.query_row(&sql, [], |row| row.get(0)).ok().map(|id: i64| Thing::new(kind, id))
}

fn carry_out(tx: &mut Tx<'_>, act: &Act) -> Result<(), Error> {
    let of = |tx: &Tx<'_>, kind, n| nth(tx, kind, n);
    match *act {
        Act::Item { source, account, day: at } => {
            let changes = "SELECT count(*) || '' FROM change";
            let digest: String = tx.rows().connection.query_row(changes, [], |row| row.get(0))?;
            let row = json!({ "product_id": 1, "source_id": source, "account_id": nullable(account), "person_id": nullable(account), "said_on": day(at), "text": "It was late.", "digest": digest });
            tx.insert(ThingKind::FeedbackItem, &map(row))?;
        }
        Act::Excerpt { item, sentiment } => {
            let Some(item) = of(tx, ThingKind::FeedbackItem, item) else { return Ok(()) };
            let row = json!({ "item_id": item.id, "from_char": 0, "to_char": 5, "kind": "defect", "sentiment": f64::from(sentiment) / 10.0 });
            tx.insert(ThingKind::Excerpt, &map(row))?;
        }
        Act::Link { excerpt, finding } => {
            let Some(excerpt) = of(tx, ThingKind::Excerpt, excerpt) else { return Ok(()) };
            tx.add_link(LinkKind::Supports, excerpt, Thing::new(ThingKind::Finding, finding))?;
        }
        Act::Unlink { nth: n } => {
            let Some(link) = of(tx, ThingKind::Link, n) else { return Ok(()) };
            tx.remove(link)?;
        }
        Act::Feel { excerpt, sentiment } => {
            let Some(excerpt) = of(tx, ThingKind::Excerpt, excerpt) else { return Ok(()) };
            tx.set(excerpt, &map(json!({ "sentiment": f64::from(sentiment) / 10.0, "kind": "praise" })))?;
        }
        Act::Move { item, account, day: at } => {
            let Some(item) = of(tx, ThingKind::FeedbackItem, item) else { return Ok(()) };
            tx.set(
                item,
                &map(json!({ "account_id": nullable(account), "person_id": nullable(account), "said_on": day(at) })),
            )?;
        }
        Act::Drop { excerpt } => {
            let Some(excerpt) = of(tx, ThingKind::Excerpt, excerpt) else { return Ok(()) };
            tx.remove(excerpt)?;
        }
        Act::Repeat { excerpt, first } => {
            let (Some(one), Some(other)) = (of(tx, ThingKind::Excerpt, excerpt), of(tx, ThingKind::Excerpt, first))
            else {
                return Ok(());
            };
            // Also where what is repeated is itself told to repeat something, as while others are still to be read.
            let repeats = Some(other.id).filter(|first| *first < one.id);
            let stand =
                tx.rows()
                    .connection
                    .query_row("SELECT engine FROM excerpt WHERE id = ?1", [one.id], |row| row.get(0))?;
            let told = Told {
                id: ExcerptId(one.id),
                stand,
                kind: "friction",
                sure: 0.5,
                sentiment: 0.3,
                language: None,
                meaning_key: one.id,
                repeats: repeats.map(ExcerptId),
            };
            tx.tell(1, &[told])?;
        }
        Act::Undo => {
            let last = "SELECT max(id) FROM change_set WHERE undone = 0 AND undoes IS NULL AND label = 'act'";
            let set: Option<i64> = tx.rows().connection.query_row(last, [], |row| row.get(0))?;
            if let Some(set) = set {
                // A refusal changes nothing.
                let _ = tx.undo(set)?;
            }
        }
    }
    Ok(())
}

fn write(store: &Store, label: &str, write: impl FnOnce(&mut Tx<'_>) -> Result<(), Error> + Send + 'static) {
    let context = WriteContext { user_id: None, at: 0, label: label.into(), way: Way::Person, needs: Right::Edit };
    store.write(context, write).unwrap();
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 10))]
    #[test]
    fn what_is_kept_side_by_side_follows_any_writes(acts in proptest::collection::vec(act(), 1..60)) {
        let dir = tempfile::tempdir().unwrap();
        let store = Store::open(dir.path()).unwrap();
        write(&store, "set up", |tx| {
            tx.insert(ThingKind::Product, &map(json!({ "name": "x" })))?;
            for n in 1..3 {
                tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": format!("s{n}"), "brought_on": "2026-01-01" })))?;
                tx.insert(ThingKind::Account, &map(json!({ "name": format!("a{n}") })))?;
                tx.insert(ThingKind::Person, &map(json!({ "name": format!("p{n}") })))?;
            }
            for n in 1..4 {
                tx.insert(ThingKind::Finding, &map(json!({ "product_id": 1, "title": format!("f{n}") })))?;
            }
            Ok(())
        });
        for act in acts {
            write(&store, "act", move |tx| carry_out(tx, &act));
        }
        // The sides are those of core.
        let (groups, sentiments) = store.read(|rows| {
            let mut all = rows.connection.prepare("SELECT sentiment FROM excerpt")?;
            let all: Vec<f64> = all.query_map([], |row| row.get(0))?.collect::<Result<_, _>>()?;
            Ok::<_, Error>((rows.said_in_groups()?, all))
        }).unwrap();
        let sides = groups.iter().fold([0; 3], |[a, n, f], group| {
            let spread = group.heap.spread;
            [a + spread.against, n + spread.neutral, f + spread.for_it]
        });
        let by_hand = spread(sentiments);
        prop_assert_eq!(sides, [by_hand.against, by_hand.neutral, by_hand.for_it]);
        drop(store);
        prop_assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
    }
}
