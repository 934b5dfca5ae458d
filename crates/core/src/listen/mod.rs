//! Listen: what people said, in items, excerpts and findings.

mod excerpts;
mod feedback;
mod import;
mod kinds;
mod sentiment;
mod volume;

pub use excerpts::{Reading, read_item};
pub use feedback::{Account, Excerpt, FeedbackItem, FeedbackKind, Finding, ItemLine, Person, Source, WhoSaid};
pub use import::{Columns, ImportReport, ImportRow, LeftOut, MOST_CHARACTERS, digest_text, propose_columns, rows_of};
pub use kinds::kind_of;
pub use sentiment::sentiment_of;
pub use volume::{Spread, WEEKS, spread, weekly};
