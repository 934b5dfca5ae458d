//! Who said it: people and accounts that came in twice are merged, and taken apart again.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, command, thing, whole, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::Columns;
use iron_kite_core::things::ThingKind;
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::history;
use iron_kite_ops::listen::{self, Merge, Split, WhoKind};
use iron_kite_ops::things::{LinkEnds, link};
use serde_json::{Value, json};

const TABLE: &str = "text,who,account\n\
    The boat was off.,Ann Lee,Hask Stores\n\
    Nobody told us.,A. Lee,Hask Stores Ltd\n\
    The deck was full.,Ann Lee,Hask Stores Ltd\n\
    Silence on the pier.,Bo,\n";

fn voices() -> Workspace {
    let w = workspace();
    let columns = Columns { text: 0, person: Some(1), account: Some(2), ..Columns::default() };
    listen::import(&w.app, &command(), w.product, "voices.csv", TABLE.as_bytes(), &columns).unwrap();
    let accounts = "account,segment,revenue\nHask Stores Ltd,freight,48000\n";
    listen::bring_in_accounts(&w.app, &command(), "accounts.csv", accounts.as_bytes()).unwrap();
    w
}

fn pairs(w: &Workspace, kind: WhoKind) -> Vec<(i64, i64)> {
    listen::likely_same(&w.app, &command(), kind).unwrap().iter().map(|pair| (pair.one, pair.other)).collect()
}

fn all(w: &Workspace) -> Value {
    let all = whole(&w.app);
    // Revisions go up with an undo, too.
    let rows = |name: &str| -> Vec<Value> {
        let mut rows = all["tables"][name].as_array().unwrap().clone();
        rows.iter_mut().for_each(|row| drop(row.as_object_mut().unwrap().remove("rev")));
        rows
    };
    json!([rows("account"), rows("person"), rows("feedback_item"), rows("link")])
}

#[test]
fn accounts_merge_with_their_people_and_one_step_takes_it_back() {
    let w = voices();
    assert_eq!(pairs(&w, WhoKind::Account), [(1, 2)]);
    let before = all(&w);
    let ask = || Merge { kind: WhoKind::Account, keep: 1, others: vec![2] };
    let saved = listen::merge(&w.app, &command(), ask()).unwrap();
    assert_eq!(saved.label, "merged A2 into A1");
    let accounts = w.rows(Collection::Account, &["name", "segment", "yearly_revenue", "item_count"]);
    assert_eq!(accounts, [[json!("Hask Stores"), json!("freight"), json!(48_000), json!(3)]]);
    // Ann Lee of both is one now; A. Lee is proposed and not merged by itself.
    assert_eq!(w.rows(Collection::Person, &["name", "item_count"]).len(), 3);
    let found = pairs(&w, WhoKind::Person);
    assert_eq!(found.len(), 1);
    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(all(&w), before);
    listen::merge(&w.app, &command(), ask()).unwrap();
    let (one, other) = found[0];
    listen::merge(&w.app, &command(), Merge { kind: WhoKind::Person, keep: one, others: vec![other] }).unwrap();
    assert_eq!(w.rows(Collection::Person, &["name"]).len(), 2);
    assert_eq!(pairs(&w, WhoKind::Person), []);
}

#[test]
fn what_somebody_took_part_in_goes_with_them() {
    let w = voices();
    let study = w.add(&command(), Collection::Study, &json!({ "title": "On the pier" }));
    let (kept, gone) = (thing(ThingKind::Person, 1), thing(ThingKind::Person, 2));
    link(&w.app, &command(), LinkEnds { kind: LinkKind::TakesPart, from: gone, to: study }).unwrap();
    let merge = || Merge { kind: WhoKind::Person, keep: kept.id, others: vec![gone.id] };
    let saved = listen::merge(&w.app, &command(), merge()).unwrap();
    let participants = || w.rows(Collection::Study, &["participants"]).remove(0).remove(0);
    assert_eq!(participants(), json!([{ "id": 1, "label": "Ann Lee" }]));
    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(participants(), json!([{ "id": 2, "label": "A. Lee" }]));
}

#[test]
fn two_that_are_called_two_are_not_proposed_again() {
    let w = voices();
    let (one, other) = (thing(ThingKind::Account, 1), thing(ThingKind::Account, 2));
    link(&w.app, &command(), LinkEnds { kind: LinkKind::NotSame, from: one, to: other }).unwrap();
    assert_eq!(pairs(&w, WhoKind::Account), []);
}

#[test]
fn what_somebody_else_said_is_given_to_them() {
    let w = voices();
    let ask = |items: Vec<i64>, name: &str| Split {
        person: 4.into(),
        items: items.into_iter().map(Into::into).collect(),
        name: name.into(),
    };
    let wrong = listen::split(&w.app, &command(), ask(vec![1], "Cal")).unwrap_err();
    assert_eq!(wrong.code(), "invalid");
    let new = listen::split(&w.app, &command(), ask(vec![4], "Cal Reef")).unwrap().thing.unwrap();
    assert_eq!(w.rows(Collection::FeedbackItem, &["person"])[3][0][0]["id"], new.id);
    assert_eq!(listen::split(&w.app, &command(), ask(vec![4], "Cal Reef")).unwrap_err().code(), "invalid");
}
