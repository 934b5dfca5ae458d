//! The kind of an excerpt, from its form and its meaning.

use std::sync::LazyLock;

use super::FeedbackKind;
use super::colours::colours_of;
use super::forms::{forms_of, of_colours, of_meaning};
use crate::text::{Features, Logistic, Vector};

/// A kind, and how sure that is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct KindTold {
    /// The kind.
    pub kind: FeedbackKind,
    /// How likely it is to be right, 0 to 1, as far as the engine can tell.
    pub sure: f64,
    /// How likely each kind is, in the order of [`FeedbackKind::ALL`].
    pub likely: [f32; 7],
}

/// Weights learned from `evaluation/train.csv`, with the meaning and without it. `docs/methods/kinds.md` says how.
static WITH_MEANING: LazyLock<Option<Logistic>> = LazyLock::new(|| Logistic::read(include_str!("weights/kinds.tsv")));
static OF_WORDS: LazyLock<Option<Logistic>> = LazyLock::new(|| Logistic::read(include_str!("weights/kinds_words.tsv")));

/// A vector of length 1 spreads over 384 numbers, each of them small: this brings them to the size of the others.
const MEANING: f32 = 3.0;
/// What colours are worth beside forms.
const COLOUR: f32 = 0.5;

/// What is known of a text when its kind is told.
#[must_use]
pub fn kind_features(text: &str, meaning: Option<&Vector>) -> Features {
    let mut features = forms_of(text);
    features.extend(of_colours(&colours_of(text)).into_iter().map(|(name, value)| (name, value * COLOUR)));
    features.extend(meaning.map(|vector| of_meaning(vector, MEANING)).unwrap_or_default());
    features
}

/// The kind of a text: the likeliest by its form, its colours and, where it is known, its meaning.
///
/// O(words + dimensions of the meaning).
#[must_use]
pub fn kind_of(text: &str, meaning: Option<&Vector>) -> KindTold {
    let weights = if meaning.is_some() { &WITH_MEANING } else { &OF_WORDS };
    match weights.as_ref() {
        Some(weights) => kind_told(weights, &kind_features(text, meaning)),
        None => KindTold { kind: FeedbackKind::Habit, sure: 0.0, likely: [0.0; 7] },
    }
}

/// The weights that come with the engine, for words whose meaning is known.
pub(super) fn shipped() -> Option<&'static Logistic> {
    WITH_MEANING.as_ref()
}

/// The likeliest kind by some weights.
pub(super) fn kind_told(weights: &Logistic, features: &Features) -> KindTold {
    let mut likely = [0.0; 7];
    for (name, told) in weights.classes().iter().zip(weights.told(features)) {
        if let Some(at) = FeedbackKind::ALL.iter().position(|kind| kind.name() == name) {
            likely[at] = told;
        }
    }
    let most = FeedbackKind::ALL.into_iter().zip(likely).max_by(|a, b| a.1.total_cmp(&b.1));
    let (kind, sure) = most.unwrap_or((FeedbackKind::Habit, 0.0));
    KindTold { kind, sure: f64::from(sure), likely }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Labelled by hand; none of the sentences is in what was learned from or in the demo data.
    const LABELLED: [(&str, FeedbackKind); 21] = [
        ("Please add the small islands to the map.", FeedbackKind::Request),
        ("It would help to see the next boat too.", FeedbackKind::Request),
        ("You should send a text when it is windy.", FeedbackKind::Request),
        ("The ticket page crashes when I turn the phone.", FeedbackKind::Defect),
        ("Scanner said error and I was sent back.", FeedbackKind::Defect),
        ("My receipt never arrived.", FeedbackKind::Defect),
        ("Charged twice for one car.", FeedbackKind::Defect),
        ("The letters are too small on the pier.", FeedbackKind::Friction),
        ("It is hard to tell which day is chosen.", FeedbackKind::Friction),
        ("Buying a ticket takes ages.", FeedbackKind::Friction),
        ("How do I move my booking to Sunday?", FeedbackKind::HelpNeeded),
        ("Where can I park a trailer?", FeedbackKind::HelpNeeded),
        ("Is there a way to pay by invoice?", FeedbackKind::HelpNeeded),
        ("Lovely crew, as always.", FeedbackKind::Praise),
        ("Boarding was quick and easy, well done.", FeedbackKind::Praise),
        ("I always buy two tickets for the week.", FeedbackKind::Habit),
        ("Every morning I check the wind first.", FeedbackKind::Habit),
        ("I print the booking for my mother.", FeedbackKind::Habit),
        ("I deleted the app after that.", FeedbackKind::Leaving),
        ("We switched to the plane.", FeedbackKind::Leaving),
        ("That was the last time for us.", FeedbackKind::Leaving),
    ];

    #[test]
    fn most_sentences_that_a_person_labelled_get_the_same_kind() {
        let wrong: Vec<_> = LABELLED.iter().filter(|(text, kind)| kind_of(text, None).kind != *kind).collect();
        assert!(wrong.len() <= 2, "{wrong:?}");
    }

    #[test]
    fn how_sure_it_is_is_a_probability() {
        for text in ["", "👍", "Where can I park a trailer?"] {
            assert!((0.0..=1.0).contains(&kind_of(text, None).sure), "{text}");
        }
        let (clear, odd) = (kind_of("How do I move my booking?", None), kind_of("Boat", None));
        assert!(clear.sure > odd.sure, "{clear:?} {odd:?}");
    }
}
