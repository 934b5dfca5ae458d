//! Whether a workspace is sound.

use std::collections::BTreeMap;
use std::path::Path;

use iron_kite_core::role::Role;
use iron_kite_core::things::ThingKind;
use rusqlite::Connection;
use rusqlite::backup::Backup;
use serde::Serialize;

use crate::error::{Error, Result};
use crate::functions;
use crate::open;
use crate::queries::files::{Digester, PART};
use crate::rows::Rows;
use crate::shape::{Shape, content_sql};
use crate::words;

/// What a verification found. Sound where nothing is listed.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize)]
pub struct VerifyReport {
    /// Rows in the tables that the ledger keeps.
    pub rows: i64,
    /// Changes in the ledger.
    pub changes: i64,
    /// What is wrong, in words.
    pub faults: Vec<String>,
}

/// Looks whether a workspace is sound: the database's integrity, foreign keys, the full-text indexes, the links, that every row
/// holds what its kind of thing may hold, that files are as they came, and that the ledger's last word on every row is how the
/// row stands. Nothing is written into the workspace, so that it may lie where nothing can be written. The indexes are looked
/// at in a copy, which takes as much room as the workspace among the temporary files.
///
/// # Errors
/// Where there is no workspace of ours, or one of another version.
pub fn verify(dir: &Path) -> Result<VerifyReport> {
    let path = crate::database_path(dir);
    if !path.exists() {
        return Err(Error::Refused(format!("there is no workspace in {}", dir.display())));
    }
    let connection = open::looking(&path)?;
    let mut report = VerifyReport::default();
    look(&mut report, "the database", |report| pages(&connection, report));
    look(&mut report, "the full-text index", |report| in_a_copy(&connection, report));
    look(&mut report, "the schema", |report| {
        look_through(&Rows::new(&connection, &Shape::read(&connection)?), report);
        Ok(())
    });
    Ok(report)
}

/// What does not hold together in a workspace that is just being written, as [`verify`] sees it.
pub(crate) fn found_in(rows: &Rows<'_>) -> VerifyReport {
    let mut report = VerifyReport::default();
    look_through(rows, &mut report);
    look(&mut report, "the full-text index", |report| indexes(rows.connection, report));
    report
}

fn look_through(rows: &Rows<'_>, report: &mut VerifyReport) {
    let connection = rows.connection;
    look(report, "records", |report| records(rows, report));
    look(report, "what points at what", |report| foreign_keys(connection, report));
    look(report, "what is kept side by side", |report| side_by_side(connection, report));
    look(report, "what search looks through", |report| words_of_things(connection, report));
    look(report, "files", |report| files(connection, report));
    for kind in ThingKind::ALL {
        look(report, kind.words(), |report| ledger_of(connection, rows.shape, *kind, report));
        look(report, kind.words(), |report| links_of(connection, *kind, report));
    }
    look(report, "the ledger", |report| {
        report.changes = connection.query_row("SELECT count(*) FROM change", [], |row| row.get(0))?;
        written(connection, report)
    });
}

/// What is damaged in one place is no reason to say nothing of the others.
fn look(report: &mut VerifyReport, what: &str, through: impl FnOnce(&mut VerifyReport) -> Result<()>) {
    if let Err(fault) = through(report) {
        report.faults.push(format!("{what} cannot be read: {fault}"));
    }
}

