//! Specify: epics, stories and their acceptance criteria.

mod board;
mod write;

pub use board::{Board, EpicView, StoryParts, StoryView, board, board_of, story_parts};
pub(crate) use write::put_epic;
pub use write::{NewEpic, NewStory, add_criterion, add_epic, add_story};
