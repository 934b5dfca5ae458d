//! Plan: releases, what is in them, and what is the matter with them.

use iron_kite_core::decide::{Idea, IdeaState};
use iron_kite_core::handover::roadmap;
use iron_kite_core::plan::{NeedsFirst, Progress, Release, ReleaseState, progress, release_order};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{StoryState, WorkItem};
use iron_kite_core::things::{ProductId, ReleaseId, ThingKind};
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::decide::delivery;
use crate::specify::{Board, board_of};

/// A release with what is in it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ReleaseView {
    /// The release.
    #[serde(flatten)]
    pub release: Release,
    /// Rolled up from its stories.
    pub progress: Progress,
    /// Points beyond its capacity; 0 where it fits or has none.
    pub over: f64,
    /// "3 days late" or "6 points over", where something is the matter.
    pub trouble: Option<String>,
    /// Stories in it that need one from a later release.
    pub out_of_order: Vec<NeedsFirst>,
}

/// The state that a release comes to.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ReleaseStep {
    /// The revision that was seen.
    pub rev: i64,
    /// What it comes to.
    #[serde(flatten)]
    pub to: ReleaseTo,
}

/// What a release comes to, and what else is to be known where it goes out.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ReleaseTo {
    /// The state.
    pub state: ReleaseState,
    /// The day that it went out, `YYYY-MM-DD`; today where nothing is said.
    #[serde(default)]
    pub released_on: Option<String>,
    /// Where its stories go that are not done. It has to be said where there are such, for nothing goes out that is not done.
    #[serde(default)]
    pub unfinished: Option<Unfinished>,
}

impl From<ReleaseState> for ReleaseTo {
    fn from(state: ReleaseState) -> Self {
        ReleaseTo { state, released_on: None, unfinished: None }
    }
}

/// Where stories go that did not go out with their release.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct Unfinished {
    /// The release; none where they are in no release then.
    pub release_id: Option<ReleaseId>,
}

/// The releases of a product in the order in which they go out.
///
/// # Errors
/// Where the right is missing.
pub fn releases(app: &App, call: &Call, product: ProductId) -> Result<Vec<ReleaseView>, Problem> {
    let today = call.today;
    app.read(call, Right::Read, |rows| {
        let board = board_of(rows, product)?;
        views(rows, product, &board, today)
    })
}

fn views(rows: &Rows<'_>, product: ProductId, board: &Board, today: Date) -> Result<Vec<ReleaseView>, Problem> {
    let releases = releases_in_order(rows, product)?;
    let stories: Vec<WorkItem> = board.stories.iter().map(|story| story.item.clone()).collect();
    let bars = roadmap(&releases, &stories, today).bars;
    Ok(bars
        .into_iter()
        .map(|bar| {
            let inside = board.stories.iter().filter(|story| story.item.release_id == Some(bar.release.id));
            let done = progress(inside.clone().map(|story| &story.item));
            ReleaseView {
                over: bar.release.capacity.map_or(0.0, |capacity| (done.points - capacity).max(0.0)),
                out_of_order: inside.flat_map(|story| story.needs_first.clone()).collect(),
                progress: done,
                trouble: bar.trouble,
                release: bar.release,
            }
        })
        .collect())
}

/// A product's releases in the order in which they go out.
pub(crate) fn releases_in_order(rows: &Rows<'_>, product: ProductId) -> Result<Vec<Release>, Problem> {
    let mut all: Vec<Release> = rows.list("WHERE product_id = ?1", [product.0])?;
    let order = release_order(&all);
    all.sort_by_key(|release| order.get(&release.id).copied());
    Ok(all)
}

/// Releases in trouble, each with what is the matter.
pub(crate) fn in_trouble(
    rows: &Rows<'_>,
    product: ProductId,
    board: &Board,
    today: Date,
) -> Result<Vec<(ReleaseId, String)>, Problem> {
    let all = views(rows, product, board, today)?;
    let words = |one: &ReleaseView| {
        let order = (!one.out_of_order.is_empty()).then(|| "out of order".to_owned());
        let all: Vec<String> = one.trouble.clone().into_iter().chain(order).collect();
        (!all.is_empty()).then(|| all.join("; "))
    };
    Ok(all.iter().filter_map(|one| Some((one.release.id, words(one)?))).collect())
}

