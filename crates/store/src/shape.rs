//! The columns of the ledger's tables, read from the schema, so that nothing lists them twice.

use std::collections::BTreeMap;
use std::fmt::Write;

use iron_kite_core::things::ThingKind;
use rusqlite::Connection;
use serde_json::{Map, Value};

use crate::error::Result;

/// The columns of each kind's table, in the order of the schema.
#[derive(Debug)]
pub struct Shape {
    columns: BTreeMap<ThingKind, Vec<String>>,
    json: BTreeMap<ThingKind, String>,
}

impl Shape {
    /// Reads the schema.
    ///
    /// # Errors
    /// Where the schema cannot be read.
    pub fn read(connection: &Connection) -> Result<Self> {
        let mut columns = BTreeMap::new();
        let mut json = BTreeMap::new();
        for kind in ThingKind::ALL {
            let names = columns_of(connection, kind.name())?;
            json.insert(*kind, json_object("", &names));
            columns.insert(*kind, names);
        }
        Ok(Shape { columns, json })
    }

    /// The columns of a kind's table.
    pub(crate) fn columns(&self, kind: ThingKind) -> &[String] {
        self.columns.get(&kind).map_or(&[], Vec::as_slice)
    }

    /// The SQL expression that makes a row of this kind into a JSON object.
    pub(crate) fn json(&self, kind: ThingKind) -> &str {
        self.json.get(&kind).map_or("NULL", String::as_str)
    }

    /// The same for a row behind an alias (`NEW.`), without `rev` and what follows from other columns: what the ledger
    /// keeps.
    pub(crate) fn ledger_json(&self, kind: ThingKind, alias: &str) -> String {
        let names: Vec<String> = self.kept(kind).filter(|name| *name != "rev").cloned().collect();
        json_object(alias, &names)
    }

    /// The columns that somebody changes, for `UPDATE OF`: those of which the ledger keeps each change, and `rev`.
    pub(crate) fn changed_columns(&self, kind: ThingKind) -> String {
        self.kept(kind).map(|name| format!("\"{name}\"")).collect::<Vec<_>>().join(", ")
    }

    fn kept(&self, kind: ThingKind) -> impl Iterator<Item = &String> {
        self.columns(kind).iter().filter(move |name| !follows(kind, name))
    }
}

/// What stands with an excerpt of its item.
pub(crate) const OF_ITEM: [&str; 6] = ["product_id", "said_on", "source_id", "person_id", "account_id", "rating"];

/// What follows from other columns and rows, and so is no change of anybody's: what the engine tells of an excerpt, what
/// stands with it of its item, and where the words of a comment stand now.
fn follows(kind: ThingKind, name: &str) -> bool {
    const TOLD_BESIDE: [&str; 6] = ["engine", "sure", "language", "meaning_key", "placed", "repeats_id"];
    match kind {
        ThingKind::Excerpt => OF_ITEM.contains(&name) || TOLD_BESIDE.contains(&name),
        ThingKind::Comment => ["from_char", "to_char", "near_before", "near_after"].contains(&name),
        _ => false,
    }
}

/// What the engine tells until a person says what it is (`chosen`).
const TOLD: [&str; 2] = ["kind", "sentiment"];

/// What of a row counts when two states of it are compared: columns without a value are as if they were not there, since a
/// column that was added to the schema later is empty on both sides; and what the engine told is nobody's.
pub(crate) fn content(kind: ThingKind, json: &str) -> Map<String, Value> {
    let all: Map<String, Value> = serde_json::from_str(json).unwrap_or_default();
    let told = kind == ThingKind::Excerpt && all.get("chosen").and_then(Value::as_i64) != Some(1);
    all.into_iter().filter(|(name, value)| !(value.is_null() || told && TOLD.contains(&name.as_str()))).collect()
}

/// The values of a row by name, with those of the team's own fields among them, as far as they count (see [`content`]).
pub(crate) fn values(kind: ThingKind, json: &str) -> Map<String, Value> {
    let mut all = content(kind, json);
    if let Some(Value::String(own)) = all.remove(OWN) {
        all.extend(serde_json::from_str::<Map<String, Value>>(&own).unwrap_or_default());
    }
    all
}

/// The column that holds the values of the team's own fields, as JSON.
pub(crate) const OWN: &str = "own";

/// The same as an SQL expression over one that is such a JSON object.
pub(crate) fn content_sql(kind: ThingKind, json: &str) -> String {
    let valued = format!("json_patch('{{}}', {json})");
    if kind != ThingKind::Excerpt {
        return valued;
    }
    let [first, second] = TOLD;
    format!("CASE WHEN {json} ->> 'chosen' = 1 THEN {valued} ELSE json_remove({valued}, '$.{first}', '$.{second}') END")
}

/// The columns of a table, in the order of the schema.
pub(crate) fn columns_of(connection: &Connection, table: &str) -> Result<Vec<String>> {
    let mut statement = connection.prepare("SELECT name FROM pragma_table_info(?1) ORDER BY cid")?;
    let names = statement.query_map([table], |row| row.get(0))?.collect::<rusqlite::Result<Vec<String>>>()?;
    Ok(names)
}

/// `json_object('a', "a", …)` over these columns.
pub(crate) fn json_object(alias: &str, names: &[String]) -> String {
    let mut sql = String::from("json_object(");
    for (at, name) in names.iter().enumerate() {
        let comma = if at == 0 { "" } else { ", " };
        let _ = write!(sql, "{comma}'{name}', {alias}\"{name}\"");
    }
    sql.push(')');
    sql
}
