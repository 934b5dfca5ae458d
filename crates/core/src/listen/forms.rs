//! The form of what is said: how it is put, whatever it is about.

use std::borrow::Cow;
use std::collections::{BTreeMap, HashMap};
use std::sync::LazyLock;

use super::colours::{Colours, is_negation};
use crate::text::{DIMENSIONS, Features, Vector};

/// The words of a text as its form shows in them: in lower case, numbers as `#`, and the marks that ask and exclaim.
#[must_use]
pub fn form_words(text: &str) -> Vec<String> {
    let straight = text.replace(['\u{2019}', '\u{2018}', '`'], "'").to_lowercase();
    let mut found: Vec<String> = Vec::new();
    let mut word = String::new();
    for letter in straight.chars().chain([' ']) {
        if letter.is_alphanumeric() || (letter == '\'' && !word.is_empty()) {
            word.push(letter);
            continue;
        }
        let bare = word.trim_end_matches('\'');
        if !bare.is_empty() {
            let number = bare.chars().all(char::is_numeric);
            found.push(if number { "#".to_owned() } else { bare.to_owned() });
        }
        word.clear();
        if matches!(letter, '?' | '!' | ',' | ';' | ':') {
            found.push(letter.to_string());
        }
    }
    found
}

/// The forms of `lexicon/forms.txt`: the names of their features, and which of them each cue speaks for. Cues are words or
/// runs of words; `^` stands before the first word.
struct Forms {
    names: Vec<String>,
    cues: HashMap<&'static str, Vec<usize>>,
}

static FORMS: LazyLock<Forms> = LazyLock::new(|| {
    let mut forms = Forms { names: Vec::new(), cues: HashMap::new() };
    for part in include_str!("lexicon/forms.txt").split("\n= ").skip(1) {
        let (name, rest) = part.split_once('\n').unwrap_or((part, ""));
        for cue in rest.lines().flat_map(|line| line.split(", ")).map(str::trim).filter(|cue| !cue.is_empty()) {
            forms.cues.entry(cue).or_default().push(forms.names.len());
        }
        forms.names.push(format!("form {name}"));
    }
    forms
});

/// Runs of words are at most so long.
const LONGEST_RUN: usize = 3;

/// The features of form of a text: each form that is there (1, or 1.5 where more than once), marks, negations, length, and
/// the words and pairs of words themselves. Linear in the length of the text.
#[must_use]
pub fn forms_of(text: &str) -> Features {
    let mut words = vec!["^".to_owned()];
    words.extend(form_words(text));
    let runs = runs_of(&words);
    let mut features: Features = Vec::new();
    let mut counts = vec![0; FORMS.names.len()];
    for form in runs.keys().filter_map(|run| FORMS.cues.get(run.as_str())).flatten() {
        counts[*form] += 1;
    }
    for (name, count) in FORMS.names.iter().zip(counts).filter(|(_, count)| *count > 0) {
        features.push((name.as_str().into(), if count > 1 { 1.5 } else { 1.0 }));
    }
    let mut push = |name: &str, there: bool| {
        if there {
            features.push((format!("form {name}").into(), 1.0));
        }
    };
    push("ends by asking", text.trim_end().ends_with('?'));
    push("asks", text.contains('?'));
    push("exclaims", text.contains('!'));
    push("negates", words.iter().any(|word| is_negation(word)));
    push("has a number", words.iter().any(|word| word == "#"));
    push("is short", words.len() <= 6);
    push("is long", words.len() >= 18);
    features.extend(runs.into_iter().filter(|(_, long)| *long <= 2).map(|(run, _)| (format!("w {run}").into(), WORD)));
    features
}

/// What a word or a pair of words is worth beside a form: there are many of them.
const WORD: f32 = 0.5;

/// All runs of words up to the longest, with how long each is.
fn runs_of(words: &[String]) -> BTreeMap<String, usize> {
    let mut runs = BTreeMap::new();
    for long in 1..=LONGEST_RUN {
        for run in words.windows(long) {
            runs.insert(run.join(" "), long);
        }
    }
    runs
}

/// The features of colours.
pub(super) fn of_colours(colours: &Colours) -> Features {
    let squeezed = |sum: f32| sum / (sum + 3.0);
    vec![
        ("colour".into(), colours.compound),
        ("colour strength".into(), colours.compound.abs()),
        ("colour good".into(), squeezed(colours.good)),
        ("colour bad".into(), squeezed(colours.bad)),
    ]
}

/// The names of the numbers of a meaning.
static NUMBERS: LazyLock<Vec<String>> = LazyLock::new(|| (0..DIMENSIONS).map(|at| format!("v{at}")).collect());

/// The features of a meaning: its numbers, each counting `by` as much.
pub(super) fn of_meaning(vector: &Vector, by: f32) -> Features {
    NUMBERS.iter().zip(vector.numbers()).map(|(name, number)| (Cow::Borrowed(name.as_str()), number * by)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn has(text: &str, name: &str) -> bool {
        forms_of(text).iter().any(|(feature, _)| feature == &format!("form {name}"))
    }

    #[test]
    fn form_shows_in_words_and_marks() {
        assert_eq!(
            form_words("Why’s it \u{2018}late\u{2019}, at 19:40?"),
            ["why's", "it", "late", ",", "at", "#", ":", "#", "?"]
        );
        assert!(has("How do I get there?", "asks how") && has("How do I get there?", "ends by asking"));
        assert!(has("Add a bench.", "bids") && !has("We add a bench.", "bids"));
        assert!(has("I wasn't told", "negates"));
        assert!(!has("", "is long") && has("", "is short"));
    }

    #[test]
    fn a_cue_inside_a_longer_word_is_none() {
        assert!(!has("The address is fine.", "wishes"));
    }
}
