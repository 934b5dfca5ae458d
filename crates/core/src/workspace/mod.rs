//! The workspace: what all stages share.

pub(crate) mod product;

pub use product::Product;
