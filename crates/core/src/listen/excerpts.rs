//! An item becomes excerpts.

use std::collections::BTreeMap;

use super::judgements::judgements;
use super::speakers::speakers_of;
use super::{FeedbackKind, kind_of, sentiment_of};
use crate::text::{Span, Turn, clauses, sentences, words};
use crate::things::ExcerptId;

/// The present way of splitting. It is raised with each change of where excerpts begin and end, so that what was read before
/// is split anew.
pub const SPLIT: i64 = 2;

/// What was read in one span of an item.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// Where it stands in the item's text.
    pub span: Span,
    /// What it is.
    pub kind: FeedbackKind,
    /// Worst −1 to best +1.
    pub sentiment: f64,
}

/// Words that say nothing by themselves, however many of them stand in a row.
const EMPTY: [&str; 24] = [
    "hi",
    "hello",
    "dear",
    "hey",
    "thanks",
    "thank",
    "you",
    "regards",
    "kind",
    "best",
    "cheers",
    "ok",
    "okay",
    "yes",
    "no",
    "the",
    "a",
    "and",
    "well",
    "so",
    "anyway",
    "team",
    "all",
    "sincerely",
];

/// Reads an item: its sentences, split where they turn and where they judge one thing after another, each with a kind and a
/// sentiment.
///
/// What says nothing (a greeting, a sign-off) is left out, unless it is all there is: an item with
/// any words has at least one excerpt. It is read to its end: how much one item holds is bounded where it comes in
/// ([`MOST_CHARACTERS`](super::MOST_CHARACTERS)). Linear in the length of the text.
#[must_use]
pub fn read_item(text: &str) -> Vec<Reading> {
    let spans: Vec<Span> = sentences(text)
        .into_iter()
        .flat_map(|span| span.of(text).map_or_else(Vec::new, |sentence| clauses(sentence, span.from)))
        .flat_map(|span| span.of(text).map_or_else(Vec::new, |clause| judgements(clause, span.from)))
        .collect();
    let telling: Vec<Span> = spans.iter().copied().filter(|span| span.of(text).is_some_and(says_something)).collect();
    let chosen = if telling.is_empty() { spans.into_iter().take(1).collect() } else { telling };
    chosen.into_iter().filter_map(|span| span.of(text).map(|part| read_part(span, part))).collect()
}

/// Reads what somebody gave us: an item, or of a conversation each turn by itself, so that no excerpt is of two speakers; a
/// question of the one who leads it is no evidence. Linear in the length of the text.
#[must_use]
pub fn read_feedback(text: &str, turns: &[Turn]) -> Vec<Reading> {
    if turns.is_empty() {
        return read_item(text);
    }
    let asks = speakers_of(text, turns).asks;
    let told: Vec<Turn> = turns.iter().filter(|turn| asks.is_none() || turn.speaker != asks).cloned().collect();
    read_turns(text, &told)
}

/// What becomes of an item's excerpts where it is split anew. Those whose words are the same stay.
#[derive(Debug, Clone, PartialEq)]
pub struct SplitAnew {
    /// They are none any more.
    pub gone: Vec<ExcerptId>,
    /// They come in the place of those.
    pub new: Vec<Reading>,
}

/// Splits an item the present way; nothing where its excerpts are the same as before. O(text + excerpts).
#[must_use]
pub fn split_anew(text: &str, turns: &[Turn], standing: &[(ExcerptId, Span)]) -> Option<SplitAnew> {
    let mut gone: BTreeMap<(usize, usize), ExcerptId> =
        standing.iter().map(|(id, span)| ((span.from, span.to), *id)).collect();
    let mut new = read_feedback(text, turns);
    new.retain(|reading| gone.remove(&(reading.span.from, reading.span.to)).is_none());
    let changes = !(gone.is_empty() && new.is_empty());
    changes.then(|| SplitAnew { gone: gone.into_values().collect(), new })
}

fn read_turns(text: &str, turns: &[Turn]) -> Vec<Reading> {
    let mut found = Vec::new();
    let mut letters = text.char_indices().map(|(at, _)| at).chain([text.len()]).enumerate().peekable();
    for turn in turns {
        let mut byte = |wanted: usize| {
            while letters.peek().is_some_and(|(at, _)| *at < wanted) {
                letters.next();
            }
            letters.peek().map_or(text.len(), |(_, byte)| *byte)
        };
        let (from, to) = (byte(turn.from), byte(turn.to));
        for reading in read_item(text.get(from..to).unwrap_or_default()) {
            let span = Span { from: reading.span.from + turn.from, to: reading.span.to + turn.from };
            found.push(Reading { span, ..reading });
        }
    }
    found
}

