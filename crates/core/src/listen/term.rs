//! A term: a word of the team's own.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ProductId;
use crate::things::TermId;

/// A word of the product, with other words for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Term {
    /// Its number.
    pub id: TermId,
    /// Its revision.
    pub rev: i64,
    /// The product that it belongs to.
    pub product_id: ProductId,
    /// What the team calls it.
    pub name: String,
    /// What else people call it, parted by commas or lines.
    #[serde(default)]
    pub synonyms: Option<String>,
    /// What it is.
    #[serde(default)]
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "term",
    singular: "term",
    plural: "terms",
    stage: Stage::Listen,
    list: Some(List { heading: "Terms", title: "name" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(15, "name", &["synonyms", "note"])),
    prose: &[Prose::Text("name"), Prose::Text("synonyms"), Prose::Text("note"), Prose::Values("own")],
    editable: &[must("name", Holds::Line(TITLE)), may("synonyms", Holds::Text(NOTE)), may("note", Holds::Text(NOTE))],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};
