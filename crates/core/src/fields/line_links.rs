//! The link fields that are part of the line: what a finding supports, what an objective asks for, what a story needs.
//! They are edited like any other field, under the rules of the line.

use super::collection::Collection;
use crate::things::ThingKind;
use crate::trace::{BETWEEN, End, LinkKind};

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
    let side = |end: End, forward: bool, to: ThingKind, kind: LinkKind| {
        let shows = end.field() == Some(name);
        let link = |to| LineLink { kind, forward, to, editable: matches!(end, End::Edited(_)) };
        shows.then(|| Collection::of(to)).flatten().map(link)
    };
    BETWEEN.iter().find_map(|one| {
        let forward = (one.from == collection.kind()).then(|| side(one.at_from, true, one.to, one.kind)).flatten();
        forward.or_else(|| (one.to == collection.kind()).then(|| side(one.at_to, false, one.from, one.kind)).flatten())
    })
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
