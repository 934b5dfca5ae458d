//! The sentence under which excerpts stand until a person finds a better one: from the excerpt nearest to their middle.

use crate::text::{stem, words};
use unicode_segmentation::UnicodeSegmentation;

/// Sentences of so many words make good titles.
const GOOD: std::ops::RangeInclusive<usize> = 4..=16;
/// A title is at most so long, in characters.
const LONGEST: usize = 110;
/// What is lost of the likeness to the middle for each word that is missing to [`GOOD`] or too many, and for what is no good
/// sentence.
const MISSING: f32 = 0.1;
const TOO_MANY: f32 = 0.03;
const FOREIGN: f32 = 0.3;
/// What is won for each key phrase that it holds, and for at most how many.
const PER_PHRASE: f32 = 0.05;
const MOST_HELD: usize = 3;
const QUESTION: f32 = 0.05;

/// An excerpt that could give its words.
#[derive(Debug, Clone, Copy)]
pub struct Candidate<'a> {
    /// Its words.
    pub words: &'a str,
    /// How alike it is to the middle of its group.
    pub alike: f32,
    /// Whether it is in another language than most of the group.
    pub foreign: bool,
}

/// The sentence of the excerpt that is nearest to the middle, can be said aloud and holds the words that tell its group from
/// others, in plain form; empty where there is none. Linear.
#[must_use]
pub fn title_of<'a>(candidates: impl IntoIterator<Item = Candidate<'a>>, phrases: &[String]) -> String {
    let worth = |one: &Candidate<'_>| {
        let count = words(one.words).len();
        let too_many = count.saturating_sub(*GOOD.end());
        let question = if one.words.trim_end().ends_with('?') { QUESTION } else { 0.0 };
        let foreign = if one.foreign { FOREIGN } else { 0.0 };
        #[expect(clippy::cast_precision_loss, reason = "counts of words are far below 2^23")]
        let long = too_many as f32 * TOO_MANY;
        one.alike + held(one.words, phrases) - fragment(one.words) - long - question - foreign
    };
    let mut best: Option<(f32, &str)> = None;
    for one in candidates {
        let worth = worth(&one);
        if best.is_none_or(|(most, _)| worth > most) {
            best = Some((worth, one.words));
        }
    }
    best.map(|(_, words)| plain(words)).unwrap_or_default()
}

/// What words lose of their likeness to the middle where they are a fragment: it is near to many middles and says little.
#[must_use]
pub fn fragment(said: &str) -> f32 {
    #[expect(clippy::cast_precision_loss, reason = "a few words are missing at most")]
    let missing = GOOD.start().saturating_sub(words(said).len()) as f32;
    missing * MISSING
}

/// What it is worth that words hold some of the phrases.
fn held(said: &str, phrases: &[String]) -> f32 {
    let stems = |text: &str| format!(" {} ", words(text).iter().map(|word| stem(word)).collect::<Vec<_>>().join(" "));
    let said = stems(said);
    #[expect(clippy::cast_precision_loss, reason = "phrases are few")]
    let held = phrases.iter().filter(|phrase| said.contains(&stems(phrase))).count().min(MOST_HELD) as f32;
    held * PER_PHRASE
}

/// Words that lead into a sentence and say nothing by themselves.
const LEADS: [&str; 16] = [
    "and", "but", "also", "so", "well", "oh", "ok", "okay", "honestly", "plus", "then", "anyway", "however", "yet",
    "because", "although",
];

/// A sentence in plain form: no lead-in, no shouting, one space between words, no mark at the end but a question's, a
/// capital first, and no longer than a line.
#[must_use]
pub fn plain(sentence: &str) -> String {
    let spaced = sentence.split_whitespace().collect::<Vec<_>>().join(" ");
    let mut rest = spaced.trim_start_matches(|c: char| !c.is_alphanumeric());
    while let Some((first, after)) = rest.split_once([' ', ',']) {
        if !LEADS.contains(&first.trim_matches(',').to_lowercase().as_str()) || words(after).len() < 3 {
            break;
        }
        rest = after.trim_start_matches(|c: char| !c.is_alphanumeric());
    }
    let question = rest.trim_end().ends_with('?');
    let rest = without_marks_at_the_end(rest);
    // Whether it shouts is seen once it has its capital, so that what is plain stays as it is.
    let begun = capital_first(rest);
    let mut plain = cut(&if shouts(&begun) { capital_first(&rest.to_lowercase()) } else { begun });
    if question && !plain.ends_with('…') {
        plain.push('?');
    }
    plain
}

