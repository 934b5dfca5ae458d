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

/// Words with which a new thought begins that turns against what was said.
const TURNS: [&str; 6] = ["but", "however", "although", "though", "yet", "except"];
/// Words with which a new thought may begin beside what was said; none in a list ("the tea and the coffee"). A reason or a
/// time ("because", "when") belongs to what it is the reason or the time of.
const GOES_ON: [&str; 3] = ["and", "also", "plus"];
/// Words that may be the subject of a clause, or begin it.
const SUBJECTS: [&str; 23] = [
    "i",
    "we",
    "it",
    "they",
    "he",
    "she",
    "you",
    "the",
    "a",
    "an",
    "my",
    "our",
    "your",
    "his",
    "her",
    "their",
    "this",
    "that",
    "these",
    "those",
    "there",
    "nobody",
    "everybody",
];
/// Verbs without which English clauses rarely are. "It's", "won't" and the like are told by their ends.
const VERBS: &str = include_str!("clause_verbs.txt");
/// A verb stands so soon after the subject.
const VERB_WITHIN: usize = 6;
/// A part shorter than this many words stays with the other.
const LEAST_WORDS: usize = 3;
/// The same for a thought that only goes on.
const LEAST_GOING_ON: usize = 4;
/// An abbreviation has fewer letters than this, but for these.
const LEAST_LETTERS: usize = 4;
const ABBREVIATIONS: [&str; 5] = ["approx", "dept", "incl", "prof", "resp"];
/// So many words without any mark between are several sentences whose marks were left out.
const RUN_ON: usize = 18;

/// Splits one sentence where a new thought begins: where it turns ("the crew is kind, but the app is slow"), at a
/// semicolon, at a full stop that a small letter follows, and where it goes on with a subject and a verb of its own ("the
/// app is slow and the crew was rude"; after a comma with another subject only), so that two subjects in one breath are told
/// apart. In a long run of words without any mark a subject with its verb is enough ("… the boat was late we waited an hour
/// the app said nothing"). `from` is where the sentence begins in the whole text. Linear.
#[must_use]
pub fn clauses(sentence: &str, from: usize) -> Vec<Span> {
    let words: Vec<(usize, &str)> = sentence.unicode_word_indices().collect();
    let lower: Vec<String> = words.iter().map(|(_, word)| word.replace('\u{2019}', "'").to_lowercase()).collect();
    let run_on = words.len() >= RUN_ON && !sentence.contains([',', ';', ':', '.', '!', '?', '\u{2013}', '(']);
    let mut cuts = vec![0];
    let mut last = 0;
    for at in 1..words.len() {
        let (before, after) = (at - last, words.len() - at);
        let turns = TURNS.contains(&lower[at].as_str()) && before.min(after) >= LEAST_WORDS;
        let between = &sentence[words[at - 1].0..words[at].0];
        // A full stop before a small letter ends a sentence all the same, where the word before it is no abbreviation.
        let short = lower[at - 1].chars().count() < LEAST_LETTERS || ABBREVIATIONS.contains(&lower[at - 1].as_str());
        let ended = between.contains(". ") && !short;
        let parted = (between.contains(';') || ended) && before.min(after) >= LEAST_WORDS;
        let enough = before.min(after) >= LEAST_GOING_ON;
        let goes_on = enough
            && after > LEAST_GOING_ON
            && GOES_ON.contains(&lower[at].as_str())
            && begins_clause(&lower[at + 1..]);
        let runs_on = enough && run_on && begins_clause(&lower[at..]) && !leads(&lower[at - 1]);
        let spliced = enough && between.contains(',') && is_clause(&lower[last..at]) && goes_elsewhere(&lower[at..]);
        if turns || parted || goes_on || runs_on || spliced {
            cuts.push(words[at].0);
            last = at;
        }
    }
    cuts.push(sentence.len());
    let mut spans = Vec::new();
    let mut chars = 0;
    for pair in cuts.windows(2) {
        let piece = &sentence[pair[0]..pair[1]];
        push(&mut spans, piece, from + chars);
        chars += piece.chars().count();
    }
    spans
}

