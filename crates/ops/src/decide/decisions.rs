//! Decisions: taken on numbers and evidence that are kept as they were, and looked at again when these are no more so.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::decide::{
    Decision, Estimated, Frozen, Graded, Idea, IdeaState, KeptPlace, Logged, Outcome, SetAside, Voices, day_came,
    decision_log, look_again, voices,
};
use iron_kite_core::formats::blocks::markdown;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, ProductId, ThingKind};
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::grading::evidence_of;
use super::judged::{Judged, estimated};
use super::scores::{ScoresAsk, draw};
use crate::call::{App, Call, Saved, fields as fields_of};

/// A decision about an idea.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct DecisionInput {
    /// The revision of the idea that was seen.
    pub rev: i64,
    /// Chosen or set aside.
    pub outcome: Outcome,
    /// Why.
    pub reason: String,
    /// The day on which to look at it again.
    #[serde(default)]
    pub look_again_on: Option<String>,
}

/// A decision in the log.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DecisionView {
    /// Its number.
    pub id: i64,
    /// The idea.
    pub idea: IdeaId,
    /// What it is called.
    pub title: String,
    /// What was decided.
    pub outcome: Outcome,
    /// Why.
    pub reason: String,
    /// By whom.
    pub by: Option<String>,
    /// The day.
    pub on: String,
    /// The day on which to look at it again.
    pub look_again_on: Option<String>,
    /// What it rested on.
    pub frozen: Option<Frozen>,
    /// Why to look at it again now; empty where nothing asks for it, or it was decided anew.
    pub look_again: Vec<String>,
    /// Whether another decision about the idea came after it.
    pub overtaken: bool,
}

/// Takes a decision about an idea. What it rests on is kept with it as it is now: the model with its version, the estimates, the
/// idea's place, the evidence, and who stands behind it.
///
/// # Errors
/// Where there is no reason, the idea was changed since, or a rule says no.
pub fn decide(app: &App, call: &Call, id: IdeaId, input: DecisionInput) -> Result<Saved, Problem> {
    let reason = input.reason.trim().to_owned();
    if reason.is_empty() || reason.chars().count() > 5_000 {
        return Err(Problem::invalid("/reason", "Say why, in at most 5,000 characters. You will be asked."));
    }
    let again = look_on(input.look_again_on.as_deref(), call.today)?;
    let by = call.user_id();
    // What it rests on is computed before the only writer is taken; the revision says that it is still so.
    let frozen = app.read(call, Right::Edit, |rows| frozen(app, rows, call, id))?;
    let today = call.today;
    app.save(call, Right::Edit, move |tx| {
        tx.expect(id.thing(), input.rev)?;
        let text = serde_json::to_string(&frozen).map_err(|fault| Problem::Internal(fault.to_string()))?;
        let kept = json!({
            "score": frozen.kept.place.spread.map(|spread| spread.median), "frozen": text, "decided_by": by,
            "look_again_on": again.map(|day| day.to_string()),
        });
        put_decision(tx, id, input.outcome, &reason, today, kept)?;
        Ok(Some(id.thing()))
    })
}

/// Takes a decision within a write. `kept` is what it rests on.
pub(crate) fn put_decision(
    tx: &mut Tx<'_>,
    id: IdeaId,
    outcome: Outcome,
    reason: &str,
    today: Date,
    kept: serde_json::Value,
) -> Result<(), Problem> {
    let idea: Idea = tx.rows().get(id)?;
    let state = iron_kite_core::decide::decide(&idea, outcome)?;
    let name = serde_json::to_value(outcome).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let mut decision = fields_of(kept);
    decision.extend(fields_of(json!({
        "idea_id": id, "outcome": name, "reason": reason, "decided_on": today.to_string(),
    })));
    tx.insert(ThingKind::Decision, &decision)?;
    tx.set(id.thing(), &fields_of(json!({ "state": state.name() })))?;
    tx.label(match outcome {
        Outcome::Chosen => format!("chose {id}"),
        Outcome::SetAside => format!("set {id} aside"),
    });
    Ok(())
}

