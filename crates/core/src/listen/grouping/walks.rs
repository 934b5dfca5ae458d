//! How alike points are by way of what lies between them.

use std::collections::BTreeMap;

use super::neighbours::Neighbours;

/// A walk goes on with this likelihood at each step.
const ON: f32 = 0.7;
/// What is left after so many steps is too little to count.
const STEPS: usize = 8;
/// So many of the points that a walk reaches are followed.
const FOLLOWED: usize = 64;
/// So many of the likest are kept for each point.
const KEPT: usize = 40;

/// The likeness of points by random walks with restart over their neighbours: two excerpts that share no word can be alike
/// because others lie between them.
///
/// ```text
/// W = neighbours, both ways;  P = D^−½ W D^−½;  M = Σ_t ON^t P^t;  likeness(i, j) = M_ij / √(M_ii · M_jj)
/// ```
///
/// After H. Tong, C. Faloutsos, J.-Y. Pan, "Fast Random Walk with Restart and Its Applications" (2006), with the matrix made
/// symmetric and its diagonal 1. Each point with itself is among them. O(n · STEPS · FOLLOWED · neighbours).
pub(super) fn likeness(neighbours: &Neighbours) -> Vec<Vec<(usize, f32)>> {
    let steps = steps(neighbours);
    let reached: Vec<BTreeMap<usize, f32>> = (0..steps.len()).map(|from| walk(&steps, from)).collect();
    let own: Vec<f32> = reached.iter().enumerate().map(|(at, row)| row.get(&at).copied().unwrap_or(1.0)).collect();
    let row = |(at, row): (usize, &BTreeMap<usize, f32>)| {
        let scaled = row.iter().map(|(other, sum)| (*other, sum / (own[at] * own[*other]).sqrt())).collect();
        strongest(scaled, KEPT)
    };
    reached.iter().enumerate().map(row).collect()
}

/// The symmetric steps between points.
fn steps(neighbours: &Neighbours) -> Vec<Vec<(usize, f32)>> {
    let mut both: Vec<BTreeMap<usize, f32>> = vec![BTreeMap::new(); neighbours.len()];
    for (at, row) in neighbours.iter().enumerate() {
        for (other, alike) in row {
            let keep = |weight: &mut f32| *weight = weight.max(*alike);
            keep(both[at].entry(*other).or_default());
            keep(both[*other].entry(at).or_default());
        }
    }
    let degrees: Vec<f32> = both.iter().map(|row| row.values().sum::<f32>().max(f32::MIN_POSITIVE)).collect();
    let scaled = |(at, row): (usize, BTreeMap<usize, f32>)| {
        row.into_iter().map(|(other, weight)| (other, weight / (degrees[at] * degrees[other]).sqrt())).collect()
    };
    both.into_iter().enumerate().map(scaled).collect()
}

fn walk(steps: &[Vec<(usize, f32)>], from: usize) -> BTreeMap<usize, f32> {
    let mut sum = BTreeMap::from([(from, 1.0)]);
    let mut here = vec![(from, 1.0_f32)];
    for _ in 0..STEPS {
        let mut next: BTreeMap<usize, f32> = BTreeMap::new();
        for (at, much) in &here {
            for (other, step) in &steps[*at] {
                *next.entry(*other).or_default() += ON * much * step;
            }
        }
        next.iter().for_each(|(at, much)| *sum.entry(*at).or_default() += much);
        here = strongest(next.into_iter().collect(), FOLLOWED);
    }
    sum
}

/// The strongest of a row, in the order of their places.
fn strongest(mut row: Vec<(usize, f32)>, count: usize) -> Vec<(usize, f32)> {
    if row.len() > count {
        row.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        row.truncate(count);
        row.sort_unstable_by_key(|(at, _)| *at);
    }
    row
}
