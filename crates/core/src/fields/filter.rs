//! The filter language as data: fields, operators and values, joined by and, or, not.
//!
//! A filter is checked once and becomes a [`Condition`], in which every value has its type and every moving day is
//! a day. [`holds`] evaluates a condition the obvious way; the store compiles the same condition to SQL.
//!
//! An empty value fulfils no test but "empty"; what is turned round ("is not", "lacks") is fulfilled by it. So
//! every condition either holds or does not, and a filter and its opposite share all things between them.

use jiff::ToSpan;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::days::{Period, days_of};
use super::types::{FieldDef, FieldType, Shape};
use super::values::values_of_links;
use crate::kind::HUGE;
use crate::problem::Fault;

/// A filter as it is sent and kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged, deny_unknown_fields)]
pub enum Filter {
    /// All of these hold; where there are none, everything does.
    And {
        /// The parts.
        #[cfg_attr(feature = "schema", schema(no_recursion))]
        and: Vec<Filter>,
    },
    /// At least one of these holds; where there are none, nothing does.
    Or {
        /// The parts.
        #[cfg_attr(feature = "schema", schema(no_recursion))]
        or: Vec<Filter>,
    },
    /// This does not hold.
    Not {
        /// The part.
        #[cfg_attr(feature = "schema", schema(no_recursion))]
        not: Box<Filter>,
    },
    /// A field's value is so.
    Test {
        /// The name of the field.
        field: String,
        /// How it is looked at.
        operator: Operator,
        /// What it is compared with; none for "empty" and "filled".
        #[serde(default)]
        value: Value,
    },
}

/// How a field's value is looked at. Which operators a field takes depends on the shape of its values.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum Operator {
    Is,
    IsNot,
    AnyOf,
    NoneOf,
    AllOf,
    Contains,
    Lacks,
    Begins,
    /// More than a number, after a day.
    More,
    /// Less than a number, before a day.
    Less,
    AtLeast,
    AtMost,
    /// From – to, both included.
    Between,
    /// Within a span of days that moves with the calendar.
    Within,
    Empty,
    Filled,
}

/// Whose "me" and which "today" a filter means, and where it stands in what was sent.
#[derive(Debug, Clone, Copy)]
pub struct Context<'a> {
    /// The fields of the collection.
    pub fields: &'a [FieldDef],
    /// Today.
    pub today: Date,
    /// Who asks.
    pub me: Option<i64>,
}

impl Context<'_> {
    /// The field of this name that can be filtered, ordered and shown.
    pub(crate) fn field(&self, name: &str, pointer: &str) -> Result<&FieldDef, Fault> {
        self.fields.iter().find(|field| field.name == name).ok_or_else(|| {
            let words = format!("There is no field '{name}' here; it may have been removed. Pick another.");
            Fault::new(pointer, words)
        })
    }
}

/// A field that a condition looks at.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FieldRef {
    /// Its name.
    pub name: String,
    /// What its values look like.
    pub shape: Shape,
}

/// A checked filter.
#[derive(Debug, Clone, PartialEq)]
pub enum Condition {
    /// All hold.
    All(Vec<Condition>),
    /// At least one holds.
    Any(Vec<Condition>),
    /// It does not hold.
    Not(Box<Condition>),
    /// A field's value passes a test.
    Test(FieldRef, Test),
}

/// How text is compared; both sides are folded by [`fold`] first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TextHow {
    /// The whole text.
    Is,
    /// Anywhere in it.
    Contains,
    /// At its beginning.
    Begins,
}

/// A test of one value. An empty value passes none but [`Test::Empty`].
#[derive(Debug, Clone, PartialEq)]
pub enum Test {
    /// There is no value.
    Empty,
    /// Text that is, contains or begins with this folded text.
    Text(TextHow, String),
    /// Exactly this text: what a group of texts holds.
    Exact(String),
    /// A number within these bounds, both included.
    Number(f64, f64),
    /// A number above the first and below the second bound, neither included.
    Inside(f64, f64),
    /// A day from – to, both included; a span of days that has a day in common with it.
    Days(Date, Date),
    /// Yes.
    Yes,
    /// One of these keys is there; for the shapes Choice and Choices.
    AnyKey(Vec<String>),
    /// All of these keys are there.
    AllKeys(Vec<String>),
    /// One of these numbers is there; for the shapes Member and Links.
    AnyId(Vec<i64>),
    /// All of these numbers are there.
    AllIds(Vec<i64>),
}

