//! Checking what the engine told: what is asked about an excerpt, and what a person says.

use serde::{Deserialize, Serialize};

use super::FeedbackKind;
use crate::kind::prelude::*;
use crate::problem::Problem;
use crate::things::{CheckingId, ExcerptId, FindingId};

/// Where the engine is less sure than this, it counts as unsure.
pub const UNSURE: f64 = 0.5;

/// What of an excerpt is checked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CheckAbout {
    /// Its kind.
    Kind,
    /// The finding that it belongs to.
    Finding,
}

impl CheckAbout {
    /// What goes by this name.
    #[must_use]
    pub fn named(name: &str) -> Option<Self> {
        [CheckAbout::Kind, CheckAbout::Finding].into_iter().find(|about| about.name() == name)
    }

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            CheckAbout::Kind => "kind",
            CheckAbout::Finding => "finding",
        }
    }
}

/// How excerpts come to be checked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CheckWay {
    /// Those that the engine is least sure of, with what it told in sight: to put right the most with the least work.
    Unsure,
    /// By chance, with what it told out of sight: to learn how often it is right.
    Chance,
    /// Those that somebody else has checked, with what was said out of sight: to learn how far people agree.
    Second,
}

impl CheckWay {
    /// What goes by this name.
    #[must_use]
    pub fn named(name: &str) -> Option<Self> {
        [CheckWay::Unsure, CheckWay::Chance, CheckWay::Second].into_iter().find(|way| way.name() == name)
    }

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            CheckWay::Unsure => "unsure",
            CheckWay::Chance => "chance",
            CheckWay::Second => "second",
        }
    }
}

/// What a person said of something that the engine had told.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Checking {
    /// Its number.
    pub id: CheckingId,
    /// Its revision.
    pub rev: i64,
    /// The excerpt.
    pub excerpt_id: ExcerptId,
    /// What of it was checked.
    pub about: CheckAbout,
    /// How it came to be checked.
    pub way: CheckWay,
    /// What the engine had told: a kind, or a finding's number.
    pub told: String,
    /// What the person said: the same, or nothing fits (`none`).
    pub said: String,
    /// Who checked it.
    pub user_id: i64,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "checking",
    singular: "checking",
    plural: "checkings",
    stage: Stage::Listen,
    product: WayToProduct::Through("excerpt_id"),
    relations: &[Relation::to("excerpt_id", ThingKind::Excerpt).goes()],
    spoken_of: false,
    ..Description::BASE
};

/// What a person says of an excerpt.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Verdict {
    /// It is of this kind.
    Kind(FeedbackKind),
    /// It belongs to this finding.
    Finding(FindingId),
    /// It belongs to no finding that is offered.
    NoFinding,
}

/// What stands for "it belongs to none of these".
pub const NO_FINDING: &str = "none";

impl Verdict {
    /// Reads what was said.
    ///
    /// # Errors
    /// [`Problem::Invalid`] where it is no answer to what was asked.
    pub fn read(about: CheckAbout, said: &str) -> Result<Verdict, Problem> {
        let read = match about {
            CheckAbout::Kind => FeedbackKind::named(said).map(Verdict::Kind),
            CheckAbout::Finding if said == NO_FINDING => Some(Verdict::NoFinding),
            CheckAbout::Finding => said.parse().ok().map(|id| Verdict::Finding(FindingId(id))),
        };
        let words = match about {
            CheckAbout::Kind => format!("Say one of these kinds: {}.", FeedbackKind::names().join(", ")),
            CheckAbout::Finding => format!("Say a finding's number, or '{NO_FINDING}'."),
        };
        read.ok_or_else(|| Problem::invalid("/said", words))
    }

    /// As it is stored.
    #[must_use]
    pub fn stored(self) -> String {
        match self {
            Verdict::Kind(kind) => kind.name().to_owned(),
            Verdict::Finding(finding) => finding.0.to_string(),
            Verdict::NoFinding => NO_FINDING.to_owned(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_an_answer_to_the_question_is_one() {
        use CheckAbout::{Finding, Kind};
        for (about, said) in [(Kind, "habit"), (Finding, "7"), (Finding, "none")] {
            assert_eq!(Verdict::read(about, said).unwrap().stored(), said);
        }
        for (about, said) in [(Kind, "7"), (Kind, "none"), (Finding, "habit"), (Finding, "")] {
            assert!(Verdict::read(about, said).is_err(), "{said}");
        }
    }
}
