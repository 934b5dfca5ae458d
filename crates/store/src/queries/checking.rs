//! What is there to be checked, and what was said of it.

use iron_kite_core::listen::{CheckAbout, CheckWay, UNSURE};
use iron_kite_core::things::{ExcerptId, ItemId, ProductId};
use rusqlite::params;

use super::listen::AROUND;
use crate::error::Result;
use crate::rows::Rows;

/// An excerpt to be checked.
#[derive(Debug, Clone, PartialEq)]
pub struct ToCheck {
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// Its item.
    pub item: ItemId,
    /// What stands before it in the item.
    pub before: String,
    /// Its words.
    pub words: String,
    /// What stands after it.
    pub after: String,
    /// Who said it, for which account, on which day, and where it came from.
    pub said_by: [Option<String>; 4],
    /// What the engine told, or what it had told when somebody else looked: a kind, or a finding's number.
    pub told: String,
    /// How sure it is.
    pub sure: Option<f64>,
}

/// What two judges said of the same thing.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Pair {
    /// What was checked.
    pub about: CheckAbout,
    /// How it came to be checked.
    pub way: CheckWay,
    /// The first judge; nothing for the engine.
    pub first: Option<String>,
    /// The second, where a person and not all of them.
    pub second: Option<String>,
    /// What the first said.
    pub one: String,
    /// What the second said.
    pub other: String,
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// Its words.
    pub words: String,
}

/// More than so many are not counted.
pub const MANY: i64 = 500;

const EXCERPT: &str = "e.id, e.item_id,
    substr(i.text, max(1, e.from_char + 1 - :around), min(e.from_char, :around)),
    substr(i.text, e.from_char + 1, e.to_char - e.from_char), substr(i.text, e.to_char + 1, :around),
    (SELECT name FROM person WHERE id = i.person_id), (SELECT name FROM account WHERE id = i.account_id), i.said_on,
    (SELECT name FROM source WHERE id = i.source_id)";
const NOBODY_LOOKED: &str = "NOT EXISTS (SELECT 1 FROM checking c WHERE c.excerpt_id = e.id AND c.about = :about)";

/// Excerpts whose kind the engine told, and those that it put behind a finding that was not thrown out. The first few of an order
/// are wanted: a `+` keeps SQLite from going through all of the product instead of along the order.
fn told(about: CheckAbout) -> (&'static str, &'static str) {
    match about {
        CheckAbout::Kind => (
            "e.kind, e.sure FROM excerpt e JOIN feedback_item i ON i.id = e.item_id
             WHERE e.chosen IS NULL AND e.sure IS NOT NULL AND +i.product_id = :product",
            "e",
        ),
        CheckAbout::Finding => (
            "CAST(l.to_id AS TEXT), l.sure FROM link l CROSS JOIN excerpt e ON e.id = l.from_id
             CROSS JOIN finding n ON n.id = l.to_id JOIN feedback_item i ON i.id = e.item_id
             WHERE l.sure IS NOT NULL AND +l.kind = 'supports' AND +l.from_kind = 'excerpt' AND +l.to_kind = 'finding'
               AND n.state IS NOT 'thrown_out' AND +n.product_id = :product",
            "l",
        ),
    }
}

/// A column that holds a name of core's.
fn named<T>(row: &rusqlite::Row<'_>, at: usize, read: fn(&str) -> Option<T>) -> rusqlite::Result<T> {
    let name: String = row.get(at)?;
    read(&name).ok_or_else(|| rusqlite::Error::InvalidColumnType(at, name, rusqlite::types::Type::Text))
}

