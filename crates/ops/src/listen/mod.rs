//! Listen: bringing in feedback, reading it, and making findings of it.

mod accounts;
mod findings;
mod import;
mod items;

pub use accounts::set_account;
pub use findings::{FindingChange, FindingView, NewFinding, add_finding, change_finding, finding_excerpts, findings};
pub use import::{Imported, MOST_BYTES, Preview, import, preview};
pub use items::{ExcerptView, ItemQuery, ItemView, ItemsPage, item, items, read_item};
