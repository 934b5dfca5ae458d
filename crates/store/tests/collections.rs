//! Filters, orders and groups give what the obvious evaluation in core gives, for any filter and any values.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeMap;

use iron_kite_core::decide::{Idea, rice};
use iron_kite_core::fields::{
    Checked, Collection, Condition, Context, FieldDef, FieldRef, FieldType, Measure, Query, Shape, check_query,
    compare, fold, group_condition, group_keys, holds, registered, total,
};
use iron_kite_core::plan::progress;
use iron_kite_core::role::Right;
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{Level, ProductId, Thing, ThingKind};
use iron_kite_store::queries::collections::{Of, Slice};
use iron_kite_store::queries::fields::Catalogue;
use iron_kite_store::{Error, Rows, Store, Tx, Way, WriteContext};
use jiff::civil::date;
use proptest::prelude::*;
use serde_json::{Map, Value, json};

const ALL: Slice = Slice { skip: 0, limit: 10_000 };

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

/// The team's own fields: one of every type that is kept in a row.
fn own_types() -> Vec<(&'static str, Value)> {
    let choices =
        json!([{"key": "c1", "label": "Small"}, {"key": "c2", "label": "large"}, {"key": "c3", "label": "Huge"}]);
    vec![
        ("Words", json!({"type": "text"})),
        ("Figure", json!({"type": "number", "unit": null})),
        ("Day", json!({"type": "date"})),
        ("Span", json!({"type": "date_range"})),
        ("Sure", json!({"type": "yes_no"})),
        ("Size", json!({"type": "choice", "choices": choices})),
        ("Parts", json!({"type": "choices", "choices": choices})),
        ("Who", json!({"type": "member"})),
        ("Needs", json!({"type": "link", "to": "work_item", "many": true, "back": null, "forward": true})),
    ]
}

/// The values of one story: the own fields f1 … f8 and the stories that f9 links to.
#[derive(Debug, Clone)]
struct Story {
    own: Map<String, Value>,
    linked: Vec<i64>,
}

fn value(n: usize) -> BoxedStrategy<Value> {
    let day = (0..40_i32).prop_map(|n| (date(2026, 1, 1) + jiff::Span::new().days(n * 9)).to_string());
    let words = prop::sample::select(vec!["pier", "Pier", "PIER 2", "ÄRGER", "ärger", "late boat", "x"]);
    let some: BoxedStrategy<Value> = match n {
        1 => words.prop_map(Value::from).boxed(),
        2 => (-4..5_i32).prop_map(|n| Value::from(f64::from(n) / 2.0)).boxed(),
        3 => day.prop_map(Value::from).boxed(),
        4 => (day, 0..30_i32)
            .prop_map(|(day, more)| {
                let from: jiff::civil::Date = day.parse().unwrap();
                Value::from(format!("{from}/{}", from + jiff::Span::new().days(more)))
            })
            .boxed(),
        5 => Just(Value::Bool(true)).boxed(),
        6 => prop::sample::select(vec!["c1", "c2", "c3"]).prop_map(Value::from).boxed(),
        7 => prop::sample::subsequence(vec!["c1", "c2", "c3"], 1..=3).prop_map(Value::from).boxed(),
        _ => (1..4_i64).prop_map(Value::from).boxed(),
    };
    prop_oneof![3 => some, 1 => Just(Value::Null)].boxed()
}

fn story() -> impl Strategy<Value = Story> {
    let own: Vec<_> = (1..=8).map(value).collect();
    (own, prop::collection::btree_set(1..8_i64, 0..3)).prop_map(|(values, linked)| {
        let named = values.into_iter().enumerate().filter(|(_, value)| !value.is_null());
        Story {
            own: named.map(|(n, value)| (format!("f{}", n + 1), value)).collect(),
            linked: linked.into_iter().collect(),
        }
    })
}

