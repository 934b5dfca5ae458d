//! Days as people write them in tables.

use jiff::civil::{Date, ISOWeekDate, Weekday};
use jiff::{Timestamp, tz::TimeZone};
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
    match orders_of(cells) {
        (false, true) => DayOrder::MonthFirst,
        _ => DayOrder::DayFirst,
    }
}

/// Whether a column holds days that can only be read day first, and ones that can only be read month first. Linear.
pub fn is_mixed<'a>(cells: impl Iterator<Item = &'a str>) -> bool {
    orders_of(cells) == (true, true)
}

/// Whether any day can only be read day first, and any only month first.
fn orders_of<'a>(cells: impl Iterator<Item = &'a str>) -> (bool, bool) {
    let (mut month_first, mut day_first) = (false, false);
    for (a, b) in cells.filter_map(two_numbers) {
        month_first |= b > 12 && a <= 12;
        day_first |= a > 12 && b <= 12;
    }
    (day_first, month_first)
}

/// Whether a cell says its day in numbers that could be the day or the month.
#[must_use]
pub fn could_be_either(cell: &str) -> bool {
    two_numbers(cell).is_some_and(|(a, b)| a <= 12 && b <= 12 && a != b)
}

/// The two numbers in front of a year that is last.
fn two_numbers(cell: &str) -> Option<(i32, i32)> {
    match numbers(cell)?[..] {
        [a, b, year] if year > 31 && a <= 31 => Some((a, b)),
        _ => None,
    }
}

/// Reads a day: `2026-03-31` with or without a time behind it, `31.03.2026`, `31/3/26`, `3/31/2026`, `31 March 2026`,
/// `Mar 31, 2026`, `Tue Mar 31 08:15:00 2026`; months by their names in five languages. Two-digit years are of this century.
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

/// How much of a day a cell says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Says {
    /// The day.
    Day,
    /// The week, of which its Monday is taken.
    Week,
    /// The month, of which its first day is taken.
    Month,
}

/// Reads what a column of days holds: a day as [`read`] does, where its order does not fit in the other one; else a week
/// (`2026-W14`), a month (`Oct 2021`, `2021-10`), or seconds or milliseconds since 1970, of which the day in UTC is taken.
///
/// ```
/// use iron_kite_core::formats::days::{DayOrder, Says, read_column};
/// let read = |cell| read_column(cell, DayOrder::DayFirst).map(|(day, says)| (day.to_string(), says));
/// assert_eq!(read("2026-W14"), Some(("2026-03-30".into(), Says::Week)));
/// assert_eq!(read("1774915200"), Some(("2026-03-31".into(), Says::Day)));
/// ```
#[must_use]
pub fn read_column(cell: &str, order: DayOrder) -> Option<(Date, Says)> {
    let other = match order {
        DayOrder::DayFirst => DayOrder::MonthFirst,
        DayOrder::MonthFirst => DayOrder::DayFirst,
    };
    let day = read(cell, order).or_else(|| read(cell, other)).or_else(|| since_1970(cell));
    let says = |says| move |day| (day, says);
    day.map(says(Says::Day)).or_else(|| week(cell).map(says(Says::Week))).or_else(|| month(cell).map(says(Says::Month)))
}

fn since_1970(cell: &str) -> Option<Date> {
    let cell = cell.trim();
    let whole = cell.split_once('.').map_or(cell, |(whole, _)| whole);
    let number: i64 = whole.parse().ok().filter(|_| whole.bytes().all(|byte| byte.is_ascii_digit()))?;
    let moment = match whole.len() {
        9 | 10 => Timestamp::from_second(number).ok()?,
        12 | 13 => Timestamp::from_millisecond(number).ok()?,
        _ => return None,
    };
    // Earlier ones are numbers of something else.
    let day = TimeZone::UTC.to_datetime(moment).date();
    (1995..2100).contains(&day.year()).then_some(day)
}

fn week(cell: &str) -> Option<Date> {
    let (year, week) = cell.trim().split_once(['W', 'w'])?;
    let year = year.trim_end_matches(['-', ' ']).parse().ok()?;
    let day = ISOWeekDate::new(year, week.parse().ok()?, Weekday::Monday).ok()?.date();
    (year > 1000).then_some(day)
}

