//! Comments on things and on words of their texts.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, bring_whole, command, fields, whole_file, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::role::Role;
use iron_kite_core::things::{CommentId, Thing, ThingKind};
use iron_kite_ops::talk::{
    ChosenPassage, CommentEdit, NewComment, PassageView, Resolve, add_comment, edit_comment, remove_comment,
    resolve_comment, talk,
};
use iron_kite_ops::things::{Edit, edit, remove, rev_of};
use iron_kite_ops::{Call, history};
use serde_json::json;

const TEXT: &str = "We sail at noon. The gangway is steep at low tide, and wet. Mind the gangway.";

fn comment(on: Thing, body: &str) -> NewComment {
    NewComment { on, reply_to: None, body: body.into(), passage: None }
}

fn said(w: &Workspace, by: &Call, new: NewComment) -> CommentId {
    CommentId(add_comment(&w.app, by, new).unwrap().thing.unwrap().id)
}

/// A page with this text.
fn page(w: &Workspace, by: &Call, text: &str) -> Thing {
    w.add(by, Collection::Page, &json!({ "title": "Gangway", "body": text }))
}

fn on_words(w: &Workspace, by: &Call, page: Thing, words: &str) -> CommentId {
    let body = w.rows(Collection::Page, &["body"])[0][0].as_str().unwrap().to_owned();
    let from = body[..body.find(words).unwrap()].chars().count();
    let rev = rev_of(&w.app, by, page).unwrap();
    let passage = ChosenPassage { field: "body".into(), rev, from, to: from + words.chars().count() };
    said(w, by, NewComment { passage: Some(passage), ..comment(page, "How steep?") })
}

fn write(w: &Workspace, by: &Call, page: Thing, text: &str) -> i64 {
    let rev = rev_of(&w.app, by, page).unwrap();
    edit(&w.app, by, page, Edit { rev, set: fields(&json!({ "body": text })) }).unwrap().change.unwrap()
}

fn place(w: &Workspace, page: Thing) -> PassageView {
    talk(&w.app, &command(), page).unwrap().comments[0].passage.clone().unwrap()
}

fn words(w: &Workspace, page: Thing) -> Option<String> {
    let body = w.rows(Collection::Page, &["body"])[0][0].as_str().unwrap().to_owned();
    let place = place(w, page);
    Some(body.chars().skip(place.from?).take(place.to? - place.from?).collect())
}

#[test]
fn a_comment_is_answered_changed_and_dealt_with_by_those_who_may() {
    let w = workspace();
    let (wren, joss, vik) = (w.person(Role::Editor), w.person(Role::Contributor), w.person(Role::Viewer));
    let idea = w.idea(&wren, "Quiet cabin");
    let id = said(&w, &joss, comment(idea, " Who asked for this? "));
    let answer = NewComment { reply_to: Some(id), ..comment(idea, "Commuters.") };
    let answer_id = said(&w, &wren, answer);
    assert_eq!(add_comment(&w.app, &vik, comment(idea, "I too")).unwrap_err().code(), "not-allowed");
    let nested = NewComment { reply_to: Some(answer_id), ..comment(idea, "x") };
    assert_eq!(add_comment(&w.app, &joss, nested).unwrap_err().code(), "invalid");

    let change = |by, rev, body: &str| edit_comment(&w.app, by, id, CommentEdit { rev, body: body.into() });
    assert_eq!(change(&wren, 1, "Other words").unwrap_err().code(), "not-yours");
    change(&joss, 1, "Who asked for this, and when?").unwrap();
    assert_eq!(change(&joss, 1, "late").unwrap_err().code(), "stale");
    resolve_comment(&w.app, &wren, id, Resolve { rev: 2, resolved: true }).unwrap();
    assert_eq!(
        resolve_comment(&w.app, &wren, answer_id, Resolve { rev: 1, resolved: true }).unwrap_err().code(),
        "an-answer"
    );

    let seen = talk(&w.app, &joss, idea).unwrap();
    let one = &seen.comments[0];
    assert_eq!((one.body.as_str(), one.mine, one.answers[0].mine), ("Who asked for this, and when?", true, false));
    assert_eq!((one.resolved_by.as_deref(), one.answers[0].by.as_str()), (Some("editor"), "editor"));
    assert!(seen.follows && one.edited_at.is_some());
    assert!(!talk(&w.app, &vik, idea).unwrap().follows);

    assert_eq!(remove_comment(&w.app, &joss, answer_id, 1).unwrap_err().code(), "not-yours");
    let removed = remove_comment(&w.app, &joss, id, 3).unwrap();
    assert_eq!(talk(&w.app, &joss, idea).unwrap().comments, []);
    history::undo_set(&w.app, &joss, removed.change.unwrap()).unwrap();
    assert_eq!(talk(&w.app, &joss, idea).unwrap().comments[0].answers.len(), 1);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn a_comment_stays_with_its_words_through_edits_undo_and_a_whole_workspace() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let page = page(&w, &wren, TEXT);
    on_words(&w, &wren, page, "steep at low tide");
    write(&w, &wren, page, &TEXT.replace("We sail", "In summer, we sail").replace("Mind", "Please mind"));
    assert_eq!(words(&w, page).as_deref(), Some("steep at low tide"));
    let gone = write(&w, &wren, page, "Mind the gangway.");
    assert_eq!((place(&w, page).from, place(&w, page).words.as_str()), (None, "steep at low tide"));
    // What was lost is found again where the text comes back.
    history::undo_set(&w.app, &wren, gone).unwrap();
    assert_eq!(words(&w, page).as_deref(), Some("steep at low tide"));

    let tamar = w.person(Role::Editor).actor.unwrap().user_id.unwrap();
    said(&w, &wren, comment(page, &format!("[T](person:{tamar}), look.")));
    let other = tempfile::tempdir().unwrap();
    let app = iron_kite_ops::App::open(other.path()).unwrap();
    bring_whole(&app, whole_file(&w.app)).unwrap();
    // What was said there is news to nobody here.
    iron_kite_ops::afterwards::catch_up(&app, &command()).unwrap();
    assert_eq!(iron_kite_ops::notice::outbox(&app, &command()).unwrap(), []);
    let there = talk(&app, &command(), page).unwrap().comments[0].passage.clone().unwrap();
    assert_eq!(there, place(&w, page));
    assert!(iron_kite_store::verify(other.path()).unwrap().faults.is_empty());
}

