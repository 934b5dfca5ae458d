//! The full-text index of things: what search looks through, as the descriptions of the kinds say. It is kept by temporary
//! triggers on the writing connection, and made anew where a description says something else than when it was made.

use std::fmt::Write as _;

use iron_kite_core::kind::{Searched, SearchedTitle};
use iron_kite_core::things::ThingKind;
use rusqlite::{Connection, OptionalExtension, params};

use crate::error::Result;
use crate::queries::files::Digester;

/// The number of a row in the index is that of the thing times this, and the slot of its kind.
const SLOTS: u32 = 256;

/// How the index is named among what follows from descriptions.
const NAME: &str = "thing_words";

fn searched() -> impl Iterator<Item = (ThingKind, Searched)> {
    ThingKind::ALL.iter().filter_map(|kind| Some((*kind, kind.description().searched?)))
}

/// What a thing behind an alias is called by, and what else it says.
fn said(kind: ThingKind, searched: Searched, alias: &str) -> (String, String) {
    let title = match searched.title {
        SearchedTitle::Column(column) => format!("{alias}.{column}"),
        SearchedTitle::Of { relation, column } => match kind.description().relation(relation) {
            Some(other) => format!("(SELECT o.{column} FROM {} o WHERE o.id = {alias}.{relation})", other.to),
            None => "NULL".to_owned(),
        },
    };
    let body: Vec<String> = searched.body.iter().map(|column| format!("{alias}.{column}")).collect();
    let body = match body.as_slice() {
        [] => "NULL".to_owned(),
        [one] => one.clone(),
        several => format!("concat_ws(' ', {})", several.join(", ")),
    };
    (title, body)
}

/// What the index is to hold: its rows, as `rowid`, `kind`, `thing_id`, `title` and `body`.
pub(crate) fn all_said() -> String {
    let of = |(kind, searched): (ThingKind, Searched)| {
        let (title, body) = said(kind, searched, "t");
        let slot = searched.slot;
        format!("SELECT t.id * {SLOTS} + {slot}, '{kind}', t.id, {title}, {body} FROM {kind} t")
    };
    searched().map(of).collect::<Vec<_>>().join(" UNION ALL ")
}

/// Makes the index anew from the things. Marks of what was taken out of it would stay in it, so it is built anew as well.
pub(crate) fn fill(connection: &Connection) -> Result<()> {
    connection.execute_batch(&format!(
        "DELETE FROM thing_words;
         INSERT INTO thing_words(rowid, kind, thing_id, title, body) {};
         INSERT INTO thing_words(thing_words) VALUES ('rebuild');",
        all_said()
    ))?;
    Ok(())
}

/// Whether the index was made by the descriptions of this program.
pub(crate) fn is_by_descriptions(connection: &Connection) -> Result<bool> {
    let sql = "SELECT made_by FROM derived WHERE name = ?1";
    let made_by: Option<String> = connection.query_row(sql, [NAME], |row| row.get(0)).optional()?;
    Ok(made_by == Some(fingerprint()))
}

fn fingerprint() -> String {
    let mut digest = Digester::default();
    digest.add(all_said().as_bytes());
    digest.end()
}

/// Puts the triggers on the writing connection, and makes the index anew where that is needed.
pub(crate) fn attach(connection: &Connection) -> Result<()> {
    for (kind, searched) in searched() {
        connection.execute_batch(&triggers(kind, searched))?;
    }
    if is_by_descriptions(connection)? {
        return Ok(());
    }
    let whole = connection.unchecked_transaction()?;
    fill(&whole)?;
    let sql = "INSERT OR REPLACE INTO derived(name, made_by) VALUES (?1, ?2)";
    whole.execute(sql, params![NAME, fingerprint()])?;
    Ok(whole.commit()?)
}

fn triggers(kind: ThingKind, searched: Searched) -> String {
    let slot = searched.slot;
    let (title, body) = said(kind, searched, "NEW");
    let own = match searched.title {
        SearchedTitle::Column(column) => column,
        SearchedTitle::Of { relation, .. } => relation,
    };
    let columns = [&[own], searched.body].concat().join(", ");
    let mut sql = format!(
        "CREATE TEMP TRIGGER words_{kind}_insert AFTER INSERT ON main.{kind} BEGIN
           INSERT INTO thing_words(rowid, kind, thing_id, title, body)
             VALUES (NEW.id * {SLOTS} + {slot}, '{kind}', NEW.id, {title}, {body}); END;
         CREATE TEMP TRIGGER words_{kind}_update AFTER UPDATE OF {columns} ON main.{kind} BEGIN
           UPDATE thing_words SET title = {title}, body = {body} WHERE rowid = NEW.id * {SLOTS} + {slot}; END;
         CREATE TEMP TRIGGER words_{kind}_delete AFTER DELETE ON main.{kind} BEGIN
           DELETE FROM thing_words WHERE rowid = OLD.id * {SLOTS} + {slot}; END;"
    );
    if let SearchedTitle::Of { relation, column } = searched.title
        && let Some(other) = kind.description().relation(relation)
    {
        let _ = write!(
            sql,
            "CREATE TEMP TRIGGER words_{kind}_of AFTER UPDATE OF {column} ON main.{} BEGIN
               UPDATE thing_words SET title = NEW.{column} WHERE rowid IN
                 (SELECT t.id * {SLOTS} + {slot} FROM {kind} t WHERE t.{relation} = NEW.id); END;",
            other.to
        );
    }
    sql
}
