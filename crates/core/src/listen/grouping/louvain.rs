//! Groups in a graph of likeness, under what people decided.

use std::collections::{BTreeMap, BTreeSet};

use super::Decided;
use crate::jobs::Watch;

/// Points, each standing for one or more members, and how alike they are.
pub(super) struct Graph {
    /// Which point each member belongs to.
    member: Vec<usize>,
    /// How many members each point stands for.
    size: Vec<f32>,
    /// The sum of likeness to each other point.
    links: Vec<BTreeMap<usize, f32>>,
    /// The points that each never stands with.
    apart: Vec<BTreeSet<usize>>,
}

impl Graph {
    /// Members that stand together are one point from the beginning; pairs that stay apart are remembered.
    pub(super) fn of(count: usize, likeness: &[Vec<(usize, f32)>], decided: &Decided) -> Graph {
        let mut member: Vec<usize> = (0..count).collect();
        for together in &decided.together {
            if let Some(first) = together.iter().min() {
                together.iter().for_each(|at| member[*at] = *first);
            }
        }
        let member = super::numbered(&member);
        let points = member.iter().max().map_or(0, |most| most + 1);
        let mut graph = Graph {
            size: vec![0.0; points],
            links: vec![BTreeMap::new(); points],
            apart: vec![BTreeSet::new(); points],
            member,
        };
        graph.member.iter().for_each(|point| graph.size[*point] += 1.0);
        for (at, row) in likeness.iter().enumerate() {
            for (other, alike) in row {
                // Each pair is there twice, from both its ends; one end may have left it out as too weak.
                graph.link(graph.member[at], graph.member[*other], alike / 2.0);
            }
        }
        for (one, other) in &decided.apart {
            let (one, other) = (graph.member[*one], graph.member[*other]);
            if one != other {
                graph.apart[one].insert(other);
                graph.apart[other].insert(one);
            }
        }
        graph
    }

    fn link(&mut self, one: usize, other: usize, alike: f32) {
        if one != other {
            *self.links[one].entry(other).or_default() += alike;
            *self.links[other].entry(one).or_default() += alike;
        }
    }

    /// The graph whose points are the groups of this one.
    fn of_groups(&self, groups: &[usize]) -> Graph {
        let points = groups.iter().max().map_or(0, |most| most + 1);
        let mut next = Graph {
            member: self.member.iter().map(|point| groups[*point]).collect(),
            size: vec![0.0; points],
            links: vec![BTreeMap::new(); points],
            apart: vec![BTreeSet::new(); points],
        };
        for (at, group) in groups.iter().enumerate() {
            next.size[*group] += self.size[at];
            for (other, alike) in self.links[at].range(at + 1..) {
                next.link(*group, groups[*other], *alike);
            }
            next.apart[*group].extend(self.apart[at].iter().map(|other| groups[*other]));
        }
        next
    }
}

/// The group of each member, by moving points between groups as long as that raises
///
/// ```text
/// Q = Σ_groups ( likeness within the group − γ · pairs of members in it )
/// ```
///
/// and then groups as a whole. After V. D. Blondel et al., "Fast unfolding of communities in large networks" (2008), with
/// the constant Potts model of V. A. Traag, P. Van Dooren, Y. Nesterov, "Narrow scope for resolution-limit-free community
/// detection" (2011), doi:10.1103/PhysRevE.84.016114. Points are gone through in their order, so the outcome is always the
/// same. A move that would bring together what stays apart is not made. Nothing where it is stopped.
pub(super) fn communities(graph: &Graph, resolution: f32, watch: &Watch) -> Option<Vec<usize>> {
    let mut group: Vec<usize> = (0..graph.size.len()).collect();
    // Up to whole groups and down to single points again, until neither moves.
    for _ in 0..MOST_ROUNDS {
        watch.goes_on()?;
        let before = group.clone();
        group = super::numbered(&moved(graph, group, resolution));
        let joined = joined(&graph.of_groups(&group), resolution);
        group = super::numbered(&group.iter().map(|at| joined[*at]).collect::<Vec<_>>());
        if group == before {
            break;
        }
    }
    Some(graph.member.iter().map(|point| group[*point]).collect())
}

/// Groups of groups, up to where nothing moves.
fn joined(graph: &Graph, resolution: f32) -> Vec<usize> {
    let groups = super::numbered(&moved(graph, (0..graph.size.len()).collect(), resolution));
    let next = graph.of_groups(&groups);
    if next.size.len() == graph.size.len() {
        return groups;
    }
    let above = joined(&next, resolution);
    groups.iter().map(|at| above[*at]).collect()
}

/// Moves are gone through at most so often; they end by themselves long before.
const MOST_ROUNDS: usize = 100;

fn moved(graph: &Graph, mut group: Vec<usize>, resolution: f32) -> Vec<usize> {
    let points = graph.size.len();
    let mut size = vec![0.0; points];
    group.iter().enumerate().for_each(|(at, mine)| size[*mine] += graph.size[at]);
    for _ in 0..MOST_ROUNDS {
        let mut still = true;
        for at in 0..points {
            let mine = group[at];
            size[mine] -= graph.size[at];
            let best = best_group(graph, &group, &size, at, resolution);
            size[best] += graph.size[at];
            if best != mine {
                group[at] = best;
                still = false;
            }
        }
        if still {
            break;
        }
    }
    group
}

