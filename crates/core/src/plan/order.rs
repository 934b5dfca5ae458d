//! The order of releases, and stories that need one from a later release.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::Release;
use crate::specify::{StoryState, WorkItem};
use crate::things::{ReleaseId, WorkItemId};

/// A story that cannot be finished where it lies, because another comes too late.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NeedsFirst {
    /// The story that is too early.
    pub story_id: WorkItemId,
    /// The story that it needs.
    pub needed_id: WorkItemId,
    /// "needs S14 first"
    pub words: String,
}

/// Releases in the order in which they go out: by their last day, those without one last, then by
/// number. The place of each, from 0. O(n log n).
#[must_use]
pub fn release_order(releases: &[Release]) -> BTreeMap<ReleaseId, usize> {
    let mut sorted: Vec<&Release> = releases.iter().collect();
    sorted.sort_by_key(|release| (release.ends_on.is_none(), release.ends_on.clone(), release.id));
    sorted.into_iter().enumerate().map(|(place, release)| (release.id, place)).collect()
}

/// The stories of `stories` that depend on one in a later release, or in none at all.
///
/// `needs` are the dependencies as (needed, dependent). What is done is never in the way.
/// A dependent story without a release is not planned yet, so nothing is wrong with it. O((n + d) log n).
#[must_use]
pub fn needs_first(
    stories: &[WorkItem],
    needs: &[(WorkItemId, WorkItemId)],
    order: &BTreeMap<ReleaseId, usize>,
) -> Vec<NeedsFirst> {
    let by_id: BTreeMap<WorkItemId, &WorkItem> = stories.iter().map(|story| (story.id, story)).collect();
    let place = |story: &WorkItem| story.release_id.and_then(|release| order.get(&release)).copied();
    needs
        .iter()
        .filter_map(|(needed, dependent)| Some((*by_id.get(needed)?, *by_id.get(dependent)?)))
        .filter(|(needed, dependent)| {
            let wanted =
                place(dependent).filter(|_| needed.state != StoryState::Done && dependent.state != StoryState::Done);
            wanted.is_some_and(|wanted| place(needed).is_none_or(|there| there > wanted))
        })
        .map(|(needed, dependent)| NeedsFirst {
            story_id: dependent.id,
            needed_id: needed.id,
            words: format!("needs {} first", needed.reference()),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::ReleaseState;
    use crate::specify::tests_support::story;
    use crate::things::ProductId;

    fn release(id: i64, ends_on: Option<&str>) -> Release {
        Release {
            id: ReleaseId(id),
            rev: 1,
            product_id: ProductId(1),
            title: format!("Release {id}"),
            starts_on: None,
            ends_on: ends_on.map(str::to_owned),
            released_on: None,
            capacity: None,
            state: ReleaseState::Planned,
        }
    }

    #[test]
    fn only_what_comes_too_late_is_flagged() {
        let order = release_order(&[release(1, None), release(2, Some("2026-09-01")), release(3, Some("2026-05-01"))]);
        assert_eq!(order, BTreeMap::from([(ReleaseId(3), 0), (ReleaseId(2), 1), (ReleaseId(1), 2)]));
        let mut stories: Vec<WorkItem> = (1..=6).map(story).collect();
        for (at, release) in [(0, 3), (1, 2), (2, 3), (4, 2), (5, 3)] {
            stories[at].release_id = Some(ReleaseId(release));
        }
        stories[4].state = StoryState::Done;
        let needs = [(2, 1), (3, 1), (4, 1), (5, 1), (1, 2), (1, 4)].map(|(a, b)| (WorkItemId(a), WorkItemId(b)));
        let words: Vec<_> =
            needs_first(&stories, &needs, &order).into_iter().map(|n| (n.story_id.0, n.words)).collect();
        assert_eq!(words, [(1, "needs S2 first".to_owned()), (1, "needs S4 first".to_owned())]);
    }
}
