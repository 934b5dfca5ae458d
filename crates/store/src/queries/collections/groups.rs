//! Groups of a collection's rows with their counts and figures.

use iron_kite_core::fields::{Collection, Condition, Group, Shape, Total};
use rusqlite::types::ValueRef;
use rusqlite::{Row, params_from_iter};
use serde_json::Value;

use super::Of;
use super::compile::{expr_of, group_key, where_of};
use super::exprs::{Expr, aggregate, label};
use crate::error::Result;
use crate::rows::Rows;

/// At most so many groups of one field are given.
pub const MOST_GROUPS: usize = 500;
/// At most so many groups of groups.
pub const MOST_CELLS: usize = 5_000;

/// A group, or with two fields one of the first within one of the second.
#[derive(Debug, Clone, PartialEq)]
pub struct GroupRow {
    /// One key for each field: what its things have in common; null for what is empty.
    pub keys: Vec<Value>,
    /// How many things.
    pub count: i64,
    /// The figures, in the order of the totals; none where there is nothing to compute.
    pub totals: Vec<Option<f64>>,
}

impl Rows<'_> {
    /// Groups with their counts and figures, in no order. One more than [`MOST_CELLS`] at the most, so that the
    /// caller sees that there are too many. Without a group it is one row over all.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn groups_of(
        &self,
        of: Of<'_>,
        condition: &Condition,
        group: &[Group],
        totals: &[Total],
    ) -> Result<Vec<GroupRow>> {
        let mut columns = Vec::new();
        let mut joins = String::new();
        for (n, by) in group.iter().enumerate() {
            let (key, join) = group_key(of, by, n)?;
            columns.push(key);
            joins.push_str(&join);
        }
        columns.push("count(*)".into());
        for total in totals {
            let value = match expr_of(of, &total.field.name)? {
                Expr::One(one) if total.field.shape == Shape::Yes => format!("NULLIF({one}, 0)"),
                Expr::One(one) | Expr::Keys(one) | Expr::Column(one) => one,
                Expr::Set(set) => format!("CASE WHEN EXISTS ({set}) THEN 1 END"),
            };
            columns.push(aggregate(total.measure, &value));
        }
        let text = where_of(of, &joins, condition)?;
        let by = match group.len() {
            0 => "",
            1 => " GROUP BY 1",
            _ => " GROUP BY 1, 2",
        };
        let sql = format!("SELECT {}{}{by} LIMIT {}", columns.join(", "), text.sql, MOST_CELLS + 1);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params_from_iter(text.bound))?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            let keys = group.iter().enumerate().map(|(n, by)| key(row, n, by.field.shape)).collect::<Result<_>>()?;
            let first = group.len() + 1;
            let totals = (0..totals.len()).map(|n| figure(row, first + n)).collect::<Result<_>>()?;
            found.push(GroupRow { keys, count: row.get(group.len())?, totals });
        }
        Ok(found)
    }

    /// The names of some things of a collection, by their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn labels_of(&self, collection: Collection, ids: &[i64]) -> Result<Vec<(i64, String)>> {
        let (reference, title) = label(collection, "t");
        let sql = format!(
            "SELECT t.id, trim({reference} || ' ' || {title}) FROM {collection} t WHERE t.id IN (SELECT value FROM json_each(?1))"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map([serde_json::to_string(ids)?], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}

fn key(row: &Row<'_>, n: usize, shape: Shape) -> Result<Value> {
    Ok(match (row.get_ref(n)?, shape) {
        (ValueRef::Integer(number), Shape::Yes) => Value::Bool(number != 0),
        (ValueRef::Integer(number), Shape::Member | Shape::Links) => Value::from(number),
        #[expect(clippy::cast_precision_loss, reason = "numbers of a field are far below 2^53")]
        (ValueRef::Integer(number), _) => Value::from(number as f64),
        (ValueRef::Real(number), _) => Value::from(number),
        (ValueRef::Text(text), _) => Value::from(String::from_utf8_lossy(text).into_owned()),
        _ => Value::Null,
    })
}

fn figure(row: &Row<'_>, n: usize) -> Result<Option<f64>> {
    Ok(match row.get_ref(n)? {
        #[expect(clippy::cast_precision_loss, reason = "counts and sums are far below 2^53")]
        ValueRef::Integer(number) => Some(number as f64),
        ValueRef::Real(number) => Some(number),
        _ => None,
    })
}
