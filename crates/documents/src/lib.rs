//! What a file holds that somebody gives: a table of feedback, or documents; and a page as a document that others open.
//! From bytes to values and back, without input or output; a crate beside core because the libraries that open packed
//! files bring chance with them.
//!
//! | file | what it reads |
//! |---|---|
//! | `budget` | how much one file may unpack to and hold |
//! | `sheet` | XLSX, XLS and ODS, each sheet a table |
//! | `claims` | what an XLS claims, before it is read |
//! | `json` | JSON and JSON lines, as a table |
//! | `page` | HTML |
//! | `docx`, `odt` | DOCX and ODT |
//! | `docx_out` | writes DOCX |
//! | `pdf`, `pdf_guard` | PDF with text, and what is looked at before it is read |
//! | `captions` | WebVTT and SRT |
//! | `mail` | .eml and mbox |
//! | `others` | what is not read, and what it is |
//! | `pack` | ZIP of all of these, and the guard in front of every packed file |
//! | `sound` | what holds of whatever was read |
//!
//! Nothing trusts what a file says of itself: sizes are counted while they are unpacked, for the whole of what was sent,
//! entities of XML are not followed, macros are not run, and a file that cannot be read is refused by itself while the
//! others go on. Whoever reads files of strangers reads them in a process of its own all the same: the libraries for some
//! formats were made for sound files.

mod budget;
mod captions;
mod claims;
mod docx;
mod docx_out;
mod json;
mod mail;
mod odt;
mod others;
mod pack;
mod page;
mod pdf;
mod pdf_guard;
mod sheet;
mod sound;

pub use docx_out::write_docx;
pub use sound::check_parts;

use budget::Budget;

use std::borrow::Cow;
use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};

use iron_kite_core::formats::days;
use iron_kite_core::formats::media::{is_recording, media_type};
use iron_kite_core::formats::table::{self, HowRead, Table};
use iron_kite_core::listen::{Document, turns_of};
use serde::{Deserialize, Serialize};

/// What one part of a file holds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Held {
    /// One row for each thing that somebody said.
    Table(Table),
    /// Whole documents, each one thing that somebody gave.
    Documents(Vec<Document>),
    /// Something without words.
    Wordless {
        /// What it is: a picture, a scan, a recording.
        what: String,
        /// The file as it is; empty where it is the whole of what was read, and was not filled in yet: see [`filled`].
        #[serde(with = "serde_bytes")]
        bytes: Vec<u8>,
    },
    /// A sheet that its workbook hides: it is left out, and told.
    Hidden(Table),
    /// Nothing that can be taken. In words why, and what to do.
    Refused(String),
}

/// A part of a file that can be brought in by itself: a sheet of a workbook, a file of a ZIP, or the whole.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// The file's name; within a ZIP or a workbook what it is called there stands behind a `/`.
    pub name: String,
    /// What it holds.
    pub held: Held,
}

/// How the parts of a file are to be read, by their names, where somebody said so.
pub type Hows = BTreeMap<String, HowRead>;

/// Why nothing of a file is taken that cannot be read at all.
pub const DAMAGED: &str =
    "The file is damaged and cannot be read; nothing of it was taken. Save it anew and try again.";

/// Why a hidden sheet is left out, and what to do.
pub const HIDDEN: &str = "This sheet is hidden in the workbook, so it is left out. Show it there to have it taken.";

/// Reads a file. Never fails as a whole: what cannot be read is a refused part with its reason.
///
/// The contents decide what a file is, the ending of its name only where contents leave it open. Linear in the bytes
/// that it holds when unpacked, which are bounded.
#[must_use]
pub fn read(name: &str, bytes: &[u8]) -> Vec<Part> {
    read_as(name, bytes, &Hows::new())
}

/// The same, where somebody said how parts of it are to be read.
#[must_use]
pub fn read_as(name: &str, bytes: &[u8], hows: &Hows) -> Vec<Part> {
    filled(read_parts(name, bytes, hows), bytes)
}

/// The same without the file's own bytes: whoever asked has them.
#[must_use]
pub fn read_parts(name: &str, bytes: &[u8], hows: &Hows) -> Vec<Part> {
    read_within(name, bytes, hows, &Budget::new(), true)
}

/// Gives a part that is the whole of a file without words its bytes.
#[must_use]
pub fn filled(mut parts: Vec<Part>, whole: &[u8]) -> Vec<Part> {
    for part in &mut parts {
        if let Held::Wordless { bytes, .. } = &mut part.held
            && bytes.is_empty()
        {
            *bytes = whole.to_vec();
        }
    }
    parts
}

/// A part of which nothing is taken, with the reason.
#[must_use]
pub fn refused(name: &str, words: &str) -> Part {
    Part { name: name.to_owned(), held: Held::Refused(words.to_owned()) }
}

