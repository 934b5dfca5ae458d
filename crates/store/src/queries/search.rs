//! Words in everything.

use iron_kite_core::things::{ProductId, ThingKind};
use rusqlite::{Row, params};

use super::listen::match_words;
use crate::error::{Error, Result};
use crate::rows::Rows;

/// Where words were found.
#[derive(Debug, Clone, PartialEq)]
pub struct Hit {
    /// What it is.
    pub kind: ThingKind,
    /// Its number.
    pub id: i64,
    /// What it is called.
    pub title: String,
    /// The words around what was found, the found ones between U+2039 and U+203A.
    pub snippet: String,
    /// How well it fits; smaller is better (BM25).
    pub rank: f64,
}

/// The signs around what was found.
const MARKS: &str = "'‹', '›'";

/// Things of a product, and what belongs to no product.
const OF_PRODUCT: &str = "CASE w.kind
    WHEN 'finding' THEN EXISTS (SELECT 1 FROM finding x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'objective' THEN EXISTS (SELECT 1 FROM objective x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'idea' THEN EXISTS (SELECT 1 FROM idea x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'work_item' THEN EXISTS (SELECT 1 FROM work_item x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'release' THEN EXISTS (SELECT 1 FROM release x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'study' THEN EXISTS (SELECT 1 FROM study x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'document' THEN EXISTS (SELECT 1 FROM document x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'sprint' THEN EXISTS (SELECT 1 FROM sprint x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'term' THEN EXISTS (SELECT 1 FROM term x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'page' THEN EXISTS (SELECT 1 FROM page x WHERE x.id = w.thing_id AND x.product_id = ?2)
    WHEN 'criterion' THEN EXISTS (SELECT 1 FROM criterion c JOIN work_item x ON x.id = c.story_id
      WHERE c.id = w.thing_id AND x.product_id = ?2)
    WHEN 'decision' THEN EXISTS (SELECT 1 FROM decision d JOIN idea x ON x.id = d.idea_id
      WHERE d.id = w.thing_id AND x.product_id = ?2)
    WHEN 'result' THEN EXISTS (SELECT 1 FROM result m JOIN idea x ON x.id = m.idea_id
      WHERE m.id = w.thing_id AND x.product_id = ?2)
    ELSE 1 END";

impl Rows<'_> {
    /// Things other than feedback in which all words stand, the last one as a beginning; words of the title count
    /// four times. `kind` asks for things of one kind only.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn search_things(
        &self,
        product: ProductId,
        words: &str,
        kind: Option<ThingKind>,
        limit: usize,
    ) -> Result<Vec<Hit>> {
        let Some(words) = match_words(words) else { return Ok(Vec::new()) };
        let sql = format!(
            "SELECT w.kind, w.thing_id, substr(w.title, 1, 200), snippet(thing_words, -1, {MARKS}, '…', 16), w.rank
             FROM thing_words w WHERE thing_words MATCH ?1 AND rank MATCH 'bm25(0, 0, 4, 1)' AND (?3 IS NULL OR w.kind = ?3)
             AND {OF_PRODUCT} ORDER BY w.rank LIMIT ?4"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let limit = i64::try_from(limit).unwrap_or(i64::MAX);
        let mut rows = statement.query(params![words, product.0, kind.map(ThingKind::name), limit])?;
        let mut hits = Vec::new();
        while let Some(row) = rows.next()? {
            let kind: ThingKind =
                row.get_ref(0)?.as_str().map_err(rusqlite::Error::from)?.parse().map_err(Error::Refused)?;
            hits.push(hit(row, kind)?);
        }
        Ok(hits)
    }

    /// The same in the feedback of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn search_feedback(&self, product: ProductId, words: &str, limit: usize) -> Result<Vec<Hit>> {
        let Some(words) = match_words(words) else { return Ok(Vec::new()) };
        // Ranking reads every hit; of words that stand nearly everywhere a part is enough to choose from.
        let sql = format!(
            "SELECT 'feedback_item', i.id, substr(i.text, 1, 120), snippet(feedback_words, 0, {MARKS}, '…', 16), w.rank
             FROM (SELECT rowid, rank FROM feedback_words WHERE feedback_words MATCH ?1 LIMIT {MOST_RANKED}) r
             JOIN feedback_words w ON w.rowid = r.rowid JOIN feedback_item i ON i.id = r.rowid
             WHERE w.feedback_words MATCH ?1 AND i.product_id = ?2 ORDER BY r.rank LIMIT ?3"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let limit = i64::try_from(limit).unwrap_or(i64::MAX);
        let hits = statement.query_map(params![words, product.0, limit], |row| hit(row, ThingKind::FeedbackItem))?;
        Ok(hits.collect::<rusqlite::Result<_>>()?)
    }
}

impl Rows<'_> {
    /// The items of a product in which any of the words stand, what fits best first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items_with_any(&self, product: ProductId, words: &[String], limit: usize) -> Result<Vec<i64>> {
        let any: Vec<String> = words.iter().filter_map(|word| match_words(word)).collect();
        if any.is_empty() {
            return Ok(Vec::new());
        }
        let any = any.iter().map(|word| word.trim_end_matches('*')).collect::<Vec<_>>().join(" OR ");
        let sql = format!(
            "SELECT i.id FROM (SELECT rowid, rank FROM feedback_words WHERE feedback_words MATCH ?1 LIMIT {MOST_RANKED}) r
             JOIN feedback_item i ON i.id = r.rowid WHERE i.product_id = ?2 ORDER BY r.rank LIMIT ?3"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let limit = i64::try_from(limit).unwrap_or(i64::MAX);
        let ids = statement.query_map(params![any, product.0, limit], |row| row.get(0))?;
        Ok(ids.collect::<rusqlite::Result<_>>()?)
    }
}

impl Rows<'_> {
    /// How many feedback items there are.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_items(&self) -> Result<i64> {
        // The highest number is as many, but for those that were removed, and costs nothing to ask.
        let sql = "SELECT COALESCE(max(id), 0) FROM feedback_item";
        Ok(self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?)
    }

    /// How many feedback items hold a word, counted up to [`MOST_RANKED`].
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_items_with(&self, word: &str) -> Result<i64> {
        let Some(word) = match_words(word) else { return Ok(0) };
        let sql = format!(
            "SELECT count(*) FROM (SELECT 1 FROM feedback_words WHERE feedback_words MATCH ?1 LIMIT {MOST_RANKED})"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row([word.trim_end_matches('*')], |row| row.get(0))?)
    }
}

/// So many hits are ranked at the most.
pub const MOST_RANKED: i64 = 5_000;

fn hit(row: &Row<'_>, kind: ThingKind) -> rusqlite::Result<Hit> {
    Ok(Hit { kind, id: row.get(1)?, title: row.get(2)?, snippet: row.get(3)?, rank: row.get(4)? })
}
