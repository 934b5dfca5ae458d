//! Values of fields: checked on their way in, read from text that was pasted or imported, shown as text.

use crate::formats::numbers;
use crate::text::visible_line;
use jiff::civil::Date;
use serde_json::Value;

use super::types::{Choice, FieldType};
use crate::kind::{HUGE, NOTE, TITLE};

/// At most so many choices in one value of several choices, and so many links in one field.
const MOST_MANY: usize = 200;

/// Checks a value for a field that a team added, and gives its stored form; nothing for an empty one.
///
/// # Errors
/// In words: what the field takes.
pub fn check_value(label: &str, kind: &FieldType, value: Value) -> Result<Value, String> {
    let value = match value {
        Value::String(text) if text.trim().is_empty() => Value::Null,
        Value::Array(all) if all.is_empty() => Value::Null,
        other => other,
    };
    if value.is_null() {
        return Ok(Value::Null);
    }
    let fault = |takes: &str| format!("'{label}' takes {takes}.");
    match kind {
        FieldType::Text => line(&value, TITLE).ok_or_else(|| fault("one line of at most 300 characters")),
        FieldType::LongText => long(&value).ok_or_else(|| fault("text of at most 20,000 characters")),
        FieldType::WebAddress => {
            address(&value).ok_or_else(|| fault("a web address that begins with https:// or http://"))
        }
        FieldType::Number { .. } | FieldType::Money => match value.as_f64() {
            Some(number) if number.is_finite() && number.abs() <= HUGE => Ok(Value::from(number)),
            _ => Err(fault("a number")),
        },
        FieldType::Date => {
            day(&value).map(|day| Value::String(day.to_string())).ok_or_else(|| fault("a day such as 2026-03-31"))
        }
        FieldType::DateRange => range(&value)
            .map(|(from, to)| Value::String(format!("{from}/{to}")))
            .ok_or_else(|| fault("two days such as 2026-03-01/2026-03-31, the later one last")),
        // What is empty is no, so that there is one way to say it.
        FieldType::YesNo => match value {
            Value::Bool(true) => Ok(Value::Bool(true)),
            Value::Bool(false) => Ok(Value::Null),
            _ => Err(fault("yes or no")),
        },
        FieldType::Choice { choices } => match value.as_str().and_then(|key| offered(choices, key)) {
            Some(key) => Ok(Value::from(key)),
            None => Err(one_of(label, choices)),
        },
        FieldType::Choices { choices } => several(choices, &value).ok_or_else(|| one_of(label, choices)),
        FieldType::File => whole(value.get("id").unwrap_or(&value)).ok_or_else(|| fault("a file that was put in")),
        FieldType::Member => whole(&value).ok_or_else(|| fault("somebody of the team")),
        FieldType::Link { many, .. } => links(&value, *many).ok_or_else(|| {
            fault(if *many {
                "things of the other collection, at most 200"
            } else {
                "one thing of the other collection"
            })
        }),
        FieldType::RolledUp { .. } | FieldType::Drawn { .. } => {
            Err(format!("'{label}' is computed and cannot be written."))
        }
    }
}

fn one_of(label: &str, choices: &[Choice]) -> String {
    let labels: Vec<&str> = choices.iter().filter(|c| !c.retired).map(|choice| choice.label.as_str()).collect();
    format!("'{label}' takes one of: {}.", labels.join(", "))
}

fn line(value: &Value, most: usize) -> Option<Value> {
    let text = visible_line(value.as_str()?);
    (text.chars().count() <= most && !text.contains('\0')).then_some(Value::String(text))
}

fn long(value: &Value) -> Option<Value> {
    let text = value.as_str()?.trim();
    (text.chars().count() <= NOTE && !text.contains('\0')).then(|| Value::from(text))
}

/// Only what leads to a page: nothing that a browser would run.
fn address(value: &Value) -> Option<Value> {
    let text = value.as_str()?.trim();
    let rest = text.strip_prefix("https://").or_else(|| text.strip_prefix("http://"))?;
    let fits = !rest.is_empty()
        && text.chars().count() <= 2_000
        && !text.contains(|c: char| c.is_whitespace() || c.is_control() || matches!(c, '<' | '>' | '"'));
    fits.then(|| Value::from(text))
}

