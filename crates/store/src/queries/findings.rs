//! What a run of the grouping needs to know, and what the engine tells of findings.

use std::collections::BTreeMap;

use iron_kite_core::listen::{FindingState, Term};
use iron_kite_core::things::{ExcerptId, FindingId, ItemId, ProductId, TermId};
use rusqlite::params;

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// An excerpt that can be grouped.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Readable {
    /// Its number.
    pub id: ExcerptId,
    /// Its words.
    pub words: String,
    /// The language of its item.
    pub language: Option<String>,
    /// What it means, as it is kept.
    pub meaning: Vec<u8>,
    /// Who said it: a number for each person, and for each item of nobody.
    pub voice: i64,
    /// What it means seen more closely, where that was asked for and is known.
    pub closer: Option<Vec<u8>>,
}

/// A finding and how much people have to do with it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Standing {
    /// Its number.
    pub id: FindingId,
    /// Its title.
    pub title: String,
    /// What people think of it.
    pub state: FindingState,
    /// Whether a person named it, accepted it, threw it out, put an excerpt behind it, or used it for anything.
    pub touched: bool,
}

/// An excerpt behind a finding.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Support {
    /// The link's number.
    pub link: i64,
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// The finding.
    pub finding: FindingId,
    /// How sure the engine is; nothing where a person put it there.
    pub sure: Option<f64>,
}

/// What the engine tells of a finding.
#[derive(Debug, Clone, PartialEq)]
pub struct FindingTold {
    /// By what it was told; told anew where that is another one now.
    pub stamp: String,
    /// Key phrases, as a JSON list.
    pub phrases: String,
    /// The excerpts that are nearest to its middle, as a JSON list.
    pub nearest: String,
    /// The findings that are nearest to it, as a JSON list.
    pub related: String,
    /// How it moves, by name.
    pub movement: String,
    /// How likely chance alone explains as much.
    pub p: f64,
    /// Excerpts of the last days.
    pub recent: u32,
    /// Excerpts of the days before.
    pub before: u32,
}

/// A finding that an excerpt of a product can stand behind.
const OF_PRODUCT: &str =
    "l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.to_kind = 'finding' AND n.product_id = ?1";

fn support(row: &rusqlite::Row<'_>) -> rusqlite::Result<Support> {
    Ok(Support {
        link: row.get(0)?,
        excerpt: ExcerptId(row.get(1)?),
        finding: FindingId(row.get(2)?),
        sure: row.get(3)?,
    })
}

fn told(row: &rusqlite::Row<'_>) -> rusqlite::Result<(FindingId, FindingTold)> {
    let told = FindingTold {
        stamp: row.get(1)?,
        phrases: row.get(2)?,
        nearest: row.get(3)?,
        related: row.get(4)?,
        movement: row.get(5)?,
        p: row.get(6)?,
        recent: row.get(7)?,
        before: row.get(8)?,
    };
    Ok((FindingId(row.get(0)?), told))
}

