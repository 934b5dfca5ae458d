//! Where one score may lie: from draws, or exactly where a closed form gives it.

use serde::{Deserialize, Serialize};

use super::model::Scorer;
use super::ranking::Estimated;

/// Where a score may lie.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScoreSpread {
    /// One in ten lies below.
    pub low: f64,
    /// A quarter lies below.
    pub quarter: f64,
    /// Half lies below.
    pub median: f64,
    /// A quarter lies above.
    pub three_quarters: f64,
    /// One in ten lies above.
    pub high: f64,
    /// Whether it was computed exactly, and not drawn.
    pub exact: bool,
}

/// The quantiles of scores, between the two nearest (the seventh of R. J. Hyndman and Y. Fan, 1996). Linear.
pub(super) fn spread_of(scores: &mut [f64]) -> ScoreSpread {
    let mut from = 0;
    let mut next = |at: f64| {
        #[allow(clippy::cast_precision_loss, reason = "counts of draws")]
        let place = at * (scores.len() - 1) as f64;
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a place in the list")]
        let below = place.floor() as usize;
        // All before `from` is less already, so that each look is at what is left.
        let (_, low, above) = scores[from..].select_nth_unstable_by(below - from, f64::total_cmp);
        let low = *low;
        let high = above.iter().copied().min_by(f64::total_cmp).unwrap_or(low);
        from = below;
        low + (high - low) * place.fract()
    };
    ScoreSpread {
        low: next(0.1),
        quarter: next(0.25),
        median: next(0.5),
        three_quarters: next(0.75),
        high: next(0.9),
        exact: false,
    }
}

/// The spread where a closed form gives it: at most one estimate is uncertain, and the score only rises or only falls with it.
pub(super) fn exact_spread(scorer: &Scorer, fields: &[Estimated]) -> Option<ScoreSpread> {
    /// The score is looked at in so many places to see whether it only rises or falls.
    const LOOKS: u32 = 256;
    let mut uncertain = fields.iter().enumerate().filter(|(_, one)| !one.range.is_exact());
    let (first, more) = (uncertain.next(), uncertain.next().is_some());
    let mut values: Vec<f64> = fields.iter().map(|one| one.range.likely).collect();
    let Some((at, one)) = first else {
        let score = scorer.score(&values).unwrap_or(0.0);
        return Some(ScoreSpread {
            low: score,
            quarter: score,
            median: score,
            three_quarters: score,
            high: score,
            exact: true,
        });
    };
    if more {
        return None;
    }
    let mut score = |u: f64| {
        values[at] = one.range.quantile(u);
        scorer.score(&values).unwrap_or(0.0)
    };
    let looks: Vec<f64> = (0..=LOOKS).map(|n| score(f64::from(n) / f64::from(LOOKS))).collect();
    let rises = looks.windows(2).all(|pair| pair[0] <= pair[1]);
    let falls = looks.windows(2).all(|pair| pair[0] >= pair[1]);
    if !rises && !falls {
        return None;
    }
    let mut at = |u: f64| score(if rises { u } else { 1.0 - u });
    Some(ScoreSpread {
        low: at(0.1),
        quarter: at(0.25),
        median: at(0.5),
        three_quarters: at(0.75),
        high: at(0.9),
        exact: true,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// By sorting, and the formula of the seventh definition.
    fn by_sorting(values: &[f64], at: f64) -> f64 {
        let mut sorted = values.to_vec();
        sorted.sort_by(f64::total_cmp);
        let place = at * f64::from(u32::try_from(sorted.len() - 1).unwrap());
        let below = (0..sorted.len()).rev().find(|n| f64::from(u32::try_from(*n).unwrap()) <= place).unwrap();
        let above = (below + 1).min(sorted.len() - 1);
        sorted[below] + (sorted[above] - sorted[below]) * (place - f64::from(u32::try_from(below).unwrap()))
    }

    proptest! {
        #[test]
        fn quantiles_are_those_of_the_sorted_values(values in prop::collection::vec(-1e3..1e3f64, 1..200)) {
            let told = spread_of(&mut values.clone());
            let parts = [(told.low, 0.1), (told.quarter, 0.25), (told.median, 0.5), (told.three_quarters, 0.75), (told.high, 0.9)];
            for (found, at) in parts {
                prop_assert!((found - by_sorting(&values, at)).abs() < 1e-9, "{} at {}", found, at);
            }
        }
    }
}
