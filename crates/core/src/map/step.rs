//! A step of an activity.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ActivityId;
use crate::things::StepId;

/// One step of an activity.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Step {
    /// Its number.
    pub id: StepId,
    /// Its revision.
    pub rev: i64,
    /// The activity that it is part of.
    pub activity_id: ActivityId,
    /// Its place from left to right, ascending.
    pub position: f64,
    /// The step in a few words.
    pub title: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "step",
    singular: "step",
    plural: "steps",
    stage: Stage::Map,
    product: WayToProduct::Through("activity_id"),
    relations: &[Relation::to("activity_id", ThingKind::Activity).goes()],
    prose: &[Prose::Text("title")],
    editable: &[must("title", Holds::Line(TITLE))],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
