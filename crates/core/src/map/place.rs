//! Places in an ordered list that people rearrange.

/// Where a thing goes: its new position, or new positions for the whole list where the gap has
/// become too small to hold one more.
#[derive(Debug, Clone, PartialEq)]
pub enum Place {
    /// Only the moved thing changes.
    At(f64),
    /// All positions anew: one for each thing of the list in its order, then the moved thing's.
    Anew {
        /// The positions of those that were there, in their order.
        others: Vec<f64>,
        /// The moved thing's.
        own: f64,
    },
}

/// Two positions closer than this leave no sure room between them.
const LEAST_GAP: f64 = 1e-6;

/// The position of a thing that goes before the one at place `before` of a list (or to its end).
///
/// `others` are the positions of the list without the moved thing, ascending. The middle of the gap
/// is taken, so that a move writes one row; about thirty moves into the same gap use it up, then the
/// list is numbered anew. O(1), or O(n) where it is numbered anew.
#[must_use]
pub fn place(others: &[f64], before: Option<usize>) -> Place {
    let at = before.unwrap_or(others.len()).min(others.len());
    let left = at.checked_sub(1).and_then(|n| others.get(n)).copied();
    let right = others.get(at).copied();
    match (left, right) {
        (None, None) => Place::At(1.0),
        (Some(left), None) => Place::At(left + 1.0),
        (None, Some(right)) => Place::At(right - 1.0),
        (Some(left), Some(right)) if right - left > LEAST_GAP => Place::At(left + (right - left) / 2.0),
        (Some(_), Some(_)) => {
            let number = |n: usize| f64::from(u32::try_from(n).unwrap_or(u32::MAX)) + 1.0;
            let others = (0..others.len()).map(|n| number(if n < at { n } else { n + 1 })).collect();
            Place::Anew { others, own: number(at) }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// The same moves done on a plain list of names.
        #[test]
        fn any_moves_give_the_order_that_a_list_would(moves in prop::collection::vec((0..8usize, 0..9usize), 0..200)) {
            let mut plain: Vec<usize> = (0..8).collect();
            let mut positions: Vec<f64> = (0..8).map(f64::from).collect();
            for (thing, to) in moves {
                plain.retain(|other| *other != thing);
                let others: Vec<f64> = plain.iter().map(|other| positions[*other]).collect();
                let to = to.min(plain.len());
                match place(&others, Some(to)) {
                    Place::At(position) => positions[thing] = position,
                    Place::Anew { others, own } => {
                        for (other, position) in plain.iter().zip(others) {
                            positions[*other] = position;
                        }
                        positions[thing] = own;
                    }
                }
                plain.insert(to, thing);
                let mut sorted: Vec<usize> = (0..8).collect();
                sorted.sort_by(|a, b| positions[*a].total_cmp(&positions[*b]));
                prop_assert_eq!(&sorted, &plain);
            }
        }
    }

    #[test]
    fn the_same_gap_over_and_over_is_numbered_anew_in_time() {
        let mut list = vec![1.0, 2.0];
        let mut anew = 0;
        for _ in 0..100 {
            match place(&list, Some(1)) {
                Place::At(position) => list.insert(1, position),
                Place::Anew { others, own } => {
                    anew += 1;
                    list = others;
                    list.insert(1, own);
                }
            }
            assert!(list.windows(2).all(|pair| pair[0] < pair[1]));
        }
        assert!(anew > 0);
    }
}
