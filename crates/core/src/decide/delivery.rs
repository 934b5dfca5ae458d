//! What is delivered of an idea, an increment, an initiative or a release: the stories below it, each once.

use std::collections::{BTreeMap, BTreeSet};

use crate::specify::{Hierarchy, Work};
use crate::things::{IdeaId, IncrementId, Level, ReleaseId, WorkItemId};

/// The work of a product, and what it is for.
#[derive(Debug, Clone, Default)]
pub struct Delivery {
    /// What is below what, and how far it is.
    pub work: Hierarchy,
    of_release: BTreeMap<ReleaseId, BTreeSet<WorkItemId>>,
    of_increment: BTreeMap<IncrementId, BTreeSet<WorkItemId>>,
    became: BTreeMap<IdeaId, Vec<WorkItemId>>,
    split: BTreeMap<IdeaId, Vec<IncrementId>>,
}

impl Delivery {
    /// The work of a product, which idea became which work, and which increment is a step of which idea. O(n log n).
    #[must_use]
    pub fn of(work: Vec<Work>, became: &[(IdeaId, WorkItemId)], split: &[(IdeaId, IncrementId)]) -> Delivery {
        let mut all = Delivery { work: Hierarchy::of(work), ..Delivery::default() };
        for story in all.work.items().filter(|item| item.level == Level::Story) {
            if let Some(release) = story.release {
                all.of_release.entry(release).or_default().insert(story.id);
            }
            if let Some(increment) = story.increment {
                all.of_increment.entry(increment).or_default().insert(story.id);
            }
        }
        became.iter().for_each(|(idea, item)| all.became.entry(*idea).or_default().push(*item));
        split.iter().for_each(|(idea, increment)| all.split.entry(*idea).or_default().push(*increment));
        all
    }

    /// The stories in a release.
    #[must_use]
    pub fn in_release(&self, release: ReleaseId) -> BTreeSet<WorkItemId> {
        self.of_release.get(&release).cloned().unwrap_or_default()
    }

    /// The stories of an increment.
    #[must_use]
    pub fn in_increment(&self, increment: IncrementId) -> BTreeSet<WorkItemId> {
        self.of_increment.get(&increment).cloned().unwrap_or_default()
    }

    /// The stories of an idea: those below the work that it became, and those of its increments.
    #[must_use]
    pub fn of_idea(&self, idea: IdeaId) -> BTreeSet<WorkItemId> {
        let below = self.became.get(&idea).into_iter().flatten().flat_map(|item| self.work.stories_below(*item));
        let steps = self.split.get(&idea).into_iter().flatten().flat_map(|increment| self.in_increment(*increment));
        below.chain(steps).collect()
    }

    /// The ideas of which a story in a release is done, ascending.
    #[must_use]
    pub fn ideas_out(&self, release: ReleaseId) -> Vec<IdeaId> {
        let out = |story: &WorkItemId| self.work.get(*story).is_some_and(|one| one.counted.done);
        let done: BTreeSet<WorkItemId> = self.in_release(release).into_iter().filter(out).collect();
        self.ideas().into_iter().filter(|idea| !self.of_idea(*idea).is_disjoint(&done)).collect()
    }

    /// The ideas that became work or are taken in increments, ascending.
    #[must_use]
    pub fn ideas(&self) -> BTreeSet<IdeaId> {
        self.became.keys().chain(self.split.keys()).copied().collect()
    }

    /// Whether an idea is built as a whole: it has stories, and all of them are done.
    #[must_use]
    pub fn is_whole(&self, idea: IdeaId) -> bool {
        let progress = self.work.progress(&self.of_idea(idea));
        progress.stories > 0 && progress.stories == progress.stories_done
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Counted;
    use proptest::prelude::*;

    fn id(n: usize) -> i64 {
        i64::try_from(n).unwrap() + 1
    }

    proptest! {
        #[test]
        fn progress_is_the_sum_over_the_leaves(
            plan in prop::collection::vec((0..5usize, prop::option::of(0..30usize), any::<bool>(), prop::option::of(0..9u8), prop::option::of(0..4i64), prop::option::of(0..4i64)), 1..30),
            became in prop::collection::vec((0..3i64, 0..30usize), 0..12),
            split in prop::collection::vec(0..3i64, 4),
        ) {
            let work: Vec<Work> = plan.iter().enumerate().map(|(n, (level, parent, done, points, release, increment))| Work {
                id: WorkItemId(id(n)),
                // Only what came before, so that nothing hangs below itself.
                parent: parent.filter(|_| n > 0).map(|parent| WorkItemId(id(parent % n))),
                level: Level::ALL[*level],
                counted: Counted { done: *done, points: points.map(f64::from) },
                release: release.map(ReleaseId),
                increment: increment.map(IncrementId),
            }).collect();
            let became: Vec<_> = became.iter().map(|(idea, item)| (IdeaId(*idea), WorkItemId(id(item % work.len())))).collect();
            let split: Vec<_> = split.iter().enumerate().map(|(n, idea)| (IdeaId(*idea), IncrementId(id(n) - 1))).collect();
            let all = Delivery::of(work.clone(), &became, &split);
            let above = |item: &Work| {
                let mut line = vec![item.id];
                while let Some(parent) = work.iter().find(|other| Some(&other.id) == line.last()).and_then(|at| at.parent) {
                    line.push(parent);
                }
                line
            };
            for idea in (0..3).map(IdeaId) {
                let leaves: Vec<&Work> = work.iter().filter(|item| item.level == Level::Story).filter(|item| {
                    let line = above(item);
                    became.iter().any(|(of, to)| *of == idea && line.contains(to))
                        || split.iter().any(|(of, step)| *of == idea && item.increment == Some(*step))
                }).collect();
                let told = all.work.progress(&all.of_idea(idea));
                prop_assert_eq!(all.is_whole(idea), !leaves.is_empty() && leaves.iter().all(|leaf| leaf.counted.done));
                prop_assert_eq!(told.stories, leaves.len());
                prop_assert_eq!(told.stories_done, leaves.iter().filter(|leaf| leaf.counted.done).count());
                let points: f64 = leaves.iter().filter_map(|leaf| leaf.counted.points).sum();
                prop_assert_eq!(told.points, points);
                let done: f64 = leaves.iter().filter(|leaf| leaf.counted.done).filter_map(|leaf| leaf.counted.points).sum();
                prop_assert_eq!(told.points_done, done);
            }
            for release in (0..4).map(ReleaseId) {
                let out = |idea: &IdeaId| all.of_idea(*idea).iter().any(|story| {
                    work.iter().any(|item| item.id == *story && item.counted.done && item.release == Some(release))
                });
                prop_assert_eq!(all.ideas_out(release), (0..3).map(IdeaId).filter(out).collect::<Vec<_>>());
            }
            // A story belongs to one increment at most, so what they hold adds up to what has one.
            let held: usize = (0..4).map(|step| all.in_increment(IncrementId(step)).len()).sum();
            let stories = work.iter().filter(|item| item.level == Level::Story);
            prop_assert_eq!(held, stories.filter(|item| item.increment.is_some()).count());
        }
    }
}
