//! Excerpts as points: where their meaning lies from the middle of all, and what sort of thing they say.

use super::needs;
use crate::listen::FeedbackKind;
use crate::text::{DIMENSIONS, Vector};

/// An excerpt that is to be grouped.
#[derive(Debug, Clone, PartialEq)]
pub struct Member {
    /// What it means, as it is kept: there may be a hundred thousand, and a vector takes four times as much.
    pub(super) meaning: Box<[u8]>,
    /// How likely it is of each kind, in the order of [`FeedbackKind::ALL`].
    pub kinds: [f32; 7],
    /// Whether it says too little by itself, or in another language than most: then it makes no group, and only joins one
    /// that it is surely a part of.
    pub weak: bool,
    /// Who said it, by a number: the same for the same person.
    pub voice: i64,
}

impl Member {
    /// An excerpt that can make a group, of nobody in particular.
    #[must_use]
    pub fn new(meaning: &Vector, kinds: [f32; 7]) -> Self {
        Member { meaning: meaning.to_bytes().into(), kinds, weak: false, voice: 0 }
    }

    /// What it means.
    #[must_use]
    pub fn meaning(&self) -> Vector {
        Vector::from_bytes(&self.meaning).unwrap_or_else(|| Vector::pointing(Vec::new()))
    }

    /// Whether both mean the very same and are as likely of each kind.
    pub(super) fn says_as(&self, other: &Member) -> bool {
        self.weak == other.weak && self.marks().eq(other.marks())
    }

    /// What it means and says, as numbers to be compared.
    pub(super) fn marks(&self) -> impl Iterator<Item = u32> {
        let kinds = self.kinds.iter().map(|number| number.to_bits());
        self.meaning.iter().map(|byte| u32::from(*byte)).chain(kinds)
    }
}

/// Kinds that say the same sort of thing: a wish, a defect and a difficulty are three ways to say one need.
const SORTS: [&[FeedbackKind]; 5] = [
    &[FeedbackKind::Request, FeedbackKind::Defect, FeedbackKind::Friction],
    &[FeedbackKind::HelpNeeded],
    &[FeedbackKind::Praise],
    &[FeedbackKind::Habit],
    &[FeedbackKind::Leaving],
];

/// What is lost of the likeness of two excerpts that are surely of different sorts.
pub(super) const SORT: f32 = 0.15;

/// From where excerpts are seen as points: the middle of all.
pub(super) struct Sight {
    centre: Vector,
    far: f32,
}

impl Sight {
    pub(super) fn of(members: &[&Member]) -> Sight {
        let centre = super::middle_of(members.iter().map(|member| member.meaning()));
        Sight { far: mean_length(members, &centre), centre }
    }

    /// A point, for which the product with another is
    ///
    /// ```text
    /// cosine of their meanings, seen from the middle of all by what tells needs apart  +  SORT · P(both are of the same sort)
    /// ```
    ///
    /// It is filled up to a multiple of eight numbers. O(`DIMENSIONS`²).
    pub(super) fn point(&self, member: &Member) -> Vec<f32> {
        let mut numbers = from_centre_by(&member.meaning(), &self.centre, self.far);
        let likely = |kind: &FeedbackKind| {
            FeedbackKind::ALL.iter().position(|one| one == kind).map_or(0.0, |at| member.kinds[at])
        };
        numbers.extend(SORTS.iter().map(|sort| sort.iter().map(likely).sum::<f32>() * SORT.sqrt()));
        numbers.resize(numbers.len().next_multiple_of(8), 0.0);
        numbers
    }

    /// The points of all, one after another.
    pub(super) fn points(&self, members: &[&Member]) -> impl Iterator<Item = Vec<f32>> {
        members.iter().map(|member| self.point(member))
    }
}

/// How long the mean of the meanings is: it points at the centre, and is shorter the more they differ.
fn mean_length(members: &[&Member], centre: &Vector) -> f32 {
    #[expect(clippy::cast_precision_loss, reason = "counts of excerpts are far below 2^23")]
    let count = members.len().max(1) as f32;
    members.iter().map(|member| member.meaning().alike(centre)).sum::<f32>() / count
}

fn from_centre_by(meaning: &Vector, centre: &Vector, far: f32) -> Vec<f32> {
    let apart: Vec<f32> = meaning.numbers().iter().zip(centre.numbers()).map(|(x, c)| x - far * c).collect();
    Vector::pointing(needs::seen(&apart)).numbers().to_vec()
}

/// Where a middle lies from the middle of all.
pub(super) fn from_centre(meaning: &Vector, centre: &Vector) -> Vec<f32> {
    let numbers = from_centre_by(meaning, centre, meaning.alike(centre).clamp(0.0, 0.5));
    debug_assert_eq!(numbers.len(), DIMENSIONS);
    numbers
}
