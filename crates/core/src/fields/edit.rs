//! How a value is checked before it is written into a row's own column. Which columns may be edited, and what each holds, the
//! descriptions of the kinds say.

use jiff::civil::Date;
use serde_json::{Map, Value};

use crate::decide::quarter;
use crate::kind::{Field, Holds};
use crate::problem::Fault;
use crate::text::visible_line;
use crate::things::{ThingKind, with_article};

/// Checks values on their way into a thing and brings them into their stored form: lines trimmed
/// and without line breaks, empty text as nothing.
///
/// `pointer` is where the values stand in what was sent, such as `/set`.
///
/// # Errors
/// Every field at fault, each with what would be right.
pub fn check(kind: ThingKind, pointer: &str, values: Map<String, Value>) -> Result<Map<String, Value>, Vec<Fault>> {
    let fields = kind.description().editable;
    let mut faults = Vec::new();
    let mut checked = Map::new();
    for (name, value) in values {
        let at = format!("{pointer}/{name}");
        match fields.iter().find(|field| field.name == name) {
            None => faults.push(Fault::new(
                at,
                format!("{} has no field '{name}' that can be edited.", with_article(kind.words())),
            )),
            Some(field) => match field.check(value) {
                Ok(value) => {
                    checked.insert(name, value);
                }
                Err(words) => faults.push(Fault::new(at, words)),
            },
        }
    }
    if faults.is_empty() { Ok(checked) } else { Err(faults) }
}

/// As [`check`], for a new thing: what must be there and is missing is a fault too.
///
/// # Errors
/// Every field at fault or missing.
pub fn check_new(
    kind: ThingKind,
    pointer: &str,
    mut values: Map<String, Value>,
) -> Result<Map<String, Value>, Vec<Fault>> {
    for field in kind.description().editable.iter().filter(|field| !field.optional) {
        values.entry(field.name).or_insert(Value::Null);
    }
    check(kind, pointer, values)
}

/// Checks what only several fields together can tell, on a row as it would be written.
///
/// # Errors
/// The field at fault.
pub fn check_together(kind: ThingKind, pointer: &str, row: &Map<String, Value>) -> Result<(), Fault> {
    let day = |name: &str| row.get(name).and_then(Value::as_str).and_then(|text| text.parse::<Date>().ok());
    if matches!(kind, ThingKind::Release | ThingKind::Study | ThingKind::Sprint)
        && let (Some(from), Some(to)) = (day("starts_on"), day("ends_on"))
        && from > to
    {
        return Err(Fault::new(
            format!("{pointer}/ends_on"),
            format!("The {} would end on {to}, before it starts on {from}.", kind.words()),
        ));
    }
    if kind == ThingKind::Objective
        && let (Some(from), Some(by)) = (day("starts_on"), day("due_on"))
        && from >= by
    {
        return Err(Fault::new(
            format!("{pointer}/due_on"),
            format!("The way to the target would end on {by}, not after it starts on {from}."),
        ));
    }
    if kind == ThingKind::Prioritisation && day("agreed_on").is_some() {
        return Err(Fault::new(pointer, "This was agreed and stays as it is. Begin another report."));
    }
    Ok(())
}

/// Checks what a row holds in the fields that may be edited, as it stands in the store: no more than what could have been
/// written into it. O(fields).
///
/// # Errors
/// The first field at fault, with what would be right.
pub fn check_held(kind: ThingKind, row: &Map<String, Value>) -> Result<(), String> {
    let held = |field: &&Field| row.get(field.name).is_some_and(|value| !value.is_null());
    let mut fields = kind.description().editable.iter().filter(held);
    fields.try_for_each(|field| field.check(row[field.name].clone()).map(drop))
}

impl Field {
    fn check(&self, value: Value) -> Result<Value, String> {
        let value = match value {
            Value::String(text) if text.trim().is_empty() => Value::Null,
            other => other,
        };
        if value.is_null() {
            return if self.optional { Ok(value) } else { Err(format!("'{}' must be filled in.", self.label())) };
        }
        match self.holds {
            Holds::Line(most) => self.text(&value, most, true),
            Holds::Text(most) => self.text(&value, most, false),
            Holds::Number(low, high) => self.number(&value, low, high),
            Holds::Whole(low, high) => self.whole(&value, low, high),
            Holds::Day => self.day(&value),
            Holds::OneOf(names) => self.one_of(value, &names()),
            Holds::Thing(kind) => self.thing(&value, kind),
            Holds::Quarter => value
                .as_str()
                .and_then(quarter)
                .map(Value::String)
                .ok_or_else(|| format!("'{}' takes a quarter such as 2026 Q4.", self.label())),
            Holds::Member => self.whole(&value, 1, i64::MAX),
        }
    }

