//! What others feel while a large file comes in: how long a list takes, beside the same with nothing going on; and how
//! much memory the server takes at most.

use std::time::{Duration, Instant};

use iron_kite_testkit::{Client, Server, reviews_csv};

use crate::{ms, tell};

/// A person looks at something about so often.
const PAUSE: Duration = Duration::from_millis(20);
const IDLE: usize = 300;

/// Measures with a file of this many reviews.
pub(crate) fn measure(rows: usize) {
    let server = Server::demo();
    let (client, other) = (server.signed_in("wren"), server.signed_in("joss"));
    let text = reviews_csv(rows);
    let before = server.most_memory();
    let mut idle: Vec<Duration> = (0..IDLE).map(|_| look(&other)).collect();
    let (idle, busy, seconds) = std::thread::scope(|scope| {
        let start = Instant::now();
        let import = scope.spawn(move || {
            let file = client.put_down(2, "reviews.csv", text);
            let job = client.over(&client.bring_in(2, &file));
            assert_eq!(job["state"], "done");
            start.elapsed().as_secs_f64()
        });
        let mut busy = Vec::new();
        while !import.is_finished() {
            busy.push(look(&other));
        }
        (p95(&mut idle), p95(&mut busy), import.join().expect("the import"))
    });
    tell(&format!("while {rows} reviews come in, a list of 100 items asked for again and again"));
    tell(&format!(
        "  p95 {:.1} ms, with nothing going on {:.1} ms; ratio {:.1}; the import took {seconds:.0} s",
        ms(busy),
        ms(idle),
        ms(busy) / ms(idle)
    ));
    tell(&format!("  most memory of the server: {} MB, before the file {before} MB", server.most_memory()));
}

fn look(client: &Client) -> Duration {
    std::thread::sleep(PAUSE);
    let start = Instant::now();
    let _ = client.get("listen/items?product=1");
    start.elapsed()
}

fn p95(times: &mut [Duration]) -> Duration {
    times.sort_unstable();
    times.get(times.len() * 95 / 100).copied().unwrap_or_default()
}
