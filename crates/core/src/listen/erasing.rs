//! What goes with a person who is erased: where people's words stand in things, which names may be covered wherever they do, and
//! what was copied of what somebody said.

use std::collections::{BTreeSet, HashMap, HashSet};
use std::hash::{DefaultHasher, Hash, Hasher};

use serde_json::Value;

use super::cover::cover_words;
use crate::kind::Prose;

impl Prose {
    /// The column with somebody's words covered. O(text · words).
    #[must_use]
    pub fn covered(self, held: &str, words: &str) -> String {
        match self {
            Prose::Text(_) => cover_words(held, words),
            Prose::Values(_) | Prose::Told(_) => {
                in_values(held, &|text| holds(text, words).then(|| cover_words(text, words)))
            }
        }
    }

    /// The column without what it copied of somebody's words. O(text).
    #[must_use]
    pub fn without_copies(self, held: &str, said: &Said) -> String {
        match self {
            Prose::Text(_) => said.covered(held).unwrap_or_else(|| held.to_owned()),
            Prose::Values(_) | Prose::Told(_) => in_values(held, &|text| said.covered(text)),
        }
    }
}

/// JSON with its texts changed, names of fields left as they are. What is no JSON stays.
fn in_values(held: &str, change: &dyn Fn(&str) -> Option<String>) -> String {
    fn walk(value: &mut Value, change: &dyn Fn(&str) -> Option<String>) -> bool {
        match value {
            Value::String(text) => change(text).map(|changed| *text = changed).is_some(),
            Value::Array(all) => all.iter_mut().fold(false, |any, one| walk(one, change) | any),
            Value::Object(map) => map.values_mut().fold(false, |any, one| walk(one, change) | any),
            _ => false,
        }
    }
    let Ok(mut value) = serde_json::from_str(held) else { return held.to_owned() };
    if walk(&mut value, change) { value.to_string() } else { held.to_owned() }
}

/// Whether words stand in a text, whole and in any case. O(text) where they do not.
#[must_use]
pub fn holds(text: &str, words: &str) -> bool {
    !words.trim().is_empty() && text.to_lowercase().contains(&words.to_lowercase()) && cover_words(text, words) != text
}

/// A name of fewer letters may be anything.
const LEAST_LETTERS: usize = 8;

/// Whether a name or an address tells who is meant wherever it stands: an address, or two words and more of some length. A
/// name of one word may be a word of the language, of the product or of this program.
#[must_use]
pub fn is_telling(name: &str) -> bool {
    let words: Vec<&str> = name.split_whitespace().collect();
    let is_address = words.len() == 1 && name.split_once('@').is_some_and(|(_, domain)| domain.contains('.'));
    let letters = |word: &&str| word.chars().filter(|c| c.is_alphabetic()).count();
    is_address
        || (words.len() >= 2
            && words.iter().all(|word| letters(word) >= 2)
            && words.iter().map(letters).sum::<usize>() >= LEAST_LETTERS)
}

/// So many words in their order are no chance.
const RUN: usize = 5;
/// What is shorter is copied only where the whole of it stands, and is of so many words and letters at least.
const LEAST_WORDS: usize = 3;
const LEAST_OF_WHOLE: usize = 12;

/// What somebody said, to be known again in what was copied of it: without its full stop, over two excerpts, in other lines.
#[derive(Debug, Clone, Default)]
pub struct Said {
    /// Runs of words by their length, each as a hash: shingles as in Broder, "On the resemblance and containment of
    /// documents" (1997).
    runs: HashMap<usize, HashSet<u64>>,
    wholes: BTreeSet<String>,
}

/// A word of a text and where it stands, in characters.
struct Word {
    text: String,
    from: usize,
    to: usize,
}

fn words_of(text: &str) -> Vec<Word> {
    let mut words: Vec<Word> = Vec::new();
    for (at, c) in text.chars().enumerate().filter(|(_, c)| c.is_alphanumeric()) {
        match words.last_mut().filter(|word| word.to == at) {
            Some(word) => {
                word.text.extend(c.to_lowercase());
                word.to = at + 1;
            }
            None => words.push(Word { text: c.to_lowercase().collect(), from: at, to: at + 1 }),
        }
    }
    words
}

