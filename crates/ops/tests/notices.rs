//! Who is told of what, the outbox, and the opening page.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::{Arc, Mutex};

use crate::common::{Letters, Workspace, command, fields, now, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::ChannelKind;
use iron_kite_core::notice::{Attempt, MOST_MESSAGES, MessageState, NoticeSort, Setting};
use iron_kite_core::role::Role;
use iron_kite_core::things::Thing;
use iron_kite_ops::handover::{NewColumn, NewTeam, TeamPeople, add_team, set_team_people};
use iron_kite_ops::notice::{self, Following, NoticeView, ReadNotices};
use iron_kite_ops::opening::{VisitInput, WaitingSort, opening, visit};
use iron_kite_ops::outside::{Fetch, Fetched, Letter, Outside, PagesFound};
use iron_kite_ops::talk::{NewComment, Resolve, add_comment, resolve_comment};
use iron_kite_ops::things::{Edit, edit, rev_of};
use iron_kite_ops::{App, Call, afterwards, history};
use jiff::SignedDuration;
use serde_json::json;

fn say(w: &Workspace, by: &Call, on: Thing, body: &str) -> i64 {
    let new = NewComment { on, reply_to: None, body: body.into(), passage: None };
    add_comment(&w.app, by, new).unwrap().change.unwrap()
}

fn id(call: &Call) -> i64 {
    call.actor.as_ref().unwrap().user_id.unwrap()
}

/// What somebody was told and has not read, newest first.
fn told(w: &Workspace, call: &Call) -> Vec<(NoticeSort, String)> {
    afterwards::catch_up(&w.app, &command()).unwrap();
    let unread = |one: &NoticeView| !one.read;
    let all = notice::notices(&w.app, call).unwrap().notices;
    all.into_iter().filter(unread).map(|one| (one.sort, one.words)).collect()
}

fn set(w: &Workspace, by: &Call, thing: Thing, values: serde_json::Value) -> i64 {
    let rev = rev_of(&w.app, by, thing).unwrap();
    edit(&w.app, by, thing, Edit { rev, set: fields(&values) }).unwrap().change.unwrap()
}

#[test]
fn people_hear_when_they_are_spoken_to_alone_or_as_a_team_and_each_once() {
    let w = workspace();
    let (wren, tamar, joss) = (w.person(Role::Owner), w.person(Role::Editor), w.person(Role::Contributor));
    let columns = vec![NewColumn { title: "To do".into(), state: iron_kite_core::specify::StoryState::HandedOver }];
    let team = add_team(&w.app, &wren, NewTeam { name: "Deck".into(), columns }).unwrap().thing.unwrap();
    set_team_people(&w.app, &wren, team.id.into(), TeamPeople { people: vec![id(&tamar), id(&joss)] }).unwrap();
    let idea = w.idea(&wren, "Quiet cabin");
    let body = format!("[T](person:{}), and all of [Deck](team:{}): look.", id(&tamar), team.id);
    say(&w, &joss, idea, &body);
    assert_eq!(told(&w, &tamar), [(NoticeSort::Mentioned, "said: “@editor, and all of @Deck: look.”".into())]);
    // Whoever speaks hears nothing of it, and who does not follow neither.
    assert_eq!(told(&w, &joss), []);
    assert_eq!(told(&w, &wren), []);
    // Following once told is exactly once: nothing is told again when it is asked again.
    assert_eq!(told(&w, &tamar).len(), 1);
    notice::read_notices(&w.app, &tamar, ReadNotices { ids: vec![] }).unwrap();
    assert_eq!(told(&w, &tamar), []);
}

#[test]
fn who_answers_for_a_thing_hears_of_it_and_of_what_changes_on_it_in_one_notice() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let objective = w.add(
        &wren,
        Collection::Objective,
        &json!({ "title": "Calmer", "measure": "Complaints", "start_value": 40, "target_value": 20 }),
    );
    set(&w, &wren, objective, json!({ "owner_id": id(&tamar) }));
    assert_eq!(told(&w, &tamar), [(NoticeSort::Assigned, "set who answers for it to editor".into())]);
    notice::read_notices(&w.app, &tamar, ReadNotices { ids: vec![] }).unwrap();
    set(&w, &wren, objective, json!({ "target_value": 15 }));
    set(&w, &wren, objective, json!({ "target_value": 10, "unit": "a week" }));
    set(&w, &tamar, objective, json!({ "weight": 2 }));
    assert_eq!(told(&w, &tamar), [(NoticeSort::Followed, "changed target from 15 to 10; set unit to “a week”".into())]);
    assert_eq!(notice::notices(&w.app, &tamar).unwrap().notices[0].times, 2);
    // Who does not want to hear of it any more does not, whatever else they do.
    notice::read_notices(&w.app, &tamar, ReadNotices { ids: vec![] }).unwrap();
    notice::follow(&w.app, &tamar, objective, Following { follows: false }).unwrap();
    say(&w, &tamar, objective, "My last word on it.");
    set(&w, &wren, objective, json!({ "target_value": 5 }));
    assert_eq!(told(&w, &tamar), []);
}

