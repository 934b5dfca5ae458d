//! Objectives and what was measured of them, what serves them, and what stands behind ideas.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Behind, Estimate, Graded, Point, Request, RequestForm, Shown, Way, way_of};
use iron_kite_core::plan::Counted;
use iron_kite_core::specify::Work;
use iron_kite_core::things::{
    CompetitorId, FoundPageId, IdeaId, IncrementId, ItemId, Level, ObjectiveId, ProductId, ReleaseId, RequestId, Thing,
    ThingKind, WorkItemId,
};
use jiff::civil::Date;
use rusqlite::{OptionalExtension, Row, params};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// A value that was measured of an objective, and where it comes from.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredValue {
    /// The objective.
    pub objective: ObjectiveId,
    /// The day and the value.
    pub point: Point,
    /// What else is to be known.
    pub note: Option<String>,
    /// The measurement, where somebody noted it, with its revision.
    pub measurement: Option<(i64, i64)>,
    /// The result, where it follows from one.
    pub result: Option<i64>,
}

/// Something that serves an objective.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Serves {
    /// The objective.
    pub objective: ObjectiveId,
    /// What serves it: an idea, an initiative or a release.
    pub thing: Thing,
    /// How much of the way it is to bring, 0 – 1.
    pub part: Option<f64>,
}

/// Which idea became which work.
pub type Became = Vec<(IdeaId, WorkItemId)>;
/// Which increment is a step of which idea.
pub type Split = Vec<(IdeaId, IncrementId)>;

const MEASURED: &str = "SELECT m.objective_id, m.taken_on, m.value, m.note, m.measurement_id, r.rev, m.result_id
    FROM measured m JOIN objective o ON o.id = m.objective_id LEFT JOIN measurement r ON r.id = m.measurement_id";

/// How well an idea is supported, as one JSON object.
const TOLD: &str = "json_object('grade', t.grade, 'confidence', t.confidence, 'reasons', json(t.reasons))";

fn measured_value(row: &Row<'_>) -> rusqlite::Result<MeasuredValue> {
    let measurement: Option<i64> = row.get(4)?;
    let rev: Option<i64> = row.get(5)?;
    Ok(MeasuredValue {
        objective: ObjectiveId(row.get(0)?),
        point: Point { on: day(row, 1)?.unwrap_or(Date::ZERO), value: row.get(2)? },
        note: row.get(3)?,
        measurement: measurement.zip(rev),
        result: row.get(6)?,
    })
}

/// A day that the schema keeps as text.
fn day(row: &Row<'_>, at: usize) -> rusqlite::Result<Option<Date>> {
    let text: Option<String> = row.get(at)?;
    Ok(text.and_then(|text| text.parse().ok()))
}

