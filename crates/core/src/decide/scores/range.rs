//! What a criterion may be: low, likely and high, as a triangular distribution.
//!
//! The triangle is the simplest shape that three numbers give, and all of it has a closed form (S. Kotz and J. R. van Dorp,
//! "Beyond Beta", 2004, chapter 1).

use serde::{Deserialize, Serialize};

/// Working days of a week, and weeks of a month, by which an effort that is typed in days or months becomes weeks.
const DAYS_A_WEEK: f64 = 5.0;
const WEEKS_A_MONTH: f64 = 52.0 / 12.0;

/// Low, likely and high: `low ≤ likely ≤ high`. It never lies outside.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EstimateRange {
    /// The least that it may be.
    pub low: f64,
    /// What it is most likely.
    pub likely: f64,
    /// The most that it may be.
    pub high: f64,
}

impl EstimateRange {
    /// A number that is known.
    #[must_use]
    pub fn exactly(value: f64) -> Self {
        EstimateRange { low: value, likely: value, high: value }
    }

    /// A likely value and what it may be beside it; the ends give way where the likely one lies outside.
    #[must_use]
    pub fn around(likely: f64, low: Option<f64>, high: Option<f64>) -> Self {
        EstimateRange { low: low.unwrap_or(likely).min(likely), likely, high: high.unwrap_or(likely).max(likely) }
    }

    /// Whether it is one number.
    #[must_use]
    pub fn is_exact(self) -> bool {
        self.low >= self.high
    }

    /// The value below which it lies with probability `u`, 0 – 1.
    #[must_use]
    pub fn quantile(self, u: f64) -> f64 {
        let width = self.high - self.low;
        if width <= 0.0 {
            return self.likely;
        }
        let (left, right) = (self.likely - self.low, self.high - self.likely);
        if u * width < left {
            self.low + (u * width * left).sqrt()
        } else {
            self.high - ((1.0 - u) * width * right).sqrt()
        }
    }

    /// Turns places 0 – 1 into the values at these quantiles: the same as [`EstimateRange::quantile`] of each, without
    /// branches, so that several are computed at once.
    pub(super) fn quantiles(self, places: &mut [f64]) {
        let width = self.high - self.low;
        let (left, right) = (self.likely - self.low, self.high - self.likely);
        for place in places {
            let rises = *place * width < left;
            let (share, side) = if rises { (*place, left) } else { (1.0 - *place, right) };
            let way = (share * width * side).sqrt();
            *place = if rises { self.low + way } else { self.high - way };
        }
    }

    /// The mean: (low + likely + high) / 3.
    #[must_use]
    pub fn mean(self) -> f64 {
        (self.low + self.likely + self.high) / 3.0
    }

    /// The variance: (a² + b² + c² − ab − ac − bc) / 18.
    #[must_use]
    pub fn variance(self) -> f64 {
        let (a, b, c) = (self.low, self.high, self.likely);
        (a * a + b * b + c * c - a * b - a * c - b * c) / 18.0
    }

    /// Reads what somebody types: `40`, `30–60` (the middle is likely), `30 40 60`; thousands may have commas, `40 %` is 0.4.
    /// Where `weeks` are asked for, days and months become weeks: `3–5 days`, `2 months`.
    ///
    /// # Errors
    /// In words: what may be typed.
    pub fn read(text: &str, weeks: bool) -> Result<Self, String> {
        let examples = if weeks { "4, 3–6, 3 4 6, or 2 months" } else { "40, 30–60, or 30 40 60" };
        let fault = || format!("'{}' is no estimate. Type it as {examples}.", text.trim());
        let parts = parts_of(text);
        let unit = parts.iter().rev().find_map(|part| part.unit);
        let scale = match unit {
            None => 1.0,
            Some('%') if !weeks => 0.01,
            Some('d') if weeks => 1.0 / DAYS_A_WEEK,
            Some('w') if weeks => 1.0,
            Some('m') if weeks => WEEKS_A_MONTH,
            Some(_) => return Err(fault()),
        };
        let numbers: Option<Vec<f64>> = parts.iter().map(|part| part.number).collect();
        let numbers: Vec<f64> = numbers.ok_or_else(fault)?.into_iter().map(|number| number * scale).collect();
        let range = match numbers.as_slice() {
            [one] => EstimateRange::exactly(*one),
            [low, high] => EstimateRange { low: *low, likely: f64::midpoint(*low, *high), high: *high },
            [low, likely, high] => EstimateRange { low: *low, likely: *likely, high: *high },
            _ => return Err(fault()),
        };
        range.check().map_err(|problem| format!("{problem} Type it as {examples}."))
    }

    /// Checks that its numbers are in their order.
    ///
    /// # Errors
    /// In words.
    pub fn check(self) -> Result<Self, String> {
        if ![self.low, self.likely, self.high].iter().all(|value| value.is_finite()) {
            return Err("An estimate is of numbers.".into());
        }
        if self.low > self.likely || self.likely > self.high {
            return Err("An estimate goes from low over likely to high.".into());
        }
        Ok(self)
    }
}

/// One number of what somebody typed, and the first letter of the unit that stands at it.
struct Part {
    number: Option<f64>,
    unit: Option<char>,
}

