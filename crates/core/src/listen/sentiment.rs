//! The sentiment of an excerpt, from words with a known colour.

use crate::text::words;

/// Words with their colour, −3 (worst) to +3 (best): our own short list for this trade.
const COLOURS: &[(&str, f64)] = &[
    ("abysmal", -3.0),
    ("angry", -2.0),
    ("annoyed", -2.0),
    ("annoying", -2.0),
    ("awful", -3.0),
    ("bad", -2.0),
    ("bother", -1.0),
    ("broke", -2.0),
    ("broken", -2.0),
    ("cold", -1.0),
    ("complain", -1.5),
    ("complaint", -1.5),
    ("confused", -1.5),
    ("confusing", -2.0),
    ("crash", -2.0),
    ("crashed", -2.0),
    ("crashes", -2.0),
    ("cross", -1.0),
    ("delay", -1.5),
    ("delayed", -1.5),
    ("difficult", -1.5),
    ("disappointed", -2.0),
    ("disappointing", -2.0),
    ("disaster", -3.0),
    ("disgrace", -3.0),
    ("dreadful", -3.0),
    ("embarrassing", -2.0),
    ("error", -1.5),
    ("fail", -2.0),
    ("failed", -2.0),
    ("fails", -2.0),
    ("fiddly", -1.5),
    ("frozen", -1.5),
    ("frustrated", -2.0),
    ("frustrating", -2.0),
    ("furious", -3.0),
    ("hard", -1.0),
    ("hate", -2.5),
    ("hopeless", -2.5),
    ("horrible", -3.0),
    ("ignored", -2.0),
    ("impossible", -2.0),
    ("joke", -1.5),
    ("late", -1.5),
    ("lost", -1.5),
    ("mess", -2.0),
    ("miserable", -2.5),
    ("misleading", -2.0),
    ("missed", -1.5),
    ("nightmare", -3.0),
    ("nonsense", -2.0),
    ("nuisance", -2.0),
    ("pain", -2.0),
    ("pathetic", -3.0),
    ("pointless", -2.0),
    ("poor", -2.0),
    ("problem", -1.5),
    ("ridiculous", -2.5),
    ("rude", -2.5),
    ("sad", -1.5),
    ("shame", -1.5),
    ("shambles", -3.0),
    ("slow", -1.5),
    ("soaked", -1.5),
    ("sorry", -0.5),
    ("stranded", -2.5),
    ("stressful", -2.0),
    ("stuck", -2.0),
    ("stupid", -2.5),
    ("terrible", -3.0),
    ("tired", -1.5),
    ("ugly", -1.5),
    ("unacceptable", -3.0),
    ("unfair", -2.0),
    ("unhelpful", -2.0),
    ("unreadable", -2.0),
    ("unreliable", -2.0),
    ("upset", -2.0),
    ("useless", -3.0),
    ("waste", -2.0),
    ("wasted", -2.0),
    ("worse", -2.0),
    ("worst", -3.0),
    ("wrong", -1.5),
    ("accurate", 1.5),
    ("amazing", 3.0),
    ("beautiful", 2.5),
    ("best", 2.5),
    ("better", 1.0),
    ("brilliant", 3.0),
    ("calm", 1.5),
    ("cheerful", 2.0),
    ("clear", 1.5),
    ("comfortable", 1.5),
    ("convenient", 2.0),
    ("delight", 2.5),
    ("easy", 2.0),
    ("enjoy", 2.0),
    ("enjoyed", 2.0),
    ("excellent", 3.0),
    ("fantastic", 3.0),
    ("fast", 1.5),
    ("fine", 1.0),
    ("friendly", 2.0),
    ("glad", 1.5),
    ("good", 2.0),
    ("grateful", 2.0),
    ("great", 2.5),
    ("happy", 2.0),
    ("helped", 1.5),
    ("helpful", 2.0),
    ("impressed", 2.5),
    ("joy", 2.5),
    ("kind", 2.0),
    ("love", 2.5),
    ("loved", 2.5),
    ("lovely", 2.5),
    ("marvellous", 3.0),
    ("neat", 1.5),
    ("nice", 2.0),
    ("patient", 1.5),
    ("perfect", 3.0),
    ("pleasant", 2.0),
    ("pleased", 2.0),
    ("polite", 2.0),
    ("quick", 1.5),
    ("quickly", 1.0),
    ("recommend", 2.0),
    ("reliable", 2.0),
    ("safe", 1.5),
    ("simple", 1.5),
    ("smooth", 2.0),
    ("splendid", 3.0),
    ("superb", 3.0),
    ("thank", 1.5),
    ("thanks", 1.5),
    ("treasure", 2.0),
    ("welcome", 1.5),
    ("wonderful", 3.0),
    ("works", 1.0),
];

