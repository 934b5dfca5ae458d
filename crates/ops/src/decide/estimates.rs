//! Estimates: what each of several people says alone, and what they agree on.

use iron_kite_core::decide::{
    CONFIDENCE, Estimate, EstimateRange, Estimated, Graded, Idea, ScaleStep, ScoreCriterion, apart, differ_most,
    together,
};
use iron_kite_core::fields::{Collection, FieldDef};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, Thing, ThingKind};
use iron_kite_store::Tx;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::grading::evidence_of;
use super::judged::estimated;
use super::models::{check, model_of};
use crate::call::{App, Call, Saved, fields as fields_of};
use crate::collections::write_fields;
use crate::things::follow;

/// What somebody says of a field of an idea.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct EstimateInput {
    /// The field.
    pub field: String,
    /// What it may be, as it is typed: `40`, `30–60`, `30 40 60`. Empty takes it back.
    pub said: String,
    /// Whether it is what was agreed on; else it is what the person says alone.
    pub agreed: bool,
    /// Why.
    pub reason: Option<String>,
    /// The revision of the idea that was seen, for what is agreed on.
    pub rev: Option<i64>,
}

/// What one person says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SaidEstimate {
    /// Who.
    pub name: String,
    /// Whether that is whoever asks.
    pub mine: bool,
    /// What.
    pub range: EstimateRange,
    /// Why.
    pub reason: Option<String>,
}

/// What is estimated of one criterion of an idea.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EstimatesOfField {
    /// The field.
    pub field: String,
    /// What it is called.
    pub label: String,
    /// The unit.
    pub unit: Option<String>,
    /// The ends of the scale.
    pub low: Option<f64>,
    /// The ends of the scale.
    pub high: Option<f64>,
    /// What the steps of the scale stand for.
    pub steps: Vec<ScaleStep>,
    /// Whether people estimate it; else it is computed.
    pub typed: bool,
    /// What counts.
    pub counts: Option<Estimated>,
    /// Who agreed on it.
    pub agreed_by: Option<String>,
    /// Why.
    pub reason: Option<String>,
    /// How many people said something alone.
    pub said_by: usize,
    /// What they said; only whoever said something alone sees it.
    pub said: Option<Vec<SaidEstimate>>,
    /// How far they lie apart, in parts of the scale.
    pub apart: Option<f64>,
    /// What holds all of them.
    pub together: Option<EstimateRange>,
}

/// The estimates of an idea.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IdeaEstimates {
    /// The revision of the idea.
    pub rev: i64,
    /// By the criteria of the model.
    pub fields: Vec<EstimatesOfField>,
    /// The confidence that follows from the evidence, whatever somebody says.
    pub evidence: Graded,
    /// The criterion about which people differ most, where they do.
    pub differ_most: Option<String>,
}

/// What is estimated of an idea, by the criteria of a model, or of the product's where none is named. What others said alone
/// is told only to whoever said something, too.
///
/// # Errors
/// Where there is no such idea.
pub fn estimates(app: &App, call: &Call, id: IdeaId, model: Option<&str>) -> Result<IdeaEstimates, Problem> {
    app.read(call, Right::Read, |rows| {
        let idea: Idea = rows.get(id)?;
        let (product, rev) = (idea.product_id, idea.rev);
        let model = model_of(rows, product, model)?;
        let scorer = check(rows, &model.definition)?;
        let names: Vec<&str> = scorer.fields().iter().map(String::as_str).collect();
        let evidence = evidence_of(rows, &idea, call.today)?;
        let mut counts = estimated(rows, call.today, product, std::slice::from_ref(&idea), &names)?;
        let counts = counts.remove(&id).unwrap_or_default();
        let all: Vec<Estimate> = rows.of_idea(id)?;
        let users = rows.users()?;
        let name = |by: Option<i64>| users.iter().find(|user| Some(user.id) == by).map(|user| user.name.clone());
        let me = call.user_id();
        let known = rows.catalogue()?.of(Collection::Idea);
        let mut seen: Vec<&str> = Vec::new();
        let mut fields = Vec::new();
        for criterion in &model.definition.criteria {
            if seen.contains(&criterion.field.as_str()) {
                continue;
            }
            seen.push(&criterion.field);
            let alone: Vec<&Estimate> =
                all.iter().filter(|one| one.field == criterion.field && one.agreed == 0).collect();
            let agreed = all.iter().find(|one| one.field == criterion.field && one.agreed == 1);
            let shown = alone.iter().any(|one| one.by_id == me && me.is_some());
            let ranges: Vec<EstimateRange> = alone.iter().map(|one| one.range()).collect();
            let said = alone.iter().map(|one| SaidEstimate {
                name: name(one.by_id).unwrap_or_default(),
                mine: one.by_id == me,
                range: one.range(),
                reason: one.reason.clone(),
            });
            let several = shown && alone.len() > 1;
            fields.push(EstimatesOfField {
                typed: known.iter().any(|field| field.name == criterion.field && field.editable),
                counts: counts.get(&criterion.field).copied(),
                agreed_by: name(agreed.and_then(|one| one.by_id)),
                reason: agreed.and_then(|one| one.reason.clone()),
                said_by: alone.len(),
                apart: several.then(|| apart(&ranges, criterion.ends())),
                together: several.then(|| together(&ranges)).flatten(),
                said: shown.then(|| said.collect()),
                ..of_criterion(criterion, known.iter().find(|field| field.name == criterion.field))
            });
        }
        let apart: Vec<Option<f64>> = fields.iter().map(|one| one.apart).collect();
        let differ_most = differ_most(&apart).map(|at| fields[at].label.to_lowercase());
        Ok(IdeaEstimates { rev, differ_most, fields, evidence })
    })
}

