//! A range of a sheet, as spreadsheets write it: `B3:F200`, `B3` to the end, `3:200`.

use super::Cells;

/// A part of a sheet; rows and columns from 0, the last ones in it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Range {
    rows: (usize, usize),
    columns: (usize, usize),
}

impl Range {
    /// Reads a range.
    pub(super) fn read(text: &str) -> Result<Self, String> {
        let fault = || format!("“{}” is no range. Write it as B3:F200, or B3 for all from there on.", text.trim());
        let (from, to) = text.trim().split_once(':').unwrap_or((text.trim(), ""));
        let ((column, row), (last_column, last_row)) = (corner(from).ok_or_else(fault)?, corner(to).ok_or_else(fault)?);
        if from.is_empty() {
            return Err(fault());
        }
        let range = Range {
            rows: (row.unwrap_or(0), last_row.unwrap_or(usize::MAX)),
            columns: (column.unwrap_or(0), last_column.unwrap_or(usize::MAX)),
        };
        if range.rows.0 > range.rows.1 || range.columns.0 > range.columns.1 {
            return Err(fault());
        }
        Ok(range)
    }

    /// Takes out what lies outside. Rows keep their places, so that their numbers stay true. Linear.
    pub(super) fn take(self, rows: &mut Vec<Cells>) {
        rows.truncate(self.rows.1.saturating_add(1));
        for (at, row) in rows.iter_mut().enumerate() {
            *row = if at < self.rows.0 {
                Cells::default()
            } else {
                let count = (self.columns.1 - self.columns.0).saturating_add(1);
                row.iter().skip(self.columns.0).take(count).collect()
            };
        }
    }
}

/// `BC12` as the column and the row, from 0; either may be missing.
fn corner(text: &str) -> Option<(Option<usize>, Option<usize>)> {
    let text = text.trim().trim_start_matches('$');
    let letters = text.chars().take_while(char::is_ascii_alphabetic).count();
    let (column, row) = text.split_at_checked(letters)?;
    let row = row.trim_start_matches('$');
    let number = |letters: &str| {
        letters.chars().try_fold(0_usize, |sum, letter| {
            let value = u32::from(letter.to_ascii_uppercase()).checked_sub(u32::from('A'))? as usize + 1;
            sum.checked_mul(26)?.checked_add(value)
        })
    };
    // No sheet reaches beyond XFD; what is longer is a word.
    let column = if column.is_empty() {
        None
    } else if column.len() > 3 {
        return None;
    } else {
        Some(number(column)?.checked_sub(1)?)
    };
    let row = if row.is_empty() { None } else { Some(row.parse::<usize>().ok()?.checked_sub(1)?) };
    Some((column, row))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ranges_are_read_as_spreadsheets_write_them() {
        let read = |text| Range::read(text).map(|range| (range.rows, range.columns));
        assert_eq!(read("B3:F200"), Ok(((2, 199), (1, 5))));
        assert_eq!(read("$b$3:aa4"), Ok(((2, 3), (1, 26))));
        assert_eq!(read("C5"), Ok(((4, usize::MAX), (2, usize::MAX))));
        assert_eq!(read("3:200"), Ok(((2, 199), (0, usize::MAX))));
        for text in ["", ":", "B0", "F3:B4", "B3:F2", "three", "B3:F4:G5", "B3 to F4", "AAAAAAAAAAAAAAAAAAAA1"] {
            assert!(Range::read(text).is_err(), "{text}");
        }
    }
}
