//! Objectives: goals with a measure, in a tree, and what was measured of them.

use serde::{Deserialize, Serialize};

use crate::things::{ObjectiveId, ProductId};

/// Where an objective stands, as people say it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ObjectiveState {
    /// Nobody works towards it yet.
    Planned,
    /// It is what the team works for.
    UnderWay,
    /// It was reached.
    Reached,
    /// Its day came, and it was not.
    Missed,
    /// It counts no more.
    SetAside,
}

impl ObjectiveState {
    /// Whether somebody may still work towards it.
    #[must_use]
    pub fn is_open(self) -> bool {
        matches!(self, ObjectiveState::Planned | ObjectiveState::UnderWay)
    }

    /// All of them, in their order.
    pub const ALL: [ObjectiveState; 5] = [
        ObjectiveState::Planned,
        ObjectiveState::UnderWay,
        ObjectiveState::Reached,
        ObjectiveState::Missed,
        ObjectiveState::SetAside,
    ];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            ObjectiveState::Planned => "planned",
            ObjectiveState::UnderWay => "under_way",
            ObjectiveState::Reached => "reached",
            ObjectiveState::Missed => "missed",
            ObjectiveState::SetAside => "set_aside",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(ObjectiveState::name).collect()
    }
}

/// A goal with a measure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Objective {
    /// Its number.
    pub id: ObjectiveId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is for.
    pub product_id: ProductId,
    /// The objective that it is a part of.
    pub parent_id: Option<ObjectiveId>,
    /// The goal in a few words.
    pub title: String,
    /// What is counted.
    pub measure: String,
    /// In what.
    pub unit: Option<String>,
    /// Where it stood.
    pub start_value: f64,
    /// Where it is to be.
    pub target_value: f64,
    /// From when the straight way counts, `YYYY-MM-DD`; the first measurement where nothing is said.
    pub starts_on: Option<String>,
    /// By when, `YYYY-MM-DD`.
    pub due_on: Option<String>,
    /// How much it counts among the parts of the same objective, 0 or more; nothing counts as 1.
    pub weight: Option<f64>,
    /// Where it stands, as people say it; nothing counts as under way.
    pub state: Option<ObjectiveState>,
    /// The person of the team who answers for it.
    pub owner_id: Option<i64>,
    /// What else is to be known.
    pub note: Option<String>,
}

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
