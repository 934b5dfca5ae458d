//! Several orders of the same things made one.

use std::collections::HashMap;
use std::hash::Hash;

/// How much the first places count beside the later ones.
const DAMPING: f64 = 60.0;

/// Makes one order of several, the best first, with what each is worth:
///
/// ```text
/// worth(x) = Σ_orders 1 / (60 + place of x in the order),  places from 1
/// ```
///
/// Only places count, so orders by likeness and by words need no common scale. Of two that are worth the same, the one that
/// was met first comes first. After G. V. Cormack, C. L. A. Clarke, S. Büttcher, "Reciprocal Rank Fusion Outperforms
/// Condorcet and Individual Rank Learning Methods" (2009). O(n log n).
#[must_use]
pub fn fused<T: Copy + Eq + Hash>(orders: &[Vec<T>]) -> Vec<(T, f64)> {
    let mut worth: HashMap<T, (f64, usize)> = HashMap::new();
    for order in orders {
        let mut place = DAMPING;
        for one in order {
            place += 1.0;
            let met = worth.len();
            worth.entry(*one).or_insert((0.0, met)).0 += 1.0 / place;
        }
    }
    let mut all: Vec<(T, (f64, usize))> = worth.into_iter().collect();
    all.sort_by(|a, b| b.1.0.total_cmp(&a.1.0).then(a.1.1.cmp(&b.1.1)));
    all.into_iter().map(|(one, (worth, _))| (one, worth)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_stands_high_in_both_comes_first() {
        let told: Vec<char> = fused(&[vec!['a', 'b', 'c'], vec!['b', 'd', 'a']]).iter().map(|(one, _)| *one).collect();
        assert_eq!(told, ['b', 'a', 'd', 'c']);
        let both = fused(&[vec!['x'], vec!['x']])[0].1;
        assert!((both - 2.0 / 61.0).abs() < 1e-12);
        assert_eq!(fused::<u8>(&[]), []);
    }
}
