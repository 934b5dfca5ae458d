//! Carrying the values of a field to another type, and what that would lose. By way of text: a value is shown as
//! text and read again.

use std::collections::BTreeMap;

use serde_json::Value;

use super::types::{Choice, FieldType};
use super::values::{read_text, show};

/// A value that cannot be carried over whole.
#[derive(Debug, Clone, PartialEq)]
pub struct Lost {
    /// The thing whose value it is.
    pub id: i64,
    /// The value as text.
    pub text: String,
    /// What is left of it; nothing where it is lost whole.
    pub becomes: Value,
}

/// What a change of type comes to.
#[derive(Debug, Clone, PartialEq)]
pub struct Conversion {
    /// The new type, with the choices that the values need.
    pub kind: FieldType,
    /// Every thing's new value.
    pub values: Vec<(i64, Value)>,
    /// What cannot be carried over whole.
    pub lost: Vec<Lost>,
}

/// At most so many choices are made of texts.
const MOST_CHOICES: usize = 100;

/// Carries all values of a field to another type. Texts become choices where the new type has some: those that
/// are named so already, then new ones, the most frequent first.
///
/// `members` gives the names of the team's people. Linear in the values, but for sorting the new choices.
#[must_use]
pub fn convert_all(from: &FieldType, to: &FieldType, values: &[(i64, Value)], members: &[(i64, String)]) -> Conversion {
    let mut kind = to.clone();
    let texts: Vec<String> = values.iter().map(|(_, value)| text_of(from, value, members)).collect();
    add_choices(&mut kind, from, values, &texts);
    let mut carried = Vec::with_capacity(values.len());
    let mut lost = Vec::new();
    for ((id, old), text) in values.iter().zip(texts) {
        let (value, whole) = carry(from, &kind, old, &text, members);
        if !whole {
            lost.push(Lost { id: *id, text, becomes: value.clone() });
        }
        carried.push((*id, value));
    }
    Conversion { kind, values: carried, lost }
}

fn text_of(from: &FieldType, value: &Value, members: &[(i64, String)]) -> String {
    if matches!(from, FieldType::Member) {
        let name = members.iter().find(|(id, _)| value.as_i64() == Some(*id)).map(|(_, name)| name.clone());
        return name.unwrap_or_default();
    }
    show(from, value)
}

/// The value of the new type, and whether all of the old one is in it.
fn carry(from: &FieldType, to: &FieldType, old: &Value, text: &str, members: &[(i64, String)]) -> (Value, bool) {
    if text.is_empty() {
        return (Value::Null, true);
    }
    match (from, to) {
        (FieldType::DateRange, FieldType::Date) => {
            let (first, last) = text.split_once('/').unwrap_or((text, text));
            (Value::from(first), first == last)
        }
        (FieldType::Date, FieldType::DateRange) => (Value::String(format!("{text}/{text}")), true),
        (FieldType::Choices { .. }, FieldType::Choice { .. }) => {
            let keys = old.as_array().map(Vec::as_slice).unwrap_or_default();
            let label = keys.first().map(|key| show(from, key)).unwrap_or_default();
            (read_text("", to, &label).unwrap_or_default(), keys.len() == 1)
        }
        (_, FieldType::Member) => {
            let wanted = text.to_lowercase();
            let found = members.iter().find(|(_, name)| name.to_lowercase() == wanted).map(|(id, _)| *id);
            found.map_or((Value::Null, false), |id| (Value::from(id), true))
        }
        (_, FieldType::Text) => {
            let line: String = text.split_whitespace().collect::<Vec<_>>().join(" ");
            let short: String = line.chars().take(crate::kind::TITLE).collect();
            let whole = short == text;
            (Value::from(short), whole)
        }
        _ => match read_text("", to, text) {
            Ok(value) => (value, true),
            Err(_) => (Value::Null, false),
        },
    }
}

