//! Decide: objectives, ideas, their scores, and decisions.

mod ideas;
mod objectives;

pub use ideas::{DecisionInput, IdeaView, NewIdea, add_idea, decide, ideas};
pub use objectives::{NewObjective, ObjectiveView, add_objective, objectives};