fn look_on(day: Option<&str>, today: Date) -> Result<Option<Date>, Problem> {
    let Some(text) = day.map(str::trim).filter(|text| !text.is_empty()) else { return Ok(None) };
    match text.parse::<Date>() {
        Ok(day) if day > today => Ok(Some(day)),
        _ => Err(Problem::invalid("/look_again_on", "Look at it again on a day to come, such as 2027-03-31.")),
    }
}

/// What a decision about an idea rests on now.
fn frozen(app: &App, rows: &Rows<'_>, call: &Call, id: IdeaId) -> Result<Frozen, Problem> {
    let idea: Idea = rows.get(id)?;
    let ask = ScoresAsk { product: idea.product_id, model: None, definition: None, top: None };
    let mut judged = Judged::of(rows, call, &ask, |one| one.state.is_open() || one.id == id)?;
    let evidence = evidence_of(rows, &idea, call.today)?;
    judged.grade(id, &evidence);
    let drawn = judged.ranked(app, draw(None));
    let places = &drawn.ranking.places;
    let of = places.iter().filter(|place| place.rank.is_some()).count();
    let place = places.iter().find(|place| place.idea == id).cloned();
    let place = place.ok_or_else(|| Problem::NotFound(format!("idea {id}")))?;
    let fields = judged.ideas.into_iter().find(|one| one.idea.id == id).map(|one| one.fields).unwrap_or_default();
    Ok(Frozen {
        kept: KeptPlace { title: idea.title.clone(), place, fields },
        model: judged.model,
        of,
        evidence,
        voices: behind(rows, idea.product_id, Some(&[id]))?.remove(&id).unwrap_or_default(),
    })
}

/// Who stands behind each idea of a product, or each of some of them.
pub(super) fn behind(
    rows: &Rows<'_>,
    product: ProductId,
    only: Option<&[IdeaId]>,
) -> Result<BTreeMap<IdeaId, Voices>, Problem> {
    let revenue = rows.revenue()?;
    let mut said: BTreeMap<IdeaId, Vec<_>> = BTreeMap::new();
    for (idea, who) in rows.idea_voices(product, only)? {
        said.entry(IdeaId(idea)).or_default().push(who);
    }
    Ok(said.into_iter().map(|(id, said)| (id, voices(&said, &revenue))).collect())
}

/// The decisions of a product, those to look at again first, then the newest.
///
/// # Errors
/// Where the right is missing.
pub fn decisions(app: &App, call: &Call, product: ProductId) -> Result<Vec<DecisionView>, Problem> {
    app.read(call, Right::Read, |rows| decisions_of(rows, call, product))
}

pub(crate) fn decisions_of(rows: &Rows<'_>, call: &Call, product: ProductId) -> Result<Vec<DecisionView>, Problem> {
    let ideas: Vec<Idea> = rows.all_of(product)?;
    let users = rows.users()?;
    let decisions = rows.decisions(product)?;
    let last: BTreeMap<IdeaId, i64> = decisions.iter().map(|one| (one.idea_id, one.id)).collect();
    let frozen: BTreeMap<i64, Frozen> =
        decisions.iter().filter_map(|one| Some((one.id, serde_json::from_str(one.frozen.as_deref()?).ok()?))).collect();
    let decided: Vec<Idea> = ideas.iter().filter(|idea| last.contains_key(&idea.id)).cloned().collect();
    let now = Now::of(rows, call, product, &decided, &frozen)?;
    let mut views: Vec<DecisionView> = decisions
        .into_iter()
        .filter_map(|one| {
            let idea = ideas.iter().find(|idea| idea.id == one.idea_id)?;
            let overtaken = last.get(&one.idea_id) != Some(&one.id);
            let frozen = frozen.get(&one.id).cloned();
            // What is out is looked at by its result.
            let asks = !overtaken && idea.state != IdeaState::Shipped;
            let look_again = if asks { now.asks(&one, frozen.as_ref(), call.today) } else { Vec::new() };
            Some(DecisionView {
                id: one.id,
                idea: one.idea_id,
                title: idea.title.clone(),
                outcome: one.outcome,
                reason: one.reason,
                by: users.iter().find(|user| Some(user.id) == one.decided_by).map(|user| user.name.clone()),
                on: one.decided_on,
                look_again_on: one.look_again_on,
                frozen,
                look_again,
                overtaken,
            })
        })
        .collect();
    views.sort_by_key(|one| (one.look_again.is_empty(), std::cmp::Reverse((one.on.clone(), one.id))));
    Ok(views)
}

