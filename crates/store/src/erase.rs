//! Erasing a person: all that they said, and every trace of name, address and words, from the rows, from the ledger, and
//! from the file itself. It cannot be taken back; only that it happened is kept.
//!
//! Names are covered where people's words stand, by the descriptions of the kinds (`core/listen/erasing.rs`): as whole words, and
//! never in what the program itself says by words. A name that may be any word is covered only where the person is meant; the
//! other places are listed beforehand, for somebody to decide.

use std::collections::BTreeSet;
use std::sync::Arc;

use iron_kite_core::kind::Prose;
use iron_kite_core::listen::{Said, holds, is_telling};
use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::functions::FunctionFlags;
use rusqlite::{Connection, OptionalExtension, params};
use serde::Serialize;

use crate::error::{Error, Result};
use crate::ledger::ChangeSetId;
use crate::queries::notices::NO_NOTICE;
use crate::rows::Rows;
use crate::words;
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
    /// Other places where the name, the address or words of theirs stood; they are covered there.
    pub mentions: i64,
}

/// A place where a name stands that may be any word.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct NamePlace {
    /// The thing.
    pub thing: Thing,
    /// Its column.
    pub column: String,
}

/// What an erasure would meet.
#[derive(Debug, Clone, Default)]
pub struct Erasing {
    /// Names and addresses of the person, now and before, that are covered wherever they stand.
    pub telling: Vec<String>,
    /// Those that may be any word, and so are covered only where somebody says so.
    pub any: Vec<String>,
    /// Where such a one stands, and what stands there; some of them.
    pub places: Vec<(NamePlace, String)>,
    /// How many more there are.
    pub more: usize,
    /// What they said.
    pub said: Vec<String>,
}

/// In more other places than this, a name is a word that people use.
const MOST_OF_NAME: usize = 25;
/// So many places are listed.
const MOST_PLACES: usize = 200;

/// Where people's words stand beside things: what the program wrote of them.
const BESIDE: [(&str, Prose); 9] = [
    ("change_set", Prose::Text("label")),
    ("notice", Prose::Text("words")),
    ("message", Prose::Text("subject")),
    ("message", Prose::Text("body")),
    ("job", Prose::Text("label")),
    ("job", Prose::Told("report")),
    ("rule_run", Prose::Text("words")),
    ("finding_told", Prose::Values("phrases")),
    ("idea_told", Prose::Values("reasons")),
];

/// What somebody said: whole items and their excerpts.
const THEIRS: &str = "SELECT i.text FROM feedback_item i WHERE i.person_id = ?1
    UNION SELECT substr(i.text, e.from_char + 1, e.to_char - e.from_char) FROM excerpt e JOIN feedback_item i ON i.id = e.item_id
    WHERE i.person_id = ?1";

