//! What customers ask for by a form: taken in once, recognised, put behind an idea, and told to the sender.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::Arc;

use crate::common::subjects::sound;
use crate::common::{Letters, Workspace, command, made, workspace};
use iron_kite_core::decide::{Outcome, RequestState, TRAP};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::Columns;
use iron_kite_core::role::Role;
use iron_kite_core::things::{FormId, IdeaId, RequestId, Thing, ThingKind};
use iron_kite_ops::decide::{
    self, ConfirmSender, DecisionInput, FilledForm, FormChange, NewForm, RequestBehind, WasItYou,
};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{Call, history, listen, notice, trace};
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

/// Two people of an account that pays, who are known by name and address.
fn known() -> Workspace {
    let w = workspace();
    let columns = Columns { text: 0, person: Some(1), account: Some(2), address: Some(3), ..Columns::default() };
    let table = "text,who,firm,mail\nLate again.,Ann Lee,Hask Stores,ann@hask.example\nLate.,Bo Tern,Hask Stores,bo@hask.example\n";
    listen::import(&w.app, &command(), w.product, "voices.csv", table.as_bytes(), &columns).unwrap();
    let account = Thing::new(ThingKind::Account, 1);
    let set = crate::common::fields(&json!({ "yearly_revenue": 90_000 }));
    things::edit(&w.app, &command(), account, Edit { rev: 1, set }).unwrap();
    w
}

/// Person, account, revenue and proof of each request.
fn senders(w: &Workspace) -> Vec<(String, String, Value, String)> {
    let label = |value: &Value| value[0]["label"].as_str().unwrap_or("-").to_owned();
    let rows = w.rows(Collection::Request, &["person", "account", "revenue", "proof"]);
    let told =
        |row: &Vec<Value>| (label(&row[0]), label(&row[1]), row[2].clone(), row[3].as_str().unwrap_or("-").into());
    rows.iter().map(told).collect()
}

fn told(person: &str, account: &str, revenue: Value, proof: &str) -> (String, String, Value, String) {
    (person.into(), account.into(), revenue, proof.into())
}

#[test]
fn what_is_sent_is_kept_once_and_colleagues_are_believed_who_it_is_from() {
    let w = known();
    let (_, key) = form(&w, true);
    let joss = w.person(Role::Contributor);
    let by_joss = |pairs: &[(&str, &str)]| decide::send_form(&w.app, &joss, &key, &filled(pairs));
    let sent = by_joss(&[("words", "Tell us early."), ("address", "ANN@hask.example")]).unwrap().key;
    let same = [("words", "Tell us early."), ("address", "ann@hask.example")];
    assert_eq!(code(by_joss(&same)), "received-already");
    assert_eq!(code(decide::send_form(&w.app, &nobody(), &key, &filled(&same))), "received-already");
    // Somebody new at the same host belongs to the same organisation, as all who are known there do.
    by_joss(&[("words", "A bell on the quay."), ("name", "Cy Ode"), ("address", "cy@hask.example")]).unwrap();
    by_joss(&[("words", "Nobody knows me."), ("address", "x@elsewhere.example")]).unwrap();
    assert_eq!(
        senders(&w),
        [
            told("Ann Lee", "Hask Stores", json!(90_000), "-"),
            told("Cy Ode", "Hask Stores", json!(90_000), "-"),
            told("x@elsewhere.example", "-", json!(null), "-"),
        ]
    );
    assert!(w.rows(Collection::Request, &["became"]).iter().all(|row| row[0] == "received"));
    assert_eq!(decide::sent(&w.app, &sent).unwrap().words, "Tell us early.");
    assert_eq!(code(decide::sent(&w.app, &sent.replace(|c: char| c.is_ascii_digit(), "a"))), "not-found");
    sound(&w);
}

