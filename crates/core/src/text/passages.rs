//! A page in passages, each short enough to mean one thing.

use super::sentences;

/// A passage is closed when it has so many words.
const ENOUGH_WORDS: usize = 30;
/// At most so many of one page.
const MOST: usize = 200;

/// A page in Markdown as passages of a few sentences, none over the end of a paragraph, with the marks that begin a line taken
/// away. The title is one of its own. Linear.
#[must_use]
pub fn passages(title: &str, page: &str) -> Vec<String> {
    let mut found = vec![title.trim().to_owned()];
    for paragraph in page.replace("\r\n", "\n").split("\n\n") {
        let plain: Vec<&str> = paragraph.lines().map(unmarked).filter(|line| !line.is_empty()).collect();
        let plain = plain.join("\n");
        let mut open = String::new();
        for sentence in sentences(&plain).iter().filter_map(|span| span.of(&plain)) {
            if !open.is_empty() {
                open.push(' ');
            }
            open.push_str(sentence);
            if open.split_whitespace().count() >= ENOUGH_WORDS {
                found.push(std::mem::take(&mut open));
            }
        }
        found.push(open);
        if found.len() > MOST {
            break;
        }
    }
    found.retain(|passage| passage.chars().any(char::is_alphanumeric));
    found.truncate(MOST);
    found
}

/// A line without what makes it a heading, a point or a quote.
fn unmarked(line: &str) -> &str {
    let line = line.trim();
    let marks = line.trim_start_matches(['#', '>', '-', '*', '+', ' ', '\u{2014}']);
    // A line of marks only is none.
    marks.trim()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_page_is_read_by_paragraph_without_its_marks() {
        let page = "# Why\n\nPeople wait. Nobody tells them.\n\n> The boat was off.\n>\n> — Marit Holm, F24\n\n---\n\n- one\n- two";
        assert_eq!(
            passages("Being told", page),
            ["Being told", "Why", "People wait. Nobody tells them.", "The boat was off. Marit Holm, F24", "one two"]
        );
    }

    #[test]
    fn a_long_paragraph_is_several_passages_and_a_page_has_an_end() {
        let sentence = "We stood there for an hour and then went home. ";
        let found = passages("T", &sentence.repeat(7));
        assert_eq!(found.len(), 1 + 3);
        assert!(found[1..3].iter().all(|passage| passage.split_whitespace().count() == 30));
        assert_eq!(found[1..].join(" "), sentence.repeat(7).trim_end());
        assert_eq!(passages("T", &sentence.repeat(5_000)).len(), MOST);
        assert_eq!(passages(" ", " \n\n--"), Vec::<String>::new());
    }
}
