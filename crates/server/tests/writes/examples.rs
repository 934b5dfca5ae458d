//! What is written, by the part of the work that it belongs to.

use std::path::Path;

use iron_kite_store::{Connection, database_path};
use serde_json::{Value, json};

/// A write: how, where, and what. «idea 6» in it stands for the revision that idea 6 has just then, «new idea» for the number
/// of the newest one, «rev idea» for its revision.
pub struct Write {
    pub method: &'static str,
    pub path: String,
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

impl std::fmt::Display for Write {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} {}", self.method, self.path)
    }
}

impl Write {
    /// Where it is sent to just now.
    pub fn address(&self, dir: &Path) -> String {
        filled(&self.path, dir)
    }

    /// What is sent just now.
    pub fn words(&self, dir: &Path) -> Value {
        let text = self.body.to_string().replace("\"«", "«").replace("»\"", "»");
        serde_json::from_str(&filled(&text, dir)).unwrap()
    }
}

/// What is written about what people said.
pub fn listening(_: &Path) -> Vec<Write> {
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
pub fn deciding(_: &Path) -> Vec<Write> {
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
        add("decide/requests/2/sender", json!({ "rev": "«request 2»" })),
    ]
}

/// What is written about how it is built and what came of it.
pub fn building(_: &Path) -> Vec<Write> {
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
        add("handover/teams", json!({ "name": "Ropes", "columns": &columns })),
        write("PUT", "handover/teams/«new team»/people", json!({ "people": [2, 3] })),
        write("PUT", "handover/teams/«new team»", json!({ "rev": "«rev team»", "name": "Knots", "columns": &columns })),
        write("DELETE", "handover/teams/«new team»?rev=«rev team»", json!(null)),
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
pub fn around(dir: &Path) -> Vec<Write> {
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
        write("DELETE", "products/«new product»?rev=«rev product»", json!(null)),
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
