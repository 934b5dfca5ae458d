//! Every route of the API, with each role and with none.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_testkit::{Client, Server};
use serde_json::{Value, json};

/// Routes that anybody may use: the start page and the sign-in.
const OPEN: [&str; 12] = [
    "GET /start",
    "POST /start",
    "POST /session",
    "DELETE /session",
    // Programs that subscribe to a calendar bring the secret of its link.
    "GET /calendars/{key}.ics",
    // Whoever has a form's link may fill it in where it is open, and see by a private link what became of it.
    "GET /open/forms/{key}",
    "POST /open/forms/{key}",
    "GET /open/requests/{key}",
    "GET /open/senders/{key}",
    "POST /open/senders/{key}",
    // Whoever has a link that works once sets a password by it.
    "POST /joining/look",
    "POST /joining",
];
/// Routes that only ask, though what they ask does not fit into an address.
const ASK: [&str; 8] = [
    "POST /rules/try",
    "POST /decide/scores",
    "POST /decide/scores/why",
    "POST /decide/budget",
    "POST /decide/models/weights",
    "POST /collections/{collection}/rows",
    "POST /collections/{collection}/groups",
    "POST /collections/{collection}/export",
];
/// Routes that write what only concerns whoever asks.
const MINE: [&str; 11] = [
    "PUT /me/password",
    "POST /me/tokens",
    "DELETE /tokens/{id}",
    "PUT /following/{kind}/{id}",
    "POST /notices/read",
    "PUT /notices/settings",
    "PUT /visit",
    // What somebody did takes the right that it took: a viewer has views of their own.
    "POST /undo",
    "POST /redo",
    "POST /changes/{id}/undo",
    "POST /changes/{id}/undo/part",
];
/// Routes that a contributor may write to.
const LISTEN: [&str; 33] = [
    "POST /comments",
    "PATCH /comments/{id}",
    "POST /comments/{id}/resolved",
    "DELETE /comments/{id}",
    // What somebody says alone; to agree takes an editor.
    "POST /decide/ideas/{id}/estimates",
    // An idea may be suggested by whoever listens; a file belongs to nothing until a field holds it.
    "POST /collections/{collection}/things",
    "POST /collections/{collection}/things/table",
    "POST /attachments",
    // In a team that they belong to, as the demo's contributor does.
    "POST /handover/stories/{id}/column",
    "POST /listen/imports",
    "POST /listen/files",
    "POST /listen/notes",
    "POST /listen/conversations",
    "POST /listen/channels/{id}/look",
    "POST /listen/accounts",
    "POST /listen/merge",
    "POST /listen/split",
    "POST /listen/files/counts",
    "POST /listen/files/read",
    "POST /jobs/{id}/cancel",
    "POST /listen/findings",
    "POST /listen/findings/{id}/excerpts",
    "POST /listen/findings/merge",
    "POST /listen/findings/{id}/split",
    "POST /listen/checks",
    "POST /listen/runs",
    "POST /listen/runs/{id}/take",
    "POST /decide/ideas",
    // By the kind of thing: these are asked for an idea, which takes an editor.
    "PATCH /things/{kind}/{id}",
    "DELETE /things/{kind}/{id}",
    // Reading marks an item as read, for whoever reads.
    "POST /listen/items/{id}/reading",
    "POST /listen/items/{id}/excerpts",
    "POST /listen/items/{id}/recording",
];
/// Routes that only an owner may use.
const OWN: [&str; 23] = [
    "PUT /members/closed",
    "PUT /members/role",
    "POST /members",
    "POST /members/link",
    "GET /tokens",
    "DELETE /products/{id}",
    "DELETE /handover/teams/{id}",
    "GET /workspace",
    "POST /workspace/backups",
    "GET /calendar-links",
    "DELETE /calendar-links/{id}",
    "GET /listen/people/{id}/erasure",
    "GET /outbox",
    "POST /outbox/{id}/again",
    "POST /listen/channels",
    "PATCH /listen/channels/{id}",
    "DELETE /listen/channels/{id}",
    "POST /listen/people/{id}/erase",
    "GET /members",
    "POST /products",
    "POST /start/product",
    "GET /takeout/workspace.json",
    "POST /takeout/workspace",
];

