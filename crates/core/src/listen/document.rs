//! A document that somebody gave, as it was read from a file.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

pub use crate::text::{Turn, speaker_of, turns_of};

/// One thing that somebody gave: an interview, a note, a mail, a page.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Document {
    /// What it is called: its first line, its subject; empty where it says nothing.
    pub title: String,
    /// Its words, as they stand.
    pub text: String,
    /// The day that it says.
    pub said_on: Option<Date>,
    /// Who it is from.
    pub person: Option<String>,
    /// The mail address of that person, in lower case.
    pub address: Option<String>,
    /// What tells it from all others of its source, such as a mail's own number.
    pub key: Option<String>,
    /// Who speaks where, in an interview or a recording.
    pub turns: Vec<Turn>,
    /// In words, what of it was not read.
    pub notes: Vec<String>,
}
