//! Hand over: the ready check's gate, teams' queues, the roadmap.

mod teams;

pub(crate) use teams::add_team_with;
use teams::team_view;
pub use teams::{
    ColumnChange, NewColumn, NewTeam, TeamChange, TeamPeople, TeamView, add_team, change_team, remove_team,
    set_team_people, teams,
};

use iron_kite_core::handover::{ReadyCheck, Roadmap, Team, TeamColumn, ready_check, roadmap as lay_out};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{Criterion, StoryState, WorkItem};
use iron_kite_core::things::{Level, ProductId, TeamColumnId, TeamId, Thing, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::map::make_room;
use crate::plan::releases_in_order;

/// A team's queue.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Queue {
    /// The team with its columns.
    pub team: TeamView,
    /// Its stories; each names its column.
    pub stories: Vec<QueueStory>,
}

/// A story in a team's queue.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct QueueStory {
    /// The story.
    #[serde(flatten)]
    pub item: WorkItem,
    /// Such as S14.
    pub reference: String,
    /// How many acceptance criteria it has.
    pub criteria: usize,
}

/// The team that a story goes to.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct HandOver {
    /// The revision that was seen.
    pub rev: i64,
    /// The team.
    pub team_id: TeamId,
}

/// Where a story goes in its team's queue.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct QueuePlace {
    /// The revision that was seen.
    pub rev: i64,
    /// The column.
    pub column_id: TeamColumnId,
    /// The story that it goes before; none for the end.
    pub before: Option<WorkItemId>,
}

/// Hands a story over to a team, if it passes the ready check. It arrives in the team's first
/// column that stands for "handed over".
///
/// # Errors
/// Where the ready check says no, or it is handed over already.
pub fn hand_over(app: &App, call: &Call, id: WorkItemId, to: HandOver) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        tx.expect(id.thing(), to.rev)?;
        put_in_queue(tx, id, to.team_id)?;
        Ok(Some(id.thing()))
    })
}

/// Hands a story over within a write.
pub(crate) fn put_in_queue(tx: &mut Tx<'_>, id: WorkItemId, team: TeamId) -> Result<(), Problem> {
    let rows = tx.rows();
    let story: WorkItem = rows.get(id)?;
    if story.level != Level::Story {
        let words = format!("{} is no story. Hand its stories over.", story.reference());
        return Err(Problem::refused("no-story", words));
    }
    if story.state != StoryState::Draft {
        let words = format!("{} is {} already.", story.reference(), story.state.words());
        return Err(Problem::refused("already-handed-over", words));
    }
    pass(&rows, &story)?;
    let team: Team = rows.get(team)?;
    let columns = rows.team_columns(team.id)?;
    let column = columns.iter().find(|column| column.state == StoryState::HandedOver).ok_or_else(|| {
        Problem::refused("no-column", format!("{} has no column where stories arrive. Give it one.", team.name))
    })?;
    let position = rows.next_position(ThingKind::WorkItem, "queue_position", "team_id = ?1", [team.id.0])?;
    let values = json!({
        "team_id": team.id, "column_id": column.id, "state": column.state.name(),
        "queue_position": position,
    });
    tx.set(id.thing(), &fields_of(values))?;
    tx.label(format!("handed {} over to {}", story.reference(), team.name));
    Ok(())
}

/// The ready check of one story as it stands.
pub(crate) fn check_of(rows: &Rows<'_>, story: &WorkItem) -> Result<ReadyCheck, Problem> {
    let criteria: Vec<Criterion> = rows.list("WHERE story_id = ?1 ORDER BY position, id", [story.id.0])?;
    let links = rows.links_of(LinkKind::NeededBy, story.id.thing(), false, ThingKind::WorkItem)?;
    let needed: Vec<i64> = links.into_iter().map(|(_, needed)| needed).collect();
    let needed: Vec<WorkItem> = rows.among(&needed)?;
    Ok(ready_check(story, criteria.len(), &needed.iter().collect::<Vec<_>>()))
}

