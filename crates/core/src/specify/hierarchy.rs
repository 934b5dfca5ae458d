//! The hierarchy of work: initiative > epic > feature > story > task, any level may be skipped. Whoever asks what is below or
//! above a work item, or how far it is, asks here.

use std::collections::{BTreeMap, BTreeSet};

use super::{StoryState, WorkItem};
use crate::plan::{Counted, Progress, add_up};
use crate::things::{IncrementId, Level, ReleaseId, WorkItemId};

/// A work item as far as its place and progress need it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Work {
    /// Its number.
    pub id: WorkItemId,
    /// What it is a part of.
    pub parent: Option<WorkItemId>,
    /// Its level; only stories count.
    pub level: Level,
    /// How far it is, and how large.
    pub counted: Counted,
    /// The release that it lies in.
    pub release: Option<ReleaseId>,
    /// The increment that it belongs to: one at most.
    pub increment: Option<IncrementId>,
}

impl From<&WorkItem> for Work {
    fn from(item: &WorkItem) -> Self {
        Work {
            id: item.id,
            parent: item.parent_id,
            level: item.level,
            counted: Counted { done: item.state == StoryState::Done, points: item.points },
            release: item.release_id,
            increment: item.increment_id,
        }
    }
}

/// The work of a product and what is below what.
#[derive(Debug, Clone, Default)]
pub struct Hierarchy {
    work: BTreeMap<WorkItemId, Work>,
    parts: BTreeMap<WorkItemId, Vec<WorkItemId>>,
}

impl Hierarchy {
    /// The hierarchy of these work items. O(n log n).
    #[must_use]
    pub fn of(work: impl IntoIterator<Item = Work>) -> Self {
        let mut all = Hierarchy::default();
        for item in work {
            if let Some(parent) = item.parent {
                all.parts.entry(parent).or_default().push(item.id);
            }
            all.work.insert(item.id, item);
        }
        all
    }

    /// A work item.
    #[must_use]
    pub fn get(&self, item: WorkItemId) -> Option<&Work> {
        self.work.get(&item)
    }

    /// All work items, by their numbers.
    pub fn items(&self) -> impl Iterator<Item = &Work> {
        self.work.values()
    }

    /// What a work item is a part of, from the nearest up. At most one for each level above. O(levels · log n).
    pub fn ancestors(&self, item: WorkItemId) -> impl Iterator<Item = &Work> {
        let above = |item: &&Work| item.parent.and_then(|parent| self.work.get(&parent));
        let first = self.work.get(&item);
        std::iter::successors(first, above).skip(1).take(Level::ALL.len() - 1)
    }

    /// The nearest epic above a work item; none where there is none.
    #[must_use]
    pub fn epic_of(&self, item: WorkItemId) -> Option<WorkItemId> {
        self.ancestors(item).find(|above| above.level == Level::Epic).map(|epic| epic.id)
    }

    /// The stories below a work item on all levels, each once; itself where it is one. O(what is below · log n).
    #[must_use]
    pub fn stories_below(&self, item: WorkItemId) -> BTreeSet<WorkItemId> {
        let (mut stories, mut seen, mut open) = (BTreeSet::new(), BTreeSet::new(), vec![item]);
        while let Some(id) = open.pop() {
            if !seen.insert(id) {
                continue;
            }
            if self.work.get(&id).is_some_and(|item| item.level == Level::Story) {
                stories.insert(id);
            }
            open.extend(self.parts.get(&id).into_iter().flatten());
        }
        stories
    }

    /// How far some work items are.
    #[must_use]
    pub fn progress(&self, stories: &BTreeSet<WorkItemId>) -> Progress {
        add_up(stories.iter().filter_map(|id| self.work.get(id)).map(|item| item.counted))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn work(id: i64, parent: Option<i64>, level: Level, done: bool, points: Option<f64>) -> Work {
        let counted = Counted { done, points };
        Work { id: WorkItemId(id), parent: parent.map(WorkItemId), level, counted, release: None, increment: None }
    }

    #[test]
    fn the_epic_is_found_over_levels_between() {
        let all = Hierarchy::of([
            work(1, None, Level::Epic, false, None),
            work(2, Some(1), Level::Feature, false, None),
            work(3, Some(2), Level::Story, false, None),
            work(4, None, Level::Story, false, None),
            work(5, Some(3), Level::Task, false, None),
        ]);
        let epics = [1, 2, 3, 4, 5].map(|id| all.epic_of(WorkItemId(id)).map(|epic| epic.0));
        assert_eq!(epics, [None, Some(1), Some(1), None, Some(1)]);
    }

    /// A tree over all five levels: each item below one that is larger, or below nothing.
    fn tree() -> impl Strategy<Value = Vec<Work>> {
        let one = (0..5usize, any::<prop::sample::Index>(), any::<bool>(), any::<bool>(), prop::option::of(0..9u8));
        prop::collection::vec(one, 1..40).prop_map(|plan| {
            let mut all: Vec<Work> = Vec::new();
            for (id, (level, pick, loose, done, points)) in (1..).zip(plan) {
                let level = Level::ALL[level];
                let above: Vec<i64> = all.iter().filter(|other| other.level < level).map(|other| other.id.0).collect();
                let parent = (!loose && !above.is_empty()).then(|| *pick.get(&above));
                all.push(work(id, parent, level, done, points.map(f64::from)));
            }
            all
        })
    }

    proptest! {
        #[test]
        fn what_is_below_and_above_is_what_a_climb_from_each_item_finds(all in tree()) {
            let hierarchy = Hierarchy::of(all.clone());
            let parent = |id: WorkItemId| all.iter().find(|item| item.id == id).and_then(|item| item.parent);
            let climb = |id: WorkItemId| std::iter::successors(parent(id), |above| parent(*above)).collect::<Vec<_>>();
            for item in &all {
                let above: Vec<WorkItemId> = hierarchy.ancestors(item.id).map(|one| one.id).collect();
                prop_assert_eq!(&above, &climb(item.id));
                let stories: BTreeSet<WorkItemId> = all
                    .iter()
                    .filter(|story| story.level == Level::Story)
                    .filter(|story| story.id == item.id || climb(story.id).contains(&item.id))
                    .map(|story| story.id)
                    .collect();
                prop_assert_eq!(&hierarchy.stories_below(item.id), &stories);
                let told = hierarchy.progress(&stories);
                let done = all.iter().filter(|one| stories.contains(&one.id) && one.counted.done).count();
                prop_assert_eq!((told.stories, told.stories_done), (stories.len(), done));
            }
        }
    }
}
