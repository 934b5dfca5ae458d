//! Files as they come, odd and hostile ones among them. Those in `files/` were written by other programs.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::{Cursor, Write};

use iron_kite_core::formats::table::{HowRead, Table};
use iron_kite_core::listen::Document;
use iron_kite_documents::{Held, Hows, Part, read, read_as};
use proptest::prelude::*;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

fn tables(parts: Vec<Part>) -> Vec<(String, Table)> {
    let table = |part: Part| match part.held {
        Held::Table(table) => (part.name, table),
        other => panic!("{}: {other:?}", part.name),
    };
    parts.into_iter().map(table).collect()
}

fn documents(name: &str, bytes: &[u8]) -> Vec<Document> {
    match read(name, bytes).remove(0).held {
        Held::Documents(documents) => documents,
        other => panic!("{other:?}"),
    }
}

fn refusal(name: &str, bytes: &[u8]) -> String {
    match read(name, bytes).remove(0).held {
        Held::Refused(words) => words,
        other => panic!("{other:?}"),
    }
}

/// What a turn says, with who says it.
fn said(document: &Document) -> Vec<(String, String)> {
    let cut = |from, to: usize| document.text.chars().skip(from).take(to - from).collect::<String>();
    document.turns.iter().map(|turn| (turn.speaker.clone().unwrap_or_default(), cut(turn.from, turn.to))).collect()
}

