//! Fields that a team adds, cells, views: who may, what is refused, and that undo brings everything back.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, workspace};
use iron_kite_core::fields::{Collection, FieldType, OwnFieldInput};
use iron_kite_core::listen::Columns;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::{ExcerptId, Thing, ThingKind};
use iron_kite_ops::collections::{
    self, CellChange, CellChanges, ExportAsk, FieldPlace, Paste, PasteRow, RowsAsk, ViewInput,
};
use iron_kite_ops::listen::{self, NewFinding, WhoKind};
use iron_kite_ops::things::{Edit, edit, rev_of};
use iron_kite_ops::{Call, Saved, history};
use proptest::prelude::*;
use serde_json::{Map, Value, json};

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

fn input(value: Value) -> OwnFieldInput {
    serde_json::from_value(value).unwrap()
}

/// Adds a field to the ideas and gives its number.
fn add(w: &Workspace, call: &Call, value: Value) -> i64 {
    collections::add_field(&w.app, call, Collection::Idea, input(value)).unwrap().thing.unwrap().id
}

fn ask(w: &Workspace, query: Value) -> RowsAsk {
    serde_json::from_value(json!({ "product": w.product, "query": query })).unwrap()
}

/// The value of a field of every idea, in the order of their numbers.
fn values(w: &Workspace, call: &Call, field: &str) -> Vec<Value> {
    let page = collections::rows(&w.app, call, Collection::Idea, &ask(w, json!({ "fields": [field] }))).unwrap();
    page.rows.iter().map(|row| row.values[field].clone()).collect()
}

fn set(w: &Workspace, call: &Call, id: i64, rev: i64, values: Value) -> Result<Saved, Problem> {
    let thing = Thing::new(ThingKind::Idea, id);
    edit(&w.app, call, thing, Edit { rev, set: map(values) })
}

#[test]
fn a_field_of_the_team_is_edited_filtered_and_undone_like_any_other() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    w.idea(&wren, "One");
    w.idea(&wren, "Two");
    let field = add(
        &w,
        &wren,
        json!({ "label": "Size", "type": "choice", "choices": [
        { "key": "", "label": "Small" }, { "key": "", "label": "Large" }] }),
    );
    let name = format!("f{field}");
    let saved = set(&w, &wren, 1, 1, json!({ &name: "c2" })).unwrap();
    assert_eq!(saved.label, "changed Size of I1");
    assert_eq!(values(&w, &wren, &name), [json!("c2"), Value::Null]);
    let large = json!({ "filter": { "field": &name, "operator": "is", "value": "c2" } });
    assert_eq!(collections::rows(&w.app, &wren, Collection::Idea, &ask(&w, large)).unwrap().count, 1);
    // Renaming a choice touches no row.
    let fields = collections::fields(&w.app, &wren, Collection::Idea).unwrap();
    let rev = fields.iter().find(|def| def.own == Some(field)).unwrap().rev.unwrap();
    let renamed = input(json!({ "label": "Size", "type": "choice", "choices": [
        { "key": "c1", "label": "Small" }, { "key": "c2", "label": "Huge" }] }));
    collections::change_field(&w.app, &wren, field, rev, renamed).unwrap();
    let groups = ask(&w, json!({ "group": [{ "field": &name }] }));
    let groups = collections::groups(&w.app, &wren, Collection::Idea, &groups).unwrap();
    let labels: Vec<&str> = groups.groups.iter().map(|group| group.keys[0].label.as_str()).collect();
    assert_eq!(labels, ["Huge", "no size"]);
    // An older revision is refused, and the present values come with it.
    match set(&w, &wren, 1, 1, json!({ &name: "c1" })).unwrap_err() {
        Problem::Stale { present } => assert_eq!(present[&name], "c2"),
        other => panic!("{other}"),
    }
    history::undo_set(&w.app, &wren, saved.change.unwrap()).unwrap();
    assert_eq!(values(&w, &wren, &name), [Value::Null, Value::Null]);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn a_retired_field_keeps_its_values_and_its_place_is_the_teams() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    w.idea(&wren, "One");
    let (first, second) = (
        add(&w, &wren, json!({ "label": "Pier", "type": "text" })),
        add(&w, &wren, json!({ "label": "Boat", "type": "text" })),
    );
    set(&w, &wren, 1, 1, json!({ format!("f{first}"): "north" })).unwrap();
    collections::move_field(&w.app, &wren, second, FieldPlace { rev: 1, before: Some(first) }).unwrap();
    let order = || -> Vec<i64> {
        let fields = collections::fields(&w.app, &wren, Collection::Idea).unwrap();
        fields.iter().filter_map(|def| def.own).collect()
    };
    assert_eq!(order(), [second, first]);
    collections::retire_field(&w.app, &wren, first, 1, true).unwrap();
    let gone = collections::rows(&w.app, &wren, Collection::Idea, &ask(&w, json!({ "fields": [format!("f{first}")] })));
    assert!(matches!(gone, Err(Problem::Invalid(_))));
    // The name may be used again in the meantime; then the old one does not come back beside it.
    let third = add(&w, &wren, json!({ "label": "pier", "type": "number", "unit": null }));
    assert!(collections::retire_field(&w.app, &wren, first, 2, false).is_err());
    collections::retire_field(&w.app, &wren, third, 1, true).unwrap();
    collections::retire_field(&w.app, &wren, first, 2, false).unwrap();
    assert_eq!(values(&w, &wren, &format!("f{first}")), [json!("north")]);
}

