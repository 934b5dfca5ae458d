//! Objectives: goals with a measure, in a tree, and what was measured of them.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
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

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "objective",
    singular: "objective",
    plural: "objectives",
    letter: Some('O'),
    stage: Stage::Decide,
    list: Some(List { heading: "Objectives", title: "title" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("parent_id", ThingKind::Objective).field("parent_id").back("children").stays().line(Line::Below),
    ],
    searched: Some(Searched::by(4, "title", &["measure"])),
    prose: &[Prose::Text("title"), Prose::Text("measure"), Prose::Text("note"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        must("measure", Holds::Line(TITLE)),
        may("unit", Holds::Line(40)),
        must("start_value", Holds::Number(-HUGE, HUGE)),
        must("target_value", Holds::Number(-HUGE, HUGE)),
        may("starts_on", Holds::Day),
        may("due_on", Holds::Day),
        may("weight", Holds::Number(0.0, 1_000.0)),
        may("state", Holds::OneOf(ObjectiveState::names)),
        may("parent_id", Holds::Thing(ThingKind::Objective)),
        may("owner_id", Holds::Member),
        may("note", Holds::Text(NOTE)),
    ],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};
