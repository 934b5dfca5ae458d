//! A requirements document.

use crate::kind::prelude::*;

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "document",
    singular: "requirements document",
    plural: "requirements documents",
    letter: Some('D'),
    stage: Stage::Specify,
    list: Some(List { heading: "Documents", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(12, "title", &["body"])),
    prose: &[Prose::Text("title"), Prose::Text("body"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("state", Holds::OneOf(document_states)),
        may("body", Holds::Text(LONG)),
    ],
    begins: &[("state", Initial::Is("draft"))],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};

/// Where a requirements document stands.
pub(crate) fn document_states() -> Vec<&'static str> {
    vec!["draft", "in_review", "agreed"]
}
