//! Specify: epics, stories and their acceptance criteria.

mod level;
mod work_item;

pub use level::{check_parent, epic_of};
pub use work_item::{Criterion, Moscow, StoryState, WorkItem, story_sentence};

#[cfg(test)]
pub(crate) use work_item::tests as tests_support;
