//! How well something was told, beside what people say of the same: the measures that `iron-kite evaluate` prints.

use std::collections::{BTreeMap, BTreeSet};

/// The correlation of two rows of numbers after Pearson, −1 to +1:
///
/// ```text
/// r = Σ (x − x̄)(y − ȳ) / √(Σ (x − x̄)² · Σ (y − ȳ)²)
/// ```
///
/// Nothing where the rows are of different lengths, have fewer than two numbers, or one of them never changes. Linear.
#[must_use]
pub fn pearson(x: &[f64], y: &[f64]) -> Option<f64> {
    if x.len() != y.len() || x.len() < 2 {
        return None;
    }
    let (mean_x, mean_y) = (mean(x), mean(y));
    let (mut both, mut of_x, mut of_y) = (0.0, 0.0, 0.0);
    for (x, y) in x.iter().zip(y) {
        let (dx, dy) = (x - mean_x, y - mean_y);
        both += dx * dy;
        of_x += dx * dx;
        of_y += dy * dy;
    }
    let below = (of_x * of_y).sqrt();
    (below > 0.0).then(|| both / below)
}

fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / float(values.len())
}

#[expect(clippy::cast_precision_loss, reason = "counts of examples are far below 2^52")]
fn float(count: usize) -> f64 {
    count as f64
}

/// How often each class was told where each was right.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Confusion {
    /// By the right class and the one that was told.
    pub counts: BTreeMap<(String, String), usize>,
}

impl Confusion {
    /// Counts pairs of the right class and the one that was told.
    pub fn of<'a>(pairs: impl IntoIterator<Item = (&'a str, &'a str)>) -> Self {
        let mut counts = BTreeMap::new();
        for (right, told) in pairs {
            *counts.entry((right.to_owned(), told.to_owned())).or_insert(0) += 1;
        }
        Confusion { counts }
    }

    /// All classes that were right or told, in the order of their names.
    #[must_use]
    pub fn classes(&self) -> Vec<&str> {
        let all: BTreeSet<&str> =
            self.counts.keys().flat_map(|(right, told)| [right.as_str(), told.as_str()]).collect();
        all.into_iter().collect()
    }

    /// How often this was told where that was right.
    #[must_use]
    pub fn count(&self, right: &str, told: &str) -> usize {
        self.counts.get(&(right.to_owned(), told.to_owned())).copied().unwrap_or_default()
    }

    /// How many there are.
    #[must_use]
    pub fn n(&self) -> usize {
        self.counts.values().sum()
    }

    /// The share that was told right, 0 to 1; 0 where there are none.
    #[must_use]
    pub fn accuracy(&self) -> f64 {
        let right: usize = self.counts.iter().filter(|((a, b), _)| a == b).map(|(_, count)| count).sum();
        share(right, self.n())
    }

    /// The mean over all classes of F1 = 2·TP / (2·TP + FP + FN), each class counting the same however rare it is.
    #[must_use]
    pub fn macro_f1(&self) -> f64 {
        let classes = self.classes();
        let f1 = |class: &&str| {
            let told: usize = classes.iter().map(|right| self.count(right, class)).sum();
            let right: usize = classes.iter().map(|told| self.count(class, told)).sum();
            share(2 * self.count(class, class), told + right)
        };
        if classes.is_empty() { 0.0 } else { classes.iter().map(f1).sum::<f64>() / float(classes.len()) }
    }
}

fn share(part: usize, of: usize) -> f64 {
    if of == 0 { 0.0 } else { float(part) / float(of) }
}

/// How two groupings of the same things fall together: how many lie in each pair of their groups.
struct Together {
    pairs: Vec<f64>,
    one: Vec<f64>,
    other: Vec<f64>,
    n: f64,
}

impl Together {
    fn of(one: &[usize], other: &[usize]) -> Option<Self> {
        if one.len() != other.len() || one.is_empty() {
            return None;
        }
        let mut pairs: BTreeMap<(usize, usize), usize> = BTreeMap::new();
        let (mut first, mut second): (BTreeMap<usize, usize>, BTreeMap<usize, usize>) = Default::default();
        for (a, b) in one.iter().zip(other) {
            *pairs.entry((*a, *b)).or_default() += 1;
            *first.entry(*a).or_default() += 1;
            *second.entry(*b).or_default() += 1;
        }
        let sizes = |groups: &BTreeMap<usize, usize>| groups.values().map(|count| float(*count)).collect();
        let n = float(one.len());
        Some(Together {
            pairs: pairs.values().map(|count| float(*count)).collect(),
            one: sizes(&first),
            other: sizes(&second),
            n,
        })
    }
}

/// The mutual information of two groupings, as a share of the mean of their entropies, 0 to 1 (Strehl and Ghosh 2002,
/// with the arithmetic mean). `one[i]` and `other[i]` are the groups of the same thing. 1 where both put everything
/// into one group. Nothing where the lengths differ or there is nothing. O(n log n).
#[must_use]
pub fn nmi(one: &[usize], other: &[usize]) -> Option<f64> {
    let Together { pairs, one, other, n } = Together::of(one, other)?;
    let entropy = |sizes: &[f64]| -sizes.iter().map(|size| size / n * (size / n).ln()).sum::<f64>();
    let (first, second, both) = (entropy(&one), entropy(&other), entropy(&pairs));
    if first + second <= f64::EPSILON {
        return Some(1.0);
    }
    Some(((first + second - both) / ((first + second) / 2.0)).clamp(0.0, 1.0))
}

