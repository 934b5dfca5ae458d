//! Groups whose middles are the same are one.

use std::collections::{BTreeMap, BTreeSet};

use super::points::from_centre;
use crate::jobs::Watch;
use crate::text::{Vector, dot};

/// A group by the sum of the meanings in it.
pub(super) struct Part {
    /// Its number.
    pub(super) group: usize,
    /// The sum of its meanings, whose direction is its middle.
    pub(super) sum: Vec<f32>,
    /// The groups that it is never made one with.
    pub(super) apart: BTreeSet<usize>,
}

/// A part on its way, with where its middle lies and which later part is likest to it.
struct Cloud {
    part: Part,
    seen: Vec<f32>,
    likest: Option<Likest>,
}

/// The likest of the parts after one.
#[derive(Clone, Copy)]
struct Likest {
    alike: f32,
    to: usize,
    /// It is gone or another one now: none of those left is more alike than it was.
    gone: bool,
}

/// Makes one of the two likest parts again and again, as long as two are as alike as `same` and nothing keeps them apart.
/// Gives the number that each part ends with, where that is another one.
///
/// Each part remembers the likest of those after it. Where that one is gone, how alike it was is an upper bound for the
/// others, so that they are looked at only when nothing else is likelier: the generic algorithm of D. Müllner, "Modern
/// hierarchical, agglomerative clustering algorithms" (2011), arXiv:1109.2378. O(parts²) for what people say, O(parts³) at
/// worst. Nothing where it is stopped.
pub(super) fn made_one(parts: Vec<Part>, centre: &Vector, same: f32, watch: &Watch) -> Option<BTreeMap<usize, usize>> {
    let place = |sum: &[f32]| from_centre(&Vector::pointing(sum.to_vec()), centre);
    let mut clouds: Vec<Option<Cloud>> =
        parts.into_iter().map(|part| Some(Cloud { seen: place(&part.sum), part, likest: None })).collect();
    for at in 0..clouds.len() {
        watch.goes_on()?;
        look(&mut clouds, at, same);
    }
    let mut instead: BTreeMap<usize, usize> = BTreeMap::new();
    while let Some((one, Likest { to: other, gone, .. })) = likest(&clouds) {
        watch.goes_on()?;
        if gone {
            look(&mut clouds, one, same);
            continue;
        }
        let (Some(mut kept), Some(gone)) = (clouds[one].take(), clouds[other].take()) else { break };
        instead.values_mut().filter(|number| **number == gone.part.group).for_each(|number| *number = kept.part.group);
        instead.insert(gone.part.group, kept.part.group);
        kept.part.sum.iter_mut().zip(&gone.part.sum).for_each(|(sum, x)| *sum += x);
        kept.part.apart.extend(gone.part.apart);
        for cloud in clouds.iter_mut().flatten() {
            if cloud.part.apart.contains(&gone.part.group) {
                cloud.part.apart.insert(kept.part.group);
            }
            if let Some(likest) = cloud.likest.as_mut().filter(|likest| likest.to == one || likest.to == other) {
                likest.gone = true;
            }
        }
        kept.seen = place(&kept.part.sum);
        clouds[one] = Some(kept);
        look(&mut clouds, one, same);
        for at in 0..one {
            beside(&mut clouds, at, one, same);
        }
    }
    Some(instead)
}

/// The one with the likest after it of all, the first of them first.
fn likest(clouds: &[Option<Cloud>]) -> Option<(usize, Likest)> {
    let known = clouds.iter().enumerate().filter_map(|(at, cloud)| Some((at, cloud.as_ref()?.likest?)));
    known.max_by(|a, b| a.1.alike.total_cmp(&b.1.alike).then(b.0.cmp(&a.0)))
}

/// Looks for the likest after one.
fn look(clouds: &mut [Option<Cloud>], at: usize, same: f32) {
    if let Some(cloud) = &mut clouds[at] {
        cloud.likest = None;
    }
    for to in at + 1..clouds.len() {
        beside(clouds, at, to, same);
    }
}

/// Takes another one for the likest, where it is that.
fn beside(clouds: &mut [Option<Cloud>], at: usize, to: usize, same: f32) {
    let (Some(one), Some(other)) = (&clouds[at], &clouds[to]) else { return };
    if one.part.apart.contains(&other.part.group) || other.part.apart.contains(&one.part.group) {
        return;
    }
    let alike = dot(&one.seen, &other.seen);
    if alike >= same
        && one.likest.is_none_or(|likest| alike > likest.alike)
        && let Some(one) = &mut clouds[at]
    {
        one.likest = Some(Likest { alike, to, gone: false });
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn part(group: usize, numbers: Vec<f32>, apart: &[(usize, usize)]) -> Part {
        let of = |(one, other): &(usize, usize)| match group {
            _ if *one == group => Some(*other),
            _ if *other == group => Some(*one),
            _ => None,
        };
        let sum = Vector::pointing(numbers).numbers().to_vec();
        Part { group, sum, apart: apart.iter().filter_map(of).collect() }
    }

    /// The same the obvious way: all pairs are looked at each time.
    fn slowly(
        mut parts: Vec<(Vec<usize>, Vec<f32>)>,
        apart: &[(usize, usize)],
        centre: &Vector,
        same: f32,
    ) -> Vec<Vec<usize>> {
        loop {
            let mut best: Option<(f32, usize, usize)> = None;
            for one in 0..parts.len() {
                for other in one + 1..parts.len() {
                    let seen = |at: usize| from_centre(&Vector::pointing(parts[at].1.clone()), centre);
                    let kept = apart.iter().any(|(a, b)| {
                        let holds = |at: usize, group: &usize| parts[at].0.contains(group);
                        (holds(one, a) && holds(other, b)) || (holds(one, b) && holds(other, a))
                    });
                    let alike = dot(&seen(one), &seen(other));
                    if alike >= same && !kept && best.is_none_or(|(most, ..)| alike > most) {
                        best = Some((alike, one, other));
                    }
                }
            }
            let Some((_, one, other)) = best else { break };
            let (groups, sum) = parts.remove(other);
            parts[one].0.extend(groups);
            parts[one].1.iter_mut().zip(sum).for_each(|(all, x)| *all += x);
        }
        let mut groups: Vec<Vec<usize>> = parts.into_iter().map(|(groups, _)| groups).collect();
        groups.iter_mut().for_each(|all| all.sort_unstable());
        groups
    }

    proptest! {
        #[test]
        fn it_is_what_the_obvious_way_makes(
            rows in prop::collection::vec(prop::collection::vec(-1.0_f32..1.0, 4), 2..12),
            apart in prop::collection::vec((0_usize..12, 0_usize..12), 0..4),
        ) {
            let apart: Vec<(usize, usize)> = apart.into_iter().filter(|(a, b)| a != b && *a < rows.len() && *b < rows.len()).collect();
            let centre = Vector::pointing(vec![0.3, 0.2, 0.1, 0.4]);
            let parts = || rows.iter().enumerate().map(|(group, row)| part(group, row.clone(), &apart));
            let instead = made_one(parts().collect(), &centre, 0.6, &Watch::default()).unwrap();
            let mut told: BTreeMap<usize, Vec<usize>> = BTreeMap::new();
            for group in 0..rows.len() {
                told.entry(instead.get(&group).copied().unwrap_or(group)).or_default().push(group);
            }
            let slow = slowly(parts().map(|part| (vec![part.group], part.sum)).collect(), &apart, &centre, 0.6);
            prop_assert_eq!(told.into_values().collect::<BTreeSet<_>>(), slow.into_iter().collect::<BTreeSet<_>>());
        }
    }
}
