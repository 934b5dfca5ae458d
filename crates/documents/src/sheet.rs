//! Workbooks: each sheet that holds anything is a table. Formulas give the value that was computed when the file was
//! saved; nothing is computed here.

use std::borrow::Cow;
use std::io::{BufRead, Cursor};

use calamine::{Data, DataRef, ExcelDateTime, Ods, Reader, Sheet, SheetType, SheetVisible, Xls, Xlsx};
use iron_kite_core::formats::cells::Cells;
use iron_kite_core::formats::table::{HowRead, MOST_COLUMNS, MOST_ROWS, Table, of_cells};
use quick_xml::events::Event;

use super::budget::Budget;
use super::{Held, Hows, Part, claims, pack, refused};

/// The kind of workbook.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Book {
    Xlsx,
    Xls,
    Ods,
}

/// At most so many cells in one sheet.
const MOST_CELLS: usize = 8_000_000;
/// The largest workbook in the old format, which is read as a whole.
const MOST_XLS: usize = 32 * 1024 * 1024;

type Lines = Vec<Cells>;

pub(super) fn read(name: &str, bytes: &[u8], book: Book, hows: &Hows, budget: &Budget) -> Vec<Part> {
    let sheets = match book {
        Book::Xlsx => xlsx(bytes, budget),
        Book::Xls => xls(bytes, budget),
        Book::Ods => ods(bytes, budget),
    };
    let sheets = match sheets {
        Ok(sheets) => sheets,
        Err(words) => return vec![refused(name, &words)],
    };
    let filled: Vec<_> =
        sheets.into_iter().filter(|(_, cells)| !matches!(cells, Ok(cells) if cells.is_empty())).collect();
    let alone = filled.iter().filter(|(sheet, _)| !sheet.hidden).count() == 1;
    let parts = filled.into_iter().map(|(Named { name: sheet, hidden }, cells)| {
        let called = if alone && !hidden { name.to_owned() } else { format!("{name}/{sheet}") };
        let how = hows.get(&called).cloned().unwrap_or_default();
        match cells.and_then(|cells| table(&sheet, cells, &how)) {
            Ok(table) if hidden => Part { name: called, held: Held::Hidden(table) },
            Ok(table) => Part { name: called, held: Held::Table(table) },
            Err(words) => refused(&called, &words),
        }
    });
    let parts: Vec<Part> = parts.collect();
    if parts.is_empty() { vec![refused(name, "No sheet of the workbook holds anything.")] } else { parts }
}

fn table(sheet: &str, cells: Lines, how: &HowRead) -> Result<Table, String> {
    let table = of_cells(cells, format!("the sheet “{sheet}”"), how)?;
    if table.rows.is_empty() {
        return Err("The sheet has no rows below its headings.".to_owned());
    }
    Ok(table)
}

const DAMAGED: &str = "The workbook is damaged or locked. Open it, save it anew without a password, and try again.";

/// A sheet by its name, and whether its workbook hides it.
#[derive(Clone)]
struct Named {
    name: String,
    hidden: bool,
}

type Sheets = Result<Vec<(Named, Result<Lines, String>)>, String>;

fn named(sheets: &[Sheet]) -> Vec<Named> {
    let named = |sheet: &Sheet| Named { name: sheet.name.clone(), hidden: sheet.visible != SheetVisible::Visible };
    sheets.iter().map(named).collect()
}

fn xlsx(bytes: &[u8], budget: &Budget) -> Sheets {
    // The words of all cells are held while the sheets are read; so is what says how cells look.
    let mut archive = pack::again(bytes)?;
    for part in ["xl/sharedStrings.xml", "xl/styles.xml", "xl/workbook.xml"] {
        budget.hold(pack::size_of(&mut archive, part))?;
    }
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|_| DAMAGED.to_owned())?;
    let sheets = named(book.sheets_metadata()).into_iter();
    Ok(sheets.map(|sheet| (sheet.clone(), xlsx_sheet(&mut book, &sheet.name, budget))).collect())
}

/// Cell by cell: a sheet that says it reaches to its last corner takes no more room than it fills.
fn xlsx_sheet(book: &mut Xlsx<Cursor<&[u8]>>, name: &str, budget: &Budget) -> Result<Lines, String> {
    let mut reader = book.worksheet_cells_reader(name).map_err(|_| DAMAGED.to_owned())?;
    let (mut rows, mut count) = (Vec::new(), 0);
    while let Some(cell) = reader.next_cell().map_err(|_| DAMAGED.to_owned())? {
        let (row, column) = cell.get_position();
        let text: Cow<'_, str> = match cell.get_value() {
            DataRef::SharedString(text) => (*text).into(),
            DataRef::String(text) => text.as_str().into(),
            DataRef::Int(number) => number.to_string().into(),
            DataRef::Float(number) => number_text(*number).into(),
            DataRef::Bool(yes) => yes.to_string().into(),
            DataRef::DateTime(moment) => day(moment).into(),
            DataRef::DateTimeIso(text) | DataRef::DurationIso(text) => text.as_str().into(),
            DataRef::Error(_) | DataRef::Empty => continue,
        };
        put(&mut rows, row as usize, column as usize, &text, &mut count, budget)?;
    }
    Ok(rows)
}

