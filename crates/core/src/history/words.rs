//! One change of one thing in words.

use std::collections::BTreeSet;

use serde_json::{Map, Value};

use crate::fields::{FieldDef, FieldType, show};
use crate::things::{Thing, ThingKind};

/// How things and people are called.
pub trait Names {
    /// A thing: its reference, or its kind and name.
    fn thing(&self, thing: Thing) -> String;
    /// Somebody of the workspace.
    fn person(&self, id: i64) -> String;
}

/// A value that changed, and how.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Changed {
    /// The names of the values, by which the change can be taken back.
    pub names: Vec<String>,
    /// What happened to it: "changed effort from 3 to 5".
    pub words: String,
}

/// Where a thing stands among others: numbers that say nothing by themselves.
const PLACES: [&str; 4] = ["position", "map_position", "queue_position", "seq"];
/// What is kept beside a thing for the program.
const SILENT: [&str; 6] = ["product_id", "chosen", "frozen", "kept", "edited_at", "resolved_by"];
/// Texts longer than this, in characters, are told by what is different in them.
const LINE: usize = 60;

/// What is different between two states of a row, a value after the other in the order of their names. Values of the team's
/// own fields stand among the others. `fields` are those of the row's collection, where it has one. O(values).
#[must_use]
pub fn changed(
    kind: ThingKind,
    fields: &[FieldDef],
    before: &Map<String, Value>,
    after: &Map<String, Value>,
    names: &dyn Names,
) -> Vec<Changed> {
    let all: BTreeSet<&String> = before.keys().chain(after.keys()).collect();
    let empty = Value::Null;
    let mut told: Vec<Changed> = Vec::new();
    let mut places: Vec<String> = Vec::new();
    for name in all {
        let (was, is) = (before.get(name).unwrap_or(&empty), after.get(name).unwrap_or(&empty));
        if was == is || SILENT.contains(&name.as_str()) {
            continue;
        }
        if PLACES.contains(&name.as_str()) {
            places.push(name.clone());
            continue;
        }
        let field = fields.iter().find(|field| field.name == *name);
        let label = label_of(kind, name, field);
        told.push(Changed { names: vec![name.clone()], words: words(&label, name, field, was, is, names) });
    }
    if !places.is_empty() {
        told.push(Changed { names: places, words: "moved it among the others".into() });
    }
    told
}

fn label_of(kind: ThingKind, name: &str, field: Option<&FieldDef>) -> String {
    match (kind, name) {
        (_, "resolved_at") => "dealt with".into(),
        (ThingKind::Comment, "body") => "words".into(),
        _ => field.map_or_else(|| name.trim_end_matches("_id").replace('_', " "), |field| label_in_words(&field.label)),
    }
}

/// A field's label within a sentence: small at its beginning, unless it is an abbreviation.
#[must_use]
pub fn label_in_words(label: &str) -> String {
    let mut letters = label.chars();
    let first = letters.next();
    let rest = letters.as_str();
    let word = rest.split(' ').next().unwrap_or_default();
    match first {
        Some(first) if !word.chars().any(char::is_uppercase) => first.to_lowercase().chain(rest.chars()).collect(),
        _ => label.to_owned(),
    }
}

fn words(label: &str, name: &str, field: Option<&FieldDef>, was: &Value, is: &Value, names: &dyn Names) -> String {
    let text = |value: &Value| value_in_words(name, field, value, names);
    match (was.is_null(), is.is_null()) {
        (true, false) => format!("set {label} to {}", clipped(&text(is))),
        (false, true) => format!("cleared {label}, which was {}", clipped(&text(was))),
        _ => {
            let (was, is) = (text(was), text(is));
            if was.chars().count() <= LINE && is.chars().count() <= LINE {
                format!("changed {label} from {was} to {is}")
            } else {
                in_text(label, &was, &is)
            }
        }
    }
}

fn value_in_words(name: &str, field: Option<&FieldDef>, value: &Value, names: &dyn Names) -> String {
    let quoted = |text: &str| format!("“{text}”");
    if let Some(id) = value.as_i64() {
        if matches!(field.map(|field| &field.kind), Some(FieldType::Member)) || ["by_id", "decided_by"].contains(&name)
        {
            return names.person(id);
        }
        if let Some(kind) = points_at(name, field) {
            return names.thing(Thing::new(kind, id));
        }
    }
    match (field, value) {
        (Some(field), value) if !matches!(field.kind, FieldType::Text | FieldType::LongText) => {
            show(&field.kind, value)
        }
        (_, Value::String(text)) if text.parse::<jiff::civil::Date>().is_ok() => text.clone(),
        (_, Value::String(text)) => quoted(text),
        (_, other) => show(&FieldType::Number { unit: None }, other),
    }
}

