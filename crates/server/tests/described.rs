//! What the API answers is what it says of itself, for all that can be asked for of the demo.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_testkit::{Client, Server};
use serde_json::{Value, json};

/// Things have their numbers from 1 on: these are tried.
const NUMBERS: std::ops::RangeInclusive<u64> = 1..=5;

/// What may be said for a parameter: each choice where it is one of some, else what the demo knows.
fn choices(client: &Client, description: &Value, path: &str, parameter: &Value) -> Vec<String> {
    let schema = &parameter["schema"];
    let named = schema["$ref"].as_str().and_then(|to| to.rsplit('/').next());
    if let Some(all) = named.and_then(|name| description["components"]["schemas"][name]["enum"].as_array()) {
        return all.iter().filter_map(Value::as_str).map(str::to_owned).collect();
    }
    let one = |text: &str| vec![text.to_owned()];
    match parameter["name"].as_str().unwrap() {
        "id" if path.starts_with("listen/imports") => {
            client.brought(1).iter().map(|job| job["id"].to_string()).collect()
        }
        "id" => NUMBERS.map(|id| id.to_string()).collect(),
        "reference" => vec!["I1".to_owned(), "X999".to_owned()],
        "key" if path.starts_with("open/forms") => one(client.get("decide/forms/1")["key"].as_str().unwrap()),
        "key" => one("nobody-has-this-link"),
        "words" | "question" => one("what do people say of the deck?"),
        "findings" => one("1,2"),
        _ => one("1"),
    }
}

/// All addresses of a route, with each choice for each of its parameters that must be said.
fn addresses(client: &Client, description: &Value, path: &str, operation: &Value) -> Vec<String> {
    let mut all = vec![path.to_owned()];
    for parameter in operation["parameters"].as_array().into_iter().flatten() {
        let name = parameter["name"].as_str().unwrap();
        if parameter["in"] == "query" && parameter["required"] != true {
            continue;
        }
        let choices = choices(client, description, path, parameter);
        let with = |address: &String, choice: &str| match parameter["in"].as_str() {
            Some("path") => address.replace(&format!("{{{name}}}"), choice),
            _ => format!("{address}{}{name}={choice}", if address.contains('?') { '&' } else { '?' }),
        };
        all = all.iter().flat_map(|address| choices.iter().map(move |choice| with(address, choice))).collect();
    }
    all
}

/// Routes that answer nothing in the demo, but in words why.
const NOTHING_THERE: [&str; 2] = ["open/requests/{key}", "open/senders/{key}"];

#[test]
fn all_that_can_be_asked_for_is_as_described() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let file = client.put_down(1, "words.csv", "text\nThe boat was late again.\n");
    assert_eq!(client.over(&client.bring_in(1, &file))["state"], "done");
    let description = client.get("openapi.json");
    let mut silent = Vec::new();
    for (path, item) in description["paths"].as_object().unwrap() {
        let path = path.trim_start_matches("/api/v1/");
        let operation = &item["get"];
        if operation["responses"]["200"]["content"].get("application/json").is_none() {
            continue;
        }
        let all = addresses(&client, &description, path, operation);
        let answered = all.iter().filter(|address| client.ask(address).is_ok()).count();
        if answered == 0 && !NOTHING_THERE.contains(&path) {
            silent.push(path.to_owned());
        }
    }
    assert!(silent.is_empty(), "nothing was answered, so nothing was compared: {silent:#?}");
}

#[test]
fn what_is_no_json_has_the_media_type_that_is_described() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let description = client.get("openapi.json");
    let mut compared = 0;
    for (path, item) in description["paths"].as_object().unwrap() {
        let path = path.trim_start_matches("/api/v1/");
        let Some(content) = item["get"]["responses"]["200"]["content"].as_object() else { continue };
        // Changes as they happen are looked at where they are tested.
        let described = content.keys().next().unwrap();
        if described == "application/json" && path != "takeout/workspace.json" || described == "text/event-stream" {
            continue;
        }
        for address in addresses(&client, &description, path, &item["get"]) {
            let answer = client.request("GET", &address).send().unwrap();
            if answer.status() != 200 {
                continue;
            }
            let sent = answer.headers()["content-type"].to_str().unwrap().split(';').next().unwrap().to_owned();
            assert!(sent == *described || described == "*/*", "{address}: {sent}, described as {described}");
            compared += 1;
        }
    }
    assert!(compared > 8, "{compared}");
}

