//! Learn: what was measured after a release.

pub(crate) mod result;

pub use result::Measured;

/// The change of a measure in words: "31 → 18 a week, down 42 %".
///
/// The percentage is of the value before, to whole percents; none where that is zero.
#[must_use]
pub fn change_words(before: f64, after: f64, unit: Option<&str>) -> String {
    let unit = unit.map(|unit| format!(" {unit}")).unwrap_or_default();
    let head = format!("{before} → {after}{unit}");
    if before == after {
        return format!("{head}, unchanged");
    }
    let way = if after > before { "up" } else { "down" };
    if before == 0.0 {
        return format!("{head}, {way}");
    }
    format!("{head}, {way} {:.0} %", ((after - before) / before).abs() * 100.0)
}

#[cfg(test)]
mod tests {
    use super::change_words;

    #[test]
    fn the_change_is_told_with_its_size() {
        assert_eq!(change_words(31.0, 18.0, Some("a week")), "31 → 18 a week, down 42 %");
        assert_eq!(change_words(-2.0, 1.0, None), "-2 → 1, up 150 %");
        assert_eq!(change_words(0.0, 4.0, None), "0 → 4, up");
        assert_eq!(change_words(4.0, 4.0, None), "4 → 4, unchanged");
    }
}
