//! Tables of separated values (RFC 4180 and what programs make of it): any usual separator and
//! encoding, quoted line breaks, ragged rows.

use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use serde::{Deserialize, Serialize};

use super::cells::Cells;

/// A row as the table holds it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Row {
    /// Its number as a spreadsheet shows it: the headings are row 1.
    pub number: usize,
    /// Its cells, at most one for each column; those that it lacks are empty.
    pub cells: Cells,
}

/// What could not be taken, and why.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BadRow {
    /// The row's number as a spreadsheet shows it.
    pub row: usize,
    /// In words.
    pub reason: String,
}

/// A table that was read.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Table {
    /// Its headings, trimmed; an empty one is named after its place.
    pub columns: Vec<String>,
    /// Its rows without the empty ones.
    pub rows: Vec<Row>,
    /// Rows that cannot be used.
    pub bad: Vec<BadRow>,
    /// How it was read, in words: the encoding and what separates the cells, or the sheet.
    pub read_as: String,
}

/// The most columns that a table may have.
pub const MOST_COLUMNS: usize = 500;
/// The most rows, which is what a sheet of a spreadsheet holds.
pub const MOST_ROWS: usize = 1 << 20;
/// So much is kept of a heading, in characters: it stands beside each cell that has no column of its own.
const MOST_OF_HEADING: usize = 300;
/// At most so many rows that cannot be used are named one by one; of the rest it is said how many there are.
const MOST_BAD: usize = 10_000;

/// Reads a table from bytes.
///
/// The encoding follows from a byte order mark; without one it is UTF-8 where that is valid, UTF-16
/// where every other byte is zero, else Windows-1252. The separator is the one among `, ; tab |`
/// that most evenly divides the first rows. Linear in the number of bytes.
///
/// # Errors
/// In words, where the bytes are no text, hold no headings, or more than [`MOST_COLUMNS`] columns.
pub fn read(bytes: &[u8]) -> Result<Table, String> {
    let (text, encoding) = text_of(bytes)?;
    of_text(&text, encoding)
}

/// The same of a text whose encoding, by its name, is known already.
///
/// # Errors
/// As [`read`].
pub fn of_text(text: &str, encoding: &str) -> Result<Table, String> {
    let separator = separator_of(text);
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(separator as u8)
        .flexible(true)
        .has_headers(false)
        .from_reader(text.as_bytes());
    let mut record = csv::StringRecord::new();
    if !matches!(reader.read_record(&mut record), Ok(true)) {
        return Err("The file is empty. It needs a row of headings and one row for each item.".into());
    }
    let columns = headings(record.iter());
    if columns.len() > MOST_COLUMNS {
        return Err(format!("The file has {} columns; at most {MOST_COLUMNS} can be read.", columns.len()));
    }
    let (mut rows, mut bad) = (Vec::new(), BadRows::default());
    for number in 2.. {
        match reader.read_record(&mut record) {
            Ok(false) => break,
            Ok(true) => match row_of(number, &record, columns.len()) {
                Ok(row) => rows.push(row),
                Err(row) => bad.push(row),
            },
            Err(fault) => bad.push(BadRow { row: number, reason: format!("cannot be read: {fault}") }),
        }
        if rows.len() > MOST_ROWS {
            return Err(format!("The file has more than {MOST_ROWS} rows. Split it."));
        }
    }
    let between = if separator == '\t' { "tabs".to_owned() } else { format!("“{separator}”") };
    Ok(Table { columns, rows, bad: bad.all(), read_as: format!("{encoding}, separated by {between}") })
}

/// Rows that cannot be used, as many of them by name as somebody may read.
#[derive(Default)]
struct BadRows {
    named: Vec<BadRow>,
    more: usize,
    last: usize,
}

impl BadRows {
    fn push(&mut self, row: BadRow) {
        if self.named.len() < MOST_BAD {
            self.named.push(row);
        } else {
            (self.more, self.last) = (self.more + 1, row.row);
        }
    }

