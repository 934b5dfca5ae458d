//! Measurements, each as a ratio to a plain way of doing the same in the same run: the machine may be
//! slow or fast, the ratio stays. Run with `cargo xtask bench`.

#![allow(clippy::expect_used, reason = "a measurement that cannot be made must say so and stop")]

mod attack;
mod browser;
mod collections;
mod files;
mod findings;
mod import;
mod listed;
mod loopback;
mod reading;
mod scores;
mod served;
mod window;

use std::io::Write;
use std::time::{Duration, Instant};

/// So many runs of something, from the shortest to the longest, after one that warms up.
fn times(act: &mut impl FnMut(), runs: usize) -> Vec<Duration> {
    act();
    let mut times: Vec<Duration> = (0..runs)
        .map(|_| {
            let start = Instant::now();
            act();
            start.elapsed()
        })
        .collect();
    times.sort_unstable();
    times
}

/// Milliseconds.
fn ms(time: Duration) -> f64 {
    time.as_secs_f64() * 1_000.0
}

/// Prints a line of the result.
fn tell(words: &str) {
    let _ = writeln!(std::io::stdout(), "{words}");
}

/// `bench [import|loopback|collections|listed|served|browser|findings|window|reading|scores|files|attack] [how many]`: one part, or all of them.
fn main() {
    let words: Vec<String> = std::env::args().skip(1).collect();
    // Files are read in a process of this program, as they are in one of the server.
    if let [command, _, memory] = words.as_slice()
        && command == "read-files"
    {
        iron_kite::serve_reader(memory.parse().expect("a number")).expect("a reader");
        return;
    }
    let part = words.iter().find(|word| word.parse::<usize>().is_err()).map(String::as_str);
    let count = words.iter().find_map(|word| word.parse().ok());
    let wants = |name: &str| part.is_none_or(|part| part == name);
    if wants("import") {
        import::measure(count.unwrap_or(10_000));
    }
    if wants("loopback") {
        loopback::measure(count.unwrap_or(10_000));
    }
    if wants("collections") {
        collections::measure(count.unwrap_or(100_000));
    }
    if wants("listed") {
        listed::measure(count.unwrap_or(100_000));
    }
    if wants("served") {
        served::measure(count.unwrap_or(100_000));
    }
    if wants("browser") {
        browser::measure(count.unwrap_or(100_000));
    }
    if wants("findings") {
        findings::measure(count.unwrap_or(100_000));
    }
    if wants("scores") {
        scores::measure(count.unwrap_or(500));
    }
    if wants("reading") {
        reading::measure(count.unwrap_or(10_000));
    }
    if wants("files") {
        files::measure(count.unwrap_or(200));
    }
    if wants("attack") {
        attack::measure(count.unwrap_or(60));
    }
    if wants("window") {
        window::measure(count.unwrap_or(100_000));
    }
}
