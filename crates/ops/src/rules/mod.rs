//! Rules: made, tried without doing anything, and applied to what people write.
//!
//! | file | what is in it |
//! |---|---|
//! | `mod` | rules as people look at them, made and changed |
//! | `apply` | which changes and days set a rule off, and running it |
//! | `steps` | what a rule does: the steps that people take, in its name |
//! | `dry_run` | what a rule would have done |

mod apply;
mod dry_run;
mod steps;

use iron_kite_core::fields::{Collection, Condition, Context, FieldDef, FieldType};
use iron_kite_core::history::Names;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::rules::{Rule, RuleDefinition, Telling, looks_at, moves_to, way_to_add};
use iron_kite_core::things::{ProductId, RuleId, Thing, ThingKind};
use iron_kite_store::queries::rules::RuleRun;
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

pub(crate) use apply::{apply, look_at_days};
pub use dry_run::{DryRun, TryRule, dry_run};

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::history::Teller;
use crate::things::{name_of, title_of};

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
            moves_to: moves_to(collection).iter().map(|&to| to.to_owned()).collect(),
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
    definition.check(&Context { fields: &seen, today, me: None }, &all).map_err(Problem::Invalid)
}

/// Makes a rule.
///
/// # Errors
/// Every part of it at fault.
pub fn add_rule(app: &App, call: &Call, input: RuleInput) -> Result<Saved, Problem> {
    let (by, today) = (call.user_id(), call.today);
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