    fn all(mut self) -> Vec<BadRow> {
        if self.more > 0 {
            let reason = format!("is the last of {} more that cannot be used", self.more);
            self.named.push(BadRow { row: self.last, reason });
        }
        self.named
    }
}

/// So many rows are looked at for the headings.
const LOOKED_AT: usize = 30;
/// A heading is shorter than this, in characters.
const LONGEST_HEADING: usize = 60;

/// Makes a table of cells that were read from a sheet.
///
/// The headings are the first row that fills more than half of the cells of the fullest one: what stands above them is
/// named and left out. Headings in two rows, where cells of the upper one reach over several of the lower one, are put
/// together. Linear in the number of cells.
///
/// # Errors
/// In words, where nothing is filled or there are more than [`MOST_COLUMNS`] columns.
pub fn of_cells(rows: Vec<Cells>, read_as: String) -> Result<Table, String> {
    let filled = |row: &Cells| row.iter().filter(|cell| !cell.trim().is_empty()).count();
    let most = rows.iter().take(LOOKED_AT).map(filled).max().unwrap_or(0);
    let Some(head) = rows.iter().take(LOOKED_AT).position(|row| filled(row) * 2 > most) else {
        return Err("There is nothing in it. It needs a row of headings and one row for each item.".into());
    };
    let width = rows.iter().map(Cells::len).max().unwrap_or(0);
    if width > MOST_COLUMNS {
        return Err(format!("It has {width} columns; at most {MOST_COLUMNS} can be read."));
    }
    let wide = |at: usize| rows.get(at).map(|row| (0..width).map(|column| row.get(column)).collect::<Vec<_>>());
    let named = wide(head).unwrap_or_default();
    let two = wide(head + 1).and_then(|lower| two_rows(&named, &lower));
    let first = head + if two.is_some() { 2 } else { 1 };
    let columns = match &two {
        Some(names) => headings(names.iter().map(String::as_str)),
        None => headings(named.into_iter()),
    };
    let above = rows.iter().enumerate().take(head).filter(|(_, row)| filled(row) > 0);
    let bad: Vec<BadRow> =
        above.map(|(at, _)| BadRow { row: at + 1, reason: "stands above the headings".into() }).collect();
    let mut kept = Vec::new();
    for (at, cells) in rows.into_iter().enumerate().skip(first) {
        // An empty row of a sheet separates; nobody would miss it.
        if !cells.is_blank() {
            kept.push(Row { number: at + 1, cells });
        }
    }
    Ok(Table { columns, rows: kept, bad, read_as })
}

/// Headings in two rows: the upper one has gaps that the lower one fills, and the lower one holds only short words.
fn two_rows(upper: &[&str], lower: &[&str]) -> Option<Vec<String>> {
    let is = |cell: &str| !cell.trim().is_empty();
    let pairs = || upper.iter().copied().zip(lower.iter().copied());
    let fills = pairs().filter(|(a, b)| !is(a) && is(b)).count();
    let both = pairs().filter(|(a, b)| is(a) && is(b)).count();
    let words = |cell: &str| {
        let heading = cell.chars().count() < LONGEST_HEADING && !cell.chars().any(|c| c.is_ascii_digit());
        !is(cell) || heading
    };
    if fills == 0 || both == 0 || pairs().any(|(a, b)| !is(a) && !is(b)) || !lower.iter().copied().all(words) {
        return None;
    }
    let mut over = "";
    Some(
        pairs()
            .map(|(a, b)| {
                if is(a) {
                    over = a.trim();
                }
                if is(b) { format!("{over} {}", b.trim()) } else { over.to_owned() }
            })
            .collect(),
    )
}

fn headings<'a>(cells: impl Iterator<Item = &'a str>) -> Vec<String> {
    cells
        .enumerate()
        .map(|(at, cell)| match cell.trim() {
            "" => format!("column {}", at + 1),
            name => name.chars().take(MOST_OF_HEADING).collect(),
        })
        .collect()
}