fn put(
    rows: &mut Lines,
    row: usize,
    column: usize,
    text: &str,
    count: &mut usize,
    budget: &Budget,
) -> Result<(), String> {
    if text.is_empty() {
        return Ok(());
    }
    *count += 1;
    // A cell far away would make all the empty ones before it.
    if column >= MOST_COLUMNS || *count > MOST_CELLS || row >= MOST_ROWS {
        return Err(format!(
            "The sheet reaches too far: at most {MOST_COLUMNS} columns, {MOST_ROWS} rows and {MOST_CELLS} cells are read. Take out what is not needed."
        ));
    }
    if rows.len() <= row {
        budget.hold((row + 1 - rows.len()) * size_of::<Cells>())?;
        rows.resize_with(row + 1, Cells::default);
    }
    if let Some(cells) = rows.get_mut(row) {
        budget.hold(text.len() + (column + 1).saturating_sub(cells.len()) * size_of::<u32>())?;
        cells.put(column, text);
    }
    Ok(())
}

fn xls(bytes: &[u8], budget: &Budget) -> Sheets {
    if bytes.len() > MOST_XLS {
        return Err("The workbook is too large in this old format. Save it as XLSX.".into());
    }
    let claimed = claims::most_cells(bytes).ok_or(DAMAGED)?;
    if claimed > MOST_CELLS as u64 {
        return Err(format!(
            "A sheet says that it has {claimed} cells; at most {MOST_CELLS} are read. Save it as XLSX."
        ));
    }
    let mut book: Xls<_> = Xls::new(Cursor::new(bytes)).map_err(|_| DAMAGED.to_owned())?;
    if book.sheets_metadata().iter().any(|sheet| matches!(sheet.typ, SheetType::MacroSheet | SheetType::Vba)) {
        return Err("The file holds macros. Save it without them, and bring that in.".into());
    }
    let sheets = named(book.sheets_metadata()).into_iter();
    Ok(sheets.map(|sheet| (sheet.clone(), range(book.worksheet_range(&sheet.name).ok(), budget))).collect())
}

fn ods(bytes: &[u8], budget: &Budget) -> Sheets {
    let mut archive = pack::again(bytes)?;
    check_repeats(pack::named(&mut archive, "content.xml").ok_or(DAMAGED)?)?;
    let mut book: Ods<_> = Ods::new(Cursor::new(bytes)).map_err(|_| DAMAGED.to_owned())?;
    let sheets = named(book.sheets_metadata()).into_iter();
    Ok(sheets.map(|sheet| (sheet.clone(), range(book.worksheet_range(&sheet.name).ok(), budget))).collect())
}

/// In this format a row and a cell can say that they stand there a million times.
fn check_repeats(content: impl BufRead) -> Result<(), String> {
    let mut reader = quick_xml::Reader::from_reader(content);
    let mut buffer = Vec::new();
    let (mut cells, mut in_row, mut rows) = (0_usize, 0_usize, 1_usize);
    let mut filled = 0_usize;
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| DAMAGED.to_owned())? {
            Event::Start(tag) if tag.name().as_ref() == b"table:table-row" => {
                (in_row, rows) = (0, repeats(&tag, b"table:number-rows-repeated"));
            }
            Event::Start(tag) if tag.name().as_ref() == b"table:table-cell" => {
                in_row = in_row.saturating_add(repeats(&tag, b"table:number-columns-repeated"));
                filled += 1;
            }
            Event::End(tag) if tag.name().as_ref() == b"table:table-row" => {
                cells = cells.saturating_add(in_row.saturating_mul(rows));
            }
            Event::Eof => break,
            _ => {}
        }
        if cells > MOST_CELLS || filled > MOST_CELLS {
            return Err(format!("The workbook repeats more than {MOST_CELLS} cells. Take out what is not needed."));
        }
    }
    Ok(())
}

fn repeats(tag: &quick_xml::events::BytesStart<'_>, name: &[u8]) -> usize {
    let found = tag.attributes().flatten().find(|attribute| attribute.key.as_ref() == name);
    found.and_then(|attribute| std::str::from_utf8(&attribute.value).ok()?.parse().ok()).unwrap_or(1)
}

fn range(range: Option<calamine::Range<Data>>, budget: &Budget) -> Result<Lines, String> {
    let range = range.ok_or_else(|| DAMAGED.to_owned())?;
    let Some((first, _)) = range.start() else { return Ok(Vec::new()) };
    let (mut rows, mut count) = (Vec::new(), 0);
    for (row, column, cell) in range.used_cells() {
        let text = match cell {
            Data::String(text) | Data::DateTimeIso(text) | Data::DurationIso(text) => text.clone(),
            Data::Int(number) => number.to_string(),
            Data::Float(number) => number_text(*number),
            Data::Bool(yes) => yes.to_string(),
            Data::DateTime(moment) => day(moment),
            Data::Error(_) | Data::Empty => continue,
        };
        put(&mut rows, first as usize + row, column, &text, &mut count, budget)?;
    }
    Ok(rows)
}

/// A number as people write it: without a point where there is nothing behind it.
fn number_text(number: f64) -> String {
    number.to_string()
}

/// A day, with the time where there is one.
fn day(moment: &ExcelDateTime) -> String {
    let (year, month, day, hour, minute, _, _) = moment.to_ymd_hms_milli();
    if moment.is_duration() {
        return number_text(moment.as_f64());
    }
    let date = format!("{year:04}-{month:02}-{day:02}");
    if (hour, minute) == (0, 0) { date } else { format!("{date} {hour:02}:{minute:02}") }
}