fn test_of_field() -> impl Strategy<Value = Value> {
    let test = |field: &'static str, operators: Vec<&'static str>, value: BoxedStrategy<Value>| {
        (prop::sample::select(operators), value)
            .prop_map(move |(operator, value)| json!({ "field": field, "operator": operator, "value": value }))
            .boxed()
    };
    let words = prop::sample::select(vec!["PIER", "är", "boat", "x", "pier 2"]).prop_map(Value::from).boxed();
    let number = (-4..5_i32).prop_map(|n| json!(f64::from(n) / 2.0)).boxed();
    let day = (0..40_i32).prop_map(|n| json!((date(2026, 1, 1) + jiff::Span::new().days(n * 9)).to_string()));
    let period = prop::sample::select(vec!["today", "this_quarter", "last_month", "this_year", "last30_days"])
        .prop_map(|period| json!({ "relative": period }));
    let day = prop_oneof![day, period].boxed();
    let keys = prop::sample::subsequence(vec!["c1", "c2", "c3"], 0..=3).prop_map(Value::from).boxed();
    let ids = prop::collection::vec(1..8_i64, 0..3).prop_map(Value::from).boxed();
    let days = vec!["is", "is_not", "more", "less", "at_least", "at_most", "within"];
    let whichever = prop::sample::select((1..=9).collect::<Vec<_>>());
    prop_oneof![
        test("f1", vec!["is", "is_not", "contains", "lacks", "begins"], words),
        test("f2", vec!["is", "is_not", "more", "less", "at_least", "at_most"], number),
        test("f3", days.clone(), day.clone()),
        test("f4", days, day),
        test("f5", vec!["is"], any::<bool>().prop_map(Value::from).boxed()),
        test("f6", vec!["any_of", "none_of"], keys.clone()),
        test("f7", vec!["any_of", "none_of", "all_of"], keys),
        test("f8", vec!["any_of", "none_of"], ids.clone()),
        test("f9", vec!["any_of", "none_of", "all_of"], ids),
        (whichever, prop::sample::select(vec!["empty", "filled"]))
            .prop_map(|(n, operator)| json!({ "field": format!("f{n}"), "operator": operator })),
    ]
}

fn filter() -> impl Strategy<Value = Value> {
    test_of_field().prop_recursive(4, 20, 3, |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..3).prop_map(|all| json!({ "and": all })),
            prop::collection::vec(inner.clone(), 0..3).prop_map(|any| json!({ "or": any })),
            inner.prop_map(|one| json!({ "not": one })),
        ]
    })
}

/// A workspace with these stories; their numbers begin at 1.
fn workspace(stories: &[Story]) -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    let stories = stories.to_vec();
    store
        .write(context(), move |tx| -> Result<(), Error> {
            tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
            for (n, (label, definition)) in own_types().into_iter().enumerate() {
                let field =
                    json!({ "collection": "work_item", "position": n, "label": label, "definition": definition });
                tx.insert(ThingKind::Field, &map(field))?;
            }
            for story in &stories {
                let own = (!story.own.is_empty()).then(|| Value::Object(story.own.clone()));
                let row = json!({ "product_id": 1, "level": "story", "position": 1, "title": "x", "state": "draft",
                    "map_position": 1, "own": own });
                tx.insert(ThingKind::WorkItem, &map(row))?;
            }
            for (n, story) in stories.iter().enumerate() {
                let from = Thing::new(ThingKind::WorkItem, i64::try_from(n).unwrap() + 1);
                for to in story.linked.iter().filter(|to| **to <= i64::try_from(stories.len()).unwrap()) {
                    tx.add_own_link(9, from, Thing::new(ThingKind::WorkItem, *to))?;
                }
            }
            Ok(())
        })
        .unwrap();
    (dir, store)
}

fn checked(catalogue: &Catalogue, collection: Collection, query: Value) -> Checked {
    let fields = catalogue.of(collection);
    let query: Query = serde_json::from_value(query).unwrap();
    check_query(&query, &Context { fields: &fields, today: date(2026, 2, 18), me: Some(2) }).unwrap()
}

fn ask<T>(store: &Store, ask: impl FnOnce(&Rows<'_>, Of<'_>) -> T) -> T {
    let result: Result<T, Error> = store.read(|rows| {
        let catalogue = rows.catalogue()?;
        Ok(ask(
            rows,
            Of {
                catalogue: &catalogue,
                collection: Collection::WorkItem,
                product: ProductId(1),
                today: date(2026, 2, 18),
            },
        ))
    });
    result.unwrap()
}

/// What core sees of a story, made from what was put in, not from what the database says.
fn value_of(stories: &[Story], id: i64, name: &str) -> Value {
    let story = &stories[usize::try_from(id).unwrap() - 1];
    match name {
        "f9" => {
            let there: Vec<i64> =
                story.linked.iter().copied().filter(|to| *to <= i64::try_from(stories.len()).unwrap()).collect();
            if there.is_empty() { Value::Null } else { Value::from(there) }
        }
        _ => story.own.get(name).cloned().unwrap_or_default(),
    }
}