fn row_of(number: usize, record: &csv::StringRecord, width: usize) -> Result<Row, BadRow> {
    if record.iter().all(|cell| cell.trim().is_empty()) {
        return Err(BadRow { row: number, reason: "is empty".into() });
    }
    if record.iter().skip(width).any(|cell| !cell.trim().is_empty()) {
        let reason =
            format!("has {} cells where the headings have {width}; a quotation mark may be missing", record.len());
        return Err(BadRow { row: number, reason });
    }
    let mut cells: Cells = record.iter().take(width).collect();
    cells.shrink();
    Ok(Row { number, cells })
}

/// The text of a file, and the name of its encoding; see [`read`].
///
/// # Errors
/// In words, where the file is empty or holds what no text does.
pub fn text_of(bytes: &[u8]) -> Result<(String, &'static str), String> {
    if bytes.is_empty() {
        return Err("The file is empty. It needs a row of headings and one row for each item.".into());
    }
    let encoding = encoding_of(bytes);
    let (text, used, _) = encoding.decode(bytes);
    let strange = text.chars().take(100_000).filter(|c| c.is_control() && !matches!(c, '\t' | '\n' | '\r')).count();
    if strange > 0 {
        return Err(
            "This is no text: it holds bytes that no text has. Save it in one of the formats that are read, such as CSV, and choose that file.".into()
        );
    }
    Ok((text.into_owned(), used.name()))
}

fn encoding_of(bytes: &[u8]) -> &'static Encoding {
    if let Some((encoding, _)) = Encoding::for_bom(bytes) {
        return encoding;
    }
    let head = &bytes[..bytes.len().min(400)];
    let zeros = |offset: usize| head.iter().skip(offset).step_by(2).filter(|b| **b == 0).count();
    let many = head.len() / 3;
    if head.len() >= 4 && zeros(1) > many && zeros(0) == 0 {
        return UTF_16LE;
    }
    if head.len() >= 4 && zeros(0) > many && zeros(1) == 0 {
        return UTF_16BE;
    }
    if std::str::from_utf8(bytes).is_ok() { UTF_8 } else { WINDOWS_1252 }
}

/// So many records decide about the separator.
const SAMPLE: usize = 20;