/// What is kept side by side by triggers, and the same from the rows that it follows from. Sums are of numbers that are not whole,
/// so they are rounded.
const BEHIND: (&str, &str, &str) = (
    "what stands behind findings",
    "SELECT finding_id, excerpt_id, item_id, person_id, account_id, source_id, said_on, kind, sentiment FROM behind",
    "SELECT f.finding_id, e.id, i.id, i.person_id, i.account_id, i.source_id, i.said_on, e.kind, e.sentiment
     FROM (SELECT l.to_id AS finding_id, min(e.id) AS excerpt_id FROM link l JOIN excerpt e ON e.id = l.from_id
       WHERE l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.to_kind = 'finding'
       GROUP BY l.to_id, COALESCE(e.repeats_id, e.id)) f
     JOIN excerpt e ON e.id = f.excerpt_id JOIN feedback_item i ON i.id = e.item_id",
);
const HEARD: (&str, &str, &str) = (
    "what is added up of findings",
    "SELECT finding_id, excerpts, people, accounts, against, neutral, for_it, CAST(round(negative, 6) * 1e6 AS INTEGER),
       request, defect, friction, help_needed, praise, habit, leaving FROM heard WHERE excerpts > 0",
    "SELECT finding_id, count(*), count(DISTINCT person_id), count(DISTINCT account_id), sum(sentiment <= -0.15),
       sum(abs(sentiment) < 0.15), sum(sentiment >= 0.15), CAST(round(total(max(0.0, -sentiment)), 6) * 1e6 AS INTEGER),
       sum(kind = 'request'), sum(kind = 'defect'), sum(kind = 'friction'), sum(kind = 'help_needed'), sum(kind = 'praise'), sum(kind = 'habit'), sum(kind = 'leaving') FROM behind GROUP BY 1",
);
const SAID: (&str, &str, &str) = (
    "how much was said",
    "SELECT product_id, source_id, account_id, said_on, items, excerpts, against, neutral, for_it, CAST(round(sum, 6) * 1e6 AS INTEGER)
     FROM said WHERE items > 0",
    "SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, ''), count(DISTINCT i.id), count(e.id),
       COALESCE(sum(e.sentiment <= -0.15), 0), COALESCE(sum(abs(e.sentiment) < 0.15), 0), COALESCE(sum(e.sentiment >= 0.15), 0),
       CAST(round(total(e.sentiment), 6) * 1e6 AS INTEGER)
     FROM feedback_item i LEFT JOIN excerpt e ON e.item_id = i.id GROUP BY 1, 2, 3, 4",
);

const OF_ITEMS: (&str, &str, &str) = (
    "what stands with excerpts of their items",
    "SELECT id, product_id, said_on, source_id, person_id, account_id, rating FROM excerpt",
    "SELECT e.id, i.product_id, i.said_on, i.source_id, i.person_id, i.account_id, i.rating
     FROM excerpt e JOIN feedback_item i ON i.id = e.item_id",
);

const WORK: (&str, &str, &str) = (
    "what is added up of the stories below work",
    "SELECT item_id, stories, stories_done, CAST(round(points, 6) * 1e6 AS INTEGER), CAST(round(points_done, 6) * 1e6 AS INTEGER),
       without_points FROM work_below",
    "SELECT w.id, count(s.id), COALESCE(sum(s.state = 'done'), 0), CAST(round(total(s.points), 6) * 1e6 AS INTEGER),
       CAST(round(total(iif(s.state = 'done', s.points, 0)), 6) * 1e6 AS INTEGER), COALESCE(sum(s.id IS NOT NULL AND s.points IS NULL), 0)
     FROM work_item w LEFT JOIN (SELECT l.above, i.* FROM (WITH RECURSIVE line(id, above) AS (
         SELECT id, id FROM work_item WHERE level = 'story'
         UNION SELECT line.id, p.parent_id FROM line JOIN work_item p ON p.id = line.above WHERE p.parent_id IS NOT NULL)
       SELECT id, above FROM line) l JOIN work_item i ON i.id = l.id) s ON s.above = w.id GROUP BY w.id",
);

fn pages(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    let mut statement = connection.prepare("SELECT rootpage, name FROM sqlite_schema WHERE rootpage > 0")?;
    let roots = statement.query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?;
    let roots: BTreeMap<i64, String> = roots.collect::<rusqlite::Result<_>>()?;
    let mut statement = connection.prepare("PRAGMA integrity_check(20)")?;
    let verdicts = statement.query_map([], |row| row.get(0))?.collect::<rusqlite::Result<Vec<String>>>()?;
    report
        .faults
        .extend(verdicts.into_iter().filter(|verdict| verdict != "ok").map(|verdict| located(&verdict, &roots)));
    Ok(())
}

/// What is said of a page, with the name of the table or index that it belongs to.
fn located(verdict: &str, roots: &BTreeMap<i64, String>) -> String {
    let root = verdict.split("Tree ").nth(1).and_then(|rest| rest.split_whitespace().next()?.parse().ok());
    match root.and_then(|root: i64| roots.get(&root)) {
        Some(name) => format!("{name} is damaged: {verdict}"),
        None => verdict.to_owned(),
    }
}

