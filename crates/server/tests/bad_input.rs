//! What does not fit gets a clear problem and changes nothing.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_testkit::{Client, PASSWORD, Server};
use serde_json::{Value, json};

/// Everything in the workspace, to see that nothing was changed.
fn all(client: &Client) -> Value {
    client.get("takeout/workspace.json")
}

fn send(client: &Client, path: &str, body: impl Into<reqwest::blocking::Body>) -> Value {
    let answer = client.request("POST", path).body(body).send().unwrap();
    assert_eq!(answer.headers()["content-type"], "application/problem+json", "{path}");
    answer.json().unwrap()
}

#[test]
fn every_refusal_has_a_code_and_words_and_leaves_everything_as_it_was() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let before = all(&wren);

    // Wrong types, missing fields, unknown fields.
    let wrong = wren.refused(
        "PATCH",
        "things/idea/6",
        &json!({ "rev": 2, "set": { "reach": "many", "state": "chosen" } }),
        "invalid",
    );
    let fields: Vec<&str> = wrong["faults"].as_array().unwrap().iter().map(|f| f["field"].as_str().unwrap()).collect();
    assert_eq!(fields, ["/set/reach", "/set/state"]);
    wren.refused("PATCH", "things/idea/6", &json!({ "rev": "two", "set": {} }), "invalid");
    wren.refused("POST", "decide/ideas", &json!({ "product_id": 1, "title": " " }), "invalid");
    wren.refused("PATCH", "things/idea/9999", &json!({ "rev": 1, "set": { "title": "x" } }), "not-found");
    wren.refused("PATCH", "things/unknown/1", &json!({ "rev": 1, "set": {} }), "not-found");
    wren.refused("GET", "nothing/here", &json!({}), "not-found");
    wren.refused("PATCH", "things/release/2", &json!({ "rev": 2, "set": { "ends_on": "2020-01-01" } }), "invalid");

    // A stale revision: 409 with the present values.
    let stale = wren.refused("PATCH", "things/idea/6", &json!({ "rev": 0, "set": { "title": "x" } }), "stale");
    assert_eq!(
        (stale["status"].as_u64(), stale["present"]["title"].as_str()),
        (Some(409), Some("Say what comes along"))
    );

    // A circle of dependencies: S6 needs S7, so S7 cannot need S6.
    let circle = json!({ "kind": "needed_by", "from": { "kind": "work_item", "id": 6 }, "to": { "kind": "work_item", "id": 7 } });
    let refused = wren.refused("POST", "links", &circle, "dependency-circle");
    assert!(refused["detail"].as_str().unwrap().contains("S6 → S7 → S6"), "{refused}");

    // A story that is not ready stays where it is.
    let not_ready = wren.refused("POST", "handover/stories/12", &json!({ "rev": 2, "team_id": 1 }), "not-ready");
    assert!(not_ready["detail"].as_str().unwrap().contains("estimate its points"), "{not_ready}");

    // Ten megabytes in one cell; a picture called .csv; an empty file; a body without end.
    let long = format!("review\n{}\n", "x".repeat(10_000_000));
    let file = wren.put_down(1, "a.csv", long);
    assert_eq!(file["parts"][0]["counts"], json!({ "new": 0, "same": 0, "changed": 0, "left_out": 1 }));
    let _ = wren.over(&wren.bring_in(1, &file));
    let mut picture = b"\x89PNG\r\n\x1a\n".to_vec();
    picture.extend((0..=255).cycle().take(20_000));
    assert_eq!(wren.put_down(1, "a.csv", picture)["parts"][0]["holds"], "wordless");
    let empty = wren.put_down(1, "a.csv", "");
    assert!(empty["parts"][0]["words"].as_str().unwrap().contains("empty"), "{empty}");
    let file = wren.put_down(1, "a.csv", "a\nb\n");
    let wrong = json!({ "file": file["id"], "part": 0, "columns": { "text": 9 } });
    wren.refused("POST", "listen/files/counts", &wrong, "invalid");
    wren.refused("POST", "listen/imports", &json!({ "product": 2, "parts": [wrong] }), "invalid");
    wren.refused("POST", "listen/imports", &json!({ "product": 1, "parts": [] }), "invalid");
    let gone = json!({ "product": 1, "parts": [{ "file": 999, "part": 0 }] });
    wren.refused("POST", "listen/imports", &gone, "not-found");
    let huge = json!({ "product_id": 1, "title": "x".repeat(2_000_000) });
    wren.refused("POST", "decide/ideas", &huge, "too-large");

    // A workspace from a newer program, and one into a workspace that is not empty.
    let newer = json!({ "format": "iron-kite-workspace", "version": 99, "tables": {} }).to_string();
    assert!(send(&wren, "takeout/workspace", newer)["detail"].as_str().unwrap().contains("newer Iron Kite"));
    let refused = send(&wren, "takeout/workspace", before.to_string());
    assert!(refused["detail"].as_str().unwrap().contains("not empty"), "{refused}");

    assert_eq!(all(&wren), before);
}

