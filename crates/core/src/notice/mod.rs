//! Who is told of what, and when a message that did not go out is tried again.
//!
//! | file | what is in it |
//! |---|---|
//! | `told` | who is told of something that happened, and for which reason |
//! | `settings` | what somebody wants to hear of, and how |
//! | `outbox` | the states of a message, and the pauses between its tries |

mod outbox;
mod settings;
mod told;

pub use outbox::{Attempt, Lately, MOST_MESSAGES, MOST_TRIES, MessageState, Next, after_attempt, may_get, pause};
pub use settings::{Setting, Settings};
pub use told::{Happened, NoticeSort, tell};