#[test]
fn a_link_has_two_sides_and_moves_where_one_side_takes_one() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    for title in ["One", "Two", "Three"] {
        w.idea(&wren, title);
    }
    // An idea comes before several others, each of which comes after one only.
    let before = add(
        &w,
        &wren,
        json!({ "label": "Comes before", "type": "link", "to": "idea", "many": true,
        "back": null, "back_label": "Comes after", "back_many": false }),
    );
    let (before, after) = (format!("f{before}"), format!("f{}", before + 1));
    set(&w, &wren, 1, 1, json!({ &before: [2, 3] })).unwrap();
    assert_eq!(
        values(&w, &wren, &after),
        [Value::Null, json!([{ "id": 1, "label": "I1 One" }]), json!([{ "id": 1, "label": "I1 One" }])]
    );
    set(&w, &wren, 2, 1, json!({ &before: [3] })).unwrap();
    assert_eq!(values(&w, &wren, &before)[0], json!([{ "id": 2, "label": "I2 Two" }]));
    assert!(set(&w, &wren, 3, 1, json!({ &after: [1, 2] })).is_err());
    set(&w, &wren, 3, 1, json!({ &after: [] })).unwrap();
    assert_eq!(values(&w, &wren, &before)[1], Value::Null);
    let missing = set(&w, &wren, 1, 1, json!({ &before: [99] })).unwrap_err();
    assert!(missing.detail().contains("no idea with the number 99"), "{missing}");
    // A number over linked things.
    let sum = add(
        &w,
        &wren,
        json!({ "label": "How many", "type": "rolled_up", "path": [&before], "measure": "count", "of": null }),
    );
    assert_eq!(values(&w, &wren, &format!("f{sum}")), [json!(1), json!(0), json!(0)]);
    assert!(set(&w, &wren, 1, 1, json!({ format!("f{sum}"): 4 })).is_err());
}

#[test]
fn who_may() {
    let w = workspace();
    let (wren, joss, vic) = (w.person(Role::Editor), w.person(Role::Contributor), w.person(Role::Viewer));
    w.idea(&wren, "One");
    let field = || input(json!({ "label": "Pier", "type": "text" }));
    assert_eq!(
        collections::add_field(&w.app, &joss, Collection::Idea, field()).unwrap_err(),
        Problem::NotAllowed { needs: "editor" }
    );
    let view = |shared| -> ViewInput {
        serde_json::from_value(json!({ "name": "Mine", "shared": shared, "definition": { "kind": "list" } })).unwrap()
    };
    let add = |call: &Call, shared| collections::add_view(&w.app, call, w.product, Collection::Idea, view(shared));
    assert_eq!(add(&vic, true).unwrap_err(), Problem::NotAllowed { needs: "editor" });
    let own = add(&vic, false).unwrap().thing.unwrap().id;
    let names = |call: &Call| collections::views(&w.app, call, w.product, Collection::Idea).unwrap().len();
    assert_eq!((names(&vic), names(&wren)), (1, 0));
    // Somebody else's private view is as if it were not there, also for an owner.
    let owner = w.person(Role::Owner);
    assert!(matches!(collections::remove_view(&w.app, &owner, own, 1), Err(Problem::NotFound(_))));
    collections::remove_view(&w.app, &vic, own, 1).unwrap();
    assert_eq!(names(&vic), 0);
}

