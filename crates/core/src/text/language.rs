//! The language of a text.

/// Fewer letters say too little.
const LEAST_LETTERS: usize = 12;

/// More letters say nothing more.
const MOST_LETTERS: usize = 600;

/// The language of a text by its English name, such as `German`; nothing where it is too short or could
/// be one as well as another. Told by the whatlang library from runs of three letters. Linear, up to a bound.
#[must_use]
pub fn language_of(text: &str) -> Option<&'static str> {
    if text.chars().filter(|letter| letter.is_alphabetic()).take(LEAST_LETTERS).count() < LEAST_LETTERS {
        return None;
    }
    let enough = text.char_indices().nth(MOST_LETTERS).map_or(text, |(byte, _)| &text[..byte]);
    let found = whatlang::detect(enough)?;
    found.is_reliable().then(|| found.lang().eng_name())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn languages_are_recognised_and_not_guessed() {
        let english = "The boat was cancelled and nobody told me, so I stood there in the rain for an hour.";
        let german = "Der Fahrplan ist viel zu klein gedruckt, ich kann ihn ohne Brille überhaupt nicht lesen.";
        let french = "Le bateau est parti sans nous alors que nous étions sur le quai depuis dix minutes.";
        assert_eq!(language_of(english), Some("English"));
        assert_eq!(language_of(german), Some("German"));
        assert_eq!(language_of(french), Some("French"));
        assert_eq!(language_of("OK"), None);
        assert_eq!(language_of("👍👍👍 12:40 !!"), None);
    }
}
