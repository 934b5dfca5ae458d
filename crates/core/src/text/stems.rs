//! Words brought to what they share in all their forms, and words that only hold a sentence together.

use super::words;
use rust_stemmers::{Algorithm, Stemmer};

/// The stem of a word in lower case, after M. F. Porter's second English algorithm ("Snowball"): `tickets` and `ticket`
/// are one. Words of other languages come back nearly as they are.
#[must_use]
pub fn stem(word: &str) -> String {
    let word = word.strip_suffix("'s").unwrap_or(word);
    Stemmer::create(Algorithm::English).stem(word).into_owned()
}

/// Words that say nothing about what a sentence is about, in alphabetical order.
const HOLDING: &str = include_str!("holding_words.txt");

/// Whether a word in lower case only holds a sentence together: an article, a pronoun, an auxiliary, or one that stands in
/// every complaint.
#[must_use]
pub fn holds_together(word: &str) -> bool {
    static WORDS: std::sync::LazyLock<std::collections::HashSet<&str>> =
        std::sync::LazyLock::new(|| HOLDING.split_whitespace().collect());
    let plain = word.split('\'').next().unwrap_or(word);
    WORDS.contains(word) || WORDS.contains(plain) || plain.chars().count() < 2 || plain.parse::<f64>().is_ok()
}

/// Whether a passage holds no word that says what it is about: "There.", "At 8:30, that is it."
#[must_use]
pub fn says_too_little(text: &str) -> bool {
    words(text).iter().all(|word| holds_together(word))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn forms_of_a_word_are_one() {
        // From the published vocabulary of the algorithm.
        for (word, stemmed) in
            [("consigned", "consign"), ("consisting", "consist"), ("knightly", "knight"), ("ponies", "poni")]
        {
            assert_eq!(stem(word), stemmed);
        }
        assert_eq!(stem("ferry's"), stem("ferries"));
    }

    #[test]
    fn small_words_are_told_from_others() {
        for word in ["the", "i've", "isn't", "we're", "12", "a", "really"] {
            assert!(holds_together(word), "{word}");
        }
        assert!(says_too_little("At 8:30, that is it.") && says_too_little("…"));
        assert!(!says_too_little("Too expensive"));
        for word in ["ticket", "queue", "pier", "refund"] {
            assert!(!holds_together(word), "{word}");
        }
    }
}
