//! The unbroken line from somebody's words to what came of them.

mod between;
pub(crate) mod link;

pub use between::{BETWEEN, Between, End};
pub use link::Link;

use serde::{Deserialize, Serialize};

use crate::problem::Problem;
use crate::things::{Thing, ThingKind, with_article};

/// What a link between two things says. Its direction is that of the line: from the words to the result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LinkKind {
    /// An excerpt supports a finding, a finding supports an idea; an excerpt is quoted behind an idea, in a document or on a
    /// page.
    Supports,
    /// An objective asks for an idea, an initiative or a release.
    AsksFor,
    /// An idea becomes an epic.
    Becomes,
    /// A study informs a finding, an idea or an epic.
    Informs,
    /// A person takes part in a study. Not a part of the line: what is said there is.
    TakesPart,
    /// An idea closes what our own offer lacks. Not a part of the line.
    Closes,
    /// A story or an idea is needed by another. Not a part of the line: it orders work.
    NeededBy,
    /// Two people, accounts or ideas that are alike are two all the same; two excerpts or findings are never to stand
    /// together; an excerpt does not belong to a finding. Not a part of the line.
    NotSame,
    /// Two excerpts say the same. Not a part of the line.
    Same,
}

impl LinkKind {
    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            LinkKind::Supports => "supports",
            LinkKind::AsksFor => "asks_for",
            LinkKind::Becomes => "becomes",
            LinkKind::Informs => "informs",
            LinkKind::TakesPart => "takes_part",
            LinkKind::Closes => "closes",
            LinkKind::NeededBy => "needed_by",
            LinkKind::NotSame => "not_same",
            LinkKind::Same => "same",
        }
    }

    /// Every kind.
    pub const ALL: [LinkKind; 9] = [
        LinkKind::Supports,
        LinkKind::AsksFor,
        LinkKind::Becomes,
        LinkKind::Informs,
        LinkKind::TakesPart,
        LinkKind::Closes,
        LinkKind::NeededBy,
        LinkKind::NotSame,
        LinkKind::Same,
    ];

    /// Whether links of this kind are a part of the line, and so of every trace.
    #[must_use]
    pub fn is_of_the_line(self) -> bool {
        matches!(self, LinkKind::Supports | LinkKind::AsksFor | LinkKind::Becomes | LinkKind::Informs)
    }

    /// Whether a link of this kind may lead from the one kind of thing to the other.
    #[must_use]
    pub fn joins(self, from: ThingKind, to: ThingKind) -> bool {
        BETWEEN.iter().any(|between| (between.kind, between.from, between.to) == (self, from, to))
    }
}

/// Checks that a link may be made between two things.
///
/// # Errors
/// Refused where the kinds do not go together, or a thing would be linked to itself.
pub fn check_link(kind: LinkKind, from: Thing, to: Thing) -> Result<(), Problem> {
    if !kind.joins(from.kind, to.kind) {
        let words = format!(
            "{} cannot be linked to {} in this way.",
            with_article(from.kind.words()),
            with_article(to.kind.words()).to_lowercase()
        );
        return Err(Problem::refused("link-does-not-fit", words));
    }
    if from == to {
        return Err(Problem::refused("link-to-itself", "A thing cannot be linked to itself. Pick another."));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn links_follow_the_line() {
        let thing = |kind| Thing::new(kind, 1);
        assert!(check_link(LinkKind::Supports, thing(ThingKind::Excerpt), thing(ThingKind::Finding)).is_ok());
        let back = check_link(LinkKind::Supports, thing(ThingKind::Finding), thing(ThingKind::Excerpt)).unwrap_err();
        assert_eq!(back.code(), "link-does-not-fit");
        let own = check_link(LinkKind::NeededBy, thing(ThingKind::WorkItem), thing(ThingKind::WorkItem)).unwrap_err();
        assert_eq!(own.code(), "link-to-itself");
    }
}
