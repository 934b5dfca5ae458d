//! Words as rules compare them.

use unicode_segmentation::UnicodeSegmentation;

use super::Span;

/// A word in lower case with straight apostrophes.
pub type Word = String;

/// The words of a text in lower case, curly apostrophes made straight. Linear.
#[must_use]
pub fn words(text: &str) -> Vec<Word> {
    text.replace(['\u{2019}', '\u{2018}'], "'").to_lowercase().unicode_words().map(str::to_owned).collect()
}

/// The words that a choice touches, whole, from the first letter to the last; nothing where it touches none. O(text).
pub(crate) fn whole_words(text: &str, letters: &[char], chosen: Span) -> Option<Span> {
    let chosen = without_space(letters, Span { from: chosen.from, to: chosen.to.min(letters.len()) })?;
    let (mut at, mut whole) = (0, chosen);
    for piece in text.split_word_bounds() {
        let end = at + piece.chars().count();
        if at < chosen.to && chosen.from < end {
            whole = Span { from: whole.from.min(at), to: whole.to.max(end) };
        }
        at = end;
    }
    letters[whole.from..whole.to].iter().any(|letter| letter.is_alphanumeric()).then_some(whole)
}

/// A span without the space at its ends; nothing where there is only space.
pub(crate) fn without_space(letters: &[char], span: Span) -> Option<Span> {
    let part = letters.get(span.from..span.to)?;
    let from = part.iter().position(|letter| !letter.is_whitespace())?;
    let to = part.iter().rposition(|letter| !letter.is_whitespace())?;
    Some(Span { from: span.from + from, to: span.from + to + 1 })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn apostrophes_are_one() {
        assert_eq!(words("Can\u{2019}t WAIT, really"), ["can't", "wait", "really"]);
    }
}
