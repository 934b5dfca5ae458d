//! What others notice while somebody attacks: how long they wait beside how long they do when nobody else is there, and how much
//! memory it takes. Everything goes over loopback on one machine, attackers too, so that the machine is shared with them.

use std::io::Write;
use std::net::TcpStream;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::thread;
use std::time::{Duration, Instant};

use iron_kite_testkit::{Client, Hostile, Server, hostile_files};
use serde_json::{Value, json};

use crate::{ms, tell};

/// Between two questions of somebody who works.
const PAUSE: Duration = Duration::from_millis(25);

/// One who attacks, until it is over; counts what was tried.
type Attacker<'a> = Box<dyn Fn(&Until<'_>) + Send + Sync + 'a>;

struct Until<'a> {
    over: &'a AtomicBool,
    tried: &'a AtomicU64,
}

impl Until<'_> {
    /// Whether to try once more.
    fn goes_on(&self) -> bool {
        self.tried.fetch_add(1, Ordering::Relaxed);
        !self.over.load(Ordering::Relaxed)
    }
}

/// Measures with so many seconds for each sort of attack.
pub(crate) fn measure(seconds: usize) {
    let time = Duration::from_secs(seconds as u64);
    let server = Server::demo();
    let form = format!("open/forms/{}", server.signed_in("wren").get("decide/forms/1")["key"].as_str().expect("a key"));
    let host = server.address.trim_start_matches("http://").to_owned();
    tell(&format!("{seconds} s of each attack; what others wait for (p95): {}", WORK.join(", ")));
    let others = ["wren", "tamar"].map(|name| server.signed_in(name));
    let idle = run(&server, &others, time, &[]);
    tell(&format!("nobody attacks: {} of {} answers, {} MB", waits(idle.p95), idle.answers, idle.memory));
    let files = hostile_files();
    let attacks: [(&str, Vec<Attacker<'_>>); 5] = [
        ("sign-in flood", (0..48).map(|n| sign_in(&server, n)).collect()),
        ("slow bodies", (0..4).map(|_| slow_bodies(&host, 100)).collect()),
        ("forms", (0..16).map(|n| forms(&server, &form, n)).collect()),
        ("hostile files", ["joss", "tamar"].map(|name| hostile(&server, name, &files)).into()),
        ("lists", ["vik", "joss"].map(|name| lists(&server, name)).into()),
    ];
    for (name, attackers) in &attacks {
        let seen = run(&server, &others, time, attackers);
        let [who, list, write]: [f64; 3] =
            std::array::from_fn(|what| seen.p95[what].as_secs_f64() / idle.p95[what].as_secs_f64());
        tell(&format!(
            "{name}: {} tries; others {} of {} answers, {who:.1}, {list:.1} and {write:.1} times idle (below 3); \
             at most {} MB, {} after it",
            seen.tries,
            waits(seen.p95),
            seen.answers,
            seen.memory,
            seen.after
        ));
    }
}

/// What others do.
const WORK: [&str; 3] = ["who they are", "a list", "a write"];

fn waits(p95: [Duration; 3]) -> String {
    format!("{:.1}, {:.1} and {:.1} ms", ms(p95[0]), ms(p95[1]), ms(p95[2]))
}

struct Seen {
    p95: [Duration; 3],
    answers: usize,
    tries: u64,
    memory: u64,
    after: u64,
}

fn run(server: &Server, others: &[Client], time: Duration, attackers: &[Attacker<'_>]) -> Seen {
    let (over, tried) = (AtomicBool::new(false), AtomicU64::new(0));
    let mut waited: [Vec<Duration>; 3] = Default::default();
    let mut memory = 0;
    thread::scope(|scope| {
        for attacker in attackers {
            scope.spawn(|| {
                // Who attacks has a machine of their own: here they give way, and what they have the server do does not.
                let _ = rustix::process::nice(19);
                attacker(&Until { over: &over, tried: &tried });
            });
        }
        let end = Instant::now() + time;
        let working = others.iter().map(|client| {
            scope.spawn(move || {
                let mut waits = Vec::new();
                while Instant::now() < end {
                    let what = waits.len() % WORK.len();
                    waits.push((what, work(client, what)));
                    thread::sleep(PAUSE);
                }
                waits
            })
        });
        let working: Vec<_> = working.collect();
        while Instant::now() < end {
            memory = memory.max(server.memory_of_all());
            thread::sleep(Duration::from_millis(100));
        }
        let done: Vec<_> = working.into_iter().map(thread::ScopedJoinHandle::join).collect();
        over.store(true, Ordering::Relaxed);
        for (what, wait) in done.into_iter().flat_map(|waits| waits.expect("somebody who works")) {
            waited[what].push(wait);
        }
    });
    thread::sleep(Duration::from_secs(5));
    waited.iter_mut().for_each(|waits| waits.sort_unstable());
    Seen {
        p95: std::array::from_fn(|what| waited[what][waited[what].len() * 95 / 100]),
        answers: waited.iter().map(Vec::len).sum(),
        tries: tried.into_inner(),
        memory,
        after: server.memory_of_all(),
    }
}

/// Something of a day's work; how long its answer took.
fn work(client: &Client, what: usize) -> Duration {
    let rows = json!({ "product": 1, "query": { "fields": ["title", "state"] }, "limit": 50 });
    let request = match what {
        0 => client.request("GET", "me"),
        1 => client.request("POST", "collections/idea/rows").json(&rows),
        _ => client.request("POST", "decide/ideas").json(&json!({ "product_id": 1, "title": "Measured" })),
    };
    let begun = Instant::now();
    let answer = request.send().expect("an answer");
    assert!(answer.status().is_success(), "{}", answer.status());
    drop(answer.bytes());
    begun.elapsed()
}

fn sign_in<'a>(server: &Server, number: usize) -> Attacker<'a> {
    let client = server.client();
    Box::new(move |until| {
        while until.goes_on() {
            let somebody = json!({ "email": format!("nobody-{number}@crossing.example"), "password": "x".repeat(40) });
            drop(client.request("POST", "session").json(&somebody).send());
        }
    })
}

/// Many who say that they send something large, and send it a letter at a time.
fn slow_bodies<'a>(host: &'a str, connections: usize) -> Attacker<'a> {
    let head = format!(
        "POST /api/v1/session HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: 60000\r\n\r\n"
    );
    Box::new(move |until| {
        let mut open = Vec::new();
        while until.goes_on() {
            if open.len() < connections
                && let Ok(mut line) = TcpStream::connect(host)
                && line.write_all(head.as_bytes()).is_ok()
            {
                open.push(line);
            } else {
                open.retain_mut(|line| line.write_all(b" ").is_ok());
                thread::sleep(Duration::from_millis(200));
            }
        }
    })
}

