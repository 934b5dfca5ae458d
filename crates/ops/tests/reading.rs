//! The engine reads in the background: nothing is lost, nothing is read twice, and what a person said stays.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::HashSet;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use crate::common::{Workspace, bring_whole, command, whole_file, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::jobs::JobState;
use iron_kite_core::listen::Columns;
use iron_kite_core::text::{Meaning, NoMeaning, Vector, words};
use iron_kite_core::things::{ExcerptId, ItemId, PersonId, ProductId};
use iron_kite_ops::{App, collections, history, jobs, listen, overview};
use serde_json::{Value, json};

/// Tells meanings from the words themselves, counts what it was asked, and gives up after so many texts.
#[derive(Clone, Default)]
struct Counting {
    asked: Arc<AtomicUsize>,
    texts: Arc<Mutex<HashSet<String>>>,
    gives_up_after: Option<usize>,
}

impl Meaning for Counting {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        let before = self.asked.fetch_add(texts.len(), Ordering::Relaxed);
        if self.gives_up_after.is_some_and(|most| before + texts.len() > most) {
            self.asked.fetch_sub(texts.len(), Ordering::Relaxed);
            return Err(NoMeaning("the power went".into()));
        }
        self.texts.lock().unwrap().extend(texts.iter().map(|text| (*text).to_owned()));
        Ok(texts.iter().map(|text| of_words(text)).collect())
    }
}

/// Each word points somewhere of its own.
fn of_words(text: &str) -> Vector {
    let mut numbers = vec![0.0; 384];
    for word in words(text) {
        let at = word.bytes().fold(7_usize, |sum, byte| sum.wrapping_mul(31).wrapping_add(byte.into()));
        numbers[at % 384] += 1.0;
    }
    Vector::pointing(numbers)
}

fn understanding(meaning: &Counting) -> Workspace {
    let Workspace { app, product, dir } = workspace();
    Workspace { app: app.with_meaning(Box::new(meaning.clone())), product, dir }
}

fn excerpts(workspace: &Workspace) -> Vec<Vec<Value>> {
    let names = ["words", "kind", "sure", "sentiment", "language"];
    workspace.rows(Collection::Excerpt, &names)
}

#[test]
fn what_came_in_is_read_and_the_import_can_still_be_taken_back() {
    let workspace = understanding(&Counting::default());
    let imported = workspace.bring(
        &command(),
        "text,who\n\"How do I change my booking to Sunday, please?\",Zoë\nThe scanner crashed and nobody could board the boat.,Ben\n",
    );
    assert!(excerpts(&workspace).iter().all(|row| row[2].is_null()), "glanced at only");
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let read = excerpts(&workspace);
    assert!(read.iter().all(|row| row[2].as_f64().is_some()), "{read:?}");
    assert_eq!(iron_kite_store::verify(workspace.dir.path()).unwrap().faults, Vec::<String>::new());
    // To read is no change that anybody made, so the last one is still the import.
    history::undo_set(&workspace.app, &command(), imported.saved.change.unwrap()).unwrap();
    assert_eq!(excerpts(&workspace), Vec::<Vec<Value>>::new());
}

