//! What was put down is taken as one change that can be undone: as a job, or at once by a command.

use std::collections::BTreeMap;

use iron_kite_core::formats::table::{HowRead, Table};
use iron_kite_core::listen::{Columns, ImportReport, ImportRow, ItemRows, LeftOut, propose_columns, rows_of_documents};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, StudyId, Thing, ThingKind};
use iron_kite_documents::{HIDDEN, Held, Hows, Part};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::put_down::{Counts, PartAsk, check_size, columns_for, counts_of, meanings_before, name_of, waiting};
use super::recordings::join;
use super::studies::check_study;
use super::take_in::{How, covered, take_rows};
use crate::attachments::{self, PutIn};
use crate::call::{App, Call, Saved};
use crate::jobs::{self, Ended, JobView, Running, Work};

/// At most so many parts of files at once.
const MOST_PARTS: usize = 500;

/// What is to be brought in.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct BringIn {
    /// The product.
    pub product: ProductId,
    /// The parts that are taken.
    pub parts: Vec<PartAsk>,
    /// Whether rows that are there already with other words get the new ones.
    #[serde(default)]
    pub take_changed: bool,
}

/// What came of it, part by part.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BroughtIn {
    /// The parts in their order.
    pub parts: Vec<BroughtPart>,
}

/// What came of one part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BroughtPart {
    /// What it is called.
    pub name: String,
    /// What was added and what was left out.
    pub report: Option<ImportReport>,
    /// The file that was kept as it is, where it has no words.
    pub kept: Option<PutIn>,
    /// Why nothing of it was taken.
    pub refused: Option<String>,
}

impl BroughtPart {
    /// A part of which nothing was taken.
    pub(super) fn refused(name: String, why: String) -> Self {
        BroughtPart { name, report: None, kept: None, refused: Some(why) }
    }
}

/// What came of a file that was brought in at once.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Imported {
    /// The change, by which all of it can be taken back.
    pub saved: Saved,
    /// What was added and what was left out.
    pub report: ImportReport,
}

/// Brings in what was put down, as a job.
///
/// # Errors
/// Where a file was cleared away in the meantime.
pub fn start(app: &App, call: &Call, ask: BringIn) -> Result<JobView, Problem> {
    let names = app.read(call, Right::Listen, |rows| {
        if ask.parts.is_empty() || ask.parts.len() > MOST_PARTS {
            return Err(Problem::invalid("/parts", format!("Take 1 to {MOST_PARTS} parts at once.")));
        }
        let mut names: Vec<String> = Vec::new();
        for part in &ask.parts {
            let file = rows.incoming(part.file)?;
            if file.product_id != ask.product {
                return Err(Problem::invalid("/parts", "A file was put down for another product."));
            }
            if !names.contains(&file.name) {
                names.push(file.name);
            }
        }
        for study in ask.parts.iter().filter_map(|part| part.study) {
            check_study(rows, ask.product, study)?;
        }
        Ok(names)
    })?;
    let more = names.len().saturating_sub(1);
    let first = names.into_iter().next().unwrap_or_default();
    let label = if more == 0 { format!("bring in {first}") } else { format!("bring in {first} and {more} more") };
    jobs::add(app, call, ask.product, label, &Work::BringIn(ask))
}

/// What came of a job that brought files in.
///
/// # Errors
/// Where it is not over yet, or was no such job.
pub fn brought_in(app: &App, call: &Call, job: i64) -> Result<BroughtIn, Problem> {
    let report = app.read(call, Right::Read, |rows| Ok(rows.job(job)?.report))?;
    let report = report.and_then(|report| serde_json::from_str(&report).ok());
    report.ok_or_else(|| Problem::NotFound("report of this job".into()))
}

/// What one part gives: its rows, what is known of them, and the mapping to remember.
pub(super) struct Ready {
    cover: bool,
    study: Option<StudyId>,
    pub(super) name: String,
    pub(super) rows: Vec<ImportRow>,
    pub(super) report: ImportReport,
    pub(super) mapping: Option<String>,
}

