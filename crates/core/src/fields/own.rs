//! The fields that a team adds to a collection. Their values stand in the row's `own` object under `f` and the
//! field's number; links stand among the links.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use super::collection::Collection;
use super::query::Measure;
use super::types::{Choice, FieldDef, FieldType, RollUp, Shape};
use crate::kind::prelude::*;
use crate::problem::Fault;

/// A field that a team added, as it is stored.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct OwnField {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The collection that it belongs to.
    pub collection: Collection,
    /// Its place among the fields, ascending.
    pub position: f64,
    /// What people read.
    pub label: String,
    /// Its [`FieldType`] as JSON in text.
    pub definition: String,
    /// 1 where it is shown no more.
    pub retired: i64,
}

/// What this kind of thing is.
pub(crate) const KIND: Description =
    Description { name: "field", singular: "field", plural: "fields", spoken_of: false, ..Description::BASE };

/// A new field, or what a field is to be.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwnFieldInput {
    /// What people read.
    pub label: String,
    /// What it is. A choice without a key is new.
    #[serde(flatten)]
    pub kind: FieldType,
    /// For a new link: what the other collection calls its side of it.
    pub back_label: Option<String>,
    /// For a new link: whether a thing of the other collection may be linked from several.
    pub back_many: Option<bool>,
}

impl OwnField {
    /// The field as its collection lists it.
    ///
    /// # Errors
    /// Where the stored definition cannot be read.
    pub fn def(&self) -> Result<FieldDef, String> {
        let kind: FieldType = serde_json::from_str(&self.definition).map_err(|fault| fault.to_string())?;
        Ok(FieldDef {
            name: own_name(self.id),
            label: self.label.clone(),
            editable: !matches!(kind, FieldType::RolledUp { .. }),
            shape: kind.shape(),
            kind,
            governed: None,
            withheld: false,
            own: Some(self.id),
            rev: Some(self.rev),
            retired: self.retired != 0,
        })
    }
}

/// The name of the field with this number.
#[must_use]
pub fn own_name(id: i64) -> String {
    format!("f{id}")
}

/// The number of the field with this name, where the name is one of a field that a team added.
#[must_use]
pub fn own_number(name: &str) -> Option<i64> {
    let digits = name.strip_prefix('f')?;
    if digits.is_empty() || !digits.bytes().all(|b| b.is_ascii_digit()) { None } else { digits.parse().ok() }
}

/// The longest label.
const LABEL: usize = 80;
/// At most so many choices.
const MOST_CHOICES: usize = 200;

/// Checks a field on its way in: its label, its choices, and that a roll-up goes along links that are there. Gives
/// its type with a key for every new choice.
///
/// `present` is the type that it has so far, `fields_of` gives the fields of any collection.
///
/// # Errors
/// Every part at fault.
pub fn check_own_field(
    input: &OwnFieldInput,
    collection: Collection,
    present: Option<&FieldDef>,
    fields_of: &dyn Fn(Collection) -> Vec<FieldDef>,
) -> Result<(String, FieldType), Vec<Fault>> {
    let mut faults = Vec::new();
    let label = input.label.split_whitespace().collect::<Vec<_>>().join(" ");
    let length = label.chars().count();
    if length == 0 || length > LABEL {
        faults.push(Fault::new("/label", format!("Give the field a name of 1 to {LABEL} characters.")));
    }
    let own = present.and_then(|field| field.own);
    let same = |field: &FieldDef| field.label.to_lowercase() == label.to_lowercase();
    let itself = |field: &FieldDef| own.is_some() && field.own == own;
    if fields_of(collection).iter().any(|field| !field.retired && same(field) && !itself(field)) {
        faults.push(Fault::new("/label", format!("There is a field '{label}' here already. Give it another name.")));
    }
    let mut kind = input.kind.clone();
    match &mut kind {
        FieldType::Choice { choices } | FieldType::Choices { choices } => {
            let before = present.map(|field| field.kind.choices()).unwrap_or_default();
            if let Err(words) = check_choices(choices, before) {
                faults.push(Fault::new("/choices", words));
            }
        }
        FieldType::RolledUp { roll_up } => {
            if let Err((at, words)) = check_roll_up(roll_up, collection, fields_of) {
                faults.push(Fault::new(at, words));
            }
        }
        FieldType::Drawn { .. } => {
            faults.push(Fault::new("/type", "Drawings come with the product. Pick another type."));
        }
        FieldType::Number { unit } => *unit = unit.take().map(|unit| unit.trim().to_owned()).filter(|u| !u.is_empty()),
        _ => {}
    }
    if faults.is_empty() { Ok((label, kind)) } else { Err(faults) }
}

fn check_choices(choices: &mut [Choice], before: &[Choice]) -> Result<(), String> {
    if choices.is_empty() || choices.len() > MOST_CHOICES {
        return Err(format!("Give it 1 to {MOST_CHOICES} choices."));
    }
    let mut labels = BTreeSet::new();
    for choice in choices.iter_mut() {
        choice.label = choice.label.split_whitespace().collect::<Vec<_>>().join(" ");
        if choice.label.is_empty() || choice.label.chars().count() > LABEL {
            return Err(format!("Each choice needs a name of 1 to {LABEL} characters."));
        }
        if !labels.insert(choice.label.to_lowercase()) {
            return Err(format!("'{}' is there twice. Give each choice a name of its own.", choice.label));
        }
    }
    if let Some(gone) = before.iter().find(|one| !choices.iter().any(|choice| choice.key == one.key)) {
        return Err(format!("'{}' may still be in use. Retire it instead of taking it away.", gone.label));
    }
    if let Some(strange) =
        choices.iter().find(|one| !one.key.is_empty() && !before.iter().any(|choice| choice.key == one.key))
    {
        return Err(format!(
            "'{}' comes with a key that is not known here. Leave the key of a new choice out.",
            strange.label
        ));
    }
    let number = |choice: &Choice| choice.key.strip_prefix('c').and_then(|n| n.parse::<u32>().ok()).unwrap_or(0);
    let mut last = before.iter().map(number).max().unwrap_or(0);
    for choice in choices.iter_mut().filter(|choice| choice.key.is_empty()) {
        last += 1;
        choice.key = format!("c{last}");
    }
    Ok(())
}