/// At most so many parts in a filter, however deep.
const MOST_PARTS: usize = 200;
/// At most so deep.
const MOST_DEPTH: usize = 12;
/// Values in a list.
const MOST_VALUES: usize = 500;

/// Text as it is compared: lower case, whatever the language.
#[must_use]
pub fn fold(text: &str) -> String {
    text.to_lowercase()
}

impl Condition {
    /// Whether it says nothing, so that everything fulfils it.
    #[must_use]
    pub fn is_everything(&self) -> bool {
        matches!(self, Condition::All(parts) if parts.iter().all(Condition::is_everything))
    }
}

impl Filter {
    /// Checks the filter against the fields of a collection.
    ///
    /// # Errors
    /// Every part at fault, each by a JSON pointer below `pointer`, with what would be right.
    pub fn check(&self, context: &Context<'_>, pointer: &str) -> Result<Condition, Vec<Fault>> {
        let mut faults = Vec::new();
        let mut parts = 0;
        let condition = check(self, context, pointer, 0, &mut parts, &mut faults);
        if parts > MOST_PARTS {
            let words = format!("The filter has {parts} parts; at most {MOST_PARTS} fit.");
            faults.insert(0, Fault::new(pointer, words));
        }
        if faults.is_empty() { Ok(condition) } else { Err(faults) }
    }
}

fn check(
    filter: &Filter,
    context: &Context<'_>,
    at: &str,
    depth: usize,
    parts: &mut usize,
    faults: &mut Vec<Fault>,
) -> Condition {
    *parts += 1;
    if depth > MOST_DEPTH {
        faults.push(Fault::new(at, format!("The filter is nested too deeply; {MOST_DEPTH} levels fit.")));
        return Condition::All(Vec::new());
    }
    let mut all = |inner: &[Filter], name: &str| {
        let part = |(n, one)| check(one, context, &format!("{at}/{name}/{n}"), depth + 1, parts, faults);
        inner.iter().enumerate().map(part).collect()
    };
    match filter {
        Filter::And { and } => Condition::All(all(and, "and")),
        Filter::Or { or } => Condition::Any(all(or, "or")),
        Filter::Not { not } => {
            Condition::Not(Box::new(check(not, context, &format!("{at}/not"), depth + 1, parts, faults)))
        }
        Filter::Test { field, operator, value } => {
            check_test(field, *operator, value, context, at).unwrap_or_else(|f| {
                faults.push(f);
                Condition::All(Vec::new())
            })
        }
    }
}

