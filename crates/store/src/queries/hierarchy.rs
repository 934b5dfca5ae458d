//! What is below and above a work item, as SQL. The rule is core's `specify::Hierarchy`; a test compares the two.

use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::WorkItemId;

use crate::error::Result;
use crate::rows::Rows;

/// The numbers of the stories at and below some work items, each once; `seed` is a SELECT of the numbers of these.
pub(crate) fn stories_below(seed: &str) -> String {
    format!(
        "SELECT b.id FROM (WITH RECURSIVE below(id) AS (
           {seed} UNION SELECT c.id FROM below JOIN work_item c ON c.parent_id = below.id)
         SELECT s.id FROM below JOIN work_item s ON s.id = below.id AND s.level = 'story') b"
    )
}

/// The numbers of some work items and of all that they are parts of.
pub(crate) fn above(seed: &str) -> String {
    format!(
        "SELECT a.id FROM (WITH RECURSIVE above(id) AS (
           {seed} UNION SELECT c.parent_id FROM above JOIN work_item c ON c.id = above.id WHERE c.parent_id IS NOT NULL)
         SELECT id FROM above) a"
    )
}

/// The numbers of the work items that ideas became or that lie in their increments; `ideas` says which ideas, as in `= 3`.
pub(crate) fn work_of_ideas(ideas: &str) -> String {
    format!(
        "SELECT l.to_id FROM link l WHERE l.from_kind = 'idea' AND l.from_id {ideas} AND l.kind = 'becomes'
           AND l.to_kind = 'work_item'
         UNION SELECT w.id FROM increment k JOIN work_item w ON w.increment_id = k.id WHERE k.idea_id {ideas}"
    )
}

/// The numbers of the work items that serve objectives and their parts: those of their ideas, their initiatives, and what lies in
/// their releases.
pub(crate) fn work_of_objectives(objectives: &str) -> String {
    let serving = |kind: &str| {
        format!(
            "SELECT l.to_id FROM link l WHERE l.from_kind = 'objective' AND l.kind = 'asks_for' AND l.to_kind = '{kind}'
             AND l.from_id IN (SELECT o.id FROM (WITH RECURSIVE part(id) AS (
               SELECT id FROM objective WHERE id {objectives}
               UNION SELECT c.id FROM part JOIN objective c ON c.parent_id = part.id) SELECT id FROM part) o)"
        )
    };
    format!(
        "{} UNION {} UNION SELECT w.id FROM work_item w WHERE w.level = 'story' AND w.release_id IN ({})",
        work_of_ideas(&format!("IN ({})", serving("idea"))),
        serving("work_item"),
        serving("release"),
    )
}

impl Rows<'_> {
    /// The stories below a work item on all levels, each once; itself where it is one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn stories_below(&self, item: WorkItemId) -> Result<Vec<WorkItem>> {
        self.list(&format!("WHERE id IN ({}) ORDER BY id", stories_below("SELECT ?1")), [item.0])
    }
}
