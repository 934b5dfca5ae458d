//! Files are put down and looked at: what they hold, and what taking them would do. Nothing is written but the files.

use std::collections::{BTreeMap, HashSet};

use iron_kite_core::formats::table::{BadRow, HowRead, Table};
use iron_kite_core::listen::{Columns, Document, ImportRow, ItemRows, propose_columns, rows_of_documents};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::is_hidden;
use iron_kite_core::things::{ProductId, StudyId};
use iron_kite_documents::{HIDDEN, Held, Hows, Part};
use iron_kite_store::queries::jobs::Incoming;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::take_in::{Standing, covered, standing};
use crate::attachments::check_quota;
use crate::call::{App, Call};
use crate::files;

/// The largest file, in bytes.
pub const MOST_BYTES: usize = 64 * 1024 * 1024;
/// So many rows and documents are shown before anything is taken.
const SHOWN: usize = 8;
/// So much of a cell is shown.
const SHOWN_CHARACTERS: usize = 200;

/// A file that was put down, and what it holds. Nothing of it is written yet.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PutDown {
    /// The number by which it is brought in.
    pub id: i64,
    /// Its name.
    pub name: String,
    /// Its parts: the sheets of a workbook, the files of a ZIP, or the whole.
    pub parts: Vec<PartView>,
}

/// A part of a file.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PartView {
    /// What it is called.
    pub name: String,
    /// Whether what tells who somebody is was covered in the last file of this source.
    pub covers: bool,
    /// How it is read, as far as somebody said so.
    pub how: HowRead,
    /// Whether that can be said: of tables, and of texts that could be one.
    pub can_say_how: bool,
    /// What it holds.
    #[serde(flatten)]
    pub holds: Holds,
}

/// What a part of a file holds.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "holds", rename_all = "snake_case")]
pub enum Holds {
    /// One row for each thing that somebody said.
    Table(TablePreview),
    /// Documents.
    Documents {
        /// The first of them.
        documents: Vec<DocumentPreview>,
        /// What taking them would do.
        counts: Counts,
    },
    /// Something without words, which is kept as it is.
    Wordless {
        /// What it is.
        what: String,
    },
    /// Nothing that can be taken.
    Refused {
        /// Why, and what to do.
        words: String,
    },
}

/// What a table holds, before anything is taken.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TablePreview {
    /// The headings.
    pub columns: Vec<String>,
    /// Whether it has headings; columns are named by their places where not.
    pub headed: bool,
    /// The first rows, long cells shortened.
    pub rows: Vec<Vec<String>>,
    /// What stands above the headings, and rows that may have been meant otherwise.
    pub doubts: Vec<BadRow>,
    /// How it was read, in words.
    pub read_as: String,
    /// Which column is what: as it was remembered, or as far as names and contents tell.
    pub proposed: Columns,
    /// Whether that was remembered from an earlier file.
    pub remembered: bool,
    /// What taking it so would do.
    pub counts: Counts,
}

/// A document, before it is taken.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DocumentPreview {
    /// What it is called.
    pub title: String,
    /// The beginning of its words.
    pub beginning: String,
    /// How many words it has.
    pub words: usize,
    /// Who it is from.
    pub person: Option<String>,
    /// The day that it says, `YYYY-MM-DD`.
    pub said_on: Option<String>,
    /// Who speaks in it.
    pub speakers: Vec<String>,
    /// What of it was not read.
    pub notes: Vec<String>,
}

/// What taking a part would do.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Counts {
    /// Items that would be added.
    pub new: usize,
    /// Rows that are there already.
    pub same: usize,
    /// Rows that are there already with other words.
    pub changed: usize,
    /// Rows that cannot be taken.
    pub left_out: usize,
}

/// A part that is taken.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct PartAsk {
    /// The number of the file that was put down.
    pub file: i64,
    /// Which of its parts, from 0.
    pub part: usize,
    /// Which column is what; as proposed where left out.
    pub columns: Option<Columns>,
    /// Whether mail addresses, telephone, card and account numbers in the words are covered.
    #[serde(default)]
    pub cover: bool,
    /// The study that it was said in.
    pub study: Option<StudyId>,
}

pub(super) fn check_size(bytes: &[u8]) -> Result<(), Problem> {
    if bytes.len() > MOST_BYTES {
        return Err(Problem::TooLarge(format!("The file is larger than {} MB. Split it.", MOST_BYTES / 1024 / 1024)));
    }
    Ok(())
}

