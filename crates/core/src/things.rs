//! The kinds of things, their ids, and the short references that people use (`S14`).

use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

macro_rules! kinds {
    ($($(#[$doc:meta])* $variant:ident,)*) => {
        /// Every kind of thing that the ledger keeps. What each is, its description says (`kind::Description`).
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum ThingKind {
            $($(#[$doc])* $variant,)*
        }

        impl ThingKind {
            /// All kinds; a kind comes after those that its rows refer to.
            pub const ALL: &'static [ThingKind] = &[$(ThingKind::$variant),*];
        }
    };
}

kinds! {
    /// product
    Product,
    /// team
    Team,
    /// column
    TeamColumn,
    /// source
    Source,
    /// account
    Account,
    /// person
    Person,
    /// study
    Study,
    /// feedback item
    FeedbackItem,
    /// request form
    RequestForm,
    /// request
    Request,
    /// excerpt
    Excerpt,
    /// finding
    Finding,
    /// objective
    Objective,
    /// measurement
    Measurement,
    /// idea
    Idea,
    /// increment
    Increment,
    /// competitor
    Competitor,
    /// capability
    Capability,
    /// found page
    FoundPage,
    /// competitor note
    CompetitorNote,
    /// decision
    Decision,
    /// scoring model
    ScoringModel,
    /// estimate
    Estimate,
    /// prioritisation
    Prioritisation,
    /// activity
    Activity,
    /// step
    Step,
    /// release
    Release,
    /// work item
    WorkItem,
    /// acceptance criterion
    Criterion,
    /// result
    Result,
    /// link
    Link,
    /// requirements document
    Document,
    /// sprint
    Sprint,
    /// page
    Page,
    /// field
    Field,
    /// view
    View,
    /// channel
    Channel,
    /// term
    Term,
    /// checking
    Checking,
    /// membership
    Membership,
    /// comment
    Comment,
    /// rule
    Rule,
}

/// A word with its article at the beginning of a sentence: "An idea", "A release".
#[must_use]
pub fn with_article(word: &str) -> String {
    let article = if word.starts_with(['a', 'e', 'i', 'o', 'u']) { "An" } else { "A" };
    format!("{article} {word}")
}

/// A change of fields in a few words, by their labels: "changed title of S3", "changed what S3 is part of".
#[must_use]
pub fn changed(labels: &[String], name: &str) -> String {
    let (parts, plain): (Vec<&String>, Vec<&String>) = labels.iter().partition(|label| label.ends_with(" of"));
    let parts = parts.iter().map(|label| format!("what {name} is {}", label.to_lowercase()));
    let plain = plain.iter().map(|label| label.as_str()).collect::<Vec<_>>().join(", ");
    let plain = (!plain.is_empty()).then(|| format!("{plain} of {name}"));
    format!("changed {}", plain.into_iter().chain(parts).collect::<Vec<_>>().join(", "))
}

impl fmt::Display for ThingKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name())
    }
}

impl FromStr for ThingKind {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        Self::ALL
            .iter()
            .copied()
            .find(|kind| kind.name() == text)
            .ok_or_else(|| format!("there is no kind of thing called '{text}'"))
    }
}

/// The level of a work item, from the largest to the smallest; a level may be skipped. The letter of its short
/// reference follows from it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Level {
    /// What several epics are for.
    Initiative,
    /// Stories that belong together because one idea needs them.
    Epic,
    /// A part of an epic that can be told apart.
    Feature,
    /// One thing that somebody can do afterwards.
    Story,
    /// A piece of the work on a story.
    Task,
}

impl Level {
    /// All levels, from the largest to the smallest.
    pub const ALL: [Level; 5] = [Level::Initiative, Level::Epic, Level::Feature, Level::Story, Level::Task];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Level::Initiative => "initiative",
            Level::Epic => "epic",
            Level::Feature => "feature",
            Level::Story => "story",
            Level::Task => "task",
        }
    }

    /// The letter of the short reference.
    #[must_use]
    pub fn letter(self) -> char {
        match self {
            Level::Initiative => 'V',
            Level::Epic => 'E',
            Level::Feature => 'B',
            Level::Story => 'S',
            Level::Task => 'T',
        }
    }
}

/// A thing by kind and number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Thing {
    /// What it is.
    pub kind: ThingKind,
    /// Its number, unique within the kind.
    pub id: i64,
}

impl Thing {
    /// The thing of this kind and number.
    #[must_use]
    pub fn new(kind: ThingKind, id: impl Into<i64>) -> Self {
        Thing { kind, id: id.into() }
    }

