//! Measurements, each as a ratio to a plain way of doing the same in the same run: the machine may be
//! slow or fast, the ratio stays. Run with `cargo xtask bench`.

#![allow(clippy::expect_used, reason = "a measurement that cannot be made must say so and stop")]

mod import;
mod loopback;

use std::io::Write;

/// Prints a line of the result.
fn tell(words: &str) {
    let _ = writeln!(std::io::stdout(), "{words}");
}

fn main() {
    let rows = std::env::args().nth(1).and_then(|count| count.parse().ok()).unwrap_or(10_000);
    import::measure(rows);
    loopback::measure(rows);
}
