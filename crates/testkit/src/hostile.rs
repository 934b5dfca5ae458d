//! Files that are made to break who reads them: each small, each of a sort of its own. They are made anew each time, so that
//! nothing that a scanner would stop lies in the project.

use std::fmt::Write as _;
use std::io::{Cursor, Write};

use flate2::Compression;
use flate2::write::ZlibEncoder;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// A file: what it does, its name, and its bytes.
pub struct Hostile {
    /// What it does to who reads it trustingly.
    pub what: &'static str,
    /// Its name.
    pub name: &'static str,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// All of them.
#[must_use]
pub fn hostile_files() -> Vec<Hostile> {
    let one = |what, name, bytes| Hostile { what, name, bytes };
    vec![
        one("a form that draws itself", "own.pdf", draws_itself()),
        one("two forms that draw each other", "turns.pdf", drawing(&[("/F", "/G Do"), ("/G", "/F Do")])),
        one("a hundred million drawings", "many.pdf", many_drawings()),
        one("a page that is its own parent", "parent.pdf", own_parent()),
        one("lists within lists in a PDF", "deep.pdf", deep_pdf()),
        one(
            "another window of zlib",
            "window.pdf",
            packed_pdf(&with_window(&packed(&vec![b' '; 200 << 20])), "/FlateDecode"),
        ),
        one(
            "letters before zlib",
            "letters.pdf",
            packed_pdf(&ascii85(&packed(&vec![b' '; 200 << 20])), "[/ASCII85Decode /FlateDecode]"),
        ),
        one(
            "packed twice",
            "twice.pdf",
            packed_pdf(&packed(&packed(&vec![b' '; 300 << 20])), "[/FlateDecode /FlateDecode]"),
        ),
        one("short rows below many headings", "wide.csv", wide(500, 100_000)),
        one("long headings above short rows", "headings.csv", long_headings()),
        one("rows without number", "rows.csv", [&b"text,who\n"[..], &b"a\n".repeat(4 << 20)].concat()),
        one("empty rows without number", "empty.csv", [&b"text,who\n"[..], &b",\n".repeat(4 << 20)].concat()),
        one("a row of commas", "commas.csv", [&b"text,who\n"[..], &b",".repeat(16 << 20)].concat()),
        one("a cell at the far corner", "far.xlsx", far_cells()),
        one("one word, shared by all cells", "shared.xlsx", shared_word()),
        one("a document of one letter", "letter.docx", docx(100 << 20)),
        one("two such documents", "two.zip", zip(&[("a.docx", docx(100 << 20)), ("b.docx", docx(100 << 20))])),
        one("a ZIP in a ZIP", "nested.zip", zip(&[("a.zip", zip(&[("a.txt", vec![b'a'; 100 << 20])]))])),
        one("ends without beginnings", "ends.html", ends(1 << 20)),
        one("attributes without number", "attributes.html", attributes(1 << 20)),
        one("the same in a mail", "attributes.eml", mail(&attributes(1 << 20))),
        one("comments that do not end", "comments.html", b"<!--".repeat(1 << 18)),
        one("parts of a mail within parts", "parts.eml", nested_mail(20_000)),
        one("fields without number", "fields.json", fields(200_000)),
        one("lists within lists", "lists.json", [b"[".repeat(1 << 20), b"]".repeat(1 << 20)].concat()),
        one("voices without number", "voices.vtt", voices(20_000)),
        one("a row that repeats itself", "repeats.ods", repeats()),
    ]
}

/// A PDF with a form that draws itself.
#[must_use]
pub fn draws_itself() -> Vec<u8> {
    drawing(&[("/F", "/F Do")])
}

fn packed(bytes: &[u8]) -> Vec<u8> {
    let mut to = ZlibEncoder::new(Vec::new(), Compression::best());
    to.write_all(bytes).expect("memory takes all");
    to.finish().expect("memory takes all")
}

/// The head of a smaller window, which is as right as the usual one.
fn with_window(bytes: &[u8]) -> Vec<u8> {
    [&[0x68, 0x81], &bytes[2..]].concat()
}

fn ascii85(bytes: &[u8]) -> Vec<u8> {
    let mut out = Vec::new();
    for group in bytes.chunks(4) {
        let mut four = [0; 4];
        four[..group.len()].copy_from_slice(group);
        let mut number = u32::from_be_bytes(four);
        let mut letters = [0; 5];
        for letter in letters.iter_mut().rev() {
            *letter = b'!' + u8::try_from(number % 85).expect("below 85");
            number /= 85;
        }
        out.extend(&letters[..=group.len()]);
    }
    [out, b"~>".to_vec()].concat()
}

/// A PDF of these objects, numbered from 1.
fn pdf(objects: &[Vec<u8>]) -> Vec<u8> {
    let mut out = b"%PDF-1.4\n".to_vec();
    let mut places = Vec::new();
    for (at, object) in objects.iter().enumerate() {
        places.push(out.len());
        out.extend(format!("{} 0 obj\n", at + 1).bytes());
        out.extend(object);
        out.extend(b"\nendobj\n");
    }
    let table = out.len();
    let mut end = format!("xref\n0 {}\n0000000000 65535 f \n", objects.len() + 1);
    for place in places {
        let _ = writeln!(end, "{place:010} 00000 n ");
    }
    let _ = write!(end, "trailer\n<< /Size {} /Root 1 0 R >>\nstartxref\n{table}\n%%EOF\n", objects.len() + 1);
    out.extend(end.bytes());
    out
}

fn stream(head: &str, content: &[u8]) -> Vec<u8> {
    let head = format!("<< {head} /Length {} >>\nstream\n", content.len());
    [head.as_bytes(), content, b"\nendstream"].concat()
}

/// One page that draws the first of some forms, each with what it draws itself.
fn drawing(forms: &[(&str, &str)]) -> Vec<u8> {
    let named: String = forms.iter().enumerate().map(|(at, (name, _))| format!("{name} {} 0 R ", at + 5)).collect();
    let resources = format!("<< /XObject << {named} >> >>");
    let page = format!("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 4 0 R /Resources {resources} >>");
    let mut objects = vec![
        b"<< /Type /Catalog /Pages 2 0 R >>".to_vec(),
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>".to_vec(),
        page.into_bytes(),
        stream("", format!("{} Do", forms[0].0).as_bytes()),
    ];
    let head = format!("/Type /XObject /Subtype /Form /BBox [0 0 9 9] /Resources {resources}");
    objects.extend(forms.iter().map(|(_, content)| stream(&head, content.as_bytes())));
    pdf(&objects)
}

fn many_drawings() -> Vec<u8> {
    let names: Vec<String> = (0..9).map(|at| format!("/F{at}")).collect();
    let contents: Vec<String> =
        (1..=9).map(|at| if at < 9 { format!("/F{at} Do ").repeat(10) } else { "q Q".into() }).collect();
    let forms: Vec<(&str, &str)> = names.iter().map(String::as_str).zip(contents.iter().map(String::as_str)).collect();
    drawing(&forms)
}

fn own_parent() -> Vec<u8> {
    pdf(&[
        b"<< /Type /Catalog /Pages 2 0 R >>".to_vec(),
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 /Parent 2 0 R >>".to_vec(),
        b"<< /Type /Page /Parent 2 0 R /Contents 4 0 R >>".to_vec(),
        stream("", b"BT ET"),
    ])
}

fn deep_pdf() -> Vec<u8> {
    let deep = [b"[".repeat(100_000), b"]".repeat(100_000)].concat();
    pdf(&[b"<< /Type /Catalog /Pages 2 0 R >>".to_vec(), deep])
}

fn packed_pdf(content: &[u8], filter: &str) -> Vec<u8> {
    pdf(&[
        b"<< /Type /Catalog /Pages 2 0 R >>".to_vec(),
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>".to_vec(),
        b"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 4 0 R >>".to_vec(),
        stream(&format!("/Filter {filter}"), content),
    ])
}

fn wide(columns: usize, rows: usize) -> Vec<u8> {
    let head: Vec<String> = (0..columns).map(|at| format!("c{at}")).collect();
    [head.join(",").into_bytes(), b"\n".to_vec(), b"x\n".repeat(rows)].concat()
}

fn long_headings() -> Vec<u8> {
    let head: Vec<String> = (0..499).map(|at| format!("{at}{}", "h".repeat(1_500))).collect();
    [b"text,".to_vec(), head.join(",").into_bytes(), b"\n".to_vec(), b"words,1\n".repeat(100_000)].concat()
}

/// A ZIP of these files.
#[must_use]
pub fn zip(files: &[(&str, Vec<u8>)]) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    for (name, bytes) in files {
        zip.start_file(*name, options).expect("a file");
        zip.write_all(bytes).expect("memory takes all");
    }
    zip.finish().expect("a ZIP").into_inner()
}

