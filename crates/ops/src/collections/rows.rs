//! Rows and groups of a collection.

use std::cmp::Ordering;
use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::fields::{Checked, Collection, FieldDef, FieldType, Group, Query, Shape};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ProductId;
use iron_kite_store::Rows;
use iron_kite_store::queries::collections::{GroupRow, MOST_CELLS, MOST_GROUPS, RowValues, Slice};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use utoipa::ToSchema;

use super::asked::Asked;
use crate::call::{App, Call};

/// Which rows are asked for.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct RowsAsk {
    /// The product.
    pub product: ProductId,
    /// Filter, order, groups, and the fields whose values are wanted.
    pub query: Query,
    /// Only the rows of one group, by its keys.
    #[serde(default)]
    #[schema(value_type = Vec<serde_json::Value>)]
    pub within: Vec<Value>,
    /// Only these things, whatever the filter says, at most 500.
    #[serde(default)]
    pub only: Vec<i64>,
    /// So many are passed over.
    #[serde(default)]
    pub skip: usize,
    /// At most so many, 500 at the most.
    pub limit: Option<usize>,
}

/// A row of a collection.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RowView {
    /// The thing's number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// Its short reference; empty where it has none.
    pub reference: String,
    /// What it is called.
    pub title: String,
    /// Values by the names of the fields that were wanted; linked things as objects with `id` and `label`.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub values: Map<String, Value>,
}

/// A part of a collection's rows.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RowsPage {
    /// The rows in their order.
    pub rows: Vec<RowView>,
    /// How many rows there are in all.
    pub count: i64,
}

/// What the things of a group have in common.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct KeyView {
    /// The key, by which its rows are asked for; null for what is empty.
    #[schema(value_type = Option<serde_json::Value>)]
    pub key: Value,
    /// What people read.
    pub label: String,
}

/// A group with its count and figures.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct GroupView {
    /// One key for each field that is grouped by.
    pub keys: Vec<KeyView>,
    /// How many things.
    pub count: i64,
    /// The figures in the order of the totals; none where there is nothing to compute.
    pub totals: Vec<Option<f64>>,
}

/// The groups of a collection.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct GroupsPage {
    /// In the order of their keys, what is empty last.
    pub groups: Vec<GroupView>,
    /// How many rows there are in all; one that is in several groups counts once.
    pub count: i64,
    /// The figures over all.
    pub totals: Vec<Option<f64>>,
}

/// Somebody of the team, as fields hold it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct TeamMember {
    /// The number.
    pub id: i64,
    /// The name.
    pub name: String,
}

const PAGE: usize = 100;
const MOST: usize = 500;

/// A part of a collection's rows.
///
/// # Errors
/// Every part of the query at fault.
pub fn rows(app: &App, call: &Call, collection: Collection, ask: &RowsAsk) -> Result<RowsPage, Problem> {
    let limit = ask.limit.unwrap_or(PAGE).clamp(1, MOST);
    app.read(call, Right::Read, |rows| {
        let mut asked = Asked::check(rows, call, collection, ask.product, &ask.query)?;
        asked.within(&ask.within)?;
        if !ask.only.is_empty() {
            let ids = rows.of_product(asked.of(), &ask.only[..ask.only.len().min(MOST)])?;
            let found = rows.values_of(asked.of(), &ids, &asked.checked.fields)?;
            let count = i64::try_from(found.len()).unwrap_or(i64::MAX);
            return Ok(RowsPage { rows: found.into_iter().map(row).collect(), count });
        }
        let slice = Slice { skip: ask.skip, limit };
        let Checked { condition, order, fields, .. } = &asked.checked;
        let (found, count) = rows.page_with_count(asked.of(), condition, order, fields, slice)?;
        Ok(RowsPage { rows: found.into_iter().map(row).collect(), count })
    })
}

fn row(row: RowValues) -> RowView {
    let RowValues { id, rev, reference, title, values } = row;
    RowView { id, rev, reference, title, values }
}

/// The groups of a collection with their counts and figures.
///
/// # Errors
/// Every part of the query at fault; refused where the fields have more different values than anybody can look at.
pub fn groups(app: &App, call: &Call, collection: Collection, ask: &RowsAsk) -> Result<GroupsPage, Problem> {
    app.read(call, Right::Read, |rows| {
        let asked = Asked::check(rows, call, collection, ask.product, &ask.query)?;
        let Checked { condition, group, totals, .. } = &asked.checked;
        let found = rows.groups_of(asked.of(), condition, group, totals)?;
        let firsts: BTreeSet<String> =
            found.groups.iter().filter_map(|row| row.keys.first()).map(Value::to_string).collect();
        if firsts.len() > MOST_GROUPS || found.groups.len() > MOST_CELLS {
            return Err(too_many(&asked));
        }
        let groups = named(rows, &asked, found.groups)?;
        Ok(GroupsPage { groups, count: found.all.count, totals: found.all.totals })
    })
}

