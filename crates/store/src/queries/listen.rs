//! Feedback items, excerpts and findings.

use std::collections::BTreeMap;

use iron_kite_core::listen::{Excerpt, ItemLine, Person, Source, WhoSaid};
use iron_kite_core::things::{AccountId, ExcerptId, ItemId, PersonId, ProductId};
use rusqlite::{OptionalExtension, params};
use serde_json::{Map, Value, json};

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;
use iron_kite_core::things::ThingKind;

/// Which items are asked for.
#[derive(Debug, Clone, Default)]
pub struct ItemFilter {
    /// Words that must all stand in the text, the last one as a beginning.
    pub words: Option<String>,
    /// Only from this source.
    pub source_id: Option<i64>,
    /// Only those that nobody has read.
    pub unread: bool,
    /// Only those after this one in the order of the list: its day (empty where it has none) and number.
    pub after: Option<(String, i64)>,
    /// At most so many.
    pub limit: usize,
}

/// An excerpt with its words and who said them.
#[derive(Debug, Clone, PartialEq)]
pub struct ExcerptRow {
    /// The excerpt.
    pub excerpt: Excerpt,
    /// How many later excerpts say the same again.
    pub again: u32,
    /// Its words.
    pub words: String,
    /// Who stands behind it.
    pub who: WhoSaid,
    /// The person's name.
    pub person: Option<String>,
    /// The account's name.
    pub account: Option<String>,
    /// The day it was said.
    pub said_on: Option<String>,
    /// The source's name.
    pub source: String,
    /// What stands before it in its item, and after it.
    pub around: [String; 2],
}

/// One voice behind a finding: what roll-ups need of it.
#[derive(Debug, Clone, PartialEq)]
pub struct VoiceRow {
    /// The finding.
    pub finding_id: i64,
    /// Who stands behind the words.
    pub who: WhoSaid,
    /// The excerpt's kind, as it is stored.
    pub kind: String,
    /// Its sentiment.
    pub sentiment: f64,
    /// The day it was said.
    pub said_on: Option<String>,
}

/// The length of a text's beginning in lists, in characters.
const BEGINNING: usize = 280;
/// So many characters are shown around an excerpt.
pub(crate) const AROUND: i64 = 240;

