//! Laws of fields that hold for any value: what is shown is read again, a filter and its opposite share all things,
//! conversions tell what they lose, and a calendar's lines fold without loss.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::fields::{
    Choice, Collection, Condition, Context, FieldDef, FieldType, Filter, Measure, Period, Running, check_value,
    convert_all, days_of, holds, own_name, own_number, read_text, registered, show, total,
};
use iron_kite_core::formats::calendar::{Event, write};
use iron_kite_core::formats::sheet::harmless;
use jiff::civil::{Date, date};
use jiff::{Timestamp, ToSpan};
use proptest::prelude::*;
use serde_json::{Value, json};

fn choices() -> Vec<Choice> {
    vec![Choice::new("c1", "Small"), Choice::new("c2", "Very large"), Choice::new("c3", "Ärger")]
}

fn any_day() -> impl Strategy<Value = Date> {
    (-20_000..20_000_i32).prop_map(|n| date(2026, 1, 1).saturating_add(n.days()))
}

/// A type and a value of it in its stored form.
fn typed() -> impl Strategy<Value = (FieldType, Value)> {
    let words = "[a-zA-ZäöüÉ0-9,;'\"|]{1,12}( [a-zß.!?-]{1,9}){0,4}";
    prop_oneof![
        words.prop_map(|text| (FieldType::Text, json!(text))),
        (words, words).prop_map(|(a, b)| (FieldType::LongText, json!(format!("{a}\n\n{b}")))),
        "https://[a-z]{1,9}\\.example/[a-z0-9?=&]{0,12}".prop_map(|text| (FieldType::WebAddress, json!(text))),
        (-1e9..1e9_f64).prop_map(|n| (FieldType::Number { unit: None }, json!((n * 100.0).round() / 100.0))),
        (0..1_000_000_i32).prop_map(|n| (FieldType::Money, json!(f64::from(n)))),
        any_day().prop_map(|day| (FieldType::Date, json!(day.to_string()))),
        (any_day(), 0..400_i32).prop_map(|(from, more)| {
            let to = from.saturating_add(more.days());
            (FieldType::DateRange, json!(format!("{from}/{to}")))
        }),
        Just((FieldType::YesNo, json!(true))),
        prop::sample::select(vec!["c1", "c2", "c3"])
            .prop_map(|key| (FieldType::Choice { choices: choices() }, json!(key))),
        prop::sample::subsequence(vec!["c1", "c2", "c3"], 1..=3)
            .prop_map(|keys| (FieldType::Choices { choices: choices() }, json!(keys))),
    ]
}

fn any_type() -> impl Strategy<Value = FieldType> {
    prop::sample::select(vec![
        FieldType::Text,
        FieldType::LongText,
        FieldType::WebAddress,
        FieldType::Number { unit: None },
        FieldType::Date,
        FieldType::DateRange,
        FieldType::YesNo,
        FieldType::Choice { choices: choices() },
        FieldType::Choices { choices: Vec::new() },
    ])
}

