//! A table of feedback becomes items: which column is what, what is left out and why.

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use crate::formats::days::{self, DayOrder};
use crate::formats::table::{BadRow, Table};

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
}

/// One row on its way in.
#[derive(Debug, Clone, PartialEq)]
pub struct ImportRow {
    /// The row's number as a spreadsheet shows it.
    pub number: usize,
    /// The words, trimmed.
    pub text: String,
    /// The day, `YYYY-MM-DD`.
    pub said_on: Option<String>,
    /// The person's name.
    pub person: Option<String>,
    /// The account's name.
    pub account: Option<String>,
    /// The rating.
    pub rating: Option<f64>,
    /// The other columns, where they hold anything.
    pub extra: Option<String>,
}

/// What an import left out, and why.
pub type LeftOut = BadRow;

/// What came of an import.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ImportReport {
    /// Items that were added.
    pub added: usize,
    /// Rows whose words from the same person on the same day are there already.
    pub duplicates: usize,
    /// Excerpts that were read in the new items.
    pub excerpts: usize,
    /// Rows that were left out, with the reason.
    pub left_out: Vec<LeftOut>,
    /// Rows that were taken, but not wholly understood.
    pub notes: Vec<LeftOut>,
    /// How days were read.
    pub day_order: DayOrder,
}

/// Names that columns usually have, in lower case, most telling first.
const TEXT_NAMES: [&str; 9] =
    ["text", "review", "feedback", "comment", "message", "body", "answer", "description", "what"];
const DAY_NAMES: [&str; 7] = ["date", "day", "created", "said", "when", "time", "sent"];
const PERSON_NAMES: [&str; 7] = ["person", "name", "author", "user", "who", "customer", "from"];
const ACCOUNT_NAMES: [&str; 5] = ["account", "company", "organisation", "organization", "group"];
const RATING_NAMES: [&str; 4] = ["rating", "stars", "score", "grade"];

/// Proposes which column is what, from headings first and contents second. Nothing is proposed
/// twice. The text column falls back to the one with the longest cells.
#[must_use]
pub fn propose_columns(table: &Table) -> Columns {
    let mut taken = Vec::new();
    let mut named = |names: &[&str]| {
        let found = names.iter().find_map(|name| {
            let is = |at: &usize| !taken.contains(at) && table.columns[*at].to_lowercase().contains(name);
            (0..table.columns.len()).find(is)
        });
        taken.extend(found);
        found
    };
    let said_on = named(&DAY_NAMES);
    let rating = named(&RATING_NAMES);
    let account = named(&ACCOUNT_NAMES);
    let text = named(&TEXT_NAMES);
    let person = named(&PERSON_NAMES);
    let longest = || {
        let length = |at: usize| table.rows.iter().take(50).map(|row| row.cells[at].len()).sum::<usize>();
        (0..table.columns.len()).filter(|at| !taken.contains(at)).max_by_key(|at| length(*at)).unwrap_or(0)
    };
    Columns { text: text.unwrap_or_else(longest), said_on, person, account, rating }
}

/// The rows of a table as items on their way in, what is left out, and what was not understood.
/// Linear in the number of cells.
///
/// # Errors
/// In words, where a named column is not there or two meanings share one.
pub fn rows_of(table: &Table, columns: &Columns) -> Result<(Vec<ImportRow>, ImportReport), String> {
    check(table, columns)?;
    let order = columns
        .said_on
        .map_or(DayOrder::DayFirst, |at| days::order_of(table.rows.iter().map(|r| r.cells[at].as_str())));
    let mut report = ImportReport {
        added: 0,
        duplicates: 0,
        excerpts: 0,
        left_out: table.bad.clone(),
        notes: Vec::new(),
        day_order: order,
    };
    let mut rows = Vec::with_capacity(table.rows.len());
    for row in &table.rows {
        let cell = |at: Option<usize>| at.map(|at| row.cells[at].trim()).filter(|cell| !cell.is_empty());
        let mut leave = |reason: String| report.left_out.push(LeftOut { row: row.number, reason });
        let Some(text) = cell(Some(columns.text)) else {
            leave("has no text".into());
            continue;
        };
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
        rows.push(ImportRow {
            number: row.number,
            text: text.replace("\r\n", "\n"),
            said_on,
            person: cell(columns.person).map(name),
            account: cell(columns.account).map(name),
            rating,
            extra: extra(table, columns, &row.cells),
        });
    }
    report.left_out.sort_by_key(|left| left.row);
    Ok((rows, report))
}

fn check(table: &Table, columns: &Columns) -> Result<(), String> {
    let named = [Some(columns.text), columns.said_on, columns.person, columns.account, columns.rating];
    let mut used: Vec<usize> = named.into_iter().flatten().collect();
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

fn extra(table: &Table, columns: &Columns, cells: &[String]) -> Option<String> {
    let used = [Some(columns.text), columns.said_on, columns.person, columns.account, columns.rating];
    let rest: Map<String, Value> = table
        .columns
        .iter()
        .zip(cells)
        .enumerate()
        .filter(|(at, (_, cell))| !used.contains(&Some(*at)) && !cell.trim().is_empty())
        .map(|(_, (column, cell))| (column.clone(), Value::from(cell.as_str())))
        .collect();
    if rest.is_empty() { None } else { Some(Value::Object(rest).to_string()) }
}

/// The text whose hash tells an item from its duplicates: the same words, in whatever case and
/// spacing, from the same person on the same day are one.
#[must_use]
pub fn digest_text(row: &ImportRow) -> String {
    let words = row.text.split_whitespace().collect::<Vec<_>>().join(" ").to_lowercase();
    let person = row.person.as_deref().unwrap_or_default().to_lowercase();
    format!("{words}\u{1f}{person}\u{1f}{}", row.said_on.as_deref().unwrap_or_default())
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
        assert_eq!(columns, Columns { text: 1, said_on: Some(3), person: Some(4), account: Some(5), rating: Some(2) });
    }

    #[test]
    fn without_a_telling_name_the_longest_column_is_the_text() {
        let table = table::read(b"a,b\nx,a long sentence about boats\ny,another one of that sort\n").unwrap();
        assert_eq!(propose_columns(&table).text, 1);
    }

    #[test]
    fn rows_keep_all_that_they_hold_and_say_what_was_not_understood() {
        let table = table::read(FILE.as_bytes()).unwrap();
        let (rows, report) = rows_of(&table, &propose_columns(&table)).unwrap();
        assert_eq!(rows.len(), 2);
        assert_eq!(rows[0].said_on.as_deref(), Some("2026-03-31"));
        assert_eq!(rows[0].extra.as_deref(), Some(r#"{"Boat":"Tern","id":"1"}"#));
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
            account: None,
            rating: None,
            extra: None,
        };
        assert_eq!(digest_text(&row("The  boat\nwas late", "Ann")), digest_text(&row("the boat was LATE", "ann")));
        assert_ne!(digest_text(&row("The boat was late", "Ann")), digest_text(&row("The boat was late", "Bo")));
    }
}
