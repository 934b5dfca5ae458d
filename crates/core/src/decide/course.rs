//! How an objective comes along: how far it is, how far it would be on the straight way from start to target, and
//! where it will be on its day if it goes on as it did.

use std::collections::BTreeSet;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, StudentsT};

/// Values on fewer days than this foretell nothing.
pub const LEAST_DAYS: usize = 3;
/// The part of all cases that the interval of a forecast is to hold.
pub const HOLDS: f64 = 0.8;

/// A value on a day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Point {
    /// The day.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub on: Date,
    /// The value, in the unit of its measure.
    pub value: f64,
}

/// From where to where, and from when to when.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Goal {
    /// The value at the start.
    pub start: f64,
    /// The value that is to be reached.
    pub target: f64,
    /// The first day of the way.
    pub from: Option<Date>,
    /// The day by which the target is to be reached.
    pub by: Option<Date>,
}

/// Where a measure will be on the day of its goal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Forecast {
    /// The day.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub on: Date,
    /// The value to be expected.
    pub likely: f64,
    /// Four times in five it is at least this …
    pub low: f64,
    /// … and at most this.
    pub high: f64,
    /// How likely the target is reached, 0 – 1.
    pub reaches: f64,
}

/// Why there is no forecast.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum NoForecast {
    /// The goal has no day.
    NoDay,
    /// There are values on fewer than [`LEAST_DAYS`] days.
    TooFew,
    /// Its day is not after the last value.
    Over,
}

/// How far a value is on the way from start to target: 0 at the start, 1 at the target, below 0 where it went the wrong
/// way and above 1 beyond the target. Nothing where start and target are the same.
#[must_use]
pub fn share(goal: &Goal, value: f64) -> Option<f64> {
    let way = goal.target - goal.start;
    (way != 0.0).then(|| (value - goal.start) / way)
}

/// Where the straight way from start to target is on a day: at the start before its first day, at the target after its last.
/// Nothing where it has no two days.
#[must_use]
pub fn straight(goal: &Goal, on: Date) -> Option<f64> {
    let (from, by) = (goal.from?, goal.by?);
    let all = days(from, by);
    if all <= 0.0 {
        return None;
    }
    let part = (days(from, on) / all).clamp(0.0, 1.0);
    Some(goal.start + part * (goal.target - goal.start))
}

/// How far a value is ahead of the straight way on a day, in the unit of the measure; below 0 where it is behind.
#[must_use]
pub fn ahead(goal: &Goal, point: Point) -> Option<f64> {
    let way = if goal.target < goal.start { -1.0 } else { 1.0 };
    straight(goal, point.on).map(|expected| (point.value - expected) * way)
}

/// Where a measure will be on the day of its goal if it goes on as it did.
///
/// The line of least squares through the values over the days, with the interval of one more value around it
/// (Draper and Smith, Applied Regression Analysis, 3rd ed., 1998, section 3.1):
///
/// ```text
/// likely = mean + slope · (day - mean day)
/// likely ± t(n - 2) · s · √(1 + 1/n + (day - mean day)² / Σ (day_i - mean day)²)
/// ```
///
/// Values that follow one another are taken as independent around the line, so the interval is rather too narrow for measures
/// that drift. Where no value, start or target was ever below zero, nothing below zero is foretold. Linear.
///
/// # Errors
/// Why there is none.
pub fn forecast(points: &[Point], goal: &Goal) -> Result<Forecast, NoForecast> {
    let on = goal.by.ok_or(NoForecast::NoDay)?;
    let distinct: BTreeSet<Date> = points.iter().map(|point| point.on).collect();
    let (Some(first), Some(last)) = (distinct.first().copied(), distinct.last().copied()) else {
        return Err(NoForecast::TooFew);
    };
    if on <= last {
        return Err(NoForecast::Over);
    }
    if distinct.len() < LEAST_DAYS {
        return Err(NoForecast::TooFew);
    }
    let n = number(points.len());
    let at = |point: &Point| days(first, point.on);
    let mean_day = points.iter().map(at).sum::<f64>() / n;
    let mean = points.iter().map(|point| point.value).sum::<f64>() / n;
    let squares: f64 = points.iter().map(|point| (at(point) - mean_day).powi(2)).sum();
    let slope = points.iter().map(|point| (at(point) - mean_day) * (point.value - mean)).sum::<f64>() / squares;
    let rest: f64 = points.iter().map(|point| (point.value - mean - slope * (at(point) - mean_day)).powi(2)).sum();
    let free = n - 2.0;
    let beyond = days(first, on) - mean_day;
    let likely = mean + slope * beyond;
    let spread = (rest / free).sqrt() * (1.0 + 1.0 / n + beyond.powi(2) / squares).sqrt();
    let (reach, reaches) = around(likely, spread, free, goal);
    let floor = if points.iter().map(|point| point.value).chain([goal.start, goal.target]).all(|value| value >= 0.0) {
        0.0
    } else {
        f64::NEG_INFINITY
    };
    let not_below = |value: f64| value.max(floor);
    Ok(Forecast {
        on,
        likely: not_below(likely),
        low: not_below(likely - reach),
        high: not_below(likely + reach),
        reaches,
    })
}

