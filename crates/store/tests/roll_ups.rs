//! Figures over linked things equal a count by hand over any net of links: each thing that is reached counts once,
//! by however many ways.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;

use iron_kite_core::fields::{Collection, FieldRef, Measure, Shape, total};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::collections::Of;
use iron_kite_store::{Error, Store, Way, WriteContext};
use jiff::civil::date;
use proptest::prelude::*;
use serde_json::{Map, Value, json};

const MEASURES: [Measure; 6] =
    [Measure::Count, Measure::Sum, Measure::Mean, Measure::Median, Measure::Min, Measure::Max];

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

/// Findings behind an idea, the excerpts of each, and each excerpt's item and sentiment.
#[derive(Debug, Clone)]
struct Net {
    findings: Vec<BTreeSet<usize>>,
    behind: BTreeSet<usize>,
    excerpts: Vec<(usize, i32)>,
}

const ITEMS: usize = 3;

fn net() -> impl Strategy<Value = Net> {
    let excerpts = prop::collection::vec((0..ITEMS, -10..=10_i32), 1..8);
    excerpts.prop_flat_map(|excerpts| {
        let count = excerpts.len();
        let findings = prop::collection::vec(prop::collection::btree_set(0..count, 0..=count), 1..4);
        (findings, Just(excerpts)).prop_flat_map(|(findings, excerpts)| {
            let count = findings.len();
            prop::collection::btree_set(0..count, 0..=count).prop_map(move |behind| Net {
                findings: findings.clone(),
                behind,
                excerpts: excerpts.clone(),
            })
        })
    })
}

fn id(n: usize) -> i64 {
    i64::try_from(n).unwrap() + 1
}

/// A workspace with the net, and a roll-up over it for every measure: f1 … f6, then the items that are reached.
fn workspace(net: &Net) -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    let net = net.clone();
    let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
        tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
        tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": "x", "brought_on": "2026-01-01" })))?;
        for n in 0..ITEMS {
            let item = json!({ "product_id": 1, "source_id": 1, "text": "The boat was off", "digest": n.to_string() });
            tx.insert(ThingKind::FeedbackItem, &map(item))?;
        }
        for (item, sentiment) in &net.excerpts {
            let sentiment = f64::from(*sentiment) / 10.0;
            let excerpt =
                json!({ "item_id": id(*item), "from_char": 0, "to_char": 3, "kind": "defect", "sentiment": sentiment });
            tx.insert(ThingKind::Excerpt, &map(excerpt))?;
        }
        tx.insert(ThingKind::Idea, &map(json!({ "product_id": 1, "title": "Say it early", "state": "raw" })))?;
        for (n, excerpts) in net.findings.iter().enumerate() {
            tx.insert(ThingKind::Finding, &map(json!({ "product_id": 1, "title": "Off" })))?;
            for excerpt in excerpts {
                let (from, to) = (Thing::new(ThingKind::Excerpt, id(*excerpt)), Thing::new(ThingKind::Finding, id(n)));
                tx.add_link(LinkKind::Supports, from, to)?;
            }
            if net.behind.contains(&n) {
                let (from, to) = (Thing::new(ThingKind::Finding, id(n)), Thing::new(ThingKind::Idea, 1));
                tx.add_link(LinkKind::Supports, from, to)?;
            }
        }
        let over = |path: Value, measure: Measure, of: Option<&str>| {
            json!({ "collection": "idea", "position": 1, "label": "x",
            "definition": { "type": "rolled_up", "path": path, "measure": measure, "of": of } })
        };
        for measure in MEASURES {
            let field = over(json!(["findings", "excerpts"]), measure, Some("sentiment"));
            tx.insert(ThingKind::Field, &map(field))?;
        }
        let items = over(json!(["findings", "excerpts", "item"]), Measure::Count, None);
        tx.insert(ThingKind::Field, &map(items)).map(drop)
    };
    store.write(context(), write).unwrap();
    (dir, store)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 6))]

    #[test]
    fn a_roll_up_counts_each_thing_that_is_reached_once(net in net()) {
        let (_dir, store) = workspace(&net);
        let fields: Vec<FieldRef> = (1..=7).map(|n| FieldRef { name: format!("f{n}"), shape: Shape::Number }).collect();
        let result: Result<Value, Error> = store.read(|rows| {
            let catalogue = rows.catalogue()?;
            let of = Of { catalogue: &catalogue, collection: Collection::Idea, product: ProductId(1), today: date(2026, 2, 18) };
            Ok(Value::Object(rows.values_of(of, &[1], &fields)?.remove(0).values))
        });
        let found = result.unwrap();
        let reached: BTreeSet<usize> = net.behind.iter().flat_map(|n| net.findings[*n].iter().copied()).collect();
        let numbers: Vec<f64> = reached.iter().map(|n| f64::from(net.excerpts[*n].1) / 10.0).collect();
        for (n, measure) in MEASURES.into_iter().enumerate() {
            match (found[format!("f{}", n + 1)].as_f64(), total(measure, &numbers)) {
                (Some(is), Some(wanted)) => prop_assert!((is - wanted).abs() < 1e-9, "{measure:?}: {is} {wanted}"),
                (is, wanted) => prop_assert_eq!(is, wanted, "{:?}", measure),
            }
        }
        let items: BTreeSet<usize> = reached.iter().map(|n| net.excerpts[*n].0).collect();
        prop_assert_eq!(found["f7"].as_u64(), u64::try_from(items.len()).ok());
    }
}