/// Whether a word leads on to what follows it, so that no clause begins after it.
fn leads(word: &str) -> bool {
    const ON: [&str; 34] = [
        "of", "to", "in", "on", "at", "for", "with", "from", "by", "about", "into", "over", "after", "before", "if",
        "that", "because", "when", "while", "so", "then", "until", "where", "and", "or", "as", "than", "which", "who",
        "what", "is", "was", "said", "says",
    ];
    ON.contains(&word) || GOES_ON.contains(&word) || TURNS.contains(&word)
}

/// Whether words are a clause that can stand alone: none that only says when, if or why.
fn is_clause(words: &[String]) -> bool {
    let said = words.last().is_some_and(|word| ["said", "told", "us", "me"].contains(&word.as_str()));
    begins_clause(words) && !said
}

/// Whether words begin a clause about something else than what was spoken of before.
fn goes_elsewhere(words: &[String]) -> bool {
    const THE_SAME: [&str; 9] = ["it", "they", "he", "she", "that", "this", "these", "those", "there"];
    let same = words.first().is_some_and(|word| THE_SAME.contains(&word.split('\'').next().unwrap_or(word)));
    !same && begins_clause(words)
}

/// Whether words begin with a subject whose verb follows soon.
fn begins_clause(words: &[String]) -> bool {
    let subject = words.first().is_some_and(|word| {
        let plain = word.split('\'').next().unwrap_or(word);
        SUBJECTS.contains(&plain)
    });
    // Beyond such a word a verb is that of another clause.
    let other = |word: &String| {
        GOES_ON.contains(&word.as_str())
            || TURNS.contains(&word.as_str())
            || ["that", "which", "who", "or"].contains(&word.as_str())
    };
    let first = words.iter().take(1);
    let rest = words.iter().skip(1).take(VERB_WITHIN - 1).take_while(|word| !other(word));
    subject && first.chain(rest).any(|word| is_verb(word))
}

fn is_verb(word: &str) -> bool {
    static KNOWN: std::sync::LazyLock<std::collections::HashSet<&str>> =
        std::sync::LazyLock::new(|| VERBS.split_whitespace().collect());
    let contracted = ["n't", "'re", "'ve", "'ll", "'d", "'m"].iter().any(|end| word.ends_with(end));
    let is = word.strip_suffix("'s").is_some_and(|who| SUBJECTS.contains(&who));
    contracted || is || KNOWN.contains(word) || word.len() > 4 && word.ends_with("ed")
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

    fn parts(text: &str) -> Vec<&str> {
        clauses(text, 0).iter().map(|span| span.of(text).unwrap()).collect()
    }

    #[test]
    fn two_subjects_in_one_sentence_are_two() {
        assert_eq!(
            parts("The app is slow and the crew was rude to my mother"),
            ["The app is slow", "and the crew was rude to my mother"]
        );
        assert_eq!(
            parts("Refund took five weeks; nobody answers the phone"),
            ["Refund took five weeks;", "nobody answers the phone"]
        );
        assert_eq!(parts("the app said 'on time'. tea was cold"), ["the app said 'on time'.", "tea was cold"]);
        assert_eq!(
            parts("The app is far too slow, the crew was rude to my mother"),
            ["The app is far too slow,", "the crew was rude to my mother"]
        );
        for whole in [
            "I love the tea and the coffee on the morning boat",
            "She and the captain waited",
            "We took the van and a trailer to the island",
            "It was late and cold",
            "I stood there with two bags and a pram in the rain",
            "Give me a lane and a place that is really kept",
            "My pass did not open so I had to pay again",
            "I heard of it when I stood on the pier already",
            "When I came to the pier, the boat was already gone",
            "The app is really slow, it crashes all the time",
            "After an hour in the rain, the boat was there",
            "We waited there for approx. four hours and more",
        ] {
            assert_eq!(parts(whole), [whole]);
        }
    }

    #[test]
    fn marks_that_were_left_out_are_found_again() {
        assert_eq!(
            parts(
                "boat was late again we waited over an hour in the rain the app said nothing at all i want my money back"
            ),
            [
                "boat was late again",
                "we waited over an hour in the rain",
                "the app said nothing at all",
                "i want my money back"
            ]
        );
        // A short one stays whole, and so does one with marks.
        assert_eq!(parts("boat was late again we waited").len(), 1);
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
