//! Learn: what was measured after a release.

use serde::{Deserialize, Serialize};

use crate::decide::Verdict;
use crate::things::{IdeaId, IncrementId, ReleaseId};

/// What was measured after a release.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Measured {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The idea that it speaks about.
    pub idea_id: IdeaId,
    /// The release that brought the idea.
    pub release_id: Option<ReleaseId>,
    /// The increment of the idea that it is of; then it is a test of the idea.
    #[serde(default)]
    pub increment_id: Option<IncrementId>,
    /// What it says of what was to be shown.
    #[serde(default)]
    pub verdict: Option<Verdict>,
    /// What was counted.
    pub measure: String,
    /// In what.
    pub unit: Option<String>,
    /// Where it stood.
    pub before: f64,
    /// Where it stands.
    pub after: f64,
    /// The day, `YYYY-MM-DD`.
    pub measured_on: String,
    /// What else is to be known.
    pub note: Option<String>,
}

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
