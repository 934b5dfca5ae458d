//! Everything that somebody can write over HTTP, done one after the other, taken back step by step, and done again: each
//! answer is as it is described, and each state is the one that was there before.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;
use std::path::Path;

use iron_kite_store::{Connection, database_path};
use iron_kite_testkit::{Client, Content, Server, content, differ};
use serde_json::{Value, json};

/// A write: how, where, and what. «idea 6» in it stands for the revision that idea 6 has just then, «new idea» for the number
/// of the newest one, «rev idea» for its revision.
struct Write {
    method: &'static str,
    path: String,
    body: Value,
}

fn write(method: &'static str, path: &str, body: Value) -> Write {
    Write { method, path: path.to_owned(), body }
}

fn add(path: &str, body: Value) -> Write {
    write("POST", path, body)
}

/// A text with what its «marks» stand for.
fn filled(text: &str, dir: &Path) -> String {
    let connection = Connection::open(database_path(dir)).unwrap();
    let mut parts = text.split('«');
    let mut out = parts.next().unwrap().to_owned();
    for part in parts {
        let (mark, rest) = part.split_once('»').unwrap();
        let sql = match mark.split_once(' ').unwrap() {
            ("new", table) => format!("SELECT max(id) FROM {table}"),
            ("rev", table) => format!("SELECT rev FROM {table} ORDER BY id DESC LIMIT 1"),
            (table, id) => format!("SELECT rev FROM {table} WHERE id = {id}"),
        };
        let number: i64 =
            connection.query_row(&sql, [], |row| row.get(0)).unwrap_or_else(|fault| panic!("{mark}: {fault}"));
        out.push_str(&number.to_string());
        out.push_str(rest);
    }
    out
}

impl Write {
    fn address(&self, dir: &Path) -> String {
        filled(&self.path, dir)
    }

    fn words(&self, dir: &Path) -> Value {
        let text = self.body.to_string().replace("\"«", "«").replace("»\"", "»");
        serde_json::from_str(&filled(&text, dir)).unwrap()
    }
}

/// What is written about what people said.
fn listening(_: &Path) -> Vec<Write> {
    let lines =
        json!([{ "words": "I was on the pier at six", "speaker": "Maud Arkell" }, { "words": "she shows her pass" }]);
    vec![
        add("listen/notes", json!({ "product": 1, "text": "The ramp was up when I came.", "person": "Maud Arkell" })),
        add("listen/conversations", json!({ "study": 1, "person": "Maud Arkell", "lines": lines })),
        add("listen/items/1/excerpts", json!({ "rev": "«feedback_item 1»", "from": 0, "to": 17 })),
        add("listen/findings", json!({ "product_id": 1, "title": "The ramp closes early", "excerpts": [3, 4] })),
        add("listen/findings/«new finding»/excerpts", json!({ "add": [5], "remove": [3] })),
        add("listen/findings/1/excerpts", json!({ "add": [300] })),
        add("listen/findings/1/split", json!({ "excerpts": [300], "title": "Said by itself" })),
        add("listen/findings/merge", json!({ "keep": 2, "others": [3] })),
        add("listen/checks", json!({ "excerpt": 7, "about": "kind", "way": "unsure", "said": "habit" })),
        add("listen/split", json!({ "person": 3, "items": [3], "name": "Maud the other" })),
        add("listen/merge", json!({ "kind": "person", "keep": 1, "others": [2] })),
        add("collections/document/things", json!({ "product": 1, "set": { "title": "Voices about the ramp" } })),
        add("listen/quotes", json!({ "excerpts": [8], "to": { "kind": "document", "id": "«new document»" } })),
        write("PATCH", "things/excerpt/9", json!({ "rev": "«excerpt 9»", "set": { "kind": "praise" } })),
        write("DELETE", "things/finding/4?rev=«finding 4»", json!(null)),
    ]
}

