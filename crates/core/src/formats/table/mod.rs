//! Tables that people give: separated values (RFC 4180 and what programs make of it) in any usual separator and encoding,
//! and the cells of sheets.
//!
//! | file | what |
//! |---|---|
//! | `encoding` | from bytes to text |
//! | `separated` | from text to rows |
//! | `headings` | whether the first row are headings |
//! | `looks`, `names` | what cells look like, and what columns are usually called |
//! | `range` | a part of a sheet |

mod encoding;
mod headings;
mod looks;
mod names;
mod range;
mod separated;

pub use encoding::text_of;
pub(crate) use looks::{Look, Looks};
pub(crate) use names::{Fit, Meaning, fit, names_of};
pub use separated::of_text;

use serde::{Deserialize, Serialize};

use super::cells::Cells;
use range::Range;

/// A row as the table holds it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Row {
    /// Its number as a spreadsheet shows it, from 1.
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
    /// Its headings, trimmed; an empty one, and all where it has none, are named after their places.
    pub columns: Vec<String>,
    /// Whether it has headings.
    pub headed: bool,
    /// Its rows without the empty ones.
    pub rows: Vec<Row>,
    /// Rows that cannot be used.
    pub bad: Vec<BadRow>,
    /// Rows that may have been meant otherwise, and what to do then.
    pub doubts: Vec<BadRow>,
    /// How it was read, in words: the encoding and what separates the cells, or the sheet.
    pub read_as: String,
}

/// How somebody says that a table is to be read; what is left open is told from the file.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HowRead {
    /// The encoding, by a label of the WHATWG Encoding Standard.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub encoding: Option<String>,
    /// What separates the cells: a comma, a semicolon, a bar, a tab.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub separator: Option<char>,
    /// Whether quotation marks hold cells together; they stand for themselves where not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub quotes: Option<bool>,
    /// Whether there are headings above the rows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub headings: Option<bool>,
    /// The part of it that is read, as `B3:F200`.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub range: Option<String>,
}

impl HowRead {
    /// With headings above the rows, and the rest told from the file.
    #[must_use]
    pub fn headed() -> Self {
        HowRead { headings: Some(true), ..HowRead::default() }
    }
}

/// The most columns that a table may have.
pub const MOST_COLUMNS: usize = 500;
/// The most rows, which is what a sheet of a spreadsheet holds.
pub const MOST_ROWS: usize = 1 << 20;
/// So much is kept of a heading, in characters: it stands beside each cell that has no column of its own.
const MOST_OF_HEADING: usize = 300;
/// At most so many rows that cannot be used are named one by one; of the rest it is said how many there are.
const MOST_BAD: usize = 10_000;

/// Reads a table with headings from bytes; see [`text_of`] and [`of_text`].
///
/// # Errors
/// In words, where the bytes are no text, hold no headings, or more than [`MOST_COLUMNS`] columns.
pub fn read(bytes: &[u8]) -> Result<Table, String> {
    let (text, encoding) = text_of(bytes, None)?;
    of_text(&text, encoding, &HowRead::headed())
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
        self.named.sort_by_key(|bad| bad.row);
        self.named
    }
}

/// So many rows are looked at for the headings.
const LOOKED_AT: usize = 30;
/// A heading is shorter than this, in characters.
const LONGEST_HEADING: usize = 60;

/// Makes a table of cells that were read from a sheet.
///
/// The headings are the first row that fills more than half of the cells of the fullest one, where it differs from the rows
/// below it; what stands above it is named and left out. Headings in two rows, where cells of the upper one reach over several
/// of the lower one, are put together. Linear in the number of cells.
///
/// # Errors
/// In words, where nothing is filled, there are more than [`MOST_COLUMNS`] columns, or the range is none.
pub fn of_cells(rows: Vec<Cells>, read_as: String, how: &HowRead) -> Result<Table, String> {
    let width = rows.iter().map(Cells::len).max().unwrap_or(0);
    of_rows(rows, Some(width), read_as, how)
}

