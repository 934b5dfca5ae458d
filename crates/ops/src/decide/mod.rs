//! Decide: objectives, ideas, their scores, and decisions.

mod ideas;

pub use ideas::{DecisionInput, IdeaView, NewIdea, add_idea, decide, ideas};
