//! Results, and the ideas that are out.

use iron_kite_core::learn::Measured;
use iron_kite_core::things::{IdeaId, ProductId, ReleaseId};

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

    /// Which idea came out with which released release: an idea is out with a release that holds a
    /// story of one of its epics that is done.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn ideas_out(&self, product: ProductId) -> Result<Vec<(IdeaId, ReleaseId)>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT DISTINCT l.from_id, r.id FROM link l
             JOIN work_item s ON s.parent_id = l.to_id AND s.state = 'done'
             JOIN release r ON r.id = s.release_id AND r.state = 'released'
             WHERE l.kind = 'becomes' AND l.from_kind = 'idea' AND s.product_id = ?1 ORDER BY COALESCE(r.released_on, r.ends_on) DESC, r.id, l.from_id",
        )?;
        let rows = statement.query_map([product.0], |row| Ok((IdeaId(row.get(0)?), ReleaseId(row.get(1)?))))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}
