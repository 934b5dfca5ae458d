//! Objectives, ideas and their steps: what is measured, what serves, what stands behind, and ideas that become one.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::{BTreeMap, BTreeSet};

use crate::common::subjects::{ready, sound, work};
use crate::common::{Workspace, command, fields, made, thing, workspace};
use iron_kite_core::decide::{Grade, NoForecast, Stage};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::Columns;
use iron_kite_core::role::Role;
use iron_kite_core::things::{ExcerptId, FindingId, IdeaId, IncrementId, Level, ObjectiveId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::collections::{self, NewThing};
use iron_kite_ops::decide::{self, DecisionInput, IdeaSheet, MeasurementTable, MergeIdeas, NewMeasurement, Serving};
use iron_kite_ops::learn::{self, NewResult};
use iron_kite_ops::listen::{self, NewFinding, NewQuotes};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::{Saved, history, trace};
use proptest::prelude::*;
use serde_json::{Value, json};

fn objective(w: &Workspace, title: &str, more: &Value) -> ObjectiveId {
    let mut set = json!({
        "title": title, "measure": "Left behind", "unit": "a week", "start_value": 30, "target_value": 10,
        "starts_on": "2026-06-01", "due_on": "2026-07-31",
    });
    set.as_object_mut().unwrap().extend(fields(more));
    ObjectiveId(w.add(&command(), Collection::Objective, &set).id)
}

fn measure(w: &Workspace, id: ObjectiveId, on: &str, value: f64) -> Saved {
    let new = NewMeasurement { taken_on: Some(on.into()), value, note: None };
    decide::measure(&w.app, &command(), id, new).unwrap()
}

fn edit(w: &Workspace, thing: Thing, set: &Value) -> Result<Saved, iron_kite_core::problem::Problem> {
    let rev = things::rev_of(&w.app, &command(), thing).unwrap();
    things::edit(&w.app, &command(), thing, Edit { rev, set: fields(set) })
}

fn link(w: &Workspace, kind: LinkKind, from: Thing, to: Thing) {
    things::link(&w.app, &command(), LinkEnds { kind, from, to }).unwrap();
}

fn sheet(w: &Workspace, idea: Thing) -> IdeaSheet {
    decide::idea(&w.app, &command(), IdeaId(idea.id)).unwrap()
}

fn result(w: &Workspace, idea: Thing, increment: Option<IncrementId>, set: &Value) -> Saved {
    let new = NewResult { idea_id: IdeaId(idea.id), release_id: None, increment_id: increment, set: fields(set) };
    learn::add_result(&w.app, &command(), new).unwrap()
}

#[test]
fn an_objective_is_measured_day_by_day_and_compared_with_the_straight_way() {
    let w = workspace();
    let id = objective(&w, "Fewer left behind", &json!({}));
    let empty = decide::objective(&w.app, &command(), id).unwrap();
    assert_eq!((empty.view.share, empty.view.no_forecast), (None, Some(NoForecast::TooFew)));
    assert!(empty.view.idle && (empty.view.served.open - 1.0).abs() < 1e-12);
    measure(&w, id, "2026-06-01", 30.0);
    measure(&w, id, "2026-06-16", 26.0);
    let again = measure(&w, id, "2026-06-16", 25.0);
    let told = decide::objective(&w.app, &command(), id).unwrap();
    assert_eq!(told.values.iter().map(|one| one.point.value).collect::<Vec<_>>(), [30.0, 25.0], "one value a day");
    // 15 of 60 days: the straight way is at 25.
    assert_eq!((told.view.share, told.view.ahead), (Some(0.25), Some(0.0)));
    history::undo_set(&w.app, &command(), again.change.unwrap()).unwrap();
    assert_eq!(decide::objective(&w.app, &command(), id).unwrap().view.present.unwrap().value, 26.0);
    let early = NewMeasurement { taken_on: Some("2026-07-01".into()), value: 1.0, note: None };
    assert_eq!(decide::measure(&w.app, &command(), id, early).unwrap_err().code(), "invalid");

    let text = "day;turned away\n23.06.2026;24\n30.06.2026;22,5\nlater;3\n07.07.2026;20\n";
    let table = MeasurementTable { text: text.into() };
    let read = decide::measure_table(&w.app, &command(), id, table).unwrap();
    assert_eq!((read.read, read.left_out.len()), (2, 2), "{:?}", read.left_out);
    let told = decide::objective(&w.app, &command(), id).unwrap();
    assert!(told.view.forecast.as_ref().is_some_and(|told| told.low < told.likely && told.likely < told.high));
    assert_eq!(told.way.len(), 2);
    let rows = w.rows(Collection::Objective, &["present_value", "measured_on"]);
    assert_eq!(rows, [[json!(22.5), json!("2026-06-30")]], "lists tell the same");
    sound(&w);
}

#[test]
fn parts_roll_up_and_what_serves_them_is_told() {
    let w = workspace();
    let whole = objective(&w, "Whole", &json!({}));
    let heavy = objective(&w, "Heavy", &json!({ "parent_id": whole, "weight": 3 }));
    let light = objective(&w, "Light", &json!({ "parent_id": whole }));
    measure(&w, heavy, "2026-06-10", 20.0);
    measure(&w, light, "2026-06-10", 25.0);
    let round = edit(&w, whole.thing(), &json!({ "parent_id": light })).unwrap_err();
    assert!(round.detail().contains("cannot stand below itself"), "{}", round.detail());

    let idea = w.idea(&command(), "Warn early");
    let serve = |to: ObjectiveId, thing: Thing, part: Option<f64>| {
        decide::serve(&w.app, &command(), to, Serving { thing, part })
    };
    serve(heavy, idea, Some(0.25)).unwrap();
    let views = decide::objectives(&w.app, &command(), w.product).unwrap();
    let [first, second, third] = &views[..] else { panic!("{views:?}") };
    assert_eq!((first.rolled.share, first.rolled.leaves), (0.4375, 2));
    assert!(first.idle && second.idle, "an idea that is only weighed is nothing under way");
    let choose = DecisionInput {
        rev: 1,
        outcome: iron_kite_core::decide::Outcome::Chosen,
        reason: "All say it".into(),
        look_again_on: None,
    };
    decide::decide(&w.app, &command(), IdeaId(idea.id), choose).unwrap();
    let views = decide::objectives(&w.app, &command(), w.product).unwrap();
    assert_eq!((views[0].idle, views[1].idle, views[2].idle), (false, false, third.idle));
    assert_eq!((views[1].served.promised, views[1].served.open), (0.25, 0.25));

    // An initiative serves as well, an epic by its idea only.
    let new = |level: Level| {
        let new = NewThing { product: w.product, level: Some(level), set: fields(&json!({ "title": "x" })) };
        made(&collections::add_thing(&w.app, &command(), Collection::WorkItem, new).unwrap())
    };
    assert_eq!(serve(light, new(Level::Epic), None).unwrap_err().code(), "no-initiative");
    serve(light, new(Level::Initiative), None).unwrap();
    assert_eq!(serve(light, idea, Some(1.5)).unwrap_err().code(), "invalid");
    let told = decide::objective(&w.app, &command(), light).unwrap();
    assert_eq!(told.serving[0].stage, Stage::Weighed, "there is no story below it yet");
    let up = trace::trace(&w.app, &command(), idea).unwrap();
    assert_eq!(up.why[0].count, 2, "the objective and the one that it is a part of");
}

#[test]
fn a_result_that_measures_the_same_is_a_measurement_of_its_objective() {
    let w = workspace();
    let id = objective(&w, "Fewer left behind", &json!({}));
    let idea = w.idea(&command(), "Warn early");
    link(&w, LinkKind::AsksFor, id.thing(), idea);
    let increment = w.add(&command(), Collection::Increment, &json!({ "title": "By hand", "idea_id": idea.id }));
    let set = |measure: &str| json!({ "measure": measure, "unit": "a week", "before": 30, "after": 19, "measured_on": "2026-06-20", "verdict": "held" });
    let of = Some(IncrementId(increment.id));
    result(&w, idea, of, &set("Calls"));
    assert!(decide::objective(&w.app, &command(), id).unwrap().values.is_empty());
    let saved = result(&w, idea, of, &set(" left BEHIND"));
    let told = decide::objective(&w.app, &command(), id).unwrap();
    assert_eq!((told.values[0].point.value, told.values[0].result), (19.0, saved.thing.map(|thing| thing.id)));
    // Of two results of one day the newer one counts, here and in lists.
    let mut newer = set("Left behind");
    newer["after"] = json!(17);
    result(&w, idea, of, &newer);
    let told = decide::objective(&w.app, &command(), id).unwrap();
    assert_eq!(told.values.iter().map(|one| one.point.value).collect::<Vec<_>>(), [17.0]);
    assert_eq!(w.rows(Collection::Objective, &["present_value"]), [[json!(17.0)]]);
    measure(&w, id, "2026-06-20", 21.0);
    let told = decide::objective(&w.app, &command(), id).unwrap();
    assert_eq!(told.values.iter().map(|one| one.point.value).collect::<Vec<_>>(), [21.0], "what somebody noted holds");
}

#[test]
fn a_result_of_an_increment_moves_the_grade_and_the_score_at_once() {
    let w = ready();
    work(&w);
    let idea = w.idea(&command(), "Warn early");
    edit(&w, idea, &json!({ "reach": 1000, "impact": 1, "effort": 2 })).unwrap();
    work(&w);
    let score = || w.rows(Collection::Idea, &["score", "grade", "told_confidence", "state"]);
    assert_eq!(score(), [[json!(50.0), json!("hunch"), json!(0.1), json!("weighing")]]);
    let increment = w.add(&command(), Collection::Increment, &json!({ "title": "By hand", "idea_id": idea.id }));
    let shown = |verdict: &str, on: &str| {
        let set = json!({ "measure": "x", "before": 1, "after": 2, "measured_on": on, "verdict": verdict });
        result(&w, idea, Some(IncrementId(increment.id)), &set)
    };
    let saved = shown("held", "2026-06-01");
    assert!(saved.label.ends_with("confidence by the evidence 0.10 → 0.75"), "{}", saved.label);
    assert_eq!(score(), [[json!(375.0), json!("tested"), json!(0.75), json!("weighing")]]);
    let failed = shown("failed", "2026-06-02");
    assert_eq!(score()[0][..3], [json!(50.0), json!("tested"), json!(0.1)]);
    // What is told in the background is the same, and an undo is followed there.
    work(&w);
    assert_eq!(score()[0][2], json!(0.1));
    for set in [failed, saved] {
        history::undo_set(&w.app, &command(), set.change.unwrap()).unwrap();
    }
    work(&w);
    assert_eq!(score()[0][..3], [json!(50.0), json!("hunch"), json!(0.1)]);
    edit(&w, idea, &json!({ "confidence": 0.8 })).unwrap();
    assert_eq!(score()[0][0], json!(400.0), "what somebody says stands before the evidence");
    assert_eq!(sheet(&w, idea).score.score, Some(400.0));
    // A whole idea that is not out has no result; one that was measured on another's step is refused.
    let other = w.idea(&command(), "Other");
    let set = fields(&json!({ "measure": "x", "before": 1, "after": 2, "measured_on": "2026-06-01" }));
    let wrong =
        NewResult { idea_id: IdeaId(other.id), release_id: None, increment_id: Some(IncrementId(increment.id)), set };
    assert_eq!(learn::add_result(&w.app, &command(), wrong).unwrap_err().code(), "invalid");
    sound(&w);
}

#[test]
fn a_story_belongs_to_one_increment_at_most_and_progress_rolls_up() {
    let w = workspace();
    let idea = w.idea(&command(), "Warn early");
    let id = objective(&w, "Fewer left behind", &json!({}));
    link(&w, LinkKind::AsksFor, id.thing(), idea);
    let new = |title: &str| w.add(&command(), Collection::Increment, &json!({ "title": title, "idea_id": idea.id }));
    let steps = [new("By hand"), new("By itself")];
    let stories: Vec<Thing> = ["a", "b", "c"].iter().map(|title| w.story(&command(), title)).collect();
    for (story, step) in [(0, 0), (1, 0), (2, 1), (1, 1)] {
        edit(&w, stories[story], &json!({ "increment_id": steps[step].id })).unwrap();
    }
    let told = sheet(&w, idea);
    let held: Vec<Vec<i64>> =
        told.increments.iter().map(|one| one.stories.iter().map(|story| story.id.0).collect()).collect();
    assert_eq!(held, [vec![stories[0].id], vec![stories[1].id, stories[2].id]]);
    assert_eq!((told.delivered.stories, told.loose.len()), (3, 0));
    assert_eq!(decide::objective(&w.app, &command(), id).unwrap().view.delivered.stories, 3);
    let epic = NewThing { product: w.product, level: Some(Level::Epic), set: fields(&json!({ "title": "x" })) };
    let epic = made(&collections::add_thing(&w.app, &command(), Collection::WorkItem, epic).unwrap());
    let refused = edit(&w, epic, &json!({ "increment_id": steps[0].id })).unwrap_err();
    assert!(refused.detail().contains("Only stories belong to an increment"), "{}", refused.detail());
    // Of another product.
    let other = iron_kite_ops::overview::add_product(&w.app, &command(), "Gangway").unwrap();
    let new = NewThing {
        product: made(&other).id.into(),
        level: None,
        set: fields(&json!({ "title": "x", "idea_id": idea.id })),
    };
    assert_eq!(collections::add_thing(&w.app, &command(), Collection::Increment, new).unwrap_err().code(), "invalid");
    things::remove(&w.app, &command(), steps[1], 1).unwrap();
    assert_eq!(sheet(&w, idea).delivered.stories, 1, "its stories stay, without it");
    assert_eq!(w.rows(Collection::WorkItem, &["title"]).len(), 4);
    sound(&w);
}

/// An idea with a finding behind it, quotes, an objective, an increment with a result, a decision and its own words.
#[derive(Debug, Clone)]
struct Drawn {
    findings: Vec<usize>,
    quotes: Vec<usize>,
    objective: bool,
    increment: bool,
    decided: bool,
    /// Further requests of people of the first account, by a form.
    requests: u8,
    problem: Option<u8>,
    reach: Option<u8>,
}

fn drawn() -> impl Strategy<Value = Drawn> {
    let few = || prop::collection::vec(0..6usize, 0..4);
    let flags = (any::<bool>(), any::<bool>(), any::<bool>());
    (few(), few(), flags, 0..3u8, prop::option::of(0..3u8), prop::option::of(0..3u8)).prop_map(
        |(findings, quotes, (objective, increment, decided), requests, problem, reach)| Drawn {
            findings,
            quotes,
            objective,
            increment,
            decided,
            requests,
            problem,
            reach,
        },
    )
}

/// Six people of three accounts who said something, and a finding of each excerpt.
fn voices() -> (Workspace, Vec<ExcerptId>, Vec<FindingId>) {
    let w = workspace();
    let mut table = String::from("text,who,firm\n");
    for n in 0..6 {
        let firm = ["Hask Stores", "Tern Dairy", ""][n % 3];
        table.push_str(&format!("I waited for boat number {n},Person {n},{firm}\n"));
    }
    let columns = Columns { text: 0, person: Some(1), account: Some(2), ..Columns::default() };
    listen::import(&w.app, &command(), w.product, "voices.csv", table.as_bytes(), &columns).unwrap();
    for (name, revenue) in [("Hask Stores", 1_000), ("Tern Dairy", 500)] {
        let rows = w.rows(Collection::Account, &["name"]);
        let at = rows.iter().position(|row| row[0] == name).unwrap();
        let id = i64::try_from(at).unwrap() + 1;
        edit(&w, thing(ThingKind::Account, id), &json!({ "yearly_revenue": revenue })).unwrap();
    }
    let excerpts: Vec<ExcerptId> = w
        .rows(Collection::Excerpt, &["reference"])
        .iter()
        .map(|row| ExcerptId(row[0].as_str().unwrap()[1..].parse().unwrap()))
        .collect();
    assert_eq!(excerpts.len(), 6);
    let finding = |excerpt: &ExcerptId| {
        let new =
            NewFinding { product_id: w.product, title: format!("Finding of {excerpt}"), excerpts: vec![*excerpt] };
        FindingId(made(&listen::add_finding(&w.app, &command(), new).unwrap()).id)
    };
    let findings = excerpts.iter().map(finding).collect();
    (w, excerpts, findings)
}

fn draw(
    w: &Workspace,
    n: usize,
    one: &Drawn,
    excerpts: &[ExcerptId],
    findings: &[FindingId],
    to: ObjectiveId,
) -> Thing {
    let idea = w.idea(&command(), &format!("Idea {n}"));
    edit(w, idea, &json!({ "problem": one.problem.map(|p| format!("Problem {p}")), "reach": one.reach })).unwrap();
    for finding in one.findings.iter().collect::<BTreeSet<_>>() {
        link(w, LinkKind::Supports, findings[*finding].thing(), idea);
    }
    let quotes: BTreeSet<ExcerptId> = one.quotes.iter().map(|at| excerpts[*at]).collect();
    if !quotes.is_empty() {
        let ask = NewQuotes { excerpts: quotes.into_iter().collect(), to: idea };
        listen::send_quotes(&w.app, &command(), ask).unwrap();
    }
    for request in 0..one.requests {
        ask_for(w, idea, &format!("Asker {n} {request}"));
    }
    if one.objective {
        decide::serve(&w.app, &command(), to, Serving { thing: idea, part: Some(0.5) }).unwrap();
    }
    if one.increment {
        let set = json!({ "title": "Step", "idea_id": idea.id });
        let step = w.add(&command(), Collection::Increment, &set);
        let set = json!({ "measure": "x", "before": 1, "after": 2, "measured_on": "2026-06-01" });
        result(w, idea, Some(IncrementId(step.id)), &set);
    }
    if one.decided {
        let rev = things::rev_of(&w.app, &command(), idea).unwrap();
        let input = DecisionInput {
            rev,
            outcome: iron_kite_core::decide::Outcome::Chosen,
            reason: "Because".into(),
            look_again_on: None,
        };
        decide::decide(&w.app, &command(), IdeaId(idea.id), input).unwrap();
    }
    idea
}

/// Somebody new of the first account asks by a form for what an idea is about.
fn ask_for(w: &Workspace, idea: Thing, name: &str) {
    let forms = w.rows(Collection::RequestForm, &["title"]).len();
    if forms == 0 {
        let new = decide::NewForm { product_id: w.product, title: "Ask".into() };
        decide::add_form(&w.app, &command(), new).unwrap();
    }
    let form = decide::form(&w.app, &command(), 1.into()).unwrap();
    let answers =
        [("words", format!("{name} waits for a boat")), ("name", name.into()), ("account", "Hask Stores".into())];
    let answers = answers.into_iter().map(|(key, answer)| (key.to_owned(), answer)).collect();
    decide::send_form(&w.app, &command(), &form.key, &decide::FilledForm { answers }).unwrap();
    let request = i64::try_from(w.rows(Collection::Request, &["words"]).len()).unwrap();
    let behind = decide::RequestBehind { idea_id: Some(IdeaId(idea.id)), title: None };
    decide::put_request_behind(&w.app, &command(), request.into(), behind).unwrap();
}

/// All that lists tell of ideas, and what hangs on them.
fn seen(w: &Workspace) -> Vec<Vec<Vec<Value>>> {
    let ideas = [
        "reference",
        "title",
        "state",
        "problem",
        "reach",
        "people",
        "accounts",
        "revenue",
        "objectives",
        "findings",
        "quotes",
        "increments",
        "reason",
        "decided_on",
    ];
    vec![
        w.rows(Collection::Idea, &ideas),
        w.rows(Collection::Increment, &["reference", "title", "idea_id"]),
        w.rows(Collection::Objective, &["ideas"]),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 20))]

    #[test]
    fn merging_ideas_keeps_everything_and_undoing_it_restores_both(some in prop::collection::vec(drawn(), 2..4)) {
        let (w, excerpts, findings) = voices();
        let to = objective(&w, "Fewer left behind", &json!({}));
        let ideas: Vec<Thing> =
            some.iter().enumerate().map(|(n, one)| draw(&w, n, one, &excerpts, &findings, to)).collect();
        let before = seen(&w);
        let histories: Vec<usize> =
            ideas.iter().map(|idea| history::history(&w.app, &command(), *idea).unwrap().len()).collect();
        let all: Vec<usize> = some.iter().map(|one| one.findings.iter().collect::<BTreeSet<_>>().len()).collect();
        let ask = MergeIdeas { keep: IdeaId(ideas[0].id), others: ideas[1..].iter().map(|idea| IdeaId(idea.id)).collect() };
        let saved = decide::merge_ideas(&w.app, &command(), ask).unwrap();
        let merged = sheet(&w, ideas[0]);
        // Every voice that stood behind any of them stands behind the one, once.
        let heard: BTreeSet<usize> = some.iter().flat_map(|one| one.findings.iter().chain(&one.quotes)).copied().collect();
        let asked: usize = some.iter().map(|one| usize::from(one.requests)).sum();
        prop_assert_eq!(merged.picture.voices.people, heard.len() + asked);
        prop_assert_eq!(merged.increments.len(), some.iter().filter(|one| one.increment).count());
        let told = w.rows(Collection::Idea, &["findings", "state"]);
        prop_assert_eq!(told.len(), 1);
        let distinct: BTreeSet<usize> = some.iter().flat_map(|one| &one.findings).copied().collect();
        prop_assert_eq!(told[0][0].as_array().map_or(0, Vec::len), distinct.len(), "{:?}", all);
        prop_assert_eq!(&told[0][1] == "chosen", some.iter().any(|one| one.decided));
        let both = history::history(&w.app, &command(), ideas[0]).unwrap().len();
        prop_assert!(both >= *histories.iter().max().unwrap(), "their histories are told with its own");
        sound(&w);
        history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
        prop_assert_eq!(seen(&w), before);
        sound(&w);
    }

    #[test]
    fn an_account_counts_once_whatever_the_number_of_its_voices_requests_and_ideas(some in prop::collection::vec(drawn(), 1..4)) {
        let (w, excerpts, findings) = voices();
        let to = objective(&w, "Fewer left behind", &json!({}));
        let revenue = BTreeMap::from([(0, 1_000), (1, 500)]);
        for (n, one) in some.iter().enumerate() {
            let idea = draw(&w, n, one, &excerpts, &findings, to);
            let people: BTreeSet<usize> = one.findings.iter().chain(&one.quotes).copied().collect();
            let asked = usize::from(one.requests);
            let of = people.iter().map(|person| person % 3).chain((asked > 0).then_some(0));
            let accounts: BTreeSet<usize> = of.filter(|firm| *firm < 2).collect();
            let paid: i64 = accounts.iter().map(|firm| revenue[firm]).sum();
            let told = sheet(&w, idea);
            let voices = told.picture.voices;
            let all = people.len() + asked;
            prop_assert_eq!((voices.people, voices.accounts, voices.revenue), (all, accounts.len(), paid));
            let share = i32::try_from(paid).map(f64::from).unwrap() / 1_500.0;
            prop_assert!((told.revenue_share.unwrap() - share).abs() < 1e-12);
            let list = w.rows(Collection::Idea, &["people", "accounts", "revenue"]).pop().unwrap();
            let paid = if accounts.is_empty() { Value::Null } else { json!(paid) };
            prop_assert_eq!(list, vec![json!(all), json!(accounts.len()), paid]);
            // People of one account are one voice; those of none are one each.
            let independent = accounts.len() + people.iter().filter(|person| *person % 3 == 2).count();
            let grade = match independent {
                _ if one.increment => Grade::Tested,
                0 => Grade::Hunch,
                1 | 2 => Grade::Said,
                _ => Grade::SaidBySeveral,
            };
            prop_assert_eq!(told.evidence.grade, grade);
        }
    }
}

