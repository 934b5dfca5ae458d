//! Words that somebody chooses in an item become an excerpt, or mend one.

use super::Turn;
use super::excerpts::says_something;
use crate::problem::Problem;
use crate::text::{Span, whole_words, without_space};
use crate::things::ExcerptId;

/// What becomes of an item's excerpts when words of it are chosen. Afterwards no two of them overlap, as before.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mending {
    /// The chosen words, whole.
    pub words: Span,
    /// The excerpt that is these words from now on; nothing where it is a new one.
    pub holder: Option<ExcerptId>,
    /// Others, with what is left of them.
    pub trimmed: Vec<(ExcerptId, Span)>,
    /// What is left on the other side of those that are cut in two: new excerpts.
    pub left: Vec<Span>,
    /// Others of which nothing is left. Their words are the holder's now.
    pub gone: Vec<ExcerptId>,
}

/// Makes one excerpt of chosen words.
///
/// Words are taken whole where only a part of one was chosen. Where `becomes` is given, that excerpt is these words from
/// now on, whatever it was before; otherwise the longest of those that lie within them is, and a new one where none does.
/// All others give these words up: they keep the longer part of what is left, and the shorter one becomes an excerpt of its
/// own, as far as each says something. O(text + excerpts).
///
/// # Errors
/// Where there is no word in what was chosen, two people speak in it, it is an excerpt already, or `becomes` lies elsewhere.
pub fn mend(
    text: &str,
    turns: &[Turn],
    standing: &[(ExcerptId, Span)],
    chosen: Span,
    becomes: Option<ExcerptId>,
) -> Result<Mending, Problem> {
    let letters: Vec<char> = text.chars().collect();
    let words = whole_words(text, &letters, of_one_speaker(turns, chosen)?)
        .ok_or_else(|| Problem::invalid("/to", "Choose at least one word."))?;
    let overlapping: Vec<(ExcerptId, Span)> =
        standing.iter().copied().filter(|(_, span)| span.from < words.to && words.from < span.to).collect();
    let within = |span: &Span| words.from <= span.from && span.to <= words.to;
    let holder = match becomes {
        Some(id) if overlapping.iter().any(|(one, _)| *one == id) => Some(id),
        Some(id) => return Err(Problem::invalid("/becomes", format!("Choose words of {id}, or next to them."))),
        None => overlapping
            .iter()
            .filter(|(_, span)| within(span))
            .max_by_key(|(id, span)| (span.to - span.from, std::cmp::Reverse(id.0)))
            .map(|(id, _)| *id),
    };
    if let [(id, span)] = overlapping[..]
        && span == words
    {
        return Err(Problem::refused("an-excerpt-already", format!("These words are {id} already.")));
    }
    let mut mending = Mending { words, holder, trimmed: Vec::new(), left: Vec::new(), gone: Vec::new() };
    for (id, span) in overlapping.into_iter().filter(|(id, _)| Some(*id) != holder) {
        let sides = [Span { from: span.from, to: words.from }, Span { from: words.to, to: span.to }];
        let mut rest: Vec<Span> = sides.into_iter().filter_map(|side| still_says(&letters, side)).collect();
        rest.sort_by_key(|side| std::cmp::Reverse(side.to - side.from));
        match rest[..] {
            [] => mending.gone.push(id),
            [longer, ref shorter @ ..] => {
                mending.trimmed.push((id, longer));
                mending.left.extend(shorter);
            }
        }
    }
    Ok(mending)
}

/// The part of a choice in which somebody speaks; all of it where nobody is told from anybody.
fn of_one_speaker(turns: &[Turn], chosen: Span) -> Result<Span, Problem> {
    let mut within = turns.iter().filter(|turn| turn.from < chosen.to && chosen.from < turn.to);
    match (within.next(), within.next()) {
        (Some(_), Some(_)) => Err(Problem::invalid("/to", "Choose words of one speaker only.")),
        (Some(turn), None) => Ok(Span { from: chosen.from.max(turn.from), to: chosen.to.min(turn.to) }),
        _ if turns.is_empty() => Ok(chosen),
        _ => Err(Problem::invalid("/from", "Choose words that somebody says.")),
    }
}

