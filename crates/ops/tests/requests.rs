//! What customers ask for by a form: taken in once, recognised, put behind an idea, and told to the sender.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::subjects::sound;
use crate::common::{Workspace, command, made, workspace};
use iron_kite_core::decide::{Outcome, RequestState, TRAP};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::Columns;
use iron_kite_core::role::Role;
use iron_kite_core::things::{FormId, IdeaId, RequestId, ThingKind};
use iron_kite_ops::decide::{self, DecisionInput, FilledForm, FormChange, NewForm, RequestBehind};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{Call, history, listen, trace};
use serde_json::{Value, json};

fn form(w: &Workspace, open: bool) -> (FormId, String) {
    let new = NewForm { product_id: w.product, title: "Ask for something".into() };
    let id = FormId(made(&decide::add_form(&w.app, &command(), new).unwrap()).id);
    let view = decide::form(&w.app, &command(), id).unwrap();
    assert!(!view.open, "nobody outside can fill it in before somebody says so");
    let change = FormChange { rev: view.rev, fields: view.fields, open };
    decide::change_form(&w.app, &command(), id, change).unwrap();
    (id, view.key)
}

fn nobody() -> Call {
    Call { actor: None, ..command() }
}

fn filled(pairs: &[(&str, &str)]) -> FilledForm {
    FilledForm { answers: pairs.iter().map(|(key, answer)| ((*key).to_owned(), (*answer).to_owned())).collect() }
}

fn send(w: &Workspace, key: &str, pairs: &[(&str, &str)]) -> String {
    decide::send_form(&w.app, &nobody(), key, &filled(pairs)).unwrap().key
}

fn code<T: std::fmt::Debug>(result: Result<T, iron_kite_core::problem::Problem>) -> &'static str {
    result.unwrap_err().code()
}

#[test]
fn a_closed_form_is_for_those_who_may_bring_something_in_and_an_open_one_for_its_link() {
    let w = workspace();
    let (id, key) = form(&w, false);
    assert_eq!(code(decide::form_to_fill(&w.app, &nobody(), &key)), "not-found");
    let words = filled(&[("words", "The deck was full.")]);
    assert_eq!(code(decide::send_form(&w.app, &nobody(), &key, &words)), "not-found");
    let (vik, joss) = (w.person(Role::Viewer), w.person(Role::Contributor));
    assert_eq!(code(decide::form_to_fill(&w.app, &vik, &key)), "not-found");
    assert_eq!(code(decide::send_form(&w.app, &vik, &key, &words)), "not-found");
    decide::send_form(&w.app, &joss, &key, &words).unwrap();
    let view = decide::form(&w.app, &command(), id).unwrap();
    let change = FormChange { rev: view.rev, fields: view.fields, open: true };
    assert_eq!(code(decide::change_form(&w.app, &vik, id, change.clone())), "not-allowed");
    decide::change_form(&w.app, &command(), id, change).unwrap();
    let shown = decide::form_to_fill(&w.app, &nobody(), &key).unwrap();
    assert_eq!((shown.product.as_str(), shown.fields.len()), ("Crossing", 5));
    assert_eq!(code(decide::form_to_fill(&w.app, &nobody(), "0123456789abcdef0123")), "not-found");
}

#[test]
fn what_is_sent_is_kept_once_with_whoever_is_known() {
    let w = workspace();
    let columns = Columns { text: 0, person: Some(1), account: Some(2), address: Some(3), ..Columns::default() };
    let table = "text,who,firm,mail\nLate again.,Ann Lee,Hask Stores,ann@hask.example\nLate.,Bo Tern,Hask Stores,bo@hask.example\n";
    listen::import(&w.app, &command(), w.product, "voices.csv", table.as_bytes(), &columns).unwrap();
    let (_, key) = form(&w, true);
    let sent = send(&w, &key, &[("words", "Tell us early."), ("address", "ANN@hask.example")]);
    let same = filled(&[("words", "Tell us early."), ("address", "ann@hask.example")]);
    assert_eq!(code(decide::send_form(&w.app, &nobody(), &key, &same)), "received-already");
    // Somebody new at the same host belongs to the same organisation, as all who are known there do.
    send(&w, &key, &[("words", "A bell on the quay."), ("name", "Cy Ode"), ("address", "cy@hask.example")]);
    send(&w, &key, &[("words", "Nobody knows me."), ("address", "x@elsewhere.example")]);
    let rows = w.rows(Collection::Request, &["words", "person", "account", "became"]);
    let label = |value: &Value| value[0]["label"].as_str().map(str::to_owned);
    let told: Vec<_> = rows.iter().map(|row| (label(&row[1]), label(&row[2]))).collect();
    let named = |person: &str, account: Option<&str>| (Some(person.to_owned()), account.map(str::to_owned));
    assert_eq!(told[0], named("Ann Lee", Some("Hask Stores")));
    assert_eq!(told[1], named("Cy Ode", Some("Hask Stores")));
    assert_eq!(told[2].1, None);
    assert_eq!(rows.len(), 3, "nothing is stored twice");
    assert!(rows.iter().all(|row| row[3] == "received"));
    assert_eq!(decide::sent(&w.app, &sent).unwrap().words, "Tell us early.");
    assert_eq!(code(decide::sent(&w.app, &sent.replace(|c: char| c.is_ascii_digit(), "a"))), "not-found");
    sound(&w);
}

