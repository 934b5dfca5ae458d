//! What a budget of effort affords, and what taking one idea in would cost.

use iron_kite_core::decide::{Affordable, Affording, Item, afford, dropped_for, of_musts};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::Moscow;
use iron_kite_core::things::{IdeaId, ThingKind};
use iron_kite_core::trace::LinkKind;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::judged::Judged;
use super::scores::{ScoresAsk, draw};
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

/// What a budget of effort affords, and what would have to be dropped to take one idea in.
///
/// # Errors
/// Where the budget is no number.
pub fn budget(app: &App, call: &Call, ask: &AffordAsk) -> Result<BudgetView, Problem> {
    if !(0.0..=1e9).contains(&ask.budget) {
        return Err(Problem::invalid("/budget", "A budget is a number of person-weeks from 0 up."));
    }
    app.read(call, Right::Read, |rows| {
        let judged = Judged::with(rows, call, &ask.scores, |idea| idea.state.is_open(), &["effort"])?;
        let drawn = judged.ranked(app, draw(ask.scores.top));
        let needs = rows.links(LinkKind::NeededBy, ThingKind::Idea, ThingKind::Idea)?;
        let ideas: Vec<BudgetIdea> = drawn
            .ranking
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
                        .filter(|id| !judged.shipped.contains(id))
                        .collect(),
                })
            })
            .collect();
        let item = |one: &BudgetIdea| Item::of(one.idea, one.moscow, one.worth, one.cost, one.needs.clone());
        let items: Vec<Item> = ideas.iter().filter_map(item).collect();
        let told = afford(&items, ask.budget);
        let with = ask.take.and_then(|idea| dropped_for(&items, ask.budget, &told.best, idea));
        let (with, dropped) = with.map_or((None, Vec::new()), |(with, dropped)| (Some(with), dropped));
        Ok(BudgetView { warnings: warnings(&ideas, &told, ask.budget), ideas, afford: told, with, dropped })
    })
}

/// What is to be known before the budget is spent.
fn warnings(ideas: &[BudgetIdea], told: &Affording, budget: f64) -> Vec<String> {
    let unknown: Vec<String> = ideas.iter().filter(|one| one.cost.is_none()).map(|one| one.idea.to_string()).collect();
    let left_out = || format!("Nobody estimated the effort of {}: they are left out.", unknown.join(", "));
    of_musts(told, budget).into_iter().chain((!unknown.is_empty()).then(left_out)).collect()
}
