//! Everything that somebody can write over HTTP, done one after the other, taken back step by step, and done again: each
//! answer is as it is described, and each state is the one that was there before.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

mod examples;

use std::collections::BTreeSet;
use std::path::Path;

use iron_kite_store::{Connection, database_path};
use iron_kite_testkit::{Client, Content, Server, binary, content, differ};
use serde_json::{Value, json};

use examples::{Write, around, building, deciding, listening};

/// Routes by which nothing is changed that somebody would take back.
const ELSEWHERE: [&str; 55] = [
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
    "POST listen/files/read",
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
    "DELETE calendar-links/{id}",
    "DELETE me",
    "DELETE me/sessions/{session}",
    "DELETE session",
    "DELETE views/{id}/calendar",
    "POST listen/items/{id}/reading",
    "POST listen/people/{id}/erase",
    "POST notices/read",
    "POST open/forms/{key}",
    "POST open/senders/{key}",
    "POST outbox/{id}/again",
    "POST session",
    "POST start",
    "POST start/product",
    "POST views/{id}/calendar",
    "PUT following/{kind}/{id}",
    "PUT me/password",
    "DELETE tokens/{id}",
    "POST joining",
    "POST joining/look",
    "POST me/tokens",
    "POST members",
    "POST members/link",
    "POST workspace/backups",
    "PUT members/closed",
    "PUT members/role",
    "PUT notices/settings",
    "PUT visit",
];

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
    for row in all.get_mut("said").unwrap() {
        row.truncate(row.find(" sum ").unwrap());
    }
    all
}

/// The number of the change set that an answer speaks of; nothing where nothing was changed.
fn change(answer: &Value) -> Option<i64> {
    answer.get("saved").unwrap_or(answer)["change"].as_i64()
}

/// The demo, and somebody who may do anything there.
struct Demo {
    server: Server,
    client: Client,
}

impl Demo {
    fn new() -> Self {
        let server = Server::demo();
        let demo = Demo { client: server.signed_in("wren"), server };
        demo.quiet();
        demo
    }

    fn dir(&self) -> &Path {
        self.server.dir()
    }

    fn state(&self) -> Content {
        state(self.dir())
    }

    /// Waits until all that was said is read and nothing is done in the background any more.
    fn quiet(&self) {
        let connection = Connection::open(database_path(self.dir())).unwrap();
        let unread = "SELECT count(*) FROM excerpt WHERE meaning_key IS NULL OR placed IS NULL";
        self.client.until("all is read and nothing is running", || {
            let jobs = self.client.get("jobs?product=1");
            let open = |job: &Value| ["queued", "running"].contains(&job["state"].as_str().unwrap());
            let read = connection.query_row(unread, [], |row| row.get::<_, i64>(0)).unwrap() == 0;
            read && !jobs.as_array().unwrap().iter().any(open)
        });
    }

    /// Carries out a write, and gives its change set.
    fn carry_out(&self, write: &Write) -> i64 {
        let answer = self.client.done(write.method, &write.address(self.dir()), &write.words(self.dir()));
        self.quiet();
        change(&answer).unwrap_or_else(|| panic!("{write} changed nothing: {answer}"))
    }

    /// Takes something back, or does it again.
    fn turn(&self, path: &str) {
        self.client.done("POST", path, &json!(null));
        self.quiet();
    }
}

/// Carries out all of it, takes it back and does it again; each state is compared with the one that was there.
fn there_and_back(writes: fn(&Path) -> Vec<Write>) {
    let demo = Demo::new();
    let writes = writes(demo.dir());
    let mut states: Vec<Content> = vec![demo.state()];
    let mut changes = Vec::new();
    for write in &writes {
        changes.push(demo.carry_out(write));
        let now = demo.state();
        assert_ne!(differ(states.last().unwrap(), &now), [], "{write} changed nothing");
        states.push(now);
    }
    // The last one first, now by its number and now as what was done last.
    for (n, write) in writes.iter().enumerate().rev() {
        demo.turn(&if n % 2 == 0 { format!("changes/{}/undo", changes[n]) } else { "undo".to_owned() });
        assert_eq!(differ(&states[n], &demo.state()), [], "{write} was not taken back whole");
    }
    for (n, write) in writes.iter().enumerate() {
        demo.turn("redo");
        assert_eq!(differ(&states[n + 1], &demo.state()), [], "{write} was not done again whole");
    }
}

