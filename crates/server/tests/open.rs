//! Floods and tricks on what is open to outsiders: each is refused with the right code, and nothing is stored twice.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_testkit::{Client, Server};
use serde_json::{Value, json};

/// The link of the demo's form.
fn link(inside: &Client) -> String {
    format!("open/forms/{}", inside.get("decide/forms/1")["key"].as_str().unwrap())
}

fn answers(words: &str) -> Value {
    json!({ "answers": { "wish": words } })
}

fn count(inside: &Client, collection: &str) -> u64 {
    let ask = json!({ "product": 1, "query": { "fields": [] }, "limit": 1 });
    inside.done("POST", &format!("collections/{collection}/rows"), &ask)["count"].as_u64().unwrap()
}

#[test]
fn a_flood_is_stopped_and_tricks_are_refused() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let outside = server.client();
    let form = link(&wren);
    let before = (count(&wren, "request"), count(&wren, "feedback_item"));

    // From another site, by either sign of it.
    for (name, value) in [("sec-fetch-site", "cross-site"), ("origin", "https://elsewhere.example")] {
        let answer = outside.request("POST", &form).header(name, value).json(&answers("Let me in")).send().unwrap();
        assert_eq!(answer.status(), 403, "{name}");
    }
    // Oversized, by what it says of itself and by what comes.
    let large = answers(&"long ".repeat(20_000));
    assert_eq!(outside.post(&form, &large).status(), 413);
    // No JSON, JSON of another shape, answers that are no words.
    for body in ["", "{", "[]", "{\"answers\": 7}", "{\"answers\": {\"wish\": {\"$ne\": null}}}"] {
        let answer =
            outside.request("POST", &form).header("content-type", "application/json").body(body).send().unwrap();
        assert_eq!(answer.status(), 422, "{body}");
    }
    let nested = format!("{{\"answers\": {}{}}}", "[".repeat(20_000), "]".repeat(20_000));
    let answer = outside.request("POST", &form).header("content-type", "application/json").body(nested).send().unwrap();
    assert_eq!(answer.status(), 422);
    // Addresses that hold no form, or try to be something else.
    for key in ["0123456789abcdef0123", "x'%20OR%201=1--", "..%2f..%2fdecide%2fideas", "%00"] {
        let status = outside.request("GET", &format!("open/forms/{key}")).send().unwrap().status().as_u16();
        assert_eq!(status, 404, "{key}");
    }
    assert_eq!((count(&wren, "request"), count(&wren, "feedback_item")), before);

    // A script is words, and is kept as they are.
    let script =
        "<script>fetch('/api/v1/members')</script><img src=x onerror=alert(1)> =HYPERLINK(\"//x\") Bells, please";
    let sent: Value = outside.post(&form, &answers(script)).json().unwrap();
    let told = outside.get(&format!("open/requests/{}", sent["key"].as_str().unwrap()));
    assert_eq!((told["words"].as_str(), told["became"].as_str()), (Some(script), Some("received")));
    assert_eq!(told.as_object().unwrap().len(), 5, "nothing of the inside is told");
    // What is sent again is not stored again; sooner or later nothing more is taken at all.
    let mut seen = Vec::new();
    for _ in 0..14 {
        let answer = outside.post(&form, &answers(script));
        if answer.status() == 429 {
            assert!(answer.headers().contains_key("retry-after"));
        }
        seen.push(answer.status().as_u16());
    }
    assert!(seen.iter().all(|status| [409, 429].contains(status)), "{seen:?}");
    assert_eq!(seen.last(), Some(&429));
    assert_eq!((count(&wren, "request"), count(&wren, "feedback_item")), (before.0 + 1, before.1 + 1));
    // Asking is limited too, and whoever is signed in goes on working.
    let asked: Vec<u16> = (0..70).map(|_| outside.request("GET", &form).send().unwrap().status().as_u16()).collect();
    assert!(asked.contains(&429));
    assert_eq!(wren.get("decide/forms/1")["open"], true);
    // In a file for a sheet it begins no formula and no markup.
    let ask = json!({ "product": 1, "kind": "csv", "query": { "fields": ["words"] } });
    let csv = wren.post("collections/request/export", &ask).text().unwrap();
    assert!(csv.contains("Bells, please"), "{csv}");
    assert!(csv.lines().all(|line| !line.starts_with(['=', '+', '@'])), "{csv}");
}

#[test]
fn a_key_is_told_to_its_sender_alone() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let sent: Value = server.client().post(&link(&wren), &answers("A bench in the lee")).json().unwrap();
    let key = sent["key"].as_str().unwrap();
    let all = wren.get("takeout/workspace.json").to_string();
    assert!(all.contains("A bench in the lee") && !all.contains(key), "only a hash of it is kept");
}