fn check_test(
    field: &str,
    operator: Operator,
    value: &Value,
    context: &Context<'_>,
    at: &str,
) -> Result<Condition, Fault> {
    use Operator::{AllOf, AnyOf, AtLeast, AtMost, Begins, Between, Contains, Empty, Filled, Is, IsNot, Lacks, Less};
    use Operator::{More, NoneOf, Within};
    let def = context.field(field, &format!("{at}/field"))?;
    let of = FieldRef { name: def.name.clone(), shape: def.shape };
    let test = |test| Condition::Test(of.clone(), test);
    let not = |condition| Condition::Not(Box::new(condition));
    let takes =
        |what: &str| Fault::new(format!("{at}/value"), format!("'{}' is compared with {what} here.", def.label));
    if operator == Empty {
        return Ok(if of.shape == Shape::Yes { not(test(Test::Yes)) } else { test(Test::Empty) });
    }
    if operator == Filled {
        return Ok(if of.shape == Shape::Yes { test(Test::Yes) } else { not(test(Test::Empty)) });
    }
    let text = |how| match value.as_str() {
        Some(text) if !text.is_empty() && text.chars().count() <= 1_000 => Ok(test(Test::Text(how, fold(text)))),
        _ => Err(takes("a text of at most 1,000 characters")),
    };
    let number = || match value.as_f64() {
        Some(number) if number.is_finite() => Ok(number),
        _ => Err(takes("a number")),
    };
    let days = || days(value, context.today).ok_or_else(|| takes("a day such as 2026-03-31, or a span such as today"));
    let condition = match (of.shape, operator) {
        (Shape::Text, Is) => text(TextHow::Is)?,
        (Shape::Text, IsNot) => not(text(TextHow::Is)?),
        (Shape::Text, Contains) => text(TextHow::Contains)?,
        (Shape::Text, Lacks) => not(text(TextHow::Contains)?),
        (Shape::Text, Begins) => text(TextHow::Begins)?,
        (Shape::Number, Is) => number().map(|n| test(Test::Number(n, n)))?,
        (Shape::Number, IsNot) => number().map(|n| not(test(Test::Number(n, n))))?,
        (Shape::Number, More) => number().map(|n| test(Test::Inside(n, f64::MAX)))?,
        (Shape::Number, Less) => number().map(|n| test(Test::Inside(f64::MIN, n)))?,
        (Shape::Number, AtLeast) => number().map(|n| test(Test::Number(n, f64::MAX)))?,
        (Shape::Number, AtMost) => number().map(|n| test(Test::Number(f64::MIN, n)))?,
        (Shape::Number, Between) => match (value[0].as_f64(), value[1].as_f64()) {
            (Some(low), Some(high)) if low.abs() <= HUGE && high.abs() <= HUGE => test(Test::Number(low, high)),
            _ => return Err(takes("two numbers")),
        },
        (Shape::Day | Shape::Days, Is | Within) => days().map(|(from, to)| test(Test::Days(from, to)))?,
        (Shape::Day | Shape::Days, IsNot) => days().map(|(from, to)| not(test(Test::Days(from, to))))?,
        (Shape::Day | Shape::Days, More) => {
            days().map(|(_, to)| test(Test::Days(to.saturating_add(1.day()), Date::MAX)))?
        }
        (Shape::Day | Shape::Days, Less) => {
            days().map(|(from, _)| test(Test::Days(Date::MIN, from.saturating_sub(1.day()))))?
        }
        (Shape::Day | Shape::Days, AtLeast) => days().map(|(from, _)| test(Test::Days(from, Date::MAX)))?,
        (Shape::Day | Shape::Days, AtMost) => days().map(|(_, to)| test(Test::Days(Date::MIN, to)))?,
        (Shape::Day | Shape::Days, Between) => {
            let ends = (self::days(&value[0], context.today), self::days(&value[1], context.today));
            let (Some((from, _)), Some((_, to))) = ends else { return Err(takes("two days")) };
            test(Test::Days(from, to))
        }
        (Shape::Yes, Is) => match value.as_bool() {
            Some(true) => test(Test::Yes),
            Some(false) => not(test(Test::Yes)),
            None => return Err(takes("yes or no")),
        },
        (Shape::Choice | Shape::Choices, Is | AnyOf) => test(Test::AnyKey(keys(def, value, at)?)),
        (Shape::Choice | Shape::Choices, IsNot | NoneOf) => not(test(Test::AnyKey(keys(def, value, at)?))),
        (Shape::Choices, AllOf) => test(Test::AllKeys(keys(def, value, at)?)),
        (Shape::Member | Shape::Links, Is | AnyOf) => {
            test(Test::AnyId(ids(value, context).ok_or_else(|| takes(THINGS))?))
        }
        (Shape::Member | Shape::Links, IsNot | NoneOf) => {
            not(test(Test::AnyId(ids(value, context).ok_or_else(|| takes(THINGS))?)))
        }
        (Shape::Links, AllOf) => test(Test::AllIds(ids(value, context).ok_or_else(|| takes(THINGS))?)),
        _ => {
            let words = format!("'{}' cannot be looked at in this way. Pick another operator for it.", def.label);
            return Err(Fault::new(format!("{at}/operator"), words));
        }
    };
    Ok(condition)
}

