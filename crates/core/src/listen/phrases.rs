//! Key phrases: the words that tell one group of excerpts from all others.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use super::colours::is_coloured;
use crate::text::{holds_together, rarity, stem, words};

/// A phrase has at most so many words.
const LONGEST: usize = 3;
/// A phrase that fewer excerpts of a group hold says little about it, but where the group is small.
const LEAST: u32 = 2;

/// The phrases of excerpts, counted once for all groups.
#[derive(Debug, Default)]
pub struct Phrases {
    numbers: HashMap<String, u32>,
    /// How each phrase is written, and how often.
    written: Vec<BTreeMap<String, u32>>,
    /// How many excerpts hold each.
    held: Vec<u32>,
    /// The phrases of each excerpt.
    of: Vec<Vec<u32>>,
}

impl Phrases {
    /// Counts the phrases of excerpts: one to three words in a row of which none only holds the sentence together. Forms of
    /// a word are one. Linear.
    #[must_use]
    pub fn of<'a>(excerpts: impl IntoIterator<Item = &'a str>) -> Self {
        let mut phrases = Phrases::default();
        for text in excerpts {
            let mut mine = BTreeSet::new();
            for (key, written) in runs(text) {
                let number = phrases.number(key);
                if mine.insert(number) {
                    phrases.held[number as usize] += 1;
                }
                *phrases.written[number as usize].entry(written).or_default() += 1;
            }
            phrases.of.push(mine.into_iter().collect());
        }
        phrases
    }

    fn number(&mut self, key: String) -> u32 {
        let next = u32::try_from(self.held.len()).unwrap_or(u32::MAX);
        let number = *self.numbers.entry(key).or_insert(next);
        if number == next {
            self.held.push(0);
            self.written.push(BTreeMap::new());
        }
        number
    }

    /// The phrases that tell these excerpts (by their place) from all others, the most telling first. One that stands within
    /// another that was taken is left.
    ///
    /// The weight is the class-based TF-IDF of M. Grootendorst, "BERTopic: Neural topic modeling with a class-based TF-IDF
    /// procedure" (2022), arXiv:2203.05794, over excerpts that hold a phrase instead of its occurrences:
    /// `held here / excerpts here · ln(1 + excerpts / held anywhere)`, times the root of the words in it, since a longer
    /// phrase says more. Linear in the words of these excerpts.
    #[must_use]
    pub fn telling(&self, group: &[usize], count: usize) -> Vec<String> {
        let mut here: BTreeMap<u32, u32> = BTreeMap::new();
        group.iter().filter_map(|at| self.of.get(*at)).flatten().for_each(|one| *here.entry(*one).or_default() += 1);
        let least = if group.len() < 2 { 1 } else { LEAST };
        let mut weighed: Vec<(f64, u32)> = here
            .into_iter()
            .filter(|(_, held)| *held >= least)
            .map(|(phrase, held)| (self.weight(phrase, held, group.len()), phrase))
            .collect();
        weighed.sort_by(|a, b| b.0.total_cmp(&a.0).then_with(|| self.shown(a.1).cmp(&self.shown(b.1))));
        let mut taken: Vec<(BTreeSet<String>, String)> = Vec::new();
        for (_, phrase) in weighed {
            let shown = self.shown(phrase);
            let stems: BTreeSet<String> = words(&shown).iter().map(|word| stem(word)).collect();
            if !taken.iter().any(|(known, _)| known.is_superset(&stems) || stems.is_superset(known)) {
                taken.push((stems, shown));
            }
            if taken.len() == count {
                break;
            }
        }
        taken.into_iter().map(|(_, shown)| shown).collect()
    }

    fn weight(&self, phrase: u32, here: u32, group: usize) -> f64 {
        let (here, anywhere) = (f64::from(here), f64::from(self.held[phrase as usize]));
        let (group, all) = (float(group), float(self.of.len()));
        let long = float(self.shown(phrase).split(' ').count()).sqrt();
        here / group * (1.0 + all / anywhere).ln() * long
    }

    /// As it is written most often.
    fn shown(&self, phrase: u32) -> String {
        let written = self.written[phrase as usize].iter();
        written.max_by(|a, b| a.1.cmp(b.1).then(b.0.cmp(a.0))).map(|(words, _)| words.clone()).unwrap_or_default()
    }
}

/// The words of a text by which it can be told what it is about, each once.
#[must_use]
pub fn telling_words(text: &str) -> BTreeSet<String> {
    words(text).into_iter().filter(|word| !holds_together(word)).collect()
}

