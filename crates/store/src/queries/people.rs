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
    /// Whether the account was closed.
    pub closed: bool,
}

/// A session, as whoever it belongs to sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct SessionRow {
    /// What it is called by: the beginning of the hash of its key, which opens nothing.
    pub id: String,
    /// The hash of its key.
    pub key_hash: String,
    /// When it began, in milliseconds since 1970, where that is known.
    pub began_at: Option<i64>,
    /// When it was used last.
    pub seen_at: Option<i64>,
    /// What the browser says that it is.
    pub browser: Option<String>,
}

/// A calendar link, as an owner sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct LinkRow {
    /// Its number.
    pub id: i64,
    /// The view that it shows.
    pub view: String,
    /// Who made it.
    pub by: String,
    /// When, in milliseconds since 1970.
    pub made_at: i64,
}

/// A new session.
pub struct NewSession<'a> {
    /// The hash of its key.
    pub key_hash: &'a str,
    /// Whose it is.
    pub user: i64,
    /// Now, in milliseconds since 1970.
    pub now: i64,
    /// When it ends whatever happens.
    pub ends_at: i64,
    /// What the browser says that it is.
    pub browser: Option<&'a str>,
}

/// So much of the hash of a key names a session.
const NAMED_BY: usize = 16;

pub(super) const USER: &str = "u.id, u.email, u.name, u.role, u.closed";

pub(super) fn user(row: &Row<'_>) -> rusqlite::Result<User> {
    let role: String = row.get(3)?;
    Ok(User {
        id: row.get(0)?,
        email: row.get(1)?,
        name: row.get(2)?,
        // A role that this program does not know may do the least.
        role: role.parse().unwrap_or(Role::Viewer),
        closed: row.get(4)?,
    })
}

impl Rows<'_> {
    /// All people in the order in which they came.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn users(&self) -> Result<Vec<User>> {
        let mut statement = self.connection.prepare_cached(&format!("SELECT {USER} FROM user u ORDER BY u.id"))?;
        let users = statement.query_map([], user)?;
        Ok(users.collect::<rusqlite::Result<_>>()?)
    }

    /// The person with this address, and the hash of the password where one is set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn user_by_email(&self, email: &str) -> Result<Option<(User, Option<String>)>> {
        let sql = format!("SELECT {USER}, u.password_hash FROM user u WHERE u.email = ?1");
        let found = self.connection.prepare_cached(&sql)?.query_row([email], |row| Ok((user(row)?, row.get(5)?)));
        Ok(found.optional()?)
    }

    /// Whose session this is, if it has not ended, and when it was used last; `idle` is how long it lasts unused, all in
    /// milliseconds.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn session_user(&self, key_hash: &str, now: i64, idle: i64) -> Result<Option<(User, Option<i64>)>> {
        let sql = format!(
            "SELECT {USER}, s.seen_at FROM session s JOIN user u ON u.id = s.user_id
             WHERE s.key_hash = ?1 AND s.ends_at > ?2 AND coalesce(s.seen_at, s.began_at, ?2) > ?2 - ?3 AND u.closed = 0"
        );
        let found = self
            .connection
            .prepare_cached(&sql)?
            .query_row(params![key_hash, now, idle], |row| Ok((user(row)?, row.get(5)?)));
        Ok(found.optional()?)
    }

    /// The sessions of a person that have not ended, the one that was used last first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn sessions_of(&self, user: i64, now: i64, idle: i64) -> Result<Vec<SessionRow>> {
        let sql = "SELECT key_hash, began_at, seen_at, browser FROM session
            WHERE user_id = ?1 AND ends_at > ?2 AND coalesce(seen_at, began_at, ?2) > ?2 - ?3 ORDER BY seen_at DESC, key_hash";
        let mut statement = self.connection.prepare_cached(sql)?;
        let all = statement.query_map(params![user, now, idle], |row| {
            let key_hash: String = row.get(0)?;
            let id = key_hash.chars().take(NAMED_BY).collect();
            Ok(SessionRow { id, key_hash, began_at: row.get(1)?, seen_at: row.get(2)?, browser: row.get(3)? })
        })?;
        Ok(all.collect::<rusqlite::Result<_>>()?)
    }

    /// All calendar links, the newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn all_calendar_links(&self) -> Result<Vec<LinkRow>> {
        let sql = "SELECT l.id, CASE WHEN v.owner_id IS NULL THEN v.name ELSE 'a private view' END, u.name, l.made_at
            FROM calendar_link l JOIN view v ON v.id = l.view_id JOIN user u ON u.id = l.user_id ORDER BY l.id DESC";
        let mut statement = self.connection.prepare_cached(sql)?;
        let all = statement.query_map([], |row| {
            Ok(LinkRow { id: row.get(0)?, view: row.get(1)?, by: row.get(2)?, made_at: row.get(3)? })
        })?;
        Ok(all.collect::<rusqlite::Result<_>>()?)
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

    /// Sets somebody's password and ends all sessions of that person but one, and all calendar links and tokens.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is nobody with this address.
    pub fn set_password(&mut self, email: &str, password_hash: &str, but: Option<&str>) -> Result<()> {
        let connection = self.rows().connection;
        let theirs = "user_id = (SELECT id FROM user WHERE email = ?1)";
        connection
            .execute(&format!("DELETE FROM session WHERE {theirs} AND key_hash IS NOT ?2"), params![email, but])?;
        for table in ["calendar_link", "token"] {
            connection.execute(&format!("DELETE FROM {table} WHERE {theirs}"), [email])?;
        }
        let sql = "UPDATE user SET password_hash = ?2 WHERE email = ?1";
        somebody(email, connection.execute(sql, params![email, password_hash])?)
    }

    /// Begins a session and forgets those that have ended.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn begin_session(&mut self, new: &NewSession<'_>) -> Result<()> {
        let NewSession { key_hash, user, now, ends_at, browser } = new;
        let connection = self.rows().connection;
        connection.execute("DELETE FROM session WHERE ends_at <= ?1", [now])?;
        let sql = "INSERT INTO session(key_hash, user_id, ends_at, began_at, seen_at, browser) VALUES (?1, ?2, ?3, ?4, ?4, ?5)";
        connection.execute(sql, params![key_hash, user, ends_at, now, browser])?;
        Ok(())
    }

    /// Notes that a session is used.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn see_session(&mut self, key_hash: &str, now: i64) -> Result<()> {
        self.rows()
            .connection
            .execute("UPDATE session SET seen_at = ?2 WHERE key_hash = ?1", params![key_hash, now])?;
        Ok(())
    }

    /// Closes an account or opens it again. Closed, its sessions, calendar links, tokens and links for a password end.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is nobody with this address.
    pub fn set_closed(&mut self, email: &str, closed: bool) -> Result<()> {
        let connection = self.rows().connection;
        if closed {
            for table in ["session", "calendar_link", "token", "once_link"] {
                let sql = format!("DELETE FROM {table} WHERE user_id = (SELECT id FROM user WHERE email = ?1)");
                connection.execute(&sql, [email])?;
            }
        }
        let sql = "UPDATE user SET closed = ?2 WHERE email = ?1";
        somebody(email, connection.execute(sql, params![email, closed])?)
    }

    /// Ends a calendar link.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none of this number.
    pub fn end_calendar_link(&mut self, id: i64) -> Result<()> {
        match self.rows().connection.execute("DELETE FROM calendar_link WHERE id = ?1", [id])? {
            0 => Err(Error::NotFound(format!("calendar link {id}"))),
            _ => Ok(()),
        }
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