#[test]
fn one_view_opens_first_and_a_view_of_what_is_not_there_is_refused() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let view = |name: &str, first: bool| -> ViewInput {
        serde_json::from_value(json!({ "name": name, "shared": true, "opens_first": first,
            "definition": { "kind": "columns", "group": [{ "field": "state" }] } }))
        .unwrap()
    };
    for (name, first) in [("A", true), ("B", true), ("C", false)] {
        collections::add_view(&w.app, &wren, w.product, Collection::Idea, view(name, first)).unwrap();
    }
    let views = collections::views(&w.app, &wren, w.product, Collection::Idea).unwrap();
    let shown: Vec<_> = views.iter().map(|view| (view.name.as_str(), view.opens_first)).collect();
    assert_eq!(shown, [("A", false), ("B", true), ("C", false)]);
    let mut bad = view("D", false);
    bad.definition.group[0].field = "colour".into();
    match collections::add_view(&w.app, &wren, w.product, Collection::Idea, bad).unwrap_err() {
        Problem::Invalid(faults) => assert_eq!(faults[0].field, "/definition/group/0/field"),
        other => panic!("{other}"),
    }
}

#[test]
fn a_group_of_too_many_values_is_refused_in_words() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let table: String = (0..600).map(|n| format!("The boat was late {n},\n")).collect();
    w.bring(&wren, &format!("text,person\n{table}"));
    let groups = ask(&w, json!({ "group": [{ "field": "text" }] }));
    let refused = collections::groups(&w.app, &wren, Collection::FeedbackItem, &groups).unwrap_err();
    assert_eq!(refused.code(), "too-many-groups");
    assert!(refused.detail().contains("'Words' has more than 500"), "{refused}");
}

#[test]
fn a_calendar_link_shows_the_view_until_it_is_ended() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let release = json!({ "title": "Eider", "starts_on": "2026-07-01", "ends_on": "2026-08-31" });
    w.add(&wren, Collection::Release, &release);
    let view: ViewInput = serde_json::from_value(json!({ "name": "Releases", "shared": true,
        "definition": { "kind": "calendar", "from": "starts_on", "to": "ends_on" } }))
    .unwrap();
    let view = collections::add_view(&w.app, &wren, w.product, Collection::Release, view).unwrap().thing.unwrap().id;
    let path = collections::share_calendar(&w.app, &wren, view).unwrap().path;
    let key = path.trim_start_matches("/api/v1/calendars/").trim_end_matches(".ics").to_owned();
    let nobody = Call { actor: None, ..crate::common::command() };
    const BASE: &str = "https://kite.crossing.example";
    let text = collections::calendar(&w.app, &nobody, &key, BASE).unwrap();
    assert!(text.contains("URL:https://kite.crossing.example/p/1/at/release/1\r\n"), "{text}");
    assert!(text.contains("SUMMARY:R1 Eider\r\n") && text.contains("DTEND;VALUE=DATE:20260901\r\n"), "{text}");
    assert!(matches!(collections::calendar(&w.app, &nobody, "guess", BASE), Err(Problem::NotFound(_))));
    collections::end_calendar(&w.app, &wren, view).unwrap();
    assert!(matches!(collections::calendar(&w.app, &nobody, &key, BASE), Err(Problem::NotFound(_))));
}

#[test]
fn what_a_view_shows_is_taken_out_by_the_labels_that_people_read() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    w.idea(&wren, "One");
    let who = add(&w, &wren, json!({ "label": "Looks after it", "type": "member" }));
    let me = wren.actor.as_ref().unwrap().user_id.unwrap();
    set(&w, &wren, 1, 1, json!({ format!("f{who}"): me })).unwrap();
    let ask = |kind: &str| -> ExportAsk {
        let fields = ["reference", "title", "state", &format!("f{who}")];
        serde_json::from_value(json!({ "product": w.product, "query": { "fields": fields }, "kind": kind })).unwrap()
    };
    let csv = collections::export(&w.app, &wren, Collection::Idea, &ask("csv")).unwrap();
    assert_eq!(String::from_utf8(csv.bytes).unwrap(), "Reference,Idea,State,Looks after it\nI1,One,raw,editor\n");
    assert_eq!(csv.name, "ideas-2026-06-30.csv");
    let xlsx = collections::export(&w.app, &wren, Collection::Idea, &ask("xlsx")).unwrap();
    assert!(xlsx.bytes.starts_with(b"PK"));
}

