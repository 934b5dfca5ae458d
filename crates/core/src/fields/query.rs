//! What a view asks for: filter, order, groups and totals together.

use std::cmp::Ordering;

use jiff::ToSpan;
use jiff::civil::{Date, ISOWeekDate, Weekday};
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::filter::{Condition, Context, FieldRef, Filter, Test};
use super::types::{FieldDef, FieldType, Shape};
use crate::problem::Fault;

/// By which field, and which way. What is empty comes last either way.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OrderBy {
    /// The field.
    pub field: String,
    /// From the largest to the smallest.
    #[serde(default)]
    pub descending: bool,
}

/// How days are put together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum DatePart {
    Day,
    /// ISO 8601 weeks, which begin on Monday.
    Week,
    Month,
    Quarter,
    Year,
}

/// Things with the same value of a field stand together.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GroupBy {
    /// The field.
    pub field: String,
    /// How days are put together; months where left out.
    pub part: Option<DatePart>,
}

/// What is computed over several values.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measure {
    /// How many there are; of a field, how many have a value.
    Count,
    /// All together.
    Sum,
    /// The arithmetic mean.
    Mean,
    /// The middle one; between the two middle ones of an even number.
    Median,
    /// The smallest.
    Min,
    /// The largest.
    Max,
    /// The part that is done, 0 – 1: of the points where every story has some, else of the stories.
    ShareDone,
}

/// One figure over the things of a group, and over all.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TotalOf {
    /// The field.
    pub field: String,
    /// What is computed of it.
    pub measure: Measure,
}

/// What a view asks for.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Query {
    /// Which things; all where left out.
    pub filter: Option<Filter>,
    /// In which order; within the same by number.
    #[serde(default)]
    pub order: Vec<OrderBy>,
    /// By which one or two fields they stand together.
    #[serde(default)]
    pub group: Vec<GroupBy>,
    /// Figures over each group and over all.
    #[serde(default)]
    pub totals: Vec<TotalOf>,
    /// The fields whose values are wanted.
    #[serde(default)]
    pub fields: Vec<String>,
}

/// A checked order.
#[derive(Debug, Clone, PartialEq)]
pub struct Order {
    /// The field.
    pub field: FieldRef,
    /// From the largest to the smallest.
    pub descending: bool,
    /// The keys in the order of the choices, where the field has some.
    pub keys: Vec<String>,
}

/// A checked group.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Group {
    /// The field.
    pub field: FieldRef,
    /// How days are put together.
    pub part: DatePart,
}

/// A checked total.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Total {
    /// The field.
    pub field: FieldRef,
    /// What is computed.
    pub measure: Measure,
}

/// A checked query.
#[derive(Debug, Clone, PartialEq)]
pub struct Checked {
    /// Which things.
    pub condition: Condition,
    /// In which order.
    pub order: Vec<Order>,
    /// At most two.
    pub group: Vec<Group>,
    /// Figures.
    pub totals: Vec<Total>,
    /// The fields wanted.
    pub fields: Vec<FieldRef>,
}

/// At most so many fields to order by.
const MOST_ORDERS: usize = 5;
/// At most so many totals.
const MOST_TOTALS: usize = 20;
/// At most so many fields.
const MOST_FIELDS: usize = 100;

