//! Specify: epics, stories and their acceptance criteria.

pub(crate) mod criterion;
pub(crate) mod document;
mod hierarchy;
mod level;
pub(crate) mod page;
pub(crate) mod work_item;

pub use criterion::Criterion;
pub use hierarchy::{Hierarchy, Work};
pub use level::check_parent;
pub use work_item::{Moscow, StoryState, WorkItem, story_sentence};

#[cfg(test)]
pub(crate) use work_item::tests as tests_support;