impl Rows<'_> {
    /// What erasing a person would meet. Linear in all that people wrote.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is no such person.
    pub fn erasing(&self, person: i64) -> Result<Erasing> {
        let mut erasing = Erasing::default();
        for name in names_of(self.connection, person)? {
            let places =
                if is_telling(&name) { self.places_of(person, &name, MOST_OF_NAME + 1)?.0.len() } else { usize::MAX };
            if places <= MOST_OF_NAME { erasing.telling.push(name) } else { erasing.any.push(name) }
        }
        for name in &erasing.any {
            let (places, more) = self.places_of(person, name, MOST_PLACES)?;
            erasing.places.extend(places);
            erasing.more += more;
        }
        let mut statement = self.connection.prepare(THEIRS)?;
        erasing.said = statement.query_map([person], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?;
        Ok(erasing)
    }

    /// Where a name stands but in what is erased anyway: so many places, and how many more.
    fn places_of(&self, person: i64, name: &str, most: usize) -> Result<(Vec<(NamePlace, String)>, usize)> {
        let (mut places, mut more) = (Vec::new(), 0);
        let all = ThingKind::ALL.iter().flat_map(|kind| kind.description().prose.iter().map(move |one| (*kind, *one)));
        for (kind, one) in all.filter(|(_, one)| one.is_of_people()) {
            let column = one.column();
            let theirs = match kind {
                ThingKind::FeedbackItem => "AND coalesce(person_id, 0) <> ?2",
                ThingKind::Excerpt => "AND item_id NOT IN (SELECT id FROM feedback_item WHERE person_id = ?2)",
                ThingKind::Person => "AND id <> ?2",
                _ => "AND ?2 > 0",
            };
            let sql = format!("SELECT id, {column} FROM {kind} WHERE kite_holds({column}, ?1) {theirs}");
            let mut statement = self.connection.prepare(&sql)?;
            let mut rows = statement.query(params![name, person])?;
            while let Some(row) = rows.next()? {
                let (id, held): (i64, String) = (row.get(0)?, row.get(1)?);
                // Where only the name of a field is such a word, nothing is.
                if one.covered(&held, name) == held {
                    continue;
                }
                if places.len() < most {
                    places
                        .push((NamePlace { thing: Thing::new(kind, id), column: column.into() }, around(&held, name)));
                } else {
                    more += 1;
                }
            }
        }
        Ok((places, more))
    }
}

/// A name with what stands around it.
fn around(held: &str, name: &str) -> String {
    const NEAR: usize = 40;
    let letters: Vec<char> = held.chars().collect();
    let lower = held.to_lowercase();
    let at = lower.find(&name.to_lowercase()).map_or(0, |at| lower[..at].chars().count());
    let (from, to) = (at.saturating_sub(NEAR), (at + name.chars().count() + NEAR).min(letters.len()));
    letters.get(from..to).unwrap_or_default().iter().collect()
}

/// The names and addresses of a person, now and in the history, also of people who became this one.
fn names_of(connection: &Connection, person: i64) -> Result<BTreeSet<String>> {
    let named = connection.query_row("SELECT name, address FROM person WHERE id = ?1", [person], |row| {
        Ok((row.get::<_, String>(0)?, row.get::<_, Option<String>>(1)?))
    });
    let (name, address) = named.optional()?.ok_or_else(|| Error::NotFound(format!("person {person}")))?;
    let mut names: BTreeSet<String> = [Some(name), address].into_iter().flatten().collect();
    let mut former = connection.prepare(&format!(
        "SELECT v.value FROM change c, json_each(json_array(c.before ->> 'name', c.before ->> 'address', c.after ->> 'name', c.after ->> 'address')) v
         WHERE c.kind = 'person' AND v.value IS NOT NULL AND c.row_id IN ({MERGED})"
    ))?;
    let former = former.query_map([person], |row| row.get::<_, String>(0))?;
    names.extend(former.collect::<rusqlite::Result<Vec<_>>>()?);
    names.retain(|name| !name.trim().is_empty());
    Ok(names)
}

/// A person and whom they were before they were merged; those people are there no more.
const MERGED: &str = "SELECT ?1 AS id UNION SELECT DISTINCT json_extract(c.before, '$.person_id') FROM change c
    JOIN feedback_item i ON i.id = c.row_id AND i.person_id = ?1
    WHERE c.kind = 'feedback_item' AND json_extract(c.before, '$.person_id') NOT IN (SELECT id FROM person)";

