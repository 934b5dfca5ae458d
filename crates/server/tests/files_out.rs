//! Everything that can be taken out of the demo, read by what other programs read such files with: it says what the view says.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::{Cursor, Read};

use calamine::{Data, Reader, Xlsx};
use iron_kite_testkit::{Client, PASSWORD, Server};
use serde_json::{Value, json};

/// A file that a view is taken out as.
fn file(client: &Client, collection: &str, query: &Value, kind: &str) -> Vec<u8> {
    let ask = json!({ "product": 1, "query": query, "kind": kind });
    let answer = client.post(&format!("collections/{collection}/export"), &ask);
    assert_eq!(answer.status(), 200, "{collection} as {kind}");
    let name = answer.headers()["content-disposition"].to_str().unwrap().to_owned();
    let ending = if kind == "markdown" { "md" } else { kind };
    assert!(name.starts_with("attachment") && name.contains(&format!(".{ending}\"")), "{name}");
    answer.bytes().unwrap().to_vec()
}

fn csv_of(bytes: &[u8]) -> Vec<Vec<String>> {
    let mut reader = csv::ReaderBuilder::new().has_headers(false).from_reader(bytes);
    let lines = reader.records().map(|line| line.unwrap().iter().map(str::to_owned).collect());
    lines.collect()
}

fn xlsx_of(bytes: Vec<u8>) -> Vec<Vec<Data>> {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).unwrap();
    let sheet = book.worksheet_range_at(0).unwrap().unwrap();
    sheet.rows().map(<[Data]>::to_vec).collect()
}

/// The cells of a line of a Markdown table, with `\|` as a bar.
fn markdown_cells(line: &str) -> Vec<String> {
    let inner = line.strip_prefix("| ").and_then(|line| line.strip_suffix(" |")).unwrap();
    let mut cells = vec![String::new()];
    let mut letters = inner.chars();
    while let Some(letter) = letters.next() {
        match letter {
            '\\' => cells.last_mut().unwrap().extend(letters.next()),
            '|' => cells.push(String::new()),
            _ => cells.last_mut().unwrap().push(letter),
        }
    }
    cells.into_iter().map(|cell| cell.trim().to_owned()).collect()
}

/// A cell of a spreadsheet without the sign that keeps it from being run.
fn plain(cell: &str) -> &str {
    cell.strip_prefix('\'').unwrap_or(cell)
}

/// Fields whose values are the same text everywhere.
fn texts(client: &Client, collection: &str) -> Vec<Value> {
    let fields = client.get(&format!("collections/{collection}/fields"));
    fields.as_array().unwrap().iter().filter(|field| field["type"] == "text").cloned().collect()
}

#[test]
fn every_collection_is_taken_out_whole_in_each_form() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let mut seen = 0;
    for one in client.get("collections").as_array().unwrap() {
        let collection = one["name"].as_str().unwrap();
        let fields = texts(&client, collection);
        let names: Vec<&Value> = fields.iter().map(|field| &field["name"]).collect();
        if names.is_empty() {
            continue;
        }
        let query = json!({ "fields": names });
        let ask = json!({ "product": 1, "query": query, "limit": 500 });
        let page = client.done("POST", &format!("collections/{collection}/rows"), &ask);
        let rows = page["rows"].as_array().unwrap();
        let count = usize::try_from(page["count"].as_u64().unwrap()).unwrap();
        let value =
            |row: &Value, at: usize| row["values"][names[at].as_str().unwrap()].as_str().unwrap_or("").to_owned();

        let csv = csv_of(&file(&client, collection, &query, "csv"));
        let xlsx = xlsx_of(file(&client, collection, &query, "xlsx"));
        let objects: Vec<Value> = serde_json::from_slice(&file(&client, collection, &query, "json")).unwrap();
        let markdown = String::from_utf8(file(&client, collection, &query, "markdown")).unwrap();
        let table: Vec<Vec<String>> =
            markdown.lines().filter(|line| line.starts_with("| ")).map(markdown_cells).collect();
        assert_eq!(
            (csv.len(), xlsx.len(), objects.len(), table.len()),
            (count + 1, count + 1, count, count + 2),
            "{collection}: the rows with their headings"
        );
        let labels: Vec<&str> = fields.iter().map(|field| field["label"].as_str().unwrap()).collect();
        assert_eq!((&csv[0], &table[0]), (&labels.iter().map(|&label| label.to_owned()).collect(), &csv[0]));
        assert_eq!(xlsx[0].iter().map(ToString::to_string).collect::<Vec<_>>(), labels);
        for (n, row) in rows.iter().enumerate() {
            for at in 0..names.len() {
                let text = value(row, at);
                assert_eq!(plain(&csv[n + 1][at]), plain(&text), "{collection}, row {n}");
                assert_eq!(xlsx[n + 1][at].to_string(), text, "{collection}, row {n}");
                // A field that a team added is called by its label.
                let name = names[at].as_str().unwrap();
                let own = name.strip_prefix('f').is_some_and(|rest| rest.parse::<u32>().is_ok());
                let key = if own { labels[at] } else { name };
                assert_eq!(objects[n][key].as_str().unwrap_or(""), text);
                let line = text.split_whitespace().collect::<Vec<_>>().join(" ");
                assert_eq!(
                    table[n + 2][at].split_whitespace().collect::<Vec<_>>().join(" "),
                    line,
                    "{collection}, row {n}"
                );
                seen += usize::from(!text.is_empty());
            }
        }
    }
    assert!(seen > 1_000, "{seen} values were compared");
}

