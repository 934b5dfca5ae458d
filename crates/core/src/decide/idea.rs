//! The records of this stage, and what a decision does.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::problem::Problem;
use crate::specify::Moscow;
use crate::things::{IdeaId, ProductId};

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
    pub const fn name(self) -> &'static str {
        match self {
            IdeaState::Raw => "raw",
            IdeaState::Weighing => "weighing",
            IdeaState::Chosen => "chosen",
            IdeaState::Shipped => "shipped",
            IdeaState::SetAside => "set_aside",
        }
    }

    /// Whether it is still to be decided or done, and so is ranked.
    #[must_use]
    pub fn is_open(self) -> bool {
        !matches!(self, IdeaState::Shipped | IdeaState::SetAside)
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
    /// How we guess that it does.
    pub guess: Option<String>,
    /// How we would know.
    pub known_by: Option<String>,
    /// What it costs to do nothing.
    pub cost_of_nothing: Option<String>,
    /// Where it stands.
    pub state: IdeaState,
    /// People reached in a quarter.
    pub reach: Option<f64>,
    /// How much it does for each of them, 0 – 10; 1 is "something".
    pub impact: Option<f64>,
    /// How sure somebody says that we are, 0 – 1; what follows from the evidence where nobody does.
    pub confidence: Option<f64>,
    /// Person-weeks.
    pub effort: Option<f64>,
    /// What it is worth beside other ideas, 0 – 100.
    #[serde(default)]
    pub value: Option<f64>,
    /// How much waiting costs, 0 – 100.
    #[serde(default)]
    pub time_criticality: Option<f64>,
    /// What risk it takes away or what it opens, 0 – 100.
    #[serde(default)]
    pub opportunity: Option<f64>,
    /// Whether it must, should, could or will not be done this time.
    #[serde(default)]
    pub moscow: Option<Moscow>,
    /// The numbers of the ideas that were merged into it, as a JSON array.
    #[serde(default)]
    pub merged: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "idea",
    singular: "idea",
    plural: "ideas",
    letter: Some('I'),
    stage: Stage::Decide,
    list: Some(List { heading: "Ideas", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(5, "title", &["problem", "guess", "known_by", "cost_of_nothing"])),
    prose: &[
        Prose::Text("title"),
        Prose::Text("problem"),
        Prose::Text("guess"),
        Prose::Text("known_by"),
        Prose::Text("cost_of_nothing"),
        Prose::Values("own"),
    ],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("problem", Holds::Text(NOTE)),
        may("guess", Holds::Text(NOTE)),
        may("known_by", Holds::Text(NOTE)),
        may("cost_of_nothing", Holds::Text(NOTE)),
        may("reach", Holds::Number(0.0, HUGE)),
        may("impact", Holds::Number(0.0, 10.0)),
        may("confidence", Holds::Number(0.0, 1.0)),
        may("effort", Holds::Number(0.1, 10_000.0)),
        may("value", Holds::Number(0.0, 100.0)),
        may("time_criticality", Holds::Number(0.0, 100.0)),
        may("opportunity", Holds::Number(0.0, 100.0)),
        may("moscow", Holds::OneOf(Moscow::names)),
    ],
    begins: &[("state", Initial::Is(IdeaState::Raw.name()))],
    // Whoever may listen may suggest one.
    rights: Rights { add: Adding::ByFields(Right::Listen), change: Right::Edit, remove: Some(Right::Edit) },
    ..Description::BASE
};

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

/// The state that an idea has once it is estimated: a raw one is being weighed. Confidence follows from the evidence where nobody
/// says it.
#[must_use]
pub fn after_estimate(idea: &Idea) -> IdeaState {
    let estimated = idea.reach.is_some() && idea.impact.is_some() && idea.effort.is_some();
    if idea.state == IdeaState::Raw && estimated { IdeaState::Weighing } else { idea.state }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// An idea of this number with nothing filled in.
    pub(crate) fn idea(id: i64, state: IdeaState) -> Idea {
        Idea {
            id: IdeaId(id),
            rev: 1,
            product_id: ProductId(1),
            title: "Say it early".into(),
            problem: None,
            guess: None,
            known_by: None,
            cost_of_nothing: None,
            state,
            reach: None,
            impact: None,
            confidence: None,
            effort: None,
            value: None,
            time_criticality: None,
            opportunity: None,
            moscow: None,
            merged: None,
        }
    }

    #[test]
    fn a_decision_moves_an_idea_and_can_be_taken_again() {
        assert_eq!(decide(&idea(9, IdeaState::Raw), Outcome::Chosen), Ok(IdeaState::Chosen));
        assert_eq!(decide(&idea(9, IdeaState::Chosen), Outcome::SetAside), Ok(IdeaState::SetAside));
        assert_eq!(decide(&idea(9, IdeaState::SetAside), Outcome::Chosen), Ok(IdeaState::Chosen));
    }

    #[test]
    fn what_is_out_or_decided_is_refused_in_words() {
        let shipped = decide(&idea(9, IdeaState::Shipped), Outcome::SetAside).unwrap_err();
        assert_eq!(shipped.code(), "idea-is-shipped");
        let again = decide(&idea(9, IdeaState::SetAside), Outcome::SetAside).unwrap_err();
        assert!(again.detail().contains("I9 is set aside already"));
    }
}