/// Brings a release to a state. When it goes out, what is not done goes where it is said, and ideas whose stories are all done are
/// shipped.
///
/// # Errors
/// Where it was changed since; where it goes out with stories that are not done and nobody says where they go; where the day has
/// not come yet.
pub fn step_release(app: &App, call: &Call, id: ReleaseId, step: ReleaseStep) -> Result<Saved, Problem> {
    let today = call.today;
    app.save(call, Right::Edit, move |tx| {
        tx.expect(id.thing(), step.rev)?;
        put_release(tx, id, &step.to, today)?;
        Ok(Some(id.thing()))
    })
}

/// Brings a release to a state within a write.
pub(crate) fn put_release(tx: &mut Tx<'_>, id: ReleaseId, to: &ReleaseTo, today: Date) -> Result<(), Problem> {
    let release: Release = tx.rows().get(id)?;
    if let Some(states) = ThingKind::Release.description().states {
        states.check(&id.to_string(), release.state.name(), to.state.name())?;
    }
    if to.state != ReleaseState::Released {
        tx.set(id.thing(), &fields_of(json!({ "state": to.state.name(), "released_on": null })))?;
        tx.label(format!("{id} is {} now", to.state.name().replace('_', " ")));
        return Ok(());
    }
    let day = day_out(to.released_on.as_deref(), today)?;
    let moved = put_elsewhere(tx, &release, to.unfinished)?;
    tx.set(id.thing(), &fields_of(json!({ "state": to.state.name(), "released_on": day })))?;
    tx.label(format!("{id} is released now{moved}"));
    ship_ideas(tx, release.product_id)
}

fn day_out(said: Option<&str>, today: Date) -> Result<String, Problem> {
    let Some(said) = said else { return Ok(today.to_string()) };
    let fault = |words: &str| Problem::invalid("/released_on", words);
    let day: Date = said.parse().map_err(|_| fault("This is no day. Write it as 2026-06-30."))?;
    if day > today {
        return Err(fault("This day is still to come. Say it when it is out."));
    }
    Ok(day.to_string())
}

/// Puts the stories of a release that are not done where they go; what that was, in words.
fn put_elsewhere(tx: &mut Tx<'_>, release: &Release, to: Option<Unfinished>) -> Result<String, Problem> {
    let stories: Vec<WorkItem> =
        tx.rows().list("WHERE release_id = ?1 AND level = 'story' ORDER BY id", [release.id.0])?;
    let all = stories.len();
    let unfinished: Vec<&WorkItem> = stories.iter().filter(|story| story.state != StoryState::Done).collect();
    if unfinished.is_empty() {
        return Ok(String::new());
    }
    let Some(Unfinished { release_id }) = to else {
        let (first, more) = unfinished.split_at(unfinished.len().min(NAMED));
        let named: Vec<String> = first.iter().map(|story| story.reference()).collect();
        let more = if more.is_empty() { String::new() } else { format!(" and {} more", more.len()) };
        let words = format!(
            "{} of {all} stories of {} are not done: {}{more}. Say to which release they go, or that they are in none.",
            unfinished.len(),
            release.id,
            named.join(", ")
        );
        return Err(Problem::refused("stories-not-done", words));
    };
    if let Some(other) = release_id {
        let fault = |words: String| Problem::invalid("/unfinished/release_id", words);
        let there: Release = tx.rows().get(other)?;
        if other == release.id || there.product_id != release.product_id {
            return Err(fault("Choose another release of the same product, or none.".into()));
        }
        if there.state == ReleaseState::Released {
            return Err(fault(format!("{other} is out already. Choose one that is still to come, or none.")));
        }
    }
    for story in &unfinished {
        tx.set(story.id.thing(), &fields_of(json!({ "release_id": release_id })))?;
    }
    let count = unfinished.len();
    let stories = if count == 1 { "story" } else { "stories" };
    let place = release_id.map_or_else(|| "in no release".to_owned(), |other| format!("in {other}"));
    Ok(format!("; {count} {stories} not done, now {place}"))
}

/// So many stories are named where something is the matter with several.
const NAMED: usize = 8;

/// What is built as a whole is out.
fn ship_ideas(tx: &mut Tx<'_>, product: ProductId) -> Result<(), Problem> {
    let rows = tx.rows();
    let delivery = delivery(&rows, product)?;
    for idea in rows.list::<Idea>("WHERE product_id = ?1 AND state = 'chosen'", [product.0])? {
        if delivery.is_whole(idea.id) {
            tx.set(idea.id.thing(), &fields_of(json!({ "state": IdeaState::Shipped.name() })))?;
        }
    }
    Ok(())
}