fn ids(stories: &[Story]) -> impl Iterator<Item = i64> {
    1..=i64::try_from(stories.len()).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 10))]

    #[test]
    fn any_filter_gives_the_same_rows_as_the_obvious_evaluation(
        stories in prop::collection::vec(story(), 1..12),
        filters in prop::collection::vec(filter(), 12),
    ) {
        let (_dir, store) = workspace(&stories);
        for filter in filters {
            let (found, count, wanted) = ask(&store, |rows, of| {
                let asked = checked(of.catalogue, of.collection, json!({ "filter": filter }));
                let wanted: Vec<i64> =
                    ids(&stories).filter(|id| holds(&asked.condition, &|name| value_of(&stories, *id, name))).collect();
                (rows.ids_of(of, &asked.condition, &[], ALL).unwrap(), rows.count_of(of, &asked.condition).unwrap(), wanted)
            });
            prop_assert_eq!(&found, &wanted, "{}", filter);
            prop_assert_eq!(usize::try_from(count).unwrap(), wanted.len());
        }
    }

    #[test]
    fn any_order_is_that_of_core(
        stories in prop::collection::vec(story(), 1..12),
        by in prop::collection::vec((prop::sample::select(vec!["f1", "f2", "f3", "f5", "f6", "f8"]), any::<bool>()), 1..3),
    ) {
        let (_dir, store) = workspace(&stories);
        let order: Vec<Value> = by.iter().map(|(field, down)| json!({ "field": field, "descending": down })).collect();
        let (found, pages, order) = ask(&store, |rows, of| {
            let asked = checked(of.catalogue, of.collection, json!({ "order": order }));
            let ids = |slice| rows.ids_of(of, &asked.condition, &asked.order, slice).unwrap();
            let pages: Vec<i64> = (0..8).flat_map(|page| ids(Slice { skip: page * 2, limit: 2 })).collect();
            (ids(ALL), pages, asked.order)
        });
        let mut wanted: Vec<i64> = ids(&stories).collect();
        wanted.sort_by(|a, b| {
            let by = |one: &iron_kite_core::fields::Order| {
                compare(one, &value_of(&stories, *a, &one.field.name), &value_of(&stories, *b, &one.field.name))
            };
            let numbers = if order[0].descending { b.cmp(a) } else { a.cmp(b) };
            order.iter().map(by).fold(std::cmp::Ordering::Equal, std::cmp::Ordering::then).then(numbers)
        });
        prop_assert_eq!(&found, &wanted);
        prop_assert_eq!(pages, wanted);
    }

    #[test]
    fn any_group_holds_what_core_puts_into_it(
        stories in prop::collection::vec(story(), 1..12),
        field in prop::sample::select(vec!["f1", "f2", "f3", "f5", "f6", "f7", "f8", "f9"]),
        part in prop::sample::select(vec!["day", "week", "month", "quarter", "year"]),
        measure in prop::sample::select(vec![Measure::Count, Measure::Sum, Measure::Mean, Measure::Median, Measure::Min, Measure::Max]),
    ) {
        let (_dir, store) = workspace(&stories);
        ask(&store, |rows, of| {
            let asked = checked(of.catalogue, of.collection, json!({
                "group": [{ "field": field, "part": part }], "totals": [{ "field": "f2", "measure": measure }],
            }));
            let found = rows.groups_of(of, &asked.condition, &asked.group, &asked.totals).unwrap().groups;
            let mut wanted: BTreeMap<String, Vec<i64>> = BTreeMap::new();
            for id in ids(&stories) {
                for key in group_keys(&asked.group[0], &value_of(&stories, id, field)) {
                    wanted.entry(key.to_string()).or_default().push(id);
                }
            }
            assert_eq!(found.len(), wanted.len(), "{found:?} {wanted:?}");
            for row in found {
                let members = &wanted[&row.keys[0].to_string()];
                assert_eq!(usize::try_from(row.count).unwrap(), members.len());
                let numbers: Vec<f64> = members.iter().filter_map(|id| value_of(&stories, *id, "f2").as_f64()).collect();
                assert_eq!(row.totals[0], total(measure, &numbers), "{measure:?} of {numbers:?}");
                let within = group_condition(&asked.group[0], &row.keys[0]).unwrap();
                assert_eq!(rows.ids_of(of, &within, &[], ALL).unwrap(), *members, "{:?}", row.keys);
            }
        });
    }
}

