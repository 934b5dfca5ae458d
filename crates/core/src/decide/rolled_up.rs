//! Progress of an objective from those below it.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::things::ObjectiveId;

/// An objective in the tree.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TreeNode {
    /// Its number.
    pub id: ObjectiveId,
    /// The objective that it is a part of.
    pub parent: Option<ObjectiveId>,
    /// How much it counts among the parts of the same objective, 0 or more.
    pub weight: f64,
    /// How far its own measure is, 0 – 1 from start to target; nothing where it was not measured.
    pub share: Option<f64>,
}

/// How far an objective is by what is below it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RolledUp {
    /// The weighted mean of its parts, 0 – 1. What was not measured counts as nothing reached.
    pub share: f64,
    /// How much of the weight was measured, 0 – 1.
    pub measured: f64,
    /// The objectives without parts that it rests on.
    pub leaves: usize,
}

/// Rolls progress up the tree: an objective without parts is as far as its own measure, one with parts as far as they
/// are, each by its weight. What is beyond the target counts as the target and what went the wrong way as the start, so
/// that one part cannot hide another. Parts that all have no weight count alike. An objective whose parent is not among
/// the nodes is a root; within a circle, the one that is met again counts as a leaf. O(n · depth).
#[must_use]
pub fn roll_up(nodes: &[TreeNode]) -> BTreeMap<ObjectiveId, RolledUp> {
    let by_id: BTreeMap<ObjectiveId, &TreeNode> = nodes.iter().map(|node| (node.id, node)).collect();
    let mut parts: BTreeMap<ObjectiveId, Vec<&TreeNode>> = BTreeMap::new();
    for node in by_id.values() {
        if let Some(parent) = node.parent {
            parts.entry(parent).or_default().push(node);
        }
    }
    let mut done = BTreeMap::new();
    for id in by_id.keys() {
        rolled(*id, &by_id, &parts, &mut BTreeSet::new(), &mut done);
    }
    done
}

fn rolled(
    id: ObjectiveId,
    by_id: &BTreeMap<ObjectiveId, &TreeNode>,
    parts: &BTreeMap<ObjectiveId, Vec<&TreeNode>>,
    above: &mut BTreeSet<ObjectiveId>,
    done: &mut BTreeMap<ObjectiveId, RolledUp>,
) -> RolledUp {
    if let Some(known) = done.get(&id) {
        return *known;
    }
    let below = parts.get(&id).filter(|_| above.insert(id));
    let sum = match below {
        Some(below) => {
            let weights = weights(below);
            let mut sum = RolledUp::default();
            for (part, weight) in below.iter().zip(weights) {
                let one = rolled(part.id, by_id, parts, above, done);
                sum.share += weight * one.share;
                sum.measured += weight * one.measured;
                sum.leaves += one.leaves;
            }
            above.remove(&id);
            sum
        }
        None => {
            let share = by_id.get(&id).and_then(|node| node.share);
            RolledUp {
                share: share.unwrap_or(0.0).clamp(0.0, 1.0),
                measured: f64::from(u8::from(share.is_some())),
                leaves: 1,
            }
        }
    };
    // What was met on the way round a circle is no answer for itself.
    if above.is_empty() {
        done.insert(id, sum);
    }
    sum
}

/// The weights of the parts of one objective, which add up to 1.
fn weights(parts: &[&TreeNode]) -> Vec<f64> {
    let sum: f64 = parts.iter().map(|part| part.weight.max(0.0)).sum();
    let alike = 1.0 / f64::from(u32::try_from(parts.len()).unwrap_or(u32::MAX));
    parts.iter().map(|part| if sum > 0.0 { part.weight.max(0.0) / sum } else { alike }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn node(id: i64, parent: Option<i64>, weight: f64, share: Option<f64>) -> TreeNode {
        TreeNode { id: ObjectiveId(id), parent: parent.map(ObjectiveId), weight, share }
    }

    #[test]
    fn parts_count_by_their_weight() {
        let tree = [
            node(1, None, 1.0, Some(0.9)),
            node(2, Some(1), 3.0, Some(0.5)),
            node(3, Some(1), 1.0, None),
            node(4, Some(2), 1.0, Some(1.4)),
            node(5, Some(2), 1.0, Some(-0.3)),
        ];
        let all = roll_up(&tree);
        assert_eq!(all[&ObjectiveId(2)], RolledUp { share: 0.5, measured: 1.0, leaves: 2 });
        assert_eq!(all[&ObjectiveId(1)], RolledUp { share: 0.375, measured: 0.75, leaves: 3 });
        assert_eq!(all[&ObjectiveId(3)], RolledUp { share: 0.0, measured: 0.0, leaves: 1 });
    }

    #[test]
    fn a_circle_ends() {
        let all = roll_up(&[node(1, Some(2), 1.0, Some(0.2)), node(2, Some(1), 1.0, Some(0.6))]);
        assert_eq!(all.len(), 2);
    }

    proptest! {
        #[test]
        fn the_whole_is_the_sum_over_the_leaves(
            plan in prop::collection::vec((0..40usize, 0..4u8, prop::option::of(-0.5..1.5f64)), 1..40)
        ) {
            // Each hangs below one that came before it, so there is one tree.
            let nodes: Vec<TreeNode> = plan.iter().enumerate().map(|(n, (parent, weight, share))| {
                let parent = (n > 0).then(|| i64::try_from(parent % n).unwrap());
                node(i64::try_from(n).unwrap(), parent, f64::from(*weight), *share)
            }).collect();
            let all = roll_up(&nodes);
            let mut sum = 0.0;
            let mut leaves = 0;
            for leaf in &nodes {
                if nodes.iter().any(|other| other.parent == Some(leaf.id)) {
                    continue;
                }
                // The weight of a leaf in the whole: its part of its parent, times that of the parent, and so on.
                let (mut weight, mut at) = (1.0, leaf);
                while let Some(parent) = at.parent {
                    let beside: Vec<&TreeNode> = nodes.iter().filter(|other| other.parent == Some(parent)).collect();
                    let all: f64 = beside.iter().map(|other| other.weight).sum();
                    weight *= if all > 0.0 { at.weight / all } else { 1.0 / beside.len() as f64 };
                    at = nodes.iter().find(|other| other.id == parent).unwrap();
                }
                sum += weight * leaf.share.unwrap_or(0.0).clamp(0.0, 1.0);
                leaves += 1;
            }
            let root = all[&ObjectiveId(0)];
            prop_assert!((root.share - sum).abs() < 1e-9);
            prop_assert_eq!(root.leaves, leaves);
        }
    }
}
