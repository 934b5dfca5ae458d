//! Plan: releases, progress, and dependencies that cannot be kept.

mod at_once;
mod cycle;
mod order;
mod progress;
pub(crate) mod release;
pub(crate) mod sprint;

pub use at_once::{Building, built_at_once};
pub use cycle::would_close;
pub use order::{NeedsFirst, needs_first, release_order};
pub use progress::{Counted, Progress, add_up, progress};
pub use release::{Release, ReleaseState};
