//! An acceptance criterion of a story.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::WorkItemId;

/// What must be so for a story to be done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Criterion {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The story.
    pub story_id: WorkItemId,
    /// Its place, ascending.
    pub position: f64,
    /// "Given … when … then …", or a plain line.
    pub words: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "criterion",
    singular: "acceptance criterion",
    plural: "acceptance criteria",
    stage: Stage::Specify,
    product: WayToProduct::Through("story_id"),
    relations: &[Relation::to("story_id", ThingKind::WorkItem).goes()],
    searched: Some(Searched::by(10, "words", &[])),
    prose: &[Prose::Text("words")],
    editable: &[must("words", Holds::Line(1_000))],
    rights: Rights::made(Right::Edit),
    part_of: Some("story_id"),
    ..Description::BASE
};
