//! A link between two things.

use serde::{Deserialize, Serialize};

use super::LinkKind;
use crate::kind::prelude::*;

/// A link between two things.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Link {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// What it says.
    pub kind: LinkKind,
    /// The end nearer to the words.
    pub from_kind: ThingKind,
    /// Its number.
    pub from_id: i64,
    /// The end nearer to the result.
    pub to_kind: ThingKind,
    /// Its number.
    pub to_id: i64,
    /// How sure the engine is of it, 0 to 1; nothing where a person made it.
    #[serde(default)]
    pub sure: Option<f64>,
    /// How much of the way from an objective's start to its target the other end is to bring, 0 to 1.
    #[serde(default)]
    pub part: Option<f64>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "link",
    singular: "link",
    plural: "links",
    product: WayToProduct::Of { kind: "from_kind", id: "from_id" },
    spoken_of: false,
    ..Description::BASE
};
