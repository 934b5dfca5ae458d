//! What the engine tells of an excerpt.

use super::{FeedbackKind, Glossary, OwnKinds, kind_of, sentiment_of};
use crate::text::Heard;

/// The engine's number: whatever is told by another one is told anew. It goes up with every change of what is told.
pub const ENGINE: i64 = 5;

/// What the engine tells of some words.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Told {
    /// What they are.
    pub kind: FeedbackKind,
    /// How likely that is to be right, 0 to 1.
    pub sure: f64,
    /// Worst −1 to best +1.
    pub sentiment: f64,
}

/// In another language than the one that the engine was made for, it is at most this sure.
const FOREIGN: f64 = 0.4;

/// How the words of one product are read: with the team's terms, and with what it taught of kinds.
#[derive(Debug, Clone, Default)]
pub struct Reader {
    /// What things are called.
    pub glossary: Glossary,
    /// What was learned of kinds, where it was.
    pub own: Option<OwnKinds>,
}

impl Reader {
    /// By what it reads: what was told by another number is told anew.
    #[must_use]
    pub fn engine(&self) -> i64 {
        let engine = self.glossary.engine();
        match &self.own {
            None => engine,
            // The lowest eight bits say which engine it is.
            Some(own) => engine ^ (own.stamp() << 8),
        }
    }

    /// What it tells of these words, which are in the team's names, heard so, in this language.
    #[must_use]
    pub fn tell(&self, words: &str, heard: &Heard, language: Option<&str>) -> Told {
        let kind = match &self.own {
            Some(own) => own.kind_of(words, &heard.meaning),
            None => kind_of(words, Some(&heard.meaning)),
        };
        let foreign = language.is_some_and(|language| language != "English");
        let sure = if foreign { kind.sure.min(FOREIGN) } else { kind.sure };
        Told { kind: kind.kind, sure, sentiment: sentiment_of(words, Some(heard)) }
    }
}

/// How far a rating and the words beside it must be apart, of 2 at most, before they contradict each other.
const CONTRADICTS: f64 = 1.0;
/// So clear the words must be.
const CLEAR: f64 = 0.35;

/// Whether a rating says the opposite of the words beside it: five stars on a complaint, one on a praise. It may be irony,
/// a slip, or a scale that was read the wrong way round; a person has to look. `most` is the highest rating of the source,
/// whose scale is taken to begin at 1; `sentiments` are those of the excerpts.
#[must_use]
pub fn rating_contradicts(rating: f64, most: f64, sentiments: &[f64]) -> bool {
    let count = u32::try_from(sentiments.len()).unwrap_or(u32::MAX);
    if count == 0 || most <= 1.0 || !(1.0..=most).contains(&rating) {
        return false;
    }
    let said = sentiments.iter().sum::<f64>() / f64::from(count);
    let rated = 2.0 * (rating - 1.0) / (most - 1.0) - 1.0;
    said.abs() >= CLEAR && (rated - said).abs() >= CONTRADICTS && rated * said < 0.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Vector;

    #[test]
    fn a_rating_that_says_the_opposite_is_told() {
        assert!(rating_contradicts(5.0, 5.0, &[-0.6, -0.4]));
        assert!(rating_contradicts(1.0, 5.0, &[0.7]));
        assert!(rating_contradicts(9.0, 10.0, &[-0.7]));
        assert!(!rating_contradicts(5.0, 5.0, &[0.6]));
        assert!(!rating_contradicts(3.0, 5.0, &[-0.9]));
        assert!(!rating_contradicts(1.0, 5.0, &[0.1]));
        assert!(!rating_contradicts(1.0, 1.0, &[0.9]));
        assert!(!rating_contradicts(7.0, 5.0, &[-0.9]));
        assert!(!rating_contradicts(5.0, 5.0, &[]));
    }

    #[test]
    fn it_is_less_sure_in_another_language() {
        let nowhere = Heard::from(Vector::pointing(Vec::new()));
        let words = "Where can I park a trailer?";
        let reader = Reader::default();
        assert!(reader.tell(words, &nowhere, Some("German")).sure <= FOREIGN);
        assert!(reader.tell(words, &nowhere, Some("English")).sure > FOREIGN);
    }
}
