//! Files that are not read, and what they are: whoever puts one down is told so, and what to save it as.

use std::io::Cursor;

const TO_DOCUMENT: &str = "Save it as DOCX, ODT or PDF, and bring that in.";

/// What a file in the old packed format is, where it is no workbook.
pub(super) fn in_old_format(bytes: &[u8]) -> Option<&'static str> {
    let file = cfb::CompoundFile::open(Cursor::new(bytes)).ok()?;
    let has = |name: &str| file.exists(name);
    if has("/__properties_version1.0") {
        return Some("This is a mail as one mail program keeps it (.msg). Save it there as .eml, and bring that in.");
    }
    if has("/WordDocument") {
        return Some("This is a document in an old format (.doc). Save it as DOCX, ODT or PDF, and bring that in.");
    }
    has("/PowerPoint Document")
        .then_some("These are slides in an old format (.ppt). Save them as PDF, and bring that in.")
}

/// What a packed file is, by the names in it, where it is no document, workbook or ZIP of files.
pub(super) fn packed(names: &[String]) -> Option<&'static str> {
    let has = |wanted: &str| names.iter().any(|name| name.starts_with(wanted));
    if has("ppt/") {
        return Some("These are slides. Save them as PDF, and bring that in.");
    }
    has("META-INF/container.xml")
        .then_some("This is a book (.epub). Save what is needed of it as text, and bring that in.")
}

/// What a text is that holds no words for people, by its first ones and the ending of its name.
pub(super) fn as_text(ending: &str, text: &str) -> Option<String> {
    let begins = text.trim_start_matches('\u{feff}').trim_start();
    let data = |what: &str| {
        format!(
            "This is {what}, in which no words of people can be told from the rest. Save them as CSV or JSON, and bring that in."
        )
    };
    if begins.starts_with("{\\rtf") {
        return Some(format!("This is RTF. {TO_DOCUMENT}"));
    }
    if begins.starts_with("<?xml") && !matches!(ending, "html" | "htm" | "xhtml") {
        return Some(data("XML"));
    }
    match ending {
        "yaml" | "yml" => Some(data("YAML")),
        "toml" => Some(data("TOML")),
        "ini" | "cfg" | "properties" => Some(data("a file of settings")),
        _ => None,
    }
}