/// Carries out the job.
pub(crate) fn bring_in(running: &mut Running<'_>, ask: &BringIn) -> Result<BroughtIn, Ended> {
    let (app, call) = (running.app(), running.call());
    let mut done: BTreeMap<usize, BroughtPart> = BTreeMap::new();
    let mut ready = Vec::new();
    let mut files: Vec<i64> = ask.parts.iter().map(|part| part.file).collect();
    files.sort_unstable();
    files.dedup();
    let mut reading = app.reading_beside();
    for file in &files {
        let (incoming, bytes, hows) = waiting(app, call, *file)?;
        let mut parts: Vec<Option<Part>> =
            reading.read_as(&incoming.name, &bytes, &hows)?.into_iter().map(Some).collect();
        for (at, part) in ask.parts.iter().enumerate().filter(|(_, part)| part.file == *file) {
            running.advance(0)?;
            let Some(found) = parts.get_mut(part.part).and_then(Option::take) else { continue };
            match prepare(app, call, ask.product, found, part.columns.as_ref())? {
                Ok(mut one) => {
                    (one.cover, one.study) = (part.cover, part.study);
                    running.expect(one.rows.len());
                    ready.push((at, one));
                }
                Err(part) => drop(done.insert(at, part)),
            }
        }
    }
    drop(reading);
    for (at, one) in ready {
        let Ready { cover, study, name, rows, report, mapping } = one;
        let how = How { mapping, take_changed: ask.take_changed, cover, study };
        let report = take_rows(running, ask.product, &name, rows, report, how)?;
        done.insert(at, BroughtPart { name, report: Some(report), kept: None, refused: None });
    }
    app.write(call, Right::Listen, move |tx| Ok(files.into_iter().try_for_each(|file| tx.remove_incoming(file))?))?;
    let parts: Vec<BroughtPart> = done.into_values().collect();
    join(running, ask.product, &parts)?;
    Ok(BroughtIn { parts })
}

pub(super) fn prepare(
    app: &App,
    call: &Call,
    product: ProductId,
    part: Part,
    columns: Option<&Columns>,
) -> Result<Result<Ready, BroughtPart>, Problem> {
    let Part { name, held } = part;
    Ok(match held {
        Held::Refused(words) => Err(BroughtPart::refused(name, words)),
        Held::Hidden(_) => Err(BroughtPart::refused(name, HIDDEN.to_owned())),
        Held::Wordless { what, bytes } => match attachments::put_in(app, call, &name, bytes) {
            Ok(kept) => Err(BroughtPart { name, report: None, kept: Some(kept), refused: None }),
            Err(problem) => {
                Err(BroughtPart::refused(name, format!("This is {what}, and it was not kept. {}", problem.detail())))
            }
        },
        Held::Documents(documents) => {
            let (rows, report) = rows_of_documents(&documents);
            Ok(Ready { cover: false, study: None, name, rows, report, mapping: None })
        }
        Held::Table(table) => {
            let columns = match columns {
                Some(columns) => columns.clone(),
                None => columns_for(app, call, product, &table)?.0,
            };
            let before = meanings_before(app, call, product, &name)?;
            match ItemRows::of(&table, &columns, before.as_ref()).and_then(ItemRows::all) {
                Ok((rows, report)) => {
                    let mapping = serde_json::to_string(&columns.mapping(&table)).ok();
                    Ok(Ready { cover: false, study: None, name, rows, report, mapping })
                }
                Err(words) => Err(BroughtPart::refused(name, words)),
            }
        }
    })
}

/// How a command brings a file in.
#[derive(Debug, Clone, Default)]
pub struct AtOnce {
    /// How its tables are read.
    pub how: HowRead,
    /// The only sheet of a workbook that is taken.
    pub sheet: Option<String>,
    /// Whether rows that are there already with other words get the new ones.
    pub take_changed: bool,
    /// Whether mail addresses, telephone, card and account numbers in the words are covered.
    pub cover: bool,
    /// The study that it was said in.
    pub study: Option<StudyId>,
}

