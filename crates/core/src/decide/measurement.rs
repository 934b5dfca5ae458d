//! A measurement: what was measured of an objective on a day.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ObjectiveId;

/// What was measured of an objective on a day. There is one a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Measurement {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The objective.
    pub objective_id: ObjectiveId,
    /// The day, `YYYY-MM-DD`.
    pub taken_on: String,
    /// What was measured, in the objective's unit.
    pub value: f64,
    /// What else is to be known.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "measurement",
    singular: "measurement",
    plural: "measurements",
    stage: Stage::Decide,
    product: WayToProduct::Through("objective_id"),
    relations: &[Relation::to("objective_id", ThingKind::Objective).goes()],
    prose: &[Prose::Text("note")],
    editable: &[
        must("taken_on", Holds::Day),
        must("value", Holds::Number(-HUGE, HUGE)),
        may("note", Holds::Text(NOTE)),
    ],
    rights: Rights::made(Right::Edit),
    part_of: Some("objective_id"),
    ..Description::BASE
};
