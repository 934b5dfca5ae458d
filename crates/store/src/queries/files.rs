//! The bytes of files, in parts: each is a write of its own, so that a large file keeps nobody's write waiting, and a piece of
//! a file is read without the rest. They never change, so the ledger has nothing of them.

use std::fmt::Write;

use rusqlite::{Connection, OptionalExtension, params};
use sha2::{Digest, Sha256};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// The bytes of a part; the last has less.
pub const PART: usize = 256 * 1024;

/// What is known of a file's bytes before they are there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FileHead {
    /// How many they are.
    pub length: usize,
    /// What tells whether they are as they came.
    pub digest: String,
    /// Who put them in.
    pub user: Option<i64>,
    /// When, in milliseconds since 1970.
    pub at: i64,
}

impl FileHead {
    /// The head of these bytes. Linear in them.
    #[must_use]
    pub fn of(bytes: &[u8], user: Option<i64>, at: i64) -> FileHead {
        let mut digester = Digester::default();
        digester.add(bytes);
        FileHead { length: bytes.len(), digest: digester.end(), user, at }
    }
}

/// Tells whether bytes are as they were: SHA-256, as hexadecimal digits.
#[derive(Default)]
pub(crate) struct Digester(Sha256);

impl Digester {
    pub(crate) fn add(&mut self, bytes: &[u8]) {
        self.0.update(bytes);
    }

    pub(crate) fn end(self) -> String {
        self.0.finalize().iter().fold(String::new(), |mut text, byte| {
            let _ = write!(text, "{byte:02x}");
            text
        })
    }
}

impl Rows<'_> {
    /// How many bytes a file has.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none with this number.
    pub fn file_length(&self, file: i64) -> Result<usize> {
        let sql = "SELECT length FROM file WHERE id = ?1";
        let found: Option<i64> = self.connection.prepare_cached(sql)?.query_row([file], |row| row.get(0)).optional()?;
        let length = found.ok_or_else(|| Error::NotFound(format!("file {file}")))?;
        Ok(usize::try_from(length).unwrap_or_default())
    }

    /// Some bytes of a file; less where it ends earlier. Only the parts that hold them are read.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none with this number.
    pub fn file_bytes(&self, file: i64, from: usize, length: usize) -> Result<Vec<u8>> {
        let length = length.min(self.file_length(file)?.saturating_sub(from));
        let to = from + length;
        let mut bytes = Vec::with_capacity(length);
        let sql =
            "SELECT begins, bytes FROM file_part WHERE file_id = ?1 AND begins > ?2 AND begins < ?3 ORDER BY begins";
        let mut statement = self.connection.prepare_cached(sql)?;
        let number = |n: usize| i64::try_from(n).unwrap_or(i64::MAX);
        let mut parts = statement.query(params![file, number(from) - number(PART), number(to)])?;
        while let Some(part) = parts.next()? {
            let begins = usize::try_from(part.get::<_, i64>(0)?).unwrap_or_default();
            let held = part.get_ref(1)?.as_blob().map_err(rusqlite::Error::from)?;
            bytes.extend(held.get(from.saturating_sub(begins)..held.len().min(to - begins)).unwrap_or_default());
        }
        Ok(bytes)
    }

    /// How many files somebody put in since a moment, and how many bytes they have together.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn put_in_since(&self, user: i64, since: i64) -> Result<(usize, usize)> {
        let sql = "SELECT count(*), COALESCE(sum(length), 0) FROM file WHERE user_id = ?1 AND made_at > ?2";
        let found: (i64, i64) =
            self.connection.prepare_cached(sql)?.query_row([user, since], |row| Ok((row.get(0)?, row.get(1)?)))?;
        let whole = |n: i64| usize::try_from(n).unwrap_or_default();
        Ok((whole(found.0), whole(found.1)))
    }
}

impl Tx<'_> {
    /// Begins a file and gives its number; its bytes follow by [`Self::add_part`]. What was left half-way a day ago is cleared
    /// away.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn begin_file(&mut self, head: &FileHead) -> Result<i64> {
        const DAY: i64 = 24 * 60 * 60 * 1_000;
        let connection = self.rows().connection;
        connection
            .prepare_cached(
                "DELETE FROM file WHERE made_at < ?1 AND NOT EXISTS (SELECT 1 FROM attachment WHERE file_id = file.id)
                   AND NOT EXISTS (SELECT 1 FROM incoming WHERE file_id = file.id)",
            )?
            .execute([head.at - DAY])?;
        begin(connection, head)
    }

    /// Adds a part of a file, at most [`PART`] bytes, where the one before ended.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_part(&mut self, file: i64, begins: usize, bytes: &[u8]) -> Result<()> {
        add_part(self.rows().connection, file, begins, bytes)
    }
}

fn begin(connection: &Connection, head: &FileHead) -> Result<i64> {
    let sql = "INSERT INTO file(user_id, length, digest, made_at) VALUES (?1, ?2, ?3, ?4)";
    let length = i64::try_from(head.length).unwrap_or(i64::MAX);
    connection.prepare_cached(sql)?.execute(params![head.user, length, head.digest, head.at])?;
    Ok(connection.last_insert_rowid())
}

fn add_part(connection: &Connection, file: i64, begins: usize, bytes: &[u8]) -> Result<()> {
    let sql = "INSERT INTO file_part(file_id, begins, bytes) VALUES (?1, ?2, ?3)";
    let begins = i64::try_from(begins).unwrap_or(i64::MAX);
    connection.prepare_cached(sql)?.execute(params![file, begins, bytes])?;
    Ok(())
}

/// Keeps bytes within one write: of those that come with much else.
pub(crate) fn keep(connection: &Connection, head: &FileHead, bytes: &[u8]) -> Result<i64> {
    let file = begin(connection, head)?;
    bytes.chunks(PART).enumerate().try_for_each(|(n, part)| add_part(connection, file, n * PART, part))?;
    Ok(file)
}
