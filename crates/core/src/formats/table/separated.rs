//! Separated values: from text to rows.

use super::{BadRow, Cells, HowRead, MOST_COLUMNS, MOST_ROWS, Table, of_rows};

/// Reads a table from a text whose encoding, by its name, is known already.
///
/// The separator is the one among `, ; tab |` that most evenly divides the first rows, and there is none where none divides
/// most of them; quoted cells may hold it, and line breaks. A row with more cells than the first is named and left out. Linear in the length.
///
/// # Errors
/// In words, where it is empty, or holds more than [`MOST_COLUMNS`] columns or [`MOST_ROWS`] rows.
pub fn of_text(text: &str, encoding: &str, how: &HowRead) -> Result<Table, String> {
    let separator = match how.separator {
        Some(separator) if separator.is_ascii() && !separator.is_ascii_alphanumeric() => separator,
        Some(separator) => {
            return Err(format!("“{separator}” cannot separate cells. Choose a comma, a semicolon, a bar or a tab."));
        }
        None => separator_of(text).unwrap_or(NONE),
    };
    let quotes = how.quotes.unwrap_or(true);
    let mut reader = reader(text, separator, quotes);
    let mut record = csv::StringRecord::new();
    let (mut rows, mut bad, mut doubts): (Vec<Cells>, _, _) = (Vec::new(), Vec::new(), Vec::new());
    while rows.len() <= MOST_ROWS {
        match reader.read_record(&mut record) {
            Ok(false) => break,
            Ok(true) => {
                // A row that is far too long is left out by its length, and not held until then.
                let mut cells: Cells = record.iter().take(MOST_COLUMNS + 1).collect();
                cells.shrink();
                rows.push(cells);
                let between = rows.first().map_or(0, Cells::len).saturating_sub(1);
                doubts.extend(swallowed(&record, separator, between).map(|lines| BadRow {
                    row: rows.len(),
                    reason: format!(
                        "has a quotation mark that takes {lines} more rows into one cell; if it belongs to the words, have quotation marks read as they stand"
                    ),
                }));
            }
            Err(fault) => {
                rows.push(Cells::default());
                bad.push(BadRow { row: rows.len(), reason: format!("cannot be read: {fault}") });
            }
        }
    }
    if rows.len() > MOST_ROWS {
        return Err(format!("The file has more than {MOST_ROWS} rows. Split it."));
    }
    if rows.is_empty() {
        return Err("The file is empty. It needs a row of headings and one row for each item.".into());
    }
    let between = match separator {
        NONE => "in one column".to_owned(),
        '\t' => "separated by tabs".to_owned(),
        separator => format!("separated by “{separator}”"),
    };
    let marks = if quotes { "" } else { ", quotation marks as they stand" };
    let mut table = of_rows(rows, None, format!("{encoding}, {between}{marks}"), how)?;
    table.doubts = doubts;
    table.bad.extend(bad);
    table.bad.sort_by_key(|bad| bad.row);
    Ok(table)
}

fn reader(text: &str, separator: char, quotes: bool) -> csv::Reader<&[u8]> {
    csv::ReaderBuilder::new()
        .delimiter(separator as u8)
        .quoting(quotes)
        .flexible(true)
        .has_headers(false)
        .from_reader(text.as_bytes())
}

/// How many rows a quotation mark seems to have taken into one cell: lines in it that are divided as the rows of the table are.
fn swallowed(record: &csv::StringRecord, separator: char, between: usize) -> Option<usize> {
    // Words may hold a comma; several of them in each line are rarely so.
    let telling = between > usize::from(separator == ',');
    let cells = record.iter().filter(|cell| telling && cell.contains('\n') && cell.contains(separator));
    let inner = |cell: &str| {
        let lines: Vec<usize> = cell.lines().skip(1).map(|line| line.matches(separator).count()).collect();
        let lines = lines.get(..lines.len().saturating_sub(1)).unwrap_or_default();
        let alike = lines.iter().filter(|count| **count >= between).count();
        (alike * 2 > lines.len()).then_some(lines.len() + 1)
    };
    cells.filter_map(inner).max()
}

/// So many records decide about the separator.
const SAMPLE: usize = 20;
/// Fewer rows are few.
const FEW: usize = 5;

/// What separates nothing, as no text has it.
const NONE: char = '\u{1f}';

fn separator_of(text: &str) -> Option<char> {
    let score = |separator: char| {
        let mut reader = reader(text, separator, true);
        let widths: Vec<usize> = reader.records().take(SAMPLE).map_while(Result::ok).map(|r| r.len()).collect();
        let alike = |width: usize| widths.iter().filter(|other| **other == width).count();
        // Lines above the headings have another width than the rows.
        let best = widths.iter().copied().filter(|width| *width > 1).map(|width| (alike(width), width)).max();
        let first = widths.first().is_some_and(|width| *width > 1);
        // Where the first row is not divided, a few rows of words that hold as many commas are no table.
        let best = best.filter(|(count, _)| count * 2 >= widths.len() && (first || *count >= FEW));
        best.map_or(0, |(count, width)| count * 1_000 + width.min(100))
    };
    // On a tie the earlier one wins: max_by_key keeps the last, so the order is turned round.
    ['|', '\t', ';', ','].into_iter().max_by_key(|separator| score(*separator)).filter(|best| score(*best) > 0)
}
