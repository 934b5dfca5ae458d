//! The key points of a document: a few of its own sentences that cover what is said in it.

use crate::text::{Vector, says_too_little, words};

/// From so many excerpts on a document is long.
const LONG: usize = 12;
/// A long one has a key point for so many excerpts, within these bounds.
const EXCERPTS_A_POINT: usize = 12;
const FEWEST: usize = 3;
const MOST: usize = 7;
/// So many excerpts are compared with each other; of a longer document those that lie evenly apart stand for the rest.
const COMPARED: usize = 400;
/// Fewer words make no point by themselves.
const SHORTEST: usize = 7;

/// Whether a document of so many excerpts begins with its key points.
#[must_use]
pub fn has_key_points(excerpts: usize) -> bool {
    excerpts >= LONG
}

/// The key points of a document (by their place, in the order of the text), of its excerpts with their words. Questions, and what
/// says nothing by itself or in too few words, are none. Complexity as [`covering`], of at most [`COMPARED`].
#[must_use]
pub fn key_points(excerpts: &[(&str, Vector)]) -> Vec<usize> {
    let telling =
        |said: &str| !says_too_little(said) && !said.trim_end().ends_with('?') && words(said).len() >= SHORTEST;
    let places: Vec<usize> = (0..excerpts.len()).filter(|at| telling(excerpts[*at].0)).collect();
    let places: Vec<usize> = places.iter().copied().step_by(places.len().div_ceil(COMPARED).max(1)).collect();
    let meanings: Vec<&Vector> = places.iter().map(|at| &excerpts[*at].1).collect();
    let count = (places.len() / EXCERPTS_A_POINT).clamp(FEWEST, MOST);
    covering(&meanings, count).into_iter().map(|at| places[at]).collect()
}

/// Some excerpts (by their place, in the order of the text) that cover all of them: each excerpt is as well covered as it is alike
/// to the likest of those that are taken.
///
/// ```text
/// covered(S) = Σ over excerpts i of max over j in S of max(0, cosine(i, j))
/// ```
///
/// Taken one after another, each where it adds most, which reaches at least 1 − 1/e of the best that there is, since covering is
/// submodular (G. Nemhauser, L. Wolsey, M. Fisher, 1978, <https://doi.org/10.1007/BF01588971>; for summaries H. Lin, J. Bilmes,
/// 2011). Of several that add the same, the first. Nothing is put into other words. O(excerpts² + excerpts² · count).
fn covering(excerpts: &[&Vector], count: usize) -> Vec<usize> {
    let alike: Vec<Vec<f32>> =
        excerpts.iter().map(|one| excerpts.iter().map(|other| one.alike(other).max(0.0)).collect()).collect();
    let mut covered = vec![0.0_f32; excerpts.len()];
    let mut taken: Vec<usize> = Vec::new();
    while taken.len() < count.min(excerpts.len()) {
        let adds = |at: usize| -> f32 { alike[at].iter().zip(&covered).map(|(by, now)| (by - now).max(0.0)).sum() };
        let left = (0..excerpts.len()).filter(|at| !taken.contains(at));
        let best = left.map(|at| (at, adds(at))).reduce(|best, next| if next.1 > best.1 { next } else { best });
        let Some((best, _)) = best else { break };
        covered.iter_mut().zip(&alike[best]).for_each(|(now, by)| *now = now.max(*by));
        taken.push(best);
    }
    taken.sort_unstable();
    taken
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn vectors(numbers: &[Vec<f32>]) -> Vec<Vector> {
        numbers.iter().map(|numbers| Vector::pointing(numbers.clone())).collect()
    }

    fn covered(all: &[&Vector], taken: &[usize]) -> f32 {
        all.iter().map(|one| taken.iter().map(|at| one.alike(all[*at]).max(0.0)).fold(0.0, f32::max)).sum()
    }

    #[test]
    fn each_thing_that_is_said_has_a_point() {
        let said = vectors(&[
            vec![1.0, 0.0, 0.1],
            vec![1.0, 0.1, 0.0],
            vec![0.9, 0.0, 0.0],
            vec![0.0, 1.0, 0.0],
            vec![0.1, 1.0, 0.0],
            vec![0.0, 0.0, 1.0],
        ]);
        let all: Vec<&Vector> = said.iter().collect();
        let points = covering(&all, 3);
        assert_eq!(points.len(), 3);
        assert!(points[0] < 3 && (3..5).contains(&points[1]) && points[2] == 5, "{points:?}");
        assert_eq!(covering(&all, 20), [0, 1, 2, 3, 4, 5]);
        assert_eq!(covering(&[], 3), [0; 0]);
    }

    #[test]
    fn only_what_makes_a_point_is_one() {
        let one = Vector::pointing(vec![1.0]);
        let said = [
            "How did you hear of it on that morning then?",
            "The school.",
            "I heard of it from the man who ties the ropes.",
        ];
        assert_eq!(key_points(&said.map(|words| (words, one.clone()))), [2]);
        assert!(has_key_points(12) && !has_key_points(11));
    }

    proptest! {
        #[test]
        fn it_covers_nearly_as_much_as_the_best_of_all(
            numbers in proptest::collection::vec(proptest::collection::vec(-1.0..1.0_f32, 6), 2..9), count in 1..4_usize
        ) {
            let said = vectors(&numbers);
            let all: Vec<&Vector> = said.iter().collect();
            let count = count.min(all.len());
            let sets = (0_u32..1 << all.len()).filter(|set| set.count_ones() as usize == count);
            let places = |set: u32| (0..all.len()).filter(|at| set >> at & 1 == 1).collect::<Vec<_>>();
            let best = sets.map(|set| covered(&all, &places(set))).fold(0.0, f32::max);
            let found = covered(&all, &covering(&all, count));
            prop_assert!(found >= best * 0.632 - 1e-4 && found <= best + 1e-4, "{} of {}", found, best);
        }
    }
}
