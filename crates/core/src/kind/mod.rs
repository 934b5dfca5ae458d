//! What a kind of thing is, described once.
//!
//! Each kind has one [`Description`], in the file of its name beside its record: `decide/idea.rs`, `plan/release.rs`. What
//! hangs on what, the steps of the trace, what search looks through, what is removed with what, rights and words for people
//! all follow from it; nothing else lists kinds.

mod all;
mod columns;
mod prose;
mod states;

use crate::role::Right;
use crate::things::ThingKind;

pub use columns::{Field, HUGE, Holds, LONG, NOTE, TITLE};
pub use prose::Prose;
pub use states::States;

/// What a description is written with.
pub(crate) mod prelude {
    pub(crate) use super::columns::{HUGE, Holds, LONG, NOTE, TITLE, may, must};
    pub(crate) use super::prose::Prose;
    pub(crate) use super::{
        Adding, Description, Initial, Line, List, Relation, Rights, Searched, SearchedTitle, Stage, States,
        WayToProduct,
    };
    pub(crate) use crate::role::Right;
    pub(crate) use crate::things::ThingKind;
}

/// A stage of the work, or what all stages share.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Stage {
    /// What people said.
    Listen,
    /// What is worth doing.
    Decide,
    /// What is to be built.
    Specify,
    /// In which order people meet it.
    Map,
    /// When it goes out.
    Plan,
    /// Who builds it.
    HandOver,
    /// What came of it.
    Learn,
    /// What all of them share.
    Workspace,
}

impl Stage {
    /// The name in the API and in addresses.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Stage::Listen => "listen",
            Stage::Decide => "decide",
            Stage::Specify => "specify",
            Stage::Map => "map",
            Stage::Plan => "plan",
            Stage::HandOver => "handover",
            Stage::Learn => "learn",
            Stage::Workspace => "workspace",
        }
    }
}

/// A kind of thing. `..Description::BASE` stands for what most kinds are: parts of the workspace that nobody searches, lists,
/// edits in place or removes by hand.
#[derive(Debug, Clone, Copy)]
pub struct Description {
    /// The name in the store, where it is the table, and in the API.
    pub name: &'static str,
    /// The word for one.
    pub singular: &'static str,
    /// The word for several.
    pub plural: &'static str,
    /// The letter of the short reference. A work item's depends on its level.
    pub letter: Option<char>,
    /// The stage that it belongs to.
    pub stage: Stage,
    /// Where things of the kind are a collection: how that is shown.
    pub list: Option<List>,
    /// How to find the product that one belongs to.
    pub product: WayToProduct,
    /// The other things that its columns point to.
    pub relations: &'static [Relation],
    /// What search looks through.
    pub searched: Option<Searched>,
    /// Where people's words stand. States, kinds, days, keys and definitions are none of theirs.
    pub prose: &'static [Prose],
    /// Whether it holds what people said themselves: others who said the same keep it where one of them is erased.
    pub is_said: bool,
    /// The columns that may be edited in place.
    pub editable: &'static [Field],
    /// What a new one begins with.
    pub begins: &'static [(&'static str, Initial)],
    /// Its states and the steps between them, where these are governed.
    pub states: Option<States>,
    /// Who may do what with it.
    pub rights: Rights,
    /// The column that names what it is a part of: what happens to it happens to that, and search leads there.
    pub part_of: Option<&'static str>,
    /// Whether it is told of when somebody comes back: what is told by what it belongs to is not.
    pub spoken_of: bool,
}

impl Description {
    /// What most kinds are.
    pub(crate) const BASE: Description = Description {
        name: "",
        singular: "",
        plural: "",
        letter: None,
        stage: Stage::Workspace,
        list: None,
        product: WayToProduct::Workspace,
        relations: &[],
        searched: None,
        prose: &[],
        is_said: false,
        editable: &[],
        begins: &[],
        states: None,
        rights: Rights { add: Adding::Otherwise, change: Right::Edit, remove: None },
        part_of: None,
        spoken_of: true,
    };

    /// The relation of a column, where the column is one.
    #[must_use]
    pub fn relation(&self, column: &str) -> Option<&'static Relation> {
        self.relations.iter().find(|relation| relation.column == column)
    }
}

/// How a collection is shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct List {
    /// What stands above it.
    pub heading: &'static str,
    /// The field that one is called by in lists and on cards.
    pub title: &'static str,
}

