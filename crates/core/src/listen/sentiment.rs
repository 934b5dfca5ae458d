//! The sentiment of an excerpt, from its words and its meaning.

use std::sync::LazyLock;

use super::colours::colours_of;
use super::forms::{form_words, of_colours, of_meaning};
use crate::text::{Features, Logistic, Vector};

/// Weights learned from sentences that people rated, with the meaning and without it. `docs/methods/sentiment.md` says how.
static WITH_MEANING: LazyLock<Option<Logistic>> =
    LazyLock::new(|| Logistic::read(include_str!("weights/sentiment.tsv")));
static OF_WORDS: LazyLock<Option<Logistic>> =
    LazyLock::new(|| Logistic::read(include_str!("weights/sentiment_words.tsv")));

/// The classes that are learned.
const SENTIMENTS: [&str; 3] = ["against", "neutral", "for"];
/// What counts as neutral, on both sides of 0.
const NEUTRAL: f64 = 0.05;

/// Which side a sentiment is on: `against`, `neutral` or `for`.
#[must_use]
pub fn side_of(sentiment: f64) -> &'static str {
    let [against, neutral, good] = SENTIMENTS;
    match sentiment {
        _ if sentiment > NEUTRAL => good,
        _ if sentiment < -NEUTRAL => against,
        _ => neutral,
    }
}

/// What the numbers of the meaning and the single words are worth beside the colours.
const MEANING: f32 = 5.0;
const WORD: f32 = 0.5;
/// The likelihoods for and against must be so far apart before a text counts as one or the other.
const APART: f64 = 0.2;

/// What is known of a text when its sentiment is told.
#[must_use]
pub fn sentiment_features(text: &str, meaning: Option<&Vector>) -> Features {
    let mut features = of_colours(&colours_of(text));
    let mut words = form_words(text);
    words.sort_unstable();
    words.dedup();
    features.extend(words.into_iter().map(|word| (format!("w {word}").into(), WORD)));
    features.extend(meaning.map(|vector| of_meaning(vector, MEANING)).unwrap_or_default());
    features
}

/// The sentiment of a text, −1 (worst) to +1 (best).
///
/// ```text
/// d = P(for) − P(against)
/// sentiment = d · NEUTRAL / APART                                          where |d| ≤ APART
///           = ± (NEUTRAL + (|d| − APART) · (1 − NEUTRAL) / (1 − APART))    beyond
/// ```
///
/// so that what lies within ±`NEUTRAL` is what is not clearly for or against. Irony is not understood.
/// O(words + dimensions of the meaning).
#[must_use]
pub fn sentiment_of(text: &str, meaning: Option<&Vector>) -> f64 {
    let weights = if meaning.is_some() { &WITH_MEANING } else { &OF_WORDS };
    let Some(weights) = weights.as_ref() else { return 0.0 };
    let told = weights.told(&sentiment_features(text, meaning));
    let likely = |name: &str| {
        weights
            .classes()
            .iter()
            .position(|class| class == name)
            .and_then(|at| told.get(at))
            .copied()
            .map_or(0.0, f64::from)
    };
    let apart = likely("for") - likely("against");
    let size = apart.abs();
    let told =
        if size <= APART { size * NEUTRAL / APART } else { NEUTRAL + (size - APART) * (1.0 - NEUTRAL) / (1.0 - APART) };
    told.copysign(apart).clamp(-1.0, 1.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn told(text: &str) -> f64 {
        sentiment_of(text, None)
    }

    #[test]
    fn order_is_what_a_reader_expects() {
        let worst_to_best = ["Absolutely terrible", "It was not good", "It left at nine", "Very good"];
        let values: Vec<f64> = worst_to_best.iter().map(|text| told(text)).collect();
        assert!(values.windows(2).all(|pair| pair[0] < pair[1]), "{values:?}");
    }

    #[test]
    fn what_says_nothing_is_neutral() {
        assert!(told("The boat leaves at nine.").abs() <= 0.2, "{}", told("The boat leaves at nine."));
    }

    #[test]
    fn signs_count() {
        assert!(told("Off again 😡") < told("Off again"));
        assert!(told("Home 😊") > 0.0);
    }

    proptest! {
        #[test]
        fn it_stays_within_its_range(text in "\\PC{0,60}|(very |not |good |terrible |😡){0,40}") {
            prop_assert!(told(&text).abs() <= 1.0);
        }
    }
}
