//! What may be edited in place in a row's own columns, and how a value is checked before it is written.
//!
//! Fields that a rule governs (an idea's state, a story's place on the map) are not listed here: they
//! change through a use case of their own.

use jiff::civil::Date;
use serde_json::{Map, Value};

use crate::decide::{IncrementState, ObjectiveState, Offers, RequestState, Verdict, quarter};
use crate::listen::{FeedbackKind, FindingState};
use crate::problem::Fault;
use crate::specify::Moscow;
use crate::text::visible_line;
use crate::things::{ThingKind, with_article};

/// What a field holds.
#[derive(Debug, Clone, Copy)]
pub enum Holds {
    /// One line, at most so many characters.
    Line(usize),
    /// Text of several lines, at most so many characters.
    Text(usize),
    /// A number from – to.
    Number(f64, f64),
    /// A whole number from – to.
    Whole(i64, i64),
    /// A day as `YYYY-MM-DD`.
    Day,
    /// One of these names.
    OneOf(fn() -> Vec<&'static str>),
    /// The number of a thing of this kind.
    Thing(ThingKind),
    /// The number of a person of the team.
    Member,
    /// A quarter of a year as `2026 Q4`.
    Quarter,
}

/// A field that a person may edit in place.
#[derive(Debug, Clone, Copy)]
pub struct Field {
    /// Its name in the store and the API.
    pub name: &'static str,
    /// What it holds.
    pub holds: Holds,
    /// Whether it may be empty.
    pub optional: bool,
}

const fn must(name: &'static str, holds: Holds) -> Field {
    Field { name, holds, optional: false }
}

const fn may(name: &'static str, holds: Holds) -> Field {
    Field { name, holds, optional: true }
}

/// The longest title, in characters.
pub const TITLE: usize = 300;
/// The longest note, in characters.
pub const NOTE: usize = 20_000;
/// The longest page and document, in characters.
pub const LONG: usize = 200_000;
/// The largest number that a field takes; far beyond any reach or revenue.
pub const HUGE: f64 = 1e12;

/// Where a study stands.
pub(super) fn study_states() -> Vec<&'static str> {
    vec!["planned", "under_way", "finished"]
}

/// Where a requirements document stands.
pub(super) fn document_states() -> Vec<&'static str> {
    vec!["draft", "in_review", "agreed"]
}