fn parts_of(text: &str) -> Vec<Part> {
    let lower = text.to_lowercase().replace("..", " ").replace(" to ", " ");
    let mut words: Vec<String> = vec![String::new()];
    let mut before = ' ';
    for c in lower.chars() {
        // A sign stands before a number; between two it parts them.
        let parts = c.is_whitespace() || matches!(c, '–' | '—' | '…') || (c == '-' && !before.is_whitespace());
        let unit_begins = (c.is_alphabetic() || c == '%') && (before.is_ascii_digit() || before == '.');
        if parts || unit_begins {
            words.push(String::new());
        }
        if !parts && let Some(word) = words.last_mut() {
            word.push(c);
        }
        before = c;
    }
    let mut parts: Vec<Part> = Vec::new();
    for word in words.into_iter().filter(|word| !word.is_empty() && word != "-") {
        let unit = unit_of(&word);
        match parts.last_mut() {
            Some(last) if unit.is_some() && last.unit.is_none() => last.unit = unit,
            _ => parts.push(Part { number: number_of(&word), unit: None }),
        }
    }
    parts
}

fn unit_of(word: &str) -> Option<char> {
    let named = ["%", "d", "day", "days", "w", "week", "weeks", "person-weeks", "m", "month", "months"];
    let word = word.trim_end_matches('.');
    named.contains(&word).then(|| if word == "person-weeks" { Some('w') } else { word.chars().next() }).flatten()
}

/// A number, whose thousands may stand apart by commas.
fn number_of(word: &str) -> Option<f64> {
    let plain = match word.split_once(',') {
        Some(_) => {
            let (whole, rest) = word.split_once('.').unwrap_or((word, ""));
            let mut groups = whole.split(',');
            let first = groups.next().unwrap_or_default().trim_start_matches('-');
            let fits = (1..=3).contains(&first.len()) && groups.all(|group| group.len() == 3);
            fits.then(|| format!("{}.{rest}", whole.replace(',', "")))?
        }
        None => word.to_owned(),
    };
    plain.starts_with(|c: char| c.is_ascii_digit() || c == '-' || c == '.').then(|| plain.parse().ok())?
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_people_type_is_read() {
        let read = |text: &str, weeks| EstimateRange::read(text, weeks).map(|r| [r.low, r.likely, r.high]);
        assert_eq!(read("40", false), Ok([40.0; 3]));
        assert_eq!(read("30–60", false), Ok([30.0, 45.0, 60.0]));
        assert_eq!(read("30-60", false), Ok([30.0, 45.0, 60.0]));
        assert_eq!(read("30 - 40 - 60", false), Ok([30.0, 40.0, 60.0]));
        assert_eq!(read(" 30 to 60 ", false), Ok([30.0, 45.0, 60.0]));
        assert_eq!(read("1,200 1,400.5 12,000", false), Ok([1_200.0, 1_400.5, 12_000.0]));
        assert_eq!(read("40%–60 %", false), Ok([0.4, 0.5, 0.6]));
        assert_eq!(read("-3 -1 2", false), Ok([-3.0, -1.0, 2.0]));
        assert_eq!(read("3-5 days", true), Ok([0.6000000000000001, 0.8, 1.0]));
        assert_eq!(read("2w", true), Ok([2.0; 3]));
        assert_eq!(read("3 months", true), Ok([13.0; 3]));
        for wrong in ["", "many", "1 2 3 4", "60–30", "1,5", "3 days", "4 bananas", "nan", "inf"] {
            let fault = EstimateRange::read(wrong, false).unwrap_err();
            assert!(fault.contains("30 40 60"), "{wrong}: {fault}");
        }
    }

    #[test]
    fn the_ends_give_way_to_the_likely_value() {
        assert_eq!(EstimateRange::around(5.0, Some(7.0), None), EstimateRange::exactly(5.0));
        assert_eq!(
            EstimateRange::around(5.0, Some(2.0), Some(9.0)),
            EstimateRange { low: 2.0, likely: 5.0, high: 9.0 }
        );
    }

    fn ranges() -> impl Strategy<Value = EstimateRange> {
        prop::array::uniform3(-100.0..100.0f64).prop_map(|mut ends| {
            ends.sort_by(f64::total_cmp);
            EstimateRange { low: ends[0], likely: ends[1], high: ends[2] }
        })
    }

    proptest! {
        /// Mean and variance by their definition, summed over a fine grid of the quantiles.
        #[test]
        fn closed_forms_agree_with_sums(range in ranges()) {
            let grid: Vec<f64> = (0..20_000).map(|n| range.quantile((f64::from(n) + 0.5) / 20_000.0)).collect();
            let mean = grid.iter().sum::<f64>() / 20_000.0;
            let variance = grid.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / 20_000.0;
            let width = (range.high - range.low).max(1e-9);
            prop_assert!((mean - range.mean()).abs() < 1e-4 * width);
            prop_assert!((variance - range.variance()).abs() < 1e-3 * width * width);
            prop_assert!(grid.windows(2).all(|pair| pair[0] <= pair[1] + 1e-12));
        }

        #[test]
        fn many_quantiles_are_those_of_each(range in ranges(), places in prop::collection::vec(0.0..1.0f64, 1..40)) {
            let mut all = places.clone();
            range.quantiles(&mut all);
            for (found, place) in all.iter().zip(&places) {
                prop_assert!((found - range.quantile(*place)).abs() < 1e-9);
            }
        }

        #[test]
        fn a_range_that_is_better_throughout_is_better_at_each_quantile(range in ranges(), by in prop::array::uniform3(0.0..20.0f64), u in 0.0..1.0f64) {
            let mut ends = [range.low + by[0], range.likely + by[1], range.high + by[2]];
            ends.sort_by(f64::total_cmp);
            let better = EstimateRange { low: ends[0], likely: ends[1], high: ends[2] };
            prop_assert!(better.quantile(u) >= range.quantile(u) - 1e-9);
        }
    }
}