fn day(value: &Value) -> Option<Date> {
    value.as_str()?.trim().parse().ok()
}

fn range(value: &Value) -> Option<(Date, Date)> {
    let (from, to) = value.as_str()?.split_once('/')?;
    let (from, to): (Date, Date) = (from.trim().parse().ok()?, to.trim().parse().ok()?);
    (from <= to).then_some((from, to))
}

fn offered<'a>(choices: &'a [Choice], key: &str) -> Option<&'a str> {
    choices.iter().find(|choice| choice.key == key).map(|choice| choice.key.as_str())
}

/// The keys in the order of the choices, each once.
fn several(choices: &[Choice], value: &Value) -> Option<Value> {
    let keys: Vec<&str> = value.as_array()?.iter().map(Value::as_str).collect::<Option<_>>()?;
    let all_known = keys.iter().all(|key| offered(choices, key).is_some());
    let ordered: Vec<&str> = choices.iter().map(|c| c.key.as_str()).filter(|key| keys.contains(key)).collect();
    (all_known && ordered.len() <= MOST_MANY).then(|| Value::from(ordered))
}

fn whole(value: &Value) -> Option<Value> {
    value.as_i64().filter(|number| *number > 0).map(Value::from)
}

/// The numbers of the linked things, each once; a single one may stand without brackets.
fn links(value: &Value, many: bool) -> Option<Value> {
    let mut ids = values_of_links(value)?;
    ids.sort_unstable();
    ids.dedup();
    let most = if many { MOST_MANY } else { 1 };
    (ids.len() <= most && ids.iter().all(|id| *id > 0)).then(|| Value::from(ids))
}

/// The numbers in a value of links: `7`, `[7, 9]` or `[{"id": 7, …}]`; nothing where it is none of these.
#[must_use]
pub fn values_of_links(value: &Value) -> Option<Vec<i64>> {
    match value {
        Value::Null => Some(Vec::new()),
        Value::Array(all) => all.iter().map(|one| one.as_i64().or_else(|| one["id"].as_i64())).collect(),
        other => other.as_i64().map(|id| vec![id]),
    }
}

/// Reads a value from text, as somebody pastes it from a spreadsheet: numbers with separators and a unit behind
/// them, days in the ISO form, choices by their label in any case, several choices between commas.
///
/// # Errors
/// In words: what the field takes.
pub fn read_text(label: &str, kind: &FieldType, text: &str) -> Result<Value, String> {
    let text = text.trim();
    if text.is_empty() {
        return Ok(Value::Null);
    }
    let value = match kind {
        FieldType::File => return Err(format!("'{label}' takes a file; put it in at its place instead of pasting.")),
        FieldType::Number { .. } | FieldType::Money => numbers::read(text, None).map_or(Value::from(text), Value::from),
        FieldType::YesNo => match text.to_lowercase().as_str() {
            "yes" | "true" | "1" | "x" | "✓" => Value::Bool(true),
            "no" | "false" | "0" => Value::Bool(false),
            _ => Value::from(text),
        },
        FieldType::Choice { choices } => by_label(choices, text).map_or(Value::from(text), Value::from),
        FieldType::Choices { choices } => {
            let parts = text.split([',', ';']).map(str::trim).filter(|part| !part.is_empty());
            Value::from(parts.map(|part| by_label(choices, part).unwrap_or(part)).collect::<Vec<_>>())
        }
        FieldType::Member => text.parse::<i64>().map_or(Value::from(text), Value::from),
        FieldType::Link { .. } => {
            // References as people write them: S14, S15.
            let ids = text.split([',', ';', ' ']).filter(|part| !part.is_empty());
            let id = |part: &str| part.trim_start_matches(|c: char| c.is_alphabetic()).parse::<i64>().ok();
            ids.map(id).collect::<Option<Vec<i64>>>().map_or(Value::from(text), Value::from)
        }
        _ => Value::from(text),
    };
    check_value(label, kind, value)
}

fn by_label<'a>(choices: &'a [Choice], text: &str) -> Option<&'a str> {
    let wanted = text.to_lowercase();
    choices
        .iter()
        .find(|choice| choice.label.to_lowercase() == wanted || choice.key == text)
        .map(|choice| choice.key.as_str())
}

