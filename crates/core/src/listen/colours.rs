//! The words of a text with a known colour, and what the words beside them make of it.

use std::collections::HashMap;
use std::sync::LazyLock;

/// Words and signs with how good they are, −4 (worst) to +4 (best). Their origin stands in `lexicon/NOTICE.md`.
static LEXICON: LazyLock<HashMap<&'static str, f32>> = LazyLock::new(|| {
    let all = [include_str!("lexicon/vader.tsv"), include_str!("lexicon/service.tsv")];
    let lines = all.into_iter().flat_map(str::lines);
    lines
        .filter_map(|line| line.split_once('\t'))
        .filter_map(|(word, value)| Some((word, value.parse().ok()?)))
        .collect()
});

/// Whether a word, in lower case, is good or bad by itself.
pub(super) fn is_coloured(word: &str) -> bool {
    LEXICON.contains_key(word)
}

const NEGATIONS: [&str; 18] = [
    "not", "no", "never", "none", "nobody", "nothing", "nowhere", "neither", "nor", "without", "cannot", "hardly",
    "barely", "scarcely", "rarely", "seldom", "despite", "lacks",
];
const STRONGER: [&str; 38] = [
    "absolutely",
    "amazingly",
    "awfully",
    "completely",
    "considerably",
    "deeply",
    "enormously",
    "entirely",
    "especially",
    "exceptionally",
    "extremely",
    "fully",
    "greatly",
    "highly",
    "hugely",
    "incredibly",
    "intensely",
    "more",
    "most",
    "particularly",
    "quite",
    "really",
    "remarkably",
    "so",
    "such",
    "substantially",
    "terribly",
    "thoroughly",
    "too",
    "total",
    "totally",
    "tremendously",
    "truly",
    "unbelievably",
    "unusually",
    "utterly",
    "very",
    "way",
];
const WEAKER: [&str; 16] = [
    "almost",
    "fairly",
    "kinda",
    "less",
    "little",
    "marginally",
    "mostly",
    "occasionally",
    "partly",
    "rather",
    "relatively",
    "slight",
    "slightly",
    "somewhat",
    "sorta",
    "bit",
];
/// After these a text says what counts more.
const TURNS: [&str; 4] = ["but", "however", "except", "yet"];
/// Signs that are one character, beside those that the lexicon writes with several.
const GOOD_SIGNS: &str = "😀😃😄😁😆😊🙂😍🥰😘🤩😎👍👏🙌💪🙏❤♥💕💖💚💙🎉🌟⭐✨🌞🌿😋🤗🥳💯✅😂";
const BAD_SIGNS: &str = "😡😠🤬😤😞😔😟🙁☹😣😖😫😩😢😭😱😒🙄👎💔🤮🤢💩😕😰🤦❌🥵🥶";

/// A sign is worth as much as "good" or "bad" said with some force.
const SIGN: f32 = 2.4;
/// How far back a negation or an intensifier reaches, in words.
const REACH: usize = 3;
/// What an intensifier adds, what capitals add, what is left of a negated word, what a mark of exclamation adds, and the
/// number that bends the sum: all five as measured by Hutto and Gilbert (2014).
const INTENSITY: f32 = 0.293;
const CAPITALS: f32 = 0.733;
const TURNED: f32 = -0.74;
const EXCLAIMED: f32 = 0.292;
const BEND: f32 = 15.0;
/// An intensifier that stands further away adds less.
const FADING: [f32; REACH] = [1.0, 0.95, 0.9];
/// More marks of exclamation than this add nothing.
const MOST_EXCLAIMED: usize = 4;

/// What the words of a text say by themselves.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Colours {
    /// All together, squeezed: worst −1 to best +1.
    pub compound: f32,
    /// The sum of what is good, 0 and above.
    pub good: f32,
    /// The sum of what is bad, 0 and above.
    pub bad: f32,
}

/// A word of a text as it counts here.
struct Piece {
    word: String,
    capitals: bool,
    /// A comma, a full stop or the like stands after it.
    ends: bool,
}

/// The colours of a text.
///
/// ```text
/// c(w) = lexicon(w), more or less by intensifiers and capitals, times −0.74 for each negation within reach before it;
///        before a "but" half of it, after it one and a half times
/// s = Σ c(w) ± 0.292 · marks of exclamation
/// compound = s / √(s² + 15)
/// ```
///
/// After C. J. Hutto, E. Gilbert, "VADER: A Parsimonious Rule-based Model for Sentiment Analysis of Social Media Text"
/// (2014), with these changes: a negation reaches no further than the comma or full stop before it, apostrophes may be
/// curly or left out, and signs count where they stand. Linear in the length of the text.
#[must_use]
pub fn colours_of(text: &str) -> Colours {
    let pieces = pieces(text);
    let shouted = pieces.iter().any(|piece| piece.capitals) && pieces.iter().any(|piece| !piece.capitals);
    let turn = pieces.iter().rposition(|piece| TURNS.contains(&piece.word.as_str()));
    let mut found = Colours::default();
    let mut add = |colour: f32| if colour > 0.0 { found.good += colour } else { found.bad -= colour };
    for at in 0..pieces.len() {
        let share = match turn {
            Some(turn) if at < turn => 0.5,
            Some(turn) if at > turn => 1.5,
            _ => 1.0,
        };
        add(colour_at(&pieces, at, shouted) * share);
    }
    for sign in text.chars() {
        if GOOD_SIGNS.contains(sign) {
            add(SIGN);
        } else if BAD_SIGNS.contains(sign) {
            add(-SIGN);
        }
    }
    let mut sum = found.good - found.bad;
    #[expect(clippy::cast_precision_loss, reason = "at most four")]
    let exclaimed = text.matches('!').count().min(MOST_EXCLAIMED) as f32 * EXCLAIMED;
    if sum.abs() > f32::EPSILON {
        sum += exclaimed.copysign(sum);
    }
    Colours { compound: sum / (sum * sum + BEND).sqrt(), ..found }
}

