//! Collections and their fields: what is registered, what a team adds, how values are checked, filtered,
//! ordered, grouped, read from text and carried from one type to another.
//!
//! | file | what it holds |
//! |---|---|
//! | `collection` | the lists of things of one sort |
//! | `types` | the types of fields, and the shape that the values of each have |
//! | `registry` | the fields that every workspace has |
//! | `line_links` | the link fields that are part of the line |
//! | `own` | the fields that a team adds |
//! | `edit` | checking what is written into a row's own columns |
//! | `values` | checking a value, reading it from text, showing it as text |
//! | `convert` | carrying values to another type, and what that would lose |
//! | `filter` | the filter language as data: checked, and evaluated the obvious way |
//! | `days` | days that move with the calendar: today, this quarter, the last 30 days |
//! | `query` | filter, order, groups and totals together |
//! | `view` | saved ways to look at a collection |
//! | `first_views` | the views that come with the product |

mod collection;
mod convert;
mod days;
mod edit;
mod filter;
mod first_views;
mod line_links;
pub(crate) mod own;
mod query;
mod registry;
mod types;
mod values;
pub(crate) mod view;

pub use collection::Collection;
pub use convert::{Conversion, Lost, convert_all};
pub use days::{Period, days_of};
pub use edit::{check, check_held, check_new, check_together};
pub use filter::{Condition, Context, FieldRef, Filter, Operator, Test, TextHow, fold, holds};
pub use first_views::{FirstView, first_views};
pub use line_links::{LineLink, line_link};
pub use own::{OwnField, OwnFieldInput, check_own_field, own_name, own_number};
pub use query::{
    Checked, DatePart, Group, GroupBy, Measure, Order, OrderBy, Query, Running, Total, TotalOf, check_query, compare,
    day_part, group_condition, group_keys, total,
};
pub use registry::registered;
pub use types::{Choice, Drawing, FieldDef, FieldType, RollUp, Shape};
pub use values::{check_value, read_text, show, values_of_links};
pub use view::{Chart, ChartKind, SavedView, ViewDefinition, ViewField, ViewKind, Zoom, check_view};