#[test]
fn every_registered_field_can_be_shown_filtered_ordered_and_grouped() {
    let (_dir, store) = workspace(&[]);
    for collection in Collection::ALL {
        let result: Result<(), Error> = store.read(|rows| {
            let catalogue = rows.catalogue()?;
            let of =
                Of { catalogue: &catalogue, collection: *collection, product: ProductId(1), today: date(2026, 2, 18) };
            let fields = registered(*collection);
            let shown: Vec<FieldRef> =
                fields.iter().map(|field| FieldRef { name: field.name.clone(), shape: field.shape }).collect();
            let all = checked(&catalogue, *collection, json!({}));
            rows.page_of(of, &all.condition, &[], &shown, ALL)?;
            for field in fields {
                let name = &field.name;
                let filled = json!({ "filter": { "field": name, "operator": "filled" } });
                rows.count_of(of, &checked(&catalogue, *collection, filled).condition)?;
                // A picture is shown and filled or not; core refuses to order or group by it.
                if field.shape == Shape::Drawn {
                    continue;
                }
                let several = matches!(field.kind, FieldType::Link { many: true, .. } | FieldType::Choices { .. });
                if !several {
                    let ordered = checked(&catalogue, *collection, json!({ "order": [{ "field": name }] }));
                    rows.ids_of(of, &all.condition, &ordered.order, ALL)?;
                }
                let grouped =
                    json!({ "group": [{ "field": name }], "totals": [{ "field": name, "measure": "count" }] });
                let grouped = checked(&catalogue, *collection, grouped);
                rows.groups_of(of, &all.condition, &grouped.group, &grouped.totals)?;
            }
            Ok(())
        });
        result.unwrap_or_else(|fault| panic!("{collection}: {fault}"));
    }
}

/// Pages of rows that share their source, person, account or kind are those of all rows as the database sorts them.
#[test]
fn pages_by_what_rows_share_are_those_of_the_sorted_whole() {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    store.write(context(), add_feedback).unwrap();
    // As all rows are asked for, but sorted: a filter that everything passes.
    let everything = Condition::Not(Box::new(Condition::Any(Vec::new())));
    let everyone = Condition::All(Vec::new());
    let compared: Result<(), Error> = store.read(|rows| {
        let catalogue = rows.catalogue()?;
        for collection in [Collection::FeedbackItem, Collection::Excerpt, Collection::Person] {
            let of = Of { catalogue: &catalogue, collection, product: ProductId(1), today: date(2026, 2, 18) };
            let one = |field: &FieldDef| {
                field.shape != Shape::Drawn
                    && !matches!(field.kind, FieldType::Link { many: true, .. } | FieldType::Choices { .. })
            };
            for field in registered(collection).into_iter().filter(one) {
                for (descending, then) in [(false, "reference"), (true, "sentiment"), (false, "said_on")] {
                    let mut order = vec![json!({ "field": field.name, "descending": descending })];
                    if collection != Collection::Person && field.name != then {
                        order.push(json!({ "field": then, "descending": !descending }));
                    }
                    let order = checked(&catalogue, collection, json!({ "order": order })).order;
                    let whole = rows.ids_of(of, &everything, &order, ALL)?;
                    assert!(whole.len() > 20, "{collection}");
                    for size in [1, 7, 30] {
                        let pages =
                            (0..whole.len().div_ceil(size)).map(|page| Slice { skip: page * size, limit: size });
                        let pages: Result<Vec<Vec<i64>>, Error> =
                            pages.map(|slice| rows.ids_of(of, &everyone, &order, slice)).collect();
                        assert_eq!(pages?.concat(), whole, "{collection} by {} {descending}", field.name);
                    }
                }
            }
        }
        Ok(())
    });
    compared.unwrap();
}

