//! Where the description of each kind stands.

use super::{Description, Relation};
use crate::role::Right;
use crate::things::ThingKind;

macro_rules! described {
    ($($variant:ident in $($file:ident)::+;)*) => {
        impl ThingKind {
            /// What it is.
            #[must_use]
            pub const fn description(self) -> &'static Description {
                match self { $(ThingKind::$variant => const { &crate::$($file)::+::KIND },)* }
            }
        }
    };
}

described! {
    Product in workspace::product;
    Team in handover::team;
    TeamColumn in handover::team_column;
    Source in listen::source;
    Account in listen::account;
    Person in listen::person;
    FeedbackItem in listen::feedback_item;
    RequestForm in decide::request_form;
    Request in decide::request;
    Excerpt in listen::excerpt;
    Finding in listen::finding;
    Objective in decide::objective;
    Measurement in decide::measurement;
    Idea in decide::idea;
    Increment in decide::increment;
    Competitor in decide::competitor;
    Capability in decide::capability;
    FoundPage in decide::found_page;
    CompetitorNote in decide::competitor_note;
    Decision in decide::decision;
    ScoringModel in decide::scores::scoring_model;
    Estimate in decide::scores::estimate;
    Prioritisation in decide::scores::prioritisation;
    Activity in map::activity;
    Step in map::step;
    Release in plan::release;
    WorkItem in specify::work_item;
    Criterion in specify::criterion;
    Result in learn::result;
    Link in trace::link;
    Study in listen::study;
    Document in specify::document;
    Sprint in plan::sprint;
    Page in specify::page;
    Field in fields::own;
    View in fields::view;
    Channel in listen::channel;
    Term in listen::term;
    Checking in listen::checking;
    Membership in handover::membership;
    Comment in talk::comment;
    Rule in rules::rule;
}

impl ThingKind {
    /// The name in the store and the API.
    #[must_use]
    pub const fn name(self) -> &'static str {
        self.description().name
    }

    /// The word for people.
    #[must_use]
    pub const fn words(self) -> &'static str {
        self.description().singular
    }

    /// The letter of its short reference, where it has one. A work item's depends on its level.
    #[must_use]
    pub const fn letter(self) -> Option<char> {
        self.description().letter
    }
}

impl ThingKind {
    /// The right that it takes to change one.
    #[must_use]
    pub fn right_to_change(self) -> Right {
        self.description().rights.change
    }

    /// The column that names what one is a part of, where it is a part of anything.
    #[must_use]
    pub fn part_of(self) -> Option<&'static Relation> {
        let told = self.description();
        told.part_of.and_then(|column| told.relation(column))
    }

    /// The kinds whose things are told as parts of one of these: what happens to them happens to it.
    pub fn parts(self) -> impl Iterator<Item = (ThingKind, &'static Relation)> {
        self.pointed_at_by().filter(|(kind, relation)| kind.description().part_of == Some(relation.column))
    }

    /// What points to things of this kind: the kinds and their columns, in the order of the kinds.
    pub fn pointed_at_by(self) -> impl Iterator<Item = (ThingKind, &'static Relation)> {
        let all = ThingKind::ALL.iter().flat_map(|kind| kind.description().relations.iter().map(|one| (*kind, one)));
        all.filter(move |(_, relation)| relation.to == self)
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;
    use crate::fields::{Collection, FieldType, registered};
    use crate::kind::{OnRemoval, WayToProduct};

    #[test]
    fn every_kind_is_described_whole() {
        let mut slots = BTreeSet::new();
        for kind in ThingKind::ALL {
            let told = kind.description();
            assert!(!told.singular.is_empty() && !told.plural.is_empty(), "{kind}");
            let columns: Vec<&str> = told.relations.iter().map(|relation| relation.column).collect();
            assert_eq!(columns.iter().collect::<BTreeSet<_>>().len(), columns.len(), "{kind}");
            if let Some(searched) = told.searched {
                assert!(slots.insert(searched.slot), "{kind}: the slot {} is another kind's", searched.slot);
            }
            if let WayToProduct::Through(column) = told.product {
                assert!(columns.contains(&column), "{kind}: {column} points nowhere");
            }
            if let Some(column) = told.part_of {
                assert!(columns.contains(&column), "{kind}: {column} points nowhere");
            }
            assert_eq!(Collection::of(*kind).is_some(), told.list.is_some(), "{kind}");
        }
    }

    #[test]
    fn what_points_to_a_kind_comes_after_it() {
        for kind in ThingKind::ALL {
            for relation in kind.description().relations {
                assert!(relation.to <= *kind, "{kind}.{} points to a kind that comes later", relation.column);
            }
        }
    }

    #[test]
    fn fields_that_show_relations_are_links_between_these_collections() {
        let link = |collection: Collection, name: &str| {
            let field = registered(collection).into_iter().find(|field| field.name == name);
            match field.map(|field| field.kind) {
                Some(FieldType::Link { to, many, .. }) => (to, many),
                other => panic!("{collection}: {name} is {other:?}"),
            }
        };
        for kind in ThingKind::ALL {
            for relation in kind.description().relations {
                let (here, there) = (Collection::of(*kind), Collection::of(relation.to));
                if let Some(name) = relation.field {
                    assert_eq!(link(here.unwrap(), name), (there.unwrap(), false), "{kind}");
                }
                if let Some(name) = relation.back {
                    assert_eq!(link(there.unwrap(), name), (here.unwrap(), true), "{kind}");
                    let same = relation.to.pointed_at_by().filter(|(_, other)| other.back == Some(name));
                    assert_eq!(same.count(), 1, "{} shows two relations as {name}", relation.to);
                }
            }
        }
    }

    #[test]
    fn what_is_removed_by_hand_leaves_nothing_that_points_to_it() {
        for kind in ThingKind::ALL.iter().filter(|kind| kind.description().rights.remove.is_some()) {
            for (other, relation) in kind.pointed_at_by() {
                assert_ne!(relation.on_removal, OnRemoval::Forbids, "{other}.{} keeps a {kind}", relation.column);
            }
        }
    }

    #[test]
    fn where_peoples_words_stand_is_where_they_are_typed() {
        for kind in ThingKind::ALL {
            let told = kind.description();
            let has = |column: &str| told.prose.iter().any(|prose| prose.column() == column);
            assert!(
                told.searched.is_none_or(
                    |searched| searched.body.iter().all(|column| has(column)) || *kind == ThingKind::Account
                ),
                "{kind}"
            );
        }
    }
}