/// What is left on one side, without the mark that ended what was before it.
fn still_says(letters: &[char], side: Span) -> Option<Span> {
    let ends = |letter: &char| letter.is_whitespace() || ",.;:!?".contains(*letter);
    let begin = letters.get(side.from..side.to)?.iter().position(|letter| !ends(letter))?;
    let side = without_space(letters, Span { from: side.from + begin, to: side.to })?;
    let words: String = letters[side.from..side.to].iter().collect();
    says_something(&words).then_some(side)
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::listen::{read_item, turns_of};

    const SAID: &str = "The queue is long, the toilets are dirty, and the crew is kind. Thanks!";

    fn span(text: &str, words: &str) -> Span {
        let from = text.split(words).next().unwrap().chars().count();
        Span { from, to: from + words.chars().count() }
    }

    fn mended(standing: &[&str], chosen: &str, becomes: Option<i64>) -> Result<Mending, Problem> {
        let standing: Vec<(ExcerptId, Span)> =
            standing.iter().zip(1..).map(|(words, id)| (ExcerptId(id), span(SAID, words))).collect();
        mend(SAID, &[], &standing, span(SAID, chosen), becomes.map(ExcerptId))
    }

    fn words(span: Span) -> &'static str {
        span.of(SAID).unwrap()
    }

    #[test]
    fn words_that_stand_in_no_excerpt_become_one() {
        let found = mended(&["The queue is long,"], "the crew is kin", None).unwrap();
        assert_eq!((words(found.words), found.holder), ("the crew is kind", None));
        assert_eq!((found.trimmed, found.left, found.gone), (vec![], vec![], vec![]));
    }

    #[test]
    fn an_excerpt_that_is_cut_keeps_the_longer_part() {
        let found =
            mended(&["The queue is long, the toilets are dirty, and the crew is kind."], "the toilets are dirty", None);
        let found = found.unwrap();
        assert_eq!(found.holder, None);
        assert_eq!(
            found.trimmed.iter().map(|(id, rest)| (id.0, words(*rest))).collect::<Vec<_>>(),
            [(1, "and the crew is kind.")]
        );
        assert_eq!(found.left.into_iter().map(words).collect::<Vec<_>>(), ["The queue is long,"]);
    }

    #[test]
    fn an_excerpt_can_become_fewer_words_or_more() {
        let fewer = mended(&["The queue is long, the toilets are dirty,"], "toilets are dirty", Some(1)).unwrap();
        assert_eq!((fewer.holder, words(fewer.words), fewer.left), (Some(ExcerptId(1)), "toilets are dirty", vec![]));
        let more =
            mended(&["The queue is long,", "the toilets are dirty,"], "queue is long, the toilets are dirty,", Some(1));
        let more = more.unwrap();
        assert_eq!((more.holder, more.gone), (Some(ExcerptId(1)), vec![ExcerptId(2)]));
    }

    #[test]
    fn several_become_one_under_the_longest() {
        let found = mended(
            &["The queue is long,", "the toilets are dirty,"],
            "The queue is long, the toilets are dirty,",
            None,
        );
        let found = found.unwrap();
        assert_eq!((found.holder, found.gone), (Some(ExcerptId(2)), vec![ExcerptId(1)]));
    }

    #[test]
    fn what_cannot_be_an_excerpt_is_refused() {
        let code = |found: Result<Mending, Problem>| found.unwrap_err().code();
        assert_eq!(code(mended(&["The queue is long,"], "The queue is long,", None)), "an-excerpt-already");
        assert_eq!(code(mended(&["The queue is long,"], "Thanks", Some(1))), "invalid");
        assert_eq!(code(mended(&[], ", ", None)), "invalid");
        let text = "Wren: How late?\nZoë: Far too late.\nWren: And then";
        let turns = turns_of(text);
        let both = mend(text, &turns, &[], span(text, "late?\nZoë: Far"), None);
        assert_eq!(code(both), "invalid");
        let one = mend(text, &turns, &[], span(text, "Zoë: Far too"), None).unwrap();
        assert_eq!(one.words.of(text), Some("Far too"));
        assert_eq!(code(mend(text, &turns, &[], span(text, "Zoë"), None)), "invalid");
    }

    proptest! {
        #[test]
        fn excerpts_never_overlap_and_lose_nothing_that_says_something(
            text in "([a-zé😡]{1,7}[ .,!?\n]|but |, though |thanks |so ){0,40}",
            from in 0_usize..120, length in 1_usize..60, pick in proptest::option::of(0_usize..6),
        ) {
            let standing: Vec<(ExcerptId, Span)> =
                read_item(&text).into_iter().zip(1..).map(|(one, id)| (ExcerptId(id), one.span)).collect();
            let becomes = pick.and_then(|at| standing.get(at)).map(|(id, _)| *id);
            let chosen = Span { from, to: from + length };
            let Ok(done) = mend(&text, &[], &standing, chosen, becomes) else { return Ok(()) };
            let mut after: Vec<(Option<ExcerptId>, Span)> = standing
                .iter()
                .filter(|(id, _)| Some(*id) != done.holder && !done.gone.contains(id))
                .map(|(id, span)| (Some(*id), done.trimmed.iter().find(|(one, _)| one == id).map_or(*span, |one| one.1)))
                .chain(done.left.iter().map(|span| (None, *span)))
                .chain([(done.holder, done.words)])
                .collect();
            after.sort_by_key(|(_, span)| span.from);
            prop_assert!(after.windows(2).all(|pair| pair[0].1.to <= pair[1].1.from), "{after:?}");
            let letters: Vec<char> = text.chars().collect();
            let covered = |at: usize| after.iter().any(|(_, span)| span.from <= at && at < span.to);
            for (_, span) in standing.iter().filter(|(id, _)| becomes != Some(*id)) {
                let lost: Vec<usize> = (span.from..span.to).filter(|at| !covered(*at)).collect();
                for run in lost.chunk_by(|a, b| a + 1 == *b) {
                    let words: String = run.iter().map(|at| letters[*at]).collect();
                    prop_assert!(!says_something(&words), "{words:?} is lost");
                }
            }
        }
    }
}