fn too_many(asked: &Asked) -> Problem {
    let names: Vec<&str> = asked
        .checked
        .group
        .iter()
        .filter_map(|group| asked.fields.iter().find(|field| field.name == group.field.name))
        .map(|field| field.label.as_str())
        .collect();
    let words = format!(
        "'{}' has more than {MOST_GROUPS} different values here. Group by another field, or filter first.",
        names.join("' with '")
    );
    Problem::refused("too-many-groups", words)
}

/// The keys with what people read, in order.
fn named(rows: &Rows<'_>, asked: &Asked, found: Vec<GroupRow>) -> Result<Vec<GroupView>, Problem> {
    let mut names: Vec<Names> = Vec::new();
    for (n, group) in asked.checked.group.iter().enumerate() {
        names.push(Names::of(rows, asked, group, found.iter().filter_map(|row| row.keys.get(n)))?);
    }
    let mut groups: Vec<GroupView> = found
        .into_iter()
        .map(|row| {
            let keys = row.keys.into_iter().zip(&names).map(|(key, names)| names.view(key)).collect();
            GroupView { keys, count: row.count, totals: row.totals }
        })
        .collect();
    groups.sort_by(|a, b| {
        let pairs = a.keys.iter().zip(&b.keys).zip(&names);
        pairs.map(|((a, b), names)| names.compare(a, b)).fold(Ordering::Equal, Ordering::then)
    });
    Ok(groups)
}

/// What people read for the keys of one field, and the order of its choices.
struct Names {
    shape: Shape,
    /// What the group of empty values is called.
    none: String,
    labels: BTreeMap<String, String>,
    places: BTreeMap<String, usize>,
}

impl Names {
    fn of<'a>(
        rows: &Rows<'_>,
        asked: &Asked,
        group: &Group,
        keys: impl Iterator<Item = &'a Value>,
    ) -> Result<Self, Problem> {
        let field: Option<&FieldDef> = asked.fields.iter().find(|field| field.name == group.field.name);
        let none = format!("no {}", field.map_or("value", |field| field.label.as_str()).to_lowercase());
        let mut names = Names { shape: group.field.shape, none, labels: BTreeMap::new(), places: BTreeMap::new() };
        match field.map(|field| &field.kind) {
            Some(FieldType::Choice { choices } | FieldType::Choices { choices }) => {
                for (n, choice) in choices.iter().enumerate() {
                    let key = Value::from(choice.key.as_str()).to_string();
                    names.places.insert(key.clone(), n);
                    names.labels.insert(key, choice.label.clone());
                }
            }
            Some(FieldType::Link { to, .. }) => {
                let ids: Vec<i64> = keys.filter_map(Value::as_i64).collect();
                let labels = rows.labels_of(*to, &ids)?;
                names.labels.extend(labels.into_iter().map(|(id, label)| (id.to_string(), label)));
            }
            Some(FieldType::Member) => {
                let users = rows.users()?;
                names.labels.extend(users.into_iter().map(|user| (user.id.to_string(), user.name)));
            }
            _ => {}
        }
        Ok(names)
    }

    fn view(&self, key: Value) -> KeyView {
        let label = match (&key, self.labels.get(&key.to_string())) {
            (_, Some(label)) => label.clone(),
            (Value::Null, _) => self.none.clone(),
            (Value::Bool(yes), _) => if *yes { "yes" } else { "no" }.into(),
            (Value::String(text), _) => text.clone(),
            (Value::Number(number), _) => number.as_f64().map_or_else(|| number.to_string(), |n| n.to_string()),
            (other, _) => other.to_string(),
        };
        KeyView { key, label }
    }

    fn compare(&self, a: &KeyView, b: &KeyView) -> Ordering {
        let place = |key: &KeyView| self.places.get(&key.key.to_string());
        a.key.is_null().cmp(&b.key.is_null()).then_with(|| match self.shape {
            Shape::Number => a.key.as_f64().unwrap_or_default().total_cmp(&b.key.as_f64().unwrap_or_default()),
            Shape::Choice | Shape::Choices => place(a).cmp(&place(b)),
            _ => a.label.to_lowercase().cmp(&b.label.to_lowercase()),
        })
    }
}

/// The people of the team: what a field may hold.
///
/// # Errors
/// Where the right is missing.
pub fn team(app: &App, call: &Call) -> Result<Vec<TeamMember>, Problem> {
    app.read(call, Right::Read, |rows| {
        Ok(rows.users()?.into_iter().map(|user| TeamMember { id: user.id, name: user.name }).collect())
    })
}
