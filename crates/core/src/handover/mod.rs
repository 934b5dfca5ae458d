//! Hand over: the ready check, a team's queue, the roadmap.

pub(crate) mod membership;
mod ready;
mod roadmap;
pub(crate) mod team;
pub(crate) mod team_column;

pub use ready::{Check, Needed, ReadyCheck, ReadyFacts, check_facts, ready_check};
pub use roadmap::{Quarter, ReleaseFacts, Roadmap, RoadmapBar, RoadmapEntry, at_once, release_trouble, roadmap};
pub use team::Team;
pub use team_column::TeamColumn;
