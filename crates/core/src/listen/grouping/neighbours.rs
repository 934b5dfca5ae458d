//! The nearest neighbours of each point.

use super::parts::in_parts;
use super::points::SORT;
use crate::jobs::Watch;
use crate::text::dot;

/// So many neighbours of each are taken.
pub(super) const COUNT: usize = 8;
/// Up to so many points each is compared with each.
const FEW: usize = 3_000;
/// With more, each is put into the pots of so many leaders, and looked for in them.
const POTS: usize = 4;
/// A pot has room for so many times its share of the points.
const ROOM: usize = 3;
/// The pots of so many leaders are asked for room.
const ASKED: usize = 32;

/// For each point its nearest others with how alike they are, most alike first; those not alike at all are left out.
pub(super) type Neighbours = Vec<Vec<(usize, f32)>>;

/// The nearest neighbours, of `count` each; nothing where it is stopped.
///
/// Up to 3,000 points exactly, O(n²). Beyond, each point is put into the pots of its four nearest leaders that have room, of
/// which there are 2√n, and compared with what lies there, O(n · √n): nine in ten of the true neighbours are found (see the
/// tests). The leaders stand at even distances in the input, so nothing is left to chance.
pub(super) fn nearest(points: &Points, count: usize, watch: &Watch) -> Option<Neighbours> {
    let all = points.len();
    if all <= FEW {
        return in_parts(all, watch, || (), |(), at| points.best(at, 0..all, count));
    }
    let pots = Pots::of(points, watch)?;
    let none_seen = || vec![usize::MAX; all];
    in_parts(all, watch, none_seen, |seen, at| points.best(at, pots.beside(at, seen), count))
}

/// How alike two points are: 0 and below is not at all.
pub(super) fn alike(one: &[f32], other: &[f32]) -> f32 {
    dot(one, other) - SORT
}

/// Points in whole numbers: half the room, and a machine multiplies them twice as fast.
pub(super) struct Points {
    numbers: Vec<i16>,
    /// So many of each point.
    long: usize,
}

impl Points {
    /// 1 in whole numbers. The product of two points that are no longer than 1.5, or of any part of their numbers, has room
    /// in 31 bits. It is wrong by 0.001 at most: each number by half of one in 30,000, and the numbers of a point of that
    /// length have a sum of 1.5 · √400 at most.
    const ONE: f32 = 30_000.0;

    /// Takes points of one length, of 400 numbers at most.
    pub(super) fn of(points: impl Iterator<Item = Vec<f32>>) -> Points {
        let mut all = Points { numbers: Vec::new(), long: 0 };
        for point in points {
            debug_assert!(point.len() <= 400 && dot(&point, &point) < 1.5, "within what is promised");
            all.long = point.len();
            #[expect(clippy::cast_possible_truncation, reason = "numbers of points are no more than 1")]
            all.numbers.extend(point.iter().map(|number| (number * Points::ONE).round() as i16));
        }
        all
    }

    fn len(&self) -> usize {
        self.numbers.len() / self.long.max(1)
    }

    fn product(&self, one: usize, other: usize) -> f32 {
        let numbers = |at: usize| &self.numbers[at * self.long..][..self.long];
        let products = numbers(one).iter().zip(numbers(other)).map(|(a, b)| i32::from(*a) * i32::from(*b));
        #[expect(clippy::cast_precision_loss, reason = "seven digits are more than it is sure of")]
        let sum = products.sum::<i32>() as f32;
        sum / (Points::ONE * Points::ONE)
    }

    /// The nearest of some.
    fn best(&self, at: usize, among: impl Iterator<Item = usize>, count: usize) -> Vec<(usize, f32)> {
        let mut found: Vec<(usize, f32)> = Vec::with_capacity(count + 1);
        for other in among.filter(|other| *other != at) {
            let least = if found.len() == count { found.last().map_or(0.0, |(_, least)| *least) } else { 0.0 };
            let alike = self.product(at, other) - SORT;
            if alike > least {
                let place = found.partition_point(|(_, more)| *more >= alike);
                found.insert(place, (other, alike));
                found.truncate(count);
            }
        }
        found
    }
}

/// Points by the leaders that they are near to.
struct Pots {
    /// Which pots each point is in.
    of: Vec<Vec<usize>>,
    /// The points in each.
    pots: Vec<Vec<usize>>,
}

impl Pots {
    fn of(points: &Points, watch: &Watch) -> Option<Pots> {
        let count = points.len();
        let leaders = 2 * count.isqrt();
        let step = count / leaders;
        let near = |at: usize| {
            let mut near: Vec<(usize, f32)> = (0..leaders).map(|pot| (pot, points.product(at, pot * step))).collect();
            near.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
            // Collected from where it is, the few would keep the room of all.
            near.iter().take(ASKED).map(|(pot, _)| *pot).collect::<Vec<usize>>()
        };
        let near = in_parts(count, watch, || (), |(), at| near(at))?;
        let room = ROOM * POTS * count.div_ceil(leaders);
        let mut pots = Pots { of: Vec::with_capacity(count), pots: vec![Vec::new(); leaders] };
        for (at, near) in near.into_iter().enumerate() {
            let free = near.iter().copied().filter(|pot| pots.pots[*pot].len() < room);
            let free: Vec<usize> = free.take(POTS).collect();
            free.iter().for_each(|pot| pots.pots[*pot].push(at));
            pots.of.push(free);
        }
        Some(pots)
    }

    /// What is in the same pots as a point, each once. `seen` remembers for which point each was given last.
    fn beside(&self, at: usize, seen: &mut [usize]) -> impl Iterator<Item = usize> {
        let all = self.of[at].iter().flat_map(|pot| self.pots[*pot].iter().copied());
        all.filter(move |other| std::mem::replace(&mut seen[*other], at) != at)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn whole_numbers_are_about_right(
            points in prop::collection::vec(prop::collection::vec(-1.0_f32..1.0, 392), 2),
        ) {
            // As long as points are at most.
            let long = |point: Vec<f32>| {
                let by = (1.49 / dot(&point, &point)).sqrt();
                point.into_iter().map(|x| (x * by).clamp(-1.0, 1.0)).collect::<Vec<f32>>()
            };
            let points: Vec<Vec<f32>> = points.into_iter().map(long).collect();
            let whole = Points::of(points.iter().cloned());
            for (one, other) in [(0, 1), (1, 0), (0, 0)] {
                let wrong = (whole.product(one, other) - dot(&points[one], &points[other])).abs();
                prop_assert!(wrong < 0.001, "{wrong}");
            }
        }
    }
}
