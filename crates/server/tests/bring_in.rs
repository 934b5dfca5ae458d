//! Files of every sort come in over HTTP and by the command, twice, grown and changed; and jobs that are stopped.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::{Cursor, Write};
use std::process::Command;

use iron_kite_testkit::{Client, Server, binary, reviews_csv};
use serde_json::{Value, json};
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

const TICKETS: &str = "ticket no,message,customer,email,created\n\
    7,The boat was off,Ann Lee,Ann@hask.example,2026-05-04\n\
    8,The deck was full,,,2026-05-05\n\
    9,Nothing,,,2026-05-06\n";

fn counts(file: &Value, part: usize) -> [u64; 4] {
    ["new", "same", "changed", "left_out"].map(|name| file["parts"][part]["counts"][name].as_u64().unwrap())
}

fn take(client: &Client, file: &Value, take_changed: bool) -> Value {
    let parts = file["parts"].as_array().unwrap().len();
    let parts: Vec<Value> = (0..parts).map(|part| json!({ "file": file["id"], "part": part })).collect();
    let ask = json!({ "product": 1, "parts": parts, "take_changed": take_changed });
    let job = client.over(&client.done("POST", "listen/imports", &ask));
    assert_eq!(job["state"], "done", "{job}");
    client.get(&format!("listen/imports/{}", job["id"]))
}

fn items(client: &Client) -> u64 {
    client.get("listen/items?product=1")["all"].as_u64().unwrap()
}

#[test]
fn the_same_file_again_a_grown_one_and_a_changed_row() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let before = items(&joss);
    let file = joss.put_down(1, "tickets.csv", TICKETS);
    assert_eq!((counts(&file, 0), &file["parts"][0]["remembered"]), ([3, 0, 0, 0], &json!(false)));
    assert_eq!(file["parts"][0]["proposed"]["key"], 0);
    take(&joss, &file, false);
    assert_eq!(items(&joss), before + 3);

    let again = joss.put_down(1, "tickets.csv", TICKETS);
    assert_eq!((counts(&again, 0), &again["parts"][0]["remembered"]), ([0, 3, 0, 0], &json!(true)));
    let report = take(&joss, &again, false);
    assert_eq!((&report["parts"][0]["report"]["added"], items(&joss)), (&json!(0), before + 3));

    // One more, and one that says something else: shown, and taken only where that is asked for.
    let grown = TICKETS.replace("The deck was full", "The deck was full again") + "10,The ramp is steep,,,2026-05-07\n";
    let file = joss.put_down(1, "tickets.csv", grown.as_str());
    assert_eq!(counts(&file, 0), [1, 2, 1, 0]);
    let changed = &take(&joss, &file, false)["parts"][0]["report"]["changed"][0];
    assert_eq!((&changed["before"], &changed["taken"]), (&json!("The deck was full"), &json!(false)));
    let file = joss.put_down(1, "tickets.csv", grown.as_str());
    assert_eq!(counts(&file, 0), [0, 3, 1, 0]);
    let report = take(&joss, &file, true);
    let changed = &report["parts"][0]["report"]["changed"][0];
    let item = joss.get(&format!("listen/items/{}", changed["item"]));
    assert_eq!(
        (&item["text"], &item["parts"][0]["words"]),
        (&json!("The deck was full again"), &json!("The deck was full again"))
    );
    assert_eq!(counts(&joss.put_down(1, "tickets.csv", grown.as_str()), 0), [0, 4, 0, 0]);

    // The same by the command, into the same workspace.
    let path = server.dir().join("tickets.csv");
    std::fs::write(&path, grown + "11,New by command,,,\n").unwrap();
    let words = ["import", "feedback", "--json", "--product", "Crossing", "--data"];
    let done = Command::new(binary()).args(words).arg(server.dir()).arg(&path).output().unwrap();
    let told: Value = serde_json::from_slice(&done.stdout).unwrap();
    let report = &told[0]["parts"][0]["report"];
    assert_eq!((&report["added"], &report["duplicates"]), (&json!(1), &json!(4)), "{told}");
}

