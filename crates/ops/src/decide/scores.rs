//! The ranking: where each idea may lie by a model, why, and what to find out next.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex};

use iron_kite_core::decide::{
    Affording, Candidate, DRAWS, Draw, EstimateRange, Estimated, Graded, Idea, IdeaPlace, IdeaState, Item, KeptPlace,
    ModelDefinition, MovedIdea, Ranking, ScoreShare, Scorer, ToAsk, UsedModel, afford, dropped_for, moved_ideas,
    questions, ranked, shares, typical,
};
use iron_kite_core::fields::{Collection, FieldRef};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::Moscow;
use iron_kite_core::things::{IdeaId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use iron_kite_store::queries::collections::Of;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::models::{check, key_of, model_of};
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

/// What a budget is to be spent on.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct AffordAsk {
    /// By what.
    #[serde(flatten)]
    pub scores: ScoresAsk,
    /// So much effort, in the unit of the field.
    pub budget: f64,
    /// An idea that would be taken in any case.
    pub take: Option<IdeaId>,
}

/// An idea beside a budget.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BudgetIdea {
    /// The idea.
    pub idea: IdeaId,
    /// Its revision.
    pub rev: i64,
    /// What it is called.
    pub title: String,
    /// Must, should, could or won't.
    pub moscow: Option<Moscow>,
    /// What it is worth.
    pub worth: Option<f64>,
    /// What it costs, as a mean.
    pub cost: Option<f64>,
    /// The ideas that it needs.
    pub needs: Vec<IdeaId>,
}

/// What a budget affords.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BudgetView {
    /// The ideas, best first.
    pub ideas: Vec<BudgetIdea>,
    /// What it affords.
    pub afford: Affording,
    /// What is to be known of the musts, in words.
    pub warnings: Vec<String>,
    /// What would be taken if the idea that was asked for were; nothing where it cannot be.
    pub with: Option<iron_kite_core::decide::Affordable>,
    /// What would have to be dropped for it.
    pub dropped: Vec<IdeaId>,
}

/// The trade's rule of thumb: musts are no more than so much of a budget.
const MUSTS: f64 = 0.6;

/// The ranking of a product's ideas by a model.
///
/// # Errors
/// Faults of a model that is tried; where there is no such model.
pub fn scores(app: &App, call: &Call, ask: &ScoresAsk) -> Result<Scores, Problem> {
    app.read(call, Right::Read, |rows| scores_of(app, rows, call, ask))
}

