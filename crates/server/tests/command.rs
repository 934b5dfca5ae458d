//! The command line as scripts use it, and programs that ask over HTTP with a token.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::io::Write;
use std::path::Path;
use std::process::{Command, Output, Stdio};

use iron_kite_testkit::{Server, binary};
use serde_json::{Value, json};

/// Runs a command on a workspace, with this on standard input.
fn run(dir: &Path, words: &[&str], given: &str) -> Output {
    let mut child = Command::new(binary())
        .args(words)
        .args(["--json", "--data"])
        .arg(dir)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(given.as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

fn told(output: &Output) -> Value {
    let text = String::from_utf8_lossy(&output.stdout);
    serde_json::from_str(&text)
        .unwrap_or_else(|fault| panic!("{fault}: {text}{}", String::from_utf8_lossy(&output.stderr)))
}

#[test]
fn a_workspace_is_made_and_kept_by_commands_alone() {
    let place = tempfile::tempdir().unwrap();
    let dir = place.path().join("kite");
    let init = ["init", "--email", "wren@crossing.example", "--name", "Wren", "--product", "Crossing"];
    // A password that is easily guessed leaves nothing behind.
    assert_eq!(run(&dir, &init, "short\n").status.code(), Some(1));
    assert!(!dir.exists());
    assert_eq!(run(&dir, &init, "ferry-at-noon\n").status.code(), Some(0));
    assert_eq!(run(&dir, &init, "ferry-at-noon\n").status.code(), Some(1));
    let ok = |words: &[&str]| {
        let output = run(&dir, words, "");
        assert_eq!(output.status.code(), Some(0), "{words:?}: {}", String::from_utf8_lossy(&output.stderr));
        told(&output)
    };
    ok(&["product", "add", "Gangway"]);
    ok(&["product", "rename", "Gangway", "Harbour"]);
    assert_eq!(ok(&["product", "list"])[1]["name"], "Harbour");
    ok(&["product", "remove", "Harbour"]);
    assert_eq!(run(&dir, &["product", "remove", "Crossing"], "").status.code(), Some(1));
    ok(&["team", "add", "Quayside"]);
    ok(&["team", "rename", "Quayside", "Slipway"]);
    let teams = ok(&["team", "list"]);
    assert_eq!((&teams[1]["name"], teams[1]["columns"].as_array().unwrap().len()), (&json!("Slipway"), 4));
    ok(&["team", "remove", "Slipway"]);
    assert_eq!(
        run(&dir, &["user", "add", "joss@crossing.example", "--name", "Joss"], "ferry-at-night\n").status.code(),
        Some(0)
    );
    ok(&["user", "role", "joss@crossing.example", "editor"]);
    ok(&["user", "remove", "joss@crossing.example"]);
    let joss = ok(&["user", "list"])[1].clone();
    assert_eq!((&joss["role"], &joss["closed"]), (&json!("editor"), &json!(true)));
    assert_eq!(ok(&["verify"])["faults"], json!([]));
    // What is refused is told as JSON, too.
    let refused = run(&dir, &["user", "role", "nobody@crossing.example", "owner"], "");
    // What is noted in the log stands before it.
    let said = String::from_utf8_lossy(&refused.stderr);
    let problem: Value = serde_json::from_str(said.lines().last().unwrap()).unwrap();
    assert!(problem["problem"].as_str().unwrap().contains("nobody@crossing.example"), "{problem}");
}

#[test]
fn files_folders_and_standard_input_come_in_and_the_exit_code_says_how() {
    let place = tempfile::tempdir().unwrap();
    let dir = place.path().join("kite");
    let init = ["init", "--email", "wren@crossing.example", "--name", "Wren", "--product", "Crossing"];
    assert!(run(&dir, &init, "ferry-at-noon\n").status.success());
    let import = |words: &[&str], given: &str| {
        let output = run(&dir, &[&["import", "feedback"], words].concat(), given);
        (output.status.code().unwrap(), told(&output))
    };
    let table = "text;who\nThe boat was late;Ann\n";
    // A dry run says which columns would be taken, and takes nothing.
    let (code, ahead) = import(&["-", "--dry-run"], table);
    let part = &ahead[0]["parts"][0];
    assert_eq!((code, &part["columns"]), (0, &json!({ "person": "who", "text": "text" })));
    assert_eq!(part["counts"]["new"], 1);
    let (code, done) = import(&["-", "--name", "mails.csv"], table);
    assert_eq!((code, &done[0]["parts"][0]["report"]["added"]), (0, &json!(1)));
    assert_eq!(done[0]["file"], "mails.csv");
    // A folder with one that cannot be read.
    let folder = place.path().join("given");
    std::fs::create_dir_all(folder.join("more")).unwrap();
    std::fs::write(folder.join("a.csv"), "text\nThe ramp is steep\n").unwrap();
    std::fs::write(folder.join("more/b.yaml"), "a: b\n").unwrap();
    std::fs::write(folder.join(".hidden.csv"), "text\nNobody saw this\n").unwrap();
    let path = folder.display().to_string();
    let (code, done) = import(&[&path], "");
    assert_eq!((code, done.as_array().unwrap().len()), (3, 2), "{done}");
    let bad = folder.join("more").display().to_string();
    assert_eq!(import(&[&bad], "").0, 1);
    // Without headings and with another separator, as is said.
    let (code, done) =
        import(&["-", "--name", "plain.csv", "--separator", "tab", "--no-headings"], "1\tFine\n2\tDear\n");
    assert_eq!((code, &done[0]["parts"][0]["report"]["added"]), (0, &json!(2)), "{done}");
}

#[test]
fn views_releases_and_the_roadmap_go_out() {
    let server = Server::demo();
    let out = |words: &[&str]| {
        let output = Command::new(binary()).args(words).arg("--data").arg(server.dir()).output().unwrap();
        assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        String::from_utf8(output.stdout).unwrap()
    };
    let release = server.signed_in("vik").get("plan/releases?product=1")[0]["title"].as_str().unwrap().to_owned();
    assert!(out(&["export", "release", &release]).contains(&release));
    assert!(out(&["export", "roadmap"]).starts_with("# Roadmap of Crossing\n"));
    let roadmap: Value = serde_json::from_str(&out(&["export", "roadmap", "--json"])).unwrap();
    assert!(roadmap["bars"].as_array().unwrap().len() > 1);
    let file = server.dir().join("said.csv");
    let words = ["export", "view", "Reading", "--collection", "feedback_item", "--out", file.to_str().unwrap()];
    out(&words);
    assert!(std::fs::read_to_string(&file).unwrap().lines().count() > 5);
    let missing = Command::new(binary()).args(["export", "view", "No such view", "--data"]).arg(server.dir()).output();
    assert_eq!(missing.unwrap().status.code(), Some(1));
}

#[test]
fn a_place_that_cannot_be_served_is_left_as_it_was() {
    let taken = std::net::TcpListener::bind("127.0.0.1:0").unwrap();
    let port = taken.local_addr().unwrap().port().to_string();
    let place = tempfile::tempdir().unwrap();
    let dir = place.path().join("kite");
    let serve = |dir: &Path| {
        let words = ["serve", "--port", &port, "--data"];
        Command::new(binary()).args(words).arg(dir).output().unwrap().status.code()
    };
    assert_eq!(serve(&dir), Some(1));
    assert!(!dir.exists());
    // A folder that was empty is empty again, and what was there stays.
    std::fs::create_dir(&dir).unwrap();
    assert_eq!(serve(&dir), Some(1));
    assert_eq!(std::fs::read_dir(&dir).unwrap().count(), 0);
    std::fs::write(dir.join("letter.txt"), "x").unwrap();
    assert_eq!(serve(&dir), Some(1));
    assert!(dir.join("letter.txt").exists());
}

#[test]
fn a_program_asks_with_a_token_until_it_is_ended() {
    let server = Server::demo();
    let tamar = server.signed_in("tamar");
    let made = tamar.done("POST", "me/tokens", &json!({ "name": "nightly", "role": "contributor" }));
    let key = made["key"].as_str().unwrap();
    let ask = |method: &str, path: &str, key: &str| {
        let request = server.client().request(method, path).header("authorization", format!("Bearer {key}"));
        request.json(&json!({ "product_id": 1, "title": "By a program" })).send().unwrap()
    };
    assert_eq!(ask("GET", "me", key).json::<Value>().unwrap()["role"], "contributor");
    assert_eq!(ask("POST", "decide/ideas", key).status(), 200);
    // No more than the token may, and nothing that concerns who its person is.
    assert_eq!(ask("GET", "members", key).status(), 403);
    assert_eq!(ask("POST", "specify/epics", key).status(), 403);
    let own = ask("DELETE", "me", key);
    assert_eq!(own.json::<Value>().unwrap()["code"], "not-by-program");
    // A session's key is none, and another one neither.
    for wrong in ["kite_0000", "0000", ""] {
        assert_eq!(ask("GET", "me", wrong).status(), 401, "{wrong}");
    }
    tamar.request("DELETE", &format!("tokens/{}", made["id"])).send().unwrap();
    assert_eq!(ask("GET", "me", key).status(), 401);
    let log = std::fs::read_to_string(server.dir().join("security.log")).unwrap();
    assert!(log.contains("POST /api/v1/me/tokens") && !log.contains(key), "{log}");
}
