//! Some rows of a collection in their order, with the values of the fields that are wanted.

use std::collections::{HashMap, HashSet};

use iron_kite_core::fields::{Condition, FieldRef, FieldType, Order, Shape, Test};
use rusqlite::types::ValueRef;
use rusqlite::{Row, params_from_iter};
use serde_json::{Map, Value};

use super::Of;
use super::compile::{expr_of, field_of, where_of, write_order};
use super::exprs::{Expr, label};
use crate::error::Result;
use crate::rows::Rows;

/// Which part of the rows.
#[derive(Debug, Clone, Copy)]
pub struct Slice {
    /// So many are passed over.
    pub skip: usize,
    /// At most so many are given.
    pub limit: usize,
}

/// A row with the values that were wanted.
#[derive(Debug, Clone, PartialEq)]
pub struct RowValues {
    /// The thing's number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// Its short reference; empty where it has none.
    pub reference: String,
    /// What it is called.
    pub title: String,
    /// The values by the names of the fields; empty ones are null.
    pub values: Map<String, Value>,
}

/// At most so many linked things of one field are named; as many as can be edited.
const MOST_LINKS: usize = 200;

impl Rows<'_> {
    /// How many rows of a collection fulfil a condition.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_of(&self, of: Of<'_>, condition: &Condition) -> Result<i64> {
        let text = where_of(of, condition)?;
        let mut statement = self.connection.prepare_cached(&format!("SELECT count(*){}", text.sql))?;
        Ok(statement.query_row(params_from_iter(text.bound), |row| row.get(0))?)
    }

    /// The numbers of rows in their order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn ids_of(&self, of: Of<'_>, condition: &Condition, order: &[Order], slice: Slice) -> Result<Vec<i64>> {
        // What a filter leaves is looked at once: there is less to sort then.
        if condition.is_everything()
            && let Some(ids) = self.ids_by_runs(of, order, slice)?
        {
            return Ok(ids);
        }
        let mut text = where_of(of, condition)?;
        text.push(" ORDER BY ");
        write_order(of, order, order.first().is_some_and(|by| by.descending), &mut text)?;
        let sql = format!("SELECT t.id{} LIMIT {} OFFSET {}", text.sql, slice.limit, slice.skip);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let ids = statement.query_map(params_from_iter(text.bound), |row| row.get(0))?;
        Ok(ids.collect::<rusqlite::Result<_>>()?)
    }

    /// Those of some numbers that are rows of the collection, in the order of the numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn of_product(&self, of: Of<'_>, ids: &[i64]) -> Result<Vec<i64>> {
        let text = where_of(of, &Condition::All(Vec::new()))?;
        let sql = format!("SELECT t.id{} AND t.id IN (SELECT value FROM json_each(?))", text.sql);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let bound = text.bound.into_iter().chain([serde_json::to_string(ids)?.into()]);
        let there = statement.query_map(params_from_iter(bound), |row| row.get(0))?;
        let there = there.collect::<rusqlite::Result<HashSet<i64>>>()?;
        Ok(ids.iter().copied().filter(|id| there.contains(id)).collect())
    }

    /// Rows in their order with the values of some fields. The values are had only for the rows that are given, so
    /// that a costly field costs what is looked at.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn page_of(
        &self,
        of: Of<'_>,
        condition: &Condition,
        order: &[Order],
        fields: &[FieldRef],
        slice: Slice,
    ) -> Result<Vec<RowValues>> {
        let ids = self.ids_of(of, condition, order, slice)?;
        self.values_of(of, &ids, fields)
    }

    /// The same, and how many rows fulfil the condition. Where texts are looked into, that costs more than all else, and each is looked
    /// into once.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn page_with_count(
        &self,
        of: Of<'_>,
        condition: &Condition,
        order: &[Order],
        fields: &[FieldRef],
        slice: Slice,
    ) -> Result<(Vec<RowValues>, i64)> {
        if looks_into_texts(condition) {
            let mut text = where_of(of, condition)?;
            text.push(" ORDER BY ");
            write_order(of, order, order.first().is_some_and(|by| by.descending), &mut text)?;
            let sql = format!("SELECT t.id, count(*) OVER (){} LIMIT {} OFFSET {}", text.sql, slice.limit, slice.skip);
            let mut statement = self.connection.prepare_cached(&sql)?;
            let found = statement
                .query_map(params_from_iter(text.bound), |row| Ok((row.get::<_, i64>(0)?, row.get::<_, i64>(1)?)))?;
            let (ids, counts): (Vec<i64>, Vec<i64>) = found.collect::<rusqlite::Result<Vec<_>>>()?.into_iter().unzip();
            let count = counts.first().copied();
            let beyond = || if slice.skip == 0 { Ok(0) } else { self.count_of(of, condition) };
            return Ok((self.values_of(of, &ids, fields)?, count.map_or_else(beyond, Ok)?));
        }
        let rows = self.page_of(of, condition, order, fields, slice)?;
        // Where all rows are here, there is nothing to count.
        let here = i64::try_from(slice.skip + rows.len()).unwrap_or(i64::MAX);
        let all_here = rows.len() < slice.limit && (slice.skip == 0 || !rows.is_empty());
        let count = if all_here { here } else { self.count_of(of, condition)? };
        Ok((rows, count))
    }

    /// The values of some fields of these rows, in the order of the numbers; rows that are gone are left out.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn values_of(&self, of: Of<'_>, ids: &[i64], fields: &[FieldRef]) -> Result<Vec<RowValues>> {
        let (reference, title) = label(of.collection, "t");
        let mut columns = vec!["t.id".to_owned(), "t.rev".to_owned(), reference, title];
        for field in fields {
            columns.push(shown(of, field)?);
        }
        let sql = format!(
            "SELECT {} FROM {} t WHERE t.id IN (SELECT value FROM json_each(?1))",
            columns.join(", "),
            of.collection
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([serde_json::to_string(ids)?])?;
        let mut found = HashMap::new();
        while let Some(row) = rows.next()? {
            let mut values = Map::new();
            for (n, field) in fields.iter().enumerate() {
                values.insert(field.name.clone(), value(row, n + 4, field.shape)?);
            }
            let id = row.get(0)?;
            let title = row.get::<_, Option<String>>(3)?.unwrap_or_default();
            found.insert(id, RowValues { id, rev: row.get(1)?, reference: row.get(2)?, title, values });
        }
        Ok(ids.iter().filter_map(|id| found.remove(id)).collect())
    }
}

