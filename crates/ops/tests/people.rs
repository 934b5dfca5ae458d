//! Signing in, roles, and the first owner.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{command, now, workspace};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_ops::start::{self, Beginnings, NewOwner};
use iron_kite_ops::{App, Call, overview, people};
use jiff::SignedDuration;

fn nobody() -> Call {
    Call { actor: None, ..command() }
}

fn owner(email: &str, password: &str) -> NewOwner {
    NewOwner {
        email: email.into(),
        name: "Wren".into(),
        password: password.into(),
        product: Some("Crossing".into()),
        team: Some("Quayside".into()),
    }
}

#[test]
fn the_first_start_names_one_owner_and_no_second() {
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap();
    assert!(start::start(&app).unwrap().needs_owner);
    for (email, password, field) in [
        ("wren", "ferry-at-noon", "/email"),
        ("wren@crossing.example", "short", "/password"),
        ("a@b.", "ferry-at-noon", "/email"),
    ] {
        match start::start_owner(&app, &nobody(), owner(email, password)).unwrap_err() {
            Problem::Invalid(faults) => assert_eq!(faults[0].field, field),
            other => panic!("{other}"),
        }
    }
    start::start_owner(&app, &nobody(), owner("wren@crossing.example", "ferry-at-noon")).unwrap();
    assert!(!start::start(&app).unwrap().needs_owner);
    assert_eq!(overview::products(&app, &command()).unwrap()[0].name, "Crossing");
    let again = start::start_owner(&app, &nobody(), owner("other@crossing.example", "ferry-at-noon")).unwrap_err();
    assert_eq!(again.code(), "has-owner");
}

#[test]
fn an_owner_may_come_first_and_what_is_managed_later() {
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap();
    let wren = || owner("wren@crossing.example", "ferry-at-noon");
    let half = start::start_owner(&app, &nobody(), NewOwner { team: None, ..wren() });
    assert!(matches!(half, Err(Problem::Invalid(faults)) if faults[0].field == "/team"));
    start::start_owner(&app, &nobody(), NewOwner { product: None, team: None, ..wren() }).unwrap();
    assert_eq!(overview::products(&app, &command()).unwrap(), []);
    let session = people::sign_in(&app, &nobody(), "wren@crossing.example", "ferry-at-noon", None).unwrap();
    let wren = Call { actor: Some(session.actor), ..command() };
    let begin = |call: &Call, product: &str| {
        start::begin(&app, call, Beginnings { product: product.into(), team: "Quayside".into() })
    };
    assert!(matches!(begin(&wren, " "), Err(Problem::Invalid(faults)) if faults[0].field == "/product"));
    begin(&wren, "Crossing").unwrap();
    assert_eq!(overview::products(&app, &command()).unwrap()[0].name, "Crossing");
    assert_eq!(begin(&wren, "Another").unwrap_err().code(), "begun");
}

#[test]
fn a_session_lasts_its_time_and_ends_with_a_new_password() {
    let w = workspace();
    people::add_member(&w.app, &command(), "joss@crossing.example", "Joss", Role::Contributor, "ferry-at-noon")
        .unwrap();
    let sign_in = |password: &str| people::sign_in(&w.app, &nobody(), " JOSS@crossing.example ", password, None);
    assert_eq!(sign_in("ferry-at-nine").err(), Some(Problem::WrongSignIn));
    let session = sign_in("ferry-at-noon").unwrap();
    let who = |after: SignedDuration| people::who(&w.app, &session.key, now() + after).unwrap().map(|actor| actor.role);
    assert_eq!(who(SignedDuration::from_hours(11)), Some(Role::Contributor));
    assert_eq!(who(SignedDuration::from_hours(24 * 15)), None);
    assert_eq!(people::who(&w.app, "no such key", now()).unwrap(), None);
    people::set_password(&w.app, &command(), "joss@crossing.example", "ferry-at-nine").unwrap();
    assert_eq!(who(SignedDuration::ZERO), None);
    assert!(sign_in("ferry-at-nine").is_ok() && sign_in("ferry-at-noon").is_err());
    let database = std::fs::read(iron_kite_store::database_path(w.dir.path())).unwrap();
    assert!(!String::from_utf8_lossy(&database).contains(&session.key), "only a hash of the key is kept");
}

