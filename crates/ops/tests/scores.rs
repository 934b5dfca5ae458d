//! Scores: models, estimates, the ranking, budgets, decisions and prioritisations on a real database file.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, command, fields, made, workspace};
use iron_kite_core::decide::{Method, Outcome, first_model};
use iron_kite_core::fields::Collection;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::{IdeaId, IncrementId, Thing};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::decide::{
    self, AffordAsk, BudgetView, DecisionInput, EstimateInput, MergeIdeas, ModelInput, NewPrioritisation, Scores,
    ScoresAsk, UseModel, WhyAsk,
};
use iron_kite_ops::learn::{self, NewResult};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::{Call, history};
use jiff::civil::date;
use serde_json::{Value, json};

/// An idea with reach, impact, confidence and effort.
fn idea(w: &Workspace, title: &str, rice: [f64; 4]) -> IdeaId {
    let [reach, impact, confidence, effort] = rice;
    let set = json!({ "title": title, "reach": reach, "impact": impact, "confidence": confidence, "effort": effort });
    IdeaId(w.add(&command(), Collection::Idea, &set).id)
}

fn ask(w: &Workspace) -> ScoresAsk {
    ScoresAsk { product: w.product, model: None, definition: None, top: Some(1) }
}

fn scores(w: &Workspace) -> Scores {
    decide::scores(&w.app, &command(), &ask(w)).unwrap()
}

fn order(scores: &Scores) -> Vec<IdeaId> {
    scores.ideas.iter().map(|one| one.place.idea).collect()
}

fn say(w: &Workspace, call: &Call, id: IdeaId, field: &str, said: &str, agreed: bool) -> Result<(), Problem> {
    let reason = (agreed && field == "confidence").then(|| "It was tried".to_owned());
    let input = EstimateInput { field: field.into(), said: said.into(), agreed, reason, rev: None };
    decide::estimate(&w.app, call, id, input).map(drop)
}

fn rev(w: &Workspace, thing: Thing) -> i64 {
    things::rev_of(&w.app, &command(), thing).unwrap()
}

fn row(w: &Workspace, id: IdeaId, names: &[&str]) -> Vec<Value> {
    w.rows(Collection::Idea, names).remove(usize::try_from(id.0 - 1).unwrap())
}

fn choose(w: &Workspace, call: &Call, id: IdeaId, again: Option<&str>) -> Result<iron_kite_ops::Saved, Problem> {
    let input = DecisionInput {
        rev: rev(w, id.thing()),
        outcome: Outcome::Chosen,
        reason: "Most people ask for it".into(),
        look_again_on: again.map(Into::into),
    };
    decide::decide(&w.app, call, id, input)
}

#[test]
fn several_models_stand_side_by_side_and_a_try_changes_nothing() {
    let w = workspace();
    let (one, two) = (idea(&w, "One", [500.0, 1.0, 0.5, 1.0]), idea(&w, "Two", [100.0, 5.0, 0.5, 1.0]));
    idea(&w, "Three", [10.0, 1.0, 0.5, 4.0]);
    let by_rice = scores(&w);
    assert_eq!(
        (by_rice.key.as_str(), by_rice.ideas[0].place.rank, by_rice.ideas[1].place.rank),
        ("rice", Some(1), Some(1))
    );
    assert_eq!(by_rice.ideas[0].place.likely, Some(250.0));
    let by_ice = decide::scores(&w.app, &command(), &ScoresAsk { model: Some("ice".into()), ..ask(&w) }).unwrap();
    assert_eq!(order(&by_ice)[0], two);
    // Nobody's revenue is no revenue: an idea without accounts has a score by what is computed, too.
    let weighted = ScoresAsk { model: Some("weighted".into()), ..ask(&w) };
    let weighted = decide::scores(&w.app, &command(), &weighted).unwrap();
    assert!(weighted.ideas.iter().all(|one| one.place.rank.is_some() && one.fields["revenue"].range.likely == 0.0));
    // A model of their own, tried, kept, and used.
    let mut own = first_model(Method::Own);
    own.formula = Some("reach − 1".into());
    own.worth = None;
    let tried = decide::scores(&w.app, &command(), &ScoresAsk { definition: Some(own.clone()), ..ask(&w) }).unwrap();
    assert_eq!((order(&tried)[0], tried.ideas[0].place.likely), (one, Some(499.0)));
    assert_eq!(decide::models(&w.app, &command(), w.product).unwrap().len(), 5);
    let input = |definition| ModelInput { product: w.product, rev: None, definition };
    let kept = made(&decide::keep_model(&w.app, &command(), None, input(own.clone())).unwrap());
    decide::use_model(&w.app, &command(), UseModel { product: w.product, key: kept.id.to_string() }).unwrap();
    assert_eq!(scores(&w).key, kept.id.to_string());
    // Another version has another number; an old one is refused.
    own.formula = Some("0 − reach".into());
    let next = ModelInput { rev: Some(1), ..input(own.clone()) };
    decide::keep_model(&w.app, &command(), Some(kept.id), next.clone()).unwrap();
    assert_eq!(scores(&w).model.version, Some(2));
    assert!(matches!(decide::keep_model(&w.app, &command(), Some(kept.id), next), Err(Problem::Stale { .. })));
    // One that is taken away is no more used.
    things::remove(&w.app, &command(), kept, 2).unwrap();
    assert_eq!(scores(&w).key, "rice");
}

