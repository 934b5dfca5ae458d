//! Which links there are between which kinds of things, and the fields that show them.

use super::LinkKind;
use super::LinkKind::{AsksFor, Becomes, Closes, Informs, NeededBy, NotSame, Same, Supports, TakesPart};
use crate::things::ThingKind;
use crate::things::ThingKind::{
    Account, Capability, Document, Excerpt, Finding, Idea, Objective, Page, Person, Release, Study, WorkItem,
};

/// A sort of links: what they say, and what they lead from and to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Between {
    /// What they say.
    pub kind: LinkKind,
    /// What they lead from: the end nearer to the words.
    pub from: ThingKind,
    /// What they lead to: the end nearer to the result.
    pub to: ThingKind,
    /// How they are seen at the end that they lead from.
    pub at_from: End,
    /// How they are seen at the end that they lead to.
    pub at_to: End,
}

/// How a sort of links is seen at one of its ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum End {
    /// In no field of the collection there.
    Unseen,
    /// In this field; they are made and taken away elsewhere.
    Shown(&'static str),
    /// In this field, by which they are made and taken away.
    Edited(&'static str),
}

impl End {
    /// The field that shows them.
    #[must_use]
    pub fn field(self) -> Option<&'static str> {
        match self {
            End::Unseen => None,
            End::Shown(field) | End::Edited(field) => Some(field),
        }
    }
}

const fn between(kind: LinkKind, from: ThingKind, to: ThingKind, at_from: End, at_to: End) -> Between {
    Between { kind, from, to, at_from, at_to }
}

const fn unseen(kind: LinkKind, from: ThingKind, to: ThingKind) -> Between {
    between(kind, from, to, End::Unseen, End::Unseen)
}

/// Every sort of links that there is.
pub const BETWEEN: &[Between] = &[
    // A finding may have thousands; they are put behind it where the words are read.
    between(Supports, Excerpt, Finding, End::Edited("findings"), End::Shown("excerpts")),
    // They are quoted where the words are read, so that a document has their words, too.
    between(Supports, Excerpt, Idea, End::Shown("ideas"), End::Shown("quotes")),
    between(Supports, Excerpt, Document, End::Shown("documents"), End::Shown("quotes")),
    between(Supports, Excerpt, Page, End::Shown("pages"), End::Shown("quotes")),
    between(Supports, Finding, Idea, End::Edited("ideas"), End::Edited("findings")),
    between(AsksFor, Objective, Idea, End::Edited("ideas"), End::Edited("objectives")),
    between(AsksFor, Objective, WorkItem, End::Edited("initiatives"), End::Edited("objectives")),
    between(AsksFor, Objective, Release, End::Edited("releases"), End::Edited("objectives")),
    // An idea becomes an epic by a step of its own.
    between(Becomes, Idea, WorkItem, End::Shown("epics"), End::Shown("ideas")),
    between(Informs, Study, Finding, End::Edited("findings"), End::Edited("studies")),
    between(Informs, Study, Idea, End::Edited("ideas"), End::Edited("studies")),
    between(Informs, Study, WorkItem, End::Edited("epics"), End::Edited("studies")),
    between(TakesPart, Person, Study, End::Edited("studies"), End::Edited("participants")),
    between(NeededBy, WorkItem, WorkItem, End::Edited("needed_by"), End::Edited("needs")),
    between(NeededBy, Idea, Idea, End::Edited("needed_by"), End::Edited("needs")),
    unseen(Closes, Idea, Capability),
    unseen(NotSame, Person, Person),
    unseen(NotSame, Account, Account),
    unseen(NotSame, Excerpt, Excerpt),
    unseen(NotSame, Excerpt, Finding),
    unseen(NotSame, Finding, Finding),
    unseen(NotSame, Idea, Idea),
    unseen(Same, Excerpt, Excerpt),
];
