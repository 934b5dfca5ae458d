//! The unbroken line: what a thing rests on, and what came of it.

use std::sync::LazyLock;

use iron_kite_core::kind::{Line, Relation};
use iron_kite_core::listen::WhoSaid;
use iron_kite_core::things::{AccountId, ItemId, PersonId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use rusqlite::params;

use super::hierarchy::{above, stories_below, work_of_ideas};
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
    down: String,
    up: Option<String>,
}

/// Work is followed by the results on the ideas that it or what it is a part of came from.
fn to_result() -> String {
    let above = above("SELECT w.id");
    format!(
        "SELECT 'result', m.id FROM reach JOIN work_item w ON reach.kind = 'work_item' AND w.id = reach.id
         JOIN result m ON m.idea_id IN (
           SELECT l.from_id FROM link l WHERE l.kind = 'becomes' AND l.to_kind = 'work_item' AND l.to_id IN ({above})
           UNION SELECT k.idea_id FROM increment k WHERE k.id = w.increment_id)"
    )
}

/// A result rests on the stories of its idea that went out with its release.
fn from_result() -> String {
    let stories = stories_below(&work_of_ideas("= m.idea_id"));
    format!(
        "SELECT 'work_item', w.id FROM reach JOIN result m ON reach.kind = 'result' AND m.id = reach.id
         JOIN work_item w ON w.id IN ({stories}) AND (m.release_id IS NULL OR w.release_id = m.release_id)"
    )
}

/// The steps: along the links of the line, along what the descriptions of the kinds say, and from work to its results.
static STEPS: LazyLock<Vec<Step>> = LazyLock::new(|| {
    let related = ThingKind::ALL.iter().flat_map(|kind| {
        kind.description().relations.iter().filter_map(|relation| relation.line.map(|line| (*kind, relation, line)))
    });
    let related = related.map(|(kind, relation, line)| along(kind, relation, line));
    let results = Step { down: to_result(), up: Some(from_result()) };
    std::iter::once(linked()).chain(related).chain([results]).collect()
});

fn linked() -> Step {
    let kinds: Vec<String> =
        LinkKind::ALL.iter().filter(|kind| kind.is_of_the_line()).map(|kind| format!("'{}'", kind.name())).collect();
    let side = |here: &str, there: &str| {
        format!(
            "SELECT l.{there}_kind, l.{there}_id FROM reach JOIN link l ON l.{here}_kind = reach.kind
             AND l.{here}_id = reach.id AND l.kind IN ({})",
            kinds.join(", ")
        )
    };
    Step { down: side("from", "to"), up: Some(side("to", "from")) }
}

/// The step along a column of a kind of thing that points to another.
fn along(kind: ThingKind, Relation { column, to, .. }: &Relation, line: Line) -> Step {
    let to_holder =
        format!("SELECT '{kind}', x.id FROM reach JOIN {kind} x ON reach.kind = '{to}' AND x.{column} = reach.id");
    let from_holder = format!(
        "SELECT '{to}', x.{column} FROM reach JOIN {kind} x ON reach.kind = '{kind}' AND x.id = reach.id
         AND x.{column} IS NOT NULL"
    );
    match line {
        Line::Below => Step { down: to_holder, up: Some(from_holder) },
        Line::OnlyBelow => Step { down: to_holder, up: None },
        Line::Above => Step { down: from_holder, up: Some(to_holder) },
    }
}

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
                Direction::Down => Some(step.down.as_str()),
                Direction::Up => step.up.as_deref(),
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
