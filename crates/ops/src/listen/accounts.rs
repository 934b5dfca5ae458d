//! Accounts: the organisations that people belong to.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use serde_json::json;

use crate::call::{App, Call, Saved, fields};

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