/// What one text is about: at most `count` phrases of it, the most telling first, none with a word of another. What only
/// says how good something is ("great") is none. `held` tells in how many of `all` texts a word stands, and by that how much
/// it says ([`rarity`]); a phrase says the mean of its words, times the root of their number, as for groups. O(words²).
#[must_use]
pub fn key_phrases(text: &str, count: usize, all: i64, held: impl Fn(&str) -> i64) -> Vec<String> {
    let rare = |word: &str| rarity(held(word), all);
    let mut weighed: Vec<(f64, Vec<String>)> = runs(text)
        .into_iter()
        .map(|(_, written)| written.split(' ').map(str::to_owned).collect::<Vec<String>>())
        .filter(|run| !run.iter().all(|word| is_coloured(word)))
        .map(|run| (run.iter().map(|word| rare(word)).sum::<f64>() / float(run.len()).sqrt(), run))
        .collect();
    // Of those that say as much, the first in the text: the order is kept.
    weighed.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut taken: Vec<Vec<String>> = Vec::new();
    for (_, run) in weighed {
        if taken.len() < count && !taken.iter().flatten().any(|word| run.contains(word)) {
            taken.push(run);
        }
    }
    taken.into_iter().map(|run| run.join(" ")).collect()
}

fn float(count: usize) -> f64 {
    f64::from(u32::try_from(count).unwrap_or(u32::MAX))
}

/// The phrases of a text: by their stems, and as they are written.
fn runs(text: &str) -> Vec<(String, String)> {
    let mut runs = Vec::new();
    // Words on two sides of a mark are no phrase.
    for part in text.split(|c: char| !c.is_alphanumeric() && !matches!(c, '\'' | '\u{2019}' | ' ' | '-')) {
        let all = words(part);
        for from in 0..all.len() {
            let run: Vec<&str> =
                all[from..].iter().take(LONGEST).map(String::as_str).take_while(|word| !holds_together(word)).collect();
            for to in 1..=run.len() {
                let stems: Vec<String> = run[..to].iter().map(|word| stem(word)).collect();
                runs.push((stems.join(" "), run[..to].join(" ")));
            }
        }
    }
    runs
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_phrase_tells_its_group_from_the_others() {
        let said = [
            "The vehicle deck was full when we came.",
            "Full vehicle deck again, though the app sold me a place",
            "vehicle decks are always full on Fridays",
            "Refund never came for the cancelled sailing.",
            "I still wait for my refund, the app says nothing",
            "The refund takes weeks. The app is no help.",
        ];
        let phrases = Phrases::of(said);
        assert_eq!(phrases.telling(&[0, 1, 2], 2), ["vehicle deck", "full"]);
        assert_eq!(phrases.telling(&[3, 4, 5], 1), ["refund"]);
        // What all groups say tells none of them.
        assert!(!phrases.telling(&[3, 4, 5], 2).first().unwrap().contains("app"));
        assert_eq!(phrases.telling(&[], 3), [""; 0]);
    }

    #[test]
    fn the_weight_is_that_of_the_formula() {
        let phrases = Phrases::of(["late boat", "late train", "late bus", "cold tea"]);
        let late = phrases.numbers["late"];
        // 2 of 2 here, 3 of 4 anywhere, one word: 1 · ln(1 + 4/3).
        assert!((phrases.weight(late, 2, 2) - (7.0_f64 / 3.0).ln()).abs() < 1e-12);
        let boat = phrases.numbers["late boat"];
        // 1 of 2 here, 1 of 4 anywhere, two words.
        assert!((phrases.weight(boat, 1, 2) - 0.5 * 5.0_f64.ln() * 2.0_f64.sqrt()).abs() < 1e-12);
    }

    #[test]
    fn one_text_is_about_its_rarest_words() {
        let held = |word: &str| if ["boat", "app"].contains(&word) { 50 } else { 2 };
        let text = "The app said the boat was gone, and the vehicle deck of the boat was terrible.";
        assert_eq!(key_phrases(text, 2, 100, held), ["vehicle deck", "app"]);
        assert_eq!(key_phrases("Great! It is just great.", 3, 100, held), [""; 0]);
        // "great boat" is more than its colour.
        assert_eq!(key_phrases("A great boat", 3, 100, held), ["great boat"]);
        assert!(telling_words("The app said it").iter().eq(["app"]));
    }

    #[test]
    fn words_on_two_sides_of_a_mark_are_no_phrase() {
        let keys: Vec<String> = runs("No refund. Ferry gone").into_iter().map(|(key, _)| key).collect();
        assert_eq!(keys, ["refund", "ferri"]);
    }
}
