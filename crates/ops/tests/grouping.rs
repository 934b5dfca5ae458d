//! Findings are proposed by runs that can be tried, compared, taken and taken back; what people decided stays.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::{BTreeMap, BTreeSet};

use crate::common::subjects::{Subjects, about, all, behind, bring, file, ready, sound, take, tried, work};
use crate::common::{Workspace, command, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::jobs::JobState;
use iron_kite_core::listen::{FindingState, Movement, plain};
use iron_kite_core::things::{ExcerptId, FindingId};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::listen::{
    self, ExcerptQuery, FindingChange, MergeFindings, NewFinding, SplitFinding, Take, finding_excerpts,
};
use iron_kite_ops::things::{Edit, LinkEnds};
use iron_kite_ops::{collections, history, things};
use serde_json::json;

#[test]
fn a_first_run_is_tried_by_itself_and_nothing_changes_before_it_is_taken() {
    let workspace = workspace();
    let workspace = Workspace { app: workspace.app.with_meaning(Box::new(Subjects)), ..workspace };
    bring(&workspace, &file(&["deck", "refund", "tea", "pass"], 0));
    work(&workspace);
    let runs = listen::runs(&workspace.app, &command(), workspace.product).unwrap();
    assert_eq!((runs.len(), runs[0].state, runs[0].new, runs[0].taken), (1, JobState::Done, 4, None));
    assert_eq!(all(&workspace), []);
    // It is tried once, not whenever somebody looks.
    work(&workspace);
    assert_eq!(listen::runs(&workspace.app, &command(), workspace.product).unwrap().len(), 1);
}

#[test]
fn the_first_finding_by_hand_draws_nothing_that_was_there_before() {
    let workspace = ready();
    work(&workspace);
    let tea = workspace.rows(Collection::Excerpt, &["words"]);
    let of: Vec<ExcerptId> = tea
        .iter()
        .zip(1..)
        .filter(|(row, _)| row[0].as_str().unwrap().contains("tea"))
        .map(|(_, id)| ExcerptId(id))
        .collect();
    let new = NewFinding { product_id: workspace.product, title: "Cold tea".into(), excerpts: of[..3].to_vec() };
    let id = listen::add_finding(&workspace.app, &command(), new).unwrap().thing.unwrap().id;
    work(&workspace);
    assert_eq!(behind(&workspace, FindingId(id)).len(), 3);
    // What arrives from then on does.
    bring(&workspace, &file(&["tea"], 700));
    work(&workspace);
    assert_eq!(behind(&workspace, FindingId(id)).len(), 11);
}

#[test]
fn a_run_is_taken_in_part_and_taken_back_as_one() {
    let workspace = ready();
    let run = tried(&workspace);
    assert_eq!((run.findings, run.new, run.changed, run.gone, run.excerpts), (3, 3, 0, 0, 24));
    let view = listen::run(&workspace.app, &command(), run.id).unwrap();
    assert!(view.changes.iter().all(|one| one.excerpts == 8 && one.says.len() == 3 && !one.title.is_empty()));
    let change = take(&workspace, &run, vec![view.changes[2].place]);
    let there = all(&workspace);
    assert_eq!(there.len(), 2);
    for one in &there {
        assert_eq!((one.finding.state(), one.excerpts), (FindingState::Suggested, 8));
        assert_eq!(one.told.as_ref().unwrap().nearest.len(), 3);
    }
    let again = listen::take_run(&workspace.app, &command(), run.id, Take::default()).unwrap_err();
    assert_eq!(again.code(), "run-is-taken");
    sound(&workspace);
    history::undo_set(&workspace.app, &command(), change).unwrap();
    assert_eq!(all(&workspace), []);
    take(&workspace, &run, Vec::new());
    assert_eq!(all(&workspace).len(), 3);
    sound(&workspace);
}

#[test]
fn what_people_decided_survives_the_next_run() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let (deck, refund, tea) = (about(&workspace, "deck"), about(&workspace, "refund"), about(&workspace, "tea"));
    // Tea is accepted under another name, and two are made one.
    let set = json!({ "title": "The tea is cold", "state": "accepted" }).as_object().unwrap().clone();
    things::edit(&workspace.app, &command(), tea.finding.id.thing(), Edit { rev: tea.finding.rev, set }).unwrap();
    let one = MergeFindings { keep: deck.finding.id, others: vec![refund.finding.id] };
    listen::merge_findings(&workspace.app, &command(), one).unwrap();
    // Of what is one now, two are made a finding of their own; one excerpt is thrown out of the tea, and one put into it.
    let both = behind(&workspace, deck.finding.id);
    assert_eq!(both.len(), 16);
    let own: Vec<ExcerptId> = both.iter().copied().take(2).collect();
    let split = SplitFinding { title: Some("Fridays".into()), excerpts: own.clone() };
    let fridays = listen::split_finding(&workspace.app, &command(), deck.finding.id, split).unwrap().thing.unwrap().id;
    let thrown = *behind(&workspace, tea.finding.id).first().unwrap();
    let moved = *both.last().unwrap();
    let change = FindingChange { add: vec![moved], remove: vec![thrown], ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), tea.finding.id, change).unwrap();
    let change = FindingChange { remove: vec![moved], ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), deck.finding.id, change).unwrap();
    let before: BTreeMap<FindingId, BTreeSet<ExcerptId>> =
        all(&workspace).iter().map(|one| (one.finding.id, behind(&workspace, one.finding.id))).collect();
    let titles =
        |workspace: &Workspace| all(workspace).into_iter().map(|one| one.finding.title).collect::<BTreeSet<_>>();
    let named = titles(&workspace);
    let run = tried(&workspace);
    assert_eq!((run.gone, run.kept_together), (0, Some(1.0)), "{run:?}");
    take(&workspace, &run, Vec::new());
    for (id, excerpts) in &before {
        assert!(behind(&workspace, *id).is_superset(excerpts), "{id}");
    }
    assert_eq!(behind(&workspace, FindingId(fridays)), own.into_iter().collect());
    assert!(!behind(&workspace, tea.finding.id).contains(&thrown));
    assert!(titles(&workspace).is_superset(&named) && named.contains("The tea is cold") && named.contains("Fridays"));
    sound(&workspace);
}

