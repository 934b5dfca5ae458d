//! Results, and the releases that are out.

use iron_kite_core::learn::Measured;
use iron_kite_core::things::{ProductId, ReleaseId};

use crate::error::Result;
use crate::rows::Rows;

impl Rows<'_> {
    /// The results on a product's ideas, newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn results(&self, product: ProductId) -> Result<Vec<Measured>> {
        self.list(
            "WHERE idea_id IN (SELECT id FROM idea WHERE product_id = ?1) ORDER BY measured_on DESC, id DESC",
            [product.0],
        )
    }

    /// The releases of a product that are out, the newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn released(&self, product: ProductId) -> Result<Vec<ReleaseId>> {
        let sql = "SELECT id FROM release WHERE product_id = ?1 AND state = 'released'
            ORDER BY COALESCE(released_on, ends_on) DESC, id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| Ok(ReleaseId(row.get(0)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}
