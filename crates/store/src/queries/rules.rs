//! What rules did, and what they would have done.

use iron_kite_core::rules::{Chain, DEEPEST, Rule};
use iron_kite_core::things::{ProductId, RuleId, Thing, ThingKind};
use rusqlite::params;

use super::history::{ROW_CHANGE, RowChange, row_change};
use super::notices::SetSeen;
use crate::error::{Error, Result};
use crate::ledger::ChangeSetId;
use crate::rows::Rows;
use crate::writer::Tx;

/// What a rule did to a thing, or why it did not.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RuleRun {
    /// The rule.
    pub rule: RuleId,
    /// The thing.
    pub thing: Thing,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// The day that came, where one set it off.
    pub day: Option<String>,
    /// The change that set it off.
    pub change: Option<i64>,
    /// The set of that change.
    pub cause: Option<ChangeSetId>,
    /// The set that it wrote into; nothing where it wrote nothing.
    pub set: Option<ChangeSetId>,
    /// done, stopped or failed.
    pub outcome: String,
    /// What was done, or why not.
    pub words: String,
}

impl Rows<'_> {
    /// The rules of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn rules(&self, product: ProductId) -> Result<Vec<Rule>> {
        self.list("WHERE product_id = ?1 ORDER BY id", [product.0])
    }

    /// All rules that run.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn running_rules(&self) -> Result<Vec<Rule>> {
        self.list("WHERE runs = 1 ORDER BY id", [])
    }

    /// The columns of a kind's table.
    #[must_use]
    pub fn columns_of(&self, kind: ThingKind) -> &[String] {
        self.shape.columns(kind)
    }

    /// What a rule did last, newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn rule_runs(&self, rule: RuleId, limit: usize) -> Result<Vec<RuleRun>> {
        let sql = format!(
            "SELECT rule_id, kind, row_id, at, day, change_id, cause_set, set_id, outcome, words FROM rule_run
             WHERE rule_id = ?1 ORDER BY id DESC LIMIT {limit}"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([rule.0])?;
        let mut runs = Vec::new();
        while let Some(row) = rows.next()? {
            let kind: ThingKind = row.get::<_, String>(1)?.parse().map_err(Error::Refused)?;
            runs.push(RuleRun {
                rule: RuleId(row.get(0)?),
                thing: Thing::new(kind, row.get::<_, i64>(2)?),
                at: row.get(3)?,
                day: row.get(4)?,
                change: row.get(5)?,
                cause: row.get(6)?,
                set: row.get(7)?,
                outcome: row.get(8)?,
                words: row.get(9)?,
            });
        }
        Ok(runs)
    }

    /// How often rules did something, were stopped and failed since a moment: by the rule.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn rule_counts(&self, since: i64) -> Result<Vec<(RuleId, String, usize)>> {
        let sql = "SELECT rule_id, outcome, count(*) FROM rule_run WHERE at >= ?1 GROUP BY 1, 2";
        let mut statement = self.connection.prepare_cached(sql)?;
        let found = statement.query_map([since], |row| {
            let count: i64 = row.get(2)?;
            Ok((RuleId(row.get(0)?), row.get(1)?, usize::try_from(count).unwrap_or_default()))
        })?;
        Ok(found.collect::<rusqlite::Result<_>>()?)
    }

    /// What led to a set: the rules that wrote it, and those before them. Follows at most one more step than a chain has.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn chain_of(&self, set: ChangeSetId) -> Result<Chain> {
        let sql = "SELECT rule_id, kind, row_id, cause_set FROM rule_run WHERE set_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let (mut steps, mut at) = (Vec::new(), Some(set));
        while let Some(set) = at.take().filter(|_| steps.len() <= DEEPEST) {
            let mut rows = statement.query([set])?;
            let mut step = Vec::new();
            while let Some(row) = rows.next()? {
                let kind: ThingKind = row.get::<_, String>(1)?.parse().map_err(Error::Refused)?;
                step.push((RuleId(row.get(0)?), Thing::new(kind, row.get::<_, i64>(2)?)));
                at = row.get(3)?;
            }
            if !step.is_empty() {
                steps.push(step);
            }
        }
        Ok(Chain::of(steps))
    }

    /// All changes of a kind since a moment, in their order, each with its set. Calls `each` with one after the other.
    ///
    /// # Errors
    /// Where the store fails, or `each` does.
    pub fn each_change_since(
        &self,
        kind: ThingKind,
        since: i64,
        mut each: impl FnMut(&SetSeen, RowChange) -> Result<()>,
    ) -> Result<()> {
        let first = "SELECT coalesce(min(id), 0) FROM change_set WHERE at >= ?1";
        let first: i64 = self.connection.prepare_cached(first)?.query_row([since], |row| row.get(0))?;
        if first == 0 {
            return Ok(());
        }
        let sql = format!(
            "SELECT {ROW_CHANGE}, s.at, s.user_id, s.way, s.undoes FROM change c JOIN change_set s ON s.id = c.set_id
             WHERE c.set_id >= ?2 AND c.kind = ?1 AND s.at >= ?3 ORDER BY c.id"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params![kind.name(), first, since])?;
        while let Some(row) = rows.next()? {
            let change = row_change(row)?;
            let set =
                SetSeen { id: change.set, at: row.get(6)?, user: row.get(7)?, way: row.get(8)?, undoes: row.get(9)? };
            each(&set, change)?;
        }
        Ok(())
    }

    /// All things of a kind as they stood after a change of the ledger, with their values.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn as_of(&self, kind: ThingKind, change: i64) -> Result<Vec<RowChange>> {
        // What a row was is its last change up to then; of those that have none, what the first one after it found; and rows
        // that have no change at all are as they are.
        let present = self.shape.ledger_json(kind, "t.");
        let sql = format!(
            "WITH last AS (SELECT row_id, max(id) AS id FROM change WHERE kind = ?1 AND id <= ?2 GROUP BY row_id),
                  next AS (SELECT row_id, min(id) AS id FROM change WHERE kind = ?1 AND id > ?2
                           AND row_id NOT IN (SELECT row_id FROM last) GROUP BY row_id)
             SELECT c.id, c.set_id, c.kind, c.row_id, NULL, c.after FROM last l JOIN change c ON c.id = l.id
             UNION ALL SELECT c.id, c.set_id, c.kind, c.row_id, NULL, c.before FROM next n JOIN change c ON c.id = n.id
             UNION ALL SELECT 0, 0, ?1, t.id, NULL, {present} FROM {kind} t
               WHERE NOT EXISTS (SELECT 1 FROM change c WHERE c.kind = ?1 AND c.row_id = t.id)
             ORDER BY 4"
        );
        let mut statement = self.connection.prepare(&sql)?;
        let mut rows = statement.query(params![kind.name(), change])?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            found.push(row_change(row)?);
        }
        found.retain(|row| row.after.is_some());
        Ok(found)
    }

    /// The newest change at a moment.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn change_at(&self, at: i64) -> Result<i64> {
        let sql = "SELECT coalesce(max(c.id), 0) FROM change c
                   WHERE c.set_id = (SELECT max(id) FROM change_set s WHERE s.at <= ?1 AND EXISTS (SELECT 1 FROM change x WHERE x.set_id = s.id))";
        Ok(self.connection.prepare_cached(sql)?.query_row([at], |row| row.get(0))?)
    }

    /// The days on which rules looked for days that came since one, with the change up to which they looked.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn rule_days(&self, since: &str) -> Result<Vec<(String, i64)>> {
        let mut statement =
            self.connection.prepare_cached("SELECT day, change_id FROM rule_day WHERE day >= ?1 ORDER BY day")?;
        Ok(statement.query_map([since], |row| Ok((row.get(0)?, row.get(1)?)))?.collect::<rusqlite::Result<_>>()?)
    }

    /// The last day on which rules looked for days that came.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn last_rule_day(&self) -> Result<Option<String>> {
        Ok(self.connection.prepare_cached("SELECT max(day) FROM rule_day")?.query_row([], |row| row.get(0))?)
    }
}

impl Tx<'_> {
    /// Notes what a rule did.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_rule_run(&mut self, run: &RuleRun) -> Result<()> {
        let sql = "INSERT INTO rule_run(rule_id, kind, row_id, at, day, change_id, cause_set, set_id, outcome, words)
                   VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)";
        self.rows().connection.prepare_cached(sql)?.execute(params![
            run.rule.0,
            run.thing.kind.name(),
            run.thing.id,
            run.at,
            run.day,
            run.change,
            run.cause,
            run.set,
            run.outcome,
            run.words
        ])?;
        Ok(())
    }

    /// Rules looked for days that came on this day.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_rule_day(&mut self, day: &str, change: i64) -> Result<()> {
        let sql = "INSERT OR IGNORE INTO rule_day(day, change_id) VALUES (?1, ?2)";
        self.rows().connection.prepare_cached(sql)?.execute(params![day, change])?;
        Ok(())
    }
}
