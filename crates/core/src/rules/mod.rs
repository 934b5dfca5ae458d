//! What runs by itself: when something happens, and if a condition holds, then some steps are taken.
//!
//! | file | what is in it |
//! |---|---|
//! | `rule` | a rule as it is kept, and how it is checked |
//! | `adds` | how a thing is added that hangs on another |
//! | `event` | whether a change, or a day, sets a rule off |
//! | `words` | what a rule waits for and does, in words |
//! | `chain` | rules that set off rules, and where that ends |
//!
//! A rule looks at what stands in the thing itself: its columns and the team's own fields, as they are after the change. So the
//! same change always has the same outcome, whether it happens now or is looked at again in a dry run.

mod adds;
mod chain;
mod event;
pub(crate) mod rule;
mod words;

pub use adds::{WayToAdd, level_of, way_to_add};
pub use chain::{Chain, DEEPEST, Stop};
pub use event::{Event, day_comes, fill_in, looks_at, sets_off};
pub use rule::{Act, MOST_ACTS, Rule, RuleDefinition, When, moves_to};
pub use words::Telling;