/// The same for rows of a sheet, which has a width, or of a text, the rows of which are as wide as its first one.
fn of_rows(mut rows: Vec<Cells>, width: Option<usize>, read_as: String, how: &HowRead) -> Result<Table, String> {
    if let Some(range) = how.range.as_deref().filter(|range| !range.trim().is_empty()) {
        Range::read(range)?.take(&mut rows);
    }
    let is_text = width.is_none();
    let filled = |row: &Cells| row.iter().filter(|cell| !cell.trim().is_empty()).count();
    let counts: Vec<usize> = rows.iter().take(LOOKED_AT).map(filled).collect();
    // A row of a text may have too many cells by mistake, so that as most of them are is telling there.
    let alike = |count: usize| counts.iter().filter(|other| **other == count).count();
    let most =
        counts.iter().copied().max_by_key(|count| (if is_text { alike(*count) } else { 0 }, *count)).unwrap_or(0);
    let head = counts.iter().position(|count| count * 2 > most);
    let Some((head, first)) = head.and_then(|head| Some((head, rows.get(head)?))) else {
        return Err("There is nothing in it. It needs one row for each item.".into());
    };
    let width = width.filter(|_| how.range.is_none()).unwrap_or_else(|| match is_text {
        true => first.len(),
        false => rows.iter().map(Cells::len).max().unwrap_or(0),
    });
    if width > MOST_COLUMNS {
        return Err(format!("It has {width} columns; at most {MOST_COLUMNS} can be read."));
    }
    let wide = |row: &Cells| (0..width).map(|column| row.get(column).to_owned()).collect::<Vec<_>>();
    let named = wide(first);
    let below = rows.get(head + 1..).unwrap_or_default();
    let names: Vec<&str> = named.iter().map(String::as_str).collect();
    let headed = how.headings.unwrap_or_else(|| headings::are_headings(&names, below.iter().take(LOOKED_AT * 10)));
    let two = below.first().filter(|_| headed && !is_text).and_then(|lower| {
        let lower = wide(lower);
        two_rows(&names, &lower.iter().map(String::as_str).collect::<Vec<_>>())
    });
    let columns = match (&two, headed) {
        (Some(names), _) => headings_of(names.iter().map(String::as_str)),
        (None, true) => headings_of(names.into_iter()),
        (None, false) => headings_of(names.iter().map(|_| "")),
    };
    let begin = head + usize::from(headed) + usize::from(two.is_some());
    let mut bad = BadRows::default();
    let mut kept = Vec::with_capacity(rows.len().saturating_sub(begin));
    for (at, mut cells) in rows.into_iter().enumerate() {
        let number = at + 1;
        if at < begin {
            if at < head && !cells.is_blank() {
                bad.push(BadRow { row: number, reason: "stands above the headings".into() });
            }
        } else if cells.is_blank() {
            // An empty row of a sheet separates; one of a text may have been meant.
            if is_text && !cells.is_empty() {
                bad.push(BadRow { row: number, reason: "is empty".into() });
            }
        } else if cells.iter().skip(width).any(|cell| !cell.trim().is_empty()) {
            let many = if cells.len() > MOST_COLUMNS { "more than 500".to_owned() } else { cells.len().to_string() };
            let reason = format!("has {many} cells where the headings have {width}; a quotation mark may be missing");
            bad.push(BadRow { row: number, reason });
        } else {
            if cells.len() > width {
                cells = cells.iter().take(width).collect();
            }
            cells.shrink();
            kept.push(Row { number, cells });
        }
    }
    let read_as = if headed { read_as } else { format!("{read_as}, without headings") };
    Ok(Table { columns, headed, rows: kept, bad: bad.all(), doubts: Vec::new(), read_as })
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

/// The names of columns; each is another, as cells are kept by them.
fn headings_of<'a>(cells: impl Iterator<Item = &'a str>) -> Vec<String> {
    let mut names: Vec<String> = Vec::new();
    for (at, cell) in cells.enumerate() {
        let name: String = match cell.trim() {
            "" => format!("column {}", at + 1),
            name => name.chars().take(MOST_OF_HEADING).collect(),
        };
        let again = (2..).map(|n| format!("{name} ({n})")).find(|again| !names.contains(again));
        let name = if names.contains(&name) { again.unwrap_or_default() } else { name };
        names.push(name);
    }
    names
}

#[cfg(test)]
mod tests {
    use super::*;
    use encoding_rs::WINDOWS_1252;
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

    fn text(text: &str, how: &HowRead) -> Table {
        of_text(text, "UTF-8", how).unwrap()
    }

