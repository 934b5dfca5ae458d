//! Sentences and words.

mod sentences;
mod turns;
mod words;

pub use sentences::{Span, clauses, sentences};
pub use turns::{Turn, speaker_of, turns_of};
pub use words::{Word, words};