pub(super) fn scores_of(app: &App, rows: &Rows<'_>, call: &Call, ask: &ScoresAsk) -> Result<Scores, Problem> {
    let judged = Judged::of(rows, call, ask, is_open)?;
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
        let judged = Judged::of(rows, call, &ask.scores, |idea| is_open(idea) || idea.id == ask.idea)?;
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

/// What a budget of effort affords, and what would have to be dropped to take one idea in.
///
/// # Errors
/// Where the budget is no number.
pub fn budget(app: &App, call: &Call, ask: &AffordAsk) -> Result<BudgetView, Problem> {
    if !(0.0..=1e9).contains(&ask.budget) {
        return Err(Problem::invalid("/budget", "A budget is a number of person-weeks from 0 up."));
    }
    app.read(call, Right::Read, |rows| {
        let judged = Judged::with(rows, call, &ask.scores, is_open, &["effort"])?;
        let drawn = judged.ranked(app, draw(ask.scores.top));
        let ranking = &drawn.ranking;
        let needs = rows.links(LinkKind::NeededBy, ThingKind::Idea, ThingKind::Idea)?;
        let out: Vec<IdeaId> = judged.shipped.clone();
        let ideas: Vec<BudgetIdea> = ranking
            .places
            .iter()
            .filter_map(|place| {
                let one = judged.ideas.iter().find(|one| one.idea.id == place.idea)?;
                Some(BudgetIdea {
                    idea: place.idea,
                    rev: one.idea.rev,
                    title: one.idea.title.clone(),
                    moscow: one.idea.moscow,
                    worth: place.worth,
                    cost: one.fields.get("effort").map(|effort| effort.range.mean()),
                    // What is out already is there.
                    needs: needs
                        .iter()
                        .filter(|link| link.to_id == place.idea.0)
                        .map(|link| IdeaId(link.from_id))
                        .filter(|id| !out.contains(id))
                        .collect(),
                })
            })
            .collect();
        let items: Vec<Item> = ideas.iter().filter_map(item).collect();
        let told = afford(&items, ask.budget);
        let with = ask.take.and_then(|idea| dropped_for(&items, ask.budget, &told.best, idea));
        let (with, dropped) = with.map_or((None, Vec::new()), |(with, dropped)| (Some(with), dropped));
        Ok(BudgetView { warnings: warnings(&ideas, &told, ask.budget), ideas, afford: told, with, dropped })
    })
}

fn item(one: &BudgetIdea) -> Option<Item> {
    let must = one.moscow == Some(Moscow::Must);
    Some(Item {
        idea: one.idea,
        // A must is taken whatever it is worth; for others nothing can be said without a score.
        worth: if must { one.worth.unwrap_or_default() } else { one.worth? }.max(0.0),
        cost: one.cost?,
        must,
        wont: one.moscow == Some(Moscow::Wont),
        needs: one.needs.clone(),
    })
}

fn warnings(ideas: &[BudgetIdea], told: &Affording, budget: f64) -> Vec<String> {
    let mut all = Vec::new();
    let share = told.musts_cost / budget.max(f64::MIN_POSITIVE);
    if told.musts_cost > budget {
        all.push(format!(
            "The musts alone, with what they need, take {:.1} of {budget:.1} person-weeks: {:.1} over.",
            told.musts_cost,
            told.musts_cost - budget
        ));
    } else if share > MUSTS {
        all.push(format!(
            "The musts take {:.0} % of the budget; by the trade’s rule of thumb it is at most {:.0} %, so that something can give way.",
            share * 100.0,
            MUSTS * 100.0
        ));
    }
    let unknown: Vec<String> = ideas.iter().filter(|one| one.cost.is_none()).map(|one| one.idea.to_string()).collect();
    if !unknown.is_empty() {
        all.push(format!("Nobody estimated the effort of {}: they are left out.", unknown.join(", ")));
    }
    all
}

/// Ideas that are still to be decided or done.
pub(super) fn is_open(idea: &Idea) -> bool {
    !matches!(idea.state, IdeaState::Shipped | IdeaState::SetAside)
}

pub(super) fn draw(top: Option<usize>) -> Draw {
    Draw { count: DRAWS, seed: SEED, top: top.unwrap_or(TOP).clamp(1, 1_000) }
}

/// A ranking with all that it was drawn from.
pub(crate) struct Drawn {
    definition: ModelDefinition,
    candidates: Vec<Candidate>,
    draw: Draw,
    pub(super) ranking: Ranking,
    to_ask: Vec<ToAsk>,
}

/// Rankings that were drawn lately: the same question has the same answer, so why an idea stands where it stands and what
/// a budget affords need no draws of their own.
#[derive(Default)]
pub(crate) struct Rankings(Mutex<Vec<Arc<Drawn>>>);

/// So many are kept; the draws of a thousand ideas take 40 MB.
const KEPT: usize = 3;

impl Rankings {
    fn of(&self, definition: &ModelDefinition, scorer: &Scorer, candidates: Vec<Candidate>, draw: Draw) -> Arc<Drawn> {
        let same =
            |one: &&Arc<Drawn>| one.draw == draw && one.definition == *definition && one.candidates == candidates;
        let lock = || self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(known) = lock().iter().find(same) {
            return Arc::clone(known);
        }
        // Drawn without the lock: two who ask at once both draw, and neither waits for the other.
        let ranking = ranked(scorer, &candidates, draw);
        let to_ask = questions(scorer, &candidates, &ranking, draw.top, draw.seed);
        let drawn = Arc::new(Drawn { definition: definition.clone(), candidates, draw, ranking, to_ask });
        let mut kept = lock();
        kept.insert(0, Arc::clone(&drawn));
        kept.truncate(KEPT);
        drawn
    }
}

/// An idea with what is estimated of it.
pub(super) struct JudgedIdea {
    pub(super) idea: Idea,
    pub(super) fields: BTreeMap<String, Estimated>,
}

/// The ideas of a product with what a model asks of them.
pub(super) struct Judged {
    pub(super) model: UsedModel,
    pub(super) scorer: Scorer,
    pub(super) ideas: Vec<JudgedIdea>,
    pub(super) left_out: usize,
    shipped: Vec<IdeaId>,
}

impl Judged {
    pub(super) fn of(
        rows: &Rows<'_>,
        call: &Call,
        ask: &ScoresAsk,
        which: impl Fn(&Idea) -> bool,
    ) -> Result<Self, Problem> {
        Self::with(rows, call, ask, which, &[])
    }

    /// With fields beside those of the model.
    fn with(
        rows: &Rows<'_>,
        call: &Call,
        ask: &ScoresAsk,
        which: impl Fn(&Idea) -> bool,
        more: &[&str],
    ) -> Result<Self, Problem> {
        let model = match &ask.definition {
            Some(definition) => UsedModel { id: None, version: None, definition: definition.clone() },
            None => model_of(rows, ask.product, ask.model.as_deref())?,
        };
        let scorer = check(rows, &model.definition)?;
        let all: Vec<Idea> = rows.all_of(ask.product)?;
        let shipped = all.iter().filter(|idea| idea.state == IdeaState::Shipped).map(|idea| idea.id).collect();
        let count = all.len();
        let ideas: Vec<Idea> = all.into_iter().filter(which).collect();
        let names: Vec<&str> = scorer.fields().iter().map(String::as_str).chain(more.iter().copied()).collect();
        let mut fields = estimated(rows, call.today, ask.product, &ideas, &names)?;
        Ok(Judged {
            left_out: count - ideas.len(),
            ideas: ideas
                .into_iter()
                .map(|idea| JudgedIdea { fields: fields.remove(&idea.id).unwrap_or_default(), idea })
                .collect(),
            model,
            scorer,
            shipped,
        })
    }

    /// What the evidence gives now, where it was not told yet or is told anew.
    pub(super) fn grade(&mut self, id: IdeaId, evidence: &Graded) {
        let Some(one) = self.ideas.iter_mut().find(|one| one.idea.id == id) else { return };
        if one.idea.confidence.is_none() && self.scorer.fields().iter().any(|name| name == CONFIDENCE) {
            let range = EstimateRange::exactly(evidence.confidence);
            one.fields.insert(CONFIDENCE.to_owned(), Estimated { range, by: None });
        }
    }

    pub(super) fn candidates(&self) -> Vec<Candidate> {
        let one = |judged: &JudgedIdea| Candidate {
            idea: judged.idea.id,
            fields: self.scorer.fields().iter().map(|name| judged.fields.get(name).copied()).collect(),
        };
        self.ideas.iter().map(one).collect()
    }

    pub(super) fn ranked(&self, app: &App, draw: Draw) -> Arc<Drawn> {
        app.rankings.of(&self.model.definition, &self.scorer, self.candidates(), draw)
    }

    fn likely(&self, one: &JudgedIdea) -> Option<Vec<f64>> {
        let needed: Vec<usize> = self.scorer.needs().iter().map(|at| self.scorer.field_of()[*at]).collect();
        self.scorer
            .fields()
            .iter()
            .enumerate()
            .map(|(at, name)| match one.fields.get(name) {
                Some(estimated) => Some(estimated.range.likely),
                None => (!needed.contains(&at)).then_some(0.0),
            })
            .collect()
    }

    fn views(&self, rows: &Rows<'_>, product: ProductId, ranking: &Ranking) -> Result<Vec<ScoredIdea>, Problem> {
        let told = rows.ideas_told(product)?;
        let views = ranking.places.iter().filter_map(|place| {
            let one = self.ideas.iter().find(|one| one.idea.id == place.idea)?;
            Some(ScoredIdea {
                place: place.clone(),
                title: one.idea.title.clone(),
                state: one.idea.state,
                evidence: told.get(&place.idea).map_or("a hunch", |told| told.grade.words()).to_owned(),
                moscow: one.idea.moscow,
                fields: one.fields.clone(),
            })
        });
        Ok(views.collect())
    }
}

/// The score of one idea by the model of its product, with everything as likely.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LikelyScore {
    /// What people call the model.
    pub by: String,
    /// The score; nothing where something is missing.
    pub score: Option<f64>,
    /// The criteria that are not estimated yet.
    pub missing: Vec<String>,
}

