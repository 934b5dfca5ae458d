//! History, and what a person can take back or do again.

use iron_kite_core::kind::Relation;
use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::{OptionalExtension, Row, params};
use serde_json::{Map, Value};

use crate::error::{Error, Result};
use crate::ledger::{ChangeSet, ChangeSetId};
use crate::rows::Rows;
use crate::shape::values;

/// What the ledger keeps of one row in one change.
#[derive(Debug, Clone, PartialEq)]
pub struct RowChange {
    /// Its number.
    pub id: i64,
    /// The set that it belongs to.
    pub set: ChangeSetId,
    /// The row.
    pub thing: Thing,
    /// Its values before, with those of the team's own fields; nothing where it came with the change.
    pub before: Option<Map<String, Value>>,
    /// Its values after; nothing where it went.
    pub after: Option<Map<String, Value>>,
}

impl RowChange {
    /// A value after the change, or before it where the row went.
    #[must_use]
    pub fn value(&self, name: &str) -> &Value {
        self.after.as_ref().or(self.before.as_ref()).and_then(|values| values.get(name)).unwrap_or(&Value::Null)
    }
}

/// The columns of [`RowChange`], of a change `c`.
pub(crate) const ROW_CHANGE: &str = "c.id, c.set_id, c.kind, c.row_id, c.before, c.after";

/// Reads a row of [`ROW_CHANGE`].
pub(crate) fn row_change(row: &Row<'_>) -> Result<RowChange> {
    let kind: ThingKind = row.get::<_, String>(2)?.parse().map_err(Error::Refused)?;
    let side = |at| Ok::<_, Error>(row.get::<_, Option<String>>(at)?.map(|json| values(kind, &json)));
    Ok(RowChange {
        id: row.get(0)?,
        set: row.get(1)?,
        thing: Thing::new(kind, row.get::<_, i64>(3)?),
        before: side(4)?,
        after: side(5)?,
    })
}

/// Where a change tells of a thing: the changes of its own row, of its links, of comments on it, and of its parts, which are
/// told with what they belong to.
fn about(kind: ThingKind) -> String {
    let held = "coalesce(after, before)";
    let mut sql = format!(
        "SELECT id, set_id FROM change WHERE kind = ?1 AND row_id = ?2
         UNION ALL SELECT id, set_id FROM change WHERE kind = 'link' AND {held} ->> 'from_kind' = ?1 AND {held} ->> 'from_id' = ?2
         UNION ALL SELECT id, set_id FROM change WHERE kind = 'link' AND {held} ->> 'to_kind' = ?1 AND {held} ->> 'to_id' = ?2
         UNION ALL SELECT id, set_id FROM change WHERE kind = 'comment' AND {held} ->> 'on_kind' = ?1 AND {held} ->> 'on_id' = ?2"
    );
    for (part, Relation { column, .. }) in kind.parts() {
        sql +=
            &format!(" UNION ALL SELECT id, set_id FROM change WHERE kind = '{part}' AND {held} ->> '{column}' = ?2");
    }
    sql
}

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
    /// The change sets that touched a thing, its links or its parts, newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn history(&self, thing: Thing, limit: usize) -> Result<Vec<ChangeSet>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM change_set c LEFT JOIN user u ON u.id = c.user_id
             WHERE c.id IN (SELECT set_id FROM ({})) ORDER BY c.id DESC LIMIT ?3",
            about(thing.kind)
        );
        let limit = i64::try_from(limit).unwrap_or(i64::MAX);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let sets = statement.query_map(params![thing.kind.name(), thing.id, limit], change_set)?;
        Ok(sets.collect::<rusqlite::Result<_>>()?)
    }

    /// What the ledger keeps of a thing, its links and its parts from a set on, newest first; a thing with thousands of links
    /// has that many changes, so no more than 2,000.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn changes_about(&self, thing: Thing, from: ChangeSetId) -> Result<Vec<RowChange>> {
        const MOST: usize = 2_000;
        let sql = format!(
            "SELECT {ROW_CHANGE} FROM change c WHERE c.id IN (SELECT id FROM ({}) WHERE set_id >= ?3) ORDER BY c.id DESC LIMIT {MOST}",
            about(thing.kind)
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params![thing.kind.name(), thing.id, from])?;
        let mut changes = Vec::new();
        while let Some(row) = rows.next()? {
            changes.push(row_change(row)?);
        }
        Ok(changes)
    }

    /// All that a set changed, in its order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn changes_in(&self, set: ChangeSetId) -> Result<Vec<RowChange>> {
        let sql = format!("SELECT {ROW_CHANGE} FROM change c WHERE c.set_id = ?1 ORDER BY c.id");
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([set])?;
        let mut changes = Vec::new();
        while let Some(row) = rows.next()? {
            changes.push(row_change(row)?);
        }
        Ok(changes)
    }

    /// Who made a change set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn change_set_user(&self, set: ChangeSetId) -> Result<Option<Option<i64>>> {
        let sql = "SELECT user_id FROM change_set WHERE id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([set], |row| row.get(0)).optional()?)
    }

    /// The right that the changes of a set needed. Of sets that were written before it was kept, what the kinds of things that
    /// they touched need at least.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn right_of_set(&self, set: ChangeSetId) -> Result<Right> {
        let sql = "SELECT coalesce((SELECT needs FROM change_set WHERE id = ?1),
            CASE WHEN EXISTS (SELECT 1 FROM change WHERE set_id = ?1 AND kind = 'channel') THEN 3 ELSE 1 END)";
        let rank: u8 = self.connection.prepare_cached(sql)?.query_row([set], |row| row.get(0))?;
        Ok(Right::ALL.get(usize::from(rank)).copied().unwrap_or(Right::Own))
    }

    /// Whose a thing was that is gone.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn last_owner(&self, thing: Thing) -> Result<Option<i64>> {
        let sql = "SELECT before ->> 'owner_id' FROM change WHERE kind = ?1 AND row_id = ?2 AND after IS NULL ORDER BY id DESC LIMIT 1";
        let owner =
            self.connection.prepare_cached(sql)?.query_row(params![thing.kind.name(), thing.id], |row| row.get(0));
        Ok(owner.optional()?.flatten())
    }

    /// Whether a set touched what somebody else keeps for themselves.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn is_private(&self, set: ChangeSetId, me: i64) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM change WHERE set_id = ?1 AND kind = 'view'
            AND (coalesce(before ->> 'owner_id', ?2) <> ?2 OR coalesce(after ->> 'owner_id', ?2) <> ?2))";
        Ok(self.connection.prepare_cached(sql)?.query_row(params![set, me], |row| row.get(0))?)
    }

    /// The newest set of a person that can be taken back.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn next_undo(&self, user: i64) -> Result<Option<ChangeSet>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM change_set c LEFT JOIN user u ON u.id = c.user_id
             WHERE c.user_id = ?1 AND c.way NOT IN ('undo', 'rule') AND c.undone = 0 ORDER BY c.id DESC LIMIT 1"
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