#[test]
fn what_outsiders_say_of_themselves_counts_for_nobody_until_somebody_confirms_it() {
    let w = known();
    let (_, key) = form(&w, true);
    let vik = w.person(Role::Viewer);
    let claimed = [("name", "Ann Lee"), ("address", "ann@hask.example"), ("account", "Hask Stores")];
    let said = |words: &'static str| [&[("words", words)], &claimed[..]].concat();
    send(&w, &key, &said("Tell us early."));
    decide::send_form(&w.app, &vik, &key, &filled(&said("I only look."))).unwrap();
    send(&w, &key, &[("words", "No name."), ("address", "new@hask.example")]);
    send(&w, &key, &[("words", "Nothing said of me.")]);
    let unproved = || told("-", "-", json!(null), "unproved");
    assert_eq!(senders(&w), [unproved(), unproved(), unproved(), told("-", "-", json!(null), "-")]);
    let account = w.rows(Collection::Account, &["name", "item_count"]);
    assert_eq!(account, [[json!("Hask Stores"), json!(2)]]);
    assert_eq!(w.rows(Collection::Person, &["name"]).len(), 2, "no person is made of a word");
    assert_eq!(w.rows(Collection::Request, &["sender"])[0][0], "Ann Lee, ann@hask.example, Hask Stores");
    let idea = w.idea(&command(), "Warn early");
    let behind = RequestBehind { idea_id: Some(IdeaId(idea.id)), title: None };
    decide::put_request_behind(&w.app, &command(), RequestId(1), behind).unwrap();
    let picture = || {
        let row = w.rows(Collection::Idea, &["people", "accounts", "revenue"]);
        row[0].iter().map(|value| value.as_i64().unwrap_or_default()).collect::<Vec<_>>()
    };
    assert_eq!(picture(), [0, 0, 0]);

    let confirm = |call: &Call, id: i64| {
        let rev = things::rev_of(&w.app, &command(), RequestId(id).thing()).unwrap();
        decide::confirm_sender(&w.app, call, RequestId(id), ConfirmSender { rev })
    };
    assert_eq!(code(confirm(&w.person(Role::Contributor), 1)), "not-allowed");
    let done = confirm(&w.person(Role::Editor), 1).unwrap();
    assert_eq!(senders(&w)[0], told("Ann Lee", "Hask Stores", json!(90_000), "confirmed"));
    assert_eq!(picture(), [1, 1, 90_000]);
    assert_eq!(code(confirm(&command(), 1)), "nothing-to-confirm");
    assert_eq!(code(confirm(&command(), 4)), "nothing-to-confirm");
    confirm(&command(), 3).unwrap();
    assert_eq!(senders(&w)[2], told("new@hask.example", "Hask Stores", json!(90_000), "confirmed"));
    history::undo_set(&w.app, &command(), done.change.unwrap()).unwrap();
    assert_eq!((senders(&w)[0].clone(), picture()), (unproved(), vec![0, 0, 0]));
    let stale = ConfirmSender { rev: 99 };
    assert_eq!(code(decide::confirm_sender(&w.app, &command(), RequestId(1), stale)), "stale");
    sound(&w);
}

#[test]
fn an_address_proves_itself_by_a_letter_and_a_name_proves_nothing() {
    let mut w = known();
    let letters = Arc::default();
    w.app = w.app.with_outside(Box::new(Letters(Arc::clone(&letters))));
    let (_, key) = form(&w, true);
    let claims =
        |words, name, address| [("words", words), ("name", name), ("address", address), ("account", "Big Bank")];
    send(&w, &key, &claims("Tell us early.", "Ann Lee", "bo@hask.example"));
    send(&w, &key, &claims("A bell.", "Ann Lee", "mallory@elsewhere.example"));
    // The same address is not asked again on the same day, in whatever case it is written.
    send(&w, &key, &claims("A horn.", "Bo", "BO@hask.example"));
    notice::send_due(&w.app, &command()).unwrap();
    let written = letters.lock().unwrap().clone();
    let to: Vec<_> = written.iter().map(|letter| letter.to_address.as_str()).collect();
    assert_eq!(to, ["bo@hask.example", "mallory@elsewhere.example"]);
    for letter in &written {
        let all = format!("{} {} {}", letter.subject, letter.body, letter.to_name);
        for of_the_sender in ["Tell us", "A bell", "Ann Lee", "Big Bank"] {
            assert!(!all.contains(of_the_sender), "{all}");
        }
    }
    let key_of = |n: usize| written[n].path.strip_prefix("/was-it-you/").unwrap().to_owned();
    assert_eq!(decide::was_it_you(&w.app, &key_of(0)).unwrap(), WasItYou { product: "Crossing".into(), proved: false });
    assert_eq!(code(decide::it_was_me(&w.app, &nobody(), "0123")), "not-found");
    for n in [0, 0, 1] {
        assert!(decide::it_was_me(&w.app, &nobody(), &key_of(n)).unwrap().proved);
    }
    assert_eq!(
        senders(&w),
        [
            // Whose the address is counts, and neither the name nor the organisation that came with it.
            told("Bo Tern", "Hask Stores", json!(90_000), "address"),
            told("Ann Lee", "-", json!(null), "address"),
            told("-", "-", json!(null), "unproved"),
        ]
    );
    let people: Vec<_> = w.rows(Collection::Person, &["name", "address"]);
    assert_eq!(people[0], [json!("Ann Lee"), json!("ann@hask.example")]);
    assert_eq!(people[2], [json!("Ann Lee"), json!("mallory@elsewhere.example")], "another of that name");
    // Erased with whoever it was, and so is the letter.
    listen::erase_person(&w.app, &command(), 3.into(), listen::Erase::default()).unwrap();
    let left = notice::outbox(&w.app, &command()).unwrap();
    assert_eq!(left.iter().map(|message| message.to.as_str()).collect::<Vec<_>>(), ["<bo@hask.example>"]);
    assert_eq!(senders(&w).len(), 2);
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
    // Whoever sent them may be anybody.
    assert_eq!((told.picture.voices.people, told.picture.voices.items), (0, 2));
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
    for id in [1, 2] {
        decide::confirm_sender(&w.app, &command(), RequestId(id), ConfirmSender { rev: 1 }).unwrap();
    }
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