/// The score of one idea by the model of its product, with everything as likely. `told` is the confidence that follows from the
/// evidence as it is now.
pub(crate) fn likely_score(
    rows: &Rows<'_>,
    idea: Idea,
    told: Option<&Graded>,
    today: Date,
) -> Result<LikelyScore, Problem> {
    let (id, product) = (idea.id, idea.product_id);
    let model = model_of(rows, product, None)?;
    let scorer = check(rows, &model.definition)?;
    let names: Vec<&str> = scorer.fields().iter().map(String::as_str).collect();
    let mut fields = estimated(rows, today, product, std::slice::from_ref(&idea), &names)?;
    let one = JudgedIdea { fields: fields.remove(&id).unwrap_or_default(), idea };
    let mut judged = Judged { model, scorer, ideas: vec![one], left_out: 0, shipped: Vec::new() };
    if let Some(told) = told {
        judged.grade(id, told);
    }
    let ranges: Vec<Option<EstimateRange>> =
        judged.candidates()[0].fields.iter().map(|one| one.map(|one| one.range)).collect();
    Ok(LikelyScore {
        score: judged.likely(&judged.ideas[0]).and_then(|values| judged.scorer.score(&values)),
        missing: judged.scorer.missing(&ranges),
        by: judged.model.definition.title,
    })
}