/// The editable fields of a kind.
#[must_use]
pub fn editable(kind: ThingKind) -> &'static [Field] {
    use Holds::{Day, Line, Number, OneOf, Text, Whole};
    const PRODUCT: &[Field] = &[must("name", Line(80))];
    const TITLED: &[Field] = &[must("title", Line(TITLE))];
    const ACCOUNT: &[Field] = &[
        must("name", Line(TITLE)),
        may("segment", Line(80)),
        may("plan", Line(80)),
        may("yearly_revenue", Whole(0, 1_000_000_000_000)),
    ];
    const EXCERPT: &[Field] = &[must("kind", OneOf(FeedbackKind::names)), must("sentiment", Number(-1.0, 1.0))];
    const FINDING: &[Field] =
        &[must("title", Line(TITLE)), may("note", Text(NOTE)), may("state", OneOf(FindingState::names))];
    const TERM: &[Field] = &[must("name", Line(TITLE)), may("synonyms", Text(NOTE)), may("note", Text(NOTE))];
    const OBJECTIVE: &[Field] = &[
        must("title", Line(TITLE)),
        must("measure", Line(TITLE)),
        may("unit", Line(40)),
        must("start_value", Number(-HUGE, HUGE)),
        must("target_value", Number(-HUGE, HUGE)),
        may("starts_on", Day),
        may("due_on", Day),
        may("weight", Number(0.0, 1_000.0)),
        may("state", OneOf(ObjectiveState::names)),
        may("parent_id", Holds::Thing(ThingKind::Objective)),
        may("owner_id", Holds::Member),
        may("note", Text(NOTE)),
    ];
    const MEASUREMENT: &[Field] = &[must("taken_on", Day), must("value", Number(-HUGE, HUGE)), may("note", Text(NOTE))];
    const IDEA: &[Field] = &[
        must("title", Line(TITLE)),
        may("problem", Text(NOTE)),
        may("guess", Text(NOTE)),
        may("known_by", Text(NOTE)),
        may("cost_of_nothing", Text(NOTE)),
        may("reach", Number(0.0, HUGE)),
        may("impact", Number(0.0, 10.0)),
        may("confidence", Number(0.0, 1.0)),
        may("effort", Number(0.1, 10_000.0)),
        may("value", Number(0.0, 100.0)),
        may("time_criticality", Number(0.0, 100.0)),
        may("opportunity", Number(0.0, 100.0)),
        may("moscow", OneOf(Moscow::names)),
    ];
    const PRIORITISATION: &[Field] = &[
        must("title", Line(TITLE)),
        may("question", Text(NOTE)),
        may("recommendation", Text(NOTE)),
        must("model", Line(40)),
        must("top", Whole(1, 100)),
    ];
    const INCREMENT: &[Field] = &[
        must("idea_id", Holds::Thing(ThingKind::Idea)),
        must("title", Line(TITLE)),
        may("shows", Text(NOTE)),
        may("measure", Line(TITLE)),
        may("effort", Number(0.1, 10_000.0)),
        may("quarter", Holds::Quarter),
        may("state", OneOf(IncrementState::names)),
        may("note", Text(NOTE)),
    ];
    const REQUEST: &[Field] = &[may("state", OneOf(RequestState::names)), may("reply", Text(NOTE))];
    const FORM: &[Field] = &[must("title", Line(TITLE)), may("intro", Text(NOTE))];
    const COMPETITOR: &[Field] = &[must("name", Line(TITLE)), may("address", Line(1_000)), may("note", Text(NOTE))];
    const CAPABILITY: &[Field] =
        &[must("title", Line(TITLE)), may("offers", OneOf(Offers::names)), may("note", Text(NOTE))];
    const FOUND_PAGE: &[Field] =
        &[must("title", Line(TITLE)), may("competitor_id", Holds::Thing(ThingKind::Competitor))];
    // Its words stay: they stand so in their source.
    const COMPETITOR_NOTE: &[Field] = &[may("offers", OneOf(Offers::names)), must("noted_on", Day)];
    const WORK_ITEM: &[Field] = &[
        must("title", Line(TITLE)),
        may("as_a", Line(TITLE)),
        may("i_want", Line(1_000)),
        may("so_that", Line(1_000)),
        may("points", Number(0.0, 1_000.0)),
        may("moscow", OneOf(Moscow::names)),
        may("note", Text(NOTE)),
        may("release_id", Holds::Thing(ThingKind::Release)),
        may("parent_id", Holds::Thing(ThingKind::WorkItem)),
        may("increment_id", Holds::Thing(ThingKind::Increment)),
    ];
    const CRITERION: &[Field] = &[must("words", Line(1_000))];
    const RELEASE: &[Field] = &[
        must("title", Line(TITLE)),
        may("starts_on", Day),
        may("ends_on", Day),
        may("capacity", Number(0.0, 100_000.0)),
    ];
    const RESULT: &[Field] = &[
        must("measure", Line(TITLE)),
        may("unit", Line(40)),
        must("before", Number(-HUGE, HUGE)),
        must("after", Number(-HUGE, HUGE)),
        must("measured_on", Day),
        may("verdict", OneOf(Verdict::names)),
        may("note", Text(NOTE)),
    ];
    const STUDY: &[Field] = &[
        must("title", Line(TITLE)),
        may("question", Text(NOTE)),
        may("method", Line(TITLE)),
        may("state", OneOf(study_states)),
        may("starts_on", Day),
        may("ends_on", Day),
        may("guide", Text(NOTE)),
        may("note", Text(NOTE)),
    ];
    const ITEM: &[Field] = &[may("study_id", Holds::Thing(ThingKind::Study))];
    const DOCUMENT: &[Field] =
        &[must("title", Line(TITLE)), may("state", OneOf(document_states)), may("body", Text(LONG))];
    const SPRINT: &[Field] = &[
        must("title", Line(TITLE)),
        may("goal", Text(NOTE)),
        may("starts_on", Day),
        may("ends_on", Day),
        may("capacity", Number(0.0, 100_000.0)),
    ];
    const PAGE: &[Field] =
        &[must("title", Line(TITLE)), may("parent_id", Holds::Thing(ThingKind::Page)), may("body", Text(LONG))];
    match kind {
        ThingKind::Product => PRODUCT,
        ThingKind::Account => ACCOUNT,
        ThingKind::Excerpt => EXCERPT,
        ThingKind::Finding => FINDING,
        ThingKind::Objective => OBJECTIVE,
        ThingKind::Measurement => MEASUREMENT,
        ThingKind::Idea => IDEA,
        ThingKind::Prioritisation => PRIORITISATION,
        ThingKind::Increment => INCREMENT,
        ThingKind::Request => REQUEST,
        ThingKind::RequestForm => FORM,
        ThingKind::Competitor => COMPETITOR,
        ThingKind::Capability => CAPABILITY,
        ThingKind::FoundPage => FOUND_PAGE,
        ThingKind::CompetitorNote => COMPETITOR_NOTE,
        ThingKind::WorkItem => WORK_ITEM,
        ThingKind::Criterion => CRITERION,
        ThingKind::Activity | ThingKind::Step | ThingKind::TeamColumn => TITLED,
        ThingKind::Release => RELEASE,
        ThingKind::Result => RESULT,
        ThingKind::Study => STUDY,
        ThingKind::FeedbackItem => ITEM,
        ThingKind::Document => DOCUMENT,
        ThingKind::Sprint => SPRINT,
        ThingKind::Page => PAGE,
        ThingKind::Term => TERM,
        ThingKind::Team
        | ThingKind::Source
        | ThingKind::Person
        | ThingKind::Decision
        | ThingKind::ScoringModel
        | ThingKind::Estimate
        | ThingKind::Link
        | ThingKind::Field
        | ThingKind::View
        | ThingKind::Channel
        | ThingKind::Checking
        | ThingKind::Membership
        | ThingKind::Comment
        | ThingKind::Rule => &[],
    }
}

/// Checks values on their way into a thing and brings them into their stored form: lines trimmed
/// and without line breaks, empty text as nothing.
///
/// `pointer` is where the values stand in what was sent, such as `/set`.
///
/// # Errors
/// Every field at fault, each with what would be right.
pub fn check(kind: ThingKind, pointer: &str, values: Map<String, Value>) -> Result<Map<String, Value>, Vec<Fault>> {
    let fields = editable(kind);
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
    for field in editable(kind).iter().filter(|field| !field.optional) {
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
    let mut fields = editable(kind).iter().filter(held);
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
