//! Which way the items of a product were split into excerpts.

use std::collections::BTreeSet;

use iron_kite_core::things::{ItemId, ProductId};
use rusqlite::{OptionalExtension, params};

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// Items on whose excerpts somebody worked: said what they are, checked them, linked them or talked about them, made or
/// changed or removed one, or took back what was done to them. An item that somebody gave us themselves is none by that.
const WORKED_ON: &str = "
    SELECT e.item_id FROM excerpt e WHERE e.item_id BETWEEN ?1 AND ?2 AND (e.chosen = 1
      OR EXISTS (SELECT 1 FROM link l WHERE l.from_kind = 'excerpt' AND l.from_id = e.id AND l.sure IS NULL)
      OR EXISTS (SELECT 1 FROM link l WHERE l.to_kind = 'excerpt' AND l.to_id = e.id)
      OR EXISTS (SELECT 1 FROM checking k WHERE k.excerpt_id = e.id)
      OR EXISTS (SELECT 1 FROM comment m WHERE m.on_kind = 'excerpt' AND m.on_id = e.id))
    UNION
    SELECT w.item FROM (
      SELECT s.id, COALESCE(c.after, c.before) ->> 'item_id' AS item FROM change_set s CROSS JOIN change c ON c.set_id = s.id
      WHERE s.way NOT IN ('import', 'engine') AND c.kind = 'excerpt') w
    WHERE w.item BETWEEN ?1 AND ?2 AND NOT EXISTS
      (SELECT 1 FROM change i WHERE i.kind = 'feedback_item' AND i.row_id = w.item AND i.set_id = w.id AND i.before IS NULL)";

impl Rows<'_> {
    /// Which way the items of a product were split; nothing where that is not known.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn split_way(&self, product: ProductId) -> Result<Option<i64>> {
        let sql = "SELECT way FROM item_split WHERE product_id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0)).optional()?)
    }

    /// How many items a product has.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_items_of(&self, product: ProductId) -> Result<usize> {
        let sql = "SELECT count(*) FROM feedback_item WHERE product_id = ?1";
        let count: i64 = self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0))?;
        Ok(usize::try_from(count).unwrap_or_default())
    }

    /// Those of the items from one to another on whose excerpts people worked. O(these items and what people changed).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn worked_on(&self, first: ItemId, last: ItemId) -> Result<BTreeSet<ItemId>> {
        let mut statement = self.connection.prepare_cached(WORKED_ON)?;
        let rows = statement.query_map([first.0, last.0], |row| Ok(ItemId(row.get(0)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}

impl Tx<'_> {
    /// Notes which way the items of a product are split, outside of the ledger.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn note_split(&mut self, product: ProductId, way: i64) -> Result<()> {
        let sql = "INSERT INTO item_split(product_id, way) VALUES (?1, ?2)
            ON CONFLICT(product_id) DO UPDATE SET way = excluded.way";
        self.rows().connection.prepare_cached(sql)?.execute(params![product.0, way])?;
        Ok(())
    }
}
