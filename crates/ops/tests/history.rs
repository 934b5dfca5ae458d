//! Undo, redo, history and revisions.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::{Arc, Mutex};

use crate::common::{Workspace, command, fields, made, whole, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::ChannelKind;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::collections::ViewInput;
use iron_kite_ops::listen::{ChannelChange, ItemQuery, NewChannel};
use iron_kite_ops::outside::{Fetch, Fetched, Outside, PagesFound};
use iron_kite_ops::things::{Edit, LinkEnds, edit, link, remove, rev_of};
use iron_kite_ops::{Actor, Call, collections, decide, history, jobs, listen};
use serde_json::{Value, json};

const VOICES: &str = "text,who\nThe boat was late. It rained.,Ann\nThe crew is kind.,Bo\n";

fn set(rev: i64, value: serde_json::Value) -> Edit {
    Edit { rev, set: fields(&value) }
}

fn items(w: &crate::common::Workspace) -> usize {
    listen::items(&w.app, &command(), ItemQuery { product: w.product.0, ..ItemQuery::default() }).unwrap().items.len()
}

#[test]
fn an_import_is_taken_back_whole_and_done_again() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let before = whole(&w.app);
    w.bring(&wren, VOICES);
    let after = whole(&w.app);
    assert_eq!(items(&w), 2);

    let undone = history::undo_last(&w.app, &wren).unwrap();
    assert_eq!(undone.label, "undid: brought in 2 items from voices.csv");
    let tables = |whole: &Value| {
        let mut tables = whole["tables"].as_object().unwrap().clone();
        tables.retain(|name, _| !name.starts_with("change"));
        // What has an excerpt read is no part of it.
        for row in tables["excerpt"].as_array_mut().unwrap() {
            row.as_object_mut().unwrap().remove("engine");
        }
        tables
    };
    assert_eq!(tables(&whole(&w.app)), tables(&before));

    history::redo_last(&w.app, &wren).unwrap();
    assert_eq!(tables(&whole(&w.app)), tables(&after));
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn undo_goes_back_step_by_step_and_redo_forward_until_something_new_is_done() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    for title in ["Two", "Three"] {
        edit(&w.app, &wren, idea, set(rev_of(&w.app, &wren, idea).unwrap(), json!({ "title": title }))).unwrap();
    }
    let title = || decide::ideas(&w.app, &wren, w.product).unwrap().first().map(|idea| idea.idea.title.clone());
    for expected in [Some("Two"), Some("One"), None] {
        history::undo_last(&w.app, &wren).unwrap();
        assert_eq!(title().as_deref(), expected);
    }
    assert_eq!(history::undo_last(&w.app, &wren).unwrap_err().code(), "nothing-to-undo");
    for expected in ["One", "Two"] {
        history::redo_last(&w.app, &wren).unwrap();
        assert_eq!(title().as_deref(), Some(expected));
    }
    w.idea(&wren, "Another");
    assert_eq!(history::redo_last(&w.app, &wren).unwrap_err().code(), "nothing-to-undo");
    assert_eq!(history::undo_state(&w.app, &wren).unwrap().undo.as_deref(), Some("added I2"));
}

#[test]
fn what_somebody_changed_since_is_not_taken_back() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    let idea = w.idea(&wren, "One");
    let first = edit(&w.app, &wren, idea, set(1, json!({ "title": "Two" }))).unwrap();
    edit(&w.app, &tamar, idea, set(2, json!({ "title": "Three" }))).unwrap();
    let refused = history::undo_last(&w.app, &wren).unwrap_err();
    assert_eq!(refused.code(), "changed-since");
    assert!(refused.detail().contains("I1"), "{refused}");
    // Once the other change is gone, the first one can go too: the content counts, not the revision.
    history::undo_last(&w.app, &tamar).unwrap();
    history::undo_set(&w.app, &wren, first.change.unwrap()).unwrap();
    assert_eq!(decide::ideas(&w.app, &wren, w.product).unwrap()[0].idea.title, "One");
}

#[test]
fn what_others_built_on_is_not_taken_back() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    let (one, two) = (w.story(&wren, "One"), w.story(&wren, "Two"));
    link(&w.app, &tamar, LinkEnds { kind: LinkKind::NeededBy, from: one, to: two }).unwrap();
    let refused = history::undo_last(&w.app, &wren).unwrap_err();
    assert_eq!(refused.code(), "in-use");
    assert!(refused.detail().contains("S2"), "{refused}");
}

