//! What is said in the same words is one point: a template that hundreds send is as near to others as one of them.

use std::collections::hash_map::{DefaultHasher, Entry};
use std::collections::{BTreeSet, HashMap};
use std::hash::{Hash, Hasher};

use super::{Decided, Member};

/// Members, each once.
pub(super) struct Once {
    /// The first of those that are the same, in order.
    pub(super) firsts: Vec<usize>,
    /// For each member the place of its first among them.
    pub(super) place: Vec<usize>,
}

impl Once {
    /// Finds members that mean the very same and are of the same kinds. Those of which people decided stand for themselves.
    /// O(n).
    pub(super) fn of(members: &[Member], decided: &Decided) -> Once {
        let pairs = decided.apart.iter().flat_map(|(one, other)| [one, other]);
        let held: BTreeSet<usize> = decided.together.iter().flatten().chain(pairs).copied().collect();
        let mut known: HashMap<u64, usize> = HashMap::new();
        let mut once = Once { firsts: Vec::new(), place: Vec::with_capacity(members.len()) };
        for (at, member) in members.iter().enumerate() {
            let new = once.firsts.len();
            let place = match known.entry(hash(member)) {
                _ if held.contains(&at) => new,
                Entry::Vacant(none) => *none.insert(new),
                Entry::Occupied(found) if member.says_as(&members[once.firsts[*found.get()]]) => *found.get(),
                Entry::Occupied(_) => new,
            };
            if place == new {
                once.firsts.push(at);
            }
            once.place.push(place);
        }
        once
    }
}

fn hash(member: &Member) -> u64 {
    let mut hasher = DefaultHasher::new();
    member.marks().for_each(|number| number.hash(&mut hasher));
    hasher.finish()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Vector;

    #[test]
    fn copies_are_one_but_for_those_of_which_people_decided() {
        let member = |x: f32, kind: f32| Member::new(&Vector::pointing(vec![x, 1.0]), [kind; 7]);
        let (one, other) = (member(0.1, 0.1), member(0.2, 0.1));
        let mut members =
            vec![one.clone(), other.clone(), one.clone(), member(0.1, 0.2), one.clone(), one.clone(), other];
        members.push(Member { weak: true, ..one.clone() });
        // Who says it does not matter.
        members.push(Member { voice: 7, ..one });
        let decided = Decided { together: vec![vec![4]], apart: vec![(6, 0)] };
        let once = Once::of(&members, &Decided::default());
        assert_eq!((once.firsts, once.place), (vec![0, 1, 3, 7], vec![0, 1, 0, 2, 0, 0, 1, 3, 0]));
        let once = Once::of(&members, &decided);
        assert_eq!(once.firsts, [0, 1, 2, 3, 4, 6, 7]);
        assert_eq!(once.place, [0, 1, 2, 3, 4, 2, 5, 6, 2]);
    }
}