#[test]
fn what_a_person_said_stays() {
    let workspace = understanding(&Counting::default());
    workspace.bring(&command(), "text,who\nThe scanner crashed and nobody could board the boat.,Ben\n");
    let set = json!({ "kind": "habit", "sentiment": 0.9 }).as_object().unwrap().clone();
    let changes = vec![collections::CellChange { id: 1, rev: 1, set }];
    let input = collections::CellChanges { product: workspace.product, changes };
    collections::change_cells(&workspace.app, &command(), Collection::Excerpt, input).unwrap();
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let read = &excerpts(&workspace)[0];
    assert_eq!((&read[1], &read[3]), (&json!("habit"), &json!(0.9)));
    // The rows stand as the ledger says, what the engine told aside.
    assert_eq!(iron_kite_store::verify(workspace.dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn what_somebody_says_again_counts_once() {
    let workspace = understanding(&Counting::default());
    let said = "The boat was an hour late again this morning.";
    let again = "the boat was an hour late again that morning!!";
    workspace.bring(&command(), &format!("text,who\n{said},Zoë\n{said},Ben\n{again},Zoë\n"));
    let read = || {
        listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
        let rows = workspace.rows(Collection::Excerpt, &["repeats"]);
        rows.into_iter().map(|row| row[0][0]["id"].as_i64()).collect::<Vec<_>>()
    };
    assert_eq!(read(), [None, None, Some(1)]);
    let [first, .., last] = [1, 2, 3].map(ExcerptId);
    let new = listen::NewFinding {
        product_id: workspace.product,
        title: "Late".into(),
        excerpts: vec![first, ExcerptId(2), last],
    };
    listen::add_finding(&workspace.app, &command(), new).unwrap();
    let counted = || workspace.rows(Collection::Finding, &["excerpt_count", "people"])[0].clone();
    assert_eq!(counted(), [json!(2), json!(2)]);
    // What is somebody else's is no repeat, and is one again where that is taken back.
    let give = listen::Split { person: PersonId(1), items: vec![ItemId(3)], name: "Ida".into() };
    let given = listen::split(&workspace.app, &command(), give).unwrap();
    assert_eq!((read(), counted()), (vec![None; 3], vec![json!(3), json!(3)]));
    history::undo_set(&workspace.app, &command(), given.change.unwrap()).unwrap();
    assert_eq!((read(), counted()), (vec![None, None, Some(1)], vec![json!(2), json!(2)]));
    assert_eq!(iron_kite_store::verify(workspace.dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn ten_thousand_reviews_survive_an_end_in_the_middle() {
    let many: String =
        (0..10_000).map(|n| format!("\nBoat {n} was late again and nobody told me,Person {n}")).collect();
    let first = Counting { gives_up_after: Some(4_000), ..Counting::default() };
    let workspace = understanding(&first);
    workspace.bring(&command(), &format!("text,who{many}"));
    let all = 10_000;
    let stopped = listen::read_now(&workspace.app, &command(), workspace.product);
    assert!(stopped.is_err());
    let Workspace { app, product, dir } = workspace;
    drop(app);
    let second = Counting::default();
    let app = App::open(dir.path()).unwrap().with_meaning(Box::new(second.clone()));
    listen::read_now(&app, &command(), product).unwrap();
    // Each was read once: what was read before the end is not read again, and nothing is left out.
    let (before, after) = (first.texts.lock().unwrap(), second.texts.lock().unwrap());
    assert!(before.len() > 3_000 && before.is_disjoint(&after));
    assert_eq!(before.len() + after.len(), all);
    assert_eq!(first.asked.load(Ordering::Relaxed) + second.asked.load(Ordering::Relaxed), all);
    let workspace = Workspace { app, product, dir };
    let ask = json!({ "product": product, "query": { "fields": ["sure"],
        "filter": { "field": "sure", "operator": "empty" } } });
    let left =
        collections::rows(&workspace.app, &command(), Collection::Excerpt, &serde_json::from_value(ask).unwrap());
    assert_eq!(left.unwrap().count, 0);
    // Again there is nothing to do.
    listen::read_now(&workspace.app, &command(), product).unwrap();
    assert_eq!(second.asked.load(Ordering::Relaxed), after.len());
}

#[test]
fn every_product_is_read_in_the_background() {
    let Workspace { app, product, dir } = understanding(&Counting::default());
    let other = crate::common::made(&overview::add_product(&app, &command(), "Gangway").unwrap()).id.into();
    let app = Arc::new(app);
    for product in [product, other] {
        let many: String = (0..300).map(|n| format!("\nBoat {n} was late and nobody told me,Person {n}")).collect();
        let columns = Columns { text: 0, person: Some(1), ..Columns::default() };
        listen::import(&app, &command(), product, "voices.csv", format!("text,who{many}").as_bytes(), &columns)
            .unwrap();
    }
    // The thread of the work goes on until the test ends.
    let works = Arc::clone(&app);
    std::thread::spawn(move || jobs::work(&works, command));
    let left = |product: ProductId| {
        let ask = json!({ "product": product, "query": { "fields": ["sure"],
            "filter": { "field": "sure", "operator": "empty" } } });
        let ask = serde_json::from_value(ask).unwrap();
        collections::rows(&app, &command(), Collection::Excerpt, &ask).unwrap().count
    };
    let end = Instant::now() + Duration::from_secs(60);
    while left(product) + left(other) > 0 {
        assert!(Instant::now() < end, "{} and {} are not read", left(product), left(other));
        std::thread::sleep(Duration::from_millis(20));
    }
    drop(dir);
}

#[test]
fn reading_that_fails_says_so_and_is_not_tried_for_ever() {
    let workspace = understanding(&Counting { gives_up_after: Some(0), ..Counting::default() });
    workspace.bring(&command(), "text,who\nThe pier was cold and wet.,Ann\n");
    let Workspace { app, product, dir } = workspace;
    let app = Arc::new(app);
    let works = Arc::clone(&app);
    std::thread::spawn(move || jobs::work(&works, command));
    let seen = || jobs::jobs(&app, &command(), product).unwrap();
    let end = Instant::now() + Duration::from_secs(60);
    while !seen().iter().any(|job| job.state == JobState::Failed) {
        assert!(Instant::now() < end, "{:?}", seen());
        std::thread::sleep(Duration::from_millis(20));
    }
    std::thread::sleep(Duration::from_millis(300));
    assert_eq!(seen().len(), 1);
    drop(dir);
}

#[test]
fn the_same_words_get_the_same_whether_they_were_known_or_not() {
    let told = |lines: &str| {
        let workspace = understanding(&Counting::default());
        for line in lines.split('|') {
            workspace.bring(&command(), &format!("text,who\n{line}\n"));
            listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
        }
        let mut all = excerpts(&workspace);
        all.sort_by_key(|row| row[0].to_string());
        all
    };
    let once = told("The pier was cold and wet.,Ann|The pier was cold and wet.,Ben|A lovely crew.,Ann");
    let other = told("A lovely crew.,Ann|The pier was cold and wet.,Ben|The pier was cold and wet.,Ann");
    assert_eq!(once, other);
}

#[test]
fn what_means_the_same_is_found_beside_the_words() {
    let workspace = understanding(&Counting::default());
    workspace.bring(
        &command(),
        "text,who\nThe timetable cannot be read in the sun at all,Ann\nSun on the timetable makes it hard to see anything,Ben\nA dog ate my sandwich yesterday,Cy\n",
    );
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let found =
        collections::search(&workspace.app, &command(), workspace.product, "timetable cannot be read in sun", None);
    let found = found.unwrap();
    assert_eq!(found.feedback.len(), 1);
    assert_eq!(
        found.alike.iter().map(|hit| hit.snippet.as_str()).collect::<Vec<_>>(),
        ["Sun on the timetable makes it hard to see anything"]
    );
    // What came later is found too, and what was taken back is not.
    let later = workspace.bring(&command(), "text,who\nThe sun makes the timetable useless to read,Di\n");
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let count = || {
        let words = "timetable cannot be read in sun";
        collections::search(&workspace.app, &command(), workspace.product, words, None).unwrap().alike.len()
    };
    assert_eq!(count(), 2);
    history::undo_set(&workspace.app, &command(), later.saved.change.unwrap()).unwrap();
    assert_eq!(count(), 1);
    // Nobody said anything of this.
    let nothing = collections::search(&workspace.app, &command(), workspace.product, "quarterly tax invoices", None);
    assert_eq!(nothing.unwrap().alike, []);
}

#[test]
fn excerpts_are_the_same_after_a_way_out_and_in() {
    let workspace = understanding(&Counting::default());
    workspace
        .bring(&command(), "text,who\n\"Hów late? Far too late 😡, but the crew was kind to us.\",Zoë\nAgain.,Ben\n");
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    workspace.person(iron_kite_core::role::Role::Owner);
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap().with_meaning(Box::new(Counting::default()));
    bring_whole(&app, whole_file(&workspace.app)).unwrap();
    let other = Workspace { app, product: workspace.product, dir };
    assert_eq!(excerpts(&other), excerpts(&workspace));
    // The meanings are told again from the words.
    listen::read_now(&other.app, &command(), other.product).unwrap();
    assert_eq!(excerpts(&other), excerpts(&workspace));
    let kept = |workspace: &Workspace| listen::kept_meanings(&workspace.app, &command()).unwrap();
    assert_eq!(kept(&other), kept(&workspace));
}

#[test]
fn the_meaning_of_words_goes_with_the_person() {
    let workspace = understanding(&Counting::default());
    workspace.bring(&command(), "text,who\nThe pier was cold and wet.,Ann Ferrier\nAnn Ferrier was kind to us.,Ben\n");
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let before = listen::kept_meanings(&workspace.app, &command()).unwrap();
    let people = workspace.rows(Collection::Person, &["name"]);
    let ann = people.iter().position(|row| row[0] == "Ann Ferrier").unwrap() + 1;
    let ann = iron_kite_core::things::PersonId(i64::try_from(ann).unwrap());
    listen::erase_person(&workspace.app, &command(), ann, listen::Erase::default()).unwrap();
    // Neither her own words nor those that named her are understood any more, until the covered ones are read.
    assert_eq!(listen::kept_meanings(&workspace.app, &command()).unwrap(), Vec::<u8>::new());
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    let after = listen::kept_meanings(&workspace.app, &command()).unwrap();
    assert_eq!(after.len() * 2, before.len());
    assert_ne!(&before[..after.len()], &after[..]);
}