#[test]
fn a_sign_in_is_refused_alike_for_nobody_and_for_a_wrong_password_and_slows_down() {
    let server = Server::demo();
    let client = server.client();
    let nobody =
        client.refused("POST", "session", &json!({ "email": "no@one.example", "password": PASSWORD }), "wrong-sign-in");
    let wrong = client.refused(
        "POST",
        "session",
        &json!({ "email": "vik@crossing.example", "password": "x" }),
        "wrong-sign-in",
    );
    assert_eq!(nobody, wrong);
    let body = json!({ "email": "vik@crossing.example", "password": "x" });
    let codes: Vec<u16> = (0..14).map(|_| client.post("session", &body).status().as_u16()).collect();
    assert!(codes.contains(&429), "{codes:?}");
}

#[test]
fn a_session_that_has_ended_is_told_so() {
    let server = Server::demo();
    let client = server.signed_in("tamar");
    client.request("DELETE", "session").send().unwrap();
    client.refused("GET", "me", &json!({}), "not-signed-in");
}

#[test]
fn pages_carry_a_strict_policy() {
    let server = Server::demo();
    let answer = reqwest::blocking::get(&server.address).unwrap();
    let policy = answer.headers()["content-security-policy"].to_str().unwrap().to_owned();
    assert!(policy.contains("default-src 'self'") && !policy.contains("unsafe"), "{policy}");
    assert_eq!(reqwest::blocking::get(format!("{}/healthz", server.address)).unwrap().text().unwrap(), "ok\n");
}

#[test]
fn a_view_that_does_not_fit_is_refused_and_changes_nothing() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let before = all(&wren);
    let rows = |query: Value| json!({ "product": 1, "query": query });
    let at = |problem: &Value| problem["faults"][0]["field"].as_str().unwrap().to_owned();

    // A filter on a field that is not there, and a value of a wrong type.
    let missing = json!({ "filter": { "field": "colour", "operator": "is", "value": "red" } });
    let problem = wren.refused("POST", "collections/idea/rows", &rows(missing), "invalid");
    assert_eq!(at(&problem), "/filter/field");
    let wrong = json!({ "filter": { "and": [{ "field": "reach", "operator": "more", "value": "many" }] } });
    let problem = wren.refused("POST", "collections/idea/rows", &rows(wrong), "invalid");
    assert_eq!(at(&problem), "/filter/and/0/value");
    let unknown = json!({ "filter": { "field": "reach", "operator": "resembles", "value": 1 } });
    wren.refused("POST", "collections/idea/rows", &rows(unknown), "invalid");
    wren.refused("POST", "collections/boats/rows", &rows(json!({})), "not-found");
    let deep = (0..2_000).fold(String::from("{\"and\":[]}"), |inner, _| format!("{{\"not\":{inner}}}"));
    let answer = wren
        .request("POST", "collections/idea/rows")
        .header("content-type", "application/json")
        .body(format!("{{\"product\":1,\"query\":{{\"filter\":{deep}}}}}"))
        .send()
        .unwrap();
    assert_eq!(answer.status(), 422);

    // A paste of a megabyte, one beyond the edge, one of other people's product.
    let block =
        |text: String, rows: Value| json!({ "product": 1, "rows": rows, "fields": ["reach"], "cells": [[text]] });
    let row = json!([{ "id": 1, "rev": 1 }]);
    wren.refused("POST", "collections/idea/paste", &block("9".repeat(1_200_000), row.clone()), "too-large");
    wren.refused("POST", "collections/idea/paste", &block("many".into(), row), "invalid");
    wren.refused("POST", "collections/idea/paste", &block("1".into(), json!([])), "invalid");
    // A field that would roll up along nothing.
    let field = json!({ "label": "Sum", "type": "rolled_up", "path": ["boats"], "measure": "count", "of": null });
    wren.refused("POST", "collections/idea/fields", &field, "invalid");
    assert_eq!(all(&wren), before);
}

