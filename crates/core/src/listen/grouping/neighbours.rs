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
pub(super) fn nearest(points: &[Vec<f32>], count: usize, watch: &Watch) -> Option<Neighbours> {
    let space = Space { points, rough: Rough::of(points) };
    if points.len() <= FEW {
        return in_parts(points.len(), watch, || (), |(), at| space.best(at, 0..points.len(), count));
    }
    let pots = Pots::of(&space, watch)?;
    let none_seen = || vec![usize::MAX; points.len()];
    in_parts(points.len(), watch, none_seen, |seen, at| space.best(at, pots.beside(at, seen), count))
}

/// How alike two points are: 0 and below is not at all.
pub(super) fn alike(one: &[f32], other: &[f32]) -> f32 {
    dot(one, other) - SORT
}

/// Points, and about where they lie.
struct Space<'a> {
    points: &'a [Vec<f32>],
    rough: Rough,
}

impl Space<'_> {
    /// The nearest of some. What is too far by whole numbers is not looked at more closely.
    fn best(&self, at: usize, among: impl Iterator<Item = usize>, count: usize) -> Vec<(usize, f32)> {
        let mut found: Vec<(usize, f32)> = Vec::with_capacity(count + 1);
        for other in among.filter(|other| *other != at) {
            let least = if found.len() == count { found.last().map_or(0.0, |(_, least)| *least) } else { 0.0 };
            if self.rough.product(at, other) + Rough::WRONG - SORT <= least {
                continue;
            }
            let alike = alike(&self.points[at], &self.points[other]);
            if alike > least {
                let place = found.partition_point(|(_, more)| *more >= alike);
                found.insert(place, (other, alike));
                found.truncate(count);
            }
        }
        found
    }
}

/// Points in whole numbers, which a machine multiplies twice as fast.
struct Rough {
    numbers: Vec<i16>,
    /// So many of each point.
    long: usize,
}

impl Rough {
    /// 1 in whole numbers. The product of two points that are no longer than 1.5, or of any part of their numbers, has room
    /// in 31 bits.
    const ONE: f32 = 30_000.0;
    /// Products are wrong by no more than this: each number by half of one in [`Self::ONE`], and the numbers of a point of
    /// that length have a sum of 1.5 · √400 at most.
    const WRONG: f32 = 2.0 * 0.5 / Self::ONE * 1.5 * 20.0 + 1e-5;

    fn of(points: &[Vec<f32>]) -> Rough {
        let long = points.first().map_or(0, Vec::len);
        debug_assert!(long <= 400 && points.iter().all(|point| dot(point, point) < 1.5), "within what is promised");
        #[expect(clippy::cast_possible_truncation, reason = "numbers of points are no more than 1")]
        let whole = |number: &f32| (number * Rough::ONE).round() as i16;
        Rough { numbers: points.iter().flatten().map(whole).collect(), long }
    }

    fn product(&self, one: usize, other: usize) -> f32 {
        let numbers = |at: usize| &self.numbers[at * self.long..][..self.long];
        let products = numbers(one).iter().zip(numbers(other)).map(|(a, b)| i32::from(*a) * i32::from(*b));
        #[expect(clippy::cast_precision_loss, reason = "seven digits are more than it is sure of")]
        let sum = products.sum::<i32>() as f32;
        sum / (Rough::ONE * Rough::ONE)
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
    fn of(space: &Space<'_>, watch: &Watch) -> Option<Pots> {
        let count = space.points.len();
        let leaders = 2 * count.isqrt();
        let step = count / leaders;
        let near = |at: usize| {
            let mut near: Vec<(usize, f32)> =
                (0..leaders).map(|pot| (pot, space.rough.product(at, pot * step))).collect();
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
            let rough = Rough::of(&points);
            for (one, other) in [(0, 1), (1, 0), (0, 0)] {
                let wrong = (rough.product(one, other) - dot(&points[one], &points[other])).abs();
                prop_assert!(wrong < Rough::WRONG, "{wrong}");
            }
        }
    }
}
