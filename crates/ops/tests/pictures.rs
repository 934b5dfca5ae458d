//! A finding's page: pictures, frustration, what is unknown, and excerpts in parts, each counted by hand beside.

#![allow(
    clippy::unwrap_used,
    clippy::cast_precision_loss,
    reason = "a test stops where a step fails, and counts little"
)]

use std::collections::BTreeMap;

use crate::common::subjects::{about, all, bring, file, ready, take, tried, work};
use crate::common::{Workspace, command};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{Columns, Part, Side, Unknown, Volume, frustration, growth};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::FindingId;
use iron_kite_ops::listen::{
    self, ExcerptQuery, ExcerptView, FindingChange, OverviewQuery, change_finding, finding_excerpts, finding_picture,
    read_item, said_overview,
};

fn asked(workspace: &Workspace, id: FindingId, query: ExcerptQuery) -> (Vec<ExcerptView>, i64) {
    let page = finding_excerpts(&workspace.app, &command(), id, query).unwrap();
    (page.excerpts, page.all)
}

/// Three findings, of which one is also said on other days, by two from elsewhere.
fn spread_out() -> (Workspace, FindingId) {
    let workspace = ready();
    work(&workspace);
    take(&workspace, &tried(&workspace), Vec::new());
    bring(&workspace, &file(&["deck"], 200).replace("2026-05", "2026-02"));
    work(&workspace);
    let id = about(&workspace, "deck").finding.id;
    (workspace, id)
}

#[test]
fn each_part_of_a_picture_leads_to_its_excerpts() {
    let (workspace, id) = spread_out();
    let picture = finding_picture(&workspace.app, &command(), id).unwrap();
    let (every, count) = asked(&workspace, id, ExcerptQuery { limit: Some(200), ..ExcerptQuery::default() });
    assert!(every.len() >= 16 && every.len() == usize::try_from(count).unwrap());
    let mut kinds: BTreeMap<String, usize> = BTreeMap::new();
    for one in &every {
        *kinds.entry(one.excerpt.kind.name().to_owned()).or_default() += 1;
    }
    assert_eq!(
        picture.kinds.iter().map(|part| (part.key.clone().unwrap(), part.excerpts)).collect::<BTreeMap<_, _>>(),
        kinds
    );
    for part in &picture.kinds {
        let kind = serde_json::from_value(part.key.clone().unwrap().into()).unwrap();
        let (found, all) = asked(&workspace, id, ExcerptQuery { kind: Some(kind), ..ExcerptQuery::default() });
        assert_eq!((found.len(), usize::try_from(all).unwrap()), (part.excerpts, part.excerpts));
        assert!(found.iter().all(|one| one.excerpt.kind == kind));
    }
    for period in picture.over_time.stretches.iter().filter(|period| period.excerpts > 0) {
        let query = ExcerptQuery {
            from: Some(period.from.to_string()),
            to: Some(period.to.to_string()),
            ..ExcerptQuery::default()
        };
        assert_eq!(asked(&workspace, id, query).0.len(), period.excerpts);
    }
    let whole = picture.sources.iter().fold([0; 3], |[against, neutral, for_it], part| {
        [against + part.spread.against, neutral + part.spread.neutral, for_it + part.spread.for_it]
    });
    let on = |side| asked(&workspace, id, ExcerptQuery { side: Some(side), ..ExcerptQuery::default() }).0.len();
    assert_eq!([on(Side::Against), on(Side::Neutral), on(Side::ForIt)], whole);
    // Nobody's segment is known, so all are of none.
    assert_eq!((picture.segments.len(), picture.segments[0].key.as_deref()), (1, None));
    let none = ExcerptQuery { segment: Some(String::new()), ..ExcerptQuery::default() };
    assert_eq!(asked(&workspace, id, none).1, count);
}

