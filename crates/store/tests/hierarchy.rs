//! What is below work, ideas and objectives by SQL is what core's hierarchy of work says, over all five levels.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;

use iron_kite_core::decide::Delivery;
use iron_kite_core::fields::{Collection, Context, check_query};
use iron_kite_core::plan::Counted;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{Hierarchy, Work, WorkItem};
use iron_kite_core::things::{
    IdeaId, IncrementId, Level, ObjectiveId, ProductId, ReleaseId, Thing, ThingKind, WorkItemId,
};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::collections::Of;
use iron_kite_store::queries::trace::Direction;
use iron_kite_store::{Error, Store, Way, WriteContext, verify};
use jiff::civil::date;
use proptest::prelude::*;
use proptest::sample::Index;
use serde_json::{Map, Value, json};

/// Two ideas with an increment each, two releases, and two objectives of which the second is a part of the first.
const EACH: std::ops::RangeInclusive<i64> = 1..=2;

/// Work of a product and what it is for.
#[derive(Debug, Clone)]
struct Plan {
    work: Vec<Work>,
    became: BTreeSet<(IdeaId, WorkItemId)>,
    serving: BTreeSet<(ObjectiveId, Thing)>,
}

fn plan() -> impl Strategy<Value = Plan> {
    let item = (0..5usize, any::<Index>(), any::<[bool; 2]>(), prop::option::of(1..9u8), 0..3i64, 0..3i64);
    let ends = prop::collection::vec((EACH, any::<Index>(), 0..3usize), 0..6);
    (prop::collection::vec(item, 1..25), ends.clone(), ends).prop_map(|(items, became, serving)| {
        let mut work: Vec<Work> = Vec::new();
        for (id, (level, pick, [loose, done], points, release, increment)) in (1..).zip(items) {
            let level = Level::ALL[level];
            let above: Vec<WorkItemId> = work.iter().filter(|one| one.level < level).map(|one| one.id).collect();
            let story = level == Level::Story;
            work.push(Work {
                id: WorkItemId(id),
                parent: (!loose && !above.is_empty()).then(|| *pick.get(&above)),
                level,
                counted: Counted { done, points: points.map(f64::from) },
                release: (story && release > 0).then_some(ReleaseId(release)),
                increment: (story && increment > 0).then_some(IncrementId(increment)),
            });
        }
        let item = |pick: &Index| pick.get(&work).id;
        let thing = |of: i64, pick: &Index, sort| match sort {
            0 => Thing::new(ThingKind::Idea, of),
            1 => Thing::new(ThingKind::Release, of),
            _ => item(pick).thing(),
        };
        Plan {
            became: became.iter().map(|(idea, pick, _)| (IdeaId(*idea), item(pick))).collect(),
            serving: serving.iter().map(|(of, pick, sort)| (ObjectiveId(*of), thing(3 - *of, pick, *sort))).collect(),
            work,
        }
    })
}

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

fn workspace(plan: Plan) -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
        tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
        for n in EACH {
            tx.insert(ThingKind::Idea, &map(json!({ "product_id": 1, "title": "x", "state": "chosen" })))?;
            let step = json!({ "product_id": 1, "idea_id": n, "position": n, "title": "x", "state": "planned" });
            tx.insert(ThingKind::Increment, &map(step))?;
            tx.insert(ThingKind::Release, &map(json!({ "product_id": 1, "title": "x", "state": "planned" })))?;
            let goal = json!({ "product_id": 1, "title": "x", "measure": "x", "start_value": 0, "target_value": 1,
                "parent_id": (n == 2).then_some(1) });
            tx.insert(ThingKind::Objective, &map(goal))?;
            let result = json!({ "idea_id": n, "measure": "x", "before": 0, "after": 1, "measured_on": "2026-01-01" });
            tx.insert(ThingKind::Result, &map(result))?;
        }
        for item in &plan.work {
            let row = json!({ "product_id": 1, "level": item.level.name(), "parent_id": item.parent, "position": 1,
                "title": "x", "state": if item.counted.done { "done" } else { "draft" }, "map_position": 1,
                "points": item.counted.points, "release_id": item.release, "increment_id": item.increment });
            assert_eq!(tx.insert(ThingKind::WorkItem, &map(row))?, item.id.0);
        }
        for (idea, item) in &plan.became {
            tx.add_link(LinkKind::Becomes, idea.thing(), item.thing())?;
        }
        for (objective, thing) in &plan.serving {
            tx.add_link(LinkKind::AsksFor, objective.thing(), *thing)?;
        }
        Ok(())
    };
    store.write(context(), write).unwrap();
    (dir, store)
}

