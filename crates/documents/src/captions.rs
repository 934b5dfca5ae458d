//! Captions of a recording: WebVTT (W3C) and SRT. What one speaker says in several captions is one turn, with the times
//! of the first and the last of them.

use iron_kite_core::formats::days;
use iron_kite_core::listen::{Document, Turn, speaker_of};

use super::page;

/// One caption.
struct Cue {
    from_ms: u64,
    to_ms: u64,
    speaker: Option<String>,
    words: String,
}

pub(super) fn read(text: &str) -> Result<Document, String> {
    let text = text.replace("\r\n", "\n").replace('\r', "\n");
    let cues: Vec<Cue> = text.split("\n\n").filter_map(cue).collect();
    if cues.is_empty() {
        return Err("There is no caption with a time in it, such as 00:01:02.500 --> 00:01:04.000.".into());
    }
    let remark = remark(&text);
    let said_on = days::in_head(remark);
    let mut title = title(&text);
    if title.is_empty() {
        let name = remark.lines().map(str::trim).find(|line| !line.is_empty() && days::in_head(line).is_none());
        title = name.unwrap_or_default().chars().take(200).collect();
    }
    let mut document = Document { title, said_on, ..Document::default() };
    let mut length = 0;
    for cue in cues {
        let same = document.turns.last().is_some_and(|turn| turn.speaker == cue.speaker || cue.speaker.is_none());
        let gap = if document.text.is_empty() {
            ""
        } else if same {
            " "
        } else {
            "\n"
        };
        document.text.push_str(gap);
        length += gap.len();
        let from = length;
        document.text.push_str(&cue.words);
        length += cue.words.chars().count();
        match document.turns.last_mut().filter(|_| same) {
            Some(turn) => {
                turn.to = length;
                turn.to_ms = Some(cue.to_ms);
            }
            None => document.turns.push(Turn {
                from,
                to: length,
                speaker: cue.speaker,
                from_ms: Some(cue.from_ms),
                to_ms: Some(cue.to_ms),
                ..Turn::default()
            }),
        }
    }
    Ok(document)
}

/// The remark in front of the captions: what they are of, and when.
fn remark(text: &str) -> &str {
    let head = text.split("-->").next().unwrap_or_default();
    let Some((_, behind)) = head.split_once("\nNOTE") else { return "" };
    behind.split("\n\n").next().unwrap_or_default().trim_start()
}

fn title(text: &str) -> String {
    let first = text.lines().next().unwrap_or_default();
    first.strip_prefix("WEBVTT").unwrap_or_default().trim_start_matches([' ', '-', '\t']).chars().take(200).collect()
}

fn cue(block: &str) -> Option<Cue> {
    let mut lines = block.lines().skip_while(|line| !line.contains("-->"));
    let (from, to) = lines.next()?.split_once("-->")?;
    let (from_ms, to_ms) = (time(from)?, time(to.split_whitespace().next()?)?);
    let said = lines.collect::<Vec<_>>().join(" ");
    let voice = said.split_once("<v").and_then(|(_, rest)| rest.split_once('>')).map(|(head, _)| {
        // A voice may have classes before its name: <v.first.loud Mary>
        head.split_once(' ').map_or("", |(_, name)| name).trim().to_owned()
    });
    let (plain, _) = page::words(&said);
    let (speaker, words) = match voice.filter(|name| !name.is_empty()) {
        Some(name) => (Some(name), plain),
        None => match speaker_of(&plain) {
            Some((name, rest)) => (Some(name.to_owned()), rest.to_owned()),
            None => (None, plain.trim_start_matches(['-', '–']).trim().to_owned()),
        },
    };
    let words = words.replace(['\n', '\t'], " ");
    (!words.is_empty()).then_some(Cue { from_ms, to_ms, speaker, words })
}

/// `01:02:03.500`, `02:03.500`, or with a comma, in milliseconds.
fn time(text: &str) -> Option<u64> {
    let text = text.trim().replace(',', ".");
    let (clock, rest) = text.split_once('.').unwrap_or((&text, "0"));
    let mut seconds: u64 = 0;
    for part in clock.split(':') {
        seconds = seconds.checked_mul(60)?.checked_add(part.parse().ok()?)?;
    }
    let part: String = rest.chars().take(3).collect();
    let scale = [1, 100, 10, 1].get(part.len())?;
    seconds.checked_mul(1_000)?.checked_add(part.parse::<u64>().ok()? * scale)
}
