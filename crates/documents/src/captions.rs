//! Captions of a recording: WebVTT (W3C) and SRT. What one speaker says in several captions is one turn, with the times
//! of the first and the last of them.

use iron_kite_core::formats::days;
use iron_kite_core::listen::{Document, Turn};
use iron_kite_core::text::{are_speakers, speaker_of};

use super::page;

/// One caption.
struct Cue {
    /// When it begins and ends, where it says so.
    times: Option<(u64, u64)>,
    /// Who speaks, as the format says it.
    voice: Option<String>,
    words: String,
}

pub(super) fn read(text: &str) -> Result<Document, String> {
    let text = text.replace("\r\n", "\n").replace('\r', "\n");
    let cues: Vec<Cue> = text.split("\n\n").enumerate().filter_map(|(at, block)| cue(block, at == 0)).collect();
    if cues.iter().all(|cue| cue.times.is_none()) {
        return Err("There is no caption with a time in it, such as 00:01:02.500 --> 00:01:04.000.".into());
    }
    let remark = remark(&text);
    let said_on = days::in_head(remark);
    let mut title = title(&text);
    if title.is_empty() {
        let name = remark.lines().map(str::trim).find(|line| !line.is_empty() && days::in_head(line).is_none());
        title = name.unwrap_or_default().chars().take(200).collect();
    }
    let notes = match cues.iter().filter(|cue| cue.times.is_none()).count() {
        0 => Vec::new(),
        1 => vec!["1 caption says no time; its words stand where it stood".to_owned()],
        many => vec![format!("{many} captions say no time; their words stand where they stood")],
    };
    let mut document = Document { title, said_on, notes, ..Document::default() };
    let speakers = speakers_of(&cues, remark);
    let mut length = 0;
    for (cue, (speaker, words)) in cues.iter().zip(speakers) {
        let same = document.turns.last().is_some_and(|turn| speaker.is_none() || turn.speaker.as_deref() == speaker);
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
        document.text.push_str(words);
        length += words.chars().count();
        let times = cue.times.unzip();
        match document.turns.last_mut().filter(|_| same) {
            Some(turn) => {
                turn.to = length;
                turn.to_ms = times.1.or(turn.to_ms);
            }
            None => document.turns.push(Turn {
                from,
                to: length,
                speaker: speaker.map(str::to_owned),
                from_ms: times.0,
                to_ms: times.1,
                ..Turn::default()
            }),
        }
    }
    Ok(document)
}

/// Who speaks in each caption, and the words: whom the format names, and whoever is written before the words of more than one.
fn speakers_of<'a>(cues: &'a [Cue], remark: &str) -> Vec<(Option<&'a str>, &'a str)> {
    let written = cues.iter().filter(|cue| cue.voice.is_none()).filter_map(|cue| Some(speaker_of(&cue.words)?.0));
    let written: Vec<&str> = written.collect();
    let mut speaks = are_speakers(&written, remark).into_iter();
    let one = |cue: &'a Cue| match (&cue.voice, speaker_of(&cue.words)) {
        (Some(voice), _) => (Some(voice.as_str()), cue.words.as_str()),
        (None, Some((name, words))) if speaks.next() == Some(true) => (Some(name), words),
        (None, _) => (None, cue.words.trim_start_matches(['-', '–']).trim_start()),
    };
    cues.iter().map(one).collect()
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

/// A block of the file, where it is a caption. `first` is the one that may be a head.
fn cue(block: &str, first: bool) -> Option<Cue> {
    let head = block.trim_start_matches('\u{feff}').trim_start();
    let is =
        |name: &str| head.strip_prefix(name).is_some_and(|rest| rest.is_empty() || rest.starts_with([' ', '\t', '\n']));
    let timed = block.lines().position(|line| line.contains("-->"));
    if ["NOTE", "STYLE", "REGION"].into_iter().any(is) || timed.is_none() && (first || is("WEBVTT")) {
        return None;
    }
    let times = timed.and_then(|at| times(block.lines().nth(at)?));
    let said: Vec<&str> = match timed {
        Some(at) => block.lines().skip(at + 1).filter(|line| !is_setting(line)).collect(),
        // Its number stands in front.
        None => block.lines().skip_while(|line| line.trim().chars().all(|c| c.is_ascii_digit())).collect(),
    };
    let said = said.join(" ");
    let voice = said.split_once("<v").and_then(|(_, rest)| rest.split_once('>')).map(|(head, _)| {
        // A voice may have classes before its name: <v.first.loud Mary>
        head.split_once(' ').map_or("", |(_, name)| name).trim().to_owned()
    });
    let (plain, _) = page::words(&without_marks(&said));
    let words = plain.replace(['\n', '\t'], " ").trim().to_owned();
    (!words.is_empty()).then(|| Cue { times, voice: voice.filter(|name| !name.is_empty()), words })
}

/// When a caption begins and ends.
fn times(line: &str) -> Option<(u64, u64)> {
    let (from, to) = line.split_once("-->")?;
    Some((time(from)?, time(to.split_whitespace().next()?)?))
}

/// Whether a line only says where a caption stands: `align:start position:0%`.
fn is_setting(line: &str) -> bool {
    const SETTINGS: [&str; 6] = ["align", "position", "line", "size", "vertical", "region"];
    let setting =
        |word: &str| word.split_once(':').is_some_and(|(name, to)| SETTINGS.contains(&name) && !to.is_empty());
    !line.trim().is_empty() && line.split_whitespace().all(setting)
}

/// The longest mark, in characters.
const LONGEST_MARK: usize = 64;

/// The words without the marks of time and place that stand among them: `<00:01:02.500>`, `{\an8}`.
fn without_marks(said: &str) -> String {
    let mut out = String::with_capacity(said.len());
    let mut rest = said;
    while let Some(at) = rest.find(['<', '{']) {
        let (before, from) = rest.split_at(at);
        out.push_str(before);
        let inner = from.get(1..).unwrap_or_default();
        let end = if from.starts_with('<') { '>' } else { '}' };
        let near = inner.char_indices().take(LONGEST_MARK).find(|(_, c)| *c == end);
        let mark = near.and_then(|(at, _)| inner.get(..at)).filter(|mark| match end {
            '>' => mark.contains(':') && mark.chars().all(|c| c.is_ascii_digit() || matches!(c, ':' | '.' | ',')),
            _ => mark.starts_with('\\'),
        });
        match mark {
            Some(mark) => rest = inner.get(mark.len() + 1..).unwrap_or_default(),
            None => {
                out.push_str(from.get(..1).unwrap_or_default());
                rest = inner;
            }
        }
    }
    out.push_str(rest);
    out
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