fn forms<'a>(server: &Server, form: &'a str, number: usize) -> Attacker<'a> {
    let client = server.client();
    Box::new(move |until| {
        let mut sent = 0;
        while until.goes_on() {
            sent += 1;
            let words = format!("A bell, please. {number} {sent} {}", "And another one. ".repeat(200));
            drop(client.request("POST", form).json(&json!({ "answers": { "wish": words } })).send());
        }
    })
}

fn hostile<'a>(server: &Server, name: &str, files: &'a [Hostile]) -> Attacker<'a> {
    let client = server.signed_in(name);
    Box::new(move |until| {
        for file in files.iter().cycle() {
            if !until.goes_on() {
                return;
            }
            let path = format!("listen/files?product=1&name={}", file.name);
            drop(client.request("POST", &path).body(file.bytes.clone()).send());
        }
    })
}

/// The largest questions that a list can be asked, over and over.
fn lists<'a>(server: &Server, name: &str) -> Attacker<'a> {
    let client = server.signed_in(name);
    let asked: Value = json!({
        "product": 1, "limit": 200,
        "query": {
            "fields": ["text", "kind", "sentiment", "person", "account", "findings"],
            "filter": { "field": "text", "operator": "contains", "value": "e" },
            "order": [{ "field": "sentiment" }],
        },
    });
    Box::new(move |until| {
        while until.goes_on() {
            drop(client.request("POST", "collections/excerpt/rows").json(&asked).send().map(|answer| answer.bytes()));
        }
    })
}