const THINGS: &str = "people or things by their number";

/// A day, or a span that moves with the calendar as `{"relative": "this_quarter"}`.
fn days(value: &Value, today: Date) -> Option<(Date, Date)> {
    if let Some(text) = value.as_str() {
        let day = text.parse().ok()?;
        return Some((day, day));
    }
    let period: Period = serde_json::from_value(value.get("relative")?.clone()).ok()?;
    Some(days_of(period, today))
}

fn keys(def: &FieldDef, value: &Value, at: &str) -> Result<Vec<String>, Fault> {
    let choices = match &def.kind {
        FieldType::Choice { choices } | FieldType::Choices { choices } => choices.as_slice(),
        _ => &[],
    };
    let given: Option<Vec<&str>> = match value {
        Value::String(key) => Some(vec![key]),
        Value::Array(all) if all.len() <= MOST_VALUES => all.iter().map(Value::as_str).collect(),
        _ => None,
    };
    let known = |key: &&str| choices.iter().any(|choice| choice.key == **key);
    match given {
        Some(keys) if keys.iter().all(known) => Ok(keys.into_iter().map(str::to_owned).collect()),
        _ => {
            let labels: Vec<&str> = choices.iter().map(|choice| choice.label.as_str()).collect();
            let words = format!("'{}' has these choices: {}.", def.label, labels.join(", "));
            Err(Fault::new(format!("{at}/value"), words))
        }
    }
}

/// Numbers of people or things; `"me"` is whoever asks.
fn ids(value: &Value, context: &Context<'_>) -> Option<Vec<i64>> {
    let one = |value: &Value| {
        if value.as_str() == Some("me") { Some(context.me.unwrap_or(0)) } else { value.as_i64() }
    };
    match value {
        Value::Array(all) if all.len() <= MOST_VALUES => all.iter().map(one).collect(),
        other => one(other).map(|id| vec![id]),
    }
}

/// Whether a condition holds for a thing whose values `of` gives: the obvious way, one thing at a time.
pub fn holds(condition: &Condition, of: &impl Fn(&str) -> Value) -> bool {
    match condition {
        Condition::All(all) => all.iter().all(|one| holds(one, of)),
        Condition::Any(any) => any.iter().any(|one| holds(one, of)),
        Condition::Not(one) => !holds(one, of),
        Condition::Test(field, test) => passes(test, &of(&field.name)),
    }
}

