//! What the engine tells of excerpts, and the meaning of words. It follows from the words, so the ledger keeps none of it.

use std::collections::BTreeSet;

use iron_kite_core::things::{ExcerptId, PersonId, ProductId, SourceId};
use rusqlite::{OptionalExtension, params};

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// An excerpt that the engine has not read yet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unread {
    /// Its number.
    pub id: ExcerptId,
    /// Who said it.
    pub person: Option<PersonId>,
    /// The text of its item.
    pub text: String,
    /// First character of its span, and the one after the last.
    pub span: (usize, usize),
    /// By which engine it was read before, or what had it read anew: another one where that happens again.
    pub stand: Option<i64>,
}

/// What the engine tells of an excerpt.
#[derive(Debug, Clone, PartialEq)]
pub struct Told {
    /// Which.
    pub id: ExcerptId,
    /// How it stood when it was read.
    pub stand: Option<i64>,
    /// Its kind, by name.
    pub kind: &'static str,
    /// How sure that is.
    pub sure: f64,
    /// Worst −1 to best +1.
    pub sentiment: f64,
    /// The language of its item.
    pub language: Option<&'static str>,
    /// The key of its words.
    pub meaning_key: i64,
    /// The excerpt in which the same person said the same first.
    pub repeats: Option<ExcerptId>,
}

/// Something that a person said.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SaidBy {
    /// Who.
    pub person: PersonId,
    /// The excerpt.
    pub id: ExcerptId,
    /// Its words.
    pub words: String,
}

/// What the engine learned from what people said of kinds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Learned {
    /// From how many it was asked to learn.
    pub judged: usize,
    /// By which engine.
    pub engine: i64,
    /// As text.
    pub weights: String,
}

/// Excerpts of a product whose words were not looked at more closely.
const FAR: &str = "FROM meaning m JOIN excerpt e ON e.meaning_key = m.key JOIN feedback_item i ON i.id = e.item_id
    WHERE m.closer IS NULL AND i.product_id = ?1";
/// Excerpts that this engine has not read, or whose words have no meaning here.
const UNREAD: &str = "LEFT JOIN meaning m ON m.key = e.meaning_key
    WHERE i.product_id = ?1 AND (e.engine <> ?2 OR m.key IS NULL)";

