//! How much is said, and with which colour.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// So many weeks are shown.
pub const WEEKS: usize = 8;
/// From here on a sentiment counts as for or against.
pub const COLOURED: f64 = 0.15;

/// Which side an excerpt takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Side {
    /// Sentiment of −0.15 or less.
    Against,
    /// Between.
    Neutral,
    /// Sentiment of +0.15 or more.
    ForIt,
}

/// How many excerpts speak against, for, or neither.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Spread {
    /// Sentiment of −0.15 or less.
    pub against: usize,
    /// Between.
    pub neutral: usize,
    /// Sentiment of +0.15 or more.
    pub for_it: usize,
}

/// Counts the spread of sentiments. Linear.
#[must_use]
pub fn spread(sentiments: impl IntoIterator<Item = f64>) -> Spread {
    let mut spread = Spread::default();
    for sentiment in sentiments {
        match sentiment {
            s if s <= -COLOURED => spread.against += 1,
            s if s >= COLOURED => spread.for_it += 1,
            _ => spread.neutral += 1,
        }
    }
    spread
}

/// Of some sentiments, the places of those on the side of which there are fewer: who praises where most complain, and the
/// other way round. None where the sides are even. Linear.
#[must_use]
pub fn contrary(sentiments: &[f64]) -> Vec<usize> {
    let all = spread(sentiments.iter().copied());
    let fewer: fn(f64) -> bool = match all.against.cmp(&all.for_it) {
        std::cmp::Ordering::Equal => return Vec::new(),
        std::cmp::Ordering::Greater => |sentiment| sentiment >= COLOURED,
        std::cmp::Ordering::Less => |sentiment| sentiment <= -COLOURED,
    };
    sentiments.iter().enumerate().filter(|(_, sentiment)| fewer(**sentiment)).map(|(at, _)| at).collect()
}

/// How many of some days fall into each of the last [`WEEKS`] weeks, oldest first; the last one ends
/// today. Days outside are not counted. Linear.
#[must_use]
pub fn weekly(days: impl IntoIterator<Item = Date>, today: Date) -> [usize; WEEKS] {
    let mut weeks = [0; WEEKS];
    for day in days {
        let ago = (today - day).get_days();
        if let Ok(week) = usize::try_from(ago / 7)
            && ago >= 0
            && week < WEEKS
        {
            weeks[WEEKS - 1 - week] += 1;
        }
    }
    weeks
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn weeks_end_today() {
        let days = [
            date(2026, 5, 31),
            date(2026, 5, 25),
            date(2026, 5, 24),
            date(2026, 4, 6),
            date(2026, 4, 5),
            date(2026, 6, 1),
        ];
        assert_eq!(weekly(days, date(2026, 5, 31)), [1, 0, 0, 0, 0, 0, 1, 2]);
    }

    #[test]
    fn contrary_voices_are_those_of_the_smaller_side() {
        assert_eq!(contrary(&[-0.5, 0.4, -0.2, 0.0]), [1]);
        assert_eq!(contrary(&[0.5, -0.4, 0.2, 0.1]), [1]);
        assert_eq!(contrary(&[0.5, -0.4]), [0; 0]);
        assert_eq!(contrary(&[0.5, 0.1]), [0; 0]);
    }

    #[test]
    fn the_spread_counts_all() {
        assert_eq!(spread([-1.0, -0.15, -0.1, 0.0, 0.15]), Spread { against: 2, neutral: 2, for_it: 1 });
    }
}
