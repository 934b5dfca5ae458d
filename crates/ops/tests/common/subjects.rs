//! A product where a model tells only what each text is about, so that what belongs together is known beforehand.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;

use iron_kite_core::jobs::JobState;
use iron_kite_core::listen::{Columns, Strictness};
use iron_kite_core::text::{Meaning, NoMeaning, Vector, words};
use iron_kite_core::things::{ExcerptId, FindingId};
use iron_kite_ops::jobs::{self, JobKind};
use iron_kite_ops::listen::{self, ExcerptQuery, FindingView, NewRun, RunLine, Take, finding_excerpts, findings};

use super::{Workspace, command, workspace};

/// A text means what its first word of these is about, and a little what its other words are.
pub struct Subjects;

pub const SUBJECTS: [&str; 5] = ["deck", "refund", "tea", "pass", "bicycle"];

impl Meaning for Subjects {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        let vector = |text: &&str| {
            let all = words(text);
            let mut numbers = vec![0.0; 384];
            for word in &all {
                match SUBJECTS.iter().position(|subject| subject == word) {
                    Some(at) => numbers[at] += 3.0,
                    None => {
                        let at = word.bytes().fold(7_usize, |sum, byte| sum.wrapping_mul(31).wrapping_add(byte.into()));
                        numbers[5 + at % 379] += 0.5;
                    }
                }
            }
            Vector::pointing(numbers)
        };
        Ok(texts.iter().map(vector).collect())
    }
}

/// Ways to say something about each subject.
pub const SAID: [&str; 8] = [
    "It is a shame about the SUBJECT on Fridays",
    "Nobody told us anything of the SUBJECT beforehand",
    "My brother waited an hour because of the SUBJECT",
    "Why must the SUBJECT always be such trouble?",
    "The SUBJECT was wrong again this morning",
    "I gave up on the SUBJECT after two tries",
    "Please do something about that SUBJECT soon",
    "We lost a whole day over the SUBJECT in May",
];

pub fn file(subjects: &[&str], from: usize) -> String {
    let mut text = String::from("text,who,date\n");
    for (number, subject) in subjects.iter().enumerate() {
        for (at, said) in SAID.iter().enumerate() {
            let who = from + number * 10 + at;
            text.push_str(&format!("{},Person {who},2026-05-{:02}\n", said.replace("SUBJECT", subject), at + 1));
        }
    }
    text
}

pub fn ready() -> Workspace {
    let Workspace { app, product, dir } = workspace();
    let workspace = Workspace { app: app.with_meaning(Box::new(Subjects)), product, dir };
    bring(&workspace, &file(&["deck", "refund", "tea"], 0));
    workspace
}

/// Brings a file in whose third column is the day.
pub fn bring(workspace: &Workspace, table: &str) -> listen::Imported {
    let columns = Columns { text: 0, person: Some(1), said_on: Some(2), ..Columns::default() };
    listen::import(&workspace.app, &command(), workspace.product, "voices.csv", table.as_bytes(), &columns).unwrap()
}

pub fn work(workspace: &Workspace) {
    jobs::work_off(&workspace.app, &command()).unwrap();
}

pub fn tried(workspace: &Workspace) -> RunLine {
    let new = NewRun { product: workspace.product, strictness: Strictness::Even };
    let job = listen::try_run(&workspace.app, &command(), new).unwrap();
    work(workspace);
    listen::run(&workspace.app, &command(), job.id).unwrap().line
}

pub fn take(workspace: &Workspace, run: &RunLine, leave: Vec<usize>) -> i64 {
    let job = listen::take_run(&workspace.app, &command(), run.id, Take { leave }).unwrap();
    work(workspace);
    let job = jobs::job(&workspace.app, &command(), job.id).unwrap();
    assert_eq!((job.state, job.kind), (JobState::Done, JobKind::Take), "{:?}", job.problem);
    job.change.unwrap_or_default()
}

pub fn all(workspace: &Workspace) -> Vec<FindingView> {
    findings(&workspace.app, &command(), workspace.product).unwrap()
}

pub fn behind(workspace: &Workspace, id: FindingId) -> BTreeSet<ExcerptId> {
    let query = ExcerptQuery { limit: Some(200), ..ExcerptQuery::default() };
    let page = finding_excerpts(&workspace.app, &command(), id, query).unwrap();
    page.excerpts.into_iter().map(|one| one.excerpt.id).collect()
}

/// The finding that speaks of a subject.
pub fn about(workspace: &Workspace, subject: &str) -> FindingView {
    let of = |one: &FindingView| one.told.as_ref().is_some_and(|told| told.phrases.contains(&subject.to_owned()));
    all(workspace).into_iter().find(of).unwrap_or_else(|| panic!("{subject}: {:?}", all(workspace)))
}

pub fn sound(workspace: &Workspace) {
    assert_eq!(iron_kite_store::verify(workspace.dir.path()).unwrap().faults, Vec::<String>::new());
}
