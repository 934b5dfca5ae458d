//! Why an idea stands where it stands: what each criterion makes of the difference to a typical idea.

use serde::{Deserialize, Serialize};

use super::model::Scorer;

/// What one field makes of the difference between an idea's score and that of a typical one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScoreShare {
    /// The field.
    pub field: String,
    /// The idea's value.
    pub value: f64,
    /// The typical one: the median of all ideas.
    pub typical: f64,
    /// How much it adds to the score, or takes from it.
    pub adds: f64,
}

/// Divides the difference between the score of an idea and that of a typical one among the fields: the Shapley value (L.
/// Shapley 1953), which takes the mean over all orders in which the fields could be changed from the typical to the idea's.
/// The parts sum to the difference. Nothing where a score cannot be computed. O(2ⁿ × formula) of n fields.
#[must_use]
pub fn shares(scorer: &Scorer, values: &[f64], typical: &[f64]) -> Option<(f64, Vec<ScoreShare>)> {
    let count = values.len();
    let score_of = |taken: usize| {
        let mixed: Vec<f64> =
            (0..count).map(|at| if taken >> at & 1 == 1 { values[at] } else { typical[at] }).collect();
        scorer.score(&mixed)
    };
    let scores: Vec<f64> = (0..1usize << count).map(score_of).collect::<Option<_>>()?;
    let weights = weights(count);
    let shares = (0..count)
        .map(|at| {
            let without = (0..1usize << count).filter(|taken| taken >> at & 1 == 0);
            let adds = without
                .map(|taken| weights[taken.count_ones() as usize] * (scores[taken | 1 << at] - scores[taken]))
                .sum();
            ScoreShare { field: scorer.fields()[at].clone(), value: values[at], typical: typical[at], adds }
        })
        .collect();
    Some((scores[0], shares))
}

/// The median of each field over several ideas: what a typical idea has. Of an even number, the lower of the two in the middle,
/// so that it is one that some idea has. O(n log n).
#[must_use]
pub fn typical(all: &[Vec<f64>]) -> Vec<f64> {
    let fields = all.first().map_or(0, Vec::len);
    (0..fields)
        .map(|at| {
            let mut values: Vec<f64> = all.iter().map(|one| one[at]).collect();
            values.sort_by(f64::total_cmp);
            values[(values.len() - 1) / 2]
        })
        .collect()
}

/// The part of all orders in which so many others come before: s! (n − 1 − s)! / n!.
fn weights(count: usize) -> Vec<f64> {
    let factorial = |n: usize| (1..=n).map(|k| f64::from(u32::try_from(k).unwrap_or(1))).product::<f64>();
    (0..count).map(|before| factorial(before) * factorial(count - 1 - before) / factorial(count)).collect()
}

#[cfg(test)]
mod tests {
    use super::super::first_models::first_model;
    use super::super::model::Method;
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_sum_is_divided_into_its_parts() {
        let scorer = first_model(Method::Weighted).check().unwrap();
        // Impact, reach, confidence, revenue, effort: each apart from the typical one by a known part of its scale.
        let (typical, told) =
            shares(&scorer, &[3.0, 3_000.0, 0.5, 150_000.0, 13.0], &[1.5, 3_000.0, 0.5, 0.0, 26.0]).unwrap();
        assert!((typical - 35.0).abs() < 1e-9);
        let adds: Vec<f64> = told.iter().map(|share| (share.adds * 1e6).round() / 1e6).collect();
        assert_eq!(adds, [15.0, 0.0, 0.0, 5.0, 10.0]);
    }

    #[test]
    fn a_typical_idea_has_the_median_of_each_field() {
        assert_eq!(typical(&[vec![1.0, 9.0], vec![5.0, 2.0], vec![3.0, 4.0]]), [3.0, 4.0]);
        assert_eq!(typical(&[vec![1.0], vec![5.0]]), [1.0]);
        assert!(typical(&[]).is_empty());
    }

    proptest! {
        #[test]
        fn the_parts_sum_to_the_difference(a in prop::array::uniform4(0.1..50.0f64), b in prop::array::uniform4(0.1..50.0f64)) {
            let scorer = first_model(Method::Rice).check().unwrap();
            let (typical, told) = shares(&scorer, &a, &b).unwrap();
            let sum: f64 = told.iter().map(|share| share.adds).sum();
            let difference = scorer.score(&a).unwrap() - typical;
            prop_assert!((sum - difference).abs() < 1e-6 * (1.0 + difference.abs()));
            // What is the same adds nothing.
            let (_, same) = shares(&scorer, &[a[0], b[1], b[2], b[3]], &b).unwrap();
            prop_assert!(same[1..].iter().all(|share| share.adds.abs() < 1e-9));
        }
    }
}