impl Tx<'_> {
    /// Erases a person from all rows and from the ledger; names that may be any word in these places, too. The file is cleaned
    /// afterwards by [`crate::Store::erase`], or at the next start.
    pub(crate) fn erase(&mut self, person: i64, also: &[NamePlace]) -> Result<(Erased, ChangeSetId)> {
        let erasing = self.rows().erasing(person)?;
        let set = self.without_ledger();
        let connection = self.rows().connection;
        mark(connection, person)?;
        let count = |sql: &str| connection.query_row(sql, [], |row| row.get::<_, i64>(0));
        let mut erased = Erased {
            items: count("SELECT count(*) FROM temp.gone WHERE kind = 'feedback_item'")?,
            excerpts: count("SELECT count(*) FROM temp.gone WHERE kind = 'excerpt'")?,
            ..Erased::default()
        };
        // What was done to what goes may be told by any of their names.
        for name in erasing.telling.iter().chain(&erasing.any) {
            connection.execute(
                "UPDATE change_set SET label = kite_cover(label, ?1) WHERE kite_holds(label, ?1) AND id IN
                   (SELECT c.set_id FROM change c JOIN temp.gone g ON g.kind = c.kind AND g.id = c.row_id)",
                [name],
            )?;
        }
        forget_reports(connection)?;
        erased.changes = remove_marked(connection)?;
        self.forget_meanings()?;
        erased.mentions += without_copies(connection, Said::new(erasing.said.iter().map(String::as_str)))?;
        for name in &erasing.telling {
            erased.mentions += cover_name(connection, name)?;
        }
        for place in also {
            for name in &erasing.any {
                erased.mentions += cover_place(connection, place, name)?;
            }
        }
        self.forget_meanings()?;
        // Marks of what was taken out of an index stay in it until it is made anew.
        words::fill(connection)?;
        connection.execute_batch(
            "INSERT INTO feedback_words(feedback_words) VALUES ('rebuild');
             INSERT INTO item_letters(item_letters) VALUES ('rebuild');
             INSERT INTO unfinished(what, told) SELECT 'letters', json_group_array(l.id) FROM temp.letters l
               LEFT JOIN message m ON m.id = l.id WHERE m.id IS NULL OR m.subject <> l.subject OR m.body <> l.body;
             INSERT INTO unfinished(what) VALUES ('clean');
             DROP TABLE temp.letters;
             DELETE FROM temp.gone;",
        )?;
        connection.execute("UPDATE change_set SET label = ?2 WHERE id = ?1", params![set, "erased a person"])?;
        Ok((erased, set))
    }

    /// Numbers of messages whose files are to be removed, as they held something of somebody who was erased.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn letters_forgotten(&mut self) -> Result<()> {
        self.rows().connection.execute("DELETE FROM unfinished WHERE what = 'letters'", [])?;
        Ok(())
    }
}

impl Rows<'_> {
    /// Numbers of messages whose files are to be removed, as they held something of somebody who was erased.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn letters_to_forget(&self) -> Result<Vec<i64>> {
        let sql = "SELECT v.value FROM unfinished u, json_each(u.told) v WHERE u.what = 'letters'";
        let mut statement = self.connection.prepare_cached(sql)?;
        let ids = statement.query_map([], |row| row.get(0))?;
        Ok(ids.collect::<rusqlite::Result<_>>()?)
    }
}

/// Marks all that goes with a person: what they said, what was said of it and links to it.
fn mark(connection: &Connection, person: i64) -> Result<()> {
    connection.execute_batch(
        "CREATE TEMP TABLE IF NOT EXISTS gone(kind TEXT NOT NULL, id INTEGER NOT NULL, PRIMARY KEY (kind, id));
         DELETE FROM temp.gone;
         CREATE TEMP TABLE letters AS SELECT id, subject, body FROM message;",
    )?;
    connection.execute(&format!("INSERT OR IGNORE INTO temp.gone SELECT 'person', id FROM ({MERGED})"), [person])?;
    for sql in [
        "INSERT INTO temp.gone SELECT 'feedback_item', id FROM feedback_item WHERE person_id = ?1",
        "INSERT INTO temp.gone SELECT 'excerpt', e.id FROM excerpt e JOIN feedback_item i ON i.id = e.item_id WHERE i.person_id = ?1",
        "INSERT INTO temp.gone SELECT 'checking', c.id FROM checking c JOIN temp.gone g ON g.kind = 'excerpt' AND g.id = c.excerpt_id
         WHERE ?1 > 0",
        "INSERT INTO temp.gone SELECT 'request', q.id FROM request q JOIN temp.gone g ON g.kind = 'feedback_item' AND g.id = q.item_id
         WHERE ?1 > 0",
        // What was said of their words quotes them.
        "INSERT OR IGNORE INTO temp.gone SELECT 'comment', m.id FROM comment m JOIN temp.gone g
          ON g.kind = m.on_kind AND g.id = m.on_id WHERE ?1 > 0",
        "INSERT INTO temp.gone SELECT 'link', l.id FROM link l WHERE ?1 > 0 AND EXISTS (SELECT 1 FROM temp.gone g
          WHERE (g.kind = l.from_kind AND g.id = l.from_id) OR (g.kind = l.to_kind AND g.id = l.to_id))",
    ] {
        connection.execute(sql, [person])?;
    }
    Ok(())
}

