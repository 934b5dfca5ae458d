//! A table of feedback becomes items: which column is what, what is left out and why.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use super::columns::{Columns, check};
use super::{Document, speakers_of};
use crate::formats::cells::Cells;
use crate::formats::days::{self, DayOrder, Says};
use crate::formats::numbers;
use crate::formats::table::{BadRow, Row, Table};
use crate::things::ItemId;

/// The longest text of one item, in characters: a long interview fits, a damaged file does not.
pub const MOST_CHARACTERS: usize = 200_000;
/// The longest name of a person or account.
const MOST_NAME: usize = 300;

/// One row on its way in.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ImportRow {
    /// The row's number as a spreadsheet shows it; of documents, which one of its file it is.
    pub number: usize,
    /// The words, as they stand in the file.
    pub text: String,
    /// The day, `YYYY-MM-DD`.
    pub said_on: Option<String>,
    /// The person's name.
    pub person: Option<String>,
    /// The account's name.
    pub account: Option<String>,
    /// The rating.
    pub rating: Option<f64>,
    /// The mail address of the person, in lower case.
    pub address: Option<String>,
    /// What tells it from all others of its source.
    pub key: Option<String>,
    /// What told it from all others when its source last came, where that was another column, or none.
    pub former_key: Option<Option<String>>,
    /// Who speaks where, as JSON, in an interview or a recording.
    pub turns: Option<String>,
    /// The other columns, where they hold anything.
    pub extra: Option<String>,
    /// Whether person, address and account are only what an outsider says of themselves: nobody is recognised by them.
    pub unproved: bool,
}

/// What an import left out, and why.
pub type LeftOut = BadRow;

/// A row that is there already, known by its key, and says something else now.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChangedRow {
    /// The row's number.
    pub row: usize,
    /// The item that it is.
    pub item: ItemId,
    /// The beginning of the words that are there.
    pub before: String,
    /// The beginning of the words in the file.
    pub after: String,
    /// Whether the new words were taken.
    pub taken: bool,
}

/// What came of an import.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ImportReport {
    /// Items that were added.
    pub added: usize,
    /// Rows whose words from the same person on the same day are there already.
    pub duplicates: usize,
    /// Rows that are there already with other words.
    #[serde(default)]
    pub changed: Vec<ChangedRow>,
    /// Excerpts that were read in the new items.
    pub excerpts: usize,
    /// Rows that were left out, with the reason.
    pub left_out: Vec<LeftOut>,
    /// Rows that were taken, but not wholly understood.
    pub notes: Vec<LeftOut>,
    /// How days were read.
    pub day_order: DayOrder,
}

impl ImportReport {
    /// Nothing was brought in yet.
    #[must_use]
    pub fn empty() -> Self {
        ImportReport {
            added: 0,
            duplicates: 0,
            changed: Vec::new(),
            excerpts: 0,
            left_out: Vec::new(),
            notes: Vec::new(),
            day_order: DayOrder::DayFirst,
        }
    }
}

/// The most that the rows of one table may hold, in bytes: what has no column of its own stands with its heading in each row.
const MOST_HELD: usize = 192 * 1024 * 1024;

/// The rows of a table as items on their way in, one after the other, so that a large table need not stand beside all of them.
/// When it has come to its end, its report says what was left out, and what was not understood.
#[derive(Debug)]
pub struct ItemRows<'a> {
    table: &'a Table,
    columns: &'a Columns,
    /// The next row.
    at: usize,
    days: Days,
    mark: Option<numbers::Mark>,
    /// Where the key stands by which the source knew its rows when it last came, where that is another column, or none.
    former: Option<Option<usize>>,
    report: ImportReport,
}

