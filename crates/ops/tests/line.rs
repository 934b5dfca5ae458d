//! The stages together, on a real file: what follows from what.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{Workspace, command, fields, made, thing, workspace};
use iron_kite_core::decide::{IdeaState, Outcome};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::Columns;
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::{FindingId, IdeaId, Level, ReleaseId, TeamId, Thing, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::collections::{NewThing, add_thing};
use iron_kite_ops::decide::{DecisionInput, NewIdea};
use iron_kite_ops::handover::{ColumnChange, HandOver, NewColumn, NewTeam, QueuePlace, TeamChange, TeamPeople};
use iron_kite_ops::learn::NewResult;
use iron_kite_ops::listen::{FindingChange, ItemQuery, NewFinding};
use iron_kite_ops::map::{MapPlace, NewTitled};
use iron_kite_ops::plan::{ReleaseStep, ReleaseTo, Unfinished};
use iron_kite_ops::specify::{NewEpic, NewStory};
use iron_kite_ops::things::{Edit, LinkEnds};
use iron_kite_ops::{Call, decide, handover, history, learn, listen, map, plan, specify, takeout, things, trace};
use serde_json::{Value, json};

const TABLE: &str = "text,who,account,boat\n\
    The boat was off.,Ann,Hask Stores,Tern\n\
    Nobody told us.,Bo,Hask Stores,\n\
    The deck was full.,Ann,Hask Stores,\n\
    I heard nothing at all.,Ann,Tern Dairy,\n\
    Silence on the pier.,,,\n";

fn rev(w: &Workspace, thing: Thing) -> i64 {
    things::rev_of(&w.app, &command(), thing).unwrap()
}

fn edit(w: &Workspace, thing: Thing, set: &Value) {
    things::edit(&w.app, &command(), thing, Edit { rev: rev(w, thing), set: fields(set) }).unwrap();
}

fn voices(w: &Workspace) {
    let columns = Columns { text: 0, person: Some(1), account: Some(2), ..Columns::default() };
    listen::import(&w.app, &command(), w.product, "voices.csv", TABLE.as_bytes(), &columns).unwrap();
    let accounts = "account,segment,revenue\nHask Stores,freight,48000\nTern Dairy,,2000\n";
    let done = listen::bring_in_accounts(&w.app, &command(), "accounts.csv", accounts.as_bytes()).unwrap();
    assert_eq!((done.report.added, done.report.updated), (0, 2));
}

fn finding(w: &Workspace, title: &str, excerpts: &[i64]) -> FindingId {
    let excerpts = excerpts.iter().map(|id| (*id).into()).collect();
    let new = NewFinding { product_id: w.product, title: title.into(), excerpts };
    FindingId(made(&listen::add_finding(&w.app, &command(), new).unwrap()).id)
}

#[test]
fn an_import_keeps_what_was_not_mapped_and_knows_who_spoke() {
    let w = workspace();
    voices(&w);
    let item = listen::item(&w.app, &command(), 1.into()).unwrap();
    assert_eq!((item.person.as_deref(), item.account.as_deref()), (Some("Ann"), Some("Hask Stores")));
    assert_eq!(item.item.extra.as_deref(), Some(r#"{"boat":"Tern"}"#));
    assert_eq!(item.parts[0].words, "The boat was off.");
    // Ann of one account and Ann of another are two until somebody says otherwise.
    let counts = w.rows(Collection::Account, &["name", "people_count", "item_count"]);
    assert_eq!(counts, [[json!("Hask Stores"), json!(2), json!(3)], [json!("Tern Dairy"), json!(1), json!(1)]]);
}

#[test]
fn pages_follow_one_another_without_a_gap() {
    let w = workspace();
    let rows: String = (0..25).map(|n| format!("Voice number {n},P{},\n", n % 3)).collect();
    w.bring(&command(), &format!("text,who,x\n{rows}"));
    let mut seen = Vec::new();
    let mut after = None;
    loop {
        let query = ItemQuery { product: w.product.0, limit: Some(7), after, ..ItemQuery::default() };
        let page = listen::items(&w.app, &command(), query).unwrap();
        seen.extend(page.items.iter().map(|item| item.id.0));
        after = page.next;
        if after.is_none() {
            break;
        }
    }
    assert_eq!(seen, (1..=25).rev().collect::<Vec<_>>());
    let query = |words: &str| ItemQuery { product: w.product.0, words: Some(words.into()), ..ItemQuery::default() };
    let found = |words: &str| listen::items(&w.app, &command(), query(words)).unwrap().items.len();
    assert_eq!((found("voice numb"), found("voice \"24"), found("deck")), (25, 1, 0));
}

#[test]
fn each_account_counts_once_behind_an_idea_whatever_its_voices() {
    let w = workspace();
    voices(&w);
    let (one, two) = (finding(&w, "We hear nothing", &[1, 2, 4, 5]), finding(&w, "The deck is full", &[3]));
    let new = NewIdea { product_id: w.product, title: "Tell them".into(), problem: None, finding_id: Some(one) };
    let idea = made(&decide::add_idea(&w.app, &command(), new).unwrap());
    things::link(&w.app, &command(), LinkEnds { kind: LinkKind::Supports, from: two.thing(), to: idea }).unwrap();
    let view = &decide::ideas(&w.app, &command(), w.product).unwrap()[0];
    let voices = view.voices;
    assert_eq!((voices.items, voices.people, voices.nameless, voices.accounts, voices.revenue), (5, 3, 1, 2, 50_000));
    assert_eq!(trace::trace(&w.app, &command(), idea).unwrap().voices, voices);
    let change = FindingChange { remove: vec![1.into(), 2.into(), 4.into()], ..FindingChange::default() };
    listen::change_finding(&w.app, &command(), one, change).unwrap();
    assert_eq!(decide::ideas(&w.app, &command(), w.product).unwrap()[0].voices.revenue, 48_000);
}

#[test]
fn an_estimate_makes_a_raw_idea_weighed_and_a_decision_keeps_its_score() {
    let w = workspace();
    let idea = w.idea(&command(), "One");
    edit(&w, idea, &json!({ "reach": 100, "impact": 1, "confidence": 0.5 }));
    assert_eq!(decide::ideas(&w.app, &command(), w.product).unwrap()[0].idea.state, IdeaState::Raw);
    edit(&w, idea, &json!({ "effort": 5 }));
    let view = &decide::ideas(&w.app, &command(), w.product).unwrap()[0];
    assert_eq!((view.idea.state, view.rice.score), (IdeaState::Weighing, Some(10.0)));
    let decision = |reason: &str| DecisionInput {
        rev: rev(&w, idea),
        outcome: Outcome::Chosen,
        reason: reason.into(),
        look_again_on: None,
    };
    assert_eq!(decide::decide(&w.app, &command(), IdeaId(1), decision(" ")).unwrap_err().code(), "invalid");
    decide::decide(&w.app, &command(), IdeaId(1), decision("It is owed")).unwrap();
    edit(&w, idea, &json!({ "reach": 1000 }));
    let view = &decide::ideas(&w.app, &command(), w.product).unwrap()[0];
    assert_eq!((view.rice.score, view.decision.as_ref().unwrap().score), (Some(100.0), Some(10.0)));
}

/// A chosen idea with an epic and two stories, a team, and two releases.
struct Line {
    stories: [WorkItemId; 2],
    releases: [ReleaseId; 2],
    step: i64,
}

fn line(w: &Workspace) -> Line {
    voices(w);
    let n = finding(w, "We hear nothing", &[1, 2]);
    let new = NewIdea { product_id: w.product, title: "Tell them".into(), problem: None, finding_id: Some(n) };
    decide::add_idea(&w.app, &command(), new).unwrap();
    let epic = |idea| NewEpic { product_id: w.product, title: None, idea_id: Some(idea) };
    assert_eq!(specify::add_epic(&w.app, &command(), epic(IdeaId(1))).unwrap_err().code(), "idea-not-chosen");
    let input = DecisionInput { rev: 1, outcome: Outcome::Chosen, reason: "It is owed".into(), look_again_on: None };
    decide::decide(&w.app, &command(), IdeaId(1), input).unwrap();
    let epic = WorkItemId(made(&specify::add_epic(&w.app, &command(), epic(IdeaId(1))).unwrap()).id);
    let stories = ["Warn", "Choose"].map(|title| {
        let set = json!({ "title": title, "as_a": "commuter", "so_that": "I know", "points": 3 });
        let new = NewStory { product_id: w.product, epic_id: Some(epic), set: fields(&set) };
        let id = WorkItemId(made(&specify::add_story(&w.app, &command(), new).unwrap()).id);
        specify::add_criterion(&w.app, &command(), id, "Given a boat that is off").unwrap();
        id
    });
    let releases = [("Eider", "2026-05-31"), ("Fulmar", "2026-09-30")].map(|(title, day)| {
        ReleaseId(w.add(&command(), Collection::Release, &json!({ "title": title, "ends_on": day })).id)
    });
    let activity = map::add_activity(&w.app, &command(), w.product, NewTitled { title: "Before".into() }).unwrap();
    let step =
        map::add_step(&w.app, &command(), made(&activity).id.into(), NewTitled { title: "Be warned".into() }).unwrap();
    let columns =
        [("Orders", StoryState::HandedOver), ("Under hand", StoryState::InBuild), ("Afloat", StoryState::Done)];
    let columns = columns.map(|(title, state)| NewColumn { title: title.into(), state }).into();
    handover::add_team(&w.app, &command(), NewTeam { name: "Quayside".into(), columns }).unwrap();
    Line { stories, releases, step: made(&step).id }
}

fn put(w: &Workspace, line: &Line, story: WorkItemId, release: Option<ReleaseId>, before: Option<WorkItemId>) {
    let to = MapPlace { rev: rev(w, story.thing()), step_id: Some(line.step.into()), release_id: release, before };
    map::place_story(&w.app, &command(), story, to).unwrap();
}

fn finish(w: &Workspace, story: WorkItemId) {
    let to = HandOver { rev: rev(w, story.thing()), team_id: 1.into() };
    handover::hand_over(&w.app, &command(), story, to).unwrap();
    let to = QueuePlace { rev: rev(w, story.thing()), column_id: 3.into(), before: None };
    handover::move_in_queue(&w.app, &command(), story, to).unwrap();
}

#[test]
fn a_story_that_needs_a_later_one_is_flagged_and_kept_from_the_team() {
    let w = workspace();
    let l = line(&w);
    let [one, two] = l.stories;
    put(&w, &l, one, Some(l.releases[0]), None);
    put(&w, &l, two, Some(l.releases[1]), None);
    things::link(&w.app, &command(), LinkEnds { kind: LinkKind::NeededBy, from: two.thing(), to: one.thing() })
        .unwrap();
    let board = specify::board(&w.app, &command(), w.product).unwrap();
    assert_eq!(board.stories[0].needs_first[0].words, format!("needs S{} first", two.0));
    let to = HandOver { rev: rev(&w, one.thing()), team_id: 1.into() };
    assert_eq!(handover::hand_over(&w.app, &command(), one, to).unwrap_err().code(), "not-ready");
    let releases = plan::releases(&w.app, &command(), w.product).unwrap();
    assert_eq!((releases[0].out_of_order.len(), releases[0].trouble.as_deref()), (1, Some("30 days late")));
    put(&w, &l, two, Some(l.releases[0]), Some(one));
    let order: Vec<_> = {
        let mut stories = specify::board(&w.app, &command(), w.product).unwrap().stories;
        assert!(stories.iter().all(|story| story.needs_first.is_empty()));
        stories.sort_by(|a, b| a.item.map_position.total_cmp(&b.item.map_position));
        stories.iter().map(|story| story.item.id).collect()
    };
    assert_eq!(order, [two, one]);
}

#[test]
fn a_release_ships_the_ideas_that_are_done_and_a_result_hangs_on_the_line() {
    let w = workspace();
    let l = line(&w);
    let [one, two] = l.stories;
    put(&w, &l, one, Some(l.releases[0]), None);
    put(&w, &l, two, Some(l.releases[1]), None);
    finish(&w, one);
    let result = |release| {
        let set = json!({ "measure": "Left behind", "before": 31, "after": 18, "measured_on": "2026-06-29" });
        NewResult { idea_id: IdeaId(1), release_id: Some(release), increment_id: None, set: fields(&set) }
    };
    assert_eq!(learn::add_result(&w.app, &command(), result(l.releases[0])).unwrap_err().code(), "idea-not-out");
    let step = |release: ReleaseId, to: ReleaseTo| {
        plan::step_release(&w.app, &command(), release, ReleaseStep { rev: rev(&w, release.thing()), to })
    };
    let out = |release: ReleaseId| {
        step(release, ReleaseState::Released.into()).unwrap();
        decide::ideas(&w.app, &command(), w.product).unwrap()[0].idea.state
    };
    assert_eq!(out(l.releases[0]), IdeaState::Chosen, "a part of it is still to be done");
    assert_eq!(learn::add_result(&w.app, &command(), result(l.releases[1])).unwrap_err().code(), "invalid");
    learn::add_result(&w.app, &command(), result(l.releases[0])).unwrap();
    assert_eq!(learn::learned(&w.app, &command(), w.product).unwrap().results[0].words, "31 → 18, down 42 %");

    let sorts = |groups: &[trace::TraceGroup]| groups.iter().map(|g| (g.sort.clone(), g.count)).collect::<Vec<_>>();
    let named = |list: &[(&str, usize)]| list.iter().map(|(s, n)| ((*s).to_owned(), *n)).collect::<Vec<_>>();
    // Upstream of the result: only the story that went out with its release.
    let up = trace::trace(&w.app, &command(), thing(ThingKind::Result, 1)).unwrap();
    assert_eq!(sorts(&up.why), named(&[("story", 1), ("epic", 1), ("idea", 1), ("finding", 1), ("excerpt", 2)]));
    let down = trace::trace(&w.app, &command(), thing(ThingKind::FeedbackItem, 1)).unwrap();
    let expected = [
        ("excerpt", 1),
        ("finding", 1),
        ("idea", 1),
        ("decision", 1),
        ("epic", 1),
        ("story", 2),
        ("release", 2),
        ("result", 1),
    ];
    assert_eq!(sorts(&down.became), named(&expected));
    assert_eq!((down.progress.stories, down.progress.share), (2, 0.5));

    finish(&w, two);
    assert_eq!(out(l.releases[1]), IdeaState::Shipped);
    let roadmap = handover::roadmap(&w.app, &command(), w.product).unwrap();
    assert!(roadmap.bars.iter().all(|bar| bar.progress.share == 1.0 && bar.trouble.is_none()));
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

/// A release goes out with what is done. What is not goes where somebody says, in the same change, and what of an idea is not done is
/// not out.
#[test]
fn a_release_asks_where_goes_what_is_not_done() {
    let w = workspace();
    let l = line(&w);
    let [one, two] = l.stories;
    let [first, second] = l.releases;
    for story in [one, two] {
        put(&w, &l, story, Some(first), None);
    }
    let go = |release: ReleaseId, released_on: Option<&str>, to: Option<Option<ReleaseId>>| {
        let unfinished = to.map(|release_id| Unfinished { release_id });
        let to = ReleaseTo { state: ReleaseState::Released, released_on: released_on.map(str::to_owned), unfinished };
        plan::step_release(&w.app, &command(), release, ReleaseStep { rev: rev(&w, release.thing()), to })
    };
    let releases = || {
        let releases = plan::releases(&w.app, &command(), w.product).unwrap();
        let seen = |view: plan::ReleaseView| (view.release.state, view.release.released_on, view.progress.stories);
        releases.into_iter().map(seen).collect::<Vec<_>>()
    };
    let planned = releases();

    finish(&w, one);
    let refused = go(first, None, None).unwrap_err();
    assert_eq!(refused.code(), "stories-not-done");
    let Problem::Refused { words, .. } = refused else { panic!() };
    assert!(words.starts_with(&format!("1 of 2 stories of {first} are not done: S{}.", two.0)), "{words}");
    assert_eq!(go(first, None, Some(Some(first))).unwrap_err().code(), "invalid", "nothing goes where it is");
    assert_eq!(go(first, Some("2026-07-01"), Some(None)).unwrap_err().code(), "invalid", "a day to come");
    assert_eq!(go(first, Some("soon"), Some(None)).unwrap_err().code(), "invalid");
    assert_eq!(releases(), planned, "nothing happened");

    let saved = go(first, Some("2026-06-03"), Some(Some(second))).unwrap();
    let out = (ReleaseState::Released, Some("2026-06-03".to_owned()), 1);
    assert_eq!(releases()[0], out);
    assert_eq!(releases()[1].2, 1, "what was not done goes with the next");
    assert_eq!(go(second, None, Some(Some(first))).unwrap_err().code(), "invalid", "that one is out");
    let learned = learn::learned(&w.app, &command(), w.product).unwrap().out;
    assert_eq!((learned.len(), learned[0].out_on.as_deref()), (1, Some("2026-06-03")));

    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(releases(), planned, "one change, taken back whole");
    assert!(learn::learned(&w.app, &command(), w.product).unwrap().out.is_empty());

    go(second, None, None).unwrap();
    assert_eq!(releases()[1], (ReleaseState::Released, Some("2026-06-30".to_owned()), 0), "today, where nobody says");
    let again = ReleaseStep { rev: rev(&w, second.thing()), to: ReleaseState::Planned.into() };
    let refused = plan::step_release(&w.app, &command(), second, again).unwrap_err();
    assert_eq!(refused.code(), "no-such-step", "what is out is not planned again");
    let back = ReleaseStep { rev: rev(&w, second.thing()), to: ReleaseState::UnderWay.into() };
    plan::step_release(&w.app, &command(), second, back).unwrap();
    assert_eq!(releases()[1], (ReleaseState::UnderWay, None, 0));
    go(first, None, Some(None)).unwrap();
    assert_eq!(specify::board(&w.app, &command(), w.product).unwrap().stories[1].item.release_id, None);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

/// An idea is out with what of it is done, not with what a release merely held.
#[test]
fn what_is_not_done_is_not_out() {
    let w = workspace();
    let l = line(&w);
    put(&w, &l, l.stories[0], Some(l.releases[0]), None);
    // As it could be before releases asked: out, with a story that is not done.
    let release = l.releases[0];
    let to = ReleaseTo { unfinished: Some(Unfinished { release_id: None }), ..ReleaseState::Released.into() };
    plan::step_release(&w.app, &command(), release, ReleaseStep { rev: rev(&w, release.thing()), to }).unwrap();
    put(&w, &l, l.stories[0], Some(release), None);
    assert!(learn::learned(&w.app, &command(), w.product).unwrap().out.is_empty());
    finish(&w, l.stories[0]);
    assert_eq!(learn::learned(&w.app, &command(), w.product).unwrap().out.len(), 1);
}

/// A feature between an epic and its stories, a task below one, and an increment of the idea hide nothing and double nothing.
#[test]
fn the_line_holds_over_all_levels() {
    let w = workspace();
    let l = line(&w);
    let [one, two] = l.stories;
    let below = |level: Level, set: &Value| {
        let new = NewThing { product: w.product, level: Some(level), set: fields(set) };
        made(&add_thing(&w.app, &command(), Collection::WorkItem, new).unwrap())
    };
    let epic = thing(ThingKind::WorkItem, 1);
    let feature = below(Level::Feature, &json!({ "title": "By text", "parent_id": epic.id }));
    edit(&w, two.thing(), &json!({ "parent_id": feature.id }));
    below(Level::Task, &json!({ "title": "Send it", "parent_id": two.0, "points": 8 }));
    let step = w.add(&command(), Collection::Increment, &json!({ "idea_id": 1, "title": "A first boat" }));
    let three = WorkItemId(w.story(&command(), "Try it").id);
    let set = json!({ "as_a": "commuter", "so_that": "I know", "points": 2, "increment_id": step.id });
    edit(&w, three.thing(), &set);
    specify::add_criterion(&w.app, &command(), three, "Given a boat").unwrap();

    // Every view names the epic, and counts stories only.
    for story in [one, two, three] {
        put(&w, &l, story, Some(l.releases[0]), None);
    }
    finish(&w, two);
    let seen = trace::trace(&w.app, &command(), IdeaId(1).thing()).unwrap();
    let detail =
        |sort: &str| seen.became.iter().find(|group| group.sort == sort).map(|group| group.lines[0].detail.clone());
    assert_eq!(detail("epic").as_deref(), Some("1 of 2 stories done"));
    assert_eq!(detail("feature").as_deref(), Some("1 of 1 stories done"));
    assert_eq!((seen.progress.stories, seen.progress.stories_done), (3, 1));
    let done = w.rows(Collection::WorkItem, &["reference", "done", "points_below"]);
    let of = |reference: &str| done.iter().find(|row| row[0] == reference).map(|row| (row[1].clone(), row[2].clone()));
    assert_eq!(of("E1"), Some((json!(0.5), json!(6.0))), "{done:?}");
    let roadmap = handover::roadmap(&w.app, &command(), w.product).unwrap();
    let entries: Vec<_> = roadmap.bars[0].entries.iter().map(|one| (one.epic_id, one.progress.stories)).collect();
    assert_eq!(entries, [(Some(WorkItemId(epic.id)), 2), (None, 1)]);
    let page = takeout::release_markdown(&w.app, &command(), l.releases[0]).unwrap();
    let headings: Vec<&str> = page.lines().filter(|line| line.starts_with("## ")).collect();
    assert_eq!(headings, ["## E1 Tell them", "## Stories without an epic"], "{page}");
    let csv = takeout::stories_csv(&w.app, &command(), w.product).unwrap();
    assert_eq!(csv.matches("E1 Tell them").count(), 2, "{csv}");

    // What of an idea lies in an increment is a part of it.
    let go = |release: ReleaseId| {
        let to = ReleaseTo { unfinished: Some(Unfinished { release_id: None }), ..ReleaseState::Released.into() };
        plan::step_release(&w.app, &command(), release, ReleaseStep { rev: rev(&w, release.thing()), to }).unwrap();
        decide::ideas(&w.app, &command(), w.product).unwrap()[0].idea.state
    };
    finish(&w, one);
    assert_eq!(go(l.releases[0]), IdeaState::Chosen, "the story of its increment is not done");
    assert_eq!(learn::learned(&w.app, &command(), w.product).unwrap().out.len(), 1, "a part of it is out");
    put(&w, &l, three, Some(l.releases[1]), None);
    finish(&w, three);
    assert_eq!(go(l.releases[1]), IdeaState::Shipped);
    assert!(iron_kite_store::verify(w.dir.path()).unwrap().faults.is_empty());
}

/// What the views of the stages compute from records, by the rules of core, is what their collections show.
#[test]
fn the_fields_of_collections_say_what_the_rules_say() {
    let w = workspace();
    let l = line(&w);
    put(&w, &l, l.stories[0], Some(l.releases[0]), None);
    edit(&w, thing(ThingKind::Idea, 1), &json!({ "reach": 10, "impact": 1, "confidence": 1, "effort": 2 }));
    edit(&w, w.idea(&command(), "Two"), &json!({ "reach": 90, "impact": 1, "confidence": 1, "effort": 3 }));
    edit(
        &w,
        thing(ThingKind::Release, 1),
        &json!({ "starts_on": "2026-06-01", "ends_on": "2026-07-31", "capacity": 1 }),
    );
    edit(&w, thing(ThingKind::Release, 2), &json!({ "starts_on": "2026-07-30" }));
    w.story(&command(), "Nothing said about it");

    let found = w.rows(Collection::Finding, &["people", "accounts", "revenue", "weeks", "spread", "kinds"]);
    let said = listen::findings(&w.app, &command(), w.product).unwrap();
    let kinds = |view: &listen::FindingView| view.kinds[..view.kinds.len().min(2)].join(", ").replace('_', " ");
    let expected = said.iter().map(|view| {
        let voices = view.voices;
        vec![
            json!(voices.people),
            json!(voices.accounts),
            json!(voices.revenue),
            json!(view.weeks),
            json!(view.spread),
            json!(kinds(view)),
        ]
    });
    assert_eq!(found, expected.collect::<Vec<_>>());

    let found = w.rows(Collection::Idea, &["rank", "people", "accounts", "revenue", "outcome", "reason"]);
    let mut ideas = decide::ideas(&w.app, &command(), w.product).unwrap();
    ideas.sort_by_key(|view| view.idea.id);
    for (row, view) in found.iter().zip(&ideas) {
        let revenue = row[3].as_i64().unwrap_or_default();
        let counts = (row[1].as_u64(), row[2].as_u64(), revenue);
        let number = |n: usize| u64::try_from(n).ok();
        assert_eq!(counts, (number(view.voices.people), number(view.voices.accounts), view.voices.revenue));
        assert_eq!(row[0].as_u64(), view.rice.rank.and_then(number));
        assert_eq!(row[5].as_str(), view.decision.as_ref().map(|decision| decision.reason.as_str()));
    }
    assert_eq!(found[0][4], "chosen");

    let found = w.rows(Collection::WorkItem, &["level", "missing"]);
    let board = specify::board(&w.app, &command(), w.product).unwrap();
    let missing: Vec<String> = board.stories.iter().map(|story| story.check.missing()).collect();
    let stories = found.iter().filter(|row| row[0] == "story");
    assert_eq!(stories.map(|row| row[1].as_str().unwrap_or_default().to_owned()).collect::<Vec<_>>(), missing);
    assert_eq!(missing[2], "a persona, a reason, acceptance, an estimate");

    let found = w.rows(Collection::Release, &["trouble", "load"]);
    let releases = plan::releases(&w.app, &command(), w.product).unwrap();
    assert_eq!(found[0][0].as_str(), releases[0].trouble.as_deref());
    assert_eq!(
        found[0],
        [json!("2 points over, shares 2 days with R2"), json!({ "done": 0.0, "points": 3.0, "capacity": 1.0 })]
    );
}

#[test]
fn links_of_the_line_are_edited_like_fields_under_its_rules() {
    let w = workspace();
    let l = line(&w);
    let [one, two] = l.stories.map(WorkItemId::thing);
    let set = |call: &Call, of: Thing, set: &Value| {
        things::edit(&w.app, call, of, Edit { rev: rev(&w, of), set: fields(set) }).map(drop)
    };
    set(&command(), one, &json!({ "needs": [two.id] })).unwrap();
    assert_eq!(w.rows(Collection::WorkItem, &["needed_by"])[2][0][0]["id"], one.id);
    let circle = set(&command(), two, &json!({ "needs": [one.id] })).unwrap_err();
    assert_eq!(circle.code(), "dependency-circle");
    set(&command(), one, &json!({ "needs": [] })).unwrap();
    set(&command(), two, &json!({ "needs": [one.id] })).unwrap();

    // Whoever listens may put an excerpt behind a finding, but not a finding behind an idea.
    let joss = w.person(Role::Contributor);
    let other = finding(&w, "The deck is full", &[3]);
    set(&joss, thing(ThingKind::Excerpt, 4), &json!({ "findings": [other.0] })).unwrap();
    let refused = set(&joss, other.thing(), &json!({ "ideas": [1] })).unwrap_err();
    assert_eq!(refused.code(), "not-allowed");
    set(&command(), other.thing(), &json!({ "ideas": [1], "title": "No place on deck" })).unwrap();
    assert_eq!(decide::ideas(&w.app, &command(), w.product).unwrap()[0].findings.len(), 2);
    let strange = set(&command(), other.thing(), &json!({ "ideas": [1, 99] })).unwrap_err();
    assert!(strange.detail().contains("no idea with the number 99"), "{strange}");

    // Things of two products stay apart, and nothing of a refused edit remains.
    let gangway = made(&iron_kite_ops::overview::add_product(&w.app, &command(), "Gangway").unwrap());
    let new = NewIdea { product_id: gangway.id.into(), title: "Scan".into(), problem: None, finding_id: None };
    let scan = made(&decide::add_idea(&w.app, &command(), new).unwrap());
    let apart = set(&command(), other.thing(), &json!({ "ideas": [1, scan.id], "title": "Lost" })).unwrap_err();
    assert_eq!(apart.code(), "other-product");
    assert_eq!(w.rows(Collection::Finding, &["title"])[1], [json!("No place on deck")]);
}

#[test]
fn a_teams_columns_change_under_what_stands_in_them() {
    let w = workspace();
    let l = line(&w);
    let story = l.stories[0];
    put(&w, &l, story, Some(l.releases[1]), None);
    let team = TeamId(1);
    let view = || handover::teams(&w.app, &command()).unwrap().remove(0);
    let state = || handover::queue(&w.app, &command(), team).unwrap().stories[0].item.state;
    let to = HandOver { rev: rev(&w, story.thing()), team_id: team };
    handover::hand_over(&w.app, &command(), story, to).unwrap();
    let arrive = |title: &str| ColumnChange { id: None, title: title.into(), state: StoryState::HandedOver };
    // Its columns without the one at a place, the first with another state.
    let columns = |skip: usize, first: StoryState| -> Vec<ColumnChange> {
        let all = view().columns.into_iter().enumerate().filter(|(at, _)| *at != skip);
        let state = |at, state| if at == 0 { first } else { state };
        all.map(|(at, one)| ColumnChange { id: Some(one.id), title: one.title, state: state(at, one.state) }).collect()
    };
    let change = |columns| {
        let to = TeamChange { rev: view().team.rev, name: "Slipway".into(), columns };
        handover::change_team(&w.app, &command(), team, to)
    };
    // The column in which it stands cannot go, another one can.
    assert_eq!(change(columns(0, StoryState::HandedOver)).unwrap_err().code(), "invalid");
    let mut without = columns(0, StoryState::HandedOver);
    without.push(arrive("New"));
    assert_eq!(change(without).unwrap_err().code(), "column-in-use");
    change(columns(2, StoryState::HandedOver)).unwrap();
    assert_eq!((view().columns.len(), view().team.name.as_str()), (2, "Slipway"));
    // What stands in a column takes its state.
    let mut other = columns(9, StoryState::InBuild);
    other.push(arrive("New"));
    let saved = change(other).unwrap();
    assert_eq!((view().columns.len(), state()), (3, StoryState::InBuild));
    history::undo_set(&w.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!((view().columns.len(), state()), (2, StoryState::HandedOver));
    // A contributor moves it in the queue of their team, and in no other.
    let joss = w.person(Role::Contributor);
    let place = || QueuePlace { rev: rev(&w, story.thing()), column_id: view().columns[1].id, before: None };
    assert_eq!(handover::move_in_queue(&w.app, &joss, story, place()).unwrap_err().code(), "not-allowed");
    let people = vec![joss.actor.as_ref().unwrap().user_id.unwrap()];
    handover::set_team_people(&w.app, &command(), team, TeamPeople { people }).unwrap();
    handover::move_in_queue(&w.app, &joss, story, place()).unwrap();
    assert_eq!(state(), StoryState::InBuild);
    // A team that was handed something stays.
    let refused = handover::remove_team(&w.app, &command(), team, view().team.rev).unwrap_err();
    assert_eq!(refused.code(), "team-in-use");
}
