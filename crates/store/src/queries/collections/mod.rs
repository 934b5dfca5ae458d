//! Rows, counts and groups of a collection, whatever its fields: a checked query becomes bound SQL.
//!
//! | file | what it holds |
//! |---|---|
//! | `exprs` | the SQL expression of each field |
//! | `compile` | conditions, orders and groups as SQL |
//! | `page` | some rows in their order |
//! | `runs` | the same where many rows share what they are ordered by |
//! | `groups` | groups with their counts and figures |

mod compile;
mod exprs;
mod groups;
mod page;
mod runs;

use iron_kite_core::fields::Collection;
use iron_kite_core::things::ProductId;
use jiff::civil::Date;

use super::fields::Catalogue;

pub use groups::{GroupRow, Grouped, MOST_CELLS, MOST_GROUPS};
pub use page::{RowValues, Slice};

/// Whose rows are asked for.
#[derive(Debug, Clone, Copy)]
pub struct Of<'a> {
    /// The fields of all collections.
    pub catalogue: &'a Catalogue,
    /// The collection.
    pub collection: Collection,
    /// The product, where the collection is one of a product.
    pub product: ProductId,
    /// The present day, for what is computed up to it.
    pub today: Date,
}