/// What is estimated of some ideas: the values of their fields, with the ends that were agreed on, and the confidence that
/// follows from the evidence where nobody says it.
pub(super) fn estimated(
    rows: &Rows<'_>,
    today: Date,
    product: ProductId,
    ideas: &[Idea],
    names: &[&str],
) -> Result<BTreeMap<IdeaId, BTreeMap<String, Estimated>>, Problem> {
    let catalogue = rows.catalogue()?;
    let known = catalogue.of(Collection::Idea);
    let fields: Vec<FieldRef> = known
        .iter()
        .filter(|field| names.contains(&field.name.as_str()))
        .map(|field| FieldRef { name: field.name.clone(), shape: field.shape })
        .collect();
    let ids: Vec<i64> = ideas.iter().map(|idea| idea.id.0).collect();
    let of = Of { catalogue: &catalogue, collection: Collection::Idea, product, today };
    let agreed = rows.agreed_estimates(product)?;
    let told = rows.ideas_told(product)?;
    let mut all = BTreeMap::new();
    for row in rows.values_of(of, &ids, &fields)? {
        let id = IdeaId(row.id);
        let mut found: BTreeMap<String, Estimated> = BTreeMap::new();
        for (name, value) in &row.values {
            // Where no account stands behind an idea, that is no revenue, and not an unknown one.
            let nought = (name == REVENUE).then_some(0.0);
            let Some(likely) = value.as_f64().or(nought) else { continue };
            let ends = agreed.iter().find(|one| one.idea_id == id && one.field == *name);
            let range = EstimateRange::around(likely, ends.map(|one| one.low), ends.map(|one| one.high));
            found.insert(name.clone(), Estimated { range, by: ends.and_then(|one| one.by_id) });
        }
        if names.contains(&CONFIDENCE) && !found.contains_key(CONFIDENCE) {
            let confidence = told.get(&id).map(|told| told.confidence);
            let known = |value| Estimated { range: EstimateRange::exactly(value), by: None };
            found.extend(confidence.map(|value| (CONFIDENCE.to_owned(), known(value))));
        }
        all.insert(id, found);
    }
    Ok(all)
}

const REVENUE: &str = "revenue";
/// The field that follows from the evidence where nobody says it.
pub(super) const CONFIDENCE: &str = "confidence";