#[test]
fn settings_say_what_is_heard_and_what_is_taken_back_is_not_told() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let idea = w.idea(&wren, "Quiet cabin");
    let only_mail = Setting { sort: NoticeSort::Mentioned, here: false, by_mail: true };
    notice::set_setting(&w.app, &tamar, only_mail).unwrap();
    let body = format!("[T](person:{})?", id(&tamar));
    say(&w, &wren, idea, &body);
    assert_eq!(told(&w, &tamar), []);
    assert_eq!(notice::outbox(&w.app, &wren).unwrap().len(), 1);
    notice::set_setting(&w.app, &tamar, Setting { here: true, by_mail: false, ..only_mail }).unwrap();
    let change = say(&w, &wren, idea, &body);
    assert_eq!(told(&w, &tamar).len(), 1);
    assert_eq!(notice::outbox(&w.app, &wren).unwrap().len(), 1);
    history::undo_set(&w.app, &wren, change).unwrap();
    assert_eq!(told(&w, &tamar), []);
    assert_eq!(notice::outbox(&w.app, &tamar).unwrap_err().code(), "not-allowed");
}

#[test]
fn dealing_with_a_comment_is_heard_by_those_who_follow() {
    let w = workspace();
    let (wren, joss) = (w.person(Role::Owner), w.person(Role::Contributor));
    let idea = w.idea(&wren, "Quiet cabin");
    say(&w, &joss, idea, "Who asked?");
    resolve_comment(&w.app, &wren, 1.into(), Resolve { rev: 1, resolved: true }).unwrap();
    assert_eq!(told(&w, &joss), [(NoticeSort::Followed, "dealt with “Who asked?”".into())]);
}

#[test]
fn one_person_gets_so_many_messages_and_the_last_one_says_so() {
    let w = workspace();
    let (wren, tamar, joss) = (w.person(Role::Owner), w.person(Role::Editor), w.person(Role::Contributor));
    let idea = w.idea(&wren, "Quiet cabin");
    let most = usize::try_from(MOST_MESSAGES.hour).unwrap();
    for n in 0..most + 5 {
        say(&w, &wren, idea, &format!("[T](person:{}), number {n}.", id(&tamar)));
    }
    say(&w, &wren, idea, &format!("[J](person:{})?", id(&joss)));
    assert_eq!(told(&w, &tamar).len(), most + 5, "notices are told all the same");
    let letters = Arc::default();
    let Workspace { app, dir, .. } = w;
    drop(app);
    let app = App::open(dir.path()).unwrap().with_outside(Box::new(Letters(Arc::clone(&letters))));
    notice::send_due(&app, &command()).unwrap();
    let to_tamar: Vec<String> =
        letters.lock().unwrap().iter().map(|one| one.body.clone()).filter(|body| body.contains("number")).collect();
    assert_eq!((to_tamar.len(), letters.lock().unwrap().len()), (most, most + 1));
    let says_so = |body: &String| body.contains("You got many messages lately");
    assert!(says_so(to_tamar.last().unwrap()) && !says_so(&to_tamar[most - 2]), "{to_tamar:?}");
}

/// A way out that answers as it is told to, and remembers what went out.
#[derive(Default)]
struct Line {
    answers: Mutex<Vec<Attempt>>,
    sent: Arc<Mutex<Vec<i64>>>,
}

impl Outside for Line {
    fn fetch(&self, _: &Fetch<'_>) -> Result<Fetched, String> {
        Err(String::new())
    }

    fn search(&self, _: &str) -> Result<PagesFound, String> {
        Err(String::new())
    }

    fn post(&self, letter: &Letter) -> Attempt {
        let answer = self.answers.lock().unwrap().pop().unwrap_or(Attempt::Sent);
        if matches!(answer, Attempt::Sent | Attempt::Unsure(_)) {
            self.sent.lock().unwrap().push(letter.id);
        }
        answer
    }

    fn may(&self, _: ChannelKind, _: &str) -> Result<(), String> {
        Ok(())
    }
}