impl Rows<'_> {
    /// What a person can check next: O(what is shown) by an index, except for a second look, which goes through all that
    /// was checked.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn to_check(
        &self,
        product: ProductId,
        about: CheckAbout,
        way: CheckWay,
        user: i64,
        most: usize,
    ) -> Result<Vec<ToCheck>> {
        let (from, ranked) = told(about);
        let (name, most) = (about.name(), i64::try_from(most).unwrap_or(i64::MAX));
        let mut bound: Vec<(&str, &dyn rusqlite::ToSql)> =
            vec![(":product", &product.0), (":around", &AROUND), (":about", &name), (":most", &most)];
        let sql = match way {
            CheckWay::Unsure => {
                format!("SELECT {EXCERPT}, {from} AND {NOBODY_LOOKED} ORDER BY {ranked}.sure LIMIT :most")
            }
            CheckWay::Chance => format!(
                "SELECT {EXCERPT}, {from} AND {NOBODY_LOOKED} ORDER BY {ranked}.id * 2654435761 % 4294967296 LIMIT :most"
            ),
            CheckWay::Second => {
                bound.push((":user", &user));
                format!(
                    "SELECT {EXCERPT}, c.told, NULL FROM checking c JOIN excerpt e ON e.id = c.excerpt_id
                     JOIN feedback_item i ON i.id = e.item_id
                     WHERE i.product_id = :product AND c.about = :about AND c.way <> 'second' AND c.user_id <> :user
                       AND NOT EXISTS (SELECT 1 FROM checking m
                         WHERE m.excerpt_id = e.id AND m.about = :about AND m.user_id = :user)
                     GROUP BY e.id ORDER BY max(c.id) DESC LIMIT :most"
                )
            }
        };
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map(bound.as_slice(), |row| {
            Ok(ToCheck {
                excerpt: ExcerptId(row.get(0)?),
                item: ItemId(row.get(1)?),
                before: row.get(2)?,
                words: row.get(3)?,
                after: row.get(4)?,
                said_by: [row.get(5)?, row.get(6)?, row.get(7)?, row.get(8)?],
                told: row.get(9)?,
                sure: row.get(10)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// How many excerpts of a product the engine is unsure of and nobody has looked at; [`MANY`] stands for that many or more.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn count_unsure(&self, product: ProductId, about: CheckAbout) -> Result<i64> {
        let (from, ranked) = told(about);
        let sql = format!(
            "SELECT count(*) FROM (SELECT {from} AND {ranked}.sure < :unsure AND {NOBODY_LOOKED} LIMIT {MANY})"
        );
        let bound: [(&str, &dyn rusqlite::ToSql); 3] =
            [(":product", &product.0), (":unsure", &UNSURE), (":about", &about.name())];
        Ok(self.connection.prepare_cached(&sql)?.query_row(bound.as_slice(), |row| row.get(0))?)
    }

    /// The numbers of what was said of an excerpt.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn checks_of(&self, excerpt: ExcerptId) -> Result<Vec<i64>> {
        let mut statement =
            self.connection.prepare_cached("SELECT id FROM checking WHERE excerpt_id = ?1 ORDER BY id")?;
        Ok(statement.query_map([excerpt.0], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }

    /// What the engine had told of an excerpt before anybody looked at it, where somebody did.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn told_before(&self, excerpt: ExcerptId, about: CheckAbout) -> Result<Option<String>> {
        let sql = "SELECT told FROM checking WHERE excerpt_id = ?1 AND about = ?2 ORDER BY id LIMIT 1";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map(params![excerpt.0, about.name()], |row| row.get(0))?.next().transpose()?)
    }

    /// What the engine and people said of the same excerpts of a product, each person's last word.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn checked_pairs(&self, product: ProductId) -> Result<Vec<Pair>> {
        let sql = "WITH last AS (SELECT max(c.id) AS id FROM checking c JOIN excerpt e ON e.id = c.excerpt_id
              JOIN feedback_item i ON i.id = e.item_id WHERE i.product_id = ?1 GROUP BY c.excerpt_id, c.about, c.user_id),
            said AS (SELECT c.*, u.name FROM last JOIN checking c ON c.id = last.id JOIN user u ON u.id = c.user_id),
            pairs AS (
              SELECT about, way, NULL AS first, NULL AS second, told AS one, said AS other, excerpt_id, id FROM said
                WHERE way <> 'second'
              UNION ALL
              SELECT a.about, 'second', a.name, b.name, a.said, b.said, a.excerpt_id, max(a.id, b.id)
                FROM said a JOIN said b ON b.excerpt_id = a.excerpt_id AND b.about = a.about AND b.user_id > a.user_id)
            SELECT p.about, p.way, p.first, p.second, p.one, p.other, p.excerpt_id,
              substr(i.text, e.from_char + 1, e.to_char - e.from_char)
            FROM pairs p JOIN excerpt e ON e.id = p.excerpt_id JOIN feedback_item i ON i.id = e.item_id ORDER BY p.id DESC";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| {
            Ok(Pair {
                about: named(row, 0, CheckAbout::named)?,
                way: named(row, 1, CheckWay::named)?,
                first: row.get(2)?,
                second: row.get(3)?,
                one: row.get(4)?,
                other: row.get(5)?,
                excerpt: ExcerptId(row.get(6)?),
                words: row.get(7)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}
