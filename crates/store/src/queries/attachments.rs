//! Files that fields hold.

use rusqlite::{MAIN_DB, OptionalExtension, params};

use crate::error::{Error, Result};
use crate::functions::digest;
use crate::rows::Rows;
use crate::writer::Tx;

/// A file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Attachment {
    /// Its name.
    pub name: String,
    /// What it is, as far as its first bytes tell.
    pub media_type: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

impl Rows<'_> {
    /// The file with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn attachment(&self, id: i64) -> Result<Attachment> {
        let sql = "SELECT name, media_type, bytes FROM attachment WHERE id = ?1";
        let found = self
            .connection
            .prepare_cached(sql)?
            .query_row([id], |row| Ok(Attachment { name: row.get(0)?, media_type: row.get(1)?, bytes: row.get(2)? }));
        found.optional()?.ok_or_else(|| Error::NotFound(format!("file {id}")))
    }

    /// The number, name and media type of the newest files.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn attachment_heads(&self, most: usize) -> Result<Vec<(i64, String, String)>> {
        let sql = "SELECT id, name, media_type FROM attachment ORDER BY id DESC LIMIT ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let heads = statement
            .query_map([i64::try_from(most).unwrap_or(i64::MAX)], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?)))?;
        Ok(heads.collect::<rusqlite::Result<_>>()?)
    }

    /// What the file with this number is called, its media type, and how many bytes it has.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn attachment_head(&self, id: i64) -> Result<(String, String, usize)> {
        let sql = "SELECT name, media_type, length(bytes) FROM attachment WHERE id = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([id], |row| {
            Ok((row.get(0)?, row.get(1)?, usize::try_from(row.get::<_, i64>(2)?).unwrap_or_default()))
        });
        found.optional()?.ok_or_else(|| Error::NotFound(format!("file {id}")))
    }

    /// A part of the file with this number; less where it ends earlier. Nothing else of it is read.
    ///
    /// # Errors
    /// Where there is none.
    pub fn attachment_part(&self, id: i64, from: usize, length: usize) -> Result<Vec<u8>> {
        let blob = self.connection.blob_open(MAIN_DB, "attachment", "bytes", id, true)?;
        let length = length.min(blob.len().saturating_sub(from));
        let mut part = vec![0; length];
        blob.read_at_exact(&mut part, from)?;
        Ok(part)
    }

    /// How many files somebody put in since a moment, waiting ones as well, and how many bytes they have together.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn put_in_since(&self, user: i64, since: i64) -> Result<(usize, usize)> {
        let sql = "SELECT count(*), COALESCE(sum(size), 0) FROM (
            SELECT length(bytes) AS size FROM attachment WHERE user_id = ?1 AND made_at > ?2
            UNION ALL SELECT length(bytes) FROM incoming WHERE user_id = ?1 AND at > ?2)";
        let found: (i64, i64) =
            self.connection.prepare_cached(sql)?.query_row([user, since], |row| Ok((row.get(0)?, row.get(1)?)))?;
        let whole = |n: i64| usize::try_from(n).unwrap_or_default();
        Ok((whole(found.0), whole(found.1)))
    }

    /// Whether there is a file with this number.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn has_attachment(&self, id: i64) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM attachment WHERE id = ?1)";
        Ok(self.connection.prepare_cached(sql)?.query_row([id], |row| row.get(0))?)
    }
}

impl Tx<'_> {
    /// Keeps a file and gives its number.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_attachment(&mut self, file: &Attachment, user: Option<i64>, at: i64) -> Result<i64> {
        let connection = self.rows().connection;
        let sql =
            "INSERT INTO attachment(name, media_type, bytes, user_id, made_at, digest) VALUES (?1, ?2, ?3, ?4, ?5, ?6)";
        let values = params![file.name, file.media_type, file.bytes, user, at, digest(&file.bytes)];
        connection.prepare_cached(sql)?.execute(values)?;
        Ok(connection.last_insert_rowid())
    }
}