/// What is written about what is to be done.
fn deciding(_: &Path) -> Vec<Write> {
    let criteria = json!([
        { "key": "worth", "label": "Worth", "field": "impact" },
        { "key": "weeks", "label": "Weeks", "field": "effort" },
    ]);
    let model =
        json!({ "title": "Worth by the week", "method": "own", "criteria": criteria, "formula": "worth / weeks" });
    let mut other = model.clone();
    other["title"] = json!("Worth against weeks");
    let idea = |id: i64| json!({ "kind": "idea", "id": id });
    vec![
        add("decide/ideas", json!({ "product_id": 1, "title": "A bell at the ramp", "finding_id": 1 })),
        write(
            "PATCH",
            "things/idea/«new idea»",
            json!({ "rev": "«rev idea»", "set": { "reach": 90, "moscow": "should" } }),
        ),
        add("decide/ideas/merge", json!({ "keep": 10, "others": [11] })),
        add("decide/ideas/6/estimates", json!({ "field": "reach", "said": "10 20 40", "agreed": false })),
        add(
            "decide/ideas/6/decision",
            json!({ "rev": "«idea 6»", "outcome": "chosen", "reason": "It is asked for most" }),
        ),
        add("decide/models", json!({ "product": 1, "definition": model })),
        add(
            "decide/models/«new scoring_model»",
            json!({ "product": 1, "rev": "«rev scoring_model»", "definition": other }),
        ),
        add("decide/models/use", json!({ "product": 1, "key": "ice" })),
        add("decide/prioritisations", json!({ "product": 1, "title": "For the spring", "top": 3 })),
        add("decide/prioritisations/2/agreement?rev=«prioritisation 2»", json!(null)),
        add("decide/objectives/1/measurements", json!({ "value": 12.5, "taken_on": "2026-02-03" })),
        add("decide/objectives/2/measurements/table", json!({ "text": "2026-03-01\t4\n2026-04-01\t5\n" })),
        add("decide/objectives/4/serving", json!({ "thing": idea(8), "part": 0.4 })),
        add("decide/market/competitors", json!({ "product_id": 1, "name": "Sandry Rowers" })),
        add("decide/market/capabilities", json!({ "product_id": 1, "title": "Tea on board" })),
        add("decide/market/notes", json!({ "competitor_id": 1, "words": "No tea.", "source": "a crossing" })),
        add("decide/market/notes/1", json!({ "rev": "«competitor_note 1»", "capability_id": 2 })),
        add("decide/market/pages", json!({ "product_id": 1, "title": "Fares", "text": "Four coins a leg." })),
        add("decide/forms", json!({ "product_id": 1, "title": "What would help on deck?" })),
        write(
            "PATCH",
            "decide/forms/«new request_form»",
            json!({ "rev": "«rev request_form»", "open": true, "fields": [{ "key": "wish", "asks": "words", "label": "A wish?", "must": true }] }),
        ),
        add("decide/requests/2/idea", json!({ "title": "A wish from a form" })),
    ]
}

/// What is written about how it is built and what came of it.
fn building(_: &Path) -> Vec<Write> {
    let columns = json!([{ "title": "In", "state": "handed_over" }, { "title": "Out", "state": "done" }]);
    let result = json!({ "measure": "calls a day", "before": 40, "after": 25, "measured_on": "2026-04-01" });
    vec![
        add("specify/epics", json!({ "product_id": 1, "idea_id": 5 })),
        add("specify/stories", json!({ "product_id": 1, "epic_id": 13, "set": { "title": "Hear the bell" } })),
        add("specify/stories/«new work_item»/criteria", json!({ "words": "Given a closing ramp, then it rings" })),
        add("map/activities?product=1", json!({ "title": "On the way home" })),
        add("map/activities/«new activity»/steps", json!({ "title": "Walk up the hill" })),
        add("map/stories/24/place", json!({ "rev": "«work_item 24»", "step_id": 4, "release_id": 3 })),
        add("plan/releases/3/state", json!({ "rev": "«release 3»", "state": "under_way" })),
        add("handover/teams", json!({ "name": "Ropes", "columns": columns })),
        write("PUT", "handover/teams/«new team»/people", json!({ "people": [2, 3] })),
        add("handover/stories/5/column", json!({ "rev": "«work_item 5»", "column_id": 2 })),
        add("handover/stories/21", json!({ "rev": "«work_item 21»", "team_id": 1 })),
        add("learn/results", json!({ "idea_id": 4, "set": result })),
        add(
            "links",
            json!({ "kind": "needed_by", "from": { "kind": "work_item", "id": 23 }, "to": { "kind": "work_item", "id": 24 } }),
        ),
        add(
            "links/remove",
            json!({ "kind": "needed_by", "from": { "kind": "work_item", "id": 23 }, "to": { "kind": "work_item", "id": 24 } }),
        ),
        write("DELETE", "things/release/4?rev=«release 4»", json!(null)),
    ]
}

