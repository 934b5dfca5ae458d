//! Rows that are told as parts of a thing: what happens to them happens to it.

use crate::things::ThingKind;

/// The kind of a part, the column that names what it belongs to, and the kind of that.
pub const PARTS: [(ThingKind, &str, ThingKind); 4] = [
    (ThingKind::Criterion, "story_id", ThingKind::WorkItem),
    (ThingKind::Estimate, "idea_id", ThingKind::Idea),
    (ThingKind::Decision, "idea_id", ThingKind::Idea),
    (ThingKind::Measurement, "objective_id", ThingKind::Objective),
];