/// The columns by their headings, each by its meaning; the words are where they seem to be where they are not named.
fn columns_named(named: &BTreeMap<String, String>, table: &Table) -> Result<Columns, Problem> {
    if let Some(heading) = named.values().find(|heading| !table.columns.contains(heading)) {
        let words = format!("There is no column '{heading}'; the file has: {}.", table.columns.join(", "));
        return Err(Problem::invalid("/columns", words));
    }
    let mut named = named.clone();
    let proposed = propose_columns(table).text;
    named.entry("text".to_owned()).or_insert_with(|| table.columns.get(proposed).cloned().unwrap_or_default());
    Ok(Columns::remembered(&named, table).unwrap_or_default())
}

/// Brings in all parts of a file at once: what a command does. `named` may say which heading is what.
///
/// # Errors
/// Where the file is too large, a heading is not there, or the store fails.
pub fn bring_in_file(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    bytes: &[u8],
    named: &BTreeMap<String, String>,
    options: &AtOnce,
) -> Result<(Saved, BroughtIn), Problem> {
    let parts = parts_of(app, call, product, name, bytes, options)?;
    let call = call.by(iron_kite_store::Way::Import);
    let mut running = Running::at_once(app, &call);
    let mut all = BroughtIn::default();
    for part in parts {
        let columns = columns_of(&part, named)?;
        let part = match prepare(app, &call, product, part, columns.as_ref())? {
            Ok(Ready { name, rows, report, mapping, .. }) => {
                let AtOnce { take_changed, cover, study, .. } = *options;
                let how = How { mapping, take_changed, cover, study };
                let report = take_rows(&mut running, product, &name, rows, report, how);
                BroughtPart { name, report: Some(report?), kept: None, refused: None }
            }
            Err(part) => part,
        };
        all.parts.push(part);
    }
    join(&mut running, product, &all.parts)?;
    let added: usize = all.parts.iter().filter_map(|part| part.report.as_ref()).map(|report| report.added).sum();
    Ok((saved(&running, format!("brought in {added} items from {}", name_of(name))), all))
}

/// The parts of a file, read as is said.
fn parts_of(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    bytes: &[u8],
    options: &AtOnce,
) -> Result<Vec<Part>, Problem> {
    app.read(call, Right::Listen, |rows| {
        rows.json(product.thing())?;
        options.study.map_or(Ok(()), |study| check_study(rows, product, study))
    })?;
    check_size(bytes)?;
    let name = name_of(name);
    let mut parts = app.reading(call).read(&name, bytes)?;
    if options.how != HowRead::default() {
        // What its parts are called is known now.
        let hows: Hows = parts.iter().map(|part| (part.name.clone(), options.how.clone())).collect();
        parts = app.reading(call).read_as(&name, bytes, &hows)?;
    }
    if let Some(sheet) = &options.sheet {
        let is = |part: &Part| match &part.held {
            Held::Table(table) | Held::Hidden(table) => table.read_as.contains(&format!("“{sheet}”")),
            _ => part.name.ends_with(&format!("/{sheet}")),
        };
        parts.retain(is);
        if parts.is_empty() {
            return Err(Problem::invalid("/sheet", format!("There is no sheet called '{sheet}' in {name}.")));
        }
    }
    Ok(parts)
}

fn columns_of(part: &Part, named: &BTreeMap<String, String>) -> Result<Option<Columns>, Problem> {
    match &part.held {
        Held::Table(table) if !named.is_empty() => columns_named(named, table).map(Some),
        _ => Ok(None),
    }
}

/// A part of a file, before anything of it is taken.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PartAhead {
    /// What it is called.
    pub name: String,
    /// How it was read, in words, where it is a table.
    pub read_as: Option<String>,
    /// Which heading means what.
    pub columns: BTreeMap<String, String>,
    /// What taking it would do.
    pub counts: Option<Counts>,
    /// Rows that would be left out, or not wholly understood.
    pub notes: Vec<LeftOut>,
    /// Why nothing of it would be taken.
    pub refused: Option<String>,
}