/// What is written about any things, and around them.
fn around(dir: &Path) -> Vec<Write> {
    let letters = dir.join("channels/letters");
    std::fs::create_dir_all(&letters).unwrap();
    let cells = json!([
        { "id": 7, "rev": "«idea 7»", "set": { "reach": 5 } },
        { "id": 8, "rev": "«idea 8»", "set": { "reach": null } },
    ]);
    let rows = json!([{ "id": 7, "rev": "«idea 7»" }, { "id": 8, "rev": "«idea 8»" }]);
    let field = json!({ "label": "Mood", "type": "text" });
    let view = json!({ "name": "By mood", "shared": true, "definition": { "kind": "list" } });
    let rule = |title: &str| {
        let definition = json!({ "collection": "idea", "when": { "sort": "created" }, "then": [{ "act": "comment", "words": "New." }] });
        json!({ "product": 1, "title": title, "runs": false, "rev": "«rev rule»", "definition": definition })
    };
    vec![
        add("products", json!({ "name": "Harbour" })),
        add("collections/idea/cells", json!({ "product": 1, "changes": cells })),
        add(
            "collections/idea/paste",
            json!({ "product": 1, "rows": rows, "fields": ["reach", "impact"], "cells": [["1", "2"], ["3", ""]] }),
        ),
        add("collections/release/things", json!({ "product": 1, "set": { "title": "Heron" } })),
        add(
            "collections/term/things/table",
            json!({ "product": 1, "text": "name\tnote\nramp\tthe way on board\nslip\t\n" }),
        ),
        add("collections/idea/fields", field),
        write("PATCH", "fields/«new field»?rev=«rev field»", json!({ "label": "Temper", "type": "text" })),
        add(
            "fields/«new field»/conversion?rev=«rev field»",
            json!({ "type": "choice", "choices": [{ "key": "c1", "label": "calm" }] }),
        ),
        add("fields/«new field»/place", json!({ "rev": "«rev field»", "before": 1 })),
        add("fields/3/retired", json!({ "rev": "«field 3»", "retired": true })),
        add("collections/idea/views?product=1", view.clone()),
        write(
            "PATCH",
            "views/«new view»?rev=«rev view»",
            json!({ "name": "By temper", "shared": true, "definition": { "kind": "table" } }),
        ),
        write("DELETE", "views/1?rev=«view 1»", json!(null)),
        add("comments", json!({ "on": { "kind": "idea", "id": 6 }, "body": "I have asked the crew." })),
        write(
            "PATCH",
            "comments/«new comment»",
            json!({ "rev": "«rev comment»", "body": "I have asked the crew twice." }),
        ),
        add("comments/4/resolved", json!({ "rev": "«comment 4»", "resolved": true })),
        write("DELETE", "comments/«new comment»?rev=«rev comment»", json!(null)),
        add("rules", rule("Say that it is new")),
        write("PATCH", "rules/«new rule»", rule("Say so")),
        add(
            "listen/channels",
            json!({ "product": 1, "name": "Letters", "kind": "folder", "place": letters, "every_minutes": 60 }),
        ),
        write("PATCH", "listen/channels/«new channel»", json!({ "rev": "«rev channel»", "paused": true })),
        write("DELETE", "listen/channels/«new channel»?rev=«rev channel»", json!(null)),
    ]
}

/// Routes by which nothing is changed that somebody would take back.
const ELSEWHERE: [&str; 39] = [
    // What only asks.
    "POST collections/{collection}/export",
    "POST collections/{collection}/groups",
    "POST collections/{collection}/rows",
    "POST decide/budget",
    "POST decide/market/pages/text",
    "POST decide/models/weights",
    "POST decide/scores",
    "POST decide/scores/why",
    "POST fields/{id}/conversion/preview",
    "POST listen/files/counts",
    "POST rules/try",
    // What takes back and does again.
    "POST changes/{id}/undo",
    "POST changes/{id}/undo/part",
    "POST redo",
    "POST undo",
    // Files as they come, work in the background, and what it comes to: its jobs write, and are taken back as wholes.
    "POST attachments",
    "POST decide/market/research",
    "POST jobs/{id}/cancel",
    "POST listen/accounts",
    "POST listen/channels/{id}/look",
    "POST listen/files",
    "POST listen/imports",
    "POST listen/items/{id}/recording",
    "POST listen/runs",
    "POST listen/runs/{id}/take",
    "POST takeout/workspace",
    // What concerns whoever asks, or somebody outside, and what is to be gone for good.
    "DELETE session",
    "DELETE views/{id}/calendar",
    "POST listen/items/{id}/reading",
    "POST listen/people/{id}/erase",
    "POST notices/read",
    "POST open/forms/{key}",
    "POST outbox/{id}/again",
    "POST session",
    "POST start",
    "POST views/{id}/calendar",
    "PUT following/{kind}/{id}",
    "PUT notices/settings",
    "PUT visit",
];

