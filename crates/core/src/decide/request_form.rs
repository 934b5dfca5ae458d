//! A form by which people ask for something.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::FormId;
use crate::things::ProductId;

/// A form by which customers and colleagues ask for something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RequestForm {
    /// Its number.
    pub id: FormId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is about.
    pub product_id: ProductId,
    /// What it is called, for the sender as well.
    pub title: String,
    /// What the sender reads first.
    pub intro: Option<String>,
    /// Its fields, as JSON.
    pub fields: String,
    /// 1 where anybody who has its link may fill it in; else only whoever is signed in.
    pub open: i64,
    /// What its link ends with.
    pub key: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "request_form",
    singular: "request form",
    plural: "request forms",
    stage: Stage::Decide,
    list: Some(List { heading: "Request forms", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(17, "title", &["intro"])),
    prose: &[Prose::Text("title"), Prose::Text("intro"), Prose::Values("own")],
    editable: &[must("title", Holds::Line(TITLE)), may("intro", Holds::Text(NOTE))],
    rights: Rights { add: BY_FORM, change: Right::Edit, remove: Some(Right::Edit) },
    ..Description::BASE
};

/// Neither a form nor what comes by it is made of its fields alone.
pub(super) const BY_FORM: Adding = Adding::Comes {
    code: "comes-by-form",
    words: "Requests come by a form, and forms are made where they are listed in Decide.",
};
