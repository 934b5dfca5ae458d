//! Words as rules compare them.

use unicode_segmentation::UnicodeSegmentation;

/// A word in lower case with straight apostrophes.
pub type Word = String;

/// The words of a text in lower case, curly apostrophes made straight. Linear.
#[must_use]
pub fn words(text: &str) -> Vec<Word> {
    text.replace(['\u{2019}', '\u{2018}'], "'").to_lowercase().unicode_words().map(str::to_owned).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn apostrophes_are_one() {
        assert_eq!(words("Can\u{2019}t WAIT, really"), ["can't", "wait", "really"]);
    }
}
