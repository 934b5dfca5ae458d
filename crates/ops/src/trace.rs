//! The trace of a thing: why it exists, and what became of it.

use iron_kite_core::decide::{Decision, Idea, Increment, Objective, Outcome, Request, Voices, shown, voices};
use iron_kite_core::learn::{Measured, change_words};
use iron_kite_core::listen::{Account, FeedbackItem, Finding, Study};
use iron_kite_core::plan::{Progress, Release, progress};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{StoryState, WorkItem, story_sentence};
use iron_kite_core::things::{Level, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use iron_kite_store::queries::trace::Direction;
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::decide::{comes_along, likely_score};
use crate::handover::check_of;
use crate::things::check_seen;

/// One thing on the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TraceLine {
    /// The thing.
    pub thing: Thing,
    /// Its product, where it belongs to one: links lead there.
    pub product_id: Option<i64>,
    /// Its short reference.
    pub reference: Option<String>,
    /// What it says.
    pub title: String,
    /// What else is to be known, in a few words.
    pub detail: String,
    /// Its state, where it has one.
    pub state: Option<String>,
}

/// Things of one sort on the line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TraceGroup {
    /// What they are: an epic and a story are told apart here.
    pub sort: String,
    /// How many there are.
    pub count: usize,
    /// The first of them.
    pub lines: Vec<TraceLine>,
}

/// The trace of a thing.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Trace {
    /// The thing itself.
    pub of: TraceLine,
    /// Why it exists: towards the words, nearest first.
    pub why: Vec<TraceGroup>,
    /// Who stands behind it.
    pub voices: Voices,
    /// What became of it: towards the result, nearest first.
    pub became: Vec<TraceGroup>,
    /// How far the stories below it are.
    pub progress: Progress,
    /// Stories that it depends on.
    pub depends_on: Vec<TraceLine>,
    /// Stories that depend on it.
    pub needed_by: Vec<TraceLine>,
}

/// So many of a sort are told; the rest is counted.
const TOLD: usize = 3;

/// The trace of a thing.
///
/// # Errors
/// Where there is no such thing.
pub fn trace(app: &App, call: &Call, thing: Thing) -> Result<Trace, Problem> {
    app.read(call, Right::Read, |rows| {
        check_seen(rows, call, thing)?;
        let today = call.today;
        let of = describe(rows, thing, today)?;
        let up = rows.reach(thing, Direction::Up)?;
        let down = rows.reach(thing, Direction::Down)?;
        let mut items: Vec<i64> = ids(&up, ThingKind::FeedbackItem);
        if thing.kind == ThingKind::FeedbackItem {
            items.push(thing.id);
        }
        let mut work = ids(&down, ThingKind::WorkItem);
        if thing.kind == ThingKind::WorkItem {
            work.push(thing.id);
        } else if thing.kind == ThingKind::Release {
            work = rows.list::<WorkItem>("WHERE release_id = ?1", [thing.id])?.iter().map(|w| w.id.0).collect();
        }
        let work: Vec<WorkItem> = rows.among(&work)?;
        let (depends_on, needed_by) = dependencies(rows, thing, today)?;
        Ok(Trace {
            why: groups(rows, &up, &UP, thing, today)?,
            voices: voices(&rows.who_said(&items)?, &rows.revenue()?),
            became: groups(rows, &down, &DOWN, thing, today)?,
            progress: progress(work.iter().filter(|item| item.level == Level::Story)),
            depends_on,
            needed_by,
            of,
        })
    })
}

fn ids(things: &[Thing], kind: ThingKind) -> Vec<i64> {
    things.iter().filter(|thing| thing.kind == kind).map(|thing| thing.id).collect()
}

/// A sort of things on the line, as the panel groups them.
#[derive(Clone, Copy, PartialEq)]
enum Sort {
    Of(ThingKind),
    Work(Level),
}

