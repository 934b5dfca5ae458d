//! A capability: something that an offer may do for people.

use serde::{Deserialize, Serialize};

use super::market::Offers;
use crate::kind::prelude::*;
use crate::things::CapabilityId;
use crate::things::ProductId;

/// Something that an offer may do for people.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Capability {
    /// Its number.
    pub id: CapabilityId,
    /// Its revision.
    pub rev: i64,
    /// The product whose market it belongs to.
    pub product_id: ProductId,
    /// Its place in the comparison, ascending.
    pub position: f64,
    /// What people can do with it.
    pub title: String,
    /// How far our own product does it; nothing where nobody said.
    pub offers: Option<Offers>,
    /// What stands behind that.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "capability",
    singular: "capability",
    plural: "capabilities",
    stage: Stage::Decide,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("title"), Prose::Text("note")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("offers", Holds::OneOf(Offers::names)),
        may("note", Holds::Text(NOTE)),
    ],
    rights: Rights::made(Right::Edit),
    spoken_of: false,
    ..Description::BASE
};
