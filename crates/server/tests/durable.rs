//! What was acknowledged is there: after a loss of power, after a backup, after a whole way out and in.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::path::Path;
use std::process::{Command, Output};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

use iron_kite_testkit::{Server, binary, reviews_csv};
use serde_json::{Value, json};

fn run(args: &[&str]) -> Output {
    Command::new(binary()).args(args).output().unwrap()
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr)
}

fn path(path: &Path) -> &str {
    path.to_str().unwrap()
}

#[test]
fn after_a_kill_every_acknowledged_write_is_there() {
    let mut server = Server::demo();
    let acknowledged = Arc::new(Mutex::new(Vec::new()));
    let stop = Arc::new(AtomicBool::new(false));
    let writers: Vec<_> = (0..4)
        .map(|writer| {
            let (client, acknowledged, stop) = (server.signed_in("wren"), Arc::clone(&acknowledged), Arc::clone(&stop));
            std::thread::spawn(move || {
                for n in 0.. {
                    let title = format!("Idea {writer}-{n}");
                    let body = json!({ "product_id": 1, "title": title });
                    let answer = client.request("POST", "decide/ideas").json(&body).send();
                    match answer {
                        Ok(answer) if answer.status() == 200 => acknowledged.lock().unwrap().push(title),
                        _ => return,
                    }
                    if stop.load(Ordering::Relaxed) {
                        return;
                    }
                }
            })
        })
        .collect();
    while acknowledged.lock().unwrap().len() < 200 {
        std::thread::sleep(Duration::from_millis(5));
    }
    server.kill();
    stop.store(true, Ordering::Relaxed);
    writers.into_iter().for_each(|writer| writer.join().unwrap());

    let verified = run(&["verify", "--data", path(server.dir())]);
    assert!(verified.status.success(), "{}", said(&verified));
    let again = Server::on(server.dir());
    let ideas = again.signed_in("wren").get("decide/ideas?product=1");
    let titles: Vec<&str> = ideas.as_array().unwrap().iter().map(|idea| idea["title"].as_str().unwrap()).collect();
    let missing: Vec<_> =
        acknowledged.lock().unwrap().iter().filter(|title| !titles.contains(&title.as_str())).cloned().collect();
    assert!(missing.is_empty(), "{missing:?}");
}

#[test]
fn a_workspace_goes_out_and_comes_in_with_nothing_lost() {
    let server = Server::demo();
    let folder = tempfile::tempdir().unwrap();
    let (first, second, dir) = (folder.path().join("a.json"), folder.path().join("b.json"), folder.path().join("new"));
    for (args, expected) in [
        (vec!["export", "all", "--data", path(server.dir()), "--out", path(&first)], "Wrote"),
        (vec!["import", "all", path(&first), "--data", path(&dir)], "has no password yet"),
        (vec!["export", "all", "--data", path(&dir), "--out", path(&second)], "Wrote"),
        (vec!["verify", "--data", path(&dir)], "Sound"),
    ] {
        let done = run(&args);
        assert!(done.status.success() && said(&done).contains(expected), "{args:?}: {}", said(&done));
    }
    let read = |file: &Path| -> Value { serde_json::from_slice(&std::fs::read(file).unwrap()).unwrap() };
    let (a, b) = (read(&first), read(&second));
    assert_eq!(a, b);
    assert!(!a.to_string().contains("argon2"), "passwords stay here");
    assert!(a["tables"]["change"].as_array().unwrap().len() > 500, "the history goes along");
    let twice = run(&["import", "all", path(&first), "--data", path(&dir)]);
    assert!(!twice.status.success() && said(&twice).contains("not empty"), "{}", said(&twice));

    // Whoever is there already keeps password and session, and numbers of removed things do not come again.
    let set = Command::new("sh")
        .args(["-c", "echo a-new-password | \"$0\" user password wren@crossing.example --data \"$1\""])
        .arg(binary())
        .arg(&dir)
        .output()
        .unwrap();
    assert!(set.status.success(), "{}", said(&set));
    let there = Server::on(&dir);
    let client = there.client();
    client.done("POST", "session", &json!({ "email": "wren@crossing.example", "password": "a-new-password" }));
    let made = client.done("POST", "decide/ideas", &json!({ "product_id": 1, "title": "The next" }));
    let most = a["tables"]["idea"].as_array().unwrap().iter().filter_map(|row| row["id"].as_i64()).max().unwrap();
    assert_eq!(made["thing"]["id"].as_i64(), Some(most + 1));
}

#[test]
fn a_backup_of_a_running_workspace_restores() {
    let server = Server::demo();
    let folder = tempfile::tempdir().unwrap();
    let (file, dir) = (folder.path().join("kite.backup"), folder.path().join("restored"));
    assert!(run(&["backup", "--data", path(server.dir()), "--out", path(&file)]).status.success());
    let twice = run(&["backup", "--data", path(server.dir()), "--out", path(&file)]);
    assert!(!twice.status.success() && said(&twice).contains("name a new file"), "{}", said(&twice));
    assert!(run(&["restore", path(&file), "--data", path(&dir)]).status.success());
    assert!(run(&["verify", "--data", path(&dir)]).status.success());
    let strange = folder.path().join("strange");
    std::fs::write(&strange, "not a database at all").unwrap();
    let refused = run(&["restore", path(&strange), "--data", path(&folder.path().join("other"))]);
    assert!(!refused.status.success(), "{}", said(&refused));
}

#[test]
fn feedback_comes_in_by_command_and_a_fault_in_the_file_is_found() {
    let server = Server::demo();
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("more.csv");
    std::fs::write(&file, reviews_csv(50)).unwrap();
    let args = ["import", "feedback", path(&file), "--data", path(server.dir()), "--product", "Gangway"];
    assert!(said(&run(&args)).starts_with("more.csv: 50 items added"));
    assert!(said(&run(&args)).starts_with("more.csv: 0 items added, 0 excerpts read, 50 there already"));
    let wrong = run(&["import", "feedback", path(&file), "--data", path(server.dir()), "--text", "words"]);
    assert!(!wrong.status.success() && said(&wrong).contains("the file has: date, person"), "{}", said(&wrong));
    assert!(!run(&["verify", "--data", path(folder.path())]).status.success());
}