/// Every operation that the API describes.
fn operations(client: &Client) -> Vec<(String, String, Value)> {
    let description = client.get("openapi.json");
    let paths = description["paths"].as_object().unwrap().clone();
    let mut all = Vec::new();
    for (path, item) in paths {
        for (method, operation) in item.as_object().unwrap() {
            all.push((method.to_uppercase(), path.replace("/api/v1", ""), operation.clone()));
        }
    }
    assert!(all.len() > 45, "{}", all.len());
    all
}

/// Asks with everything that the address needs and an empty body: enough to reach the check of the role.
fn status(client: &Client, method: &str, path: &str, operation: &Value) -> u16 {
    let mut address = path
        .trim_start_matches('/')
        .replace("{kind}", "idea")
        .replace("{id}", "1")
        .replace("{reference}", "I1")
        .replace("{collection}", "idea");
    let mut query = Vec::new();
    for parameter in operation["parameters"].as_array().into_iter().flatten() {
        if parameter["in"] == "query" && parameter["required"] == true {
            // No thing is at revision 0, so that nothing is removed on the way.
            let name = parameter["name"].as_str().unwrap();
            let value = match (path, name) {
                ("/listen/likely-same", _) => "person".into(),
                ("/listen/checks", "about") => "kind".into(),
                ("/listen/checks", "way") => "unsure".into(),
                _ => i32::from(name != "rev").to_string(),
            };
            query.push(format!("{name}={value}"));
        }
    }
    if !query.is_empty() {
        address = format!("{address}?{}", query.join("&"));
    }
    let request = client.request(method, &address);
    let content = &operation["requestBody"]["content"];
    let request = if content.get("application/json").is_some() {
        request.json(&body(path))
    } else {
        request.body("text\nhello there everybody\n")
    };
    request.send().unwrap().status().as_u16()
}

/// A body that can be decoded; most are then refused by a rule, which comes after the role.
fn body(path: &str) -> Value {
    let idea = json!({ "kind": "idea", "id": 1 });
    match path {
        "/links" | "/links/remove" => {
            json!({ "kind": "asks_for", "from": { "kind": "objective", "id": 1 }, "to": idea })
        }
        "/comments" => json!({ "on": idea, "body": "x" }),
        "/comments/{id}/resolved" => json!({ "rev": 0, "resolved": true }),
        "/comments/{id}" => json!({ "rev": 0, "body": "x" }),
        "/changes/{id}/undo/part" => json!({ "thing": idea }),
        "/following/{kind}/{id}" => json!({ "follows": false }),
        "/notices/settings" => json!({ "sort": "rule", "here": true, "by_mail": false }),
        "/handover/teams/{id}/people" => json!({ "people": [] }),
        "/rules" | "/rules/{id}" | "/rules/try" => {
            let definition = json!({ "collection": "idea", "when": { "sort": "created" }, "then": [] });
            json!({ "product": 1, "title": "x", "runs": false, "definition": definition })
        }
        "/listen/checks" => json!({ "excerpt": 1, "about": "kind", "way": "unsure", "said": "habit" }),
        "/things/{kind}/{id}" => json!({ "rev": 0, "set": { "title": "x" } }),
        "/plan/releases/{id}/state" => json!({ "rev": 0, "state": "planned" }),
        "/decide/scores" => json!({ "product": 1 }),
        "/decide/scores/why" => json!({ "product": 1, "idea": 1 }),
        "/decide/budget" => json!({ "product": 1, "budget": 10 }),
        "/decide/models/weights" => json!({ "count": 2, "pairs": [3] }),
        "/decide/models/use" => json!({ "product": 1, "key": "ice" }),
        "/decide/models" | "/decide/models/{id}" => {
            json!({ "product": 1, "rev": 0, "definition": { "title": "x", "method": "own", "criteria": [] } })
        }
        "/decide/ideas/{id}/estimates" => json!({ "field": "reach", "said": "40", "agreed": false }),
        "/decide/prioritisations" => json!({ "product": 1, "title": "x", "top": 3 }),
        "/decide/ideas/{id}/decision" => json!({ "rev": 0, "outcome": "chosen", "reason": "because" }),
        "/learn/results" => {
            json!({ "idea_id": 1, "set": { "measure": "x", "before": 1, "after": 2, "measured_on": "2026-01-01" } })
        }
        "/listen/notes" => json!({ "product": 1, "text": "x" }),
        "/listen/conversations" => json!({ "study": 1, "lines": [] }),
        "/listen/channels" => {
            json!({ "product": 1, "name": "x", "kind": "folder", "place": "", "every_minutes": 5 })
        }
        "/listen/items/{id}/excerpts" => json!({ "rev": 0, "from": 0, "to": 1 }),
        "/decide/market/notes" => json!({ "competitor_id": 1, "words": "x", "source": "x" }),
        "/decide/market/research" => json!({ "product": 1, "question": "?" }),
        "/decide/ideas/merge" => json!({ "keep": 1, "others": [] }),
        "/decide/objectives/{id}/measurements" => json!({ "value": 1 }),
        "/decide/objectives/{id}/serving" => json!({ "thing": idea }),
        "/listen/quotes" => json!({ "excerpts": [], "to": idea }),
        "/listen/findings/merge" => json!({ "keep": 1, "others": [] }),
        "/listen/merge" => json!({ "kind": "person", "keep": 1, "others": [] }),
        "/me/password" => json!({ "present": "x", "password": "x" }),
        "/me/tokens" => json!({ "name": "x", "role": "viewer" }),
        "/members" | "/members/role" => {
            json!({ "email": "nobody@crossing.example", "name": "Nobody", "role": "viewer" })
        }
        "/members/link" => json!({ "email": "nobody@crossing.example" }),
        "/listen/files/read" => json!({ "file": 1, "part": "x", "how": {} }),
        "/handover/teams/{id}" => {
            json!({ "rev": 0, "name": "x", "columns": [{ "title": "x", "state": "handed_over" }] })
        }
        "/members/closed" => json!({ "email": "nobody@crossing.example", "closed": true }),
        "/handover/teams" => json!({ "name": "x", "columns": [{ "title": "x", "state": "handed_over" }] }),
        _ => json!({
            "rev": 0, "product_id": 1, "title": "x", "name": "x", "words": "x", "set": { "title": "x" }, "excerpts": [],
            "team_id": 1, "column_id": 1, "query": {}, "kind": "csv", "changes": [], "rows": [], "fields": [], "cells": [],
            "label": "x", "type": "text", "parts": [], "person": 1, "items": [], "text": "x", "file": 1, "part": 0, "shared": true, "definition": {}, "retired": true, "product": 1, "open": false,
        }),
    }
}