/// How often two groupings agree about pairs of things, beyond chance: 1 where they are the same, about 0 by chance, and
/// below it where they agree less than that (Hubert and Arabie 1985, doi:10.1007/BF01908075).
///
/// ```text
/// ARI = (Σ C(nᵢⱼ,2) − E) / ((Σ C(aᵢ,2) + Σ C(bⱼ,2)) / 2 − E),  E = Σ C(aᵢ,2) · Σ C(bⱼ,2) / C(n,2)
/// ```
///
/// Nothing where the lengths differ or there is nothing. O(n log n).
#[must_use]
pub fn ari(one: &[usize], other: &[usize]) -> Option<f64> {
    let Together { pairs, one, other, n } = Together::of(one, other)?;
    let twos = |sizes: &[f64]| sizes.iter().map(|size| size * (size - 1.0) / 2.0).sum::<f64>();
    let (both, first, second, all) = (twos(&pairs), twos(&one), twos(&other), twos(&[n]));
    let chance = if all > 0.0 { first * second / all } else { 0.0 };
    let most = f64::midpoint(first, second);
    if (most - chance).abs() <= f64::EPSILON {
        return Some(1.0);
    }
    Some((both - chance) / (most - chance))
}

/// Of the pairs that stand together by one grouping, the share that still does by another, 0 to 1; nothing where no pair
/// stands together, or the groupings are not of the same things. Linear.
#[must_use]
pub fn kept_together(before: &[usize], after: &[usize]) -> Option<f64> {
    if before.len() != after.len() {
        return None;
    }
    let mut groups: BTreeMap<usize, usize> = BTreeMap::new();
    let mut both: BTreeMap<(usize, usize), usize> = BTreeMap::new();
    for (one, other) in before.iter().zip(after) {
        *groups.entry(*one).or_default() += 1;
        *both.entry((*one, *other)).or_default() += 1;
    }
    let pairs = |count: &usize| float(*count) * (float(*count) - 1.0) / 2.0;
    let all: f64 = groups.values().map(pairs).sum();
    (all > 0.0).then(|| both.values().map(pairs).sum::<f64>() / all)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn near(found: f64, wanted: f64) {
        assert!((found - wanted).abs() < 1e-9, "{found} is not {wanted}");
    }

    // The figures were computed by scikit-learn 1.9.1 and numpy 2.4.6 from the same numbers.
    #[test]
    fn the_measures_are_those_of_another_program() {
        let (x, y) = ([0.1, -0.7, 0.9, 0.4, -0.2, 0.0], [0.3, -0.9, 0.5, 0.6, 0.1, -0.4]);
        near(pearson(&x, &y).unwrap(), PEARSON);
        let right = ["a", "a", "b", "b", "b", "c", "c", "a"];
        let told = ["a", "b", "b", "b", "a", "c", "d", "a"];
        let confusion = Confusion::of(right.into_iter().zip(told));
        near(confusion.accuracy(), ACCURACY);
        near(confusion.macro_f1(), MACRO_F1);
        let (one, other) = ([0, 0, 0, 1, 1, 2, 2, 2, 3], [5, 5, 6, 6, 6, 7, 7, 5, 8]);
        near(nmi(&one, &other).unwrap(), NMI);
        near(ari(&one, &other).unwrap(), ARI);
    }

    const PEARSON: f64 = 0.8378599025233439;
    const ACCURACY: f64 = 0.625;
    const MACRO_F1: f64 = 0.5;
    const NMI: f64 = 0.6762678800834688;
    const ARI: f64 = 0.29064039408866993;

    #[test]
    fn what_cannot_be_measured_is_nothing() {
        assert_eq!(pearson(&[1.0], &[1.0]), None);
        assert_eq!(pearson(&[1.0, 1.0], &[1.0, 2.0]), None);
        assert_eq!(nmi(&[1], &[1, 2]), None);
        assert_eq!(ari(&[], &[]), None);
        assert_eq!(Confusion::of([]).macro_f1().to_bits(), 0.0_f64.to_bits());
    }

    proptest! {
        #[test]
        fn groupings_agree_with_themselves_under_any_names(groups in prop::collection::vec(0_usize..5, 1..40)) {
            let renamed: Vec<usize> = groups.iter().map(|group| 90 - group).collect();
            prop_assert!((nmi(&groups, &renamed).unwrap() - 1.0).abs() < 1e-9);
            prop_assert!((ari(&groups, &renamed).unwrap() - 1.0).abs() < 1e-9);
        }

        #[test]
        fn measures_do_not_care_which_side_is_which(pairs in prop::collection::vec((0_usize..4, 0_usize..4), 2..40)) {
            let (one, other): (Vec<usize>, Vec<usize>) = pairs.into_iter().unzip();
            prop_assert!((nmi(&one, &other).unwrap() - nmi(&other, &one).unwrap()).abs() < 1e-9);
            prop_assert!((ari(&one, &other).unwrap() - ari(&other, &one).unwrap()).abs() < 1e-9);
            prop_assert!((0.0..=1.0).contains(&nmi(&one, &other).unwrap()));
        }
    }

    #[test]
    fn pairs_that_stay_are_counted_as_by_hand() {
        // 0-1, 0-2, 1-2 and 3-4 stand together; 0-1 and 3-4 still do.
        assert_eq!(kept_together(&[0, 0, 0, 1, 1], &[5, 5, 6, 7, 7]), Some(0.5));
        assert_eq!(kept_together(&[0, 1, 2], &[0, 0, 0]), None);
        assert_eq!(kept_together(&[0, 0], &[0]), None);
    }
}
