//! Sentences, words and what they mean.

mod hidden;
mod language;
mod logistic;
mod meaning;
mod passages;
mod ranks;
mod sentences;
mod stems;
mod tone;
mod turns;
mod words;

pub use hidden::{is_hidden, visible_line};
pub use language::language_of;
pub use logistic::{Example, Features, Fit, Logistic};
pub use meaning::{DIMENSIONS, Heard, Meaning, NoMeaning, Vector, dot, middle};
pub use passages::passages;
pub use ranks::{rarity, wholes, worth};
pub use sentences::{Span, clauses, sentences};
pub use stems::{holds_together, says_too_little, stem};
pub use tone::{TONES, Tone};
pub use turns::{Turn, are_speakers, speaker_of, turns_of};
pub use words::{Word, words};
pub(crate) use words::{whole_words, without_space};
