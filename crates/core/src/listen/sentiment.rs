//! The sentiment of an excerpt, from its words and its meaning.

use std::sync::LazyLock;

use super::colours::colours_of;
use super::forms::{form_words, of_colours, of_meaning};
use crate::text::{Features, Heard, Logistic, TONES, Tone};

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

/// A tone says how likely each side is, and how good it is from worst 0 to best 1.
const SCORE: usize = SENTIMENTS.len();
const _: () = assert!(SCORE + 1 == TONES);
/// Below half a step of a tone nothing can be told apart.
const LEAST: f32 = 0.5 / 255.0;

/// The name of the feature that holds the logarithm of how likely a side is by the tone.
#[must_use]
pub fn tone_feature(side: &str) -> String {
    format!("tone {side}")
}

fn of_tone(tone: Tone) -> Features {
    if !tone.is_known() {
        return Features::new();
    }
    let likely = SENTIMENTS.into_iter().zip(tone.numbers());
    likely.map(|(side, x)| (tone_feature(side).into(), x.max(LEAST).ln())).collect()
}

/// How good a text is by its tone, worst −1 to best +1; nothing where nothing told it.
#[must_use]
pub fn tone_score(tone: Tone) -> Option<f64> {
    tone.is_known().then(|| f64::from(tone.numbers()[SCORE] * 2.0 - 1.0))
}

/// What is known of a text when its sentiment is told.
#[must_use]
pub fn sentiment_features(text: &str, heard: Option<&Heard>) -> Features {
    let mut features = of_colours(&colours_of(text));
    let mut words = form_words(text);
    words.sort_unstable();
    words.dedup();
    features.extend(words.into_iter().map(|word| (format!("w {word}").into(), WORD)));
    if let Some(heard) = heard {
        features.extend(of_meaning(&heard.meaning, MEANING));
        features.extend(of_tone(heard.tone));
    }
    features
}

/// How likely a text is against, neutral and for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sides {
    /// Against.
    pub against: f64,
    /// Neither.
    pub neutral: f64,
    /// For.
    pub good: f64,
}

impl Sides {
    /// By some weights.
    #[must_use]
    pub fn told(weights: &Logistic, features: &Features) -> Sides {
        let told = weights.told(features);
        let likely = |name: &str| {
            let at = weights.classes().iter().position(|class| class == name);
            at.and_then(|at| told.get(at)).copied().map_or(0.0, f64::from)
        };
        let [against, neutral, good] = SENTIMENTS.map(likely);
        Sides { against, neutral, good }
    }

    /// The sentiment that they make, together with a score of −1 to +1 where there is one; `counts` is how many times the likelihood
    /// of neither counts, since what is learned from holds less of it than what is read.
    #[must_use]
    pub fn sentiment(self, score: Option<f64>, counts: f64) -> f64 {
        let Sides { against, neutral, good } = self;
        let apart = good - against;
        let all = score.map_or(apart, |score| f64::midpoint(apart, score)) * (1.0 - neutral);
        let clear = if neutral * counts >= good.max(against) {
            return all.clamp(-NEUTRAL, NEUTRAL);
        } else if good > against {
            all.max(BEYOND)
        } else {
            all.min(-BEYOND)
        };
        clear.clamp(-1.0, 1.0)
    }
}

/// Just beyond what counts as neutral.
const BEYOND: f64 = NEUTRAL + 0.001;
/// How many times the likelihood of neither counts; `docs/methods/sentiment.md` says on what it was chosen.
pub const NEUTRAL_COUNTS: f64 = 2.5;

/// The sentiment of a text, −1 (worst) to +1 (best).
///
/// ```text
/// P      = how likely it is against, neutral, for, by its words and, where they are known, its meaning and its tone
/// s      = P(for) − P(against), or the mean of that and the score of its tone, times 1 − P(neutral)
/// neutral where 2.5 · P(neutral) is the most: s, but not beyond ±0.05; elsewhere s, but at least so far
/// ```
///
/// Irony is not understood. O(words + dimensions of the meaning).
#[must_use]
pub fn sentiment_of(text: &str, heard: Option<&Heard>) -> f64 {
    let weights = if heard.is_some() { &WITH_MEANING } else { &OF_WORDS };
    let Some(weights) = weights.as_ref() else { return 0.0 };
    let score = heard.and_then(|heard| tone_score(heard.tone));
    Sides::told(weights, &sentiment_features(text, heard)).sentiment(score, NEUTRAL_COUNTS)
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

    #[test]
    fn a_tone_counts_beside_the_words() {
        let nowhere = crate::text::Vector::pointing(Vec::new());
        let said = |numbers: &[f32]| {
            let heard = Heard { meaning: nowhere.clone(), tone: Tone::told(numbers) };
            sentiment_of("It is what it is", Some(&heard))
        };
        let (bad, good) = (said(&[0.95, 0.03, 0.02, 0.1]), said(&[0.02, 0.03, 0.95, 0.9]));
        assert!(side_of(bad) == "against" && side_of(good) == "for", "{bad} {good}");
        assert_eq!(side_of(said(&[0.05, 0.9, 0.05, 0.5])), "neutral");
    }

    proptest! {
        #[test]
        fn a_sentiment_is_on_the_side_that_is_likeliest(
            a in 0.0..1.0, b in 0.0..1.0, score in prop::option::of(-1.0..=1.0)
        ) {
            let (low, high) = if a < b { (a, b) } else { (b, a) };
            let sides = Sides { against: low, neutral: high - low, good: 1.0 - high };
            let counts = [sides.against, sides.neutral * NEUTRAL_COUNTS, sides.good];
            let most = counts.into_iter().fold(0.0, f64::max);
            let told = side_of(sides.sentiment(score, NEUTRAL_COUNTS));
            let at = SENTIMENTS.iter().position(|name| *name == told).unwrap();
            prop_assert!((counts[at] - most).abs() < 1e-12, "{sides:?} {told}");
        }

        #[test]
        fn it_stays_within_its_range(text in "\\PC{0,60}|(very |not |good |terrible |😡){0,40}") {
            prop_assert!(told(&text).abs() <= 1.0);
        }
    }
}
