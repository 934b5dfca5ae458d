//! What runs by itself, what it would have done, and where it ends.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, command, fields, now, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::role::Role;
use iron_kite_core::rules::{DEEPEST, RuleDefinition};
use iron_kite_core::things::{RuleId, Thing};
use iron_kite_ops::rules::{RuleInput, RuleLine, TryRule, add_rule, change_rule, dry_run, rule_runs, rules};
use iron_kite_ops::things::{Edit, edit, rev_of};
use iron_kite_ops::{Call, afterwards, history, notice, talk};
use jiff::{SignedDuration, ToSpan};
use proptest::prelude::*;
use serde_json::{Value, json};

fn make(w: &Workspace, by: &Call, title: &str, definition: &Value) -> RuleId {
    let definition: RuleDefinition = serde_json::from_value(definition.clone()).unwrap();
    let input = RuleInput { product: w.product, title: title.into(), definition, runs: true, rev: 0 };
    RuleId(add_rule(&w.app, by, input).unwrap().thing.unwrap().id)
}

fn set(w: &Workspace, by: &Call, thing: Thing, values: &Value) -> i64 {
    let rev = rev_of(&w.app, by, thing).unwrap();
    edit(&w.app, by, thing, Edit { rev, set: fields(values) }).unwrap().change.unwrap_or_default()
}

fn catch_up(w: &Workspace) {
    afterwards::catch_up(&w.app, &command()).unwrap();
}

fn would(w: &Workspace, definition: &Value, rule: Option<RuleId>) -> Vec<RuleLine> {
    let definition: RuleDefinition = serde_json::from_value(definition.clone()).unwrap();
    dry_run(&w.app, &command(), TryRule { product: w.product, definition, rule }).unwrap().lines
}

fn values(w: &Workspace, names: &[&str]) -> Vec<Vec<Value>> {
    w.rows(Collection::Idea, names)
}

#[test]
fn a_rule_sets_adds_comments_and_tells_when_a_field_becomes_a_value() {
    let w = workspace();
    let (wren, vik) = (w.person(Role::Owner), w.person(Role::Viewer));
    let definition = json!({
        "collection": "idea", "when": { "sort": "becomes", "field": "moscow", "value": "must" },
        "only_if": { "field": "effort", "operator": "less", "value": 10 },
        "then": [
            { "act": "set", "field": "impact", "value": 2 },
            { "act": "create", "field": "increments", "title": "First step of {title}" },
            { "act": "comment", "words": "{reference} is a must now." },
            { "act": "notify", "roles": ["viewer"], "words": "{title} is a must." },
        ],
    });
    make(&w, &wren, "Musts", &definition);
    let (small, large) = (w.idea(&wren, "Small"), w.idea(&wren, "Large"));
    set(&w, &wren, small, &json!({ "effort": 3 }));
    set(&w, &wren, large, &json!({ "effort": 30 }));
    set(&w, &wren, small, &json!({ "moscow": "must" }));
    set(&w, &wren, large, &json!({ "moscow": "must" }));
    catch_up(&w);
    assert_eq!(values(&w, &["impact"]), [[json!(2.0)], [json!(null)]]);
    assert_eq!(w.rows(Collection::Increment, &["title", "idea_id"])[0][0], json!("First step of Small"));
    let said = talk::talk(&w.app, &wren, small).unwrap().comments;
    assert_eq!((said.len(), said[0].body.as_str(), said[0].by.as_str()), (1, "I1 is a must now.", "a rule"));
    let told = notice::notices(&w.app, &vik).unwrap().notices;
    assert_eq!((told.len(), told[0].words.as_str(), told[0].by.as_deref()), (1, "Small is a must.", None));
    // All of it is one change that says who did it, and one undo takes it back.
    let lines = history::history(&w.app, &wren, small).unwrap();
    assert_eq!((lines[0].label.as_str(), lines[0].way.as_str()), ("rule “Musts” on I1", "rule"));
    assert_eq!(history::undo_state(&w.app, &wren).unwrap().undo.as_deref(), Some("changed moscow of I2"));
    history::undo_set(&w.app, &wren, lines[0].id).unwrap();
    assert_eq!(values(&w, &["impact"])[0], [json!(null)]);
    assert!(w.rows(Collection::Increment, &["title"]).is_empty());
    // What is taken back sets nothing off.
    let must = history::history(&w.app, &wren, small).unwrap();
    catch_up(&w);
    assert_eq!(history::history(&w.app, &wren, small).unwrap().len(), must.len());
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

#[test]
fn a_step_that_cannot_be_done_leaves_nothing_and_says_why() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let definition = json!({
        "collection": "work_item", "when": { "sort": "created" },
        "then": [{ "act": "set", "field": "points", "value": 3 }, { "act": "move", "to": "handed_over", "team": 7 }],
    });
    let rule = make(&w, &wren, "Straight to the team", &definition);
    w.story(&wren, "Pay by card");
    catch_up(&w);
    assert_eq!(w.rows(Collection::WorkItem, &["points"])[0], [json!(null)]);
    let runs = rule_runs(&w.app, &wren, rule).unwrap();
    assert_eq!((runs.len(), runs[0].outcome.as_str()), (1, "failed"));
    assert!(
        runs[0].words.contains("not ready") && runs[0].words.contains("Nothing of it was done"),
        "{}",
        runs[0].words
    );
    assert_eq!(rules(&w.app, &wren, w.product).unwrap()[0].failed, 1);
}