/// The order of the groups, from the thing outwards.
const UP: [Sort; 13] = [
    Sort::Of(ThingKind::Release),
    Sort::Work(Level::Story),
    Sort::Work(Level::Feature),
    Sort::Work(Level::Epic),
    Sort::Work(Level::Initiative),
    Sort::Of(ThingKind::Increment),
    Sort::Of(ThingKind::Idea),
    Sort::Of(ThingKind::Objective),
    Sort::Of(ThingKind::Finding),
    Sort::Of(ThingKind::Excerpt),
    Sort::Of(ThingKind::Request),
    Sort::Of(ThingKind::FeedbackItem),
    Sort::Of(ThingKind::Study),
];
const DOWN: [Sort; 15] = [
    Sort::Of(ThingKind::FeedbackItem),
    Sort::Of(ThingKind::Excerpt),
    Sort::Of(ThingKind::Finding),
    Sort::Of(ThingKind::Objective),
    Sort::Of(ThingKind::Idea),
    Sort::Of(ThingKind::Decision),
    Sort::Of(ThingKind::Increment),
    Sort::Of(ThingKind::Document),
    Sort::Of(ThingKind::Page),
    Sort::Work(Level::Initiative),
    Sort::Work(Level::Epic),
    Sort::Work(Level::Feature),
    Sort::Work(Level::Story),
    Sort::Of(ThingKind::Release),
    Sort::Of(ThingKind::Result),
];

fn groups(
    rows: &Rows<'_>,
    reached: &[Thing],
    order: &[Sort],
    of: Thing,
    today: Date,
) -> Result<Vec<TraceGroup>, Problem> {
    let mut groups = Vec::new();
    for sort in order {
        // An excerpt quotes its item, so the item itself is told only where somebody stands at the excerpt.
        if *sort == Sort::Of(ThingKind::FeedbackItem) && !matches!(of.kind, ThingKind::Excerpt | ThingKind::Study) {
            continue;
        }
        let (name, mut found) = match sort {
            Sort::Of(kind) => (kind.name(), ids(reached, *kind)),
            Sort::Work(level) => {
                let items: Vec<WorkItem> = rows.among(&ids(reached, ThingKind::WorkItem))?;
                (level.name(), items.iter().filter(|item| item.level == *level).map(|item| item.id.0).collect())
            }
        };
        let kind = if let Sort::Of(kind) = sort { *kind } else { ThingKind::WorkItem };
        if kind == ThingKind::Excerpt {
            found = newest_first(rows, &found)?;
        }
        if found.is_empty() {
            continue;
        }
        let lines =
            found.iter().take(TOLD).map(|id| describe(rows, Thing::new(kind, *id), today)).collect::<Result<_, _>>()?;
        groups.push(TraceGroup { sort: name.to_owned(), count: found.len(), lines });
    }
    Ok(groups)
}

fn newest_first(rows: &Rows<'_>, excerpts: &[i64]) -> Result<Vec<i64>, Problem> {
    let picked = serde_json::to_string(excerpts).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let sorted = rows
        .excerpts("e.id IN (SELECT value FROM json_each(?1)) ORDER BY COALESCE(i.said_on, '') DESC, e.id", [picked])?;
    Ok(sorted.into_iter().map(|row| row.excerpt.id.0).collect())
}

fn dependencies(rows: &Rows<'_>, thing: Thing, today: Date) -> Result<(Vec<TraceLine>, Vec<TraceLine>), Problem> {
    if !matches!(thing.kind, ThingKind::WorkItem | ThingKind::Idea) {
        return Ok((Vec::new(), Vec::new()));
    }
    let needs = rows.links(LinkKind::NeededBy, thing.kind, thing.kind)?;
    let side = |pick: &dyn Fn(i64, i64) -> Option<i64>| -> Result<Vec<TraceLine>, Problem> {
        let others = needs.iter().filter_map(|link| pick(link.from_id, link.to_id));
        others.map(|id| describe(rows, Thing::new(thing.kind, id), today)).collect()
    };
    Ok((side(&|from, to| (to == thing.id).then_some(from))?, side(&|from, to| (from == thing.id).then_some(to))?))
}