/// Texts of letters that are hard to compare, and what is looked for in them.
fn texts() -> impl Strategy<Value = (Vec<String>, String)> {
    let letters =
        || prop::sample::select(vec!["a", "B", "b", "ä", "Ä", "ß", "İ", "\"", "'", "*", " ", "船", "\u{301}", "OR"]);
    let text = |length| prop::collection::vec(letters(), length).prop_map(|all| all.concat());
    let wanted = text(1..7).prop_filter("it holds something", |text| !text.trim().is_empty() && text.trim() == text);
    (prop::collection::vec(text(0..12), 1..12), wanted)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Through the index of letters comes what a look at each text finds, in items and in excerpts, also after words were
    /// changed and taken away.
    #[test]
    fn letters_lead_to_the_texts_that_hold_them((texts, wanted) in texts()) {
        let dir = tempfile::tempdir().unwrap();
        let store = Store::open(dir.path()).unwrap();
        let put = texts.clone();
        let write = move |tx: &mut Tx<'_>| -> Result<(), Error> {
            tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
            tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": "Reviews", "brought_on": "2026-01-01" })))?;
            for (n, text) in put.iter().enumerate() {
                // First with other words, which are changed, and one more, which goes.
                let item = json!({ "product_id": 1, "source_id": 1, "digest": n.to_string(), "text": format!("{text}ab ") });
                let item = tx.insert(ThingKind::FeedbackItem, &map(item))?;
                let excerpt = json!({ "item_id": item, "from_char": 1, "to_char": 6, "kind": "praise", "sentiment": 0.0 });
                tx.insert(ThingKind::Excerpt, &map(excerpt))?;
                tx.set(Thing::new(ThingKind::FeedbackItem, item), &map(json!({ "text": text })))?;
            }
            let gone = json!({ "product_id": 1, "source_id": 1, "digest": "gone", "text": put.concat() });
            let gone = tx.insert(ThingKind::FeedbackItem, &map(gone))?;
            tx.remove(Thing::new(ThingKind::FeedbackItem, gone))
        };
        store.write(context(), write).unwrap();
        let found = |collection: Collection, field: &str, operator: &str| -> Vec<i64> {
            let filter = json!({ "filter": { "field": field, "operator": operator, "value": wanted } });
            let ids: Result<Vec<i64>, Error> = store.read(|rows| {
                let catalogue = rows.catalogue()?;
                let of = Of { catalogue: &catalogue, collection, product: ProductId(1), today: date(2026, 2, 18) };
                rows.ids_of(of, &checked(&catalogue, collection, filter).condition, &[], ALL)
            });
            ids.unwrap()
        };
        let counted = |skip: usize| -> (Vec<i64>, i64) {
            let filter = json!({ "filter": { "field": "text", "operator": "contains", "value": wanted } });
            let page: Result<_, Error> = store.read(|rows| {
                let catalogue = rows.catalogue()?;
                let collection = Collection::FeedbackItem;
                let of = Of { catalogue: &catalogue, collection, product: ProductId(1), today: date(2026, 2, 18) };
                let condition = checked(&catalogue, collection, filter).condition;
                rows.page_with_count(of, &condition, &[], &[], Slice { skip, limit: 2 })
            });
            let (rows, count) = page.unwrap();
            (rows.into_iter().map(|row| row.id).collect(), count)
        };
        let folded = fold(&wanted);
        let expected = |keep: &dyn Fn(&str) -> bool| -> Vec<i64> {
            let kept = texts.iter().enumerate().filter(|(_, text)| keep(text));
            kept.map(|(n, _)| i64::try_from(n + 1).unwrap()).collect()
        };
        let said = |text: &str| fold(&text.chars().skip(1).take(5).collect::<String>());
        prop_assert_eq!(found(Collection::FeedbackItem, "text", "contains"), expected(&|text| fold(text).contains(&folded)));
        let all = expected(&|text| fold(text).contains(&folded));
        let some = |skip: usize| all.iter().copied().skip(skip).take(2).collect::<Vec<i64>>();
        let count = i64::try_from(all.len()).unwrap();
        prop_assert_eq!((counted(0), counted(1), counted(50)), ((some(0), count), (some(1), count), (vec![], count)));
        prop_assert_eq!(found(Collection::FeedbackItem, "text", "lacks"), expected(&|text| !fold(text).contains(&folded)));
        prop_assert_eq!(found(Collection::FeedbackItem, "text", "begins"), expected(&|text| fold(text).starts_with(&folded)));
        prop_assert_eq!(found(Collection::Excerpt, "words", "contains"), expected(&|text| said(text).contains(&folded)));
        drop(store);
        prop_assert_eq!(iron_kite_store::verify(dir.path()).unwrap().faults, Vec::<String>::new());
    }
}

