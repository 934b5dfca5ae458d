//! A source: where words came from.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ProductId;
use crate::things::SourceId;

/// Where words came from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Source {
    /// Its number.
    pub id: SourceId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// What people call it, usually the file's name.
    pub name: String,
    /// The day it was brought in.
    pub brought_on: String,
    /// 1 where what tells who somebody is is covered on the way in.
    #[serde(default)]
    pub covers: i64,
    /// Which heading means what, as JSON in text, for its next file.
    #[serde(default)]
    pub mapping: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "source",
    singular: "source",
    plural: "sources",
    stage: Stage::Listen,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("name")],
    spoken_of: false,
    ..Description::BASE
};