proptest! {
    #[test]
    fn what_is_shown_is_read_again_and_a_stored_value_stays_as_it_is((kind, value) in typed()) {
        let stored = check_value("Field", &kind, value.clone()).unwrap();
        prop_assert_eq!(&check_value("Field", &kind, stored.clone()).unwrap(), &stored);
        prop_assert_eq!(read_text("Field", &kind, &show(&kind, &stored)).unwrap(), stored);
    }

    #[test]
    fn reading_any_text_gives_a_value_that_fits_or_words(kind in any_type(), text in ".{0,60}") {
        match read_text("Field", &kind, &text) {
            Ok(value) => prop_assert_eq!(check_value("Field", &kind, value.clone()).unwrap(), value),
            Err(words) => prop_assert!(words.contains("'Field' takes") && words.ends_with('.'), "{}", words),
        }
    }

    #[test]
    fn a_conversion_keeps_each_value_or_tells_of_it((from, value) in typed(), to in any_type()) {
        let stored = check_value("Field", &from, value).unwrap();
        let done = convert_all(&from, &to, &[(7, stored.clone())], &[]);
        let carried = &done.values[0].1;
        prop_assert_eq!(&check_value("Field", &done.kind, carried.clone()).unwrap(), carried);
        // What is not told of as lost says the same as before.
        if done.lost.is_empty() && from != to {
            let (was, is) = (show(&from, &stored), show(&done.kind, carried));
            let bare = |text: &str| text.split(|c: char| c.is_whitespace() || matches!(c, ',' | ';' | '/')).filter(|w| !w.is_empty()).map(str::to_lowercase).collect::<std::collections::BTreeSet<_>>();
            let same = bare(&was) == bare(&is) || was.parse::<f64>().is_ok() && is == "yes" || is.parse::<f64>().is_ok();
            prop_assert!(same, "{:?} became {:?}", was, is);
        }
    }

    #[test]
    fn a_filter_and_its_opposite_share_all_things(
        points in prop::option::of(-5..20_i32), title in prop::option::of("[a-c ]{1,6}"), day in prop::option::of(any_day()),
        operator in prop::sample::select(vec!["more", "less", "at_least", "at_most", "is", "is_not", "empty", "filled"]),
        bound in -5..20_i32, part in "[a-c]{1,2}",
    ) {
        let fields = registered(Collection::WorkItem);
        let context = Context { fields: &fields, today: date(2026, 2, 18), me: None };
        let check = |filter: Value| -> Condition {
            serde_json::from_value::<Filter>(filter).unwrap().check(&context, "").unwrap()
        };
        let tests = [
            json!({ "field": "points", "operator": operator, "value": bound }),
            json!({ "field": "title", "operator": "contains", "value": part }),
            json!({ "field": "ends_on", "operator": "within", "value": { "relative": "this_year" } }),
        ];
        let row = json!({ "points": points, "title": title, "ends_on": day.map(|day| day.to_string()) });
        let holds = |filter: Value| holds(&check(filter), &|name| row[name].clone());
        for test in &tests {
            prop_assert_ne!(holds(test.clone()), holds(json!({ "not": test })));
        }
        // De Morgan's laws.
        let not: Vec<Value> = tests.iter().map(|test| json!({ "not": test })).collect();
        prop_assert_eq!(holds(json!({ "not": { "and": tests } })), holds(json!({ "or": not })));
        prop_assert_eq!(holds(json!({ "not": { "or": tests } })), holds(json!({ "and": not })));
    }

    #[test]
    fn figures_that_come_one_by_one_are_those_of_all(numbers in prop::collection::vec(-1e6..1e6_f64, 0..30)) {
        for measure in [Measure::Count, Measure::Sum, Measure::Mean, Measure::Median, Measure::Min, Measure::Max] {
            let mut running = Running::new(measure);
            numbers.iter().for_each(|number| running.add(*number));
            match (running.value(), total(measure, &numbers)) {
                (Some(one), Some(other)) => prop_assert!((one - other).abs() <= 1e-6 * other.abs().max(1.0)),
                (one, other) => prop_assert_eq!(one, other),
            }
        }
        // The median lies between the least and the most, and half of the numbers on either side.
        if let Some(middle) = total(Measure::Median, &numbers) {
            let below = numbers.iter().filter(|number| **number < middle).count();
            let above = numbers.iter().filter(|number| **number > middle).count();
            prop_assert!(below * 2 <= numbers.len() && above * 2 <= numbers.len());
        }
    }

    #[test]
    fn periods_meet_without_a_gap(today in any_day()) {
        let spans = [
            [Period::Yesterday, Period::Today, Period::Tomorrow],
            [Period::LastWeek, Period::ThisWeek, Period::NextWeek],
            [Period::LastMonth, Period::ThisMonth, Period::NextMonth],
            [Period::LastQuarter, Period::ThisQuarter, Period::NextQuarter],
            [Period::LastYear, Period::ThisYear, Period::NextYear],
        ];
        for [last, this, next] in spans {
            let [last, this, next] = [last, this, next].map(|period| days_of(period, today));
            prop_assert!(this.0 <= today && today <= this.1);
            prop_assert_eq!((last.1.tomorrow().unwrap(), this.1.tomorrow().unwrap()), (this.0, next.0));
        }
    }

    #[test]
    fn a_calendar_folds_without_loss(summary in "\\PC{0,200}", first in any_day(), more in 0..50_i32) {
        let event = Event {
            uid: "idea-1@iron-kite".into(),
            summary: summary.clone(),
            description: String::new(),
            url: String::new(),
            first,
            last: first.saturating_add(more.days()),
        };
        let text = write("Ideas", &[event], Timestamp::UNIX_EPOCH);
        prop_assert!(text.split("\r\n").all(|line| line.len() <= 75));
        let whole = text.replace("\r\n ", "");
        let line = whole.split("\r\n").find_map(|line| line.strip_prefix("SUMMARY:")).unwrap();
        // Read back as RFC 5545 says: a backslash takes what follows as it is.
        let mut plain = String::new();
        let mut chars = line.chars();
        while let Some(c) = chars.next() {
            plain.push(if c == '\\' { chars.next().map_or('\\', |next| if next == 'n' { '\n' } else { next }) } else { c });
        }
        prop_assert_eq!(plain, summary);
    }

    #[test]
    fn no_cell_runs_and_every_number_keeps_its_sign(cell in ".{0,20}", number in any::<i32>()) {
        let safe = harmless(cell);
        prop_assert!(!safe.starts_with(['=', '+', '-', '@']) || safe.parse::<f64>().is_ok());
        prop_assert_eq!(harmless(number.to_string()), number.to_string());
    }

    #[test]
    fn the_name_of_an_own_field_gives_its_number(id in 1..i64::MAX) {
        prop_assert_eq!(own_number(&own_name(id)), Some(id));
        prop_assert!(registered(Collection::Idea).iter().all(|field: &FieldDef| own_number(&field.name).is_none()));
    }
}
