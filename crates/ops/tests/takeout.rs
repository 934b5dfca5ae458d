//! A whole workspace out and in again: by rows, with large files, and never unless it holds together.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{bring_whole, command, thing, whole, whole_file, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::notice::{NoticeSort, Setting};
use iron_kite_core::role::Role;
use iron_kite_core::things::ThingKind;
use iron_kite_ops::notice::{self, Following};
use iron_kite_ops::{App, attachments, collections, decide};
use serde_json::{Value, json};

fn empty() -> (tempfile::TempDir, App) {
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap();
    (dir, app)
}

/// A workspace with something of several stages in it.
fn filled() -> crate::common::Workspace {
    let w = workspace();
    let wren = w.person(Role::Owner);
    w.bring(&wren, "text,who\n\"The boat was late. The crew is kind.\",Ann Lee\nIt rained.,Bo\n");
    w.idea(&wren, "Tell people early");
    w.story(&wren, "Text me when it is off");
    let objective = json!({ "title": "Calmer", "measure": "Complaints", "start_value": 40, "target_value": 20 });
    w.add(&wren, Collection::Objective, &objective);
    let new = decide::NewForm { product_id: w.product, title: "Ask for something".into() };
    decide::add_form(&w.app, &wren, new).unwrap();
    // What belongs to somebody and is no change of a thing.
    notice::follow(&w.app, &wren, thing(ThingKind::Idea, 1), Following { follows: true }).unwrap();
    let setting = Setting { sort: NoticeSort::Followed, here: false, by_mail: true };
    notice::set_setting(&w.app, &wren, setting).unwrap();
    let view = json!({ "name": "Days", "shared": true, "definition": { "kind": "calendar", "from": "due_on" } });
    let view = serde_json::from_value(view).unwrap();
    let view = collections::add_view(&w.app, &wren, w.product, Collection::Objective, view).unwrap();
    collections::share_calendar(&w.app, &wren, view.thing.unwrap().id).unwrap();
    w
}

#[test]
fn what_goes_out_comes_in_and_goes_out_the_same_with_a_large_file() {
    let w = filled();
    let bytes: Vec<u8> = (0..5_000_000_u32).map(|n| (n.wrapping_mul(2_654_435_761) >> 13).to_le_bytes()[0]).collect();
    let file = attachments::put_in(&w.app, &w.person(Role::Editor), "visit.wav", bytes.clone()).unwrap();
    let out = whole_file(&w.app);
    let told = whole(&w.app);
    for table in ["follow", "notice_setting", "calendar_link"] {
        assert!(!told["tables"][table].as_array().unwrap().is_empty(), "{table}");
    }
    assert!(out.len() < bytes.len() * 3 / 2, "{} bytes", out.len());
    let (dir, app) = empty();
    bring_whole(&app, out.clone()).unwrap();
    assert_eq!(whole_file(&app), out);
    assert_eq!(attachments::take_out(&app, &command(), file.id).unwrap(), bytes);
    assert_eq!(iron_kite_store::verify(dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn the_order_of_the_tables_in_the_file_does_not_matter() {
    let w = filled();
    // A map of JSON values has its keys in the order of the alphabet.
    let all = whole(&w.app);
    let (dir, app) = empty();
    bring_whole(&app, all.to_string().into_bytes()).unwrap();
    assert_eq!(whole(&app), all);
    assert_eq!(iron_kite_store::verify(dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn files_of_the_versions_before_are_read() {
    let w = filled();
    let file = attachments::put_in(&w.app, &w.person(Role::Editor), "x.txt", b"words".to_vec()).unwrap();
    let mut all = whole(&w.app);
    // Before version 3 the bytes of a file stood with the attachment, before version 2 as hexadecimal digits.
    let digest = all["tables"]["file"][0]["digest"].clone();
    let tables = all["tables"].as_object_mut().unwrap();
    // Before version 4 less stood with an excerpt of its item.
    for excerpt in tables["excerpt"].as_array_mut().unwrap() {
        let of_item = ["source_id", "person_id", "account_id", "rating"];
        excerpt.as_object_mut().unwrap().retain(|column, _| !of_item.contains(&column.as_str()));
    }
    let since = ["file", "file_part", "follow", "notice_setting", "calendar_link"];
    tables.retain(|table, _| !since.contains(&table.as_str()));
    let held = tables["attachment"][0].as_object_mut().unwrap();
    held.remove("file_id");
    for (version, bytes, digest) in [(1, "776F726473", None), (2, "d29yZHM=", None), (2, "d29yZHM=", Some(digest))] {
        all["version"] = version.into();
        let held = all["tables"]["attachment"][0].as_object_mut().unwrap();
        held.insert("bytes".into(), bytes.into());
        digest.map(|digest| held.insert("digest".into(), digest));
        let (dir, app) = empty();
        bring_whole(&app, all.to_string().into_bytes()).unwrap();
        assert_eq!(attachments::take_out(&app, &command(), file.id).unwrap(), b"words");
        assert_eq!(iron_kite_store::verify(dir.path()).unwrap().faults, Vec::<String>::new());
    }
    all["tables"]["attachment"][0]["bytes"] = "d29yZAo=".into();
    let refused = bring_whole(&empty().1, all.to_string().into_bytes()).unwrap_err();
    assert!(refused.detail().contains("not as it came"), "{}", refused.detail());
}

#[test]
fn what_does_not_hold_together_is_refused_and_leaves_the_workspace_empty() {
    let sound = whole(&filled().app);
    type Harm = fn(&mut Value);
    let harms: [(&str, Harm, &str); 13] = [
        ("a state that there is not", |all| all["tables"]["idea"][0]["state"] = "no_such".into(), "no_such"),
        ("a level that there is not", |all| all["tables"]["work_item"][0]["level"] = "no_such".into(), "no_such"),
        ("a person who is nobody", |all| all["tables"]["feedback_item"][0]["person_id"] = 99.into(), "not there"),
        (
            "an item changed beside the ledger",
            |all| all["tables"]["feedback_item"][0]["text"] = "Fine.".into(),
            "ledger",
        ),
        ("a link to nothing", |all| all["tables"]["excerpt"].as_array_mut().unwrap().clear(), "ledger"),
        ("a column of which we know nothing", |all| all["tables"]["idea"][0]["hidden"] = 1.into(), "hidden"),
        ("a day that there is not", |all| all["tables"]["objective"][0]["due_on"] = "soon".into(), "takes a day"),
        ("a title without an end", |all| all["tables"]["idea"][0]["title"] = "x".repeat(400).into(), "at most 300"),
        ("own fields that are no JSON", |all| all["tables"]["idea"][0]["own"] = "{".into(), "own"),
        (
            "questions of a form that are none",
            |all| all["tables"]["request_form"][0]["fields"] = "[1]".into(),
            "request_form",
        ),
        ("a role that there is not", |all| all["tables"]["user"][0]["role"] = "emperor".into(), "emperor"),
        ("a ledger of another", |all| all["tables"]["change"][0]["kind"] = "no_such".into(), "ledger"),
        ("a list in a column", |all| all["tables"]["idea"][0]["title"] = json!(["x"]), "damaged"),
    ];
    for (harm, harmed, words) in harms {
        let mut all = sound.clone();
        harmed(&mut all);
        let (_dir, app) = empty();
        let refused = bring_whole(&app, all.to_string().into_bytes()).unwrap_err();
        assert!(refused.detail().contains(words), "{harm}: {}", refused.detail());
        assert_eq!(whole(&app)["tables"]["product"], json!([]), "{harm}");
    }
}
