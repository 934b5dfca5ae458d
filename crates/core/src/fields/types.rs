//! The types of fields, and the shape that the values of each have.

use serde::{Deserialize, Serialize};

use super::collection::Collection;
use super::query::Measure;

/// One choice of a field. Rows hold its key, so that it can be renamed without touching them.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// What rows hold.
    pub key: String,
    /// What people read.
    pub label: String,
    /// Whether it is offered no more; rows that hold it keep it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub retired: bool,
}

impl Choice {
    /// A choice with this key and label.
    #[must_use]
    pub fn new(key: &str, label: &str) -> Self {
        Choice { key: key.to_owned(), label: label.to_owned(), retired: false }
    }
}

/// A number over things that are linked.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RollUp {
    /// The link fields from one collection to the next, at most [`RollUp::MOST_STEPS`].
    pub path: Vec<String>,
    /// What is computed.
    pub measure: Measure,
    /// The field of the last collection that it is computed of; none for a count and for the share done.
    pub of: Option<String>,
}

impl RollUp {
    /// At most so many links one after another.
    pub const MOST_STEPS: usize = 4;
}

/// What is drawn in the place of a value, where people compare faster by a picture than by figures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Drawing {
    /// How many in each of the last [`WEEKS`](crate::listen::WEEKS) weeks, oldest first: an array of counts.
    Weeks,
    /// How many speak against, neither, and for it: `{"against", "neutral", "for_it"}`.
    Spread,
    /// From a start over the present to a target: `{"start", "present", "target"}`.
    Path,
    /// What is done and planned against what fits: `{"done", "points", "capacity"}`.
    Load,
}

/// What a field is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "snake_case")]
pub enum FieldType {
    /// One line.
    Text,
    /// Markdown of several lines.
    LongText,
    /// A web address.
    WebAddress,
    /// A file that was put into the workspace.
    File,
    /// A number, with what it counts.
    Number {
        /// In what, such as "days".
        unit: Option<String>,
    },
    /// An amount in the workspace's currency.
    Money,
    /// A day, `YYYY-MM-DD`.
    Date,
    /// From a day to a day, `YYYY-MM-DD/YYYY-MM-DD` (ISO 8601).
    DateRange,
    /// Yes or no; what is empty is no.
    YesNo,
    /// One of these.
    Choice {
        /// In their order.
        choices: Vec<Choice>,
    },
    /// Any of these.
    Choices {
        /// In their order.
        choices: Vec<Choice>,
    },
    /// Somebody of the team.
    Member,
    /// Things of another collection.
    Link {
        /// Which one.
        to: Collection,
        /// Whether there may be several.
        many: bool,
        /// The field of the other collection that shows the same links from there; set by the rules for a field
        /// that a team added.
        back: Option<i64>,
        /// Whether the links run from this side.
        #[serde(default)]
        forward: bool,
    },
    /// A number over linked things.
    RolledUp {
        /// Over which, and what.
        #[serde(flatten)]
        roll_up: RollUp,
    },
    /// A small picture of several figures.
    Drawn {
        /// Which one.
        drawing: Drawing,
    },
}

/// What the values of a field look like, whatever its type: what filters, orders and groups go by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Shape {
    /// Text.
    Text,
    /// A number.
    Number,
    /// A day.
    Day,
    /// From a day to a day.
    Days,
    /// Yes or no.
    Yes,
    /// A file.
    File,
    /// The key of one choice.
    Choice,
    /// The keys of several choices.
    Choices,
    /// The number of somebody of the team.
    Member,
    /// The numbers of things.
    Links,
    /// The figures of a small picture.
    Drawn,
}

impl FieldType {
    /// The shape of its values.
    #[must_use]
    pub fn shape(&self) -> Shape {
        match self {
            FieldType::Text | FieldType::LongText | FieldType::WebAddress => Shape::Text,
            FieldType::Number { .. } | FieldType::Money | FieldType::RolledUp { .. } => Shape::Number,
            FieldType::File => Shape::File,
            FieldType::Date => Shape::Day,
            FieldType::DateRange => Shape::Days,
            FieldType::YesNo => Shape::Yes,
            FieldType::Choice { .. } => Shape::Choice,
            FieldType::Choices { .. } => Shape::Choices,
            FieldType::Member => Shape::Member,
            FieldType::Link { .. } => Shape::Links,
            FieldType::Drawn { .. } => Shape::Drawn,
        }
    }

    /// Its choices; empty where it has none.
    #[must_use]
    pub fn choices(&self) -> &[Choice] {
        match self {
            FieldType::Choice { choices } | FieldType::Choices { choices } => choices,
            _ => &[],
        }
    }

    /// The word for people.
    #[must_use]
    pub fn words(&self) -> &'static str {
        match self {
            FieldType::Text => "text",
            FieldType::LongText => "long text",
            FieldType::WebAddress => "web address",
            FieldType::File => "file",
            FieldType::Number { .. } => "number",
            FieldType::Money => "money",
            FieldType::Date => "date",
            FieldType::DateRange => "date range",
            FieldType::YesNo => "yes or no",
            FieldType::Choice { .. } => "one choice",
            FieldType::Choices { .. } => "several choices",
            FieldType::Member => "person of the team",
            FieldType::Link { .. } => "link",
            FieldType::RolledUp { .. } => "rolled up",
            FieldType::Drawn { .. } => "drawing",
        }
    }

    /// Whether values are kept in the row, so that they can be carried to another type.
    #[must_use]
    pub fn is_kept(&self) -> bool {
        !matches!(self, FieldType::Link { .. } | FieldType::RolledUp { .. } | FieldType::File | FieldType::Drawn { .. })
    }
}

/// A field of a collection: registered or added by the team.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FieldDef {
    /// The name in the API, in filters and in views.
    pub name: String,
    /// What people read.
    pub label: String,
    /// What it is.
    #[serde(flatten)]
    pub kind: FieldType,
    /// What its values look like.
    pub shape: Shape,
    /// Whether it may be edited in place.
    pub editable: bool,
    /// Where it changes instead, where a rule governs it.
    pub governed: Option<String>,
    /// Whether it may be edited in place, but not by whoever asks.
    pub withheld: bool,
    /// The number of the field, where the team added it.
    pub own: Option<i64>,
    /// The revision of the field, where the team added it.
    pub rev: Option<i64>,
    /// Whether it is shown no more; its values are kept.
    pub retired: bool,
}
