//! A prioritisation: a ranking as it was reported.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ProductId;

/// A prioritisation: its report follows the present numbers until it is agreed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Prioritisation {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The product.
    pub product_id: ProductId,
    /// What it is called.
    pub title: String,
    /// What is asked.
    pub question: Option<String>,
    /// What somebody recommends, in their words.
    pub recommendation: Option<String>,
    /// The model: the name of one that comes with the product, or the number of one of its own.
    pub model: String,
    /// How many make the cut.
    pub top: i64,
    /// The day on which it was agreed.
    pub agreed_on: Option<String>,
    /// By whom.
    pub agreed_by: Option<i64>,
    /// What it was then, as JSON.
    #[serde(skip_serializing)]
    pub kept: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "prioritisation",
    singular: "prioritisation",
    plural: "prioritisations",
    stage: Stage::Decide,
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("title"), Prose::Text("question"), Prose::Text("recommendation"), Prose::Told("kept")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("question", Holds::Text(NOTE)),
        may("recommendation", Holds::Text(NOTE)),
        must("model", Holds::Line(40)),
        must("top", Holds::Whole(1, 100)),
    ],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
