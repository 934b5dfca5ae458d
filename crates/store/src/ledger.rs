//! The ledger: every row before and after each change, grouped into sets that say who, when, why and
//! by what way. From it come history, undo and redo, and live updates.

use std::collections::BTreeSet;
use std::sync::atomic::{AtomicI64, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::functions::FunctionFlags;
use rusqlite::{Connection, OptionalExtension, params};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::shape::{OWN, Shape, content, values};

/// The number of a change set.
pub type ChangeSetId = i64;

/// By what way a change came.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Way {
    /// Somebody did it in the interface or by a command.
    Person,
    /// A program did it on somebody's behalf, with a token of theirs.
    Program,
    /// It came with a file.
    Import,
    /// It took back or did again another change.
    Undo,
    /// The engine put it there.
    Engine,
    /// A rule of the team's did it.
    Rule,
}

impl Way {
    pub(crate) fn name(self) -> &'static str {
        match self {
            Way::Person => "person",
            Way::Program => "program",
            Way::Import => "import",
            Way::Undo => "undo",
            Way::Engine => "engine",
            Way::Rule => "rule",
        }
    }
}

/// A change set as history shows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ChangeSet {
    /// Its number.
    pub id: ChangeSetId,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// Who.
    pub user_name: Option<String>,
    /// What was done, in a few words.
    pub label: String,
    /// By what way.
    pub way: String,
    /// Whether it was taken back since.
    pub undone: bool,
}

/// What an undo did.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Undo {
    /// The label of the set that was taken back.
    pub label: String,
    /// How many rows were put back.
    pub rows: usize,
}

/// Why a set cannot be taken back.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum UndoRefused {
    /// It is taken back already, or there is no such set.
    NothingToUndo,
    /// This row was changed since.
    ChangedSince(Thing),
    /// Something added since hangs on this row.
    InUse(Thing),
}

/// What the triggers on the writing connection report to.
#[derive(Debug, Default)]
pub(crate) struct Present {
    set: AtomicI64,
    touched: Mutex<Touched>,
}

/// What was written in a set so far.
#[derive(Debug, Clone, Default)]
pub(crate) struct Touched {
    kinds: BTreeSet<ThingKind>,
    changes: u64,
}

impl Present {
    /// Begins a set; 0 stands for "no ledger", used when a whole workspace comes in with its own.
    pub(crate) fn begin(&self, set: ChangeSetId) {
        self.go_on(set);
        *self.so_far() = Touched::default();
    }

    /// Goes on with a set, with what it changed so far, or with no ledger.
    pub(crate) fn go_on(&self, set: ChangeSetId) {
        self.set.store(set, Ordering::Relaxed);
    }

    pub(crate) fn set(&self) -> ChangeSetId {
        self.set.load(Ordering::Relaxed)
    }

    /// How far the set is, to come back to.
    pub(crate) fn mark(&self) -> Touched {
        self.so_far().clone()
    }

    /// Comes back to where the set was: what was written since is not there any more.
    pub(crate) fn back_to(&self, mark: Touched) {
        *self.so_far() = mark;
    }

    /// How many rows were changed in this set, and the kinds of them.
    pub(crate) fn touched(&self) -> (u64, Vec<ThingKind>) {
        let so_far = self.so_far();
        (so_far.changes, so_far.kinds.iter().copied().collect())
    }

    fn so_far(&self) -> MutexGuard<'_, Touched> {
        self.touched.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// Puts the triggers on the writing connection. They are temporary and made from the schema, so a
/// new column needs no change here. An update that does not raise `rev` is refused, but of what follows from other columns.
pub(crate) fn attach(connection: &Connection, shape: &Shape) -> Result<Arc<Present>> {
    let present = Arc::new(Present::default());
    let seen = Arc::clone(&present);
    let flags = FunctionFlags::SQLITE_UTF8;
    connection.create_scalar_function("kite_set", 1, flags, move |context| {
        let mut so_far = seen.so_far();
        let place = usize::try_from(context.get::<i64>(0)?).unwrap_or(usize::MAX);
        so_far.kinds.extend(ThingKind::ALL.get(place));
        so_far.changes += 1;
        Ok(seen.set.load(Ordering::Relaxed))
    })?;
    let on = Arc::clone(&present);
    connection.create_scalar_function("kite_on", 0, flags, move |_| Ok(on.set.load(Ordering::Relaxed) > 0))?;
    for (place, kind) in ThingKind::ALL.iter().enumerate() {
        let old = shape.ledger_json(*kind, "OLD.");
        let new = shape.ledger_json(*kind, "NEW.");
        let record = |row: &str, before: &str, after: &str| {
            format!(
                "INSERT INTO change(set_id, kind, row_id, before, after) VALUES (kite_set({place}), '{kind}', {row}.id, {before}, {after});"
            )
        };
        connection.execute_batch(&format!(
            "CREATE TEMP TRIGGER ledger_{kind}_insert AFTER INSERT ON main.{kind} WHEN kite_on() BEGIN {} END;
             CREATE TEMP TRIGGER ledger_{kind}_update AFTER UPDATE OF {} ON main.{kind} WHEN kite_on() BEGIN
               SELECT RAISE(ABORT, 'an update of {kind} did not raise rev') WHERE NEW.rev <> OLD.rev + 1; {} END;
             CREATE TEMP TRIGGER ledger_{kind}_delete AFTER DELETE ON main.{kind} WHEN kite_on() BEGIN {} END;",
            record("NEW", "NULL", &new),
            shape.changed_columns(*kind),
            record("NEW", &old, &new),
            record("OLD", &old, "NULL"),
        ))?;
    }
    Ok(present)
}

/// One recorded change.
struct Change {
    thing: Thing,
    before: Option<String>,
    after: Option<String>,
}

impl Change {
    /// The names of the values that it changed in a row that was there before and after. Only these does it hold against what
    /// came later: who changed something else of the row is not in its way.
    fn names(&self) -> Option<BTreeSet<String>> {
        let (before, after) = (self.before.as_deref()?, self.after.as_deref()?);
        let (before, after) = (values(self.thing.kind, before), values(self.thing.kind, after));
        let all: BTreeSet<&String> = before.keys().chain(after.keys()).collect();
        Some(all.into_iter().filter(|name| before.get(*name) != after.get(*name)).cloned().collect())
    }
}

/// A part of a change set: what it did to one row, or to some values of it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Part {
    /// The row.
    pub thing: Thing,
    /// The values by name; all that changed where none is named.
    pub names: BTreeSet<String>,
}

