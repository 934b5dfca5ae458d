//! A competitor: somebody who offers people another way.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::CompetitorId;
use crate::things::ProductId;

/// Somebody who offers people another way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Competitor {
    /// Its number.
    pub id: CompetitorId,
    /// Its revision.
    pub rev: i64,
    /// The product that it competes with.
    pub product_id: ProductId,
    /// What it is called.
    pub name: String,
    /// Where it is found.
    pub address: Option<String>,
    /// What else is to be known.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "competitor",
    singular: "competitor",
    plural: "competitors",
    stage: Stage::Decide,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("name"), Prose::Text("note")],
    editable: &[must("name", Holds::Line(TITLE)), may("address", Holds::Line(1_000)), may("note", Holds::Text(NOTE))],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
