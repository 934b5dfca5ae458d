//! All epics and stories of a product with what the rules say about them. Specify, Map, Plan and
//! Hand over all look at this one answer.

use std::collections::BTreeMap;

use iron_kite_core::handover::{ReadyCheck, ready_check};
use iron_kite_core::plan::{NeedsFirst, Progress, Release, needs_first, release_order};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{Criterion, Hierarchy, StoryState, Work, WorkItem};
use iron_kite_core::things::{IdeaId, Level, ProductId, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::handover::check_of;

/// An epic and how far it is.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EpicView {
    /// The epic.
    #[serde(flatten)]
    pub item: WorkItem,
    /// Such as E3.
    pub reference: String,
    /// The idea that became this epic.
    pub idea: Option<IdeaId>,
    /// Rolled up from its stories.
    pub progress: Progress,
}

/// A story with what the rules say about it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StoryView {
    /// The story.
    #[serde(flatten)]
    pub item: WorkItem,
    /// Such as S14.
    pub reference: String,
    /// The nearest epic above it.
    pub epic: Option<WorkItemId>,
    /// Its state in words; a draft that passes the ready check is "ready".
    pub shown_state: String,
    /// Its acceptance criteria in their order.
    pub criteria: Vec<Criterion>,
    /// The stories that it depends on.
    pub needs: Vec<WorkItemId>,
    /// The ready check.
    pub check: ReadyCheck,
    /// Dependencies that come too late: "needs S14 first".
    pub needs_first: Vec<NeedsFirst>,
}

/// All epics and stories of a product.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Board {
    /// The epics in their order.
    pub epics: Vec<EpicView>,
    /// The stories in their order, whatever their epic.
    pub stories: Vec<StoryView>,
}

/// What belongs to one story beside its fields.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StoryParts {
    /// Its acceptance criteria in their order.
    pub criteria: Vec<Criterion>,
    /// The ready check.
    pub check: ReadyCheck,
}

/// What belongs to one story beside its fields.
///
/// # Errors
/// Where there is no such story.
pub fn story_parts(app: &App, call: &Call, id: WorkItemId) -> Result<StoryParts, Problem> {
    app.read(call, Right::Read, |rows| {
        let story: WorkItem = rows.get(id)?;
        let criteria = rows.list("WHERE story_id = ?1 ORDER BY position, id", [id.0])?;
        Ok(StoryParts { criteria, check: check_of(rows, &story)? })
    })
}

/// All epics and stories of a product.
///
/// # Errors
/// Where the right is missing.
pub fn board(app: &App, call: &Call, product: ProductId) -> Result<Board, Problem> {
    app.read(call, Right::Read, |rows| board_of(rows, product))
}

/// The same inside another use case.
pub fn board_of(rows: &Rows<'_>, product: ProductId) -> Result<Board, Problem> {
    let items = rows.work_items(product)?;
    let needs = rows.needs()?;
    let releases: Vec<Release> = rows.list("WHERE product_id = ?1", [product.0])?;
    let ideas: BTreeMap<i64, IdeaId> = rows
        .links(LinkKind::Becomes, ThingKind::Idea, ThingKind::WorkItem)?
        .into_iter()
        .map(|link| (link.to_id, IdeaId(link.from_id)))
        .collect();
    let mut criteria: BTreeMap<WorkItemId, Vec<Criterion>> = BTreeMap::new();
    for criterion in rows.criteria(product)? {
        criteria.entry(criterion.story_id).or_default().push(criterion);
    }
    let mut flags: BTreeMap<WorkItemId, Vec<NeedsFirst>> = BTreeMap::new();
    for flag in needs_first(&items, &needs, &release_order(&releases)) {
        flags.entry(flag.story_id).or_default().push(flag);
    }
    let by_id: BTreeMap<WorkItemId, &WorkItem> = items.iter().map(|item| (item.id, item)).collect();
    let mut needed: BTreeMap<WorkItemId, Vec<WorkItemId>> = BTreeMap::new();
    for (other, dependent) in needs {
        needed.entry(dependent).or_default().push(other);
    }
    let hierarchy = Hierarchy::of(items.iter().map(Work::from));
    let (mut epics, mut stories) = (Vec::new(), Vec::new());
    for item in &items {
        match item.level {
            Level::Epic => epics.push(EpicView {
                reference: item.reference(),
                idea: ideas.get(&item.id.0).copied(),
                progress: hierarchy.progress(&hierarchy.stories_below(item.id)),
                item: item.clone(),
            }),
            Level::Story => {
                let criteria = criteria.remove(&item.id).unwrap_or_default();
                let needs = needed.remove(&item.id).unwrap_or_default();
                let others: Vec<&WorkItem> = needs.iter().filter_map(|id| by_id.get(id).copied()).collect();
                let check = ready_check(item, criteria.len(), &others);
                let ready = item.state == StoryState::Draft && check.ready;
                stories.push(StoryView {
                    reference: item.reference(),
                    epic: hierarchy.epic_of(item.id),
                    shown_state: if ready { "ready".into() } else { item.state.words() },
                    needs_first: flags.remove(&item.id).unwrap_or_default(),
                    criteria,
                    needs,
                    check,
                    item: item.clone(),
                });
            }
            // What lies above an epic and below a story has lists of its own.
            Level::Initiative | Level::Feature | Level::Task => {}
        }
    }
    Ok(Board { epics, stories })
}
