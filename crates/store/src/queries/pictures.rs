//! Who said what, when, and with which colour: what pictures of findings and of all that was said are made from.

use std::collections::BTreeMap;

use iron_kite_core::listen::{COLOURED, FeedbackKind, Heap, Side, Spread};
use iron_kite_core::things::{AccountId, ExcerptId, FindingId, IdeaId, ItemId, PersonId, ProductId};

use jiff::civil::Date;

use super::listen::ExcerptRow;
use crate::error::Result;
use crate::rows::Rows;

/// An excerpt behind a finding, as far as a picture needs it.
#[derive(Debug, Clone, PartialEq)]
pub struct SaidRow {
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// Its item.
    pub item: ItemId,
    /// Who said it.
    pub person: Option<PersonId>,
    /// For which account.
    pub account: Option<AccountId>,
    /// The source.
    pub source: i64,
    /// The kind, as it is stored.
    pub kind: String,
    /// Its sentiment.
    pub sentiment: f64,
    /// The day it was said.
    pub said_on: Option<String>,
}

/// Which excerpts behind a finding are asked for; all where nothing is said.
#[derive(Debug, Clone, Default)]
pub struct SaidFilter {
    /// Said on this day or later, `YYYY-MM-DD`.
    pub from: Option<String>,
    /// Said on this day or before.
    pub to: Option<String>,
    /// Of this source.
    pub source: Option<i64>,
    /// Of this segment; an empty one stands for those of none.
    pub segment: Option<String>,
    /// Of this kind.
    pub kind: Option<FeedbackKind>,
    /// On this side.
    pub side: Option<Side>,
}

/// What was said of a product on one day, by one source, for one account.
#[derive(Debug, Clone, PartialEq)]
pub struct SaidGroup {
    /// The product.
    pub product: ProductId,
    /// The source.
    pub source: i64,
    /// For which account.
    pub account: Option<AccountId>,
    /// The day it was said.
    pub said_on: Option<String>,
    /// How much, and with which colour.
    pub heap: Heap,
    /// Feedback items.
    pub items: usize,
}

/// Which items are looked through for those that nobody has read; all where nothing is said.
#[derive(Debug, Clone, Default)]
pub struct Unseen<'a> {
    /// Said on this day or later.
    pub from: Option<String>,
    /// Said on this day or before.
    pub to: Option<String>,
    /// From this source.
    pub source: Option<i64>,
    /// For accounts of this segment; of none where it is empty.
    pub segment: Option<&'a str>,
}

/// A finding that moves.
#[derive(Debug, Clone, PartialEq)]
pub struct Mover {
    /// The finding.
    pub finding: FindingId,
    /// What people say.
    pub title: String,
    /// How it moves, by name.
    pub movement: String,
    /// How likely chance alone explains as much.
    pub p: f64,
    /// Excerpts of the last days.
    pub recent: u32,
    /// Excerpts of the days before.
    pub before: u32,
}

type Bound<'a> = Vec<(&'a str, &'a dyn rusqlite::ToSql)>;

impl SaidFilter {
    /// The conditions, and what is bound to them.
    fn conditions<'a>(&'a self, kind: Option<&'a &'static str>, bound: &mut Bound<'a>) -> String {
        let mut sql = String::from("b.finding_id = :finding");
        let mut and = |condition: &str| sql.push_str(&format!(" AND {condition}"));
        if let Some(from) = &self.from {
            and("b.said_on >= :from");
            bound.push((":from", from));
        }
        if let Some(to) = &self.to {
            and("b.said_on <= :to");
            bound.push((":to", to));
        }
        if let Some(source) = &self.source {
            and("b.source_id = :source");
            bound.push((":source", source));
        }
        if let Some(segment) = &self.segment {
            and("COALESCE((SELECT a.segment FROM account a WHERE a.id = b.account_id), '') = :segment");
            bound.push((":segment", segment));
        }
        if let Some(kind) = kind {
            and("b.kind = :kind");
            bound.push((":kind", kind));
        }
        if let Some(side) = self.side {
            and(match side {
                Side::Against => "b.sentiment <= -:coloured",
                Side::Neutral => "abs(b.sentiment) < :coloured",
                Side::ForIt => "b.sentiment >= :coloured",
            });
            bound.push((":coloured", &COLOURED));
        }
        sql
    }
}

