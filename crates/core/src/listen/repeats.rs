//! Whether somebody says the same again: in another channel, or to be heard at last. It counts once.

use std::collections::VecDeque;

use super::colours::is_negation;
use super::glossary::fnv;
use crate::text::{stem, words};

/// So many of the words of two must be the same, as a share of all words of both.
const THE_SAME: f64 = 0.85;
/// Of fewer words, all must be the same.
const LEAST_WORDS: usize = 5;

/// What joins clauses may be there or not: one that was split off begins with it.
const JOINS: [&str; 5] = ["and", "but", "so", "also", "plus"];

/// What a person says again is looked for among so many excerpts that they said last.
pub const REMEMBERED: usize = 200;

/// Words as they are compared with others: their stems, by a number for each, in order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Wording {
    stems: Vec<i64>,
    /// What makes the same words say something else: a "not", a number.
    turns: Vec<i64>,
}

impl Wording {
    /// The wording of a text. O(words · log words).
    #[must_use]
    pub fn of(text: &str) -> Self {
        let words: Vec<String> = words(text).into_iter().filter(|word| !JOINS.contains(&word.as_str())).collect();
        let turns = words.iter().filter(|word| is_negation(word) || word.contains(char::is_numeric));
        let sorted = |mut numbers: Vec<i64>| {
            numbers.sort_unstable();
            numbers
        };
        Wording {
            turns: sorted(turns.map(|word| fnv(word)).collect()),
            stems: sorted(words.iter().map(|word| fnv(&stem(word))).collect()),
        }
    }

    /// Whether this says the same as another one: by its stems at least 85 in 100 (their Dice coefficient,
    /// `2 · common / (words + words of the other)`), with the same numbers and the same "not"s; of fewer than five words all.
    /// Symmetric. O(words).
    #[must_use]
    pub fn says_again(&self, other: &Wording) -> bool {
        let (fewer, all) = (self.stems.len().min(other.stems.len()), self.stems.len() + other.stems.len());
        if fewer == 0 || self.turns != other.turns || share(2 * fewer, all) < THE_SAME {
            return false;
        }
        if fewer < LEAST_WORDS {
            return self.stems == other.stems;
        }
        share(2 * common(&self.stems, &other.stems), all) >= THE_SAME
    }
}

/// How many numbers two ordered lists share, each as often as it is in both. Linear.
fn common(one: &[i64], other: &[i64]) -> usize {
    let (mut at, mut count) = (0, 0);
    for number in one {
        while at < other.len() && other[at] < *number {
            at += 1;
        }
        if other.get(at) == Some(number) {
            count += 1;
            at += 1;
        }
    }
    count
}

fn share(part: usize, all: usize) -> f64 {
    let float = |count: usize| f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    float(part) / float(all)
}

/// What one person said last, to know what they say again.
#[derive(Debug, Clone)]
pub struct Memory<Id> {
    /// For each where it was said first.
    said: VecDeque<(Id, Wording)>,
}

impl<Id> Default for Memory<Id> {
    fn default() -> Self {
        Memory { said: VecDeque::new() }
    }
}

impl<Id: Copy> Memory<Id> {
    /// Hears the next thing that the person said; gives where they said it first, where they say it again. What is said a
    /// third time goes back to the very first. O(REMEMBERED).
    pub fn hear(&mut self, id: Id, wording: Wording) -> Option<Id> {
        let first = self.said.iter().find(|(_, before)| before.says_again(&wording)).map(|(first, _)| *first);
        if self.said.len() == REMEMBERED {
            self.said.pop_front();
        }
        self.said.push_back((first.unwrap_or(id), wording));
        first
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn again(one: &str, other: &str) -> bool {
        Wording::of(one).says_again(&Wording::of(other))
    }

    #[test]
    fn the_same_is_known_in_a_little_other_words() {
        assert!(again(
            "The boat was an hour late and nobody told us why.",
            "the boat was an hour late, nobody told us why!!"
        ));
        assert!(again("Too late", "too late."));
        assert!(again("and nobody told us why.", "Nobody told us why!"));
    }

    #[test]
    fn what_says_something_else_is_not_the_same() {
        // A "not" and a number make another thing of the same words.
        assert!(!again("The ramp at the pier was open when we came", "The ramp at the pier was not open when we came"));
        assert!(!again("The boat at 8:30 was late and full again", "The boat at 9:30 was late and full again"));
        assert!(!again("Too late", "Too early"));
        // Five words of eight are the same, and that is not enough.
        assert!(!again("I waited two hours for this ferry ticket", "I was waiting two hours on the ferry pier"));
        assert!(!again("The boat was late.", "The boat was late and the crew had no idea what to do about it."));
        assert!(!again("", "") && !again("…", "!"));
    }

    #[test]
    fn what_is_said_a_third_time_goes_back_to_the_first() {
        let said =
            ["Cold tea", "The toilets are closed", "cold tea!", "Nice crew", "COLD TEA", "the toilets are closed"];
        let mut memory = Memory::default();
        let first = said.iter().enumerate().map(|(at, words)| memory.hear(at, Wording::of(words)));
        assert!(first.eq([None, None, Some(0), None, Some(0), Some(1)]));
    }

    #[test]
    fn what_was_said_too_long_ago_is_forgotten() {
        let mut memory = Memory::default();
        let mut hear = |at: usize| memory.hear(at, Wording::of(&format!("boat {}", at % (REMEMBERED + 1))));
        assert!((0..2 * REMEMBERED).all(|at| hear(at).is_none()));
        assert_eq!(memory.hear(0, Wording::of("boat 7")), Some(REMEMBERED + 8));
    }

    proptest! {
        #[test]
        fn it_is_symmetric_and_the_first_is_no_repeat(
            said in prop::collection::vec("((late|boat|cold|tea|not|8|the|pier) ){1,8}", 0..12),
        ) {
            let said: Vec<Wording> = said.iter().map(|words| Wording::of(words)).collect();
            for one in &said {
                prop_assert!(one.says_again(one));
                for other in &said {
                    prop_assert_eq!(one.says_again(other), other.says_again(one));
                }
            }
            let mut memory = Memory::default();
            let first: Vec<Option<usize>> =
                said.iter().enumerate().map(|(at, one)| memory.hear(at, one.clone())).collect();
            for (at, to) in first.iter().enumerate().filter_map(|(at, to)| Some((at, (*to)?))) {
                prop_assert!(to < at && first[to].is_none());
            }
        }
    }
}