#[test]
fn a_message_waits_longer_each_time_and_never_goes_out_twice() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let idea = w.idea(&wren, "Quiet cabin");
    say(&w, &wren, idea, &format!("[T](person:{})?", id(&tamar)));
    told(&w, &tamar);
    let crate::common::Workspace { app, dir, .. } = w;
    drop(app);
    let later = || Attempt::Later("Nobody is there.".into());
    let line =
        Line { answers: Mutex::new(vec![Attempt::Unsure("It broke.".into()), later(), later()]), ..Line::default() };
    let sent = Arc::clone(&line.sent);
    let app = App::open(dir.path()).unwrap().with_outside(Box::new(line));
    let at = |seconds: i64| Call { now: now() + SignedDuration::from_secs(seconds), ..command() };
    let state = || notice::outbox(&app, &wren).unwrap().remove(0);
    assert_eq!(notice::send_due(&app, &at(0)).unwrap(), 1);
    // Before the pause is over nothing is tried.
    assert_eq!(notice::send_due(&app, &at(59)).unwrap(), 0);
    assert_eq!((state().state, state().problem.as_deref()), (MessageState::Waiting, Some("Nobody is there.")));
    assert_eq!(notice::send_due(&app, &at(60)).unwrap(), 1);
    assert_eq!(notice::send_due(&app, &at(179)).unwrap(), 0);
    assert_eq!(notice::send_due(&app, &at(180)).unwrap(), 1);
    // It may have arrived: it goes out again only where somebody says so.
    assert_eq!((state().state, sent.lock().unwrap().len()), (MessageState::Unsure, 1));
    assert_eq!(notice::send_due(&app, &at(1_000_000)).unwrap(), 0);
    let message = state().id;
    notice::send_again(&app, &wren, message).unwrap();
    assert_eq!(notice::send_due(&app, &at(1_000_001)).unwrap(), 1);
    assert_eq!((state().state, sent.lock().unwrap().len()), (MessageState::Sent, 2));
    assert_eq!(notice::send_again(&app, &wren, message).unwrap_err().code(), "not-given-up");
}

#[test]
fn what_was_going_out_when_the_program_ended_is_not_sent_again_by_itself() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let idea = w.idea(&wren, "Quiet cabin");
    say(&w, &wren, idea, &format!("[T](person:{})?", id(&tamar)));
    told(&w, &tamar);
    // As a program leaves it that ends in the middle.
    let database = iron_kite_store::database_path(w.dir.path());
    iron_kite_store::Connection::open(database).unwrap().execute("UPDATE message SET state = 'sending'", []).unwrap();
    notice::recover_outbox(&w.app, &command()).unwrap();
    let one = notice::outbox(&w.app, &wren).unwrap().remove(0);
    assert!(one.state == MessageState::Unsure && one.problem.unwrap().contains("may have arrived"));
    assert_eq!(notice::send_due(&w.app, &command()).unwrap(), 0);
}

#[test]
fn the_opening_page_tells_what_waits_what_others_did_and_where_one_was() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let at = |call: &Call, minutes: i64| Call { now: now() + SignedDuration::from_mins(minutes), ..call.clone() };
    let place = |path: &str| VisitInput {
        product: w.product,
        place: Some(iron_kite_core::history::Place { path: path.into(), title: "Ideas".into(), at: 0 }),
    };
    visit(&w.app, &at(&wren, 0), place("/p/1/decide/idea")).unwrap();
    // The address of a view may be long, as a filter stands in it.
    let vik = w.person(Role::Viewer);
    visit(&w.app, &at(&vik, 0), place(&format!("/p/1/decide/idea?view={}", "x".repeat(6_000)))).unwrap();
    let endless = format!("/p/1/{}", "x".repeat(20_000));
    assert_eq!(visit(&w.app, &wren, place(&endless)).unwrap_err().code(), "invalid");
    assert_eq!(visit(&w.app, &wren, place("https://elsewhere.example")).unwrap_err().code(), "invalid");
    let first = opening(&w.app, &at(&wren, 1), w.product).unwrap();
    assert_eq!((first.since, first.changes.len(), first.places[0].path.as_str()), (None, 0, "/p/1/decide/idea"));

    let idea = w.idea(&tamar, "Quiet cabin");
    w.idea(&tamar, "Warm cabin");
    w.idea(&wren, "My own");
    say(&w, &tamar, idea, &format!("[W](person:{}), is this ours?", id(&wren)));
    w.story(&tamar, "Pay by card");
    told(&w, &wren);
    let then = opening(&w.app, &at(&wren, 40), w.product).unwrap();
    assert_eq!(then.since, Some(now().as_millisecond()));
    let sentences: Vec<String> = then.changes.iter().map(|one| format!("{} {}", one.who, one.words)).collect();
    assert_eq!(sentences, ["editor added 2 ideas, added S1 Pay by card and wrote a comment on I1."]);
    let waits: Vec<(WaitingSort, usize)> = then.waiting.iter().map(|one| (one.sort, one.count)).collect();
    assert_eq!(waits, [(WaitingSort::Told, 1), (WaitingSort::Undecided, 3), (WaitingSort::NotReady, 1)]);
    assert_eq!(then.waiting[0].notices[0].reference, "I1");
    assert!(then.waiting[2].lines[0].words.contains("criteri"), "{}", then.waiting[2].lines[0].words);
}
