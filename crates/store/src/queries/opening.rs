//! What the opening page asks for.

use iron_kite_core::decide::Objective;
use iron_kite_core::things::{ProductId, ThingKind};
use rusqlite::params;

use crate::error::{Error, Result};
use crate::rows::Rows;

/// How many things of a kind somebody did one thing to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DoneRow {
    /// Who; nobody where a command or a rule did it.
    pub who: Option<String>,
    /// By what way.
    pub way: String,
    /// To what.
    pub kind: ThingKind,
    /// added, changed or removed.
    pub verb: String,
    /// To how many.
    pub things: i64,
    /// The newest of them, by number.
    pub newest: i64,
}

impl Rows<'_> {
    /// What was done after a change by anybody but one person, without what was taken back. A thing that was added and then
    /// changed was added. O(changes since).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn done_since(&self, product: ProductId, after: i64, but: Option<i64>) -> Result<Vec<DoneRow>> {
        // To which product a thing belongs is looked at once for each thing, not for each change.
        let sql = "SELECT u.name, g.way, g.kind, g.verb, count(*), max(g.row_id) FROM (
               SELECT s.user_id AS user_id, s.way AS way, c.kind AS kind, c.row_id AS row_id, max(c.id) AS last,
                 CASE WHEN max(c.after IS NULL) THEN 'removed' WHEN max(c.before IS NULL) THEN 'added' ELSE 'changed' END AS verb
               FROM change c JOIN change_set s ON s.id = c.set_id
               WHERE c.id > ?2 AND s.undone = 0 AND s.way <> 'undo' AND s.user_id IS NOT ?3
                 AND c.kind NOT IN ('excerpt', 'link', 'checking') GROUP BY 1, 2, 3, 4) g
             JOIN change l ON l.id = g.last LEFT JOIN user u ON u.id = g.user_id
             WHERE coalesce(coalesce(l.after, l.before) ->> 'product_id', ?1) = ?1 GROUP BY 1, 2, 3, 4";
        let mut statement = self.connection.prepare_cached(sql)?;
        let mut rows = statement.query(params![product.0, after, but])?;
        let mut done = Vec::new();
        while let Some(row) = rows.next()? {
            let kind: ThingKind = row.get::<_, String>(2)?.parse().map_err(Error::Refused)?;
            done.push(DoneRow {
                who: row.get(0)?,
                way: row.get(1)?,
                kind,
                verb: row.get(3)?,
                things: row.get(4)?,
                newest: row.get(5)?,
            });
        }
        Ok(done)
    }

    /// The product that was there first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn first_product(&self) -> Result<Option<i64>> {
        Ok(self.connection.prepare_cached("SELECT min(id) FROM product")?.query_row([], |row| row.get(0))?)
    }

    /// The objectives that somebody answers for.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn objectives_of(&self, product: ProductId, owner: i64) -> Result<Vec<Objective>> {
        self.list("WHERE product_id = ?1 AND owner_id = ?2 ORDER BY due_on IS NULL, due_on, id", [product.0, owner])
    }

    /// How many ideas wait for a decision.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn undecided(&self, product: ProductId) -> Result<i64> {
        let sql = "SELECT count(*) FROM idea WHERE product_id = ?1 AND state IN ('raw', 'weighing')";
        Ok(self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0))?)
    }

    /// How many rules of a product were stopped or failed since a moment.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn rules_in_trouble(&self, product: ProductId, since: i64) -> Result<usize> {
        let sql = "SELECT count(DISTINCT r.id) FROM rule_run x JOIN rule r ON r.id = x.rule_id
                   WHERE r.product_id = ?1 AND x.at >= ?2 AND x.outcome <> 'done'";
        let count: i64 = self.connection.prepare_cached(sql)?.query_row(params![product.0, since], |row| row.get(0))?;
        Ok(usize::try_from(count).unwrap_or_default())
    }

    /// How many messages did not go out.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn messages_in_trouble(&self) -> Result<usize> {
        let sql = "SELECT count(*) FROM message WHERE state IN ('failed', 'unsure')";
        let count: i64 = self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?;
        Ok(usize::try_from(count).unwrap_or_default())
    }
}
