//! Changes are told to everybody who listens, as they are committed and in their order.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::{BufRead, BufReader};

use iron_kite_testkit::Server;
use serde_json::{Value, json};

#[test]
fn a_listener_hears_what_changed_and_who_did_it_but_no_values() {
    let server = Server::demo();
    let (wren, vik) = (server.signed_in("wren"), server.signed_in("vik"));
    let mut lines = BufReader::new(vik.request("GET", "events").send().unwrap()).lines().map(Result::unwrap);
    // The first event says that the stream has begun: what is changed from here on is heard.
    assert!(lines.any(|line| line == "event: hello"));
    let idea = wren.done("POST", "decide/ideas", &json!({ "product_id": 1, "title": "A secret title" }));
    let edit = json!({ "rev": 1, "set": { "title": "Another secret" } });
    let edited = wren.done("PATCH", &format!("things/idea/{}", idea["thing"]["id"]), &edit);
    let finding = json!({ "product_id": 1, "title": "Said", "excerpts": [1, 2] });
    let made = wren.done("POST", "listen/findings", &finding);
    let heard: Vec<Value> = lines
        .filter_map(|line| line.strip_prefix("data: ").map(|data| serde_json::from_str(data).unwrap()))
        .filter(|event: &Value| event.get("set").is_some())
        .take(3)
        .collect();
    let sets: Vec<&Value> = heard.iter().map(|event| &event["set"]).collect();
    assert_eq!(sets, [&idea["change"], &edited["change"], &made["change"]]);
    assert_eq!(heard[0]["kinds"], json!(["idea"]));
    assert_eq!(heard[2]["kinds"], json!(["finding", "link"]));
    assert_eq!((&heard[0]["user_id"], &heard[2]["rows"]), (&json!(1), &json!(3)));
    assert!(!heard.iter().any(|event| event.to_string().contains("secret")));
}

#[test]
fn an_erasure_is_heard_without_a_name() {
    let server = Server::demo();
    let (wren, vik) = (server.signed_in("wren"), server.signed_in("vik"));
    let mut lines = BufReader::new(vik.request("GET", "events").send().unwrap()).lines().map(Result::unwrap);
    assert!(lines.any(|line| line == "event: hello"));
    wren.done("POST", "listen/people/1/erase", &json!({}));
    let heard = lines.find(|line| line.starts_with("data: ") && line.contains("\"set\"")).unwrap();
    assert!(heard.contains("feedback_item") && heard.contains("person"), "{heard}");
    assert!(!heard.contains("Corrie"), "{heard}");
}

#[test]
fn the_undo_of_the_interface_goes_over_the_same_routes() {
    let server = Server::demo();
    let tamar = server.signed_in("tamar");
    // What the demo says in her name could be taken back, too.
    let demo = tamar.get("undo")["undo"].clone();
    assert!(demo.as_str().is_some_and(|label| label.starts_with("commented on")), "{demo}");
    assert_eq!(tamar.get("undo"), json!({ "undo": demo, "redo": null }));
    let saved = tamar.done("PATCH", "things/idea/6", &json!({ "rev": 4, "set": { "reach": 2200 } }));
    assert_eq!(saved["label"], "changed reach of I6");
    assert_eq!(tamar.get("undo")["undo"], "changed reach of I6");
    let undone = tamar.done("POST", "undo", &json!({}));
    assert_eq!(undone["label"], "undid: changed reach of I6");
    assert_eq!(tamar.get("undo"), json!({ "undo": demo, "redo": "changed reach of I6" }));
    tamar.done("POST", "redo", &json!({}));
    let history = tamar.get("history/idea/6");
    let labels: Vec<&str> =
        history.as_array().unwrap().iter().take(3).map(|line| line["label"].as_str().unwrap()).collect();
    assert_eq!(labels, ["did again: changed reach of I6", "undid: changed reach of I6", "changed reach of I6"]);
    // One change of a thing can be taken back from its history, by an editor also somebody else's.
    let first = history.as_array().unwrap().last().unwrap()["id"].clone();
    let refused = tamar.refused("POST", &format!("changes/{first}/undo"), &json!({}), "changed-since");
    assert!(refused["detail"].as_str().unwrap().contains("I6"), "{refused}");
}
