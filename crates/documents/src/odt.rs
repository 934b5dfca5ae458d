//! ODT (ISO/IEC 26300): the words as they stand, tables row by row. What was struck out is left out; comments are counted and
//! not read, as they are somebody's words about the text.

use std::io::{BufRead, Read};

use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use super::Held;
use super::budget::Budget;
use super::docx::{DAMAGED, count, entity, of_words};
use super::pack::{Archive, named};

/// What a file of this family is.
pub(super) enum Sort {
    /// A text.
    Text,
    /// A workbook.
    Sheet,
    /// Something that is not read, in words.
    Other(&'static str),
}

/// What a packed file of this family says that it is.
pub(super) fn sort_of(archive: &mut Archive<'_>) -> Option<Sort> {
    let mut says = String::new();
    if let Some(file) = named(archive, "mimetype") {
        file.take(200).read_to_string(&mut says).ok()?;
    }
    if says.is_empty() {
        // Some programs leave it out.
        let is_one = named(archive, "content.xml").is_some() && named(archive, "META-INF/manifest.xml").is_some();
        return is_one.then_some(Sort::Sheet);
    }
    let sort = says.trim().strip_prefix("application/vnd.oasis.opendocument.")?;
    Some(match sort {
        sort if sort.starts_with("text") => Sort::Text,
        sort if sort.starts_with("spreadsheet") => Sort::Sheet,
        sort if sort.starts_with("presentation") => {
            Sort::Other("These are slides. Save them as PDF, and bring that in.")
        }
        _ => Sort::Other("This is a drawing. Save it as a picture, and bring that in."),
    })
}

pub(super) fn read(archive: &mut Archive<'_>, budget: &Budget) -> Result<Held, String> {
    let text = words(named(archive, "content.xml").ok_or(DAMAGED)?, budget)?;
    let comments = named(archive, "content.xml").map_or(0, |xml| count(xml, b"office:annotation"));
    Ok(of_words(text, comments))
}

/// What is not read: changes that were kept, comments, and how often something stands on a page.
const SILENT: [&[u8]; 4] = [b"text:tracked-changes", b"office:annotation", b"text:sequence-decls", b"office:forms"];

fn words(xml: impl BufRead, budget: &Budget) -> Result<String, String> {
    let mut reader = Reader::from_reader(xml);
    let (mut text, mut buffer) = (String::new(), Vec::new());
    let (mut paragraphs, mut silent, mut cell) = (0_usize, 0_usize, 0_usize);
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| DAMAGED.to_owned())? {
            Event::Start(tag) => match tag.name().as_ref() {
                name if SILENT.contains(&name) => silent += 1,
                b"text:p" | b"text:h" => paragraphs += 1,
                b"table:table-row" => cell = 0,
                b"table:table-cell" => {
                    if cell > 0 {
                        text.push('\t');
                    }
                    cell += 1;
                }
                _ => {}
            },
            Event::Empty(tag) if silent == 0 => match tag.name().as_ref() {
                b"text:tab" => text.push('\t'),
                b"text:line-break" => text.push('\n'),
                b"text:s" => text.extend(std::iter::repeat_n(' ', spaces(&tag))),
                b"text:p" if cell == 0 => text.push('\n'),
                _ => {}
            },
            Event::End(tag) => match tag.name().as_ref() {
                name if SILENT.contains(&name) => silent = silent.saturating_sub(1),
                b"text:p" | b"text:h" => {
                    paragraphs = paragraphs.saturating_sub(1);
                    // Within a cell a paragraph is no line of its own.
                    if silent == 0 {
                        text.push(if cell == 0 { '\n' } else { ' ' });
                    }
                }
                b"table:table-row" => {
                    let end = text.trim_end_matches([' ', '\t']).len();
                    text.truncate(end);
                    text.push('\n');
                    cell = 0;
                }
                _ => {}
            },
            Event::Text(part) if paragraphs > 0 && silent == 0 => {
                // What follows takes the words apart, and holds them some times over.
                budget.hold(part.len() * 3)?;
                text.push_str(&part.decode().map_err(|_| DAMAGED.to_owned())?);
            }
            Event::GeneralRef(name) if paragraphs > 0 && silent == 0 => text.push_str(entity(&name)?.as_str()),
            Event::Eof => break,
            _ => {}
        }
    }
    Ok(text.replace(" \t", "\t").trim_end().to_owned())
}

/// The spaces that stand together; many are made by hand and mean nothing.
fn spaces(tag: &BytesStart<'_>) -> usize {
    let found = tag.attributes().flatten().find(|attribute| attribute.key.as_ref() == b"text:c");
    let many = found.and_then(|attribute| std::str::from_utf8(&attribute.value).ok()?.parse().ok());
    many.unwrap_or(1).min(8)
}