/// Puts a file down and tells what it holds and what taking it would do. It waits for a day.
///
/// # Errors
/// Where it is too large. A file that cannot be read is no error: its part says why.
pub fn put_down(app: &App, call: &Call, product: ProductId, name: &str, bytes: Vec<u8>) -> Result<PutDown, Problem> {
    app.read(call, Right::Listen, |rows| {
        rows.json(product.thing())?;
        check_quota(rows, call, bytes.len())
    })?;
    check_size(&bytes)?;
    let name = name_of(name);
    let mut reading = app.reading(call);
    let parts = reading.read(&name, &bytes)?;
    let views = look_at(app, call, product, parts, &Hows::new())?;
    // What a large file held was worked on in its turn, so that there is one such at a time.
    drop(reading);
    let (user, at) = (call.user_id(), call.now.as_millisecond());
    let named = name.clone();
    let id = files::keep(app, call, Right::Listen, &bytes, move |tx, file| {
        Ok(tx.add_incoming(&Incoming { product_id: product, name: named, file, hows: None }, user, at)?)
    })?;
    Ok(PutDown { id, name, parts: views })
}

/// How somebody says that a part of a file that waits is to be read.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ReadAnew {
    /// The number of the file.
    pub file: i64,
    /// What the part is called.
    pub part: String,
    /// How it is to be read.
    pub how: HowRead,
}

/// Looks at a file that waits anew, with a part of it read as somebody says. It is brought in so, too.
///
/// # Errors
/// Where the file was cleared away.
pub fn read_anew(app: &App, call: &Call, ask: ReadAnew) -> Result<PutDown, Problem> {
    let (file, bytes, mut hows) = waiting(app, call, ask.file)?;
    hows.insert(ask.part, ask.how);
    hows.retain(|_, how| *how != HowRead::default());
    let mut reading = app.reading(call);
    let parts = reading.read_as(&file.name, &bytes, &hows)?;
    // Whatever does not hold a part of this name is not kept.
    hows.retain(|name, _| parts.iter().any(|part| part.name == *name));
    let views = look_at(app, call, file.product_id, parts, &hows)?;
    drop(reading);
    let kept = serde_json::to_string(&hows).map_err(|fault| Problem::Internal(fault.to_string()))?;
    app.write(call, Right::Listen, move |tx| Ok(tx.keep_hows(ask.file, &kept)?))?;
    Ok(PutDown { id: ask.file, name: file.name, parts: views })
}

/// A file that waits, with its bytes, and how it is to be read.
pub(super) fn waiting(app: &App, call: &Call, id: i64) -> Result<(Incoming, Vec<u8>, Hows), Problem> {
    app.read(call, Right::Listen, |rows| {
        let file = rows.incoming(id)?;
        let bytes = rows.file_bytes(file.file, 0, usize::MAX)?;
        let hows = file.hows.as_deref().and_then(|hows| serde_json::from_str(hows).ok()).unwrap_or_default();
        Ok((file, bytes, hows))
    })
}

/// Whether a name is that of a text which may be a table.
fn is_plain(name: &str) -> bool {
    let ending = name.rsplit_once('.').map(|(_, ending)| ending.to_lowercase()).unwrap_or_default();
    matches!(ending.as_str(), "csv" | "tsv" | "tab" | "psv" | "txt" | "log")
}

pub(super) fn name_of(name: &str) -> String {
    let name = name.rsplit(['/', '\\']).next().unwrap_or_default();
    let name: String = name.chars().filter(|c| !is_hidden(*c)).take(200).collect();
    if name.trim().is_empty() { "file".to_owned() } else { name.trim().to_owned() }
}

fn look_at(
    app: &App,
    call: &Call,
    product: ProductId,
    parts: Vec<Part>,
    hows: &Hows,
) -> Result<Vec<PartView>, Problem> {
    parts.into_iter().map(|part| look(app, call, product, part, hows)).collect()
}

fn look(app: &App, call: &Call, product: ProductId, part: Part, hows: &Hows) -> Result<PartView, Problem> {
    let Part { name, held } = part;
    let how = hows.get(&name).cloned().unwrap_or_default();
    let can_say_how = match &held {
        Held::Table(table) => table.read_as != "JSON",
        // What was said may be wrong; what is a document may have been meant as a table.
        Held::Refused(_) | Held::Documents(_) => how != HowRead::default() || is_plain(&name),
        Held::Hidden(_) | Held::Wordless { .. } => false,
    };
    let source = app.read(call, Right::Listen, |rows| Ok(rows.source_named(product, &name)?))?;
    let covers = source.is_some_and(|source| source.covers != 0);
    let holds = match held {
        Held::Refused(words) => Holds::Refused { words },
        Held::Hidden(_) => Holds::Refused { words: HIDDEN.to_owned() },
        Held::Wordless { what, .. } => Holds::Wordless { what },
        Held::Documents(documents) => {
            let (rows, report) = rows_of_documents(&documents);
            let counts = counts_of(app, call, product, &name, &mut rows.into_iter().map(|row| as_taken(row, covers)))?;
            let counts = Counts { left_out: report.left_out.len(), ..counts };
            Holds::Documents { documents: documents.iter().take(SHOWN).map(preview_of).collect(), counts }
        }
        Held::Table(table) => {
            let (proposed, remembered) = columns_for(app, call, product, &table)?;
            let counts = table_counts(app, call, product, &name, (&table, &proposed), covers)?.unwrap_or_default();
            let short = |cell: &str| cell.chars().take(SHOWN_CHARACTERS).collect::<String>();
            let above = table.bad.iter().filter(|bad| bad.reason.starts_with("stands above"));
            Holds::Table(TablePreview {
                headed: table.headed,
                doubts: above.chain(&table.doubts).take(SHOWN).cloned().collect(),
                rows: table
                    .rows
                    .iter()
                    .take(SHOWN)
                    .map(|row| (0..table.columns.len()).map(|at| short(row.cells.get(at))).collect())
                    .collect(),
                columns: table.columns,
                read_as: table.read_as,
                proposed,
                remembered,
                counts,
            })
        }
    };
    Ok(PartView { name, covers, how, can_say_how, holds })
}