/// Each of the numbers up to this one, in an order that looks like chance and is the same each time.
fn shuffled(count: usize) -> Vec<usize> {
    let mut order: Vec<usize> = (0..count).collect();
    order.sort_by_key(|n| (n + 1).wrapping_mul(0x9E37_79B9_7F4A_7C15_u64 as usize).rotate_left(17));
    order
}

/// Carries out all of it and takes it back in another order: what something else hangs on is refused in words and changes nothing,
/// until that is taken back. In the end all is as it was.
fn back_in_any_order(writes: fn(&Path) -> Vec<Write>) {
    let demo = Demo::new();
    let writes = writes(demo.dir());
    let before = demo.state();
    let done: Vec<(String, i64)> = writes.iter().map(|write| (write.to_string(), demo.carry_out(write))).collect();
    let mut open: Vec<&(String, i64)> = shuffled(done.len()).into_iter().map(|n| &done[n]).collect();
    while !open.is_empty() {
        let mut left = Vec::new();
        for one in &open {
            let (name, change) = one;
            let now = demo.state();
            match demo.client.tried("POST", &format!("changes/{change}/undo"), &json!(null)) {
                Ok(_) => demo.quiet(),
                Err(problem) => {
                    assert_eq!(differ(&now, &demo.state()), [], "{name} was refused: {problem}");
                    left.push(*one);
                }
            }
        }
        assert!(left.len() < open.len(), "nothing more can be taken back of {left:#?}");
        open = left;
    }
    assert_eq!(differ(&before, &demo.state()), []);
}

#[test]
fn what_is_written_while_listening_is_taken_back_in_any_order() {
    back_in_any_order(listening);
}

#[test]
fn what_is_written_while_deciding_is_taken_back_in_any_order() {
    back_in_any_order(deciding);
}

#[test]
fn what_is_written_while_building_is_taken_back_in_any_order() {
    back_in_any_order(building);
}

#[test]
fn what_is_written_around_things_is_taken_back_in_any_order() {
    back_in_any_order(around);
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

#[test]
fn all_that_was_written_goes_out_and_comes_in_whole() {
    let demo = Demo::new();
    for write in [listening, deciding, building, around].iter().flat_map(|writes| writes(demo.dir())) {
        demo.carry_out(&write);
    }
    let folder = tempfile::tempdir().unwrap();
    let (file, new) = (folder.path().join("all.json"), folder.path().join("new"));
    let whole = demo.client.request("GET", "takeout/workspace.json").send().unwrap().bytes().unwrap();
    std::fs::write(&file, whole).unwrap();
    let came = std::process::Command::new(binary())
        .args(["import", "all"])
        .arg(&file)
        .arg("--data")
        .arg(&new)
        .output()
        .unwrap();
    assert!(came.status.success(), "{}", String::from_utf8_lossy(&came.stderr));
    assert_eq!(differ(&demo.state(), &state(&new)), []);
    assert_eq!(iron_kite_store::verify(&new).unwrap().faults, Vec::<String>::new());
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
    let demo = Demo::new();
    let writes = writes(demo.dir());
    let mut refused = 0;
    for write in &writes {
        let before = demo.state();
        for wrong in said_wrongly(&write.words(demo.dir())) {
            match demo.client.tried(write.method, &write.address(demo.dir()), &wrong) {
                Err(_) => refused += 1,
                Ok(answer) => {
                    if let Some(change) = change(&answer) {
                        demo.client.done("POST", &format!("changes/{change}/undo"), &json!(null));
                    }
                }
            }
        }
        demo.quiet();
        assert_eq!(differ(&before, &demo.state()), [], "{write} said wrongly");
        demo.carry_out(write);
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
