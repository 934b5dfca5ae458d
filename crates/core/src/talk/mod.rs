//! What people say of things, and of words in them.
//!
//! | file | what is in it |
//! |---|---|
//! | `comment` | a comment, and what a text of one may be |
//! | `mention` | whom a text speaks to |
//! | `passage` | chosen words, and where they stand after the text around them has changed |

pub(crate) mod comment;
mod mention;
mod passage;

pub use comment::{Comment, LONGEST, check_body};
pub use mention::{Mentioned, mentions, with_names, without_marks};
pub use passage::{AROUND, Passage, find, follow, passage, seen};
