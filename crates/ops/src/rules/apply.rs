//! Which changes and days set a rule off, and running it.

use iron_kite_core::fields::{Condition, holds};
use iron_kite_core::problem::Problem;
use iron_kite_core::rules::{Chain, Event, Rule, RuleDefinition, Telling, When, day_comes, sets_off};
use iron_kite_core::things::Thing;
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::notices::SetSeen;
use iron_kite_store::queries::rules::RuleRun;
use iron_kite_store::{Rows, Tx, Way};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};
use serde_json::{Map, Value};

use super::steps::step;
use super::{DONE, FAILED, STOPPED, check, read};
use crate::afterwards;
use crate::call::{App, Call};
use crate::history::Teller;
use crate::things::{name_of, title_of};

/// A rule made ready to look at changes.
pub(super) struct Ready {
    pub(super) rule: Rule,
    pub(super) definition: RuleDefinition,
    pub(super) condition: Condition,
}

impl Ready {
    fn fits(&self, thing: Thing, values: &Map<String, Value>) -> bool {
        thing.kind == self.definition.collection.kind()
            && values.get("product_id").and_then(Value::as_i64) == Some(self.rule.product_id.0)
            && holds(&self.condition, &|name| values.get(name).cloned().unwrap_or_default())
    }

    pub(super) fn set_off_by(&self, change: &RowChange) -> bool {
        let event = Event { before: change.before.as_ref(), after: change.after.as_ref() };
        sets_off(&self.definition.when, event)
            && change.after.as_ref().is_some_and(|after| self.fits(change.thing, after))
    }
}

/// The rules that run, for a day. One whose field is gone waits until somebody mends it.
fn ready(rows: &Rows<'_>, today: Date) -> Result<Vec<Ready>, Problem> {
    let mut all = Vec::new();
    for rule in rows.running_rules()? {
        let definition = read(&rule)?;
        match check(rows, &definition, today) {
            Ok(condition) => all.push(Ready { rule, definition, condition }),
            Err(problem) => tracing::warn!(rule = rule.id.0, %problem, "a rule cannot run"),
        }
    }
    Ok(all)
}

/// The day of a moment where the server stands.
pub(super) fn day_of(at: i64) -> Date {
    let moment = Timestamp::from_millisecond(at).unwrap_or(Timestamp::UNIX_EPOCH);
    TimeZone::system().to_datetime(moment).date()
}

/// Whether rules look at a set. What is taken back, or done again, sets nothing off.
pub(super) fn is_looked_at(set: &SetSeen) -> bool {
    set.way != "undo"
}

/// Applies the rules to the changes of a set. How many people were told something.
pub(crate) fn apply(tx: &mut Tx<'_>, call: &Call, set: &SetSeen, changes: &[RowChange]) -> Result<usize, Problem> {
    if !is_looked_at(set) {
        return Ok(0);
    }
    let rules = ready(&tx.rows(), day_of(set.at))?;
    if rules.is_empty() {
        return Ok(0);
    }
    let chain = tx.rows().chain_of(set.id)?;
    let mut told = 0;
    for change in changes {
        for rule in rules.iter().filter(|rule| rule.set_off_by(change)) {
            let cause = Cause { change: Some(change.id), set: Some(set.id), day: None };
            told += run(tx, call, rule, change.thing, cause, &chain)?;
        }
    }
    Ok(told)
}

/// Lets the rules look at the days that came since they looked last: once a day.
pub(crate) fn look_at_days(app: &App, call: &Call) -> Result<(), Problem> {
    let (by, today) = (call.clone(), call.today);
    if app.read_open(|rows| last_day(rows, today))? >= today {
        return Ok(());
    }
    let (told, _) = app.write_open(&call.by(Way::Rule), move |tx| {
        let last = last_day(&tx.rows(), today)?;
        let newest = tx.rows().newest_change()?;
        let mut told = 0;
        for rule in ready(&tx.rows(), today)? {
            for (thing, day) in came(&tx.rows(), &rule, newest, last, today)? {
                let cause = Cause { change: None, set: None, day: Some(day.to_string()) };
                told += run(tx, &by, &rule, thing, cause, &Chain::default())?;
            }
        }
        tx.add_rule_day(&today.to_string(), newest)?;
        Ok(told)
    })?;
    afterwards::tell(app, told);
    Ok(())
}

fn last_day(rows: &Rows<'_>, today: Date) -> Result<Date, Problem> {
    let last = rows.last_rule_day()?.and_then(|day| day.parse::<Date>().ok());
    Ok(last.unwrap_or_else(|| today.saturating_sub(1.day())))
}

/// The things whose day came after `last` and up to `today`, as they stood after a change.
pub(super) fn came(
    rows: &Rows<'_>,
    rule: &Ready,
    change: i64,
    last: Date,
    today: Date,
) -> Result<Vec<(Thing, Date)>, Problem> {
    let When::DayComes { field, days } = &rule.definition.when else { return Ok(Vec::new()) };
    let mut found = Vec::new();
    for row in rows.as_of(rule.definition.collection.kind(), change)? {
        let Some(values) = &row.after else { continue };
        if let Some(day) = day_comes(field, *days, values, last, today)
            && rule.fits(row.thing, values)
        {
            found.push((row.thing, day));
        }
    }
    Ok(found)
}

/// What set a rule off.
struct Cause {
    change: Option<i64>,
    set: Option<i64>,
    day: Option<String>,
}

/// Runs a rule on a thing: all of its steps or none. How many people were told something.
fn run(
    tx: &mut Tx<'_>,
    call: &Call,
    rule: &Ready,
    thing: Thing,
    cause: Cause,
    chain: &Chain,
) -> Result<usize, Problem> {
    let at = call.now.as_millisecond();
    let log = |set, outcome: &str, words| RuleRun {
        rule: rule.rule.id,
        thing,
        at,
        day: cause.day.clone(),
        change: cause.change,
        cause: cause.set,
        set,
        outcome: outcome.to_owned(),
        words,
    };
    if let Err(stop) = chain.may_run(rule.rule.id, thing) {
        tx.add_rule_run(&log(None, STOPPED, stop.words()))?;
        return Ok(0);
    }
    let set = tx.set_id();
    let label = format!("rule “{}” on {}", rule.rule.title, name_of(&tx.rows(), thing));
    let done = tx.attempt(|tx| -> Result<usize, Problem> {
        let mut told = 0;
        for act in &rule.definition.then {
            told += step(tx, call, rule, thing, act)?;
        }
        Ok(told)
    })?;
    match done {
        Ok(told) => {
            let rows = tx.rows();
            let words = planned(&rows, &Teller::new(&rows)?, &rule.definition, thing);
            tx.label(label);
            tx.add_rule_run(&log(Some(set), DONE, words))?;
            Ok(told)
        }
        Err(problem) => {
            tx.add_rule_run(&log(None, FAILED, format!("{} Nothing of it was done.", problem.detail())))?;
            Ok(0)
        }
    }
}

/// What a rule does to a thing, in words.
pub(super) fn planned(rows: &Rows<'_>, teller: &Teller<'_>, definition: &RuleDefinition, thing: Thing) -> String {
    let fields = teller.fields(definition.collection);
    let telling = Telling { fields: &fields, names: teller };
    telling.then(definition, &name_of(rows, thing), &title_of(rows, thing))
}
