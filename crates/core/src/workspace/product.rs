//! A product.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::ProductId;

/// What is being managed. A workspace holds several.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Product {
    /// Its number.
    pub id: ProductId,
    /// Its revision.
    pub rev: i64,
    /// Its name.
    pub name: String,
    /// The scoring model that it ranks by: the name of one that comes with the product, or the number of one of its own.
    #[serde(default)]
    pub model: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "product",
    singular: "product",
    plural: "products",
    product: WayToProduct::Itself,
    editable: &[must("name", Holds::Line(80))],
    ..Description::BASE
};
