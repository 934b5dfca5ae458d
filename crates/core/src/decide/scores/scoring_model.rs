//! A scoring model of a team's own, as it is kept.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;

/// A scoring model that a team keeps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ScoringModel {
    /// Its number.
    pub id: i64,
    /// Its revision, which is its version, too.
    pub rev: i64,
    /// The product whose ideas it scores.
    pub product_id: i64,
    /// What it is, as JSON.
    pub definition: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "scoring_model",
    singular: "scoring model",
    plural: "scoring models",
    stage: Stage::Decide,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
