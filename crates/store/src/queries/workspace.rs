//! The workspace itself: what a product holds, what stands in a team's queue, and how large all of it is.

use iron_kite_core::things::{ProductId, TeamId, Thing, ThingKind};
use rusqlite::OptionalExtension;

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// How large the workspace is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Size {
    /// The bytes of the database.
    pub database: i64,
    /// Those of them that are files: attachments, recordings, and what waits to be brought in.
    pub files: i64,
    /// Those that nothing takes any more; they are used again before the database grows.
    pub free: i64,
}

impl Rows<'_> {
    /// How many things of each kind a product holds, where there are any.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn held_by(&self, product: ProductId) -> Result<Vec<(ThingKind, i64)>> {
        let mut held = Vec::new();
        for kind in ThingKind::ALL {
            let table = kind.name();
            let sql = "SELECT 1 FROM pragma_table_info(?1) WHERE name = 'product_id'";
            if self.connection.prepare_cached(sql)?.query_row([table], |_| Ok(())).optional()?.is_none() {
                continue;
            }
            let sql = format!("SELECT count(*) FROM {table} WHERE product_id = ?1");
            let count = self.connection.prepare_cached(&sql)?.query_row([product.0], |row| row.get(0))?;
            if count > 0 {
                held.push((*kind, count));
            }
        }
        Ok(held)
    }

    /// How many stories a team has been handed.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn handed_to(&self, team: TeamId) -> Result<i64> {
        let sql = "SELECT count(*) FROM work_item WHERE team_id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([team.0], |row| row.get(0))?)
    }

    /// How large the workspace is.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn size(&self) -> Result<Size> {
        let number = |sql: &str| self.connection.query_row(sql, [], |row| row.get::<_, i64>(0));
        let page = number("PRAGMA page_size")?;
        Ok(Size {
            database: number("PRAGMA page_count")? * page,
            free: number("PRAGMA freelist_count")? * page,
            files: number("SELECT coalesce(sum(length), 0) FROM file")?,
        })
    }
}

impl Tx<'_> {
    /// Removes a product that holds nothing, with what the program keeps of its own for it.
    ///
    /// # Errors
    /// Where it holds something.
    pub fn remove_product(&mut self, product: ProductId) -> Result<()> {
        for table in ["job", "incoming", "learned"] {
            let sql = format!("DELETE FROM {table} WHERE product_id = ?1");
            self.rows().connection.execute(&sql, [product.0])?;
        }
        self.remove(Thing::new(ThingKind::Product, product.0))
    }
}