#[test]
fn the_rows_of_every_collection_are_as_described() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let Value::Array(collections) = client.get("collections") else { panic!("a list") };
    assert!(collections.len() > 15);
    for one in collections {
        let collection = one["name"].as_str().unwrap();
        let fields: Vec<Value> = client.get(&format!("collections/{collection}/fields")).as_array().unwrap().clone();
        let shown: Vec<&Value> = fields.iter().map(|field| &field["name"]).collect();
        let ask = json!({ "product": 1, "query": { "fields": shown }, "limit": 40 });
        client.done("POST", &format!("collections/{collection}/rows"), &ask);
    }
}

#[test]
fn what_is_asked_by_more_than_an_address_is_as_described() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let ask = |path: &str, body: Value| client.done("POST", path, &body);
    let Value::Array(models) = client.get("decide/models?product=1") else { panic!("a list") };
    assert!(models.len() > 2);
    for key in models.iter().map(|model| &model["key"]) {
        let scores = ask("decide/scores", json!({ "product": 1, "model": key, "top": 3 }));
        let ideas = scores["ideas"].as_array().unwrap();
        assert!(!ideas.is_empty(), "{key}");
        for idea in ideas.iter().take(4) {
            ask("decide/scores/why", json!({ "product": 1, "model": key, "idea": idea["idea"] }));
        }
        for budget in [0, 12, 500] {
            ask("decide/budget", json!({ "product": 1, "model": key, "budget": budget }));
        }
    }
    ask("decide/models/weights", json!({ "count": 3, "pairs": [3, 5, 2] }));
    for rule in client.get("rules?product=1").as_array().unwrap() {
        ask("rules/try", json!({ "product": 1, "definition": rule["definition"], "rule": rule["id"] }));
    }
    for to in [json!({ "type": "text" }), json!({ "type": "number" }), json!({ "type": "yes_no" })] {
        ask("fields/3/conversion/preview", to);
    }
}

#[test]
fn the_groups_of_every_collection_are_as_described() {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let Value::Array(collections) = client.get("collections") else { panic!("a list") };
    let mut grouped = 0;
    for one in collections {
        let collection = one["name"].as_str().unwrap();
        for field in client.get(&format!("collections/{collection}/fields")).as_array().unwrap() {
            if !["choice", "choices", "member", "yes_no", "date"].contains(&field["type"].as_str().unwrap()) {
                continue;
            }
            let query = json!({ "group": [{ "field": field["name"] }] });
            let ask = json!({ "product": 1, "query": query });
            let told = client.done("POST", &format!("collections/{collection}/groups"), &ask);
            let rows = client.done("POST", &format!("collections/{collection}/rows"), &ask);
            // Who stands in one group at most stands in one: the groups add up to the whole.
            if field["type"] != "choices" {
                let sum: i64 =
                    told["groups"].as_array().unwrap().iter().map(|one| one["count"].as_i64().unwrap()).sum();
                assert_eq!(Some(sum), rows["count"].as_i64(), "{collection} by {}", field["name"]);
                grouped += 1;
            }
        }
    }
    assert!(grouped > 20, "{grouped}");
}

#[test]
fn what_concerns_me_alone_is_kept_for_me_alone() {
    let server = Server::demo();
    let [wren, tamar] = ["wren", "tamar"].map(|name| server.signed_in(name));
    let put = |client: &Client, path: &str, body: Value| {
        let status = client.request("PUT", path).json(&body).send().unwrap().status().as_u16();
        assert_eq!(status, 204, "{path}");
    };
    let place = json!({ "path": "/p/1/decide/idea?at=idea:6", "title": "Decide · Ideas · Say what comes along" });
    put(&wren, "visit", json!({ "product": 1, "place": place }));
    let last = |client: &Client| client.get("opening?product=1")["places"].to_string();
    assert!(last(&wren).contains("Say what comes along"));
    assert!(!last(&tamar).contains("Say what comes along"));

    for follows in [true, false, true] {
        put(&wren, "following/idea/12", json!({ "follows": follows }));
        let told = |client: &Client| client.get("talk/idea/12")["follows"].as_bool();
        assert_eq!((told(&wren), told(&tamar)), (Some(follows), Some(false)));
    }

    put(&wren, "notices/settings", json!({ "sort": "followed", "here": true, "by_mail": true }));
    let mail = |client: &Client| {
        let all = client.get("notices/settings");
        all.as_array().unwrap().iter().find(|one| one["sort"] == "followed").unwrap()["by_mail"].as_bool()
    };
    assert_eq!((mail(&wren), mail(&tamar)), (Some(true), Some(false)));
}
