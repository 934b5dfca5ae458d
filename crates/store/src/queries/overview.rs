//! The counts on the course.

use iron_kite_core::things::ProductId;

use crate::error::Result;
use crate::rows::Rows;

impl Rows<'_> {
    /// How many items of a product nobody has read.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unread(&self, product: ProductId) -> Result<i64> {
        self.count(
            "SELECT (SELECT count(*) FROM feedback_item WHERE product_id = ?1) - (SELECT count(*) FROM
               (SELECT DISTINCT item_id FROM reading) r JOIN feedback_item i ON i.id = r.item_id AND i.product_id = ?1)",
            product,
        )
    }

    /// How many items and how many excerpts a product has, and how many excerpts are in no finding.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn listen_counts(&self, product: ProductId) -> Result<(i64, i64, i64)> {
        let items = self.count("SELECT count(*) FROM feedback_item WHERE product_id = ?1", product)?;
        let excerpts = self.count("SELECT count(*) FROM excerpt WHERE product_id = ?1", product)?;
        let used = self.count(
            "SELECT count(DISTINCT l.from_id) FROM finding n JOIN link l
             ON l.to_kind = 'finding' AND l.to_id = n.id AND l.kind = 'supports' AND l.from_kind = 'excerpt' WHERE n.product_id = ?1",
            product,
        )?;
        Ok((items, excerpts, excerpts - used))
    }

    fn count(&self, sql: &str, product: ProductId) -> Result<i64> {
        Ok(self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0))?)
    }
}
