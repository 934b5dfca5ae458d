//! Teams and their queues.

use iron_kite_core::handover::{Team, TeamColumn};
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::TeamId;

use crate::error::Result;
use crate::rows::Rows;

impl Rows<'_> {
    /// All teams.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn teams(&self) -> Result<Vec<Team>> {
        self.list("ORDER BY id", [])
    }

    /// The columns of a team from left to right.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn team_columns(&self, team: TeamId) -> Result<Vec<TeamColumn>> {
        self.list("WHERE team_id = ?1 ORDER BY position, id", [team.0])
    }

    /// The stories in a team's queue, oldest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn queue(&self, team: TeamId) -> Result<Vec<WorkItem>> {
        self.list("WHERE team_id = ?1 ORDER BY queue_position, id", [team.0])
    }
}