/// Waits until all that was said is read and nothing is done in the background any more.
fn quiet(client: &Client, dir: &Path) {
    let connection = Connection::open(database_path(dir)).unwrap();
    let unread = "SELECT count(*) FROM excerpt WHERE meaning_key IS NULL OR placed IS NULL";
    client.until("all is read and nothing is running", || {
        let jobs = client.get("jobs?product=1");
        let open = |job: &Value| ["queued", "running"].contains(&job["state"].as_str().unwrap());
        let read = connection.query_row(unread, [], |row| row.get::<_, i64>(0)).unwrap() == 0;
        read && !jobs.as_array().unwrap().iter().any(open)
    });
}

/// What stands there, but for what is seen to in the background: with which engine and terms each excerpt was read last, and
/// how sure it was of it. Of sums the last places depend on the order in which they were summed up.
fn state(dir: &Path) -> Content {
    let without = |row: &str, from: &str, to: &str| {
        let (before, rest) = row.split_once(from).unwrap();
        format!("{before} {}", rest.split_once(to).unwrap().1)
    };
    let mut all = content(dir);
    for row in all.get_mut("excerpt").unwrap() {
        *row = without(row, " engine ", " language ");
    }
    for row in all.get_mut("heard").unwrap() {
        *row = without(row, " negative ", " request ");
    }
    all
}

/// The number of the change set that an answer speaks of.
fn change(answer: &Value) -> i64 {
    let saved = if answer.get("saved").is_some() { &answer["saved"] } else { answer };
    saved["change"].as_i64().unwrap_or_else(|| panic!("nothing was changed: {answer}"))
}

/// Carries out all of it, takes it back and does it again; each state is compared with the one that was there.
fn there_and_back(writes: fn(&Path) -> Vec<Write>) {
    let server = Server::demo();
    let writes = writes(server.dir());
    let client = server.signed_in("wren");
    quiet(&client, server.dir());
    let mut states: Vec<Content> = vec![state(server.dir())];
    let mut changes = Vec::new();
    for write in &writes {
        let answer = client.done(write.method, &write.address(server.dir()), &write.words(server.dir()));
        quiet(&client, server.dir());
        changes.push(change(&answer));
        let now = state(server.dir());
        let name = format!("{} {}", write.method, write.path);
        assert_ne!(differ(states.last().unwrap(), &now), [], "{name} changed nothing");
        states.push(now);
    }
    // The last one first, now by its number and now as what was done last.
    for (n, write) in writes.iter().enumerate().rev() {
        let path = if n % 2 == 0 { format!("changes/{}/undo", changes[n]) } else { "undo".to_owned() };
        client.done("POST", &path, &json!(null));
        quiet(&client, server.dir());
        let now = state(server.dir());
        assert_eq!(differ(&states[n], &now), [], "{} {} was not taken back whole", write.method, write.path);
    }
    for (n, write) in writes.iter().enumerate() {
        client.done("POST", "redo", &json!(null));
        quiet(&client, server.dir());
        let now = state(server.dir());
        assert_eq!(differ(&states[n + 1], &now), [], "{} {} was not done again whole", write.method, write.path);
    }
}

#[test]
fn what_is_written_while_listening_is_taken_back_and_done_again() {
    there_and_back(listening);
}

#[test]
fn what_is_written_while_deciding_is_taken_back_and_done_again() {
    there_and_back(deciding);
}

#[test]
fn what_is_written_while_building_is_taken_back_and_done_again() {
    there_and_back(building);
}

#[test]
fn what_is_written_around_things_is_taken_back_and_done_again() {
    there_and_back(around);
}

