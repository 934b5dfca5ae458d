//! Who speaks in a written conversation: `Name: words`, with or without a time in front.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// What one person says until another one speaks.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Turn {
    /// The first character of the words, from 0.
    pub from: usize,
    /// Behind the last one.
    pub to: usize,
    /// Who speaks, where it is known.
    pub speaker: Option<String>,
    /// When it begins, in milliseconds from the start.
    pub from_ms: Option<u64>,
    /// When it ends.
    pub to_ms: Option<u64>,
    /// The question of a guide that it answers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub question: Option<String>,
    /// Words that the one who listened put to it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub tags: Vec<String>,
}

/// Fewer lines with a speaker are no conversation.
const LEAST_LINES: usize = 3;
/// So many lines may stand in front of a conversation and look like one.
const HEAD: usize = 20;
/// So much of what stands above a conversation may name who speaks in it, in characters.
const MOST_ABOVE: usize = 2_000;
/// The longest name of a speaker, in characters.
const LONGEST_NAME: usize = 40;
/// The most words of a name.
const MOST_WORDS: usize = 4;

/// The turns of a conversation: lines that begin with a speaker, each with all that stands below it until the next; who counts
/// as a speaker, see [`are_speakers`]. Nothing where there are fewer than three such lines, only one speaker, or nobody who
/// speaks twice. Linear.
#[must_use]
pub fn turns_of(text: &str) -> Vec<Turn> {
    let mut turns: Vec<Turn> = Vec::new();
    let mut at = 0;
    for line in text.split_inclusive('\n') {
        let length = line.chars().count();
        let words = line.trim_end();
        if let Some((speaker, rest, from_ms)) = spoken(words) {
            let before = words.chars().count() - rest.chars().count();
            let to = at + words.chars().count();
            turns.push(Turn { from: at + before, to, speaker: Some(speaker.to_owned()), from_ms, ..Turn::default() });
        } else if !words.trim().is_empty()
            && let Some(turn) = turns.last_mut()
        {
            turn.to = at + words.chars().count();
        }
        at += length;
    }
    // What is said once in front is the head of a document (`Date: …`) or of a form.
    let speaks_again = |turn: &Turn| turns.iter().filter(|other| other.speaker == turn.speaker).count() > 1;
    let head = turns.iter().take(HEAD).position(speaks_again).unwrap_or(turns.len());
    turns.drain(..head);
    let above: String = text.chars().take(turns.first().map_or(0, |turn| turn.from)).collect();
    let mut turns = only_speakers(turns, &above);
    let first = turns.first().and_then(|turn| turn.speaker.clone());
    let several = turns.iter().any(|turn| turn.speaker != first);
    if turns.len() < LEAST_LINES || !several {
        return Vec::new();
    }
    for n in 1..turns.len() {
        let begins = turns.get(n).and_then(|turn| turn.from_ms);
        if let Some(turn) = turns.get_mut(n - 1) {
            turn.to_ms = begins;
        }
    }
    turns
}

/// Turns of those who are no speakers belong to the turn before them.
fn only_speakers(turns: Vec<Turn>, above: &str) -> Vec<Turn> {
    let names: Vec<&str> = turns.iter().map(|turn| turn.speaker.as_deref().unwrap_or_default()).collect();
    let speaks = are_speakers(&names, above);
    let mut kept: Vec<Turn> = Vec::new();
    for (turn, speaks) in turns.into_iter().zip(speaks) {
        match kept.last_mut().filter(|_| !speaks) {
            Some(before) => before.to = turn.to,
            None => kept.push(turn),
        }
    }
    kept
}

/// Tells, for each of the names that stand before something said, in their order, whether it is that of a speaker: one that
/// comes again, that is named above the conversation, or that stands alone between two who speak. What is called
/// "Distributor ID" within somebody's words is none. Linear.
#[must_use]
pub fn are_speakers(names: &[&str], above: &str) -> Vec<bool> {
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for name in names {
        *counts.entry(name).or_default() += 1;
    }
    let end = above.char_indices().nth(MOST_ABOVE).map_or(above.len(), |(at, _)| at);
    let above = above.get(..end).unwrap_or_default();
    let known = |name: &&str| counts.get(name).is_some_and(|count| *count > 1) || above.contains(*name);
    let shouted = |word: &str| word.chars().count() > 1 && word.chars().all(char::is_uppercase);
    let label = |name: &str| name.split_whitespace().any(shouted) && !name.split_whitespace().all(shouted);
    let between = |at: usize| {
        let before = at.checked_sub(1).and_then(|at| names.get(at)).is_some_and(known);
        before && names.get(at + 1).is_none_or(known)
    };
    names.iter().enumerate().map(|(at, name)| known(name) || (between(at) && !label(name))).collect()
}