fn foreign_keys(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    let mut statement = connection.prepare("SELECT \"table\", rowid, parent FROM pragma_foreign_key_check LIMIT 20")?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        let (table, id, parent): (String, Option<i64>, String) = (row.get(0)?, row.get(1)?, row.get(2)?);
        report.faults.push(format!("{table} {} points at a {parent} that is not there", id.unwrap_or_default()));
    }
    Ok(())
}

fn side_by_side(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    for (name, kept, counted) in [BEHIND, HEARD, SAID, OF_ITEMS, WORK] {
        let differs: i64 = connection.query_row(
            &format!(
                "SELECT (SELECT count(*) FROM ({kept} EXCEPT {counted})) + (SELECT count(*) FROM ({counted} EXCEPT {kept}))"
            ),
            [],
            |row| row.get(0),
        )?;
        if differs > 0 {
            report.faults.push(format!("{differs} rows of {name} do not match what they follow from"));
        }
    }
    Ok(())
}

/// The full-text indexes, each with what it is an index of.
const INDEXES: [(&str, &str); 3] =
    [("feedback_words", "the items"), ("item_letters", "the letters of the items"), ("thing_words", "the things")];

/// To look at an index is a write for SQLite, so it is done in a copy: a file without a name, which is nobody else's and goes
/// when it is closed.
fn in_a_copy(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    let mut copied = Connection::open("")?;
    functions::add(&copied)?;
    Backup::new(connection, &mut copied)?.step(-1)?;
    indexes(&copied, report)
}

/// The index of things holds what they say, unless another program made it: then it is made anew when this one opens it.
fn words_of_things(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    if !words::is_by_descriptions(connection)? {
        return Ok(());
    }
    let (held, said) = ("SELECT rowid, kind, thing_id, title, body FROM thing_words", words::all_said());
    let differs: i64 = connection.query_row(
        &format!("SELECT (SELECT count(*) FROM ({held} EXCEPT SELECT * FROM ({said}))) + (SELECT count(*) FROM (SELECT * FROM ({said}) EXCEPT {held}))"),
        [],
        |row| row.get(0),
    )?;
    if differs > 0 {
        report.faults.push(format!("{differs} rows of the full-text index do not match what the things say"));
    }
    Ok(())
}

fn indexes(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    for (index, of) in INDEXES {
        let looked = format!("INSERT INTO {index}({index}, rank) VALUES ('integrity-check', 1)");
        if let Err(fault) = connection.execute(&looked, []) {
            report.faults.push(format!("the full-text index {index} does not match {of}: {fault}"));
        }
    }
    Ok(())
}

/// Files that wait or are attached are as they came: whole, and of the same bytes.
fn files(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    for table in ["attachment", "incoming"] {
        let sql = format!(
            "SELECT h.id, h.name, h.file_id, f.length, f.digest FROM {table} h LEFT JOIN file f ON f.id = h.file_id"
        );
        let mut statement = connection.prepare(&sql)?;
        let mut rows = statement.query([])?;
        while let Some(row) = rows.next()? {
            let (id, name): (i64, String) = (row.get(0)?, row.get(1)?);
            let head: (Option<i64>, Option<i64>, Option<String>) = (row.get(2)?, row.get(3)?, row.get(4)?);
            let (Some(file), Some(length)) = (head.0, head.1) else {
                report.faults.push(format!("the file “{name}” ({table} {id}) has no bytes"));
                continue;
            };
            let found = digest_of(connection, file, length)?;
            if found.is_none() || head.2.is_some_and(|digest| found != Some(digest)) {
                report.faults.push(format!("the file “{name}” ({table} {id}) is not as it came"));
            }
        }
    }
    Ok(())
}

/// The digest of a file's parts; none where they are not all of it, one after another.
fn digest_of(connection: &Connection, file: i64, length: i64) -> Result<Option<String>> {
    let mut statement =
        connection.prepare_cached("SELECT begins, bytes FROM file_part WHERE file_id = ?1 ORDER BY begins")?;
    let mut parts = statement.query([file])?;
    let mut digest = Digester::default();
    let mut end = 0_usize;
    while let Some(part) = parts.next()? {
        let bytes = part.get_ref(1)?.as_blob().map_err(rusqlite::Error::from)?;
        // All parts but the last are full: what is read by its place counts on it.
        if usize::try_from(part.get::<_, i64>(0)?) != Ok(end) || bytes.len() > PART || !end.is_multiple_of(PART) {
            return Ok(None);
        }
        digest.add(bytes);
        end += bytes.len();
    }
    Ok((usize::try_from(length) == Ok(end)).then(|| digest.end()))
}

