//! The roadmap: what goes out in which quarter, and how far it is.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use crate::plan::{Building, Progress, Release, ReleaseState, built_at_once, progress};
use crate::specify::{Hierarchy, StoryState, Work, WorkItem};
use crate::things::{ReleaseId, WorkItemId};

/// A quarter of a year.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Quarter {
    /// The year.
    pub year: i16,
    /// 1 – 4.
    pub number: i8,
}

impl Quarter {
    /// The quarter of a day.
    #[must_use]
    pub fn of(day: Date) -> Self {
        Quarter { year: day.year(), number: (day.month() - 1) / 3 + 1 }
    }

    fn next(self) -> Self {
        if self.number == 4 {
            Quarter { year: self.year + 1, number: 1 }
        } else {
            Quarter { number: self.number + 1, ..self }
        }
    }
}

/// A release on the roadmap.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoadmapBar {
    /// The release.
    pub release: Release,
    /// The quarter that it goes out in; none without a day.
    pub quarter: Option<Quarter>,
    /// Where its bar begins, in quarters from the left edge; 0.5 is the middle of the first.
    pub from: Option<f64>,
    /// Where its bar ends, in quarters from the left edge.
    pub to: Option<f64>,
    /// Rolled up from its stories.
    pub progress: Progress,
    /// "3 days late" and the like, where something is the matter.
    pub trouble: Option<String>,
    /// What it brings, by epic.
    pub entries: Vec<RoadmapEntry>,
}

/// The part of an epic that goes out with one release.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoadmapEntry {
    /// The epic; none for stories without one.
    pub epic_id: Option<WorkItemId>,
    /// Its title.
    pub title: String,
    /// Rolled up from its stories in this release.
    pub progress: Progress,
}

/// The roadmap of a product.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Roadmap {
    /// The quarters from left to right without a gap.
    pub quarters: Vec<Quarter>,
    /// Where today is, in quarters from the left edge.
    pub today: f64,
    /// The releases in the order in which they go out.
    pub bars: Vec<RoadmapBar>,
}

/// At most so many quarters are drawn; what lies beyond is clipped to the edge.
const MOST_QUARTERS: usize = 12;

/// Lays out the roadmap. `releases` come in the order in which they go out; `items` are all epics
/// and stories of the product. The quarters reach from the first to the last day of any release,
/// and always hold today and the quarter after it. O(releases · items).
#[must_use]
pub fn roadmap(releases: &[Release], items: &[WorkItem], today: Date) -> Roadmap {
    let days: Vec<Date> =
        releases.iter().flat_map(|one| [day(one.starts_on.as_deref()), day(one.out_on())]).flatten().collect();
    let this = Quarter::of(today);
    let first = days.iter().map(|d| Quarter::of(*d)).min().map_or(this, |first| first.min(this));
    let last = days.iter().map(|d| Quarter::of(*d)).max().map_or(this.next(), |last| last.max(this.next()));
    let mut quarters = vec![first];
    while let Some(end) = quarters.last().copied().filter(|end| *end < last)
        && quarters.len() < MOST_QUARTERS
    {
        quarters.push(end.next());
    }
    let teams = |release: &Release| {
        let release = Some(release.id);
        items.iter().filter(move |item| item.release_id == release).filter_map(|story| story.team_id)
    };
    let building: Vec<Building> = releases.iter().filter_map(|one| one.building(teams(one))).collect();
    let hierarchy = Hierarchy::of(items.iter().map(Work::from));
    let bars = releases.iter().map(|release| bar(release, (items, &hierarchy), first, &building, today)).collect();
    Roadmap { quarters, today: offset(first, today), bars }
}

fn bar(
    release: &Release,
    (items, hierarchy): (&[WorkItem], &Hierarchy),
    first: Quarter,
    building: &[Building],
    today: Date,
) -> RoadmapBar {
    let stories: Vec<&WorkItem> = items.iter().filter(|item| item.release_id == Some(release.id)).collect();
    let ends = day(release.out_on());
    let starts = day(release.starts_on.as_deref()).or(ends);
    let done = progress(stories.iter().copied());
    RoadmapBar {
        release: release.clone(),
        quarter: ends.map(Quarter::of),
        from: starts.map(|starts| offset(first, starts)),
        to: ends.map(|ends| offset(first, ends)),
        trouble: release_trouble(&ReleaseFacts {
            released: release.state == ReleaseState::Released,
            unfinished: stories.iter().any(|story| story.state != StoryState::Done),
            ends,
            points: done.points,
            capacity: release.capacity,
            at_once: at_once(release.id, building),
            today,
        }),
        progress: done,
        entries: entries(&stories, items, hierarchy),
    }
}

fn day(text: Option<&str>) -> Option<Date> {
    text.and_then(|text| text.parse().ok())
}

/// With which of the releases that are being built one shares days and teams.
#[must_use]
pub fn at_once(release: ReleaseId, building: &[Building]) -> Vec<(ReleaseId, i32)> {
    let own = building.iter().find(|one| one.id == release);
    own.map(|own| built_at_once(own, building)).unwrap_or_default()
}

/// What tells whether something is the matter with a release.
#[derive(Debug, Clone)]
pub struct ReleaseFacts {
    /// Whether it is out.
    pub released: bool,
    /// Whether a story of it is not done.
    pub unfinished: bool,
    /// The day that it is to go out, or went out.
    pub ends: Option<Date>,
    /// The points of its stories.
    pub points: f64,
    /// The points that fit.
    pub capacity: Option<f64>,
    /// The releases that the same team builds at the same time, and for how many days.
    pub at_once: Vec<(ReleaseId, i32)>,
    /// The present day.
    pub today: Date,
}

