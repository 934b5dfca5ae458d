//! What lists of 100,000 feedback items and their excerpts cost, in each order that a head of a column offers, beside the best
//! that can be done by hand for each: the order from an index, and the rows of the page by their numbers.

use iron_kite_core::fields::Collection;
use iron_kite_core::listen::FeedbackKind;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use iron_kite_ops::collections::{self, RowsAsk};
use iron_kite_ops::listen::OverviewQuery;
use iron_kite_ops::{App, Call};
use iron_kite_store::{Error, Store, Tx, Way, WriteContext};
use jiff::Timestamp;
use jiff::civil::date;
use rusqlite::Connection;
use serde_json::{Map, Value, json};

use crate::collections::{beside, by_hand, compare};
use crate::tell;

const PAGE: usize = 100;

/// An order, how it is had by hand, and how many rows have nothing there.
struct Order {
    collection: Collection,
    field: &'static str,
    descending: bool,
    /// The numbers of all rows that have something there, in their order.
    hand: &'static str,
    /// The numbers of those that have nothing there.
    empty: Option<&'static str>,
}

const fn order(collection: Collection, field: &'static str, descending: bool, hand: &'static str) -> Order {
    Order { collection, field, descending, hand, empty: None }
}

const ORDERS: [Order; 17] = [
    order(
        Collection::FeedbackItem,
        "said_on",
        true,
        "SELECT id FROM feedback_item WHERE product_id = 1 ORDER BY said_on DESC, id DESC",
    ),
    order(
        Collection::FeedbackItem,
        "said_on",
        false,
        "SELECT id FROM feedback_item WHERE product_id = 1 ORDER BY said_on ASC NULLS LAST, id",
    ),
    order(
        Collection::FeedbackItem,
        "rating",
        true,
        "SELECT id FROM feedback_item WHERE product_id = 1 ORDER BY rating DESC, id DESC",
    ),
    order(
        Collection::FeedbackItem,
        "rating",
        false,
        "SELECT id FROM feedback_item WHERE product_id = 1 ORDER BY rating ASC NULLS LAST, id",
    ),
    order(
        Collection::FeedbackItem,
        "reference",
        true,
        "SELECT id FROM feedback_item WHERE product_id = 1 ORDER BY id DESC",
    ),
    order(
        Collection::FeedbackItem,
        "source",
        false,
        "SELECT t.id FROM source s CROSS JOIN feedback_item t INDEXED BY feedback_item_by_source
         ON t.source_id = s.id AND t.product_id = 1 ORDER BY s.name COLLATE NOCASE, s.id, t.id",
    ),
    Order {
        empty: Some("SELECT id FROM feedback_item WHERE product_id = 1 AND account_id IS NULL ORDER BY id"),
        ..order(
            Collection::FeedbackItem,
            "account",
            false,
            "SELECT t.id FROM account a CROSS JOIN feedback_item t INDEXED BY feedback_item_by_account
             ON t.account_id = a.id AND t.product_id = 1 ORDER BY a.name COLLATE NOCASE, a.id, t.id",
        )
    },
    Order {
        empty: Some("SELECT id FROM feedback_item WHERE product_id = 1 AND person_id IS NULL ORDER BY id"),
        ..order(
            Collection::FeedbackItem,
            "person",
            false,
            "SELECT t.id FROM person p CROSS JOIN feedback_item t INDEXED BY feedback_item_by_person
             ON t.person_id = p.id AND t.product_id = 1 ORDER BY p.name COLLATE NOCASE, p.id, t.id",
        )
    },
    order(
        Collection::FeedbackItem,
        "excerpt_count",
        true,
        "SELECT item_id FROM (SELECT item_id, count(*) AS n FROM excerpt WHERE product_id = 1 GROUP BY 1) ORDER BY n DESC, item_id DESC",
    ),
    order(
        Collection::FeedbackItem,
        "sentiment",
        true,
        "SELECT item_id FROM (SELECT item_id, avg(sentiment) AS s FROM excerpt WHERE product_id = 1 GROUP BY 1) ORDER BY s DESC, item_id DESC",
    ),
    order(
        Collection::Excerpt,
        "said_on",
        true,
        "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY said_on DESC, id DESC",
    ),
    order(
        Collection::Excerpt,
        "said_on",
        false,
        "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY said_on ASC NULLS LAST, id",
    ),
    order(
        Collection::Excerpt,
        "sentiment",
        true,
        "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY sentiment DESC, id DESC",
    ),
    order(
        Collection::Excerpt,
        "sentiment",
        false,
        "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY sentiment, id",
    ),
    // Kinds by their own order: the names of the first and the last lead to the same run of the index.
    order(
        Collection::Excerpt,
        "kind",
        false,
        "SELECT e.id FROM json_each('[\"request\", \"defect\", \"friction\", \"help_needed\", \"praise\", \"habit\", \"leaving\"]') k
         CROSS JOIN excerpt e INDEXED BY excerpt_by_kind ON e.kind = k.value AND e.product_id = 1",
    ),
    order(Collection::Excerpt, "reference", true, "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY id DESC"),
    order(
        Collection::Excerpt,
        "item",
        false,
        "SELECT id FROM excerpt WHERE product_id = 1 ORDER BY item_id, id",
    ),
];

