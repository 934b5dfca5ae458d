//! What the tests of several crates share.

#![allow(clippy::expect_used, reason = "a test that cannot be set up must say so and stop")]

mod content;
mod described;
mod filled;
mod hostile;
mod reviews;
mod server;

pub use content::{Content, content, differ};
pub use hostile::{Hostile, draws_itself, hostile_files, zip};
pub use reviews::reviews_csv;
pub use server::{Client, PASSWORD, Server, binary};
