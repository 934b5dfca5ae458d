//! A sprint: a stretch of days with a capacity.

use crate::kind::prelude::*;

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "sprint",
    singular: "sprint",
    plural: "sprints",
    stage: Stage::Plan,
    list: Some(List { heading: "Sprints", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(13, "title", &["goal"])),
    prose: &[Prose::Text("title"), Prose::Text("goal"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("goal", Holds::Text(NOTE)),
        may("starts_on", Holds::Day),
        may("ends_on", Holds::Day),
        may("capacity", Holds::Number(0.0, 100_000.0)),
    ],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};