/// Accents that are letters of their own in the text stay with the letter before them: what changes its case may put them
/// there.
fn without_marks_at_the_end(text: &str) -> &str {
    let told = |c: char| c.is_alphanumeric() || matches!(c, ')' | '%' | '"');
    let end = text.grapheme_indices(true).rev().find(|(_, seen)| seen.contains(told));
    end.map_or("", |(at, seen)| &text[..at + seen.len()])
}

fn capital_first(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|first| first.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

/// Whether most letters are capitals.
fn shouts(text: &str) -> bool {
    let letters = text.chars().filter(|c| c.is_alphabetic()).count();
    letters > 8 && text.chars().filter(|c| c.is_uppercase()).count() * 3 > letters * 2
}

/// Cut at a comma or between words, where it is too long.
fn cut(text: &str) -> String {
    if text.chars().count() <= LONGEST {
        return text.to_owned();
    }
    let begin: String = text.chars().take(LONGEST - 1).collect();
    let half = begin.len() / 2;
    let at = begin.rfind([',', ';', ':']).filter(|at| *at > half).or_else(|| begin.rfind(' ')).unwrap_or(begin.len());
    format!("{}…", begin[..at].trim_end_matches(|c: char| !c.is_alphanumeric()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_nearest_good_sentence_is_taken() {
        let one = |words, alike| Candidate { words, alike, foreign: false };
        let said = [
            one("Late!", 0.9),
            one("and the notice came when we stood at the pier already.", 0.85),
            one("Why does the notice come so late?", 0.86),
            one("Something about the tea, which was cold that morning", 0.4),
        ];
        assert_eq!(title_of(said, &[]), "The notice came when we stood at the pier already");
        let german = Candidate { words: "Die Nachricht kam viel zu spät an", alike: 0.95, foreign: true };
        assert_eq!(title_of([german, said[1]], &[]), "The notice came when we stood at the pier already");
        assert_eq!(title_of([], &[]), "");
        assert_eq!(
            title_of([one("Not that small", 0.7), one("The print is far too small", 0.62)], &[]),
            "The print is far too small"
        );
        let near = [one("We stood there for a whole hour", 0.62), one("No notices came to the pier", 0.58)];
        assert_eq!(title_of(near, &["notice".into(), "pier".into()]), "No notices came to the pier");
    }

    #[test]
    fn a_fragment_loses_by_each_word_that_is_missing() {
        for (said, lost) in
            [("no boat,", 0.2), ("The boat was late", 0.0), ("Late!", 0.3), ("", 0.4), ("It was late and cold", 0.0)]
        {
            assert!((fragment(said) - lost).abs() < 1e-6, "{said}: {}", fragment(said));
        }
    }

    #[test]
    fn sentences_become_plain() {
        for (said, shown) in [
            ("  but, honestly, the   boat was late!!!", "The boat was late"),
            ("THE APP SOLD ME A PLACE THAT WAS GONE", "The app sold me a place that was gone"),
            ("where do I park my bike?? ", "Where do I park my bike?"),
            ("So what", "So what"),
            ("\u{1f620} no refund in 3 weeks \u{1f620}", "No refund in 3 weeks"),
            ("- we paid 30% more.", "We paid 30% more"),
            ("It says \"full\"", "It says \"full\""),
            // The capital of one letter may be a letter and its accent, and so may what somebody typed.
            ("\u{1fd6}", "\u{399}\u{342}"),
            ("we met at the cafe\u{301}!", "We met at the cafe\u{301}"),
            // One capital more would make it shout.
            ("abcDEFGHI", "Abcdefghi"),
            ("", ""),
        ] {
            assert_eq!(plain(said), shown);
            assert_eq!(plain(shown), shown);
        }
        let long = "the timetable hides the tidal sailings, ".repeat(4);
        assert_eq!(plain(&long).chars().last(), Some('…'));
    }

    proptest! {
        #[test]
        fn any_text_becomes_one_short_line(text in "\\PC{0,300}") {
            let shown = plain(&text);
            prop_assert!(shown.chars().count() <= LONGEST + 1, "{}", shown);
            prop_assert!(!shown.contains('\n') && !shown.contains("  "));
            // What is plain stays as it is, but that what was cut is not cut again at another place.
            if !shown.ends_with('…') {
                prop_assert_eq!(plain(&shown), shown);
            }
        }
    }
}
