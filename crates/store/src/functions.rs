//! What SQL may call of core, so that the database compares and computes as core does.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD as BASE64;
use iron_kite_core::fields::{Measure, fold, total};
use iron_kite_core::handover::{ReadyFacts, ReleaseFacts, at_once, check_facts, release_trouble};
use iron_kite_core::kind::Prose;
use iron_kite_core::listen::{cover_words, holds, weekly};
use iron_kite_core::plan::Building;
use iron_kite_core::things::ReleaseId;
use jiff::civil::Date;
use rusqlite::functions::{Aggregate, Context, FunctionFlags};
use rusqlite::types::ValueRef;
use rusqlite::{Connection, Error, Result};

/// Adds the functions to a connection.
pub(crate) fn add(connection: &Connection) -> Result<()> {
    let flags = FunctionFlags::SQLITE_UTF8 | FunctionFlags::SQLITE_DETERMINISTIC;
    connection.create_scalar_function("kite_fold", 1, flags, |context| {
        Ok(match context.get_raw(0) {
            ValueRef::Text(text) => Some(fold(&String::from_utf8_lossy(text))),
            _ => None,
        })
    })?;
    connection.create_scalar_function("kite_contains", 2, flags, |context| {
        Ok(match (context.get_raw(0), context.get_raw(1)) {
            (ValueRef::Text(text), ValueRef::Text(folded)) => {
                Some(fold(&String::from_utf8_lossy(text)).contains(&*String::from_utf8_lossy(folded)))
            }
            _ => None,
        })
    })?;
    connection.create_scalar_function("kite_base64", 1, flags, |context| {
        Ok(match context.get_raw(0) {
            ValueRef::Blob(bytes) => Some(BASE64.encode(bytes)),
            _ => None,
        })
    })?;
    connection.create_scalar_function("kite_unbase64", 1, flags, |context| match context.get_raw(0) {
        ValueRef::Null => Ok(None),
        text => BASE64.decode(text.as_bytes()?).map(Some).map_err(|fault| Error::UserFunctionError(fault.into())),
    })?;
    connection.create_scalar_function("kite_cover", 2, flags, |context| {
        Ok(cover_words(&context.get::<String>(0)?, &context.get::<String>(1)?))
    })?;
    connection.create_scalar_function("kite_cover_values", 2, flags, |context| {
        Ok(Prose::Values("").covered(&context.get::<String>(0)?, &context.get::<String>(1)?))
    })?;
    connection.create_scalar_function("kite_holds", 2, flags, |context| {
        Ok(match context.get_raw(0) {
            ValueRef::Text(text) => holds(&String::from_utf8_lossy(text), &context.get::<String>(1)?),
            _ => false,
        })
    })?;
    connection.create_scalar_function("kite_missing", 1, flags, |context| {
        let facts: Option<ReadyFacts> = serde_json::from_str(&context.get::<String>(0)?).ok();
        Ok(facts.map(|facts| check_facts(&facts).missing()).filter(|words| !words.is_empty()))
    })?;
    connection.create_scalar_function("kite_trouble", 8, flags, |context| {
        let Some(today) = day(context, 6)? else { return Ok(None) };
        let building: Vec<Building> = serde_json::from_str(&context.get::<String>(7)?).unwrap_or_default();
        Ok(release_trouble(&ReleaseFacts {
            released: context.get::<String>(1)? == "released",
            ends: day(context, 2)?,
            points: context.get(3)?,
            capacity: context.get(4)?,
            unfinished: context.get(5)?,
            at_once: at_once(ReleaseId(context.get(0)?), &building),
            today,
        }))
    })?;
    connection.create_aggregate_function("kite_weeks", 2, flags, Weeks)?;
    connection.create_aggregate_function("kite_median", 1, flags, Median)
}

/// An argument as a day; nothing where it is none.
fn day(context: &Context<'_>, n: usize) -> Result<Option<Date>> {
    Ok(context.get::<Option<String>>(n)?.and_then(|text| text.parse().ok()))
}

/// The days of a group by week up to the day that is given with each.
struct Weeks;

impl Aggregate<(Vec<Date>, Option<Date>), Option<String>> for Weeks {
    fn init(&self, _: &mut Context<'_>) -> Result<(Vec<Date>, Option<Date>)> {
        Ok((Vec::new(), None))
    }

    fn step(&self, context: &mut Context<'_>, (days, today): &mut (Vec<Date>, Option<Date>)) -> Result<()> {
        days.extend(day(context, 0)?);
        if today.is_none() {
            *today = day(context, 1)?;
        }
        Ok(())
    }

    fn finalize(&self, _: &mut Context<'_>, group: Option<(Vec<Date>, Option<Date>)>) -> Result<Option<String>> {
        let Some((days, Some(today))) = group else { return Ok(None) };
        Ok(serde_json::to_string(&weekly(days, today)).ok())
    }
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
