//! A comment.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::problem::Problem;
use crate::text::Span;
use crate::things::{CommentId, Thing, ThingKind};

/// What somebody says of a thing, or of words in it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Comment {
    /// Its number.
    pub id: CommentId,
    /// Its revision.
    pub rev: i64,
    /// What kind of thing it is on.
    pub on_kind: ThingKind,
    /// The number of the thing.
    pub on_id: i64,
    /// The comment that it answers; answers are not answered themselves.
    pub reply_to: Option<CommentId>,
    /// What is said, in Markdown.
    pub body: String,
    /// Who said it; nobody where a rule did.
    pub by_id: Option<i64>,
    /// When, in milliseconds since 1970.
    pub written_at: i64,
    /// When it was last changed.
    pub edited_at: Option<i64>,
    /// Who said that it is dealt with.
    pub resolved_by: Option<i64>,
    /// When.
    pub resolved_at: Option<i64>,
    /// The text of the thing that its words are chosen from.
    pub field: Option<String>,
    /// The chosen words as they were.
    pub words: Option<String>,
    /// What stood before them then.
    pub words_before: Option<String>,
    /// What stood behind them then.
    pub words_after: Option<String>,
    /// What stood before them when they were seen last.
    pub near_before: Option<String>,
    /// What stood behind them when they were seen last.
    pub near_after: Option<String>,
    /// Where they stand now: the first character. None where they are lost.
    pub from_char: Option<usize>,
    /// The character after the last.
    pub to_char: Option<usize>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "comment",
    singular: "comment",
    plural: "comments",
    product: WayToProduct::Of { kind: "on_kind", id: "on_id" },
    relations: &[Relation::to("reply_to", ThingKind::Comment).goes()],
    prose: &[
        Prose::Text("body"),
        Prose::Text("words"),
        Prose::Text("words_before"),
        Prose::Text("words_after"),
        Prose::Text("near_before"),
        Prose::Text("near_after"),
    ],
    ..Description::BASE
};

impl Comment {
    /// The thing that it is on.
    #[must_use]
    pub fn on(&self) -> Thing {
        Thing::new(self.on_kind, self.on_id)
    }

    /// Where its words stand now.
    #[must_use]
    pub fn span(&self) -> Option<Span> {
        Some(Span { from: self.from_char?, to: self.to_char? })
    }
}

/// The longest comment, in characters.
pub const LONGEST: usize = 10_000;

/// What a comment says, without blanks around it.
///
/// # Errors
/// Where nothing is said, or too much.
pub fn check_body(body: &str) -> Result<String, Problem> {
    let body = body.trim();
    match body.chars().count() {
        0 => Err(Problem::invalid("/body", "Say something first.")),
        1..=LONGEST => Ok(body.to_owned()),
        _ => Err(Problem::invalid("/body", "A comment has at most 10,000 characters. Put the rest on a page.")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_comment_says_something_and_not_too_much() {
        assert_eq!(check_body("  Is this so?\n").unwrap(), "Is this so?");
        assert!(check_body(" \n ").is_err());
        assert!(check_body(&"ä".repeat(LONGEST)).is_ok());
        assert!(check_body(&"ä".repeat(LONGEST + 1)).is_err());
    }
}
