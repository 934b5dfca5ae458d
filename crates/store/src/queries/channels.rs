//! How far channels were read, and their keys.

use iron_kite_core::listen::ChannelState;
use rusqlite::{OptionalExtension, params};

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

impl Rows<'_> {
    /// How far a channel was read.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn channel_state(&self, channel: i64) -> Result<ChannelState> {
        let sql = "SELECT cursor, secret, looked_at, problem, secret_for FROM channel_state WHERE channel_id = ?1";
        let state = self.connection.prepare_cached(sql)?.query_row([channel], |row| {
            Ok(ChannelState {
                cursor: row.get(0)?,
                secret: row.get(1)?,
                looked_at: row.get(2)?,
                problem: row.get(3)?,
                secret_for: row.get(4)?,
            })
        });
        Ok(state.optional()?.unwrap_or_default())
    }

    /// Whether work of this sort waits or runs.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn has_work(&self, work: &str) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM job WHERE state IN ('queued', 'running') AND work = ?1)";
        Ok(self.connection.prepare_cached(sql)?.query_row([work], |row| row.get(0))?)
    }
}

impl Tx<'_> {
    /// Notes how far a channel was read.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_channel_state(&mut self, channel: i64, state: &ChannelState) -> Result<()> {
        let sql =
            "INSERT INTO channel_state(channel_id, cursor, secret, looked_at, problem, secret_for) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
            ON CONFLICT (channel_id) DO UPDATE SET cursor = ?2, secret = ?3, looked_at = ?4, problem = ?5, secret_for = ?6";
        let ChannelState { cursor, secret, looked_at, problem, secret_for } = state;
        let values = params![channel, cursor, secret, looked_at, problem, secret_for];
        self.rows().connection.prepare_cached(sql)?.execute(values)?;
        Ok(())
    }

    /// Removes a job that came to nothing.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn remove_job(&mut self, id: i64) -> Result<()> {
        self.rows().connection.prepare_cached("DELETE FROM job WHERE id = ?1")?.execute([id])?;
        Ok(())
    }
}