/// Checks a query against the fields of a collection.
///
/// # Errors
/// Every part at fault, each by a JSON pointer, with what would be right.
pub fn check_query(query: &Query, context: &Context<'_>) -> Result<Checked, Vec<Fault>> {
    let mut faults = Vec::new();
    for (name, count, most) in [
        ("order", query.order.len(), MOST_ORDERS),
        ("group", query.group.len(), 2),
        ("totals", query.totals.len(), MOST_TOTALS),
        ("fields", query.fields.len(), MOST_FIELDS),
    ] {
        if count > most {
            faults.push(Fault::new(format!("/{name}"), format!("{count} are too many here; at most {most} fit.")));
        }
    }
    let condition = match query.filter.as_ref().map(|filter| filter.check(context, "/filter")).transpose() {
        Ok(condition) => condition.unwrap_or(Condition::All(Vec::new())),
        Err(found) => {
            faults.extend(found);
            Condition::All(Vec::new())
        }
    };
    let mut take = |place: String, name: &str, fits: fn(&FieldDef) -> Result<(), String>| {
        let found = context.field(name, &place).and_then(|def| match fits(def) {
            Ok(()) => Ok((FieldRef { name: def.name.clone(), shape: def.shape }, def)),
            Err(words) => Err(Fault::new(place.clone(), words)),
        });
        found.map_err(|fault| faults.push(fault)).ok()
    };
    let order = query.order.iter().enumerate().filter_map(|(n, by)| {
        let (field, def) = take(format!("/order/{n}/field"), &by.field, may_order)?;
        let keys = def.kind.choices().iter().map(|choice| choice.key.clone()).collect();
        Some(Order { field, descending: by.descending, keys })
    });
    let order = order.collect();
    let group = query.group.iter().enumerate().filter_map(|(n, by)| {
        let (field, _) = take(format!("/group/{n}/field"), &by.field, may_group)?;
        Some(Group { field, part: by.part.unwrap_or(DatePart::Month) })
    });
    let group = group.collect();
    let totals = query.totals.iter().enumerate().filter_map(|(n, total)| {
        let fits = if total.measure == Measure::Count { |_: &FieldDef| Ok(()) } else { may_compute };
        let (field, _) = take(format!("/totals/{n}/field"), &total.field, fits)?;
        Some(Total { field, measure: total.measure })
    });
    let totals: Vec<Total> = totals.collect();
    let fields = query
        .fields
        .iter()
        .enumerate()
        .filter_map(|(n, name)| take(format!("/fields/{n}"), name, |_| Ok(())).map(|(field, _)| field));
    let fields = fields.collect();
    if let Some(n) = query.totals.iter().position(|total| total.measure == Measure::ShareDone) {
        let words = "The share done is a roll-up of linked stories, not a total. Pick another figure.";
        faults.push(Fault::new(format!("/totals/{n}/measure"), words));
    }
    if faults.is_empty() { Ok(Checked { condition, order, group, totals, fields }) } else { Err(faults) }
}

fn may_order(def: &FieldDef) -> Result<(), String> {
    match def.shape {
        Shape::Links if matches!(def.kind, FieldType::Link { many: false, .. }) => Ok(()),
        Shape::File => Err(format!("'{}' holds files, which have no order. Order by another field.", def.label)),
        Shape::Drawn => Err(format!("'{}' is a picture and gives no order. Order by one of its figures.", def.label)),
        Shape::Links | Shape::Choices => {
            Err(format!("'{}' holds several values and gives no order. Order by another field.", def.label))
        }
        _ => Ok(()),
    }
}

fn may_group(def: &FieldDef) -> Result<(), String> {
    match def.shape {
        Shape::File => Err(format!("'{}' holds files. Group by another field.", def.label)),
        Shape::Drawn => Err(format!("'{}' is a picture. Group by another field.", def.label)),
        Shape::Days => Err(format!("'{}' spans several days. Group by another field.", def.label)),
        _ => Ok(()),
    }
}

fn may_compute(def: &FieldDef) -> Result<(), String> {
    match def.shape {
        Shape::Number => Ok(()),
        _ => Err(format!("'{}' holds no numbers. Count it instead, or pick a field with numbers.", def.label)),
    }
}

