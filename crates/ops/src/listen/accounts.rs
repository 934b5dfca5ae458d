//! The organisations behind the voices.

use iron_kite_core::listen::Account;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use serde::Serialize;
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};

/// An account and how much it said.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AccountView {
    /// The account.
    #[serde(flatten)]
    pub account: Account,
    /// People of it who said something.
    pub people: i64,
    /// Their feedback items.
    pub items: i64,
}

/// All accounts, those with the most revenue first.
///
/// # Errors
/// Where the right is missing.
pub fn accounts(app: &App, call: &Call) -> Result<Vec<AccountView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let counts = rows.account_counts()?;
        let all: Vec<Account> = rows.list("ORDER BY COALESCE(yearly_revenue, -1) DESC, name", [])?;
        let view = |account: Account| {
            let (people, items) = counts.get(&account.id).copied().unwrap_or_default();
            AccountView { account, people, items }
        };
        Ok(all.into_iter().map(view).collect())
    })
}

/// Sets the segment and yearly revenue of the account of this name, made where it is not there yet.
///
/// # Errors
/// Where a value is not as it should be.
pub fn set_account(
    app: &App,
    call: &Call,
    name: &str,
    segment: Option<&str>,
    yearly_revenue: Option<i64>,
) -> Result<Saved, Problem> {
    let values = fields(json!({ "name": name, "segment": segment, "yearly_revenue": yearly_revenue }));
    let mut values = iron_kite_core::fields::check_new(ThingKind::Account, "", values).map_err(Problem::Invalid)?;
    app.save(call, Right::Listen, move |tx| {
        let name = values.remove("name").unwrap_or_default();
        let account = tx.account_named(name.as_str().unwrap_or_default())?;
        tx.label(format!("set segment and revenue of {account}"));
        tx.set(account.thing(), &values)?;
        Ok(Some(account.thing()))
    })
}
