//! The days of the files are moved so that their anchor is today.

use std::io::{Cursor, Read, Write};

use jiff::Span;
use jiff::civil::{Date, date};
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

/// The day that the files take for today.
const ANCHOR: Date = date(2026, 6, 30);

/// The same file with every day moved, whatever sort it is: a packed one is packed anew.
pub(super) fn moved(bytes: &[u8], today: Date) -> Result<Vec<u8>, String> {
    if !bytes.starts_with(b"PK") {
        // Days have the same length everywhere, so nothing else in a file moves.
        return Ok(match std::str::from_utf8(bytes) {
            Ok(text) => shift(text, today).into_bytes(),
            Err(_) => {
                let letters: String = bytes.iter().map(|byte| char::from(*byte)).collect();
                shift(&letters, today).chars().map(|letter| u8::try_from(u32::from(letter)).unwrap_or(b'?')).collect()
            }
        });
    }
    let mut from = ZipArchive::new(Cursor::new(bytes)).map_err(|fault| fault.to_string())?;
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..from.len() {
        let mut file = from.by_index(at).map_err(|fault| fault.to_string())?;
        let mut held = Vec::new();
        let name = file.name().map_err(|fault| fault.to_string())?.into_owned();
        file.read_to_end(&mut held).map_err(|fault| fault.to_string())?;
        to.start_file(name, SimpleFileOptions::default()).map_err(|fault| fault.to_string())?;
        to.write_all(&moved(&held, today)?).map_err(|fault| fault.to_string())?;
    }
    Ok(to.finish().map_err(|fault| fault.to_string())?.into_inner())
}

/// Moves every day in a text (`YYYY-MM-DD` or `DD.MM.YYYY`) so that the anchor becomes today.
pub(super) fn shift(text: &str, today: Date) -> String {
    let by = Span::new().days((today - ANCHOR).get_days());
    let mut out = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find(|c: char| c.is_ascii_digit()) {
        let moved = rest.get(at..at + 10).and_then(|word| moved_day(word, by));
        let digits = rest[at..].find(|c: char| !c.is_ascii_digit()).unwrap_or(rest.len() - at);
        let (keep, skip) = if moved.is_some() { (at, at + 10) } else { (at + digits, at + digits) };
        out.push_str(&rest[..keep]);
        out.extend(moved);
        rest = &rest[skip..];
    }
    out.push_str(rest);
    out
}

fn moved_day(word: &str, by: Span) -> Option<String> {
    if let Ok(day) = word.parse::<Date>() {
        return Some(day.checked_add(by).ok()?.to_string());
    }
    let [day, month, year] = word.split('.').collect::<Vec<_>>()[..] else { return None };
    let day = Date::new(year.parse().ok()?, month.parse().ok()?, day.parse().ok()?).ok()?.checked_add(by).ok()?;
    Some(format!("{:02}.{:02}.{}", day.day(), day.month(), day.year()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_move_and_nothing_else_does() {
        let moved = shift("on 2026-06-30, 2026-07-01;20 or 2026", date(2027, 1, 10));
        assert_eq!(moved, "on 2027-01-10, 2027-01-11;20 or 2026");
        assert_eq!(shift("29.06.2026;4.5.20 HX-2026", date(2027, 1, 10)), "09.01.2027;4.5.20 HX-2026");
    }
}