fn check_roll_up(
    roll_up: &RollUp,
    collection: Collection,
    fields_of: &dyn Fn(Collection) -> Vec<FieldDef>,
) -> Result<(), (String, String)> {
    if roll_up.path.is_empty() || roll_up.path.len() > RollUp::MOST_STEPS {
        return Err(("/path".into(), format!("Go along 1 to {} links.", RollUp::MOST_STEPS)));
    }
    let mut at = collection;
    for (n, step) in roll_up.path.iter().enumerate() {
        let fields = fields_of(at);
        match fields.iter().find(|field| field.name == *step).map(|field| &field.kind) {
            Some(FieldType::Link { to, .. }) => at = *to,
            _ => return Err((format!("/path/{n}"), format!("There is no link '{step}' from {} on.", at.words()))),
        }
    }
    match (&roll_up.of, roll_up.measure) {
        (None, Measure::Count) => Ok(()),
        (None, Measure::ShareDone) if at == Collection::WorkItem => Ok(()),
        (_, Measure::ShareDone) => {
            Err(("/measure".into(), "The share done is that of stories: go along links to work items.".into()))
        }
        (None, _) => Err(("/of".into(), format!("Say which field of {} it is computed of.", at.words()))),
        (Some(of), measure) => {
            let fields = fields_of(at);
            let Some(field) = fields.iter().find(|field| field.name == *of) else {
                return Err(("/of".into(), format!("There is no field '{of}' among those of {}.", at.words())));
            };
            if field.own.is_some() && matches!(field.kind, FieldType::RolledUp { .. }) {
                let words = format!("'{}' is rolled up itself. Go along its links instead.", field.label);
                return Err(("/of".into(), words));
            }
            if measure != Measure::Count && field.shape != Shape::Number {
                return Err(("/of".into(), format!("'{}' holds no numbers. Count it instead.", field.label)));
            }
            Ok(())
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::registered;
    use serde_json::json;

    fn check(input: serde_json::Value, present: Option<&FieldDef>) -> Result<(String, FieldType), Vec<Fault>> {
        let input: OwnFieldInput = serde_json::from_value(input).unwrap();
        check_own_field(&input, Collection::Idea, present, &registered)
    }

    #[test]
    fn new_choices_get_keys_and_old_ones_keep_theirs() {
        let made = check(
            json!({"label": "Size", "type": "choice", "choices": [
            {"key": "", "label": "Small"}, {"key": "", "label": "Large"}]}),
            None,
        );
        let (label, kind) = made.unwrap();
        let keys: Vec<&str> = kind.choices().iter().map(|choice| choice.key.as_str()).collect();
        assert_eq!((label.as_str(), keys), ("Size", vec!["c1", "c2"]));
        let stored = OwnField {
            id: 5,
            rev: 1,
            collection: Collection::Idea,
            position: 1.0,
            label,
            definition: serde_json::to_string(&kind).unwrap(),
            retired: 0,
        };
        let present = stored.def().unwrap();
        let more = json!({"label": "Size", "type": "choice", "choices": [
            {"key": "c2", "label": "Very large"}, {"key": "", "label": "Medium"}, {"key": "c1", "label": "Small", "retired": true}]});
        let (_, kind) = check(more, Some(&present)).unwrap();
        let keys: Vec<&str> = kind.choices().iter().map(|choice| choice.key.as_str()).collect();
        assert_eq!(keys, ["c2", "c3", "c1"]);
        let less = json!({"label": "Size", "type": "choice", "choices": [{"key": "c2", "label": "Large"}]});
        assert!(check(less, Some(&present)).unwrap_err()[0].words.contains("Retire it"));
    }

    #[test]
    fn a_name_is_given_once() {
        let faults = check(json!({"label": " idea ", "type": "text"}), None).unwrap_err();
        assert!(faults[0].words.contains("already"), "{faults:?}");
    }

    #[test]
    fn a_roll_up_goes_along_links_that_are_there() {
        let roll = |path: serde_json::Value, measure: &str, of: Option<&str>| {
            check(json!({"label": "Sum", "type": "rolled_up", "path": path, "measure": measure, "of": of}), None)
        };
        assert!(roll(json!(["epics", "children"]), "sum", Some("points")).is_ok());
        assert!(roll(json!(["findings", "excerpts", "item"]), "count", None).is_ok());
        assert!(roll(json!(["epics", "children"]), "share_done", None).is_ok());
        for (path, measure, of, at) in [
            (json!(["epics", "title"]), "count", None, "/path/1"),
            (json!([]), "count", None, "/path"),
            (json!(["findings"]), "sum", Some("title"), "/of"),
            (json!(["findings"]), "sum", None, "/of"),
            (json!(["findings"]), "share_done", None, "/measure"),
        ] {
            assert_eq!(roll(path, measure, of).unwrap_err()[0].field, at);
        }
    }

    #[test]
    fn names_and_numbers_of_own_fields() {
        assert_eq!(own_number(&own_name(12)), Some(12));
        for not_own in ["f", "f1x", "findings", "12", "F1"] {
            assert_eq!(own_number(not_own), None, "{not_own}");
        }
    }
}
