//! How a rule adds a thing that hangs on another.

use crate::fields::{Collection, FieldDef, FieldType, LineLink, line_link};
use crate::kind::Holds;
use crate::things::Level;
use crate::trace::LinkKind;

/// How things are added through a field that shows several.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WayToAdd {
    /// An idea becomes an epic, as far as it is chosen.
    Epic,
    /// By a link of the line.
    Link(LineLink),
    /// By a column of the new thing.
    Column(&'static str),
}

/// Which things are added through a field of a collection, and how; nothing where none can be: what people said comes with
/// their words, and so does what is found in them.
#[must_use]
pub fn way_to_add(of: Collection, field: &FieldDef) -> Option<(Collection, WayToAdd)> {
    use Collection::{CompetitorNote, Excerpt, FeedbackItem, Finding, Person, Request, RequestForm};
    let FieldType::Link { to, many: true, .. } = field.kind else { return None };
    let comes_otherwise =
        matches!(to, FeedbackItem | Excerpt | Finding | Person | Request | RequestForm | CompetitorNote);
    if field.own.is_some() || comes_otherwise {
        return None;
    }
    match line_link(of, &field.name) {
        Some(link) if link.kind == LinkKind::Becomes => Some((to, WayToAdd::Epic)),
        Some(link) => Some((to, WayToAdd::Link(link))),
        None => {
            let points_back = |holds: Holds| matches!(holds, Holds::Thing(kind) if kind == of.kind());
            to.kind()
                .description()
                .editable
                .iter()
                .find(|one| points_back(one.holds))
                .map(|one| (to, WayToAdd::Column(one.name)))
        }
    }
}

/// The level of a work item that is added through a field; `below` is that of the thing that has the field, where it has
/// one. Nothing else has a level.
#[must_use]
pub fn level_of(field: &str, below: Option<Level>) -> Option<Level> {
    match (field, below) {
        ("epics", _) => Some(Level::Epic),
        ("initiatives", _) => Some(Level::Initiative),
        ("children", Some(Level::Initiative)) => Some(Level::Epic),
        ("children", Some(Level::Epic | Level::Feature)) => Some(Level::Story),
        ("children", Some(Level::Story | Level::Task)) => Some(Level::Task),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::registered;

    fn way(of: Collection, name: &str) -> Option<(Collection, WayToAdd)> {
        way_to_add(of, registered(of).iter().find(|field| field.name == name).unwrap())
    }

    #[test]
    fn things_are_added_by_the_way_that_the_line_has_for_them() {
        assert_eq!(way(Collection::Idea, "epics"), Some((Collection::WorkItem, WayToAdd::Epic)));
        assert_eq!(way(Collection::Idea, "increments"), Some((Collection::Increment, WayToAdd::Column("idea_id"))));
        assert_eq!(way(Collection::WorkItem, "children"), Some((Collection::WorkItem, WayToAdd::Column("parent_id"))));
        assert!(matches!(way(Collection::Finding, "ideas"), Some((Collection::Idea, WayToAdd::Link(_)))));
        assert_eq!(way(Collection::Idea, "findings"), None);
        assert_eq!(way(Collection::Idea, "title"), None);
    }

    #[test]
    fn what_hangs_on_work_is_smaller() {
        for (above, level) in
            [(Level::Initiative, Level::Epic), (Level::Epic, Level::Story), (Level::Story, Level::Task)]
        {
            assert_eq!(level_of("children", Some(above)), Some(level));
        }
        assert_eq!(level_of("epics", None), Some(Level::Epic));
        assert_eq!(level_of("increments", None), None);
    }
}
