//! What several people say who scored apart, and what they could agree on.

use super::range::EstimateRange;

/// How far several estimates of the same lie apart, 0 and up: the distance of their likely values, as a part of the scale
/// where it has ends, else of the middle one.
#[must_use]
pub fn apart(estimates: &[EstimateRange], ends: Option<(f64, f64)>) -> f64 {
    let mut likely: Vec<f64> = estimates.iter().map(|one| one.likely).collect();
    likely.sort_by(f64::total_cmp);
    let (Some(least), Some(most)) = (likely.first(), likely.last()) else { return 0.0 };
    let unit = ends.map_or_else(|| middle(&likely).abs(), |(worst, best)| (best - worst).abs());
    if unit > 0.0 { (most - least) / unit } else { 0.0 }
}

/// From so much of a scale on people differ.
const DIFFER: f64 = 0.2;

/// About which of several fields people differ most, as a place; nothing where they hardly differ. Linear.
#[must_use]
pub fn differ_most(apart: &[Option<f64>]) -> Option<usize> {
    let told = apart.iter().enumerate().filter_map(|(at, one)| one.filter(|one| *one >= DIFFER).map(|one| (at, one)));
    told.max_by(|a, b| a.1.total_cmp(&b.1)).map(|(at, _)| at)
}

/// An estimate that holds all of several: from the least low over the middle of the likely ones to the most high. What is
/// put before people who scored apart, to begin with.
#[must_use]
pub fn together(estimates: &[EstimateRange]) -> Option<EstimateRange> {
    let mut likely: Vec<f64> = estimates.iter().map(|one| one.likely).collect();
    likely.sort_by(f64::total_cmp);
    let low = estimates.iter().map(|one| one.low).min_by(f64::total_cmp)?;
    let high = estimates.iter().map(|one| one.high).max_by(f64::total_cmp)?;
    Some(EstimateRange { low, likely: middle(&likely), high })
}

fn middle(sorted: &[f64]) -> f64 {
    let half = sorted.len() / 2;
    if sorted.len() % 2 == 1 { sorted[half] } else { f64::midpoint(sorted[half - 1], sorted[half]) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn range(low: f64, likely: f64, high: f64) -> EstimateRange {
        EstimateRange { low, likely, high }
    }

    #[test]
    fn what_holds_all_of_them_is_offered() {
        let all = [range(100.0, 400.0, 500.0), range(300.0, 900.0, 1_000.0), range(200.0, 500.0, 800.0)];
        assert_eq!(together(&all), Some(range(100.0, 500.0, 1_000.0)));
        assert_eq!(together(&all[..2]), Some(range(100.0, 650.0, 1_000.0)));
        assert_eq!(together(&[]), None);
    }

    #[test]
    fn the_widest_difference_is_named_where_there_is_one() {
        assert_eq!(differ_most(&[Some(0.3), None, Some(0.9), Some(0.2)]), Some(2));
        assert_eq!(differ_most(&[Some(0.19), None]), None);
    }

    #[test]
    fn distance_is_told_in_parts_of_the_scale() {
        let all = [range(1.0, 2.0, 3.0), range(2.0, 4.5, 5.0)];
        assert_eq!(apart(&all, Some((0.0, 10.0))), 0.25);
        assert_eq!(apart(&all, Some((10.0, 0.0))), 0.25);
        assert!((apart(&all, None) - 2.5 / 3.25).abs() < 1e-12);
        assert_eq!(apart(&all[..1], None), 0.0);
        assert_eq!(apart(&[], None), 0.0);
    }
}
