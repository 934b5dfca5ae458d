//! Learn: what was measured after a release.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Idea, IdeaState, Increment};
use iron_kite_core::fields;
use iron_kite_core::learn::{Measured, change_words};
use iron_kite_core::plan::Release;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, IncrementId, ProductId, ReleaseId, Thing, ThingKind};
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved};
use crate::decide::{delivery, grade_now};

/// A result with its change in words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ResultView {
    /// The result.
    #[serde(flatten)]
    pub result: Measured,
    /// "31 → 18 a week, down 42 %"
    pub words: String,
}

/// An idea that is out, wholly or in part.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IdeaOut {
    /// The idea.
    pub idea_id: IdeaId,
    /// Its title.
    pub title: String,
    /// What was guessed that it would do.
    pub guess: Option<String>,
    /// How one would know.
    pub known_by: Option<String>,
    /// The newest release that holds something of it.
    pub release_id: ReleaseId,
    /// That release's title.
    pub release: String,
    /// The day that it went out, or, where that is not known, was to.
    pub out_on: Option<String>,
    /// How many results are noted on it.
    pub results: usize,
}

/// What has been learned about a product.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Learned {
    /// The ideas that are out, newest release first.
    pub out: Vec<IdeaOut>,
    /// The results, newest first.
    pub results: Vec<ResultView>,
}

/// A new result.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewResult {
    /// The idea that it speaks about.
    pub idea_id: IdeaId,
    /// The release that brought it.
    pub release_id: Option<ReleaseId>,
    /// The increment that it is of; nothing where it is of the whole idea.
    #[serde(default)]
    pub increment_id: Option<IncrementId>,
    /// Its fields: measure, unit, before, after, `measured_on`, verdict, note.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// What has been learned about a product.
///
/// # Errors
/// Where the right is missing.
pub fn learned(app: &App, call: &Call, product: ProductId) -> Result<Learned, Problem> {
    app.read(call, Right::Read, |rows| {
        let view = |result: Measured| ResultView {
            words: change_words(result.before, result.after, result.unit.as_deref()),
            result,
        };
        Ok(Learned { out: out_of(rows, product)?, results: rows.results(product)?.into_iter().map(view).collect() })
    })
}

/// The ideas of a product that are out, each with its newest release.
pub(crate) fn out_of(rows: &Rows<'_>, product: ProductId) -> Result<Vec<IdeaOut>, Problem> {
    let mut counts: BTreeMap<IdeaId, usize> = BTreeMap::new();
    for result in rows.results(product)? {
        *counts.entry(result.idea_id).or_default() += 1;
    }
    let mut out: Vec<IdeaOut> = Vec::new();
    for (idea_id, release_id) in ideas_out(rows, product)? {
        if out.iter().any(|other| other.idea_id == idea_id) {
            continue;
        }
        let idea: Idea = rows.get(idea_id)?;
        let release: Release = rows.get(release_id)?;
        out.push(IdeaOut {
            idea_id,
            title: idea.title,
            guess: idea.guess,
            known_by: idea.known_by,
            release_id,
            out_on: release.out_on().map(str::to_owned),
            release: release.title,
            results: counts.get(&idea_id).copied().unwrap_or_default(),
        });
    }
    Ok(out)
}

/// Which idea came out with which release that is out, the newest release first: an idea is out with a release that holds a story
/// of it that is done.
fn ideas_out(rows: &Rows<'_>, product: ProductId) -> Result<Vec<(IdeaId, ReleaseId)>, Problem> {
    let delivery = delivery(rows, product)?;
    let released = rows.released(product)?;
    Ok(released.into_iter().flat_map(|id| delivery.ideas_out(id).into_iter().map(move |idea| (idea, id))).collect())
}

/// Notes a result on an idea that is out.
///
/// # Errors
/// Where nothing of the idea is out yet, or a field is missing or not as it should be.
pub fn add_result(app: &App, call: &Call, new: NewResult) -> Result<Saved, Problem> {
    let mut values = fields::check_new(ThingKind::Result, "/set", new.set).map_err(Problem::Invalid)?;
    let today = call.today;
    app.save(call, Right::Edit, move |tx| {
        let idea: Idea = tx.rows().get(new.idea_id)?;
        let increment: Option<Increment> = new.increment_id.map(|id| tx.rows().get(id)).transpose()?;
        if let Some(other) = increment.as_ref().filter(|one| one.idea_id != idea.id) {
            return Err(Problem::invalid("/increment_id", format!("{} is no step of {}.", other.id, idea.id)));
        }
        let releases: Vec<ReleaseId> = ideas_out(&tx.rows(), idea.product_id)?
            .into_iter()
            .filter(|(out, _)| *out == idea.id)
            .map(|(_, release)| release)
            .collect();
        // A step can be tried before anything is out.
        if increment.is_none() && releases.is_empty() && idea.state != IdeaState::Shipped {
            let words = format!("Nothing of {} is out yet. Release one of its stories first.", idea.id);
            return Err(Problem::refused("idea-not-out", words));
        }
        if let Some(release) = new.release_id.filter(|release| !releases.contains(release)) {
            let words = format!("{release} brought nothing of {}. Choose another release, or none.", idea.id);
            return Err(Problem::invalid("/release_id", words));
        }
        values.insert("idea_id".into(), new.idea_id.0.into());
        values.insert("release_id".into(), serde_json::json!(new.release_id));
        values.insert("increment_id".into(), serde_json::json!(new.increment_id));
        let id = tx.insert(ThingKind::Result, &values)?;
        let (before, now) = grade_now(tx, &idea, today)?;
        let on = increment.map_or_else(|| idea.id.to_string(), |one| format!("{} of {}", one.id, idea.id));
        let moved = before.filter(|before| before.confidence != now.confidence).map_or_else(String::new, |before| {
            format!("; confidence by the evidence {:.2} → {:.2}", before.confidence, now.confidence)
        });
        tx.label(format!("noted a result on {on}{moved}"));
        Ok(Some(Thing::new(ThingKind::Result, id)))
    })
}
