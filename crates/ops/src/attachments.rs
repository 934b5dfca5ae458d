//! Files that fields hold.

use iron_kite_core::formats::media::{is_recording, media_type};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::is_hidden;
use iron_kite_store::Rows;
use iron_kite_store::queries::attachments::Attachment;
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::files;

/// A file that was put in: what a field of files takes.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PutIn {
    /// Its number.
    pub id: i64,
    /// Its name.
    pub name: String,
    /// What it is, as far as its first bytes tell.
    pub media_type: String,
}

/// The largest file.
pub const MOST_BYTES: usize = 10 * 1024 * 1024;
/// The largest recording.
pub const MOST_RECORDED: usize = 64 * 1024 * 1024;
/// So much of a file is given at once where a part is asked for.
pub const MOST_PART: usize = 1024 * 1024;
/// The longest name, in characters.
const LONGEST_NAME: usize = 200;

/// So much one person puts in within a day, in files and bytes: far more than work takes, and far less than a disk has.
const MOST_A_DAY: (usize, usize) = (5_000, 4 * 1024 * 1024 * 1024);

/// Refuses a file of somebody who put in too much lately.
pub(crate) fn check_quota(rows: &Rows<'_>, call: &Call, length: usize) -> Result<(), Problem> {
    let Some(user) = call.user_id() else { return Ok(()) };
    let since = (call.now - SignedDuration::from_hours(24)).as_millisecond();
    let (files, bytes) = rows.put_in_since(user, since)?;
    if files < MOST_A_DAY.0 && bytes + length <= MOST_A_DAY.1 {
        return Ok(());
    }
    Err(Problem::refused(
        "too-much-put-in",
        format!(
            "You put in {files} files with {} MB within a day; {} files and {} MB is the most. Bring the rest in tomorrow, or \
             ask whoever runs the server to do it on the command line.",
            bytes / 1024 / 1024,
            MOST_A_DAY.0,
            MOST_A_DAY.1 / 1024 / 1024
        ),
    ))
}

/// Puts a file in. It belongs to no thing until a field holds it.
///
/// # Errors
/// Where it is empty or larger than [`MOST_BYTES`], a recording than [`MOST_RECORDED`].
pub fn put_in(app: &App, call: &Call, name: &str, bytes: Vec<u8>) -> Result<PutIn, Problem> {
    if bytes.is_empty() {
        return Err(Problem::invalid("", "The file is empty. Pick another."));
    }
    let most = if is_recording(media_type(&bytes)) { MOST_RECORDED } else { MOST_BYTES };
    if bytes.len() > most {
        let most = most / 1024 / 1024;
        return Err(Problem::TooLarge(format!("The file is larger than {most} MB. Nothing was kept of it.")));
    }
    // A name is a name: no folders, nothing that a header could end with.
    let name: String = name
        .rsplit(['/', '\\'])
        .next()
        .unwrap_or_default()
        .chars()
        .filter(|c| !is_hidden(*c) && *c != '"')
        .take(LONGEST_NAME)
        .collect();
    let name = if name.trim().is_empty() { "file".to_owned() } else { name.trim().to_owned() };
    let media_type = media_type(&bytes).to_owned();
    let user = call.user_id();
    let at = call.now.as_millisecond();
    app.read(call, Right::Listen, |rows| check_quota(rows, call, bytes.len()))?;
    let put_in = (name.clone(), media_type.clone());
    let id = files::keep(app, call, Right::Listen, &bytes, move |tx, file| {
        let (name, media_type) = put_in;
        Ok(tx.add_attachment(&Attachment { name, media_type, file }, user, at)?)
    })?;
    Ok(PutIn { id, name, media_type })
}

/// What a file is called and what it is, with its length in bytes.
///
/// # Errors
/// Where there is none with this number.
pub fn head(app: &App, call: &Call, id: i64) -> Result<(PutIn, usize), Problem> {
    app.read(call, Right::Read, |rows| {
        let Attachment { name, media_type, file } = rows.attachment(id)?;
        Ok((PutIn { id, name, media_type }, rows.file_length(file)?))
    })
}

/// Some bytes of a file, at most [`MOST_PART`].
///
/// # Errors
/// Where there is none with this number.
pub fn part(app: &App, call: &Call, id: i64, from: usize, length: usize) -> Result<Vec<u8>, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.file_bytes(rows.attachment(id)?.file, from, length.min(MOST_PART))?))
}

/// All bytes of a file.
///
/// # Errors
/// Where there is none with this number.
pub fn take_out(app: &App, call: &Call, id: i64) -> Result<Vec<u8>, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.file_bytes(rows.attachment(id)?.file, 0, usize::MAX)?))
}
