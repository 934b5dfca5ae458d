//! Where a team draws the line between kinds otherwise, the engine learns it from what people said.

use super::glossary::fnv;
use super::kinds::{kind_features, shipped};
use super::{FeedbackKind, KindTold, kind_told};
use crate::text::{Example, Logistic, Vector};

/// Fewer that were judged teach nothing that holds; `docs/methods/kinds.md` has the figures.
pub const LEARNS_FROM: usize = 40;
/// So many examples the shipped weights are worth beside those of a team.
const HOLD: f32 = 5.0;
const ROUNDS: usize = 100;

/// What a person said of an excerpt, or confirmed.
#[derive(Debug, Clone, PartialEq)]
pub struct Judged {
    /// Its words, in the team's names.
    pub words: String,
    /// What they mean.
    pub meaning: Vector,
    /// What they are.
    pub kind: FeedbackKind,
}

/// How kinds are told where a team judges: the shipped weights, moved as far as what it said is worth.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnKinds {
    weights: Logistic,
    stamp: i64,
}

/// From how many judged excerpts is learned, where there are so many: all of 40, 80, 160, and so on. In between nothing is
/// learned anew, as everything that was told is told again then.
#[must_use]
pub fn learned_from(judged: usize) -> usize {
    std::iter::successors(Some(LEARNS_FROM), |step| step.checked_mul(2))
        .take_while(|step| *step <= judged)
        .last()
        .unwrap_or(0)
}

impl OwnKinds {
    /// Learns from what people said; nothing where it is too little. The same gives the same.
    ///
    /// O(judged · (words + dimensions)).
    #[must_use]
    pub fn learned(judged: &[Judged]) -> Option<Self> {
        if judged.len() < LEARNS_FROM {
            return None;
        }
        let examples: Vec<Example> = judged
            .iter()
            .map(|one| Example {
                features: kind_features(&one.words, Some(&one.meaning)),
                class: one.kind.name().to_owned(),
                weight: 1.0,
            })
            .collect();
        // By way of the text in which it is kept, so that what is told does not depend on whether it was kept in between.
        OwnKinds::read(&shipped()?.adapted(&examples, HOLD, ROUNDS).write())
    }

    /// As text.
    #[must_use]
    pub fn write(&self) -> String {
        self.weights.write()
    }

    /// From text that [`OwnKinds::write`] made; nothing where it is not such.
    #[must_use]
    pub fn read(text: &str) -> Option<Self> {
        Logistic::read(text).map(|weights| OwnKinds { weights, stamp: fnv(text) })
    }

    /// A number that is likely another one where something else was learned.
    #[must_use]
    pub fn stamp(&self) -> i64 {
        self.stamp
    }

    /// The kind of a text, as [`super::kind_of`] tells it.
    #[must_use]
    pub fn kind_of(&self, text: &str, meaning: &Vector) -> KindTold {
        kind_told(&self.weights, &kind_features(text, Some(meaning)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::listen::kind_of;

    #[test]
    fn it_is_learned_in_steps() {
        let steps = [0, 39, 40, 79, 80, 159, 1_000, 100_000].map(learned_from);
        assert_eq!(steps, [0, 0, 40, 40, 80, 80, 640, 81_920]);
    }

    #[test]
    fn a_team_that_draws_the_line_otherwise_is_followed() {
        // Whatever is slow is broken here.
        let slow =
            ["The app is slow at the ramp", "Buying takes ages", "It takes long to open a ticket", "So slow to load"];
        let nowhere = Vector::pointing(Vec::new());
        let judged = |count: usize| -> Vec<Judged> {
            let said = slow.iter().map(|words| (*words, FeedbackKind::Defect));
            let others = [("Lovely crew", FeedbackKind::Praise), ("Please add a map", FeedbackKind::Request)];
            said.chain(others)
                .cycle()
                .take(count)
                .map(|(words, kind)| Judged { words: words.into(), meaning: nowhere.clone(), kind })
                .collect()
        };
        let words = "Paying takes ages";
        assert_eq!(kind_of(words, Some(&nowhere)).kind, FeedbackKind::Friction);
        assert_eq!(OwnKinds::learned(&judged(39)), None);
        let own = OwnKinds::learned(&judged(48)).unwrap();
        assert_eq!(own.kind_of(words, &nowhere).kind, FeedbackKind::Defect);
        assert_eq!(
            own.kind_of("Where can I park a trailer?", &nowhere).kind,
            FeedbackKind::HelpNeeded,
            "the rest stays"
        );
        assert_eq!(OwnKinds::read(&own.write()).as_ref(), Some(&own));
        assert_eq!(OwnKinds::read("no weights"), None);
    }
}