fn preview_of(document: &Document) -> DocumentPreview {
    let mut speakers: Vec<String> = Vec::new();
    for speaker in document.turns.iter().filter_map(|turn| turn.speaker.clone()) {
        if !speakers.contains(&speaker) {
            speakers.push(speaker);
        }
    }
    DocumentPreview {
        title: document.title.clone(),
        beginning: document.text.trim_start().chars().take(SHOWN_CHARACTERS).collect(),
        words: document.text.split_whitespace().count(),
        person: document.person.clone(),
        said_on: document.said_on.map(|day| day.to_string()),
        speakers,
        notes: document.notes.clone(),
    }
}

/// The columns as they were remembered for a table with the same headings, else as they are proposed.
pub(super) fn columns_for(
    app: &App,
    call: &Call,
    product: ProductId,
    table: &Table,
) -> Result<(Columns, bool), Problem> {
    let kept = app.read(call, Right::Listen, |rows| Ok(rows.mappings(product)?))?;
    let remembered = kept.iter().find_map(|mapping| {
        let mapping: BTreeMap<String, String> = serde_json::from_str(mapping).ok()?;
        // Only where all that was meant is here again.
        let all = mapping.values().all(|heading| table.columns.contains(heading));
        if all { Columns::remembered(&mapping, table) } else { None }
    });
    Ok(remembered.map_or_else(|| (propose_columns(table), false), |columns| (columns, true)))
}

/// What the headings of a source meant when it last came.
pub(super) fn meanings_before(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
) -> Result<Option<BTreeMap<String, String>>, Problem> {
    let source = app.read(call, Right::Listen, |rows| Ok(rows.source_named(product, name)?))?;
    Ok(source.and_then(|source| serde_json::from_str(source.mapping.as_deref()?).ok()))
}

fn as_taken(row: ImportRow, covers: bool) -> ImportRow {
    if covers { covered(row) } else { row }
}

/// What taking a table with these columns would do; in words, where the columns do not fit.
fn table_counts(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    (table, columns): (&Table, &Columns),
    covers: bool,
) -> Result<Result<Counts, String>, Problem> {
    let before = meanings_before(app, call, product, name)?;
    let mut rows = match ItemRows::of(table, columns, before.as_ref()) {
        Ok(rows) => rows,
        Err(words) => return Ok(Err(words)),
    };
    let counts = counts_of(app, call, product, name, &mut rows.by_ref().map(|row| as_taken(row, covers)))?;
    Ok(Ok(Counts { left_out: rows.report().left_out.len(), ..counts }))
}

/// How rows stand to what is there, each as it comes.
pub(super) fn counts_of(
    app: &App,
    call: &Call,
    product: ProductId,
    source: &str,
    rows: &mut dyn Iterator<Item = ImportRow>,
) -> Result<Counts, Problem> {
    app.read(call, Right::Listen, |store| {
        let source = store.source_named(product, source)?.map(|source| source.id.0);
        let mut counts = Counts::default();
        let mut seen = HashSet::new();
        for row in rows {
            match standing(store, product, source, &row)? {
                // The same words twice in one file are one item.
                Standing::New(digest) if seen.insert(u128::from_str_radix(&digest, 16).unwrap_or_default()) => {
                    counts.new += 1;
                }
                Standing::New(_) | Standing::Same | Standing::Renamed { .. } => counts.same += 1,
                Standing::Changed { .. } => counts.changed += 1,
            }
        }
        Ok(counts)
    })
}

/// What taking a part with these columns would do.
///
/// # Errors
/// Where the file was cleared away, the part is no table, or the columns do not fit.
pub fn counts(app: &App, call: &Call, ask: &PartAsk) -> Result<Counts, Problem> {
    let (file, bytes, hows) = waiting(app, call, ask.file)?;
    let part = app.reading(call).read_as(&file.name, &bytes, &hows)?.into_iter().nth(ask.part);
    let (Some(Part { name, held: Held::Table(table) }), Some(columns)) = (part, &ask.columns) else {
        return Err(Problem::invalid("/part", "This part is no table. Choose another."));
    };
    let counts = table_counts(app, call, file.product_id, &name, (&table, columns), ask.cover)?;
    counts.map_err(|words| Problem::invalid("/columns", words))
}
