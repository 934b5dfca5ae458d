//! What the list of findings, a finding's page, the overview and the queue of checking cost at 100,000 excerpts, beside the
//! same asked by SQL written by hand.

use iron_kite_core::fields::{Collection, first_views};
use iron_kite_core::listen::{CheckAbout, CheckWay};
use iron_kite_core::role::Right;
use iron_kite_core::things::{FindingId, ThingKind};
use iron_kite_ops::collections::{self, RowsAsk};
use iron_kite_ops::listen::{self, CheckQuery, ExcerptQuery, OverviewQuery};
use iron_kite_ops::{App, Call};
use iron_kite_store::{Error, Store, Tx, Way, WriteContext};
use jiff::civil::date;
use jiff::{Timestamp, ToSpan};
use rusqlite::{Connection, OpenFlags};
use serde_json::{Map, Value, json};

use crate::collections::{by_hand, compare};
use crate::tell;

const FINDINGS: usize = 200;
const TODAY: jiff::civil::Date = date(2026, 6, 30);

/// Measures on this many excerpts, two of each item, seven of ten behind one of 200 findings.
pub(crate) fn measure(count: usize) {
    let dir = tempfile::tempdir().expect("a folder");
    fill(dir.path(), count);
    let app = App::open(dir.path()).expect("the workspace");
    let call = Call::command(Timestamp::UNIX_EPOCH, TODAY);
    let path = iron_kite_store::database_path(dir.path());
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    let hand = Connection::open_with_flags(path, flags).expect("the database");
    hand.execute_batch("PRAGMA cache_size = -16000; PRAGMA temp_store = MEMORY").expect("its settings");
    tell(&format!("{count} excerpts behind {FINDINGS} findings, beside SQL by hand"));
    let said = "FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
        WHERE l.to_kind = 'finding' AND l.kind = 'supports' AND l.from_kind = 'excerpt'";

    let view = first_views(Collection::Finding).remove(0).definition;
    let view = serde_json::to_value(view).expect("a view");
    let query = json!({ "product": 1, "limit": 100, "query": {
        "order": view["order"], "filter": view["filter"],
        "fields": view["fields"].as_array().expect("fields").iter().map(|field| field["name"].clone()).collect::<Vec<_>>() } });
    let query: RowsAsk = serde_json::from_value(query).expect("a question");
    let list = format!(
        "SELECT l.to_id, count(DISTINCT i.person_id), count(DISTINCT i.account_id), avg(max(0, -e.sentiment)), count(*),
         sum(e.sentiment <= -0.15), sum(e.sentiment >= 0.15), sum(i.said_on > '2026-05-05'), max(i.said_on) {said}
         GROUP BY l.to_id ORDER BY 2 DESC LIMIT 100"
    );
    compare(
        "the list of findings, most people first",
        || {
            let page = collections::rows(&app, &call, Collection::Finding, &query).expect("rows");
            assert_eq!(page.rows.len(), 100);
        },
        || by_hand(&hand, &[&list]),
    );
    compare(
        "all findings, as pages choose from them",
        || assert_eq!(listen::findings(&app, &call, 1.into()).expect("findings").len(), FINDINGS),
        || by_hand(&hand, &[&list]),
    );

    let largest = FindingId(1);
    let columns =
        "e.id, i.id, i.person_id, i.account_id, a.segment, i.source_id, s.name, e.kind, e.sentiment, i.said_on";
    let behind = "JOIN feedback_item i ON i.id = e.item_id JOIN source s ON s.id = i.source_id
        LEFT JOIN account a ON a.id = i.account_id WHERE e.id IN (SELECT from_id FROM link WHERE to_kind = 'finding' AND to_id = 1
        AND kind = 'supports' AND from_kind = 'excerpt')";
    let picture = format!("SELECT {columns} FROM excerpt e {behind}");
    let page = format!(
        "SELECT {columns}, substr(i.text, e.from_char + 1, e.to_char - e.from_char) FROM excerpt e {behind}
         ORDER BY COALESCE(i.said_on, '') DESC, e.id DESC LIMIT 50"
    );
    compare(
        "a finding's page: pictures, first excerpts",
        || {
            let picture = listen::finding_picture(&app, &call, largest).expect("a picture");
            assert!(picture.kinds.len() > 1);
            let page = listen::finding_excerpts(&app, &call, largest, ExcerptQuery::default()).expect("excerpts");
            assert_eq!(page.excerpts.len(), 50);
        },
        || by_hand(&hand, &[&picture, &page]),
    );

    let groups = "SELECT i.product_id, i.source_id, a.segment, substr(i.said_on, 1, 7), sum(e.sentiment <= -0.15),
        sum(e.sentiment >= 0.15), sum(e.sentiment), count(*) FROM feedback_item i JOIN excerpt e ON e.item_id = i.id
        LEFT JOIN account a ON a.id = i.account_id GROUP BY 1, 2, 3, 4";
    let unseen = "SELECT count(*) FROM feedback_item i WHERE product_id = 1
        AND NOT EXISTS (SELECT 1 FROM reading r WHERE r.item_id = i.id)";
    compare(
        "the overview of all that was said",
        || {
            let query = OverviewQuery { product: 1, ..OverviewQuery::default() };
            assert!(listen::said_overview(&app, &call, &query).expect("an overview").over_time.stretches.len() > 10);
        },
        || by_hand(&hand, &[groups, unseen]),
    );

    for (name, about, by) in [
        (
            "what to check next: kinds",
            CheckAbout::Kind,
            "e.chosen IS NULL AND e.sure IS NOT NULL ORDER BY e.sure LIMIT 20",
        ),
        (
            "what to check next: findings",
            CheckAbout::Finding,
            "e.id IN (SELECT from_id FROM link WHERE sure IS NOT NULL ORDER BY sure LIMIT 20)",
        ),
    ] {
        let sql =
            format!("SELECT e.id, e.kind, i.text FROM excerpt e JOIN feedback_item i ON i.id = e.item_id WHERE {by}");
        compare(
            name,
            || {
                let query = CheckQuery { product: 1, about, way: CheckWay::Unsure };
                assert_eq!(listen::to_check(&app, &call, query).expect("a queue").excerpts.len(), 20);
            },
            || by_hand(&hand, &[&sql]),
        );
    }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().cloned().unwrap_or_default()
}