impl Rows<'_> {
    /// What was measured of the objectives of a product, by the day.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn measured(&self, product: ProductId) -> Result<Vec<MeasuredValue>> {
        let sql = format!("{MEASURED} WHERE o.product_id = ?1 ORDER BY m.objective_id, m.taken_on");
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([product.0], measured_value)?.collect::<rusqlite::Result<_>>()?)
    }

    /// What was measured of one objective, by the day.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn measured_of(&self, objective: ObjectiveId) -> Result<Vec<MeasuredValue>> {
        let sql = format!("{MEASURED} WHERE m.objective_id = ?1 ORDER BY m.taken_on");
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([objective.0], measured_value)?.collect::<rusqlite::Result<_>>()?)
    }

    /// What serves the objectives of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn serving(&self, product: ProductId) -> Result<Vec<Serves>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT l.from_id, l.to_kind, l.to_id, l.part FROM link l JOIN objective o ON o.id = l.from_id
             WHERE l.kind = 'asks_for' AND l.from_kind = 'objective' AND o.product_id = ?1 ORDER BY l.from_id, l.id",
        )?;
        let mut rows = statement.query([product.0])?;
        let mut all = Vec::new();
        while let Some(row) = rows.next()? {
            let kind: ThingKind =
                row.get_ref(1)?.as_str().map_err(rusqlite::Error::from)?.parse().map_err(Error::Refused)?;
            let thing = Thing::new(kind, row.get::<_, i64>(2)?);
            all.push(Serves { objective: ObjectiveId(row.get(0)?), thing, part: row.get(3)? });
        }
        Ok(all)
    }

    /// The objectives that a thing serves, each with how much.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn served_by(&self, thing: Thing) -> Result<Vec<(ObjectiveId, String, Option<f64>)>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT o.id, o.title, l.part FROM link l JOIN objective o ON o.id = l.from_id
             WHERE l.kind = 'asks_for' AND l.from_kind = 'objective' AND l.to_kind = ?1 AND l.to_id = ?2 ORDER BY o.id",
        )?;
        let rows = statement.query_map(params![thing.kind.name(), thing.id], |row| {
            Ok((ObjectiveId(row.get(0)?), row.get(1)?, row.get(2)?))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The work of a product as far as progress needs it.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn work(&self, product: ProductId) -> Result<Vec<Work>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT id, parent_id, level, state = 'done', points, release_id, increment_id FROM work_item WHERE product_id = ?1",
        )?;
        let rows = statement.query_map([product.0], |row| {
            let name: String = row.get(2)?;
            Ok(Work {
                id: WorkItemId(row.get(0)?),
                parent: row.get::<_, Option<i64>>(1)?.map(WorkItemId),
                level: Level::ALL.into_iter().find(|level| level.name() == name).unwrap_or(Level::Task),
                counted: Counted { done: row.get(3)?, points: row.get(4)? },
                release: row.get::<_, Option<i64>>(5)?.map(ReleaseId),
                increment: row.get::<_, Option<i64>>(6)?.map(IncrementId),
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Which idea of a product became which work, and which increment is a step of which idea.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn became(&self, product: ProductId) -> Result<(Became, Split)> {
        let became = "SELECT l.from_id, l.to_id FROM idea d JOIN link l ON l.from_kind = 'idea' AND l.from_id = d.id
            AND l.kind = 'becomes' AND l.to_kind = 'work_item' WHERE d.product_id = ?1";
        let split = "SELECT idea_id, id FROM increment WHERE product_id = ?1 ORDER BY idea_id, position, id";
        let became = self.pairs(became, product)?.into_iter().map(|(a, b)| (IdeaId(a), WorkItemId(b)));
        let split = self.pairs(split, product)?.into_iter().map(|(a, b)| (IdeaId(a), IncrementId(b)));
        Ok((became.collect(), split.collect()))
    }

    fn pairs(&self, sql: &str, product: ProductId) -> Result<Vec<(i64, i64)>> {
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// What stands behind the ideas of a product, or behind one of them. Studies count by what their methods tell.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn behind_ideas(&self, product: ProductId, only: Option<IdeaId>) -> Result<BTreeMap<IdeaId, Behind>> {
        let mut all: BTreeMap<IdeaId, Behind> = BTreeMap::new();
        let ask = params![product.0, only.map(|id| id.0)];
        // People of one account are one voice.
        let mut statement = self.connection.prepare_cached(
            "WITH said AS (
               SELECT f.to_id AS idea, b.item_id, b.person_id, b.account_id, b.said_on
               FROM link f JOIN behind b ON b.finding_id = f.from_id
               WHERE f.kind = 'supports' AND f.from_kind = 'finding' AND f.to_kind = 'idea' AND (?2 IS NULL OR f.to_id = ?2)
               UNION ALL
               SELECT f.to_id, i.id, i.person_id, i.account_id, i.said_on
               FROM link f JOIN excerpt e ON e.id = f.from_id JOIN feedback_item i ON i.id = e.item_id
               WHERE f.kind = 'supports' AND f.from_kind = 'excerpt' AND f.to_kind = 'idea' AND (?2 IS NULL OR f.to_id = ?2))
             SELECT d.id, count(DISTINCT CASE WHEN s.account_id IS NOT NULL THEN 'a' || s.account_id
                 WHEN s.person_id IS NOT NULL THEN 'p' || s.person_id ELSE 'i' || s.item_id END), max(s.said_on)
             FROM idea d LEFT JOIN said s ON s.idea = d.id
             WHERE d.product_id = ?1 AND (?2 IS NULL OR d.id = ?2) GROUP BY d.id",
        )?;
        let mut rows = statement.query(ask)?;
        while let Some(row) = rows.next()? {
            let voices: i64 = row.get(1)?;
            let voices = usize::try_from(voices).unwrap_or_default();
            all.insert(IdeaId(row.get(0)?), Behind { voices, newest: day(row, 2)?, ..Behind::default() });
        }
        for (idea, method, items, people) in self.studies_of_ideas(product, only)? {
            let Some(behind) = all.get_mut(&idea) else { continue };
            match way_of(&method) {
                Some(Way::Survey) => behind.surveyed += items,
                Some(Way::Observation) => behind.observed += people,
                None => {}
            }
        }
        for (idea, shown) in self.shown_of_ideas(product, only)? {
            if let Some(behind) = all.get_mut(&idea) {
                behind.results.push(shown);
            }
        }
        Ok(all)
    }

    /// The studies that inform an idea, or a finding behind it: method, what was brought in, and who took part or spoke.
    fn studies_of_ideas(
        &self,
        product: ProductId,
        only: Option<IdeaId>,
    ) -> Result<Vec<(IdeaId, String, usize, usize)>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT DISTINCT d.id, s.id, s.method,
               (SELECT count(*) FROM feedback_item i WHERE i.study_id = s.id),
               (SELECT count(*) FROM (SELECT l.from_id AS person FROM link l WHERE l.kind = 'takes_part' AND l.to_kind = 'study' AND l.to_id = s.id
                 UNION SELECT COALESCE(i.person_id, -i.id) FROM feedback_item i WHERE i.study_id = s.id))
             FROM idea d JOIN study s ON EXISTS (SELECT 1 FROM link l WHERE l.kind = 'informs' AND l.from_kind = 'study' AND l.from_id = s.id
                 AND ((l.to_kind = 'idea' AND l.to_id = d.id)
                   OR (l.to_kind = 'finding' AND EXISTS (SELECT 1 FROM link f WHERE f.kind = 'supports' AND f.from_kind = 'finding'
                     AND f.from_id = l.to_id AND f.to_kind = 'idea' AND f.to_id = d.id))))
             WHERE d.product_id = ?1 AND s.product_id = ?1 AND s.method IS NOT NULL AND (?2 IS NULL OR d.id = ?2) ORDER BY d.id, s.id",
        )?;
        let count = |row: &Row<'_>, at: usize| -> rusqlite::Result<usize> {
            Ok(usize::try_from(row.get::<_, i64>(at)?).unwrap_or_default())
        };
        let rows = statement.query_map(params![product.0, only.map(|id| id.0)], |row| {
            Ok((IdeaId(row.get(0)?), row.get(2)?, count(row, 3)?, count(row, 4)?))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    fn shown_of_ideas(&self, product: ProductId, only: Option<IdeaId>) -> Result<Vec<(IdeaId, Shown)>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT r.idea_id, r.measured_on, r.increment_id IS NOT NULL, r.verdict FROM result r JOIN idea d ON d.id = r.idea_id
             WHERE d.product_id = ?1 AND (?2 IS NULL OR d.id = ?2) ORDER BY r.idea_id, r.id",
        )?;
        let rows = statement.query_map(params![product.0, only.map(|id| id.0)], |row| {
            let verdict: Option<String> = row.get(3)?;
            let verdict = verdict.and_then(|name| serde_json::from_value(name.into()).ok());
            Ok((IdeaId(row.get(0)?), Shown { on: day(row, 1)?.unwrap_or(Date::ZERO), test: row.get(2)?, verdict }))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The form whose link ends so.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn form_by_key(&self, key: &str) -> Result<Option<RequestForm>> {
        Ok(self.list("WHERE key = ?1", [key])?.pop())
    }

    /// The request whose sender's link has a key of this hash.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn request_by_key(&self, hash: &str) -> Result<Option<Request>> {
        Ok(self.list("WHERE key_hash = ?1", [hash])?.pop())
    }

    /// The request by which an item came in.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn request_of(&self, item: ItemId) -> Result<Option<Request>> {
        Ok(self.list("WHERE item_id = ?1", [item.0])?.pop())
    }

    /// The request whose sender's letter has a key of this hash.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn request_by_proof(&self, hash: &str) -> Result<Option<Request>> {
        Ok(self.list("WHERE proof_hash = ?1", [hash])?.pop())
    }

    /// The page with this address and text, where it is kept already.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn found_page_like(
        &self,
        product: ProductId,
        address: Option<&str>,
        text: &str,
    ) -> Result<Option<FoundPageId>> {
        let sql = "SELECT id FROM found_page WHERE product_id = ?1 AND address IS ?2 AND text = ?3 ORDER BY id LIMIT 1";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_row(params![product.0, address, text], |row| row.get(0)).optional()?.map(FoundPageId))
    }

    /// The competitor whose address a page's address begins with, the longest where there are several.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn competitor_at(&self, product: ProductId, address: &str) -> Result<Option<CompetitorId>> {
        let sql = "SELECT id FROM competitor WHERE product_id = ?1 AND length(address) > 3 AND instr(?2, address) = 1
            ORDER BY length(address) DESC, id LIMIT 1";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_row(params![product.0, address], |row| row.get(0)).optional()?.map(CompetitorId))
    }

    /// The ideas that quote what a request says.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn ideas_asked_for(&self, request: RequestId) -> Result<Vec<i64>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT DISTINCT l.to_id FROM request q JOIN excerpt e ON e.item_id = q.item_id
             JOIN link l ON l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.from_id = e.id AND l.to_kind = 'idea'
             WHERE q.id = ?1 ORDER BY l.to_id",
        )?;
        Ok(statement.query_map([request.0], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }

    /// The name of the account that a mail address belongs to: that of the person who has it, else the one of all people with an
    /// address at the same host, where there are two or more and all are of one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn account_of_address(&self, address: &str) -> Result<Option<String>> {
        let known = "SELECT a.name FROM person p JOIN account a ON a.id = p.account_id WHERE p.address = ?1";
        let found = self.connection.prepare_cached(known)?.query_row([address], |row| row.get(0)).optional()?;
        let Some((_, host)) = address.rsplit_once('@') else { return Ok(found) };
        if found.is_some() {
            return Ok(found);
        }
        let beside = "SELECT min(a.name) FROM person p LEFT JOIN account a ON a.id = p.account_id
            WHERE substr(p.address, instr(p.address, '@') + 1) = ?1 COLLATE NOCASE
            HAVING count(*) >= 2 AND count(p.account_id) = count(*) AND count(DISTINCT p.account_id) = 1";
        Ok(self.connection.prepare_cached(beside)?.query_row([host], |row| row.get(0)).optional()?.flatten())
    }

    /// How well the ideas of a product are supported, as far as it was told already.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn ideas_told(&self, product: ProductId) -> Result<BTreeMap<IdeaId, Graded>> {
        let sql = format!(
            "SELECT t.idea_id, {TOLD} FROM idea_told t JOIN idea d ON d.id = t.idea_id WHERE d.product_id = ?1"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([product.0])?;
        let mut all = BTreeMap::new();
        while let Some(row) = rows.next()? {
            let text: String = row.get(1)?;
            all.insert(IdeaId(row.get(0)?), serde_json::from_str(&text)?);
        }
        Ok(all)
    }

    /// What was agreed on of the ideas of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn agreed_estimates(&self, product: ProductId) -> Result<Vec<Estimate>> {
        self.list(
            "WHERE agreed = 1 AND idea_id IN (SELECT id FROM idea WHERE product_id = ?1) ORDER BY idea_id, field",
            [product.0],
        )
    }

    /// How well an idea is supported, where it was told already.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn idea_told(&self, idea: IdeaId) -> Result<Option<Graded>> {
        let sql = format!("SELECT {TOLD} FROM idea_told t WHERE t.idea_id = ?1");
        let text: Option<String> =
            self.connection.prepare_cached(&sql)?.query_row([idea.0], |row| row.get(0)).optional()?;
        Ok(text.map(|text| serde_json::from_str(&text)).transpose()?)
    }
}

impl Tx<'_> {
    /// Keeps how well an idea is supported. It follows from other rows, so the ledger keeps none of it.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn grade_idea(&mut self, idea: IdeaId, told: &Graded) -> Result<()> {
        let sql = "INSERT INTO idea_told(idea_id, grade, confidence, reasons) VALUES (?1, ?2, ?3, ?4)
            ON CONFLICT(idea_id) DO UPDATE SET grade = excluded.grade, confidence = excluded.confidence, reasons = excluded.reasons";
        let reasons = serde_json::to_string(&told.reasons)?;
        let params = params![idea.0, told.grade.name(), told.confidence, reasons];
        self.rows().connection.prepare_cached(sql)?.execute(params)?;
        Ok(())
    }
}
