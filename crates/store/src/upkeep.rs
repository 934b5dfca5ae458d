//! Backup, restoring, and whole workspaces in and out.

use std::collections::VecDeque;
use std::io::{self, Read, Seek, Write};
use std::path::Path;

use iron_kite_core::formats::workspace::{Contents, Writer, rows};
use iron_kite_core::things::ThingKind;
use rusqlite::backup::Backup;
use rusqlite::{Connection, OpenFlags, params_from_iter};
use serde::Serialize;
use serde_json::{Map, Value};

use crate::error::{Error, Result};
use crate::open;
use crate::queries::files::{FileHead, keep};
use crate::rows::{Bound, Rows};
use crate::shape::{columns_of, json_object};
use crate::verify::found_in;
use crate::writer::Tx;

/// Copies a database while it may be in use, in one step, and checks the copy.
pub(crate) fn backup(dir: &Path, to: &Path) -> Result<()> {
    if to.exists() {
        return Err(Error::Refused(format!("{} is there already; name a new file", to.display())));
    }
    let from = Connection::open_with_flags(crate::database_path(dir), OpenFlags::SQLITE_OPEN_READ_ONLY)?;
    let mut copy = Connection::open(to)?;
    Backup::new(&from, &mut copy)?.step(-1)?;
    sound(&copy)
}

pub(crate) fn restore(backup: &Path, dir: &Path) -> Result<()> {
    let path = crate::database_path(dir);
    if path.exists() {
        return Err(Error::Refused(format!(
            "there is a workspace in {} already; name an empty folder, or move that one away first",
            dir.display()
        )));
    }
    let from = Connection::open_with_flags(backup, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
    sound(&from).map_err(|_| Error::Refused(format!("{} is no sound backup of Iron Kite", backup.display())))?;
    std::fs::create_dir_all(dir).map_err(|fault| Error::File(dir.to_owned(), fault))?;
    let mut to = Connection::open(&path)?;
    Backup::new(&from, &mut to)?.step(-1)?;
    drop(to);
    open::prepare(dir).map(drop)
}

fn sound(connection: &Connection) -> Result<()> {
    let verdict: String = connection.query_row("PRAGMA quick_check(1)", [], |row| row.get(0))?;
    if verdict == "ok" && open::is_ours(connection)? {
        Ok(())
    } else {
        Err(Error::Refused(format!("the database is not sound: {verdict}")))
    }
}

/// Tables of a whole workspace beside those of the ledger. Sessions and passwords stay here.
const BESIDE: [&str; 10] = [
    "user",
    "change_set",
    "change",
    "reading",
    "follow",
    "notice_setting",
    "file",
    "file_part",
    "attachment",
    "calendar_link",
];
/// The one column that holds bytes.
const BYTES: &str = "bytes";

/// Of these only what an attachment holds goes out: what waits is no part of the workspace yet.
const OF_ATTACHMENTS: [(&str, &str); 2] = [("file", "id"), ("file_part", "file_id")];

/// How bytes are read that a file of a version holds.
fn bytes_of(version: u32) -> &'static str {
    if version == 1 { "unhex" } else { "kite_unbase64" }
}

/// In the order in which they are brought in: what is kept side by side follows from what is there already.
fn tables() -> impl Iterator<Item = String> {
    let user = std::iter::once(BESIDE[0]);
    user.chain(ThingKind::ALL.iter().map(|kind| kind.name())).chain(BESIDE.into_iter().skip(1)).map(str::to_owned)
}