#[test]
fn words_are_found_by_their_beginnings_in_what_belongs_to_the_product() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    w.idea(&wren, "Tell people before they leave home");
    w.bring(&wren, "text,person\nNobody told me before I left,Ann\n");
    let found = |words: &str, product| collections::search(&w.app, &wren, product, words, None).unwrap();
    let both = found("before le", w.product);
    assert_eq!((both.things.len(), both.feedback.len()), (1, 1));
    assert_eq!(both.things[0].reference, "I1");
    assert!(both.feedback[0].snippet.contains("‹before›"), "{:?}", both.feedback);
    assert!(found("before", 99.into()).things.is_empty());
    assert!(found("b", w.product).things.is_empty());
}

/// What a cell may be pasted with: some fit the field, some do not.
fn text() -> impl Strategy<Value = String> {
    prop::sample::select(vec![
        "",
        "3",
        "1,5",
        "2026-03-31",
        "Small",
        "large",
        "yes",
        "no",
        "many\tthings",
        "= 1+1",
        "€ 12",
    ])
    .prop_map(str::to_owned)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 10))]

    #[test]
    fn a_paste_changes_exactly_its_cells_or_nothing(block in prop::collection::vec(prop::collection::vec(text(), 3), 1..4)) {
        let w = workspace();
        let wren = w.person(Role::Editor);
        for n in 0..4 {
            w.idea(&wren, &format!("Idea {n}"));
        }
        let kinds = [json!({ "label": "A", "type": "number", "unit": null }), json!({ "label": "B", "type": "text" }),
            json!({ "label": "C", "type": "choice", "choices": [{ "key": "", "label": "Small" }, { "key": "", "label": "Large" }] })];
        let ids: Vec<i64> = kinds.into_iter().map(|kind| add(&w, &wren, kind)).collect();
        let names: Vec<String> = ids.iter().map(|id| format!("f{id}")).collect();
        let seen = || names.iter().map(|name| values(&w, &wren, name)).collect::<Vec<_>>();
        let before = seen();
        let rows = (0..block.len()).map(|n| PasteRow { id: i64::try_from(n).unwrap() + 1, rev: 1 }).collect();
        let paste = Paste { product: w.product, rows, fields: names.clone(), cells: block.clone() };
        let fits = |column: usize, text: &str| match column {
            0 => ["", "3", "1,5", "€ 12"].contains(&text),
            1 => true,
            _ => ["", "Small", "large"].contains(&text),
        };
        let all_fit = block.iter().all(|line| line.iter().enumerate().all(|(n, text)| fits(n, text)));
        match collections::paste(&w.app, &wren, Collection::Idea, &paste) {
            Ok(saved) => {
                prop_assert!(all_fit);
                let after = seen();
                for (column, column_values) in after.iter().enumerate() {
                    for (line, value) in column_values.iter().enumerate() {
                        let pasted = block.get(line).map(|line| line[column].trim());
                        // Outside the block nothing changed; inside, empty text clears.
                        prop_assert_eq!(value.is_null(), pasted.is_none_or(str::is_empty), "{} {}", column, line);
                    }
                }
                if let Some(change) = saved.change {
                    history::undo_set(&w.app, &wren, change).unwrap();
                }
            }
            Err(Problem::Invalid(_)) => prop_assert!(!all_fit),
            Err(other) => return Err(TestCaseError::fail(other.to_string())),
        }
        prop_assert_eq!(seen(), before);
    }

    #[test]
    fn a_conversion_that_is_undone_restores_every_value(
        texts in prop::collection::vec(text(), 1..5),
        to in prop::sample::select(vec!["number", "date", "yes_no", "choice", "choices", "long_text", "date_range", "member", "web_address"]),
    ) {
        let w = workspace();
        let wren = w.person(Role::Editor);
        let field = add(&w, &wren, json!({ "label": "Kept", "type": "text" }));
        let name = format!("f{field}");
        for (n, text) in texts.iter().enumerate() {
            w.idea(&wren, &format!("Idea {n}"));
            set(&w, &wren, i64::try_from(n).unwrap() + 1, 1, json!({ &name: text })).unwrap();
        }
        let before = values(&w, &wren, &name);
        let to: FieldType = serde_json::from_value(json!({ "type": to, "unit": null, "choices": [] })).unwrap();
        let preview = collections::preview_conversion(&w.app, &wren, field, &to).unwrap();
        let to_yes_no = to == FieldType::YesNo;
        let saved = collections::convert_field(&w.app, &wren, field, 1, to).unwrap();
        let after = values(&w, &wren, &name);
        // What the preview says is lost is what is not there any more.
        let gone = before.iter().zip(&after).filter(|(old, new)| {
            let said_no = to_yes_no && old.as_str() == Some("no");
            !old.is_null() && (new.is_null() || **new == Value::Bool(false)) && !said_no
        });
        let whole_lost = preview.examples.iter().filter(|lost| lost.becomes.is_null()).count();
        prop_assert_eq!(gone.count(), whole_lost, "{:?} {:?}", before, after);
        history::undo_set(&w.app, &wren, saved.change.unwrap()).unwrap();
        prop_assert_eq!(values(&w, &wren, &name), before);
        let fields = collections::fields(&w.app, &wren, Collection::Idea).unwrap();
        prop_assert_eq!(&fields.iter().find(|def| def.own == Some(field)).unwrap().kind, &FieldType::Text);
    }
}

