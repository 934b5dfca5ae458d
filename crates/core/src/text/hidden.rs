//! Marks that nobody sees, and that make something look like something else.

/// Whether a letter is a control character, or turns the direction of what stands around it (UAX 9, "Trojan Source"): in a title or
/// in the name of a file neither is of use to anybody. Joiners stay, as scripts and emoji need them.
#[must_use]
pub fn is_hidden(letter: char) -> bool {
    let turns =
        matches!(letter, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}');
    // Marks of a text's beginning, line and paragraph separators, and tags, which are drawn as nothing.
    let nothing = matches!(letter, '\u{feff}' | '\u{2028}' | '\u{2029}' | '\u{e0000}'..='\u{e007f}');
    letter.is_control() || turns || nothing
}

/// One line without such marks, with single spaces.
#[must_use]
pub fn visible_line(text: &str) -> String {
    let seen: String = text.chars().filter(|c| c.is_whitespace() || !is_hidden(*c)).collect();
    seen.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_turns_or_hides_is_taken_out_and_words_stay() {
        assert_eq!(visible_line("invoice\u{202e}fdp.exe\u{0}\n now"), "invoicefdp.exe now");
        assert_eq!(visible_line("\u{feff}a\u{2066}b\u{2069}  c\u{200f}"), "ab c");
        // Hebrew, Persian with its joiner, and an emoji of several stay as they are.
        for fine in ["הסירה בוטלה", "می\u{200c}خواهم", "👩\u{200d}👩\u{200d}👧 on board"] {
            assert_eq!(visible_line(fine), fine);
        }
    }
}
