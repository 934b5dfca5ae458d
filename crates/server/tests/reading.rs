//! The real engine reads in the background of the real program.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_testkit::{Client, Server, binary, reviews_csv};
use serde_json::{Value, json};

fn unread(client: &Client) -> i64 {
    let query = json!({ "fields": ["sure"], "filter": { "field": "sure", "operator": "empty" } });
    let page = client.done("POST", "collections/excerpt/rows", &json!({ "product": 1, "query": query }));
    page["count"].as_i64().unwrap()
}

#[test]
fn reading_can_be_stopped_and_goes_on_after_a_restart() {
    let folder = tempfile::tempdir().unwrap();
    let mut server = Server::demo_in(folder.path());
    let owner = server.signed_in("wren");
    assert_eq!(unread(&owner), 0, "the demo comes read");
    let file = owner.put_down(1, "more.csv", reviews_csv(600));
    owner.bring_in(1, &file);
    let reading = || {
        let jobs = owner.get("jobs?product=1");
        let going = |job: &&Value| job["kind"] == "read" && job["ended_at"].is_null();
        let found = jobs.as_array().unwrap().iter().find(going);
        found.map(|job| job["id"].as_i64().unwrap())
    };
    owner.until("the reading has begun", || reading().is_some());
    let job = reading().unwrap();
    owner.done("POST", &format!("jobs/{job}/cancel"), &json!({}));
    owner.until("it has stopped", || reading().is_none());
    let (left, items) = (unread(&owner), owner.get("listen/items?product=1")["all"].as_i64().unwrap());
    assert!(left > 0, "it was stopped before its end");
    server.kill();
    let server = Server::demo_in(folder.path());
    let owner = server.signed_in("wren");
    owner.until("everything is read", || unread(&owner) == 0);
    assert_eq!(owner.get("listen/items?product=1")["all"].as_i64().unwrap(), items);
    owner.until("nothing is left of the job", || {
        let jobs = owner.get("jobs?product=1");
        !jobs.as_array().unwrap().iter().any(|job| job["state"] == "running")
    });
}

#[test]
fn what_a_command_brings_in_beside_the_server_is_read() {
    let server = Server::demo();
    let owner = server.signed_in("wren");
    owner.until("nothing runs", || {
        let jobs = owner.get("jobs?product=1");
        jobs.as_array().unwrap().iter().all(|job| !job["ended_at"].is_null())
    });
    assert_eq!(unread(&owner), 0);
    let all =
        || owner.done("POST", "collections/excerpt/rows", &json!({ "product": 1, "query": {} }))["count"].as_i64();
    let before = all();
    let path = server.dir().join("more.csv");
    std::fs::write(&path, "text\nThe evening boat left without a word, and we stood there in the rain.\n").unwrap();
    let words = ["import", "feedback", "--data"];
    let done = std::process::Command::new(binary()).args(words).arg(server.dir()).arg(&path).output().unwrap();
    assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
    // Nobody does anything else.
    owner.until("it is read", || all() > before && unread(&owner) == 0);
}