impl Rows<'_> {
    /// How many excerpts of a product this engine has not read yet. O(excerpts of the product).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unread_by(&self, product: ProductId, engine: i64) -> Result<i64> {
        let sql = format!("SELECT count(*) FROM excerpt e JOIN feedback_item i ON i.id = e.item_id {UNREAD}");
        Ok(self.connection.prepare_cached(&sql)?.query_row(params![product.0, engine], |row| row.get(0))?)
    }

    /// The first excerpts after one that this engine has not read yet, in the order of their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn next_unread(&self, product: ProductId, engine: i64, after: i64, most: usize) -> Result<Vec<Unread>> {
        // From excerpt to excerpt, so that what comes next is not sorted out of all of them each time.
        let sql = format!(
            "SELECT e.id, i.text, e.from_char, e.to_char, i.person_id, e.engine
            FROM excerpt e CROSS JOIN feedback_item i ON i.id = e.item_id {UNREAD} AND e.id > ?3 ORDER BY e.id LIMIT ?4"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let most = i64::try_from(most).unwrap_or(i64::MAX);
        let rows = statement.query_map(params![product.0, engine, after, most], |row| {
            let span: (u32, u32) = (row.get(2)?, row.get(3)?);
            Ok(Unread {
                id: ExcerptId(row.get(0)?),
                person: row.get::<_, Option<i64>>(4)?.map(PersonId),
                text: row.get(1)?,
                span: (span.0 as usize, span.1 as usize),
                stand: row.get(5)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// What some people said of a product: of each the last `most` excerpts up to one, in the order of their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_by(&self, product: ProductId, people: &[PersonId], to: ExcerptId, most: usize) -> Result<Vec<SaidBy>> {
        let sql = "SELECT w.value, e.id, substr(i.text, e.from_char + 1, e.to_char - e.from_char)
            FROM json_each(?2) w JOIN excerpt e ON e.id IN
              (SELECT o.id FROM feedback_item p JOIN excerpt o ON o.item_id = p.id
                WHERE p.person_id = w.value AND p.product_id = ?1 AND o.id <= ?3
                ORDER BY o.id DESC LIMIT ?4)
            JOIN feedback_item i ON i.id = e.item_id ORDER BY e.id";
        let people: Vec<i64> = people.iter().map(|person| person.0).collect();
        let most = i64::try_from(most).unwrap_or(i64::MAX);
        self.said(sql, params![product.0, serde_json::to_string(&people)?, to.0, most])
    }

    /// What anybody said of a product after one excerpt and up to another, in the order of their numbers. O(those).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_between(&self, product: ProductId, after: ExcerptId, to: ExcerptId) -> Result<Vec<SaidBy>> {
        let sql = "SELECT i.person_id, e.id, substr(i.text, e.from_char + 1, e.to_char - e.from_char)
            FROM excerpt e CROSS JOIN feedback_item i ON i.id = e.item_id
            WHERE e.id > ?2 AND e.id <= ?3 AND i.product_id = ?1 AND i.person_id IS NOT NULL ORDER BY e.id";
        self.said(sql, params![product.0, after.0, to.0])
    }

    fn said(&self, sql: &str, values: impl rusqlite::Params) -> Result<Vec<SaidBy>> {
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map(values, |row| {
            Ok(SaidBy { person: PersonId(row.get(0)?), id: ExcerptId(row.get(1)?), words: row.get(2)? })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Of how many excerpts of a product a person said or confirmed what they are. O(those).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_judged(&self, product: ProductId) -> Result<usize> {
        let sql = "SELECT count(*) FROM excerpt e JOIN feedback_item i ON i.id = e.item_id
            WHERE e.chosen = 1 AND i.product_id = ?1";
        let count: i64 = self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0))?;
        Ok(usize::try_from(count).unwrap_or_default())
    }

    /// What people said of kinds, as far as its meaning is known: (words, meaning, kind), in the order of their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn judged(&self, product: ProductId) -> Result<Vec<(String, Vec<u8>, String)>> {
        let sql = "SELECT substr(i.text, e.from_char + 1, e.to_char - e.from_char), m.vector, e.kind
            FROM excerpt e JOIN feedback_item i ON i.id = e.item_id JOIN meaning m ON m.key = e.meaning_key
            WHERE e.chosen = 1 AND i.product_id = ?1 ORDER BY e.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// What was learned of kinds.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn learned(&self, product: ProductId) -> Result<Option<Learned>> {
        let sql = "SELECT judged, engine, weights FROM learned WHERE product_id = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([product.0], |row| {
            let judged = usize::try_from(row.get::<_, i64>(0)?).unwrap_or_default();
            Ok(Learned { judged, engine: row.get(1)?, weights: row.get(2)? })
        });
        Ok(found.optional()?)
    }

    /// The highest rating that came from a source, which tells its scale.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn highest_rating(&self, source: SourceId) -> Result<Option<f64>> {
        let sql = "SELECT max(rating) FROM feedback_item WHERE source_id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([source.0], |row| row.get(0))?)
    }

    /// The number of the last excerpt of all, 0 where there is none. Constant time.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn newest_excerpt(&self) -> Result<i64> {
        let sql = "SELECT COALESCE(max(id), 0) FROM excerpt";
        Ok(self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?)
    }

    /// The number of a product's last excerpt, 0 where it has none.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn last_excerpt(&self, product: ProductId) -> Result<i64> {
        let sql = "SELECT COALESCE(max(e.id), 0) FROM excerpt e JOIN feedback_item i ON i.id = e.item_id WHERE i.product_id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([product.0], |row| row.get(0))?)
    }

    /// The meaning of words and how they are said, by their key, as both are kept.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn heard(&self, key: i64) -> Result<Option<(Vec<u8>, Vec<u8>)>> {
        let sql = "SELECT vector, tone FROM meaning WHERE key = ?1 AND tone IS NOT NULL";
        Ok(self.connection.prepare_cached(sql)?.query_row([key], |row| Ok((row.get(0)?, row.get(1)?))).optional()?)
    }

    /// The words of a product whose meaning was not looked at more closely yet: their keys, with an excerpt that holds them.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn not_closer(&self, product: ProductId) -> Result<Vec<(i64, ExcerptId)>> {
        let sql = format!("SELECT m.key, min(e.id) {FAR} GROUP BY m.key ORDER BY 2");
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map([product.0], |row| Ok((row.get(0)?, ExcerptId(row.get(1)?))))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Whether a product has findings, and words that were not looked at more closely.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn some_not_closer(&self, product: ProductId) -> Result<bool> {
        let sql = format!("SELECT EXISTS(SELECT 1 FROM finding WHERE product_id = ?1) AND EXISTS(SELECT 1 {FAR})");
        Ok(self.connection.prepare_cached(&sql)?.query_row([product.0], |row| row.get(0))?)
    }

    /// Calls this for each excerpt of a product with its meaning.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn each_meaning(&self, product: ProductId, mut each: impl FnMut(ExcerptId, &[u8])) -> Result<()> {
        let sql = "SELECT e.id, m.vector FROM excerpt e JOIN feedback_item i ON i.id = e.item_id
            JOIN meaning m ON m.key = e.meaning_key WHERE i.product_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let mut rows = statement.query([product.0])?;
        while let Some(row) = rows.next()? {
            each(ExcerptId(row.get(0)?), row.get_ref(1)?.as_blob().map_err(rusqlite::Error::from)?);
        }
        Ok(())
    }

    /// Calls this for each meaning that is kept, for how its words are said, and for what it is seen more closely, where those are
    /// known.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn all_meanings(&self, mut each: impl FnMut(i64, &[u8], Option<&[u8]>, Option<&[u8]>)) -> Result<()> {
        let sql = "SELECT key, vector, tone, closer FROM meaning ORDER BY key";
        let mut statement = self.connection.prepare_cached(sql)?;
        let mut rows = statement.query([])?;
        while let Some(row) = rows.next()? {
            let bytes = |at: usize| Ok::<_, rusqlite::Error>(row.get_ref(at)?.as_blob_or_null()?);
            each(row.get(0)?, bytes(1)?.unwrap_or_default(), bytes(2)?, bytes(3)?);
        }
        Ok(())
    }
}

