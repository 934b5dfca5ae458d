//! What people said, quoted in a page.

use super::report::Quote;
use crate::formats::blocks::{Block, markdown};

/// A page in Markdown with quotes below what it says. Linear.
///
/// ```
/// use iron_kite_core::listen::{Quote, with_quotes};
/// let said = Quote { words: "It was late.".into(), by: "Marit Holm, F24".into() };
/// assert_eq!(with_quotes("Why we do it", &[said]), "Why we do it\n\n> It was late.\n>\n> — Marit Holm, F24\n");
/// ```
#[must_use]
pub fn with_quotes(page: &str, quotes: &[Quote]) -> String {
    let blocks: Vec<Block> =
        quotes.iter().map(|said| Block::Quote { words: said.words.clone(), by: said.by.clone() }).collect();
    match page.trim_end() {
        "" => markdown(&blocks),
        page => format!("{page}\n\n{}", markdown(&blocks)),
    }
}