impl<'a> ItemRows<'a> {
    /// `before` are the headings by what they meant when this source last came, if it did. Linear in the number of cells.
    ///
    /// # Errors
    /// In words, where a named column is not there or two meanings share one.
    pub fn of(
        table: &'a Table,
        columns: &'a Columns,
        before: Option<&BTreeMap<String, String>>,
    ) -> Result<Self, String> {
        check(table, columns)?;
        let column = |at: usize| table.rows.iter().map(move |row| row.cells.get(at));
        let days = Days::of(columns.said_on.map(column));
        let mark = columns.rating.and_then(|at| numbers::mark_of(column(at)));
        let report = ImportReport {
            left_out: table.bad.clone(),
            notes: table.doubts.clone(),
            day_order: days.order,
            ..ImportReport::empty()
        };
        let former = before.and_then(|before| former_key(table, columns, before));
        Ok(ItemRows { table, columns, at: 0, days, mark, former, report })
    }

    /// What was left out and not understood of the rows that came.
    #[must_use]
    pub fn report(mut self) -> ImportReport {
        self.report.notes.extend(self.days.notes());
        self.report.notes.sort_by_key(|note| note.row);
        self.report.left_out.sort_by_key(|left| left.row);
        self.report
    }

    /// All rows, and the report.
    ///
    /// # Errors
    /// In words, where they hold more than fits.
    pub fn all(mut self) -> Result<(Vec<ImportRow>, ImportReport), String> {
        let (mut rows, mut held) = (Vec::new(), 0);
        for row in self.by_ref() {
            held += row.text.len() + row.extra.as_ref().map_or(0, String::len);
            if held > MOST_HELD {
                let most = MOST_HELD / 1024 / 1024;
                return Err(format!("Its rows hold more than {most} MB with their headings. Split it."));
            }
            rows.push(row);
        }
        Ok((rows, self.report()))
    }

    fn row(&mut self, row: &Row) -> Option<ImportRow> {
        let (table, columns) = (self.table, self.columns);
        let report = &mut self.report;
        let cell = |at: Option<usize>| at.map(|at| row.cells[at].trim()).filter(|cell| !cell.is_empty());
        let mut leave = |reason: String| report.left_out.push(LeftOut { row: row.number, reason });
        let text = row.cells.get(columns.text);
        if text.trim().is_empty() {
            leave("has no text".into());
            return None;
        }
        let length = text.chars().count();
        if length > MOST_CHARACTERS {
            leave(format!("its text is {length} characters long; at most {MOST_CHARACTERS} fit in one item"));
            return None;
        }
        let mut note = |reason: String| report.notes.push(LeftOut { row: row.number, reason });
        let days = &mut self.days;
        let said_on = cell(columns.said_on).and_then(|cell| {
            let day = days.read(row.number, cell);
            if day.is_none() {
                note(format!("'{}' was not understood as a day; the item is kept without one", shorten(cell)));
            }
            day
        });
        let mark = self.mark;
        let rating = cell(columns.rating).and_then(|cell| {
            let rating = numbers::read(cell, mark);
            if rating.is_none() {
                note(format!("'{}' was not understood as a rating; the item is kept without one", shorten(cell)));
            }
            rating
        });
        Some(ImportRow {
            number: row.number,
            text: text.to_owned(),
            said_on,
            person: cell(columns.person).map(name),
            account: cell(columns.account).map(name),
            rating,
            address: cell(columns.address).map(str::to_lowercase).filter(|address| is_address(address)),
            key: cell(columns.key).map(key),
            former_key: self.former.map(|at| cell(at).map(key)),
            turns: None,
            extra: extra(table, columns, &row.cells),
            unproved: false,
        })
    }
}

impl Iterator for ItemRows<'_> {
    type Item = ImportRow;

    fn next(&mut self) -> Option<ImportRow> {
        loop {
            let row = self.table.rows.get(self.at)?;
            self.at += 1;
            if let Some(row) = self.row(row) {
                return Some(row);
            }
        }
    }
}

/// Where the key stands by which a source knew its rows, where another column tells them apart now; nothing in it where it knew
/// them by none. What is not in the file any more tells nothing.
fn former_key(table: &Table, columns: &Columns, before: &BTreeMap<String, String>) -> Option<Option<usize>> {
    let was = before.get("key");
    if was == columns.mapping(table).get("key") {
        return None;
    }
    match was {
        None => Some(None),
        Some(was) => table.columns.iter().position(|column| column == was).map(Some),
    }
}

