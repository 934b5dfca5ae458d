//! The records of this stage.

use serde::{Deserialize, Serialize};

use crate::text::Span;
use crate::things::{AccountId, ExcerptId, FindingId, ItemId, PersonId, ProductId, SourceId, StudyId};

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

/// Where words came from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Source {
    /// Its number.
    pub id: SourceId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// What people call it, usually the file's name.
    pub name: String,
    /// The day it was brought in.
    pub brought_on: String,
    /// 1 where what tells who somebody is is covered on the way in.
    #[serde(default)]
    pub covers: i64,
    /// Which heading means what, as JSON in text, for its next file.
    #[serde(default)]
    pub mapping: Option<String>,
}

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

/// Somebody who said something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Person {
    /// Its number.
    pub id: PersonId,
    /// Its revision.
    pub rev: i64,
    /// The name as it came in.
    pub name: String,
    /// Where the person belongs.
    pub account_id: Option<AccountId>,
    /// The mail address, where it is known.
    #[serde(default)]
    pub address: Option<String>,
}

/// One thing that somebody gave us.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FeedbackItem {
    /// Its number.
    pub id: ItemId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// Where it came from.
    pub source_id: SourceId,
    /// The words, as they came.
    pub text: String,
    /// The day it was said, `YYYY-MM-DD`.
    pub said_on: Option<String>,
    /// Who said it.
    pub person_id: Option<PersonId>,
    /// The account that it was said for.
    pub account_id: Option<AccountId>,
    /// The rating that came with it, on the source's own scale.
    pub rating: Option<f64>,
    /// The columns that were not mapped, as a JSON object in text.
    pub extra: Option<String>,
    /// What tells it from its duplicates.
    pub digest: String,
    /// What its source knows it by.
    #[serde(default)]
    pub source_key: Option<String>,
    /// Who speaks where, as JSON in text.
    #[serde(default)]
    pub turns: Option<String>,
    /// The study that it was said in.
    #[serde(default)]
    pub study_id: Option<StudyId>,
    /// The number of the file with the sound or the picture of it.
    #[serde(default)]
    pub recording: Option<i64>,
}

impl FeedbackItem {
    /// What a document or a mail is called; nothing for what is only words.
    #[must_use]
    pub fn title(&self) -> Option<String> {
        let extra: serde_json::Value = serde_json::from_str(self.extra.as_deref()?).ok()?;
        extra["title"].as_str().filter(|title| !title.trim().is_empty()).map(str::to_owned)
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

/// A span of an item's text that says one thing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Excerpt {
    /// Its number.
    pub id: ExcerptId,
    /// Its revision.
    pub rev: i64,
    /// The item whose words these are.
    pub item_id: ItemId,
    /// First character of the span.
    pub from_char: u32,
    /// The character after the last.
    pub to_char: u32,
    /// What it is.
    pub kind: FeedbackKind,
    /// Worst −1 to best +1.
    pub sentiment: f64,
    /// How likely the kind is to be right, 0 to 1, as far as the engine can tell; nothing where it has only glanced at it.
    #[serde(default)]
    pub sure: Option<f64>,
    /// The language, by its English name; nothing where it could not be told.
    #[serde(default)]
    pub language: Option<String>,
    /// 1 where a person said what it is.
    #[serde(default)]
    pub chosen: Option<i64>,
    /// The excerpt in which the same person said the same first; nothing where this is it.
    #[serde(default)]
    pub repeats_id: Option<ExcerptId>,
}

impl Excerpt {
    /// Where its words stand in the item.
    #[must_use]
    pub fn span(&self) -> Span {
        Span { from: self.from_char as usize, to: self.to_char as usize }
    }
}

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
    fn a_title_is_one_only_where_it_says_something() {
        let titled = |extra: Option<&str>| {
            let item = serde_json::json!({
                "id": 1, "rev": 1, "product_id": 1, "source_id": 1, "text": "Off.", "said_on": null, "person_id": null,
                "account_id": null, "rating": null, "extra": extra, "digest": "",
            });
            serde_json::from_value::<FeedbackItem>(item).unwrap().title()
        };
        assert_eq!(titled(Some(r#"{"title": "The dairy"}"#)).as_deref(), Some("The dairy"));
        for none in [None, Some("{}"), Some(r#"{"title": " "}"#), Some(r#"{"title": 3}"#), Some("no JSON")] {
            assert_eq!(titled(none), None, "{none:?}");
        }
    }

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