#[test]
fn a_change_of_many_is_all_or_nothing_and_within_its_product() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    w.idea(&wren, "One");
    w.idea(&wren, "Two");
    let other =
        iron_kite_ops::overview::add_product(&w.app, &crate::common::command(), "Gangway").unwrap().thing.unwrap().id;
    let change = |id, rev, reach: Value| CellChange { id, rev, set: map(json!({ "reach": reach })) };
    let all =
        |product, changes| collections::change_cells(&w.app, &wren, Collection::Idea, CellChanges { product, changes });
    assert!(matches!(all(w.product, vec![change(1, 1, json!(5)), change(2, 9, json!(6))]), Err(Problem::Stale { .. })));
    assert!(all(w.product, vec![change(1, 1, json!(5)), change(2, 1, json!("many"))]).is_err());
    assert!(all(other.into(), vec![change(1, 1, json!(5))]).is_err());
    assert_eq!(values(&w, &wren, "reach"), [Value::Null, Value::Null]);
    assert_eq!(all(w.product, vec![change(1, 1, json!(5)), change(2, 1, json!(6))]).unwrap().label, "changed 2 ideas");
    assert_eq!(values(&w, &wren, "reach"), [json!(5.0), json!(6.0)]);
    let too_many = (0..2_001).map(|n| change(n, 1, json!(1))).collect();
    assert!(matches!(all(w.product, too_many), Err(Problem::TooLarge(_))));
}

#[test]
fn a_thing_is_added_by_its_fields_and_stands_below_what_is_larger() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let add = |collection: Collection, level: Option<&str>, set: Value| {
        let new = json!({ "product": w.product, "level": level, "set": set });
        collections::add_thing(&w.app, &wren, collection, serde_json::from_value(new).unwrap())
    };
    for (collection, label) in [
        (Collection::Study, "added the study \"Why boats are late\""),
        (Collection::Document, "added D1"),
        (Collection::Sprint, "added the sprint \"Why boats are late\""),
        (Collection::Page, "added the page \"Why boats are late\""),
        (Collection::Release, "added R1"),
        (Collection::Idea, "added I1"),
    ] {
        assert_eq!(add(collection, None, json!({ "title": "Why boats are late" })).unwrap().label, label);
    }
    assert_eq!(add(Collection::Finding, None, json!({ "title": "x" })).unwrap_err().code(), "comes-with-feedback");
    assert!(matches!(add(Collection::Objective, None, json!({ "title": "x" })), Err(Problem::Invalid(_))));
    let backwards = json!({ "title": "x", "starts_on": "2026-02-01", "ends_on": "2026-01-01" });
    assert!(matches!(add(Collection::Sprint, None, backwards), Err(Problem::Invalid(_))));

    let work: Vec<_> = ["initiative", "epic", "feature", "story", "task"]
        .map(|level| add(Collection::WorkItem, Some(level), json!({ "title": level })).unwrap().thing.unwrap())
        .into();
    let below = |n: usize, parent: usize, rev: i64| {
        edit(&w.app, &wren, work[n], Edit { rev, set: map(json!({ "parent_id": work[parent].id })) })
    };
    for (n, parent) in [(1, 0), (2, 1), (3, 2), (4, 3)] {
        below(n, parent, 1).unwrap();
    }
    assert!(below(1, 3, 2).unwrap_err().detail().contains("cannot stand below a story"));
    // The story is one of its epic's, over the feature between them.
    let board = iron_kite_ops::specify::board(&w.app, &wren, w.product).unwrap();
    assert_eq!((board.stories[0].epic.unwrap().0, board.epics[0].progress.stories), (work[1].id, 1));
    // Only stories lie in a release.
    let release = |n: usize| edit(&w.app, &wren, work[n], Edit { rev: 2, set: map(json!({ "release_id": 1 })) });
    assert!(release(1).unwrap_err().detail().contains("Only stories"));
    release(3).unwrap();

    let page = |id| iron_kite_core::things::Thing::new(iron_kite_core::things::ThingKind::Page, id);
    add(Collection::Page, None, json!({ "title": "Below", "parent_id": 1 })).unwrap();
    let around = edit(&w.app, &wren, page(1), Edit { rev: 1, set: map(json!({ "parent_id": 2 })) });
    assert!(around.unwrap_err().detail().contains("below itself"));
}