/// The rows of a table as items on their way in, and what became of the others; see [`ItemRows`].
///
/// # Errors
/// In words, where the columns do not fit, or the rows hold more than fits.
pub fn rows_of(table: &Table, columns: &Columns) -> Result<(Vec<ImportRow>, ImportReport), String> {
    ItemRows::of(table, columns, None)?.all()
}

/// A column of days as it is read, and what was taken for a day that says less or could be another.
#[derive(Debug)]
struct Days {
    order: DayOrder,
    mixed: bool,
    either: Seen,
    weeks: Seen,
    months: Seen,
}

/// The first row of a sort, and how many there are.
#[derive(Debug, Default)]
struct Seen {
    first: usize,
    count: usize,
}

impl Seen {
    fn see(&mut self, row: usize) {
        self.first = if self.count == 0 { row } else { self.first };
        self.count += 1;
    }
}

impl Days {
    fn of<'a>(column: Option<impl Iterator<Item = &'a str> + Clone>) -> Self {
        let (order, mixed) =
            column.map_or((DayOrder::DayFirst, false), |cells| (days::order_of(cells.clone()), days::is_mixed(cells)));
        Days { order, mixed, either: Seen::default(), weeks: Seen::default(), months: Seen::default() }
    }

    fn read(&mut self, row: usize, cell: &str) -> Option<String> {
        let (day, says) = days::read_column(cell, self.order)?;
        match says {
            Says::Week => self.weeks.see(row),
            Says::Month => self.months.see(row),
            Says::Day if self.mixed && days::could_be_either(cell) => self.either.see(row),
            Says::Day => {}
        }
        Some(day.to_string())
    }

    /// What is told once of all rows of a sort, at the first of them.
    fn notes(&self) -> Vec<LeftOut> {
        let told = [
            (&self.weeks, "a week; its Monday is taken"),
            (&self.months, "a month; its first day is taken"),
            (&self.either, "a day that could be the month, as this column writes both ways; it is read day first"),
        ];
        let note = |(seen, words): (&Seen, &str)| {
            let more = if seen.count > 1 { format!(", and so do {} more rows", seen.count - 1) } else { String::new() };
            LeftOut { row: seen.first, reason: format!("says {words}{more}") }
        };
        told.into_iter().filter(|(seen, _)| seen.count > 0).map(note).collect()
    }
}

fn name(cell: &str) -> String {
    cell.split_whitespace().collect::<Vec<_>>().join(" ").chars().take(MOST_NAME).collect()
}

fn key(cell: &str) -> String {
    cell.chars().take(MOST_NAME).collect()
}

fn shorten(cell: &str) -> String {
    cell.chars().take(40).collect()
}

fn extra(table: &Table, columns: &Columns, cells: &Cells) -> Option<String> {
    let used = columns.named().map(|(_, at)| at);
    let rest: Map<String, Value> = table
        .columns
        .iter()
        .zip(cells.iter())
        .enumerate()
        .filter(|(at, (_, cell))| !used.contains(&Some(*at)) && !cell.trim().is_empty())
        .map(|(_, (column, cell))| (column.clone(), Value::from(cell)))
        .collect();
    if rest.is_empty() { None } else { Some(Value::Object(rest).to_string()) }
}

fn is_address(text: &str) -> bool {
    text.split_once('@').is_some_and(|(name, domain)| !name.is_empty() && domain.contains('.') && !text.contains(' '))
}