/// Reports of jobs may show the beginning of a text, and runs of the grouping are called by what people said.
fn forget_reports(connection: &Connection) -> Result<()> {
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

/// Removes what is marked, with its history; gives how many entries of the history that were.
fn remove_marked(connection: &Connection) -> Result<i64> {
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
    let changes = connection.execute(
        "DELETE FROM change WHERE EXISTS (SELECT 1 FROM temp.gone g WHERE g.kind = change.kind AND g.id = change.row_id)",
        [],
    )?;
    // Whether an address is theirs was asked by letter.
    connection.execute(
        "DELETE FROM message WHERE notice_id = ?1 AND to_address COLLATE NOCASE IN
           (SELECT p.address FROM person p JOIN temp.gone g ON g.kind = 'person' AND g.id = p.id WHERE p.address IS NOT NULL
            UNION SELECT q.sender_address FROM request q JOIN temp.gone g ON g.kind = 'request' AND g.id = q.id
            WHERE q.sender_address IS NOT NULL)",
        [NO_NOTICE],
    )?;
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
    Ok(i64::try_from(changes).unwrap_or(i64::MAX))
}

/// All that people wrote, table by table; of things, how the ledger names their rows.
fn all_prose() -> impl Iterator<Item = (String, Option<ThingKind>, Prose)> {
    let things = ThingKind::ALL
        .iter()
        .flat_map(|kind| kind.description().prose.iter().map(|one| (kind.name().to_owned(), Some(*kind), *one)));
    things.chain(BESIDE.iter().map(|(table, one)| ((*table).to_owned(), None, *one)))
}

/// Covers a name wherever it tells who is meant.
fn cover_name(connection: &Connection, name: &str) -> Result<i64> {
    // What their words mean with the name covered is told anew.
    connection.execute(
        "UPDATE excerpt SET engine = 0, meaning_key = NULL
         WHERE item_id IN (SELECT id FROM feedback_item WHERE kite_holds(text, ?1))",
        [name],
    )?;
    let mut covered = 0;
    for (table, kind, one) in all_prose() {
        let (column, way) = (one.column(), way(one));
        let sql = format!("UPDATE {table} SET {column} = kite_cover{way}({column}, ?1) WHERE kite_holds({column}, ?1)");
        covered += connection.execute(&sql, [name])?;
        if let Some(kind) = kind {
            covered += in_ledger(
                connection,
                kind,
                column,
                &format!("kite_cover{way}(#, ?1)"),
                "kite_holds(#, ?1)",
                None,
                name,
            )?;
        }
    }
    Ok(i64::try_from(covered).unwrap_or(i64::MAX))
}

fn way(one: Prose) -> &'static str {
    match one {
        Prose::Text(_) => "",
        Prose::Values(_) | Prose::Told(_) => "_values",
    }
}

