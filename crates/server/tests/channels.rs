//! Channels: a folder, a mail box, a support desk and a review site, looked at again and again. Nothing is lost and
//! nothing comes twice, whatever ends in between.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, SystemTime};

use iron_kite_stand_ins::{Place, StandIn};
use iron_kite_testkit::{Client, Server, draws_itself};
use serde_json::{Value, json};

/// A file that has been there for a while.
fn put(path: &std::path::Path, text: &str, minutes_ago: u64) {
    std::fs::write(path, text).unwrap();
    let then = SystemTime::now() - Duration::from_secs(60 * minutes_ago);
    std::fs::File::options().append(true).open(path).unwrap().set_modified(then).unwrap();
}

/// While a file is being written.
fn while_written(path: &std::path::Path, act: impl FnOnce()) {
    let over = AtomicBool::new(false);
    std::fs::write(path, "Half a sen").unwrap();
    std::thread::scope(|scope| {
        scope.spawn(|| {
            while !over.load(Ordering::Relaxed) {
                std::fs::write(path, "Half a sen").unwrap();
                std::thread::sleep(Duration::from_millis(200));
            }
        });
        let done = std::panic::catch_unwind(std::panic::AssertUnwindSafe(act));
        over.store(true, Ordering::Relaxed);
        done.unwrap();
    });
}

fn add(client: &Client, name: &str, kind: &str, place: &str) -> i64 {
    // It is due once, when it is set up; from then on only where it is asked for.
    let new = json!({ "product": 1, "name": name, "kind": kind, "place": place, "key": "open-sesame", "every_minutes": 10_000 });
    let answer = client.post("listen/channels", &new);
    let status = answer.status();
    let saved: Value = answer.json().unwrap();
    assert_eq!(status, 200, "{saved}");
    let id = saved["thing"]["id"].as_i64().unwrap();
    client.until(&format!("the first look at {name}"), || !channel(client, id)["looked_at"].is_null());
    id
}

fn channel(client: &Client, id: i64) -> Value {
    let all = client.get("listen/channels?product=1");
    all.as_array().unwrap().iter().find(|one| one["id"] == id).unwrap().clone()
}

/// Looks, waits until that is over, and tells what went wrong.
fn look(client: &Client, id: i64) -> Value {
    let before = channel(client, id)["looked_at"].clone();
    std::thread::sleep(Duration::from_millis(5));
    assert_eq!(client.post(&format!("listen/channels/{id}/look"), &json!({})).status(), 200);
    client.until("the look", || channel(client, id)["looked_at"] != before);
    channel(client, id)["problem"].clone()
}

fn items(client: &Client) -> i64 {
    client.get("listen/items?product=1")["all"].as_i64().unwrap()
}

