//! Days that move with the calendar: today, this quarter, the last 30 days.

use jiff::civil::{Date, Weekday};
use jiff::{Span, ToSpan};
use serde::{Deserialize, Serialize};

/// A span of days that follows from today. Weeks begin on Monday (ISO 8601).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum Period {
    Yesterday,
    Today,
    Tomorrow,
    LastWeek,
    ThisWeek,
    NextWeek,
    LastMonth,
    ThisMonth,
    NextMonth,
    LastQuarter,
    ThisQuarter,
    NextQuarter,
    LastYear,
    ThisYear,
    NextYear,
    /// Today and the 6 days before it.
    Last7Days,
    /// Today and the 29 days before it.
    Last30Days,
    /// Today and the 89 days before it.
    Last90Days,
    /// Today and the 29 days after it.
    Next30Days,
}

/// The first and the last day of a period.
#[must_use]
pub fn days_of(period: Period, today: Date) -> (Date, Date) {
    let monday = today.saturating_sub(i64::from(today.weekday().since(Weekday::Monday)).days());
    let month = today.first_of_month();
    let quarter = month.saturating_sub(i64::from((today.month() - 1) % 3).months());
    let year = today.first_of_year();
    // From the first day of a span, moved by so many spans, to the day before the next.
    let whole = |first: Date, span: Span, by: i64| {
        let from = first.saturating_add(span * by);
        (from, from.saturating_add(span).saturating_sub(1.day()))
    };
    match period {
        Period::Yesterday => whole(today, 1.day(), -1),
        Period::Today => (today, today),
        Period::Tomorrow => whole(today, 1.day(), 1),
        Period::LastWeek => whole(monday, 1.week(), -1),
        Period::ThisWeek => whole(monday, 1.week(), 0),
        Period::NextWeek => whole(monday, 1.week(), 1),
        Period::LastMonth => whole(month, 1.month(), -1),
        Period::ThisMonth => whole(month, 1.month(), 0),
        Period::NextMonth => whole(month, 1.month(), 1),
        Period::LastQuarter => whole(quarter, 3.months(), -1),
        Period::ThisQuarter => whole(quarter, 3.months(), 0),
        Period::NextQuarter => whole(quarter, 3.months(), 1),
        Period::LastYear => whole(year, 1.year(), -1),
        Period::ThisYear => whole(year, 1.year(), 0),
        Period::NextYear => whole(year, 1.year(), 1),
        Period::Last7Days => (today.saturating_sub(6.days()), today),
        Period::Last30Days => (today.saturating_sub(29.days()), today),
        Period::Last90Days => (today.saturating_sub(89.days()), today),
        Period::Next30Days => (today, today.saturating_add(29.days())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn periods_by_hand() {
        // A Wednesday.
        let today = date(2026, 2, 18);
        for (period, from, to) in [
            (Period::Today, (2026, 2, 18), (2026, 2, 18)),
            (Period::Tomorrow, (2026, 2, 19), (2026, 2, 19)),
            (Period::ThisWeek, (2026, 2, 16), (2026, 2, 22)),
            (Period::LastWeek, (2026, 2, 9), (2026, 2, 15)),
            (Period::ThisMonth, (2026, 2, 1), (2026, 2, 28)),
            (Period::LastMonth, (2026, 1, 1), (2026, 1, 31)),
            (Period::ThisQuarter, (2026, 1, 1), (2026, 3, 31)),
            (Period::LastQuarter, (2025, 10, 1), (2025, 12, 31)),
            (Period::NextQuarter, (2026, 4, 1), (2026, 6, 30)),
            (Period::ThisYear, (2026, 1, 1), (2026, 12, 31)),
            (Period::Last7Days, (2026, 2, 12), (2026, 2, 18)),
            (Period::Next30Days, (2026, 2, 18), (2026, 3, 19)),
        ] {
            let day = |(y, m, d): (i16, i8, i8)| date(y, m, d);
            assert_eq!(days_of(period, today), (day(from), day(to)), "{period:?}");
        }
        assert_eq!(days_of(Period::ThisWeek, date(2026, 2, 22)).0, date(2026, 2, 16));
    }
}