impl Tx<'_> {
    /// Keeps the meaning of words and how they are said.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn keep_meaning(&mut self, key: i64, vector: &[u8], tone: &[u8]) -> Result<()> {
        let sql = "INSERT INTO meaning(key, vector, tone) VALUES (?1, ?2, ?3)
            ON CONFLICT (key) DO UPDATE SET tone = excluded.tone WHERE tone IS NULL";
        self.rows().connection.prepare_cached(sql)?.execute(params![key, vector, tone])?;
        Ok(())
    }

    /// Keeps the meaning of words seen more closely, where their meaning is kept.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn keep_closer(&mut self, key: i64, vector: &[u8]) -> Result<()> {
        let sql = "UPDATE meaning SET closer = ?2 WHERE key = ?1";
        self.rows().connection.prepare_cached(sql)?.execute(params![key, vector])?;
        Ok(())
    }

    /// Keeps what was learned of kinds in the place of what was before; nothing forgets it.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn learn(&mut self, product: ProductId, learned: Option<&Learned>) -> Result<()> {
        let connection = self.rows().connection;
        connection.prepare_cached("DELETE FROM learned WHERE product_id = ?1")?.execute([product.0])?;
        if let Some(Learned { judged, engine, weights }) = learned {
            let sql = "INSERT INTO learned(product_id, judged, engine, weights) VALUES (?1, ?2, ?3, ?4)";
            let judged = i64::try_from(*judged).unwrap_or(i64::MAX);
            connection.prepare_cached(sql)?.execute(params![product.0, judged, engine, weights])?;
        }
        Ok(())
    }

    /// Notes what the engine tells of excerpts, outside of the ledger. Kind and sentiment stay where a person said what it
    /// is; what is not there any more, or is to be read anew since it was read, is passed over. Gives those it was noted of.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn tell(&mut self, engine: i64, told: &[Told]) -> Result<BTreeSet<ExcerptId>> {
        let set = self.without_ledger();
        // What a person said of the same words elsewhere holds here too.
        let sql = "WITH same AS (SELECT kind FROM excerpt WHERE meaning_key = ?5 AND chosen = 1 ORDER BY id DESC LIMIT 1)
            UPDATE excerpt SET engine = ?2, sure = iif(EXISTS (SELECT 1 FROM same), 1.0, ?3), language = ?4, meaning_key = ?5, repeats_id = ?8,
            kind = CASE WHEN chosen = 1 THEN kind ELSE COALESCE((SELECT kind FROM same), ?6) END,
            sentiment = CASE WHEN chosen = 1 THEN sentiment ELSE ?7 END WHERE id = ?1 AND engine IS ?9";
        let mut noted = BTreeSet::new();
        for one in told {
            let repeats = one.repeats.map(|first| first.0);
            let Told { id, sure, language, meaning_key, kind, sentiment, stand, .. } = one;
            let values = params![id.0, engine, sure, language, meaning_key, kind, sentiment, repeats, stand];
            if self.rows().connection.prepare_cached(sql)?.execute(values)? > 0 {
                noted.insert(*id);
            }
        }
        self.with_ledger(set);
        Ok(noted)
    }

    /// Has excerpts read anew, outside of the ledger, for what the present change set said of them: those whose words are
    /// others now, and all whose words are those of an excerpt of which somebody said what it is, as that holds wherever
    /// they stand. They are marked by the set, so that what is being read just now is seen to be read too early.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn read_anew(&mut self) -> Result<()> {
        let set = self.without_ledger();
        let same = "UPDATE excerpt SET engine = -?1 WHERE chosen IS NULL AND meaning_key IN
            (SELECT e.meaning_key FROM change c JOIN excerpt e ON e.id = c.row_id
              WHERE c.set_id = ?1 AND c.kind = 'excerpt' AND c.before IS NOT NULL
                AND (c.before ->> 'chosen' IS NOT c.after ->> 'chosen' OR c.before ->> 'kind' <> c.after ->> 'kind'))";
        let others = "UPDATE excerpt SET engine = -?1, meaning_key = NULL, sure = NULL, placed = NULL WHERE id IN
            (SELECT c.row_id FROM change c WHERE c.set_id = ?1 AND c.kind = 'excerpt' AND c.before IS NOT NULL
                AND (c.before ->> 'from_char' <> c.after ->> 'from_char' OR c.before ->> 'to_char' <> c.after ->> 'to_char'))";
        // Who repeats whom: where the first is gone, where the same person said something else there than before, and
        // where it was said by somebody else.
        let gone = "UPDATE excerpt SET engine = -?1 WHERE repeats_id IN
            (SELECT c.row_id FROM change c WHERE c.set_id = ?1 AND c.kind = 'excerpt' AND c.after IS NULL)";
        let said = "UPDATE excerpt SET engine = -?1 WHERE item_id IN (SELECT id FROM feedback_item WHERE person_id IN
            (SELECT i.person_id FROM change c JOIN feedback_item i ON i.id = coalesce(c.after, c.before) ->> 'item_id'
              WHERE c.set_id = ?1 AND c.kind = 'excerpt' AND (c.before IS NULL OR c.after IS NULL
                OR c.before ->> 'from_char' <> c.after ->> 'from_char' OR c.before ->> 'to_char' <> c.after ->> 'to_char')))";
        let by = "WITH moved AS (SELECT before ->> 'person_id' AS was, after ->> 'person_id' AS is_now FROM change
              WHERE set_id = ?1 AND kind = 'feedback_item' AND before IS NOT NULL
                AND before ->> 'person_id' IS NOT after ->> 'person_id')
            UPDATE excerpt SET engine = -?1 WHERE item_id IN (SELECT id FROM feedback_item WHERE person_id IN
              (SELECT was FROM moved UNION SELECT is_now FROM moved))";
        let nobodys = "UPDATE excerpt SET engine = -?1 WHERE item_id IN
            (SELECT row_id FROM change WHERE set_id = ?1 AND kind = 'feedback_item' AND before IS NOT NULL
                AND before ->> 'person_id' IS NOT NULL AND after ->> 'person_id' IS NULL)";
        let connection = self.rows().connection;
        let run = |sql: &str| connection.prepare_cached(sql)?.execute([set]);
        let done = [same, others, gone, said, by, nobodys].into_iter().try_for_each(|sql| run(sql).map(|_| ()));
        self.with_ledger(set);
        Ok(done?)
    }

    /// Forgets the meaning of words that stand nowhere any more.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn forget_meanings(&mut self) -> Result<usize> {
        let sql = "DELETE FROM meaning WHERE key NOT IN (SELECT meaning_key FROM excerpt WHERE meaning_key IS NOT NULL)
              AND key NOT IN (SELECT meaning_key FROM passage)";
        Ok(self.rows().connection.execute(sql, [])?)
    }
}
