//! Erasing a person: all that they said, and every trace of name, address and words, from the rows, from the ledger, and
//! from the file itself. It cannot be taken back; only that it happened is kept.

use std::collections::BTreeSet;

use iron_kite_core::formats::blocks::line;
use iron_kite_core::listen::plain;
use rusqlite::{OptionalExtension, params};
use serde::Serialize;

use crate::error::{Error, Result};
use crate::ledger::ChangeSetId;
use crate::writer::Tx;

/// What an erasure touched.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize)]
pub struct Erased {
    /// Feedback items that are gone.
    pub items: i64,
    /// Their excerpts.
    pub excerpts: i64,
    /// Changes in the ledger that held any of it.
    pub changes: i64,
    /// Other places where the name or the address stood; it is covered there.
    pub mentions: i64,
}

/// Fewer letters are no quote that could be somebody's.
const LEAST_QUOTE: usize = 12;

/// Words as they stand within the JSON of the ledger.
fn within_json(words: &str) -> String {
    let quoted = serde_json::Value::from(words).to_string();
    quoted[1..quoted.len() - 1].to_owned()
}

/// Tables whose words are not those of people outside.
const SPARED: [&str; 3] = ["user", "session", "change_set"];

impl Tx<'_> {
    /// Erases a person from all rows and from the ledger. The file is cleaned afterwards by [`crate::Store::erase`].
    pub(crate) fn erase(&mut self, person: i64) -> Result<(Erased, ChangeSetId)> {
        let set = self.without_ledger();
        let connection = self.rows().connection;
        let named = connection.query_row("SELECT name, address FROM person WHERE id = ?1", [person], |row| {
            Ok((row.get::<_, String>(0)?, row.get::<_, Option<String>>(1)?))
        });
        let (name, address) = named.optional()?.ok_or_else(|| Error::NotFound(format!("person {person}")))?;
        let mut needles: BTreeSet<String> = [Some(name), address].into_iter().flatten().collect();
        connection.execute_batch(
            "CREATE TEMP TABLE IF NOT EXISTS gone(kind TEXT NOT NULL, id INTEGER NOT NULL, PRIMARY KEY (kind, id));
             DELETE FROM temp.gone;",
        )?;
        let mark = |sql: &str| connection.execute(sql, [person]);
        mark("INSERT INTO temp.gone SELECT 'person', ?1")?;
        mark("INSERT INTO temp.gone SELECT 'feedback_item', id FROM feedback_item WHERE person_id = ?1")?;
        mark(
            "INSERT INTO temp.gone SELECT 'excerpt', e.id FROM excerpt e JOIN feedback_item i ON i.id = e.item_id WHERE i.person_id = ?1",
        )?;
        mark(
            "INSERT INTO temp.gone SELECT 'checking', c.id FROM checking c JOIN temp.gone g ON g.kind = 'excerpt' AND g.id = c.excerpt_id
             WHERE ?1 > 0",
        )?;
        mark(
            "INSERT INTO temp.gone SELECT 'request', q.id FROM request q JOIN temp.gone g ON g.kind = 'feedback_item' AND g.id = q.item_id
             WHERE ?1 > 0",
        )?;
        // What was said of their words quotes them.
        mark(
            "INSERT OR IGNORE INTO temp.gone SELECT 'comment', m.id FROM comment m JOIN temp.gone g
              ON g.kind = m.on_kind AND g.id = m.on_id WHERE ?1 > 0",
        )?;
        // Whom they were before they were merged; those people are there no more.
        mark(
            "INSERT OR IGNORE INTO temp.gone
              SELECT DISTINCT 'person', json_extract(c.before, '$.person_id') FROM change c JOIN temp.gone g
              ON g.kind = c.kind AND g.id = c.row_id WHERE c.kind = 'feedback_item' AND ?1 > 0
              AND json_extract(c.before, '$.person_id') NOT IN (SELECT id FROM person)",
        )?;
        mark(
            "INSERT INTO temp.gone SELECT 'link', l.id FROM link l WHERE ?1 > 0 AND EXISTS (SELECT 1 FROM temp.gone g
              WHERE (g.kind = l.from_kind AND g.id = l.from_id) OR (g.kind = l.to_kind AND g.id = l.to_id))",
        )?;
        let mut former = connection.prepare(
            "SELECT json_extract(COALESCE(c.before, c.after), '$.name'), json_extract(COALESCE(c.before, c.after), '$.address')
             FROM change c JOIN temp.gone g ON g.kind = c.kind AND g.id = c.row_id WHERE c.kind = 'person'",
        )?;
        let mut rows = former.query([])?;
        while let Some(row) = rows.next()? {
            needles.extend(row.get::<_, Option<String>>(0)?);
            needles.extend(row.get::<_, Option<String>>(1)?);
        }
        needles.extend(self.titles_from_them()?);
        let quoted = self.quoted_words()?;
        let count = |sql: &str| connection.query_row(sql, [], |row| row.get::<_, i64>(0));
        let mut erased = Erased {
            items: count("SELECT count(*) FROM temp.gone WHERE kind = 'feedback_item'")?,
            excerpts: count("SELECT count(*) FROM temp.gone WHERE kind = 'excerpt'")?,
            ..Erased::default()
        };
        self.forget_words()?;
        // What is beside their words now or was so once; another conversation may have the same.
        connection.execute_batch(
            "CREATE TEMP TABLE IF NOT EXISTS heard_them(id INTEGER PRIMARY KEY);
             DELETE FROM temp.heard_them;
             INSERT OR IGNORE INTO temp.heard_them SELECT i.recording FROM feedback_item i
               JOIN temp.gone g ON g.kind = 'feedback_item' AND g.id = i.id WHERE i.recording IS NOT NULL;
             INSERT OR IGNORE INTO temp.heard_them SELECT v.value FROM change c
               JOIN temp.gone g ON g.kind = 'feedback_item' AND c.kind = g.kind AND c.row_id = g.id,
               json_each(json_array(c.before ->> 'recording', c.after ->> 'recording')) v WHERE v.value IS NOT NULL;",
        )?;
        erased.changes = i64::try_from(connection.execute(
            "DELETE FROM change WHERE EXISTS (SELECT 1 FROM temp.gone g WHERE g.kind = change.kind AND g.id = change.row_id)",
            [],
        )?)
        .unwrap_or(i64::MAX);
        connection.execute_batch(
            "DELETE FROM link WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'link');
             DELETE FROM message WHERE notice_id IN (SELECT n.id FROM notice n JOIN temp.gone g ON g.kind = n.kind AND g.id = n.row_id);
             DELETE FROM notice WHERE EXISTS (SELECT 1 FROM temp.gone g WHERE g.kind = notice.kind AND g.id = notice.row_id);
             DELETE FROM follow WHERE EXISTS (SELECT 1 FROM temp.gone g WHERE g.kind = follow.kind AND g.id = follow.row_id);
             DELETE FROM rule_run WHERE EXISTS (SELECT 1 FROM temp.gone g WHERE g.kind = rule_run.kind AND g.id = rule_run.row_id);
             DELETE FROM comment WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'comment') AND reply_to IS NOT NULL;
             DELETE FROM comment WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'comment');
             DELETE FROM checking WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'checking');
             DELETE FROM excerpt WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'excerpt');
             DELETE FROM request WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'request');
             DELETE FROM feedback_item WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'feedback_item');
             DELETE FROM attachment WHERE id IN (SELECT id FROM temp.heard_them)
               AND id NOT IN (SELECT recording FROM feedback_item WHERE recording IS NOT NULL);
             DROP TABLE temp.heard_them;
             DELETE FROM person WHERE id IN (SELECT id FROM temp.gone WHERE kind = 'person');
             DELETE FROM learned;
             DELETE FROM passage;
             DELETE FROM understood;
             DELETE FROM incoming;",
        )?;
        self.forget_meanings()?;
        for words in &quoted {
            self.cover_quotes(words)?;
        }
        for needle in needles.iter().filter(|needle| !needle.trim().is_empty()) {
            // What their words mean with the name covered is told anew.
            connection.execute(
                "UPDATE excerpt SET engine = 0, meaning_key = NULL
                 WHERE item_id IN (SELECT id FROM feedback_item WHERE kite_cover(text, ?1) <> text)",
                [needle],
            )?;
            erased.mentions += self.cover_everywhere(needle)?;
        }
        self.forget_meanings()?;
        // Marks of what was taken out of an index stay in it until it is made anew.
        connection.execute_batch(
            "INSERT INTO feedback_words(feedback_words) VALUES ('rebuild');
             INSERT INTO thing_words(thing_words) VALUES ('rebuild');
             DELETE FROM temp.gone;",
        )?;
        connection.execute("UPDATE change_set SET label = ?2 WHERE id = ?1", params![set, "erased a person"])?;
        Ok((erased, set))
    }

    /// The titles of findings, now or before, that are sentences of what they said.
    fn titles_from_them(&self) -> Result<BTreeSet<String>> {
        let connection = self.rows().connection;
        let mut said = connection.prepare(
            "SELECT substr(i.text, e.from_char + 1, e.to_char - e.from_char) FROM temp.gone g
             JOIN excerpt e ON e.id = g.id JOIN feedback_item i ON i.id = e.item_id WHERE g.kind = 'excerpt'",
        )?;
        let plain: BTreeSet<String> =
            said.query_map([], |row| Ok(plain(&row.get::<_, String>(0)?)))?.collect::<rusqlite::Result<_>>()?;
        let mut titles = connection.prepare(
            "SELECT title FROM finding UNION SELECT json_extract(COALESCE(after, before), '$.title') FROM change
             WHERE kind = 'finding' AND json_extract(COALESCE(after, before), '$.title') IS NOT NULL",
        )?;
        let titles: BTreeSet<String> = titles.query_map([], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?;
        Ok(plain.intersection(&titles).cloned().collect())
    }

    /// What they said, as it was said and as a page is written, where a document, a page or a comment holds it or held it once.
    fn quoted_words(&self) -> Result<BTreeSet<String>> {
        let connection = self.rows().connection;
        let mut said = connection.prepare(
            "SELECT substr(i.text, e.from_char + 1, e.to_char - e.from_char) FROM temp.gone g
             JOIN excerpt e ON e.id = g.id JOIN feedback_item i ON i.id = e.item_id WHERE g.kind = 'excerpt'",
        )?;
        let said: Vec<String> = said.query_map([], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?;
        let mut holds = connection.prepare(
            "SELECT EXISTS (SELECT 1 FROM document WHERE instr(body, ?1)) OR EXISTS (SELECT 1 FROM page WHERE instr(body, ?1))
              OR EXISTS (SELECT 1 FROM comment WHERE instr(body, ?1) OR instr(words, ?1))
              OR EXISTS (SELECT 1 FROM change WHERE kind IN ('document', 'page', 'comment') AND (instr(before, ?2) OR instr(after, ?2)))",
        )?;
        let mut quoted = BTreeSet::new();
        for words in said.iter().flat_map(|words| [words.trim().to_owned(), line(words)]) {
            // A word or two may be anybody's.
            if words.chars().count() >= LEAST_QUOTE
                && holds.query_row([&words, &within_json(&words)], |row| row.get(0))?
            {
                quoted.insert(words);
            }
        }
        Ok(quoted)
    }

    /// Covers what somebody said in documents, on pages and in comments, and in what they were before. Others who said the same keep it.
    fn cover_quotes(&self, words: &str) -> Result<()> {
        let connection = self.rows().connection;
        const PLACES: [(&str, &str); 10] = [
            ("document", "body"),
            ("page", "body"),
            ("comment", "body"),
            ("comment", "words"),
            ("comment", "words_before"),
            ("comment", "words_after"),
            ("comment", "near_before"),
            ("comment", "near_after"),
            ("notice", "words"),
            ("message", "body"),
        ];
        for (table, column) in PLACES {
            let sql = format!("UPDATE {table} SET {column} = kite_cover({column}, ?1) WHERE instr({column}, ?1)");
            connection.execute(&sql, [words])?;
        }
        connection.execute(
            "UPDATE change SET before = kite_cover(before, ?1), after = kite_cover(after, ?1)
              WHERE kind IN ('document', 'page', 'comment') AND (instr(before, ?1) OR instr(after, ?1))",
            [within_json(words)],
        )?;
        Ok(())
    }

    /// Reports of jobs may show the beginning of a text, and runs of the grouping are called by what people said.
    fn forget_words(&self) -> Result<()> {
        let connection = self.rows().connection;
        connection.execute(
            "UPDATE job SET report = NULL WHERE work ->> 'kind' = 'group'
               AND EXISTS (SELECT 1 FROM temp.gone WHERE kind = 'excerpt')",
            [],
        )?;
        connection.execute(
            "UPDATE job SET report = NULL WHERE EXISTS (SELECT 1 FROM feedback_item i JOIN temp.gone g
               ON g.kind = 'feedback_item' AND g.id = i.id
             WHERE instr(job.report, substr(json_quote(substr(i.text, 1, 40)), 2, length(json_quote(substr(i.text, 1, 40))) - 2)) > 0)",
            [],
        )?;
        Ok(())
    }

    /// Covers a name or an address wherever it stands.
    fn cover_everywhere(&self, needle: &str) -> Result<i64> {
        let connection = self.rows().connection;
        let mut columns = connection.prepare(
            "SELECT t.name, c.name FROM sqlite_schema t JOIN pragma_table_info(t.name) c
             WHERE t.type = 'table' AND t.sql NOT LIKE 'CREATE VIRTUAL%' AND t.name NOT LIKE 'sqlite_%'
               AND t.name NOT LIKE '%\\_words\\_%' ESCAPE '\\' AND c.type = 'TEXT' ORDER BY t.name, c.cid",
        )?;
        let columns: Vec<(String, String)> =
            columns.query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?.collect::<rusqlite::Result<_>>()?;
        let mut mentions = 0;
        for (table, column) in columns.into_iter().filter(|(table, _)| !SPARED.contains(&table.as_str())) {
            let sql = format!(
                "UPDATE {table} SET {column} = kite_cover({column}, ?1) WHERE {column} IS NOT NULL AND kite_cover({column}, ?1) <> {column}"
            );
            mentions += i64::try_from(connection.execute(&sql, [needle])?).unwrap_or(i64::MAX);
        }
        // What was done is told in words that may name somebody.
        let told = "UPDATE change_set SET label = kite_cover(label, ?1) WHERE kite_cover(label, ?1) <> label";
        mentions += i64::try_from(connection.execute(told, [needle])?).unwrap_or(i64::MAX);
        Ok(mentions)
    }
}