const NEGATIONS: [&str; 20] = [
    "not", "no", "never", "none", "nobody", "nothing", "without", "hardly", "barely", "can't", "cannot", "won't",
    "don't", "doesn't", "didn't", "isn't", "wasn't", "aren't", "couldn't", "wouldn't",
];
const STRONGER: [&str; 10] =
    ["very", "really", "so", "extremely", "absolutely", "completely", "totally", "utterly", "too", "incredibly"];
const WEAKER: [&str; 6] = ["slightly", "somewhat", "rather", "fairly", "bit", "little"];
const GOOD_SIGNS: [char; 8] = ['😀', '🙂', '😊', '❤', '👍', '😍', '⭐', '🎉'];
const BAD_SIGNS: [char; 8] = ['😡', '😠', '🙁', '😢', '😭', '👎', '💔', '😤'];

/// How far back a negation or an intensifier reaches, in words.
const REACH: usize = 3;
/// A negated word keeps this much of its colour, turned round: "not good" is milder than "bad".
const TURNED: f64 = -0.6;
const INTENSITY: f64 = 1.3;
const SOFTENING: f64 = 0.7;
/// The sum of colours at which the sentiment has gone about seven tenths of the way to its end.
const HALFWAY: f64 = 4.0;

/// The sentiment of a text, −1 (worst) to +1 (best), 0 where nothing in it has a colour.
///
/// ```text
/// s = Σ colour(w) · negation(w) · intensity(w)  +  2 · (good signs − bad signs)
/// sentiment = s / √(s² + h²),  h = 4
/// ```
///
/// The sum over the coloured words `w` is squeezed into −1 … +1 as in C. J. Hutto, E. Gilbert,
/// "VADER: A Parsimonious Rule-based Model for Sentiment Analysis of Social Media Text" (2014).
/// Linear in the number of words.
#[must_use]
pub fn sentiment_of(text: &str) -> f64 {
    let words = words(text);
    let mut sum = 0.0;
    for (at, word) in words.iter().enumerate() {
        let Some((_, colour)) = COLOURS.iter().find(|(name, _)| name == word) else { continue };
        let before = &words[at.saturating_sub(REACH)..at];
        let holds = |list: &[&str]| before.iter().any(|w| list.contains(&w.as_str()));
        let mut colour = *colour;
        if holds(&STRONGER) {
            colour *= INTENSITY;
        }
        if holds(&WEAKER) {
            colour *= SOFTENING;
        }
        if holds(&NEGATIONS) {
            colour *= TURNED;
        }
        sum += colour;
    }
    for sign in text.chars() {
        if GOOD_SIGNS.contains(&sign) {
            sum += 2.0;
        } else if BAD_SIGNS.contains(&sign) {
            sum -= 2.0;
        }
    }
    let squeezed = sum / (sum * sum + HALFWAY * HALFWAY).sqrt();
    (squeezed * 100.0).round() / 100.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_formula_holds_on_a_sum_done_by_hand() {
        // very (1.3) · good (2.0) = 2.6; 2.6 / √(2.6² + 16) = 0.545
        assert!((sentiment_of("It was very good") - 0.54).abs() < 0.011);
        // not · good = −1.2; −1.2 / √(1.44 + 16) = −0.287
        assert!((sentiment_of("It was not good") + 0.29).abs() < 0.011);
    }

    #[test]
    fn order_is_what_a_reader_expects() {
        let worst_to_best =
            ["Absolutely terrible", "It was bad", "It was not good", "It left at nine", "Not bad", "Very good"];
        let values: Vec<f64> = worst_to_best.iter().map(|t| sentiment_of(t)).collect();
        assert!(values.windows(2).all(|pair| pair[0] < pair[1]), "{values:?}");
    }

    #[test]
    fn signs_count() {
        assert!(sentiment_of("Off again 😡") < 0.0);
        assert!(sentiment_of("Home 😊") > 0.0);
    }

    proptest! {
        #[test]
        fn it_stays_within_its_range(text in "\\PC{0,60}|(very |not |good |terrible |😡){0,40}") {
            prop_assert!(sentiment_of(&text).abs() <= 1.0);
        }
    }
}