/// The group in which a point does most good; its own where nothing is better, one by itself where all do harm.
fn best_group(graph: &Graph, group: &[usize], size: &[f32], at: usize, resolution: f32) -> usize {
    let mut to: BTreeMap<usize, f32> = BTreeMap::new();
    for (other, alike) in &graph.links[at] {
        *to.entry(group[*other]).or_default() += alike;
    }
    let apart: BTreeSet<usize> = graph.apart[at].iter().map(|other| group[*other]).collect();
    let gain = |of: usize, alike: f32| alike - resolution * graph.size[at] * size[of];
    let mine = group[at];
    let mut best = (gain(mine, to.get(&mine).copied().unwrap_or_default()), mine);
    for (of, alike) in to.into_iter().filter(|(of, _)| *of != mine && !apart.contains(of)) {
        let good = gain(of, alike);
        if good > best.0 + 1e-6 {
            best = (good, of);
        }
    }
    // Better alone than where it does harm; a group that nobody is in any more is as good as a new one.
    if best.0 < -1e-6
        && let Some(empty) = size.iter().position(|size| *size <= 0.0)
    {
        empty
    } else {
        best.1
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn communities_of(graph: &Graph, resolution: f32) -> Vec<usize> {
        communities(graph, resolution, &Watch::default()).unwrap()
    }

    /// The objective, counted the obvious way over all pairs.
    fn quality(alike: &[Vec<f32>], groups: &[usize], resolution: f32) -> f32 {
        let mut sum = 0.0;
        for one in 0..groups.len() {
            for other in 0..one {
                if groups[one] == groups[other] {
                    sum += alike[one][other] - resolution;
                }
            }
        }
        sum
    }

    /// The best that any grouping reaches, by trying all.
    fn best(alike: &[Vec<f32>], resolution: f32) -> f32 {
        fn all(count: usize, groups: &mut Vec<usize>, found: &mut impl FnMut(&[usize])) {
            if groups.len() == count {
                return found(groups);
            }
            for group in 0..=groups.iter().max().map_or(0, |most| most + 1) {
                groups.push(group);
                all(count, groups, found);
                groups.pop();
            }
        }
        let mut most = 0.0_f32;
        all(alike.len(), &mut Vec::new(), &mut |groups| most = most.max(quality(alike, groups, resolution)));
        most
    }

    fn rows(alike: &[Vec<f32>]) -> Vec<Vec<(usize, f32)>> {
        alike.iter().map(|row| row.iter().copied().enumerate().filter(|(_, alike)| *alike > 0.0).collect()).collect()
    }

    fn symmetric(numbers: &[f32], count: usize) -> Vec<Vec<f32>> {
        let mut alike = vec![vec![0.0; count]; count];
        let mut next = numbers.iter().copied();
        for (one, other) in (0..count).flat_map(|one| (0..one).map(move |other| (one, other))) {
            let number = next.next().unwrap_or_default();
            (alike[one][other], alike[other][one]) = (number, number);
        }
        alike
    }

    #[test]
    fn groups_are_nearly_as_good_as_any() {
        // Numbers of a linear congruential generator; half of all pairs are not alike at all.
        let mut state = 7_u32;
        let mut next = || {
            state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            f32::from(u16::try_from(state >> 16).unwrap()) / 32_768.0 - 1.0
        };
        let (mut reached, mut most) = (0.0, 0.0);
        for _ in 0..200 {
            let numbers: Vec<f32> = (0..21).map(|_| next().max(0.0)).collect();
            let alike = symmetric(&numbers, 7);
            let groups = communities_of(&Graph::of(7, &rows(&alike), &Decided::default()), 0.3);
            reached += quality(&alike, &groups, 0.3);
            most += best(&alike, 0.3);
        }
        assert!(reached > 0.95 * most, "{reached} of {most}");
    }

    proptest! {
        #[test]
        fn no_point_does_better_elsewhere_or_alone(numbers in prop::collection::vec(prop_oneof![Just(0.0_f32), 0.0_f32..1.0], 21)) {
            let alike = symmetric(&numbers, 7);
            let groups = communities_of(&Graph::of(7, &rows(&alike), &Decided::default()), 0.3);
            let reached = quality(&alike, &groups, 0.3);
            for at in 0..7 {
                for group in 0..=7 {
                    let mut moved = groups.clone();
                    moved[at] = group;
                    prop_assert!(quality(&alike, &moved, 0.3) <= reached + 1e-4);
                }
            }
        }

        #[test]
        fn what_is_decided_holds(numbers in prop::collection::vec(0.0_f32..1.0, 28), apart in prop::collection::vec((0_usize..8, 0_usize..8), 0..6)) {
            let alike = symmetric(&numbers, 8);
            let decided = Decided { together: vec![vec![0, 3, 5], vec![1, 2]], apart };
            let groups = communities_of(&Graph::of(8, &rows(&alike), &decided), 0.3);
            prop_assert!(groups[0] == groups[3] && groups[3] == groups[5] && groups[1] == groups[2]);
            let block = |at: usize| decided.together.iter().position(|all| all.contains(&at));
            // What stands together by decision holds beside what stands apart by decision.
            let blocks_apart = |a: usize, b: usize| block(a).is_some() && block(a) == block(b);
            for (a, b) in &decided.apart {
                prop_assert!(a == b || blocks_apart(*a, *b) || groups[*a] != groups[*b]);
            }
        }
    }
}