#[test]
fn a_field_of_files_holds_what_was_put_in_and_a_whole_workspace_takes_it_along() {
    let w = workspace();
    let (wren, vic) = (w.person(Role::Owner), w.person(Role::Viewer));
    w.idea(&wren, "One");
    let field = format!("f{}", add(&w, &wren, json!({ "label": "Sketch", "type": "file" })));
    let png = b"\x89PNG\r\n\x1a\nno real picture".to_vec();
    let put = |call: &Call, name: &str, bytes: Vec<u8>| iron_kite_ops::attachments::put_in(&w.app, call, name, bytes);
    let file = put(&wren, "..\\pier/sketch \"1\".png", png.clone()).unwrap();
    assert_eq!((file.name.as_str(), file.media_type.as_str()), ("sketch 1.png", "image/png"));
    assert!(put(&vic, "x", png.clone()).is_err());
    assert!(put(&wren, "x", Vec::new()).is_err());
    assert!(matches!(put(&wren, "x", vec![0; 11 * 1024 * 1024]), Err(Problem::TooLarge(_))));
    assert!(set(&w, &wren, 1, 1, json!({ &field: 99 })).unwrap_err().detail().contains("a file that was put in"));
    set(&w, &wren, 1, 1, json!({ &field: file.id })).unwrap();
    let shown = json!({ "id": file.id, "name": "sketch 1.png", "media_type": "image/png" });
    assert_eq!(values(&w, &wren, &field), [shown]);

    let other = tempfile::tempdir().unwrap();
    let app = iron_kite_ops::App::open(other.path()).unwrap();
    crate::common::bring_whole(&app, crate::common::whole_file(&w.app)).unwrap();
    let there = iron_kite_ops::attachments::take_out(&app, &crate::common::command(), file.id).unwrap();
    assert_eq!(there, png);
    assert!(iron_kite_store::verify(other.path()).unwrap().faults.is_empty());
}

#[test]
fn me_is_whoever_asks_and_days_move_with_the_calendar() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Editor), w.person(Role::Editor));
    for title in ["One", "Two", "Three"] {
        w.idea(&wren, title);
    }
    let who = format!("f{}", add(&w, &wren, json!({ "label": "Looked after by", "type": "member" })));
    let by = format!("f{}", add(&w, &wren, json!({ "label": "By", "type": "date" })));
    let number = |call: &Call| call.actor.as_ref().unwrap().user_id.unwrap();
    set(&w, &wren, 1, 1, json!({ &who: number(&wren), &by: "2026-06-30" })).unwrap();
    set(&w, &wren, 2, 1, json!({ &who: number(&tamar), &by: "2026-07-01" })).unwrap();
    let found = |call: &Call, filter: Value| -> Vec<i64> {
        let page = collections::rows(&w.app, call, Collection::Idea, &ask(&w, json!({ "filter": filter }))).unwrap();
        page.rows.iter().map(|row| row.id).collect()
    };
    let mine = json!({ "field": &who, "operator": "any_of", "value": ["me"] });
    assert_eq!((found(&wren, mine.clone()), found(&tamar, mine)), (vec![1], vec![2]));
    assert_eq!(found(&wren, json!({ "field": &who, "operator": "none_of", "value": ["me"] })), [2, 3]);
    // The last day of June is this quarter's, the first of July the next one's.
    let within = |period: &str| json!({ "field": &by, "operator": "within", "value": { "relative": period } });
    assert_eq!((found(&wren, within("this_quarter")), found(&wren, within("next_quarter"))), (vec![1], vec![2]));
    assert_eq!(found(&wren, within("today")), [1]);
    assert!(set(&w, &wren, 3, 1, json!({ &who: 99 })).unwrap_err().detail().contains("somebody of the team"));
}

