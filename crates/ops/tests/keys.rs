//! Links that work once, tokens of programs, products and teams as an owner manages them.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{command, now, workspace};
use iron_kite_core::role::Role;
use iron_kite_ops::keys::{self, Joining, NewMember, NewToken};
use iron_kite_ops::{Call, history, overview, people, workspace as place};
use iron_kite_store::Way;
use jiff::SignedDuration;
use serde_json::json;

fn nobody() -> Call {
    Call { actor: None, ..command() }
}

fn joining(key: &str, password: &str) -> Joining {
    serde_json::from_value(json!({ "key": key, "password": password })).unwrap()
}

#[test]
fn whoever_is_invited_sets_a_password_once() {
    let w = workspace();
    w.person(Role::Owner);
    let new = NewMember { email: "ada@crossing.example".into(), name: "Ada".into(), role: Role::Editor };
    assert_eq!(keys::invite(&w.app, &w.person(Role::Editor), new.clone()).unwrap_err().code(), "not-allowed");
    let link = keys::invite(&w.app, &command(), new.clone()).unwrap();
    let ada = || people::members(&w.app, &command()).unwrap().into_iter().find(|one| one.name == "Ada").unwrap();
    assert_eq!((ada().joined, ada().link_ends_at), (false, Some(link.ends_at)));
    assert_eq!(keys::invited(&w.app, &nobody(), &link.key).unwrap().email, "ada@crossing.example");
    // Nobody signs in without a password, and an easy one is none.
    assert!(people::sign_in(&w.app, &nobody(), "ada@crossing.example", "", None).is_err());
    assert_eq!(keys::join(&w.app, &nobody(), &joining(&link.key, "short")).unwrap_err().code(), "invalid");
    keys::join(&w.app, &nobody(), &joining(&link.key, "ferry-at-midnight")).unwrap();
    let session = people::sign_in(&w.app, &nobody(), "ada@crossing.example", "ferry-at-midnight", None).unwrap();
    assert_eq!(session.actor.role, Role::Editor);
    assert_eq!((ada().joined, ada().link_ends_at), (true, None));
    // It worked once.
    assert_eq!(keys::join(&w.app, &nobody(), &joining(&link.key, "ferry-at-dawn-2")).unwrap_err().code(), "link-ended");
    // A later link takes the place of an earlier one, ends after a week, and ends the sessions when it is used.
    let first = keys::link_for(&w.app, &command(), "ada@crossing.example").unwrap();
    let second = keys::link_for(&w.app, &command(), "ada@crossing.example").unwrap();
    assert_eq!(keys::invited(&w.app, &nobody(), &first.key).unwrap_err().code(), "link-ended");
    let late = Call { now: now() + SignedDuration::from_hours(24 * 8), ..nobody() };
    assert_eq!(keys::invited(&w.app, &late, &second.key).unwrap_err().code(), "link-ended");
    assert!(people::who(&w.app, &session.key, now()).unwrap().is_some());
    keys::join(&w.app, &nobody(), &joining(&second.key, "ferry-at-dawn-2")).unwrap();
    assert!(people::who(&w.app, &session.key, now()).unwrap().is_none());
    // Of a closed account no link works.
    let third = keys::link_for(&w.app, &command(), "ada@crossing.example").unwrap();
    people::set_closed(&w.app, &command(), "ada@crossing.example", true).unwrap();
    assert_eq!(keys::invited(&w.app, &nobody(), &third.key).unwrap_err().code(), "link-ended");
    assert_eq!(keys::link_for(&w.app, &command(), "ada@crossing.example").unwrap_err().code(), "closed");
}

#[test]
fn a_program_asks_with_no_more_than_its_token_may() {
    let w = workspace();
    w.person(Role::Owner);
    let editor = w.person(Role::Editor);
    let token = |role| NewToken { name: "nightly report".into(), role };
    assert_eq!(keys::add_token(&w.app, &editor, token(Role::Owner)).unwrap_err().code(), "invalid");
    let made = keys::add_token(&w.app, &editor, token(Role::Contributor)).unwrap();
    let who = people::who(&w.app, &made.key, now()).unwrap().unwrap();
    assert_eq!((who.role, who.user_id), (Role::Contributor, editor.actor.as_ref().unwrap().user_id));
    assert!(keys::my_tokens(&w.app, &editor).unwrap()[0].used_at.is_some());
    // What concerns who somebody is is done by nobody on their behalf.
    let program = Call { actor: Some(who), way: Way::Program, ..command() };
    assert_eq!(keys::add_token(&w.app, &program, token(Role::Viewer)).unwrap_err().code(), "not-by-program");
    assert_eq!(people::leave(&w.app, &program).unwrap_err().code(), "not-by-program");
    let owner = Call { actor: command().actor, way: Way::Program, ..command() };
    assert_eq!(people::set_role(&w.app, &owner, "a@b.example", Role::Owner).unwrap_err().code(), "not-by-program");
    // With its person's role its own falls.
    let email =
        people::members(&w.app, &command()).unwrap().into_iter().find(|one| one.name == "editor").unwrap().email;
    people::set_role(&w.app, &command(), &email, Role::Viewer).unwrap();
    assert_eq!(people::who(&w.app, &made.key, now()).unwrap().unwrap().role, Role::Viewer);
    // Somebody else does not end it, an owner does.
    assert_eq!(keys::end_token(&w.app, &w.person(Role::Editor), made.id).unwrap_err().code(), "not-found");
    assert_eq!(keys::all_tokens(&w.app, &command()).unwrap().len(), 1);
    keys::end_token(&w.app, &command(), made.id).unwrap();
    assert!(people::who(&w.app, &made.key, now()).unwrap().is_none());
    // A token outlives neither a new password nor a closed account, also where that is opened again.
    let ends = [&|| people::set_password(&w.app, &command(), &email, "ferry-at-midnight").unwrap(), &|| {
        [true, false].iter().for_each(|closed| people::set_closed(&w.app, &command(), &email, *closed).unwrap())
    }] as [&dyn Fn(); 2];
    for end in ends {
        let made = keys::add_token(&w.app, &editor, token(Role::Viewer)).unwrap();
        assert!(people::who(&w.app, &made.key, now()).unwrap().is_some());
        end();
        assert!(people::who(&w.app, &made.key, now()).unwrap().is_none());
    }
}

#[test]
fn a_product_is_removed_while_it_holds_nothing() {
    let w = workspace();
    let only = overview::products(&w.app, &command()).unwrap().remove(0);
    assert_eq!(place::remove_product(&w.app, &command(), only.id, only.rev).unwrap_err().code(), "last-product");
    overview::add_product(&w.app, &command(), "Gangway").unwrap();
    assert_eq!(place::removable(&w.app, &command()).unwrap().products.len(), 2);
    w.idea(&command(), "A bell");
    assert_eq!(place::removable(&w.app, &command()).unwrap().products, [2]);
    let refused = place::remove_product(&w.app, &command(), only.id, only.rev).unwrap_err();
    assert!(refused.code() == "product-in-use" && refused.detail().contains("idea (1)"), "{}", refused.detail());
    let second = overview::products(&w.app, &command()).unwrap().remove(1);
    let removed = place::remove_product(&w.app, &command(), second.id, second.rev).unwrap();
    assert_eq!(overview::products(&w.app, &command()).unwrap().len(), 1);
    history::undo_set(&w.app, &command(), removed.change.unwrap()).unwrap();
    assert_eq!(overview::products(&w.app, &command()).unwrap()[1].name, "Gangway");
}
