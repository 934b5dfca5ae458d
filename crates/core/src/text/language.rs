//! The language of a text.

use super::words::words;

/// Fewer letters say too little.
const LEAST_LETTERS: usize = 12;

/// More letters say nothing more.
const MOST_LETTERS: usize = 600;

/// Small and everyday words that make a sentence English, without those that are as common in a neighbouring language.
const ENGLISH: [&str; 87] = [
    "a", "about", "after", "all", "and", "are", "at", "be", "because", "been", "before", "both", "but", "by", "can",
    "can't", "come", "could", "day", "did", "do", "does", "doesn't", "don't", "every", "for", "four", "from", "get",
    "had", "has", "have", "how", "i", "i'd", "i'm", "if", "into", "is", "isn't", "it", "it's", "just", "late", "me",
    "months", "my", "never", "new", "nobody", "not", "now", "of", "on", "one", "only", "or", "our", "out", "please",
    "same", "says", "that", "the", "their", "them", "there", "they", "this", "three", "time", "to", "two", "us", "we",
    "were", "what", "when", "which", "who", "why", "will", "with", "works", "would", "you", "your",
];
/// Of an English text of some words at least this share is small words; a text of another language has hardly any.
const OFTEN: f64 = 0.25;
const HARDLY: f64 = 0.1;
/// A guess that is less likely than this is none.
const LEAST_LIKELY: f64 = 0.1;
/// Fewer words have no share.
const LEAST_WORDS: usize = 4;

/// The language of a text by its English name, such as `German`; nothing where it is too short or could
/// be one as well as another. Told by the whatlang library from runs of three letters; where that is not sure, as in most short
/// texts, by whether the small words are English. Linear, up to a bound.
#[must_use]
pub fn language_of(text: &str) -> Option<&'static str> {
    if text.chars().filter(|letter| letter.is_alphabetic()).take(LEAST_LETTERS).count() < LEAST_LETTERS {
        return None;
    }
    let enough = text.char_indices().nth(MOST_LETTERS).map_or(text, |(byte, _)| &text[..byte]);
    let found = whatlang::detect(enough)?;
    if found.is_reliable() {
        return Some(found.lang().eng_name());
    }
    let words = words(enough);
    if words.len() < LEAST_WORDS {
        return None;
    }
    #[expect(clippy::cast_precision_loss, reason = "a text of a bounded length")]
    let share = words.iter().filter(|word| ENGLISH.contains(&word.as_str())).count() as f64 / words.len() as f64;
    let guess = found.lang();
    if share >= OFTEN {
        Some(whatlang::Lang::Eng.eng_name())
    } else {
        let other = share <= HARDLY && guess != whatlang::Lang::Eng && found.confidence() >= LEAST_LIKELY;
        other.then(|| guess.eng_name())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn languages_are_recognised_and_not_guessed() {
        let english = "The boat was cancelled and nobody told me, so I stood there in the rain for an hour.";
        let german = "Der Fahrplan ist viel zu klein gedruckt, ich kann ihn ohne Brille überhaupt nicht lesen.";
        let french = "Le bateau est parti sans nous alors que nous étions sur le quai depuis dix minutes.";
        assert_eq!(language_of(english), Some("English"));
        assert_eq!(language_of(german), Some("German"));
        assert_eq!(language_of(french), Some("French"));
        for short in [
            "Nobody told me, again.",
            "The pass logs me out between the boats.",
            "Got the warning at 8:40. Is this a joke?",
        ] {
            assert_eq!(language_of(short), Some("English"), "{short}");
        }
        let foreign = [
            "Der Stellplatz war gebucht und besetzt.",
            "Personale gentilissimo, ci hanno aspettato.",
            "Kein Netz, kein Ticket, keine Fahrt.",
        ];
        for short in foreign {
            assert!(language_of(short).is_some_and(|language| language != "English"), "{short}");
        }
        assert_eq!(
            language_of("Seat row eleven broken"),
            None,
            "small words are missing, but none says that it is another one"
        );
        assert_eq!(language_of("OK"), None);
        assert_eq!(language_of("👍👍👍 12:40 !!"), None);
    }
}
