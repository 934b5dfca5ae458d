//! Releases that one team would have to build at the same time.

use std::collections::BTreeSet;

use jiff::civil::Date;
use serde::Deserialize;

use crate::things::{ReleaseId, TeamId};

/// When a release is built, and by whom.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
pub struct Building {
    /// The release.
    pub id: ReleaseId,
    /// The first day.
    pub from: Date,
    /// The day that it goes out.
    pub to: Date,
    /// The teams of its stories; empty where none has a team yet.
    pub teams: BTreeSet<TeamId>,
}

/// The releases that share days with one, each with how many: those of which the same team has stories, or of which it is not known
/// yet whose they are. Different teams may build at once. The first and the last day count. In the order of `others`, which may hold
/// the release itself. O(others · teams).
#[must_use]
pub fn built_at_once(one: &Building, others: &[Building]) -> Vec<(ReleaseId, i32)> {
    let same_team = |other: &Building| {
        one.teams.is_empty() || other.teams.is_empty() || one.teams.intersection(&other.teams).next().is_some()
    };
    let days = |other: &Building| (one.to.min(other.to) - one.from.max(other.from)).get_days() + 1;
    others
        .iter()
        .filter(|other| other.id != one.id && same_team(other))
        .map(|other| (other.id, days(other)))
        .filter(|(_, days)| *days > 0)
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    fn building(id: i64, from: (i8, i8), to: (i8, i8), teams: &[i64]) -> Building {
        let day = |(month, day)| date(2026, month, day);
        Building {
            id: ReleaseId(id),
            from: day(from),
            to: day(to),
            teams: teams.iter().map(|id| TeamId(*id)).collect(),
        }
    }

    #[test]
    fn days_that_are_shared_are_counted_with_both_ends() {
        let one = building(1, (3, 2), (5, 29), &[1]);
        let others = [
            one.clone(),
            building(2, (5, 29), (9, 11), &[1, 2]),
            building(3, (5, 30), (9, 11), &[1]),
            building(4, (3, 10), (3, 12), &[]),
            building(5, (1, 1), (12, 31), &[2]),
        ];
        assert_eq!(built_at_once(&one, &others), [(ReleaseId(2), 1), (ReleaseId(4), 3)]);
        assert_eq!(built_at_once(&others[1], &others)[0], (ReleaseId(1), 1), "both are told of each other");
    }

    /// Counting the days one by one comes to the same.
    #[test]
    fn counting_days_comes_to_the_same() {
        for shift in -40..40 {
            let other_from = date(2026, 4, 1).checked_add(jiff::Span::new().days(shift)).unwrap();
            let other = Building {
                from: other_from,
                to: other_from.checked_add(jiff::Span::new().days(9)).unwrap(),
                ..building(2, (1, 1), (1, 1), &[])
            };
            let one = building(1, (4, 1), (4, 20), &[]);
            let shared = one.from.series(jiff::Span::new().days(1)).take_while(|day| *day <= one.to);
            let shared = shared.filter(|day| (other.from..=other.to).contains(day)).count();
            let told = built_at_once(&one, &[other]);
            assert_eq!(told.first().map_or(0, |(_, days)| usize::try_from(*days).unwrap()), shared);
        }
    }
}
