//! A page as blocks, one below the other: what a report is written as, whatever file it becomes.

use std::fmt::Write;

use serde::{Deserialize, Serialize};

use super::release_markdown::escape;

/// One block of a page. All texts are plain: what looks like markup in them is none.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "block")]
pub enum Block {
    /// A heading of a level, 1 the highest.
    Heading {
        /// From 1 to 3.
        level: u8,
        /// Its words.
        words: String,
    },
    /// A paragraph.
    Paragraph {
        /// Its words.
        words: String,
    },
    /// A point of a list.
    Point {
        /// Its words.
        words: String,
    },
    /// What somebody said.
    Quote {
        /// Their words.
        words: String,
        /// Who, when and where.
        by: String,
    },
    /// A table.
    Table {
        /// Its headings.
        heads: Vec<String>,
        /// Its lines, each with a cell for every heading.
        lines: Vec<Vec<String>>,
    },
}

/// Writes blocks as Markdown (CommonMark). Linear.
///
/// ```
/// use iron_kite_core::formats::blocks::{Block, markdown};
/// let page = [
///     Block::Heading { level: 1, words: "What we heard".into() },
///     Block::Quote { words: "It was *late*.".into(), by: "Marit Holm, F24".into() },
/// ];
/// assert_eq!(markdown(&page), "# What we heard\n\n> It was \\*late\\*.\n>\n> — Marit Holm, F24\n");
/// ```
#[must_use]
pub fn markdown(blocks: &[Block]) -> String {
    let mut page = String::new();
    for (at, block) in blocks.iter().enumerate() {
        let listed = |block: Option<&Block>| matches!(block, Some(Block::Point { .. }));
        let together = listed(Some(block)) && at.checked_sub(1).is_some_and(|before| listed(blocks.get(before)));
        if at > 0 && !together {
            page.push('\n');
        }
        let _ = match block {
            Block::Heading { level, words } => {
                writeln!(page, "{} {}", "#".repeat(usize::from((*level).clamp(1, 6))), line(words))
            }
            Block::Paragraph { words } => writeln!(page, "{}", line(words)),
            Block::Point { words } => writeln!(page, "- {}", line(words)),
            Block::Quote { words, by } => writeln!(page, "> {}\n>\n> — {}", line(words), line(by)),
            Block::Table { heads, lines } => write!(page, "{}", table(heads, lines)),
        };
    }
    page
}

fn table(heads: &[String], lines: &[Vec<String>]) -> String {
    let row =
        |cells: &[String]| format!("| {} |\n", cells.iter().map(|cell| line(cell)).collect::<Vec<_>>().join(" | "));
    let rule = format!("|{}\n", " --- |".repeat(heads.len()));
    row(heads) + &rule + &lines.iter().map(|cells| row(cells)).collect::<String>()
}

/// A text as [`markdown`] writes it: on one line, with what would be markup escaped. Linear.
#[must_use]
pub fn line(text: &str) -> String {
    let escaped = escape(text);
    // What begins like a list, a heading or a quote would be one.
    match escaped.chars().next() {
        Some('-' | '+' | '=') => format!("\\{escaped}"),
        Some(digit) if digit.is_ascii_digit() => numbered(&escaped),
        _ => escaped,
    }
}

/// "3. May" at the beginning of a line would be a point with a number.
fn numbered(text: &str) -> String {
    let digits = text.chars().take_while(char::is_ascii_digit).count();
    match text[digits..].chars().next() {
        Some(mark @ ('.' | ')')) => format!("{}\\{mark}{}", &text[..digits], &text[digits + 1..]),
        _ => text.to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_people_said_is_never_markup() {
        let said = |words: &str| markdown(&[Block::Paragraph { words: words.into() }]);
        for (words, page) in [
            ("- not a point", "\\- not a point\n"),
            ("3. May was late", "3\\. May was late\n"),
            ("30 boats", "30 boats\n"),
            ("two\n\nlines", "two lines\n"),
        ] {
            assert_eq!(said(words), page);
        }
        for words in ["# loud", "> quoted", "*bold*", "<b>", "[a](b)", "`code`", "a_b_c", "| cell |"] {
            let page = said(words);
            assert_ne!(page, format!("{words}\n"), "{page}");
        }
    }

    #[test]
    fn a_table_has_its_rule_and_no_cell_breaks_out() {
        let cells = |cells: &[&str]| cells.iter().map(|cell| (*cell).to_owned()).collect::<Vec<_>>();
        let page = markdown(&[Block::Table { heads: cells(&["a", "b"]), lines: vec![cells(&["1 | 2", "<i>"])] }]);
        assert_eq!(page.lines().next(), Some("| a | b |"));
        assert_eq!(page.lines().nth(1), Some("| --- | --- |"));
        assert!(!page.contains("1 | 2") && !page.contains("<i>"), "{page}");
    }

    #[test]
    fn points_stand_together() {
        let point = |words: &str| Block::Point { words: words.into() };
        let page = markdown(&[point("one"), point("two"), Block::Paragraph { words: "then".into() }]);
        assert_eq!(page, "- one\n- two\n\nthen\n");
    }
}
