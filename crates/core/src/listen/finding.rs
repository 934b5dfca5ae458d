//! A finding: excerpts that mean the same.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::FindingId;
use crate::things::ProductId;

/// What people think of a finding.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FindingState {
    /// The engine proposed it, and nobody has said what it is worth.
    Suggested,
    /// A person made it or stands by it.
    #[default]
    Accepted,
    /// A person said that it says nothing; it stays to take in more of the same.
    ThrownOut,
}

impl FindingState {
    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            FindingState::Suggested => "suggested",
            FindingState::Accepted => "accepted",
            FindingState::ThrownOut => "thrown_out",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        [FindingState::Suggested, FindingState::Accepted, FindingState::ThrownOut].map(FindingState::name).to_vec()
    }
}

/// Excerpts that mean the same, under one sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Its number.
    pub id: FindingId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// A sentence that a person could say aloud.
    pub title: String,
    /// What else is to be known.
    pub note: Option<String>,
    /// What people think of it; nothing where a person made it and so stands by it.
    #[serde(default)]
    pub state: Option<FindingState>,
}

impl Finding {
    /// What people think of it.
    #[must_use]
    pub fn state(&self) -> FindingState {
        self.state.unwrap_or_default()
    }
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "finding",
    singular: "finding",
    plural: "findings",
    letter: Some('N'),
    stage: Stage::Listen,
    list: Some(List { heading: "Findings", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(1, "title", &["note"])),
    prose: &[Prose::Text("title"), Prose::Text("note"), Prose::Values("own")],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("note", Holds::Text(NOTE)),
        may("state", Holds::OneOf(FindingState::names)),
    ],
    rights: Rights {
        add: Adding::Comes {
            code: "comes-with-feedback",
            words: "Findings come with what people said. Bring it in, or find it, in Listen.",
        },
        change: Right::Listen,
        remove: Some(Right::Listen),
    },
    ..Description::BASE
};
