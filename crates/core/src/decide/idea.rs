//! The records of this stage, and what a decision does.

use serde::{Deserialize, Serialize};

use crate::problem::Problem;
use crate::things::{IdeaId, ObjectiveId, ProductId};

/// A goal with a measure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Objective {
    /// Its number.
    pub id: ObjectiveId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is for.
    pub product_id: ProductId,
    /// The goal in a few words.
    pub title: String,
    /// What is counted.
    pub measure: String,
    /// In what.
    pub unit: Option<String>,
    /// Where it stood.
    pub start_value: f64,
    /// Where it is to be.
    pub target_value: f64,
    /// Where it stands.
    pub present_value: Option<f64>,
    /// By when, `YYYY-MM-DD`.
    pub due_on: Option<String>,
}

/// Where an idea stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum IdeaState {
    /// Written down.
    Raw,
    /// Being looked at: it has an estimate.
    Weighing,
    /// It will be done.
    Chosen,
    /// It is out.
    Shipped,
    /// It will not be done, for now.
    SetAside,
}

impl IdeaState {
    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            IdeaState::Raw => "raw",
            IdeaState::Weighing => "weighing",
            IdeaState::Chosen => "chosen",
            IdeaState::Shipped => "shipped",
            IdeaState::SetAside => "set_aside",
        }
    }
}

/// A guess at how to reach an objective.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Idea {
    /// Its number.
    pub id: IdeaId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is for.
    pub product_id: ProductId,
    /// The idea in a few words.
    pub title: String,
    /// The problem that it solves.
    pub problem: Option<String>,
    /// Where it stands.
    pub state: IdeaState,
    /// People reached in a quarter.
    pub reach: Option<f64>,
    /// How much it does for each of them, 0 – 10; 1 is "something".
    pub impact: Option<f64>,
    /// How sure we are, 0 – 1.
    pub confidence: Option<f64>,
    /// Person-weeks.
    pub effort: Option<f64>,
}

/// What a decision says.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// It will be done.
    Chosen,
    /// It will not be done, for now.
    SetAside,
}

/// A decision as it was taken, with the score that it rested on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Decision {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// What was decided about.
    pub idea_id: IdeaId,
    /// What was decided.
    pub outcome: Outcome,
    /// Why.
    pub reason: String,
    /// The RICE score at that moment.
    pub score: Option<f64>,
    /// The person who decided.
    pub decided_by: Option<i64>,
    /// The day, `YYYY-MM-DD`.
    pub decided_on: String,
}

/// What becomes of an idea by a decision.
///
/// # Errors
/// Refused where the idea is out already, or the decision would say what is so already.
pub fn decide(idea: &Idea, outcome: Outcome) -> Result<IdeaState, Problem> {
    let next = match outcome {
        Outcome::Chosen => IdeaState::Chosen,
        Outcome::SetAside => IdeaState::SetAside,
    };
    if idea.state == IdeaState::Shipped {
        return Err(Problem::refused(
            "idea-is-shipped",
            format!("{} is shipped already. Note a result on it instead.", idea.id),
        ));
    }
    if idea.state == next {
        return Err(Problem::refused(
            "already-decided",
            format!("{} is {} already.", idea.id, next.name().replace('_', " ")),
        ));
    }
    Ok(next)
}

/// The state that an idea has once it is estimated: a raw one with all four parts is being weighed.
#[must_use]
pub fn after_estimate(idea: &Idea) -> IdeaState {
    let estimated = idea.reach.is_some() && idea.impact.is_some() && idea.confidence.is_some() && idea.effort.is_some();
    if idea.state == IdeaState::Raw && estimated { IdeaState::Weighing } else { idea.state }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn idea(state: IdeaState) -> Idea {
        Idea {
            id: IdeaId(9),
            rev: 1,
            product_id: ProductId(1),
            title: "Say it early".into(),
            problem: None,
            state,
            reach: None,
            impact: None,
            confidence: None,
            effort: None,
        }
    }

    #[test]
    fn a_decision_moves_an_idea_and_can_be_taken_again() {
        assert_eq!(decide(&idea(IdeaState::Raw), Outcome::Chosen), Ok(IdeaState::Chosen));
        assert_eq!(decide(&idea(IdeaState::Chosen), Outcome::SetAside), Ok(IdeaState::SetAside));
        assert_eq!(decide(&idea(IdeaState::SetAside), Outcome::Chosen), Ok(IdeaState::Chosen));
    }

    #[test]
    fn what_is_out_or_decided_is_refused_in_words() {
        let shipped = decide(&idea(IdeaState::Shipped), Outcome::SetAside).unwrap_err();
        assert_eq!(shipped.code(), "idea-is-shipped");
        let again = decide(&idea(IdeaState::SetAside), Outcome::SetAside).unwrap_err();
        assert!(again.detail().contains("I9 is set aside already"));
    }
}