fn passes(test: &Test, value: &Value) -> bool {
    let is_empty =
        value.is_null() || value.as_str().is_some_and(str::is_empty) || value.as_array().is_some_and(Vec::is_empty);
    if is_empty {
        return matches!(test, Test::Empty);
    }
    let number = || value.as_f64();
    let ids = || values_of_links(value).unwrap_or_default();
    let keys = || -> Vec<&str> {
        match value {
            Value::Array(all) => all.iter().filter_map(Value::as_str).collect(),
            other => other.as_str().into_iter().collect(),
        }
    };
    match test {
        Test::Empty => false,
        Test::Text(how, wanted) => value.as_str().is_some_and(|text| {
            let text = fold(text);
            match how {
                TextHow::Is => text == *wanted,
                TextHow::Contains => text.contains(wanted.as_str()),
                TextHow::Begins => text.starts_with(wanted.as_str()),
            }
        }),
        Test::Exact(wanted) => value.as_str() == Some(wanted),
        Test::Number(low, high) => number().is_some_and(|number| *low <= number && number <= *high),
        Test::Inside(low, high) => number().is_some_and(|number| *low < number && number < *high),
        Test::Days(from, to) => value.as_str().is_some_and(|text| {
            let (first, last) = text.split_once('/').unwrap_or((text, text));
            match (first.parse::<Date>(), last.parse::<Date>()) {
                (Ok(first), Ok(last)) => first <= *to && last >= *from,
                _ => false,
            }
        }),
        Test::Yes => value.as_bool() == Some(true) || value.as_i64() == Some(1),
        Test::AnyKey(wanted) => keys().iter().any(|key| wanted.iter().any(|one| one == key)),
        Test::AllKeys(wanted) => wanted.iter().all(|one| keys().contains(&one.as_str())),
        Test::AnyId(wanted) => ids().iter().any(|id| wanted.contains(id)),
        Test::AllIds(wanted) => wanted.iter().all(|id| ids().contains(id)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Collection, registered};
    use jiff::civil::date;
    use serde_json::json;

    fn checked(filter: Value) -> Result<Condition, Vec<Fault>> {
        let fields = registered(Collection::WorkItem);
        let context = Context { fields: &fields, today: date(2026, 2, 18), me: Some(4) };
        serde_json::from_value::<Filter>(filter).unwrap().check(&context, "/filter")
    }

    fn holds_for(filter: Value, thing: Value) -> bool {
        holds(&checked(filter).unwrap(), &|name| thing[name].clone())
    }

    #[test]
    fn a_filter_reads_as_it_is_said() {
        let story = json!({
            "title": "Warn by Risk", "points": 5.0, "moscow": "must", "ends_on": "2026-03-31",
            "needs": [{"id": 3, "label": "S3"}, {"id": 9, "label": "S9"}], "note": null,
        });
        for (filter, holds) in [
            (json!({"field": "title", "operator": "contains", "value": "RISK"}), true),
            (json!({"field": "title", "operator": "begins", "value": "risk"}), false),
            (json!({"field": "points", "operator": "more", "value": 5}), false),
            (json!({"field": "points", "operator": "at_least", "value": 5}), true),
            (json!({"field": "points", "operator": "between", "value": [1, 5]}), true),
            (json!({"field": "moscow", "operator": "none_of", "value": ["could", "wont"]}), true),
            (json!({"field": "ends_on", "operator": "within", "value": {"relative": "this_quarter"}}), true),
            (json!({"field": "ends_on", "operator": "less", "value": "2026-03-31"}), false),
            (json!({"field": "ends_on", "operator": "more", "value": {"relative": "today"}}), true),
            (json!({"field": "needs", "operator": "all_of", "value": [3, 9]}), true),
            (json!({"field": "needs", "operator": "any_of", "value": [4]}), false),
            (json!({"field": "note", "operator": "empty"}), true),
            (json!({"field": "note", "operator": "lacks", "value": "x"}), true),
            (json!({"field": "note", "operator": "contains", "value": "x"}), false),
            (json!({"not": {"field": "note", "operator": "contains", "value": "x"}}), true),
            (json!({"and": []}), true),
            (json!({"or": []}), false),
        ] {
            assert_eq!(holds_for(filter.clone(), story.clone()), holds, "{filter}");
        }
    }

    #[test]
    fn what_does_not_fit_is_named_at_its_place() {
        for (filter, at) in [
            (json!({"and": [{"field": "colour", "operator": "is", "value": "red"}]}), "/filter/and/0/field"),
            (json!({"not": {"field": "points", "operator": "contains", "value": "5"}}), "/filter/not/operator"),
            (json!({"field": "points", "operator": "more", "value": "much"}), "/filter/value"),
            (json!({"field": "moscow", "operator": "is", "value": "maybe"}), "/filter/value"),
            (json!({"field": "ends_on", "operator": "is", "value": "soon"}), "/filter/value"),
        ] {
            let faults = checked(filter.clone()).unwrap_err();
            assert_eq!(faults[0].field, at, "{filter}");
        }
        let deep = (0..20).fold(json!({"and": []}), |inner, _| json!({ "not": inner }));
        assert!(checked(deep).unwrap_err()[0].words.contains("nested"));
        let long = json!({"or": vec![json!({"field": "title", "operator": "filled"}); 300]});
        assert!(checked(long).unwrap_err()[0].words.contains("parts"));
    }
}
