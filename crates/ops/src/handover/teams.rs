//! Teams: their names, their columns, who belongs to them.

use std::collections::BTreeSet;

use iron_kite_core::handover::{Team, TeamColumn};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{StoryState, WorkItem};
use iron_kite_core::things::{TeamColumnId, TeamId, Thing, ThingKind};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};

/// The longest name of a team or a column, in characters.
const LONGEST: usize = 80;
/// The most columns of one team.
const MOST_COLUMNS: usize = 30;

/// A team with its columns.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TeamView {
    /// The team.
    #[serde(flatten)]
    pub team: Team,
    /// Its columns from left to right.
    pub columns: Vec<TeamColumn>,
    /// Who belongs to it, by number.
    pub people: Vec<i64>,
}

/// A new team.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewTeam {
    /// Its name.
    pub name: String,
    /// Its columns from left to right, under its own names.
    pub columns: Vec<NewColumn>,
}

/// A column of a new team.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewColumn {
    /// What the team calls it.
    pub title: String,
    /// The state that a story in it has.
    pub state: StoryState,
}

/// What a team is to be: its name, and all its columns from left to right.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct TeamChange {
    /// The revision that was seen.
    pub rev: i64,
    /// Its name.
    pub name: String,
    /// Its columns.
    pub columns: Vec<ColumnChange>,
}

/// A column that is there already, or a new one.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ColumnChange {
    /// Which one it is; a new one where left out.
    pub id: Option<TeamColumnId>,
    /// What the team calls it.
    pub title: String,
    /// The state that a story in it has.
    pub state: StoryState,
}

/// The teams with their columns.
///
/// # Errors
/// Where the right is missing.
pub fn teams(app: &App, call: &Call) -> Result<Vec<TeamView>, Problem> {
    app.read(call, Right::Read, |rows| rows.teams()?.into_iter().map(|team| team_view(rows, team)).collect())
}

pub(super) fn team_view(rows: &Rows<'_>, team: Team) -> Result<TeamView, Problem> {
    Ok(TeamView { columns: rows.team_columns(team.id)?, people: rows.team_people(team.id)?, team })
}

/// Adds a team with its columns.
pub(crate) fn add_team_with(tx: &mut Tx<'_>, name: &str, columns: &[(&str, StoryState)]) -> Result<i64, Problem> {
    let team = tx.insert(ThingKind::Team, &fields_of(json!({ "name": name })))?;
    for (position, (title, state)) in columns.iter().enumerate() {
        let column = json!({ "team_id": team, "position": position, "title": title, "state": state.name() });
        tx.insert(ThingKind::TeamColumn, &fields_of(column))?;
    }
    Ok(team)
}

/// Adds a team under its own name and with its own columns.
///
/// # Errors
/// Where a name is missing, or no column stands for "handed over".
pub fn add_team(app: &App, call: &Call, new: NewTeam) -> Result<Saved, Problem> {
    check(&new.name, new.columns.iter().map(|column| (column.title.as_str(), column.state)))?;
    app.save(call, Right::Edit, move |tx| {
        let columns: Vec<(&str, StoryState)> = new.columns.iter().map(|c| (c.title.trim(), c.state)).collect();
        let id = TeamId(add_team_with(tx, new.name.trim(), &columns)?);
        tx.label(format!("added the team {}", new.name.trim()));
        Ok(Some(id.thing()))
    })
}

/// Whether a team can be so.
fn check<'a>(name: &str, columns: impl Iterator<Item = (&'a str, StoryState)> + Clone) -> Result<(), Problem> {
    let named = |name: &str| !name.trim().is_empty() && name.chars().count() <= LONGEST;
    if !named(name) {
        return Err(Problem::invalid("/name", format!("Give the team a name of at most {LONGEST} characters.")));
    }
    if columns.clone().count() > MOST_COLUMNS || columns.clone().any(|(title, _)| !named(title)) {
        let words = format!("Each of at most {MOST_COLUMNS} columns needs a name of at most {LONGEST} characters.");
        return Err(Problem::invalid("/columns", words));
    }
    if columns.clone().any(|(_, state)| state == StoryState::Draft) {
        return Err(Problem::invalid("/columns", "What is in a team's queue is no draft. Choose another state."));
    }
    if !columns.clone().any(|(_, state)| state == StoryState::HandedOver) {
        return Err(Problem::invalid(
            "/columns",
            "One column must stand for 'handed over': that is where stories arrive.",
        ));
    }
    Ok(())
}

