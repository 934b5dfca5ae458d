//! What a budget of effort affords, and what taking one idea in would cost.

use iron_kite_core::decide::{Affordable, Affording, Item, afford, dropped_for};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::Moscow;
use iron_kite_core::things::{IdeaId, ThingKind};
use iron_kite_core::trace::LinkKind;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::judged::Judged;
use super::scores::{ScoresAsk, draw, is_open};
use crate::call::{App, Call};

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
    pub with: Option<Affordable>,
    /// What would have to be dropped for it.
    pub dropped: Vec<IdeaId>,
}

/// The trade's rule of thumb: musts are no more than so much of a budget.
const MUSTS: f64 = 0.6;

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
