//! A column of a team's queue.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::specify::work_item::StoryState;
use crate::things::TeamColumnId;
use crate::things::TeamId;

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

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "team_column",
    singular: "column",
    plural: "columns",
    stage: Stage::HandOver,
    relations: &[Relation::to("team_id", ThingKind::Team)],
    editable: &[must("title", Holds::Line(TITLE))],
    spoken_of: false,
    ..Description::BASE
};