#[test]
fn what_is_put_in_as_a_picture_cannot_run() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let put = |name: &str, bytes: &'static [u8]| -> Value {
        let answer = wren.request("POST", &format!("attachments?name={name}")).body(bytes).send().unwrap();
        answer.json().unwrap()
    };
    let svg = put("boat.svg", b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>");
    let answer = wren.request("GET", &format!("attachments/{}", svg["id"])).send().unwrap();
    assert_eq!(answer.headers()["content-type"], "application/octet-stream");
    assert!(answer.headers()["content-disposition"].to_str().unwrap().starts_with("attachment"));
    assert_eq!(answer.headers()["content-security-policy"], "default-src 'none'; sandbox");
    // A part of it is given where one is asked for that there is, and only that.
    let part = |range: &str| {
        let asked = wren.request("GET", &format!("attachments/{}", svg["id"])).header("range", range).send().unwrap();
        let told = asked.headers().get("content-range").map(|told| told.to_str().unwrap().to_owned());
        (asked.status().as_u16(), told, asked.bytes().unwrap().len())
    };
    let (_, _, whole) = part("lines=1-2");
    assert_eq!(part("bytes=1-3"), (206, Some(format!("bytes 1-3/{whole}")), 3));
    assert_eq!(part("bytes=-2"), (206, Some(format!("bytes {}-{}/{whole}", whole - 2, whole - 1)), 2));
    for strange in ["bytes=0-0,2-2", "bytes=9-2", "bytes=x", "lines=1-2"] {
        assert_eq!(part(strange), (200, None, whole), "{strange}");
    }
    assert_eq!(part("bytes=999999-"), (416, Some(format!("bytes */{whole}")), 0));
    assert_eq!(server.client().request("GET", "attachments/1").send().unwrap().status(), 401);
}

#[test]
fn a_calendar_is_open_to_its_link_alone_and_not_without_end() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let views = wren.get("collections/release/views?product=1");
    let made = wren.done("POST", &format!("views/{}/calendar", views[0]["id"]), &json!({}));
    let path = made["path"].as_str().unwrap().trim_start_matches("/api/v1/").to_owned();
    let nobody = server.client();
    let answer = nobody.request("GET", &path).send().unwrap();
    assert_eq!(answer.headers()["content-type"], "text/calendar; charset=utf-8");
    let calendar: icalendar::Calendar = answer.text().unwrap().parse().unwrap();
    let names: Vec<&str> =
        calendar.components.iter().filter_map(|one| icalendar::Component::get_summary(one.as_event()?)).collect();
    assert_eq!(names, ["R1 Eider", "R2 Fulmar", "R3 Gannet"]);
    let guesses = (0..80).map(|n| nobody.request("GET", &format!("calendars/{n}.ics")).send().unwrap().status());
    assert!(guesses.into_iter().any(|status| status == 429));
}

#[test]
fn the_log_never_holds_the_secret_of_a_calendar_link() {
    let dir = tempfile::tempdir().unwrap();
    let log = dir.path().join("log");
    let out = std::fs::File::create(&log).unwrap();
    let mut child = std::process::Command::new(iron_kite_testkit::binary())
        .args(["demo", "--port", "0", "--exit-on-stdin-eof", "--data"])
        .arg(dir.path().join("workspace"))
        .env("RUST_LOG", "trace")
        .stdin(std::process::Stdio::piped())
        .stdout(std::process::Stdio::piped())
        .stderr(out)
        .spawn()
        .unwrap();
    let lines = std::io::BufRead::lines(std::io::BufReader::new(child.stdout.take().unwrap()));
    let said = |line: String| line.split("listens at ").nth(1).map(str::to_owned);
    let address = lines.map_while(Result::ok).find_map(said).unwrap();
    let answer = reqwest::blocking::get(format!("{address}/api/v1/calendars/s3cret-key.ics")).unwrap();
    assert_eq!(answer.status(), 404);
    drop(child.stdin.take());
    child.wait().unwrap();
    let log = std::fs::read_to_string(log).unwrap();
    assert!(log.contains("/api/v1/calendars/{key}.ics"), "the request is in the log");
    assert!(!log.contains("s3cret-key"), "{log}");
}
