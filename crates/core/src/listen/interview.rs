//! Notes of a conversation, taken while it goes on: line by line, with who speaks, when, to which question, and tags.

use serde::{Deserialize, Serialize};

use super::document::Turn;

/// One line of the notes.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NoteLine {
    /// Who says it; nobody for what was seen.
    pub speaker: Option<String>,
    /// The words, as they were said.
    pub words: String,
    /// When, in milliseconds from the beginning.
    pub at_ms: Option<u64>,
    /// The question of the guide that it answers.
    pub question: Option<String>,
    /// Words that the one who listens put to it.
    #[serde(default)]
    pub tags: Vec<String>,
}

/// The most tags of one line.
pub const MOST_TAGS: usize = 12;
/// The longest tag, question and name, in characters.
const LONGEST: usize = 300;

/// Puts the lines into one text, a line each with the speaker in front, and tells who speaks where. Lines without
/// words are left out; a line with line breaks becomes one. Linear.
#[must_use]
pub fn written(lines: &[NoteLine]) -> (String, Vec<Turn>) {
    let mut text = String::new();
    let mut at = 0;
    let mut turns: Vec<Turn> = Vec::new();
    for line in lines {
        let words = one_line(&line.words, usize::MAX);
        if words.is_empty() {
            continue;
        }
        let speaker = line.speaker.as_deref().map(|name| one_line(name, LONGEST)).filter(|name| !name.is_empty());
        if at > 0 {
            text.push('\n');
            at += 1;
        }
        if let Some(name) = &speaker {
            text.extend([name.as_str(), ": "]);
            at += name.chars().count() + 2;
        }
        if let Some(before) = turns.last_mut().filter(|turn| turn.from_ms.is_some()) {
            before.to_ms = line.at_ms;
        }
        let to = at + words.chars().count();
        let question = line.question.as_deref().map(|words| one_line(words, LONGEST)).filter(|words| !words.is_empty());
        let tags = tags_of(&line.tags);
        turns.push(Turn { from: at, to, speaker, from_ms: line.at_ms, to_ms: None, question, tags });
        text.push_str(&words);
        at = to;
    }
    (text, turns)
}

fn one_line(words: &str, most: usize) -> String {
    words.split_whitespace().collect::<Vec<_>>().join(" ").chars().take(most).collect()
}

/// Tags in small letters, each once, in their order.
fn tags_of(tags: &[String]) -> Vec<String> {
    let mut found: Vec<String> = Vec::new();
    for tag in tags {
        let tag = one_line(tag.trim_start_matches('#'), 60).to_lowercase();
        if !tag.is_empty() && !found.contains(&tag) && found.len() < MOST_TAGS {
            found.push(tag);
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn line(speaker: &str, words: &str, at_ms: u64) -> NoteLine {
        let speaker = (!speaker.is_empty()).then(|| speaker.to_owned());
        NoteLine { speaker, words: words.into(), at_ms: Some(at_ms), ..NoteLine::default() }
    }

    fn cut(text: &str, turn: &Turn) -> String {
        text.chars().skip(turn.from).take(turn.to - turn.from).collect()
    }

    #[test]
    fn lines_become_turns_over_the_words() {
        let mut answer = line("Zoë Brandt", "With the 7:10,\nalways.", 4_000);
        answer.question = Some("How do you cross?".into());
        answer.tags = vec!["Morning".into(), "#morning".into(), " ".into()];
        let lines = [
            line("Wren", "How?", 1_000),
            line("Wren", "  ", 2_000),
            answer,
            line("", "She looks at the clock.", 9_000),
        ];
        let (text, turns) = written(&lines);
        assert_eq!(text, "Wren: How?\nZoë Brandt: With the 7:10, always.\nShe looks at the clock.");
        let said: Vec<String> = turns.iter().map(|turn| cut(&text, turn)).collect();
        assert_eq!(said, ["How?", "With the 7:10, always.", "She looks at the clock."]);
        assert_eq!(turns.iter().map(|turn| turn.to_ms).collect::<Vec<_>>(), [Some(4_000), Some(9_000), None]);
        assert_eq!(
            (turns[1].tags.as_slice(), turns[1].question.as_deref()),
            (&["morning".to_owned()][..], Some("How do you cross?"))
        );
        assert_eq!(turns[2].speaker, None);
    }

    proptest! {
        #[test]
        fn every_turn_is_its_words(lines in proptest::collection::vec(("[A-Zé]{0,4}", "[ -~äß😀\n]{0,20}"), 0..8)) {
            let lines: Vec<NoteLine> = lines.iter().map(|(who, words)| line(who, words, 1)).collect();
            let (text, turns) = written(&lines);
            let kept: Vec<String> = lines.iter().map(|line| one_line(&line.words, 99)).filter(|words| !words.is_empty()).collect();
            prop_assert_eq!(turns.iter().map(|turn| cut(&text, turn)).collect::<Vec<_>>(), kept);
        }
    }
}