#[test]
fn every_route_asks_for_its_role() {
    let server = Server::demo();
    let nobody = server.client();
    let people = ["vik", "joss", "tamar", "wren"].map(|name| (name, server.signed_in(name)));
    let mut wrong = Vec::new();
    for (method, path, operation) in operations(&nobody) {
        let route = format!("{method} {path}");
        let is = |list: &[&str]| list.contains(&route.as_str());
        // Whoever leaves or ends a session is not there for the next question.
        if is(&OPEN) || path == "/events" || route == "DELETE /me" || route.starts_with("DELETE /me/sessions") {
            continue;
        }
        if status(&nobody, &method, &path, &operation) != 401 {
            wrong.push(format!("{route}: open to nobody signed in"));
        }
        let reads = method == "GET" || path.ends_with("/reading") || is(&ASK) || is(&MINE);
        let least = match () {
            () if is(&OWN) => 3,
            () if reads => 0,
            () if is(&LISTEN) && path.starts_with("/things") => 2,
            () if is(&LISTEN) => 1,
            () => 2,
        };
        for (rank, (name, client)) in people.iter().enumerate() {
            let answer = status(client, &method, &path, &operation);
            if (answer == 403) != (rank < least) || answer == 401 || answer >= 500 {
                wrong.push(format!("{route}: {name} gets {answer}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
}

#[test]
fn live_changes_are_for_those_who_are_signed_in() {
    let server = Server::demo();
    assert_eq!(server.client().request("GET", "events").send().unwrap().status(), 401);
    let answer = server.signed_in("vik").request("GET", "events").send().unwrap();
    assert_eq!(
        (answer.status().as_u16(), answer.headers()["content-type"].to_str().unwrap()),
        (200, "text/event-stream")
    );
}

#[test]
fn a_request_from_another_site_is_refused() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    for (name, value) in [("sec-fetch-site", "cross-site"), ("origin", "https://elsewhere.example")] {
        let answer = client.request("POST", "undo").header(name, value).send().unwrap();
        let problem: Value = answer.json().unwrap();
        assert_eq!(problem["code"], "other-site", "{name}");
    }
    let own = client.request("POST", "undo").header("sec-fetch-site", "same-origin").send().unwrap();
    assert_eq!(own.status(), 200);
}
