//! The workspace itself: its products, and how large it is.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ProductId;
use iron_kite_core::workspace::Product;
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved};

/// How large the workspace is, in bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct SizeView {
    /// All of it.
    pub database: i64,
    /// Files in it: attachments, recordings, what waits to be brought in.
    pub files: i64,
    /// What nothing takes any more, and is used again before it grows.
    pub free: i64,
}

/// What may be taken away, as nothing is in it: by number.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Removable {
    /// Products.
    pub products: Vec<i64>,
    /// Teams.
    pub teams: Vec<i64>,
}

/// What may be taken away.
///
/// # Errors
/// Where the right is missing.
pub fn removable(app: &App, call: &Call) -> Result<Removable, Problem> {
    app.read(call, Right::Own, |rows| {
        let all: Vec<Product> = rows.list("ORDER BY id", [])?;
        let mut products = Vec::new();
        for product in all.iter().filter(|_| all.len() > 1) {
            if rows.held_by(product.id)?.is_empty() {
                products.push(product.id.0);
            }
        }
        let mut teams = Vec::new();
        for team in rows.teams()? {
            if rows.handed_to(team.id)? == 0 {
                teams.push(team.id.0);
            }
        }
        Ok(Removable { products, teams })
    })
}

/// Removes a product that holds nothing.
///
/// # Errors
/// Where it was changed since, it holds something, or it is the only one.
pub fn remove_product(app: &App, call: &Call, product: ProductId, rev: i64) -> Result<Saved, Problem> {
    app.save(call, Right::Own, move |tx| {
        tx.expect(product.thing(), rev)?;
        let found: Product = tx.rows().get(product)?;
        if tx.rows().list::<Product>("LIMIT 2", [])?.len() < 2 {
            return Err(Problem::refused("last-product", "A workspace needs a product. Add another one first."));
        }
        let held = tx.rows().held_by(product)?;
        if !held.is_empty() {
            let all: Vec<String> = held.iter().map(|(kind, count)| format!("{} ({count})", kind.words())).collect();
            let words = format!(
                "{} still holds things: {}. Remove them first, or undo what brought them.",
                found.name,
                all.join(", ")
            );
            return Err(Problem::refused("product-in-use", words));
        }
        tx.label(format!("removed the product {}", found.name));
        tx.remove_product(product)?;
        Ok(None)
    })
}

/// How large the workspace is.
///
/// # Errors
/// Where the right is missing.
pub fn size(app: &App, call: &Call) -> Result<SizeView, Problem> {
    let size = app.read(call, Right::Own, |rows| Ok(rows.size()?))?;
    Ok(SizeView { database: size.database, files: size.files, free: size.free })
}
