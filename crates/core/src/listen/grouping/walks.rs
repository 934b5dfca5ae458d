//! How alike points are by way of what lies between them.

use std::collections::BTreeMap;

use super::neighbours::Neighbours;
use super::parts::in_parts;
use crate::jobs::Watch;

/// A walk goes on with this likelihood at each step.
const ON: f32 = 0.7;
/// What is left after so many steps is too little to count.
const STEPS: usize = 8;
/// So many of the points that a walk reaches are followed.
const FOLLOWED: usize = 64;
/// So many of the places that a walk reached most are remembered.
const REMEMBERED: usize = 80;
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
/// symmetric and its diagonal 1. Each point with itself is among them. O(n · STEPS · FOLLOWED · neighbours) and
/// O(n · REMEMBERED) numbers at once. Nothing where it is stopped.
pub(super) fn likeness(neighbours: &Neighbours, watch: &Watch) -> Option<Vec<Row>> {
    let steps = steps(neighbours);
    let sums = || (Sums::over(steps.len()), Sums::over(steps.len()));
    let reached = in_parts(steps.len(), watch, sums, |(next, sum), from| {
        packed(&strongest(walk(&steps, from, next, sum), REMEMBERED))
    })?;
    let itself =
        |(at, row): (usize, &Packed)| unpacked(row).find(|(other, _)| *other == at).map_or(1.0, |(_, much)| much);
    let own: Vec<f32> = reached.iter().enumerate().map(itself).collect();
    let scaled = |(at, row): (usize, Packed)| {
        let scaled = unpacked(&row).map(|(other, much)| (other, much / (own[at] * own[other]).sqrt()));
        strongest(scaled.collect(), KEPT)
    };
    Some(reached.into_iter().enumerate().map(scaled).collect())
}

/// A row in half the room: there is one for each point at once.
type Packed = Vec<(u32, f32)>;

fn packed(row: &Row) -> Packed {
    // Not from the row itself, whose room they would keep.
    row.iter().map(|(at, much)| (u32::try_from(*at).unwrap_or(u32::MAX), *much)).collect()
}

fn unpacked(row: &Packed) -> impl Iterator<Item = (usize, f32)> {
    row.iter().map(|(at, much)| (*at as usize, *much))
}

/// The symmetric steps between points.
fn steps(neighbours: &Neighbours) -> Vec<Row> {
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

/// Places with a number each, in the order of the places.
type Row = Vec<(usize, f32)>;

/// What comes together at places, one after another: only those that something came to are looked at again.
struct Sums {
    much: Vec<f32>,
    at: Vec<usize>,
}

impl Sums {
    fn over(places: usize) -> Self {
        Sums { much: vec![0.0; places], at: Vec::new() }
    }

    /// Adds something more than 0.
    fn add(&mut self, at: usize, much: f32) {
        if self.much[at] == 0.0 && much > 0.0 {
            self.at.push(at);
        }
        self.much[at] += much;
    }

    /// What came to each place; then there is nothing any more.
    fn take(&mut self) -> Row {
        self.at.sort_unstable();
        let much = &mut self.much;
        self.at.drain(..).map(|at| (at, std::mem::take(&mut much[at]))).collect()
    }
}

fn walk(steps: &[Row], from: usize, next: &mut Sums, sum: &mut Sums) -> Row {
    sum.add(from, 1.0);
    let mut here = vec![(from, 1.0_f32)];
    for _ in 0..STEPS {
        for (at, much) in &here {
            steps[*at].iter().for_each(|(other, step)| next.add(*other, ON * much * step));
        }
        let reached = next.take();
        reached.iter().for_each(|(at, much)| sum.add(*at, *much));
        here = strongest(reached, FOLLOWED);
    }
    sum.take()
}

/// The strongest of a row, in the order of their places.
fn strongest(mut row: Row, count: usize) -> Row {
    if row.len() > count {
        row.select_nth_unstable_by(count - 1, |a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        row.truncate(count);
        // What a walk reached besides is far more than what is kept.
        row.shrink_to_fit();
        row.sort_unstable_by_key(|(at, _)| *at);
    }
    row
}