fn zip(files: &[(&str, &[u8])]) -> Vec<u8> {
    let mut writer = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        writer.start_file(*name, SimpleFileOptions::default()).unwrap();
        writer.write_all(bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

#[test]
fn a_workbook_reads_the_same_in_three_formats() {
    let books: [(&str, &[u8]); 3] = [
        ("tickets.xlsx", include_bytes!("files/tickets.xlsx")),
        ("tickets.xls", include_bytes!("files/tickets.xls")),
        ("tickets.ods", include_bytes!("files/tickets.ods")),
    ];
    for (name, bytes) in books {
        let sheets = tables(read(name, bytes));
        let names: Vec<&str> = sheets.iter().map(|(name, _)| name.as_str()).collect();
        assert_eq!(names, [format!("{name}/Tickets"), format!("{name}/Notes")]);
        let tickets = &sheets[0].1;
        assert_eq!(
            tickets.columns,
            ["Ticket no", "Customer Name", "Customer Company", "Created", "Message", "Hours open"],
            "{name}"
        );
        let cells: Vec<Vec<&str>> = tickets.rows.iter().map(|row| row.cells.iter().collect()).collect();
        let pier = "The van was left on the pier.\nTwice this week.";
        assert_eq!(cells[0], ["4711", "Zoë Brandt", "Hask Stores", "2026-05-04", pier, "24.5"], "{name}");
        assert_eq!(cells[1], ["4712", "נועה לוי", "", "2026-05-12", "הסירה בוטלה ואף אחד לא אמר לנו", "49"], "{name}");
        assert_eq!(tickets.rows.iter().map(|row| row.number).collect::<Vec<_>>(), [5, 6], "{name}");
        assert_eq!(tickets.bad.iter().map(|bad| bad.row).collect::<Vec<_>>(), [1], "{name}");
        assert_eq!(sheets[1].1.rows[0].cells, ["The ramp is steep for a wheelchair."]);
    }
}

#[test]
fn a_document_keeps_its_speakers_and_says_what_it_left_out() {
    let document = documents("talk.docx", include_bytes!("files/interview.docx")).remove(0);
    assert_eq!(document.title, "Talk with a commuter from Hask");
    assert!(document.text.contains("the 7:10 boat & the 17:20 back"), "{}", document.text);
    assert!(document.text.contains("Boat\tMissed\nTern\tthree times\nThanks"), "{}", document.text);
    assert!(!document.text.contains("Sundays"));
    assert_eq!(document.notes, ["1 comment in it was not read"]);
    let said = said(&document);
    assert_eq!(said[0], ("Wren".into(), "How do you cross on a working day?".into()));
    assert_eq!(said[1].0, "Ines Corrie");
}

#[test]
fn a_printed_page_reads_with_its_ligatures() {
    let document = documents("talk.pdf", include_bytes!("files/interview.pdf")).remove(0);
    assert!(document.text.contains("the office offers no efficient fix"), "{}", document.text);
    assert_eq!(document.turns.len(), 4, "{:?}", document.turns);
}

/// A PDF of so many pages, each with a line of text where there is one.
fn pdf(pages: usize, words: &str) -> Vec<u8> {
    let mut out = b"%PDF-1.4\n".to_vec();
    let mut places = Vec::new();
    let mut object = |out: &mut Vec<u8>, body: String| {
        places.push(out.len());
        out.extend(format!("{} 0 obj\n{body}\nendobj\n", places.len()).bytes());
    };
    let kids: Vec<String> = (0..pages).map(|n| format!("{} 0 R", 4 + n * 2)).collect();
    object(&mut out, "<< /Type /Catalog /Pages 2 0 R >>".into());
    object(&mut out, format!("<< /Type /Pages /Kids [{}] /Count {pages} >>", kids.join(" ")));
    object(&mut out, "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>".into());
    for n in 0..pages {
        let contents = 5 + n * 2;
        object(
            &mut out,
            format!(
                "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents {contents} 0 R /Resources << /Font << /F1 3 0 R >> >> >>"
            ),
        );
        let text = if words.is_empty() { String::new() } else { format!("({words} {})", n + 1) };
        let stream = if text.is_empty() { "q Q".to_owned() } else { format!("BT /F1 12 Tf 72 720 Td {text} Tj ET") };
        object(&mut out, format!("<< /Length {} >>\nstream\n{stream}\nendstream", stream.len()));
    }
    let start = out.len();
    out.extend(format!("xref\n0 {}\n0000000000 65535 f \n", places.len() + 1).bytes());
    for place in &places {
        out.extend(format!("{place:010} 00000 n \n").bytes());
    }
    out.extend(format!("trailer << /Size {} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF\n", places.len() + 1).bytes());
    out
}

#[test]
fn two_hundred_pages_are_read_and_a_scan_is_said_to_be_one() {
    let document = documents("log.pdf", &pdf(200, "The evening boat was off again, and nobody told us, day")).remove(0);
    assert!(document.text.contains("day 1\n") && document.text.ends_with("day 200"), "{}", document.text);
    assert!(matches!(&read("scan.pdf", &pdf(3, "")).remove(0).held, Held::Wordless { what, .. } if what == "a scan"));
    assert!(refusal("broken.pdf", b"%PDF-1.7\nthis is none").contains("damaged"));
}

#[test]
fn captions_keep_speakers_and_times() {
    let vtt = "WEBVTT - Ramp test\n\nNOTE made by hand\n\n1\n00:00:01.000 --> 00:00:03.500 align:start\n<v.first Wren Odell>Where would you tap?</v>\n\n\
        00:04.000 --> 00:06.000\n<v Ada>On the <i>boat</i> &amp; then\n\n00:06.000 --> 01:00:07.250\n<v Ada>on the price.\n\n\
        01:00:08.000 --> 01:00:09.000\n<v Wren Odell>Why?\n";
    let document = documents("ramp.vtt", vtt.as_bytes()).remove(0);
    assert_eq!(document.title, "Ramp test");
    assert_eq!(
        said(&document),
        [
            ("Wren Odell".into(), "Where would you tap?".into()),
            ("Ada".into(), "On the boat & then on the price.".into()),
            ("Wren Odell".to_owned(), "Why?".to_owned()),
        ]
    );
    assert_eq!((document.turns[1].from_ms, document.turns[1].to_ms), (Some(4_000), Some(3_607_250)));
    let srt = "1\r\n00:00:01,000 --> 00:00:02,000\r\nWREN: Ready?\r\n\r\n2\r\n00:00:03,000 --> 00:00:04,000\r\nADA: Yes,\r\n\r\n3\r\n00:00:04,500 --> 00:00:05,000\r\n- I am.\r\n\r\n\
        4\r\n00:00:06,000 --> 00:00:07,000\r\nWREN: Go on.\r\n\r\n5\r\n00:00:08,000 --> 00:00:09,000\r\nADA: Here?\r\n";
    let document = documents("ramp.srt", srt.as_bytes()).remove(0);
    assert_eq!(said(&document)[..2], [("WREN".into(), "Ready?".into()), ("ADA".to_owned(), "Yes, I am.".to_owned())]);
    assert!(refusal("none.vtt", b"WEBVTT\n\nno times here\n").contains("no caption with a time"));
}

#[test]
fn marks_among_the_words_of_captions_are_no_words() {
    let srt = "1\n00:00:01,000 --> 00:00:02,000 X1:40 X2:600\n{\\an8}The <00:00:01.500>boat\nalign:start position:0%\n\n\
        2\n00:00:03,000 --> 00:00:04,000\nDigo: it was late {again}.\n\n\
        3\nThis one has no time.\n\n4\n00:00:05,000 --> soon\nNor this one.\n\n5\n00:00:06,000 --> 00:00:07,000\nThe end.\n";
    let document = documents("film.srt", srt.as_bytes()).remove(0);
    let words = "The boat Digo: it was late {again}. This one has no time. Nor this one. The end.";
    // Whoever is written before words once in a film is nobody who speaks.
    assert_eq!(said(&document), [(String::new(), words.to_owned())]);
    assert_eq!(document.notes, ["2 captions say no time; their words stand where they stood"]);
    assert_eq!((document.turns[0].from_ms, document.turns[0].to_ms), (Some(1_000), Some(7_000)));
}

#[test]
fn each_mail_of_a_box_has_its_own_encoding() {
    let utf8 = "From x Mon May  4 10:00:00 2026\nFrom: ann@x.example\nContent-Type: text/plain; charset=utf-8\n\nDie Fähre fiel aus.\n\n";
    let mut all = utf8.as_bytes().to_vec();
    for (charset, said) in
        [("ISO-2022-JP", "船が遅れました"), ("windows-1251", "Паром опоздал"), ("UTF-16LE", "Zu spät")]
    {
        let encoding = encoding_rs::Encoding::for_label(charset.as_bytes()).unwrap();
        let words = if charset == "UTF-16LE" {
            said.encode_utf16().flat_map(u16::to_le_bytes).collect()
        } else {
            encoding.encode(said).0.into_owned()
        };
        let coded = base64::Engine::encode(&base64::engine::general_purpose::STANDARD, &words);
        let head = format!(
            "From x Mon May  4 10:00:00 2026\nFrom: {charset}@x.example\nContent-Type: text/plain; charset={charset}\n"
        );
        match charset {
            "UTF-16LE" => all.extend(format!("{head}Content-Transfer-Encoding: base64\n\n{coded}\n\n").bytes()),
            _ => {
                all.extend(format!("{head}\n").bytes());
                all.extend(words);
                all.extend(b"\n\n");
            }
        }
    }
    let found = documents("all.mbox", &all);
    let texts: Vec<&str> = found.iter().map(|document| document.text.trim()).collect();
    assert_eq!(texts, ["Die Fähre fiel aus.", "船が遅れました", "Паром опоздал", "Zu spät"]);
}

#[test]
fn a_document_of_another_program_is_read() {
    let document = documents("talk.odt", include_bytes!("files/interview.odt")).remove(0);
    assert_eq!(document.title, "Talk with a commuter from Hask");
    assert_eq!(said(&document)[1].0, "Ines Corrie");
    assert!(document.text.contains("the 7:10 boat & the 17:20 back"), "{}", document.text);
    assert!(document.text.contains("Boat\tMissed\nTern\tthree times"), "{}", document.text);
    // What was struck out or is somebody's remark is left out.
    let content = "<office:document-content><office:body><office:text><text:tracked-changes><text:deletion><text:p>struck</text:p></text:deletion></text:tracked-changes>\
        <text:h>Head</text:h><text:p>One<text:s text:c=\"2\"/>two<text:tab/>three<text:line-break/>four\
        <office:annotation><text:p>a remark</text:p></office:annotation> &lt;five&gt;</text:p></office:text></office:body></office:document-content>";
    let packed = zip(&[("mimetype", b"application/vnd.oasis.opendocument.text"), ("content.xml", content.as_bytes())]);
    let document = documents("a.odt", &packed).remove(0);
    assert_eq!(document.text, "Head\nOne  two\tthree\nfour <five>");
    assert_eq!(document.notes, ["1 comment in it was not read"]);
}

#[test]
fn what_is_not_read_is_said_to_be_what_it_is() {
    let old = |stream: &str| {
        let mut file = cfb::CompoundFile::create(Cursor::new(Vec::new())).unwrap();
        file.create_stream(stream).unwrap().write_all(b"x").unwrap();
        file.into_inner().into_inner()
    };
    for (name, bytes, words) in [
        ("a.msg", old("/__properties_version1.0"), ".eml"),
        ("a.doc", old("/WordDocument"), "DOCX"),
        ("a.pptx", zip(&[("ppt/presentation.xml", b"x")]), "slides"),
        (
            "a.odp",
            zip(&[("mimetype", b"application/vnd.oasis.opendocument.presentation"), ("content.xml", b"x")]),
            "slides",
        ),
        ("a.yaml", b"name: value\nother: [a, b]\n".to_vec(), "YAML"),
        ("a.rtf", b"{\\rtf1 words}".to_vec(), "RTF"),
        ("a.xml", b"<?xml version=\"1.0\"?><a>words</a>".to_vec(), "XML"),
    ] {
        let told = refusal(name, &bytes);
        assert!(told.contains(words), "{name}: {told}");
    }
    // Text by another name is a document.
    assert_eq!(documents("a.rst", b"Title\n=====\n\nThe boat was off, twice.\n")[0].title, "Title");
}

#[test]
fn hidden_sheets_are_left_out_and_named() {
    let mut book = rust_xlsxwriter::Workbook::new();
    for (name, hidden) in [("Shown", false), ("Secret", true)] {
        let sheet = book.add_worksheet().set_name(name).unwrap().set_hidden(hidden);
        sheet.write(0, 0, "text").unwrap();
        sheet.write(1, 0, name).unwrap();
    }
    let parts = read("book.xlsx", &book.save_to_buffer().unwrap());
    assert_eq!(parts[0].name, "book.xlsx");
    assert!(matches!(&parts[0].held, Held::Table(table) if table.rows.len() == 1));
    assert_eq!(parts[1].name, "book.xlsx/Secret");
    assert!(matches!(&parts[1].held, Held::Hidden(table) if table.rows.len() == 1));
}

#[test]
fn a_part_is_read_as_somebody_says() {
    let how = |how| Hows::from([("a.csv".to_owned(), how)]);
    let file = b"1|a\n2|b\n";
    let table = |hows| tables(read_as("a.csv", file, &hows)).remove(0).1;
    assert_eq!(table(how(HowRead { headings: Some(true), ..HowRead::default() })).columns, ["1", "a"]);
    assert_eq!(table(how(HowRead { separator: Some(';'), ..HowRead::default() })).columns.len(), 1);
    let part = read_as("a.csv", file, &how(HowRead { range: Some("x:y:z".into()), ..HowRead::default() })).remove(0);
    assert!(matches!(part.held, Held::Refused(words) if words.contains("no range")));
}

const MAIL: &str = "From: =?utf-8?q?Zo=C3=AB_Brandt?= <Zoe@Hask.example>\r\nTo: office@crossing.example\r\n\
    Subject: =?utf-8?b?RsOkaHJlIGbDpGxsdCBhdXM=?=\r\nDate: Mon, 4 May 2026 23:30:00 +0200\r\nMessage-ID: <a1@hask.example>\r\n\
    MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=B\r\n\r\n--B\r\nContent-Type: text/html; charset=utf-8\r\n\r\n\
    <html><head><style>p{}</style></head><body><p>The boat was off.</p><p>Nobody told&nbsp;us.</p><script>alert(1)</script></body></html>\r\n\
    --B\r\nContent-Type: message/rfc822\r\n\r\nFrom: ann@tern.example\r\nSubject: Fwd\r\nMessage-ID: <b2@tern.example>\r\n\r\nThe deck was full.\r\n\
    --B\r\nContent-Type: image/png; name=pier.png\r\nContent-Disposition: attachment; filename=pier.png\r\nContent-Transfer-Encoding: base64\r\n\r\niVBORw0KGgo=\r\n--B--\r\n";

#[test]
fn a_mail_within_a_mail_is_a_document_of_its_own() {
    let found = documents("one.eml", MAIL.as_bytes());
    assert_eq!(found.len(), 2);
    assert_eq!(
        (found[0].title.as_str(), found[0].text.as_str()),
        ("Fähre fällt aus", "The boat was off.\nNobody told us.")
    );
    assert_eq!(
        (found[0].person.as_deref(), found[0].address.as_deref()),
        (Some("Zoë Brandt"), Some("zoe@hask.example"))
    );
    assert_eq!(found[0].said_on.unwrap().to_string(), "2026-05-04");
    assert_eq!((found[0].key.as_deref(), found[1].key.as_deref()), (Some("a1@hask.example"), Some("b2@tern.example")));
    assert_eq!(found[0].notes, ["what was attached was not read: pier.png"]);
    assert_eq!(found[1].text.trim(), "The deck was full.");
    let several = format!(
        "From x Mon May  4 10:00:00 2026\n{MAIL}\nFrom y Tue May  5 10:00:00 2026\nFrom: bo@x.example\n\nSecond.\n"
    );
    assert_eq!(documents("all.mbox", several.as_bytes()).len(), 3);
}

#[test]
fn json_in_its_usual_shapes_is_a_table() {
    let list = r#"{"count": 2, "reviews": [{"id": 1, "body": "Off again", "by": {"name": "Ann"}, "tags": ["a"]}, {"id": 2, "body": "Fine", "stars": 5}]}"#;
    let table = tables(read("a.json", list.as_bytes())).remove(0).1;
    assert_eq!(table.columns, ["body", "by.name", "id", "tags", "stars"]);
    assert_eq!(table.rows[0].cells, ["Off again", "Ann", "1", "[\"a\"]"]);
    assert_eq!(table.rows[0].cells.get(4), "");
    let lines = "{\"text\":\"one\"}\n\n{\"text\":\"two\",\"who\":null}\n";
    assert_eq!(tables(read("a.jsonl", lines.as_bytes())).remove(0).1.rows.len(), 2);
    assert!(refusal("a.json", b"{\"a\": 1}").contains("no list of objects"));
    assert!(refusal("a.json", b"{\"a\": ").contains("This is no JSON"));
}

#[test]
fn text_comes_out_byte_for_byte() {
    let text = "  # A note\r\n\r\nThe boat  was off.\t\n\u{202e}right to left\u{202c} ";
    assert_eq!(documents("note.md", text.as_bytes())[0].text, text);
    assert_eq!(
        documents("note.txt", b"The boat was off, twice.\nNobody came.")[0].text,
        "The boat was off, twice.\nNobody came."
    );
    // A text file may be a table all the same.
    assert_eq!(
        tables(read("t.txt", b"who;words\nAnn;The boat was off\nBo;It was fine\n")).remove(0).1.columns,
        ["who", "words"]
    );
}

#[test]
fn a_bad_file_is_refused_and_the_others_of_its_zip_go_in() {
    let bytes = zip(&[
        ("may/reviews.csv", b"text\nThe boat was off\n"),
        ("../../etc/passwd", b"x"),
        ("__MACOSX/._reviews.csv", b"x"),
        ("pier.png", b"\x89PNG\r\n\x1a\nrest"),
        ("inner.zip", &zip(&[("a.txt", b"x")])),
        ("note.txt", b"The ramp is steep."),
        ("damaged.pdf", b"%PDF-"),
    ]);
    let parts = read("all.zip", &bytes);
    let held: Vec<(&str, bool)> =
        parts.iter().map(|part| (part.name.as_str(), matches!(part.held, Held::Refused(_)))).collect();
    assert_eq!(
        held,
        [
            ("all.zip/reviews.csv", false),
            ("all.zip/passwd", true),
            ("all.zip/pier.png", false),
            ("all.zip/inner.zip", true),
            ("all.zip/note.txt", false),
            ("all.zip/damaged.pdf", true),
        ]
    );
    assert!(matches!(&parts[2].held, Held::Wordless { what, .. } if what == "a picture"));
    assert!(matches!(&parts[1].held, Held::Refused(words) if words.contains("leads out of the ZIP")));
}

#[test]
fn what_unpacks_without_end_is_refused() {
    // 300 MB of nothing, three hundred thousand times smaller when packed.
    let mut writer = ZipWriter::new(Cursor::new(Vec::new()));
    let packed = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    writer.start_file("all.csv", packed).unwrap();
    let block = vec![b'a'; 1024 * 1024];
    (0..300).for_each(|_| writer.write_all(&block).unwrap());
    let mut bomb = writer.finish().unwrap().into_inner();
    assert!(bomb.len() < 1_000_000);
    assert!(refusal("bomb.zip", &bomb).contains("larger than 256 MB"));
    // The same with a size in its headings that is a lie.
    for at in 0..bomb.len() - 4 {
        if bomb[at..at + 4] == (300_u32 * 1024 * 1024).to_le_bytes() {
            bomb[at..at + 4].copy_from_slice(&10_u32.to_le_bytes());
        }
    }
    assert!(!refusal("bomb.zip", &bomb).is_empty());
    // And one that says it holds two gigabytes.
    let mut claim = zip(&[("a.csv", b"text\nx\n")]);
    for at in 0..claim.len() - 4 {
        if claim[at..at + 4] == 7_u32.to_le_bytes() {
            claim[at..at + 4].copy_from_slice(&0x7fff_ffff_u32.to_le_bytes());
        }
    }
    assert!(!refusal("claim.zip", &claim).is_empty());
}

#[test]
fn macros_and_entities_of_a_file_are_not_followed() {
    let book = zip(&[("xl/workbook.xml", b"<x/>"), ("xl/vbaProject.bin", b"x")]);
    assert!(refusal("a.xlsm", &book).contains("holds macros"));
    let lol = "<!DOCTYPE x [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;&a;&a;&a;&a;\">]>";
    let xml = format!(
        "<?xml version=\"1.0\"?>{lol}<w:document><w:body><w:p><w:t>Hello &b; there</w:t></w:p></w:body></w:document>"
    );
    let bomb = zip(&[("word/document.xml", xml.as_bytes())]);
    assert!(refusal("a.docx", &bomb).contains("entities of its own"));
    let far = "<office:document-content><table:table table:name=\"a\"><table:table-row table:number-rows-repeated=\"1000000\"><table:table-cell table:number-columns-repeated=\"16000\"><text:p>x</text:p></table:table-cell></table:table-row></table:table></office:document-content>";
    let sheet = zip(&[("content.xml", far.as_bytes()), ("META-INF/manifest.xml", b"<x/>")]);
    assert!(refusal("far.ods", &sheet).contains("repeats more than"));
}

#[test]
fn a_sheet_that_reaches_far_takes_no_more_room_than_it_fills() {
    let mut book = rust_xlsxwriter::Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write(0, 0, "text").unwrap();
    sheet.write(1, 0, "The boat was off").unwrap();
    sheet.write(1_048_575, 0, "The last row of all").unwrap();
    let table = tables(read("far.xlsx", &book.save_to_buffer().unwrap())).remove(0).1;
    assert_eq!(table.rows.iter().map(|row| row.number).collect::<Vec<_>>(), [2, 1_048_576]);
    let mut book = rust_xlsxwriter::Workbook::new();
    book.add_worksheet().write(5, 16_383, "far").unwrap();
    assert!(refusal("wide.xlsx", &book.save_to_buffer().unwrap()).contains("reaches too far"));
}

#[test]
fn a_document_says_its_day_in_its_head() {
    let day = |name: &str, text: &str| documents(name, text.as_bytes()).remove(0).said_on.map(|day| day.to_string());
    assert_eq!(day("a.md", "# Talk\n\nDate: 18 June 2026\n\nWe met.").as_deref(), Some("2026-06-18"));
    assert_eq!(day("a.html", "<h1>Talk</h1><p>18.06.2026</p><p>We met.</p>").as_deref(), Some("2026-06-18"));
    assert_eq!(day("a.txt", "On 18 June 2026 we met, all of us.").as_deref(), None);
    let head = "WEBVTT\n\nNOTE\nDate: 2026-06-18\nWhy they left\n\n00:01.000 --> 00:02.000\n<v Ada>Off again.\n";
    let captions = documents("a.vtt", head.as_bytes()).remove(0);
    assert_eq!(
        (captions.title.as_str(), captions.said_on.unwrap().to_string().as_str()),
        ("Why they left", "2026-06-18")
    );
    // A mail has its day from its head and not from its words.
    let mail =
        "From: Ada <ada@post.example>\nDate: Mon, 29 Jun 2026 08:00:00 +0000\n\nDate: 2020-01-01\nThe light is out.";
    assert_eq!(day("a.eml", mail).as_deref(), Some("2026-06-29"));
}

#[test]
fn a_sheet_without_rows_says_so() {
    let mut book = rust_xlsxwriter::Workbook::new();
    book.add_worksheet().write(0, 0, "Exported on Monday").unwrap();
    assert!(refusal("about.xlsx", &book.save_to_buffer().unwrap()).contains("no rows below its headings"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 2))]

    #[test]
    fn no_bytes_make_it_panic(
        head in prop::sample::select(vec!["PK\u{3}\u{4}", "%PDF-1.4\n", "WEBVTT\n\n", "{", "[", "From: a\n\n", "From x\n", "<html>", ""]),
        bytes in prop::collection::vec(any::<u8>(), 0..600),
        ending in prop::sample::select(vec!["zip", "pdf", "vtt", "srt", "json", "eml", "mbox", "html", "docx", "xlsx", "md", "csv"]),
    ) {
        let all: Vec<u8> = head.bytes().chain(bytes).collect();
        let name = format!("x.{ending}");
        prop_assert!(!read(&name, &all).is_empty());
    }

    #[test]
    fn a_sound_file_with_a_few_strange_bytes_is_read_or_refused(
        file in prop::sample::select(vec![
            ("t.xlsx", include_bytes!("files/tickets.xlsx").to_vec()),
            ("t.xls", include_bytes!("files/tickets.xls").to_vec()),
            ("t.ods", include_bytes!("files/tickets.ods").to_vec()),
            ("t.docx", include_bytes!("files/interview.docx").to_vec()),
            ("t.pdf", include_bytes!("files/interview.pdf").to_vec()),
            ("t.eml", MAIL.as_bytes().to_vec()),
        ]),
        strange in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..8),
    ) {
        let (name, mut bytes) = file;
        for (at, byte) in strange {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        prop_assert!(!read(name, &bytes).is_empty());
    }
}
