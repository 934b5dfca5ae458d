//! Erasing a person: what it would meet, and doing it.

use iron_kite_core::formats::media::is_recording;
use iron_kite_core::listen::Said;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{PersonId, Thing};
use iron_kite_documents::Held;
use iron_kite_store::{Erasing, NamePlace, holds_any};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::attachments;
use crate::call::{App, Call};
use crate::things::name_of;

/// What erasing a person would meet, for whoever decides.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct ErasureAhead {
    /// Names and addresses that are covered wherever they stand.
    pub names: Vec<String>,
    /// Names that may be any word: they are covered only where they are chosen below.
    pub words: Vec<String>,
    /// Where such a word stands; somebody decides whether the person is meant.
    pub places: Vec<PlaceAhead>,
    /// How many more places there are that are not listed; there the word stays.
    pub more: usize,
    /// Attached files that hold the name or what they said. They stay until somebody removes them.
    pub files: Vec<FileAhead>,
}

/// A place where a name stands that may be any word.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PlaceAhead {
    /// The thing.
    pub thing: Thing,
    /// What it is called.
    pub called: String,
    /// The column of it.
    pub column: String,
    /// What stands there.
    pub around: String,
}

/// An attached file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct FileAhead {
    /// Its number.
    pub id: i64,
    /// Its name.
    pub name: String,
}

/// How a person is erased.
#[derive(Debug, Clone, Default, Deserialize, ToSchema)]
pub struct Erase {
    /// Places where the person is meant by a name that may be any word.
    #[serde(default)]
    pub places: Vec<PlaceChosen>,
}

/// A place that was chosen.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct PlaceChosen {
    /// The thing.
    pub thing: Thing,
    /// The column of it.
    pub column: String,
}

/// What an erasure touched.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct ErasedView {
    /// Feedback items that are gone.
    pub items: i64,
    /// Their excerpts.
    pub excerpts: i64,
    /// Entries of the history that held any of it.
    pub changes: i64,
    /// Other places where the name, the address or words of theirs stood; they are covered there.
    pub mentions: i64,
    /// Attached files that hold the name or what they said. They stay until somebody removes them.
    pub files: Vec<FileAhead>,
}

/// So many attached files are looked through, the newest first.
const MOST_FILES: usize = 500;
/// At most so many places are chosen at once.
const MOST_PLACES: usize = 500;

/// What erasing a person would meet. Linear in all that people wrote and attached.
///
/// # Errors
/// Where there is no such person.
pub fn erasure_ahead(app: &App, call: &Call, person: PersonId) -> Result<ErasureAhead, Problem> {
    let (erasing, places) = app.read(call, Right::Own, |rows| {
        let erasing = rows.erasing(person.0)?;
        let places = erasing.places.iter().map(|(place, around)| PlaceAhead {
            thing: place.thing,
            called: name_of(rows, place.thing),
            column: place.column.clone(),
            around: around.clone(),
        });
        let places = places.collect();
        Ok((erasing, places))
    })?;
    let files = files_that_hold(app, call, &erasing)?;
    Ok(ErasureAhead { names: erasing.telling, words: erasing.any, places, more: erasing.more, files })
}

/// Erases a person: all that they said, and name, address and words wherever they stand, in the history, too. A name that may
/// be any word is covered where the person is meant: in what was done to what they said, and in the places that were chosen. It
/// cannot be taken back; only that it happened is kept. Backups that were made before still hold it.
///
/// # Errors
/// Where there is no such person, or a place is none where words stand.
pub fn erase_person(app: &App, call: &Call, person: PersonId, ask: Erase) -> Result<ErasedView, Problem> {
    if ask.places.len() > MOST_PLACES {
        return Err(Problem::invalid("/places", format!("Choose at most {MOST_PLACES} places at once.")));
    }
    let erasing = app.read(call, Right::Own, |rows| Ok(rows.erasing(person.0)?))?;
    let files = files_that_hold(app, call, &erasing)?;
    let also = ask.places.into_iter().map(|place| NamePlace { thing: place.thing, column: place.column }).collect();
    let erased = app.erase(call, person.0, also)?;
    finish_erasing(app, call)?;
    Ok(ErasedView {
        items: erased.items,
        excerpts: erased.excerpts,
        changes: erased.changes,
        mentions: erased.mentions,
        files,
    })
}

/// What follows an erasure outside the database: meanings that are at hand are let go of, and files of messages that held any of it
/// are removed. Done again at the start, in case the program ended in between.
///
/// # Errors
/// Where a file cannot be removed; then it says which.
pub fn finish_erasing(app: &App, call: &Call) -> Result<(), Problem> {
    app.minds.forget();
    let letters = app.read_open(|rows| Ok(rows.letters_to_forget()?))?;
    if letters.is_empty() {
        return Ok(());
    }
    app.outside().forget_letters(&letters).map_err(|words| Problem::refused("files-stay", words))?;
    app.write_open(call, |tx| Ok(tx.letters_forgotten()?)).map(drop)
}

/// Attached files that hold a name that tells who is meant, or something that the person said. Pictures and recordings are not
/// looked into.
fn files_that_hold(app: &App, call: &Call, erasing: &Erasing) -> Result<Vec<FileAhead>, Problem> {
    let said = Said::new(erasing.said.iter().map(String::as_str));
    let heads = app.read(call, Right::Own, |rows| Ok(rows.attachment_heads(MOST_FILES)?))?;
    let mut reading = app.reading(call);
    let mut found = Vec::new();
    for (id, name, media_type) in heads {
        if media_type.starts_with("image/") || is_recording(&media_type) {
            continue;
        }
        let bytes = attachments::take_out(app, call, id)?;
        let holds = |text: &str| holds_any(text, erasing, &said);
        let parts = reading.read(&name, &bytes)?;
        let any = parts.iter().any(|part| match &part.held {
            Held::Documents(documents) => documents.iter().any(|one| holds(&one.title) || holds(&one.text)),
            Held::Table(table) | Held::Hidden(table) => table.rows.iter().any(|row| row.cells.iter().any(holds)),
            Held::Wordless { .. } | Held::Refused(_) => false,
        });
        if any || holds(&name) || std::str::from_utf8(&bytes).is_ok_and(holds) {
            found.push(FileAhead { id, name });
        }
    }
    Ok(found)
}
