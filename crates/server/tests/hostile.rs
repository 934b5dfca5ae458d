//! Files that are made to break who reads them: the server goes on, answers others, and gives memory back.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::thread;
use std::time::{Duration, Instant};

use iron_kite_testkit::{Server, hostile_files};
use serde_json::Value;

/// The most that the server and its readers may take above what they take at rest, in megabytes.
const MOST: u64 = 600;
/// No file may be read for longer, nor wait for longer that another is.
const LONGEST: Duration = Duration::from_secs(180);

/// Ends those who look on, also where the test fails.
struct Ends<'a>(&'a AtomicBool);

impl Drop for Ends<'_> {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

#[test]
fn whatever_is_sent_the_server_answers_others_and_gives_memory_back() {
    let server = Server::demo();
    let [joss, tamar, wren] = ["joss", "tamar", "wren"].map(|name| server.signed_in(name));
    let _ = joss.put_down(1, "warm.csv", "text\nThe boat was off\n");
    let rest = server.memory_of_all();
    let (over, most) = (AtomicBool::new(false), AtomicU64::new(0));
    thread::scope(|scope| {
        let _ends = Ends(&over);
        scope.spawn(|| {
            while !over.load(Ordering::Relaxed) {
                most.fetch_max(server.memory_of_all(), Ordering::Relaxed);
                thread::sleep(Duration::from_millis(5));
            }
        });
        scope.spawn(|| {
            while !over.load(Ordering::Relaxed) {
                let begun = Instant::now();
                assert_eq!(wren.get("me")["role"], "owner");
                assert!(begun.elapsed() < Duration::from_secs(6), "others wait {:?}", begun.elapsed());
                thread::sleep(Duration::from_millis(50));
            }
        });
        for file in hostile_files() {
            most.store(0, Ordering::Relaxed);
            let path = format!("listen/files?product=1&name={}", file.name);
            // Two send it at once, as small files are read beside each other.
            thread::scope(|scope| {
                for who in [&joss, &tamar] {
                    scope.spawn(|| {
                        let begun = Instant::now();
                        let request = who.request("POST", &path).body(file.bytes.clone()).timeout(LONGEST);
                        let answer = request.send().unwrap();
                        let (status, took) = (answer.status(), begun.elapsed());
                        let told: Value = answer.json().unwrap_or_default();
                        let part = &told["parts"][0];
                        eprintln!("{} in {took:.1?}: {} {}", file.what, part["holds"], part["words"]);
                        assert!(status == 200 || status == 413, "{}: {status} {told}", file.what);
                        assert!(took < LONGEST, "{}: {took:?}", file.what);
                    });
                }
            });
            let peak = most.load(Ordering::Relaxed).saturating_sub(rest);
            eprintln!("{}: {peak} MB", file.what);
            assert!(peak < MOST, "{}: {peak} MB above rest", file.what);
        }
    });
    wren.until("memory is given back", || server.memory_of_all() < rest + 150);
}
