//! Ten questions on the demo data, each with the passages that somebody put behind the finding that answers it.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::HashSet;

use iron_kite_core::things::FindingId;
use iron_kite_meaning::Models;
use iron_kite_ops::listen::{ExcerptQuery, ExcerptView, ItemQuery};
use iron_kite_ops::{App, Call, listen};
use jiff::Timestamp;
use jiff::civil::date;

/// The number of a finding of the demo, and a question that it answers, in other words than it is told in.
const QUESTIONS: [(i64, &str); 10] = [
    (1, "How do people find out that their boat will not run?"),
    (2, "Was there room aboard for cars that had been booked?"),
    (3, "Can a ticket be shown when the phone is offline?"),
    (4, "How long do people wait to be reimbursed?"),
    (5, "Do season ticket holders have to prove it several times?"),
    (6, "Is the display legible in bright daylight?"),
    (7, "Can people announce that they come with an animal or a bike?"),
    (8, "What do people think of the staff?"),
    (9, "Why do people take a picture of the schedule on paper?"),
    (10, "Do drivers know where they have to queue?"),
];
/// So many are looked at first.
const FIRST: usize = 10;

/// All excerpts behind a finding.
fn every(app: &App, call: &Call, finding: FindingId) -> Vec<ExcerptView> {
    let (mut all, mut after) = (Vec::new(), None);
    loop {
        let query = ExcerptQuery { after, limit: Some(200), ..ExcerptQuery::default() };
        let page = listen::finding_excerpts(app, call, finding, query).unwrap();
        all.extend(page.excerpts);
        after = page.next;
        if after.is_none() {
            return all;
        }
    }
}

#[test]
fn questions_find_the_passages_that_answer_them() {
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap().with_meaning(Box::new(Models::on(2)));
    iron_kite::load_demo(&app, Timestamp::now(), date(2026, 6, 30)).unwrap();
    let call = Call::command(Timestamp::now(), date(2026, 6, 30));
    let product = iron_kite_ops::overview::products(&app, &call).unwrap()[0].id;
    let (mut recall, mut reciprocal, mut told) = (0.0, 0.0, String::new());
    for (finding, question) in QUESTIONS {
        let behind = every(&app, &call, finding.into());
        let right: HashSet<_> = behind.iter().filter(|one| one.belongs.is_none()).map(|one| one.excerpt.id).collect();
        let evidence = listen::ask(&app, &call, product, question).unwrap();
        let hits = evidence.passages.iter().map(|one| right.contains(&one.excerpt.id));
        let found = hits.clone().take(FIRST).filter(|hit| *hit).count();
        let rank = hits.clone().position(|hit| hit).map_or(0.0, |at| 1.0 / f64::from(u32::try_from(at + 1).unwrap()));
        let share =
            f64::from(u32::try_from(found).unwrap()) / f64::from(u32::try_from(right.len().min(FIRST)).unwrap());
        let first = evidence.findings.first().map(|one| one.id.0);
        told += &format!("{share:.2} {rank:.2} N{finding} {first:?} {question}\n");
        recall += share / 10.0;
        reciprocal += rank / 10.0;
    }
    let measured = format!("recall at 10: {recall:.3}, mean reciprocal rank {reciprocal:.3}\n{told}");
    // Below what docs/methods/findings.md reports, so that a small change of the words does not fail, and a broken search does.
    assert!(recall > 0.3 && reciprocal > 0.45, "{measured}");
    // A rare name finds where it stands.
    let petrel = listen::ask(&app, &call, product, "What became of the Petrel?").unwrap();
    assert!(petrel.passages[0].words.contains("Petrel"), "{}", petrel.passages[0].words);
    // What nobody spoke of has no answer.
    let nothing = listen::ask(&app, &call, product, "quarterly depreciation of semiconductor patents").unwrap();
    assert_eq!(nothing.passages.len(), 0, "{:?}", nothing.passages.first().map(|one| &one.words));
    // Some of what was suggested is accepted, and one finding that says two things waits to be put right.
    let all = listen::findings(&app, &call, product).unwrap();
    let states: HashSet<_> = all.iter().map(|one| one.finding.state().name()).collect();
    assert_eq!(states, HashSet::from(["suggested", "accepted"]));
    let mixed = all.iter().find(|one| one.finding.note.is_some()).unwrap();
    let narrower = listen::narrower(&app, &call, mixed.finding.id).unwrap();
    let (ramp, paper): (Vec<_>, Vec<_>) =
        narrower.iter().partition(|one| one.phrases.iter().any(|words| words == "ramp"));
    assert!(!ramp.is_empty() && !paper.is_empty(), "{narrower:?}");
    // An interview begins with its key points, which are sentences of its own.
    let query = ItemQuery { product: product.0, words: Some("kitchen table".into()), ..ItemQuery::default() };
    let interview = listen::items(&app, &call, query).unwrap().items.remove(0);
    let interview = listen::item(&app, &call, interview.id).unwrap();
    let points: Vec<_> =
        interview.parts.iter().filter(|part| interview.key_points.contains(&part.excerpt.id)).collect();
    assert!((5..=7).contains(&points.len()), "{points:?}");
    assert!(points.iter().all(|part| interview.item.text.contains(&part.words)));
}