/// Items of two products, some without a person, an account or a day; names that are the same but for their letters' case.
fn add_feedback(tx: &mut Tx<'_>) -> Result<(), Error> {
    for (product, sources) in [(1, ["Reviews", "desk"]), (2, ["Desk", "reviews"])] {
        tx.insert(ThingKind::Product, &map(json!({ "name": format!("Product {product}") })))?;
        for name in sources {
            let source = json!({ "product_id": product, "name": name, "brought_on": "2026-01-01" });
            tx.insert(ThingKind::Source, &map(source))?;
        }
    }
    for name in ["Tern Dairy", "hask stores", "Quay"] {
        tx.insert(ThingKind::Account, &map(json!({ "name": name })))?;
    }
    for n in 0..25 {
        let name = ["Ann", "ann", "Bo", "Zoë", "zoe"][n % 5];
        let account = Some(n % 4).filter(|account| *account > 0);
        // One name within an account is one person.
        let person = json!({ "name": format!("{name} {}", n / 20), "account_id": account });
        tx.insert(ThingKind::Person, &map(person)).or_else(|_| {
            tx.insert(ThingKind::Person, &map(json!({ "name": format!("{name} {n}"), "account_id": account })))
        })?;
    }
    let kinds = ["defect", "praise", "request"];
    for n in 0..60_usize {
        let product = 1 + n % 3 / 2;
        let item = json!({
            "product_id": product, "source_id": (product - 1) * 2 + 1 + n % 2, "digest": n.to_string(),
            "text": format!("The boat was late. Again, {}.", n % 7), "rating": (n % 4 > 0).then_some(n % 5),
            "said_on": (n % 5 > 0).then(|| format!("2026-01-{:02}", n % 9 + 1)),
            "person_id": (n % 6 > 0).then_some(n % 25 + 1), "account_id": (n % 7 > 2).then_some(n % 3 + 1),
        });
        let item = tx.insert(ThingKind::FeedbackItem, &map(item))?;
        for (from, to) in [(0, 18), (19, 28)] {
            let excerpt = json!({ "item_id": item, "from_char": from, "to_char": to, "kind": kinds[(n + from) % 3],
                "sentiment": (n % 5) as f64 / 5.0 - 0.4 });
            tx.insert(ThingKind::Excerpt, &map(excerpt))?;
        }
    }
    Ok(())
}

/// An epic with three stories, an idea that became it, and a release.
fn line() -> (tempfile::TempDir, Store) {
    let (dir, store) = workspace(&[]);
    store
        .write(context(), |tx| -> Result<(), Error> {
            let idea = json!({ "product_id": 1, "title": "Say it early", "state": "chosen", "reach": 500, "impact": 2,
                "confidence": 0.8, "effort": 10 });
            let idea = tx.insert(ThingKind::Idea, &map(idea))?;
            let release = json!({ "product_id": 1, "title": "Eider", "state": "planned", "ends_on": "2026-03-31" });
            let release = tx.insert(ThingKind::Release, &map(release))?;
            let mut made = Vec::new();
            for (level, parent, points, state) in [
                ("epic", None, None, "draft"),
                ("story", Some(1), Some(8), "done"),
                ("story", Some(1), Some(5), "draft"),
                ("story", Some(1), Some(3), "in_build"),
            ] {
                let release = (level == "story").then_some(release);
                let row = json!({ "product_id": 1, "level": level, "parent_id": parent, "position": 1, "title": "Warn",
                    "state": state, "points": points, "release_id": release, "map_position": 1 });
                made.push(tx.insert(ThingKind::WorkItem, &map(row))?);
            }
            use iron_kite_core::trace::LinkKind;
            tx.add_link(LinkKind::Becomes, Thing::new(ThingKind::Idea, idea), Thing::new(ThingKind::WorkItem, made[0]))
        })
        .unwrap();
    (dir, store)
}

