//! PDF with text. A scan has none, and that is said.

use iron_kite_core::listen::{Document, turns_of};
use pdf_extract::{Document as Pdf, Error, OutputError, PlainTextOutput, output_doc_page};

use super::budget::Budget;
use super::{Held, pdf_guard, wordless};

/// Fewer letters than this for a page, and the words are only a stamp on a scan.
const LEAST_LETTERS: usize = 12;

const DAMAGED: &str = "The PDF is damaged and cannot be read. Save it anew and try again.";
const LOCKED: &str = "The PDF is locked with a password. Save it without one, and bring that in.";

pub(super) fn read(bytes: &[u8], budget: &Budget) -> Result<Held, String> {
    pdf_guard::before(bytes, budget)?;
    let mut pdf = Pdf::load_mem(bytes).map_err(|fault| words_of(&fault))?;
    if pdf.is_encrypted() {
        pdf.decrypt("").map_err(|fault| words_of(&fault))?;
    }
    pdf_guard::check(&pdf, budget)?;
    let mut pages = Vec::new();
    for number in pdf.get_pages().into_keys() {
        let mut page = String::new();
        output_doc_page(&pdf, &mut PlainTextOutput::new(&mut page), number).map_err(|fault| match fault {
            OutputError::PdfError(fault) => words_of(&fault),
            _ => DAMAGED.to_owned(),
        })?;
        budget.hold(page.len() * 3)?;
        pages.push(page);
    }
    let letters = pages.iter().flat_map(|page| page.chars()).filter(|c| c.is_alphabetic()).count();
    if letters < LEAST_LETTERS * pages.len().max(1) {
        return Ok(wordless("a scan"));
    }
    let text = pages.iter().map(|page| lines(page)).collect::<Vec<_>>().join("\n\n");
    let title = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().chars().take(200).collect();
    Ok(Held::Documents(vec![Document { title, turns: turns_of(&text), text, ..Document::default() }]))
}

fn words_of(fault: &Error) -> String {
    match fault {
        Error::Decryption(_) => LOCKED.to_owned(),
        _ => DAMAGED.to_owned(),
    }
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
