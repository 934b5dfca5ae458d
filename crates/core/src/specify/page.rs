//! A page; pages nest.

use crate::kind::prelude::*;

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "page",
    singular: "page",
    plural: "pages",
    stage: Stage::Specify,
    list: Some(List { heading: "Pages", title: "title" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("parent_id", ThingKind::Page).field("parent_id").back("children").goes(),
    ],
    searched: Some(Searched::by(14, "title", &["body"])),
    prose: &[Prose::Text("title"), Prose::Text("body"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("parent_id", Holds::Thing(ThingKind::Page)),
        may("body", Holds::Text(LONG)),
    ],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};
