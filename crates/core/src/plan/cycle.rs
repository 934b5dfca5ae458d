//! Dependencies must not run in a circle.

use std::collections::{BTreeMap, BTreeSet};

/// Whether letting `dependent` depend on `needed` would close a circle, and which one.
///
/// `edges` are the dependencies that are there, as (needed, dependent). The circle begins and ends
/// with `needed`. Breadth first, so it is a shortest one. O(edges · log).
#[must_use]
pub fn would_close<T: Copy + Ord>(edges: &[(T, T)], needed: T, dependent: T) -> Option<Vec<T>> {
    let mut next: BTreeMap<T, Vec<T>> = BTreeMap::new();
    for (from, to) in edges {
        next.entry(*from).or_default().push(*to);
    }
    let mut came_from: BTreeMap<T, T> = BTreeMap::new();
    let mut seen = BTreeSet::from([dependent]);
    let mut queue = std::collections::VecDeque::from([dependent]);
    while let Some(at) = queue.pop_front() {
        if at == needed {
            let mut way = vec![needed];
            let mut back = at;
            while let Some(before) = came_from.get(&back) {
                way.push(*before);
                back = *before;
            }
            way.push(needed);
            way.reverse();
            return Some(way);
        }
        for to in next.get(&at).into_iter().flatten() {
            if seen.insert(*to) {
                came_from.insert(*to, at);
                queue.push_back(*to);
            }
        }
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::WorkItemId;
    use proptest::prelude::*;

    fn ids(pairs: &[(i64, i64)]) -> Vec<(WorkItemId, WorkItemId)> {
        pairs.iter().map(|(a, b)| (WorkItemId(*a), WorkItemId(*b))).collect()
    }

    #[test]
    fn the_circle_is_named() {
        let edges = ids(&[(1, 2), (2, 3)]);
        let circle = would_close(&edges, WorkItemId(3), WorkItemId(1)).unwrap();
        assert_eq!(circle, [3, 1, 2, 3].map(WorkItemId));
        assert_eq!(would_close(&edges, WorkItemId(1), WorkItemId(3)), None);
        assert_eq!(would_close(&[], WorkItemId(5), WorkItemId(5)), Some(vec![WorkItemId(5), WorkItemId(5)]));
    }

    proptest! {
        /// The slow way: add the edge and see whether the reachability by repeated squaring has a loop.
        #[test]
        fn it_agrees_with_full_reachability(pairs in prop::collection::vec((0..7i64, 0..7i64), 0..14), a in 0..7i64, b in 0..7i64) {
            let edges = ids(&pairs);
            let mut reach = [[false; 7]; 7];
            for (from, to) in &pairs {
                reach[usize::try_from(*from).unwrap()][usize::try_from(*to).unwrap()] = true;
            }
            for mid in 0..7 {
                for from in 0..7 {
                    for to in 0..7 {
                        reach[from][to] |= reach[from][mid] && reach[mid][to];
                    }
                }
            }
            let (needed, dependent) = (usize::try_from(a).unwrap(), usize::try_from(b).unwrap());
            let expected = a == b || reach[dependent][needed];
            let found = would_close(&edges, WorkItemId(a), WorkItemId(b));
            prop_assert_eq!(found.is_some(), expected);
            if let Some(circle) = found {
                prop_assert_eq!(circle.first(), circle.last());
                for pair in circle.windows(2).skip(1) {
                    prop_assert!(edges.contains(&(pair[0], pair[1])));
                }
            }
        }
    }
}