/// What a span of a text seems to be at first sight, before the engine reads it. Linear.
#[must_use]
pub fn glance(text: &str, span: Span) -> Reading {
    read_part(span, span.of(text).unwrap_or_default())
}

fn read_part(span: Span, part: &str) -> Reading {
    Reading { span, kind: kind_of(part, None).kind, sentiment: sentiment_of(part, None) }
}

pub(super) fn says_something(part: &str) -> bool {
    words(part).iter().any(|word| word.chars().any(char::is_alphabetic) && !EMPTY.contains(&word.as_str()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn parts(text: &str) -> Vec<(&str, FeedbackKind)> {
        read_item(text).iter().map(|r| (r.span.of(text).unwrap(), r.kind)).collect()
    }

    #[test]
    fn an_item_is_split_into_what_it_says() {
        let text =
            "Hi team! The crew is lovely, but the app never tells me when a boat is off. Please add a warning. Thanks.";
        assert_eq!(
            parts(text),
            [
                ("The crew is lovely,", FeedbackKind::Praise),
                ("but the app never tells me when a boat is off.", FeedbackKind::Defect),
                ("Please add a warning.", FeedbackKind::Request),
            ]
        );
    }

    #[test]
    fn an_item_with_any_words_has_an_excerpt() {
        assert_eq!(parts("Thanks.").len(), 1);
        assert_eq!(parts("🤷 !!").len(), 0);
    }

    #[test]
    fn no_excerpt_is_of_two_speakers() {
        let text = "Wren: Hów late?\nZoë: Far too late. Please fix it.\nWren: And then";
        let turns = crate::text::turns_of(text);
        let said: Vec<&str> = read_turns(text, &turns).iter().map(|r| r.span.of(text).unwrap()).collect();
        assert_eq!(said, ["Hów late?", "Far too late.", "Please fix it.", "And then"]);
    }

    #[test]
    fn a_long_item_is_read_to_its_end() {
        let long = "It broke again. ".repeat(12_000);
        let read = read_item(&long);
        assert_eq!((read.len(), read.last().unwrap().span.to), (12_000, long.trim_end().len()));
        let talk = "Ann: It broke again. And then?\nBo: Nobody came. We waited.\n".repeat(1_000);
        let read = read_feedback(&talk, &crate::text::turns_of(&talk));
        assert_eq!(read.last().unwrap().span.to, talk.trim_end().len());
        assert!(read.len() >= 2_000);
    }

    #[test]
    fn what_is_split_the_same_way_stays() {
        let text = "The crew is lovely, but the app never tells me. Please add a warning.";
        let spans: Vec<Span> = read_item(text).iter().map(|reading| reading.span).collect();
        let standing: Vec<(ExcerptId, Span)> = (1..).map(ExcerptId).zip(spans.clone()).collect();
        assert_eq!(split_anew(text, &[], &standing), None);
        // As if it had not been split where it turns.
        let whole = Span { from: spans[0].from, to: spans[1].to };
        let anew = split_anew(text, &[], &[(ExcerptId(7), whole), (ExcerptId(8), spans[2])]).unwrap();
        assert_eq!(anew.gone, [ExcerptId(7)]);
        assert!(anew.new.iter().map(|reading| reading.span).eq(spans[..2].iter().copied()));
    }

    proptest! {
        #[test]
        fn excerpts_lie_in_order_inside_their_item(text in "\\PC{0,120}|([a-zé😡]{1,7}[ .,!?\n]|but |, though ){0,60}") {
            let letters: Vec<char> = text.chars().collect();
            let mut last = 0;
            for reading in read_item(&text) {
                let Span { from, to } = reading.span;
                prop_assert!(last <= from && from < to && to <= letters.len());
                // The same stretch, cut out by characters and by bytes.
                let words: String = letters[from..to].iter().collect();
                prop_assert_eq!(reading.span.of(&text), Some(words.as_str()));
                prop_assert!(words.chars().any(char::is_alphanumeric));
                last = to;
            }
            prop_assert_eq!(read_item(&text), read_item(&text));
        }
    }
}
