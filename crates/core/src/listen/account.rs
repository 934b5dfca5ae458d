//! An account: the organisation that people belong to.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::AccountId;

/// The organisation that a person belongs to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Account {
    /// Its number.
    pub id: AccountId,
    /// Its revision.
    pub rev: i64,
    /// Its name, unique in the workspace.
    pub name: String,
    /// What sort of customer it is.
    pub segment: Option<String>,
    /// Whole units of the workspace's currency a year.
    pub yearly_revenue: Option<i64>,
    /// What it pays for.
    #[serde(default)]
    pub plan: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "account",
    singular: "account",
    plural: "accounts",
    letter: Some('A'),
    stage: Stage::Listen,
    list: Some(List { heading: "Accounts", title: "name" }),
    searched: Some(Searched::by(3, "name", &["segment"])),
    prose: &[Prose::Text("name")],
    editable: &[
        must("name", Holds::Line(TITLE)),
        may("segment", Holds::Line(80)),
        may("plan", Holds::Line(80)),
        may("yearly_revenue", Holds::Whole(0, 1_000_000_000_000)),
    ],
    rights: Rights { add: Adding::ByFields(Right::Listen), change: Right::Listen, remove: None },
    ..Description::BASE
};
