//! Plan: releases, progress, and dependencies that cannot be kept.

mod at_once;
mod cycle;
mod order;
mod progress;

use serde::{Deserialize, Serialize};

pub use at_once::{Building, built_at_once};
pub use cycle::would_close;
pub use order::{NeedsFirst, needs_first, release_order};
pub use progress::{Counted, Progress, add_up, progress};

use crate::things::{ProductId, ReleaseId, TeamId};

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
    pub fn name(self) -> &'static str {
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
