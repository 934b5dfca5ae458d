//! Rules: made, tried without doing anything, and applied to what people write.

use std::collections::BTreeSet;

use iron_kite_core::decide::Outcome;
use iron_kite_core::fields::{
    self, Collection, Condition, Context, FieldDef, FieldType, Holds, editable, holds, line_link,
};
use iron_kite_core::history::Names;
use iron_kite_core::notice::Happened;
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::rules::{
    Act, Chain, Event, Rule, RuleDefinition, Stop, Telling, When, day_comes, fill_in, looks_at, sets_off,
};
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{IdeaId, Level, ProductId, ReleaseId, RuleId, TeamId, Thing, ThingKind, WorkItemId};
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::notices::SetSeen;
use iron_kite_store::queries::rules::RuleRun;
use iron_kite_store::{Rows, Tx, Way};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::collections::{NewThing, put_in, write_fields};
use crate::decide::put_decision;
use crate::handover::{put_in_column, put_in_queue};
use crate::history::Teller;
use crate::notice::give;
use crate::plan::put_release;
use crate::talk::{NewComment, write_comment};
use crate::things::{LinkEnds, follow, make_link, name_of, title_of};

/// A rule as people look at it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RuleView {
    /// Its number.
    pub id: RuleId,
    /// Its revision.
    pub rev: i64,
    /// What it is called.
    pub title: String,
    /// When, if and then.
    pub definition: RuleDefinition,
    /// What sets it off, in words.
    pub when: String,
    /// What it does, in words.
    pub then: String,
    /// Whether it runs.
    pub runs: bool,
    /// Who made it.
    pub by: Option<String>,
    /// Why it can do nothing any more, where a field of it is gone.
    pub fault: Option<String>,
    /// How often it did something in the last 30 days.
    pub done: usize,
    /// How often it was stopped.
    pub stopped: usize,
    /// How often a step of it could not be done.
    pub failed: usize,
}

/// A new rule, or what one is to be.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct RuleInput {
    /// The product whose things it looks at.
    pub product: ProductId,
    /// What it is called.
    pub title: String,
    /// When, if and then.
    pub definition: RuleDefinition,
    /// Whether it runs.
    pub runs: bool,
    /// The revision that was seen, of one that is there.
    #[serde(default)]
    pub rev: i64,
}

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

/// One time that a rule ran, or would have.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RuleLine {
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// On what.
    pub thing: Thing,
    /// What people call it.
    pub reference: String,
    /// What it says of itself.
    pub title: String,
    /// done, stopped, failed, or would for a dry run.
    pub outcome: String,
    /// What was done, or why not.
    pub words: String,
    /// The change that set it off.
    pub change: Option<i64>,
    /// The day that came, where one set it off.
    pub day: Option<String>,
}

/// A field that a rule can look at, set, or add things through.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RuleFields {
    /// What a rule can look at.
    pub looks_at: Vec<FieldDef>,
    /// What it can set.
    pub sets: Vec<FieldDef>,
    /// Through which it can add things.
    pub adds: Vec<FieldDef>,
    /// To which states it can move things.
    pub moves_to: Vec<String>,
}

/// A dry run looks back so many days.
const BACK: i64 = 30;
/// So many lines are shown.
const LINES: usize = 200;

/// What rules of a collection can look at and do.
///
/// # Errors
/// Where the right is missing.
pub fn rule_fields(app: &App, call: &Call, collection: Collection) -> Result<RuleFields, Problem> {
    app.read(call, Right::Read, |rows| {
        let all = rows.catalogue()?.of(collection);
        let is_link = |field: &&FieldDef| matches!(field.kind, FieldType::Link { many: true, .. });
        Ok(RuleFields {
            looks_at: looks_at(&all, rows.columns_of(collection.kind())),
            sets: all.iter().filter(|field| field.editable && !is_link(field)).cloned().collect(),
            adds: all.iter().filter(|field| way_to_add(collection, field).is_some()).cloned().collect(),
            moves_to: iron_kite_core::rules::moves_to(collection).iter().map(|&to| to.to_owned()).collect(),
        })
    })
}