#[test]
fn a_rule_does_no_more_than_people_may() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let definition = json!({
        "collection": "idea", "when": { "sort": "becomes", "field": "moscow", "value": "must" },
        "then": [{ "act": "create", "field": "epics", "title": "Build {title}" }],
    });
    let rule = make(&w, &wren, "Build it", &definition);
    let idea = w.idea(&wren, "Quiet cabin");
    set(&w, &wren, idea, &json!({ "moscow": "must" }));
    catch_up(&w);
    let runs = rule_runs(&w.app, &wren, rule).unwrap();
    assert!(runs[0].outcome == "failed" && runs[0].words.contains("not chosen yet"), "{}", runs[0].words);
    assert!(w.rows(Collection::WorkItem, &["title"]).is_empty());
}

#[test]
fn ideas_and_releases_move_by_the_steps_that_people_take() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let choose = json!({
        "collection": "idea", "when": { "sort": "becomes", "field": "moscow", "value": "must" },
        "then": [{ "act": "move", "to": "chosen" }],
    });
    make(&w, &wren, "Musts are chosen", &choose);
    let idea = w.idea(&wren, "Quiet cabin");
    set(&w, &wren, idea, &json!({ "reach": 1, "impact": 1, "confidence": 0.5, "effort": 1, "moscow": "must" }));
    catch_up(&w);
    assert_eq!(values(&w, &["state", "reason"])[0], [json!("chosen"), json!("By the rule “Musts are chosen”.")]);
    let out = json!({
        "collection": "release", "when": { "sort": "day_comes", "field": "ends_on" },
        "then": [{ "act": "move", "to": "released" }],
    });
    make(&w, &wren, "Out on its day", &out);
    w.add(&wren, Collection::Release, &json!({ "title": "Summer", "ends_on": "2026-07-02" }));
    let on = |days: i64| {
        let call = Call {
            now: now() + SignedDuration::from_hours(24 * days),
            today: command().today + days.days(),
            ..command()
        };
        afterwards::catch_up(&w.app, &call).unwrap();
        w.rows(Collection::Release, &["state"])[0][0].clone()
    };
    assert_eq!((on(0), on(1), on(3)), (json!("planned"), json!("planned"), json!("released")));
}

/// A rule cannot say where goes what is not done, so it says which that is and leaves the release to people.
#[test]
fn a_rule_releases_nothing_that_is_not_done() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let out = json!({
        "collection": "release", "when": { "sort": "day_comes", "field": "ends_on" },
        "then": [{ "act": "move", "to": "released" }],
    });
    let rule = make(&w, &wren, "Out on its day", &out);
    let release = w.add(&wren, Collection::Release, &json!({ "title": "Summer", "ends_on": "2026-07-02" }));
    let story = w.story(&wren, "Pay by card");
    set(&w, &wren, story, &json!({ "release_id": release.id }));
    catch_up(&w);
    let later = Call { now: now() + SignedDuration::from_hours(72), today: command().today + 3.days(), ..command() };
    afterwards::catch_up(&w.app, &later).unwrap();
    let runs = rule_runs(&w.app, &wren, rule).unwrap();
    assert!(runs[0].outcome == "failed" && runs[0].words.contains("are not done: S1"), "{}", runs[0].words);
    assert_eq!(w.rows(Collection::Release, &["state"])[0], [json!("planned")]);
    assert_eq!(w.rows(Collection::WorkItem, &["state", "reference"])[0], [json!("draft"), json!("S1")]);
}

