//! Writing DOCX (ECMA-376): a page of blocks with headings, points and quotes, as word processors open it.

use std::io::{Cursor, Write};

use iron_kite_core::formats::blocks::Block;
use quick_xml::escape::escape;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

const HEAD: &str = r#"<?xml version="1.0" encoding="UTF-8" standalone="yes"?>"#;
const WORDS: &str = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
const PACKAGE: &str = "http://schemas.openxmlformats.org/package/2006";
const OFFICE: &str = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";

/// Writes blocks as a DOCX file. Linear.
///
/// # Errors
/// Where the file cannot be packed.
pub fn write_docx(blocks: &[Block]) -> Result<Vec<u8>, String> {
    let mut archive = ZipWriter::new(Cursor::new(Vec::new()));
    let parts = [
        ("[Content_Types].xml", types()),
        ("_rels/.rels", relations("officeDocument", "word/document.xml")),
        ("word/_rels/document.xml.rels", relations("styles", "styles.xml")),
        ("word/styles.xml", styles()),
        ("word/document.xml", document(blocks)),
    ];
    let options = SimpleFileOptions::default();
    for (name, xml) in parts {
        archive.start_file(name, options).map_err(|fault| fault.to_string())?;
        archive.write_all(xml.as_bytes()).map_err(|fault| fault.to_string())?;
    }
    Ok(archive.finish().map_err(|fault| fault.to_string())?.into_inner())
}

fn types() -> String {
    let part = |name: &str, kind: &str| {
        format!(
            r#"<Override PartName="/word/{name}.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.{kind}+xml"/>"#
        )
    };
    format!(
        r#"{HEAD}<Types xmlns="{PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>{}{}</Types>"#,
        part("document", "document.main"),
        part("styles", "styles")
    )
}

fn relations(kind: &str, target: &str) -> String {
    format!(
        r#"{HEAD}<Relationships xmlns="{PACKAGE}/relationships"><Relationship Id="r1" Type="{OFFICE}/{kind}" Target="{target}"/></Relationships>"#
    )
}

/// Sizes are in half points, distances in twentieths of a point.
fn styles() -> String {
    let style = |id: &str, name: &str, paragraph: &str, run: &str| {
        format!(
            r#"<w:style w:type="paragraph" w:styleId="{id}"><w:name w:val="{name}"/><w:qFormat/><w:pPr>{paragraph}</w:pPr><w:rPr>{run}</w:rPr></w:style>"#
        )
    };
    let heading = |level: u8, size: u8| {
        let paragraph =
            format!(r#"<w:keepNext/><w:spacing w:before="240" w:after="80"/><w:outlineLvl w:val="{}"/>"#, level - 1);
        style(
            &format!("Heading{level}"),
            &format!("heading {level}"),
            &paragraph,
            &format!(r#"<w:b/><w:sz w:val="{size}"/>"#),
        )
    };
    format!(
        r#"{HEAD}<w:styles xmlns:w="{WORDS}"><w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="22"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="120"/></w:pPr></w:pPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style>{}{}{}{}{}</w:styles>"#,
        heading(1, 40),
        heading(2, 30),
        heading(3, 24),
        style("Quote", "Quote", r#"<w:ind w:left="480"/>"#, "<w:i/>"),
        style("ListBullet", "List Bullet", r#"<w:ind w:left="480" w:hanging="240"/>"#, ""),
    )
}

fn document(blocks: &[Block]) -> String {
    let body: String = blocks.iter().map(block).collect();
    format!(r#"{HEAD}<w:document xmlns:w="{WORDS}"><w:body>{body}<w:sectPr/></w:body></w:document>"#)
}

fn block(block: &Block) -> String {
    match block {
        Block::Heading { level, words } => paragraph(Some(&format!("Heading{}", (*level).clamp(1, 3))), words),
        Block::Paragraph { words } => paragraph(None, words),
        Block::Point { words } => paragraph(Some("ListBullet"), &format!("• {words}")),
        Block::Quote { words, by } => {
            paragraph(Some("Quote"), &format!("“{words}”")) + &paragraph(Some("Quote"), &format!("— {by}"))
        }
        Block::Table { heads, lines } => table(heads, lines),
    }
}

fn table(heads: &[String], lines: &[Vec<String>]) -> String {
    let cell = |words: &String| format!("<w:tc><w:tcPr/>{}</w:tc>", paragraph(None, words));
    let row = |cells: &[String]| format!("<w:tr>{}</w:tr>", cells.iter().map(cell).collect::<String>());
    let sides: String = ["top", "left", "bottom", "right", "insideH", "insideV"]
        .iter()
        .map(|side| format!(r#"<w:{side} w:val="single" w:sz="4"/>"#))
        .collect();
    let columns = "<w:gridCol/>".repeat(heads.len());
    let rows = row(heads) + &lines.iter().map(|cells| row(cells)).collect::<String>();
    format!(
        "<w:tbl><w:tblPr><w:tblBorders>{sides}</w:tblBorders></w:tblPr><w:tblGrid>{columns}</w:tblGrid>{rows}</w:tbl>"
    )
}

fn paragraph(style: Option<&str>, words: &str) -> String {
    let style = style.map(|style| format!(r#"<w:pPr><w:pStyle w:val="{style}"/></w:pPr>"#)).unwrap_or_default();
    // XML holds neither control characters nor these two, not even escaped ones.
    let held = |c: char| !c.is_control() && !matches!(c, '\u{fffe}' | '\u{ffff}');
    let plain: String = words.chars().map(|c| if held(c) { c } else { ' ' }).collect();
    format!(r#"<w:p>{style}<w:r><w:t xml:space="preserve">{}</w:t></w:r></w:p>"#, escape(plain.as_str()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Held, read};

    #[test]
    fn what_was_written_is_read_again() {
        let blocks = [
            Block::Heading { level: 1, words: "Room <on> the & deck".into() },
            Block::Paragraph { words: "Two\u{0}lines\u{ffff}of \"words\".".into() },
            Block::Point { words: "freight: 4".into() },
            Block::Quote { words: "Volles Deck, schon wieder 😡".into(), by: "Marit Holm".into() },
        ];
        let file = write_docx(&blocks).unwrap();
        let mut parts = read("report.docx", &file);
        let Held::Documents(documents) = parts.remove(0).held else { panic!("no document") };
        assert_eq!(
            documents[0].text.trim(),
            "Room <on> the & deck\nTwo lines of \"words\".\n• freight: 4\n“Volles Deck, schon wieder 😡”\n— Marit Holm"
        );
    }
}
