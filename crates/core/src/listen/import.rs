//! A table of feedback becomes items: which column is what, what is left out and why.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use super::{Document, speakers_of};
use crate::formats::cells::Cells;
use crate::formats::days::{self, DayOrder};
use crate::formats::table::{BadRow, Table};
use crate::things::ItemId;

/// The longest text of one item, in characters: a long interview fits, a damaged file does not.
pub const MOST_CHARACTERS: usize = 200_000;
/// The longest name of a person or account.
const MOST_NAME: usize = 300;

/// Which column holds what, by its place from 0. Columns not named here are kept beside the item.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Columns {
    /// The words.
    pub text: usize,
    /// The day they were said.
    pub said_on: Option<usize>,
    /// Who said them.
    pub person: Option<usize>,
    /// The organisation of that person.
    pub account: Option<usize>,
    /// A rating that came with them.
    pub rating: Option<usize>,
    /// The mail address of the person.
    #[serde(default)]
    pub address: Option<usize>,
    /// What tells a row from all others of its source, such as the number of a ticket.
    #[serde(default)]
    pub key: Option<usize>,
}

impl Columns {
    /// The columns that mean something, with what they mean.
    fn named(&self) -> [(&'static str, Option<usize>); 7] {
        [
            ("text", Some(self.text)),
            ("said_on", self.said_on),
            ("person", self.person),
            ("account", self.account),
            ("rating", self.rating),
            ("address", self.address),
            ("key", self.key),
        ]
    }

    /// The meanings by the headings of a table, to be remembered for its source.
    #[must_use]
    pub fn mapping(&self, table: &Table) -> BTreeMap<String, String> {
        let heading = |at: usize| table.columns.get(at).cloned();
        let named = self.named().into_iter();
        named.filter_map(|(meaning, at)| Some((meaning.to_owned(), heading(at?)?))).collect()
    }

    /// The columns of a table by meanings that were remembered; nothing where the words are not among its headings.
    #[must_use]
    pub fn remembered(mapping: &BTreeMap<String, String>, table: &Table) -> Option<Self> {
        let at = |meaning: &str| {
            let heading = mapping.get(meaning)?;
            table.columns.iter().position(|column| column == heading)
        };
        Some(Columns {
            text: at("text")?,
            said_on: at("said_on"),
            person: at("person"),
            account: at("account"),
            rating: at("rating"),
            address: at("address"),
            key: at("key"),
        })
    }
}

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

/// Names that columns usually have, in lower case, most telling first.
const TEXT_NAMES: [&str; 10] =
    ["text", "review", "feedback", "comment", "message", "body", "answer", "description", "what", "wish"];
const DAY_NAMES: [&str; 10] =
    ["date", "day", "created", "said", "when", "time", "sent", "opened", "received", "submitted"];
const PERSON_NAMES: [&str; 7] = ["person", "name", "author", "user", "who", "customer", "from"];
const ACCOUNT_NAMES: [&str; 5] = ["account", "company", "organisation", "organization", "group"];
const RATING_NAMES: [&str; 4] = ["rating", "stars", "score", "grade"];

const ADDRESS_NAMES: [&str; 2] = ["mail", "address"];

/// Whether a heading is that of a number by which a source knows its rows.
fn is_key(heading: &str) -> bool {
    let heading = heading.trim().to_lowercase();
    let last = heading.rsplit([' ', '_', '.', '-']).next().unwrap_or_default();
    matches!(last, "id" | "key" | "number" | "no" | "nr" | "ref" | "reference") || heading == "ticket"
}

/// Proposes which column is what, from headings first and contents second. Nothing is proposed
/// twice. The text column falls back to the one with the longest cells.
#[must_use]
pub fn propose_columns(table: &Table) -> Columns {
    let key = table.columns.iter().position(|column| is_key(column));
    let mut taken: Vec<usize> = key.into_iter().collect();
    let mut named_and = |names: &[&str], fits: &dyn Fn(usize) -> bool| {
        let found = names.iter().find_map(|name| {
            let is = |at: &usize| !taken.contains(at) && table.columns[*at].to_lowercase().contains(name) && fits(*at);
            (0..table.columns.len()).find(is)
        });
        taken.extend(found);
        found
    };
    let address = named_and(&ADDRESS_NAMES, &|_| true);
    // What is longer than any day are words, though the heading be "said".
    let said_on = named_and(&DAY_NAMES, &|at| mean_length(table, at) <= LONGEST_DAY);
    let mut named = |names: &[&str]| named_and(names, &|_| true);
    let rating = named(&RATING_NAMES);
    let account = named(&ACCOUNT_NAMES);
    let text = named(&TEXT_NAMES);
    let person = named(&PERSON_NAMES);
    let longest = || {
        let length = |at: usize| table.rows.iter().take(50).map(|row| row.cells[at].len()).sum::<usize>();
        (0..table.columns.len()).filter(|at| !taken.contains(at)).max_by_key(|at| length(*at)).unwrap_or(0)
    };
    Columns { text: text.unwrap_or_else(longest), said_on, person, account, rating, address, key }
}

/// A day with its hour is no longer than this: "Wednesday, 24 September 2026, 17:20".
const LONGEST_DAY: usize = 40;

/// How long the first cells of a column are that hold something, on average.
fn mean_length(table: &Table, at: usize) -> usize {
    let lengths = table.rows.iter().take(50).map(|row| row.cells[at].trim().len()).filter(|length| *length > 0);
    let (count, sum) = lengths.fold((0, 0), |(count, sum), length| (count + 1, sum + length));
    sum / usize::max(count, 1)
}

/// The most that the rows of one table may hold, in bytes: what has no column of its own stands with its heading in each row.
const MOST_HELD: usize = 192 * 1024 * 1024;

/// The rows of a table as items on their way in, what is left out, and what was not understood.
/// Linear in the number of cells.
///
/// # Errors
/// In words, where a named column is not there or two meanings share one.
pub fn rows_of(table: &Table, columns: &Columns) -> Result<(Vec<ImportRow>, ImportReport), String> {
    check(table, columns)?;
    let order =
        columns.said_on.map_or(DayOrder::DayFirst, |at| days::order_of(table.rows.iter().map(|row| row.cells.get(at))));
    let mut report = ImportReport { left_out: table.bad.clone(), day_order: order, ..ImportReport::empty() };
    let (mut rows, mut held) = (Vec::with_capacity(table.rows.len()), 0);
    for row in &table.rows {
        let cell = |at: Option<usize>| at.map(|at| row.cells[at].trim()).filter(|cell| !cell.is_empty());
        let mut leave = |reason: String| report.left_out.push(LeftOut { row: row.number, reason });
        let text = row.cells.get(columns.text);
        if text.trim().is_empty() {
            leave("has no text".into());
            continue;
        }
        let length = text.chars().count();
        if length > MOST_CHARACTERS {
            leave(format!("its text is {length} characters long; at most {MOST_CHARACTERS} fit in one item"));
            continue;
        }
        let mut note = |reason: String| report.notes.push(LeftOut { row: row.number, reason });
        let said_on = cell(columns.said_on).and_then(|cell| {
            let day = days::read(cell, order);
            if day.is_none() {
                note(format!("'{}' was not understood as a day; the item is kept without one", shorten(cell)));
            }
            day.map(|day| day.to_string())
        });
        let rating = cell(columns.rating).and_then(|cell| {
            let rating = cell.replace(',', ".").parse::<f64>().ok().filter(|r| r.is_finite());
            if rating.is_none() {
                note(format!("'{}' was not understood as a rating; the item is kept without one", shorten(cell)));
            }
            rating
        });
        let extra = extra(table, columns, &row.cells);
        held += text.len() + extra.as_ref().map_or(0, String::len);
        if held > MOST_HELD {
            return Err(format!(
                "Its rows hold more than {} MB with their headings. Split it.",
                MOST_HELD / 1024 / 1024
            ));
        }
        rows.push(ImportRow {
            number: row.number,
            text: text.to_owned(),
            said_on,
            person: cell(columns.person).map(name),
            account: cell(columns.account).map(name),
            rating,
            address: cell(columns.address).map(str::to_lowercase).filter(|address| is_address(address)),
            key: cell(columns.key).map(|key| key.chars().take(MOST_NAME).collect()),
            turns: None,
            extra,
            unproved: false,
        });
    }
    report.left_out.sort_by_key(|left| left.row);
    Ok((rows, report))
}

fn check(table: &Table, columns: &Columns) -> Result<(), String> {
    let mut used: Vec<usize> = columns.named().into_iter().filter_map(|(_, at)| at).collect();
    if let Some(at) = used.iter().find(|at| **at >= table.columns.len()) {
        return Err(format!("There is no column {}; the file has {}.", at + 1, table.columns.len()));
    }
    used.sort_unstable();
    match used.windows(2).find(|pair| pair[0] == pair[1]) {
        Some(pair) => Err(format!("The column '{}' is chosen twice. Choose each column once.", table.columns[pair[0]])),
        None => Ok(()),
    }
}

fn name(cell: &str) -> String {
    cell.split_whitespace().collect::<Vec<_>>().join(" ").chars().take(MOST_NAME).collect()
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

    const FILE: &str = "id,Review text,Stars,Date,Customer,Company,Boat\n\
        1,The boat was late,2,31.03.2026,Ann Lee,Hask Stores,Tern\n\
        2,,5,01.04.2026,Bo,,\n\
        3,Lovely crew,five,32.04.2026,,,\n";

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
