//! What a person waits for at 100,000 feedback items, over HTTP with its compression, while the engine reads what came in and after.

use std::time::{Duration, Instant};

use iron_kite_testkit::{Client, Server, reviews_csv};
use serde_json::{Value, json};

use crate::{ms, tell};

const TIMES: usize = 40;
/// The product of the demo that the reviews come into.
const PRODUCT: i64 = 2;

/// Something that is asked for: its name, where, and with what.
type Asked = (&'static str, &'static str, Option<Value>);

/// Measures with this many reviews.
pub(crate) fn measure(rows: usize) {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let start = Instant::now();
    let file = client.put_down(PRODUCT, "reviews.csv", reviews_csv(rows));
    let put_down = start.elapsed().as_secs_f64();
    assert_eq!(client.over(&client.bring_in(PRODUCT, &file))["state"], "done");
    let seconds = start.elapsed().as_secs_f64();
    tell(&format!(
        "{rows} reviews over HTTP (brought in within {seconds:.0} s, {put_down:.0} of them to look at the file)"
    ));
    let asked = asked(rows);
    let reading: Vec<[Duration; 2]> = asked.iter().map(|one| time(&client, one)).collect();
    assert!(at_work(&client) > 0, "the engine was to read meanwhile");
    rest(&client);
    for (one, busy) in asked.iter().zip(reading) {
        let [middle, most] = time(&client, one);
        tell(&format!(
            "  {:<38}: p50 {:6.1} ms, p95 {:6.1} ms; while the engine reads p50 {:6.1} ms, p95 {:6.1} ms; ratio of p50 {:.2}",
            one.0,
            ms(middle),
            ms(most),
            ms(busy[0]),
            ms(busy[1]),
            ms(busy[0]) / ms(middle)
        ));
    }
}

fn asked(rows: usize) -> Vec<Asked> {
    let list = |fields: &[&str], by: &str, skip: usize, contains: Option<&str>| {
        let filter = contains.map(|word| json!({ "field": fields[0], "operator": "contains", "value": word }));
        let query = json!({ "fields": fields, "order": [{ "field": by, "descending": true }], "filter": filter });
        Some(json!({ "product": PRODUCT, "query": query, "skip": skip, "limit": 100 }))
    };
    let group = |group: Value| Some(json!({ "product": PRODUCT, "query": { "group": [group] } }));
    let (items, excerpts) = ("collections/feedback_item/rows", "collections/excerpt/rows");
    let shown = ["text", "said_on", "source", "person", "rating"];
    vec![
        ("feedback by day, first page", items, list(&shown, "said_on", 0, None)),
        ("feedback by day, in the middle", items, list(&shown, "said_on", rows / 2, None)),
        ("feedback by rating", items, list(&shown, "rating", 0, None)),
        ("feedback by person, in the middle", items, list(&shown, "person", rows / 2, None)),
        ("feedback that contains “refund”", items, list(&shown, "said_on", 0, Some("refund"))),
        ("excerpts by sentiment", excerpts, list(&["words", "kind", "sentiment"], "sentiment", 0, None)),
        ("excerpts that contain “refund”", excerpts, list(&["words", "kind"], "said_on", 0, Some("refund"))),
        ("people by name", "collections/person/rows", list(&["name", "account"], "name", 0, None)),
        ("feedback by account, in groups", "collections/feedback_item/groups", group(json!({ "field": "account" }))),
        (
            "feedback by month, in groups",
            "collections/feedback_item/groups",
            group(json!({ "field": "said_on", "part": "month" })),
        ),
        ("excerpts by kind, in groups", "collections/excerpt/groups", group(json!({ "field": "kind" }))),
        ("what was said, in pictures", "listen/overview?product=2", None),
        ("the course", "course?product=2", None),
        ("the opening page", "opening?product=2", None),
        ("a search for two words", "search?product=2&words=late%20ticket", None),
    ]
}

fn time(client: &Client, (name, path, body): &Asked) -> [Duration; 2] {
    let ask = || {
        let request = client.request(if body.is_some() { "POST" } else { "GET" }, path);
        let request = match body {
            Some(body) => request.json(body),
            None => request,
        };
        let start = Instant::now();
        let answer = request.header("Accept-Encoding", "gzip").send().expect("an answer");
        let status = answer.status();
        drop(answer.bytes());
        let took = start.elapsed();
        assert!(status.is_success(), "{name}: {status}");
        took
    };
    ask();
    let mut times: Vec<Duration> = (0..TIMES).map(|_| ask()).collect();
    times.sort_unstable();
    [times[TIMES / 2], times[TIMES * 95 / 100]]
}

/// How much long work is under way.
fn at_work(client: &Client) -> usize {
    let jobs = client.get(&format!("jobs?product={PRODUCT}"));
    running(&jobs).count()
}

fn running(jobs: &Value) -> impl Iterator<Item = &Value> {
    let under_way = |job: &&Value| ["queued", "running"].contains(&job["state"].as_str().unwrap_or_default());
    jobs.as_array().into_iter().flatten().filter(under_way)
}

/// Ends all long work; the engine rests then, until more comes in.
fn rest(client: &Client) {
    client.until("nothing is at work", || {
        let jobs = client.get(&format!("jobs?product={PRODUCT}"));
        for job in running(&jobs) {
            drop(client.post(&format!("jobs/{}/cancel", job["id"]), &json!({})));
        }
        std::thread::sleep(Duration::from_secs(2));
        at_work(client) == 0
    });
}