#[test]
fn people_are_known_by_their_address() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let files = [
        ("a.csv", "text,name,email\nThe boat was off,Ann Lee,ann@hask.example\n"),
        ("b.csv", "text,name,email\nIt was off again,A. Lee,ANN@hask.example\n"),
        ("c.csv", "text,name,email\nI am another,Ann Lee,ann@tern.example\n"),
    ];
    for (name, text) in files {
        take(&joss, &joss.put_down(1, name, text), false);
    }
    let query = json!({ "product": 1, "query": { "fields": ["person", "text"], "filter": { "field": "said_on", "operator": "empty" } }, "limit": 500 });
    let rows = joss.done("POST", "collections/feedback_item/rows", &query);
    let who = |text: &str| {
        let row = rows["rows"].as_array().unwrap().iter().find(|row| row["values"]["text"] == text).unwrap();
        row["values"]["person"][0]["id"].clone()
    };
    assert_eq!(who("The boat was off"), who("It was off again"));
    assert_ne!(who("The boat was off"), who("I am another"));
}

#[test]
fn what_tells_who_somebody_is_is_covered_where_the_source_is_set_so() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let text = "text,name,email,desk\n\"Ring me: +44 20 7946 0958, or ann@hask.example\",Ann Lee,ann@hask.example,0431/123456\n";
    let file = joss.put_down(2, "calls.csv", text);
    assert_eq!(file["parts"][0]["covers"], false);
    let part = json!({ "file": file["id"], "part": 0, "cover": true });
    let job = joss.over(&joss.done("POST", "listen/imports", &json!({ "product": 2, "parts": [part] })));
    assert_eq!(job["state"], "done");
    let id = joss.get("listen/items?product=2&words=ring%20me")["items"][0]["id"].clone();
    let item = joss.get(&format!("listen/items/{id}"));
    assert_eq!(item["text"], "Ring me: ••• •• •••• ••••, or ••••••••••••••••");
    assert_eq!(item["extra"], r#"{"desk":"•••••••••••"}"#);
    assert_eq!(item["person"], "Ann Lee");
    let all = joss.request("GET", "listen/likely-same?kind=person").send().unwrap().text().unwrap();
    assert!(!all.contains("hask.example"));
    // It is remembered for the next file, which doubles nothing.
    let again = joss.put_down(2, "calls.csv", text);
    assert_eq!((&again["parts"][0]["covers"], counts(&again, 0)), (&json!(true), [0, 1, 0, 0]));
    let part = json!({ "file": again["id"], "part": 0, "cover": true });
    let job = joss.over(&joss.done("POST", "listen/imports", &json!({ "product": 2, "parts": [part] })));
    let report = joss.get(&format!("listen/imports/{}", job["id"]));
    assert_eq!(report["parts"][0]["report"]["duplicates"], 1);
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
fn a_zip_of_every_sort_is_one_change() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let before = items(&joss);
    let talk = "Wren: How late was it?\nInes Corrie: Far too late. Please tell us.\nWren: Thank you.\n";
    let bytes = zip(&[
        ("talk.md", talk.as_bytes()),
        ("notes.json", br#"[{"text": "The ramp is steep", "id": 1}, {"text": "", "id": 2}]"#),
        ("pier.png", b"\x89PNG\r\n\x1a\nrest"),
        ("bad.pdf", b"%PDF-"),
    ]);
    let file = joss.put_down(1, "all.zip", bytes);
    let holds: Vec<&str> =
        file["parts"].as_array().unwrap().iter().map(|part| part["holds"].as_str().unwrap()).collect();
    assert_eq!(holds, ["documents", "table", "wordless", "refused"]);
    assert_eq!(file["parts"][0]["documents"][0]["speakers"], json!(["Wren", "Ines Corrie"]));
    let report = take(&joss, &file, false);
    assert_eq!(items(&joss), before + 2);
    assert_eq!(report["parts"][1]["report"]["left_out"], json!([{ "row": 3, "reason": "has no text" }]));
    let kept = &report["parts"][2]["kept"];
    let kept = joss.request("GET", &format!("attachments/{}", kept["id"])).send().unwrap().bytes().unwrap();
    assert_eq!(&kept[..], b"\x89PNG\r\n\x1a\nrest");
    assert!(report["parts"][3]["refused"].as_str().unwrap().contains("damaged"));
    // An excerpt is of one speaker, and the words are as they were, byte for byte.
    let newest = joss.get("listen/items?product=1&words=ines%20corrie")["items"][0]["id"].clone();
    let item = joss.get(&format!("listen/items/{newest}"));
    assert_eq!(item["text"], talk);
    let turns: Value = serde_json::from_str(item["turns"].as_str().unwrap()).unwrap();
    assert_eq!(turns[1]["speaker"], "Ines Corrie");
    assert!(item["parts"].as_array().unwrap().iter().any(|part| part["words"] == "Please tell us."));
    // All of it is taken back in one step, and done again.
    joss.done("POST", "undo", &json!({}));
    assert_eq!(items(&joss), before);
    joss.done("POST", "redo", &json!({}));
    assert_eq!(items(&joss), before + 2);
}

#[test]
fn a_stopped_job_leaves_nothing_and_others_write_while_it_runs() {
    let server = Server::demo();
    let (joss, vik) = (server.signed_in("joss"), server.signed_in("vik"));
    let before = items(&joss);
    let file = joss.put_down(1, "many.csv", reviews_csv(6_000));
    let job = joss.bring_in(1, &file);
    let running = loop {
        let job = joss.get(&format!("jobs/{}", job["id"]));
        if job["done"].as_i64().unwrap() > 0 || job["state"] == "done" {
            break job;
        }
    };
    assert_eq!(running["state"], "running", "it is still at work: {running}");
    // Somebody else writes meanwhile; what is being written is not undone under the job's hands.
    joss.done("POST", "decide/ideas", &json!({ "product_id": 1, "title": "Meanwhile" }));
    let set = running["change"].as_i64().unwrap();
    joss.refused("POST", &format!("changes/{set}/undo"), &json!({}), "still-running");
    vik.refused("POST", &format!("jobs/{}/cancel", job["id"]), &json!({}), "not-allowed");
    joss.done("POST", &format!("jobs/{}/cancel", job["id"]), &json!({}));
    let job = joss.over(&job);
    assert_eq!(job["state"], "cancelled");
    assert_eq!(items(&joss), before);
    joss.refused("POST", &format!("jobs/{}/cancel", job["id"]), &json!({}), "job-is-over");
    assert!(iron_kite_store::verify(server.dir()).unwrap().faults.is_empty());
}

#[test]
fn a_job_that_fails_says_why() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let file = joss.put_down(1, "one.csv", "text\nThe ramp is steep.\n");
    // Both wait behind another one, so that the file is there when the second is asked for.
    joss.bring_in(1, &joss.put_down(1, "many.csv", reviews_csv(3_000)));
    let (first, second) = (joss.bring_in(1, &file), joss.bring_in(1, &file));
    assert_eq!(joss.over(&first)["state"], "done");
    let second = joss.over(&second);
    assert_eq!(second["state"], "failed");
    let words = second["problem"].as_str().unwrap();
    assert!(words.contains("waiting file") && words.ends_with("Nothing of it was kept."), "{words}");
    let listed = joss.brought(1);
    assert_eq!(listed[0]["problem"], words);
}

#[test]
fn a_job_that_the_end_of_the_program_interrupts_is_taken_back() {
    let mut server = Server::demo();
    let joss = server.signed_in("joss");
    let before = items(&joss);
    let file = joss.put_down(1, "many.csv", reviews_csv(6_000));
    let job = joss.bring_in(1, &file);
    while joss.get(&format!("jobs/{}", job["id"]))["done"].as_i64().unwrap() == 0 {}
    // The second one waits its turn, and is done after the start.
    let next = joss.bring_in(1, &joss.put_down(1, "one.csv", "text\nThe ramp is steep.\n"));
    let dir = server.dir().to_owned();
    server.kill();
    let again = Server::on(&dir);
    let joss = again.signed_in("joss");
    assert_eq!(joss.over(&job)["state"], "interrupted");
    assert_eq!(joss.over(&next)["state"], "done");
    assert_eq!(items(&joss), before + 1);
}
