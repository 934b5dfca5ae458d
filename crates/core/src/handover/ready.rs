//! What must be true before a story may be handed over.

use serde::{Deserialize, Serialize};

use crate::specify::{StoryState, WorkItem};
use crate::things::ReleaseId;

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

/// A story that another one depends on, as far as the check must know.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Needed {
    /// Such as S14.
    pub reference: String,
    /// Where it stands.
    pub state: StoryState,
    /// Its release.
    pub release: Option<ReleaseId>,
}

/// What the check looks at.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct ReadyFacts {
    /// Whether it says who it is for.
    pub persona: bool,
    /// Whether it says what it is good for.
    pub reason: bool,
    /// How many acceptance criteria it has.
    pub criteria: usize,
    /// Whether its points are estimated.
    pub estimate: bool,
    /// Its release.
    pub release: Option<ReleaseId>,
    /// The stories that it depends on.
    pub needed: Vec<Needed>,
}

/// Looks whether a story may be handed over; see [`check_facts`]. `criteria` is the number of its acceptance
/// criteria, `needed` are the stories that it depends on.
#[must_use]
pub fn ready_check(story: &WorkItem, criteria: usize, needed: &[&WorkItem]) -> ReadyCheck {
    let needed = needed.iter().map(|other| Needed {
        reference: other.reference(),
        state: other.state,
        release: other.release_id,
    });
    check_facts(&ReadyFacts {
        persona: story.as_a.is_some(),
        reason: story.so_that.is_some(),
        criteria,
        estimate: story.points.is_some(),
        release: story.release_id,
        needed: needed.collect(),
    })
}

/// Looks whether a story may be handed over: it says for whom and why, how one sees that it is
/// done, how large it is, and it waits for nothing outside its release. Linear in what it depends on.
#[must_use]
pub fn check_facts(story: &ReadyFacts) -> ReadyCheck {
    let check = |what: &str, holds: bool, to_do: &str| Check {
        what: what.to_owned(),
        holds,
        to_do: (!holds).then(|| to_do.to_owned()),
    };
    let waiting: Vec<&str> = story
        .needed
        .iter()
        .filter(|other| other.state != StoryState::Done)
        .filter(|other| other.release.is_none() || other.release != story.release)
        .map(|other| other.reference.as_str())
        .collect();
    let outside = format!("finish {}, or plan it into the same release", waiting.join(", "));
    let checks = vec![
        check("a persona", story.persona, "say who it is for"),
        check("a reason", story.reason, "say what it is good for, after \"so that\""),
        check("acceptance", story.criteria > 0, "write at least one acceptance criterion"),
        check("an estimate", story.estimate, "estimate its points"),
        check("nothing to wait for", waiting.is_empty(), &outside),
    ];
    let ready = checks.iter().all(|check| check.holds);
    ReadyCheck { checks, ready }
}

impl ReadyCheck {
    /// What is missing in a few words, such as "a persona, an estimate"; empty where nothing is.
    #[must_use]
    pub fn missing(&self) -> String {
        let words = self.checks.iter().filter(|check| !check.holds).map(|check| match check.what.as_str() {
            "nothing to wait for" => "waits for another",
            what => what,
        });
        words.collect::<Vec<_>>().join(", ")
    }
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
        assert_eq!(waiting.missing(), "a persona, a reason, acceptance, an estimate, waits for another");
        // Without a release of its own, nothing lies in the same one.
        assert!(!holds(&ready_check(&story(5), 0, &[&unplanned]))[4]);
    }
}