#[test]
fn rules_that_lead_back_to_themselves_are_stopped_and_it_is_reported() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let swing = |from: i64, to: i64| {
        json!({ "collection": "idea", "when": { "sort": "becomes", "field": "value", "value": from },
            "then": [{ "act": "set", "field": "value", "value": to }] })
    };
    let there = make(&w, &wren, "There", &swing(1, 2));
    let back = make(&w, &wren, "Back", &swing(2, 1));
    let idea = w.idea(&wren, "Swing");
    catch_up(&w);
    let grow = json!({ "collection": "idea", "when": { "sort": "created" },
        "then": [{ "act": "create", "field": "needed_by", "title": "{title} again" }] });
    let grows = make(&w, &wren, "Grows", &grow);
    set(&w, &wren, idea, &json!({ "value": 1 }));
    w.idea(&wren, "A");
    catch_up(&w);
    let outcomes = |rule| {
        let runs = rule_runs(&w.app, &wren, rule).unwrap();
        runs.into_iter().rev().map(|run| run.outcome).collect::<Vec<_>>()
    };
    assert_eq!(outcomes(there), ["done", "stopped"]);
    assert_eq!(outcomes(back), ["done"]);
    let mut expected = vec!["done"; DEEPEST];
    expected.push("stopped");
    assert_eq!(outcomes(grows), expected);
    assert_eq!(values(&w, &["title"]).len(), DEEPEST + 2);
    // A new change of somebody begins a chain of its own.
    set(&w, &wren, idea, &json!({ "value": 7 }));
    set(&w, &wren, idea, &json!({ "value": 1 }));
    catch_up(&w);
    assert_eq!(outcomes(there).len(), 4);
}

#[test]
fn a_rule_whose_field_is_gone_waits_and_faults_are_named() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let definition: RuleDefinition = serde_json::from_value(json!({
        "collection": "idea", "when": { "sort": "becomes", "field": "people", "value": 3 },
        "then": [{ "act": "set", "field": "state", "value": "chosen" }],
    }))
    .unwrap();
    let input = RuleInput { product: w.product, title: "x".into(), definition, runs: true, rev: 0 };
    let problem = add_rule(&w.app, &wren, input.clone()).unwrap_err();
    // Who stands behind an idea is computed over links: nothing that a rule could see become something.
    let at = |problem: &iron_kite_core::problem::Problem| match problem {
        iron_kite_core::problem::Problem::Invalid(faults) => faults.iter().map(|fault| fault.field.clone()).collect(),
        _ => Vec::new(),
    };
    assert_eq!(at(&problem), ["/definition/when/field", "/definition/then/0/field"]);
    assert_eq!(add_rule(&w.app, &w.person(Role::Contributor), input).unwrap_err().code(), "not-allowed");
}

#[test]
fn a_changed_rule_says_what_became_of_it() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let definition = json!({ "collection": "idea", "when": { "sort": "created" }, "then": [{ "act": "comment", "words": "Hello" }] });
    let rule = make(&w, &wren, "Hello", &definition);
    let definition: RuleDefinition = serde_json::from_value(definition).unwrap();
    let input = RuleInput { product: w.product, title: "Hello".into(), definition, runs: false, rev: 1 };
    assert_eq!(change_rule(&w.app, &wren, rule, input).unwrap().label, "stopped the rule “Hello”");
    let idea = w.idea(&wren, "Quiet cabin");
    catch_up(&w);
    assert!(talk::talk(&w.app, &wren, idea).unwrap().comments.is_empty());
}

/// What somebody does to one of three ideas.
#[derive(Debug, Clone)]
struct Step {
    idea: usize,
    field: usize,
    to: u8,
    undo: bool,
}

const FIELDS: [&str; 3] = ["impact", "value", "opportunity"];

/// A rule over small numbers in few fields: so that many set one another off.
fn any_rule() -> impl Strategy<Value = Value> {
    let when = prop_oneof![
        (0usize..3, 1u8..4)
            .prop_map(|(field, value)| json!({ "sort": "becomes", "field": FIELDS[field], "value": value })),
        Just(json!({ "sort": "created" })),
    ];
    let only_if = prop_oneof![
        Just(Value::Null),
        (0usize..3, 1u8..4)
            .prop_map(|(field, value)| json!({ "field": FIELDS[field], "operator": "at_least", "value": value })),
    ];
    let act = prop_oneof![
        4 => (0usize..3, 1u8..4).prop_map(|(field, value)| json!({ "act": "set", "field": FIELDS[field], "value": value })),
        1 => Just(json!({ "act": "comment", "words": "So." })),
    ];
    (when, only_if, act).prop_map(
        |(when, only_if, act)| json!({ "collection": "idea", "when": when, "only_if": only_if, "then": [act] }),
    )
}

