//! Who sends is looked at before what is sent; nothing that is sent holds others up; and what is asked under other names, packed
//! or from elsewhere is refused.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::{Read, Write};
use std::net::TcpStream;
use std::thread;
use std::time::{Duration, Instant};

use iron_kite_testkit::{Client, PASSWORD, Server};
use serde_json::{Value, json};

fn connect(server: &Server) -> TcpStream {
    let line = TcpStream::connect(server.address.trim_start_matches("http://")).unwrap();
    line.set_read_timeout(Some(Duration::from_secs(30))).unwrap();
    line
}

/// The head of a request that says it will send so many bytes.
fn head(server: &Server, path: &str, length: usize, more: &str) -> String {
    let host = server.address.trim_start_matches("http://");
    format!(
        "POST /api/v1/{path} HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: {length}\r\n{more}\r\n"
    )
}

/// What is answered to what was sent, as far as it comes.
fn answer(mut line: &TcpStream) -> String {
    let mut text = Vec::new();
    let mut part = [0; 4096];
    while let Ok(read @ 1..) = line.read(&mut part) {
        text.extend(&part[..read]);
        if text.windows(4).any(|four| four == b"\r\n\r\n") {
            break;
        }
    }
    String::from_utf8_lossy(&text).into_owned()
}

fn status(client: &Client, method: &str, path: &str) -> u16 {
    client.request(method, path).send().unwrap().status().as_u16()
}

#[test]
fn nobody_is_heard_out_who_may_not_speak() {
    let server = Server::demo();
    let vik = server.signed_in("vik");
    let description = vik.get("openapi.json");
    for (path, item) in description["paths"].as_object().unwrap() {
        for (method, operation) in item.as_object().unwrap() {
            let role = operation["security"][0]["session"][0].as_str();
            if method == "get" || role.is_none() {
                continue;
            }
            // The body is faulty in every way; whoever may not send it hears that, and nothing of the body.
            let address = path.trim_start_matches("/api/v1/").replace("{kind}", "idea").replace("{collection}", "idea");
            let address = address.replace("{id}", "1");
            let sent = |client: &Client| {
                let request = client.request(&method.to_uppercase(), &address).header("content-type", "text/strange");
                let answer = request.body("\u{1}{{{").send().unwrap();
                (answer.status().as_u16(), answer.json::<Value>().unwrap_or_default()["code"].clone())
            };
            assert_eq!(sent(&server.client()), (401, json!("not-signed-in")), "{method} {path}");
            if role != Some("viewer") {
                assert_eq!(sent(&vik), (403, json!("not-allowed")), "{method} {path}");
            }
        }
    }
}

#[test]
fn bodies_without_end_hold_nobody_up_and_are_not_kept() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let rest = server.memory_of_all();
    // Of nobody: refused at the head.
    let lines: Vec<TcpStream> = (0..60).map(|_| connect(&server)).collect();
    let block = vec![b'x'; 1 << 20];
    thread::scope(|scope| {
        for mut line in &lines {
            let (head, block) = (head(&server, "listen/files?product=1&name=x.csv", 63 << 20, ""), &block);
            scope.spawn(move || {
                line.write_all(head.as_bytes()).unwrap();
                // The server does not take it in: it ends the line, or lets it stand.
                line.set_write_timeout(Some(Duration::from_millis(500))).unwrap();
                for _ in 0..63 {
                    if line.write_all(block).is_err() {
                        break;
                    }
                }
            });
        }
        for _ in 0..20 {
            let begun = Instant::now();
            assert_eq!(status(&wren, "GET", "me"), 200);
            assert!(begun.elapsed() < Duration::from_secs(5), "{:?}", begun.elapsed());
            thread::sleep(Duration::from_millis(50));
        }
    });
    assert!(server.memory_of_all() < rest + 300, "{} MB at rest, {} MB now", rest, server.memory_of_all());
    // Slow ones of outsiders: ended after a while, and others sign in meanwhile.
    let slow: Vec<TcpStream> = (0..1_200).map(|_| connect(&server)).collect();
    for mut line in &slow {
        let _ = line.write_all(head(&server, "session", 60, "").as_bytes()).and_then(|()| line.write_all(b"{"));
    }
    let begun = Instant::now();
    let _ = server.signed_in("tamar");
    assert!(begun.elapsed() < Duration::from_secs(25), "{:?}", begun.elapsed());
    let said = answer(&slow[0]);
    assert!(said.starts_with("HTTP/1.1 408") && said.contains("problem+json"), "{said}");
}

#[test]
fn the_sign_in_is_slowed_down_and_others_are_not() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let rest = server.memory_of_all();
    thread::scope(|scope| {
        for at in 0..40 {
            let server = &server;
            scope.spawn(move || {
                for _ in 0..8 {
                    // Long addresses, and one that is written otherwise each time.
                    let long = format!("{}{at}@x.example", "a".repeat(40_000));
                    let _ = server.client().post("session", &json!({ "email": long, "password": "x" })).status();
                    let _ = server
                        .client()
                        .post("session", &json!({ "email": " WREN@crossing.example ", "password": "x" }))
                        .status();
                }
            });
        }
        for _ in 0..20 {
            let begun = Instant::now();
            assert_eq!(status(&wren, "GET", "me"), 200);
            assert!(begun.elapsed() < Duration::from_secs(5), "{:?}", begun.elapsed());
            thread::sleep(Duration::from_millis(40));
        }
    });
    let refused = (0..60).find_map(|_| {
        let begun = Instant::now();
        let again = server.client().post("session", &json!({ "email": "wren@crossing.example", "password": PASSWORD }));
        (again.status() == 429).then(|| begun.elapsed())
    });
    let waited = refused.expect("there is an end of tries");
    assert!(waited >= Duration::from_millis(500), "whoever goes on waits");
    // What reads in the background may take its own meanwhile.
    assert!(server.memory_of_all() < rest + 300, "{rest} MB at rest, {} MB now", server.memory_of_all());
}

