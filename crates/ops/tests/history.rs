//! Undo, redo, history and revisions.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

mod common;

use common::{command, fields, workspace};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::listen::ItemQuery;
use iron_kite_ops::things::{Edit, LinkEnds, edit, link, remove, rev_of};
use iron_kite_ops::{decide, history, listen, takeout};
use serde_json::json;

const VOICES: &str = "text,who\nThe boat was late. It rained.,Ann\nThe crew is kind.,Bo\n";

fn set(rev: i64, value: serde_json::Value) -> Edit {
    Edit { rev, set: fields(&value) }
}

fn items(w: &common::Workspace) -> usize {
    listen::items(&w.app, &command(), ItemQuery { product: w.product.0, ..ItemQuery::default() }).unwrap().items.len()
}

#[test]
fn an_import_is_taken_back_whole_and_done_again() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let before = takeout::export_all(&w.app, &command()).unwrap();
    w.bring(&wren, VOICES);
    let after = takeout::export_all(&w.app, &command()).unwrap();
    assert_eq!(items(&w), 2);

    let undone = history::undo_last(&w.app, &wren).unwrap();
    assert_eq!(undone.label, "undid: brought in 2 items from voices.csv");
    let tables = |whole: &iron_kite_core::formats::workspace::Workspace| {
        let mut tables = whole.tables.clone();
        tables.retain(|name, _| !name.starts_with("change"));
        tables
    };
    assert_eq!(tables(&takeout::export_all(&w.app, &command()).unwrap()), tables(&before));

    history::redo_last(&w.app, &wren).unwrap();
    assert_eq!(tables(&takeout::export_all(&w.app, &command()).unwrap()), tables(&after));
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn undo_goes_back_step_by_step_and_redo_forward_until_something_new_is_done() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    for title in ["Two", "Three"] {
        edit(&w.app, &wren, idea, set(rev_of(&w.app, &wren, idea).unwrap(), json!({ "title": title }))).unwrap();
    }
    let title = || decide::ideas(&w.app, &wren, w.product).unwrap().first().map(|idea| idea.idea.title.clone());
    for expected in [Some("Two"), Some("One"), None] {
        history::undo_last(&w.app, &wren).unwrap();
        assert_eq!(title().as_deref(), expected);
    }
    assert_eq!(history::undo_last(&w.app, &wren).unwrap_err().code(), "nothing-to-undo");
    for expected in ["One", "Two"] {
        history::redo_last(&w.app, &wren).unwrap();
        assert_eq!(title().as_deref(), Some(expected));
    }
    w.idea(&wren, "Another");
    assert_eq!(history::redo_last(&w.app, &wren).unwrap_err().code(), "nothing-to-undo");
    assert_eq!(history::undo_state(&w.app, &wren).unwrap().undo.as_deref(), Some("added I2"));
}

#[test]
fn what_somebody_changed_since_is_not_taken_back() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    let idea = w.idea(&wren, "One");
    let first = edit(&w.app, &wren, idea, set(1, json!({ "title": "Two" }))).unwrap();
    edit(&w.app, &tamar, idea, set(2, json!({ "title": "Three" }))).unwrap();
    let refused = history::undo_last(&w.app, &wren).unwrap_err();
    assert_eq!(refused.code(), "changed-since");
    assert!(refused.detail().contains("I1"), "{refused}");
    // Once the other change is gone, the first one can go too: the content counts, not the revision.
    history::undo_last(&w.app, &tamar).unwrap();
    history::undo_set(&w.app, &wren, first.change.unwrap()).unwrap();
    assert_eq!(decide::ideas(&w.app, &wren, w.product).unwrap()[0].idea.title, "One");
}

#[test]
fn what_others_built_on_is_not_taken_back() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    let (one, two) = (w.story(&wren, "One"), w.story(&wren, "Two"));
    link(&w.app, &tamar, LinkEnds { kind: LinkKind::NeededBy, from: one, to: two }).unwrap();
    let refused = history::undo_last(&w.app, &wren).unwrap_err();
    assert_eq!(refused.code(), "in-use");
    assert!(refused.detail().contains("S2"), "{refused}");
}

#[test]
fn a_removal_comes_back_with_all_that_hung_on_it() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let (one, two) = (w.story(&wren, "One"), w.story(&wren, "Two"));
    iron_kite_ops::specify::add_criterion(&w.app, &wren, 1.into(), "Given one, then two").unwrap();
    link(&w.app, &wren, LinkEnds { kind: LinkKind::NeededBy, from: one, to: two }).unwrap();
    let board = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    let removed = remove(&w.app, &wren, one, 1).unwrap();
    let less = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    assert_eq!((less.stories.len(), less.stories[0].needs.len()), (1, 0));
    history::undo_set(&w.app, &wren, removed.change.unwrap()).unwrap();
    let again = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    assert_eq!(again.stories[0].criteria[0].words, board.stories[0].criteria[0].words);
    assert_eq!(again.stories[1].needs, board.stories[1].needs);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn a_stale_edit_gets_the_present_values_and_changes_nothing() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    edit(&w.app, &wren, idea, set(1, json!({ "title": "Two" }))).unwrap();
    match edit(&w.app, &wren, idea, set(1, json!({ "title": "Three" }))).unwrap_err() {
        Problem::Stale { present } => {
            assert_eq!((&present["title"], &present["rev"]), (&json!("Two"), &json!(2)));
        }
        other => panic!("{other}"),
    }
    let lines = history::history(&w.app, &wren, idea).unwrap();
    assert_eq!(lines.iter().map(|l| l.label.as_str()).collect::<Vec<_>>(), ["changed title of I1", "added I1"]);
    assert_eq!(lines[0].who.as_deref(), Some("editor"));
}

#[test]
fn a_contributor_takes_back_only_what_is_the_contributors_own() {
    let w = workspace();
    let (tamar, joss) = (w.person(Role::Editor), w.person(Role::Contributor));
    let saved = edit(&w.app, &tamar, w.idea(&tamar, "One"), set(1, json!({ "title": "Two" }))).unwrap();
    let refused = history::undo_set(&w.app, &joss, saved.change.unwrap()).unwrap_err();
    assert_eq!(refused, Problem::NotAllowed { needs: "editor" });
    w.bring(&joss, VOICES);
    history::undo_last(&w.app, &joss).unwrap();
    assert_eq!(items(&w), 0);
}

#[test]
fn an_edit_that_changes_nothing_leaves_no_trace() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    assert_eq!(edit(&w.app, &wren, idea, set(1, json!({ "title": " One " }))).unwrap().change, None);
    assert_eq!(history::history(&w.app, &wren, Thing::new(ThingKind::Idea, 1)).unwrap().len(), 1);
}