#[test]
fn figures_and_days_are_figures_and_days_in_a_spreadsheet() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let query = json!({ "fields": ["reference", "reach", "effort", "f4"] });
    let rows = client.done("POST", "collections/idea/rows", &json!({ "product": 1, "query": query, "limit": 100 }));
    let sheet = xlsx_of(file(&client, "idea", &query, "xlsx"));
    let mut figures = 0;
    for (row, line) in rows["rows"].as_array().unwrap().iter().zip(&sheet[1..]) {
        assert_eq!(line[0].to_string(), row["reference"].as_str().unwrap());
        for (at, name) in [(1, "reach"), (2, "effort")] {
            match row["values"][name].as_f64() {
                Some(number) => {
                    assert_eq!(line[at], Data::Float(number), "{name}");
                    figures += 1;
                }
                None => assert_eq!(line[at], Data::Empty, "{name}"),
            }
        }
    }
    assert!(figures > 10, "{figures}");
    let days = xlsx_of(file(&client, "release", &json!({ "fields": ["title", "ends_on"] }), "xlsx"));
    assert!(days[1..].iter().any(|line| matches!(line[1], Data::DateTime(_))), "{days:?}");
}

/// The text of a word processor's document: what stands in its paragraphs.
fn docx_text(bytes: Vec<u8>) -> String {
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).unwrap();
    for part in ["[Content_Types].xml", "_rels/.rels", "word/document.xml"] {
        assert!(archive.by_name(part).is_ok(), "{part}");
    }
    let mut xml = String::new();
    archive.by_name("word/document.xml").unwrap().read_to_string(&mut xml).unwrap();
    let paragraphs = xml.split("</w:p>").map(|paragraph| {
        let runs = paragraph.split("<w:t").skip(1).filter_map(|run| run.split_once('>')?.1.split_once("</w:t>"));
        runs.map(|(text, _)| text).collect::<String>()
    });
    let text = paragraphs.collect::<Vec<_>>().join("\n");
    [("&lt;", "<"), ("&gt;", ">"), ("&quot;", "\""), ("&apos;", "'"), ("&#39;", "'"), ("&amp;", "&")]
        .iter()
        .fold(text, |text, (mark, letter)| text.replace(mark, letter))
}

/// What the words of a Markdown text are, without its marks.
fn words(text: &str) -> Vec<String> {
    let letters = |c: char| if c.is_alphanumeric() { c.to_lowercase().to_string() } else { " ".to_owned() };
    text.chars().map(letters).collect::<String>().split_whitespace().map(str::to_owned).collect()
}