fn pass(rows: &Rows<'_>, story: &WorkItem) -> Result<(), Problem> {
    let check = check_of(rows, story)?;
    if check.ready {
        return Ok(());
    }
    let missing: Vec<String> = check.checks.into_iter().filter_map(|check| check.to_do).collect();
    let words = format!("{} is not ready: {}.", story.reference(), missing.join("; "));
    Err(Problem::refused("not-ready", words))
}

/// A team's queue.
///
/// # Errors
/// Where there is no such team.
pub fn queue(app: &App, call: &Call, team: TeamId) -> Result<Queue, Problem> {
    app.read(call, Right::Read, |rows| {
        let stories = rows.queue(team)?;
        let ids: Vec<i64> = stories.iter().map(|story| story.id.0).collect();
        let criteria: Vec<Criterion> = rows.list(
            "WHERE story_id IN (SELECT value FROM json_each(?1))",
            [serde_json::to_string(&ids).map_err(|fault| Problem::Internal(fault.to_string()))?],
        )?;
        let view = |item: WorkItem| QueueStory {
            reference: item.reference(),
            criteria: criteria.iter().filter(|criterion| criterion.story_id == item.id).count(),
            item,
        };
        Ok(Queue { team: team_view(rows, rows.get(team)?)?, stories: stories.into_iter().map(view).collect() })
    })
}

/// Moves a story in its team's queue; its state follows from the column.
///
/// # Errors
/// Where it was changed since, the column is another team's, or whoever asks neither edits nor belongs to the team.
pub fn move_in_queue(app: &App, call: &Call, id: WorkItemId, to: QueuePlace) -> Result<Saved, Problem> {
    let (me, edits) = (call.user_id(), call.may(Right::Edit));
    app.save(call, Right::Listen, move |tx| {
        let column: TeamColumn = tx.rows().get(to.column_id)?;
        let within = tx.rows().team_people(column.team_id)?;
        if !edits && !me.is_some_and(|me| within.contains(&me)) {
            return Err(Problem::NotAllowed { needs: Right::Edit.least().name() });
        }
        tx.expect(id.thing(), to.rev)?;
        put_in_column(tx, id, to.column_id, to.before)?;
        Ok(Some(id.thing()))
    })
}

/// Moves a story to a column of its team within a write, before another story or to the end.
pub(crate) fn put_in_column(
    tx: &mut Tx<'_>,
    id: WorkItemId,
    column: TeamColumnId,
    before: Option<WorkItemId>,
) -> Result<(), Problem> {
    let rows = tx.rows();
    let story: WorkItem = rows.get(id)?;
    let column: TeamColumn = rows.get(column)?;
    if story.team_id != Some(column.team_id) {
        return Err(Problem::refused(
            "other-team",
            format!("{} is not in this team's queue. Hand it over first.", story.reference()),
        ));
    }
    let others: Vec<WorkItem> =
        rows.list("WHERE column_id = ?1 AND id <> ?2 ORDER BY queue_position, id", [column.id.0, id.0])?;
    let cell: Vec<(Thing, f64)> = others.iter().map(|other| (other.id.thing(), other.queue_position)).collect();
    let own = make_room(tx, "queue_position", &cell, before.map(WorkItemId::thing))?;
    let values = json!({ "column_id": column.id, "state": column.state.name(), "queue_position": own });
    tx.set(id.thing(), &fields_of(values))?;
    tx.label(format!("moved {} to \"{}\"", story.reference(), column.title));
    Ok(())
}

/// The roadmap of a product.
///
/// # Errors
/// Where the right is missing.
pub fn roadmap(app: &App, call: &Call, product: ProductId) -> Result<Roadmap, Problem> {
    let today = call.today;
    app.read(call, Right::Read, |rows| {
        Ok(lay_out(&releases_in_order(rows, product)?, &rows.work_items(product)?, today))
    })
}
