//! Specify: epics, stories and their acceptance criteria.

mod work_item;

pub use work_item::{Criterion, Moscow, StoryState, WorkItem, story_sentence};

#[cfg(test)]
pub(crate) use work_item::tests as tests_support;
