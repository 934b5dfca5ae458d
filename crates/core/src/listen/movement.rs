//! Whether a finding grows, fades, or is new: by a test against its own past, not by eye.

use jiff::ToSpan;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// The days before today that are compared with what came before them.
pub const RECENT_DAYS: i64 = 28;
/// The days before those.
pub const BEFORE_DAYS: i64 = 84;
/// Of all findings that are said to move, at most this share does so by chance alone.
pub const FALSE_SHARE: f64 = 0.05;

/// How a finding moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Movement {
    /// It is said more than chance explains, and was not said before at all.
    New,
    /// It has a greater share of what is said than before, more than chance explains.
    Growing,
    /// It has a smaller share than before, more than chance explains.
    Fading,
    /// Nothing that chance does not explain.
    Steady,
}

impl Movement {
    /// All of them, what wants attention first.
    pub const ALL: [Movement; 4] = [Movement::New, Movement::Growing, Movement::Fading, Movement::Steady];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Movement::New => "new",
            Movement::Growing => "growing",
            Movement::Fading => "fading",
            Movement::Steady => "steady",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(Movement::name).collect()
    }
}

/// Excerpts within the last [`RECENT_DAYS`] days, and within the [`BEFORE_DAYS`] before those.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Volume {
    /// Within the last days.
    pub recent: u32,
    /// Before them.
    pub before: u32,
}

/// The days that are compared: the last [`RECENT_DAYS`] up to a day, and the [`BEFORE_DAYS`] before those, each by its first
/// and its last day.
#[must_use]
pub fn compared_days(today: Date) -> [(Date, Date); 2] {
    let ago = |days: i64| today.saturating_sub(days.days());
    [(ago(RECENT_DAYS - 1), today), (ago(RECENT_DAYS + BEFORE_DAYS - 1), ago(RECENT_DAYS))]
}

/// How much of what was said on some days was said recently, and before. Linear.
#[must_use]
pub fn volume_of(days: impl IntoIterator<Item = Date>, today: Date) -> Volume {
    let [recent, before] = compared_days(today);
    let mut volume = Volume::default();
    for day in days {
        volume.recent += u32::from((recent.0..=recent.1).contains(&day));
        volume.before += u32::from((before.0..=before.1).contains(&day));
    }
    volume
}

/// How something moved, and how likely chance alone explains as much.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Moved {
    /// How.
    pub movement: Movement,
    /// The two-sided p-value, 0 to 1, before others are taken into account.
    pub p: f64,
}

/// How fast something is said now, against how fast it was said before: 1 where nothing changed, 2 where it is said twice as
/// often. One is added on both sides, so that what was never said before has a growth too, and a single voice none to speak of.
///
/// ```text
/// growth = (recent + 1) / (before · RECENT_DAYS / BEFORE_DAYS + 1)
/// ```
#[must_use]
#[expect(clippy::cast_precision_loss, reason = "a few dozen days")]
pub fn growth(volume: Volume) -> f64 {
    let pace = RECENT_DAYS as f64 / BEFORE_DAYS as f64;
    (f64::from(volume.recent) + 1.0) / (f64::from(volume.before) * pace + 1.0)
}

/// How each of some findings moved, measured against all that was said in the same days.
///
/// Given that a finding was said k = recent + before times, its recent part is binomial with
/// `all.recent / (all.recent + all.before)` as long as its share of what is said stays the same (the conditional test of two
/// Poisson rates: J. Przyborowski, H. Wilenski, 1940). A swell of feedback as a whole moves nothing. Two-sided, by the sum
/// of all outcomes that are no likelier; of all findings together by Y. Benjamini, Y. Hochberg (1995) at [`FALSE_SHARE`].
/// O(all that was said).
#[must_use]
pub fn moved(findings: &[Volume], all: Volume) -> Vec<Moved> {
    let share = f64::from(all.recent) / f64::from((all.recent + all.before).max(1));
    let p: Vec<f64> = findings.iter().map(|one| binomial_p(one.recent, one.recent + one.before, share)).collect();
    let least = least_false(&p);
    let told = |(one, p): (&Volume, &f64)| {
        let expected = share * f64::from(one.recent + one.before);
        let movement = match () {
            // Where one of the two times holds nothing at all, there is nothing to compare with.
            () if all.recent == 0 || all.before == 0 || *p > least => Movement::Steady,
            () if one.before == 0 => Movement::New,
            () if f64::from(one.recent) > expected => Movement::Growing,
            () => Movement::Fading,
        };
        Moved { movement, p: *p }
    };
    findings.iter().zip(&p).map(told).collect()
}

/// The largest p-value that still counts, so that of all that count at most [`FALSE_SHARE`] do by chance; less than any
/// where none does.
fn least_false(p: &[f64]) -> f64 {
    let mut sorted = p.to_vec();
    sorted.sort_by(f64::total_cmp);
    let all = f64::from(u32::try_from(sorted.len()).unwrap_or(u32::MAX));
    let rank = (1_u32..).map(f64::from);
    let counts = sorted.iter().zip(rank).filter(|(p, rank)| **p <= rank / all * FALSE_SHARE);
    counts.last().map_or(-1.0, |(p, _)| *p)
}

