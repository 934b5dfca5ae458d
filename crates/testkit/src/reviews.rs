//! Made-up reviews in any number, for measuring. Not for reading: they are put together from parts.

use std::fmt::Write;

const OPENINGS: [&str; 7] =
    ["Yesterday", "This morning", "On Sunday", "Once more", "In the rain", "With the car", "With my mother"];
const MIDDLES: [&str; 8] = [
    "the evening boat was off and nobody told us",
    "the deck was full although I had a place",
    "my ticket did not open on the pier",
    "the crew was kind and quick",
    "the refund is still not here",
    "the lane had changed without a word",
    "I could not read the times in the sun",
    "I had to show the pass three times",
];
const ENDINGS: [&str; 5] =
    ["Please do something.", "It was fine otherwise.", "We took the water taxi.", "Thank you anyway.", "Never again!"];

/// A CSV of this many reviews, all different, from some hundred people of some dozen accounts.
#[must_use]
pub fn reviews_csv(count: usize) -> String {
    let mut text = String::from("date,person,account,stars,review\n");
    for n in 0..count {
        let _ = writeln!(
            text,
            "2026-{:02}-{:02},Person {},Account {},{},\"{}, {} ({n}). {}\"",
            n % 12 + 1,
            n % 28 + 1,
            n % 311,
            n % 37,
            n % 5 + 1,
            OPENINGS[n % 7],
            MIDDLES[n % 8],
            ENDINGS[n % 5]
        );
    }
    text
}
