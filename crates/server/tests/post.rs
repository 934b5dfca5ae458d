//! Messages of the running program: over SMTP to a simulated mail server, and kept as files in the demo.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::time::{Duration, Instant};

use iron_kite_stand_ins::PostOffice;
use iron_kite_testkit::{Client, Server};
use mail_parser::MessageParser;
use serde_json::json;

/// What comes in a while.
fn soon<T>(what: &str, look: impl Fn() -> Option<T>) -> T {
    let end = Instant::now() + Duration::from_secs(20);
    loop {
        if let Some(found) = look() {
            return found;
        }
        assert!(Instant::now() < end, "{what} did not come");
        std::thread::sleep(Duration::from_millis(50));
    }
}

fn speak_to_tamar(wren: &Client) {
    let body = json!({ "on": { "kind": "idea", "id": 6 }, "body": "[Tamar Quist](person:2), is this ours?" });
    assert_eq!(wren.post("comments", &body).status(), 200);
}

#[test]
fn who_is_spoken_to_gets_a_message_over_smtp_once() {
    let office = PostOffice::start().unwrap();
    let server = Server::demo_with(&["--mail", &office.address(), "--mail-from", "Iron Kite <kite@crossing.example>"]);
    let wren = server.signed_in("wren");
    speak_to_tamar(&wren);
    let subject = |bytes: &[u8]| {
        let message = MessageParser::default().parse(bytes)?;
        Some(message.subject()?.to_owned())
    };
    let is_it = |bytes: &[u8]| subject(bytes).as_deref() == Some(SUBJECT);
    let taken = soon("the message", || office.taken().into_iter().find(|taken| is_it(&taken.bytes)));
    assert_eq!(taken.to, ["tamar@crossing.example"]);
    soon("the end of sending", || (message(&wren)["state"] == "sent").then_some(()));
    // Each message went out once, and for each somebody connected once.
    assert_eq!(office.taken().len(), wren.get("outbox").as_array().unwrap().len());
    assert_eq!(office.taken().iter().filter(|taken| is_it(&taken.bytes)).count(), 1);
    assert_eq!(office.connections(), office.taken().len());
    // Whoever is spoken to is told, whoever said it is not, nor who has nothing to do with it.
    let told = |name: &str| {
        let all = server.signed_in(name).get("notices")["notices"].as_array().unwrap().clone();
        all.iter().filter(|one| one["words"] == "said: “@Tamar Quist, is this ours?”").count()
    };
    assert_eq!((told("tamar"), told("vik"), told("wren")), (1, 0, 0));
}

const SUBJECT: &str = "Wren Odell speaks to you on I6";

/// The message to Tamar as the outbox tells of it.
fn message(wren: &Client) -> serde_json::Value {
    let all = wren.get("outbox");
    all.as_array().unwrap().iter().find(|one| one["subject"] == SUBJECT).cloned().unwrap_or_default()
}

#[test]
fn the_demo_keeps_messages_as_files_that_other_programs_read() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    speak_to_tamar(&wren);
    let folder = server.dir().join("outbox");
    let file = soon("the file", || {
        let files = std::fs::read_dir(&folder).ok()?.map_while(Result::ok).map(|file| file.path());
        let mut kept = files.filter(|file| file.extension().is_some_and(|extension| extension == "eml"));
        kept.find_map(|file| {
            let bytes = std::fs::read(file).ok()?;
            (MessageParser::default().parse(&bytes)?.subject()? == SUBJECT).then_some(bytes)
        })
    });
    let message = MessageParser::default().parse(&file).unwrap();
    assert_eq!(message.to().unwrap().first().unwrap().address(), Some("tamar@crossing.example"));
    assert!(message.body_text(0).unwrap().contains("said: “@Tamar Quist, is this ours?”"));
    soon("the end of keeping", || (self::message(&wren)["state"] == "kept").then_some(()));
}

#[test]
fn a_mail_server_that_is_none_is_refused_at_the_start() {
    let dir = tempfile::tempdir().unwrap();
    let done = std::process::Command::new(iron_kite_testkit::binary())
        .args(["serve", "--mail", "mail.crossing.example", "--port", "0", "--data"])
        .arg(dir.path())
        .output()
        .unwrap();
    assert!(!done.status.success());
    assert!(String::from_utf8_lossy(&done.stderr).contains("smtp://host:port"));
}
