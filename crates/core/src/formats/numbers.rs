//! Numbers as people write them in tables: `3.5`, `3,5`, `1.200,50`, `1 200`, `€ 3.400`, `80 %`.

/// What stands in front of what is behind the whole number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mark {
    /// `1,200.50`
    Point,
    /// `1.200,50`
    Comma,
}

/// The mark that the cells of a column speak for; nothing where none of them can be read in only one way, or they
/// contradict each other. Linear.
pub fn mark_of<'a>(cells: impl Iterator<Item = &'a str>) -> Option<Mark> {
    let (mut point, mut comma) = (false, false);
    for cell in cells {
        match bare(cell).and_then(|(digits, _)| only_mark(&digits)) {
            Some(Mark::Point) => point = true,
            Some(Mark::Comma) => comma = true,
            None => {}
        }
    }
    match (point, comma) {
        (true, false) => Some(Mark::Point),
        (false, true) => Some(Mark::Comma),
        _ => None,
    }
}

/// Reads a number, with a currency beside it or not; of a percentage the share, so that `40 %` is 0.4. `mark` is that of its
/// column; where that is not known, `1,200` is twelve hundred, and `1.200` too beside a currency.
///
/// ```
/// use iron_kite_core::formats::numbers::{Mark, read};
/// assert_eq!(read("€ 3.400", None), Some(3400.0));
/// assert_eq!(read("1.200,50", None), Some(1200.5));
/// assert_eq!(read("1,200", Some(Mark::Comma)), Some(1.2));
/// assert_eq!(read("Pier 3", None), None);
/// ```
#[must_use]
pub fn read(cell: &str, mark: Option<Mark>) -> Option<f64> {
    let (digits, currency) = bare(cell)?;
    let (points, commas) = (digits.matches('.').count(), digits.matches(',').count());
    let mark = match (points, commas) {
        (0, 0) => Mark::Point,
        _ => only_mark(&digits).or(mark).unwrap_or(match (points, currency) {
            // One group of three behind the only mark.
            (1, true) => Mark::Comma,
            _ => Mark::Point,
        }),
    };
    let plain = match mark {
        Mark::Point => digits.replace(',', ""),
        Mark::Comma => digits.replace('.', "").replace(',', "."),
    };
    let number: f64 = plain.parse().ok()?;
    number.is_finite().then_some(if cell.trim_end().ends_with('%') { number / 100.0 } else { number })
}

/// The sign, digits and marks of a cell, and whether a currency stands beside them; nothing where it says anything else.
fn bare(cell: &str) -> Option<(String, bool)> {
    let cell = cell.trim().replace('−', "-");
    let first = cell.find(|c: char| c.is_ascii_digit())?;
    let last = cell.rfind(|c: char| c.is_ascii_digit())? + 1;
    let first = if cell.get(..first)?.ends_with(['.', ',']) { first - 1 } else { first };
    let (front, digits, behind) = (cell.get(..first)?, cell.get(first..last)?, cell.get(last..)?);
    let unsigned: String = front.chars().filter(|c| !matches!(c, '-' | '+') && !c.is_whitespace()).collect();
    let (minus, signs) = (front.contains('-'), front.matches(['-', '+']).count());
    let behind = behind.trim().trim_end_matches('%').trim_end();
    if !(is_currency(&unsigned) && is_currency(behind)) || signs > 1 || !in_groups(digits) {
        return None;
    }
    let mut bare = if minus { "-".to_owned() } else { String::new() };
    bare.extend(digits.chars().filter(|c| !is_gap(*c)));
    let fits = bare.trim_start_matches('-').chars().all(|c| c.is_ascii_digit() || matches!(c, '.' | ','));
    let currency = !(unsigned.is_empty() && behind.is_empty());
    fits.then_some((bare, currency))
}

/// Whether it is nothing, or a currency by its sign or code.
fn is_currency(text: &str) -> bool {
    const CODES: [&str; 12] = ["eur", "usd", "gbp", "chf", "sek", "nok", "dkk", "pln", "czk", "jpy", "cad", "aud"];
    text.chars().all(|c| matches!(c, '€' | '$' | '£' | '¥' | '₹' | '₩' | '₺'))
        || CODES.contains(&text.to_lowercase().as_str())
}

fn is_gap(c: char) -> bool {
    c.is_whitespace() || matches!(c, '\'' | '’')
}