fn add_choices(kind: &mut FieldType, from: &FieldType, values: &[(i64, Value)], texts: &[String]) {
    let several = matches!(kind, FieldType::Choices { .. });
    let (FieldType::Choice { choices } | FieldType::Choices { choices }) = kind else { return };
    let mut counts: BTreeMap<&str, (usize, String)> = BTreeMap::new();
    let mut labels: Vec<String> = Vec::new();
    for ((_, value), text) in values.iter().zip(texts) {
        match (from, value) {
            (FieldType::Choices { .. }, Value::Array(keys)) => labels.extend(keys.iter().map(|key| show(from, key))),
            _ if several && !matches!(from, FieldType::Choice { .. }) => {
                labels.extend(text.split([',', ';']).map(|part| part.trim().to_owned()));
            }
            _ => labels.push(text.clone()),
        }
    }
    let folded: Vec<String> = labels.iter().map(|label| label.to_lowercase()).collect();
    for (label, folded) in labels.iter().zip(&folded) {
        let fits = !label.is_empty() && label.chars().count() <= 80 && !label.contains('\n');
        let known = choices.iter().any(|choice| choice.label.to_lowercase() == *folded);
        if fits && !known {
            counts.entry(folded).or_insert_with(|| (0, label.clone())).0 += 1;
        }
    }
    let mut new: Vec<(usize, String)> = counts.into_values().collect();
    new.sort_by(|a, b| b.0.cmp(&a.0).then_with(|| a.1.cmp(&b.1)));
    let mut last = choices.iter().filter_map(|c| c.key.strip_prefix('c')?.parse::<u32>().ok()).max().unwrap_or(0);
    for (_, label) in new.into_iter().take(MOST_CHOICES.saturating_sub(choices.len())) {
        last += 1;
        choices.push(Choice::new(&format!("c{last}"), &label));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn number() -> FieldType {
        FieldType::Number { unit: None }
    }

    #[test]
    fn what_does_not_fit_is_told_before_it_is_lost() {
        let values = [(1, json!("12")), (2, json!("about 5")), (3, Value::Null), (4, json!("1,234"))];
        let done = convert_all(&FieldType::Text, &number(), &values, &[]);
        assert_eq!(done.values, [(1, json!(12.0)), (2, Value::Null), (3, Value::Null), (4, json!(1234.0))]);
        assert_eq!(done.lost, [Lost { id: 2, text: "about 5".into(), becomes: Value::Null }]);
    }

    #[test]
    fn texts_become_choices_the_most_frequent_first() {
        let values = [(1, json!("pier")), (2, json!("Deck")), (3, json!("deck")), (4, json!("deck"))];
        let done = convert_all(&FieldType::Text, &FieldType::Choice { choices: vec![] }, &values, &[]);
        let labels: Vec<&str> = done.kind.choices().iter().map(|choice| choice.label.as_str()).collect();
        assert_eq!(labels, ["Deck", "pier"]);
        assert_eq!(done.values, [(1, json!("c2")), (2, json!("c1")), (3, json!("c1")), (4, json!("c1"))]);
        assert!(done.lost.is_empty());
    }

    #[test]
    fn several_become_one_and_the_rest_is_told() {
        let choices = vec![Choice::new("c1", "Pier"), Choice::new("c2", "Deck")];
        let several = FieldType::Choices { choices: choices.clone() };
        let values = [(1, json!(["c1", "c2"])), (2, json!(["c2"]))];
        let done = convert_all(&several, &FieldType::Choice { choices }, &values, &[]);
        assert_eq!(done.values, [(1, json!("c1")), (2, json!("c2"))]);
        assert_eq!(done.lost.len(), 1);
        assert_eq!(done.lost[0].text, "Pier, Deck");
    }

    #[test]
    fn a_span_becomes_its_first_day_and_a_person_the_name() {
        let values = [(1, json!("2026-01-01/2026-01-05")), (2, json!("2026-01-01/2026-01-01"))];
        let done = convert_all(&FieldType::DateRange, &FieldType::Date, &values, &[]);
        assert_eq!(done.lost.len(), 1);
        assert_eq!(done.values[0].1, json!("2026-01-01"));
        let team = [(4, "Wren Odell".to_owned())];
        let done = convert_all(&FieldType::Member, &FieldType::Text, &[(1, json!(4))], &team);
        assert_eq!(done.values[0].1, json!("Wren Odell"));
        let back = convert_all(&FieldType::Text, &FieldType::Member, &done.values, &team);
        assert_eq!(back.values[0].1, json!(4));
    }
}
