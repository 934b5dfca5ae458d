//! A result: what was measured after a release.

use serde::{Deserialize, Serialize};

use crate::decide::Verdict;
use crate::kind::prelude::*;
use crate::things::IdeaId;
use crate::things::IncrementId;
use crate::things::ReleaseId;

/// What was measured after a release.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Measured {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The idea that it speaks about.
    pub idea_id: IdeaId,
    /// The release that brought the idea.
    pub release_id: Option<ReleaseId>,
    /// The increment of the idea that it is of; then it is a test of the idea.
    #[serde(default)]
    pub increment_id: Option<IncrementId>,
    /// What it says of what was to be shown.
    #[serde(default)]
    pub verdict: Option<Verdict>,
    /// What was counted.
    pub measure: String,
    /// In what.
    pub unit: Option<String>,
    /// Where it stood.
    pub before: f64,
    /// Where it stands.
    pub after: f64,
    /// The day, `YYYY-MM-DD`.
    pub measured_on: String,
    /// What else is to be known.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "result",
    singular: "result",
    plural: "results",
    letter: Some('M'),
    stage: Stage::Learn,
    product: WayToProduct::Through("idea_id"),
    relations: &[
        Relation::to("idea_id", ThingKind::Idea).goes().line(Line::Below),
        // A result does not rest on all else that its release held.
        Relation::to("release_id", ThingKind::Release).stays().line(Line::OnlyBelow),
        Relation::to("increment_id", ThingKind::Increment).stays().line(Line::Below),
    ],
    searched: Some(Searched::by(9, "measure", &["note"])),
    prose: &[Prose::Text("measure"), Prose::Text("note")],
    editable: &[
        must("measure", Holds::Line(TITLE)),
        may("unit", Holds::Line(40)),
        must("before", Holds::Number(-HUGE, HUGE)),
        must("after", Holds::Number(-HUGE, HUGE)),
        must("measured_on", Holds::Day),
        may("verdict", Holds::OneOf(Verdict::names)),
        may("note", Holds::Text(NOTE)),
    ],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};