/// Compares two values as an order does; what is empty comes last whichever way. Text goes by its characters with
/// the ASCII letters folded, choices by their place.
#[must_use]
pub fn compare(order: &Order, a: &Value, b: &Value) -> Ordering {
    let empty = |value: &Value| {
        let nothing = value.as_str().is_some_and(str::is_empty) || value.as_array().is_some_and(Vec::is_empty);
        value.is_null() || nothing
    };
    match (empty(a) && order.field.shape != Shape::Yes, empty(b) && order.field.shape != Shape::Yes) {
        (true, true) => return Ordering::Equal,
        (true, false) => return Ordering::Greater,
        (false, true) => return Ordering::Less,
        (false, false) => {}
    }
    let text = |value: &Value| value.as_str().unwrap_or_default().to_ascii_lowercase();
    let yes = |value: &Value| value.as_bool() == Some(true) || value.as_i64() == Some(1);
    let place = |value: &Value| {
        let key = value.as_str().unwrap_or_default();
        order.keys.iter().position(|one| one == key).unwrap_or(order.keys.len())
    };
    let number = |value: &Value| value.as_f64().unwrap_or_default();
    // A linked thing goes by its title, which stands behind its reference.
    let title = |value: &Value| {
        let label = value[0]["label"].as_str().unwrap_or_default();
        label.split_once(' ').map_or(label, |(_, title)| title).to_ascii_lowercase()
    };
    let way = match order.field.shape {
        Shape::Number | Shape::Member => number(a).total_cmp(&number(b)),
        Shape::Choice => place(a).cmp(&place(b)),
        Shape::Yes => yes(a).cmp(&yes(b)),
        Shape::Links => title(a).cmp(&title(b)),
        _ => text(a).cmp(&text(b)),
    };
    if order.descending { way.reverse() } else { way }
}

/// The groups that a value puts its thing into: one for each choice or link, one for a day's part, and the empty
/// one (null) where there is no value.
#[must_use]
pub fn group_keys(group: &Group, value: &Value) -> Vec<Value> {
    match (group.field.shape, value) {
        (Shape::Yes, value) => vec![Value::Bool(value.as_bool() == Some(true) || value.as_i64() == Some(1))],
        (_, Value::Null) => vec![Value::Null],
        (_, Value::String(text)) if text.is_empty() => vec![Value::Null],
        (_, Value::Array(all)) if all.is_empty() => vec![Value::Null],
        (Shape::Links, Value::Array(all)) => {
            all.iter().map(|one| one.get("id").cloned().unwrap_or_else(|| one.clone())).collect()
        }
        (_, Value::Array(all)) => all.clone(),
        (Shape::Day, Value::String(text)) => vec![Value::from(day_part(text, group.part))],
        (Shape::Number, Value::Number(number)) => vec![Value::from(number.as_f64())],
        (_, other) => vec![other.clone()],
    }
}

/// A day's part: `2026-03-31`, `2026-W14`, `2026-03`, `2026-Q1`, `2026`; nothing where the text is no day.
#[must_use]
pub fn day_part(text: &str, part: DatePart) -> Option<String> {
    let day: Date = text.parse().ok()?;
    Some(match part {
        DatePart::Day => day.to_string(),
        DatePart::Week => {
            let week = day.iso_week_date();
            format!("{:04}-W{:02}", week.year(), week.week())
        }
        DatePart::Month => format!("{:04}-{:02}", day.year(), day.month()),
        DatePart::Quarter => format!("{:04}-Q{}", day.year(), (day.month() + 2) / 3),
        DatePart::Year => format!("{:04}", day.year()),
    })
}