impl Rows<'_> {
    /// Writes the whole workspace. People come without their passwords.
    ///
    /// # Errors
    /// Where the store fails, or the file cannot be written.
    pub fn write_whole(&self, out: &mut dyn Write) -> Result<()> {
        let to_file = |fault: io::Error| match fault.kind() {
            io::ErrorKind::StorageFull => Error::Full,
            _ => Error::Refused(format!("the file cannot be written: {fault}")),
        };
        let mut file = Writer::new(out).map_err(to_file)?;
        for table in tables() {
            file.table(&table).map_err(to_file)?;
            let columns: Vec<String> =
                columns_of(self.connection, &table)?.into_iter().filter(|name| name != "password_hash").collect();
            let json = json_object("", &columns).replace("\"bytes\"", "kite_base64(\"bytes\")");
            // By the first two columns: the number, or for `reading` both parts of its key.
            let held = OF_ATTACHMENTS.iter().find(|(name, _)| *name == table);
            let held = held.map_or(String::new(), |(_, id)| format!("WHERE {id} IN (SELECT file_id FROM attachment)"));
            let sql = format!("SELECT {json} FROM {table} {held} ORDER BY {}, {}", columns[0], columns[1]);
            let mut statement = self.connection.prepare(&sql)?;
            let mut rows = statement.query([])?;
            while let Some(row) = rows.next()? {
                file.row(row.get_ref(0)?.as_str().map_err(rusqlite::Error::from)?).map_err(to_file)?;
            }
        }
        file.end().map_err(to_file).map(drop)
    }

    /// Whether nothing is in the workspace but people who can sign in.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn is_empty(&self) -> Result<bool> {
        for kind in ThingKind::ALL {
            let some = format!("SELECT EXISTS (SELECT 1 FROM {kind})");
            if self.connection.query_row(&some, [], |row| row.get(0))? {
                return Ok(false);
            }
        }
        Ok(true)
    }
}

/// What came with a whole workspace.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct BroughtWhole {
    /// How many rows.
    pub rows: usize,
    /// The addresses of people who have no password here yet.
    pub without_password: Vec<String>,
}

