//! An excerpt: a span of an item's text that says one thing.

use serde::{Deserialize, Serialize};

use super::feedback::FeedbackKind;
use crate::kind::prelude::*;
use crate::text::Span;
use crate::things::ExcerptId;
use crate::things::ItemId;

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

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "excerpt",
    singular: "excerpt",
    plural: "excerpts",
    letter: Some('X'),
    stage: Stage::Listen,
    list: Some(List { heading: "Excerpts", title: "words" }),
    product: WayToProduct::Through("item_id"),
    relations: &[Relation::to("item_id", ThingKind::FeedbackItem).field("item").back("excerpts").line(Line::Below)],
    // Its words stand in its item.
    prose: &[Prose::Values("own")],
    is_said: true,
    editable: &[must("kind", Holds::OneOf(FeedbackKind::names)), must("sentiment", Holds::Number(-1.0, 1.0))],
    rights: Rights {
        add: Adding::Comes {
            code: "comes-with-feedback",
            words: "Excerpts come with what people said. Bring it in, or find it, in Listen.",
        },
        change: Right::Listen,
        remove: Some(Right::Listen),
    },
    spoken_of: false,
    ..Description::BASE
};
