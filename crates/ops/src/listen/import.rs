//! A file of feedback comes in: looked at first, then taken as one change that can be undone.

use std::collections::HashMap;

use iron_kite_core::formats::table::{self, Table};
use iron_kite_core::listen::{Columns, ImportReport, ImportRow, digest_text, propose_columns, read_item, rows_of};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{AccountId, PersonId, ProductId, Thing, ThingKind};
use iron_kite_store::{Tx, Way};
use jiff::civil::Date;
use serde::Serialize;
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::people::hex;

/// The largest file, in bytes.
pub const MOST_BYTES: usize = 64 * 1024 * 1024;
/// So many rows are shown before anything is taken.
const SHOWN: usize = 8;
/// So much of a cell is shown.
const SHOWN_CHARACTERS: usize = 200;

/// What a file holds, before anything is taken.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Preview {
    /// The headings.
    pub columns: Vec<String>,
    /// The first rows, long cells shortened.
    pub rows: Vec<Vec<String>>,
    /// All rows that can be used.
    pub count: usize,
    /// What would be left out, and why.
    pub left_out: usize,
    /// How the bytes were read.
    pub encoding: String,
    /// What separates the cells.
    pub separator: String,
    /// Which column is what, as far as names and contents tell.
    pub proposed: Columns,
}

/// What came of an import.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Imported {
    /// The change, by which all of it can be taken back.
    pub saved: Saved,
    /// What was added and what was left out.
    pub report: ImportReport,
}

fn table_of(bytes: &[u8]) -> Result<Table, Problem> {
    if bytes.len() > MOST_BYTES {
        return Err(Problem::TooLarge(format!("The file is larger than {} MB. Split it.", MOST_BYTES / 1024 / 1024)));
    }
    table::read(bytes).map_err(|words| Problem::refused("unreadable-file", words))
}

/// Looks into a file. Nothing is written.
///
/// # Errors
/// Where it is no table of text.
pub fn preview(app: &App, call: &Call, bytes: &[u8]) -> Result<Preview, Problem> {
    app.read(call, Right::Listen, |_| Ok(()))?;
    let table = table_of(bytes)?;
    let short = |cell: &String| cell.chars().take(SHOWN_CHARACTERS).collect::<String>();
    Ok(Preview {
        rows: table.rows.iter().take(SHOWN).map(|row| row.cells.iter().map(short).collect()).collect(),
        count: table.rows.len(),
        left_out: table.bad.len(),
        encoding: table.encoding.to_owned(),
        separator: table.separator.to_string(),
        proposed: propose_columns(&table),
        columns: table.columns,
    })
}

/// Takes a file in: items with their excerpts, people and accounts, in one change.
///
/// # Errors
/// Where the file cannot be read, the columns do not fit, or nothing in it can be taken.
pub fn import(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    bytes: &[u8],
    columns: &Columns,
) -> Result<Imported, Problem> {
    app.read(call, Right::Listen, |rows| Ok(rows.json(product.thing()).map(drop)?))?;
    let table = table_of(bytes)?;
    let (rows, report) = rows_of(&table, columns).map_err(|words| Problem::invalid("/columns", words))?;
    if rows.is_empty() {
        let first =
            report.left_out.first().map(|left| format!(" Row {} {}.", left.row, left.reason)).unwrap_or_default();
        return Err(Problem::refused(
            "nothing-to-import",
            format!("No row of this file can be taken.{first} Choose another text column or file."),
        ));
    }
    drop(table);
    let name: String = name.trim().chars().take(200).collect();
    let name = if name.is_empty() { "file".to_owned() } else { name };
    let today = call.today;
    let ((report, source), committed) =
        app.write(&call.by(Way::Import), Right::Listen, move |tx| take(tx, product, &name, today, &rows, report))?;
    let (change, label) = committed.map_or((None, "Nothing new in this file".to_owned()), |c| (Some(c.set), c.label));
    Ok(Imported { saved: Saved { change, label, thing: source, rev: None }, report })
}

type Taken = (ImportReport, Option<Thing>);

fn take(
    tx: &mut Tx<'_>,
    product: ProductId,
    name: &str,
    today: Date,
    rows: &[ImportRow],
    mut report: ImportReport,
) -> Result<Taken, Problem> {
    let mut source = None;
    let mut who = Who::default();
    for row in rows {
        let digest = hex(&Sha256::digest(digest_text(row).as_bytes())[..16]);
        if tx.rows().has_item(product, &digest)? {
            report.duplicates += 1;
            continue;
        }
        let source = match source {
            Some(source) => source,
            None => *source.insert(tx.insert(
                ThingKind::Source,
                &fields(json!({ "product_id": product, "name": name, "brought_on": today.to_string() })),
            )?),
        };
        let (person, account) = who.of(tx, row)?;
        let item = tx.insert(ThingKind::FeedbackItem, &item_row(product, source, row, person, account, digest))?;
        report.added += 1;
        for part in read_item(&row.text) {
            let kind = serde_json::to_value(part.kind).map_err(|fault| Problem::Internal(fault.to_string()))?;
            let excerpt = json!({
                "item_id": item, "from_char": part.span.from, "to_char": part.span.to,
                "kind": kind, "sentiment": part.sentiment,
            });
            tx.insert(ThingKind::Excerpt, &fields(excerpt))?;
            report.excerpts += 1;
        }
    }
    tx.label(format!("brought in {} items from {name}", report.added));
    Ok((report, source.map(|id| Thing::new(ThingKind::Source, id))))
}

fn item_row(
    product: ProductId,
    source: i64,
    row: &ImportRow,
    person: Option<PersonId>,
    account: Option<AccountId>,
    digest: String,
) -> Map<String, Value> {
    fields(json!({
        "product_id": product, "source_id": source, "text": row.text, "said_on": row.said_on,
        "person_id": person, "account_id": account, "rating": row.rating, "extra": row.extra, "digest": digest,
    }))
}

/// Names that were met in this file, so that each is looked up once.
#[derive(Default)]
struct Who {
    accounts: HashMap<String, AccountId>,
    people: HashMap<(String, Option<AccountId>), PersonId>,
}

impl Who {
    fn of(&mut self, tx: &mut Tx<'_>, row: &ImportRow) -> Result<(Option<PersonId>, Option<AccountId>), Problem> {
        let account = match &row.account {
            None => None,
            Some(name) => Some(match self.accounts.get(name) {
                Some(id) => *id,
                None => {
                    let id = tx.account_named(name)?;
                    self.accounts.insert(name.clone(), id);
                    id
                }
            }),
        };
        let person = match &row.person {
            None => None,
            Some(name) => Some(match self.people.get(&(name.clone(), account)) {
                Some(id) => *id,
                None => {
                    let id = tx.person_named(name, account)?;
                    self.people.insert((name.clone(), account), id);
                    id
                }
            }),
        };
        Ok((person, account))
    }
}
