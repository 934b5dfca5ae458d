//! What stands in a workspace, read past the store.

use std::collections::BTreeMap;
use std::path::Path;

use iron_kite_core::things::ThingKind;
use iron_kite_store::{Connection, database_path};

/// The rows of each table but for their revisions, and what triggers keep beside them.
pub type Content = BTreeMap<String, Vec<String>>;

/// What stands in the workspace of this folder.
#[must_use]
pub fn content(dir: &Path) -> Content {
    let connection = Connection::open(database_path(dir)).expect("the workspace opens");
    let beside = ["behind", "heard", "said", "thing_words", "work_below"].map(str::to_owned);
    let tables = ThingKind::ALL.iter().map(ToString::to_string).chain(beside);
    tables.map(|table| (table.clone(), rows_of(&connection, &table))).collect()
}

fn rows_of(connection: &Connection, table: &str) -> Vec<String> {
    let texts = |sql: &str| -> Vec<String> {
        let mut statement = connection.prepare(sql).expect("the table is there");
        let rows = statement.query_map([], |row| row.get(0)).expect("rows");
        rows.collect::<Result<_, _>>().expect("texts")
    };
    let columns = texts(&format!("SELECT name FROM pragma_table_info('{table}') WHERE name <> 'rev'"));
    let each: Vec<String> = columns.iter().map(|name| format!("'{name} ' || quote({name})")).collect();
    let mut rows = texts(&format!("SELECT {} FROM {table}", each.join(" || ' ' || ")));
    // Sums of nothing say nothing.
    let nothing = match table {
        "said" => " items 0 excerpts 0 ",
        "heard" => " excerpts 0 people 0 ",
        _ => return sorted(rows),
    };
    rows.retain(|row| !row.contains(nothing));
    sorted(rows)
}

fn sorted(mut rows: Vec<String>) -> Vec<String> {
    rows.sort_unstable();
    rows
}

/// The tables in which two contents differ, with the rows that only one of them has.
#[must_use]
pub fn differ<'a>(one: &'a Content, other: &'a Content) -> Vec<(&'a str, Vec<&'a String>)> {
    let only = |rows: &'a [String], others: &[String]| -> Vec<&'a String> {
        rows.iter().filter(|row| others.binary_search(row).is_err()).collect()
    };
    one.iter()
        .map(|(table, rows)| (table.as_str(), [only(rows, &other[table]), only(&other[table], rows)].concat()))
        .filter(|(_, rows)| !rows.is_empty())
        .collect()
}
