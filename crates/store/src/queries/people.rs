//! The people of the workspace and their sessions. Not in the ledger: keys and passwords have no history.

use iron_kite_core::role::Role;
use rusqlite::{OptionalExtension, Row, params};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// Somebody who can sign in.
#[derive(Debug, Clone, PartialEq)]
pub struct User {
    /// The number.
    pub id: i64,
    /// The address to sign in with.
    pub email: String,
    /// The name.
    pub name: String,
    /// What the person may do.
    pub role: Role,
}

const COLUMNS: &str = "u.id, u.email, u.name, u.role";

fn user(row: &Row<'_>) -> rusqlite::Result<User> {
    let role: String = row.get(3)?;
    Ok(User {
        id: row.get(0)?,
        email: row.get(1)?,
        name: row.get(2)?,
        // A role that this program does not know may do the least.
        role: role.parse().unwrap_or(Role::Viewer),
    })
}

impl Rows<'_> {
    /// All people in the order in which they came.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn users(&self) -> Result<Vec<User>> {
        let mut statement = self.connection.prepare_cached(&format!("SELECT {COLUMNS} FROM user u ORDER BY u.id"))?;
        let users = statement.query_map([], user)?;
        Ok(users.collect::<rusqlite::Result<_>>()?)
    }

    /// The person with this address, and the hash of the password where one is set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn user_by_email(&self, email: &str) -> Result<Option<(User, Option<String>)>> {
        let sql = format!("SELECT {COLUMNS}, u.password_hash FROM user u WHERE u.email = ?1");
        let found = self.connection.prepare_cached(&sql)?.query_row([email], |row| Ok((user(row)?, row.get(4)?)));
        Ok(found.optional()?)
    }

    /// Whose session this is, if it has not ended.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn session_user(&self, key_hash: &str, now: i64) -> Result<Option<User>> {
        let sql = format!(
            "SELECT {COLUMNS} FROM session s JOIN user u ON u.id = s.user_id WHERE s.key_hash = ?1 AND s.ends_at > ?2"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row(params![key_hash, now], user).optional()?)
    }
}

impl Tx<'_> {
    /// Adds somebody.
    ///
    /// # Errors
    /// [`Error::Refused`] where the address is taken.
    pub fn add_user(&mut self, email: &str, name: &str, role: Role, password_hash: Option<&str>) -> Result<i64> {
        let connection = self.rows().connection;
        let taken = self.rows().user_by_email(email)?.is_some();
        if taken {
            return Err(Error::Refused(format!("there is somebody with the address {email} already")));
        }
        connection.execute(
            "INSERT INTO user(email, name, role, password_hash) VALUES (?1, ?2, ?3, ?4)",
            params![email, name, role.name(), password_hash],
        )?;
        Ok(connection.last_insert_rowid())
    }

    /// Sets somebody's role.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is nobody with this address.
    pub fn set_role(&mut self, email: &str, role: Role) -> Result<()> {
        let sql = "UPDATE user SET role = ?2 WHERE email = ?1";
        somebody(email, self.rows().connection.execute(sql, params![email, role.name()])?)
    }

    /// Sets somebody's password and ends all sessions of that person.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is nobody with this address.
    pub fn set_password(&mut self, email: &str, password_hash: &str) -> Result<()> {
        let connection = self.rows().connection;
        connection.execute("DELETE FROM session WHERE user_id = (SELECT id FROM user WHERE email = ?1)", [email])?;
        let sql = "UPDATE user SET password_hash = ?2 WHERE email = ?1";
        somebody(email, connection.execute(sql, params![email, password_hash])?)
    }

    /// Begins a session and forgets those that have ended.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn begin_session(&mut self, key_hash: &str, user: i64, now: i64, ends_at: i64) -> Result<()> {
        let connection = self.rows().connection;
        connection.execute("DELETE FROM session WHERE ends_at <= ?1", [now])?;
        let sql = "INSERT INTO session(key_hash, user_id, ends_at) VALUES (?1, ?2, ?3)";
        connection.execute(sql, params![key_hash, user, ends_at])?;
        Ok(())
    }

    /// Ends a session.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn end_session(&mut self, key_hash: &str) -> Result<()> {
        self.rows().connection.execute("DELETE FROM session WHERE key_hash = ?1", [key_hash])?;
        Ok(())
    }
}

fn somebody(email: &str, changed: usize) -> Result<()> {
    if changed == 0 { Err(Error::NotFound(format!("person with the address {email}"))) } else { Ok(()) }
}
