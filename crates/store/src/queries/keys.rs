//! Links that work once, and the tokens of programs. Not in the ledger: keys have no history.

use iron_kite_core::role::Role;
use rusqlite::{OptionalExtension, Row, params};

use super::people::{USER, User, user};
use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// A token, as whoever it belongs to sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct TokenRow {
    /// Its number.
    pub id: i64,
    /// Whose it is.
    pub by: User,
    /// What it is called.
    pub name: String,
    /// What it may do at most.
    pub role: Role,
    /// When it was made, in milliseconds since 1970.
    pub made_at: i64,
    /// When it was used last.
    pub used_at: Option<i64>,
}

const TOKEN: &str = "t.id, t.name, t.role, t.made_at, t.used_at";

/// A token whose columns stand behind the five of the person.
fn token(row: &Row<'_>) -> rusqlite::Result<TokenRow> {
    let role: String = row.get(7)?;
    Ok(TokenRow {
        by: user(row)?,
        id: row.get(5)?,
        name: row.get(6)?,
        role: role.parse().unwrap_or(Role::Viewer),
        made_at: row.get(8)?,
        used_at: row.get(9)?,
    })
}

impl Rows<'_> {
    /// Who sets a password by this link, if it has not ended.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn once_link(&self, key_hash: &str, now: i64) -> Result<Option<User>> {
        let sql = format!(
            "SELECT {USER} FROM once_link l JOIN user u ON u.id = l.user_id
             WHERE l.key_hash = ?1 AND l.ends_at > ?2 AND u.closed = 0"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row(params![key_hash, now], user).optional()?)
    }

    /// The addresses of those who were sent a link that has not ended, and when it ends.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn once_links(&self, now: i64) -> Result<Vec<(i64, i64)>> {
        let mut statement =
            self.connection.prepare_cached("SELECT user_id, ends_at FROM once_link WHERE ends_at > ?1")?;
        let all = statement.query_map([now], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(all.collect::<rusqlite::Result<_>>()?)
    }

    /// The numbers of those who have a password.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn with_password(&self) -> Result<Vec<i64>> {
        let mut statement = self.connection.prepare_cached("SELECT id FROM user WHERE password_hash IS NOT NULL")?;
        Ok(statement.query_map([], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }

    /// The token of this key.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn token(&self, key_hash: &str) -> Result<Option<TokenRow>> {
        let sql = format!(
            "SELECT {USER}, {TOKEN} FROM token t JOIN user u ON u.id = t.user_id WHERE t.key_hash = ?1 AND u.closed = 0"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row([key_hash], token).optional()?)
    }

    /// The tokens of a person, or all of them, the newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn tokens(&self, user: Option<i64>) -> Result<Vec<TokenRow>> {
        let sql = format!(
            "SELECT {USER}, {TOKEN} FROM token t JOIN user u ON u.id = t.user_id
             WHERE ?1 IS NULL OR t.user_id = ?1 ORDER BY t.id DESC"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([user], token)?.collect::<rusqlite::Result<_>>()?)
    }
}

impl Tx<'_> {
    /// Adds a link by which a person sets a password once; an earlier one of theirs works no more.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_once_link(&mut self, key_hash: &str, user: i64, now: i64, ends_at: i64) -> Result<()> {
        let connection = self.rows().connection;
        connection.execute("DELETE FROM once_link WHERE user_id = ?1 OR ends_at <= ?2", [user, now])?;
        let sql = "INSERT INTO once_link(key_hash, user_id, ends_at) VALUES (?1, ?2, ?3)";
        connection.execute(sql, params![key_hash, user, ends_at])?;
        Ok(())
    }

    /// Ends the links of a person.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn end_once_links(&mut self, user: i64) -> Result<()> {
        self.rows().connection.execute("DELETE FROM once_link WHERE user_id = ?1", [user])?;
        Ok(())
    }

    /// Adds a token.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_token(&mut self, key_hash: &str, user: i64, name: &str, role: Role, at: i64) -> Result<i64> {
        let connection = self.rows().connection;
        let sql = "INSERT INTO token(key_hash, user_id, name, role, made_at) VALUES (?1, ?2, ?3, ?4, ?5)";
        connection.execute(sql, params![key_hash, user, name, role.name(), at])?;
        Ok(connection.last_insert_rowid())
    }

    /// Notes that a token is used.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn see_token(&mut self, id: i64, at: i64) -> Result<()> {
        self.rows().connection.execute("UPDATE token SET used_at = ?2 WHERE id = ?1", [id, at])?;
        Ok(())
    }

    /// Ends a token: one of a person, or anybody's where nobody is named.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none such.
    pub fn end_token(&mut self, id: i64, user: Option<i64>) -> Result<()> {
        let sql = "DELETE FROM token WHERE id = ?1 AND (?2 IS NULL OR user_id = ?2)";
        match self.rows().connection.execute(sql, params![id, user])? {
            0 => Err(Error::NotFound(format!("token {id}"))),
            _ => Ok(()),
        }
    }
}