#[test]
fn reports_say_the_same_as_a_document_and_as_markdown() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let get = |path: &str| {
        let answer = client.request("GET", path).send().unwrap();
        assert_eq!(answer.status(), 200, "{path}");
        answer.bytes().unwrap().to_vec()
    };
    for (report, mentions) in [
        ("takeout/report.FORM?product=1&findings=1,4", "The money for a cancelled crossing does not come back"),
        ("takeout/prioritisations/1.FORM", "What we build before the winter timetable"),
    ] {
        let markdown = String::from_utf8(get(&report.replace("FORM", "md"))).unwrap();
        assert!(markdown.contains(mentions), "{markdown}");
        let document = docx_text(get(&report.replace("FORM", "docx")));
        assert!(document.contains(mentions), "{document}");
        // Every line of the one stands in the other; tables and quotes have marks of their own.
        let all = words(&document).join(" ");
        let lines = markdown.lines().map(|line| words(line).join(" ")).filter(|line| line.split(' ').count() > 4);
        let (there, lines): (Vec<String>, Vec<String>) = lines.partition(|line| all.contains(line.as_str()));
        assert!(there.len() > 5 && there.len() > 4 * lines.len(), "{report}: only in Markdown: {lines:#?}");
    }
    let release = String::from_utf8(get("takeout/releases/2.md")).unwrap();
    for story in ["Be warned of a cancellation", "Choose how to be told"] {
        assert!(release.contains(story), "{release}");
    }
    let decisions = String::from_utf8(get("takeout/decisions.md?product=1")).unwrap();
    assert_eq!(decisions.matches("Sell coffee through the app").count(), 1, "{decisions}");
}

#[test]
fn stories_as_csv_are_the_stories_of_the_board() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let bytes = client.request("GET", "takeout/stories.csv?product=1").send().unwrap().bytes().unwrap();
    let lines = csv_of(&bytes);
    let query = json!({ "filter": { "field": "level", "operator": "any_of", "value": ["story"] }, "fields": ["title", "points"] });
    let ask = json!({ "product": 1, "query": query, "limit": 500 });
    let rows = client.done("POST", "collections/work_item/rows", &ask);
    let rows = rows["rows"].as_array().unwrap();
    assert_eq!(lines.len(), rows.len() + 1);
    for row in rows {
        let (reference, title) = (row["reference"].as_str().unwrap(), row["values"]["title"].as_str().unwrap());
        let line = lines.iter().find(|line| line[0] == reference).unwrap();
        assert!(line.iter().any(|cell| cell == title), "{line:?}");
    }
}

#[test]
fn a_whole_workspace_with_a_long_recording_goes_out_and_comes_back() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let noise = (0..63_u32 * 1024 * 1024).map(|n| (n.wrapping_mul(2_654_435_761) >> 11).to_le_bytes()[0]);
    let sound: Vec<u8> = b"RIFF\0\0\0\0WAVEfmt ".iter().copied().chain(noise).collect();
    let kept = wren.request("POST", "attachments?name=visit.wav").body(sound.clone()).send().unwrap();
    let kept: Value = kept.json().unwrap();
    let whole = wren.request("GET", "takeout/workspace.json").send().unwrap().bytes().unwrap();
    assert!(
        whole.len() > sound.len() * 4 / 3 && whole.len() < sound.len() * 3 / 2 + 32 * 1024 * 1024,
        "{}",
        whole.len()
    );
    drop(server);

    let other = Server::empty();
    let owner =
        json!({ "code": other.first_code, "name": "Wren", "email": "wren@crossing.example", "password": PASSWORD });
    assert_eq!(other.client().post("start", &owner).status(), 204);
    let first = other.signed_in("wren");
    let came = first.request("POST", "takeout/workspace").body(whole).send().unwrap();
    assert_eq!(came.status(), 200, "{}", came.text().unwrap());
    let back = first.request("GET", &format!("attachments/{}", kept["id"])).send().unwrap().bytes().unwrap();
    assert!(back == sound);
    // Nothing of it is left beside the workspace, and it was never held as a whole more often than a row takes.
    let left: Vec<_> = std::fs::read_dir(other.dir()).unwrap().map(|file| file.unwrap().file_name()).collect();
    assert!(left.len() < 8, "{left:?}");
    assert!(other.most_memory() < 700, "{} MB", other.most_memory());
}