/// The speaker of a line such as `Ines Corrie: I was late`, and the words behind.
#[must_use]
pub fn speaker_of(line: &str) -> Option<(&str, &str)> {
    let (name, rest) = line.split_once(':')?;
    let name = name.trim().trim_matches('*').trim();
    let fits = name.chars().count() <= LONGEST_NAME
        && (1..=MOST_WORDS).contains(&name.split_whitespace().count())
        && name.chars().next().is_some_and(char::is_uppercase)
        && name.chars().all(|c| c.is_alphanumeric() || matches!(c, ' ' | '.' | '\'' | '’' | '-' | '(' | ')'));
    // A time of day or an address is no speaker.
    if !fits || rest.starts_with("//") || rest.chars().next().is_some_and(|c| c.is_ascii_digit()) {
        return None;
    }
    Some((name, rest.trim_start_matches('*').trim_start()))
}

/// The speaker, the words, and the time that may stand in front: `[00:12:31] Ines Corrie: …`.
fn spoken(line: &str) -> Option<(&str, &str, Option<u64>)> {
    let line = line.trim_start_matches(['-', '>', ' ']);
    let head = line.trim_start_matches(['[', '(']);
    let clock: usize = head.chars().take_while(|c| c.is_ascii_digit() || *c == ':').count();
    let time = head.get(..clock).filter(|clock| clock.contains(':')).and_then(milliseconds);
    let rest = match time {
        Some(_) => head.get(clock..)?.trim_start_matches([']', ')', ' ', '-', '–']),
        None => line,
    };
    let (speaker, words) = speaker_of(rest)?;
    Some((speaker, words, time))
}

/// `12:31` or `01:12:31` in milliseconds.
fn milliseconds(clock: &str) -> Option<u64> {
    let mut seconds: u64 = 0;
    for part in clock.split(':') {
        seconds = seconds.checked_mul(60)?.checked_add(part.parse().ok()?)?;
    }
    seconds.checked_mul(1_000)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn said(text: &str) -> Vec<(String, String, Option<u64>)> {
        let cut = |turn: &Turn| text.chars().skip(turn.from).take(turn.to - turn.from).collect::<String>();
        turns_of(text).iter().map(|turn| (turn.speaker.clone().unwrap_or_default(), cut(turn), turn.from_ms)).collect()
    }

    #[test]
    fn speakers_and_times_are_found() {
        let text = "# Interview\n\n[00:00:04] Wren: How do you cross?\n**Zoë Brandt:** With the 7:10.\nEvery day.\n\n[01:02:00] Wren: And on Sundays?\n";
        assert_eq!(
            said(text),
            [
                ("Wren".into(), "How do you cross?".into(), Some(4_000)),
                ("Zoë Brandt".into(), "With the 7:10.\nEvery day.".into(), None),
                ("Wren".into(), "And on Sundays?".into(), Some(3_720_000)),
            ]
        );
    }

    #[test]
    fn the_head_of_a_document_is_nobody_who_speaks() {
        let text = "Early freight: the dairy\nDate: 18 June\n\nWren: When?\nPiet: At three.\nWren: And then?\n";
        let speakers: Vec<String> = said(text).into_iter().map(|(speaker, ..)| speaker).collect();
        assert_eq!(speakers, ["Wren", "Piet", "Wren"]);
    }

    #[test]
    fn what_stands_once_within_somebodys_words_is_no_speaker() {
        let text = "Maud: It fails at once.\nWren: On which machine?\nMaud: This one.\nDistributor ID: Kelp\nRelease: 4\nCodename: wrack\n\
                    Wren: Thanks.\nMaud: I run it so.\nDistributor ID of it: none\nWren: I see.\n";
        let speakers: Vec<String> = said(text).into_iter().map(|(speaker, ..)| speaker).collect();
        assert_eq!(speakers, ["Maud", "Wren", "Maud", "Wren", "Maud", "Wren"]);
        assert!(said(text)[2].1.ends_with("Codename: wrack"));
        // Somebody who speaks once between others does.
        let names = ["Wren", "Piet", "Wren", "Ada"];
        assert_eq!(are_speakers(&names, ""), [true, true, true, true]);
        assert_eq!(are_speakers(&["Digo"], ""), [false]);
        assert_eq!(are_speakers(&["Digo"], "With Digo and others"), [true]);
    }

    #[test]
    fn what_is_no_conversation_has_no_turns() {
        for text in [
            "Dear team: the boat was off.\nPlease: do something.",
            "Note: one\nNote: two\nNote: three\nNote: four",
            "at 7:10: off\nhttps://crossing.example: gone\nso: what\nand: more",
            "Name: Ann\nDate: Monday\nPlace: Hask\nWords: too late",
            "",
        ] {
            assert_eq!(turns_of(text), [], "{text}");
        }
    }

    proptest! {
        #[test]
        fn turns_stand_in_their_order_within_the_text(text in "([A-C][a-z]{0,3}: ?)?[ -~äß]{0,20}(\n([A-C]: [a-zé ]{0,9})?){0,6}") {
            let length = text.chars().count();
            let turns = turns_of(&text);
            prop_assert!(turns.iter().all(|turn| turn.from <= turn.to && turn.to <= length));
            prop_assert!(turns.windows(2).all(|pair| pair[0].to <= pair[1].from));
        }
    }
}
