//! Sentences and words.

mod sentences;
mod words;

pub use sentences::{Span, clauses, sentences};
pub use words::{Word, words};