#[test]
fn the_rows_of_a_group_are_asked_for_by_its_keys() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    for (n, title) in ["One", "Two", "Three", "Four"].into_iter().enumerate() {
        w.idea(&wren, title);
        let reach = if n == 3 { Value::Null } else { json!(n % 2) };
        set(&w, &wren, i64::try_from(n).unwrap() + 1, 1, json!({ "reach": reach, "effort": n + 1 })).unwrap();
    }
    let query = json!({ "group": [{ "field": "reach" }], "totals": [{ "field": "effort", "measure": "sum" }],
        "order": [{ "field": "effort", "descending": true }] });
    let groups = collections::groups(&w.app, &wren, Collection::Idea, &ask(&w, query.clone())).unwrap();
    let shown: Vec<_> =
        groups.groups.iter().map(|group| (group.keys[0].label.as_str(), group.count, group.totals[0])).collect();
    assert_eq!(shown, [("0", 2, Some(4.0)), ("1", 1, Some(2.0)), ("no reach a quarter", 1, Some(4.0))]);
    assert_eq!((groups.count, groups.totals[0]), (4, Some(10.0)));
    for (group, ids) in groups.groups.iter().zip([vec![3, 1], vec![2], vec![4]]) {
        let within = RowsAsk { within: vec![group.keys[0].key.clone()], ..ask(&w, query.clone()) };
        let page = collections::rows(&w.app, &wren, Collection::Idea, &within).unwrap();
        assert_eq!(page.rows.iter().map(|row| row.id).collect::<Vec<_>>(), ids);
    }
    let strange = RowsAsk { within: vec![json!({ "a": 1 })], ..ask(&w, query) };
    assert!(collections::rows(&w.app, &wren, Collection::Idea, &strange).is_err());
}

