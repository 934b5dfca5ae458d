//! Ideas that are one.

use serde_json::{Map, Value};

use super::{Idea, IdeaState};
use crate::problem::Problem;

/// What stands between the texts of two ideas that became one.
const BETWEEN: &str = "\n\n";

/// What the idea that stays says after another becomes a part of it: what only the other said is taken over, what both said
/// stands one below the other, and estimates stay where there are any. The further of the two states holds.
///
/// # Errors
/// Refused where one was chosen or is out and the other was set aside: somebody must decide first.
pub fn merged(kept: &Idea, other: &Idea) -> Result<Map<String, Value>, Problem> {
    let state = further(kept, other)?;
    let mut set = Map::new();
    let texts = [
        ("problem", &kept.problem, &other.problem),
        ("guess", &kept.guess, &other.guess),
        ("known_by", &kept.known_by, &other.known_by),
        ("cost_of_nothing", &kept.cost_of_nothing, &other.cost_of_nothing),
    ];
    for (name, mine, theirs) in texts {
        let both = match (mine, theirs) {
            (Some(mine), Some(theirs)) if mine.trim() != theirs.trim() => Some(format!("{mine}{BETWEEN}{theirs}")),
            (None, Some(theirs)) => Some(theirs.clone()),
            _ => None,
        };
        if let Some(both) = both {
            set.insert(name.to_owned(), both.into());
        }
    }
    let estimates = [
        ("reach", kept.reach, other.reach),
        ("impact", kept.impact, other.impact),
        ("confidence", kept.confidence, other.confidence),
        ("effort", kept.effort, other.effort),
    ];
    for (name, mine, theirs) in estimates {
        if let (None, Some(theirs)) = (mine, theirs) {
            set.insert(name.to_owned(), theirs.into());
        }
    }
    if state != kept.state {
        set.insert("state".to_owned(), state.name().into());
    }
    let mut all = kept.merged_ids();
    all.push(other.id.0);
    all.extend(other.merged_ids());
    set.insert("merged".to_owned(), Value::String(Value::from(all).to_string()));
    Ok(set)
}

fn further(kept: &Idea, other: &Idea) -> Result<IdeaState, Problem> {
    let rank = |state: IdeaState| match state {
        IdeaState::SetAside => 0,
        IdeaState::Raw => 1,
        IdeaState::Weighing => 2,
        IdeaState::Chosen => 3,
        IdeaState::Shipped => 4,
    };
    let (low, high) = (rank(kept.state).min(rank(other.state)), rank(kept.state).max(rank(other.state)));
    if low == 0 && high >= 3 {
        let words =
            format!("{} and {} were decided differently. Decide again about one of them first.", kept.id, other.id);
        return Err(Problem::refused("decided-differently", words));
    }
    Ok(if rank(kept.state) == high { kept.state } else { other.state })
}

impl Idea {
    /// The numbers of the ideas that were merged into it.
    #[must_use]
    pub fn merged_ids(&self) -> Vec<i64> {
        self.merged.as_deref().and_then(|text| serde_json::from_str(text).ok()).unwrap_or_default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::decide::tests_support::idea;
    use serde_json::json;

    #[test]
    fn what_either_said_is_kept() {
        let kept = Idea { problem: Some("They wait.".into()), reach: Some(10.0), ..idea(1, IdeaState::Raw) };
        let other = Idea {
            problem: Some("They freeze.".into()),
            guess: Some("A message helps.".into()),
            reach: Some(99.0),
            effort: Some(2.0),
            merged: Some("[5]".into()),
            ..idea(2, IdeaState::Weighing)
        };
        let expected = json!({
            "problem": "They wait.\n\nThey freeze.", "guess": "A message helps.", "effort": 2.0, "state": "weighing",
            "merged": "[2,5]",
        });
        assert_eq!(Value::Object(merged(&kept, &other).unwrap()), expected);
        let again = Idea { problem: kept.problem.clone(), ..idea(3, IdeaState::Raw) };
        assert!(!merged(&kept, &again).unwrap().contains_key("problem"), "the same is not said twice");
    }

    #[test]
    fn what_was_decided_differently_is_decided_first() {
        let chosen = idea(1, IdeaState::Chosen);
        let refused = merged(&chosen, &idea(2, IdeaState::SetAside)).unwrap_err();
        assert_eq!(refused.code(), "decided-differently");
        assert!(!merged(&chosen, &idea(2, IdeaState::Raw)).unwrap().contains_key("state"));
    }
}
