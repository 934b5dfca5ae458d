//! Who is told of something that happened.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

/// Why somebody is told, the strongest reason first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum NoticeSort {
    /// Somebody spoke to them.
    Mentioned,
    /// Something was given to them to answer for.
    Assigned,
    /// A rule was to tell them.
    Rule,
    /// A thing that they follow changed.
    Followed,
}

impl NoticeSort {
    /// All of them.
    pub const ALL: [NoticeSort; 4] =
        [NoticeSort::Mentioned, NoticeSort::Assigned, NoticeSort::Rule, NoticeSort::Followed];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            NoticeSort::Mentioned => "mentioned",
            NoticeSort::Assigned => "assigned",
            NoticeSort::Rule => "rule",
            NoticeSort::Followed => "followed",
        }
    }

    /// The one of this name.
    #[must_use]
    pub fn named(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|one| one.name() == name)
    }
}

/// Something that happened to a thing, with those whom it may concern, by number.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Happened {
    /// Who did it; nobody where a rule or a command did.
    pub by: Option<i64>,
    /// Who is spoken to in it, and was not before.
    pub mentioned: BTreeSet<i64>,
    /// Who answers for the thing from now on, and did not before.
    pub assigned: BTreeSet<i64>,
    /// Whom a rule is to tell.
    pub by_rule: BTreeSet<i64>,
    /// Who follows the thing.
    pub followers: BTreeSet<i64>,
}

/// Who is told, each once and for the strongest reason. Nobody is told of what they did themselves.
#[must_use]
pub fn tell(happened: &Happened) -> Vec<(i64, NoticeSort)> {
    let reasons = [
        (&happened.mentioned, NoticeSort::Mentioned),
        (&happened.assigned, NoticeSort::Assigned),
        (&happened.by_rule, NoticeSort::Rule),
        (&happened.followers, NoticeSort::Followed),
    ];
    let mut told: Vec<(i64, NoticeSort)> = Vec::new();
    for (people, sort) in reasons {
        for person in people {
            if happened.by != Some(*person) && !told.iter().any(|(one, _)| one == person) {
                told.push((*person, sort));
            }
        }
    }
    told
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_is_told_once_for_the_strongest_reason_and_never_of_their_own_doing() {
        let happened = Happened {
            by: Some(1),
            mentioned: BTreeSet::from([1, 2]),
            assigned: BTreeSet::from([2, 3]),
            by_rule: BTreeSet::from([4]),
            followers: BTreeSet::from([1, 2, 3, 4, 5]),
        };
        assert_eq!(
            tell(&happened),
            [(2, NoticeSort::Mentioned), (3, NoticeSort::Assigned), (4, NoticeSort::Rule), (5, NoticeSort::Followed),]
        );
        assert_eq!(tell(&Happened::default()), []);
    }

    #[test]
    fn every_sort_is_found_by_its_name() {
        for sort in NoticeSort::ALL {
            assert_eq!(NoticeSort::named(sort.name()), Some(sort));
            assert_eq!(serde_json::to_value(sort).unwrap(), sort.name());
        }
    }
}
