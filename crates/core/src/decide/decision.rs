//! A decision about an idea, with what it rested on.

use serde::{Deserialize, Serialize};

use super::idea::Outcome;
use crate::kind::prelude::*;
use crate::things::IdeaId;

/// A decision as it was taken, with the score that it rested on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Decision {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// What was decided about.
    pub idea_id: IdeaId,
    /// What was decided.
    pub outcome: Outcome,
    /// Why.
    pub reason: String,
    /// The median of the score at that moment.
    pub score: Option<f64>,
    /// The person who decided.
    pub decided_by: Option<i64>,
    /// The day, `YYYY-MM-DD`.
    pub decided_on: String,
    /// The day on which to look at it again, `YYYY-MM-DD`.
    #[serde(default)]
    pub look_again_on: Option<String>,
    /// What it rested on, as JSON; nothing for those of before it was kept.
    #[serde(default)]
    pub frozen: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "decision",
    singular: "decision",
    plural: "decisions",
    stage: Stage::Decide,
    product: WayToProduct::Through("idea_id"),
    relations: &[Relation::to("idea_id", ThingKind::Idea).goes().line(Line::OnlyBelow)],
    searched: Some(Searched::by(8, "reason", &[])),
    prose: &[Prose::Text("reason"), Prose::Told("frozen")],
    part_of: Some("idea_id"),
    ..Description::BASE
};
