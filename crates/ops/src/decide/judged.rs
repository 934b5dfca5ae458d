//! The ideas of a product with what a scoring model asks of them, and the rankings that were drawn of them.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex};

use iron_kite_core::decide::{
    CONFIDENCE, Candidate, Draw, EstimateRange, Estimated, Graded, Idea, IdeaState, ModelDefinition, Ranking, Scorer,
    ToAsk, UsedModel, counts, questions, ranked,
};
use iron_kite_core::fields::{Collection, FieldRef};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{IdeaId, ProductId};
use iron_kite_store::Rows;
use iron_kite_store::queries::collections::Of;
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;

use super::models::{check, model_of};
use super::scores::{ScoredIdea, ScoresAsk};
use crate::call::{App, Call};

/// A ranking with all that it was drawn from.
pub(crate) struct Drawn {
    definition: ModelDefinition,
    candidates: Vec<Candidate>,
    draw: Draw,
    pub(super) ranking: Ranking,
    pub(super) to_ask: Vec<ToAsk>,
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
    pub(super) shipped: Vec<IdeaId>,
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
    pub(super) fn with(
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
        let asked = self.scorer.fields().iter().any(|name| name == CONFIDENCE);
        let Some(one) = self.ideas.iter_mut().find(|one| one.idea.id == id && one.idea.confidence.is_none() && asked)
        else {
            return;
        };
        one.fields.extend(counts(CONFIDENCE, None, None, Some(evidence)).map(|told| (CONFIDENCE.to_owned(), told)));
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

    pub(super) fn likely(&self, one: &JudgedIdea) -> Option<Vec<f64>> {
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

    pub(super) fn views(
        &self,
        rows: &Rows<'_>,
        product: ProductId,
        ranking: &Ranking,
    ) -> Result<Vec<ScoredIdea>, Problem> {
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
        let found = row.values.iter().filter_map(|(name, value)| {
            let ends = agreed.iter().find(|one| one.idea_id == id && one.field == *name);
            Some((name.clone(), counts(name, value.as_f64(), ends, told.get(&id))?))
        });
        all.insert(id, found.collect());
    }
    Ok(all)
}
