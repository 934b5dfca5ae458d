//! Chosen words of a text, and where they stand after the text around them has changed.
//!
//! Nobody tells which letters somebody typed: only the text before and the text after are known. Words are followed as
//! far as these two leave no doubt; where they do, the words are lost rather than found in a place that may be another.

use super::comment::Comment;
use crate::problem::Problem;
use crate::text::{Span, whole_words};

/// So much of what stands around chosen words is kept with them, on each side, in characters.
pub const AROUND: usize = 40;
/// The longest passage, in characters.
const LONGEST: usize = 5_000;

/// Chosen words as they were when they were chosen.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Passage {
    /// Where they stood.
    pub span: Span,
    /// The words.
    pub words: String,
    /// What stood before them, at most [`AROUND`] characters; less only at the beginning of the text.
    pub before: String,
    /// What stood behind them, at most [`AROUND`] characters; less only at its end.
    pub after: String,
}

impl Passage {
    /// The words that a comment is on, as they were seen last.
    #[must_use]
    pub fn of(comment: &Comment) -> Option<Passage> {
        let seen = |near: &Option<String>, chosen: &Option<String>| {
            near.as_ref().or(chosen.as_ref()).cloned().unwrap_or_default()
        };
        Some(Passage {
            span: comment.span().unwrap_or(Span { from: 0, to: 0 }),
            words: comment.words.clone()?,
            before: seen(&comment.near_before, &comment.words_before),
            after: seen(&comment.near_after, &comment.words_after),
        })
    }
}

/// Chooses words of a text; where only a part of a word was chosen, it is taken whole. O(text).
///
/// # Errors
/// Where there are no words there, or too many.
pub fn passage(text: &str, chosen: Span) -> Result<Passage, Problem> {
    let letters: Vec<char> = text.chars().collect();
    let span = whole_words(text, &letters, chosen)
        .ok_or_else(|| Problem::invalid("/passage/to", "Choose at least one word of the text."))?;
    if span.to - span.from > LONGEST {
        let words = format!("Choose at most {LONGEST} characters; speak of the whole text otherwise.");
        return Err(Problem::invalid("/passage/to", words));
    }
    Ok(seen_at(&letters, span))
}

/// Words as they stand in a text now, with what stands around them. O(text).
#[must_use]
pub fn seen(text: &str, span: Span) -> Passage {
    seen_at(&text.chars().collect::<Vec<_>>(), span)
}

fn seen_at(letters: &[char], span: Span) -> Passage {
    let part = |from: usize, to: usize| letters.get(from..to.min(letters.len())).unwrap_or_default().iter().collect();
    Passage {
        span,
        words: part(span.from, span.to),
        before: part(span.from.saturating_sub(AROUND), span.from),
        after: part(span.to, span.to + AROUND),
    }
}

/// Where words that stood at `span` in `old` stand in `new`; nothing where they are gone, or where two places could be
/// theirs.
///
/// 1. One change, wherever it is, leaves a beginning and an end of the text as they were; words that lie wholly in one of
///    them, by every way to explain the change, have moved with it.
/// 2. Words that stand once in both texts stand there.
/// 3. So do words that do with what stands on both sides of them, the nearest that makes them the only ones in `old`.
///
/// O(old + new), and for each of at most five lengths once more where neither 1 nor 2 tells.
#[must_use]
pub fn follow(old: &str, new: &str, span: Span) -> Option<Span> {
    let (old, new): (Vec<char>, Vec<char>) = (old.chars().collect(), new.chars().collect());
    if span.from >= span.to || span.to > old.len() {
        return None;
    }
    kept(&old, &new, span).or_else(|| {
        let words = &old[span.from..span.to];
        match (places(&old, words), places(&new, words)) {
            (Places::One(_), Places::One(at)) => Some(Span { from: at, to: at + words.len() }),
            (_, Places::None) => None,
            _ => among_neighbours(&old, &new, span),
        }
    })
}

/// Where the words of a passage stand in a text that nobody saw change: only where they stand once between the same words.
/// O(text).
#[must_use]
pub fn find(text: &str, passage: &Passage) -> Option<Span> {
    let letters: Vec<char> = text.chars().collect();
    let stretch: Vec<char> =
        [&passage.before, &passage.words, &passage.after].into_iter().flat_map(|part| part.chars()).collect();
    let (before, words) = (passage.before.chars().count(), passage.words.chars().count());
    match places(&letters, &stretch) {
        Places::One(at) => Some(Span { from: at + before, to: at + before + words }),
        _ => None,
    }
}