#[test]
fn packed_requests_other_names_and_hidden_files_are_refused() {
    let server = Server::demo_with(&["--host", "kite.crossing.example", "--host", "127.0.0.1"]);
    let wren = server.signed_in("wren");
    let packed = wren.request("POST", "undo").header("content-encoding", "gzip").body("x").send().unwrap();
    assert_eq!(
        (packed.status().as_u16(), packed.json::<Value>().unwrap()["code"].clone()),
        (415, json!("packed-request"))
    );
    let asked = |host: &str| wren.request("GET", "me").header("host", host).send().unwrap();
    assert_eq!(asked("kite.crossing.example").status(), 200);
    assert_eq!(asked("kite.crossing.example:443").status(), 200);
    let other = asked("elsewhere.example");
    assert_eq!(other.status(), 421);
    // What is refused has the same headers as all answers.
    for name in ["content-security-policy", "x-content-type-options", "cache-control"] {
        assert!(other.headers().contains_key(name), "{name}");
    }
    let hidden = reqwest::blocking::get(format!("{}/.vite/manifest.json", server.address)).unwrap();
    assert_eq!(hidden.status(), 404);
}

#[test]
fn behind_tls_the_cookie_and_the_address_are_for_tls_only() {
    let server = Server::demo_with(&["--behind-tls"]);
    let answer = server.client().post("session", &json!({ "email": "wren@crossing.example", "password": PASSWORD }));
    let cookie = answer.headers()["set-cookie"].to_str().unwrap().to_owned();
    assert!(
        cookie.starts_with("__Host-iron_kite_session=") && cookie.contains("Secure") && cookie.contains("HttpOnly"),
        "{cookie}"
    );
    assert!(cookie.contains("Path=/") && !cookie.contains("Domain"), "{cookie}");
    assert_eq!(answer.headers()["strict-transport-security"], "max-age=31536000");
    assert_eq!(answer.headers()["cache-control"], "no-store");
}

#[test]
fn live_changes_end_with_the_session() {
    let server = Server::demo();
    let joss = server.signed_in("joss");
    let mut stream = joss.request("GET", "events").send().unwrap();
    assert_eq!(status(&joss, "DELETE", "session"), 204);
    let begun = Instant::now();
    let mut all = String::new();
    stream.read_to_string(&mut all).unwrap();
    assert!(begun.elapsed() < Duration::from_secs(10), "{:?}", begun.elapsed());
}

#[test]
fn a_second_server_is_refused_and_the_first_goes_on() {
    let server = Server::demo();
    let wren = server.signed_in("wren");
    let second = std::process::Command::new(iron_kite_testkit::binary())
        .args(["serve", "--port", "0", "--data"])
        .arg(server.dir())
        .output()
        .unwrap();
    let words = String::from_utf8_lossy(&second.stderr).into_owned();
    assert!(!second.status.success() && words.contains("is served already"), "{words}");
    assert_eq!(status(&wren, "GET", "me"), 200);
}

#[test]
fn what_matters_is_noted_and_no_secret_is() {
    let server = Server::demo();
    let (wren, joss) = (server.signed_in("wren"), server.signed_in("joss"));
    let wrong = json!({ "email": "wren@crossing.example", "password": "not-her-password" });
    assert_eq!(server.client().post("session", &wrong).status(), 401);
    assert_eq!(server.client().post("session", &json!({ "email": "my-password", "password": "x" })).status(), 401);
    joss.refused("POST", "listen/people/1/erase", &json!({}), "not-allowed");
    wren.done("POST", "listen/people/1/erase", &json!({}));
    assert_eq!(status(&wren, "GET", "takeout/workspace.json"), 200);
    assert_eq!(status(&server.client(), "GET", "calendars/0123456789.ics"), 404);
    let command = std::process::Command::new(iron_kite_testkit::binary())
        .args(["user", "role", "joss@crossing.example", "viewer", "--data"])
        .arg(server.dir())
        .output()
        .unwrap();
    assert!(command.status.success());
    let path = server.dir().join("security.log");
    let text = std::fs::read_to_string(&path).unwrap();
    let lines: Vec<Value> = text.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
    let has = |what: &str, user: Value, outcome: &str| {
        lines
            .iter()
            .any(|line| line["what"] == what && (user.is_null() || line["user"] == user) && line["outcome"] == outcome)
    };
    let all = |what: &str, outcome: &str| has(what, Value::Null, outcome);
    assert!(all("signed in", "done") && all("signed in", "refused (401)"), "{text}");
    assert!(all("POST /api/v1/listen/people/1/erase", "done"), "{text}");
    assert!(all("POST /api/v1/listen/people/1/erase", "refused (403)"), "{text}");
    assert!(all("GET /api/v1/takeout/workspace.json", "done") && all("user role", "done"), "{text}");
    assert!(lines.iter().all(|line| line["at"].is_string() && line["from"].is_string()), "{text}");
    for secret in ["not-her-password", "my-password", PASSWORD, "0123456789"] {
        assert!(!text.contains(secret), "{secret}: {text}");
    }
    use std::os::unix::fs::PermissionsExt;
    assert_eq!(std::fs::metadata(path).unwrap().permissions().mode() & 0o777, 0o600);
}