/// How things stand now, to be held against what decisions rested on.
struct Now {
    evidence: BTreeMap<IdeaId, Graded>,
    voices: BTreeMap<IdeaId, Voices>,
    fields: BTreeMap<IdeaId, BTreeMap<String, Estimated>>,
}

impl Now {
    fn of(
        rows: &Rows<'_>,
        call: &Call,
        product: ProductId,
        ideas: &[Idea],
        frozen: &BTreeMap<i64, Frozen>,
    ) -> Result<Self, Problem> {
        let names: BTreeSet<&str> =
            frozen.values().flat_map(|one| one.kept.fields.keys().map(String::as_str)).collect();
        let names: Vec<&str> = names.into_iter().collect();
        Ok(Now {
            evidence: rows.ideas_told(product)?,
            voices: behind(rows, product, Some(&ideas.iter().map(|idea| idea.id).collect::<Vec<_>>()))?,
            fields: estimated(rows, call.today, product, ideas, &names)?,
        })
    }

    fn asks(&self, decision: &Decision, frozen: Option<&Frozen>, today: Date) -> Vec<String> {
        let due = decision.look_again_on.as_deref().and_then(|day| day.parse().ok());
        let Some(frozen) = frozen else {
            return day_came(due, today).into_iter().collect();
        };
        let id = decision.idea_id;
        let voices = self.voices.get(&id).copied().unwrap_or_default();
        let none = BTreeMap::new();
        // Evidence that was not told anew yet is as it was.
        let evidence = self.evidence.get(&id).unwrap_or(&frozen.evidence);
        look_again(frozen, evidence, &voices, self.fields.get(&id).unwrap_or(&none), due, today)
    }
}

/// The log of decisions as Markdown.
///
/// # Errors
/// Where the right is missing.
pub fn decisions_markdown(app: &App, call: &Call, product: ProductId) -> Result<String, Problem> {
    let mut all = decisions(app, call, product)?;
    all.sort_by(|a, b| (&b.on, b.id).cmp(&(&a.on, a.id)));
    let logged: Vec<Logged<'_>> = all
        .iter()
        .map(|one| Logged {
            idea: format!("{} {}", one.idea, one.title),
            outcome: one.outcome,
            reason: &one.reason,
            by: one.by.as_deref(),
            on: &one.on,
            look_again_on: one.look_again_on.as_deref(),
            frozen: one.frozen.as_ref(),
            look_again: &one.look_again,
            overtaken: one.overtaken,
        })
        .collect();
    Ok(markdown(&decision_log(&logged)))
}

/// What is set aside, with the reason that was given last.
pub(super) fn set_aside(rows: &Rows<'_>, product: ProductId) -> Result<Vec<SetAside>, Problem> {
    let ideas: Vec<Idea> = rows.all_of(product)?;
    let decisions = rows.decisions(product)?;
    let mut all = Vec::new();
    for idea in ideas.iter().filter(|idea| idea.state == IdeaState::SetAside) {
        let last = decisions.iter().rev().find(|one| one.idea_id == idea.id);
        all.push(SetAside {
            idea: format!("{} {}", idea.id, idea.title),
            reason: last.map_or_else(|| "nobody said why".into(), |one| one.reason.clone()),
            on: last.map_or_else(|| "at some time".into(), |one| one.decided_on.clone()),
        });
    }
    Ok(all)
}
