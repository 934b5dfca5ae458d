//! A release: what goes out together.

use serde::{Deserialize, Serialize};

use super::at_once::Building;
use crate::kind::prelude::*;
use crate::things::ProductId;
use crate::things::ReleaseId;
use crate::things::TeamId;

/// Where a release stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ReleaseState {
    /// Meant.
    Planned,
    /// Being built.
    UnderWay,
    /// Out.
    Released,
}

impl ReleaseState {
    /// The name in the store and the API.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            ReleaseState::Planned => "planned",
            ReleaseState::UnderWay => "under_way",
            ReleaseState::Released => "released",
        }
    }
}

/// What goes out together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Release {
    /// Its number.
    pub id: ReleaseId,
    /// Its revision.
    pub rev: i64,
    /// The product that it belongs to.
    pub product_id: ProductId,
    /// Its name.
    pub title: String,
    /// The day that work begins, `YYYY-MM-DD`.
    pub starts_on: Option<String>,
    /// The day that it is to go out, `YYYY-MM-DD`.
    pub ends_on: Option<String>,
    /// The day that it went out in fact.
    #[serde(default)]
    pub released_on: Option<String>,
    /// The points that fit.
    pub capacity: Option<f64>,
    /// Where it stands.
    pub state: ReleaseState,
}

impl Release {
    /// The day that it went out, or is to.
    #[must_use]
    pub fn out_on(&self) -> Option<&str> {
        self.released_on.as_deref().or(self.ends_on.as_deref())
    }

    /// When it is built and by which teams, while it is not out and has both days.
    pub fn building(&self, teams: impl Iterator<Item = TeamId>) -> Option<Building> {
        let day = |text: &Option<String>| text.as_deref().and_then(|text| text.parse().ok());
        let (from, to) = (day(&self.starts_on)?, day(&self.ends_on)?);
        (self.state != ReleaseState::Released).then(|| Building { id: self.id, from, to, teams: teams.collect() })
    }
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "release",
    singular: "release",
    plural: "releases",
    letter: Some('R'),
    stage: Stage::Plan,
    list: Some(List { heading: "Releases", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(7, "title", &[])),
    prose: &[Prose::Text("title"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("starts_on", Holds::Day),
        may("ends_on", Holds::Day),
        may("capacity", Holds::Number(0.0, 100_000.0)),
    ],
    begins: &[("state", Initial::Is(ReleaseState::Planned.name()))],
    // What is out is not planned again: it is taken back first.
    states: Some(States {
        steps: &[
            (ReleaseState::Planned.name(), &[ReleaseState::UnderWay.name(), ReleaseState::Released.name()]),
            (ReleaseState::UnderWay.name(), &[ReleaseState::Planned.name(), ReleaseState::Released.name()]),
            (ReleaseState::Released.name(), &[ReleaseState::UnderWay.name()]),
        ],
    }),
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};