proptest! {
    #![proptest_config(ProptestConfig { cases: ProptestConfig::default().cases / 10, failure_persistence: None, ..ProptestConfig::default() })]

    /// Rules are made, people write, and what the rules did is held against a dry run of each over the same days: the same
    /// changes set it off, and it is stopped at the same places. And it all comes to an end.
    #[test]
    fn a_dry_run_and_the_real_run_agree(
        definitions in prop::collection::vec(any_rule(), 1..5),
        steps in prop::collection::vec((0usize..3, 0usize..3, 1u8..4, prop::bool::weighted(0.1)), 1..8),
    ) {
        let steps = steps.into_iter().map(|(idea, field, to, undo)| Step { idea, field, to, undo });
        let w = workspace();
        let wren = w.person(Role::Owner);
        let made: Vec<(RuleId, Value)> = definitions.into_iter().map(|one| (make(&w, &wren, "r", &one), one)).collect();
        let ideas: Vec<Thing> = (0..3).map(|n| w.idea(&wren, &format!("Idea {n}"))).collect();
        let mut edits = 0i32;
        for step in steps {
            if step.undo && edits > 0 {
                drop(history::undo_last(&w.app, &wren));
                edits -= 1;
            } else if !step.undo {
                edits += 1;
                let made = set(&w, &wren, ideas[step.idea], &json!({ FIELDS[step.field]: step.to }));
                // What changes nothing is nothing to take back.
                edits -= i32::from(made == 0);
            }
            catch_up(&w);
        }
        for (rule, definition) in made {
            let real: Vec<(Option<i64>, Thing, bool)> = rule_runs(&w.app, &wren, rule)
                .unwrap()
                .into_iter()
                .map(|run| (run.change, run.thing, run.outcome == "stopped"))
                .collect();
            let mut dry: Vec<(Option<i64>, Thing, bool)> = would(&w, &definition, Some(rule))
                .into_iter()
                .map(|run| (run.change, run.thing, run.outcome == "stopped"))
                .collect();
            let mut real = real;
            real.sort_by_key(|run| run.0);
            dry.sort_by_key(|run| run.0);
            prop_assert_eq!(real, dry);
        }
        prop_assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
    }

    /// The same for days that come: whatever days the program slept through.
    #[test]
    fn a_dry_run_over_days_and_the_real_run_agree(
        ends in prop::collection::vec((0i64..12, prop::bool::ANY), 1..5),
        mut awake in prop::collection::btree_set(0i64..10, 1..6),
        days in -3i32..4,
    ) {
        let w = workspace();
        let wren = w.person(Role::Owner);
        let definition = json!({
            "collection": "release", "when": { "sort": "day_comes", "field": "ends_on", "days": days },
            "only_if": { "field": "capacity", "operator": "empty" },
            "then": [{ "act": "notify", "roles": ["owner"], "words": "{title}" }],
        });
        let rule = make(&w, &wren, "Days", &definition);
        for (n, (day, large)) in ends.iter().enumerate() {
            let mut values = json!({ "title": format!("R{n}"), "ends_on": (command().today + day.days()).to_string() });
            if *large {
                values["capacity"] = 9.into();
            }
            w.add(&wren, Collection::Release, &values);
        }
        let at = |days: i64| Call { now: now() + SignedDuration::from_hours(24 * days), today: command().today + days.days(), ..command() };
        // The program runs on the day on which the rule is made.
        awake.insert(0);
        for day in &awake {
            afterwards::catch_up(&w.app, &at(*day)).unwrap();
        }
        let last = *awake.last().unwrap();
        let definition: RuleDefinition = serde_json::from_value(definition).unwrap();
        let ask = TryRule { product: w.product, definition, rule: Some(rule) };
        let key = |run: RuleLine| (run.day.unwrap(), run.thing);
        let mut dry: Vec<_> = dry_run(&w.app, &at(last), ask).unwrap().lines.into_iter().map(key).collect();
        let mut real: Vec<_> = rule_runs(&w.app, &wren, rule).unwrap().into_iter().map(key).collect();
        dry.sort();
        real.sort();
        prop_assert_eq!(real, dry);
    }
}