#[test]
fn what_a_program_or_nobody_would_write_is_refused_and_leaves_nothing() {
    let w = workspace();
    let (_, key) = form(&w, true);
    let long = "x".repeat(5_001);
    let tried: [(&[(&str, &str)], &str); 5] = [
        (&[("words", "Buy this"), (TRAP, "https://spam.example")], "looks-automatic"),
        (&[("words", "  ")], "invalid"),
        (&[("words", &long)], "invalid"),
        (&[("words", "ok"), ("address", "no address")], "invalid"),
        (&[("words", "a\u{0}b")], "invalid"),
    ];
    for (pairs, expected) in tried {
        assert_eq!(code(decide::send_form(&w.app, &nobody(), &key, &filled(pairs))), expected, "{pairs:?}");
    }
    assert_eq!(w.rows(Collection::FeedbackItem, &["text"]).len(), 0);
    assert_eq!(w.rows(Collection::Request, &["words"]).len(), 0);
}

#[test]
fn a_request_becomes_evidence_in_one_step_and_its_sender_sees_what_became_of_it() {
    let w = workspace();
    let (_, key) = form(&w, true);
    let sent = send(
        &w,
        &key,
        &[("words", "Tell us early that the boat is off. The deck was full, too."), ("name", "Ann Lee")],
    );
    // It says too little to be an excerpt by itself.
    let short = send(&w, &key, &[("words", "Ok.")]);
    let idea = w.idea(&command(), "Warn early");
    let behind = |request: i64, idea_id: Option<IdeaId>| {
        let behind = RequestBehind { idea_id, title: None };
        decide::put_request_behind(&w.app, &command(), RequestId(request), behind).unwrap()
    };
    let saved = behind(1, Some(IdeaId(idea.id)));
    behind(2, Some(IdeaId(idea.id)));
    let told = decide::idea(&w.app, &command(), IdeaId(idea.id)).unwrap();
    assert_eq!((told.picture.voices.people, told.picture.voices.items), (1, 2));
    let why = trace::trace(&w.app, &command(), idea).unwrap().why;
    assert!(why.iter().any(|group| group.sort == "request" && group.count == 2), "{why:?}");
    let became = |key: &str| decide::sent(&w.app, key).unwrap().became;
    assert_eq!((became(&sent), became(&short)), (RequestState::Weighed, RequestState::Weighed));

    // The list says the same as core in each state.
    let decided = |outcome: Outcome| {
        let rev = things::rev_of(&w.app, &command(), idea).unwrap();
        let input = DecisionInput { rev, outcome, reason: "Because".into(), look_again_on: None };
        decide::decide(&w.app, &command(), IdeaId(idea.id), input).unwrap();
    };
    for (outcome, expected) in [(Outcome::Chosen, RequestState::Planned), (Outcome::SetAside, RequestState::Declined)] {
        decided(outcome);
        assert_eq!(became(&sent), expected);
        assert_eq!(w.rows(Collection::Request, &["became"])[0][0], json!(expected.name()));
    }
    let request = RequestId(1).thing();
    let rev = things::rev_of(&w.app, &command(), request).unwrap();
    let set = json!({ "state": "done", "reply": "It is out.\n<b>Look</b>" });
    things::edit(&w.app, &command(), request, Edit { rev, set: crate::common::fields(&set) }).unwrap();
    let view = decide::sent(&w.app, &sent).unwrap();
    assert_eq!((view.became, view.reply.as_deref()), (RequestState::Done, Some("It is out.\n<b>Look</b>")));
    assert_eq!(w.rows(Collection::Request, &["became", "ideas"])[0][0], json!("done"));

    // A new idea is called by its first words, and undoing the step takes it away again.
    let made = behind(1, None);
    assert_eq!(
        w.rows(Collection::Idea, &["title"])[1][0],
        "Tell us early that the boat is off. The deck was full, too."
    );
    history::undo_set(&w.app, &command(), made.change.unwrap()).unwrap();
    assert_eq!(w.rows(Collection::Idea, &["title"]).len(), 1);
    assert!(saved.label.contains("behind I1"), "{}", saved.label);
    sound(&w);
}

#[test]
fn erasing_somebody_takes_their_requests_along() {
    let w = workspace();
    let (_, key) = form(&w, true);
    let sent = send(&w, &key, &[("words", "Ann Lee waits on the pier."), ("name", "Ann Lee")]);
    send(&w, &key, &[("words", "So do I."), ("name", "Bo Tern")]);
    let person = w.rows(Collection::Person, &["name"]).iter().position(|row| row[0] == "Ann Lee").unwrap();
    let id = i64::try_from(person).unwrap() + 1;
    listen::erase_person(&w.app, &command(), id.into(), listen::Erase::default()).unwrap();
    assert_eq!(w.rows(Collection::Request, &["words"]), [[json!("So do I.")]]);
    assert_eq!(code(decide::sent(&w.app, &sent)), "not-found");
    assert!(
        history::history(&w.app, &command(), iron_kite_core::things::Thing::new(ThingKind::Request, 1))
            .unwrap()
            .is_empty()
    );
    sound(&w);
}
