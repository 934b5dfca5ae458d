//! The real interface in a headless browser: how tests look at it and act in it.

#![allow(clippy::expect_used, clippy::missing_panics_doc, reason = "a step that cannot be taken must say so and stop")]

mod browser;

pub use browser::{Page, browse};
pub use iron_kite_testkit::Server;