/// Excerpts are narrowed by what is known of their item, and findings by who stands behind them; both follow when that changes.
#[test]
fn excerpts_are_narrowed_by_their_item_and_findings_by_who_is_behind_them() {
    let w = workspace();
    let wren = w.person(Role::Editor);
    let table = "text,who,account,stars,date\n\
         The ramp is steep. The crew is kind.,Ann,Hask Stores,2,2026-06-01\n\
         The boat was late.,Bo,Tern Dairy,5,2026-06-08\n\
         Nobody answers the phone.,,,1,2026-06-15\n";
    let columns =
        Columns { person: Some(1), account: Some(2), rating: Some(3), said_on: Some(4), ..Columns::default() };
    listen::import(&w.app, &wren, w.product, "voices.csv", table.as_bytes(), &columns).unwrap();
    let found = |collection: Collection, filter: Value| -> Vec<String> {
        let page = collections::rows(&w.app, &wren, collection, &ask(&w, json!({ "fields": [], "filter": filter })));
        page.unwrap().rows.into_iter().map(|row| row.reference).collect()
    };
    let excerpts = |field: &str, operator: &str, value: Value| {
        found(Collection::Excerpt, json!({ "field": field, "operator": operator, "value": value }))
    };
    let number = |collection: Collection, name: &str| {
        let page = collections::rows(&w.app, &wren, collection, &ask(&w, json!({ "fields": ["name"] }))).unwrap();
        page.rows.into_iter().find(|row| row.title == name).unwrap().id
    };
    let (ann, bo) = (number(Collection::Person, "Ann"), number(Collection::Person, "Bo"));
    let hask = number(Collection::Account, "Hask Stores");
    let to_account = |id: i64, segment: &str| {
        let thing = Thing::new(ThingKind::Account, id);
        let rev = rev_of(&w.app, &wren, thing).unwrap();
        edit(&w.app, &wren, thing, Edit { rev, set: map(json!({ "segment": segment })) }).unwrap();
    };
    to_account(hask, "Freight");

    assert_eq!(excerpts("person", "any_of", json!([ann])), ["X1", "X2"]);
    assert_eq!(excerpts("account", "any_of", json!([hask])), ["X1", "X2"]);
    assert_eq!(excerpts("segment", "is", json!("freight")), ["X1", "X2"]);
    assert_eq!(excerpts("segment", "contains", json!("REIG")), ["X1", "X2"]);
    assert_eq!(excerpts("rating", "at_most", json!(2)), ["X1", "X2", "X4"]);
    assert_eq!(excerpts("said_on", "between", json!(["2026-06-02", "2026-06-10"])), ["X3"]);
    assert_eq!(excerpts("source", "begins", json!("Voices")).len(), 4);
    assert_eq!(found(Collection::Excerpt, json!({ "field": "person", "operator": "empty" })), ["X4"]);
    assert_eq!(
        found(Collection::FeedbackItem, json!({ "field": "segment", "operator": "is", "value": "Freight" })),
        ["F1"]
    );
    let groups = json!({ "group": [{ "field": "account" }], "totals": [{ "field": "rating", "measure": "mean" }] });
    let groups = collections::groups(&w.app, &wren, Collection::Excerpt, &ask(&w, groups)).unwrap().groups;
    let told: Vec<_> = groups.iter().map(|one| (one.keys[0].label.as_str(), one.count, one.totals[0])).collect();
    assert_eq!(told, [("Hask Stores", 2, Some(2.0)), ("Tern Dairy", 1, Some(5.0)), ("no account", 1, Some(1.0))]);

    // Where the item turns out to be somebody else's, so are its excerpts; what is taken back goes back.
    let both = listen::Merge { kind: WhoKind::Person, keep: bo, others: vec![ann] };
    listen::merge(&w.app, &wren, both).unwrap();
    assert_eq!(excerpts("person", "any_of", json!([bo])), ["X1", "X2", "X3"]);
    history::undo_last(&w.app, &wren).unwrap();
    assert_eq!(excerpts("person", "any_of", json!([bo])), ["X3"]);

    for (title, excerpts) in [("It is hard to board", vec![1, 2]), ("It is late", vec![3, 4])] {
        let excerpts = excerpts.into_iter().map(ExcerptId).collect();
        listen::add_finding(&w.app, &wren, NewFinding { product_id: w.product, title: title.into(), excerpts })
            .unwrap();
    }
    let findings = |field: &str, operator: &str, value: Value| {
        found(Collection::Finding, json!({ "field": field, "operator": operator, "value": value }))
    };
    assert_eq!(findings("said_by", "any_of", json!([ann])), ["N1"]);
    assert_eq!(findings("said_by", "any_of", json!([bo])), ["N2"]);
    assert_eq!(findings("heard_from", "any_of", json!([hask])), ["N1"]);
    assert_eq!(findings("segments", "contains", json!("freight")), ["N1"]);
    assert_eq!(findings("sources", "contains", json!("voices")), ["N1", "N2"]);
    assert_eq!(found(Collection::Finding, json!({ "field": "segments", "operator": "empty" })), ["N2"]);
    assert_eq!(iron_kite_store::verify(w.dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn fields_are_offered_to_be_edited_as_far_as_a_role_may() {
    let w = workspace();
    let editable = |role: Role, collection: Collection| -> Vec<String> {
        let fields = collections::fields(&w.app, &w.person(role), collection).unwrap();
        assert!(fields.iter().all(|field| !(field.editable && field.withheld)));
        fields.into_iter().filter(|field| field.editable).map(|field| field.name).collect()
    };
    for collection in Collection::ALL.iter().copied() {
        assert_eq!(editable(Role::Viewer, collection), Vec::<String>::new(), "{collection}");
        let all = editable(Role::Owner, collection);
        assert_eq!(editable(Role::Editor, collection), all, "{collection}");
        assert!(editable(Role::Contributor, collection).iter().all(|name| all.contains(name)), "{collection}");
    }
    // Whoever listens says what people mean, and not what follows from it.
    let listens = editable(Role::Contributor, Collection::Finding);
    assert!(listens.contains(&"title".to_owned()) && !listens.contains(&"ideas".to_owned()), "{listens:?}");
    assert_eq!(editable(Role::Contributor, Collection::Idea), Vec::<String>::new());
}