/// The two-sided p-value of `hits` out of `tries` where each hits with `share`.
fn binomial_p(hits: u32, tries: u32, share: f64) -> f64 {
    if tries == 0 || share <= 0.0 || share >= 1.0 {
        return 1.0;
    }
    // The logarithm of the likelihood of each outcome, one from the other.
    let mut at = f64::from(tries) * (1.0 - share).ln();
    let mut likely = vec![at];
    for hit in 1..=tries {
        at += (f64::from(tries - hit + 1) / f64::from(hit)).ln() + share.ln() - (1.0 - share).ln();
        likely.push(at);
    }
    // As likely as what was seen, but for rounding.
    let seen = likely[hits as usize] + 1e-7;
    likely.iter().filter(|one| **one <= seen).map(|one| one.exp()).sum::<f64>().min(1.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    #[test]
    fn the_days_that_are_compared_meet_and_do_not_overlap() {
        let today = date(2026, 6, 30);
        let [recent, before] = compared_days(today);
        assert_eq!(recent, (date(2026, 6, 3), today));
        assert_eq!(before, (date(2026, 3, 11), date(2026, 6, 2)));
        let days = [today, recent.0, before.1, before.0, date(2026, 3, 10), date(2026, 7, 1)];
        assert_eq!(volume_of(days, today), Volume { recent: 2, before: 2 });
    }

    #[test]
    fn the_p_value_is_that_of_another_program() {
        // scipy.stats.binomtest(hits, tries, share).pvalue, SciPy 1.17.1.
        for (hits, tries, share, p) in REFERENCE {
            assert!((binomial_p(hits, tries, share) - p).abs() < 1e-9 * p.max(1e-3), "{hits} of {tries}: {p}");
        }
    }

    const REFERENCE: [(u32, u32, f64, f64); 6] = [
        (20, 35, 0.25, 5.131_686_438_927_316_6e-5),
        (1, 61, 0.25, 8.129_443_458_008_722e-7),
        (9, 9, 0.25, 3.814_697_265_625e-6),
        (10, 41, 0.25, 1.0),
        (130, 400, 0.3, 0.275_533_866_447_099_65),
        (0, 5, 0.5, 0.0625),
    ];

    #[test]
    fn what_grows_fades_and_is_new_is_told() {
        let volume = |recent, before| Volume { recent, before };
        let told =
            moved(&[volume(20, 15), volume(1, 60), volume(9, 0), volume(10, 31), volume(0, 0)], volume(100, 300));
        let told: Vec<Movement> = told.into_iter().map(|one| one.movement).collect();
        assert_eq!(told, [Movement::Growing, Movement::Fading, Movement::New, Movement::Steady, Movement::Steady]);
    }

    #[test]
    fn more_feedback_as_a_whole_moves_nothing() {
        let told = moved(&[Volume { recent: 40, before: 10 }], Volume { recent: 400, before: 100 });
        assert_eq!(told[0].movement, Movement::Steady);
        assert!(told[0].p > 0.5);
        // Nor does the first month, before which nothing was.
        let told = moved(&[Volume { recent: 40, before: 0 }], Volume { recent: 400, before: 0 });
        assert_eq!(told[0].movement, Movement::Steady);
    }

    #[test]
    fn the_more_are_looked_at_the_surer_each_must_be() {
        let one = Volume { recent: 9, before: 10 };
        let all = Volume { recent: 100, before: 300 };
        assert_eq!(moved(&[one], all)[0].movement, Movement::Growing);
        let many: Vec<Volume> = std::iter::once(one).chain((0..30).map(|_| Volume { recent: 5, before: 15 })).collect();
        assert_eq!(moved(&many, all)[0].movement, Movement::Steady);
    }

    proptest! {
        #[test]
        fn where_nothing_moves_little_is_said_to(seed in any::<u64>()) {
            // 200 findings whose excerpts fall into the last month as often as all do.
            let mut state = seed | 1;
            let mut next = move || {
                state ^= state << 13;
                state ^= state >> 7;
                state ^= state << 17;
                f64::from(u32::try_from(state >> 40).unwrap()) / f64::from(1_u32 << 24)
            };
            let mut findings = Vec::new();
            for _ in 0..200 {
                let recent = u32::try_from((0..40).filter(|_| next() < 0.25).count()).unwrap();
                findings.push(Volume { recent, before: 40 - recent });
            }
            let sum = findings.iter().fold(Volume::default(), |sum, one| Volume { recent: sum.recent + one.recent, before: sum.before + one.before });
            let moving = moved(&findings, sum).iter().filter(|one| one.movement != Movement::Steady).count();
            prop_assert!(moving <= 3, "{}", moving);
        }
    }
}
