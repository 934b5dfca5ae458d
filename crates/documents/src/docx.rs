//! DOCX (ECMA-376): the words as they stand, tables row by row. What was struck out is left out; comments are counted
//! and not read, as they are somebody's words about the text.

use std::io::BufRead;

use iron_kite_core::listen::{Document, turns_of};
use quick_xml::Reader;
use quick_xml::events::Event;

use super::budget::Budget;
use super::pack::{Archive, named};
use super::{Held, wordless};

pub(super) const DAMAGED: &str =
    "The document is damaged or locked. Open it, save it anew without a password, and try again.";

pub(super) fn read(archive: &mut Archive<'_>, budget: &Budget) -> Result<Held, String> {
    let text = words(named(archive, "word/document.xml").ok_or(DAMAGED)?, budget)?;
    let comments = named(archive, "word/comments.xml").map_or(0, |xml| count(xml, b"w:comment"));
    Ok(of_words(text, comments))
}

/// A document of these words, with so many comments that are not read.
pub(super) fn of_words(text: String, comments: usize) -> Held {
    if text.trim().is_empty() {
        return wordless("a document of pictures");
    }
    let notes = match comments {
        0 => Vec::new(),
        1 => vec!["1 comment in it was not read".to_owned()],
        many => vec![format!("{many} comments in it were not read")],
    };
    let title = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().chars().take(200).collect();
    Held::Documents(vec![Document { title, turns: turns_of(&text), text, notes, ..Document::default() }])
}

fn words(xml: impl BufRead, budget: &Budget) -> Result<String, String> {
    let mut reader = Reader::from_reader(xml);
    let (mut text, mut buffer) = (String::new(), Vec::new());
    let (mut in_text, mut struck, mut cell) = (false, 0_usize, 0_usize);
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| DAMAGED.to_owned())? {
            Event::Start(tag) => match tag.name().as_ref() {
                b"w:t" => in_text = true,
                b"w:del" | b"w:moveFrom" => struck += 1,
                b"w:tr" => cell = 0,
                b"w:tc" => {
                    if cell > 0 {
                        text.push('\t');
                    }
                    cell += 1;
                }
                _ => {}
            },
            Event::Empty(tag) => match tag.name().as_ref() {
                b"w:tab" => text.push('\t'),
                b"w:br" | b"w:cr" => text.push('\n'),
                _ => {}
            },
            Event::End(tag) => match tag.name().as_ref() {
                b"w:t" => in_text = false,
                b"w:del" | b"w:moveFrom" => struck = struck.saturating_sub(1),
                // Within a cell a paragraph is no line of its own.
                b"w:p" if cell == 0 => text.push('\n'),
                b"w:p" => text.push(' '),
                b"w:tr" => {
                    let end = text.trim_end_matches([' ', '\t']).len();
                    text.truncate(end);
                    text.push('\n');
                    cell = 0;
                }
                _ => {}
            },
            Event::Text(part) if in_text && struck == 0 => {
                // What follows takes the words apart, and holds them some times over.
                budget.hold(part.len() * 3)?;
                text.push_str(&part.decode().map_err(|_| DAMAGED.to_owned())?)
            }
            Event::GeneralRef(name) if in_text && struck == 0 => text.push_str(entity(&name)?.as_str()),
            Event::Eof => break,
            _ => {}
        }
    }
    Ok(text.replace(" \t", "\t").trim_end().to_owned())
}

/// The five entities that XML has, and characters by number; a document that brings its own is refused.
pub(super) fn entity(name: &quick_xml::events::BytesRef<'_>) -> Result<String, String> {
    if let Ok(Some(c)) = name.resolve_char_ref() {
        return Ok(c.to_string());
    }
    let name = name.decode().map_err(|_| DAMAGED.to_owned())?;
    let known = quick_xml::escape::resolve_predefined_entity(&name);
    known.map(str::to_owned).ok_or_else(|| "The document brings entities of its own, which are not followed.".into())
}

pub(super) fn count(xml: impl BufRead, name: &[u8]) -> usize {
    let mut reader = Reader::from_reader(xml);
    let (mut count, mut buffer) = (0, Vec::new());
    while let Ok(event) = reader.read_event_into(&mut buffer) {
        match event {
            Event::Start(tag) if tag.name().as_ref() == name => count += 1,
            Event::Eof => break,
            _ => {}
        }
        buffer.clear();
    }
    count
}
