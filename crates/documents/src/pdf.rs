//! PDF with text. A scan has none, and that is said.

use iron_kite_core::listen::{Document, turns_of};

use super::{Held, wordless};

/// Fewer letters than this for a page, and the words are only a stamp on a scan.
const LEAST_LETTERS: usize = 12;

pub(super) fn read(bytes: &[u8]) -> Result<Held, String> {
    let pages = pdf_extract::extract_text_from_mem_by_pages(bytes).map_err(|fault| match fault {
        pdf_extract::OutputError::PdfError(pdf_extract::Error::Decryption(_)) => {
            "The PDF is locked with a password. Save it without one, and bring that in.".to_owned()
        }
        _ => "The PDF is damaged and cannot be read. Save it anew and try again.".to_owned(),
    })?;
    let letters = pages.iter().flat_map(|page| page.chars()).filter(|c| c.is_alphabetic()).count();
    if letters < LEAST_LETTERS * pages.len().max(1) {
        return Ok(wordless("a scan"));
    }
    let text = pages.iter().map(|page| lines(page)).collect::<Vec<_>>().join("\n\n");
    let title = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().chars().take(200).collect();
    Ok(Held::Documents(vec![Document { title, turns: turns_of(&text), text, ..Document::default() }]))
}

/// A page's lines without the space that only places them.
fn lines(page: &str) -> String {
    let lines = page.lines().map(|line| line.split_whitespace().collect::<Vec<_>>().join(" "));
    let mut out: Vec<String> = Vec::new();
    for line in lines {
        if line.is_empty() && out.last().is_none_or(String::is_empty) {
            continue;
        }
        out.push(line);
    }
    out.join("\n").trim_end().to_owned()
}
