//! What another program reads in a calendar that is written here. The expected reading is stored with its origin:
//! `data/calendar.json` is what Python's icalendar 7.3.2 gives for `data/calendar.ics`.

use iron_kite_core::formats::calendar::{Event, write};
use jiff::Timestamp;
use jiff::civil::date;
use serde_json::{Value, json};

fn events() -> Vec<Event> {
    let event = |n: u8, summary: &str, description: &str, days: [(i8, i8); 2]| Event {
        uid: format!("release-{n}@crossing.example"),
        summary: summary.into(),
        description: description.into(),
        url: String::new(),
        first: date(2026, days[0].0, days[0].1),
        last: date(2026, days[1].0, days[1].1),
    };
    vec![
        event(1, "R1 Eider", "", [(3, 2), (5, 29)]),
        event(2, "R2 Fulmar; warnings, \\ lanes — ", "first line\nsecond, with a comma", [(12, 31), (12, 31)]),
        event(3, &"Äußerst lange Wörter über die Fähre ".repeat(6), "state: planned", [(2, 28), (3, 1)]),
    ]
}

#[test]
fn pythons_icalendar_reads_what_was_meant() {
    let written = write("Releases", &events(), Timestamp::UNIX_EPOCH);
    assert_eq!(written, include_str!("data/calendar.ics"), "write the file anew and read it with the other program");
    let read: Value = serde_json::from_str(include_str!("data/calendar.json")).unwrap();
    let meant: Vec<Value> = events()
        .into_iter()
        .map(|event| {
            json!({ "uid": event.uid, "summary": event.summary, "description": event.description,
                "first": event.first.to_string(), "end": event.last.tomorrow().unwrap().to_string() })
        })
        .collect();
    assert_eq!(read, json!({ "name": "Releases", "events": meant }));
}