#[test]
fn a_removal_comes_back_with_all_that_hung_on_it() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let (one, two) = (w.story(&wren, "One"), w.story(&wren, "Two"));
    iron_kite_ops::specify::add_criterion(&w.app, &wren, 1.into(), "Given one, then two").unwrap();
    link(&w.app, &wren, LinkEnds { kind: LinkKind::NeededBy, from: one, to: two }).unwrap();
    let board = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    let removed = remove(&w.app, &wren, one, 1).unwrap();
    let less = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    assert_eq!((less.stories.len(), less.stories[0].needs.len()), (1, 0));
    history::undo_set(&w.app, &wren, removed.change.unwrap()).unwrap();
    let again = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    assert_eq!(again.stories[0].criteria[0].words, board.stories[0].criteria[0].words);
    assert_eq!(again.stories[1].needs, board.stories[1].needs);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn a_stale_edit_gets_the_present_values_and_changes_nothing() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    edit(&w.app, &wren, idea, set(1, json!({ "title": "Two" }))).unwrap();
    match edit(&w.app, &wren, idea, set(1, json!({ "title": "Three" }))).unwrap_err() {
        Problem::Stale { present } => {
            assert_eq!((&present["title"], &present["rev"]), (&json!("Two"), &json!(2)));
        }
        other => panic!("{other}"),
    }
    let lines = history::history(&w.app, &wren, idea).unwrap();
    assert_eq!(lines.iter().map(|l| l.label.as_str()).collect::<Vec<_>>(), ["changed title of I1", "added I1"]);
    assert_eq!(lines[0].who.as_deref(), Some("editor"));
}

#[test]
fn a_contributor_takes_back_only_what_is_the_contributors_own() {
    let w = workspace();
    let (tamar, joss) = (w.person(Role::Editor), w.person(Role::Contributor));
    let saved = edit(&w.app, &tamar, w.idea(&tamar, "One"), set(1, json!({ "title": "Two" }))).unwrap();
    let refused = history::undo_set(&w.app, &joss, saved.change.unwrap()).unwrap_err();
    assert_eq!(refused, Problem::NotAllowed { needs: "editor" });
    w.bring(&joss, VOICES);
    history::undo_last(&w.app, &joss).unwrap();
    assert_eq!(items(&w), 0);
}

#[test]
fn an_edit_that_changes_nothing_leaves_no_trace() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    assert_eq!(edit(&w.app, &wren, idea, set(1, json!({ "title": " One " }))).unwrap().change, None);
    assert_eq!(history::history(&w.app, &wren, Thing::new(ThingKind::Idea, 1)).unwrap().len(), 1);
}

fn told(w: &crate::common::Workspace, thing: Thing) -> Vec<Vec<String>> {
    let lines = history::history(&w.app, &command(), thing).unwrap();
    lines.into_iter().map(|line| line.changes.into_iter().map(|one| one.words).collect()).collect()
}

#[test]
fn history_tells_in_words_what_changed_on_a_thing_its_links_and_its_parts() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let idea = w.idea(&wren, "One");
    edit(&w.app, &wren, idea, set(1, json!({ "effort": 3, "reach": 200 }))).unwrap();
    edit(&w.app, &wren, idea, set(2, json!({ "effort": 5, "reach": null }))).unwrap();
    let other = w.idea(&wren, "Two");
    link(&w.app, &wren, LinkEnds { kind: LinkKind::NeededBy, from: idea, to: other }).unwrap();
    assert_eq!(
        told(&w, idea),
        [
            vec!["made I2 depend on I1"],
            vec!["changed effort from 3 to 5", "cleared reach a quarter, which was 200"],
            vec!["set effort to 3", "set reach a quarter to 200"],
            vec!["added"],
        ]
    );
    assert_eq!(told(&w, other)[0], ["made I2 depend on I1"]);
    let story = w.story(&wren, "Pay");
    iron_kite_ops::specify::add_criterion(&w.app, &wren, story.id.into(), "Given a card, when I pay, then I sail")
        .unwrap();
    assert_eq!(told(&w, story)[0], ["added the criterion “Given a card, when I pay, then I sail”"]);
}

