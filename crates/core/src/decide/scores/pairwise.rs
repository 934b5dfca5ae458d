//! Weights from comparisons by pairs, and whether the comparisons agree with one another.
//!
//! The weights are the principal eigenvector of the matrix of comparisons, the consistency ratio is that of T. Saaty, "The
//! Analytic Hierarchy Process" (1980).

use serde::{Deserialize, Serialize};

/// Weights that follow from comparisons.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Weighed {
    /// The weights, which sum to 1.
    pub weights: Vec<f64>,
    /// The largest eigenvalue; as large as the number of criteria where all agrees.
    pub eigenvalue: f64,
    /// The consistency ratio: 0 where all agrees, as by chance at 1. Above 0.1 the comparisons are worth another look.
    pub ratio: f64,
    /// The comparison that agrees least with the others, as two places, where the ratio is above 0.1.
    pub doubtful: Option<(usize, usize)>,
}

/// The mean consistency index of matrices filled by chance, by their size (Saaty 1980).
const BY_CHANCE: [f64; 11] = [0.0, 0.0, 0.0, 0.58, 0.90, 1.12, 1.24, 1.32, 1.41, 1.45, 1.49];
/// The most that one criterion weighs against another.
const MOST: f64 = 9.0;

/// The weights of `count` criteria (2 – 10), where `pairs` says, row by row above the diagonal, how often each weighs as
/// much as each later one: 1/9 – 9. O(n² × steps).
///
/// # Errors
/// In words, where a comparison is missing or beyond the scale.
pub fn weigh(count: usize, pairs: &[f64]) -> Result<Weighed, String> {
    if !(2..BY_CHANCE.len()).contains(&count) || pairs.len() != count * (count - 1) / 2 {
        return Err(format!(
            "Compare each of 2 to 10 criteria with each other one: {} comparisons of {count}.",
            count * count.saturating_sub(1) / 2
        ));
    }
    if pairs.iter().any(|pair| !(1.0 / MOST - 1e-9..=MOST + 1e-9).contains(pair)) {
        return Err("A comparison goes from 1/9 to 9.".into());
    }
    let mut matrix = vec![vec![1.0; count]; count];
    for ((row, column), pair) in places(count).zip(pairs) {
        matrix[row][column] = *pair;
        matrix[column][row] = 1.0 / pair;
    }
    let (weights, eigenvalue) = principal(&matrix);
    let size = f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    let index = ((eigenvalue - size) / (size - 1.0)).max(0.0);
    let ratio = if BY_CHANCE[count] > 0.0 { index / BY_CHANCE[count] } else { 0.0 };
    let doubtful = (ratio > 0.1).then(|| most_off(&matrix, &weights)).flatten();
    Ok(Weighed { weights, eigenvalue, ratio, doubtful })
}

/// The principal eigenvector, which sums to 1, and its value, by repeated multiplication.
fn principal(matrix: &[Vec<f64>]) -> (Vec<f64>, f64) {
    let even = 1.0 / f64::from(u32::try_from(matrix.len()).unwrap_or(1));
    let mut weights = vec![even; matrix.len()];
    let mut eigenvalue = 0.0;
    for _ in 0..500 {
        let next: Vec<f64> =
            matrix.iter().map(|row| row.iter().zip(&weights).map(|(pair, weight)| pair * weight).sum()).collect();
        eigenvalue = next.iter().sum();
        let next: Vec<f64> = next.iter().map(|weight| weight / eigenvalue).collect();
        let moved: f64 = next.iter().zip(&weights).map(|(a, b)| (a - b).abs()).sum();
        weights = next;
        if moved < 1e-13 {
            break;
        }
    }
    (weights, eigenvalue)
}

/// Each pair of criteria once, in the order of the comparisons.
fn places(count: usize) -> impl Iterator<Item = (usize, usize)> {
    (0..count).flat_map(move |row| (row + 1..count).map(move |column| (row, column)))
}

fn most_off(matrix: &[Vec<f64>], weights: &[f64]) -> Option<(usize, usize)> {
    let off = |(row, column): &(usize, usize)| (matrix[*row][*column] * weights[*column] / weights[*row]).ln().abs();
    places(weights.len()).max_by(|a, b| off(a).total_cmp(&off(b)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// The comparison of six sides of a school, T. Saaty 1980, with the weights and the ratio that are printed there.
    #[test]
    fn it_agrees_with_the_published_matrix() {
        #[rustfmt::skip]
        let pairs = [
            4.0, 3.0, 1.0, 3.0, 4.0,
            7.0, 3.0, 1.0 / 5.0, 1.0,
            1.0 / 5.0, 1.0 / 5.0, 1.0 / 6.0,
            1.0, 1.0 / 3.0,
            3.0,
        ];
        let told = weigh(6, &pairs).unwrap();
        for (weight, printed) in told.weights.iter().zip([0.32, 0.14, 0.03, 0.13, 0.24, 0.14]) {
            assert!((weight - printed).abs() < 0.006, "{:?}", told.weights);
        }
        assert!((told.eigenvalue - 7.49).abs() < 0.1, "{}", told.eigenvalue);
        assert!((told.ratio - 0.24).abs() < 0.02, "{}", told.ratio);
        assert!(told.doubtful.is_some());
    }

    #[test]
    fn what_does_not_fit_is_told() {
        assert!(weigh(3, &[1.0, 2.0]).unwrap_err().contains("3 comparisons"));
        assert!(weigh(1, &[]).is_err() && weigh(11, &[1.0; 55]).is_err());
        assert!(weigh(2, &[10.0]).unwrap_err().contains("1/9 to 9"));
        assert!(weigh(2, &[f64::NAN]).is_err());
    }

    proptest! {
        /// Comparisons that follow from weights give these weights back, and agree.
        #[test]
        fn comparisons_that_agree_give_their_weights_back(given in prop::collection::vec(1.0..3.0f64, 2..=10)) {
            let pairs: Vec<f64> = places(given.len()).map(|(row, column)| given[row] / given[column]).collect();
            let told = weigh(given.len(), &pairs).unwrap();
            let all: f64 = given.iter().sum();
            prop_assert!(told.weights.iter().zip(&given).all(|(found, weight)| (found - weight / all).abs() < 1e-9));
            prop_assert!(told.ratio.abs() < 1e-6 && told.doubtful.is_none());
        }
    }
}
