//! Files that fields hold.

use rusqlite::{OptionalExtension, params};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// A file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Attachment {
    /// Its name.
    pub name: String,
    /// What it is, as far as its first bytes tell.
    pub media_type: String,
    /// The number of its bytes.
    pub file: i64,
}

impl Rows<'_> {
    /// The file with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn attachment(&self, id: i64) -> Result<Attachment> {
        let sql = "SELECT name, media_type, file_id FROM attachment WHERE id = ?1";
        let found = self
            .connection
            .prepare_cached(sql)?
            .query_row([id], |row| Ok(Attachment { name: row.get(0)?, media_type: row.get(1)?, file: row.get(2)? }));
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
        let sql = "INSERT INTO attachment(name, media_type, file_id, user_id, made_at) VALUES (?1, ?2, ?3, ?4, ?5)";
        connection.prepare_cached(sql)?.execute(params![file.name, file.media_type, file.file, user, at])?;
        Ok(connection.last_insert_rowid())
    }
}