/// How to find the product that a thing belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WayToProduct {
    /// It is one.
    Itself,
    /// Its column `product_id`.
    Column,
    /// That of the thing that this column points to.
    Through(&'static str),
    /// That of the thing whose kind and number stand in these columns.
    Of {
        /// The column with the kind.
        kind: &'static str,
        /// The column with the number.
        id: &'static str,
    },
    /// It belongs to all of them.
    Workspace,
}

/// A column that points to another thing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Relation {
    /// The column.
    pub column: &'static str,
    /// What it points to.
    pub to: ThingKind,
    /// The field of its own collection that shows it, where there is one.
    pub field: Option<&'static str>,
    /// The field of the other's collection that shows those which point to it, where there is one.
    pub back: Option<&'static str>,
    /// What becomes of it when the other is removed.
    pub on_removal: OnRemoval,
    /// Its place in the trace, where it is a part of the line.
    pub line: Option<Line>,
}

impl Relation {
    /// A column that points to another thing, which is not removed as long as it does.
    #[must_use]
    pub(crate) const fn to(column: &'static str, to: ThingKind) -> Self {
        Relation { column, to, field: None, back: None, on_removal: OnRemoval::Forbids, line: None }
    }

    /// It goes with the other.
    #[must_use]
    pub(crate) const fn goes(self) -> Self {
        Relation { on_removal: OnRemoval::Goes, ..self }
    }

    /// It stays without the other.
    #[must_use]
    pub(crate) const fn stays(self) -> Self {
        Relation { on_removal: OnRemoval::Stays, ..self }
    }

    /// It is a part of the line.
    #[must_use]
    pub(crate) const fn line(self, line: Line) -> Self {
        Relation { line: Some(line), ..self }
    }

    /// The field that shows it.
    #[must_use]
    pub(crate) const fn field(self, field: &'static str) -> Self {
        Relation { field: Some(field), ..self }
    }

    /// The field that shows it from the other side.
    #[must_use]
    pub(crate) const fn back(self, back: &'static str) -> Self {
        Relation { back: Some(back), ..self }
    }
}

/// What becomes of a thing when another that it points to is removed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OnRemoval {
    /// It is removed, too.
    Goes,
    /// It stays, and points nowhere.
    Stays,
    /// The other is not removed as long as this points to it.
    Forbids,
}

/// Where a thing stands on the line, seen from the one that it points to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Line {
    /// Nearer to the result.
    Below,
    /// Nearer to the words.
    Above,
    /// Nearer to the result, and not because of the other: a trace back from it does not lead there.
    OnlyBelow,
}

/// What search looks through.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Searched {
    /// What tells the words of this kind from those of others in the index. It is never given to another kind.
    pub slot: u8,
    /// The column that it is called by, or for what has none of its own, that column of what another points to.
    pub title: SearchedTitle,
    /// The columns with what else it says.
    pub body: &'static [&'static str],
}

/// What a found thing is called by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SearchedTitle {
    /// A column.
    Column(&'static str),
    /// A column of what one of its columns points to.
    Of {
        /// Its column.
        relation: &'static str,
        /// The other's.
        column: &'static str,
    },
}

impl Searched {
    pub(crate) const fn by(slot: u8, title: &'static str, body: &'static [&'static str]) -> Self {
        Searched { slot, title: SearchedTitle::Column(title), body }
    }
}

/// What a column of a new thing holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Initial {
    /// This.
    Is(&'static str),
    /// The place behind all others of the product.
    Last,
}

/// Who may do what with things of a kind.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Rights {
    /// How one is added.
    pub add: Adding,
    /// To change one.
    pub change: Right,
    /// To remove one by hand; nothing where it goes only by undoing what brought it.
    pub remove: Option<Right>,
}

impl Rights {
    /// One right to add it by its fields, to change and to remove it.
    pub(crate) const fn all(right: Right) -> Self {
        Rights { add: Adding::ByFields(right), change: right, remove: Some(right) }
    }

    /// It is made by a use case of its own; this right changes and removes it.
    pub(crate) const fn made(right: Right) -> Self {
        Rights { add: Adding::Otherwise, change: right, remove: Some(right) }
    }
}

/// How a thing is added.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Adding {
    /// By its fields, with this right.
    ByFields(Right),
    /// By a use case of its own.
    Otherwise,
    /// It comes with something else. Whoever tries to add it by its fields is told with what.
    Comes {
        /// The code of that problem.
        code: &'static str,
        /// What to do instead.
        words: &'static str,
    },
}