#[test]
fn what_nobody_touched_may_change_and_what_is_kept_apart_stays_so() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let deck: Vec<ExcerptId> = behind(&workspace, about(&workspace, "deck").finding.id).into_iter().collect();
    let never = LinkEnds { kind: LinkKind::NotSame, from: deck[0].thing(), to: deck[1].thing() };
    things::link(&workspace.app, &command(), never).unwrap();
    take(&workspace, &tried(&workspace), Vec::new());
    let of = |id: ExcerptId| {
        all(&workspace).into_iter().map(|one| one.finding.id).find(|one| behind(&workspace, *one).contains(&id))
    };
    assert!(of(deck[0]).is_none() || of(deck[0]) != of(deck[1]));
    // The other way round: two that say the same stand together, whatever the words.
    let tea = *behind(&workspace, about(&workspace, "tea").finding.id).first().unwrap();
    let same = LinkEnds { kind: LinkKind::Same, from: tea.thing(), to: deck[2].thing() };
    things::link(&workspace.app, &command(), same).unwrap();
    take(&workspace, &tried(&workspace), Vec::new());
    assert_eq!(of(tea), of(deck[2]));
    sound(&workspace);
}

#[test]
fn what_arrives_falls_into_the_findings_that_are_there() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let imported = bring(&workspace, &file(&["tea", "bicycle"], 100).replace("2026-05", "2026-06"));
    work(&workspace);
    let tea = about(&workspace, "tea");
    assert_eq!((tea.excerpts, all(&workspace).len()), (16, 3));
    // The engine's links do not stand in the way of taking the import back.
    history::undo_set(&workspace.app, &command(), imported.saved.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(about(&workspace, "tea").excerpts, 8);
    sound(&workspace);
}

#[test]
fn what_a_person_took_back_is_not_put_there_again() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let tea = about(&workspace, "tea").finding.id;
    let out: Vec<ExcerptId> = behind(&workspace, tea).into_iter().take(3).collect();
    let change = FindingChange { remove: out.clone(), ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), tea, change).unwrap();
    work(&workspace);
    assert_eq!(behind(&workspace, tea).len(), 5);
    // Whoever puts one back overrules that.
    let change = FindingChange { add: vec![out[0]], ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), tea, change).unwrap();
    take(&workspace, &tried(&workspace), Vec::new());
    let now = behind(&workspace, tea);
    assert!(now.contains(&out[0]) && !now.contains(&out[1]) && !now.contains(&out[2]), "{now:?}");
}

#[test]
fn however_an_excerpt_is_taken_out_it_stays_out() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let tea = about(&workspace, "tea").finding.id;
    let out: Vec<ExcerptId> = behind(&workspace, tea).into_iter().take(3).collect();
    // By its link, by the field of the excerpt, and by being moved elsewhere.
    let ends = LinkEnds { kind: LinkKind::Supports, from: out[0].thing(), to: tea.thing() };
    things::unlink(&workspace.app, &command(), ends).unwrap();
    let set = json!({ "findings": [] }).as_object().unwrap().clone();
    let rev = things::rev_of(&workspace.app, &command(), out[1].thing()).unwrap();
    let changes = vec![collections::CellChange { id: out[1].0, rev, set }];
    let input = collections::CellChanges { product: workspace.product, changes };
    collections::change_cells(&workspace.app, &command(), Collection::Excerpt, input).unwrap();
    let deck = about(&workspace, "deck").finding.id;
    let moved = FindingChange { remove: vec![out[2]], move_to: Some(deck), ..FindingChange::default() };
    listen::change_finding(&workspace.app, &command(), tea, moved).unwrap();
    take(&workspace, &tried(&workspace), Vec::new());
    let now = behind(&workspace, tea);
    assert!(now.len() == 5 && out.iter().all(|id| !now.contains(id)), "{now:?}");
    assert!(behind(&workspace, deck).contains(&out[2]));
    sound(&workspace);
}

