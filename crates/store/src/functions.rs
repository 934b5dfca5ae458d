//! What SQL may call of core, so that the database compares and computes as core does.

use iron_kite_core::fields::{Measure, fold, total};
use rusqlite::functions::{Aggregate, Context, FunctionFlags};
use rusqlite::types::ValueRef;
use rusqlite::{Connection, Result};

/// Adds the functions to a connection.
pub(crate) fn add(connection: &Connection) -> Result<()> {
    let flags = FunctionFlags::SQLITE_UTF8 | FunctionFlags::SQLITE_DETERMINISTIC;
    connection.create_scalar_function("kite_fold", 1, flags, |context| {
        Ok(match context.get_raw(0) {
            ValueRef::Text(text) => Some(fold(&String::from_utf8_lossy(text))),
            _ => None,
        })
    })?;
    connection.create_aggregate_function("kite_median", 1, flags, Median)
}

/// The middle of the numbers of a group.
struct Median;

impl Aggregate<Vec<f64>, Option<f64>> for Median {
    fn init(&self, _: &mut Context<'_>) -> Result<Vec<f64>> {
        Ok(Vec::new())
    }

    fn step(&self, context: &mut Context<'_>, numbers: &mut Vec<f64>) -> Result<()> {
        match context.get_raw(0) {
            // A whole number of SQLite is far below 2^53 here: points, revenue, counts.
            #[expect(clippy::cast_precision_loss, reason = "points, revenue and counts are small")]
            ValueRef::Integer(whole) => numbers.push(whole as f64),
            ValueRef::Real(number) => numbers.push(number),
            _ => {}
        }
        Ok(())
    }

    fn finalize(&self, _: &mut Context<'_>, numbers: Option<Vec<f64>>) -> Result<Option<f64>> {
        Ok(total(Measure::Median, &numbers.unwrap_or_default()))
    }
}