/// A value with each part of it, however deep, taken away or said in other ways.
fn said_wrongly(value: &Value) -> Vec<Value> {
    let others = [
        json!(null),
        json!("\u{2603} \u{202e}"),
        json!(-7),
        json!(1e300),
        json!(true),
        json!([]),
        json!({}),
        json!("x".repeat(20_000)),
    ];
    let mut all: Vec<Value> = others.into_iter().filter(|other| other != value).collect();
    match value {
        Value::Object(fields) => {
            for (name, inner) in fields {
                let mut without = fields.clone();
                without.remove(name);
                all.push(without.into());
                all.extend(said_wrongly(inner).into_iter().map(|inner| {
                    let mut with = fields.clone();
                    with.insert(name.clone(), inner);
                    with.into()
                }));
            }
            let mut more = fields.clone();
            more.insert("nobody_knows_this".into(), json!(1));
            all.push(more.into());
        }
        Value::Array(items) => {
            for (at, inner) in items.iter().enumerate() {
                all.extend(said_wrongly(inner).into_iter().map(|inner| {
                    let mut with = items.clone();
                    with[at] = inner;
                    with.into()
                }));
            }
        }
        _ => {}
    }
    all
}

/// Says each of the writes in many wrong ways before it is carried out. What is refused is refused in words; what is taken all the
/// same can be taken back; and all stands as it did.
fn said_in_wrong_ways(writes: fn(&Path) -> Vec<Write>) {
    let server = Server::demo();
    let writes = writes(server.dir());
    let client = server.signed_in("wren");
    quiet(&client, server.dir());
    let mut refused = 0;
    for write in &writes {
        let before = state(server.dir());
        for wrong in said_wrongly(&write.words(server.dir())) {
            match client.tried(write.method, &write.address(server.dir()), &wrong) {
                Err(_) => refused += 1,
                Ok(answer) => {
                    let saved = answer.get("saved").unwrap_or(&answer);
                    if let Some(change) = saved["change"].as_i64() {
                        client.done("POST", &format!("changes/{change}/undo"), &json!(null));
                    }
                }
            }
        }
        quiet(&client, server.dir());
        assert_eq!(differ(&before, &state(server.dir())), [], "{} {} said wrongly", write.method, write.path);
        client.done(write.method, &write.address(server.dir()), &write.words(server.dir()));
        quiet(&client, server.dir());
    }
    assert!(refused > 10 * writes.len(), "{refused} were refused");
}

#[test]
fn what_is_said_wrongly_while_listening_changes_nothing() {
    said_in_wrong_ways(listening);
}

#[test]
fn what_is_said_wrongly_while_deciding_changes_nothing() {
    said_in_wrong_ways(deciding);
}

#[test]
fn what_is_said_wrongly_while_building_changes_nothing() {
    said_in_wrong_ways(building);
}

#[test]
fn what_is_said_wrongly_around_things_changes_nothing() {
    said_in_wrong_ways(around);
}

/// Whether an address is one of a route.
fn is_of(route: &str, path: &str) -> bool {
    let parts = |text: &str| text.split('/').map(str::to_owned).collect::<Vec<_>>();
    let (route, path) = (parts(route), parts(path.split('?').next().unwrap()));
    route.len() == path.len() && route.iter().zip(&path).all(|(one, other)| one == other || one.starts_with('{'))
}

#[test]
fn every_route_that_writes_is_tried() {
    let server = Server::demo();
    let description = server.signed_in("wren").get("openapi.json");
    let mut tried: Vec<Write> =
        [listening, deciding, building].iter().flat_map(|writes| writes(server.dir())).collect();
    tried.extend(around(server.dir()));
    let mut left: Vec<String> = Vec::new();
    for (route, item) in description["paths"].as_object().unwrap() {
        let route = route.trim_start_matches("/api/v1/");
        for method in item.as_object().unwrap().keys().map(|method| method.to_uppercase()) {
            let name = format!("{method} {route}");
            let is_tried = tried.iter().any(|write| write.method == method && is_of(route, &write.path));
            if method != "GET" && !is_tried {
                left.push(name);
            }
        }
    }
    // Neither more nor fewer: what is tried has no place in the list.
    let [left, elsewhere] = [left, ELSEWHERE.map(str::to_owned).to_vec()].map(BTreeSet::from_iter);
    assert_eq!(left, elsewhere);
}
