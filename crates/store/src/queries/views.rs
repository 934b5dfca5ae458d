//! Saved views, and the links by which other programs subscribe to a calendar.

use iron_kite_core::fields::{Collection, SavedView};
use iron_kite_core::things::ProductId;
use rusqlite::{OptionalExtension, params};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

impl Rows<'_> {
    /// The views of a collection that somebody may see, in their order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn views(&self, product: ProductId, collection: Collection, user: Option<i64>) -> Result<Vec<SavedView>> {
        self.list(
            "WHERE product_id = ?1 AND collection = ?2 AND (owner_id IS NULL OR owner_id = ?3) ORDER BY position, id",
            params![product.0, collection.kind().name(), user],
        )
    }

    /// The view and the person that a calendar link was made for.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn calendar_link(&self, key_hash: &str) -> Result<Option<(i64, i64)>> {
        let sql = "SELECT view_id, user_id FROM calendar_link WHERE key_hash = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([key_hash], |row| Ok((row.get(0)?, row.get(1)?)));
        Ok(found.optional()?)
    }

    /// How many calendar links a view has.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn calendar_links(&self, view: i64) -> Result<i64> {
        let sql = "SELECT count(*) FROM calendar_link WHERE view_id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([view], |row| row.get(0))?)
    }
}

impl Tx<'_> {
    /// Keeps a calendar link by the hash of its key.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_calendar_link(&mut self, key_hash: &str, view: i64, user: i64, at: i64) -> Result<()> {
        let sql = "INSERT INTO calendar_link(key_hash, view_id, user_id, made_at) VALUES (?1, ?2, ?3, ?4)";
        self.rows().connection.prepare_cached(sql)?.execute(params![key_hash, view, user, at])?;
        Ok(())
    }

    /// Ends all calendar links of a view.
    ///
    /// # Errors
    /// [`Error::NotFound`] where it has none.
    pub fn end_calendar_links(&mut self, view: i64) -> Result<()> {
        let sql = "DELETE FROM calendar_link WHERE view_id = ?1";
        match self.rows().connection.prepare_cached(sql)?.execute([view])? {
            0 => Err(Error::NotFound("calendar link of this view".into())),
            _ => Ok(()),
        }
    }
}