/// The rules of a product.
///
/// # Errors
/// Where the right is missing.
pub fn rules(app: &App, call: &Call, product: ProductId) -> Result<Vec<RuleView>, Problem> {
    let since = call.now.as_millisecond() - BACK * 24 * 3_600 * 1_000;
    app.read(call, Right::Read, |rows| {
        let teller = Teller::new(rows)?;
        let counts = rows.rule_counts(since)?;
        let count = |rule: RuleId, outcome: &str| {
            counts.iter().find(|(id, one, _)| *id == rule && one == outcome).map_or(0, |(_, _, count)| *count)
        };
        let mut views = Vec::new();
        for rule in rows.rules(product)? {
            let definition = read(&rule)?;
            let fields = teller.fields(definition.collection);
            let telling = Telling { fields: &fields, names: &teller };
            views.push(RuleView {
                id: rule.id,
                rev: rule.rev,
                when: telling.when(&definition),
                then: telling.then(&definition, "{reference}", "{title}"),
                title: rule.title,
                runs: rule.runs == 1,
                by: rule.by_id.map(|id| teller.person(id)),
                fault: check(rows, &definition, call.today).err().map(|problem| problem.detail()),
                done: count(rule.id, DONE),
                stopped: count(rule.id, STOPPED),
                failed: count(rule.id, FAILED),
                definition,
            });
        }
        Ok(views)
    })
}

const DONE: &str = "done";
const STOPPED: &str = "stopped";
const FAILED: &str = "failed";

fn read(rule: &Rule) -> Result<RuleDefinition, Problem> {
    serde_json::from_str(&rule.definition).map_err(|fault| Problem::Internal(fault.to_string()))
}

/// Checks a rule against the fields that are there, and gives its condition for a day.
fn check(rows: &Rows<'_>, definition: &RuleDefinition, today: Date) -> Result<Condition, Problem> {
    let all = rows.catalogue()?.of(definition.collection);
    let seen = looks_at(&all, rows.columns_of(definition.collection.kind()));
    let condition = definition.check(&Context { fields: &seen, today, me: None }, &all).map_err(Problem::Invalid)?;
    for (n, act) in definition.then.iter().enumerate() {
        if let Act::Create { field, .. } = act
            && all
                .iter()
                .find(|one| one.name == *field)
                .and_then(|one| way_to_add(definition.collection, one))
                .is_none()
        {
            let at = format!("/definition/then/{n}/field");
            return Err(Problem::invalid(at, "Things are not added through this field. Pick another."));
        }
    }
    Ok(condition)
}

/// Makes a rule.
///
/// # Errors
/// Every part of it at fault.
pub fn add_rule(app: &App, call: &Call, input: RuleInput) -> Result<Saved, Problem> {
    let (by, today) = (call.actor.as_ref().and_then(|actor| actor.user_id), call.today);
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(input.product.thing())?;
        let mut values = checked(tx, &input, today)?;
        values.insert("product_id".into(), input.product.0.into());
        values.insert("by_id".into(), by.into());
        let id = tx.insert(ThingKind::Rule, &values)?;
        tx.label(format!("made the rule “{}”", input.title.trim()));
        Ok(Some(Thing::new(ThingKind::Rule, id)))
    })
}

/// Changes a rule.
///
/// # Errors
/// Every part of it at fault, or where it was changed since.
pub fn change_rule(app: &App, call: &Call, id: RuleId, input: RuleInput) -> Result<Saved, Problem> {
    let today = call.today;
    app.save(call, Right::Edit, move |tx| {
        let rule: Rule = tx.rows().get(id)?;
        if rule.product_id != input.product {
            return Err(Problem::invalid("/product", "A rule stays with its product."));
        }
        let values = checked(tx, &input, today)?;
        tx.update(id.thing(), input.rev, &values)?;
        tx.label(match (rule.runs == 1, input.runs) {
            (true, false) => format!("stopped the rule “{}”", input.title.trim()),
            (false, true) => format!("let the rule “{}” run", input.title.trim()),
            _ => format!("changed the rule “{}”", input.title.trim()),
        });
        Ok(Some(id.thing()))
    })
}

fn checked(tx: &Tx<'_>, input: &RuleInput, today: Date) -> Result<Map<String, Value>, Problem> {
    let title = input.title.trim();
    if title.is_empty() || title.chars().count() > 120 {
        return Err(Problem::invalid("/title", "Give it a name of at most 120 characters."));
    }
    check(&tx.rows(), &input.definition, today)?;
    let definition = serde_json::to_string(&input.definition).map_err(|fault| Problem::Internal(fault.to_string()))?;
    Ok(fields_of(json!({ "title": title, "definition": definition, "runs": i64::from(input.runs) })))
}

/// What a rule did last.
///
/// # Errors
/// Where the right is missing.
pub fn rule_runs(app: &App, call: &Call, id: RuleId) -> Result<Vec<RuleLine>, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.rule_runs(id, LINES)?.into_iter().map(|run| line(rows, run)).collect()))
}