/// Puts a whole workspace into this empty one. People who are here already keep their passwords
/// and, by their address, become the same people there; the others follow under new numbers. What came is looked at as
/// [`crate::verify`] does. Linear in the file where its tables come in our order; one more time through it for each that does not.
///
/// # Errors
/// [`Error::Refused`] where this workspace is not empty, or the file is damaged or does not fit.
pub fn brought_whole(tx: &mut Tx<'_>, contents: &Contents, file: &mut (impl Read + Seek)) -> Result<BroughtWhole> {
    let rows = tx.rows();
    if !rows.is_empty()? {
        return Err(Error::Refused("this workspace is not empty; import into a new one".into()));
    }
    if let Some(strange) = contents.tables.iter().find(|name| !tables().any(|table| table == **name)) {
        return Err(Error::Refused(format!("the file has a table '{strange}' that this program does not know")));
    }
    tx.without_ledger();
    let here = people_here(rows.connection)?;
    rows.connection.execute_batch(
        "PRAGMA defer_foreign_keys = ON; DELETE FROM change; DELETE FROM change_set; DELETE FROM user;",
    )?;
    let count = insert_all(rows.connection, contents, file)?;
    put_people_back(rows.connection, here)?;
    never_again(rows.connection)?;
    // What was written elsewhere is no news here, and no rule looks at it.
    let newest = rows.newest_change()?;
    tx.set_followed_up(newest)?;
    let rows = tx.rows();
    crate::queries::fields::index_own(rows.connection)?;
    if let Some(fault) = found_in(&rows).faults.into_iter().next() {
        return Err(Error::Refused(format!("the file does not hold together: {fault}")));
    }
    let mut statement = rows.connection.prepare("SELECT email FROM user WHERE password_hash IS NULL ORDER BY id")?;
    let without_password = statement.query_map([], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?;
    Ok(BroughtWhole { rows: count, without_password })
}

/// Numbers that the ledger knows are never given again, also those of things that were removed.
fn never_again(connection: &Connection) -> Result<()> {
    for kind in ThingKind::ALL {
        connection.execute_batch(&format!(
            "CREATE TEMP TABLE used AS SELECT max(id) AS seq FROM
               (SELECT max(row_id) AS id FROM change WHERE kind = '{kind}' UNION ALL SELECT max(id) FROM {kind});
             DELETE FROM sqlite_sequence WHERE name = '{kind}';
             INSERT INTO sqlite_sequence(name, seq) SELECT '{kind}', seq FROM used WHERE seq IS NOT NULL;
             DROP TABLE used;"
        ))?;
    }
    Ok(())
}

/// Inserts the rows of all tables, in our order; gives how many they are.
fn insert_all(connection: &Connection, contents: &Contents, file: &mut (impl Read + Seek)) -> Result<usize> {
    let mut left: VecDeque<String> = tables().filter(|table| contents.tables.contains(table)).collect();
    let (mut known, mut count) = (Vec::new(), 0);
    while !left.is_empty() {
        file.rewind().map_err(|fault| Error::Refused(format!("the file cannot be read: {fault}")))?;
        let wanted = |table: &str| left.pop_front_if(|next| next == table).is_some();
        let mut table_known = String::new();
        rows(&mut *file, wanted, |table, row| -> Result<()> {
            if table_known != table {
                known = columns_of(connection, table)?;
                table.clone_into(&mut table_known);
            }
            count += 1;
            let bytes = bytes_of(contents.version);
            let row = if table == "attachment" { with_file(connection, bytes, row)? } else { row };
            insert_whole(connection, table, &known, bytes, &row)
        })?;
    }
    Ok(count)
}

/// An attachment of a version that kept its bytes with it, as it is now.
fn with_file(connection: &Connection, bytes: &str, mut row: Map<String, Value>) -> Result<Map<String, Value>> {
    let Some(held) = row.remove(BYTES) else { return Ok(row) };
    let held: Option<Vec<u8>> =
        connection.query_row(&format!("SELECT {bytes}(?1)"), [Bound(&held)], |row| row.get(0))?;
    let number = |name: &str| row.get(name).and_then(Value::as_i64);
    let held = held.unwrap_or_default();
    let mut head = FileHead::of(&held, number("user_id"), number("made_at").unwrap_or_default());
    if let Some(Value::String(digest)) = row.get("digest") {
        digest.clone_into(&mut head.digest);
    }
    let file = keep(connection, &head, &held)?;
    row.remove("digest");
    row.insert("file_id".to_owned(), file.into());
    Ok(row)
}

fn insert_whole(
    connection: &Connection,
    table: &str,
    known: &[String],
    bytes: &str,
    row: &Map<String, Value>,
) -> Result<()> {
    if let Some(strange) = row.keys().find(|name| !known.contains(name) || *name == "password_hash") {
        return Err(Error::Refused(format!("the file has a column '{strange}' in {table} that cannot be taken")));
    }
    let columns: Vec<String> = row.keys().map(|name| format!("\"{name}\"")).collect();
    let mark = |(n, name): (usize, &String)| {
        if name == BYTES { format!("{bytes}(?{})", n + 1) } else { format!("?{}", n + 1) }
    };
    let marks: Vec<String> = row.keys().enumerate().map(mark).collect();
    let sql = format!("INSERT INTO {table} ({}) VALUES ({})", columns.join(", "), marks.join(", "));
    connection
        .prepare_cached(&sql)?
        .execute(params_from_iter(row.values().map(Bound)))
        .map_err(|fault| Error::Refused(format!("a row of {table} in the file does not fit: {fault}")))?;
    Ok(())
}

type PersonHere = (String, String, String, Option<String>, bool, Vec<(String, i64)>);

fn people_here(connection: &Connection) -> Result<Vec<PersonHere>> {
    let mut statement =
        connection.prepare("SELECT id, email, name, role, password_hash, closed FROM user ORDER BY id")?;
    let mut rows = statement.query([])?;
    let mut people = Vec::new();
    while let Some(row) = rows.next()? {
        let mut sessions = connection.prepare("SELECT key_hash, ends_at FROM session WHERE user_id = ?1")?;
        let open = sessions
            .query_map([row.get::<_, i64>(0)?], |row| Ok((row.get(0)?, row.get(1)?)))?
            .collect::<rusqlite::Result<Vec<_>>>()?;
        people.push((row.get(1)?, row.get(2)?, row.get(3)?, row.get(4)?, row.get(5)?, open));
    }
    Ok(people)
}

fn put_people_back(connection: &Connection, here: Vec<PersonHere>) -> Result<()> {
    for (email, name, role, password, closed, sessions) in here {
        connection.execute(
            "INSERT INTO user(email, name, role, password_hash, closed) VALUES (?1, ?2, ?3, ?4, ?5)
             ON CONFLICT(email) DO UPDATE SET password_hash = excluded.password_hash, role = excluded.role, closed = excluded.closed",
            rusqlite::params![email, name, role, password, closed],
        )?;
        for (key, ends_at) in sessions {
            connection.execute(
                "INSERT INTO session(key_hash, user_id, ends_at) SELECT ?1, id, ?3 FROM user WHERE email = ?2",
                rusqlite::params![key, email, ends_at],
            )?;
        }
    }
    Ok(())
}
