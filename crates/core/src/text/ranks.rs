//! How well passages fit a question, and what they are parts of.

use std::collections::BTreeMap;

/// What it adds to likeness that a passage holds all words of the question.
const BY_WORDS: f64 = 0.06;
/// How fast later places count less.
const LATER: f64 = 60.0;

/// How rare a word is that stands in `held` of `all` texts: ln(1 + all / held). A word that stands nowhere counts as if it
/// stood once.
#[must_use]
pub fn rarity(held: i64, all: i64) -> f64 {
    let float = |count: i64| f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    (1.0 + float(all) / float(held.max(1))).ln()
}

/// What a passage is worth as an answer:
///
/// ```text
/// cosine of the meanings + 0.06 · Σ rarity of the words of the question that it holds / Σ rarity of all of them
/// ```
///
/// What that is worth beside other ways stands in `docs/methods/findings.md`.
#[must_use]
pub fn worth(alike: f32, held: f64, all: f64) -> f64 {
    f64::from(alike) + if all > 0.0 { BY_WORDS * held / all } else { 0.0 }
}

/// What passages in their order are parts of, with how many of them: first what has more parts and better ones, each part
/// worth 1 / (60 + its place), as in reciprocal rank fusion (G. V. Cormack, C. L. A. Clarke, S. Büttcher, 2009). Of two that are
/// worth the same, the smaller first. O(parts · log wholes).
#[must_use]
pub fn wholes<T: Copy + Ord>(parts: &[Vec<T>]) -> Vec<(T, usize)> {
    let mut worth: BTreeMap<T, (f64, usize)> = BTreeMap::new();
    for (wholes, place) in parts.iter().zip(1_u32..) {
        for whole in wholes {
            let (sum, count) = worth.entry(*whole).or_default();
            *sum += 1.0 / (LATER + f64::from(place));
            *count += 1;
        }
    }
    let mut order: Vec<(T, (f64, usize))> = worth.into_iter().collect();
    order.sort_by(|a, b| b.1.0.total_cmp(&a.1.0).then(a.0.cmp(&b.0)));
    order.into_iter().map(|(whole, (_, count))| (whole, count)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rare_words_count_more_and_none_count_nothing() {
        assert!((rarity(1, 3) - 4.0_f64.ln()).abs() < 1e-12);
        assert_eq!(rarity(0, 3).to_bits(), rarity(1, 3).to_bits());
        assert!(rarity(10, 1_000) > rarity(500, 1_000));
        assert!((worth(0.5, 1.0, 4.0) - 0.515).abs() < 1e-7);
        assert!((worth(0.5, 0.0, 0.0) - 0.5).abs() < 1e-7);
    }

    #[test]
    fn more_and_better_parts_come_first() {
        // 1/61 + 1/63 for 'b', 1/62 + 1/63 for 'a', 1/61 for 'c'.
        assert_eq!(wholes(&[vec!['b', 'c'], vec!['a'], vec!['a', 'b']]), [('b', 2), ('a', 2), ('c', 1)]);
        assert_eq!(wholes::<u8>(&[vec![], vec![]]), []);
    }
}
