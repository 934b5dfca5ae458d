//! Visits: what somebody has not seen yet is what came after the visit before.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Who does nothing for so long has left; what is done then is a visit of its own.
pub const REST: SignedDuration = SignedDuration::from_mins(30);
/// So many places are kept.
const PLACES: usize = 6;

/// A place where somebody was.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Place {
    /// The address within the application.
    pub path: String,
    /// What it is called.
    pub title: String,
    /// When somebody was there, in milliseconds since 1970.
    #[serde(default)]
    pub at: i64,
}

/// The present visit of somebody to a product, and where the one before it ended.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Visit {
    /// When it began.
    pub began_at: Timestamp,
    /// When something was last done in it.
    pub seen_at: Timestamp,
    /// The newest change then.
    pub seen_change: i64,
    /// When the visit before ended, and the newest change then. None at the first visit.
    pub before: Option<(Timestamp, i64)>,
    /// Where the person was, the newest place first, each once.
    pub places: Vec<Place>,
}

/// The visit after something was done in it: perhaps at a place, and with `newest` as the newest change. Where nothing
/// was done for longer than [`REST`] it is a new one, and the one before has ended.
#[must_use]
pub fn visited(visit: Option<Visit>, now: Timestamp, newest: i64, place: Option<Place>) -> Visit {
    let new = Visit { began_at: now, seen_at: now, seen_change: newest, before: None, places: Vec::new() };
    let mut visit = match visit {
        None => new,
        Some(visit) if now.duration_since(visit.seen_at) > REST => {
            Visit { before: Some((visit.seen_at, visit.seen_change)), places: visit.places, ..new }
        }
        Some(visit) => Visit { seen_at: now.max(visit.seen_at), seen_change: newest.max(visit.seen_change), ..visit },
    };
    if let Some(place) = place {
        visit.places.retain(|one| one.path != place.path);
        visit.places.insert(0, place);
        visit.places.truncate(PLACES);
    }
    visit
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(minutes: i64) -> Timestamp {
        Timestamp::from_second(minutes * 60).unwrap()
    }

    #[test]
    fn a_visit_goes_on_until_nothing_was_done_for_half_an_hour() {
        let first = visited(None, at(0), 10, None);
        assert_eq!(first.before, None);
        let later = visited(Some(first), at(25), 14, None);
        assert_eq!((later.began_at, later.before), (at(0), None));
        let same = visited(Some(later), at(55), 20, None);
        assert_eq!((same.began_at, same.seen_change, same.before), (at(0), 20, None));
        let next = visited(Some(same), at(86), 33, None);
        assert_eq!((next.began_at, next.before), (at(86), Some((at(55), 20))));
        // What came while somebody was there was seen; the visit before stays where it ended.
        assert_eq!(visited(Some(next), at(90), 40, None).before, Some((at(55), 20)));
    }

    #[test]
    fn the_newest_places_are_kept_once_each() {
        let place = |n: usize| Some(Place { path: format!("/{n}"), title: String::new(), at: 0 });
        let mut visit = None;
        for n in [1, 2, 3, 4, 5, 6, 7, 2] {
            visit = Some(visited(visit, at(0), 0, place(n)));
        }
        let paths: Vec<String> = visit.unwrap().places.into_iter().map(|place| place.path).collect();
        assert_eq!(paths, ["/2", "/7", "/6", "/5", "/4", "/3"]);
    }
}