/// What bringing a file in at once would do. Nothing is written.
///
/// # Errors
/// As [`bring_in_file`].
pub fn look_ahead(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    bytes: &[u8],
    named: &BTreeMap<String, String>,
    options: &AtOnce,
) -> Result<Vec<PartAhead>, Problem> {
    let mut all = Vec::new();
    for part in parts_of(app, call, product, name, bytes, options)? {
        let columns = columns_of(&part, named)?;
        let read_as = match &part.held {
            Held::Table(table) => Some(table.read_as.clone()),
            _ => None,
        };
        let nothing = |name: String, refused: Option<String>| PartAhead {
            name,
            read_as: None,
            columns: BTreeMap::new(),
            counts: None,
            notes: Vec::new(),
            refused,
        };
        if let Held::Wordless { what, .. } = &part.held {
            let words = format!("This is {what}; it would be kept as it is.");
            all.push(PartAhead { read_as: Some(words), ..nothing(part.name, None) });
            continue;
        }
        all.push(match prepare(app, call, product, part, columns.as_ref())? {
            Ok(Ready { name, rows, report, mapping, .. }) => {
                let cover = |row| if options.cover { covered(row) } else { row };
                let counts = counts_of(app, call, product, &name, &mut rows.into_iter().map(cover))?;
                let counts = Counts { left_out: report.left_out.len(), ..counts };
                let columns = mapping.and_then(|mapping| serde_json::from_str(&mapping).ok()).unwrap_or_default();
                let notes = report.left_out.into_iter().chain(report.notes).collect();
                PartAhead { name, read_as, columns, counts: Some(counts), notes, refused: None }
            }
            Err(part) => nothing(part.name, part.refused),
        });
    }
    Ok(all)
}

/// Brings in one table at once, with columns that are given.
///
/// # Errors
/// Where the file is no table, the columns do not fit, or nothing in it can be taken.
pub fn import(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    bytes: &[u8],
    columns: &Columns,
) -> Result<Imported, Problem> {
    app.read(call, Right::Listen, |rows| Ok(rows.json(product.thing()).map(drop)?))?;
    check_size(bytes)?;
    let unreadable = |words: &str| Problem::refused("unreadable-file", words);
    let table = match app.reading(call).read(&name_of(name), bytes)?.into_iter().next() {
        Some(Part { held: Held::Table(table), .. }) => table,
        Some(Part { held: Held::Refused(words), .. }) => return Err(unreadable(&words)),
        _ => return Err(unreadable("This is no table. Choose a table, or bring it in as a document.")),
    };
    let before = meanings_before(app, call, product, &name_of(name))?;
    let rows = ItemRows::of(&table, columns, before.as_ref()).and_then(ItemRows::all);
    let (rows, report) = rows.map_err(|words| Problem::invalid("/columns", words))?;
    if rows.is_empty() {
        let first =
            report.left_out.first().map(|left| format!(" Row {} {}.", left.row, left.reason)).unwrap_or_default();
        let words = format!("No row of this file can be taken.{first} Choose another text column or file.");
        return Err(Problem::refused("nothing-to-import", words));
    }
    let mapping = serde_json::to_string(&columns.mapping(&table)).ok();
    drop(table);
    let call = call.by(iron_kite_store::Way::Import);
    let mut running = Running::at_once(app, &call);
    let name = name_of(name);
    let how = How { mapping, ..How::default() };
    let report = take_rows(&mut running, product, &name, rows, report, how)?;
    let mut saved = saved(&running, format!("brought in {} items from {name}", report.added));
    saved.thing = app
        .read(&call, Right::Listen, |rows| Ok(rows.source_named(product, &name)?))?
        .map(|source| Thing::new(ThingKind::Source, source.id));
    Ok(Imported { saved, report })
}

fn saved(running: &Running<'_>, label: String) -> Saved {
    let change = running.change();
    let label = if change.is_some() { label } else { "Nothing new in this file".to_owned() };
    Saved { change, label, ..Saved::default() }
}