/// Takes back a set or a part of it, row by row from the last to the first, as changes of the present set.
///
/// Every row must stand as the set left it, as far as the set changed it; else nothing is changed and the row is named.
pub(crate) fn undo(
    rows: &Rows<'_>,
    set: ChangeSetId,
    part: Option<&Part>,
) -> Result<std::result::Result<Undo, UndoRefused>> {
    let head: Option<(String, bool)> = rows
        .connection
        .query_row("SELECT label, undone FROM change_set WHERE id = ?1", [set], |row| Ok((row.get(0)?, row.get(1)?)))
        .optional()?;
    let Some((label, false)) = head else { return Ok(Err(UndoRefused::NothingToUndo)) };
    let mut changes = changes_of(rows.connection, set)?;
    changes.retain(|change| part.is_none_or(|part| part.thing == change.thing));
    let mut taken_back = 0;
    for change in changes.iter().rev() {
        match take_back(rows, set, change, part.map(|part| &part.names)) {
            Ok(Ok(done)) => taken_back += usize::from(done),
            Ok(Err(refused)) => return Ok(Err(refused)),
            Err(Error::Sqlite(rusqlite::Error::SqliteFailure(fault, _)))
                if fault.code == rusqlite::ErrorCode::ConstraintViolation =>
            {
                return Ok(Err(UndoRefused::InUse(change.thing)));
            }
            Err(fault) => return Err(fault),
        }
    }
    if part.is_some() {
        let nothing = Err(UndoRefused::NothingToUndo);
        return Ok(if taken_back == 0 { nothing } else { Ok(Undo { label, rows: taken_back }) });
    }
    rows.connection.execute("UPDATE change_set SET undone = 1 WHERE id = ?1", [set])?;
    // To take back an undo is to do again what it took back.
    let again = "UPDATE change_set SET undone = 0 WHERE id = (SELECT undoes FROM change_set WHERE id = ?1)";
    rows.connection.execute(again, [set])?;
    Ok(Ok(Undo { label, rows: changes.len() }))
}

/// Takes back one change, or those of its values that are named. Whether there was anything to take back.
fn take_back(
    rows: &Rows<'_>,
    set: ChangeSetId,
    change: &Change,
    only: Option<&BTreeSet<String>>,
) -> Result<std::result::Result<bool, UndoRefused>> {
    let kind = change.thing.kind;
    let present = present_row(rows, change.thing)?;
    let changed_since = Ok(Err(UndoRefused::ChangedSince(change.thing)));
    if let (Some(mut names), Some(before), Some(after)) = (change.names(), &change.before, &change.after) {
        names.retain(|name| only.is_none_or(|only| only.is_empty() || only.contains(name)));
        let Some(present) = present else { return changed_since };
        let (now, left) = (values(kind, &present), values(kind, after));
        if names.iter().any(|name| now.get(name) != left.get(name)) {
            return changed_since;
        }
        if !names.is_empty() {
            rows.update(change.thing, &put_back(rows, change.thing, before, &present, &names)?)?;
        }
        return Ok(Ok(!names.is_empty()));
    }
    let content = |json: Option<&str>| json.map(|json| content(kind, json));
    if content(present.as_deref()) != content(change.after.as_deref()) {
        return changed_since;
    }
    match &change.before {
        Some(before) => {
            let row = serde_json::from_str(before)?;
            if kind == ThingKind::Link {
                make_way(rows, set, &row)?;
            }
            rows.insert(kind, &row)?;
        }
        None => {
            unlink(rows, change.thing)?;
            if in_use(rows.connection, change.thing)? {
                return Ok(Err(UndoRefused::InUse(change.thing)));
            }
            rows.delete(change.thing)?;
        }
    }
    Ok(Ok(true))
}

