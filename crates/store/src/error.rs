//! What can go wrong in the store.

use std::path::PathBuf;

use iron_kite_core::problem::Problem;
use rusqlite::ErrorCode;
use rusqlite::ffi::SQLITE_IOERR_WRITE;

/// The result of a question to the store.
pub type Result<T> = std::result::Result<T, Error>;

/// What can go wrong in the store.
#[derive(Debug, thiserror::Error)]
pub enum Error {
    /// SQLite said no.
    #[error("the database said: {0}")]
    Sqlite(#[from] rusqlite::Error),
    /// No reading connection was free in time.
    #[error("no connection could be had: {0}")]
    Pool(#[from] r2d2::Error),
    /// The schema could not be brought up to date.
    #[error("the database could not be brought up to date: {0}")]
    Migration(#[from] rusqlite_migration::Error),
    /// The file was written by a newer program.
    #[error("the workspace in {0} was written by a newer Iron Kite; update this one")]
    Newer(PathBuf),
    /// The file was written by an older program, and this only looks.
    #[error("the workspace in {0} was written by an older Iron Kite; start this one on it once, and look again")]
    Older(PathBuf),
    /// The file is not ours.
    #[error("{0} is there, and is no workspace of Iron Kite; move it away, or name another folder with --data")]
    Strange(PathBuf),
    /// There is no room on the disk.
    #[error("the disk is full")]
    Full,
    /// A row does not fit its record.
    #[error("a row does not fit its record: {0}")]
    Row(#[from] serde_json::Error),
    /// A file could not be used.
    #[error("{0}: {1}")]
    File(PathBuf, std::io::Error),
    /// There is no such row.
    #[error("there is no {0}")]
    NotFound(String),
    /// The row was changed since it was read.
    #[error("the row was changed since it was read")]
    Stale(serde_json::Value),
    /// The queue of writes is full, or the writer has stopped.
    #[error("too much is being written")]
    Busy,
    /// What was asked for cannot be done; the words say why.
    #[error("{0}")]
    Refused(String),
}

impl From<String> for Error {
    fn from(words: String) -> Self {
        Error::Refused(words.trim_end_matches('.').to_owned())
    }
}

impl From<Error> for Problem {
    fn from(fault: Error) -> Self {
        match fault {
            Error::NotFound(what) => Problem::NotFound(what),
            Error::Stale(present) => Problem::Stale { present },
            Error::Busy | Error::Pool(_) => Problem::Busy,
            Error::Full => Problem::DiskFull,
            Error::Sqlite(fault) if is_full(&fault) => Problem::DiskFull,
            Error::Refused(words) => Problem::refused("refused", format!("{}.", capital(&words))),
            other => Problem::Internal(other.to_string()),
        }
    }
}

/// Whether SQLite said that there is no room on the disk. Beyond a quota or a limit of the file's size it says that it cannot
/// write.
pub(crate) fn is_full(fault: &rusqlite::Error) -> bool {
    matches!(fault.sqlite_error_code(), Some(ErrorCode::DiskFull))
        || fault.sqlite_error().is_some_and(|fault| fault.extended_code == SQLITE_IOERR_WRITE)
}

fn capital(words: &str) -> String {
    let mut chars = words.chars();
    chars.next().map(|first| first.to_uppercase().chain(chars).collect()).unwrap_or_default()
}