#[test]
fn a_model_that_cannot_be_computed_is_refused_at_its_place() {
    let w = workspace();
    let fault = |change: &dyn Fn(&mut iron_kite_core::decide::ModelDefinition)| {
        let mut model = first_model(Method::Own);
        change(&mut model);
        let input = ModelInput { product: w.product, rev: None, definition: model };
        match decide::keep_model(&w.app, &command(), None, input).unwrap_err() {
            Problem::Invalid(faults) => (faults[0].field.clone(), faults[0].words.clone()),
            other => panic!("{other:?}"),
        }
    };
    let (at, words) = fault(&|model| model.formula = Some("impact × (reach + ".into()));
    assert_eq!((at.as_str(), words.starts_with("At character 19:")), ("/definition/formula", true), "{words}");
    let (at, words) = fault(&|model| model.criteria[1].field = "title".into());
    assert_eq!((at.as_str(), words.contains("'title'")), ("/definition/criteria/1/field", true));
    let (at, _) = fault(&|model| {
        model.formula = None;
        model.criteria[1].high = None;
    });
    assert_eq!(at, "/definition/criteria/1/high");
    let (at, _) = fault(&|model| model.criteria[1].key = "im pact".into());
    assert_eq!(at, "/definition/criteria/1/key");
}

#[test]
fn people_score_apart_and_see_one_another_once_they_did() {
    let w = workspace();
    let one = idea(&w, "One", [500.0, 1.0, 0.5, 2.0]);
    let (wren, tamar, joss) = (w.person(Role::Owner), w.person(Role::Editor), w.person(Role::Contributor));
    let seen = |call: &Call| {
        let all = decide::estimates(&w.app, call, one, None).unwrap();
        let reach = all.fields.into_iter().find(|field| field.field == "reach").unwrap();
        (reach.said_by, reach.said.map(|said| said.len()), reach.apart, all.differ_most)
    };
    say(&w, &wren, one, "reach", "400 500 600", false).unwrap();
    assert_eq!(seen(&tamar), (1, None, None, None));
    say(&w, &tamar, one, "reach", "1,200–1,600", false).unwrap();
    assert_eq!(seen(&joss), (2, None, None, None));
    say(&w, &joss, one, "reach", "900", false).unwrap();
    let (by, said, apart, most) = seen(&wren);
    assert_eq!((by, said, most.as_deref()), (3, Some(3), Some("reach a quarter")));
    assert!((apart.unwrap() - 1.0).abs() < 1e-9);
    // What each says changes nothing yet; a contributor cannot agree for all.
    assert_eq!(scores(&w).ideas[0].place.likely, Some(125.0));
    assert!(matches!(say(&w, &joss, one, "reach", "900", true), Err(Problem::NotAllowed { .. })));
    say(&w, &tamar, one, "reach", "400 900 1600", true).unwrap();
    let told = scores(&w);
    let spread = told.ideas[0].place.spread.unwrap();
    assert_eq!((told.ideas[0].place.likely, spread.exact), (Some(225.0), true));
    assert!(spread.low < spread.median && spread.median < spread.high);
    assert_eq!(seen(&wren).0, 3, "the agreed value keeps the others");
    assert_eq!(row(&w, one, &["reach"]), [json!(900.0)]);
    // One undo takes the agreement back, with the value of the field.
    history::undo_last(&w.app, &tamar).unwrap();
    assert_eq!(row(&w, one, &["reach"]), [json!(500.0)]);
    // What is typed over an agreed likely value moves the end that is passed.
    say(&w, &tamar, one, "reach", "400 900 1600", true).unwrap();
    let set = fields(&json!({ "reach": 2_000 }));
    things::edit(&w.app, &tamar, one.thing(), Edit { rev: rev(&w, one.thing()), set }).unwrap();
    assert_eq!(scores(&w).ideas[0].fields["reach"].range.high, 2_000.0);
}