/// Words in the part of a text that a single change left alone.
fn kept(old: &[char], new: &[char], span: Span) -> Option<Span> {
    let shorter = old.len().min(new.len());
    let begin = old.iter().zip(new).take_while(|(a, b)| a == b).count();
    let end = old.iter().rev().zip(new.iter().rev()).take_while(|(a, b)| a == b).count();
    // Where beginning and end overlap, the change can be explained in several ways: the beginning ends anywhere between
    // these two places.
    let (least, most) = if begin + end <= shorter { (begin, begin) } else { (shorter - end, begin) };
    let rest = if begin + end <= shorter { end } else { shorter - most };
    if span.to <= least {
        Some(span)
    } else if span.from >= old.len() - rest {
        let moved = |at: usize| at + new.len() - old.len();
        Some(Span { from: moved(span.from), to: moved(span.to) })
    } else {
        None
    }
}

/// Words that stand several times, by what stands on both sides of them.
fn among_neighbours(old: &[char], new: &[char], span: Span) -> Option<Span> {
    for around in [8, 16, 32, 64, 128] {
        let (from, to) = (span.from.saturating_sub(around), (span.to + around).min(old.len()));
        let stretch = &old[from..to];
        match (places(old, stretch), places(new, stretch)) {
            (_, Places::None) => return None,
            (Places::One(_), Places::One(at)) => {
                return Some(Span { from: at + span.from - from, to: at + span.to - from });
            }
            _ => {}
        }
    }
    None
}

/// Where words stand in a text.
enum Places {
    None,
    One(usize),
    Several,
}

