//! An activity on the backbone of a story map.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ActivityId;
use crate::things::ProductId;

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

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "activity",
    singular: "activity",
    plural: "activities",
    stage: Stage::Map,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("title")],
    editable: &[must("title", Holds::Line(TITLE))],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