fn fill(dir: &std::path::Path, count: usize) {
    let store = Store::open(dir).expect("a workspace");
    let context = WriteContext { user_id: None, at: 0, label: "measured".into(), way: Way::Import, needs: Right::Edit };
    let write = move |tx: &mut Tx<'_>| -> Result<(), Error> {
        tx.insert(ThingKind::Product, &map(json!({ "name": "x" })))?;
        for n in 0..12 {
            let row = json!({ "product_id": 1, "name": format!("source {n}"), "brought_on": "2026-01-01" });
            tx.insert(ThingKind::Source, &map(row))?;
        }
        for n in 0..400_usize {
            let row = json!({ "name": format!("account {n}"), "segment": format!("segment {}", n % 4), "yearly_revenue": n * 100 });
            tx.insert(ThingKind::Account, &map(row))?;
        }
        for n in 0..6_000_usize {
            tx.insert(ThingKind::Person, &map(json!({ "name": format!("person {n}"), "account_id": n % 400 + 1 })))?;
        }
        for n in 1..=FINDINGS {
            tx.insert(
                ThingKind::Finding,
                &map(json!({ "product_id": 1, "title": format!("finding {n}"), "state": "suggested" })),
            )?;
        }
        (0..count / 2).try_for_each(|n| item(tx, n))
    };
    store.write(context, write).expect("the rows");
}

/// An item with two excerpts. Half of what is behind findings is behind a few large ones.
fn item(tx: &mut Tx<'_>, n: usize) -> Result<(), Error> {
    let text =
        format!("The boat of {n} was late again and nobody said why. The crew of number {n} was kind to all of us.");
    let day = TODAY.saturating_sub(i64::try_from(n * 7919 % 500).unwrap_or_default().days());
    let person = n * 31 % 6_000;
    let row = json!({ "product_id": 1, "source_id": n % 12 + 1, "text": text, "said_on": day.to_string(),
        "person_id": person + 1, "account_id": person % 400 + 1, "digest": n.to_string() });
    let item = tx.insert(ThingKind::FeedbackItem, &map(row))?;
    let middle = text.find(". ").unwrap_or_default() + 1;
    for (at, (from, to)) in [(0, middle), (middle + 1, text.len())].into_iter().enumerate() {
        let number = n * 2 + at;
        let kind = ["defect", "praise", "friction", "request"][number % 4];
        let (sentiment, sure) =
            (f64::from(u32::try_from(number % 21).unwrap_or_default()) / 10.0 - 1.0, 0.3 + share(number));
        let row = json!({ "item_id": item, "from_char": from, "to_char": to, "kind": kind, "sentiment": sentiment, "sure": sure });
        let excerpt = tx.insert(ThingKind::Excerpt, &map(row))?;
        if number % 10 < 7 {
            let finding = if number.is_multiple_of(2) { number * 17 % 10 } else { number * 13 % FINDINGS };
            let link = json!({ "kind": "supports", "from_kind": "excerpt", "from_id": excerpt, "to_kind": "finding",
                "to_id": finding + 1, "sure": sure });
            tx.insert(ThingKind::Link, &map(link))?;
        }
    }
    Ok(())
}

/// Between 0 and 0.7.
fn share(number: usize) -> f64 {
    f64::from(u32::try_from(number * 7_919 % 700).unwrap_or_default()) / 1_000.0
}