#[test]
fn what_sql_computes_is_what_the_rules_of_core_say() {
    let (_dir, store) = line();
    let values = |collection: Collection, id: i64, names: &[&str]| -> Vec<Value> {
        let result: Result<Vec<Value>, Error> = store.read(|rows| {
            let catalogue = rows.catalogue()?;
            let of = Of { catalogue: &catalogue, collection, product: ProductId(1), today: date(2026, 2, 18) };
            let asked = checked(&catalogue, collection, json!({ "fields": names }));
            let row = rows.values_of(of, &[id], &asked.fields)?.remove(0);
            Ok(names.iter().map(|name| row.values[*name].clone()).collect())
        });
        result.unwrap()
    };
    let (stories, idea): (Vec<WorkItem>, Idea) =
        store.read(|rows| -> Result<_, Error> { Ok((rows.list("WHERE level = 'story'", [])?, rows.get(1)?)) }).unwrap();
    let share = json!(progress(&stories).share);
    assert_eq!(values(Collection::Idea, 1, &["score", "done"]), [json!(rice(&idea, None).score), share.clone()]);
    assert_eq!(values(Collection::Release, 1, &["points", "done"]), [json!(16.0), share.clone()]);
    assert_eq!(
        values(Collection::WorkItem, 1, &["reference", "points_below", "done"]),
        [json!("E1"), json!(16.0), share]
    );
    assert_eq!(
        values(Collection::WorkItem, 2, &["ends_on", "parent_id"]),
        [json!("2026-03-31"), json!([{ "id": 1, "label": "E1 Warn" }]),]
    );
    assert_eq!(values(Collection::Idea, 1, &["epics"]), [json!([{ "id": 1, "label": "E1 Warn" }])]);
}

#[test]
fn a_reference_is_the_same_in_sql_and_in_core() {
    let (_dir, store) = workspace(&[]);
    for (n, level) in Level::ALL.into_iter().enumerate() {
        let id = i64::try_from(n).unwrap() + 1;
        let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
            let row = json!({ "product_id": 1, "level": level.name(), "position": 1, "title": "x", "state": "draft",
                "map_position": 1 });
            tx.insert(ThingKind::WorkItem, &map(row)).map(drop)
        };
        store.write(context(), write).unwrap();
        let item: WorkItem = store.read(|rows| rows.get(id)).unwrap();
        let row = ask(&store, |rows, of| rows.values_of(of, &[id], &[]).unwrap().remove(0));
        assert_eq!(row.reference, item.reference());
    }
}

#[test]
fn words_are_found_in_everything_and_follow_every_change() {
    let (_dir, store) = line();
    let found = |words: &str| -> Vec<(ThingKind, i64)> {
        let hits = store.read(|rows| rows.search_things(ProductId(1), words, None, 20)).unwrap();
        hits.into_iter().map(|hit| (hit.kind, hit.id)).collect()
    };
    assert_eq!(found("earl"), [(ThingKind::Idea, 1)]);
    assert_eq!(found("eider"), [(ThingKind::Release, 1)]);
    assert_eq!(found("\" OR *"), []);
    let set = |title: &'static str| {
        let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
            tx.set(Thing::new(ThingKind::Idea, 1), &map(json!({ "title": title })))
        };
        store.write(context(), write).unwrap();
    };
    set("Tell them at noon");
    assert_eq!((found("early"), found("noon tell")), (vec![], vec![(ThingKind::Idea, 1)]));
    store.write(context(), |tx| -> Result<(), Error> { tx.remove(Thing::new(ThingKind::Release, 1)) }).unwrap();
    assert_eq!(found("eider"), []);
}

#[test]
fn an_index_serves_the_order_by_a_field_of_the_team() {
    let (dir, store) = workspace(&[]);
    drop(store);
    // The indexes are made when a workspace is opened, and when a field is made.
    let store = Store::open(dir.path()).unwrap();
    let plan: String = store
        .read(|rows| -> Result<String, Error> {
            let sql = "EXPLAIN QUERY PLAN SELECT t.id FROM work_item t WHERE t.product_id = 1 AND 1
                ORDER BY json_extract(t.own, '$.f2') ASC NULLS LAST, t.id LIMIT 100";
            Ok(rows.connection.query_row(sql, [], |row| row.get(3))?)
        })
        .unwrap();
    assert!(plan.contains("own_f2"), "{plan}");
}

#[test]
fn an_own_link_is_no_step_of_the_line() {
    let stories = [Story { own: Map::new(), linked: vec![2] }, Story { own: Map::new(), linked: vec![] }];
    let (_dir, store) = workspace(&stories);
    use iron_kite_store::queries::trace::Direction;
    let reached = store.read(|rows| rows.reach(Thing::new(ThingKind::WorkItem, 1), Direction::Down)).unwrap();
    assert_eq!(reached, []);
}

#[test]
fn types_of_fields_are_read_as_they_are_stored() {
    for (_, definition) in own_types() {
        let kind: FieldType = serde_json::from_value(definition.clone()).unwrap();
        let again: FieldType = serde_json::from_value(serde_json::to_value(&kind).unwrap()).unwrap();
        assert_eq!(kind, again, "{definition}");
    }
}