fn read_within(name: &str, bytes: &[u8], hows: &Hows, budget: &Budget, may_unpack: bool) -> Vec<Part> {
    // The libraries below are made for sound files; a fault in one must not take the others with it.
    let read = catch_unwind(AssertUnwindSafe(|| read_any(name, bytes, hows, budget, may_unpack)));
    let mut parts = read.unwrap_or_else(|_| vec![refused(name, DAMAGED)]);
    for part in &mut parts {
        if let Held::Documents(documents) = &mut part.held {
            for document in documents.iter_mut().filter(|document| document.said_on.is_none()) {
                document.said_on = days::in_head(&document.text);
            }
        }
    }
    parts
}

fn read_any(name: &str, bytes: &[u8], hows: &Hows, budget: &Budget, may_unpack: bool) -> Vec<Part> {
    let ending = name.rsplit_once('.').map(|(_, ending)| ending.to_lowercase()).unwrap_or_default();
    if bytes.is_empty() {
        return vec![refused(name, "The file is empty.")];
    }
    match bytes {
        [b'P', b'K', 3, 4, ..] | [b'P', b'K', 5, 6, ..] => return pack::read(name, bytes, hows, budget, may_unpack),
        [0xD0, 0xCF, 0x11, 0xE0, ..] => {
            return match others::in_old_format(bytes) {
                Some(words) => vec![refused(name, words)],
                None => sheet::read(name, bytes, sheet::Book::Xls, hows, budget),
            };
        }
        [b'%', b'P', b'D', b'F', ..] => return vec![one(name, pdf::read(bytes, budget))],
        _ => {}
    }
    if let Some(what) = known_wordless(bytes) {
        return vec![Part { name: name.to_owned(), held: wordless(what) }];
    }
    // Each mail, and each part of one, has an encoding of its own.
    match ending.as_str() {
        "eml" => return vec![one(name, mail::read_one(bytes, budget))],
        "mbox" | "mbx" => return vec![one(name, mail::read_box(bytes, budget))],
        _ => {}
    }
    let how = hows.get(name).cloned().unwrap_or_default();
    let read = table::text_of(bytes, how.encoding.as_deref());
    vec![one(name, read.and_then(|(text, encoding)| read_text(&ending, text, encoding, &how, budget)))]
}

fn read_text(ending: &str, text: Cow<'_, str>, encoding: &str, how: &HowRead, budget: &Budget) -> Result<Held, String> {
    if let Some(words) = others::as_text(ending, &text) {
        return Err(words);
    }
    let table = |text: &str| table::of_text(text, encoding, how).map(Held::Table);
    match ending {
        "json" | "jsonl" | "ndjson" => json::read(&text, budget).map(Held::Table),
        "vtt" | "srt" => captions::read(&text).map(|document| Held::Documents(vec![document])),
        "html" | "htm" => Ok(Held::Documents(vec![page::read(&text)])),
        "md" | "markdown" | "text" => Ok(Held::Documents(vec![plain(text.into_owned())])),
        _ if text.starts_with("WEBVTT") => captions::read(&text).map(|document| Held::Documents(vec![document])),
        "csv" | "tsv" | "tab" | "psv" => table(&text),
        // Whoever says how a table is to be read says that it is one.
        _ if *how != HowRead::default() || is_table(&text, encoding) => table(&text),
        _ => Ok(Held::Documents(vec![plain(text.into_owned())])),
    }
}

/// Whether a text file is a table: several columns, headings and no sentence above them, and nearly all rows fit.
fn is_table(text: &str, encoding: &str) -> bool {
    let first = text.lines().next().unwrap_or_default().trim_end();
    let sentence = first.contains(", ") || first.ends_with(['.', '!', '?', ':']);
    !sentence
        && table::of_text(text, encoding, &HowRead::headed()).is_ok_and(|table| {
            table.columns.len() > 1
                && !table.rows.is_empty()
                && table.bad.len() * 10 <= table.rows.len()
                && table.columns.iter().all(|column| column.chars().count() < 60)
        })
}

/// A text as it stands; who speaks where it is an interview.
fn plain(text: String) -> Document {
    let title = text.lines().map(|line| line.trim_start_matches(['#', ' '])).find(|line| !line.trim().is_empty());
    let title = title.unwrap_or_default().chars().take(200).collect();
    Document { title, turns: turns_of(&text), text, ..Document::default() }
}

fn one(name: &str, read: Result<Held, String>) -> Part {
    match read {
        Ok(held) => Part { name: name.to_owned(), held },
        Err(words) => refused(name, &words),
    }
}

/// A file without words; its bytes are put in where it was read.
fn wordless(what: &str) -> Held {
    Held::Wordless { what: what.to_owned(), bytes: Vec::new() }
}

/// What a file without words is, by its first bytes.
fn known_wordless(bytes: &[u8]) -> Option<&'static str> {
    Some(match bytes {
        [0x89, b'P', b'N', b'G', ..] | [0xFF, 0xD8, 0xFF, ..] | [b'G', b'I', b'F', b'8', ..] => "a picture",
        [b'R', b'I', b'F', b'F', _, _, _, _, b'W', b'E', b'B', b'P', ..] => "a picture",
        [b'I', b'I', 42, 0, ..] | [b'M', b'M', 0, 42, ..] => "a scan",
        _ if is_recording(media_type(bytes)) => "a recording",
        _ => return None,
    })
}
