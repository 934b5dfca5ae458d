//! Words in everything.

use std::sync::LazyLock;

use iron_kite_core::things::{ProductId, ThingKind};
use rusqlite::{Row, params};

use super::line::product_sql;
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

/// Whether what was found belongs to a product, or to none.
static OF_PRODUCT: LazyLock<String> = LazyLock::new(|| {
    let searched = ThingKind::ALL.iter().filter(|kind| kind.description().searched.is_some());
    let of = |kind: &ThingKind| match product_sql(*kind, "w.thing_id") {
        Some(product) => format!("WHEN '{kind}' THEN {product} = ?2"),
        None => format!("WHEN '{kind}' THEN 1"),
    };
    format!("CASE w.kind {} ELSE 0 END", searched.map(of).collect::<Vec<_>>().join(" "))
});

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
             AND {} ORDER BY w.rank LIMIT ?4",
            *OF_PRODUCT
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
