//! What was split otherwise before is split anew, but for what people worked on.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeMap;

use crate::common::{Workspace, bring_whole, command, fields, whole, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::role::Role;
use iron_kite_core::text::{Meaning, NoMeaning, Vector};
use iron_kite_core::things::{ExcerptId, ItemId, Thing, ThingKind};
use iron_kite_ops::listen::{self, NewFinding};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{App, history, jobs, talk};
use serde_json::{Value, json};

struct Same;

impl Meaning for Same {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        Ok(texts.iter().map(|_| Vector::pointing(vec![1.0, 0.5])).collect())
    }
}

const COUNT: i64 = 6;
const SAID: [&str; 2] = ["The crew is lovely,", "but the app is slow"];

/// Items that say two things each, as if they had been left whole before; nothing tells that they are split the present way.
fn left_whole() -> Workspace {
    let first = workspace();
    let rows: String = (1..=COUNT).map(|n| format!("\"{} {} in row {n}.\",Ann {n}\n", SAID[0], SAID[1])).collect();
    first.bring(&command(), &format!("text,who\n{rows}"));
    let mut whole = whole(&first.app);
    let excerpts = whole["tables"]["excerpt"].as_array_mut().unwrap();
    assert_eq!(excerpts.len(), 2 * usize::try_from(COUNT).unwrap());
    let ends: BTreeMap<i64, i64> =
        excerpts.chunks(2).map(|two| (two[0]["id"].as_i64().unwrap(), two[1]["to_char"].as_i64().unwrap())).collect();
    excerpts.retain_mut(|row| {
        let end = ends.get(&row["id"].as_i64().unwrap());
        end.inspect(|end| row["to_char"] = (**end).into()).is_some()
    });
    whole["tables"]["change"].as_array_mut().unwrap().retain_mut(|change| {
        if change["kind"] != "excerpt" {
            return true;
        }
        let Some(end) = ends.get(&change["row_id"].as_i64().unwrap()) else { return false };
        let text = change["after"].as_str().unwrap();
        let was = serde_json::from_str::<Value>(text).unwrap()["to_char"].clone();
        change["after"] = text.replace(&format!("\"to_char\":{was}"), &format!("\"to_char\":{end}")).into();
        true
    });
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap().with_meaning(Box::new(Same));
    bring_whole(&app, whole.to_string().into_bytes()).unwrap();
    Workspace { app, product: first.product, dir }
}

/// The number of the excerpt of an item that was left whole.
fn left(item: i64) -> Thing {
    ExcerptId(2 * item - 1).thing()
}

/// How many excerpts each item has.
fn parts(workspace: &Workspace) -> Vec<usize> {
    (1..=COUNT).map(|item| listen::item(&workspace.app, &command(), ItemId(item)).unwrap().parts.len()).collect()
}

#[test]
fn what_was_left_whole_is_split_where_nobody_worked_on_it() {
    let workspace = left_whole();
    let app = &workspace.app;
    let wren = workspace.person(Role::Editor);
    let rev = |thing: Thing| things::rev_of(app, &command(), thing).unwrap();
    // Of the six one is judged, one stands behind a finding, one is talked about, and one was taken away.
    let judged = Edit { rev: rev(left(1)), set: fields(&json!({ "kind": "habit" })) };
    things::edit(app, &wren, left(1), judged).unwrap();
    let finding =
        NewFinding { product_id: workspace.product, title: "It is slow".into(), excerpts: vec![ExcerptId(3)] };
    listen::add_finding(app, &wren, finding).unwrap();
    let comment = talk::NewComment { on: left(3), reply_to: None, body: "Which app?".into(), passage: None };
    talk::add_comment(app, &wren, comment).unwrap();
    things::remove(app, &wren, left(4), rev(left(4))).unwrap();
    assert_eq!(parts(&workspace), [1, 1, 1, 0, 1, 1]);

    jobs::work_off(app, &command()).unwrap();
    assert_eq!(parts(&workspace), [1, 1, 1, 0, 2, 2]);
    let item = listen::item(app, &command(), ItemId(5)).unwrap();
    assert!(item.parts.iter().all(|part| part.excerpt.sure.is_some()), "what is new is read");
    assert_eq!(item.parts[0].words, SAID[0]);
    let lines = history::history(app, &command(), Thing::new(ThingKind::Excerpt, left(5).id)).unwrap();
    assert_eq!((lines[0].label.as_str(), lines[0].way.as_str()), ("split 2 items anew", "engine"));

    // Who takes it back does not find it made again.
    history::undo_set(app, &command(), lines[0].id).unwrap();
    jobs::work_off(app, &command()).unwrap();
    assert_eq!(parts(&workspace), [1, 1, 1, 0, 1, 1]);
}

