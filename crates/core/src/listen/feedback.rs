//! The records of this stage.

use serde::{Deserialize, Serialize};

use crate::things::{AccountId, ItemId, PersonId};

/// What an excerpt is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FeedbackKind {
    /// They wish for something.
    Request,
    /// It does not work as it should.
    Defect,
    /// It works, but is hard to use.
    Friction,
    /// They ask how.
    HelpNeeded,
    /// They like it.
    Praise,
    /// What they do.
    Habit,
    /// Why they stop.
    Leaving,
}

impl FeedbackKind {
    /// The names in the store and the API.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        FeedbackKind::ALL.into_iter().map(FeedbackKind::name).collect()
    }

    /// All kinds, in the order of their names above.
    pub const ALL: [FeedbackKind; 7] = [
        FeedbackKind::Request,
        FeedbackKind::Defect,
        FeedbackKind::Friction,
        FeedbackKind::HelpNeeded,
        FeedbackKind::Praise,
        FeedbackKind::Habit,
        FeedbackKind::Leaving,
    ];

    /// Its name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            FeedbackKind::Request => "request",
            FeedbackKind::Defect => "defect",
            FeedbackKind::Friction => "friction",
            FeedbackKind::HelpNeeded => "help_needed",
            FeedbackKind::Praise => "praise",
            FeedbackKind::Habit => "habit",
            FeedbackKind::Leaving => "leaving",
        }
    }

    /// The kind of this name.
    #[must_use]
    pub fn named(name: &str) -> Option<FeedbackKind> {
        FeedbackKind::ALL.into_iter().find(|kind| kind.name() == name)
    }
}

/// An item as a list shows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ItemLine {
    /// Its number.
    pub id: ItemId,
    /// The beginning of its text.
    pub text: String,
    /// The day it was said.
    pub said_on: Option<String>,
    /// Who said it.
    pub person: Option<String>,
    /// For which account.
    pub account: Option<String>,
    /// The source's name.
    pub source: String,
    /// The rating that came with it.
    pub rating: Option<f64>,
    /// Whether anybody has read it.
    pub read: bool,
    /// How many excerpts it has.
    pub excerpts: i64,
    /// How many of them stand behind a finding.
    pub used: i64,
}

/// Who stands behind some words: the parts that roll-ups count.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WhoSaid {
    /// The item that holds the words.
    pub item_id: ItemId,
    /// The person, where known.
    pub person_id: Option<PersonId>,
    /// The account, where known.
    pub account_id: Option<AccountId>,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_is_listed_by_the_name_it_is_stored_under() {
        let kinds: Vec<FeedbackKind> = FeedbackKind::names()
            .into_iter()
            .map(|name| serde_json::from_value(serde_json::Value::from(name)).unwrap())
            .collect();
        assert_eq!(kinds.len(), 7);
        assert_eq!(kinds[3], FeedbackKind::HelpNeeded);
    }
}