#[test]
fn people_are_an_owners_matter_and_one_owner_stays() {
    let w = workspace();
    let editor = w.person(Role::Editor);
    let refused =
        people::add_member(&w.app, &editor, "x@crossing.example", "X", Role::Owner, "ferry-at-noon").unwrap_err();
    assert_eq!(refused, Problem::NotAllowed { needs: "owner" });
    let owner = w.person(Role::Owner);
    let email = &people::members(&w.app, &owner).unwrap()[1].email;
    assert_eq!(people::set_role(&w.app, &owner, email, Role::Viewer).unwrap_err().code(), "last-owner");
    let twice = people::add_member(&w.app, &owner, email, "X", Role::Viewer, "ferry-at-noon").unwrap_err();
    assert!(twice.detail().contains("already"), "{twice}");
    assert_eq!(people::set_role(&w.app, &owner, "no@one.example", Role::Viewer).unwrap_err().code(), "not-found");
}

#[test]
fn a_session_ends_by_itself_by_its_owner_and_with_the_account() {
    let w = workspace();
    let at = |hours: i64| Call { now: now() + SignedDuration::from_hours(hours), actor: None, ..command() };
    let (email, password) = ("tamar@crossing.example", "ferry-at-noon");
    people::add_member(&w.app, &command(), email, "Tamar", Role::Editor, password).unwrap();
    people::add_member(&w.app, &command(), "wren@crossing.example", "Wren", Role::Owner, password).unwrap();
    let sign_in = |hours| people::sign_in(&w.app, &at(hours), email, password, Some("a browser\u{202e}"));
    let key = |hours| sign_in(hours).unwrap().key;
    let who = |key: &str, hours| people::who(&w.app, key, at(hours).now).unwrap();
    let as_me = |key: &str, hours| Call { actor: who(key, hours), ..at(hours) };
    // Used it goes on, unused it ends after twelve hours, and in any case after a week.
    let (used, unused) = (key(0), key(0));
    assert!((1..=16).all(|n| who(&used, n * 10).is_some()));
    assert_eq!((who(&used, 7 * 24), who(&unused, 13)), (None, None));
    // Seen and ended one by one; a new password ends the others.
    let (here, there) = (key(200), key(200));
    let me = as_me(&here, 200);
    let mine = people::my_sessions(&w.app, &me, &here).unwrap();
    assert_eq!((mine.len(), mine.iter().filter(|one| one.this).count()), (2, 1));
    assert!(mine.iter().all(|one| one.browser.as_deref() == Some("a browser") && !here.contains(&one.id)));
    let other = mine.iter().find(|one| !one.this).unwrap().id.clone();
    people::end_my_session(&w.app, &me, &other).unwrap();
    assert!(who(&there, 200).is_none() && who(&here, 200).is_some());
    let there = key(200);
    let new = |present: &str| people::OwnPassword { present: present.into(), password: "tall grey heron pier".into() };
    let wrong = people::change_own_password(&w.app, &me, &here, &new("ferry-at-dawn")).unwrap_err();
    assert_eq!(wrong.code(), "invalid");
    people::change_own_password(&w.app, &me, &here, &new(password)).unwrap();
    assert!(who(&there, 200).is_none() && who(&here, 200).is_some());
    assert_eq!(sign_in(200).map(drop).unwrap_err(), Problem::WrongSignIn);
    // A closed account is nobody's, and what was done stays its owner's.
    let idea = w.idea(&me, "Quiet cabin");
    people::leave(&w.app, &me).unwrap();
    assert!(who(&here, 200).is_none());
    let again = people::sign_in(&w.app, &at(200), email, "tall grey heron pier", None);
    assert_eq!(again.map(drop).unwrap_err(), Problem::WrongSignIn);
    let history = iron_kite_ops::history::history(&w.app, &command(), idea).unwrap();
    assert_eq!(history[0].who.as_deref(), Some("Tamar"));
    people::set_closed(&w.app, &command(), email, false).unwrap();
    people::sign_in(&w.app, &at(200), email, "tall grey heron pier", None).unwrap();
    // Somebody owns it always.
    let last = people::set_closed(&w.app, &command(), "wren@crossing.example", true).unwrap_err();
    assert_eq!(last.code(), "last-owner");
}
