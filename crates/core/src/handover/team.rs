//! A team that builds.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::TeamId;

/// A team that builds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Team {
    /// Its number.
    pub id: TeamId,
    /// Its revision.
    pub rev: i64,
    /// Its name.
    pub name: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description =
    Description { name: "team", singular: "team", plural: "teams", stage: Stage::HandOver, ..Description::BASE };