/// How far stories are, as the fields of a collection say it: the part that is done, and for work its points.
fn shown(store: &Store, collection: Collection, id: i64) -> (Option<f64>, BTreeSet<i64>) {
    let shown: Result<_, Error> = store.read(|rows| {
        let catalogue = rows.catalogue()?;
        let of = Of { catalogue: &catalogue, collection, product: ProductId(1), today: date(2026, 2, 18) };
        let fields = catalogue.of(collection);
        let query = serde_json::from_value(json!({ "fields": ["done", "stories"] })).unwrap();
        let asked = check_query(&query, &Context { fields: &fields, today: of.today, me: None }).unwrap();
        let row = rows.values_of(of, &[id], &asked.fields)?.remove(0);
        let stories = row.values["stories"].as_array().cloned().unwrap_or_default();
        Ok((row.values["done"].as_f64(), stories.iter().filter_map(|one| one["id"].as_i64()).collect()))
    });
    shown.unwrap()
}

/// The same as core says it.
fn told(work: &Hierarchy, stories: &BTreeSet<WorkItemId>) -> (Option<f64>, BTreeSet<i64>) {
    let progress = work.progress(stories);
    ((progress.stories > 0).then_some(progress.share), stories.iter().map(|story| story.0).collect())
}

fn same(found: &(Option<f64>, BTreeSet<i64>), expected: &(Option<f64>, BTreeSet<i64>)) -> bool {
    let close = match (found.0, expected.0) {
        (Some(one), Some(other)) => (one - other).abs() < 1e-9,
        (one, other) => one == other,
    };
    close && found.1 == expected.1
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn sql_and_core_agree_on_what_is_below(plan in plan()) {
        let (_dir, store) = workspace(plan.clone());
        let became: Vec<_> = plan.became.iter().copied().collect();
        let split: Vec<_> = EACH.map(|n| (IdeaId(n), IncrementId(n))).collect();
        let delivery = Delivery::of(plan.work.clone(), &became, &split);
        for item in &plan.work {
            let parts = plan.work.iter().filter(|other| other.parent == Some(item.id));
            let below = parts.flat_map(|part| delivery.work.stories_below(part.id)).collect();
            let (found, expected) = (shown(&store, Collection::WorkItem, item.id.0), told(&delivery.work, &below));
            prop_assert!(same(&found, &expected), "{:?}: {found:?}, not {expected:?}", item.id);
            let at: BTreeSet<WorkItemId> = store
                .read(|rows| rows.stories_below(item.id))
                .unwrap()
                .iter()
                .map(|story| story.id)
                .collect();
            prop_assert_eq!(at, delivery.work.stories_below(item.id));
            // A result follows what its idea became, whatever lies between.
            let line: BTreeSet<WorkItemId> =
                delivery.work.ancestors(item.id).map(|above| above.id).chain([item.id]).collect();
            let down = store.read(|rows| rows.reach(item.id.thing(), Direction::Down)).unwrap();
            for idea in EACH.map(IdeaId) {
                let from = became.iter().any(|(of, to)| *of == idea && line.contains(to))
                    || item.increment == Some(IncrementId(idea.0));
                let reached = down.contains(&Thing::new(ThingKind::Result, idea.0));
                prop_assert!(reached || !from, "{:?} leads to no result of {idea}", item.id);
            }
        }
        for idea in EACH.map(IdeaId) {
            let (found, expected) =
                (shown(&store, Collection::Idea, idea.0), told(&delivery.work, &delivery.of_idea(idea)));
            prop_assert!(same(&found, &expected), "{idea}: {found:?}, not {expected:?}");
            let up = store.read(|rows| rows.reach(Thing::new(ThingKind::Result, idea.0), Direction::Up)).unwrap();
            for story in delivery.of_idea(idea) {
                prop_assert!(up.contains(&story.thing()), "the result of {idea} does not rest on {story:?}");
            }
        }
        for objective in EACH.map(ObjectiveId) {
            let counts = |of: ObjectiveId| of == objective || objective.0 == 1;
            let serving = plan.serving.iter().filter(|(of, _)| counts(*of)).flat_map(|(_, thing)| match thing.kind {
                ThingKind::Idea => delivery.of_idea(IdeaId(thing.id)),
                ThingKind::Release => delivery.in_release(ReleaseId(thing.id)),
                _ => delivery.work.stories_below(WorkItemId(thing.id)),
            });
            let (found, expected) =
                (shown(&store, Collection::Objective, objective.0), told(&delivery.work, &serving.collect()));
            prop_assert!(same(&found, &expected), "{objective}: {found:?}, not {expected:?}");
        }
    }
}