impl Rows<'_> {
    /// All excerpts of a product whose meaning is known, in the order of their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn readable(&self, product: ProductId) -> Result<Vec<Readable>> {
        self.readable_where("NULL", "i.product_id = ?1", product.0)
    }

    /// The same with their meaning seen more closely, as far as that is known.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn readable_closer(&self, product: ProductId) -> Result<Vec<Readable>> {
        self.readable_where("m.closer", "i.product_id = ?1", product.0)
    }

    /// Those for which no finding was looked for yet.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unplaced(&self, product: ProductId) -> Result<Vec<Readable>> {
        self.readable_where("NULL", "i.product_id = ?1 AND e.placed IS NULL", product.0)
    }

    /// Those behind a finding, with their meaning seen more closely, as far as that is known.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn readable_behind(&self, finding: FindingId) -> Result<Vec<Readable>> {
        let behind = "e.id IN (SELECT from_id FROM link
            WHERE to_kind = 'finding' AND to_id = ?1 AND kind = 'supports' AND from_kind = 'excerpt')";
        self.readable_where("m.closer", behind, finding.0)
    }

    /// Those of an item.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn readable_in(&self, item: ItemId) -> Result<Vec<Readable>> {
        self.readable_where("NULL", "e.item_id = ?1", item.0)
    }

    /// Those of some.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn readable_among(&self, excerpts: &[ExcerptId]) -> Result<Vec<Readable>> {
        self.readable_where("NULL", "e.id IN (SELECT value FROM json_each(?1))", serde_json::to_string(excerpts)?)
    }

    fn readable_where(&self, closer: &str, condition: &str, value: impl rusqlite::ToSql) -> Result<Vec<Readable>> {
        let sql = format!(
            "SELECT e.id, substr(i.text, e.from_char + 1, e.to_char - e.from_char), e.language, m.vector,
               COALESCE(i.person_id * 2, i.id * 2 + 1), {closer}
             FROM excerpt e JOIN feedback_item i ON i.id = e.item_id JOIN meaning m ON m.key = e.meaning_key
             WHERE {condition} ORDER BY e.id"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map([value], |row| {
            Ok(Readable {
                id: ExcerptId(row.get(0)?),
                words: row.get(1)?,
                language: row.get(2)?,
                meaning: row.get(3)?,
                voice: row.get(4)?,
                closer: row.get(5)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Whether no finding was looked for yet for an excerpt that means this: its words may be others by now.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn is_unplaced(&self, excerpt: ExcerptId, meaning: &[u8]) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM excerpt e JOIN meaning m ON m.key = e.meaning_key
            WHERE e.id = ?1 AND e.placed IS NULL AND m.vector = ?2)";
        Ok(self.connection.prepare_cached(sql)?.query_row(params![excerpt.0, meaning], |row| row.get(0))?)
    }

    /// How many excerpts of a product have a meaning that is known; only those for which no finding was looked for yet,
    /// where that is asked.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_readable(&self, product: ProductId, only_unplaced: bool) -> Result<i64> {
        let sql = "SELECT count(*) FROM excerpt e JOIN feedback_item i ON i.id = e.item_id
            JOIN meaning m ON m.key = e.meaning_key WHERE i.product_id = ?1 AND (NOT ?2 OR e.placed IS NULL)";
        Ok(self.connection.prepare_cached(sql)?.query_row(params![product.0, only_unplaced], |row| row.get(0))?)
    }

    /// The findings of a product, and how much people have to do with each.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn standings(&self, product: ProductId) -> Result<Vec<Standing>> {
        // A run makes and removes suggested findings, and never changes one: where the revision went up, a person did.
        let sql = "SELECT n.id, n.title, n.state, n.rev > 1 OR n.own IS NOT NULL
              OR EXISTS (SELECT 1 FROM link l WHERE l.from_kind = 'finding' AND l.from_id = n.id)
              OR EXISTS (SELECT 1 FROM link l WHERE l.to_kind = 'finding' AND l.to_id = n.id AND l.kind NOT IN ('supports', 'not_same'))
              OR EXISTS (SELECT 1 FROM link l WHERE l.to_kind = 'finding' AND l.to_id = n.id AND l.from_kind = 'finding')
              OR EXISTS (SELECT 1 FROM link l WHERE l.to_kind = 'finding' AND l.to_id = n.id AND l.kind = 'supports' AND l.sure IS NULL)
            FROM finding n WHERE n.product_id = ?1 ORDER BY n.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| {
            let state: Option<String> = row.get(2)?;
            let state = state.and_then(|name| serde_json::from_value(name.into()).ok()).unwrap_or_default();
            Ok(Standing {
                id: FindingId(row.get(0)?),
                title: row.get(1)?,
                state,
                touched: row.get::<_, bool>(3)? || state != FindingState::Suggested,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The excerpts behind the findings of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn supports(&self, product: ProductId) -> Result<Vec<Support>> {
        let sql = format!(
            "SELECT l.id, l.from_id, l.to_id, l.sure FROM finding n
             JOIN link l ON l.to_kind = 'finding' AND l.to_id = n.id WHERE {OF_PRODUCT} ORDER BY l.id"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([product.0], support)?.collect::<rusqlite::Result<_>>()?)
    }

    /// The excerpts behind one finding.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn supports_of(&self, finding: FindingId) -> Result<Vec<Support>> {
        let sql = "SELECT id, from_id, to_id, sure FROM link
            WHERE to_kind = 'finding' AND to_id = ?1 AND kind = 'supports' AND from_kind = 'excerpt' ORDER BY id";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([finding.0], support)?.collect::<rusqlite::Result<_>>()?)
    }

    /// The findings that an excerpt supports.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn supports_by(&self, excerpt: ExcerptId) -> Result<Vec<Support>> {
        let sql = "SELECT id, from_id, to_id, sure FROM link
            WHERE from_kind = 'excerpt' AND from_id = ?1 AND kind = 'supports' AND to_kind = 'finding' ORDER BY id";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([excerpt.0], support)?.collect::<rusqlite::Result<_>>()?)
    }

    /// The finding behind which the engine put an excerpt, where that was not thrown out.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn placed_behind(&self, excerpt: ExcerptId) -> Result<Option<FindingId>> {
        let sql = "SELECT l.to_id FROM link l JOIN finding n ON n.id = l.to_id
            WHERE l.from_kind = 'excerpt' AND l.from_id = ?1 AND l.kind = 'supports' AND l.to_kind = 'finding'
              AND l.sure IS NOT NULL AND n.state IS NOT 'thrown_out' ORDER BY l.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([excerpt.0], |row| row.get(0).map(FindingId))?.next().transpose()?)
    }

    /// By what each finding of a product is to be told today: it changes with its excerpts and the day.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn finding_stamps(&self, product: ProductId, today: &str) -> Result<BTreeMap<FindingId, String>> {
        let sql = "SELECT n.id, count(l.id) || '/' || COALESCE(sum(l.from_id), 0) || '/' || COALESCE(sum(e.meaning_key % 1000003), 0) || '/' || count(e.repeats_id) || '/' || ?2
            FROM finding n LEFT JOIN link l ON l.to_kind = 'finding' AND l.to_id = n.id AND l.kind = 'supports' AND l.from_kind = 'excerpt'
            LEFT JOIN excerpt e ON e.id = l.from_id WHERE n.product_id = ?1 GROUP BY n.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map(params![product.0, today], |row| Ok((FindingId(row.get(0)?), row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// What the engine told of the findings of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn findings_told(&self, product: ProductId) -> Result<BTreeMap<FindingId, FindingTold>> {
        let sql = "SELECT t.finding_id, t.stamp, t.phrases, t.nearest, t.related, t.movement, t.p, t.recent, t.before
            FROM finding_told t JOIN finding n ON n.id = t.finding_id WHERE n.product_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([product.0], told)?.collect::<rusqlite::Result<_>>()?)
    }

    /// What the engine told of one finding.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn finding_told(&self, finding: FindingId) -> Result<Option<FindingTold>> {
        let sql = "SELECT finding_id, stamp, phrases, nearest, related, movement, p, recent, before
            FROM finding_told WHERE finding_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([finding.0], told)?.next().transpose()?.map(|(_, told)| told))
    }

    /// How sure the engine is that some excerpts belong to a finding; nothing of those that a person put there.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn sure_among(&self, finding: FindingId, excerpts: &[ExcerptId]) -> Result<BTreeMap<ExcerptId, f64>> {
        let sql = "SELECT from_id, sure FROM link WHERE to_kind = 'finding' AND to_id = ?1 AND kind = 'supports'
            AND from_kind = 'excerpt' AND sure IS NOT NULL AND from_id IN (SELECT value FROM json_each(?2))";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map(params![finding.0, serde_json::to_string(excerpts)?], |row| {
            Ok((ExcerptId(row.get(0)?), row.get(1)?))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// How many excerpts of a product were said within days, the first and the last included, behind each finding; and
    /// among all of the product, under nothing. What one person says again is counted once.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_within(&self, product: ProductId, from: &str, to: &str) -> Result<BTreeMap<Option<FindingId>, u32>> {
        let sql = "SELECT NULL, count(*) FROM feedback_item i JOIN excerpt e ON e.item_id = i.id
              WHERE i.product_id = ?1 AND i.said_on BETWEEN ?2 AND ?3 AND e.repeats_id IS NULL
            UNION ALL SELECT n.id, count(*) FROM finding n JOIN behind b ON b.finding_id = n.id
              WHERE n.product_id = ?1 AND b.said_on BETWEEN ?2 AND ?3 GROUP BY n.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map(params![product.0, from, to], |row| {
            Ok((row.get::<_, Option<i64>>(0)?.map(FindingId), row.get(1)?))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The terms of a product, in the order of their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn terms(&self, product: ProductId) -> Result<Vec<Term>> {
        self.list("WHERE product_id = ?1 ORDER BY id", [product.0])
    }
}

impl Tx<'_> {
    /// Notes, outside of the ledger, that a finding was looked for, for these excerpts.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn mark_placed(&mut self, excerpts: &[ExcerptId]) -> Result<()> {
        let set = self.without_ledger();
        let ids = serde_json::to_string(excerpts)?;
        let sql = "UPDATE excerpt SET placed = 1 WHERE id IN (SELECT value FROM json_each(?1))";
        let done = self.rows().connection.prepare_cached(sql)?.execute([ids]);
        self.with_ledger(set);
        done?;
        Ok(())
    }

    /// Keeps what the engine tells of findings, each for the one that it is told of; where that is gone, nothing.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn tell_findings(&mut self, told: &[(FindingId, FindingTold)]) -> Result<()> {
        let sql = "INSERT INTO finding_told(finding_id, stamp, phrases, nearest, related, movement, p, recent, before)
            SELECT ?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9 WHERE EXISTS (SELECT 1 FROM finding WHERE id = ?1)
            ON CONFLICT (finding_id) DO UPDATE SET stamp = excluded.stamp, phrases = excluded.phrases,
              nearest = excluded.nearest, related = excluded.related, movement = excluded.movement, p = excluded.p,
              recent = excluded.recent, before = excluded.before";
        for (id, one) in told {
            self.rows().connection.prepare_cached(sql)?.execute(params![
                id.0,
                one.stamp,
                one.phrases,
                one.nearest,
                one.related,
                one.movement,
                one.p,
                one.recent,
                one.before
            ])?;
        }
        Ok(())
    }

    /// Notes which terms excerpts speak of, instead of what was noted before.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn tell_terms(&mut self, told: &[(ExcerptId, Vec<TermId>)]) -> Result<()> {
        let connection = self.rows().connection;
        for (excerpt, terms) in told {
            connection.prepare_cached("DELETE FROM about WHERE excerpt_id = ?1")?.execute([excerpt.0])?;
            for term in terms {
                // An excerpt or a term may have gone in the meantime.
                let sql = "INSERT OR IGNORE INTO about(excerpt_id, term_id) SELECT e.id, t.id FROM excerpt e, term t
                    WHERE e.id = ?1 AND t.id = ?2";
                connection.prepare_cached(sql)?.execute([excerpt.0, term.0])?;
            }
        }
        Ok(())
    }
}
