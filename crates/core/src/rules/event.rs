//! Whether a change, or a day, sets a rule off.

use jiff::ToSpan;
use jiff::civil::Date;
use serde_json::Value;

use super::rule::{Values, When};
use crate::fields::{FieldDef, FieldType};

/// A thing before and after a change, by the names of its values.
#[derive(Debug, Clone, Copy)]
pub struct Event<'a> {
    /// Before; nothing where the thing came with it.
    pub before: Option<&'a Values>,
    /// After; nothing where it went.
    pub after: Option<&'a Values>,
}

/// The fields that a rule can look at: those that stand in the thing itself. `columns` are those of its table.
#[must_use]
pub fn looks_at(fields: &[FieldDef], columns: &[String]) -> Vec<FieldDef> {
    let kept = |field: &&FieldDef| match &field.kind {
        FieldType::RolledUp { .. } | FieldType::Drawn { .. } | FieldType::File => false,
        FieldType::Link { many: true, .. } => false,
        FieldType::Link { .. } => columns.contains(&field.name),
        _ => field.own.is_some() || columns.contains(&field.name),
    };
    fields.iter().filter(kept).cloned().collect()
}

/// Whether a change sets a rule off, apart from its condition. Days do so by themselves: see [`day_comes`].
#[must_use]
pub fn sets_off(when: &When, event: Event<'_>) -> bool {
    match (when, event.before, event.after) {
        (When::Created, None, Some(_)) => true,
        (When::Becomes { field, value }, Some(before), Some(after)) => {
            let (was, is) = (value_of(before, field), value_of(after, field));
            is_same(&is, value) && !is_same(&was, value)
        }
        _ => false,
    }
}

fn value_of(values: &Values, field: &str) -> Value {
    values.get(field).cloned().unwrap_or_default()
}

/// Numbers are the same whatever their form, a link to one thing whether it stands in a list or not; what is empty is
/// nothing, and so is "no".
fn is_same(one: &Value, other: &Value) -> bool {
    plain(one) == plain(other)
}

fn plain(value: &Value) -> Value {
    match value {
        Value::Number(number) if number.as_f64() == Some(0.0) => Value::from(0.0),
        Value::Number(number) => number.as_f64().map_or(Value::Null, Value::from),
        Value::Bool(true) => Value::from(1.0),
        Value::Bool(false) => Value::Null,
        Value::String(text) if text.is_empty() => Value::Null,
        Value::Array(all) if all.is_empty() => Value::Null,
        Value::Array(all) if all.len() == 1 && all.first().is_some_and(Value::is_number) => plain(&all[0]),
        other => other.clone(),
    }
}

/// Whether the day that a rule waits for came after `last` and up to `today`. `days` lie between the day in the field and the
/// one that counts.
#[must_use]
pub fn day_comes(field: &str, days: i32, values: &Values, last: Date, today: Date) -> Option<Date> {
    let day: Date = values.get(field)?.as_str()?.parse().ok()?;
    let comes = day.checked_add(days.days()).ok()?;
    (comes > last && comes <= today).then_some(comes)
}

/// The words of a step with the thing's reference and title in their places.
#[must_use]
pub fn fill_in(words: &str, reference: &str, title: &str) -> String {
    words.replace("{reference}", reference).replace("{title}", title)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Collection, registered};
    use jiff::civil::date;
    use serde_json::json;

    fn values(value: &Value) -> Values {
        value.as_object().cloned().unwrap()
    }

    fn becomes(field: &str, value: Value, before: &Value, after: &Value) -> bool {
        let (before, after) = (values(before), values(after));
        let when = When::Becomes { field: field.into(), value };
        sets_off(&when, Event { before: Some(&before), after: Some(&after) })
    }

    #[test]
    fn a_field_becomes_a_value_only_when_it_was_another() {
        assert!(becomes("state", json!("chosen"), &json!({ "state": "raw" }), &json!({ "state": "chosen" })));
        assert!(!becomes("state", json!("chosen"), &json!({ "state": "chosen" }), &json!({ "state": "chosen" })));
        assert!(!becomes("state", json!("chosen"), &json!({ "state": "chosen" }), &json!({ "state": "raw" })));
        assert!(becomes("effort", json!(3), &json!({ "effort": 2.0 }), &json!({ "effort": 3.0 })));
        assert!(becomes("effort", json!(null), &json!({ "effort": 2 }), &json!({})));
        assert!(becomes("release_id", json!([4]), &json!({}), &json!({ "release_id": 4 })));
        assert!(becomes("f3", json!(true), &json!({}), &json!({ "f3": 1 })));
        assert!(!becomes("effort", json!(0), &json!({}), &json!({ "effort": null })));
    }

    #[test]
    fn what_is_added_is_created_and_becomes_nothing() {
        let after = values(&json!({ "state": "raw" }));
        let event = Event { before: None, after: Some(&after) };
        assert!(sets_off(&When::Created, event));
        assert!(!sets_off(&When::Becomes { field: "state".into(), value: json!("raw") }, event));
        let gone = Event { before: Some(&after), after: None };
        assert!(!sets_off(&When::Created, gone));
    }

    #[test]
    fn a_day_comes_once_whatever_days_were_slept_through() {
        let row = values(&json!({ "ends_on": "2026-07-07", "starts_on": null }));
        let comes = |days, last, today| day_comes("ends_on", days, &row, last, today);
        assert_eq!(comes(0, date(2026, 7, 6), date(2026, 7, 7)), Some(date(2026, 7, 7)));
        assert_eq!(comes(0, date(2026, 7, 7), date(2026, 7, 8)), None);
        assert_eq!(comes(-7, date(2026, 6, 25), date(2026, 7, 2)), Some(date(2026, 6, 30)));
        assert_eq!(comes(3, date(2026, 7, 9), date(2026, 7, 10)), Some(date(2026, 7, 10)));
        assert_eq!(day_comes("starts_on", 0, &row, date(2020, 1, 1), date(2030, 1, 1)), None);
    }

    #[test]
    fn rules_look_at_what_stands_in_the_thing() {
        let columns = ["title", "state", "release_id", "points"].map(str::to_owned);
        let names: Vec<String> =
            looks_at(&registered(Collection::WorkItem), &columns).into_iter().map(|field| field.name).collect();
        assert_eq!(names, ["title", "state", "points", "release_id"]);
    }

    #[test]
    fn words_name_the_thing() {
        assert_eq!(fill_in("{reference} “{title}” is late; {reference}!", "S4", "Pay"), "S4 “Pay” is late; S4!");
    }
}