    #[test]
    fn older_encodings_are_told_by_their_letters_or_said() {
        for (label, said) in [
            ("windows-1251", "Паром опоздал на час, и никто ничего не сказал пассажирам"),
            ("Shift_JIS", "船が一時間遅れて、誰も何も言いませんでした"),
            ("windows-1253", "Το πλοίο άργησε μία ώρα και κανείς δεν μας το είπε"),
            ("windows-1252", "Die Fähre war eine Stunde zu spät, und niemand hörte zu"),
        ] {
            let encoding = encoding_rs::Encoding::for_label(label.as_bytes()).unwrap();
            let bytes = encoding.encode(&format!("text;who\n{said};Ann\n")).0.into_owned();
            assert_eq!(cells(&read(&bytes).unwrap())[0][0], said, "{label}");
            assert_eq!(text_of(&bytes, Some(label)).unwrap().1, label);
            let long = said.repeat(3_000);
            assert_eq!(text_of(&encoding.encode(&long).0, Some(label)).unwrap().0, long, "{label}");
        }
        assert!(text_of(b"a", Some("klingon")).unwrap_err().contains("Choose another"));
    }

    #[test]
    fn a_table_without_headings_loses_no_row() {
        let table = text("1,The boat was late,2026-03-31\n2,So was the bus,2026-04-01\n", &HowRead::default());
        assert_eq!((table.columns.len(), table.rows.len(), table.headed), (3, 2, false));
        assert_eq!(table.columns[1], "column 2");
        assert_eq!(table.rows[0].number, 1);
        assert!(table.read_as.ends_with("without headings"));
        // As somebody says it.
        let how = |headings| HowRead { headings: Some(headings), ..HowRead::default() };
        assert_eq!(text("a,b\n1,2\n", &how(false)).rows.len(), 2);
        assert_eq!(text("1,2\n3,4\n", &how(true)).columns, ["1", "2"]);
    }

    #[test]
    fn what_stands_above_the_headings_of_a_text_is_named() {
        let table = text(
            "Tickets of May\n\nid;words;who\n1;The boat was late;Ann\n2;Fine;Bo\n3;Fine;Bo\n4;Fine;Bo\n",
            &HowRead::default(),
        );
        assert_eq!(table.columns, ["id", "words", "who"]);
        assert_eq!((table.rows.len(), table.bad[0].row), (4, 1));
    }

    #[test]
    fn a_stray_quotation_mark_is_told_and_can_be_read_plainly() {
        let rows: String = (3..100).map(|n| format!("{n}\tThe boat {n}\tAnn\n")).collect();
        let file = format!("id\twords\twho\n1\tfine\tBo\n2\t\"Not closed, he said\tAnn\n{rows}");
        let table = text(&file, &HowRead::default());
        assert_eq!(table.rows.len(), 2);
        assert_eq!(table.doubts.iter().map(|doubt| doubt.row).collect::<Vec<_>>(), [3]);
        assert!(table.doubts[0].reason.contains("97 more rows"), "{}", table.doubts[0].reason);
        let table = text(&file, &HowRead { quotes: Some(false), ..HowRead::default() });
        assert_eq!((table.rows.len(), table.doubts.len()), (99, 0));
        assert_eq!(table.rows[1].cells.get(1), "\"Not closed, he said");
        // Words of several lines are no doubt.
        assert_eq!(text("id,words,who\n1,\"one, two\nthree, four\nfive, six\",Ann\n", &HowRead::default()).doubts, []);
    }

    #[test]
    fn a_part_of_a_sheet_keeps_its_numbers() {
        let rows = || -> Vec<Cells> {
            [["x", "Tickets", ""], ["", "words", "who"], ["", "late", "Ann"], ["", "fine", "Bo"], ["", "sum", "2"]]
                .iter()
                .map(|row| row.iter().collect())
                .collect()
        };
        let how = |range: &str| HowRead { range: Some(range.into()), ..HowRead::default() };
        let table = of_cells(rows(), "a sheet".into(), &how("B2:C4")).unwrap();
        assert_eq!(table.columns, ["words", "who"]);
        assert_eq!(table.rows.iter().map(|row| row.number).collect::<Vec<_>>(), [3, 4]);
        assert!(of_cells(rows(), "a sheet".into(), &how("here")).unwrap_err().contains("no range"));
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
        of_cells(rows, "a sheet".into(), &HowRead::default()).unwrap()
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