    /// Reads a short reference such as `S14` or `n7`.
    ///
    /// # Errors
    /// In words, when the letter is unknown or no number follows it.
    pub fn from_reference(text: &str) -> Result<Self, String> {
        let text = text.trim();
        let mut chars = text.chars();
        let letter = chars.next().map(|c| c.to_ascii_uppercase());
        let kind = match letter {
            Some(letter) if Level::ALL.iter().any(|level| level.letter() == letter) => Some(ThingKind::WorkItem),
            Some(letter) => ThingKind::ALL.iter().copied().find(|k| k.letter() == Some(letter)),
            None => None,
        };
        match (kind, chars.as_str().parse::<i64>()) {
            (Some(kind), Ok(id)) if id > 0 => Ok(Thing { kind, id }),
            _ => Err(format!("'{text}' is no reference; write a letter and a number, such as S14")),
        }
    }
}

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident of $kind:ident;)*) => {$(
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(transparent)]
        pub struct $name(pub i64);

        impl $name {
            /// The thing that this id names.
            #[must_use]
            pub fn thing(self) -> Thing {
                Thing { kind: ThingKind::$kind, id: self.0 }
            }
        }

        impl From<$name> for i64 {
            fn from(id: $name) -> i64 {
                id.0
            }
        }

        impl From<i64> for $name {
            fn from(id: i64) -> Self {
                $name(id)
            }
        }

        impl fmt::Display for $name {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                match ThingKind::$kind.letter() {
                    Some(letter) => write!(f, "{letter}{}", self.0),
                    None => write!(f, "{}", self.0),
                }
            }
        }
    )*};
}

ids! {
    /// What is being managed.
    ProductId of Product;
    /// A team that builds.
    TeamId of Team;
    /// A column of a team's queue.
    TeamColumnId of TeamColumn;
    /// Where words came from.
    SourceId of Source;
    /// The organisation that a person belongs to.
    AccountId of Account;
    /// Somebody who said something.
    PersonId of Person;
    /// One thing that somebody gave us.
    ItemId of FeedbackItem;
    /// A form by which people ask for something.
    FormId of RequestForm;
    /// What somebody asked for.
    RequestId of Request;
    /// A span of an item's text.
    ExcerptId of Excerpt;
    /// Excerpts that mean the same.
    FindingId of Finding;
    /// A place outside that is looked at.
    ChannelId of Channel;
    /// A word of the team's own.
    TermId of Term;
    /// What a person said of what the engine had told.
    CheckingId of Checking;
    /// A planned piece of research.
    StudyId of Study;
    /// A goal with a measure.
    ObjectiveId of Objective;
    /// A guess at how to reach an objective.
    IdeaId of Idea;
    /// A step of an idea.
    IncrementId of Increment;
    /// Somebody who offers people another way.
    CompetitorId of Competitor;
    /// Something that an offer may do.
    CapabilityId of Capability;
    /// A page of somebody else's.
    FoundPageId of FoundPage;
    /// A sourced remark about somebody else's offer.
    NoteId of CompetitorNote;
    /// An activity on the backbone of a story map.
    ActivityId of Activity;
    /// A step of an activity.
    StepId of Step;
    /// A release.
    ReleaseId of Release;
    /// An epic or a story.
    WorkItemId of WorkItem;
    /// What somebody says of a thing.
    CommentId of Comment;
    /// What runs by itself.
    RuleId of Rule;
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_reference_is_read_in_any_case_and_refused_in_words() {
        assert_eq!(Thing::from_reference(" s14 "), Ok(Thing::new(ThingKind::WorkItem, 14)));
        assert_eq!(Thing::from_reference("N7"), Ok(Thing::new(ThingKind::Finding, 7)));
        for bad in ["", "14", "Z3", "S", "S-1", "S0", "é4"] {
            assert!(Thing::from_reference(bad).unwrap_err().contains("such as S14"), "{bad}");
        }
    }

    #[test]
    fn changes_are_told_as_people_say_them() {
        let told = |labels: &[&str]| changed(&labels.iter().map(|&label| label.to_owned()).collect::<Vec<_>>(), "S26");
        assert_eq!(told(&["title", "points"]), "changed title, points of S26");
        assert_eq!(told(&["Part of"]), "changed what S26 is part of");
        assert_eq!(told(&["Part of", "title"]), "changed title of S26, what S26 is part of");
        assert_eq!((with_article("epic"), with_article("release")), ("An epic".into(), "A release".into()));
    }

    #[test]
    fn no_two_kinds_share_a_letter() {
        let mut letters: Vec<char> = ThingKind::ALL.iter().filter_map(|k| k.letter()).collect();
        letters.extend(Level::ALL.map(Level::letter));
        letters.sort_unstable();
        let count = letters.len();
        letters.dedup();
        assert_eq!(letters.len(), count);
    }

    #[test]
    fn every_kind_is_found_by_its_name() {
        for kind in ThingKind::ALL {
            assert_eq!(kind.name().parse(), Ok(*kind));
            assert_eq!(serde_json::to_value(kind).unwrap(), kind.name());
        }
    }
}