fn said_row(row: &rusqlite::Row<'_>) -> rusqlite::Result<SaidRow> {
    Ok(SaidRow {
        excerpt: ExcerptId(row.get(0)?),
        item: ItemId(row.get(1)?),
        person: row.get::<_, Option<i64>>(2)?.map(PersonId),
        account: row.get::<_, Option<i64>>(3)?.map(AccountId),
        source: row.get(4)?,
        kind: row.get(5)?,
        sentiment: row.get(6)?,
        said_on: row.get(7)?,
    })
}

impl Rows<'_> {
    /// Excerpts behind a finding, the newest first, after one of them (its day, empty where it has none, and its number).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn excerpts_behind(
        &self,
        finding: FindingId,
        filter: &SaidFilter,
        after: Option<&(String, i64)>,
        most: usize,
    ) -> Result<Vec<ExcerptRow>> {
        let kind = filter.kind.map(FeedbackKind::name);
        let most = i64::try_from(most).unwrap_or(i64::MAX);
        let mut bound: Bound<'_> = vec![(":finding", &finding.0), (":most", &most)];
        let mut sql = filter.conditions(kind.as_ref(), &mut bound);
        if let Some((day, id)) = after {
            sql.push_str(" AND (COALESCE(b.said_on, ''), b.excerpt_id) < (:day, :id)");
            bound.push((":day", day));
            bound.push((":id", id));
        }
        // The numbers first, side by side; the words only of those that are given.
        let ids = format!(
            "e.id IN (SELECT b.excerpt_id FROM behind b WHERE {sql}
               ORDER BY COALESCE(b.said_on, '') DESC, b.excerpt_id DESC LIMIT :most)
             ORDER BY COALESCE(i.said_on, '') DESC, e.id DESC"
        );
        self.excerpts(&ids, bound.as_slice())
    }

    /// How many excerpts behind a finding there are of those that are asked for.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_behind(&self, finding: FindingId, filter: &SaidFilter) -> Result<i64> {
        let kind = filter.kind.map(FeedbackKind::name);
        let mut bound: Bound<'_> = vec![(":finding", &finding.0)];
        let sql = format!("SELECT count(*) FROM behind b WHERE {}", filter.conditions(kind.as_ref(), &mut bound));
        Ok(self.connection.prepare_cached(&sql)?.query_row(bound.as_slice(), |row| row.get(0))?)
    }

    /// All excerpts behind a finding, as far as a picture needs them.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_behind(&self, finding: FindingId) -> Result<Vec<SaidRow>> {
        let sql = "SELECT excerpt_id, item_id, person_id, account_id, source_id, kind, sentiment, said_on
            FROM behind WHERE finding_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([finding.0], said_row)?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The excerpts behind an idea, by its findings or quoted for itself, each once.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_behind_idea(&self, idea: IdeaId) -> Result<Vec<SaidRow>> {
        let sql =
            "SELECT b.excerpt_id, b.item_id, b.person_id, b.account_id, b.source_id, b.kind, b.sentiment, b.said_on
              FROM link f JOIN behind b ON b.finding_id = f.from_id
              WHERE f.kind = 'supports' AND f.from_kind = 'finding' AND f.to_kind = 'idea' AND f.to_id = ?1
            UNION SELECT e.id, i.id, i.person_id, i.account_id, i.source_id, e.kind, e.sentiment, i.said_on
              FROM link f JOIN excerpt e ON e.id = f.from_id JOIN feedback_item i ON i.id = e.item_id
              WHERE f.kind = 'supports' AND f.from_kind = 'excerpt' AND f.to_kind = 'idea' AND f.to_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([idea.0], said_row)?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// How many excerpts of a product were said within days, the first and the last included: O(groups).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_said(&self, product: ProductId, (from, to): (Date, Date)) -> Result<u32> {
        let sql = "SELECT COALESCE(sum(excerpts), 0) FROM said WHERE product_id = ?1 AND said_on BETWEEN ?2 AND ?3";
        let params = rusqlite::params![product.0, from.to_string(), to.to_string()];
        Ok(self.connection.prepare_cached(sql)?.query_row(params, |row| row.get(0))?)
    }

    /// All that was said, in groups: O(groups).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn said_in_groups(&self) -> Result<Vec<SaidGroup>> {
        let sql = "SELECT product_id, source_id, account_id, said_on, against, neutral, for_it, sum, items FROM said
            WHERE items > 0";
        let mut statement = self.connection.prepare_cached(sql)?;
        let count = |row: &rusqlite::Row<'_>, at: usize| -> rusqlite::Result<usize> {
            Ok(usize::try_from(row.get::<_, i64>(at)?).unwrap_or_default())
        };
        let rows = statement.query_map([], |row| {
            let spread = Spread { against: count(row, 4)?, neutral: count(row, 5)?, for_it: count(row, 6)? };
            let account: i64 = row.get(2)?;
            let said_on: String = row.get(3)?;
            Ok(SaidGroup {
                product: ProductId(row.get(0)?),
                source: row.get(1)?,
                account: (account > 0).then_some(AccountId(account)),
                said_on: Some(said_on).filter(|day| !day.is_empty()),
                heap: Heap { spread, sum: row.get(7)? },
                items: count(row, 8)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// How many items of a product nobody has read, of those that are asked for.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_unseen(&self, product: ProductId, asked: &Unseen<'_>) -> Result<i64> {
        let sql = "SELECT count(*) FROM feedback_item i WHERE i.product_id = :product
            AND (:from IS NULL OR i.said_on >= :from) AND (:to IS NULL OR i.said_on <= :to)
            AND (:source IS NULL OR i.source_id = :source)
            AND (:segment IS NULL OR COALESCE((SELECT a.segment FROM account a WHERE a.id = i.account_id), '') = :segment)
            AND NOT EXISTS (SELECT 1 FROM reading r WHERE r.item_id = i.id)";
        let bound = rusqlite::named_params! {
            ":product": product.0, ":from": asked.from, ":to": asked.to, ":source": asked.source, ":segment": asked.segment,
        };
        Ok(self.connection.prepare_cached(sql)?.query_row(bound, |row| row.get(0))?)
    }

    /// The names of all sources.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn source_names(&self) -> Result<BTreeMap<i64, String>> {
        let mut statement = self.connection.prepare_cached("SELECT id, name FROM source")?;
        let rows = statement.query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The segments of all accounts that have one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn segments(&self) -> Result<BTreeMap<AccountId, String>> {
        let mut statement =
            self.connection.prepare_cached("SELECT id, segment FROM account WHERE segment IS NOT NULL")?;
        let rows = statement.query_map([], |row| Ok((AccountId(row.get(0)?), row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The findings of a product that move, those that chance explains least first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn movers(&self, product: ProductId, most: usize) -> Result<Vec<Mover>> {
        let sql = "SELECT n.id, n.title, t.movement, t.p, t.recent, t.before FROM finding_told t
            JOIN finding n ON n.id = t.finding_id
            WHERE n.product_id = ?1 AND t.movement <> 'steady' AND n.state IS NOT 'thrown_out' ORDER BY t.p, n.id LIMIT ?2";
        let mut statement = self.connection.prepare_cached(sql)?;
        let most = i64::try_from(most).unwrap_or(i64::MAX);
        let rows = statement.query_map(rusqlite::params![product.0, most], |row| {
            Ok(Mover {
                finding: FindingId(row.get(0)?),
                title: row.get(1)?,
                movement: row.get(2)?,
                p: row.get(3)?,
                recent: row.get(4)?,
                before: row.get(5)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}