#[test]
fn what_comes_in_is_split_once() {
    let workspace = workspace();
    let app = workspace.app.with_meaning(Box::new(Same));
    let workspace = Workspace { app, ..workspace };
    workspace.bring(&command(), "text,who\n\"The crew is lovely, but the app is slow.\",Ann\n");
    let before = workspace.rows(Collection::Excerpt, &["reference"]);
    jobs::work_off(&workspace.app, &command()).unwrap();
    assert_eq!(workspace.rows(Collection::Excerpt, &["reference"]), before);
    assert_eq!(before.len(), 2);
}

/// A long text was read to its 400th excerpt only. It is read to its end, and what people did of its beginning stays.
#[test]
fn a_long_text_of_before_is_read_to_its_end() {
    let first = workspace();
    let long = |who: &str| (0..450).map(|n| format!("{who} is late in row {n}. ")).collect::<String>();
    first.bring(&command(), &format!("text,who\n\"{}\",Ann\n\"{}\",Bo\n", long("Boat"), long("Bus")));
    let mut whole = whole(&first.app);
    let excerpts = whole["tables"]["excerpt"].as_array_mut().unwrap();
    let numbers = |rows: &[Value]| rows.iter().map(|row| row["id"].as_i64().unwrap()).collect::<Vec<_>>();
    let all = numbers(excerpts);
    assert_eq!(all.len(), 900);
    let beyond: Vec<i64> = all.chunks(450).flat_map(|item| item[400..].to_vec()).collect();
    excerpts.retain(|row| !beyond.contains(&row["id"].as_i64().unwrap()));
    let of_it = |change: &Value| change["kind"] == "excerpt" && beyond.contains(&change["row_id"].as_i64().unwrap());
    whole["tables"]["change"].as_array_mut().unwrap().retain(|change| !of_it(change));
    let dir = tempfile::tempdir().unwrap();
    let app = App::open(dir.path()).unwrap().with_meaning(Box::new(Same));
    bring_whole(&app, whole.to_string().into_bytes()).unwrap();
    let workspace = Workspace { app, product: first.product, dir };
    let app = &workspace.app;
    let read = |item: i64| listen::item(app, &command(), ItemId(item)).unwrap().parts;
    assert_eq!((read(1).len(), read(2).len()), (400, 400));
    // Of the second, somebody took one away and judged another.
    let [taken, judged] = [read(2)[3].excerpt.id.thing(), read(2)[5].excerpt.id.thing()];
    let wren = workspace.person(Role::Editor);
    let rev = |thing: Thing| things::rev_of(app, &command(), thing).unwrap();
    things::remove(app, &wren, taken, rev(taken)).unwrap();
    things::edit(app, &wren, judged, Edit { rev: rev(judged), set: fields(&json!({ "kind": "habit" })) }).unwrap();

    jobs::work_off(app, &command()).unwrap();
    assert_eq!((read(1).len(), read(2).len()), (450, 449));
    assert_eq!(read(2)[448].words, "Bus is late in row 449.");
    assert!(read(2).iter().all(|part| part.excerpt.id.thing() != taken));
}
