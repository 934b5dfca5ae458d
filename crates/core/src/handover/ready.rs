//! What must be true before a story may be handed over.

use serde::{Deserialize, Serialize};

use crate::specify::{StoryState, WorkItem};

/// One thing that must be true.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Check {
    /// What is asked for, in a few words.
    pub what: String,
    /// Whether it is so.
    pub holds: bool,
    /// What to do, where it is not.
    pub to_do: Option<String>,
}

/// The ready check of one story.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadyCheck {
    /// All that is asked for, in the same order for every story.
    pub checks: Vec<Check>,
    /// Whether all of it holds.
    pub ready: bool,
}

/// Looks whether a story may be handed over: it says for whom and why, how one sees that it is
/// done, how large it is, and it waits for nothing outside its release.
///
/// `criteria` is the number of its acceptance criteria, `needed` are the stories that it depends
/// on. Linear in those.
#[must_use]
pub fn ready_check(story: &WorkItem, criteria: usize, needed: &[&WorkItem]) -> ReadyCheck {
    let check = |what: &str, holds: bool, to_do: &str| Check {
        what: what.to_owned(),
        holds,
        to_do: (!holds).then(|| to_do.to_owned()),
    };
    let waiting: Vec<String> = needed
        .iter()
        .filter(|other| other.state != StoryState::Done)
        .filter(|other| other.release_id.is_none() || other.release_id != story.release_id)
        .map(|other| other.reference())
        .collect();
    let outside = format!("finish {}, or plan it into the same release", waiting.join(", "));
    let checks = vec![
        check("a persona", story.as_a.is_some(), "say who it is for"),
        check("a reason", story.so_that.is_some(), "say what it is good for, after \"so that\""),
        check("acceptance", criteria > 0, "write at least one acceptance criterion"),
        check("an estimate", story.points.is_some(), "estimate its points"),
        check("nothing to wait for", waiting.is_empty(), &outside),
    ];
    let ready = checks.iter().all(|check| check.holds);
    ReadyCheck { checks, ready }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::specify::tests_support::story;
    use crate::things::ReleaseId;

    fn holds(check: &ReadyCheck) -> Vec<bool> {
        check.checks.iter().map(|c| c.holds).collect()
    }

    #[test]
    fn each_thing_asked_for_is_looked_at_by_itself() {
        let mut one = story(1);
        assert_eq!(holds(&ready_check(&one, 0, &[])), [false, false, false, false, true]);
        one.as_a = Some("deckhand".into());
        one.so_that = Some("nobody waits".into());
        one.points = Some(0.0);
        let full = ready_check(&one, 1, &[]);
        assert!(full.ready && full.checks.iter().all(|c| c.to_do.is_none()));
    }

    #[test]
    fn it_waits_only_for_what_is_unfinished_and_elsewhere() {
        let mut one = story(1);
        one.release_id = Some(ReleaseId(1));
        let mut same = story(2);
        same.release_id = Some(ReleaseId(1));
        let mut done = story(3);
        done.state = StoryState::Done;
        let unplanned = story(4);
        assert!(holds(&ready_check(&one, 0, &[&same, &done]))[4]);
        let waiting = ready_check(&one, 0, &[&same, &unplanned]);
        assert_eq!(waiting.checks[4].to_do.as_deref(), Some("finish S4, or plan it into the same release"));
        // Without a release of its own, nothing lies in the same one.
        assert!(!holds(&ready_check(&story(5), 0, &[&unplanned]))[4]);
    }
}