#[test]
fn what_is_no_estimate_is_refused_in_words() {
    let w = workspace();
    let one = idea(&w, "One", [500.0, 1.0, 0.5, 2.0]);
    let words = |field: &str, said: &str| match say(&w, &w.person(Role::Editor), one, field, said, false) {
        Err(Problem::Invalid(faults)) => faults[0].words.clone(),
        other => panic!("{other:?}"),
    };
    assert!(words("reach", "many").contains("30 40 60"));
    assert!(words("impact", "5–11").contains("0 to 10"), "{}", words("impact", "5–11"));
    assert!(words("effort", "60–30").contains("2 months"));
    assert!(words("revenue", "40").contains("computed"));
    // Overruling the evidence takes a reason.
    let input =
        EstimateInput { field: "confidence".into(), said: "80 %".into(), agreed: true, reason: None, rev: None };
    let refused = decide::estimate(&w.app, &command(), one, input.clone()).unwrap_err();
    assert!(refused.detail().contains("The evidence gives 0.10"), "{}", refused.detail());
    let said = EstimateInput { reason: Some("It was tried on two boats".into()), ..input };
    decide::estimate(&w.app, &command(), one, said).unwrap();
    let told = decide::estimates(&w.app, &command(), one, None).unwrap();
    let confidence = told.fields.iter().find(|field| field.field == "confidence").unwrap();
    assert_eq!(confidence.counts.unwrap().range.likely, 0.8);
    assert_eq!((told.evidence.confidence, confidence.reason.as_deref()), (0.1, Some("It was tried on two boats")));
    // By another model, other criteria are asked.
    let by = |model| decide::estimates(&w.app, &command(), one, Some(model)).unwrap().fields;
    let fields: Vec<String> = by("wsjf").into_iter().map(|field| field.field).collect();
    assert_eq!(fields, ["value", "time_criticality", "opportunity", "effort"]);
    assert_eq!(by("ice")[2].field, "effort", "ease is said as effort");
    // Days become weeks.
    say(&w, &command(), one, "effort", "3–5 days", true).unwrap();
    assert_eq!(row(&w, one, &["effort"]), [json!(0.8)]);
}

#[test]
fn a_rank_is_explained_and_what_to_find_out_is_told() {
    let w = workspace();
    let one = idea(&w, "One", [500.0, 1.0, 0.5, 2.0]);
    let two = idea(&w, "Two", [600.0, 1.0, 0.5, 2.0]);
    idea(&w, "Three", [100.0, 1.0, 0.5, 2.0]);
    let lacking = IdeaId(w.idea(&command(), "Four").id);
    say(&w, &command(), one, "reach", "100 500 1500", true).unwrap();
    let told = scores(&w);
    assert_eq!(told.to_ask.iter().map(|one| (one.idea, one.field.as_str())).collect::<Vec<_>>(), [(one, "reach")]);
    assert_eq!(told.ideas.last().unwrap().place.missing, ["reach a quarter", "impact", "confidence", "effort"]);
    let why = decide::why(&w.app, &command(), &WhyAsk { idea: two, scores: ask(&w) }).unwrap().unwrap();
    assert_eq!((why.score, why.typical), (150.0, 125.0));
    let sum: f64 = why.shares.iter().map(|share| share.adds).sum();
    assert!((sum - 25.0).abs() < 1e-9 && why.others.len() == 2);
    assert_eq!(decide::why(&w.app, &command(), &WhyAsk { idea: lacking, scores: ask(&w) }).unwrap(), None);
}