    fn label(&self) -> String {
        self.name.replace('_', " ")
    }

    fn text(&self, value: &Value, most: usize, one_line: bool) -> Result<Value, String> {
        let text = value.as_str().ok_or_else(|| format!("'{}' takes text.", self.label()))?;
        if text.contains('\0') {
            return Err(format!("'{}' holds a character that is no text.", self.label()));
        }
        let text = if one_line { visible_line(text) } else { text.trim().to_owned() };
        let length = text.chars().count();
        if length > most {
            return Err(format!("'{}' is {length} characters long; at most {most} fit.", self.label()));
        }
        Ok(Value::String(text))
    }

    fn number(&self, value: &Value, low: f64, high: f64) -> Result<Value, String> {
        match value.as_f64() {
            Some(number) if number.is_finite() && (low..=high).contains(&number) => Ok(Value::from(number)),
            _ => Err(format!("'{}' takes a number from {low} to {high}.", self.label())),
        }
    }

    fn whole(&self, value: &Value, low: i64, high: i64) -> Result<Value, String> {
        match value.as_i64() {
            Some(number) if (low..=high).contains(&number) => Ok(Value::from(number)),
            _ => Err(format!("'{}' takes a whole number from {low} to {high}.", self.label())),
        }
    }

    fn day(&self, value: &Value) -> Result<Value, String> {
        value
            .as_str()
            .and_then(|text| text.parse::<Date>().ok())
            .map(|day| Value::String(day.to_string()))
            .ok_or_else(|| format!("'{}' takes a day such as 2026-03-31.", self.label()))
    }

    /// A number alone, or the only one of a list: what a link of one holds.
    fn thing(&self, value: &Value, kind: ThingKind) -> Result<Value, String> {
        match super::values::values_of_links(value).as_deref() {
            Some([]) if self.optional => Ok(Value::Null),
            Some([id]) if *id > 0 => Ok(Value::from(*id)),
            _ => Err(format!("'{}' takes one {}.", self.label(), kind.words())),
        }
    }

    fn one_of(&self, value: Value, names: &[&str]) -> Result<Value, String> {
        if value.as_str().is_some_and(|name| names.contains(&name)) {
            return Ok(value);
        }
        Err(format!("'{}' takes one of: {}.", self.label(), names.join(", ")))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kind::TITLE;
    use serde_json::json;

    fn set(value: Value) -> Map<String, Value> {
        value.as_object().unwrap().clone()
    }

    #[test]
    fn values_come_out_in_their_stored_form() {
        let checked = check(
            ThingKind::WorkItem,
            "/set",
            set(json!({"title": "  Warn\n by  risk ", "so_that": "  ", "points": 3, "moscow": "must"})),
        );
        assert_eq!(
            checked.unwrap(),
            set(json!({"title": "Warn by risk", "so_that": null, "points": 3.0, "moscow": "must"}))
        );
    }

    #[test]
    fn every_fault_is_named_at_its_place() {
        let faults = check(
            ThingKind::Idea,
            "/set",
            set(json!({"title": "", "reach": -1, "impact": "much", "state": "chosen", "effort": 0})),
        )
        .unwrap_err();
        let mut at: Vec<_> = faults.iter().map(|f| f.field.as_str()).collect();
        at.sort_unstable();
        assert_eq!(at, ["/set/effort", "/set/impact", "/set/reach", "/set/state", "/set/title"]);
        assert!(faults.iter().all(|f| f.words.ends_with('.')));
    }

    #[test]
    fn a_new_thing_must_have_what_it_must_have() {
        let faults = check_new(ThingKind::Result, "", set(json!({"measure": "Left behind"}))).unwrap_err();
        assert_eq!(faults.len(), 3, "{faults:?}");
    }

    #[test]
    fn a_release_ends_after_it_starts() {
        let check = |from: Value, to: Value| {
            check_together(ThingKind::Release, "/set", &set(json!({"starts_on": from, "ends_on": to})))
        };
        assert!(check(json!("2026-01-01"), json!("2026-01-01")).is_ok());
        assert!(check(Value::Null, json!("2026-01-01")).is_ok());
        assert_eq!(check(json!("2026-01-02"), json!("2026-01-01")).unwrap_err().field, "/set/ends_on");
    }

    #[test]
    fn days_and_lengths_are_checked() {
        for bad in ["31.03.2026", "2026-02-30", "soon"] {
            assert!(check(ThingKind::Release, "", set(json!({"ends_on": bad}))).is_err(), "{bad}");
        }
        let long = "x".repeat(TITLE + 1);
        let faults = check(ThingKind::Finding, "", set(json!({"title": long}))).unwrap_err();
        assert!(faults[0].words.contains("301"));
    }
}
