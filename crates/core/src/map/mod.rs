//! Map: the backbone of activities and steps, and places on it.

pub(crate) mod activity;
mod place;
pub(crate) mod step;

pub use activity::Activity;
pub use place::{Place, place};
pub use step::Step;
