//! An estimate: what somebody says that a criterion of an idea may be.

use serde::{Deserialize, Serialize};

use super::range::EstimateRange;
use crate::kind::prelude::*;
use crate::things::IdeaId;

/// What somebody estimates of a field of an idea, as it is kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Estimate {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The idea.
    pub idea_id: IdeaId,
    /// The field.
    pub field: String,
    /// Who estimates, or who agreed.
    pub by_id: Option<i64>,
    /// 1 for what was agreed on, 0 for what somebody says alone.
    pub agreed: i64,
    /// The least.
    pub low: f64,
    /// The likely.
    pub likely: f64,
    /// The most.
    pub high: f64,
    /// Why.
    pub reason: Option<String>,
}

impl Estimate {
    /// Its range.
    #[must_use]
    pub fn range(&self) -> EstimateRange {
        EstimateRange { low: self.low, likely: self.likely, high: self.high }
    }
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "estimate",
    singular: "estimate",
    plural: "estimates",
    stage: Stage::Decide,
    product: WayToProduct::Through("idea_id"),
    relations: &[Relation::to("idea_id", ThingKind::Idea).goes()],
    prose: &[Prose::Text("reason")],
    part_of: Some("idea_id"),
    ..Description::BASE
};