#[test]
fn a_budget_takes_musts_first_with_what_they_need() {
    let w = workspace();
    let big = idea(&w, "Big", [1_000.0, 1.0, 0.5, 6.0]);
    let small = idea(&w, "Small", [100.0, 1.0, 0.5, 2.0]);
    let base = idea(&w, "Base", [10.0, 1.0, 0.5, 3.0]);
    let afford = |budget: f64, take: Option<IdeaId>| -> BudgetView {
        decide::budget(&w.app, &command(), &AffordAsk { scores: ask(&w), budget, take }).unwrap()
    };
    assert_eq!(afford(8.0, None).afford.best.taken, [big, small]);
    let ends = |from: IdeaId, to: IdeaId| LinkEnds { kind: LinkKind::NeededBy, from: from.thing(), to: to.thing() };
    things::link(&w.app, &command(), ends(base, big)).unwrap();
    let circle = things::link(&w.app, &command(), ends(big, base)).unwrap_err();
    assert_eq!(circle.code(), "dependency-circle");
    let told = afford(9.0, Some(small));
    assert_eq!(told.afford.best.taken, [big, base]);
    assert_eq!((told.dropped, told.with.unwrap().taken), (vec![big], vec![small, base]));
    let must = |id: IdeaId| {
        let set = fields(&json!({ "moscow": "must" }));
        things::edit(&w.app, &command(), id.thing(), Edit { rev: rev(&w, id.thing()), set }).unwrap();
    };
    must(small);
    let told = afford(3.0, None);
    assert_eq!((told.afford.best.taken, told.warnings.len()), (vec![small], 1));
    assert!(told.warnings[0].contains("67 %"));
    must(big);
    let told = afford(3.0, None);
    assert!(told.warnings[0].contains("11.0 of 3.0 person-weeks: 8.0 over"), "{:?}", told.warnings);
    assert!(decide::budget(&w.app, &command(), &AffordAsk { scores: ask(&w), budget: -1.0, take: None }).is_err());
}

#[test]
fn a_decision_keeps_what_it_rested_on_and_asks_to_be_looked_at_again() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let one = idea(&w, "One", [500.0, 1.0, 0.5, 2.0]);
    idea(&w, "Two", [100.0, 1.0, 0.5, 2.0]);
    assert!(choose(&w, &wren, one, Some("2026-06-30")).unwrap_err().detail().contains("a day to come"));
    choose(&w, &wren, one, Some("2026-09-01")).unwrap();
    let log = |call: &Call| decide::decisions(&w.app, call, w.product).unwrap().remove(0);
    let told = log(&wren);
    let frozen = told.frozen.clone().unwrap();
    assert_eq!((frozen.kept.place.rank, frozen.of, frozen.kept.fields["reach"].range.likely), (Some(1), 2, 500.0));
    assert!(told.look_again.is_empty() && told.by.is_some());
    // Its day comes.
    let later = Call { today: date(2026, 9, 1), ..wren.clone() };
    assert_eq!(log(&later).look_again, ["It was to be looked at again on 2026-09-01."]);
    let step = w.add(&command(), Collection::Increment, &json!({ "idea_id": one.0, "title": "Try it on one boat" }));
    // The evidence changes; the model too, which changes nothing of what was decided.
    let set =
        fields(&json!({ "measure": "x", "before": 1, "after": 2, "measured_on": "2026-06-29", "verdict": "failed" }));
    learn::add_result(
        &w.app,
        &wren,
        NewResult { idea_id: one, release_id: None, increment_id: Some(IncrementId(step.id)), set },
    )
    .unwrap();
    decide::use_model(&w.app, &wren, UseModel { product: w.product, key: "ice".into() }).unwrap();
    let told = log(&wren);
    assert_eq!(told.frozen.as_ref(), Some(&frozen));
    assert_eq!(told.look_again, ["The evidence was: a hunch; now: it was tested."]);
    let course = iron_kite_ops::overview::course(&w.app, &wren, w.product).unwrap();
    assert_eq!(
        course.iter().find(|node| node.stage == "decide").unwrap().count,
        2,
        "one to decide, one to look at again"
    );
    let page = decide::decisions_markdown(&w.app, &wren, w.product).unwrap();
    for part in [
        "## I1 One: chosen",
        "Most people ask for it",
        "- RICE: 125 \\(125 to 125\\), place 1 of 2",
        "- Look again: The evidence was",
    ] {
        assert!(page.contains(part) || page.contains(&part.replace('\\', "")), "{part}\n{page}");
    }
    // Another decision takes its place.
    let again = DecisionInput {
        rev: rev(&w, one.thing()),
        outcome: Outcome::SetAside,
        reason: "It did not help".into(),
        look_again_on: None,
    };
    decide::decide(&w.app, &wren, one, again).unwrap();
    let all = decide::decisions(&w.app, &wren, w.product).unwrap();
    assert_eq!(
        all.iter().map(|one| (one.overtaken, one.look_again.len())).collect::<Vec<_>>(),
        [(false, 0), (true, 0)]
    );
}