#[test]
fn a_long_list_comes_in_pages_without_gaps() {
    let (workspace, id) = spread_out();
    let (every, _) = asked(&workspace, id, ExcerptQuery { limit: Some(200), ..ExcerptQuery::default() });
    let (mut found, mut after) = (Vec::new(), None);
    loop {
        let query = ExcerptQuery { after, limit: Some(5), ..ExcerptQuery::default() };
        let page = finding_excerpts(&workspace.app, &command(), id, query).unwrap();
        found.extend(page.excerpts);
        after = page.next;
        if after.is_none() {
            break;
        }
    }
    assert_eq!(found, every);
    assert!(found.is_sorted_by(|one, next| one.said_on >= next.said_on));
}

#[test]
fn frustration_and_growth_are_the_same_in_lists_and_in_core() {
    let (workspace, _) = spread_out();
    let names = ["reference", "people", "frustration", "negativity", "growth"];
    let rows = workspace.rows(Collection::Finding, &names);
    for one in all(&workspace) {
        let id = one.finding.id;
        let row = rows.iter().find(|row| row[0] == id.to_string()).unwrap();
        let (every, _) = asked(&workspace, id, ExcerptQuery { limit: Some(200), ..ExcerptQuery::default() });
        let sentiments: Vec<f64> = every.iter().map(|one| one.excerpt.sentiment).collect();
        let by_hand = frustration(one.voices.people, &sentiments);
        assert!((row[2].as_f64().unwrap() - by_hand.frustration).abs() < 1e-9, "{row:?} {by_hand:?}");
        assert!((row[3].as_f64().unwrap() - by_hand.negativity).abs() < 1e-9);
        let picture = finding_picture(&workspace.app, &command(), id).unwrap();
        assert!((picture.frustration.frustration - by_hand.frustration).abs() < 1e-9);
        let told = one.told.unwrap();
        let pace = growth(Volume { recent: told.recent, before: told.before });
        assert!((row[4].as_f64().unwrap() - pace).abs() < 1e-9);
    }
}

#[test]
fn what_is_unknown_stands_beside_what_is_said() {
    let (workspace, id) = spread_out();
    let picture = finding_picture(&workspace.app, &command(), id).unwrap();
    assert_eq!(picture.unknown, [Unknown::OneSource { source: "voices.csv".into() }.words()]);
    assert_eq!(picture.stands_for.len(), 3);
    // What was taken out stands for nothing here any more, though it is told anew only later.
    let gone = picture.stands_for[0].excerpt.id;
    let change = FindingChange { remove: vec![gone], ..FindingChange::default() };
    change_finding(&workspace.app, &command(), id, change).unwrap();
    let picture = finding_picture(&workspace.app, &command(), id).unwrap();
    assert!(picture.stands_for.len() == 3 && picture.stands_for.iter().all(|one| one.excerpt.id != gone));
    let sides = picture.sources[0].spread;
    assert_eq!(picture.contrary_count, if sides.against == sides.for_it { 0 } else { sides.against.min(sides.for_it) });
}

