//! A table of accounts: the organisations behind the voices, with segment, plan and yearly revenue.

use serde::{Deserialize, Serialize};

use super::LeftOut;
use crate::fields::{FieldType, read_text};
use crate::formats::table::Table;

/// One account on its way in; what a cell leaves empty stays as it is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AccountRow {
    /// The row's number as a spreadsheet shows it.
    pub number: usize,
    /// The name.
    pub name: String,
    /// What sort of customer it is.
    pub segment: Option<String>,
    /// What it pays for.
    pub plan: Option<String>,
    /// Whole units of the workspace's currency a year.
    pub yearly_revenue: Option<i64>,
}

/// What came of a table of accounts.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AccountsReport {
    /// Accounts that were added.
    pub added: usize,
    /// Accounts that were there already and know more or other now.
    pub updated: usize,
    /// Rows that were left out, or not wholly understood, with the reason.
    pub left_out: Vec<LeftOut>,
}

const NAMES: [&str; 5] = ["account", "company", "organisation", "organization", "name"];
const SEGMENTS: [&str; 3] = ["segment", "sector", "industry"];
const PLANS: [&str; 3] = ["plan", "tier", "contract"];
const REVENUES: [&str; 4] = ["revenue", "arr", "turnover", "value"];

/// The accounts of a table, by its headings. Linear.
///
/// # Errors
/// In words, where no heading is that of a name.
pub fn accounts_of(table: &Table) -> Result<(Vec<AccountRow>, AccountsReport), String> {
    let at = |names: &[&str]| {
        names.iter().find_map(|name| table.columns.iter().position(|column| column.to_lowercase().contains(name)))
    };
    let name = at(&NAMES).ok_or_else(|| {
        format!("No column holds the names. Head it “account”; the file has: {}.", table.columns.join(", "))
    })?;
    let (segment, plan, revenue) = (at(&SEGMENTS), at(&PLANS), at(&REVENUES));
    let mut report = AccountsReport { left_out: table.bad.clone(), ..AccountsReport::default() };
    let mut rows = Vec::new();
    for row in &table.rows {
        let cell = |at: Option<usize>, most: usize| {
            let text = row.cells.get(at?).split_whitespace().collect::<Vec<_>>().join(" ");
            (!text.is_empty()).then(|| text.chars().take(most).collect::<String>())
        };
        let mut leave = |reason: String| report.left_out.push(LeftOut { row: row.number, reason });
        let Some(name) = cell(Some(name), 300) else {
            leave("has no name".into());
            continue;
        };
        let yearly_revenue = cell(revenue, 40).and_then(|text| {
            let read = read_text("revenue", &FieldType::Money, &text).ok().and_then(|value| value.as_f64());
            // Far below 2^53, so that nothing of it is lost.
            #[expect(clippy::cast_possible_truncation, reason = "it is between 0 and a million millions")]
            let whole = read.filter(|amount| (0.0..=1e12).contains(amount)).map(|amount| amount.round() as i64);
            if whole.is_none() {
                leave(format!("'{text}' was not understood as a revenue; the rest was taken"));
            }
            whole
        });
        rows.push(AccountRow {
            number: row.number,
            name,
            segment: cell(segment, 80),
            plan: cell(plan, 80),
            yearly_revenue,
        });
    }
    Ok((rows, report))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::table;

    #[test]
    fn accounts_are_read_by_their_headings() {
        let text = "Company;Sector;Plan;Revenue a year\nHask Stores;freight;yearly;€ 48,200\n;x;;\nTern Dairy;;;many\n";
        let (rows, report) = accounts_of(&table::read(text.as_bytes()).unwrap()).unwrap();
        assert_eq!(
            rows[0],
            AccountRow {
                number: 2,
                name: "Hask Stores".into(),
                segment: Some("freight".into()),
                plan: Some("yearly".into()),
                yearly_revenue: Some(48_200),
            }
        );
        assert_eq!((rows[1].segment.as_deref(), rows[1].yearly_revenue), (None, None));
        assert_eq!(report.left_out.iter().map(|left| left.row).collect::<Vec<_>>(), [3, 4]);
        assert!(accounts_of(&table::read(b"a,b\n1,2\n").unwrap()).unwrap_err().contains("Head it"));
    }
}
