//! Plan: releases, what is in them, and what is the matter with them.

use iron_kite_core::decide::{Idea, IdeaState};
use iron_kite_core::handover::roadmap;
use iron_kite_core::plan::{NeedsFirst, Progress, Release, ReleaseState, progress, release_order};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{StoryState, WorkItem};
use iron_kite_core::things::{ProductId, ReleaseId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
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
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct ReleaseStep {
    /// The revision that was seen.
    pub rev: i64,
    /// The state.
    pub state: ReleaseState,
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

/// Brings a release to a state. When it goes out, ideas whose stories are all done are shipped.
///
/// # Errors
/// Where it was changed since.
pub fn step_release(app: &App, call: &Call, id: ReleaseId, step: ReleaseStep) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        tx.expect(id.thing(), step.rev)?;
        put_release(tx, id, step.state)?;
        Ok(Some(id.thing()))
    })
}

/// Brings a release to a state within a write.
pub(crate) fn put_release(tx: &mut Tx<'_>, id: ReleaseId, state: ReleaseState) -> Result<(), Problem> {
    let release: Release = tx.rows().get(id)?;
    tx.set(id.thing(), &fields_of(json!({ "state": state.name() })))?;
    tx.label(format!("{id} is {} now", state.name().replace('_', " ")));
    if state == ReleaseState::Released {
        ship_ideas(tx, release.product_id)?;
    }
    Ok(())
}

fn ship_ideas(tx: &mut Tx<'_>, product: ProductId) -> Result<(), Problem> {
    let rows = tx.rows();
    let items = rows.work_items(product)?;
    let links = rows.links(LinkKind::Becomes, ThingKind::Idea, ThingKind::WorkItem)?;
    for idea in rows.list::<Idea>("WHERE product_id = ?1 AND state = 'chosen'", [product.0])? {
        let epics: Vec<i64> = links.iter().filter(|link| link.from_id == idea.id.0).map(|link| link.to_id).collect();
        let mut stories =
            items.iter().filter(|item| item.parent_id.is_some_and(|epic| epics.contains(&epic.0))).peekable();
        if stories.peek().is_some() && stories.all(|story| story.state == StoryState::Done) {
            tx.set(idea.id.thing(), &fields_of(json!({ "state": IdeaState::Shipped.name() })))?;
        }
    }
    Ok(())
}
