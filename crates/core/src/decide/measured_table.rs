//! Measurements from a table: pasted from a sheet, or a file of separated values.

use serde_json::Value;

use super::Point;
use crate::fields::{FieldType, read_text};
use crate::formats::days::{self, order_of};
use crate::formats::table::{self, BadRow, Row};

/// What was read from a table.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredTable {
    /// The values, by the day; of several of one day, the last in the table.
    pub points: Vec<Point>,
    /// Rows that say no day or no number.
    pub bad: Vec<BadRow>,
}

/// Reads measurements from a table: the first column that holds days, and the first other one that holds numbers. Headings may
/// be missing. O(rows · columns).
///
/// # Errors
/// In words, where there is no such column.
pub fn read_measurements(text: &str) -> Result<MeasuredTable, String> {
    let table = table::read(text.as_bytes())?;
    let mut rows = vec![Row { number: 1, cells: table.columns.iter().collect() }];
    rows.extend(table.rows);
    let width = rows.iter().map(|row| row.cells.len()).max().unwrap_or(0);
    let column = |at: usize| rows.iter().map(move |row| row.cells.get(at));
    let day_column = (0..width).max_by_key(|at| {
        let order = order_of(column(*at));
        (column(*at).filter(|cell| days::read(cell, order).is_some()).count(), width - at)
    });
    let day_column = day_column.ok_or("There is nothing in it. It needs a column of days and one of numbers.")?;
    let order = order_of(column(day_column));
    if column(day_column).all(|cell| days::read(cell, order).is_none()) {
        return Err("No column holds days. Write them as 2026-03-31.".into());
    }
    let value_column = (0..width)
        .filter(|at| *at != day_column)
        .max_by_key(|at| (column(*at).filter(|cell| number(cell).is_some()).count(), width - at))
        .ok_or("There is one column only. It needs a column of days and one of numbers.")?;
    let (mut points, mut bad) = (Vec::<Point>::new(), table.bad);
    for row in &rows {
        let cell = |at: usize| row.cells.get(at);
        match (days::read(cell(day_column), order), number(cell(value_column))) {
            (Some(on), Some(value)) => points.push(Point { on, value }),
            // Headings.
            (None, None) if row.number == 1 => {}
            (None, _) => bad.push(BadRow { row: row.number, reason: format!("“{}” is no day", cell(day_column)) }),
            (_, None) => {
                bad.push(BadRow { row: row.number, reason: format!("“{}” is no number", cell(value_column)) })
            }
        }
    }
    points.sort_by_key(|point| point.on);
    points.reverse();
    // The sort keeps the order of the table, so the last of a day comes first now.
    points.dedup_by_key(|point| point.on);
    points.reverse();
    bad.sort_by_key(|row| row.row);
    Ok(MeasuredTable { points, bad })
}

fn number(cell: &str) -> Option<f64> {
    read_text("value", &FieldType::Number { unit: None }, cell).ok().as_ref().and_then(Value::as_f64)
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    fn told(text: &str) -> Vec<(String, f64)> {
        let table = read_measurements(text).unwrap();
        table.points.into_iter().map(|point| (point.on.to_string(), point.value)).collect()
    }

    #[test]
    fn days_and_numbers_are_found_wherever_they_stand() {
        let expected = vec![("2026-03-02".to_owned(), 31.0), ("2026-03-09".to_owned(), 29.5)];
        assert_eq!(told("day,value\n2026-03-09,29.5\n2026-03-02,31\n"), expected);
        assert_eq!(told("2026-03-02\t31\n2026-03-09\t29,5"), expected, "pasted from a sheet, without headings");
        assert_eq!(told("week;turned away;on\n10;31;02.03.2026\n11;29,5;09.03.2026\n").len(), 2);
        assert_eq!(told("on,value\n2026-03-02,30\n2026-03-02,31\n2026-03-09,29.5\n"), expected, "the last of a day");
    }

    #[test]
    fn what_cannot_be_read_is_named_by_its_row() {
        let table = read_measurements("day,value\n2026-03-02,31\nsoon,7\n2026-03-16,many\n").unwrap();
        assert_eq!(table.points, [Point { on: date(2026, 3, 2), value: 31.0 }]);
        let bad: Vec<_> = table.bad.iter().map(|row| (row.row, row.reason.as_str())).collect();
        assert_eq!(bad, [(3, "“soon” is no day"), (4, "“many” is no number")]);
        for none in ["", "day\n2026-03-02\n", "a,b\nc,d\n"] {
            assert!(read_measurements(none).unwrap_err().ends_with('.'), "{none}");
        }
    }
}
