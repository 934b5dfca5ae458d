//! History, and what a person can take back or do again.

use iron_kite_core::things::Thing;
use rusqlite::{OptionalExtension, Row, params};

use crate::error::Result;
use crate::ledger::{ChangeSet, ChangeSetId};
use crate::rows::Rows;

const COLUMNS: &str = "c.id, c.at, u.name, c.label, c.way, c.undone";

fn change_set(row: &Row<'_>) -> rusqlite::Result<ChangeSet> {
    Ok(ChangeSet {
        id: row.get(0)?,
        at: row.get(1)?,
        user_name: row.get(2)?,
        label: row.get(3)?,
        way: row.get(4)?,
        undone: row.get(5)?,
    })
}

impl Rows<'_> {
    /// The change sets that touched a thing, newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn history(&self, thing: Thing, limit: usize) -> Result<Vec<ChangeSet>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM change_set c LEFT JOIN user u ON u.id = c.user_id
             WHERE c.id IN (SELECT set_id FROM change WHERE kind = ?1 AND row_id = ?2) ORDER BY c.id DESC LIMIT ?3"
        );
        let limit = i64::try_from(limit).unwrap_or(i64::MAX);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let sets = statement.query_map(params![thing.kind.name(), thing.id, limit], change_set)?;
        Ok(sets.collect::<rusqlite::Result<_>>()?)
    }

    /// Who made a change set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn change_set_user(&self, set: ChangeSetId) -> Result<Option<Option<i64>>> {
        let sql = "SELECT user_id FROM change_set WHERE id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([set], |row| row.get(0)).optional()?)
    }

    /// The newest set of a person that can be taken back.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn next_undo(&self, user: i64) -> Result<Option<ChangeSet>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM change_set c LEFT JOIN user u ON u.id = c.user_id
             WHERE c.user_id = ?1 AND c.way <> 'undo' AND c.undone = 0 ORDER BY c.id DESC LIMIT 1"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row([user], change_set).optional()?)
    }

    /// The newest undo of a person that can itself be taken back, so that what it took back is done
    /// again. None once the person has done anything else since.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn next_redo(&self, user: i64) -> Result<Option<ChangeSet>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM change_set c JOIN change_set x ON x.id = c.undoes AND x.undoes IS NULL
             LEFT JOIN user u ON u.id = c.user_id
             WHERE c.user_id = ?1 AND c.undone = 0
               AND NOT EXISTS (SELECT 1 FROM change_set n WHERE n.user_id = ?1 AND n.id > c.id AND n.way <> 'undo')
             ORDER BY c.id DESC LIMIT 1"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row([user], change_set).optional()?)
    }
}
