//! Decide: objectives, ideas, scores, and who stands behind an idea.

mod idea;
mod rice;
mod voices;

pub use idea::{Decision, Idea, IdeaState, Objective, Outcome, after_estimate, decide};
pub use rice::{Rice, rank, rice};
pub use voices::{Voices, voices};