fn separator_of(text: &str) -> char {
    let score = |separator: char| {
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(separator as u8)
            .flexible(true)
            .has_headers(false)
            .from_reader(text.as_bytes());
        let widths: Vec<usize> = reader.records().take(SAMPLE).map_while(Result::ok).map(|r| r.len()).collect();
        let Some(first) = widths.first().copied().filter(|width| *width > 1) else { return 0 };
        widths.iter().filter(|width| **width == first).count() * 1_000 + first.min(100)
    };
    // On a tie the earlier one wins: max_by_key keeps the last, so the order is turned round.
    ['|', '\t', ';', ','].into_iter().max_by_key(|separator| score(*separator)).unwrap_or(',')
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn cells(table: &Table) -> Vec<Vec<&str>> {
        table.rows.iter().map(|row| (0..table.columns.len()).map(|at| row.cells.get(at)).collect()).collect()
    }

    #[test]
    fn separators_and_quotes() {
        for separator in [",", ";", "\t", "|"] {
            let text = format!("text{separator}who\n\"one{separator} two\nthree\"{separator}Ann\nplain{separator}Bo\n");
            let table = read(text.as_bytes()).unwrap();
            let between = if separator == "\t" { "tabs".to_owned() } else { format!("“{separator}”") };
            assert_eq!(table.read_as, format!("UTF-8, separated by {between}"));
            assert_eq!(cells(&table)[0], [format!("one{separator} two\nthree").as_str(), "Ann"]);
        }
    }

    #[test]
    fn encodings() {
        let text = "text;who\nFähre fällt aus – schade;Zoë\n";
        let utf16 = |mark: &[u8], unit: fn(u16) -> [u8; 2]| {
            mark.iter().copied().chain(text.encode_utf16().flat_map(unit)).collect::<Vec<u8>>()
        };
        let marked: Vec<u8> = b"\xEF\xBB\xBF".iter().copied().chain(text.bytes()).collect();
        for (bytes, name) in [
            (text.as_bytes().to_vec(), "UTF-8"),
            (marked, "UTF-8"),
            (utf16(b"\xFF\xFE", u16::to_le_bytes), "UTF-16LE"),
            (utf16(b"\xFE\xFF", u16::to_be_bytes), "UTF-16BE"),
            (utf16(b"", u16::to_le_bytes), "UTF-16LE"),
            (WINDOWS_1252.encode(text).0.into_owned(), "windows-1252"),
        ] {
            let table = read(&bytes).unwrap();
            assert!(table.read_as.starts_with(name), "{}", table.read_as);
            assert_eq!(table.columns, ["text", "who"], "{name}");
            assert_eq!(cells(&table), [["Fähre fällt aus – schade", "Zoë"]], "{name}");
        }
    }

    #[test]
    fn empty_and_ragged_rows_are_named_and_the_rest_is_kept() {
        let table = read(b"text,who\none,Ann\n,\nshort\na,b,c\n").unwrap();
        assert_eq!(cells(&table), [vec!["one", "Ann"], vec!["short", ""]]);
        assert_eq!(table.bad.iter().map(|b| b.row).collect::<Vec<_>>(), [3, 5]);
        assert!(table.bad[1].reason.contains("quotation mark"));
    }

    fn sheet(rows: &[&[&str]]) -> Table {
        let rows = rows.iter().map(|row| row.iter().collect()).collect();
        of_cells(rows, "a sheet".into()).unwrap()
    }

    #[test]
    fn what_stands_above_the_headings_of_a_sheet_is_named() {
        let table =
            sheet(&[&["Tickets of May"], &[], &["id", "words", "", "by"], &["1", "The boat was off", "x"], &[]]);
        assert_eq!(table.columns, ["id", "words", "column 3", "by"]);
        assert_eq!(cells(&table), [["1", "The boat was off", "x", ""]]);
        assert_eq!((table.rows[0].number, table.bad[0].row), (4, 1));
    }

    #[test]
    fn headings_that_reach_over_several_columns_are_put_together() {
        let table = sheet(&[
            &["Ticket", "Customer", "", "Words"],
            &["", "Name", "Company", ""],
            &["7", "Ann Lee", "Hask Stores", "The boat was off"],
        ]);
        assert_eq!(table.columns, ["Ticket", "Customer Name", "Customer Company", "Words"]);
        assert_eq!(table.rows.len(), 1);
        // A first row of values is no second row of headings.
        let table = sheet(&[&["Who", "", "Words"], &["Ann", "2026-05-01", "The boat was off"]]);
        assert_eq!((table.columns.len(), table.rows.len()), (3, 1));
    }

    #[test]
    fn what_is_no_text_is_refused_in_words() {
        let mut picture = b"\x89PNG\r\n\x1a\n".to_vec();
        picture.extend((0..=255).cycle().take(4_000));
        assert!(read(&picture).unwrap_err().contains("no text"));
        assert!(read(b"").unwrap_err().contains("empty"));
    }

    proptest! {
        #[test]
        fn what_a_writer_wrote_is_read_back(rows in prop::collection::vec(prop::collection::vec("[ -~äß\n]{0,12}x", 3), 1..20)) {
            let mut writer = csv::Writer::from_writer(Vec::new());
            writer.write_record(["a", "b", "c"]).unwrap();
            for row in &rows {
                writer.write_record(row).unwrap();
            }
            let table = read(&writer.into_inner().unwrap()).unwrap();
            prop_assert_eq!(cells(&table), rows.iter().map(|r| r.iter().map(String::as_str).collect::<Vec<_>>()).collect::<Vec<_>>());
        }

        #[test]
        fn no_bytes_make_it_panic(bytes in prop::collection::vec(any::<u8>(), 0..400)) {
            let _ = read(&bytes);
        }
    }
}