/// What a column that ends in `_id` points at.
fn points_at(name: &str, field: Option<&FieldDef>) -> Option<ThingKind> {
    if let Some(FieldType::Link { to, .. }) = field.map(|field| &field.kind) {
        return Some(to.kind());
    }
    match name {
        "column_id" => Some(ThingKind::TeamColumn),
        _ => name.strip_suffix("_id")?.parse().ok(),
    }
}

fn clipped(text: &str) -> String {
    if text.chars().count() <= LINE {
        return text.to_owned();
    }
    let begun: String = text.chars().take(LINE).collect();
    let closed = if text.starts_with('“') { "”" } else { "" };
    format!("{} …{closed}", begun.trim_end())
}

/// What is different in a long text: what stands between what both have at the beginning and at the end, in whole words.
fn in_text(label: &str, was: &str, is: &str) -> String {
    let (was, is): (Vec<&str>, Vec<&str>) = (split(was), split(is));
    let begin = was.iter().zip(&is).take_while(|(a, b)| a == b).count();
    let shorter = was.len().min(is.len()) - begin;
    let end = was.iter().rev().zip(is.iter().rev()).take(shorter).take_while(|(a, b)| a == b).count();
    let part = |words: &[&str]| clipped(&format!("“{}”", words[begin..words.len() - end].join(" ")));
    match (was.len() > begin + end, is.len() > begin + end) {
        (true, false) => format!("took {} out of {label}", part(&was)),
        (false, true) => format!("put {} into {label}", part(&is)),
        _ => format!("changed {} to {} in {label}", part(&was), part(&is)),
    }
}

fn split(text: &str) -> Vec<&str> {
    text.trim_matches(['“', '”']).split_whitespace().collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Collection, registered};
    use serde_json::json;

    struct Called;

    impl Names for Called {
        fn thing(&self, thing: Thing) -> String {
            format!("{}{}", thing.kind.letter().unwrap_or('?'), thing.id)
        }

        fn person(&self, id: i64) -> String {
            format!("person {id}")
        }
    }

    fn told(collection: Collection, before: Value, after: Value) -> Vec<String> {
        let map = |value: Value| value.as_object().cloned().unwrap();
        let fields = registered(collection);
        changed(collection.kind(), &fields, &map(before), &map(after), &Called)
            .into_iter()
            .map(|one| one.words)
            .collect()
    }

    #[test]
    fn a_change_says_from_what_to_what() {
        let told_of = |before, after| told(Collection::Idea, before, after);
        assert_eq!(told_of(json!({ "effort": 3.0 }), json!({ "effort": 5.0 })), ["changed effort from 3 to 5"]);
        assert_eq!(told_of(json!({}), json!({ "effort": 5.5 })), ["set effort to 5.5"]);
        assert_eq!(told_of(json!({ "effort": 5 }), json!({ "effort": null })), ["cleared effort, which was 5"]);
        assert_eq!(
            told_of(json!({ "state": "raw" }), json!({ "state": "set_aside" })),
            ["changed state from raw to set aside"]
        );
        assert_eq!(
            told_of(json!({ "moscow": "must" }), json!({ "moscow": "wont" })),
            ["changed MoSCoW from must to won’t"]
        );
        assert_eq!(told_of(json!({ "title": "A" }), json!({ "title": "B" })), ["changed idea from “A” to “B”"]);
        assert_eq!(told_of(json!({ "effort": 3, "product_id": 1 }), json!({ "effort": 3, "product_id": 2 })), [""; 0]);
    }

    #[test]
    fn things_and_people_are_called_by_their_names() {
        assert_eq!(
            told(
                Collection::Objective,
                json!({ "owner_id": 2, "parent_id": 1 }),
                json!({ "owner_id": 3, "parent_id": 4 })
            ),
            ["changed who answers for it from person 2 to person 3", "changed part of from O1 to O4"]
        );
        assert_eq!(
            told(
                Collection::WorkItem,
                json!({ "release_id": 1, "map_position": 1.0, "position": 2 }),
                json!({ "release_id": 2, "map_position": 2.0, "position": 3 })
            ),
            ["changed release from R1 to R2", "moved it among the others"]
        );
    }

    #[test]
    fn long_texts_tell_what_is_different_in_them() {
        let long = "The crossing takes an hour and the café is closed after eight in the evening, which people say is too early.";
        let told_of = |after: String| told(Collection::Idea, json!({ "problem": long }), json!({ "problem": after }));
        assert_eq!(told_of(long.replace("after eight", "after nine")), ["changed “eight” to “nine” in problem"]);
        assert_eq!(told_of(long.replace("the café is", "the small café is")), ["put “small” into problem"]);
        assert_eq!(
            told_of(long.replace(", which people say is too early", "")),
            ["changed “evening, which people say is too early.” to “evening.” in problem"]
        );
        let all = told_of(format!("{} {long}", "really ".repeat(30)));
        assert!(all[0].chars().count() < 100 && all[0].contains('…'), "{}", all[0]);
    }
}