fn line(rows: &Rows<'_>, run: RuleRun) -> RuleLine {
    RuleLine {
        at: run.at,
        reference: name_of(rows, run.thing),
        title: title_of(rows, run.thing),
        thing: run.thing,
        outcome: run.outcome,
        words: run.words,
        change: run.change,
        day: run.day,
    }
}

/// A rule made ready to look at changes.
struct Ready {
    rule: Rule,
    definition: RuleDefinition,
    condition: Condition,
}

impl Ready {
    fn fits(&self, thing: Thing, values: &Map<String, Value>) -> bool {
        thing.kind == self.definition.collection.kind()
            && values.get("product_id").and_then(Value::as_i64) == Some(self.rule.product_id.0)
            && holds(&self.condition, &|name| values.get(name).cloned().unwrap_or_default())
    }

    fn set_off_by(&self, change: &RowChange) -> bool {
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
fn day_of(at: i64) -> Date {
    let moment = Timestamp::from_millisecond(at).unwrap_or(Timestamp::UNIX_EPOCH);
    TimeZone::system().to_datetime(moment).date()
}

/// Whether rules look at a set. What is taken back, or done again, sets nothing off.
fn is_looked_at(set: &SetSeen) -> bool {
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
    let by = call.clone();
    let (told, _) = app.write_open(&call.by(Way::Rule), move |tx| {
        let today = by.today;
        let last = last_day(&tx.rows(), today)?;
        if last >= today {
            return Ok(0);
        }
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
    crate::afterwards::tell(app, told);
    Ok(())
}

fn last_day(rows: &Rows<'_>, today: Date) -> Result<Date, Problem> {
    let last = rows.last_rule_day()?.and_then(|day| day.parse::<Date>().ok());
    Ok(last.unwrap_or_else(|| today.saturating_sub(1.day())))
}

/// The things whose day came after `last` and up to `today`, as they stood after a change.
fn came(rows: &Rows<'_>, rule: &Ready, change: i64, last: Date, today: Date) -> Result<Vec<(Thing, Date)>, Problem> {
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
            let words = planned(&tx.rows(), &rule.definition, thing)?;
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
fn planned(rows: &Rows<'_>, definition: &RuleDefinition, thing: Thing) -> Result<String, Problem> {
    let teller = Teller::new(rows)?;
    let fields = teller.fields(definition.collection);
    let telling = Telling { fields: &fields, names: &teller };
    Ok(telling.then(definition, &name_of(rows, thing), &title_of(rows, thing)))
}

/// One step. How many people were told something.
fn step(tx: &mut Tx<'_>, call: &Call, rule: &Ready, thing: Thing, act: &Act) -> Result<usize, Problem> {
    let (reference, title) = (name_of(&tx.rows(), thing), title_of(&tx.rows(), thing));
    match act {
        Act::Set { field, value } => {
            let catalogue = tx.rows().catalogue()?;
            let rev = tx.rows().json(thing)?["rev"].as_i64().unwrap_or_default();
            write_fields(tx, &catalogue, thing, rev, Map::from_iter([(field.clone(), value.clone())]), "/set")?;
            follow(tx, thing)?;
        }
        Act::Move { to, team } => move_to(tx, call, rule, thing, to, *team)?,
        Act::Create { field, title: new } => create(tx, rule, thing, field, &fill_in(new, &reference, &title))?,
        Act::Comment { words } => {
            let body = fill_in(words, &reference, &title);
            let new = NewComment { on: thing, reply_to: None, body, passage: None };
            write_comment(tx, &new, None, call.now.as_millisecond())?;
        }
        Act::Notify { people, roles, field, words } => {
            let row = tx.rows().json(thing)?;
            let mut whom: BTreeSet<i64> = people.iter().copied().collect();
            whom.extend(field.as_ref().and_then(|field| row[field].as_i64()));
            whom.extend(tx.rows().users()?.into_iter().filter(|user| roles.contains(&user.role)).map(|user| user.id));
            let happened = Happened { by_rule: whom, ..Happened::default() };
            let now = call.now.as_millisecond();
            let set = SetSeen { id: tx.set_id(), at: now, user: None, way: "rule".into(), undoes: None };
            return give(tx, &set, thing, &happened, None, &fill_in(words, &reference, &title));
        }
    }
    Ok(0)
}

/// Brings a thing to a state by the step that leads there.
fn move_to(
    tx: &mut Tx<'_>,
    call: &Call,
    rule: &Ready,
    thing: Thing,
    to: &str,
    team: Option<TeamId>,
) -> Result<(), Problem> {
    let no_state = || Problem::refused("no-state", format!("Nothing is moved to “{to}” here."));
    match rule.definition.collection {
        Collection::Idea => {
            let outcome: Outcome = serde_json::from_value(to.into()).map_err(|_| no_state())?;
            let why = format!("By the rule “{}”.", rule.rule.title);
            put_decision(tx, IdeaId(thing.id), outcome, &why, call.today, json!({}))
        }
        Collection::Release => {
            let state: ReleaseState = serde_json::from_value(to.into()).map_err(|_| no_state())?;
            put_release(tx, ReleaseId(thing.id), state)
        }
        Collection::WorkItem => {
            let story: WorkItem = tx.rows().get(WorkItemId(thing.id))?;
            let Some(own) = story.team_id else {
                let words = format!("{} belongs to no team yet. Say in the rule to which it goes.", story.reference());
                return put_in_queue(tx, story.id, team.ok_or_else(|| Problem::refused("no-team", words))?);
            };
            let column = tx.rows().team_columns(own)?.into_iter().find(|column| column.state.name() == to);
            let column = column.ok_or_else(|| {
                Problem::refused("no-column", format!("The team has no column for “{}”.", to.replace('_', " ")))
            })?;
            put_in_column(tx, story.id, column.id, None)
        }
        _ => Err(no_state()),
    }
}

/// How a thing is added through a field of another.
enum WayToAdd {
    /// By a link of the line.
    Link(fields::LineLink),
    /// By a column of the new thing.
    Column(&'static str),
}

/// How things are added through a field that shows several.
fn way_to_add(of: Collection, field: &FieldDef) -> Option<(Collection, WayToAdd)> {
    use Collection::{CompetitorNote, Excerpt, FeedbackItem, Finding, Person, Request, RequestForm};
    let FieldType::Link { to, many: true, .. } = field.kind else { return None };
    // These come with what people said.
    if field.own.is_some()
        || matches!(to, FeedbackItem | Excerpt | Finding | Person | Request | RequestForm | CompetitorNote)
    {
        return None;
    }
    if let Some(link) = line_link(of, &field.name) {
        return Some((to, WayToAdd::Link(link)));
    }
    let points_back = |holds: Holds| matches!(holds, Holds::Thing(kind) if kind == of.kind());
    editable(to.kind()).iter().find(|one| points_back(one.holds)).map(|one| (to, WayToAdd::Column(one.name)))
}

fn create(tx: &mut Tx<'_>, rule: &Ready, thing: Thing, name: &str, title: &str) -> Result<(), Problem> {
    let all = tx.rows().catalogue()?.of(rule.definition.collection);
    let way =
        all.iter().find(|field| field.name == name).and_then(|field| way_to_add(rule.definition.collection, field));
    let (to, way) = way.ok_or_else(|| Problem::refused("no-way", "Things are not added through this field."))?;
    // An epic is what an idea becomes, and what a study informs; an initiative is what an objective asks for.
    let level = match name {
        "epics" => Some(Level::Epic),
        "initiatives" => Some(Level::Initiative),
        "children" => Some(below(tx, thing)?),
        _ => None,
    };
    let mut set = Map::from_iter([(to.title_field().to_owned(), Value::from(title))]);
    if let WayToAdd::Column(column) = way {
        set.insert(column.into(), thing.id.into());
    }
    let new = put_in(tx, to, NewThing { product: rule.rule.product_id, level, set }, "/set")?;
    if let WayToAdd::Link(link) = way {
        let (from, to) = if link.forward { (thing, new) } else { (new, thing) };
        make_link(tx, LinkEnds { kind: link.kind, from, to })?;
    }
    Ok(())
}

/// The level of what hangs below a work item.
fn below(tx: &Tx<'_>, thing: Thing) -> Result<Level, Problem> {
    if thing.kind != ThingKind::WorkItem {
        return Ok(Level::Story);
    }
    let item: WorkItem = tx.rows().get(WorkItemId(thing.id))?;
    Ok(match item.level {
        Level::Initiative => Level::Epic,
        Level::Epic | Level::Feature => Level::Story,
        Level::Story | Level::Task => Level::Task,
    })
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
        for one in found.into_iter().rev().take(LINES) {
            let (outcome, words) = match one.stop {
                Some(stop) => (STOPPED, stop.words()),
                None => ("would", planned(rows, &ask.definition, one.thing)?),
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