/// Documents as items on their way in. What does not fit into one item is left out with its reason, and what of a
/// document was not read is noted. Linear in their length.
#[must_use]
pub fn rows_of_documents(documents: &[Document]) -> (Vec<ImportRow>, ImportReport) {
    let mut report = ImportReport::empty();
    let mut rows = Vec::with_capacity(documents.len());
    for (at, document) in documents.iter().enumerate() {
        let number = at + 1;
        let length = document.text.chars().count();
        if document.text.trim().is_empty() || length > MOST_CHARACTERS {
            let reason = match length {
                length if length > MOST_CHARACTERS => {
                    format!("its text is {length} characters long; at most {MOST_CHARACTERS} fit in one item. Split it")
                }
                _ => "has no text".to_owned(),
            };
            report.left_out.push(LeftOut { row: number, reason });
            continue;
        }
        report.notes.extend(document.notes.iter().map(|reason| LeftOut { row: number, reason: reason.clone() }));
        let title = document.title.trim();
        rows.push(ImportRow {
            number,
            text: document.text.clone(),
            said_on: document.said_on.map(|day| day.to_string()),
            person: who(document),
            address: document.address.clone(),
            key: document.key.clone(),
            turns: (!document.turns.is_empty()).then(|| serde_json::to_string(&document.turns).ok()).flatten(),
            extra: (!title.is_empty()).then(|| serde_json::json!({ "title": title }).to_string()),
            ..ImportRow::default()
        });
    }
    (rows, report)
}

/// Who a document is from: as it says, or the one who answers in it.
fn who(document: &Document) -> Option<String> {
    let said = document.person.as_deref().map(name).filter(|name| !name.is_empty());
    said.or_else(|| speakers_of(&document.text, &document.turns).answers().map(name))
}

