//! Map: the backbone of activities and steps, and places on it.

mod place;

use serde::{Deserialize, Serialize};

pub use place::{Place, place};

use crate::things::{ActivityId, ProductId, StepId};

/// What people do, in the order in which they do it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Activity {
    /// Its number.
    pub id: ActivityId,
    /// Its revision.
    pub rev: i64,
    /// The product that it belongs to.
    pub product_id: ProductId,
    /// Its place from left to right, ascending.
    pub position: f64,
    /// The activity in a few words.
    pub title: String,
}

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
