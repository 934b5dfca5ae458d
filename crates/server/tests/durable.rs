//! What was acknowledged is there: after a loss of power, after a backup, after a whole way out and in.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::path::Path;
use std::process::{Command, Output};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

use iron_kite_testkit::{Client, Server, binary, hostile_files, reviews_csv};
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
fn a_kill_while_people_are_erased_files_are_read_and_all_goes_out_leaves_it_sound() {
    let mut server = Server::demo();
    let people = |client: &Client| -> Vec<i64> {
        let ask = json!({ "product": 1, "query": { "fields": ["name"] }, "limit": 200 });
        let rows = client.done("POST", "collections/person/rows", &ask);
        rows["rows"].as_array().unwrap().iter().filter_map(|row| row["id"].as_i64()).collect()
    };
    let to_erase = people(&server.signed_in("wren"));
    let erased = Mutex::new(Vec::new());
    let slow = hostile_files().into_iter().find(|file| file.what == "a hundred million drawings").unwrap();
    let clients = || ["wren", "joss", "wren"].map(|name| server.signed_in(name));
    let [erasing, reading, taking_out] = clients();
    std::thread::scope(|scope| {
        scope.spawn(|| {
            for id in &to_erase {
                let answer = erasing.request("POST", &format!("listen/people/{id}/erase")).json(&json!({})).send();
                if !answer.is_ok_and(|answer| answer.status() == 200) {
                    return;
                }
                erased.lock().unwrap().push(*id);
            }
        });
        let path = format!("listen/files?product=1&name={}", slow.name);
        scope.spawn(move || drop(reading.request("POST", &path).body(slow.bytes).send()));
        scope.spawn(move || {
            while taking_out.request("GET", "takeout/workspace.json").send().is_ok_and(|answer| answer.bytes().is_ok())
            {
            }
        });
        let reader = wait_for("a reader", || server.started().first().copied());
        wait_for("erased people", || (!erased.lock().unwrap().is_empty()).then_some(()));
        server.kill();
        wait_for("the end of the reader", || (!Path::new(&format!("/proc/{reader}")).exists()).then_some(()));
    });
    // What was under way is finished at the next start.
    let again = Server::on(server.dir());
    let left = people(&again.signed_in("wren"));
    let erased = erased.into_inner().unwrap();
    assert!(erased.len() < to_erase.len() && erased.iter().all(|id| !left.contains(id)), "{erased:?} of {left:?}");
    drop(again);
    let verified = run(&["verify", "--data", path(server.dir())]);
    assert!(verified.status.success(), "{}", said(&verified));
}

#[test]
fn a_kill_while_a_whole_workspace_comes_in_leaves_all_of_it_or_nothing() {
    let server = Server::demo();
    let folder = tempfile::tempdir().unwrap();
    let (file, dir) = (folder.path().join("all.json"), folder.path().join("new"));
    assert!(run(&["export", "all", "--data", path(server.dir()), "--out", path(&file)]).status.success());
    for after in [200, 700] {
        let mut import =
            Command::new(binary()).args(["import", "all", path(&file), "--data", path(&dir)]).spawn().unwrap();
        std::thread::sleep(Duration::from_millis(after));
        import.kill().unwrap();
        import.wait().unwrap();
    }
    let done = run(&["import", "all", path(&file), "--data", path(&dir)]);
    assert!(done.status.success() || said(&done).contains("not empty"), "{}", said(&done));
    let verified = run(&["verify", "--data", path(&dir)]);
    assert!(verified.status.success(), "{}", said(&verified));
    assert!(Server::on(&dir).dir().join("iron-kite.key").exists());
}

fn wait_for<T>(what: &str, mut is: impl FnMut() -> Option<T>) -> T {
    for _ in 0..6_000 {
        if let Some(found) = is() {
            return found;
        }
        std::thread::sleep(Duration::from_millis(10));
    }
    panic!("{what} did not come");
}

#[test]
fn on_a_full_disk_people_are_told_so_sign_in_read_and_go_on_once_there_is_room() {
    let server = Server::demo_on_a_disk_of(1024 * 1024);
    let wren = server.signed_in("wren");
    let put_in = |size: usize| {
        let sound = [b"RIFF\0\0\0\0WAVEfmt ".to_vec(), vec![7; size]].concat();
        wren.request("POST", "attachments?name=visit.wav").body(sound).send().unwrap()
    };
    // Until there is no room for the least any more.
    for size in [24 * 1024 * 1024, 1024 * 1024, 64 * 1024, 4 * 1024, 1] {
        let mut tries = 0;
        while put_in(size).status() != 507 {
            tries += 1;
            assert!(tries < 60, "the disk of {size} bytes more is never full");
        }
    }
    let told: Value = put_in(1024).json().unwrap();
    assert_eq!(told["code"], "disk-full", "{told}");
    let beside = |path: &str| {
        let answer = reqwest::blocking::get(format!("{}/{path}", server.address)).unwrap();
        (answer.status().as_u16(), answer.text().unwrap())
    };
    let (healthy, ready) = (beside("healthz"), beside("readyz"));
    let full = (503, "the disk is full\n".to_owned());
    assert_eq!((healthy, ready), (full.clone(), full));
    let tamar = server.signed_in("tamar");
    assert_eq!(tamar.get("me")["role"], "editor");
    assert!(!tamar.get("decide/ideas?product=1").as_array().unwrap().is_empty());

    let room = ["--pid", &server.process().to_string(), "--fsize=unlimited"].map(str::to_owned);
    assert!(Command::new("prlimit").args(room).status().unwrap().success());
    wren.done("POST", "decide/ideas", &json!({ "product_id": 1, "title": "There is room" }));
    wait_for("a healthy answer", || (beside("healthz").0 == 200 && beside("readyz").0 == 200).then_some(()));
    assert_eq!(put_in(1024).status(), 200);
    let dir = server.dir().to_owned();
    let verified = run(&["verify", "--data", path(&dir)]);
    assert!(verified.status.success(), "{}", said(&verified));
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
