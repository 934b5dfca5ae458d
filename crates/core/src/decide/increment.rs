//! Increments: the steps of an idea that are worth delivering or testing by themselves.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::{IdeaId, IncrementId, ProductId};

/// Where an increment stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum IncrementState {
    /// It is to come.
    Planned,
    /// Somebody works on it.
    UnderWay,
    /// It is out, or its test is over.
    Finished,
    /// It will not be done.
    Dropped,
}

impl IncrementState {
    /// All of them, in their order.
    pub const ALL: [IncrementState; 4] =
        [IncrementState::Planned, IncrementState::UnderWay, IncrementState::Finished, IncrementState::Dropped];

    /// The name in the store and the API.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            IncrementState::Planned => "planned",
            IncrementState::UnderWay => "under_way",
            IncrementState::Finished => "finished",
            IncrementState::Dropped => "dropped",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(IncrementState::name).collect()
    }
}

/// A step of an idea: the smallest one that would teach something comes first.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Increment {
    /// Its number.
    pub id: IncrementId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is for.
    pub product_id: ProductId,
    /// The idea that it is a step of.
    pub idea_id: IdeaId,
    /// Its place among the idea's increments, ascending.
    pub position: f64,
    /// The step in a few words.
    pub title: String,
    /// What it should show.
    pub shows: Option<String>,
    /// How that is measured.
    pub measure: Option<String>,
    /// Person-weeks.
    pub effort: Option<f64>,
    /// When, such as `2026 Q4`.
    pub quarter: Option<String>,
    /// Where it stands.
    pub state: IncrementState,
    /// What else is to be known.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "increment",
    singular: "increment",
    plural: "increments",
    letter: Some('K'),
    stage: Stage::Decide,
    list: Some(List { heading: "Increments", title: "title" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("idea_id", ThingKind::Idea).field("idea_id").back("increments").goes().line(Line::Below),
    ],
    searched: Some(Searched::by(16, "title", &["shows", "measure", "note"])),
    prose: &[
        Prose::Text("title"),
        Prose::Text("shows"),
        Prose::Text("measure"),
        Prose::Text("note"),
        Prose::Values("own"),
    ],
    editable: &[
        must("idea_id", Holds::Thing(ThingKind::Idea)),
        must("title", Holds::Line(TITLE)),
        may("shows", Holds::Text(NOTE)),
        may("measure", Holds::Line(TITLE)),
        may("effort", Holds::Number(0.1, 10_000.0)),
        may("quarter", Holds::Quarter),
        may("state", Holds::OneOf(IncrementState::names)),
        may("note", Holds::Text(NOTE)),
    ],
    begins: &[("state", Initial::Is(IncrementState::Planned.name())), ("position", Initial::Last)],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};

/// A quarter in its one form, `2026 Q4`, as people write it: `Q4 2026`, `2026-q4`, `4/2026`.
///
/// ```
/// use iron_kite_core::decide::quarter;
/// assert_eq!(quarter("q4 2026").as_deref(), Some("2026 Q4"));
/// assert_eq!(quarter("2026-Q1").as_deref(), Some("2026 Q1"));
/// assert_eq!(quarter("2026 Q5"), None);
/// ```
#[must_use]
pub fn quarter(text: &str) -> Option<String> {
    let parts: Vec<&str> = text.split(|c: char| !c.is_ascii_alphanumeric()).filter(|part| !part.is_empty()).collect();
    let [first, second] = parts[..] else { return None };
    let year = |part: &str| part.parse::<u16>().ok().filter(|year| (1900..=2200).contains(year));
    let number = |part: &str| {
        let digit = part.strip_prefix(['q', 'Q']).unwrap_or(part);
        digit.parse::<u8>().ok().filter(|number| (1..=4).contains(number))
    };
    let (year, number) = match (year(first), number(second)) {
        (Some(year), Some(number)) => (year, number),
        _ => (year(second)?, number(first)?),
    };
    Some(format!("{year} Q{number}"))
}
