//! The states of a message, and the pauses between its tries.
//!
//! A message goes out at most once. It is marked before the words go over the line; where the line breaks after that and
//! before the other side has answered, nobody knows whether it arrived, and it is not sent again by itself.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Where a message stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MessageState {
    /// It waits to go out, perhaps again.
    Waiting,
    /// It goes out just now.
    Sending,
    /// The mail server took it.
    Sent,
    /// It was kept as a file, since no mail server is set.
    Kept,
    /// It was given up.
    Failed,
    /// It may have arrived.
    Unsure,
}

impl MessageState {
    const ALL: [MessageState; 6] = [
        MessageState::Waiting,
        MessageState::Sending,
        MessageState::Sent,
        MessageState::Kept,
        MessageState::Failed,
        MessageState::Unsure,
    ];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            MessageState::Waiting => "waiting",
            MessageState::Sending => "sending",
            MessageState::Sent => "sent",
            MessageState::Kept => "kept",
            MessageState::Failed => "failed",
            MessageState::Unsure => "unsure",
        }
    }

    /// The one of this name; what nobody knows may have arrived.
    #[must_use]
    pub fn named(name: &str) -> Self {
        Self::ALL.into_iter().find(|one| one.name() == name).unwrap_or(MessageState::Unsure)
    }
}

/// What came of sending a message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Attempt {
    /// The mail server took it.
    Sent,
    /// It was kept as a file.
    Kept,
    /// It did not go out, and may the next time: the server was not there, or said "later". Why.
    Later(String),
    /// It will never go out as it is: the server said "no". Why.
    Never(String),
    /// The line broke after the words had gone over it. Why.
    Unsure(String),
}

/// What becomes of a message after a try.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Next {
    /// Where it stands.
    pub state: MessageState,
    /// When it is tried again, where it is.
    pub next_at: Option<Timestamp>,
    /// What went wrong, and what to do.
    pub problem: Option<String>,
}

/// How many messages were written to somebody lately.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Lately {
    /// Within the last hour.
    pub hour: u32,
    /// Within the last day.
    pub day: u32,
}

impl Lately {
    /// With one more, just now.
    #[must_use]
    pub fn and_one(self) -> Lately {
        Lately { hour: self.hour + 1, day: self.day + 1 }
    }
}

/// So many messages one person gets within an hour, and within a day.
pub const MOST_MESSAGES: Lately = Lately { hour: 30, day: 100 };

/// Whether somebody may get another message by mail after those.
#[must_use]
pub fn may_get(lately: Lately) -> bool {
    lately.hour < MOST_MESSAGES.hour && lately.day < MOST_MESSAGES.day
}

/// So often a message is tried; the tries lie over about a day.
pub const MOST_TRIES: u32 = 12;
const FIRST: SignedDuration = SignedDuration::from_mins(1);
const LONGEST: SignedDuration = SignedDuration::from_hours(12);

/// The pause after so many tries: one minute, and twice the one before each time, up to half a day.
#[must_use]
pub fn pause(tries: u32) -> SignedDuration {
    let times = 1i32.checked_shl(tries.saturating_sub(1)).filter(|times| *times > 0).unwrap_or(i32::MAX);
    FIRST.checked_mul(times).map_or(LONGEST, |pause| pause.min(LONGEST))
}

/// What becomes of a message that was tried for the `tries`th time now.
#[must_use]
pub fn after_attempt(attempt: Attempt, tries: u32, now: Timestamp) -> Next {
    let ended = |state, problem| Next { state, next_at: None, problem };
    match attempt {
        Attempt::Sent => ended(MessageState::Sent, None),
        Attempt::Kept => ended(MessageState::Kept, None),
        Attempt::Never(why) => ended(MessageState::Failed, Some(why)),
        Attempt::Unsure(why) => {
            ended(MessageState::Unsure, Some(format!("{why} It may have arrived, so it is not sent again by itself.")))
        }
        Attempt::Later(why) if tries >= MOST_TRIES => {
            ended(MessageState::Failed, Some(format!("{why} It was tried {tries} times.")))
        }
        Attempt::Later(why) => {
            Next { state: MessageState::Waiting, next_at: now.checked_add(pause(tries)).ok(), problem: Some(why) }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pauses_double_up_to_half_a_day() {
        let minutes: Vec<i64> = (1..=MOST_TRIES).map(|tries| pause(tries).as_mins()).collect();
        assert_eq!(minutes, [1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 720, 720]);
        assert_eq!(pause(0), FIRST);
        assert_eq!(pause(u32::MAX), LONGEST);
        let all: i64 = (1..MOST_TRIES).map(|tries| pause(tries).as_mins()).sum();
        assert_eq!(all, 1_743, "a mail server may be away for a day");
    }

    #[test]
    fn only_what_surely_did_not_go_out_is_tried_again() {
        let now = Timestamp::UNIX_EPOCH;
        let after = |attempt, tries| after_attempt(attempt, tries, now);
        let later = after(Attempt::Later("Nobody answers.".into()), 3);
        assert_eq!((later.state, later.next_at), (MessageState::Waiting, Some(now + pause(3))));
        assert_eq!(after(Attempt::Later("Nobody answers.".into()), MOST_TRIES).state, MessageState::Failed);
        for (attempt, state) in [
            (Attempt::Sent, MessageState::Sent),
            (Attempt::Kept, MessageState::Kept),
            (Attempt::Never("No such box.".into()), MessageState::Failed),
            (Attempt::Unsure("The line broke.".into()), MessageState::Unsure),
        ] {
            let next = after(attempt, 1);
            assert_eq!((next.state, next.next_at), (state, None));
        }
    }

    #[test]
    fn every_state_is_found_by_its_name() {
        for state in MessageState::ALL {
            assert_eq!(MessageState::named(state.name()), state);
        }
        assert_eq!(MessageState::named("what"), MessageState::Unsure);
    }
}
