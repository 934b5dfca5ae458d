//! The ranking: where each idea may lie by a model, why, and what to find out next.

use std::collections::BTreeMap;

use iron_kite_core::decide::{
    DRAWS, Draw, Estimated, IdeaPlace, IdeaState, KeptPlace, ModelDefinition, MovedIdea, ScoreShare, ToAsk, UsedModel,
    moved_ideas, shares, typical,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::Moscow;
use iron_kite_core::things::{IdeaId, ProductId};
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::judged::Judged;
use super::models::key_of;
use super::priorities::last_agreed;
use crate::call::{App, Call};

/// The seed of all draws, so that whoever looks sees the same.
pub(super) const SEED: u64 = 7;
/// So many ideas make the cut where nobody says how many.
const TOP: usize = 3;

/// What to rank by.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ScoresAsk {
    /// The product.
    pub product: ProductId,
    /// The model's key; that of the product where nothing is said.
    pub model: Option<String>,
    /// A model that is only tried, in its place.
    pub definition: Option<ModelDefinition>,
    /// How many make the cut.
    pub top: Option<usize>,
}

/// An idea in the ranking.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ScoredIdea {
    /// Its place.
    #[serde(flatten)]
    pub place: IdeaPlace,
    /// What it is called.
    pub title: String,
    /// Where it stands.
    pub state: IdeaState,
    /// How well it is supported, in words.
    pub evidence: String,
    /// Must, should, could or won't.
    pub moscow: Option<Moscow>,
    /// The estimates by the names of the fields.
    pub fields: BTreeMap<String, Estimated>,
}

/// The ranking of a product's ideas.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Scores {
    /// The model's key.
    pub key: String,
    /// The model.
    pub model: UsedModel,
    /// How it was drawn.
    pub draw: Draw,
    /// The ideas, best first, those that lack something last.
    pub ideas: Vec<ScoredIdea>,
    /// Ideas that are out or set aside, and so are not ranked.
    pub left_out: usize,
    /// What to find out next, the most worthwhile first.
    pub to_ask: Vec<ToAsk>,
    /// What moved since the last prioritisation that was agreed.
    pub moved: Vec<MovedIdea>,
    /// When that was.
    pub since: Option<String>,
}

/// Why an idea stands where it stands.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct WhyAsk {
    /// The idea.
    pub idea: IdeaId,
    /// By what.
    #[serde(flatten)]
    pub scores: ScoresAsk,
}

/// How an idea lies to another.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AboveView {
    /// The other.
    pub idea: IdeaId,
    /// What it is called.
    pub title: String,
    /// How sure it is that the idea lies above it, 0 – 1.
    pub above: f64,
}

/// Why an idea stands where it stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Why {
    /// The score with everything as likely.
    pub score: f64,
    /// The same of a typical idea: the median of each field.
    pub typical: f64,
    /// What each field makes of the difference.
    pub shares: Vec<ScoreShare>,
    /// How it lies to the others, in their order.
    pub others: Vec<AboveView>,
}

/// The ranking of a product's ideas by a model.
///
/// # Errors
/// Faults of a model that is tried; where there is no such model.
pub fn scores(app: &App, call: &Call, ask: &ScoresAsk) -> Result<Scores, Problem> {
    app.read(call, Right::Read, |rows| scores_of(app, rows, call, ask))
}

pub(super) fn scores_of(app: &App, rows: &Rows<'_>, call: &Call, ask: &ScoresAsk) -> Result<Scores, Problem> {
    let judged = Judged::of(rows, call, ask, |idea| idea.state.is_open())?;
    let draw = draw(ask.top);
    let drawn = judged.ranked(app, draw);
    let ideas = judged.views(rows, ask.product, &drawn.ranking)?;
    let (moved, since) = match last_agreed(rows, ask.product)? {
        Some((on, kept)) => (moved_ideas(&kept.places, &kept_places(&ideas)), Some(on)),
        None => (Vec::new(), None),
    };
    Ok(Scores {
        key: key_of(&judged.model),
        left_out: judged.left_out,
        model: judged.model,
        draw,
        ideas,
        to_ask: drawn.to_ask.clone(),
        moved,
        since,
    })
}

/// Places as they are kept.
pub(super) fn kept_places(ideas: &[ScoredIdea]) -> Vec<KeptPlace> {
    let keep =
        |one: &ScoredIdea| KeptPlace { title: one.title.clone(), place: one.place.clone(), fields: one.fields.clone() };
    ideas.iter().map(keep).collect()
}

/// Why an idea stands where it stands, and how it lies to the others.
///
/// # Errors
/// Where the idea has no score.
pub fn why(app: &App, call: &Call, ask: &WhyAsk) -> Result<Option<Why>, Problem> {
    app.read(call, Right::Read, |rows| {
        let judged = Judged::of(rows, call, &ask.scores, |idea| idea.state.is_open() || idea.id == ask.idea)?;
        let drawn = judged.ranked(app, draw(ask.scores.top));
        let ranking = &drawn.ranking;
        let all: Vec<Vec<f64>> = judged.ideas.iter().filter_map(|one| judged.likely(one)).collect();
        let Some(values) = judged.ideas.iter().find(|one| one.idea.id == ask.idea).and_then(|one| judged.likely(one))
        else {
            return Ok(None);
        };
        let Some((typical, shares)) = shares(&judged.scorer, &values, &typical(&all)) else { return Ok(None) };
        let title = |id: IdeaId| judged.ideas.iter().find(|one| one.idea.id == id).map(|one| one.idea.title.clone());
        let others = ranking
            .places
            .iter()
            .filter(|place| place.idea != ask.idea)
            .filter_map(|place| {
                let above = ranking.above(ask.idea, place.idea)?;
                Some(AboveView { idea: place.idea, title: title(place.idea)?, above })
            })
            .collect();
        let score = judged.scorer.score(&values).unwrap_or_default();
        Ok(Some(Why { score, typical, shares, others }))
    })
}

pub(super) fn draw(top: Option<usize>) -> Draw {
    Draw { count: DRAWS, seed: SEED, top: top.unwrap_or(TOP).clamp(1, 1_000) }
}