/// Whether what stands between gaps are groups of three digits: "12 3" are two numbers.
fn in_groups(digits: &str) -> bool {
    let mut groups = digits.split(is_gap);
    let first = groups.next().unwrap_or_default();
    let three = |group: &str| group.chars().take_while(char::is_ascii_digit).count() == 3;
    !digits.contains(is_gap) || (first.len() <= 3 && groups.all(three))
}

/// The mark where only one can be meant.
fn only_mark(digits: &str) -> Option<Mark> {
    let (point, comma) = (digits.rfind('.'), digits.rfind(','));
    let (points, commas) = (digits.matches('.').count(), digits.matches(',').count());
    match (point, comma) {
        (Some(point), Some(comma)) => Some(if point > comma { Mark::Point } else { Mark::Comma }),
        (Some(_), None) if points > 1 => Some(Mark::Comma),
        (None, Some(_)) if commas > 1 => Some(Mark::Point),
        (Some(at), None) | (None, Some(at)) => {
            let behind = digits.len() - at - 1;
            let before = digits.trim_start_matches('-').find(['.', ',']).unwrap_or(0);
            let group = behind == 3 && (1..=3).contains(&before) && !digits.trim_start_matches('-').starts_with('0');
            let own = if point.is_some() { Mark::Point } else { Mark::Comma };
            (!group).then_some(own)
        }
        (None, None) => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn numbers_are_read_as_people_write_them() {
        for (cell, expected) in [
            ("4", 4.0),
            ("-4", -4.0),
            ("−4", -4.0),
            ("+4", 4.0),
            (".5", 0.5),
            ("4.5", 4.5),
            ("4,5", 4.5),
            ("1.200,50", 1_200.5),
            ("1,200.50", 1_200.5),
            ("1.200.000", 1_200_000.0),
            ("1,200,000", 1_200_000.0),
            ("€ 3.400", 3_400.0),
            ("3.400 €", 3_400.0),
            ("$3,400", 3_400.0),
            ("-$3,400.5", -3_400.5),
            ("$-3", -3.0),
            ("3400 EUR", 3_400.0),
            ("1 200,50", 1_200.5),
            ("1\u{a0}200", 1_200.0),
            ("1\u{202f}200", 1_200.0),
            ("1'200.50", 1_200.5),
            ("80 %", 0.8),
            ("0.125", 0.125),
            ("0,125", 0.125),
            ("1.200", 1.2),
            ("1,200", 1_200.0),
        ] {
            assert_eq!(read(cell, None), Some(expected), "{cell}");
        }
        assert_eq!(read("1.200", Some(Mark::Comma)), Some(1_200.0));
        assert_eq!(read("€ 1.200", Some(Mark::Point)), Some(1.2));
    }

    #[test]
    fn what_is_no_number_is_none() {
        for cell in
            ["", "five", "Pier 3", "3 of 5", "12 3", "2026-05-01", "1/2", "S26", "3.4.2026 8:00", "4 stars and a half"]
        {
            assert_eq!(read(cell, None), None, "{cell}");
        }
    }

    #[test]
    fn a_column_speaks_for_its_mark() {
        assert_eq!(mark_of(["1.200", "1.200,50", "x"].into_iter()), Some(Mark::Comma));
        assert_eq!(mark_of(["1,200", "3.5"].into_iter()), Some(Mark::Point));
        assert_eq!(mark_of(["1,200", "4"].into_iter()), None);
        assert_eq!(mark_of(["3.5", "3,5"].into_iter()), None);
    }

    proptest! {
        #[test]
        fn a_number_that_was_written_is_read(number in -1_000_000_i32..1_000_000, cents in 0_u8..100) {
            let whole = number.unsigned_abs().to_string();
            let grouped = |between: &str| {
                let ends = whole.as_bytes().rchunks(3).rev().map(|group| String::from_utf8_lossy(group).into_owned());
                ends.collect::<Vec<_>>().join(between)
            };
            let sign = if number < 0 { "-" } else { "" };
            let expected = format!("{sign}{whole}.{cents:02}").parse::<f64>().unwrap();
            for (group, mark) in [(".", ","), (",", "."), (" ", ","), ("'", ".")] {
                let cell = format!("{sign}{}{mark}{cents:02}", grouped(group));
                prop_assert_eq!(read(&cell, None), Some(expected), "{}", cell);
            }
        }

        #[test]
        fn nothing_makes_it_panic(cell in "\\PC{0,20}") {
            let _ = (read(&cell, None), mark_of([cell.as_str()].into_iter()));
        }
    }
}