fn of_criterion(criterion: &ScoreCriterion, field: Option<&FieldDef>) -> EstimatesOfField {
    // Where the value follows from a table, people estimate what the table is of.
    let direct = criterion.ease.is_empty();
    let own = field.filter(|_| !direct);
    EstimatesOfField {
        field: criterion.field.clone(),
        label: own.map_or_else(|| criterion.label.clone(), |field| field.label.clone()),
        unit: criterion.unit.clone(),
        low: criterion.low.filter(|_| direct),
        high: criterion.high.filter(|_| direct),
        steps: criterion.steps.clone(),
        typed: false,
        counts: None,
        agreed_by: None,
        reason: None,
        said_by: 0,
        said: None,
        apart: None,
        together: None,
    }
}

/// Notes what somebody says alone of a field of an idea, or what was agreed on: then the field gets the likely value. The
/// agreed one keeps what each said.
///
/// # Errors
/// Where it is no estimate, the field is computed, or a confidence overrules the evidence without a reason.
pub fn estimate(app: &App, call: &Call, id: IdeaId, input: EstimateInput) -> Result<Saved, Problem> {
    let right = if input.agreed { Right::Edit } else { Right::Listen };
    let me = call.user_id();
    let today = call.today;
    app.save(call, right, move |tx| {
        let idea: Idea = tx.rows().get(id)?;
        let known = tx.rows().catalogue()?.of(Collection::Idea);
        let field = known.iter().find(|field| field.name == input.field && super::models::is_number(field));
        let Some(field) = field.filter(|field| field.editable) else {
            let words = "This is computed, or no number: choose a criterion that people estimate.";
            return Err(Problem::invalid("/field", words));
        };
        let (label, name) = (field.label.clone(), field.name.clone());
        let range = match input.said.trim() {
            "" => None,
            said => Some(read(said, &name)?),
        };
        let reason = input.reason.as_deref().map(str::trim).filter(|reason| !reason.is_empty());
        if reason.is_some_and(|reason| reason.chars().count() > 2_000) {
            return Err(Problem::invalid("/reason", "A reason has at most 2,000 characters."));
        }
        if input.agreed && name == CONFIDENCE && range.is_some() && reason.is_none() {
            let told = evidence_of(&tx.rows(), &idea, today)?.confidence;
            let words = format!("The evidence gives {told:.2}. Say why the confidence is to be another.");
            return Err(Problem::invalid("/reason", words));
        }
        keep(tx, &idea, &name, me, input.agreed, range, reason)?;
        if input.agreed {
            let catalogue = tx.rows().catalogue()?;
            let set = fields_of(json!({ name: range.map(|range| range.likely) }));
            let rev = input.rev.unwrap_or(idea.rev);
            write_fields(tx, &catalogue, id.thing(), rev, set, "/said")?;
            follow(tx, id.thing())?;
        }
        let what = label.to_lowercase();
        tx.label(match (input.agreed, range.is_some()) {
            (true, true) => format!("agreed on the {what} of {id}"),
            (true, false) => format!("took back the {what} of {id}"),
            (false, true) => format!("said what the {what} of {id} may be"),
            (false, false) => format!("took back what the {what} of {id} may be"),
        });
        Ok(Some(id.thing()))
    })
}

fn read(said: &str, field: &str) -> Result<EstimateRange, Problem> {
    let range = EstimateRange::read(said, field == "effort").map_err(|words| Problem::invalid("/said", words))?;
    // The same check as for a value that is typed into the field.
    for value in [range.low, range.likely, range.high] {
        if iron_kite_core::fields::own_number(field).is_none() {
            let set = fields_of(json!({ field: value }));
            iron_kite_core::fields::check(ThingKind::Idea, "", set).map_err(|faults| {
                Problem::invalid("/said", faults.into_iter().map(|fault| fault.words).collect::<Vec<_>>().join(" "))
            })?;
        }
    }
    Ok(range)
}

/// Keeps an estimate: one for each person, and one that was agreed on.
fn keep(
    tx: &mut Tx<'_>,
    idea: &Idea,
    field: &str,
    by: Option<i64>,
    agreed: bool,
    range: Option<EstimateRange>,
    reason: Option<&str>,
) -> Result<(), Problem> {
    let all: Vec<Estimate> = tx.rows().of_idea(idea.id)?;
    let there = all
        .into_iter()
        .find(|one| one.field == field && (one.agreed == 1) == agreed && (agreed || one.by_id == by))
        .map(|one| Thing::new(ThingKind::Estimate, one.id));
    let Some(range) = range else {
        return Ok(there.map(|thing| tx.remove(thing)).transpose().map(drop)?);
    };
    let values = fields_of(json!({
        "idea_id": idea.id, "field": field, "by_id": by, "agreed": i64::from(agreed),
        "low": range.low, "likely": range.likely, "high": range.high, "reason": reason,
    }));
    match there {
        Some(thing) => tx.set(thing, &values)?,
        None => drop(tx.insert(ThingKind::Estimate, &values)?),
    }
    Ok(())
}