fn month(cell: &str) -> Option<Date> {
    let parts: Vec<&str> = cell.split(|c: char| !c.is_alphanumeric()).filter(|part| !part.is_empty()).collect();
    let [one, other] = parts[..] else { return None };
    let (name, year) = if one.len() == 4 && one.parse::<i32>().is_ok() { (other, one) } else { (one, other) };
    let month = month_named(name).or_else(|| name.parse().ok())?;
    let year: i32 = year.parse().ok().filter(|year| (1900..2200).contains(year))?;
    date(year, month, 1)
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

/// The names of the months: English, German, French, Spanish, Dutch; and how some of them are shortened that are no
/// beginning of them.
const MONTHS: [&str; 12] = [
    "january januar janvier enero januari",
    "february februar février fevrier febrero februari feber",
    "march märz marz maerz mars marzo maart mrz mrt",
    "april avril abril",
    "may mai mayo mei",
    "june juni juin junio",
    "july juli juillet julio",
    "august août aout agosto augustus",
    "september septembre septiembre",
    "october oktober octobre octubre",
    "november novembre noviembre",
    "december dezember décembre decembre diciembre",
];

/// The month of a name, or of its first three letters or more.
fn month_named(name: &str) -> Option<i32> {
    let name = name.to_lowercase();
    let long = name.chars().count() >= 3;
    let at = MONTHS.iter().position(|names| names.split(' ').any(|full| long && full.starts_with(&name)))?;
    i32::try_from(at + 1).ok()
}

/// A day has no more words than a weekday, a month, a little one between them, and a time zone.
const MOST_WORDS: usize = 4;

fn named_month(cell: &str) -> Option<Date> {
    if cell.len() > 60 {
        return None;
    }
    let gap = |c: char| c.is_whitespace() || matches!(c, ',' | '.' | '/' | '-' | '(' | ')');
    // A time of the day is none of its numbers.
    let parts = cell.split(gap).filter(|part| !part.is_empty() && !part.contains([':', '+']));
    let (words, numbers): (Vec<&str>, Vec<&str>) = parts.partition(|part| part.chars().all(char::is_alphabetic));
    let month = words.iter().find_map(|word| month_named(word)).filter(|_| words.len() <= MOST_WORDS)?;
    let ordinal = |part: &&str| part.trim_end_matches(char::is_alphabetic).parse::<i32>().ok();
    let numbers: Vec<i32> = numbers.iter().map(ordinal).collect::<Option<_>>()?;
    match numbers[..] {
        [day, year] | [day, _, year] if year > 31 || day <= 31 && year < 100 && numbers.len() == 2 => {
            date(century(year), month, day)
        }
        [year, day] if year > 31 => date(year, month, day),
        _ => None,
    }
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
            ("March 31st, 2026", "2026-03-31"),
            ("Tue Mar 31 08:15:00 2026", "2026-03-31"),
            ("Tue Mar 31 08:15:00 +0200 2026", "2026-03-31"),
            ("Tue, 31 Mar 2026 08:15:00 GMT", "2026-03-31"),
            ("31. März 2026", "2026-03-31"),
            ("31 de marzo de 2026", "2026-03-31"),
            ("31 mars 2026, 08:15", "2026-03-31"),
            ("31 mrt 2026", "2026-03-31"),
            ("31-Mar-26", "2026-03-31"),
            ("2026 March 31", "2026-03-31"),
        ] {
            assert_eq!(read(cell, DayOrder::DayFirst).map(|d| d.to_string()).as_deref(), Some(expected), "{cell}");
        }
        assert_eq!(read("3/31/2026", DayOrder::MonthFirst).unwrap().to_string(), "2026-03-31");
    }

    #[test]
    fn what_is_no_day_is_none() {
        for cell in [
            "",
            "soon",
            "30.02.2026",
            "3/31/2026",
            "12",
            "1/2/3/4",
            "Mary 31 2026",
            "may",
            "In March 31 people of 2026 came by boat",
        ] {
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
    fn a_column_of_days_may_say_less_and_in_both_orders() {
        let read = |cell| read_column(cell, DayOrder::DayFirst).map(|(day, says)| (day.to_string(), says));
        for (cell, expected, says) in [
            ("3/31/2026", "2026-03-31", Says::Day),
            ("31/3/2026", "2026-03-31", Says::Day),
            ("1774944000", "2026-03-31", Says::Day),
            ("1774944000.25", "2026-03-31", Says::Day),
            ("1774944000123", "2026-03-31", Says::Day),
            ("2026-W14", "2026-03-30", Says::Week),
            ("2026W14", "2026-03-30", Says::Week),
            ("2020-W53", "2020-12-28", Says::Week),
            ("Oct 2021", "2021-10-01", Says::Month),
            ("Oktober 2021", "2021-10-01", Says::Month),
            ("2021-10", "2021-10-01", Says::Month),
            ("10/2021", "2021-10-01", Says::Month),
        ] {
            assert_eq!(read(cell), Some((expected.into(), says)), "{cell}");
        }
        for cell in ["", "4711", "12345678901", "2026-W54", "99999", "13/2021", "5/7", "Tern 2021", "99999999999"] {
            assert_eq!(read(cell), None, "{cell}");
        }
        assert!(is_mixed(["3/31/2026", "31/3/2026"].into_iter()) && !is_mixed(["3/31/2026", "3/4/2026"].into_iter()));
        assert!(could_be_either("3/4/2026") && !could_be_either("3/3/2026") && !could_be_either("2026-03-04"));
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
