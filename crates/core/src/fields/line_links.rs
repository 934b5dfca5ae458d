//! The link fields that are part of the line: what a finding supports, what an objective asks for, what a story needs.
//! They are edited like any other field, under the rules of the line.

use super::collection::Collection;
use crate::trace::LinkKind;

/// What a link field of the line stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LineLink {
    /// What its links say.
    pub kind: LinkKind,
    /// Whether they run from the thing that has the field.
    pub forward: bool,
    /// The other collection.
    pub to: Collection,
    /// Whether people make and take them away; an idea becomes an epic by a step of its own.
    pub editable: bool,
}

/// The link of the line that a field stands for; nothing where it is none.
#[must_use]
pub fn line_link(collection: Collection, name: &str) -> Option<LineLink> {
    use Collection::{Document, Excerpt, Finding, Idea, Objective, Page, Person, Release, Study, WorkItem};
    use LinkKind::{AsksFor, Becomes, Informs, NeededBy, Supports, TakesPart};
    let (kind, forward, to, editable) = match (collection, name) {
        (Excerpt, "findings") => (Supports, true, Finding, true),
        // A finding may have thousands; they are put behind it where the words are read.
        (Finding, "excerpts") => (Supports, false, Excerpt, false),
        // They are quoted where the words are read, so that a document has their words, too.
        (Excerpt, "ideas") => (Supports, true, Idea, false),
        (Excerpt, "documents") => (Supports, true, Document, false),
        (Excerpt, "pages") => (Supports, true, Page, false),
        (Idea | Document | Page, "quotes") => (Supports, false, Excerpt, false),
        (Study, "participants") => (TakesPart, false, Person, true),
        (Person, "studies") => (TakesPart, true, Study, true),
        (Study, "findings") => (Informs, true, Finding, true),
        (Finding, "studies") => (Informs, false, Study, true),
        (Study, "ideas") => (Informs, true, Idea, true),
        (Idea, "studies") => (Informs, false, Study, true),
        (Study, "epics") => (Informs, true, WorkItem, true),
        (WorkItem, "studies") => (Informs, false, Study, true),
        (Finding, "ideas") => (Supports, true, Idea, true),
        (Objective, "ideas") => (AsksFor, true, Idea, true),
        (Objective, "initiatives") => (AsksFor, true, WorkItem, true),
        (WorkItem, "objectives") => (AsksFor, false, Objective, true),
        (Objective, "releases") => (AsksFor, true, Release, true),
        (Release, "objectives") => (AsksFor, false, Objective, true),
        (Idea, "objectives") => (AsksFor, false, Objective, true),
        (Idea, "findings") => (Supports, false, Finding, true),
        (Idea, "epics") => (Becomes, true, WorkItem, false),
        (WorkItem, "ideas") => (Becomes, false, Idea, false),
        (WorkItem, "needs") => (NeededBy, false, WorkItem, true),
        (WorkItem, "needed_by") => (NeededBy, true, WorkItem, true),
        (Idea, "needs") => (NeededBy, false, Idea, true),
        (Idea, "needed_by") => (NeededBy, true, Idea, true),
        _ => return None,
    };
    Some(LineLink { kind, forward, to, editable })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{FieldType, registered};

    #[test]
    fn each_is_a_link_field_that_leads_where_the_line_may_lead() {
        let mut seen = 0;
        for collection in Collection::ALL.iter().copied() {
            for field in registered(collection) {
                let Some(link) = line_link(collection, &field.name) else { continue };
                seen += 1;
                assert!(
                    matches!(field.kind, FieldType::Link { to, many: true, .. } if to == link.to),
                    "{}",
                    field.name
                );
                let (from, to) = if link.forward { (collection, link.to) } else { (link.to, collection) };
                assert!(link.kind.joins(from.kind(), to.kind()), "{}", field.name);
                assert_eq!(field.editable, link.editable, "{}", field.name);
            }
        }
        assert_eq!(seen, 30);
    }
}
