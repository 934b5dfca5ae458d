//! Things of a collection from a table: one for each row, by the headings that name its fields.

use iron_kite_core::fields::{Collection, FieldDef, FieldType, read_text};
use iron_kite_core::formats::table::{self, BadRow, Table};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{Level, ProductId};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use utoipa::ToSchema;

use super::add::{NewThing, addable, put_in};
use crate::call::{App, Call, Saved};

/// A table of new things.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ThingsTable {
    /// The product that they are for.
    pub product: ProductId,
    /// For work items: their level; stories where left out.
    #[serde(default)]
    pub level: Option<Level>,
    /// The table as text: headings, and one row for each thing.
    pub text: String,
}

/// What a table came to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ThingsRead {
    /// What was saved.
    pub saved: Saved,
    /// How many things were added.
    pub added: usize,
    /// Rows that were left out, and why.
    pub left_out: Vec<BadRow>,
    /// Headings that name no field that can be filled in.
    pub unknown: Vec<String>,
}

/// So many rows at once.
const MOST: usize = 5_000;

/// Adds a thing for each row of a table. A heading is the label or the name of a field, in any case; what names none is told
/// and left out, as is a row that does not fit. One undo takes all of them away.
///
/// # Errors
/// Where no heading names what a thing is called, or the collection's things come another way.
pub fn add_table(app: &App, call: &Call, collection: Collection, ask: ThingsTable) -> Result<ThingsRead, Problem> {
    let right = addable(collection)?;
    let known: Vec<FieldDef> = app.read(call, right, |rows| Ok(rows.catalogue()?.of(collection)))?;
    let table = table::read(ask.text.as_bytes()).map_err(|words| Problem::invalid("/text", words))?;
    if table.rows.len() > MOST {
        let words = format!("{} rows are more than can be added at once; take at most {MOST}.", table.rows.len());
        return Err(Problem::TooLarge(words));
    }
    let fields: Vec<Option<FieldDef>> = table.columns.iter().map(|heading| field_of(&known, heading)).collect();
    if !fields.iter().flatten().any(|field| field.name == collection.title_field()) {
        let wanted = known.iter().find(|field| field.name == collection.title_field());
        let label = wanted.map_or("Title", |field| field.label.as_str());
        let words = format!("No heading says what each is called. Head that column “{label}”.");
        return Err(Problem::invalid("/text", words));
    }
    let unknown = table.columns.iter().zip(&fields).filter(|(_, field)| field.is_none());
    let unknown = unknown.map(|(name, _)| name.clone()).collect();
    let (rows, mut left_out) = read_rows(&table, &fields);
    let (product, level) = (ask.product, ask.level);
    let ((added, bad), committed) = app.write(call, right, move |tx| {
        let (mut added, mut bad) = (0_usize, Vec::new());
        for (number, set) in rows {
            match put_in(tx, collection, NewThing { product, level, set }, "") {
                Ok(_) => added += 1,
                Err(Problem::Invalid(faults)) => {
                    let reason = faults.iter().map(|fault| fault.words.as_str()).collect::<Vec<_>>().join(" ");
                    bad.push(BadRow { row: number, reason });
                }
                Err(other) => return Err(other),
            }
        }
        tx.label(format!("added {added} {}", collection.words()));
        Ok((added, bad))
    })?;
    left_out.extend(bad);
    left_out.sort_by_key(|row| row.row);
    let saved = committed.map_or_else(
        || Saved { label: "Nothing changed".into(), ..Saved::default() },
        |done| Saved { change: Some(done.set), label: done.label, ..Saved::default() },
    );
    Ok(ThingsRead { saved, added, left_out, unknown })
}

/// The field that a heading names; links, people, files and what is computed are not filled in from a table.
fn field_of(known: &[FieldDef], heading: &str) -> Option<FieldDef> {
    let plain = |text: &str| text.trim().to_lowercase().replace('_', " ");
    let wanted = plain(heading);
    let takes = |field: &&FieldDef| {
        let told = matches!(field.kind, FieldType::Link { .. } | FieldType::File | FieldType::Member);
        field.editable && field.own.is_none() && !told
    };
    let named = |field: &&FieldDef| plain(&field.label) == wanted || plain(&field.name) == wanted;
    known.iter().filter(takes).find(named).cloned()
}

/// A row by its number in the sheet, with what its cells say.
type ReadRow = (usize, Map<String, Value>);

/// The rows with what their cells say, and those that say something that does not fit.
fn read_rows(table: &Table, fields: &[Option<FieldDef>]) -> (Vec<ReadRow>, Vec<BadRow>) {
    let (mut rows, mut bad) = (Vec::new(), table.bad.clone());
    for row in &table.rows {
        let (mut set, mut fault) = (Map::new(), None);
        for (field, cell) in fields.iter().zip(row.cells.iter()) {
            let Some(field) = field else { continue };
            match read_text(&field.label, &field.kind, cell) {
                Ok(Value::Null) => {}
                Ok(value) => drop(set.insert(field.name.clone(), value)),
                Err(words) => fault = fault.or(Some(words)),
            }
        }
        match fault {
            Some(reason) => bad.push(BadRow { row: row.number, reason }),
            None => rows.push((row.number, set)),
        }
    }
    (rows, bad)
}
