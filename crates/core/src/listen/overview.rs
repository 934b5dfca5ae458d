//! A few excerpts that stand for many.

use crate::text::Vector;

/// What nearness to the middle is worth beside being another thing than what was taken before.
const NEAR: f32 = 0.7;

/// Some excerpts (by their place) that stand for all, by how near each is to the middle and what it means: first the nearest,
/// then those that are near and say something else than what was taken.
///
/// Maximal marginal relevance, after J. Carbonell, J. Goldstein, "The use of MMR, diversity-based reranking for reordering
/// documents and producing summaries" (1998), with λ = 0.7. Of several that are equally good, the first. O(excerpts · count).
#[must_use]
pub fn standing_for(near: &[f32], meaning: impl Fn(usize) -> Vector, count: usize) -> Vec<usize> {
    // How alike each is to the likest of those that were taken.
    let mut known = vec![0.0_f32; near.len()];
    let mut taken: Vec<usize> = Vec::new();
    while taken.len() < count.min(near.len()) {
        let worth = |at: usize| NEAR * near[at] - (1.0 - NEAR) * known[at];
        let left = (0..near.len()).filter(|at| !taken.contains(at));
        let Some(best) = left.reduce(|best, at| if worth(at) > worth(best) { at } else { best }) else { break };
        taken.push(best);
        let best = meaning(best);
        known.iter_mut().enumerate().for_each(|(at, known)| *known = known.max(meaning(at).alike(&best)));
    }
    taken
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_nearest_comes_first_and_then_something_else() {
        let toward = |x: f32, y: f32| Vector::pointing(vec![1.0, x, y]);
        let (one, same, other, far) = (toward(1.0, 0.0), toward(1.0, 0.1), toward(0.0, 1.1), toward(-9.0, 9.0));
        let middle = toward(0.0, 0.0);
        let all = [far, one, same, other];
        let of = |places: &'static [usize], count| {
            let near: Vec<f32> = places.iter().map(|at| all[*at].alike(&middle)).collect();
            standing_for(&near, |at| all[places[at]].clone(), count)
        };
        assert_eq!(of(&[0, 2, 1, 3], 2), [2, 3]);
        assert_eq!(of(&[0, 1], 9), [1, 0]);
        assert_eq!(of(&[], 3), [0; 0]);
    }
}
