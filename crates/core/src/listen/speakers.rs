//! Who asks in a conversation, and who answers: a question of the one who leads it is no evidence.

use std::collections::BTreeMap;

use super::document::Turn;

/// The people of a conversation.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Speakers {
    /// Who leads it, where that can be told.
    pub asks: Option<String>,
    /// The others, in the order in which they speak first.
    pub answer: Vec<String>,
}

/// What one speaker does.
#[derive(Default)]
struct Share {
    turns: usize,
    questions: usize,
    words: usize,
    first: usize,
}

/// Names by which the one who leads is written down.
const LEADS: [&str; 9] =
    ["interviewer", "moderator", "facilitator", "host", "researcher", "question", "q", "interviewerin", "moderatorin"];
/// Whoever leads puts a question in at least this share of the turns, and clearly more often than any other.
const LEAST_SHARE: f64 = 0.4;
/// How much more often than the next one.
const CLEARLY: f64 = 1.5;

impl Speakers {
    /// The one who answers, where it is one and has a name of its own.
    #[must_use]
    pub fn answers(&self) -> Option<&str> {
        match self.answer.as_slice() {
            [one] if !is_a_part(one) => Some(one),
            _ => None,
        }
    }
}

/// Whether a name only says which part somebody has, as every other recording has it too.
fn is_a_part(name: &str) -> bool {
    const PARTS: [&str; 9] =
        ["speaker", "participant", "respondent", "interviewee", "answer", "a", "p", "guest", "unknown"];
    let name = name.to_lowercase();
    PARTS.contains(&name.trim_end_matches(|c: char| c.is_ascii_digit() || matches!(c, ' ' | '#' | '-' | '_')))
}

/// Tells who leads a conversation: the one who is named so, else the one most of whose turns hold a question, where
/// that is clear and the others speak more words. Nobody where it is not clear. Linear.
#[must_use]
pub fn speakers_of(text: &str, turns: &[Turn]) -> Speakers {
    let mut shares: BTreeMap<&str, Share> = BTreeMap::new();
    let letters: Vec<char> = text.chars().collect();
    for (at, turn) in turns.iter().enumerate() {
        let Some(name) = turn.speaker.as_deref() else { continue };
        let said: String = letters.get(turn.from..turn.to).unwrap_or_default().iter().collect();
        let share = shares.entry(name).or_insert(Share { first: at, ..Share::default() });
        share.turns += 1;
        share.questions += usize::from(said.contains('?'));
        share.words += said.split_whitespace().count();
    }
    let asks = leads(&shares).map(str::to_owned);
    let mut answer: Vec<(&str, usize)> = shares.iter().map(|(name, share)| (*name, share.first)).collect();
    answer.retain(|(name, _)| asks.as_deref() != Some(name));
    answer.sort_unstable_by_key(|(_, first)| *first);
    Speakers { asks, answer: answer.into_iter().map(|(name, _)| name.to_owned()).collect() }
}

fn leads<'a>(shares: &BTreeMap<&'a str, Share>) -> Option<&'a str> {
    if shares.len() < 2 {
        return None;
    }
    let named = |name: &str| LEADS.contains(&name.to_lowercase().trim_end_matches([' ', '1']));
    if let Some((name, _)) = shares.iter().find(|(name, _)| named(name)) {
        return Some(name);
    }
    #[expect(clippy::cast_precision_loss, reason = "a conversation has few turns")]
    let asking = |share: &Share| share.questions as f64 / share.turns.max(1) as f64;
    let (name, most) = shares.iter().max_by(|(_, a), (_, b)| asking(a).total_cmp(&asking(b)))?;
    let next = shares.iter().filter(|(other, _)| *other != name).map(|(_, share)| asking(share)).fold(0.0, f64::max);
    let others: usize = shares.iter().filter(|(other, _)| *other != name).map(|(_, share)| share.words).sum();
    let clear = asking(most) >= LEAST_SHARE && asking(most) >= CLEARLY * next && most.words < others;
    clear.then_some(*name)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::turns_of;

    fn of(text: &str) -> (Option<String>, Vec<String>) {
        let speakers = speakers_of(text, &turns_of(text));
        (speakers.asks, speakers.answer)
    }

    #[test]
    fn whoever_asks_leads() {
        let text = "Wren: How do you cross in winter?\nMaud: With the 7:10. If it goes, that is, and it mostly goes.\n\
                    Wren: And when it does not?\nPiet: I phone the harbour.\nMaud: I take the day off, what else can I do?\n";
        assert_eq!(of(text), (Some("Wren".into()), vec!["Maud".into(), "Piet".into()]));
    }

    #[test]
    fn whoever_is_named_so_leads_even_without_a_question() {
        let text = "Interviewer: Tell me about it.\nMaud: Why? Do you want to know?\nInterviewer: Please.\n";
        assert_eq!(of(text).0.as_deref(), Some("Interviewer"));
    }

    #[test]
    fn the_one_who_answers_is_known_by_name_alone() {
        let with = |name: &str| {
            let text = format!(
                "Wren: How do you cross?\n{name}: With the 7:10, mostly, and back with the 17:20.\nWren: And then?\n"
            );
            speakers_of(&text, &turns_of(&text)).answers().map(str::to_owned)
        };
        assert_eq!(with("Maud Arkell").as_deref(), Some("Maud Arkell"));
        for part in ["Speaker 2", "Participant", "P4", "A"] {
            assert_eq!(with(part), None, "{part}");
        }
    }

    #[test]
    fn where_it_is_not_clear_nobody_leads() {
        let talk = "Maud: Was it late?\nPiet: It was. Was yours?\nMaud: So was mine, by an hour. Again?\n";
        assert_eq!(of(talk), (None, vec!["Maud".into(), "Piet".into()]));
        assert_eq!(of("no conversation"), (None, vec![]));
    }
}