fn hash_of(run: &[Word]) -> u64 {
    let mut hasher = DefaultHasher::new();
    run.iter().for_each(|word| word.text.hash(&mut hasher));
    hasher.finish()
}

fn joined(words: &[Word]) -> String {
    words.iter().map(|word| word.text.as_str()).collect::<Vec<_>>().join(" ")
}

impl Said {
    /// Of these texts: whole items and excerpts of them. O(text).
    pub fn new<'a>(texts: impl IntoIterator<Item = &'a str>) -> Self {
        let mut said = Said::default();
        for text in texts {
            let words = words_of(text);
            let whole = joined(&words);
            if whole.chars().count() >= LEAST_OF_WHOLE {
                if (LEAST_WORDS..RUN).contains(&words.len()) {
                    said.runs.entry(words.len()).or_default().insert(hash_of(&words));
                }
                said.wholes.insert(whole);
            }
            said.runs.entry(RUN).or_default().extend(words.windows(RUN).map(hash_of));
        }
        said
    }

    /// A text with what it copied covered; nothing where it copied nothing. O(text).
    #[must_use]
    pub fn covered(&self, text: &str) -> Option<String> {
        let words = words_of(text);
        let mut gone = vec![self.wholes.contains(&joined(&words)); words.len()];
        for (length, runs) in &self.runs {
            for (at, run) in words.windows(*length).enumerate() {
                if runs.contains(&hash_of(run)) {
                    gone[at..at + length].fill(true);
                }
            }
        }
        if !gone.contains(&true) {
            return None;
        }
        let mut letters: Vec<char> = text.chars().collect();
        // What stands between the words, such as the mark of a quote in a new line, stays.
        for (word, _) in words.iter().zip(gone).filter(|(_, gone)| *gone) {
            letters[word.from..word.to].fill(super::cover::MARK);
        }
        Some(letters.into_iter().collect())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::ThingKind;

    #[test]
    fn copies_are_known_without_their_full_stop_over_two_excerpts_and_in_other_lines() {
        let said = Said::new([
            "The boat was off again, nobody told us. We waited on the pier for an hour!",
            "Never again, honestly",
        ]);
        for (copied, left) in [
            (
                "He says: “nobody told us. We waited on” – so it is",
                "He says: “•••••• •••• ••. •• •••••• ••” – so it is",
            ),
            ("> The boat was off\n> again, nobody told us", "> ••• •••• ••• •••\n> •••••, •••••• •••• ••"),
            ("never again - honestly", "••••• ••••• - ••••••••"),
        ] {
            assert_eq!(said.covered(copied).as_deref(), Some(left), "{copied}");
        }
        // What others may say just so stays.
        for free in ["The boat was off", "on the pier for a while", "again", "We waited"] {
            assert_eq!(said.covered(free), None, "{free}");
        }
    }

    #[test]
    fn names_of_fields_stay_and_what_they_hold_is_covered() {
        let held = r#"{"raw":"raw oysters","list":["a Raw deal",3],"state":{"raw":true}}"#;
        let covered: Value = serde_json::from_str(&Prose::Values("own").covered(held, "raw")).unwrap();
        assert_eq!(
            covered,
            serde_json::json!({"raw": "••• oysters", "list": ["a ••• deal", 3], "state": {"raw": true}})
        );
        assert_eq!(Prose::Values("own").covered("no JSON", "no"), "no JSON");
    }

    #[test]
    fn a_word_is_no_name_that_tells_who_is_meant() {
        for name in ["raw", "the", "idea", "1", "Bo", "Great", "A B", "on it", "@", "a@b"] {
            assert!(!is_telling(name), "{name}");
        }
        for name in ["Ann Lee-Harbour", "Zoë Brandt", "ann@hask.example"] {
            assert!(is_telling(name), "{name}");
        }
        assert!(holds("So said ANN LEE.", "Ann Lee") && !holds("Joann Leeward", "ann lee") && !holds("x", " "));
    }

    #[test]
    fn every_kind_says_where_words_stand_once() {
        for kind in ThingKind::ALL {
            let columns: Vec<&str> = kind.description().prose.iter().map(|one| one.column()).collect();
            let once: BTreeSet<&str> = columns.iter().copied().collect();
            assert_eq!(once.len(), columns.len(), "{kind}");
        }
    }
}
