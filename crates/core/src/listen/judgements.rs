//! Judgements in one breath, without verbs: "tea cold, toilets closed, staff nice".

use std::collections::BTreeSet;

use super::colours::is_coloured;
use crate::text::{Span, holds_together, stem, words};

/// A judgement in such a list has so many words.
const WORDS: std::ops::RangeInclusive<usize> = 2..=4;
/// What judges without being good or bad by itself.
const STATES: [&str; 16] = [
    "away", "closed", "dark", "down", "full", "gone", "high", "hot", "huge", "long", "low", "old", "open", "short",
    "small", "wet",
];

/// The parts of a clause, where all of them are short judgements of different things: each is a thought of its own. Any
/// other clause stays whole. `from` is where it begins in the whole text. Linear.
pub(super) fn judgements(clause: &str, from: usize) -> Vec<Span> {
    let whole = || vec![Span { from, to: from + clause.chars().count() }];
    let mut judged = BTreeSet::new();
    let mut spans = Vec::new();
    let mut at = from;
    for part in parts(clause) {
        let length = part.chars().count();
        let before = part.chars().take_while(|letter| letter.is_whitespace()).count();
        spans.push(Span { from: at + before, to: at + before + part.trim().chars().count() });
        at += length;
        match judged_in(part) {
            Some(things) if things.is_disjoint(&judged) => judged.extend(things),
            _ => return whole(),
        }
    }
    spans
}

/// A clause cut after each comma and before each "and".
fn parts(clause: &str) -> Vec<&str> {
    let commas = clause.match_indices(',').map(|(at, comma)| at + comma.len());
    let ands = clause.match_indices(" and ").map(|(at, _)| at);
    // After a comma an "and" begins no part of its own.
    let ands = ands.filter(|at| !clause[..*at].trim_end().ends_with(','));
    let mut cuts: Vec<usize> = commas.chain(ands).filter(|at| !clause[*at..].trim().is_empty()).collect();
    cuts.extend([0, clause.len()]);
    cuts.sort_unstable();
    cuts.windows(2).map(|pair| &clause[pair[0]..pair[1]]).collect()
}

/// What is judged in a part that is no more than a judgement.
fn judged_in(part: &str) -> Option<BTreeSet<String>> {
    let mut said = words(part);
    if said.first().is_some_and(|word| word == "and") {
        said.remove(0);
    }
    let judges = |word: &&String| is_coloured(word) || STATES.contains(&word.as_str());
    let things: BTreeSet<String> =
        said.iter().filter(|word| !judges(word) && !holds_together(word)).map(|word| stem(word)).collect();
    (WORDS.contains(&said.len()) && said.iter().any(|word| judges(&word)) && !things.is_empty()).then_some(things)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn said(clause: &str) -> Vec<&str> {
        judgements(clause, 0).iter().map(|span| span.of(clause).unwrap()).collect()
    }

    #[test]
    fn each_judgement_of_a_list_is_one() {
        assert_eq!(said("tea cold, toilets closed, staff nice"), ["tea cold,", "toilets closed,", "staff nice"]);
        assert_eq!(said("Late boat, cold tea and rude staff."), ["Late boat,", "cold tea", "and rude staff."]);
        assert_eq!(said("Great crew, and the app crashes!"), ["Great crew,", "and the app crashes!"]);
    }

    #[test]
    fn what_is_no_list_of_judgements_stays_whole() {
        for whole in [
            "Great boat, love it",
            "tea, coffee and cake",
            "Slow boat, slow boat again",
            "On Monday, bad weather",
            "The crew was very kind to my mother, thank you",
            "cold and wet",
            "Nice",
            "",
        ] {
            assert_eq!(judgements(whole, 3), [Span { from: 3, to: 3 + whole.chars().count() }], "{whole}");
        }
    }

    proptest! {
        #[test]
        fn no_letter_is_lost(clause in "((tea|staff|boat|é) (cold|nice|late|😡)(,| and|, and) ?){0,5}") {
            let clause = clause.trim();
            let parts = if clause.is_empty() { Vec::new() } else { said(clause) };
            let letters: String = parts.concat().chars().filter(|c| c.is_alphanumeric()).collect();
            let all: String = clause.chars().filter(|c| c.is_alphanumeric()).collect();
            prop_assert_eq!(letters, all);
        }
    }
}