/// Every row holds what its record may hold: a state that there is not would be no row for anybody who asks.
fn records(rows: &Rows<'_>, report: &mut VerifyReport) -> Result<()> {
    for kind in ThingKind::ALL {
        if let Some((faults, first)) = rows.strange(*kind)? {
            report.faults.push(format!("{faults} rows of {kind} hold what a {} does not: {first}", kind.words()));
        }
    }
    Ok(())
}

/// The ledger itself and the people in it can be read.
fn written(connection: &Connection, report: &mut VerifyReport) -> Result<()> {
    let kinds = serde_json::to_string(&ThingKind::ALL.iter().map(|kind| kind.name()).collect::<Vec<_>>())?;
    let strange: i64 = connection.query_row(
        "SELECT count(*) FROM change WHERE kind NOT IN (SELECT value FROM json_each(?1))
           OR json_valid(COALESCE(before, '{}')) = 0 OR json_valid(COALESCE(after, '{}')) = 0",
        [kinds],
        |row| row.get(0),
    )?;
    if strange > 0 {
        report.faults.push(format!("{strange} changes in the ledger cannot be read"));
    }
    let mut statement = connection.prepare("SELECT id, role FROM user")?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        let (id, role): (i64, String) = (row.get(0)?, row.get(1)?);
        if role.parse::<Role>().is_err() {
            report.faults.push(format!("person {id} of the team has the role “{role}”, which there is not"));
        }
    }
    Ok(())
}

fn ledger_of(connection: &Connection, shape: &Shape, kind: ThingKind, report: &mut VerifyReport) -> Result<()> {
    let rows: i64 = connection.query_row(&format!("SELECT count(*) FROM {kind}"), [], |row| row.get(0))?;
    report.rows += rows;
    let last = "(SELECT c.after FROM change c WHERE c.kind = ?1 AND c.row_id = t.id ORDER BY c.id DESC LIMIT 1)";
    let differs: i64 = connection.query_row(
        &format!(
            "SELECT count(*) FROM (SELECT {} AS present, {last} AS kept FROM {kind} t) WHERE {} IS NOT {}",
            shape.ledger_json(kind, "t."),
            content_sql(kind, "present"),
            content_sql(kind, "kept"),
        ),
        [kind.name()],
        |row| row.get(0),
    )?;
    let gone: i64 = connection.query_row(
        &format!(
            "SELECT count(*) FROM (SELECT row_id, max(id) AS id FROM change WHERE kind = ?1 GROUP BY row_id) l
             JOIN change c ON c.id = l.id WHERE c.after IS NOT NULL
             AND NOT EXISTS (SELECT 1 FROM {kind} t WHERE t.id = l.row_id)"
        ),
        [kind.name()],
        |row| row.get(0),
    )?;
    if differs > 0 {
        report.faults.push(format!("{differs} rows of {kind} stand otherwise than the ledger says"));
    }
    if gone > 0 {
        report.faults.push(format!("{gone} rows of {kind} are gone without the ledger saying so"));
    }
    Ok(())
}

fn links_of(connection: &Connection, kind: ThingKind, report: &mut VerifyReport) -> Result<()> {
    let loose: i64 = connection.query_row(
        &format!(
            "SELECT count(*) FROM link l WHERE (l.from_kind = ?1 AND NOT EXISTS (SELECT 1 FROM {kind} t WHERE t.id = l.from_id))
             OR (l.to_kind = ?1 AND NOT EXISTS (SELECT 1 FROM {kind} t WHERE t.id = l.to_id))"
        ),
        [kind.name()],
        |row| row.get(0),
    )?;
    if loose > 0 {
        report.faults.push(format!("{loose} links lead to a {} that is not there", kind.words()));
    }
    let loose: i64 = connection.query_row(
        &format!(
            "SELECT count(*) FROM comment m WHERE m.on_kind = ?1 AND NOT EXISTS (SELECT 1 FROM {kind} t WHERE t.id = m.on_id)"
        ),
        [kind.name()],
        |row| row.get(0),
    )?;
    if loose > 0 {
        report.faults.push(format!("{loose} comments are on a {} that is not there", kind.words()));
    }
    Ok(())
}
