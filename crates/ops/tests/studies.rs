//! Studies: what is said in them is theirs, who says it takes part, and what is asked is no evidence.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeMap;

use crate::common::{Workspace, command, thing, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::NoteLine;
use iron_kite_core::things::{StudyId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::listen::{self, AtOnce, NewConversation};
use iron_kite_ops::things::{LinkEnds, link};
use iron_kite_ops::{history, trace};
use serde_json::{Value, json};

fn study(w: &Workspace) -> StudyId {
    let template = listen::study_templates(&w.app, &command()).unwrap().remove(0).template;
    let set = json!({ "title": "Winter commuters", "guide": template.guide });
    StudyId(w.add(&command(), Collection::Study, &set).id)
}

fn line(speaker: &str, words: &str) -> NoteLine {
    NoteLine { speaker: Some(speaker.into()), words: words.into(), tags: vec!["late".into()], ..NoteLine::default() }
}

fn talk(study: StudyId, lines: Vec<NoteLine>) -> NewConversation {
    NewConversation { study, person: Some("Maud Arkell".into()), account: None, said_on: None, lines }
}

#[test]
fn a_conversation_is_an_item_of_its_study_and_one_step_takes_it_back() {
    let w = workspace();
    let study = study(&w);
    assert_eq!(listen::study(&w.app, &command(), study).unwrap().questions.len(), 13);
    let lines = vec![
        line("Wren", "How do you cross in winter?"),
        line("Maud", "With the early boat, if it goes. Last week it was cancelled three times."),
        line("Wren", "And how do you learn of it?"),
        line("Maud", "I stand on the pier and nobody tells me anything."),
    ];
    let saved = listen::keep_conversation(&w.app, &command(), talk(study, lines.clone())).unwrap();
    let seen = || w.rows(Collection::Study, &["state", "item_count", "participants"]);
    assert_eq!(seen()[0][..2], [json!("under_way"), json!(1)]);
    assert_eq!(seen()[0][2][0]["label"], "Maud Arkell");
    let items = w.rows(Collection::FeedbackItem, &["study_id", "tags", "person"]);
    assert_eq!(items[0][0][0]["label"], "Winter commuters");
    assert_eq!((&items[0][1], &items[0][2][0]["label"]), (&json!("late"), &json!("Maud Arkell")));
    // A question is no evidence.
    let words = w.rows(Collection::Excerpt, &["words"]);
    let words: Vec<&str> = words.iter().filter_map(|row| row[0].as_str()).collect();
    assert!(words.len() >= 3 && words.iter().all(|words| !words.contains('?')), "{words:?}");
    // The line runs from the study to the words and back.
    let down = trace::trace(&w.app, &command(), study.thing()).unwrap();
    assert!(down.became.iter().any(|group| group.sort == "feedback_item" && group.count == 1));
    let up = trace::trace(&w.app, &command(), saved.thing.unwrap()).unwrap();
    assert_eq!(up.why[0].lines[0].title, "Winter commuters");
    // The same once more is not kept twice.
    let again = listen::keep_conversation(&w.app, &command(), talk(study, lines)).unwrap_err();
    assert_eq!(again.code(), "said-already");
    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(seen()[0], [json!("planned"), json!(0), Value::Null]);
    assert_eq!(w.rows(Collection::FeedbackItem, &["text"]), Vec::<Vec<Value>>::new());
}

#[test]
fn a_recording_is_brought_in_for_a_study() {
    let w = workspace();
    let study = study(&w);
    let file = "WEBVTT\n\n00:01.000 --> 00:02.000\n<v Wren>Where do you wait, and for how long?\n\n\
                00:03.000 --> 00:09.000\n<v Piet Haverlock>In the lane, an hour or more, every Monday morning.\n";
    let options = AtOnce { study: Some(study), ..AtOnce::default() };
    let bring = |options: AtOnce| {
        listen::bring_in_file(&w.app, &command(), w.product, "talk.vtt", file.as_bytes(), &BTreeMap::new(), &options)
    };
    let (saved, _) = bring(options.clone()).unwrap();
    assert!(saved.change.is_some());
    let seen = w.rows(Collection::Study, &["item_count", "participants"]);
    assert_eq!((&seen[0][0], &seen[0][1][0]["label"]), (&json!(1), &json!("Piet Haverlock")));
    assert!(bring(AtOnce { study: Some(StudyId(99)), ..options }).is_err());
}

#[test]
fn what_cannot_be_kept_is_named() {
    let w = workspace();
    let study = study(&w);
    let keep = |new| listen::keep_conversation(&w.app, &command(), new).unwrap_err().to_string();
    assert!(keep(talk(study, vec![])).contains("at least one line"));
    assert!(keep(NewConversation { said_on: Some("soon".into()), ..talk(study, vec![]) }).contains("2026-03-31"));
    assert!(listen::keep_conversation(&w.app, &command(), talk(StudyId(77), vec![line("A", "b")])).is_err());
}

#[test]
fn a_study_informs_what_it_is_linked_to_and_stays_when_its_feedback_goes() {
    let w = workspace();
    let study = study(&w);
    let idea = w.idea(&command(), "Tell them on the pier");
    link(&w.app, &command(), LinkEnds { kind: LinkKind::Informs, from: study.thing(), to: idea }).unwrap();
    let up = trace::trace(&w.app, &command(), idea).unwrap();
    assert_eq!(up.why.iter().map(|group| group.sort.as_str()).collect::<Vec<_>>(), ["study"]);
    let person = thing(ThingKind::Person, 1);
    assert!(link(&w.app, &command(), LinkEnds { kind: LinkKind::Informs, from: study.thing(), to: person }).is_err());
}
