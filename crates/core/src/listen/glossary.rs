//! The team's own terms: what things are called here, and what else people call them.

use std::collections::{BTreeMap, BTreeSet};

use unicode_segmentation::UnicodeSegmentation;

use super::ENGINE;
use super::term::Term;
use crate::text::stem;
use crate::things::TermId;

/// A term has at most so many words that count.
const LONGEST: usize = 8;

/// All terms of a product, to be looked for in texts. Forms of a word are one.
#[derive(Debug, Clone, Default)]
pub struct Glossary {
    /// By the stems of a way to say it: the term, and whether it is its name.
    ways: BTreeMap<Vec<String>, (TermId, bool)>,
    names: BTreeMap<TermId, String>,
    stamp: i64,
}

/// A place in a text where a term stands: its bytes, the term, and whether it is called by its name.
type Place = (std::ops::Range<usize>, TermId, bool);

impl Glossary {
    /// The glossary of these terms. Of two that are called the same, the first counts.
    #[must_use]
    pub fn of(terms: &[Term]) -> Self {
        let mut glossary = Glossary::default();
        let mut hash = Fnv::default();
        for term in terms {
            let others = term.synonyms.as_deref().unwrap_or_default().split([',', ';', '\n']);
            for (at, way) in std::iter::once(term.name.as_str()).chain(others).enumerate() {
                let stems: Vec<String> = way.unicode_words().take(LONGEST).map(stemmed).collect();
                if stems.is_empty() {
                    continue;
                }
                stems.iter().for_each(|stem| hash.take(stem));
                hash.take(if at == 0 { &term.name } else { "" });
                glossary.ways.entry(stems).or_insert((term.id, at == 0));
            }
            glossary.names.insert(term.id, term.name.clone());
        }
        glossary.stamp = ENGINE | hash.0.cast_signed() << 8;
        glossary
    }

    /// By what the engine reads with this glossary: what was told by another number is told anew.
    #[must_use]
    pub fn engine(&self) -> i64 {
        // Where there is nothing to look for, it is as if there were no glossary.
        if self.ways.is_empty() { ENGINE } else { self.stamp }
    }

    /// The terms that a text speaks of, each once, in the order of their numbers. O(words of the text).
    #[must_use]
    pub fn spoken_of(&self, text: &str) -> Vec<TermId> {
        let all: BTreeSet<TermId> = self.places(text).into_iter().map(|(_, term, _)| term).collect();
        all.into_iter().collect()
    }

    /// A text in which each term is called by its name, so that what means the same is understood as the same.
    /// O(words of the text).
    #[must_use]
    pub fn in_our_words(&self, text: &str) -> String {
        let mut ours = String::with_capacity(text.len());
        let mut at = 0;
        for (place, term, named) in self.places(text) {
            if !named && let Some(name) = self.names.get(&term) {
                ours.push_str(&text[at..place.start]);
                ours.push_str(name);
                at = place.end;
            }
        }
        ours.push_str(&text[at..]);
        ours
    }

    /// Where terms stand, from left to right; of those that begin at one place the longest.
    fn places(&self, text: &str) -> Vec<Place> {
        if self.ways.is_empty() {
            return Vec::new();
        }
        let words: Vec<(usize, &str)> = text.unicode_word_indices().collect();
        let stems: Vec<String> = words.iter().map(|(_, word)| stemmed(word)).collect();
        let mut places = Vec::new();
        let mut from = 0;
        while from < stems.len() {
            let longest = (1..=LONGEST.min(stems.len() - from)).rev().find_map(|count| {
                let way = self.ways.get(&stems[from..from + count])?;
                Some((count, *way))
            });
            let Some((count, (term, named))) = longest else {
                from += 1;
                continue;
            };
            let (last, word) = words[from + count - 1];
            places.push((words[from].0..last + word.len(), term, named));
            from += count;
        }
        places
    }
}

fn stemmed(word: &str) -> String {
    stem(&word.replace('\u{2019}', "'").to_lowercase())
}

/// A number that is likely another one for other words (the Fowler–Noll–Vo hash, FNV-1a).
struct Fnv(u64);

impl Default for Fnv {
    fn default() -> Self {
        Fnv(0xcbf2_9ce4_8422_2325)
    }
}

impl Fnv {
    fn take(&mut self, words: &str) {
        for byte in words.bytes().chain([0]) {
            self.0 = (self.0 ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
        }
    }
}

/// A number that is likely another one for other words.
pub(super) fn fnv(words: &str) -> i64 {
    let mut hash = Fnv::default();
    hash.take(words);
    hash.0.cast_signed()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::ProductId;

    fn term(id: i64, name: &str, synonyms: &str) -> Term {
        let synonyms = Some(synonyms.to_owned());
        Term { id: TermId(id), rev: 1, product_id: ProductId(1), name: name.into(), synonyms, note: None }
    }

    fn ours() -> Glossary {
        Glossary::of(&[
            term(1, "vehicle deck", "car deck, garage; hold"),
            term(2, "season pass", "yearly ticket"),
            term(3, "deck", ""),
        ])
    }

    #[test]
    fn terms_are_found_by_any_of_their_words() {
        let found = |text: &str| ours().spoken_of(text).into_iter().map(|id| id.0).collect::<Vec<_>>();
        assert_eq!(found("The Car Decks were full, and my yearly ticket did not scan"), [1, 2]);
        assert_eq!(found("Up on deck it was cold"), [3]);
        assert_eq!(found("the vehicle deck"), [1]);
        assert_eq!(found("the carriage"), [0; 0]);
        assert_eq!(Glossary::of(&[]).spoken_of("deck"), []);
    }

    #[test]
    fn synonyms_become_the_name_and_nothing_else_changes() {
        let said = "My yearly tickets won\u{2019}t open the garage \u{1f697}… the vehicle decks!";
        assert_eq!(
            ours().in_our_words(said),
            "My season pass won\u{2019}t open the vehicle deck \u{1f697}… the vehicle decks!"
        );
        assert_eq!(ours().in_our_words("nothing of it"), "nothing of it");
    }

    #[test]
    fn another_glossary_reads_anew() {
        assert_eq!(Glossary::of(&[]).engine(), ENGINE);
        assert_eq!(Glossary::of(&[term(1, " ", ",")]).engine(), ENGINE);
        assert_ne!(ours().engine(), ENGINE);
        assert_eq!(ours().engine(), ours().engine());
        for other in
            [term(1, "vehicle deck", "garage"), term(1, "garage", "vehicle deck"), term(1, "Vehicle deck", "car deck")]
        {
            let engine = Glossary::of(&[other]).engine();
            assert!(engine != ENGINE && engine != ours().engine());
        }
    }
}
