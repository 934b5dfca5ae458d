//! The nearest neighbours of each point.

use std::cmp::Ordering;

use super::points::SORT;
use crate::text::dot;

/// So many neighbours of each are taken.
pub(super) const COUNT: usize = 8;
/// Up to so many points each is compared with each.
const FEW: usize = 3_000;
/// With more, each is put into the pots of so many leaders, and looked for in them.
const POTS: usize = 4;

/// For each point its nearest others with how alike they are, most alike first; those not alike at all are left out.
pub(super) type Neighbours = Vec<Vec<(usize, f32)>>;

/// The nearest neighbours, of `count` each.
///
/// Up to 3,000 points exactly, O(n²). Beyond, each point is put into the pots of its four nearest leaders, of which there
/// are 2√n, and compared with what lies there, O(n · √n): nine in ten of the true neighbours are found (see the tests). The
/// leaders stand at even distances in the input, so nothing is left to chance.
pub(super) fn nearest(points: &[Vec<f32>], count: usize) -> Neighbours {
    if points.len() <= FEW {
        let all: Vec<usize> = (0..points.len()).collect();
        return points.iter().enumerate().map(|(at, _)| best(points, at, &all, count)).collect();
    }
    let pots = Pots::of(points);
    (0..points.len()).map(|at| best(points, at, &pots.beside(at), count)).collect()
}

/// How alike two points are: 0 and below is not at all.
pub(super) fn alike(one: &[f32], other: &[f32]) -> f32 {
    dot(one, other) - SORT
}

fn best(points: &[Vec<f32>], at: usize, among: &[usize], count: usize) -> Vec<(usize, f32)> {
    let mut found: Vec<(usize, f32)> = Vec::with_capacity(count + 1);
    for other in among.iter().copied().filter(|other| *other != at) {
        let alike = alike(&points[at], &points[other]);
        if alike <= 0.0 || (found.len() == count && found.last().is_some_and(|(_, least)| alike <= *least)) {
            continue;
        }
        let place = found.partition_point(|(_, more)| *more >= alike);
        found.insert(place, (other, alike));
        found.truncate(count);
    }
    found
}

/// Points by the leaders that they are near to.
struct Pots {
    /// Which pots each point is in.
    of: Vec<Vec<usize>>,
    /// The points in each.
    pots: Vec<Vec<usize>>,
}

impl Pots {
    fn of(points: &[Vec<f32>]) -> Pots {
        let leaders = 2 * points.len().isqrt();
        let step = points.len() / leaders;
        let leaders: Vec<usize> = (0..leaders).map(|at| at * step).collect();
        let mut pots = vec![Vec::new(); leaders.len()];
        let near = |point: &Vec<f32>| {
            let mut near: Vec<(usize, f32)> =
                leaders.iter().enumerate().map(|(pot, leader)| (pot, alike(point, &points[*leader]))).collect();
            near.sort_by(|a, b| b.1.partial_cmp(&a.1).unwrap_or(Ordering::Equal).then(a.0.cmp(&b.0)));
            near.into_iter().take(POTS).map(|(pot, _)| pot).collect::<Vec<usize>>()
        };
        let of: Vec<Vec<usize>> = points.iter().map(near).collect();
        for (at, its) in of.iter().enumerate() {
            its.iter().for_each(|pot| pots[*pot].push(at));
        }
        Pots { of, pots }
    }

    fn beside(&self, at: usize) -> Vec<usize> {
        let mut all: Vec<usize> = self.of[at].iter().flat_map(|pot| self.pots[*pot].iter().copied()).collect();
        all.sort_unstable();
        all.dedup();
        all
    }
}