#[test]
fn a_folder_and_a_mail_box_give_what_is_new() {
    let server = Server::demo_with(&["--nearby"]);
    let wren = server.signed_in("wren");
    let (before, dir) = (items(&wren), server.dir().join("channels"));
    let drop = dir.join("drop");
    std::fs::create_dir(&drop).unwrap();
    put(&drop.join("one.csv"), "text,who\nThe ramp was up for an hour,Ann\nNobody said why,Bo\n", 9);
    put(&drop.join(".hidden.csv"), "text\nNot this one\n", 9);
    let folder = add(&wren, "Dropped", "folder", &drop.display().to_string());
    assert_eq!(items(&wren), before + 2);
    // The same once more is nothing, and leaves no job behind.
    let jobs = wren.brought(1).len();
    assert_eq!(look(&wren, folder), Value::Null);
    assert_eq!((items(&wren), wren.brought(1).len()), (before + 2, jobs));
    // A grown file gives its new row, a new file all of it, one that is being written waits.
    put(&drop.join("one.csv"), "text,who\nThe ramp was up for an hour,Ann\nNobody said why,Bo\nAgain today,Bo\n", 5);
    put(&drop.join("two.txt"), "I waited at the wrong pier, and the sign was down.", 5);
    while_written(&drop.join("three.txt"), || {
        assert_eq!(look(&wren, folder), Value::Null);
        assert_eq!(items(&wren), before + 4);
    });

    let mail = |number: u32, words: &str| {
        format!(
            "From - Mon Jun 29 08:00:00 2026\nFrom: Ada <ada@post.example>\nSubject: Pier\nMessage-ID: <{number}@post.example>\nDate: Mon, 29 Jun 2026 08:00:00 +0000\n\n{words}\n\n"
        )
    };
    let path = dir.join("post.mbox");
    std::fs::write(&path, mail(1, "The light on the pier is out.") + &mail(2, "Lane four was closed.")).unwrap();
    let post = add(&wren, "Post", "mailbox", &path.display().to_string());
    assert_eq!((items(&wren), channel(&wren, post)["items"].as_i64()), (before + 6, Some(2)));
    let grown = std::fs::read_to_string(&path).unwrap() + &mail(3, "It is still out, three days later.");
    std::fs::write(&path, &grown).unwrap();
    assert_eq!(look(&wren, post), Value::Null);
    assert_eq!(items(&wren), before + 7);
    // Written anew from the middle: its mails are known by their own numbers.
    std::fs::write(&path, mail(2, "Lane four was closed.") + &mail(3, "It is still out, three days later.")).unwrap();
    assert_eq!(look(&wren, post), Value::Null);
    assert_eq!(items(&wren), before + 7);

    // Nothing leads out of the folders that the server may read.
    std::os::unix::fs::symlink("/etc", dir.join("etc")).unwrap();
    for place in ["/etc".to_owned(), dir.join("etc").display().to_string(), dir.join("../..").display().to_string()] {
        let new = json!({ "product": 1, "name": "x", "kind": "folder", "place": place, "every_minutes": 5 });
        let answer = wren.post("listen/channels", &new);
        assert_eq!(answer.status(), 422, "{place}");
        assert!(answer.text().unwrap().contains("--watch"));
    }
}

/// Small files are read ahead of their turn: what one of them does to its reader is nobody else's, and each keeps its words.
#[test]
fn each_file_of_a_folder_is_read_as_itself_whatever_its_neighbours_do() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let drop = server.dir().join("channels").join("many");
    std::fs::create_dir(&drop).unwrap();
    for n in [3, 4, 11, 39] {
        std::fs::write(drop.join(format!("{n:02}-b.pdf")), draws_itself()).unwrap();
    }
    let large = format!(",Ann,{}\n", "a note ".repeat(5_000)).repeat(40);
    for n in 0..40 {
        // One that is large stands between small ones, and takes another way.
        let more = if n == 20 { large.as_str() } else { "" };
        put(&drop.join(format!("{n:02}-a.csv")), &format!("text,who,note\nFolder {n}. It was late.,Ann,\n{more}"), 9);
    }
    for file in std::fs::read_dir(&drop).unwrap() {
        let then = SystemTime::now() - Duration::from_secs(600);
        std::fs::File::options().append(true).open(file.unwrap().path()).unwrap().set_modified(then).unwrap();
    }
    add(&wren, "Many", "folder", &drop.display().to_string());
    let asked = json!({ "product": 1, "limit": 200, "query": {
        "fields": ["text", "source"],
        "filter": { "field": "text", "operator": "contains", "value": "Folder " },
    } });
    let found: Value = wren.post("collections/feedback_item/rows", &asked).json().unwrap();
    let mut found: Vec<(String, String)> = found["rows"].as_array().unwrap().iter().map(of_folder).collect();
    found.sort_unstable();
    let mut expected: Vec<(String, String)> =
        (0..40).map(|n| (format!("{n:02}-a.csv"), format!("Folder {n}."))).collect();
    expected.sort_unstable();
    assert_eq!(found, expected);
}

fn of_folder(row: &Value) -> (String, String) {
    let text = row["values"]["text"].as_str().unwrap();
    let end = text.find('.').unwrap() + 1;
    (row["values"]["source"].as_str().unwrap_or_default().to_owned(), text[..end].to_owned())
}

