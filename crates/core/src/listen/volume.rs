//! How much is said, and with which colour.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// So many weeks are shown.
pub const WEEKS: usize = 8;
/// From here on a sentiment counts as for or against.
const COLOURED: f64 = 0.15;

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
    fn the_spread_counts_all() {
        assert_eq!(spread([-1.0, -0.15, -0.1, 0.0, 0.15]), Spread { against: 2, neutral: 2, for_it: 1 });
    }
}