/// What holds for exactly the things of the group with this key; nothing where no group has such a key.
#[must_use]
pub fn group_condition(group: &Group, key: &Value) -> Option<Condition> {
    let test = |test| Condition::Test(group.field.clone(), test);
    let yes = || test(Test::Yes);
    Some(match (group.field.shape, key) {
        (Shape::Yes, Value::Bool(true)) => yes(),
        (Shape::Yes, _) => Condition::Not(Box::new(yes())),
        (_, Value::Null) => test(Test::Empty),
        (Shape::Text, Value::String(text)) => test(Test::Exact(text.clone())),
        (Shape::Choice | Shape::Choices, Value::String(key)) => test(Test::AnyKey(vec![key.clone()])),
        (Shape::Day, Value::String(text)) => {
            let (from, to) = days_of_part(text, group.part)?;
            test(Test::Days(from, to))
        }
        (Shape::Number, Value::Number(number)) => {
            let number = number.as_f64()?;
            test(Test::Number(number, number))
        }
        (Shape::Member | Shape::Links, Value::Number(id)) => test(Test::AnyId(vec![id.as_i64()?])),
        _ => return None,
    })
}

/// The first and the last day of what [`group_keys`] calls a day's part.
fn days_of_part(key: &str, part: DatePart) -> Option<(Date, Date)> {
    let (year, rest) = key.split_once('-').unwrap_or((key, ""));
    let year: i16 = year.parse().ok()?;
    let first = |month: i8| Date::new(year, month, 1).ok();
    match part {
        DatePart::Day => key.parse().ok().map(|day| (day, day)),
        DatePart::Week => {
            let week = rest.strip_prefix('W')?.parse().ok()?;
            let monday = ISOWeekDate::new(year, week, Weekday::Monday).ok()?.date();
            Some((monday, monday.saturating_add(6.days())))
        }
        DatePart::Month => first(rest.parse().ok()?).map(|day| (day, day.last_of_month())),
        DatePart::Quarter => {
            let quarter: i8 = rest.strip_prefix('Q')?.parse().ok().filter(|q| (1..=4).contains(q))?;
            Some((first(quarter * 3 - 2)?, first(quarter * 3)?.last_of_month()))
        }
        DatePart::Year => first(1).map(|day| (day, day.last_of_year())),
    }
}

/// A measure that is computed as the numbers come. It keeps them only where it must: for the median.
#[derive(Debug, Clone)]
pub struct Running {
    measure: Measure,
    count: u32,
    sum: f64,
    low: f64,
    high: f64,
    kept: Vec<f64>,
}

impl Running {
    /// Begins with nothing.
    #[must_use]
    pub fn new(measure: Measure) -> Self {
        Running { measure, count: 0, sum: 0.0, low: f64::INFINITY, high: f64::NEG_INFINITY, kept: Vec::new() }
    }

    /// Takes a number in.
    pub fn add(&mut self, number: f64) {
        self.count += 1;
        self.sum += number;
        self.low = self.low.min(number);
        self.high = self.high.max(number);
        if self.measure == Measure::Median {
            self.kept.push(number);
        }
    }

    /// The measure over what was taken in, as [`total`] gives it.
    #[must_use]
    pub fn value(&self) -> Option<f64> {
        match self.measure {
            Measure::Count => Some(f64::from(self.count)),
            _ if self.count == 0 => None,
            Measure::Sum => Some(self.sum),
            Measure::Mean => Some(self.sum / f64::from(self.count)),
            Measure::Min => Some(self.low),
            Measure::Max => Some(self.high),
            Measure::Median | Measure::ShareDone => total(self.measure, &self.kept),
        }
    }
}