#[test]
fn findings_grow_and_open_into_narrower_ones() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    // Much is said of tea within the last weeks, and of everything else as always.
    let mut lately = String::from("text,who,date\n");
    for at in 0..30 {
        lately.push_str(&format!("The tea is cold number {at} they said,Guest {at},2026-06-2{}\n", at % 9));
    }
    bring(&workspace, &lately);
    work(&workspace);
    let tea = about(&workspace, "tea");
    let told = tea.told.clone().unwrap();
    assert_eq!(told.movement, Movement::Growing.name(), "{told:?}");
    assert!(told.p < 0.01 && told.recent == 30 && told.before == 8, "{told:?}");
    // What is said of deck and of refund, made one, opens into the two again.
    let (deck, refund) = (about(&workspace, "deck").finding.id, about(&workspace, "refund").finding.id);
    let both = (behind(&workspace, deck), behind(&workspace, refund));
    let one = MergeFindings { keep: deck, others: vec![refund] };
    listen::merge_findings(&workspace.app, &command(), one).unwrap();
    let narrower = listen::narrower(&workspace.app, &command(), deck).unwrap();
    let inside: usize = narrower.iter().map(|one| one.excerpts.len()).sum();
    assert!(narrower.len() != 1 && inside <= both.0.len() + both.1.len());
    let sides: BTreeSet<BTreeSet<ExcerptId>> =
        narrower.iter().map(|one| one.excerpts.iter().copied().collect()).collect();
    assert_eq!(sides, [both.0, both.1].into());
    // Half of them become a finding of their own, under a sentence of theirs.
    let split = SplitFinding { title: None, excerpts: narrower[1].excerpts.clone() };
    let part = listen::split_finding(&workspace.app, &command(), deck, split).unwrap().thing.unwrap().id;
    let named = all(&workspace).into_iter().find(|one| one.finding.id.0 == part).unwrap().finding;
    assert_eq!((named.title == narrower[1].title, named.state()), (true, FindingState::Accepted));
    let rows = workspace.rows(Collection::Finding, &["movement", "state", "phrases"]);
    assert!(rows.iter().any(|row| row[0] == "growing" && row[1] == "suggested"), "{rows:?}");
}

#[test]
fn a_term_brings_together_what_is_called_by_two_names() {
    let workspace = ready();
    let apart = file(&["deck"], 300).replace(" deck", " lower floor");
    bring(&workspace, &apart);
    let set = json!({ "name": "deck", "synonyms": "lower floor" }).as_object().unwrap().clone();
    let new = collections::NewThing { product: workspace.product, level: None, set };
    collections::add_thing(&workspace.app, &command(), Collection::Term, new).unwrap();
    take(&workspace, &tried(&workspace), Vec::new());
    assert_eq!(about(&workspace, "deck").excerpts, 16);
    let terms = workspace.rows(Collection::Term, &["name", "excerpt_count"]);
    assert_eq!(terms, [[json!("deck"), json!(16)]]);
}

#[test]
fn a_title_that_was_the_words_of_somebody_who_is_erased_goes_with_them() {
    let workspace = ready();
    take(&workspace, &tried(&workspace), Vec::new());
    let tea = about(&workspace, "tea");
    let title = tea.finding.title.clone();
    let said = finding_excerpts(&workspace.app, &command(), tea.finding.id, ExcerptQuery::default()).unwrap().excerpts;
    let whose = said.iter().find(|one| plain(&one.words) == title).unwrap();
    let person = listen::item(&workspace.app, &command(), whose.excerpt.item_id).unwrap().item.person_id.unwrap();
    listen::erase_person(&workspace.app, &command(), person, listen::Erase::default()).unwrap();
    for one in all(&workspace) {
        assert!(!one.finding.title.contains(&title), "{}", one.finding.title);
    }
    let runs = listen::runs(&workspace.app, &command(), workspace.product).unwrap();
    assert!(runs.iter().all(|run| run.findings == 0), "what runs proposed is forgotten");
    // It gets another name from what is still there.
    work(&workspace);
    let named = about(&workspace, "tea").finding.title;
    assert!(named.contains("tea") && named != title, "{named}");
    sound(&workspace);
}