/// What of a row is shown, by its name here and by hand.
fn shown(collection: Collection) -> (&'static [&'static str], &'static str, &'static str) {
    match collection {
        Collection::FeedbackItem => (
            &["text", "said_on", "source", "person", "account", "rating"],
            "SELECT t.id, t.rev, t.text, t.said_on, s.name, p.name, a.name, t.rating FROM feedback_item t
             JOIN source s ON s.id = t.source_id LEFT JOIN person p ON p.id = t.person_id
             LEFT JOIN account a ON a.id = t.account_id WHERE t.id IN",
            "SELECT count(*) FROM feedback_item WHERE product_id = 1",
        ),
        _ => (
            &["words", "kind", "sentiment", "said_on", "item"],
            "SELECT t.id, t.rev, substr(i.text, t.from_char + 1, t.to_char - t.from_char), t.kind, t.sentiment, t.said_on, i.text
             FROM excerpt t JOIN feedback_item i ON i.id = t.item_id WHERE t.id IN",
            "SELECT count(*) FROM excerpt WHERE product_id = 1",
        ),
    }
}

/// Measures with this many items.
pub(crate) fn measure(count: usize) {
    let dir = tempfile::tempdir().expect("a folder");
    fill(dir.path(), count);
    let app = App::open(dir.path()).expect("the workspace");
    let call = Call::command(Timestamp::UNIX_EPOCH, date(2026, 6, 30));
    let hand = beside(dir.path());
    let number = |sql: &str| hand.query_row(sql, [], |row| row.get::<_, i64>(0)).expect("a number");
    tell(&format!(
        "lists of {count} feedback items with {} excerpts, beside the best by hand",
        number("SELECT count(*) FROM excerpt")
    ));
    for one in &ORDERS {
        let (fields, values, counted) = shown(one.collection);
        let all = usize::try_from(number(counted)).expect("not below nothing");
        let empty = one.empty.map_or(0, |sql| number(&format!("SELECT count(*) FROM ({sql})")));
        let filled = all - usize::try_from(empty).expect("not below nothing");
        for (place, skip) in [("first", 0), ("middle", all / 2), ("last", all - PAGE)] {
            let query = json!({ "fields": fields, "order": [{ "field": one.field, "descending": one.descending }] });
            let (ids, skip_there) = match one.empty {
                Some(sql) if skip >= filled => (sql, skip - filled),
                _ => (one.hand, skip),
            };
            let page = format!("{values} ({ids} LIMIT {PAGE} OFFSET {skip_there})");
            let way = if one.descending { "falling" } else { "rising" };
            compare(
                &format!("{} by {} {way}, {place}", one.collection, one.field),
                || ask(&app, &call, one.collection, &query, skip),
                || by_hand(&hand, &[&page, counted]),
            );
        }
    }
    contained(&app, &call, &hand);
    figures(&app, &call, &hand);
    pages(&app, &call, &hand);
}