#[test]
fn a_removed_comment_comes_back_to_where_its_words_stand_by_then() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let page = page(&w, &wren, TEXT);
    let id = on_words(&w, &wren, page, "steep at low tide");
    let removed = remove_comment(&w.app, &wren, id, 1).unwrap().change.unwrap();
    write(&w, &wren, page, &format!("Read this first, please. {TEXT}"));
    history::undo_set(&w.app, &wren, removed).unwrap();
    assert_eq!(words(&w, page).as_deref(), Some("steep at low tide"));
}

#[test]
fn words_of_an_excerpt_stay_when_the_excerpt_is_given_other_words() {
    let w = workspace();
    let joss = w.person(Role::Contributor);
    w.bring(&joss, "text,who\nThe gangway is steep at low tide and the crew is kind to everybody.,Ann\n");
    let excerpt = Thing::new(ThingKind::Excerpt, 1);
    let passage = ChosenPassage { field: "text".into(), rev: 1, from: 4, to: 11 };
    said(&w, &joss, NewComment { passage: Some(passage.clone()), ..comment(excerpt, "Which one?") });
    let stale = ChosenPassage { rev: 9, ..passage };
    let refused = add_comment(&w.app, &joss, NewComment { passage: Some(stale), ..comment(excerpt, "x") });
    assert_eq!(refused.unwrap_err().code(), "stale");
    let chosen = iron_kite_ops::listen::ChosenWords { rev: 1, from: 0, to: 16, becomes: Some(1.into()) };
    iron_kite_ops::listen::choose_words(&w.app, &joss, 1.into(), chosen).unwrap();
    let place = talk(&w.app, &joss, excerpt).unwrap().comments[0].passage.clone().unwrap();
    assert_eq!((place.words.as_str(), place.from, place.to), ("gangway", Some(4), Some(11)));
}

#[test]
fn what_is_said_goes_with_its_thing_and_keeps_the_thing_from_being_unmade() {
    let w = workspace();
    let (wren, joss) = (w.person(Role::Editor), w.person(Role::Contributor));
    let idea = w.idea(&wren, "Quiet cabin");
    said(&w, &joss, comment(idea, "Why?"));
    assert_eq!(history::undo_last(&w.app, &wren).unwrap_err().code(), "in-use");
    let removed = remove(&w.app, &wren, idea, 1).unwrap();
    assert_eq!(talk(&w.app, &wren, idea).unwrap_err().code(), "not-found");
    history::undo_set(&w.app, &wren, removed.change.unwrap()).unwrap();
    assert_eq!(talk(&w.app, &wren, idea).unwrap().comments.len(), 1);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}
