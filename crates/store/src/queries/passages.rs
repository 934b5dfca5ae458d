//! Documents, pages and ideas in passages. They follow from the texts, so the ledger keeps none of it.

use iron_kite_core::things::{ProductId, Thing, ThingKind};
use rusqlite::params;

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// A text that is to be understood.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Page {
    /// The document, page or idea.
    pub thing: Thing,
    /// Its revision.
    pub rev: i64,
    /// What it is called.
    pub title: String,
    /// Its text.
    pub body: String,
}

/// A passage of a document, a page or an idea.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Passage {
    /// The document, page or idea.
    pub thing: Thing,
    /// What that is called.
    pub title: String,
    /// The words of the passage.
    pub words: String,
    /// What they mean, as it is kept.
    pub meaning: Vec<u8>,
}

/// What is read in passages, and its text behind the alias `t`.
const READ: [(ThingKind, &str); 3] = [
    (ThingKind::Document, "COALESCE(t.body, '')"),
    (ThingKind::Page, "COALESCE(t.body, '')"),
    (ThingKind::Idea, "concat_ws(char(10, 10), t.problem, t.guess, t.known_by)"),
];

impl Rows<'_> {
    /// Documents, pages and ideas of a product whose present text is not understood yet, at most so many.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn pages_to_understand(&self, product: ProductId, most: usize) -> Result<Vec<Page>> {
        let mut found = Vec::new();
        for (kind, text) in READ {
            let sql = format!(
                "SELECT t.id, t.rev, t.title, {text} FROM {kind} t
                 LEFT JOIN understood u ON u.kind = '{kind}' AND u.thing_id = t.id
                 WHERE t.product_id = ?1 AND u.rev IS NOT t.rev ORDER BY t.id LIMIT ?2"
            );
            let mut statement = self.connection.prepare_cached(&sql)?;
            let most = i64::try_from(most).unwrap_or(i64::MAX);
            let rows = statement.query_map(params![product.0, most], |row| {
                let thing = Thing::new(kind, row.get::<_, i64>(0)?);
                Ok(Page { thing, rev: row.get(1)?, title: row.get(2)?, body: row.get(3)? })
            })?;
            found.extend(rows.collect::<rusqlite::Result<Vec<_>>>()?);
        }
        Ok(found)
    }

    /// The passages of a product's documents, pages and ideas with what they mean. O(passages).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn passages(&self, product: ProductId) -> Result<Vec<Passage>> {
        let mut found = Vec::new();
        for (kind, _) in READ {
            let sql = format!(
                "SELECT t.id, t.title, p.words, m.vector FROM {kind} t
                 JOIN passage p ON p.kind = '{kind}' AND p.thing_id = t.id JOIN meaning m ON m.key = p.meaning_key
                 WHERE t.product_id = ?1 ORDER BY t.id, p.place"
            );
            let mut statement = self.connection.prepare_cached(&sql)?;
            let rows = statement.query_map([product.0], |row| {
                let thing = Thing::new(kind, row.get::<_, i64>(0)?);
                Ok(Passage { thing, title: row.get(1)?, words: row.get(2)?, meaning: row.get(3)? })
            })?;
            found.extend(rows.collect::<rusqlite::Result<Vec<_>>>()?);
        }
        Ok(found)
    }
}

impl Tx<'_> {
    /// Keeps the passages of a text, each with the key of its meaning, in the place of those that were there. What is not
    /// there any more keeps none.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn understand(&mut self, page: &Page, passages: &[(String, i64)]) -> Result<()> {
        let connection = self.rows().connection;
        let (kind, id) = (page.thing.kind.name(), page.thing.id);
        for (kind, _) in READ {
            for table in ["passage", "understood"] {
                let gone =
                    format!("DELETE FROM {table} WHERE kind = '{kind}' AND thing_id NOT IN (SELECT id FROM {kind})");
                connection.prepare_cached(&gone)?.execute([])?;
            }
        }
        connection
            .prepare_cached("DELETE FROM passage WHERE kind = ?1 AND thing_id = ?2")?
            .execute(params![kind, id])?;
        let mut add = connection.prepare_cached(
            "INSERT INTO passage(kind, thing_id, place, words, meaning_key) VALUES (?1, ?2, ?3, ?4, ?5)",
        )?;
        for (place, (words, key)) in (0_i64..).zip(passages) {
            add.execute(params![kind, id, place, words, key])?;
        }
        connection
            .prepare_cached("INSERT OR REPLACE INTO understood(kind, thing_id, rev) VALUES (?1, ?2, ?3)")?
            .execute(params![kind, id, page.rev])?;
        Ok(())
    }
}
