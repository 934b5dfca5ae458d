//! A found page: a page of somebody else's, as it was taken.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::CompetitorId;
use crate::things::FoundPageId;
use crate::things::ProductId;

/// A page of somebody else's, as it was pasted, uploaded or found.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FoundPage {
    /// Its number.
    pub id: FoundPageId,
    /// Its revision.
    pub rev: i64,
    /// The product whose market it speaks of.
    pub product_id: ProductId,
    /// Whose it is.
    pub competitor_id: Option<CompetitorId>,
    /// What it is called.
    pub title: String,
    /// Where it was found.
    pub address: Option<String>,
    /// When, `YYYY-MM-DD`.
    pub taken_on: String,
    /// Its text. It is never changed, so that what is quoted from it stays there.
    pub text: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "found_page",
    singular: "found page",
    plural: "found pages",
    stage: Stage::Decide,
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("competitor_id", ThingKind::Competitor).stays(),
    ],
    prose: &[Prose::Text("title"), Prose::Text("text")],
    is_said: true,
    editable: &[must("title", Holds::Line(TITLE)), may("competitor_id", Holds::Thing(ThingKind::Competitor))],
    rights: Rights::made(Right::Edit),
    spoken_of: false,
    ..Description::BASE
};
