//! Work that runs in the background, and the files that wait for it. Neither is a change of a thing, so the ledger
//! keeps nothing of them.

use iron_kite_core::jobs::{Job, JobState};
use iron_kite_core::things::ProductId;
use rusqlite::types::Value as Sql;
use rusqlite::{OptionalExtension, Row, params};

use crate::error::{Error, Result};
use crate::ledger::ChangeSetId;
use crate::rows::Rows;
use crate::writer::Tx;

/// A file that waits.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Incoming {
    /// The product that it was dropped for.
    pub product_id: ProductId,
    /// Its name.
    pub name: String,
    /// The number of its bytes.
    pub file: i64,
    /// How its parts are to be read, as JSON, where somebody said so.
    pub hows: Option<String>,
}

const COLUMNS: &str =
    "id, product_id, user_id, label, work, state, done, total, change_set_id, report, asked_at, ended_at";

fn job(row: &Row<'_>) -> rusqlite::Result<Job> {
    let state: String = row.get(5)?;
    Ok(Job {
        id: row.get(0)?,
        product_id: row.get::<_, Option<i64>>(1)?.map(ProductId),
        user_id: row.get(2)?,
        label: row.get(3)?,
        work: row.get(4)?,
        state: JobState::named(&state).unwrap_or(JobState::Failed),
        done: row.get(6)?,
        total: row.get(7)?,
        change_set_id: row.get(8)?,
        report: row.get(9)?,
        asked_at: row.get(10)?,
        ended_at: row.get(11)?,
    })
}

impl Rows<'_> {
    /// The job with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn job(&self, id: i64) -> Result<Job> {
        let sql = format!("SELECT {COLUMNS} FROM job WHERE id = ?1");
        let found = self.connection.prepare_cached(&sql)?.query_row([id], job).optional()?;
        found.ok_or_else(|| Error::NotFound(format!("job {id}")))
    }

    /// The newest jobs of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn jobs(&self, product: ProductId, limit: usize) -> Result<Vec<Job>> {
        let sql = format!("SELECT {COLUMNS} FROM job WHERE product_id = ?1 ORDER BY id DESC LIMIT {limit}");
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([product.0], job)?.collect::<rusqlite::Result<_>>()?)
    }

    /// The first job in a state: what a person waits for before what the program does for itself, and of each the oldest.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn first_job(&self, state: JobState) -> Result<Option<Job>> {
        let sql = format!("SELECT {COLUMNS} FROM job WHERE state = ?1 ORDER BY user_id IS NULL, id LIMIT 1");
        Ok(self.connection.prepare_cached(&sql)?.query_row([state.name()], job).optional()?)
    }

    /// Whether a job waits that a person asked for.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn person_waits(&self) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM job WHERE state = 'queued' AND user_id IS NOT NULL)";
        Ok(self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?)
    }

    /// The newest jobs of a product that tried a run of the grouping or took one, without those whose taking was undone.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn grouping_jobs(&self, product: ProductId, limit: usize) -> Result<Vec<Job>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM job WHERE product_id = ?1 AND work ->> 'kind' IN ('group', 'take')
               AND NOT EXISTS (SELECT 1 FROM change_set s WHERE s.id = job.change_set_id AND s.undone = 1)
             ORDER BY id DESC LIMIT {limit}"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([product.0], job)?.collect::<rusqlite::Result<_>>()?)
    }

    /// Whether a running job is writing this change set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn is_being_written(&self, set: ChangeSetId) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM job WHERE state = 'running' AND change_set_id = ?1)";
        Ok(self.connection.prepare_cached(sql)?.query_row([set], |row| row.get(0))?)
    }

    /// The waiting file with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where it was brought in or cleared away in the meantime.
    pub fn incoming(&self, id: i64) -> Result<Incoming> {
        let sql = "SELECT product_id, name, file_id, hows FROM incoming WHERE id = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([id], |row| {
            Ok(Incoming { product_id: ProductId(row.get(0)?), name: row.get(1)?, file: row.get(2)?, hows: row.get(3)? })
        });
        found.optional()?.ok_or_else(|| Error::NotFound(format!("waiting file {id}")))
    }
}

/// What changes of a job while it runs.
#[derive(Debug, Clone, Default)]
pub struct JobChange {
    /// Where it stands now.
    pub state: Option<JobState>,
    /// How much of it is done.
    pub done: Option<i64>,
    /// How much there is to do.
    pub total: Option<i64>,
    /// What it writes.
    pub change_set_id: Option<ChangeSetId>,
    /// What came of it, as JSON.
    pub report: Option<String>,
    /// When it ended.
    pub ended_at: Option<i64>,
}

impl Tx<'_> {
    /// Adds a job that waits for its turn.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_job(&mut self, product: ProductId, user: Option<i64>, label: &str, work: &str, at: i64) -> Result<i64> {
        let connection = self.rows().connection;
        let sql =
            "INSERT INTO job(product_id, user_id, label, work, state, asked_at) VALUES (?1, ?2, ?3, ?4, 'queued', ?5)";
        connection.prepare_cached(sql)?.execute(params![product.0, user, label, work, at])?;
        Ok(connection.last_insert_rowid())
    }

    /// Changes a job.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn change_job(&mut self, id: i64, change: JobChange) -> Result<()> {
        let text = |text: Option<String>| text.map_or(Sql::Null, Sql::Text);
        let number = |number: Option<i64>| number.map_or(Sql::Null, Sql::Integer);
        let sql = "UPDATE job SET state = COALESCE(?2, state), done = COALESCE(?3, done), total = COALESCE(?4, total),
            change_set_id = COALESCE(?5, change_set_id), report = COALESCE(?6, report), ended_at = COALESCE(?7, ended_at)
            WHERE id = ?1";
        self.rows().connection.prepare_cached(sql)?.execute(params![
            id,
            text(change.state.map(|state| state.name().to_owned())),
            number(change.done),
            number(change.total),
            number(change.change_set_id),
            text(change.report),
            number(change.ended_at),
        ])?;
        Ok(())
    }

    /// Keeps a file until it is brought in, and gives its number. Those that waited longer than a day are cleared away.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_incoming(&mut self, file: &Incoming, user: Option<i64>, at: i64) -> Result<i64> {
        const DAY: i64 = 24 * 60 * 60 * 1_000;
        let connection = self.rows().connection;
        connection
            .prepare_cached(
                "DELETE FROM incoming WHERE at < ?1 AND NOT EXISTS (SELECT 1 FROM job WHERE state IN ('queued', 'running'))",
            )?
            .execute([at - DAY])?;
        let sql = "INSERT INTO incoming(product_id, user_id, name, file_id, at) VALUES (?1, ?2, ?3, ?4, ?5)";
        connection.prepare_cached(sql)?.execute(params![file.product_id.0, user, file.name, file.file, at])?;
        Ok(connection.last_insert_rowid())
    }

    /// Keeps how the parts of a waiting file are to be read.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn keep_hows(&mut self, id: i64, hows: &str) -> Result<()> {
        let sql = "UPDATE incoming SET hows = ?2 WHERE id = ?1";
        self.rows().connection.prepare_cached(sql)?.execute(params![id, hows])?;
        Ok(())
    }

    /// Clears a waiting file away.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn remove_incoming(&mut self, id: i64) -> Result<()> {
        self.rows().connection.prepare_cached("DELETE FROM incoming WHERE id = ?1")?.execute([id])?;
        Ok(())
    }
}
