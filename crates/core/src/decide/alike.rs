//! Ideas that may be the same, by what they mean.

use crate::text::{Vector, middle};
use crate::things::IdeaId;

/// Ideas that are at least so alike (as a cosine) may be the same. Chosen on the ideas of the demo and their paraphrases
/// (`docs/methods/ideas.md`).
pub const LIKELY_SAME: f32 = 0.57;

/// An idea, by the meanings of its title and of what else it says.
#[derive(Debug, Clone)]
pub struct IdeaMeaning {
    /// Its number.
    pub id: IdeaId,
    title: Vector,
    whole: Vector,
}

impl IdeaMeaning {
    /// An idea of the meanings of its passages, of which the first is its title; nothing where there is none.
    #[must_use]
    pub fn of(id: IdeaId, passages: &[Vector]) -> Option<IdeaMeaning> {
        Some(IdeaMeaning { id, title: passages.first()?.clone(), whole: middle(passages.iter())? })
    }

    /// How alike two ideas are, −1 to 1: by their titles or by all that they say, whichever is more. Two that say the same at
    /// different length are found by their titles, two that call it otherwise by the rest.
    #[must_use]
    pub fn alike(&self, other: &IdeaMeaning) -> f32 {
        self.title.alike(&other.title).max(self.whole.alike(&other.whole))
    }
}

/// Pairs of ideas that may be the same, the likest first; of each, the one that came first comes first. Pairs that
/// `apart` names are two. O(n²).
#[must_use]
pub fn likely_same(ideas: &[IdeaMeaning], apart: &[(IdeaId, IdeaId)]) -> Vec<(IdeaId, IdeaId, f32)> {
    let mut pairs = Vec::new();
    for (at, one) in ideas.iter().enumerate() {
        for other in &ideas[at + 1..] {
            let (first, second) = (one.id.min(other.id), one.id.max(other.id));
            let alike = one.alike(other);
            let two = apart.iter().any(|(a, b)| (*a.min(b), *a.max(b)) == (first, second));
            if alike >= LIKELY_SAME && !two {
                pairs.push((first, second, alike));
            }
        }
    }
    pairs.sort_by(|a, b| b.2.total_cmp(&a.2).then((a.0, a.1).cmp(&(b.0, b.1))));
    pairs
}

#[cfg(test)]
mod tests {
    use super::*;

    fn idea(id: i64, passages: &[[f32; 2]]) -> IdeaMeaning {
        let vectors: Vec<Vector> = passages.iter().map(|at| Vector::pointing(at.to_vec())).collect();
        IdeaMeaning::of(IdeaId(id), &vectors).unwrap()
    }

    #[test]
    fn pairs_come_likest_first_and_without_those_that_are_two() {
        let ideas = [
            idea(3, &[[1.0, 0.0]]),
            idea(1, &[[1.0, 0.1]]),
            idea(2, &[[0.0, 1.0], [0.1, 1.0]]),
            idea(4, &[[-1.0, 0.2], [0.0, 1.0], [0.0, 1.0]]),
        ];
        let pairs = likely_same(&ideas, &[]);
        let named: Vec<_> = pairs.iter().map(|(a, b, _)| (a.0, b.0)).collect();
        assert_eq!(named, [(1, 3), (2, 4)]);
        assert!(IdeaMeaning::of(IdeaId(9), &[]).is_none());
        let apart = likely_same(&ideas, &[(IdeaId(3), IdeaId(1))]);
        assert_eq!(apart.len(), 1);
    }
}
