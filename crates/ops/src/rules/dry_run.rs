//! What a rule would have done in the last 30 days: the same look at the same changes.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::rules::{Event, Rule, RuleDefinition, Stop, When, sets_off};
use iron_kite_core::things::{ProductId, RuleId, Thing};
use iron_kite_store::Rows;
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::notices::SetSeen;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::apply::{Ready, came, day_of, is_looked_at, planned};
use super::{BACK, LINES, RuleLine, STOPPED, check};
use crate::call::{App, Call};
use crate::history::Teller;
use crate::things::{name_of, title_of};

/// What is to be tried.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct TryRule {
    /// The product whose things it looks at.
    pub product: ProductId,
    /// When, if and then.
    pub definition: RuleDefinition,
    /// The rule that it is, where there is one.
    #[serde(default)]
    pub rule: Option<RuleId>,
}

/// What a rule would have done.
#[derive(Debug, Clone, Default, PartialEq, Serialize, ToSchema)]
pub struct DryRun {
    /// The first day that was looked at.
    pub from: String,
    /// How often it would have done something.
    pub fired: usize,
    /// How often it would have been stopped.
    pub stopped: usize,
    /// The newest of them first, as many as fit.
    pub lines: Vec<RuleLine>,
}

/// What a rule would have done in the last 30 days, on what really was written then. Nothing is changed. Whether each step
/// would have succeeded is not tried.
///
/// # Errors
/// Every part of the rule at fault.
pub fn dry_run(app: &App, call: &Call, ask: TryRule) -> Result<DryRun, Problem> {
    app.read(call, Right::Read, |rows| {
        check(rows, &ask.definition, call.today)?;
        let since = call.now.as_millisecond() - BACK * 24 * 3_600 * 1_000;
        let found = match ask.definition.when {
            When::DayComes { .. } => on_days(rows, &ask, since, call.today)?,
            _ => on_changes(rows, &ask, since)?,
        };
        let (stopped, fired): (Vec<_>, Vec<_>) = found.iter().partition(|one| one.stop.is_some());
        let mut run =
            DryRun { from: day_of(since).to_string(), fired: fired.len(), stopped: stopped.len(), lines: Vec::new() };
        let teller = Teller::new(rows)?;
        for one in found.into_iter().rev().take(LINES) {
            let (outcome, words) = match one.stop {
                Some(stop) => (STOPPED, stop.words()),
                None => ("would", planned(rows, &teller, &ask.definition, one.thing)),
            };
            run.lines.push(RuleLine {
                at: one.at,
                thing: one.thing,
                reference: name_of(rows, one.thing),
                title: title_of(rows, one.thing),
                outcome: outcome.into(),
                words,
                change: one.change,
                day: one.day,
            });
        }
        Ok(run)
    })
}

/// One time that a rule would have run.
struct Would {
    at: i64,
    thing: Thing,
    change: Option<i64>,
    day: Option<String>,
    stop: Option<Stop>,
}

/// A rule that is tried, for a day.
fn tried(rows: &Rows<'_>, ask: &TryRule, day: Date) -> Result<Ready, Problem> {
    let rule = Rule {
        id: ask.rule.unwrap_or(RuleId(0)),
        rev: 0,
        product_id: ask.product,
        title: String::new(),
        definition: String::new(),
        runs: 1,
        by_id: None,
    };
    Ok(Ready { rule, definition: ask.definition.clone(), condition: check(rows, &ask.definition, day)? })
}

fn on_changes(rows: &Rows<'_>, ask: &TryRule, since: i64) -> Result<Vec<Would>, Problem> {
    let mut changes: Vec<(SetSeen, RowChange)> = Vec::new();
    let when = &ask.definition.when;
    rows.each_change_since(ask.definition.collection.kind(), since, |set, change| {
        let event = Event { before: change.before.as_ref(), after: change.after.as_ref() };
        if is_looked_at(set) && sets_off(when, event) {
            changes.push((set.clone(), change));
        }
        Ok(())
    })?;
    let mut found = Vec::new();
    let mut day: Option<(Date, Ready)> = None;
    for (set, change) in changes {
        let today = day_of(set.at);
        let rule = match day.take() {
            Some((same, rule)) if same == today => rule,
            _ => tried(rows, ask, today)?,
        };
        if rule.set_off_by(&change) {
            let stop = rows.chain_of(set.id)?.may_run(rule.rule.id, change.thing).err();
            found.push(Would { at: set.at, thing: change.thing, change: Some(change.id), day: None, stop });
        }
        day = Some((today, rule));
    }
    Ok(found)
}

/// Day by day, as the rules looked then; on days before they ever looked, as if they had when the day began.
fn on_days(rows: &Rows<'_>, ask: &TryRule, since: i64, today: Date) -> Result<Vec<Would>, Problem> {
    let first = day_of(since);
    let looked = rows.rule_days(&first.to_string())?;
    let mut days: Vec<(Date, i64)> =
        looked.iter().filter_map(|(day, change)| Some((day.parse().ok()?, *change))).collect();
    let begin = days.first().map_or(today, |(day, _)| day.saturating_sub(1.day()));
    let mut before = Vec::new();
    let mut day = first;
    while day <= begin {
        before.push((day, rows.change_at(midnight(day).as_millisecond())?));
        day = day.saturating_add(1.day());
    }
    before.append(&mut days);
    let mut last = first.saturating_sub(1.day());
    let mut found = Vec::new();
    for (day, change) in before {
        let rule = tried(rows, ask, day)?;
        for (thing, came) in came(rows, &rule, change, last, day)? {
            let at = midnight(day).as_millisecond();
            found.push(Would { at, thing, change: None, day: Some(came.to_string()), stop: None });
        }
        last = day;
    }
    Ok(found)
}

fn midnight(day: Date) -> Timestamp {
    TimeZone::system().to_timestamp(day.at(0, 0, 0, 0)).unwrap_or(Timestamp::UNIX_EPOCH)
}
