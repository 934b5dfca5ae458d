//! Scores that admit what is not known: models, estimates, where an idea may lie, and what follows from that.

mod apart;
mod arithmetic;
mod asking;
mod budget;
mod draws;
pub(crate) mod estimate;
mod first_models;
mod kept;
mod log;
mod model;
mod pairwise;
mod priorities;
pub(crate) mod prioritisation;
mod range;
mod ranking;
pub(crate) mod scoring_model;
mod spread;
mod why;

pub use apart::{apart, differ_most, together};
pub use arithmetic::{Formula, FormulaFault, Given, Known, LONGEST_FORMULA};
pub use asking::{ToAsk, questions};
pub use budget::{Affordable, Affording, Item, afford, dropped_for, of_musts};
pub use estimate::Estimate;
pub use first_models::first_model;
pub use kept::{
    CONFIDENCE, Frozen, KeptPlace, KeptRanking, MovedIdea, UsedModel, counts, day_came, look_again, moved_ideas,
    range_words, shown,
};
pub use log::{Logged, decision_log};
pub use model::{Better, EaseStep, Method, ModelDefinition, ScaleStep, ScoreCriterion, Scorer};
pub use pairwise::{Weighed, weigh};
pub use priorities::{Priorities, SetAside, priorities_report};
pub use prioritisation::Prioritisation;
pub use range::EstimateRange;
pub use ranking::{Candidate, DRAWS, Draw, Estimated, IdeaPlace, Ranking, TOGETHER, ranked};
pub use scoring_model::ScoringModel;
pub use spread::ScoreSpread;
pub use why::{ScoreShare, shares, typical};