/// What holds a word that one in eight, one in a hundred thousand, and everybody says.
fn contained(app: &App, call: &Call, hand: &Connection) {
    for (collection, field, rows, said) in [
        (Collection::FeedbackItem, "text", "feedback_item t WHERE t.product_id = 1 AND t.id IN", "t.text"),
        (
            Collection::Excerpt,
            "words",
            "excerpt t JOIN feedback_item i ON i.id = t.item_id WHERE t.product_id = 1 AND t.item_id IN",
            "substr(i.text, t.from_char + 1, t.to_char - t.from_char)",
        ),
    ] {
        for word in ["refund", "42424th", "nobody"] {
            let query = json!({ "fields": [field, "said_on"], "order": [{ "field": "said_on", "descending": true }],
                "filter": { "field": field, "operator": "contains", "value": word } });
            let threes: Vec<String> =
                word.as_bytes().windows(3).map(|three| format!("\"{}\"", String::from_utf8_lossy(three))).collect();
            let holds = format!(
                "{rows} (SELECT rowid FROM item_letters WHERE item_letters MATCH '{}') AND {said} LIKE '%{word}%'",
                threes.join(" AND ")
            );
            let page =
                format!("SELECT t.id, t.said_on, {said} FROM {holds} ORDER BY t.said_on DESC, t.id DESC LIMIT {PAGE}");
            compare(
                &format!("{collection}, {field} contains {word}"),
                || {
                    let page = collections::rows(app, call, collection, &asked(&query, 0)).expect("rows");
                    std::hint::black_box(page.count);
                },
                || by_hand(hand, &[&page, &format!("SELECT count(*) FROM {holds}")]),
            );
        }
    }
}

/// The pages that a day begins with, beside the figures that they cannot do without.
fn pages(app: &App, call: &Call, hand: &Connection) {
    let product = 1.into();
    let unread = "SELECT (SELECT count(*) FROM feedback_item WHERE product_id = 1)
        - (SELECT count(DISTINCT r.item_id) FROM reading r JOIN feedback_item i ON i.id = r.item_id AND i.product_id = 1)";
    let unused =
        "SELECT (SELECT count(*) FROM excerpt WHERE product_id = 1) - (SELECT count(DISTINCT excerpt_id) FROM behind)";
    compare(
        "the course",
        || drop(iron_kite_ops::overview::course(app, call, product).expect("the course")),
        || by_hand(hand, &[unread]),
    );
    compare(
        "the opening page",
        || drop(iron_kite_ops::opening::opening(app, call, product).expect("the opening page")),
        || by_hand(hand, &[unread]),
    );
    let asked = OverviewQuery { product: 1, ..OverviewQuery::default() };
    compare(
        "what was said, in pictures",
        || drop(iron_kite_ops::listen::said_overview(app, call, &asked).expect("the overview")),
        || {
            by_hand(
                hand,
                &[
                    "SELECT source_id, account_id, said_on, items, excerpts, against, neutral, for_it, sum FROM said",
                    unused,
                ],
            )
        },
    );
}

/// Groups.
fn figures(app: &App, call: &Call, hand: &Connection) {
    let group = |collection: Collection, query: Value| {
        move || {
            let groups = collections::groups(app, call, collection, &asked(&query, 0)).expect("groups");
            assert!(!groups.groups.is_empty());
        }
    };
    let totals = json!([{ "field": "sentiment", "measure": "mean" }]);
    for (name, collection, query, by) in [
        (
            "feedback by account",
            Collection::FeedbackItem,
            json!({ "group": [{ "field": "account" }] }),
            "SELECT account_id, count(*) FROM feedback_item INDEXED BY feedback_item_by_account WHERE product_id = 1 GROUP BY 1",
        ),
        (
            "feedback by month",
            Collection::FeedbackItem,
            json!({ "group": [{ "field": "said_on", "part": "month" }] }),
            "SELECT substr(said_on, 1, 7), sum(n) FROM (SELECT said_on, count(*) AS n FROM feedback_item WHERE product_id = 1 GROUP BY 1) GROUP BY 1",
        ),
        (
            "excerpts by kind",
            Collection::Excerpt,
            json!({ "group": [{ "field": "kind" }] }),
            "SELECT kind, count(*) FROM excerpt WHERE product_id = 1 GROUP BY 1",
        ),
        (
            "excerpts by kind, mean sentiment",
            Collection::Excerpt,
            json!({ "group": [{ "field": "kind" }], "totals": totals }),
            "SELECT kind, count(*), avg(sentiment) FROM excerpt WHERE product_id = 1 GROUP BY 1",
        ),
    ] {
        compare(name, group(collection, query), || by_hand(hand, &[by]));
    }
}

