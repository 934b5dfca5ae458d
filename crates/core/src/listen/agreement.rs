//! How far two who judged the same things agree beyond what chance alone brings.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// Fewer judgements than this say nothing of anybody.
pub const LEAST_JUDGED: usize = 20;

/// How far two judges agree.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Agreement {
    /// What both judged.
    pub judged: usize,
    /// Of it, what both judged alike.
    pub alike: usize,
    /// Cohen's kappa, −1 to 1; nothing where chance alone explains everything, as where both always say the same.
    pub kappa: Option<f64>,
    /// Half the width of its interval that holds at 95 %.
    pub margin: Option<f64>,
    /// What that means.
    pub means: Strength,
}

/// What a kappa means in words, after Landis and Koch (1977), <https://doi.org/10.2307/2529310>.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Strength {
    /// Too little was judged, or there is no kappa.
    Unknown,
    /// Below zero: worse than chance.
    None,
    /// Up to 0.20.
    Slight,
    /// Up to 0.40.
    Fair,
    /// Up to 0.60.
    Moderate,
    /// Up to 0.80.
    Substantial,
    /// Above.
    AlmostFull,
}

/// Compares two judges over what both judged, by Cohen's kappa (1960), <https://doi.org/10.1177/001316446002000104>:
///
/// ```text
/// κ = (pₒ − pₑ) / (1 − pₑ)
///
/// pₒ  the share that was judged alike
/// pₑ  Σ over the classes of (share of the first judge · share of the second judge)
/// ```
///
/// The margin is 1.96 standard errors after Fleiss, Cohen and Everitt (1969), <https://doi.org/10.1037/h0028106>. Each pair is what
/// the first and what the second said of one thing. n log n in the pairs.
#[must_use]
#[expect(clippy::cast_precision_loss, reason = "counts of judgements are far below 2^52")]
pub fn agreement<'a>(pairs: impl IntoIterator<Item = (&'a str, &'a str)>) -> Agreement {
    let mut cells: BTreeMap<(&str, &str), usize> = BTreeMap::new();
    let (mut first, mut second): (BTreeMap<&str, usize>, BTreeMap<&str, usize>) = Default::default();
    for (one, other) in pairs {
        *cells.entry((one, other)).or_default() += 1;
        *first.entry(one).or_default() += 1;
        *second.entry(other).or_default() += 1;
    }
    let judged: usize = cells.values().sum();
    let alike: usize = cells.iter().filter(|((one, other), _)| one == other).map(|(_, count)| count).sum();
    let all = judged.max(1) as f64;
    let share = |of: &BTreeMap<&str, usize>, class: &str| of.get(class).map_or(0.0, |count| *count as f64 / all);
    let observed = alike as f64 / all;
    let expected: f64 = first.keys().map(|class| share(&first, class) * share(&second, class)).sum();
    let beyond = 1.0 - expected;
    if judged == 0 || beyond < 1e-12 {
        return Agreement { judged, alike, kappa: None, margin: None, means: Strength::Unknown };
    }
    let kappa = (observed - expected) / beyond;
    let spread: f64 = cells
        .iter()
        .map(|((one, other), count)| {
            let cell = *count as f64 / all;
            if one == other {
                let both = share(&second, one) + share(&first, one);
                cell * (beyond - both * (1.0 - observed)).powi(2)
            } else {
                cell * (1.0 - observed).powi(2) * (share(&second, one) + share(&first, other)).powi(2)
            }
        })
        .sum();
    let away = (observed * expected - 2.0 * expected + observed).powi(2);
    let variance = ((spread - away) / (all * beyond.powi(4))).max(0.0);
    let means = if judged < LEAST_JUDGED { Strength::Unknown } else { strength(kappa) };
    Agreement { judged, alike, kappa: Some(kappa), margin: Some(1.96 * variance.sqrt()), means }
}

fn strength(kappa: f64) -> Strength {
    match kappa {
        k if k < 0.0 => Strength::None,
        k if k <= 0.2 => Strength::Slight,
        k if k <= 0.4 => Strength::Fair,
        k if k <= 0.6 => Strength::Moderate,
        k if k <= 0.8 => Strength::Substantial,
        _ => Strength::AlmostFull,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of_table<const N: usize>(table: [[usize; N]; N]) -> Agreement {
        let names: Vec<String> = (0..N).map(|n| n.to_string()).collect();
        let cell = |one: usize, other: usize| vec![(names[one].as_str(), names[other].as_str()); table[one][other]];
        agreement((0..N).flat_map(|one| (0..N).flat_map(move |other| cell(one, other))))
    }

    fn close(one: Option<f64>, other: f64) -> bool {
        one.is_some_and(|one| (one - other).abs() < 5e-7)
    }

    /// The tables and what statsmodels 0.15.0 (`cohens_kappa`, `std_kappa`) says of them.
    #[test]
    fn it_agrees_with_another_program() {
        let two = of_table([[20, 5], [10, 15]]);
        assert_eq!((two.judged, two.alike), (50, 35));
        assert!(close(two.kappa, 0.4) && close(two.margin.map(|m| m / 1.96), 0.126_996_06), "{two:?}");
        let three = of_table([[44, 5, 1], [7, 20, 3], [9, 5, 6]]);
        assert!(close(three.kappa, 0.491_525_42) && close(three.margin.map(|m| m / 1.96), 0.072_127_46), "{three:?}");
        let uneven = of_table([[0, 6, 2, 0], [1, 3, 0, 9], [2, 0, 8, 1], [5, 5, 1, 2]]);
        assert!(
            close(uneven.kappa, 0.041_278_30) && close(uneven.margin.map(|m| m / 1.96), 0.090_885_76),
            "{uneven:?}"
        );
    }

    #[test]
    fn what_says_nothing_is_said_to_say_nothing() {
        assert_eq!(agreement([]).kappa, None);
        // Two who always say the same may agree by chance alone.
        assert_eq!(of_table([[30, 0], [0, 0]]).kappa, None);
        assert_eq!(of_table([[9, 0], [0, 9]]).means, Strength::Unknown);
        assert_eq!(of_table([[15, 0], [0, 9]]).means, Strength::AlmostFull);
        assert_eq!(of_table([[0, 15], [9, 0]]).means, Strength::None);
    }
}