/// How far the interval reaches to each side, and how likely the target is reached.
fn around(likely: f64, spread: f64, free: f64, goal: &Goal) -> (f64, f64) {
    let falls = goal.target < goal.start;
    match StudentsT::new(likely, spread, free) {
        Ok(law) => {
            let reach = law.inverse_cdf(0.5 + HOLDS / 2.0) - likely;
            (reach, if falls { law.cdf(goal.target) } else { law.sf(goal.target) })
        }
        // All values lie on the line: there is nothing that is unsure.
        Err(_) => (0.0, f64::from(u8::from(if falls { likely <= goal.target } else { likely >= goal.target }))),
    }
}

fn days(from: Date, to: Date) -> f64 {
    f64::from(to.since(from).map_or(0, |span| span.get_days()))
}

fn number(count: usize) -> f64 {
    f64::from(u32::try_from(count).unwrap_or(u32::MAX))
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::ToSpan;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn goal(start: f64, target: f64) -> Goal {
        Goal { start, target, from: Some(date(2026, 1, 1)), by: Some(date(2026, 1, 21)) }
    }

    fn points(values: &[f64]) -> Vec<Point> {
        let day = |n: usize| date(2026, 1, 1).saturating_add((i64::try_from(n).unwrap() * 2).days());
        values.iter().enumerate().map(|(n, value)| Point { on: day(n), value: *value }).collect()
    }

    #[test]
    fn the_way_is_measured_in_both_directions() {
        assert_eq!(share(&goal(31.0, 10.0), 24.0), Some(7.0 / 21.0));
        assert_eq!(share(&goal(0.0, 10.0), -5.0), Some(-0.5));
        assert_eq!(share(&goal(3.0, 3.0), 3.0), None);
        let falling = goal(30.0, 10.0);
        assert_eq!(straight(&falling, date(2026, 1, 11)), Some(20.0));
        assert_eq!(straight(&falling, date(2025, 6, 1)), Some(30.0));
        assert_eq!(straight(&falling, date(2027, 6, 1)), Some(10.0));
        assert_eq!(ahead(&falling, Point { on: date(2026, 1, 11), value: 17.0 }), Some(3.0));
        assert_eq!(ahead(&goal(10.0, 30.0), Point { on: date(2026, 1, 11), value: 17.0 }), Some(-3.0));
        assert_eq!(straight(&Goal { by: None, ..falling }, date(2026, 1, 11)), None);
        assert_eq!(straight(&Goal { by: falling.from, ..falling }, date(2026, 1, 11)), None);
    }

    #[test]
    fn the_forecast_is_that_of_another_program() {
        // NumPy 2.4 and SciPy 1.17: the line of stats.linregress, stats.t.ppf(0.9, 3) and stats.t.cdf around it.
        let told = forecast(&points(&[31.0, 29.0, 30.0, 26.0, 24.0]), &goal(31.0, 10.0)).unwrap();
        let near = |a: f64, b: f64| assert!((a - b).abs() < 5e-4, "{a} is not {b}");
        near(told.likely, EXPECTED.0);
        near(told.low, EXPECTED.1);
        near(told.high, EXPECTED.2);
        near(told.reaches, EXPECTED.3);
    }

    const EXPECTED: (f64, f64, f64, f64) = (14.4, 8.5132, 20.2868, 0.1541);

    #[test]
    fn a_line_without_doubt_is_foretold_without_doubt() {
        let told = forecast(&points(&[0.0, 1.0, 2.0]), &goal(0.0, 10.0)).unwrap();
        assert_eq!((told.likely, told.low, told.high, told.reaches), (10.0, 10.0, 10.0, 1.0));
        let falls = forecast(&points(&[9.0, 6.0, 3.0]), &goal(9.0, 1.0)).unwrap();
        assert_eq!((falls.likely, falls.low), (0.0, 0.0), "nothing was ever below zero");
    }

    #[test]
    fn what_cannot_be_foretold_is_said() {
        let some = points(&[1.0, 2.0, 3.0]);
        assert_eq!(forecast(&some, &Goal { by: None, ..goal(0.0, 9.0) }), Err(NoForecast::NoDay));
        assert_eq!(forecast(&some[..2], &goal(0.0, 9.0)), Err(NoForecast::TooFew));
        assert_eq!(forecast(&[some[0]; 5], &goal(0.0, 9.0)), Err(NoForecast::TooFew));
        assert_eq!(forecast(&[], &goal(0.0, 9.0)), Err(NoForecast::TooFew));
        let over = Goal { by: Some(some[2].on), ..goal(0.0, 9.0) };
        assert_eq!(forecast(&some, &over), Err(NoForecast::Over));
    }

    proptest! {
        #[test]
        fn a_forecast_lies_within_its_interval_and_does_not_hang_on_the_order(
            mut values in prop::collection::vec(-50.0..50.0f64, 3..9), target in -60.0..60.0f64,
        ) {
            let some = points(&values);
            let told = forecast(&some, &goal(0.0, target)).unwrap();
            prop_assert!(told.low <= told.likely && told.likely <= told.high);
            prop_assert!((0.0..=1.0).contains(&told.reaches));
            let mut turned = some.clone();
            turned.reverse();
            let again = forecast(&turned, &goal(0.0, target)).unwrap();
            prop_assert!((again.likely - told.likely).abs() < 1e-6 && (again.high - told.high).abs() < 1e-6);
            // The same in another unit is the same forecast.
            values.iter_mut().for_each(|value| *value *= 10.0);
            let ten = forecast(&points(&values), &goal(0.0, target * 10.0)).unwrap();
            prop_assert!((ten.reaches - told.reaches).abs() < 1e-6);
        }
    }
}
