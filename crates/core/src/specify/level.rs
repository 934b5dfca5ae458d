//! What may stand below what: initiative > epic > feature > story > task, any level may be skipped.

use std::collections::BTreeMap;

use super::WorkItem;
use crate::things::{Level, WorkItemId, with_article};

/// Checks that an item of one level may stand below one of another. As a parent is always above, nothing can stand
/// below itself.
///
/// # Errors
/// In words, where the parent is not above.
pub fn check_parent(level: Level, parent: Level) -> Result<(), String> {
    if parent < level {
        return Ok(());
    }
    let (item, above) = (with_article(level.name()), with_article(parent.name()).to_lowercase());
    Err(format!("{item} cannot stand below {above}. Pick something larger."))
}

/// The nearest epic above an item; none where there is none. `items` are all of the product, by their number.
#[must_use]
pub fn epic_of(item: &WorkItem, items: &BTreeMap<WorkItemId, &WorkItem>) -> Option<WorkItemId> {
    let mut at = item.parent_id;
    // There are no more levels than this to climb.
    for _ in Level::ALL {
        let above = items.get(&at?)?;
        if above.level == Level::Epic {
            return Some(above.id);
        }
        at = above.parent_id;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::specify::tests_support::story;

    #[test]
    fn a_parent_is_above() {
        assert_eq!(check_parent(Level::Story, Level::Epic), Ok(()));
        assert_eq!(check_parent(Level::Task, Level::Initiative), Ok(()));
        for (level, parent) in [(Level::Epic, Level::Story), (Level::Story, Level::Story)] {
            assert!(check_parent(level, parent).unwrap_err().contains("Pick something larger"));
        }
    }

    #[test]
    fn the_epic_is_found_over_levels_between() {
        let (mut epic, mut feature, mut one, loose) = (story(1), story(2), story(3), story(4));
        epic.level = Level::Epic;
        feature.level = Level::Feature;
        feature.parent_id = Some(epic.id);
        one.parent_id = Some(feature.id);
        let items = [&epic, &feature, &one, &loose].into_iter().map(|item| (item.id, item)).collect();
        assert_eq!(epic_of(&one, &items), Some(epic.id));
        assert_eq!(epic_of(&loose, &items), None);
    }
}