fn desk(records: usize) -> StandIn {
    let ticket = |n: usize| json!({ "number": format!("T-{n}"), "opened": "2026-06-20", "name": format!("Person {n}"), "message": format!("The boat number {n} was late and nobody told us.") });
    let records = (1..=records).map(ticket).collect();
    StandIn::start(Place {
        what: "tickets",
        key: Some("open-sesame".into()),
        records,
        first: usize::MAX,
        pause: Duration::ZERO,
    })
    .unwrap()
}

#[test]
fn a_desk_is_read_page_by_page_and_goes_on_where_it_ended() {
    let server = Server::demo_with(&["--nearby"]);
    let wren = server.signed_in("wren");
    let before = items(&wren);
    let place = desk(230);
    let id = add(&wren, "Desk", "desk", place.address());
    assert_eq!((items(&wren), channel(&wren, id)["problem"].clone()), (before + 230, Value::Null));
    // A refusal on the way: what came before it is kept, and the next look goes on.
    for n in 231..=340 {
        place.add(json!({ "number": format!("T-{n}"), "opened": "2026-06-21", "name": format!("Person {n}"), "message": format!("The boat number {n} was full.") }));
    }
    place.refuse_next(429);
    assert!(look(&wren, id).as_str().unwrap().contains("wait for 30 seconds"));
    assert_eq!(look(&wren, id), Value::Null);
    assert_eq!(items(&wren), before + 340);
    // A ticket that was changed is taken with its new words.
    place.add(json!({ "number": "T-7", "opened": "2026-06-20", "name": "Person 7", "message": "It came after all, and I take it back." }));
    assert_eq!(look(&wren, id), Value::Null);
    assert_eq!(items(&wren), before + 340);
    let report = wren.brought(1)[0]["id"].clone();
    let report = wren.get(&format!("listen/imports/{report}"));
    assert_eq!(report["parts"][0]["report"]["changed"][0]["after"], "It came after all, and I take it back.");
    // What was taken back does not come again by itself.
    place.add(json!({ "number": "T-900", "opened": "2026-06-22", "message": "Never mind, I found it in the end." }));
    assert_eq!((look(&wren, id), items(&wren)), (Value::Null, before + 341));
    let change = wren.brought(1)[0]["change"].clone();
    wren.done("POST", &format!("changes/{change}/undo"), &json!({}));
    assert_eq!((look(&wren, id), items(&wren)), (Value::Null, before + 340));

    // A wrong key says so, and no answer ever holds the key.
    let wrong = json!({ "rev": 1, "key": "wrong" });
    assert_eq!(wren.request("PATCH", &format!("listen/channels/{id}")).json(&wrong).send().unwrap().status(), 200);
    assert!(look(&wren, id).as_str().unwrap().contains("does not take the key"));
    let all = wren.get("listen/channels?product=1").to_string() + &wren.get("takeout/workspace.json").to_string();
    assert!(!all.contains("open-sesame") && !all.contains("\"wrong\""));
    std::mem::drop(place);
    assert!(look(&wren, id).as_str().unwrap().contains("cannot be reached"));
}

#[test]
fn a_look_that_the_program_ended_under_begins_anew() {
    let dir = tempfile::tempdir().unwrap();
    let mut server = Server::demo_in_with(dir.path(), &["--nearby"]);
    let wren = server.signed_in("wren");
    let before = items(&wren);
    let place = desk(3_000);
    let new = json!({ "product": 1, "name": "Desk", "kind": "desk", "place": place.address(), "key": "open-sesame", "every_minutes": 10_000 });
    assert_eq!(wren.post("listen/channels", &new).status(), 200);
    wren.until("some of it", || items(&wren) > before + 100);
    server.kill();
    let server = Server::demo_in_with(dir.path(), &["--nearby"]);
    let wren = server.signed_in("wren");
    let id = wren.get("listen/channels?product=1").as_array().unwrap().last().unwrap()["id"].as_i64().unwrap();
    wren.until("all of it", || !channel(&wren, id)["looked_at"].is_null());
    assert_eq!(items(&wren), before + 3_000);
    let states: Vec<String> = wren.brought(1).iter().map(|job| job["state"].to_string()).collect();
    assert!(states.iter().any(|state| state.contains("interrupted")), "{states:?}");
}
