//! Days as people write them in tables.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Which number comes first where all three parts of a day are numbers and the year is last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DayOrder {
    /// 31/3/2026
    DayFirst,
    /// 3/31/2026
    MonthFirst,
}

/// The order that fits all the days of a column: month first only where some day can be read in no
/// other way, and none speaks against it. Linear.
pub fn order_of<'a>(cells: impl Iterator<Item = &'a str>) -> DayOrder {
    let (mut month_first, mut day_first) = (false, false);
    for parts in cells.filter_map(numbers) {
        if let [a, b, year] = parts[..]
            && year > 31
        {
            month_first |= b > 12 && a <= 12;
            day_first |= a > 12 && b <= 12;
        }
    }
    if month_first && !day_first { DayOrder::MonthFirst } else { DayOrder::DayFirst }
}

/// Reads a day: `2026-03-31` with or without a time behind it, `31.03.2026`, `31/3/26`, `3/31/2026`,
/// `31 March 2026`, `Mar 31, 2026`. Two-digit years are of this century.
#[must_use]
pub fn read(cell: &str, order: DayOrder) -> Option<Date> {
    let cell = cell.trim();
    let head = cell.split(['T', ' ']).next().unwrap_or(cell);
    if let Ok(day) = head.parse::<Date>() {
        return Some(day);
    }
    named_month(cell).or_else(|| {
        let (year, month, day) = match numbers(head)?[..] {
            [year, month, day] if year > 31 => (year, month, day),
            [a, b, year] => match order {
                DayOrder::DayFirst => (century(year), b, a),
                DayOrder::MonthFirst => (century(year), a, b),
            },
            _ => return None,
        };
        date(year, month, day)
    })
}

/// The day that a document says in its first lines, as a line of its own or behind a word such as `Date:`. A day that
/// can be read in two ways is none. Reads at most so much of the text as its first lines have.
///
/// ```
/// use iron_kite_core::formats::days::in_head;
/// assert_eq!(in_head("# A talk\n**Date:** 18 June 2026\n").map(|day| day.to_string()), Some("2026-06-18".into()));
/// assert_eq!(in_head("We met on 2026-06-18 at noon."), None);
/// ```
#[must_use]
pub fn in_head(text: &str) -> Option<Date> {
    const LINES: usize = 12;
    const LABELS: [&str; 10] =
        ["date", "day", "on", "held on", "recorded", "recorded on", "interview date", "datum", "fecha", "data"];
    let plain = |line: &str| line.replace(['*', '_', '#', '>', '|'], "").trim().to_owned();
    text.lines().map(plain).filter(|line| !line.is_empty()).take(LINES).find_map(|line| {
        let behind = line.split_once(':').and_then(|(label, rest)| {
            LABELS.contains(&label.trim().to_lowercase().as_str()).then(|| rest.trim().to_owned())
        });
        let day = behind.unwrap_or(line);
        let words = day.split_whitespace().count();
        let (one, other) = (read(&day, DayOrder::DayFirst), read(&day, DayOrder::MonthFirst));
        let two = one.is_some() && other.is_some() && one != other;
        one.or(other).filter(|_| words <= 4 && !two)
    })
}

fn numbers(cell: &str) -> Option<Vec<i32>> {
    let head = cell.trim().split(['T', ' ']).next()?;
    let parts: Option<Vec<i32>> = head.split(['.', '/', '-']).map(|part| part.parse().ok()).collect();
    parts.filter(|parts| parts.len() == 3)
}

fn century(year: i32) -> i32 {
    if year < 100 { 2000 + year } else { year }
}

fn date(year: i32, month: i32, day: i32) -> Option<Date> {
    Date::new(i16::try_from(year).ok()?, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()
}

const MONTHS: [&str; 12] = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

fn named_month(cell: &str) -> Option<Date> {
    let parts: Vec<&str> = cell.split(|c: char| !c.is_alphanumeric()).filter(|part| !part.is_empty()).collect();
    let (month, rest): (Vec<&str>, Vec<&str>) =
        parts.iter().take(3).partition(|part| part.chars().all(char::is_alphabetic));
    let name = month.first()?.to_lowercase();
    let month = MONTHS.iter().position(|short| name.starts_with(short))? + 1;
    let [day, year] = rest[..] else { return None };
    date(
        century(year.parse().ok()?),
        i32::try_from(month).ok()?,
        day.trim_end_matches(char::is_alphabetic).parse().ok()?,
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_are_read_as_people_write_them() {
        for (cell, expected) in [
            ("2026-03-31", "2026-03-31"),
            ("2026-03-31T08:15:00Z", "2026-03-31"),
            ("2026/3/31", "2026-03-31"),
            ("31.03.2026", "2026-03-31"),
            ("31/3/26 14:00", "2026-03-31"),
            ("31 March 2026", "2026-03-31"),
            ("Mar 31, 2026", "2026-03-31"),
        ] {
            assert_eq!(read(cell, DayOrder::DayFirst).map(|d| d.to_string()).as_deref(), Some(expected), "{cell}");
        }
        assert_eq!(read("3/31/2026", DayOrder::MonthFirst).unwrap().to_string(), "2026-03-31");
    }

    #[test]
    fn what_is_no_day_is_none() {
        for cell in ["", "soon", "30.02.2026", "3/31/2026", "12", "1/2/3/4"] {
            assert_eq!(read(cell, DayOrder::DayFirst), None, "{cell}");
        }
    }

    #[test]
    fn the_order_follows_from_the_whole_column() {
        assert_eq!(order_of(["3/4/2026", "3/31/2026"].into_iter()), DayOrder::MonthFirst);
        assert_eq!(order_of(["3/4/2026", "31/3/2026"].into_iter()), DayOrder::DayFirst);
        assert_eq!(order_of(["3/4/2026"].into_iter()), DayOrder::DayFirst);
    }

    #[test]
    fn the_head_of_a_document_says_its_day() {
        let day = |text: &str| in_head(text).map(|day| day.to_string());
        for text in [
            "Notes\n18.06.2026\n",
            "# T\n\nDatum: 18. Juni 2026",
            "Recorded on: 2026-06-18 09:30\nA: b",
            "| Date: Jun 18, 2026 |",
        ] {
            assert_eq!(day(text).as_deref(), Some("2026-06-18"), "{text}");
        }
        for text in [
            "Date: 03/04/2026",
            "Date: soon",
            "On 18 June 2026 we met her.",
            "18 June 2026 was a wet and windy day",
            "",
        ] {
            assert_eq!(day(text), None, "{text}");
        }
    }
}
