//! Progress, rolled up from the stories.

use serde::{Deserialize, Serialize};

use crate::specify::{StoryState, WorkItem};

/// How far a set of stories is.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Progress {
    /// Stories.
    pub stories: usize,
    /// Stories that are done.
    pub stories_done: usize,
    /// Points of all stories.
    pub points: f64,
    /// Points of the stories that are done.
    pub points_done: f64,
    /// Stories that have no points yet, so that the points say too little.
    pub without_points: usize,
    /// The part that is done, 0 – 1: of the points where every story has some, else of the stories.
    pub share: f64,
}

/// A story as far as progress needs it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Counted {
    /// Whether it is done.
    pub done: bool,
    /// Its points, where it has some.
    pub points: Option<f64>,
}

/// Rolls up the progress of stories. Linear.
#[must_use]
pub fn progress<'a>(stories: impl IntoIterator<Item = &'a WorkItem>) -> Progress {
    add_up(stories.into_iter().map(|story| Counted { done: story.state == StoryState::Done, points: story.points }))
}

/// The same of stories of which no more is known. Linear.
#[must_use]
pub fn add_up(stories: impl IntoIterator<Item = Counted>) -> Progress {
    let mut sum = Progress::default();
    for story in stories {
        let points = story.points.unwrap_or(0.0);
        sum.stories += 1;
        sum.points += points;
        sum.without_points += usize::from(story.points.is_none());
        if story.done {
            sum.stories_done += 1;
            sum.points_done += points;
        }
    }
    sum.share = if sum.without_points == 0 && sum.points > 0.0 {
        sum.points_done / sum.points
    } else if sum.stories > 0 {
        ratio(sum.stories_done, sum.stories)
    } else {
        0.0
    };
    sum
}

fn ratio(part: usize, whole: usize) -> f64 {
    let number = |n: usize| f64::from(u32::try_from(n).unwrap_or(u32::MAX));
    number(part) / number(whole)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::specify::tests_support::story;

    #[test]
    fn points_count_where_all_stories_have_some() {
        let mut stories = [story(1), story(2), story(3)];
        stories[0].points = Some(8.0);
        stories[0].state = StoryState::Done;
        stories[1].points = Some(2.0);
        assert!((progress(&stories).share - 1.0 / 3.0).abs() < 1e-12);
        stories[2].points = Some(6.0);
        let all = progress(&stories);
        assert_eq!((all.points, all.points_done, all.share), (16.0, 8.0, 0.5));
    }

    #[test]
    fn nothing_is_no_progress() {
        assert_eq!(progress([]).share, 0.0);
    }
}