#[test]
fn the_overview_counts_all_that_was_said() {
    let (workspace, _) = spread_out();
    let ask = |from: Option<&str>, to: Option<&str>| {
        let (from, to) = (from.map(Into::into), to.map(Into::into));
        let query = OverviewQuery { product: workspace.product.0, from, to, ..OverviewQuery::default() };
        said_overview(&workspace.app, &command(), &query).unwrap()
    };
    let excerpts = workspace.rows(Collection::Excerpt, &["said_on", "sentiment"]);
    let items = workspace.rows(Collection::FeedbackItem, &["said_on", "read"]);
    let days =
        |rows: &[Vec<serde_json::Value>], from: &str| rows.iter().filter(|row| row[0].as_str() >= Some(from)).count();
    let whole = ask(None, None);
    assert_eq!((whole.items, whole.unseen), (items.len(), i64::try_from(items.len()).unwrap()));
    for parts in [&whole.sources, &whole.segments, &whole.products] {
        assert_eq!(parts.iter().map(|part| part.excerpts).sum::<usize>(), excerpts.len());
    }
    assert_eq!(
        whole.over_time.stretches.iter().map(|one| one.excerpts).sum::<usize>() + whole.over_time.left_out,
        excerpts.len()
    );
    let mean = excerpts.iter().map(|row| row[1].as_f64().unwrap()).sum::<f64>() / excerpts.len() as f64;
    assert!((whole.products[0].mean - mean).abs() < 1e-9);
    // 30 June: the last four weeks begin on 3 June, the twelve before on 11 March.
    assert_eq!((whole.recent, whole.before), (0, days(&excerpts, "2026-03-11")));
    let later = ask(Some("2026-05-03"), None);
    assert_eq!((later.items, later.sources[0].excerpts), (days(&items, "2026-05-03"), days(&excerpts, "2026-05-03")));
    assert!(later.items < whole.items);
    assert_eq!(ask(None, Some("2026-02-08")).items + ask(Some("2026-02-09"), None).items, whole.items);
    let item =
        workspace.rows(Collection::FeedbackItem, &["reference"])[0][0].as_str().unwrap()[1..].parse::<i64>().unwrap();
    read_item(&workspace.app, &workspace.person(Role::Viewer), item.into()).unwrap();
    assert_eq!(ask(None, None).unseen, whole.unseen - 1);
}

#[test]
fn the_overview_is_asked_of_one_source_or_segment() {
    let (workspace, _) = spread_out();
    let columns = Columns { text: 0, account: Some(1), ..Columns::default() };
    let freight = "text,account\nThe ramp is steep and the deck is full.,Hask Stores\nNobody answers.,Tern Dairy\n";
    listen::import(&workspace.app, &command(), workspace.product, "freight.csv", freight.as_bytes(), &columns).unwrap();
    let accounts = "account,segment\nHask Stores,freight\nTern Dairy,food\n";
    listen::bring_in_accounts(&workspace.app, &command(), "accounts.csv", accounts.as_bytes()).unwrap();
    let ask = |source: Option<i64>, segment: Option<&str>| {
        let segment = segment.map(Into::into);
        let query = OverviewQuery { product: workspace.product.0, source, segment, ..OverviewQuery::default() };
        said_overview(&workspace.app, &command(), &query).unwrap()
    };
    let whole = ask(None, None);
    let key = |part: &Part| part.key.clone().unwrap().parse::<i64>().unwrap();
    for part in &whole.sources {
        let one = ask(Some(key(part)), None);
        assert_eq!(one.sources, whole.sources, "all that can be picked instead");
        assert_eq!(one.over_time.stretches.iter().map(|stretch| stretch.excerpts).sum::<usize>(), {
            part.excerpts - one.over_time.left_out
        });
        assert_eq!(one.segments.iter().map(|part| part.excerpts).sum::<usize>(), part.excerpts);
    }
    let by_segment: Vec<usize> = ["freight", "food", ""].map(|segment| ask(None, Some(segment)).items).to_vec();
    assert_eq!(by_segment[..2], [1, 1]);
    assert_eq!(by_segment.iter().sum::<usize>(), whole.items);
    let voices = whole.sources.iter().find(|part| part.label.as_deref() == Some("voices.csv")).map(key);
    let both = ask(voices, Some("freight"));
    assert_eq!((both.items, both.unseen, both.over_time.stretches.len()), (0, 0, 0));
    assert_eq!(ask(None, Some("freight")).unseen, 1);
}

#[test]
fn a_day_that_is_none_is_refused() {
    let (workspace, id) = spread_out();
    let from = Some("last week".to_owned());
    let query = ExcerptQuery { from: from.clone(), ..ExcerptQuery::default() };
    let refused = finding_excerpts(&workspace.app, &command(), id, query).unwrap_err();
    assert!(matches!(refused, Problem::Invalid(_)), "{refused:?}");
    let query = OverviewQuery { product: workspace.product.0, from, ..OverviewQuery::default() };
    assert!(matches!(said_overview(&workspace.app, &command(), &query).unwrap_err(), Problem::Invalid(_)));
}
