//! A calendar that other programs can subscribe to: iCalendar (RFC 5545).
//!
//! Written here and not by a library: what is needed is whole days with a summary, and the libraries bring a clock
//! and chance with them, which core does without.

use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};

/// A thing on its days.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Event {
    /// What tells it from all others, for good.
    pub uid: String,
    /// What it is called.
    pub summary: String,
    /// What else is to be known.
    pub description: String,
    /// Where it is looked at, as an address (RFC 3986); empty where it has none.
    pub url: String,
    /// Its first day.
    pub first: Date,
    /// Its last day; the same for a single one.
    pub last: Date,
}

/// Writes a calendar of events that last whole days. `stamp` is the moment at which it is written.
#[must_use]
pub fn write(name: &str, events: &[Event], stamp: Timestamp) -> String {
    let mut text = String::new();
    let stamp = stamp.strftime("%Y%m%dT%H%M%SZ").to_string();
    line(&mut text, "BEGIN:VCALENDAR");
    line(&mut text, "VERSION:2.0");
    line(&mut text, "PRODID:-//Iron Kite//Iron Kite//EN");
    line(&mut text, "CALSCALE:GREGORIAN");
    line(&mut text, "METHOD:PUBLISH");
    line(&mut text, &format!("X-WR-CALNAME:{}", escaped(name)));
    for event in events {
        // The end is the day after the last (RFC 5545, 3.6.1).
        let end = event.last.max(event.first).saturating_add(1.day());
        line(&mut text, "BEGIN:VEVENT");
        line(&mut text, &format!("UID:{}", escaped(&event.uid)));
        line(&mut text, &format!("DTSTAMP:{stamp}"));
        line(&mut text, &format!("DTSTART;VALUE=DATE:{}", event.first.strftime("%Y%m%d")));
        line(&mut text, &format!("DTEND;VALUE=DATE:{}", end.strftime("%Y%m%d")));
        line(&mut text, &format!("SUMMARY:{}", escaped(&event.summary)));
        if !event.description.is_empty() {
            line(&mut text, &format!("DESCRIPTION:{}", escaped(&event.description)));
        }
        if !event.url.is_empty() {
            // A URI and no text, so nothing in it is escaped (RFC 5545, 3.8.4.6).
            line(&mut text, &format!("URL:{}", event.url.replace(char::is_control, "")));
        }
        line(&mut text, "TRANSP:TRANSPARENT");
        line(&mut text, "END:VEVENT");
    }
    line(&mut text, "END:VCALENDAR");
    text
}

/// Text as RFC 5545, 3.3.11 has it; control characters are left out.
fn escaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.replace("\r\n", "\n").chars() {
        match c {
            '\\' | ';' | ',' => out.extend(['\\', c]),
            '\n' => out.push_str("\\n"),
            c if c.is_control() => {}
            c => out.push(c),
        }
    }
    out
}

/// A content line, folded so that none is longer than 75 octets (RFC 5545, 3.1); no character is torn apart.
fn line(text: &mut String, content: &str) {
    let mut room = 75;
    for c in content.chars() {
        if c.len_utf8() > room {
            text.push_str("\r\n ");
            room = 74;
        }
        text.push(c);
        room -= c.len_utf8();
    }
    text.push_str("\r\n");
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn lines_are_folded_and_read_back_whole() {
        let summary = "Äußerst lange Wörter; mit Zeichen, und einem \\ — ".repeat(6) + "Ende\nneue Zeile";
        let event = Event {
            uid: "release-2@crossing.example".into(),
            summary: summary.clone(),
            description: String::new(),
            url: "https://kite.crossing.example/p/1/at/release/1?a=b,c;d".into(),
            first: date(2026, 3, 30),
            last: date(2026, 3, 31),
        };
        let text = write("Releases", &[event], Timestamp::UNIX_EPOCH);
        assert!(text.split("\r\n").all(|line| line.len() <= 75), "{text}");
        let unfolded = text.replace("\r\n ", "");
        assert!(unfolded.contains("DTSTART;VALUE=DATE:20260330\r\nDTEND;VALUE=DATE:20260401\r\n"));
        assert!(unfolded.contains("\r\nURL:https://kite.crossing.example/p/1/at/release/1?a=b,c;d\r\n"), "{unfolded}");
        let line = unfolded.split("\r\n").find_map(|line| line.strip_prefix("SUMMARY:")).unwrap();
        let plain = line.replace("\\n", "\n").replace("\\;", ";").replace("\\,", ",").replace("\\\\", "\\");
        assert_eq!(plain, summary);
    }
}