fn docx(letters: usize) -> Vec<u8> {
    let text =
        format!("<w:document><w:body><w:p><w:r><w:t>{}</w:t></w:r></w:p></w:body></w:document>", "a".repeat(letters));
    zip(&[("word/document.xml", text.into_bytes())])
}

fn xlsx(sheet: String, words: String) -> Vec<u8> {
    let types = r#"<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>"#;
    let of = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    let main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    let relations = "http://schemas.openxmlformats.org/package/2006/relationships";
    let book = format!(
        r#"<workbook xmlns="{main}" xmlns:r="{of}"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>"#
    );
    let parts = format!(
        r#"<Relationships xmlns="{relations}"><Relationship Id="rId1" Type="{of}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="{of}/sharedStrings" Target="sharedStrings.xml"/></Relationships>"#
    );
    let top = format!(
        r#"<Relationships xmlns="{relations}"><Relationship Id="rId1" Type="{of}/officeDocument" Target="xl/workbook.xml"/></Relationships>"#
    );
    zip(&[
        ("[Content_Types].xml", types.into()),
        ("_rels/.rels", top.into_bytes()),
        ("xl/workbook.xml", book.into_bytes()),
        ("xl/_rels/workbook.xml.rels", parts.into_bytes()),
        ("xl/sharedStrings.xml", format!(r#"<sst xmlns="{main}">{words}</sst>"#).into_bytes()),
        (
            "xl/worksheets/sheet1.xml",
            format!(r#"<worksheet xmlns="{main}"><sheetData>{sheet}</sheetData></worksheet>"#).into_bytes(),
        ),
    ])
}

fn far_cells() -> Vec<u8> {
    let mut rows = String::from(
        r#"<row r="1"><c r="A1" t="inlineStr"><is><t>text</t></is></c><c r="SF1" t="inlineStr"><is><t>far</t></is></c></row>"#,
    );
    for row in (2..1_048_576).step_by(60) {
        let _ = write!(rows, r#"<row r="{row}"><c r="SF{row}"><v>1</v></c></row>"#);
    }
    xlsx(rows, String::new())
}

fn shared_word() -> Vec<u8> {
    let mut rows = String::new();
    for row in 1..20_000 {
        let _ = write!(rows, r#"<row r="{row}"><c r="A{row}" t="s"><v>0</v></c></row>"#);
    }
    xlsx(rows, format!("<si><t>{}</t></si>", "word ".repeat(20_000)))
}

fn repeats() -> Vec<u8> {
    let row = r#"<table:table-row table:number-rows-repeated="1048576"><table:table-cell office:value-type="string" table:number-columns-repeated="1024"><text:p>x</text:p></table:table-cell></table:table-row>"#;
    let content = format!(
        "<office:document-content><office:body><office:spreadsheet><table:table table:name=\"A\">{row}</table:table></office:spreadsheet></office:body></office:document-content>"
    );
    zip(&[("content.xml", content.into_bytes()), ("META-INF/manifest.xml", b"<x/>".to_vec())])
}

fn ends(length: usize) -> Vec<u8> {
    [b"<svg>".repeat(length / 12), b"</style>".repeat(length / 12)].concat()
}

fn attributes(length: usize) -> Vec<u8> {
    let mut tag = String::from("<p");
    let mut at = 0;
    while tag.len() < length {
        let _ = write!(tag, " a{at}=1");
        at += 1;
    }
    [tag.as_bytes(), b">The words of the page stand here</p>"].concat()
}

fn mail(html: &[u8]) -> Vec<u8> {
    [b"From: a@b.example\nSubject: x\nContent-Type: text/html\n\n", html].concat()
}

fn nested_mail(deep: usize) -> Vec<u8> {
    let mut out = String::from("From: a@b.example\nSubject: x\n");
    for at in 0..deep {
        let _ = write!(out, "Content-Type: multipart/mixed; boundary=b{at}\n\n--b{at}\n");
    }
    out.into_bytes()
}

fn fields(count: usize) -> Vec<u8> {
    let all: Vec<String> = (0..count).map(|at| format!("\"f{at}\":\"x\"")).collect();
    format!("[{{{}}}]", all.join(",")).into_bytes()
}

fn voices(count: usize) -> Vec<u8> {
    let mut out = String::from("WEBVTT\n\n");
    for _ in 0..count {
        out.push_str("00:00:01.000 --> 00:00:02.000\n<v A><v B><v C>said\n\n");
    }
    out.into_bytes()
}