/// A measure over numbers; none where there is nothing to compute it of. Sorts for the median: O(n log n).
#[must_use]
pub fn total(measure: Measure, numbers: &[f64]) -> Option<f64> {
    let count = f64::from(u32::try_from(numbers.len()).unwrap_or(u32::MAX));
    let sum = || numbers.iter().sum::<f64>();
    match measure {
        Measure::Count => Some(count),
        _ if numbers.is_empty() => None,
        Measure::Sum => Some(sum()),
        Measure::Mean => Some(sum() / count),
        Measure::Min => numbers.iter().copied().reduce(f64::min),
        Measure::Max => numbers.iter().copied().reduce(f64::max),
        Measure::Median => {
            let mut sorted = numbers.to_vec();
            sorted.sort_unstable_by(f64::total_cmp);
            let middle = sorted.len() / 2;
            let upper = sorted.get(middle).copied()?;
            if sorted.len() % 2 == 1 { Some(upper) } else { Some((sorted.get(middle - 1)? + upper) / 2.0) }
        }
        Measure::ShareDone => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Collection, registered};
    use jiff::civil::date;
    use serde_json::json;

    fn check(query: Value) -> Result<Checked, Vec<Fault>> {
        let fields = registered(Collection::WorkItem);
        let context = Context { fields: &fields, today: date(2026, 2, 18), me: None };
        check_query(&serde_json::from_value(query).unwrap(), &context)
    }

    #[test]
    fn every_part_at_fault_is_named() {
        let faults = check(json!({
            "filter": {"field": "gone", "operator": "empty"},
            "order": [{"field": "needs"}],
            "group": [{"field": "state"}, {"field": "gone"}],
            "totals": [{"field": "title", "measure": "sum"}],
            "fields": ["title", "gone"],
        }))
        .unwrap_err();
        let at: Vec<&str> = faults.iter().map(|fault| fault.field.as_str()).collect();
        assert_eq!(at, ["/filter/field", "/order/0/field", "/group/1/field", "/totals/0/field", "/fields/1"]);
    }

    #[test]
    fn what_is_empty_comes_last_either_way_and_choices_go_by_their_place() {
        let mut order = check(json!({"order": [{"field": "moscow"}]})).unwrap().order.remove(0);
        let mut values = vec![json!(null), json!("could"), json!("must"), json!("should")];
        values.sort_by(|a, b| compare(&order, a, b));
        assert_eq!(values, [json!("must"), json!("should"), json!("could"), json!(null)]);
        order.descending = true;
        values.sort_by(|a, b| compare(&order, a, b));
        assert_eq!(values, [json!("could"), json!("should"), json!("must"), json!(null)]);
    }

    #[test]
    fn days_are_put_together_by_their_part() {
        let group = |part| Group { field: FieldRef { name: "ends_on".into(), shape: Shape::Day }, part };
        for (part, key) in [
            (DatePart::Day, "2027-01-01"),
            (DatePart::Week, "2026-W53"),
            (DatePart::Month, "2027-01"),
            (DatePart::Quarter, "2027-Q1"),
            (DatePart::Year, "2027"),
        ] {
            assert_eq!(group_keys(&group(part), &json!("2027-01-01")), [json!(key)]);
            // The group holds the day, and its first and last day are of the same group while the next is not.
            let (from, to) = days_of_part(key, part).unwrap();
            assert!(from <= date(2027, 1, 1) && date(2027, 1, 1) <= to, "{key}");
            for (day, inside) in [(from, true), (to, true), (to.tomorrow().unwrap(), false)] {
                assert_eq!(day_part(&day.to_string(), part).as_deref() == Some(key), inside, "{key} {day}");
            }
        }
        assert_eq!(group_keys(&group(DatePart::Day), &Value::Null), [Value::Null]);
    }

    #[test]
    fn figures_by_hand() {
        let numbers = [3.0, 1.0, 8.0, 2.0];
        for (measure, figure) in [
            (Measure::Count, 4.0),
            (Measure::Sum, 14.0),
            (Measure::Mean, 3.5),
            (Measure::Median, 2.5),
            (Measure::Min, 1.0),
            (Measure::Max, 8.0),
        ] {
            assert_eq!(total(measure, &numbers), Some(figure), "{measure:?}");
            let mut running = Running::new(measure);
            numbers.iter().for_each(|number| running.add(*number));
            assert_eq!(running.value(), Some(figure), "{measure:?}");
        }
        assert_eq!(total(Measure::Median, &[5.0]), Some(5.0));
        assert_eq!(total(Measure::Mean, &[]), None);
        assert_eq!(Running::new(Measure::Mean).value(), None);
    }
}