fn looks_into_texts(condition: &Condition) -> bool {
    match condition {
        Condition::All(parts) | Condition::Any(parts) => parts.iter().any(looks_into_texts),
        Condition::Not(part) => looks_into_texts(part),
        Condition::Test(_, test) => matches!(test, Test::Text(..)),
    }
}

/// The expression as a row shows it: linked things by number and name.
fn shown(of: Of<'_>, field: &FieldRef) -> Result<String> {
    let set = match expr_of(of, &field.name)? {
        Expr::One(one) if field.shape == Shape::File => {
            return Ok(format!(
                "(SELECT json_object('id', a.id, 'name', a.name, 'media_type', a.media_type) FROM attachment a WHERE a.id = {one})"
            ));
        }
        Expr::One(one) | Expr::Keys(one) => return Ok(one),
        Expr::Column(column) => format!("({column})"),
        Expr::Set(set) => format!("({set})"),
    };
    let FieldType::Link { to, .. } = field_of(of, &field.name)?.kind else { return Ok("NULL".into()) };
    let (reference, title) = label(to, "u");
    Ok(format!(
        "(SELECT json_group_array(json_object('id', s.id, 'label', s.label)) FROM
           (SELECT u.id, trim({reference} || ' ' || {title}) AS label FROM {to} u WHERE u.id IN {set} ORDER BY u.id LIMIT {MOST_LINKS}) s)"
    ))
}

/// A column as JSON, by the shape of its field.
pub(crate) fn value(row: &Row<'_>, n: usize, shape: Shape) -> Result<Value> {
    let json = |text: &[u8]| -> Result<Value> {
        let value: Value = serde_json::from_slice(text)?;
        Ok(if value.as_array().is_some_and(Vec::is_empty) { Value::Null } else { value })
    };
    Ok(match (row.get_ref(n)?, shape) {
        (ValueRef::Null, Shape::Yes) => Value::Bool(false),
        (ValueRef::Null | ValueRef::Blob(_), _) => Value::Null,
        (ValueRef::Integer(number), Shape::Yes) => Value::Bool(number != 0),
        (ValueRef::Integer(number), _) => Value::from(number),
        (ValueRef::Real(number), _) => Value::from(number),
        (ValueRef::Text(text), Shape::Links | Shape::Choices | Shape::File | Shape::Drawn) => json(text)?,
        (ValueRef::Text(text), _) => Value::from(String::from_utf8_lossy(text).into_owned()),
    })
}