/// Whether words stand in a text not at all, once, or several times; places may overlap. O(text + words), by the failure
/// function of Knuth, Morris and Pratt (Fast pattern matching in strings, 1977).
fn places(text: &[char], words: &[char]) -> Places {
    if words.is_empty() {
        return Places::None;
    }
    let mut fails = vec![0; words.len()];
    let mut held = 0;
    for at in 1..words.len() {
        while held > 0 && words[at] != words[held] {
            held = fails[held - 1];
        }
        held += usize::from(words[at] == words[held]);
        fails[at] = held;
    }
    let (mut held, mut found) = (0, Places::None);
    for (at, letter) in text.iter().enumerate() {
        while held > 0 && (held == words.len() || *letter != words[held]) {
            held = fails[held - 1];
        }
        held += usize::from(*letter == words[held]);
        if held == words.len() {
            found = match found {
                Places::None => Places::One(at + 1 - words.len()),
                _ => return Places::Several,
            };
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn at(text: &str, words: &str) -> Span {
        let from = text[..text.find(words).unwrap()].chars().count();
        Span { from, to: from + words.chars().count() }
    }

    fn words_at(text: &str, span: Span) -> String {
        text.chars().skip(span.from).take(span.to - span.from).collect()
    }

    #[test]
    fn words_stay_while_the_text_around_them_changes() {
        let old = "The ramp is steep. Take the ramp with care, said the crew.";
        let span = at(old, "Take the ramp");
        for new in [
            "At low tide the ramp is steep. Take the ramp with care, said the crew.",
            "The ramp is steep. Take the ramp with care.",
            "At low tide: Take the ramp with great care, said the mate.",
            "Take the ramp",
            old,
        ] {
            let now = follow(old, new, span).unwrap();
            assert_eq!(words_at(new, now), "Take the ramp", "{new}");
        }
    }

    #[test]
    fn words_that_are_gone_or_could_be_others_are_lost() {
        let old = "the ramp. the ramp.";
        // One of the two was taken out, and nobody can tell which.
        assert_eq!(follow(old, "the ramp.", Span { from: 0, to: 9 }), None);
        assert_eq!(follow(old, "the ramp.", Span { from: 10, to: 19 }), None);
        assert_eq!(follow(old, "the slope. the ramp.", Span { from: 0, to: 9 }), None);
        assert_eq!(follow(old, "", Span { from: 0, to: 9 }), None);
        assert_eq!(follow("abc", "abXc", Span { from: 1, to: 3 }), None);
    }

    #[test]
    fn words_that_were_lost_come_back_only_between_the_same_words() {
        let text = "We sail at noon. The gangway is steep at low tide, and wet.";
        let chosen = passage(text, at(text, "gangway")).unwrap();
        assert_eq!(find(text, &chosen), Some(chosen.span));
        assert_eq!(find("Another gangway.", &chosen), None);
        assert_eq!(find(&format!("{text} {text}"), &chosen), None);
    }

    #[test]
    fn words_are_chosen_whole_without_blanks_around_them_and_nothing_is_no_passage() {
        let chosen = passage("a  wet ramp ", Span { from: 1, to: 12 }).unwrap();
        assert_eq!((chosen.words.as_str(), chosen.span), ("wet ramp", Span { from: 3, to: 11 }));
        assert_eq!(passage("a  wet ramp ", Span { from: 4, to: 8 }).unwrap(), chosen);
        assert_eq!((chosen.before.as_str(), chosen.after.as_str()), ("a  ", " "));
        assert!(passage("a  b", Span { from: 1, to: 3 }).is_err());
        assert!(passage("ab", Span { from: 5, to: 9 }).is_err());
        // What stands around words is noted of exactly these, also where a letter came right behind them.
        assert_eq!(seen("wet ramps", Span { from: 4, to: 8 }).words, "ramp");
    }

    /// All places that words could have after one change of `old` to `new`, by every smallest way to explain it.
    fn explained(old: &[char], new: &[char], span: Span) -> Vec<Option<Span>> {
        let shorter = old.len().min(new.len());
        let mut ways = Vec::new();
        for begin in 0..=shorter {
            if old[..begin] != new[..begin] {
                break;
            }
            for end in 0..=shorter - begin {
                if old[old.len() - end..] == new[new.len() - end..] {
                    ways.push((begin, end));
                }
            }
        }
        let most = ways.iter().map(|(begin, end)| begin + end).max().unwrap_or(0);
        let mut places: Vec<Option<Span>> = Vec::new();
        for (begin, end) in ways.into_iter().filter(|(begin, end)| begin + end == most) {
            let place = if span.to <= begin {
                Some(span)
            } else if span.from >= old.len() - end {
                let moved = |at: usize| at + new.len() - old.len();
                Some(Span { from: moved(span.from), to: moved(span.to) })
            } else {
                None
            };
            if !places.contains(&place) {
                places.push(place);
            }
        }
        places
    }

    fn count(text: &[char], words: &[char]) -> usize {
        text.windows(words.len()).filter(|window| *window == words).count()
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases * 16))]

        /// Of one change, every way to explain it must agree on the place, or the words must be the only ones of their sort,
        /// alone or between their neighbours; else they are lost.
        #[test]
        fn after_one_change_words_are_where_they_must_be_or_lost(
            text in "[ab ]{1,24}", from in 0usize..24, length in 1usize..8,
            cut_at in 0usize..24, cut in 0usize..8, put in "[ab ]{0,8}",
        ) {
            let old: Vec<char> = text.chars().collect();
            let from = from.min(old.len() - 1);
            let span = Span { from, to: (from + length).min(old.len()) };
            let cut_at = cut_at.min(old.len());
            let cut_to = (cut_at + cut).min(old.len());
            let new: Vec<char> = old[..cut_at].iter().copied().chain(put.chars()).chain(old[cut_to..].iter().copied()).collect();
            let new_text: String = new.iter().collect();
            let words = &old[span.from..span.to];
            let places = explained(&old, &new, span);
            let now = follow(&text, &new_text, span);
            if let [Some(only)] = places[..] {
                prop_assert_eq!(now, Some(only));
            }
            if let Some(now) = now {
                prop_assert_eq!(&new[now.from..now.to], words);
                let alone = count(&old, words) == 1 && count(&new, words) == 1;
                let between = [8, 16, 32].into_iter().any(|around| {
                    let stretch = &old[span.from.saturating_sub(around)..(span.to + around).min(old.len())];
                    count(&old, stretch) == 1 && count(&new, stretch) == 1
                });
                prop_assert!(places == [Some(now)] || alone || between, "{:?} of {:?}", now, places);
            }
        }

        /// Words of which there are no others, in a text that was changed in many places but not in them, stay.
        #[test]
        fn words_that_nobody_touched_stay_through_any_edits(
            before in prop::collection::vec("[a-y ]{0,12}", 1..6), after in prop::collection::vec("[a-y ]{0,12}", 1..6),
            swaps in prop::collection::vec(("[a-y ]{0,9}", any::<prop::sample::Index>(), any::<bool>()), 0..8),
        ) {
            const WORDS: &str = "zéz of z";
            let (mut left, mut right) = (before, after);
            let mut text = format!("{}{WORDS}{}", left.concat(), right.concat());
            let mut span = at(&text, WORDS);
            for (put, which, on_left) in swaps {
                let side = if on_left { &mut left } else { &mut right };
                let index = which.index(side.len());
                side[index] = put;
                let new = format!("{}{WORDS}{}", left.concat(), right.concat());
                span = follow(&text, &new, span).expect("they are still there");
                prop_assert_eq!(span, at(&new, WORDS));
                text = new;
            }
        }

        #[test]
        fn places_are_counted_as_by_looking_at_each(text in "[ab]{0,20}", words in "[ab]{1,5}") {
            let (text, words): (Vec<char>, Vec<char>) = (text.chars().collect(), words.chars().collect());
            let counted = match places(&text, &words) {
                Places::None => 0,
                Places::One(at) => {
                    prop_assert_eq!(&text[at..at + words.len()], &words[..]);
                    1
                }
                Places::Several => 2,
            };
            prop_assert_eq!(counted, count(&text, &words).min(2));
        }
    }
}