#[test]
fn a_prioritisation_follows_the_numbers_until_it_is_agreed() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    let (one, two) = (idea(&w, "One", [500.0, 1.0, 0.5, 2.0]), idea(&w, "Two", [100.0, 1.0, 0.5, 2.0]));
    let new = NewPrioritisation {
        product: w.product,
        title: "Quarter 1".into(),
        question: Some("What first?".into()),
        model: None,
        top: 1,
    };
    let thing = made(&decide::add_prioritisation(&w.app, &wren, new).unwrap());
    let page = || decide::prioritisation_markdown(&w.app, &wren, thing.id).unwrap();
    let first = |page: &str, title: &str| page.lines().any(|line| line.starts_with("| 1 |") && line.contains(title));
    assert!(first(&page(), "One") && page().contains("Not agreed yet"));
    say(&w, &wren, two, "reach", "2000", true).unwrap();
    assert!(first(&page(), "Two"));
    decide::agree(&w.app, &wren, thing.id, rev(&w, thing)).unwrap();
    assert!(decide::agree(&w.app, &wren, thing.id, rev(&w, thing)).is_err());
    assert!(scores(&w).moved.is_empty());
    say(&w, &wren, one, "reach", "9000", true).unwrap();
    assert!(first(&page(), "Two") && page().contains("Agreed by owner on 2026-06-30"));
    let told = scores(&w);
    assert_eq!(told.since.as_deref(), Some("2026-06-30"));
    assert_eq!((told.moved[0].idea, told.moved[0].from, told.moved[0].to), (one, Some(2), Some(1)));
    assert_eq!(told.moved[0].because, ["reach from 500 to 9,000"]);
    assert!(decide::prioritisation_docx(&w.app, &wren, thing.id).unwrap().starts_with(b"PK"));
    // What was agreed stays as it is.
    let set = fields(&json!({ "question": "What last?" }));
    let closed = things::edit(&w.app, &wren, thing, Edit { rev: rev(&w, thing), set }).unwrap_err();
    assert!(closed.detail().contains("Begin another report"), "{}", closed.detail());
    // Agreeing is a change like any other.
    history::undo_last(&w.app, &wren).unwrap();
    history::undo_last(&w.app, &wren).unwrap();
    assert!(page().contains("Not agreed yet"));
}

#[test]
fn a_report_whose_model_is_gone_says_so_and_stays_open() {
    let w = workspace();
    let wren = w.person(Role::Owner);
    idea(&w, "One", [500.0, 1.0, 0.5, 2.0]);
    let input = ModelInput { product: w.product, rev: None, definition: first_model(Method::Own) };
    let model = made(&decide::keep_model(&w.app, &wren, None, input).unwrap());
    let new = NewPrioritisation {
        product: w.product,
        title: "Quarter 1".into(),
        question: None,
        model: Some(model.id.to_string()),
        top: 1,
    };
    let thing = made(&decide::add_prioritisation(&w.app, &wren, new).unwrap());
    things::remove(&w.app, &wren, model, 1).unwrap();
    let page = decide::prioritisation_markdown(&w.app, &wren, thing.id).unwrap();
    assert!(page.contains("Choose another one"), "{page}");
    assert!(decide::agree(&w.app, &wren, thing.id, 1).is_err());
    let set = fields(&json!({ "model": "ice" }));
    things::edit(&w.app, &wren, thing, Edit { rev: 1, set }).unwrap();
    assert!(decide::prioritisation_markdown(&w.app, &wren, thing.id).unwrap().contains("By ICE"));
}

#[test]
fn ideas_that_become_one_keep_what_people_said_of_both() {
    let w = workspace();
    let (wren, tamar) = (w.person(Role::Owner), w.person(Role::Editor));
    let (one, two) = (idea(&w, "One", [500.0, 1.0, 0.5, 2.0]), idea(&w, "Two", [100.0, 1.0, 0.5, 2.0]));
    say(&w, &wren, one, "reach", "400", false).unwrap();
    say(&w, &wren, two, "reach", "100", false).unwrap();
    say(&w, &tamar, two, "reach", "200", false).unwrap();
    decide::merge_ideas(&w.app, &wren, MergeIdeas { keep: one, others: vec![two] }).unwrap();
    let said = |id: IdeaId| {
        let all = decide::estimates(&w.app, &wren, id, None).unwrap().fields.remove(0).said.unwrap();
        all.iter().map(|one| one.range.likely).collect::<Vec<_>>()
    };
    assert_eq!(said(one), [400.0, 200.0]);
    history::undo_last(&w.app, &wren).unwrap();
    assert_eq!((said(one), said(two)), (vec![400.0], vec![100.0, 200.0]));
}