/// Something that somebody does to the work.
#[derive(Debug, Clone)]
enum Act {
    Add { level: usize, below: Option<Index> },
    Move { item: Index, below: Option<Index> },
    Say { item: Index, done: bool, points: Option<u8> },
    Remove { item: Index },
    Undo,
}

fn act() -> impl Strategy<Value = Act> {
    let below = || prop::option::of(any::<Index>());
    prop_oneof![
        4 => (0..5usize, below()).prop_map(|(level, below)| Act::Add { level, below }),
        2 => (any::<Index>(), below()).prop_map(|(item, below)| Act::Move { item, below }),
        3 => (any::<Index>(), any::<bool>(), prop::option::of(0..9u8))
            .prop_map(|(item, done, points)| Act::Say { item, done, points }),
        1 => any::<Index>().prop_map(|item| Act::Remove { item }),
        1 => Just(Act::Undo),
    ]
}

/// Does it; nothing where there is nothing to do it to, or it was done since.
fn apply(store: &Store, act: Act, last: Option<i64>) -> Option<i64> {
    let write = move |tx: &mut iron_kite_store::Tx<'_>| -> Result<(), Error> {
        let items: Vec<WorkItem> = tx.rows().list("ORDER BY id", [])?;
        let parent = |level: Level, below: Option<Index>| {
            let above: Vec<WorkItemId> = items.iter().filter(|one| one.level < level).map(|one| one.id).collect();
            below.filter(|_| !above.is_empty()).map(|pick| *pick.get(&above))
        };
        let picked = |pick: Index| (!items.is_empty()).then(|| pick.get(&items));
        match act {
            Act::Add { level, below } => {
                let level = Level::ALL[level];
                let row = json!({ "product_id": 1, "level": level.name(), "parent_id": parent(level, below),
                    "position": 1, "title": "x", "state": "draft", "map_position": 1 });
                tx.insert(ThingKind::WorkItem, &map(row)).map(drop)
            }
            Act::Move { item, below } => picked(item).map_or(Ok(()), |item| {
                tx.set(item.id.thing(), &map(json!({ "parent_id": parent(item.level, below) })))
            }),
            Act::Say { item, done, points } => picked(item).map_or(Ok(()), |item| {
                let state = if done { "done" } else { "draft" };
                tx.set(item.id.thing(), &map(json!({ "state": state, "points": points })))
            }),
            Act::Remove { item } => picked(item).map_or(Ok(()), |item| tx.remove(item.id.thing())),
            Act::Undo => last.map_or(Ok(()), |set| tx.undo(set).map(drop)),
        }
    };
    store.write(context(), write).unwrap().1.map(|committed| committed.set)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn what_is_added_up_follows_any_writes(acts in prop::collection::vec(act(), 1..60)) {
        let (dir, store) = workspace(Plan { work: Vec::new(), became: BTreeSet::new(), serving: BTreeSet::new() });
        let mut last = None;
        for act in acts {
            last = apply(&store, act, last).or(last);
        }
        let items: Vec<WorkItem> = store.read(|rows| rows.list("ORDER BY id", [])).unwrap();
        let hierarchy = Hierarchy::of(items.iter().map(Work::from));
        for item in items.iter().filter(|item| item.level < Level::Story) {
            let (found, expected) =
                (shown(&store, Collection::WorkItem, item.id.0), told(&hierarchy, &hierarchy.stories_below(item.id)));
            prop_assert!(same(&found, &expected), "{}: {found:?}, not {expected:?}", item.id);
        }
        drop(store);
        prop_assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
    }
}
