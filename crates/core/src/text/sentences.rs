//! Where sentences and clauses begin and end.

use unicode_segmentation::UnicodeSegmentation;

/// A stretch of a text, counted in characters (Unicode scalar values) from its beginning.
/// `to` is the first character that no longer belongs to it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Span {
    /// First character.
    pub from: usize,
    /// The character after the last one.
    pub to: usize,
}

impl Span {
    /// The text of this span, or nothing where the span reaches beyond the text.
    #[must_use]
    pub fn of<'a>(&self, text: &'a str) -> Option<&'a str> {
        let mut at = text.char_indices().map(|(byte, _)| byte).chain([text.len()]);
        let from = at.nth(self.from)?;
        if self.to <= self.from {
            return None;
        }
        let to = at.nth(self.to - self.from - 1)?;
        text.get(from..to)
    }
}

/// The sentences of a text without the white space around them, in order.
///
/// Boundaries are those of Unicode Standard Annex 29, and line breaks besides, because people
/// write lists and half sentences. A piece without a letter or digit is no sentence.
/// Linear in the length of the text.
#[must_use]
pub fn sentences(text: &str) -> Vec<Span> {
    let mut spans = Vec::new();
    let mut at = 0;
    for line in text.split_inclusive(['\n', '\r']) {
        for sentence in line.split_sentence_bounds() {
            push(&mut spans, sentence, at);
            at += sentence.chars().count();
        }
    }
    spans
}

/// Words after which a new thought begins when a comma or dash stands before them.
const TURNS: [&str; 6] = ["but", "however", "although", "though", "yet", "except"];
/// A part shorter than this many words stays with the other.
const LEAST_WORDS: usize = 3;

/// Splits one sentence where it turns ("the crew is kind, but the app is slow"), so that praise and
/// complaint in one breath are told apart. `from` is where the sentence begins in the whole text.
#[must_use]
pub fn clauses(sentence: &str, from: usize) -> Vec<Span> {
    let mut cuts = vec![0];
    let mut before = None::<&str>;
    let mut at = 0;
    for piece in sentence.split_word_bounds() {
        let turns = TURNS.contains(&piece.to_lowercase().as_str()) && before.is_some();
        if turns && enough_words(&sentence[..at]) && enough_words(&sentence[at..]) {
            cuts.push(at);
        }
        if !piece.trim().is_empty() {
            before = Some(piece);
        }
        at += piece.len();
    }
    cuts.push(sentence.len());
    let mut spans = Vec::new();
    for pair in cuts.windows(2) {
        let (start, end) = (pair[0], pair[1]);
        push(&mut spans, &sentence[start..end], from + sentence[..start].chars().count());
    }
    spans
}

fn enough_words(part: &str) -> bool {
    part.unicode_words().take(LEAST_WORDS).count() == LEAST_WORDS
}

fn push(spans: &mut Vec<Span>, piece: &str, at: usize) {
    if !piece.chars().any(char::is_alphanumeric) {
        return;
    }
    let lead = piece.chars().take_while(|c| c.is_whitespace()).count();
    let length = piece.trim().chars().count();
    spans.push(Span { from: at + lead, to: at + lead + length });
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn texts(text: &str) -> Vec<&str> {
        sentences(text).iter().map(|s| s.of(text).unwrap()).collect()
    }

    #[test]
    fn sentences_and_lines_are_told_apart() {
        assert_eq!(
            texts("Stood there. The boat did not come!\n- no refund\n\n…\nWhy?"),
            ["Stood there.", "The boat did not come!", "- no refund", "Why?"]
        );
    }

    #[test]
    fn characters_outside_ascii_are_counted_once() {
        assert_eq!(texts("Überfahrt fiel aus 😡. Schade."), ["Überfahrt fiel aus 😡.", "Schade."]);
    }

    #[test]
    fn a_turn_splits_a_sentence_but_a_short_start_does_not() {
        let turn = "The crew is kind, but the app is slow.";
        let parts: Vec<_> = clauses(turn, 0).iter().map(|s| s.of(turn).unwrap()).collect();
        assert_eq!(parts, ["The crew is kind,", "but the app is slow."]);
        assert_eq!(clauses("All but one came.", 0).len(), 1);
        assert_eq!(clauses("But the app is slow.", 0).len(), 1);
    }

    proptest! {
        #[test]
        fn spans_lie_in_order_inside_the_text(text in "\\PC{0,80}|([a-z]{1,8}[ .,!?\n]){0,30}") {
            let mut last = 0;
            for span in sentences(&text) {
                prop_assert!(span.from >= last && span.to > span.from);
                let words = span.of(&text).unwrap();
                prop_assert_eq!(words.trim(), words);
                for part in clauses(words, span.from) {
                    prop_assert!(part.from >= span.from && part.to <= span.to);
                    prop_assert!(part.of(&text).is_some());
                }
                last = span.to;
            }
        }

        #[test]
        fn no_letter_is_lost(text in "([a-zäß]{1,8}[ .,!?\n]{1,2}){0,30}") {
            let kept: String = sentences(&text).iter().flat_map(|s| s.of(&text).unwrap().chars()).filter(|c| c.is_alphanumeric()).collect();
            let all: String = text.chars().filter(|c| c.is_alphanumeric()).collect();
            prop_assert_eq!(kept, all);
        }
    }
}