/// A value as text, for a cell of a file, for copying, and for carrying it to another type.
///
/// Links show what is stored beside their numbers (`label`, else the number).
#[must_use]
pub fn show(kind: &FieldType, value: &Value) -> String {
    let label = |key: &str| {
        let choice = kind.choices().iter().find(|choice| choice.key == key);
        choice.map_or_else(|| key.to_owned(), |choice| choice.label.clone())
    };
    match value {
        Value::Null => String::new(),
        Value::Bool(yes) => if *yes { "yes" } else { "no" }.to_owned(),
        Value::Number(number) if matches!(kind, FieldType::YesNo) => {
            if number.as_i64() == Some(0) { "no" } else { "yes" }.to_owned()
        }
        Value::Number(number) => number.as_f64().map_or_else(|| number.to_string(), |number| number.to_string()),
        Value::String(text) => label(text),
        Value::Array(all) => {
            let one = |value: &Value| match value {
                Value::String(key) => label(key),
                Value::Object(link) => link.get("label").and_then(Value::as_str).unwrap_or_default().to_owned(),
                other => other.to_string(),
            };
            all.iter().map(one).collect::<Vec<_>>().join(", ")
        }
        Value::Object(figures) if matches!(kind, FieldType::Drawn { .. }) => {
            let parts = figures.iter().map(|(name, figure)| format!("{} {figure}", name.replace('_', " ")));
            parts.collect::<Vec<_>>().join(", ")
        }
        Value::Object(file) => file.get("name").and_then(Value::as_str).unwrap_or_default().to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn sizes() -> Vec<Choice> {
        vec![Choice::new("c1", "Small"), Choice::new("c2", "Large")]
    }

    #[test]
    fn values_come_out_in_their_stored_form_or_say_what_is_taken() {
        let choices = FieldType::Choices { choices: sizes() };
        assert_eq!(check_value("Size", &choices, json!(["c2", "c1", "c2"])), Ok(json!(["c1", "c2"])));
        assert_eq!(check_value("Size", &choices, json!([])), Ok(Value::Null));
        assert!(check_value("Size", &choices, json!(["c3"])).unwrap_err().contains("Small, Large"));
        assert_eq!(check_value("Done", &FieldType::YesNo, json!(false)), Ok(Value::Null));
        assert_eq!(
            check_value("When", &FieldType::DateRange, json!("2026-01-01 / 2026-02-01")),
            Ok(json!("2026-01-01/2026-02-01"))
        );
        assert!(check_value("When", &FieldType::DateRange, json!("2026-02-01/2026-01-01")).is_err());
        let one = FieldType::Link { to: super::super::Collection::Idea, many: false, back: None, forward: true };
        assert_eq!(check_value("Idea", &one, json!([7])), Ok(json!([7])));
        assert_eq!(check_value("Idea", &one, json!(7)), Ok(json!([7])));
        assert!(check_value("Idea", &one, json!([7, 8])).is_err());
    }

    #[test]
    fn no_web_address_runs_anything() {
        let check = |text: &str| check_value("Page", &FieldType::WebAddress, json!(text));
        assert!(check("https://crossing.example/a?b=c").is_ok());
        for bad in ["javascript:alert(1)", "https://", "https://a b", "data:text/html,x", "https://a\"onclick="] {
            assert!(check(bad).is_err(), "{bad}");
        }
    }

    #[test]
    fn what_is_shown_is_read_again() {
        let kinds = [
            (FieldType::Text, json!("Warn by risk")),
            (FieldType::Number { unit: None }, json!(1234.5)),
            (FieldType::Date, json!("2026-03-31")),
            (FieldType::DateRange, json!("2026-03-01/2026-03-31")),
            (FieldType::YesNo, json!(true)),
            (FieldType::Choice { choices: sizes() }, json!("c2")),
            (FieldType::Choices { choices: sizes() }, json!(["c1", "c2"])),
        ];
        for (kind, value) in kinds {
            let text = show(&kind, &value);
            assert_eq!(read_text("Field", &kind, &text), Ok(value), "{text}");
        }
    }
}