/// All that is the matter with a release, by how much: "3 days late, 6 points over"; nothing where all is well.
#[must_use]
pub fn release_trouble(release: &ReleaseFacts) -> Option<String> {
    let late = release.ends.map_or(0, |ends| (release.today - ends).get_days());
    let days = |days: i32| format!("{days} {}", if days == 1 { "day" } else { "days" });
    let late = (late > 0 && release.unfinished && !release.released).then(|| format!("{} late", days(late)));
    let over = release.capacity.map_or(0.0, |capacity| release.points - capacity);
    let over = (over > 0.0).then(|| format!("{over} {} over", if over == 1.0 { "point" } else { "points" }));
    let at_once = release.at_once.iter().map(|(other, shared)| format!("shares {} with {other}", days(*shared)));
    let all: Vec<String> = late.into_iter().chain(over).chain(at_once).collect();
    if all.is_empty() { None } else { Some(all.join(", ")) }
}

fn entries(stories: &[&WorkItem], items: &[WorkItem], hierarchy: &Hierarchy) -> Vec<RoadmapEntry> {
    let mut epics: Vec<Option<WorkItemId>> = stories.iter().map(|story| hierarchy.epic_of(story.id)).collect();
    epics.sort_by_key(|epic| (epic.is_none(), *epic));
    epics.dedup();
    epics
        .into_iter()
        .map(|epic_id| RoadmapEntry {
            epic_id,
            title: items
                .iter()
                .find(|item| Some(item.id) == epic_id)
                .map_or_else(|| "Stories without an epic".to_owned(), |epic| epic.title.clone()),
            progress: progress(stories.iter().copied().filter(|story| hierarchy.epic_of(story.id) == epic_id)),
        })
        .collect()
}

/// A day's place in quarters from the beginning of `first`; within a quarter, days are even.
fn offset(first: Quarter, day: Date) -> f64 {
    let quarter = Quarter::of(day);
    let whole =
        (i32::from(quarter.year) - i32::from(first.year)) * 4 + i32::from(quarter.number) - i32::from(first.number);
    let start = Date::constant(day.year(), (quarter.number - 1) * 3 + 1, 1);
    let next = quarter.next();
    let end = Date::constant(next.year, (next.number - 1) * 3 + 1, 1);
    f64::from(whole) + f64::from((day - start).get_days()) / f64::from((end - start).get_days())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::specify::tests_support::story;
    use crate::things::{Level, ProductId, ReleaseId};
    use jiff::civil::date;

    fn release(id: i64, starts_on: &str, ends_on: &str) -> Release {
        let day = |text: &str| (!text.is_empty()).then(|| text.to_owned());
        Release {
            id: ReleaseId(id),
            rev: 1,
            product_id: ProductId(1),
            title: format!("Release {id}"),
            starts_on: day(starts_on),
            ends_on: day(ends_on),
            released_on: None,
            capacity: Some(5.0),
            state: ReleaseState::UnderWay,
        }
    }

    #[test]
    fn days_lie_where_a_calendar_has_them() {
        let first = Quarter { year: 2025, number: 4 };
        assert_eq!(offset(first, date(2025, 10, 1)), 0.0);
        // 2026's first quarter has 90 days; 1 March is 59 days into it.
        assert!((offset(first, date(2026, 3, 1)) - (1.0 + 59.0 / 90.0)).abs() < 1e-12);
        assert_eq!(offset(first, date(2027, 1, 1)), 5.0);
    }

    #[test]
    fn quarters_have_no_gap_and_hold_today() {
        let map = roadmap(&[release(1, "2025-11-01", "2026-02-10")], &[], date(2026, 8, 1));
        let numbers: Vec<_> = map.quarters.iter().map(|q| (q.year, q.number)).collect();
        assert_eq!(numbers, [(2025, 4), (2026, 1), (2026, 2), (2026, 3), (2026, 4)]);
        assert!(map.today > 3.0 && map.today < 4.0);
        assert_eq!(roadmap(&[], &[], date(2026, 12, 31)).quarters.len(), 2);
    }

    #[test]
    fn progress_and_trouble_follow_from_the_stories() {
        let mut epic = story(9);
        epic.level = Level::Epic;
        let mut stories = vec![story(1), story(2), story(3), epic];
        for (at, points) in [(0, 3.0), (1, 4.0), (2, 1.0)] {
            stories[at].points = Some(points);
            stories[at].release_id = Some(ReleaseId(1));
        }
        stories[0].parent_id = Some(WorkItemId(9));
        stories[1].state = StoryState::Done;
        let bar =
            |today: Date, items: &[WorkItem]| roadmap(&[release(1, "", "2026-02-10")], items, today).bars.remove(0);
        let early = bar(date(2026, 2, 1), &stories);
        assert_eq!(early.trouble.as_deref(), Some("3 points over"));
        assert_eq!(early.progress.share, 0.5);
        assert_eq!(early.entries.iter().map(|e| e.progress.stories).collect::<Vec<_>>(), [1, 2]);
        assert_eq!(bar(date(2026, 2, 13), &stories).trouble.as_deref(), Some("3 days late, 3 points over"));
        let day = date(2026, 2, 1);
        let both =
            roadmap(&[release(1, "2026-01-05", "2026-02-10"), release(2, "2026-02-09", "2026-03-10")], &stories, day);
        let told: Vec<_> = both.bars.iter().map(|bar| bar.trouble.clone().unwrap_or_default()).collect();
        assert_eq!(told, ["3 points over, shares 2 days with R2", "shares 2 days with R1"]);
        for story in &mut stories {
            story.state = StoryState::Done;
            story.points = Some(1.0);
        }
        assert_eq!(bar(date(2026, 2, 13), &stories).trouble, None);
    }
}
