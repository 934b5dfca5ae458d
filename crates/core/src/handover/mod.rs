//! Hand over: the ready check, a team's queue, the roadmap.

mod ready;
mod roadmap;

use serde::{Deserialize, Serialize};

pub use ready::{Check, Needed, ReadyCheck, ReadyFacts, check_facts, ready_check};
pub use roadmap::{Quarter, ReleaseFacts, Roadmap, RoadmapBar, RoadmapEntry, at_once, release_trouble, roadmap};

use crate::specify::StoryState;
use crate::things::{TeamColumnId, TeamId};

/// A team that builds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Team {
    /// Its number.
    pub id: TeamId,
    /// Its revision.
    pub rev: i64,
    /// Its name.
    pub name: String,
}

/// A column of a team's queue, under the team's own name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TeamColumn {
    /// Its number.
    pub id: TeamColumnId,
    /// Its revision.
    pub rev: i64,
    /// The team.
    pub team_id: TeamId,
    /// Its place from left to right, ascending.
    pub position: f64,
    /// What the team calls it.
    pub title: String,
    /// The state that a story in it has.
    pub state: StoryState,
}