/// Changes a team's name and columns. What stands in a column goes along with it and takes its state.
///
/// # Errors
/// Where it cannot be so, it was changed since, or a column is taken away in which something stands.
pub fn change_team(app: &App, call: &Call, team: TeamId, to: TeamChange) -> Result<Saved, Problem> {
    check(&to.name, to.columns.iter().map(|column| (column.title.as_str(), column.state)))?;
    app.save(call, Right::Edit, move |tx| {
        tx.expect(team.thing(), to.rev)?;
        let there = tx.rows().team_columns(team)?;
        let kept: BTreeSet<i64> = to.columns.iter().filter_map(|column| Some(column.id?.0)).collect();
        for column in there.iter().filter(|column| !kept.contains(&column.id.0)) {
            let stands: Vec<WorkItem> = tx.rows().list("WHERE column_id = ?1", [column.id.0])?;
            if !stands.is_empty() {
                let words = format!("{} stand in \"{}\". Move them first.", stories(stands.len()), column.title);
                return Err(Problem::refused("column-in-use", words));
            }
            tx.remove(column.id.thing())?;
        }
        for (position, column) in to.columns.iter().enumerate() {
            put_column(tx, team, &there, position, column)?;
        }
        // The columns are its own, so whoever changes them changes the team.
        tx.set(team.thing(), &fields_of(json!({ "name": to.name.trim() })))?;
        tx.label(format!("changed the team {}", to.name.trim()));
        Ok(Some(team.thing()))
    })
}

fn stories(count: usize) -> String {
    if count == 1 { "1 story".to_owned() } else { format!("{count} stories") }
}

fn put_column(
    tx: &mut Tx<'_>,
    team: TeamId,
    there: &[TeamColumn],
    position: usize,
    to: &ColumnChange,
) -> Result<(), Problem> {
    let values = json!({ "team_id": team, "position": position, "title": to.title.trim(), "state": to.state.name() });
    let Some(id) = to.id else {
        tx.insert(ThingKind::TeamColumn, &fields_of(values))?;
        return Ok(());
    };
    let was = there.iter().find(|column| column.id == id);
    let was =
        was.ok_or_else(|| Problem::invalid("/columns", "A column is of another team, or is not there any more."))?;
    tx.set(id.thing(), &fields_of(values))?;
    if was.state != to.state {
        let stands: Vec<WorkItem> = tx.rows().list("WHERE column_id = ?1", [id.0])?;
        for story in stands {
            tx.set(story.id.thing(), &fields_of(json!({ "state": to.state.name() })))?;
        }
    }
    Ok(())
}

/// Removes a team that has nothing in its queue, with its columns.
///
/// # Errors
/// Where it was changed since, or something was handed to it.
pub fn remove_team(app: &App, call: &Call, team: TeamId, rev: i64) -> Result<Saved, Problem> {
    app.save(call, Right::Own, move |tx| {
        tx.expect(team.thing(), rev)?;
        let found: Team = tx.rows().get(team)?;
        let handed = tx.rows().handed_to(team)?;
        if handed > 0 {
            let many = stories(usize::try_from(handed).unwrap_or(usize::MAX));
            let words = format!("{many} were handed to {}. Hand them to another team first.", found.name);
            return Err(Problem::refused("team-in-use", words));
        }
        for column in tx.rows().team_columns(team)? {
            tx.remove(column.id.thing())?;
        }
        tx.label(format!("removed the team {}", found.name));
        tx.remove(team.thing())?;
        Ok(None)
    })
}

/// Who belongs to a team, by number: all of them.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct TeamPeople {
    /// Who.
    pub people: Vec<i64>,
}

/// Says who belongs to a team. So the team can be spoken to.
///
/// # Errors
/// Where somebody is not of the workspace.
pub fn set_team_people(app: &App, call: &Call, team: TeamId, to: TeamPeople) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let found: Team = tx.rows().get(team)?;
        let users = tx.rows().users()?;
        if to.people.iter().any(|id| users.iter().all(|user| user.id != *id)) {
            return Err(Problem::invalid("/people", "There is nobody with this number in the workspace."));
        }
        let there = tx.rows().memberships(team)?;
        for (id, _) in there.iter().filter(|(_, user)| !to.people.contains(user)) {
            tx.remove(Thing::new(ThingKind::Membership, *id))?;
        }
        let new: BTreeSet<i64> =
            to.people.iter().copied().filter(|id| there.iter().all(|(_, user)| user != id)).collect();
        for user in new {
            tx.insert(ThingKind::Membership, &fields_of(json!({ "team_id": team, "user_id": user })))?;
        }
        tx.label(format!("said who belongs to {}", found.name));
        Ok(Some(team.thing()))
    })
}