#[test]
fn ideas_that_mean_the_same_are_suggested_until_somebody_says_that_they_are_two() {
    let w = ready();
    let one = w.idea(&command(), "Count the deck as it fills");
    let other = w.idea(&command(), "Say how full the deck is");
    w.idea(&command(), "A refund without asking");
    work(&w);
    let likely = || decide::likely_same_ideas(&w.app, &command(), w.product).unwrap();
    let pairs: Vec<_> = likely().iter().map(|pair| (pair.one.0, pair.other.0)).collect();
    assert_eq!(pairs, [(one.id, other.id)]);
    link(&w, LinkKind::NotSame, other, one);
    assert!(likely().is_empty());
    let refused = decide::merge_ideas(
        &w.app,
        &w.person(Role::Contributor),
        MergeIdeas { keep: IdeaId(one.id), others: vec![IdeaId(other.id)] },
    );
    assert_eq!(refused.unwrap_err().code(), "not-allowed");
}

#[test]
fn ideas_come_from_a_table_and_what_does_not_fit_is_named() {
    let w = workspace();
    let text = "Idea;Problem;reach a quarter;Impact;Effort;Colour\n\
        Warn early;They freeze;1,200;2;3;red\n;nobody;1;1;1;\nToo much;;5;99;1;\nA bell;;;;;\n";
    let ask = |text: &str| collections::ThingsTable { product: w.product, level: None, text: text.into() };
    let joss = w.person(Role::Contributor);
    let read = collections::add_table(&w.app, &joss, Collection::Idea, ask(text)).unwrap();
    assert_eq!((read.added, read.unknown), (2, vec!["Colour".to_owned()]));
    let left: Vec<_> = read.left_out.iter().map(|row| row.row).collect();
    assert_eq!(left, [3, 4], "{:?}", read.left_out);
    let rows = w.rows(Collection::Idea, &["title", "reach", "state"]);
    assert_eq!(rows[0], [json!("Warn early"), json!(1200.0), json!("weighing")]);
    assert_eq!(rows[1], [json!("A bell"), Value::Null, json!("raw")]);
    history::undo_set(&w.app, &command(), read.saved.change.unwrap()).unwrap();
    assert!(w.rows(Collection::Idea, &["title"]).is_empty());
    let refused = collections::add_table(&w.app, &joss, Collection::Idea, ask("colour,size\nred,1\n")).unwrap_err();
    assert!(refused.detail().contains("Head that column “Idea”"), "{}", refused.detail());
    let refused = collections::add_table(&w.app, &joss, Collection::Objective, ask("Objective\nx\n")).unwrap_err();
    assert_eq!(refused.code(), "not-allowed");
}
