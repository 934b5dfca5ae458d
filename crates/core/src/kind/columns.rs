//! What may be edited in place in a row's own columns.
//!
//! Fields that a rule governs (an idea's state, a story's place on the map) are none of these: they change through a use
//! case of their own.

use crate::things::ThingKind;

/// What a field holds.
#[derive(Debug, Clone, Copy)]
pub enum Holds {
    /// One line, at most so many characters.
    Line(usize),
    /// Text of several lines, at most so many characters.
    Text(usize),
    /// A number from – to.
    Number(f64, f64),
    /// A whole number from – to.
    Whole(i64, i64),
    /// A day as `YYYY-MM-DD`.
    Day,
    /// One of these names.
    OneOf(fn() -> Vec<&'static str>),
    /// The number of a thing of this kind.
    Thing(ThingKind),
    /// The number of a person of the team.
    Member,
    /// A quarter of a year as `2026 Q4`.
    Quarter,
}

/// A field that a person may edit in place.
#[derive(Debug, Clone, Copy)]
pub struct Field {
    /// Its name in the store and the API.
    pub name: &'static str,
    /// What it holds.
    pub holds: Holds,
    /// Whether it may be empty.
    pub optional: bool,
}

pub(crate) const fn must(name: &'static str, holds: Holds) -> Field {
    Field { name, holds, optional: false }
}

pub(crate) const fn may(name: &'static str, holds: Holds) -> Field {
    Field { name, holds, optional: true }
}

/// The longest title, in characters.
pub const TITLE: usize = 300;
/// The longest note, in characters.
pub const NOTE: usize = 20_000;
/// The longest page and document, in characters.
pub const LONG: usize = 200_000;
/// The largest number that a field takes; far beyond any reach or revenue.
pub const HUGE: f64 = 1e12;
