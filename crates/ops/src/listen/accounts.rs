//! Accounts: the organisations that people belong to, brought in as a table.

use iron_kite_core::listen::{AccountsReport, accounts_of};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_documents::Held;
use iron_kite_store::Way;
use serde::Serialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use super::put_down::{check_size, name_of};
use crate::call::{App, Call, Saved, fields};

/// What came of a table of accounts.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AccountsIn {
    /// The change, by which all of it can be taken back.
    pub saved: Saved,
    /// What was added, what was updated, and what was left out.
    pub report: AccountsReport,
}

/// Brings in a table of accounts by their names: new ones are added, those that are there are brought up to date. What
/// a cell leaves empty stays as it is.
///
/// # Errors
/// Where the file is no table, or no heading is that of a name.
pub fn bring_in_accounts(app: &App, call: &Call, name: &str, bytes: &[u8]) -> Result<AccountsIn, Problem> {
    app.read(call, Right::Listen, |_| Ok(()))?;
    check_size(bytes)?;
    let name = name_of(name);
    let table = match app.reading(call).read(&name, bytes)?.into_iter().next().map(|part| part.held) {
        Some(Held::Table(table)) => table,
        Some(Held::Refused(words)) => return Err(Problem::refused("unreadable-file", words)),
        _ => return Err(Problem::refused("unreadable-file", "This is no table. Choose a table of accounts.")),
    };
    let (rows, mut report) = accounts_of(&table).map_err(|words| Problem::refused("unreadable-file", words))?;
    let (report, committed) = app.write(&call.by(Way::Import), Right::Listen, move |tx| {
        for row in rows {
            let before = tx.rows().account_id(&row.name)?;
            let account = tx.account_named(&row.name)?.thing();
            let present = tx.rows().json(account)?;
            let said = fields(json!({
                "segment": row.segment, "plan": row.plan, "yearly_revenue": row.yearly_revenue,
            }));
            let changed: Map<String, Value> =
                said.into_iter().filter(|(name, value)| !value.is_null() && present[name] != *value).collect();
            report.added += usize::from(before.is_none());
            report.updated += usize::from(before.is_some() && !changed.is_empty());
            if !changed.is_empty() {
                tx.set(account, &changed)?;
            }
        }
        tx.label(format!("brought in {} accounts, {} brought up to date", report.added, report.updated));
        Ok(report)
    })?;
    let (change, label) = committed.map_or((None, "Nothing new in this table".into()), |c| (Some(c.set), c.label));
    Ok(AccountsIn { saved: Saved { change, label, ..Saved::default() }, report })
}
