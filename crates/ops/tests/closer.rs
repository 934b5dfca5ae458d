//! What people said is looked at more closely before it is grouped, once, and only where groups are wanted.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};

use crate::common::subjects::{SUBJECTS, Subjects, all, behind, bring, file, sound, take, tried, work};
use crate::common::{Workspace, command, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::jobs::JobState;
use iron_kite_core::listen::Strictness;
use iron_kite_core::text::{Meaning, NoMeaning, Vector};
use iron_kite_core::things::ExcerptId;
use iron_kite_ops::jobs;
use iron_kite_ops::listen::{self, ChosenWords, FindingChange, ItemQuery, NewRun};

/// At a glance everything is about the deck; a closer look tells.
#[derive(Default)]
struct Looks {
    seen: Mutex<Vec<String>>,
    /// What somebody does during the first closer look.
    meanwhile: Mutex<Option<Box<dyn FnOnce() + Send>>>,
    times: AtomicUsize,
    /// The second closer look fails, and each one after it.
    tires: AtomicBool,
}

struct Glance(Arc<Looks>);

impl Meaning for Glance {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        let one = |text: &&str| SUBJECTS.iter().fold((*text).to_owned(), |text, subject| text.replace(subject, "deck"));
        let texts: Vec<String> = texts.iter().map(one).collect();
        Subjects.vectors(&texts.iter().map(String::as_str).collect::<Vec<_>>())
    }

    fn closer(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        if self.0.tires.load(Ordering::Relaxed) && self.0.times.fetch_add(1, Ordering::Relaxed) > 0 {
            return Err(NoMeaning("tired".into()));
        }
        let act = self.0.meanwhile.lock().unwrap().take();
        if let Some(act) = act {
            act();
        }
        self.0.seen.lock().unwrap().extend(texts.iter().map(|text| (*text).to_owned()));
        Subjects.vectors(texts)
    }
}

fn watched() -> (Workspace, Arc<Looks>) {
    let looks = Arc::new(Looks::default());
    let workspace = workspace();
    (Workspace { app: workspace.app.with_meaning(Box::new(Glance(Arc::clone(&looks)))), ..workspace }, looks)
}

/// How many texts were looked at, each once.
fn seen(looks: &Looks) -> usize {
    let mut seen = looks.seen.lock().unwrap().clone();
    let all = seen.len();
    seen.sort();
    seen.dedup();
    assert_eq!(seen.len(), all, "something was looked at twice");
    all
}

#[test]
fn groups_are_made_by_a_closer_look_that_is_kept() {
    let (workspace, looks) = watched();
    bring(&workspace, &file(&["deck", "refund", "tea"], 0));
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    assert_eq!(seen(&looks), 0);
    let run = tried(&workspace);
    assert_eq!((run.new, run.excerpts, seen(&looks)), (3, 24, 24));
    take(&workspace, &run, Vec::new());
    // Once there are findings, what arrives is looked at behind all else that is read.
    bring(&workspace, &file(&["pass"], 500));
    work(&workspace);
    assert_eq!(seen(&looks), 32);
    tried(&workspace);
    assert_eq!(seen(&looks), 32);
    sound(&workspace);
}

#[test]
fn a_look_that_fails_midway_goes_on_where_it_was() {
    let (workspace, looks) = watched();
    let names: Vec<String> = (0..24).map(|at| format!("deck by the {at} o'clock tea")).collect();
    bring(&workspace, &file(&names.iter().map(String::as_str).collect::<Vec<_>>(), 0));
    listen::read_now(&workspace.app, &command(), workspace.product).unwrap();
    looks.tires.store(true, Ordering::Relaxed);
    let new = NewRun { product: workspace.product, strictness: Strictness::Even };
    let job = listen::try_run(&workspace.app, &command(), new).unwrap();
    work(&workspace);
    assert_eq!(jobs::job(&workspace.app, &command(), job.id).unwrap().state, JobState::Failed);
    let first = seen(&looks);
    assert!(first > 0 && first < 192, "{first}");
    looks.tires.store(false, Ordering::Relaxed);
    let run = tried(&workspace);
    assert_eq!((run.state, seen(&looks)), (JobState::Done, 192));
}

#[test]
fn a_finding_opens_though_not_all_of_it_was_looked_at() {
    let (workspace, looks) = watched();
    bring(&workspace, &file(&["deck", "tea"], 0));
    take(&workspace, &tried(&workspace), Vec::new());
    let one = all(&workspace)[0].finding.id;
    looks.tires.store(true, Ordering::Relaxed);
    looks.times.store(1, Ordering::Relaxed);
    bring(&workspace, &file(&["pass"], 500));
    work(&workspace);
    assert_eq!(seen(&looks), 16);
    let there = behind(&workspace, one);
    let add = (1..=24).map(ExcerptId).filter(|id| !there.contains(id)).collect();
    let change = FindingChange { add, ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), one, change).unwrap();
    assert_eq!(behind(&workspace, one).len(), 24);
    // Seen at a glance like the rest of it, it all says one thing.
    assert_eq!(listen::narrower(&workspace.app, &command(), one).unwrap(), []);
    sound(&workspace);
}

#[test]
fn words_that_became_others_during_a_look_are_looked_at_themselves() {
    let (workspace, looks) = watched();
    bring(&workspace, &file(&["deck", "tea"], 0));
    take(&workspace, &tried(&workspace), Vec::new());
    bring(&workspace, "text,who,date\nMy sister waited for the pass and the refund,Somebody,2026-06-20\n");
    let workspace = Arc::new(workspace);
    let their = Arc::clone(&workspace);
    let last = {
        let rows = workspace.rows(Collection::Excerpt, &["reference"]);
        let ids = rows.iter().map(|row| row[0].as_str().unwrap()[1..].parse::<i64>().unwrap());
        ExcerptId(ids.max().unwrap())
    };
    *looks.meanwhile.lock().unwrap() = Some(Box::new(move || {
        let item =
            listen::items(&their.app, &command(), ItemQuery { product: their.product.0, ..ItemQuery::default() });
        let item = item.unwrap().items.into_iter().find(|one| one.text.starts_with("My sister")).unwrap();
        let chosen = ChosenWords { rev: 1, from: 3, to: 28, becomes: Some(last) };
        listen::choose_words(&their.app, &command(), item.id, chosen).unwrap();
    }));
    work(&workspace);
    let seen = looks.seen.lock().unwrap().clone();
    let of_it: Vec<&str> = seen.iter().map(String::as_str).filter(|text| text.contains("sister")).collect();
    assert!(of_it.len() > 1 && of_it.contains(&"sister waited for the pass"), "{of_it:?}");
    sound(&workspace);
}