/// The columns of a row with which the named values are again as they were.
fn put_back(
    rows: &Rows<'_>,
    thing: Thing,
    before: &str,
    present: &str,
    names: &BTreeSet<String>,
) -> Result<Map<String, Value>> {
    let (was, present): (Map<String, Value>, Map<String, Value>) =
        (serde_json::from_str(before)?, serde_json::from_str(present)?);
    let own_of = |row: &Map<String, Value>| -> Result<Map<String, Value>> {
        let own = row.get(OWN).and_then(Value::as_str);
        Ok(own.map(serde_json::from_str).transpose()?.unwrap_or_default())
    };
    let (columns, own): (Vec<&String>, Vec<&String>) =
        names.iter().partition(|name| rows.shape.columns(thing.kind).contains(name));
    let value = |name: &String| was.get(name).cloned().unwrap_or_default();
    let mut set: Map<String, Value> = columns.into_iter().map(|name| (name.clone(), value(name))).collect();
    if !own.is_empty() {
        let (held_then, mut held) = (own_of(&was)?, own_of(&present)?);
        for name in own {
            match held_then.get(name) {
                Some(value) => drop(held.insert(name.clone(), value.clone())),
                None => drop(held.remove(name)),
            }
        }
        set.insert(OWN.into(), if held.is_empty() { Value::Null } else { Value::Object(held) });
    }
    Ok(set)
}

fn changes_of(connection: &Connection, set: ChangeSetId) -> Result<Vec<Change>> {
    let mut statement =
        connection.prepare_cached("SELECT kind, row_id, before, after FROM change WHERE set_id = ?1 ORDER BY id")?;
    let mut rows = statement.query([set])?;
    let mut changes = Vec::new();
    while let Some(row) = rows.next()? {
        let kind: ThingKind = row.get::<_, String>(0)?.parse().map_err(Error::Refused)?;
        changes.push(Change { thing: Thing { kind, id: row.get(1)? }, before: row.get(2)?, after: row.get(3)? });
    }
    Ok(changes)
}

fn present_row(rows: &Rows<'_>, thing: Thing) -> Result<Option<String>> {
    let sql = format!("SELECT {} FROM {} WHERE id = ?1", rows.shape.ledger_json(thing.kind, ""), thing.kind);
    Ok(rows.connection.prepare_cached(&sql)?.query_row([thing.id], |row| row.get(0)).optional()?)
}

/// What the engine linked to a thing goes with it: nobody works with that.
fn unlink(rows: &Rows<'_>, thing: Thing) -> Result<()> {
    let sql = "SELECT id FROM link WHERE sure IS NOT NULL AND ((from_kind = ?1 AND from_id = ?2) OR (to_kind = ?1 AND to_id = ?2))";
    let mut statement = rows.connection.prepare_cached(sql)?;
    let links = statement.query_map(params![thing.kind.name(), thing.id], |row| row.get(0))?;
    for link in links.collect::<rusqlite::Result<Vec<i64>>>()? {
        rows.delete(Thing::new(ThingKind::Link, link))?;
    }
    Ok(())
}

/// What the engine linked a thing to because a link was gone goes when that comes back.
fn make_way(rows: &Rows<'_>, set: ChangeSetId, link: &Map<String, Value>) -> Result<()> {
    let sql = "SELECT id FROM link WHERE sure IS NOT NULL AND from_kind = ?1 AND from_id = ?2 AND kind = ?3 AND EXISTS
        (SELECT 1 FROM change WHERE kind = 'link' AND row_id = link.id AND before IS NULL AND set_id > ?4)";
    let text = |name: &str| link.get(name).and_then(Value::as_str);
    let from = link.get("from_id").and_then(Value::as_i64);
    let mut statement = rows.connection.prepare_cached(sql)?;
    let later = statement.query_map(params![text("from_kind"), from, text("kind"), set], |row| row.get(0))?;
    for link in later.collect::<rusqlite::Result<Vec<i64>>>()? {
        rows.delete(Thing::new(ThingKind::Link, link))?;
    }
    Ok(())
}

/// Whether a link or a comment hangs on the thing. Foreign keys say the same of everything else.
fn in_use(connection: &Connection, thing: Thing) -> Result<bool> {
    let sql = "SELECT EXISTS (SELECT 1 FROM link WHERE from_kind = ?1 AND from_id = ?2)
            OR EXISTS (SELECT 1 FROM link WHERE to_kind = ?1 AND to_id = ?2)
            OR EXISTS (SELECT 1 FROM comment WHERE on_kind = ?1 AND on_id = ?2)";
    Ok(connection.prepare_cached(sql)?.query_row(params![thing.kind.name(), thing.id], |row| row.get(0))?)
}