/// A thing in a line of words.
fn describe(rows: &Rows<'_>, thing: Thing, today: Date) -> Result<TraceLine, Problem> {
    let row = rows.json(thing)?;
    let mut line = TraceLine {
        thing,
        product_id: row["product_id"].as_i64(),
        reference: thing.kind.letter().map(|letter| format!("{letter}{}", thing.id)),
        title: row["title"].as_str().or(row["name"].as_str()).unwrap_or_default().to_owned(),
        detail: String::new(),
        state: row["state"].as_str().map(str::to_owned),
    };
    match thing.kind {
        ThingKind::Excerpt => {
            let excerpt = rows.excerpts("e.id = ?1", [thing.id])?.into_iter().next();
            if let Some(excerpt) = excerpt {
                let item: FeedbackItem = rows.get(excerpt.excerpt.item_id)?;
                line.product_id = Some(item.product_id.0);
                line.title = format!("“{}”", excerpt.words);
                line.detail = joined(&[excerpt.person, excerpt.account, excerpt.said_on, Some(excerpt.source)]);
            }
        }
        ThingKind::FeedbackItem => {
            let item: FeedbackItem = rows.get(thing.id)?;
            line.title = item.title().unwrap_or(item.text).chars().take(140).collect();
            line.detail = joined(&[item.said_on]);
        }
        ThingKind::Finding => {
            let finding: Finding = rows.get(thing.id)?;
            line.title = finding.title;
        }
        ThingKind::Study => {
            let study: Study = rows.get(thing.id)?;
            line.detail = joined(&[study.method, study.question]);
        }
        ThingKind::Account => {
            let account: Account = rows.get(thing.id)?;
            line.detail =
                joined(&[account.segment, account.yearly_revenue.map(|revenue| format!("€ {revenue} a year"))]);
        }
        ThingKind::Objective => {
            let objective: Objective = rows.get(thing.id)?;
            line.detail = comes_along(rows, &objective)?;
        }
        ThingKind::Idea => {
            let idea: Idea = rows.get(thing.id)?;
            let told = likely_score(rows, idea, None, today)?;
            let score = |score| format!("{} {}", told.by, shown(score));
            line.detail = told.score.map_or_else(|| "no score yet".into(), score);
        }
        ThingKind::Request => {
            let request: Request = rows.get(thing.id)?;
            let item: FeedbackItem = rows.get(request.item_id)?;
            line.title = item.text.chars().take(140).collect();
            line.detail = joined(&[Some(request.came_on)]);
        }
        ThingKind::Increment => {
            let increment: Increment = rows.get(thing.id)?;
            line.detail = joined(&[increment.quarter, increment.shows]);
        }
        ThingKind::Decision => {
            let decision: Decision = rows.get(thing.id)?;
            let idea: Idea = rows.get(decision.idea_id)?;
            line.product_id = Some(idea.product_id.0);
            line.title = decision.reason;
            let outcome = if decision.outcome == Outcome::Chosen { "chosen" } else { "set aside" };
            line.detail = format!("{} {outcome} on {}", decision.idea_id, decision.decided_on);
        }
        ThingKind::WorkItem => describe_work(rows, thing, &mut line)?,
        ThingKind::Release => {
            let release: Release = rows.get(thing.id)?;
            line.detail = release.out_on().map_or_else(|| "no day yet".into(), |day| format!("out on {day}"));
        }
        ThingKind::Result => {
            let result: Measured = rows.get(thing.id)?;
            let idea: Idea = rows.get(result.idea_id)?;
            line.product_id = Some(idea.product_id.0);
            line.title = result.measure;
            line.detail = change_words(result.before, result.after, result.unit.as_deref());
        }
        _ => {}
    }
    Ok(line)
}

fn describe_work(rows: &Rows<'_>, thing: Thing, line: &mut TraceLine) -> Result<(), Problem> {
    let item: WorkItem = rows.get(thing.id)?;
    line.reference = Some(item.reference());
    if item.level < Level::Story {
        let done = progress(&rows.stories_below(item.id)?);
        line.state = None;
        line.detail = format!("{} of {} stories done", done.stories_done, done.stories);
    } else {
        line.detail = story_sentence(&item).unwrap_or_default();
        if item.level == Level::Story && item.state == StoryState::Draft && check_of(rows, &item)?.ready {
            line.state = Some("ready".into());
        }
    }
    Ok(())
}

fn joined(parts: &[Option<String>]) -> String {
    parts.iter().flatten().map(String::as_str).collect::<Vec<_>>().join(" · ")
}