#[test]
fn one_value_is_taken_back_and_what_came_later_stays() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    let idea = w.idea(&wren, "One");
    let first = edit(&w.app, &wren, idea, set(1, json!({ "effort": 3, "reach": 200 }))).unwrap().change.unwrap();
    edit(&w.app, &tamar, idea, set(2, json!({ "title": "Two", "impact": 2 }))).unwrap();
    let part =
        |names: &[&str]| history::UndoPart { thing: idea, names: names.iter().map(|&name| name.into()).collect() };
    let saved = history::undo_part(&w.app, &wren, first, part(&["effort"])).unwrap();
    assert_eq!(saved.label, "took back a part: cleared effort, which was 3 on I1");
    let values =
        || w.rows(iron_kite_core::fields::Collection::Idea, &["title", "effort", "reach", "impact"])[0].clone();
    assert_eq!(values(), [json!("Two"), json!(null), json!(200.0), json!(2.0)]);
    // There is nothing of it left to take back, and what nobody touched still is.
    assert_eq!(history::undo_part(&w.app, &wren, first, part(&["effort"])).unwrap_err().code(), "changed-since");
    assert_eq!(history::undo_part(&w.app, &wren, first, part(&["title"])).unwrap_err().code(), "nothing-to-undo");
    history::undo_part(&w.app, &wren, first, part(&["reach"])).unwrap();
    assert_eq!(values(), [json!("Two"), json!(null), json!(null), json!(2.0)]);
    // The whole of a change stays out of the way of others, too.
    let second = edit(&w.app, &wren, idea, set(rev_of(&w.app, &wren, idea).unwrap(), json!({ "effort": 8 })))
        .unwrap()
        .change
        .unwrap();
    edit(&w.app, &tamar, idea, set(rev_of(&w.app, &wren, idea).unwrap(), json!({ "title": "Three" }))).unwrap();
    history::undo_set(&w.app, &wren, second).unwrap();
    assert_eq!(values()[..2], [json!("Three"), json!(null)]);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

proptest::proptest! {
    #![proptest_config(proptest::prelude::ProptestConfig { cases: proptest::prelude::ProptestConfig::default().cases / 10, failure_persistence: None, ..proptest::prelude::ProptestConfig::default() })]

    /// Held against a list of all values that each field ever had: a change is taken back where each value that it changed
    /// stands as it left it, and then exactly these are as before it.
    #[test]
    fn a_change_is_taken_back_by_the_values_that_it_changed(
        edits in proptest::collection::vec(proptest::collection::btree_map(0usize..4, 1u8..4, 1..3), 1..7),
        which in proptest::prelude::any::<proptest::sample::Index>(),
    ) {
        const FIELDS: [&str; 4] = ["reach", "impact", "effort", "value"];
        let w = workspace();
        let wren = w.person(Role::Editor);
        let idea = w.idea(&wren, "One");
        let mut had = vec![[None; 4]];
        let mut sets = vec![];
        for change in &edits {
            let mut now = *had.last().unwrap();
            let values: serde_json::Map<String, serde_json::Value> =
                change.iter().map(|(field, value)| (FIELDS[*field].to_owned(), json!(value))).collect();
            for (field, value) in change {
                now[*field] = Some(f64::from(*value));
            }
            let rev = rev_of(&w.app, &wren, idea).unwrap();
            let saved = edit(&w.app, &wren, idea, Edit { rev, set: values }).unwrap();
            if let Some(id) = saved.change {
                had.push(now);
                sets.push(id);
            }
        }
        let at = which.index(sets.len());
        let (before, after, last) = (had[at], had[at + 1], *had.last().unwrap());
        let touched: Vec<usize> = (0..4).filter(|field| before[*field] != after[*field]).collect();
        let stands = touched.iter().all(|field| last[*field] == after[*field]);
        let undone = history::undo_set(&w.app, &wren, sets[at]);
        proptest::prop_assert_eq!(undone.is_ok(), stands);
        let mut expected = last;
        for field in touched.iter().filter(|_| stands) {
            expected[*field] = before[*field];
        }
        let row = w.rows(iron_kite_core::fields::Collection::Idea, &FIELDS)[0].clone();
        let values: Vec<Option<f64>> = row.iter().map(serde_json::Value::as_f64).collect();
        proptest::prop_assert_eq!(values, expected.to_vec());
    }
}

/// A place outside that notes with which key it is asked.
#[derive(Clone, Default)]
struct Asked(Arc<Mutex<Vec<Question>>>);

/// A place and the key that it was asked with.
type Question = (String, Option<String>);

impl Outside for Asked {
    fn fetch(&self, ask: &Fetch<'_>) -> Result<Fetched, String> {
        self.0.lock().unwrap().push((ask.place.into(), ask.secret.map(str::to_owned)));
        Ok(Fetched { cursor: "1".into(), ..Fetched::default() })
    }

    fn search(&self, _: &str) -> Result<PagesFound, String> {
        Ok(PagesFound::default())
    }

    fn may(&self, _: ChannelKind, _: &str) -> Result<(), String> {
        Ok(())
    }
}

