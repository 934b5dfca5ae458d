//! The sound of a conversation stands beside its words, and goes with whoever spoke.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeMap;

use crate::common::{Workspace, command, whole, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::role::Role;
use iron_kite_core::things::{ItemId, PersonId};
use iron_kite_ops::listen::{self, AtOnce, ItemView, NewQuotes, SetRecording};
use iron_kite_ops::{Saved, attachments, collections, history};
use serde_json::json;

const TALK: &str = "WEBVTT\n\n00:00:01.000 --> 00:00:03.000\n<v Wren>How was the crossing?\n\n\
    00:00:04.000 --> 00:00:09.000\n<v Ebba Lund>The saloon was far too warm for my dog.\n\n\
    00:00:10.000 --> 00:00:12.000\n<v Wren>And the way back?\n\n\
    00:00:13.000 --> 00:00:15.000\n<v Ebba Lund>I stood outside.\n";
const SOUND: &[u8] = b"RIFF\x24\x00\x00\x00WAVEfmt the rest does not matter here";

fn bring(w: &Workspace, name: &str, bytes: &[u8]) -> Saved {
    listen::bring_in_file(&w.app, &command(), w.product, name, bytes, &BTreeMap::new(), &AtOnce::default()).unwrap().0
}

fn first(w: &Workspace) -> ItemView {
    listen::item(&w.app, &command(), ItemId(1)).unwrap()
}

fn recorded(w: &Workspace) -> Option<String> {
    first(w).recorded.map(|file| file.name)
}

fn files(w: &Workspace) -> usize {
    let all = whole(&w.app);
    all["tables"]["attachment"].as_array().unwrap().len()
}

#[test]
fn a_recording_of_the_same_name_comes_beside_the_words() {
    let w = workspace();
    bring(&w, "visit-3.vtt", TALK.as_bytes());
    bring(&w, "visit-4.wav", SOUND);
    assert_eq!(recorded(&w), None);
    let saved = bring(&w, "visit-3.WAV", SOUND);
    assert_eq!(recorded(&w).as_deref(), Some("visit-3.WAV"));
    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(recorded(&w), None);
}

#[test]
fn a_recording_is_put_beside_by_hand_and_taken_away() {
    let w = workspace();
    bring(&w, "visit-3.vtt", TALK.as_bytes());
    let joss = w.person(Role::Contributor);
    let set = |recording| {
        let set = SetRecording { rev: first(&w).item.rev, recording };
        listen::set_recording(&w.app, &joss, ItemId(1), set).map_err(|problem| problem.code())
    };
    let sound = attachments::put_in(&w.app, &joss, "talk.wav", SOUND.to_vec()).unwrap();
    assert_eq!(sound.media_type, "audio/wav");
    set(Some(sound.id)).unwrap();
    assert_eq!(recorded(&w).as_deref(), Some("talk.wav"));
    set(None).unwrap();
    assert_eq!(recorded(&w), None);
    let words = attachments::put_in(&w.app, &joss, "talk.txt", b"words".to_vec()).unwrap();
    assert_eq!(set(Some(words.id)).unwrap_err(), "invalid");
    assert_eq!(set(Some(99)).unwrap_err(), "not-found");
}

#[test]
fn a_part_of_a_file_is_just_that_part() {
    let w = workspace();
    let file = attachments::put_in(&w.app, &command(), "talk.wav", SOUND.to_vec()).unwrap();
    let (head, length) = attachments::head(&w.app, &command(), file.id).unwrap();
    assert_eq!((head, length), (file.clone(), SOUND.len()));
    let part = |from, length| attachments::part(&w.app, &command(), file.id, from, length).unwrap();
    assert_eq!(part(8, 4), b"WAVE");
    assert_eq!(part(SOUND.len() - 4, 100), b"here");
    assert_eq!(part(SOUND.len() + 4, 100), b"");
}

#[test]
fn voice_and_quotes_go_with_the_person() {
    let w = workspace();
    bring(&w, "visit-3.vtt", TALK.as_bytes());
    bring(&w, "visit-3.wav", SOUND);
    bring(&w, "other.csv", b"text,who\nThe saloon was far too warm for my dog.,Ann Ferrier\n");
    let page = w.add(&command(), Collection::Page, &json!({ "title": "Dogs", "body": "What we know." }));
    let excerpts = vec![first(&w).parts[0].excerpt.id];
    listen::send_quotes(&w.app, &command(), NewQuotes { excerpts, to: page }).unwrap();
    let body = |w: &Workspace| w.rows(Collection::Page, &["body"])[0][0].as_str().unwrap().to_owned();
    assert!(body(&w).contains("> The saloon was far too warm for my dog.\n"), "{}", body(&w));
    // Somebody writes on, so that the quote is in the history, too.
    let rest = json!({ "product": w.product, "query": { "fields": ["body"] } });
    let row = &collections::rows(&w.app, &command(), Collection::Page, &serde_json::from_value(rest).unwrap())
        .unwrap()
        .rows[0];
    let edit =
        iron_kite_ops::things::Edit { rev: row.rev, set: crate::common::fields(&json!({ "title": "Dogs on board" })) };
    iron_kite_ops::things::edit(&w.app, &command(), page, edit).unwrap();
    assert_eq!(files(&w), 1);
    let people = w.rows(Collection::Person, &["name"]);
    let ebba = people.iter().position(|row| row[0] == "Ebba Lund").unwrap() + 1;
    listen::erase_person(&w.app, &command(), PersonId(i64::try_from(ebba).unwrap()), listen::Erase::default()).unwrap();
    assert_eq!(files(&w), 0);
    assert!(body(&w).starts_with("What we know.\n\n> "), "{}", body(&w));
    let left = whole(&w.app).to_string();
    assert!(!left.contains("Ebba"), "no name");
    // Whoever said the same keeps it, once in the row and once in the ledger.
    assert_eq!(left.matches("far too warm for my dog").count(), 2, "{left}");
    assert_eq!(iron_kite_store::verify(w.dir.path()).unwrap().faults, Vec::<String>::new());
}
