//! Collections, whatever the stage: their fields, rows, groups, cells, saved views, and taking out what a view shows.
//!
//! | file | what it does |
//! |---|---|
//! | `asked` | a query checked against the fields, on its way to the store |
//! | `add`, `table` | a new thing by its fields, and one for each row of a table |
//! | `rows` | rows and groups |
//! | `cells` | changing several things at once, pasting a block, and what an edit in place does |
//! | `own_fields` | fields that a team adds, changes, retires and carries to another type |
//! | `views` | saved views, and calendar links |
//! | `export`, `xlsx` | what a view shows as a file |
//! | `search` | words in everything |

mod add;
mod asked;
mod cells;
mod export;
mod own_fields;
mod rows;
mod search;
mod table;
mod views;
mod xlsx;

pub(crate) use add::put_in;
pub use add::{NewThing, add_thing};
pub(crate) use cells::write_fields;
pub use cells::{CellChange, CellChanges, Paste, PasteRow, change_cells, paste};
pub use export::{ExportAsk, Exported, FileKind, calendar, export};
pub use own_fields::{
    ConversionPreview, FieldPlace, LostValue, add_field, change_field, convert_field, fields, move_field,
    preview_conversion, retire_field,
};
pub use rows::{GroupView, GroupsPage, KeyView, RowView, RowsAsk, RowsPage, TeamMember, groups, rows, team};
pub use search::{SearchHit, SearchResult, search};
pub use table::{ThingsRead, ThingsTable, add_table};
pub use views::{
    CalendarKey, ViewInput, ViewView, add_view, change_view, end_calendar, remove_view, share_calendar, views,
};
