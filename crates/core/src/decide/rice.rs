//! RICE: reach × impact × confidence ÷ effort.

use serde::{Deserialize, Serialize};

use super::Idea;

/// The score of an idea, or what is missing for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rice {
    /// People helped a quarter for each person-week of work, weighted by impact and confidence.
    pub score: Option<f64>,
    /// The place among the scored ideas, from 1; ideas with the same score share one.
    pub rank: Option<usize>,
    /// The names of the parts that are not estimated yet.
    pub missing: Vec<String>,
}

/// The RICE score of an idea. `told` is the confidence that follows from its evidence, 0 – 1; what somebody says of the idea
/// stands before it.
///
/// ```text
/// score = reach per quarter · impact · confidence / effort in person-weeks
/// ```
///
/// No score where a part is missing: nothing is assumed. The method is S. McBride's (2016).
#[must_use]
pub fn rice(idea: &Idea, told: Option<f64>) -> Rice {
    let confidence = idea.confidence.or(told);
    let parts = [("reach", idea.reach), ("impact", idea.impact), ("confidence", confidence), ("effort", idea.effort)];
    let missing: Vec<String> = parts.iter().filter(|(_, v)| v.is_none()).map(|(name, _)| (*name).to_owned()).collect();
    let score = match parts.map(|(_, value)| value) {
        [Some(reach), Some(impact), Some(confidence), Some(effort)] if effort > 0.0 => {
            Some(reach * impact * confidence / effort)
        }
        _ => None,
    };
    Rice { score, rank: None, missing }
}

/// Orders scored things from best to worst, those without a score last and otherwise as they came,
/// and gives each scored one its rank; equal scores share a rank and the next one is skipped.
/// O(n log n).
pub fn rank<T>(things: &mut [(T, Rice)]) {
    things.sort_by(|(_, a), (_, b)| match (a.score, b.score) {
        (Some(a), Some(b)) => b.total_cmp(&a),
        (a, b) => a.is_none().cmp(&b.is_none()),
    });
    let (mut before, mut shared) = (None, 0);
    for (at, (_, rice)) in things.iter_mut().enumerate().filter(|(_, (_, rice))| rice.score.is_some()) {
        if rice.score != before {
            (before, shared) = (rice.score, at + 1);
        }
        rice.rank = Some(shared);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::decide::IdeaState;
    use proptest::prelude::*;

    fn idea(reach: Option<f64>, effort: Option<f64>) -> Idea {
        let one = crate::decide::tests_support::idea(1, IdeaState::Raw);
        Idea { reach, effort, impact: Some(2.0), confidence: Some(0.8), ..one }
    }

    #[test]
    fn a_score_done_by_hand() {
        // 500 · 2 · 0.8 / 4 = 200
        assert_eq!(rice(&idea(Some(500.0), Some(4.0)), None).score, Some(200.0));
        // What somebody says stands before what the evidence tells: 500 · 2 · 0.5 / 4 = 125 without.
        assert_eq!(rice(&idea(Some(500.0), Some(4.0)), Some(0.5)).score, Some(200.0));
        let silent = Idea { confidence: None, ..idea(Some(500.0), Some(4.0)) };
        assert_eq!(rice(&silent, Some(0.5)).score, Some(125.0));
    }

    #[test]
    fn what_is_missing_is_named_and_nothing_assumed() {
        let rice = rice(&idea(None, None), None);
        assert_eq!(rice.score, None);
        assert_eq!(rice.missing, ["reach", "effort"]);
    }

    proptest! {
        #[test]
        fn ranks_are_one_more_than_the_number_of_better_scores(scores in prop::collection::vec(prop::option::of(0..5u8), 0..30)) {
            let mut things: Vec<(usize, Rice)> = scores
                .iter()
                .enumerate()
                .map(|(n, s)| (n, Rice { score: s.map(f64::from), rank: None, missing: vec![] }))
                .collect();
            rank(&mut things);
            let mut seen: Vec<usize> = things.iter().map(|t| t.0).collect();
            for (n, rice) in &things {
                let better = scores.iter().flatten().filter(|s| f64::from(**s) > rice.score.unwrap_or(f64::MAX)).count();
                prop_assert_eq!(rice.rank, scores[*n].map(|_| better + 1));
            }
            prop_assert!(things.windows(2).all(|p| p[0].1.score.unwrap_or(-1.0) >= p[1].1.score.unwrap_or(-1.0)));
            seen.sort_unstable();
            prop_assert_eq!(seen, (0..scores.len()).collect::<Vec<_>>());
        }
    }
}