#[test]
fn to_take_something_back_takes_what_it_took_to_do_it_and_a_key_stays_with_its_place() {
    let asked = Asked::default();
    let Workspace { app, product, dir } = workspace();
    let w = Workspace { app: app.with_outside(Box::new(asked.clone())), product, dir };
    let (owner, editor) = (w.person(Role::Owner), w.person(Role::Editor));
    let (here, there) = ("https://here.example", "https://there.example");
    let new = NewChannel {
        product: w.product,
        name: "Tickets".into(),
        kind: ChannelKind::Desk,
        place: here.into(),
        key: Some("for-here".into()),
        every_minutes: 5,
        covers: false,
    };
    let id = made(&listen::add_channel(&w.app, &owner, new).unwrap()).id.into();
    let change = |rev: i64, place: &str, key: Option<&str>| ChannelChange {
        rev,
        place: Some(place.into()),
        key: key.map(str::to_owned),
        every_minutes: None,
        covers: None,
        paused: None,
    };
    let look = || {
        listen::look_now(&w.app, &owner, id).unwrap();
        jobs::work_off(&w.app, &command()).unwrap();
        asked.0.lock().unwrap().pop().unwrap()
    };
    assert_eq!(look(), (here.into(), Some("for-here".into())));
    // Another place does not get it.
    listen::change_channel(&w.app, &owner, id, change(1, there, None)).unwrap();
    assert_eq!(look(), (there.into(), None));
    let saved = listen::change_channel(&w.app, &owner, id, change(2, there, Some("for-there"))).unwrap();
    assert_eq!(look(), (there.into(), Some("for-there".into())));
    let moved = listen::change_channel(&w.app, &owner, id, change(3, "https://third.example", Some("third"))).unwrap();
    // An editor may not take back what took an owner; the former host gets no other's key either way.
    for set in [saved.change, moved.change].into_iter().flatten() {
        let problem = history::undo_set(&w.app, &editor, set).unwrap_err();
        assert_eq!(problem, Problem::NotAllowed { needs: "owner" });
    }
    history::undo_set(&w.app, &owner, moved.change.unwrap()).unwrap();
    assert_eq!(look(), (there.into(), None));
    // Nor may an editor do again what an owner took back, and nobody is offered what they may not.
    let undo = history::history(&w.app, &owner, Thing::new(ThingKind::Channel, i64::from(id))).unwrap()[0].id;
    assert!(matches!(history::undo_set(&w.app, &editor, undo), Err(Problem::NotAllowed { .. })));
    assert_eq!(history::undo_state(&w.app, &editor).unwrap().undo, None);
    let before =
        Call { actor: owner.actor.clone().map(|actor| Actor { role: Role::Editor, ..actor }), ..owner.clone() };
    assert_eq!(history::undo_state(&w.app, &before).unwrap().undo, None, "whoever is no owner any more");
    assert!(matches!(history::undo_last(&w.app, &before), Err(Problem::NotAllowed { .. })));
}

#[test]
fn what_somebody_keeps_for_themselves_is_not_there_for_others() {
    let w = workspace();
    let (viewer, owner) = (w.person(Role::Viewer), w.person(Role::Owner));
    let input = |shared: bool| ViewInput {
        name: "My doubts about Tamar".into(),
        shared,
        opens_first: false,
        position: None,
        definition: serde_json::from_value(json!({ "kind": "table" })).unwrap(),
    };
    let labels = Arc::new(Mutex::new(Vec::new()));
    let told = Arc::clone(&labels);
    w.app.on_change(move |change| told.lock().unwrap().push(change.label.clone()));
    let saved = collections::add_view(&w.app, &viewer, w.product, Collection::Idea, input(false)).unwrap();
    let view = made(&saved);
    assert!(labels.lock().unwrap().iter().all(|label| !label.contains("Tamar")), "live changes name it");
    for problem in [
        history::history(&w.app, &owner, view).map(drop).unwrap_err(),
        iron_kite_ops::trace::trace(&w.app, &owner, view).map(drop).unwrap_err(),
        iron_kite_ops::talk::talk(&w.app, &owner, view).map(drop).unwrap_err(),
    ] {
        assert_eq!(problem.code(), "not-found");
    }
    assert_eq!(history::undo_set(&w.app, &owner, saved.change.unwrap()).unwrap_err().code(), "nothing-to-undo");
    // Its owner may, though only a viewer.
    assert_eq!(history::history(&w.app, &viewer, view).unwrap().len(), 1);
    history::undo_set(&w.app, &viewer, saved.change.unwrap()).unwrap();
    assert_eq!(history::history(&w.app, &owner, view).map(drop).unwrap_err().code(), "not-found");
}