fn asked(query: &Value, skip: usize) -> RowsAsk {
    serde_json::from_value(json!({ "product": 1, "query": query, "skip": skip, "limit": PAGE })).expect("a query")
}

fn ask(app: &App, call: &Call, collection: Collection, query: &Value, skip: usize) {
    let page = collections::rows(app, call, collection, &asked(query, skip)).expect("rows");
    assert_eq!(page.rows.len(), PAGE);
}

fn fill(dir: &std::path::Path, count: usize) {
    let store = Store::open(dir).expect("a workspace");
    let context = WriteContext { user_id: None, at: 0, label: "measured".into(), way: Way::Import, needs: Right::Edit };
    store.write(context, move |tx| add_all(tx, count)).expect("the rows");
}

/// Items of five sources, some without a day, a rating, a person or an account, with one to three excerpts each.
fn add_all(tx: &mut Tx<'_>, count: usize) -> Result<(), Error> {
    let map = |value: Value| -> Map<String, Value> { value.as_object().cloned().unwrap_or_default() };
    tx.insert(ThingKind::Product, &map(json!({ "name": "x" })))?;
    for n in 0..5 {
        let source = json!({ "product_id": 1, "name": format!("Source {n}"), "brought_on": "2026-01-01" });
        tx.insert(ThingKind::Source, &map(source))?;
    }
    for n in 0..370 {
        tx.insert(ThingKind::Account, &map(json!({ "name": format!("Account {:03}", n * 7 % 370) })))?;
    }
    let people = (count * 2 / 5).max(1);
    for n in 0..people {
        // Numbers that share nothing with their order.
        tx.insert(ThingKind::Person, &map(json!({ "name": format!("Person {}", n * 7_919 % people) })))?;
    }
    let kinds = FeedbackKind::names();
    for n in 0..count {
        let by_chance = n.wrapping_mul(2_654_435_761) >> 7;
        let wish = if by_chance % 8 == 0 { "A refund, please." } else { "Thank you anyway." };
        let text = format!("The boat was late and nobody told us. It is the {n}th time. {wish}");
        let one_of = |most: usize| by_chance % most;
        let item = json!({
            "product_id": 1, "source_id": n % 5 + 1, "digest": format!("{n:032}"), "text": text,
            "said_on": (n % 20 > 0).then(|| format!("20{:02}-{:02}-{:02}", 24 + one_of(3), 1 + one_of(12), 1 + one_of(28))),
            "rating": (n % 6 > 0).then_some(one_of(5) + 1),
            "person_id": (n % 10 > 0).then_some(one_of(people) + 1),
            "account_id": (n % 3 > 0).then_some(one_of(370) + 1),
        });
        let item = tx.insert(ThingKind::FeedbackItem, &map(item))?;
        for (at, (from, to)) in [(0, 37), (38, 60), (61, 70)].into_iter().take(1 + n % 3).enumerate() {
            let excerpt = json!({ "item_id": item, "from_char": from, "to_char": to, "kind": kinds[(by_chance + at) % kinds.len()],
                "sentiment": (one_of(2_001) as f64 - 1_000.0) / 1_000.0 });
            tx.insert(ThingKind::Excerpt, &map(excerpt))?;
        }
    }
    Ok(())
}