/// Changes a column in what the ledger keeps of a kind, or of one thing of it. `#` stands for what was held there.
fn in_ledger(
    connection: &Connection,
    kind: ThingKind,
    column: &str,
    change: &str,
    only: &str,
    row: Option<i64>,
    words: &str,
) -> Result<usize> {
    let mut changed = 0;
    for side in ["before", "after"] {
        let held = format!("{side} ->> '{column}'");
        let (change, only) = (change.replace('#', &held), only.replace('#', &held));
        let which = row.map_or_else(String::new, |row| format!("AND row_id = {row}"));
        let sql = format!(
            "UPDATE change SET {side} = json_set({side}, '$.{column}', {change})
             WHERE kind = '{kind}' {which} AND {held} IS NOT NULL AND {only} AND ?1 IS NOT NULL"
        );
        changed += connection.execute(&sql, [words])?;
    }
    Ok(changed)
}

/// Covers a name in one place, now and in its history.
fn cover_place(connection: &Connection, place: &NamePlace, name: &str) -> Result<i64> {
    let (kind, id) = (place.thing.kind, place.thing.id);
    let Some(one) = kind.description().prose.iter().find(|one| one.column() == place.column && one.is_of_people())
    else {
        return Err(Error::Refused(format!("a {} has no words in {}", kind.words(), place.column)));
    };
    let (column, way) = (one.column(), way(*one));
    let sql = format!(
        "UPDATE {kind} SET {column} = kite_cover{way}({column}, ?1) WHERE id = ?2 AND kite_holds({column}, ?1)"
    );
    let mut covered = connection.execute(&sql, params![name, id])?;
    covered +=
        in_ledger(connection, kind, column, &format!("kite_cover{way}(#, ?1)"), "kite_holds(#, ?1)", Some(id), name)?;
    if kind == ThingKind::FeedbackItem {
        connection.execute("UPDATE excerpt SET engine = 0, meaning_key = NULL WHERE item_id = ?1", [id])?;
    }
    Ok(i64::try_from(covered).unwrap_or(i64::MAX))
}

/// Covers what was copied of their words: titles, quotes, what decisions rested on, notices, messages. Others who said the same
/// keep it.
fn without_copies(connection: &Connection, said: Said) -> Result<i64> {
    let said = Arc::new(said);
    let flags = FunctionFlags::SQLITE_UTF8 | FunctionFlags::SQLITE_DETERMINISTIC;
    for (name, one) in [("kite_uncopied", Prose::Text("")), ("kite_uncopied_values", Prose::Values(""))] {
        let said = Arc::clone(&said);
        connection.create_scalar_function(name, 1, flags, move |context| {
            let held: Option<String> = context.get(0)?;
            let changed = held.as_deref().map(|held| one.without_copies(held, &said));
            // Nothing where nothing changed.
            Ok(changed.filter(|changed| Some(changed) != held.as_ref()))
        })?;
    }
    let mut covered = 0;
    for (table, kind, one) in all_prose().filter(|(_, kind, _)| kind.is_none_or(|kind| !kind.description().is_said)) {
        let (column, way) = (one.column(), way(one));
        let sql = format!(
            "UPDATE {table} SET {column} = kite_uncopied{way}({column}) WHERE kite_uncopied{way}({column}) IS NOT NULL"
        );
        covered += connection.execute(&sql, [])?;
        if let Some(kind) = kind {
            let (change, only) = (format!("kite_uncopied{way}(#)"), format!("kite_uncopied{way}(#) IS NOT NULL"));
            covered += in_ledger(connection, kind, column, &change, &only, None, "")?;
        }
    }
    for name in ["kite_uncopied", "kite_uncopied_values"] {
        connection.remove_function(name, 1)?;
    }
    Ok(i64::try_from(covered).unwrap_or(i64::MAX))
}

/// Whether a text holds a name or a copy of what somebody said: for files that are attached.
#[must_use]
pub fn holds_any(text: &str, erasing: &Erasing, said: &Said) -> bool {
    erasing.telling.iter().any(|name| holds(text, name)) || said.covered(text).is_some()
}