impl Rows<'_> {
    /// A page of a product's items, newest first. By key, so that any page costs the same.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items(&self, product: ProductId, filter: &ItemFilter) -> Result<Vec<ItemLine>> {
        let mut sql = format!(
            "SELECT i.id, substr(i.text, 1, {BEGINNING}), i.said_on, p.name, a.name, s.name, i.rating,
                EXISTS (SELECT 1 FROM reading r WHERE r.item_id = i.id),
                (SELECT count(*) FROM excerpt e WHERE e.item_id = i.id),
                (SELECT count(DISTINCT l.from_id) FROM excerpt e JOIN link l
                   ON l.from_kind = 'excerpt' AND l.from_id = e.id AND l.kind = 'supports' WHERE e.item_id = i.id)
             FROM feedback_item i JOIN source s ON s.id = i.source_id
             LEFT JOIN person p ON p.id = i.person_id LEFT JOIN account a ON a.id = i.account_id
             WHERE i.product_id = :product"
        );
        let words = filter.words.as_deref().and_then(match_words);
        let mut bound: Vec<(&str, &dyn rusqlite::ToSql)> = vec![(":product", &product.0)];
        if let Some(words) = &words {
            sql.push_str(" AND i.id IN (SELECT rowid FROM feedback_words WHERE feedback_words MATCH :words)");
            bound.push((":words", words));
        }
        if let Some(source) = &filter.source_id {
            sql.push_str(" AND i.source_id = :source");
            bound.push((":source", source));
        }
        if filter.unread {
            sql.push_str(" AND NOT EXISTS (SELECT 1 FROM reading r WHERE r.item_id = i.id)");
        }
        if let Some((day, id)) = &filter.after {
            // What was said nobody knows when comes last.
            if day.is_empty() {
                sql.push_str(" AND i.said_on IS NULL AND i.id < :id");
            } else {
                sql.push_str(" AND ((i.said_on, i.id) < (:day, :id) OR i.said_on IS NULL)");
                bound.push((":day", day));
            }
            bound.push((":id", id));
        }
        sql.push_str(" ORDER BY i.said_on DESC, i.id DESC LIMIT :limit");
        let limit = i64::try_from(filter.limit).unwrap_or(i64::MAX);
        bound.push((":limit", &limit));
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map(bound.as_slice(), |row| {
            Ok(ItemLine {
                id: ItemId(row.get(0)?),
                text: row.get(1)?,
                said_on: row.get(2)?,
                person: row.get(3)?,
                account: row.get(4)?,
                source: row.get(5)?,
                rating: row.get(6)?,
                read: row.get(7)?,
                excerpts: row.get(8)?,
                used: row.get(9)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Excerpts that a condition picks, such as `e.item_id = ?1`, in the order of the text.
    ///
    /// # Errors
    /// Where the condition is wrong.
    pub fn excerpts(&self, condition: &str, params: impl rusqlite::Params) -> Result<Vec<ExcerptRow>> {
        let sql = format!(
            "SELECT e.id, e.rev, e.item_id, e.from_char, e.to_char, e.kind, e.sentiment, e.sure, e.language, e.chosen,
                e.repeats_id, (SELECT count(*) FROM excerpt s WHERE s.repeats_id = e.id),
                substr(i.text, e.from_char + 1, e.to_char - e.from_char),
                i.person_id, i.account_id, p.name, a.name, i.said_on, s.name,
                substr(i.text, max(1, e.from_char + 1 - {AROUND}), min(e.from_char, {AROUND})), substr(i.text, e.to_char + 1, {AROUND})
             FROM excerpt e JOIN feedback_item i ON i.id = e.item_id JOIN source s ON s.id = i.source_id
             LEFT JOIN person p ON p.id = i.person_id LEFT JOIN account a ON a.id = i.account_id
             WHERE {condition}"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params)?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            let item_id = ItemId(row.get(2)?);
            found.push(ExcerptRow {
                excerpt: Excerpt {
                    id: row.get::<_, i64>(0)?.into(),
                    rev: row.get(1)?,
                    item_id,
                    from_char: row.get(3)?,
                    to_char: row.get(4)?,
                    kind: serde_json::from_value(Value::String(row.get(5)?))?,
                    sentiment: row.get(6)?,
                    sure: row.get(7)?,
                    language: row.get(8)?,
                    chosen: row.get(9)?,
                    repeats_id: row.get::<_, Option<i64>>(10)?.map(ExcerptId),
                },
                again: row.get(11)?,
                words: row.get(12)?,
                who: WhoSaid {
                    item_id,
                    person_id: row.get::<_, Option<i64>>(13)?.map(PersonId),
                    account_id: row.get::<_, Option<i64>>(14)?.map(AccountId),
                },
                person: row.get(15)?,
                account: row.get(16)?,
                said_on: row.get(17)?,
                source: row.get(18)?,
                around: [row.get(19)?, row.get(20)?],
            });
        }
        Ok(found)
    }

    /// The conversations of a product beside which no recording stands, with the names of their sources.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items_without_recording(&self, product: ProductId) -> Result<Vec<(ItemId, String)>> {
        let sql = "SELECT i.id, s.name FROM source s JOIN feedback_item i ON i.source_id = s.id
            WHERE s.product_id = ?1 AND i.turns IS NOT NULL AND i.recording IS NULL ORDER BY i.id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([product.0], |row| Ok((ItemId(row.get(0)?), row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Some excerpts, in no order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn excerpts_among(&self, ids: &[ExcerptId]) -> Result<Vec<ExcerptRow>> {
        self.excerpts("e.id IN (SELECT value FROM json_each(?1))", [serde_json::to_string(ids)?])
    }

    /// In how many feedback items each of some words stands, and how many items there are, of all products.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items_with<'a>(&self, words: impl IntoIterator<Item = &'a str>) -> Result<(BTreeMap<String, i64>, i64)> {
        let words: Vec<&str> = words.into_iter().collect();
        let sql = "SELECT w.value, COALESCE((SELECT v.doc FROM feedback_vocabulary v WHERE v.term = w.value), 0) FROM json_each(?1) w";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([serde_json::to_string(&words)?], |row| Ok((row.get(0)?, row.get(1)?)))?;
        let with = rows.collect::<rusqlite::Result<_>>()?;
        let all = "SELECT count(*) FROM feedback_item";
        Ok((with, self.connection.prepare_cached(all)?.query_row([], |row| row.get(0))?))
    }

    /// The voices behind all findings of a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn finding_voices(&self, product: ProductId) -> Result<Vec<VoiceRow>> {
        let mut statement = self.connection.prepare_cached(
            "SELECT b.finding_id, b.item_id, b.person_id, b.account_id, b.kind, b.sentiment, b.said_on
             FROM finding n JOIN behind b ON b.finding_id = n.id WHERE n.product_id = ?1",
        )?;
        let rows = statement.query_map([product.0], |row| {
            Ok(VoiceRow {
                finding_id: row.get(0)?,
                who: WhoSaid {
                    item_id: ItemId(row.get(1)?),
                    person_id: row.get::<_, Option<i64>>(2)?.map(PersonId),
                    account_id: row.get::<_, Option<i64>>(3)?.map(AccountId),
                },
                kind: row.get(4)?,
                sentiment: row.get(5)?,
                said_on: row.get(6)?,
            })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The yearly revenue of the accounts that have one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn revenue(&self) -> Result<BTreeMap<AccountId, i64>> {
        let sql = "SELECT id, yearly_revenue FROM account WHERE yearly_revenue IS NOT NULL";
        let mut statement = self.connection.prepare_cached(sql)?;
        let rows = statement.query_map([], |row| Ok((AccountId(row.get(0)?), row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The item of a product with these words of this person on this day, by its digest.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn item_of_digest(&self, product: ProductId, digest: &str) -> Result<Option<ItemId>> {
        let sql = "SELECT id FROM feedback_item WHERE product_id = ?1 AND digest = ?2";
        let found = self.connection.prepare_cached(sql)?.query_row(params![product.0, digest], |row| row.get(0));
        Ok(found.optional()?.map(ItemId))
    }

    /// Whether an item with these words of this person on this day is there.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn has_item(&self, product: ProductId, digest: &str) -> Result<bool> {
        Ok(self.item_of_digest(product, digest)?.is_some())
    }

    /// The item that a source knows by a key: its number, text and digest.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn item_of_key(&self, source: i64, key: &str) -> Result<Option<(ItemId, String, String)>> {
        let sql = "SELECT id, text, digest FROM feedback_item WHERE source_id = ?1 AND source_key = ?2";
        let found = self
            .connection
            .prepare_cached(sql)?
            .query_row(params![source, key], |row| Ok((ItemId(row.get(0)?), row.get(1)?, row.get(2)?)));
        Ok(found.optional()?)
    }

    /// The items of a person (`person_id`) or of an account (`account_id`).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items_of(&self, column: &str, id: i64) -> Result<Vec<ItemId>> {
        let column = if column == "person_id" { "person_id" } else { "account_id" };
        let mut statement =
            self.connection.prepare_cached(&format!("SELECT id FROM feedback_item WHERE {column} = ?1 ORDER BY id"))?;
        Ok(statement.query_map([id], |row| row.get(0).map(ItemId))?.collect::<rusqlite::Result<_>>()?)
    }

    /// The number of the account of this name.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn account_id(&self, name: &str) -> Result<Option<AccountId>> {
        let sql = "SELECT id FROM account WHERE name = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([name], |row| row.get(0)).optional()?;
        Ok(found.map(AccountId))
    }

    /// The people of an account.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn people_of(&self, account: i64) -> Result<Vec<Person>> {
        self.list("WHERE account_id = ?1 ORDER BY id", [account])
    }

    /// The person of a name within an account, 0 for none.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn person_of(&self, name: &str, account: i64) -> Result<Option<PersonId>> {
        let sql = "SELECT id FROM person WHERE name = ?1 AND COALESCE(account_id, 0) = ?2";
        let found = self.connection.prepare_cached(sql)?.query_row(params![name, account], |row| row.get(0));
        Ok(found.optional()?.map(PersonId))
    }

    /// The person with this mail address.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn person_at(&self, address: &str) -> Result<Option<PersonId>> {
        let sql = "SELECT id FROM person WHERE address = ?1";
        let found = self.connection.prepare_cached(sql)?.query_row([address], |row| row.get(0));
        Ok(found.optional()?.map(PersonId))
    }

    /// The numbers of an item's excerpts.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn excerpts_of(&self, item: ItemId) -> Result<Vec<i64>> {
        let mut statement = self.connection.prepare_cached("SELECT id FROM excerpt WHERE item_id = ?1")?;
        Ok(statement.query_map([item.0], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }

    /// Whether people work with an excerpt of an item: what the engine put behind a finding does not count.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn item_is_used(&self, item: ItemId) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM excerpt e JOIN link l ON l.from_kind = 'excerpt' AND l.from_id = e.id
            WHERE e.item_id = ?1 AND l.sure IS NULL)";
        Ok(self.connection.prepare_cached(sql)?.query_row([item.0], |row| row.get(0))?)
    }

    /// The source of a product with this name.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn source_named(&self, product: ProductId, name: &str) -> Result<Option<Source>> {
        let found: Vec<Source> =
            self.list("WHERE product_id = ?1 AND name = ?2 ORDER BY id DESC LIMIT 1", params![product.0, name])?;
        Ok(found.into_iter().next())
    }

    /// How many items came from the sources of this name.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn items_of_source(&self, product: ProductId, name: &str) -> Result<i64> {
        let sql = "SELECT count(*) FROM feedback_item i JOIN source s ON s.id = i.source_id
            WHERE s.product_id = ?1 AND s.name = ?2";
        Ok(self.connection.prepare_cached(sql)?.query_row(params![product.0, name], |row| row.get(0))?)
    }

    /// The mappings that were remembered for a product's sources, newest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn mappings(&self, product: ProductId) -> Result<Vec<String>> {
        let sql = "SELECT mapping FROM source WHERE product_id = ?1 AND mapping IS NOT NULL ORDER BY id DESC LIMIT 50";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_map([product.0], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }
}

impl Tx<'_> {
    /// The account of this name, made where it is not there yet.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn account_named(&mut self, name: &str) -> Result<AccountId> {
        match self.rows().account_id(name)? {
            Some(id) => Ok(id),
            None => Ok(AccountId(self.insert(ThingKind::Account, &map(json!({ "name": name })))?)),
        }
    }

    /// The person of this address, else of this name within an account; made where nobody fits. An address that was
    /// not known before is kept with the person of the name.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn person_known(
        &mut self,
        name: Option<&str>,
        address: Option<&str>,
        account: Option<AccountId>,
    ) -> Result<Option<PersonId>> {
        let Some(address) = address else {
            return name.map(|name| self.person_named(name, account)).transpose();
        };
        if let Some(id) = self.rows().person_at(address)? {
            return Ok(Some(id));
        }
        let id = self.person_named(name.unwrap_or(address), account)?;
        let row = self.rows().json(id.thing())?;
        if row["address"].is_null() {
            self.set(id.thing(), &map(json!({ "address": address })))?;
            return Ok(Some(id));
        }
        // Somebody of the same name has another address: two people.
        let name = format!("{} <{address}>", name.unwrap_or(address));
        self.add_person(&name, Some(address), account).map(Some)
    }

    /// A new person.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_person(&mut self, name: &str, address: Option<&str>, account: Option<AccountId>) -> Result<PersonId> {
        let values = json!({ "name": name, "account_id": account, "address": address });
        Ok(PersonId(self.insert(ThingKind::Person, &map(values))?))
    }

    /// The person of this name within an account, made where it is not there yet.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn person_named(&mut self, name: &str, account: Option<AccountId>) -> Result<PersonId> {
        match self.rows().person_of(name, account.map_or(0, |account| account.0))? {
            Some(id) => Ok(id),
            None => self.add_person(name, None, account),
        }
    }

    /// Notes that somebody has read an item.
    ///
    /// # Errors
    /// Where there is no such item.
    pub fn mark_read(&mut self, item: ItemId, user: i64) -> Result<()> {
        let sql = "INSERT OR IGNORE INTO reading(item_id, user_id) VALUES (?1, ?2)";
        self.rows().connection.prepare_cached(sql)?.execute([item.0, user])?;
        Ok(())
    }
}

fn map(value: Value) -> Map<String, Value> {
    match value {
        Value::Object(map) => map,
        _ => Map::new(),
    }
}

/// The words of a search as FTS5 takes them: each quoted, all wanted, the last one as a beginning.
/// Nothing where there is no word.
pub(crate) fn match_words(text: &str) -> Option<String> {
    let words: Vec<String> = text
        .split(|c: char| !c.is_alphanumeric())
        .filter(|word| !word.is_empty())
        .take(20)
        .map(|word| format!("\"{word}\""))
        .collect();
    (!words.is_empty()).then(|| format!("{}*", words.join(" ")))
}

#[cfg(test)]
mod tests {
    use super::match_words;

    #[test]
    fn what_people_type_is_never_syntax() {
        assert_eq!(match_words("pier \"cold\" OR n*").as_deref(), Some("\"pier\" \"cold\" \"OR\" \"n\"*"));
        assert_eq!(match_words("  -- "), None);
    }
}
