//! A competitor note: a sourced remark about somebody else's offer.

use serde::{Deserialize, Serialize};

use super::market::Offers;
use crate::kind::prelude::*;
use crate::things::CapabilityId;
use crate::things::CompetitorId;
use crate::things::FoundPageId;
use crate::things::NoteId;
use crate::things::ProductId;

/// A sourced remark about what somebody else's offer does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CompetitorNote {
    /// Its number.
    pub id: NoteId,
    /// Its revision.
    pub rev: i64,
    /// The product whose market it is about.
    pub product_id: ProductId,
    /// Whose offer it is about.
    pub competitor_id: CompetitorId,
    /// What of it.
    pub capability_id: Option<CapabilityId>,
    /// How far the offer does that.
    pub offers: Option<Offers>,
    /// The remark; where it has a page, words of that page.
    pub words: String,
    /// The page that it quotes.
    pub page_id: Option<FoundPageId>,
    /// Where it comes from, where it has no page.
    pub source: Option<String>,
    /// The day, `YYYY-MM-DD`.
    pub noted_on: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "competitor_note",
    singular: "competitor note",
    plural: "competitor notes",
    stage: Stage::Decide,
    list: Some(List { heading: "Competitor notes", title: "words" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("competitor_id", ThingKind::Competitor).goes(),
        Relation::to("capability_id", ThingKind::Capability).stays(),
        Relation::to("page_id", ThingKind::FoundPage).goes(),
    ],
    searched: Some(Searched::by(19, "words", &["source"])),
    prose: &[Prose::Text("words"), Prose::Text("source"), Prose::Values("own")],
    // Its words stay: they stand so in their source.
    editable: &[may("offers", Holds::OneOf(Offers::names)), must("noted_on", Holds::Day)],
    rights: Rights {
        add: Adding::Comes {
            code: "comes-with-source",
            words: "Notes are made in the market view, where their source is.",
        },
        change: Right::Edit,
        remove: Some(Right::Edit),
    },
    ..Description::BASE
};