fn colour_at(pieces: &[Piece], at: usize, shouted: bool) -> f32 {
    let piece = &pieces[at];
    let next = pieces.get(at + 1).map(|next| next.word.as_str());
    let only_turns = is_negation(&piece.word) && next.is_some();
    if only_turns || STRONGER.contains(&piece.word.as_str()) || WEAKER.contains(&piece.word.as_str()) {
        return 0.0;
    }
    // "kind of", "like to", "well as" say nothing by themselves.
    if matches!(
        (piece.word.as_str(), next),
        ("kind", Some("of")) | ("like", Some("a" | "the" | "this")) | ("well", Some("as"))
    ) {
        return 0.0;
    }
    let Some(mut colour) = LEXICON.get(piece.word.as_str()).copied() else { return 0.0 };
    if piece.capitals && shouted {
        colour += CAPITALS.copysign(colour);
    }
    for (back, fading) in FADING.iter().enumerate() {
        let Some(before) = at.checked_sub(back + 1).map(|before| &pieces[before]).filter(|before| !before.ends) else {
            break;
        };
        if STRONGER.contains(&before.word.as_str()) {
            colour += (INTENSITY * fading).copysign(colour);
        } else if WEAKER.contains(&before.word.as_str()) {
            colour -= (INTENSITY * fading).copysign(colour);
        }
        if is_negation(&before.word) && !(before.word == "not" && pieces[before_next(at, back)].word == "only") {
            colour *= TURNED;
        }
    }
    colour
}

/// Where the word after the one that stands `back + 1` before `at` is.
fn before_next(at: usize, back: usize) -> usize {
    at - back
}

pub(super) fn is_negation(word: &str) -> bool {
    const BARE: [&str; 17] = [
        "aint", "arent", "cant", "couldnt", "didnt", "doesnt", "dont", "hadnt", "hasnt", "havent", "isnt", "shouldnt",
        "wasnt", "werent", "wont", "wouldnt", "mustnt",
    ];
    NEGATIONS.contains(&word) || word.ends_with("n't") || BARE.contains(&word)
}

/// The words of a text, without the marks around them; a run of marks that the lexicon knows stays as it is.
fn pieces(text: &str) -> Vec<Piece> {
    let straight = text.replace(['\u{2019}', '\u{2018}'], "'");
    let spaced = straight.replace(['—', '–', '…', '/'], " , ");
    let mut pieces: Vec<Piece> = Vec::new();
    for raw in spaced.split_whitespace() {
        if LEXICON.contains_key(raw) && !raw.chars().any(char::is_alphanumeric) {
            pieces.push(Piece { word: raw.to_owned(), capitals: false, ends: true });
            continue;
        }
        let bare = raw.trim_matches(|c: char| !c.is_alphanumeric());
        let ends = raw.ends_with([',', '.', ';', ':', '!', '?', ')']);
        if bare.is_empty() {
            if let Some(last) = pieces.last_mut() {
                last.ends |= ends;
            }
            continue;
        }
        let capitals = bare.chars().filter(|c| c.is_alphabetic()).count() > 1 && bare == bare.to_uppercase();
        pieces.push(Piece { word: bare.to_lowercase(), capitals, ends });
    }
    pieces
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Figures of the Python package vaderSentiment 3.3.2 for sentences in which its rules and ours are the same.
    const OF_ANOTHER_PROGRAM: [(&str, f32); 6] = [
        ("It was a good day.", 0.4404),
        ("It was an extremely good day.", 0.4927),
        ("The service was horrible!", -0.5848),
        ("It was not good.", -0.3412),
        ("The plot was good, but the characters are uncompelling and the dialog is not great.", -0.7042),
        ("I was really happy with this", 0.6115),
    ];

    #[test]
    fn plain_sentences_get_the_figures_of_another_program() {
        for (text, right) in OF_ANOTHER_PROGRAM {
            let told = colours_of(text).compound;
            assert!((told - right).abs() < 5e-4, "{text}: {told} is not {right}");
        }
    }

    #[test]
    fn a_comma_ends_what_is_negated() {
        assert!(colours_of("No, it is good.").compound > 0.4);
        assert!(colours_of("It isn\u{2019}t good").compound < 0.0);
        assert!(colours_of("it isnt good").compound < 0.0);
    }

    #[test]
    fn signs_capitals_and_marks_count() {
        assert!(colours_of("Off again 😡").compound < -0.4);
        assert!(colours_of("GOOD boat").compound > colours_of("good boat").compound);
        assert!(colours_of("good boat!!").compound > colours_of("good boat").compound);
        assert!(colours_of("home :)").compound > 0.3);
        assert_eq!(colours_of("!!!"), Colours::default());
    }

    #[test]
    fn not_only_is_no_negation() {
        assert!(colours_of("It is not only good").compound > 0.4);
    }
}
