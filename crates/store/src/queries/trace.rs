//! The unbroken line: what a thing rests on, and what came of it.

use iron_kite_core::listen::WhoSaid;
use iron_kite_core::things::{AccountId, ItemId, PersonId, Thing, ThingKind};
use rusqlite::params;

use crate::error::{Error, Result};
use crate::rows::{Record, Rows};

/// Which way along the line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Direction {
    /// Towards the words.
    Up,
    /// Towards the result.
    Down,
}

/// One kind of step along the line: SQL that joins `reach` (kind, id) and gives the next thing.
/// Each is answered by an index, so a trace costs what it finds.
struct Step {
    down: &'static str,
    up: Option<&'static str>,
}

const STEPS: &[Step] = &[
    Step {
        down: "SELECT l.to_kind, l.to_id FROM reach JOIN link l ON l.from_kind = reach.kind AND l.from_id = reach.id AND l.kind IN ('supports', 'asks_for', 'becomes', 'informs')",
        up: Some(
            "SELECT l.from_kind, l.from_id FROM reach JOIN link l ON l.to_kind = reach.kind AND l.to_id = reach.id AND l.kind IN ('supports', 'asks_for', 'becomes', 'informs')",
        ),
    },
    Step {
        down: "SELECT 'excerpt', e.id FROM reach JOIN excerpt e ON reach.kind = 'feedback_item' AND e.item_id = reach.id",
        up: Some(
            "SELECT 'feedback_item', e.item_id FROM reach JOIN excerpt e ON reach.kind = 'excerpt' AND e.id = reach.id",
        ),
    },
    Step {
        down: "SELECT 'feedback_item', i.id FROM reach JOIN feedback_item i ON reach.kind = 'study' AND i.study_id = reach.id",
        up: Some(
            "SELECT 'study', i.study_id FROM reach JOIN feedback_item i ON reach.kind = 'feedback_item' AND i.id = reach.id AND i.study_id IS NOT NULL",
        ),
    },
    Step {
        down: "SELECT 'work_item', w.id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.parent_id = reach.id",
        up: Some(
            "SELECT 'work_item', w.parent_id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.id = reach.id AND w.parent_id IS NOT NULL",
        ),
    },
    // What somebody asked for by a form is said in an item.
    Step {
        down: "SELECT 'feedback_item', q.item_id FROM reach JOIN request q ON reach.kind = 'request' AND q.id = reach.id",
        up: Some(
            "SELECT 'request', q.id FROM reach JOIN request q ON reach.kind = 'feedback_item' AND q.item_id = reach.id",
        ),
    },
    // An idea is taken in increments, and an objective in smaller ones.
    Step {
        down: "SELECT 'increment', k.id FROM reach JOIN increment k ON reach.kind = 'idea' AND k.idea_id = reach.id",
        up: Some(
            "SELECT 'idea', k.idea_id FROM reach JOIN increment k ON reach.kind = 'increment' AND k.id = reach.id",
        ),
    },
    Step {
        down: "SELECT 'work_item', w.id FROM reach JOIN work_item w ON reach.kind = 'increment' AND w.increment_id = reach.id",
        up: Some(
            "SELECT 'increment', w.increment_id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.id = reach.id AND w.increment_id IS NOT NULL",
        ),
    },
    Step {
        down: "SELECT 'result', m.id FROM reach JOIN result m ON reach.kind = 'increment' AND m.increment_id = reach.id",
        up: Some(
            "SELECT 'increment', m.increment_id FROM reach JOIN result m ON reach.kind = 'result' AND m.id = reach.id AND m.increment_id IS NOT NULL",
        ),
    },
    Step {
        down: "SELECT 'objective', o.id FROM reach JOIN objective o ON reach.kind = 'objective' AND o.parent_id = reach.id",
        up: Some(
            "SELECT 'objective', o.parent_id FROM reach JOIN objective o ON reach.kind = 'objective' AND o.id = reach.id AND o.parent_id IS NOT NULL",
        ),
    },
    Step {
        down: "SELECT 'release', w.release_id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.id = reach.id AND w.release_id IS NOT NULL",
        up: Some(
            "SELECT 'work_item', w.id FROM reach JOIN work_item w ON reach.kind = 'release' AND w.release_id = reach.id",
        ),
    },
    Step {
        down: "SELECT 'result', m.id FROM reach JOIN result m ON reach.kind = 'idea' AND m.idea_id = reach.id",
        up: Some("SELECT 'idea', m.idea_id FROM reach JOIN result m ON reach.kind = 'result' AND m.id = reach.id"),
    },
    Step {
        down: "SELECT 'decision', d.id FROM reach JOIN decision d ON reach.kind = 'idea' AND d.idea_id = reach.id",
        up: None,
    },
    // An epic or a story is followed by the results on its idea, and a result rests on the stories
    // of its idea that went out with its release.
    Step {
        down: "SELECT 'result', m.id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.id = reach.id
               JOIN link l ON l.to_kind = 'work_item' AND l.to_id = COALESCE(w.parent_id, w.id) AND l.kind = 'becomes'
               JOIN result m ON m.idea_id = l.from_id",
        up: Some(
            "SELECT 'work_item', w.id FROM reach JOIN result m ON reach.kind = 'result' AND m.id = reach.id
             JOIN link l ON l.from_kind = 'idea' AND l.from_id = m.idea_id AND l.kind = 'becomes'
             JOIN work_item w ON w.parent_id = l.to_id AND (m.release_id IS NULL OR w.release_id = m.release_id)",
        ),
    },
    // A release is followed by its results; a result does not rest on all else that its release held.
    Step {
        down: "SELECT 'result', m.id FROM reach JOIN result m ON reach.kind = 'release' AND m.release_id = reach.id",
        up: None,
    },
];

/// At most so many things; what a person looks at is far less.
const MOST: usize = 200_000;

impl Rows<'_> {
    /// Who stands behind some feedback items.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn who_said(&self, items: &[i64]) -> Result<Vec<WhoSaid>> {
        let sql = "SELECT id, person_id, account_id FROM feedback_item WHERE id IN (SELECT value FROM json_each(?1))";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([serde_json::to_string(items)?], |row| {
            Ok(WhoSaid {
                item_id: ItemId(row.get(0)?),
                person_id: row.get::<_, Option<i64>>(1)?.map(PersonId),
                account_id: row.get::<_, Option<i64>>(2)?.map(AccountId),
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Some things of one kind, by their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn among<R: Record>(&self, ids: &[i64]) -> Result<Vec<R>> {
        self.list("WHERE id IN (SELECT value FROM json_each(?1)) ORDER BY id", [serde_json::to_string(ids)?])
    }

    /// All things up or down the line from a thing, without itself, by kind and number.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn reach(&self, thing: Thing, direction: Direction) -> Result<Vec<Thing>> {
        let steps: Vec<&str> = STEPS
            .iter()
            .filter_map(|step| match direction {
                Direction::Down => Some(step.down),
                Direction::Up => step.up,
            })
            .collect();
        let sql = format!(
            "WITH RECURSIVE reach(kind, id) AS (SELECT ?1, ?2 UNION {}) SELECT kind, id FROM reach LIMIT {MOST}",
            steps.join(" UNION ")
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params![thing.kind.name(), thing.id])?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            let kind: ThingKind =
                row.get_ref(0)?.as_str().map_err(rusqlite::Error::from)?.parse().map_err(Error::Refused)?;
            found.push(Thing { kind, id: row.get(1)? });
        }
        found.retain(|other| *other != thing);
        found.sort_unstable();
        Ok(found)
    }
}