/// The text whose hash tells an item from its duplicates: the same words, in whatever case and
/// spacing, from the same person on the same day are one. Of nameless ones that their source knows by a key, each
/// counts.
#[must_use]
pub fn digest_text(row: &ImportRow) -> String {
    let words = row.text.split_whitespace().collect::<Vec<_>>().join(" ").to_lowercase();
    let person = row.person.as_deref().unwrap_or_default().to_lowercase();
    let day = row.said_on.as_deref().unwrap_or_default();
    match &row.key {
        Some(key) if person.is_empty() => format!("{words}\u{1f}{person}\u{1f}{day}\u{1f}{key}"),
        _ => format!("{words}\u{1f}{person}\u{1f}{day}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::table;
    use crate::listen::propose_columns;

    const FILE: &str = "id,Review text,Stars,Date,Customer,Company,Boat\n\
        1,The boat was late,2,31.03.2026,Ann Lee,Hask Stores,Tern\n\
        2,,5,01.04.2026,Bo,,\n\
        3,Lovely crew,five,32.04.2026,,,\n";

    #[test]
    fn days_and_numbers_are_read_as_their_columns_write_them() {
        let file = "text;date;rating\na;3/31/2026;1.200\nb;31/3/2026;1.200,5\nc;3/4/2026;€ 3.400\nd;Oct 2021;4\ne;2026-W14;5\nf;1774944000;x\n";
        let table = table::read(file.as_bytes()).unwrap();
        let columns = Columns { text: 0, said_on: Some(1), rating: Some(2), ..Columns::default() };
        let (rows, report) = rows_of(&table, &columns).unwrap();
        let days: Vec<&str> = rows.iter().filter_map(|row| row.said_on.as_deref()).collect();
        assert_eq!(days, ["2026-03-31", "2026-03-31", "2026-04-03", "2021-10-01", "2026-03-30", "2026-03-31"]);
        let ratings: Vec<f64> = rows.iter().filter_map(|row| row.rating).collect();
        assert_eq!(ratings, [1_200.0, 1_200.5, 3_400.0, 4.0, 5.0]);
        let notes: Vec<(usize, &str)> = report.notes.iter().map(|note| (note.row, note.reason.as_str())).collect();
        assert_eq!(notes.iter().map(|(row, _)| *row).collect::<Vec<_>>(), [4, 5, 6, 7]);
        assert!(notes[0].1.contains("day first") && notes[1].1.contains("month") && notes[2].1.contains("Monday"));
    }

    #[test]
    fn columns_are_proposed_from_their_names() {
        let table = table::read(FILE.as_bytes()).unwrap();
        let columns = propose_columns(&table);
        assert_eq!(
            columns,
            Columns {
                text: 1,
                said_on: Some(3),
                person: Some(4),
                account: Some(5),
                rating: Some(2),
                address: None,
                key: Some(0),
            }
        );
    }

    #[test]
    fn without_a_telling_name_the_longest_column_is_the_text() {
        let table = table::read(b"a,b\nx,a long sentence about boats\ny,another one of that sort\n").unwrap();
        assert_eq!(propose_columns(&table).text, 1);
        // What people said is no day.
        let table = table::read(b"who,said\nZo\xc3\xab,a long sentence about the boats and the harbour\n").unwrap();
        let columns = propose_columns(&table);
        assert_eq!((columns.text, columns.said_on, columns.person), (1, None, Some(0)));
    }

    #[test]
    fn rows_keep_all_that_they_hold_and_say_what_was_not_understood() {
        let table = table::read(FILE.as_bytes()).unwrap();
        let (rows, report) = rows_of(&table, &propose_columns(&table)).unwrap();
        assert_eq!(rows.len(), 2);
        assert_eq!(rows[0].said_on.as_deref(), Some("2026-03-31"));
        assert_eq!(rows[0].extra.as_deref(), Some(r#"{"Boat":"Tern"}"#));
        assert_eq!(rows[0].key.as_deref(), Some("1"));
        assert_eq!(report.left_out, [LeftOut { row: 3, reason: "has no text".into() }]);
        assert_eq!(report.notes.iter().map(|n| n.row).collect::<Vec<_>>(), [4, 4]);
    }

    #[test]
    fn rows_know_the_key_that_their_source_had_before() {
        let table = table::read(b"no,ref,text\n1,a,Late\n2,b,\n3,c,Fine\n").unwrap();
        let columns = |key| Columns { text: 2, key, ..Columns::default() };
        let formerly = |before: &[(&str, &str)], key| -> Vec<Option<Option<String>>> {
            let before =
                before.iter().map(|(meaning, heading)| ((*meaning).to_owned(), (*heading).to_owned())).collect();
            let columns = columns(key);
            ItemRows::of(&table, &columns, Some(&before)).unwrap().map(|row| row.former_key).collect()
        };
        let was = |key: &str| Some(Some(key.to_owned()));
        assert_eq!(formerly(&[("key", "no")], Some(1)), [was("1"), was("3")]);
        assert_eq!(formerly(&[("key", "no")], None), [was("1"), was("3")]);
        assert_eq!(formerly(&[("text", "text")], Some(0)), [Some(None), Some(None)]);
        assert_eq!(formerly(&[("key", "ref")], Some(1)), [None, None]);
        assert_eq!(formerly(&[("key", "gone")], Some(1)), [None, None]);
    }

    #[test]
    fn a_cell_beyond_all_measure_is_left_out_by_its_length() {
        let file = format!("text\n{}\nshort\n", "x".repeat(10_000_000));
        let table = table::read(file.as_bytes()).unwrap();
        let (rows, report) = rows_of(&table, &Columns::default()).unwrap();
        assert_eq!(rows.len(), 1);
        assert!(report.left_out[0].reason.contains("10000000"));
    }

    #[test]
    fn columns_that_cannot_be_are_refused() {
        let table = table::read(b"a,b\n1,2\n").unwrap();
        assert!(rows_of(&table, &Columns { text: 7, ..Columns::default() }).unwrap_err().contains("no column 8"));
        let twice = Columns { text: 0, person: Some(0), ..Columns::default() };
        assert!(rows_of(&table, &twice).unwrap_err().contains("chosen twice"));
    }

    #[test]
    fn duplicates_are_told_by_words_person_and_day() {
        let row = |text: &str, person: &str| ImportRow {
            number: 2,
            text: text.into(),
            said_on: None,
            person: Some(person.into()),
            ..ImportRow::default()
        };
        assert_eq!(digest_text(&row("The  boat\nwas late", "Ann")), digest_text(&row("the boat was LATE", "ann")));
        assert_ne!(digest_text(&row("The boat was late", "Ann")), digest_text(&row("The boat was late", "Bo")));
    }
}
