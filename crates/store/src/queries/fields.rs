//! The fields of collections: registered ones and those that the team added.

use iron_kite_core::fields::{Collection, FieldDef, FieldType, OwnField, own_name, registered};
use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::{Connection, params};
use serde_json::{Map, Value};

use crate::error::{Error, Result};
use crate::rows::Rows;
use crate::writer::Tx;

/// The fields of all collections: a roll-up leads from one to another.
#[derive(Debug)]
pub struct Catalogue {
    own: Vec<(Collection, FieldDef)>,
}

impl Catalogue {
    /// The fields of a collection, the registered ones first; retired ones too.
    #[must_use]
    pub fn all_of(&self, collection: Collection) -> Vec<FieldDef> {
        let own = self.own.iter().filter(|(of, _)| *of == collection).map(|(_, field)| field.clone());
        registered(collection).into_iter().chain(own).collect()
    }

    /// The fields of a collection that can be looked at.
    #[must_use]
    pub fn of(&self, collection: Collection) -> Vec<FieldDef> {
        self.all_of(collection).into_iter().filter(|field| !field.retired).collect()
    }
}

impl Rows<'_> {
    /// The fields of all collections.
    ///
    /// # Errors
    /// Where the store fails or a definition cannot be read.
    pub fn catalogue(&self) -> Result<Catalogue> {
        let stored: Vec<OwnField> = self.list("ORDER BY position, id", [])?;
        let own = stored.iter().map(|field| Ok((field.collection, field.def().map_err(Error::Refused)?)));
        Ok(Catalogue { own: own.collect::<Result<_>>()? })
    }

    /// All values of one of the team's fields that are not empty, by the number of the thing.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn own_values(&self, collection: Collection, field: i64) -> Result<Vec<(i64, Value)>> {
        let sql = format!(
            "SELECT id, json_extract(own, '$.{name}', '$.none') FROM {collection}
             WHERE json_type(own, '$.{name}') IS NOT NULL ORDER BY id",
            name = own_name(field)
        );
        let mut statement = self.connection.prepare(&sql)?;
        let mut rows = statement.query([])?;
        let mut values = Vec::new();
        while let Some(row) = rows.next()? {
            // With two paths SQLite gives an array in JSON, so that every sort of value is read alike.
            let both: Vec<Value> = serde_json::from_str(row.get_ref(1)?.as_str().map_err(rusqlite::Error::from)?)?;
            values.push((row.get(0)?, both.into_iter().next().unwrap_or_default()));
        }
        Ok(values)
    }

    /// The values of the team's fields that a row has.
    ///
    /// # Errors
    /// [`Error::NotFound`] where the row is not there.
    pub fn own_of(&self, thing: Thing) -> Result<Map<String, Value>> {
        let sql = format!("SELECT own FROM {} WHERE id = ?1", thing.kind);
        let own: Option<String> = self
            .connection
            .prepare_cached(&sql)?
            .query_row([thing.id], |row| row.get(0))
            .map_err(|fault| match fault {
                rusqlite::Error::QueryReturnedNoRows => Error::NotFound(format!("{} {}", thing.kind.words(), thing.id)),
                other => other.into(),
            })?;
        Ok(own.map(|own| serde_json::from_str(&own)).transpose()?.unwrap_or_default())
    }

    /// The numbers of the things that a link field of the team joins with a thing, from either side.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn own_links(&self, field: i64, thing: Thing, forward: bool) -> Result<Vec<(i64, i64)>> {
        let (here, there) = if forward { ("from", "to") } else { ("to", "from") };
        let sql = format!(
            "SELECT id, {there}_id FROM link WHERE {here}_kind = ?1 AND {here}_id = ?2 AND kind = ?3 ORDER BY {there}_id"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement
            .query_map(params![thing.kind.name(), thing.id, own_name(field)], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}

impl Tx<'_> {
    /// Makes the index by which things are ordered and grouped by a field of the team.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn index_own_field(&mut self, field: &OwnField) -> Result<()> {
        index_one(self.rows().connection, field.collection, &field.def().map_err(Error::Refused)?)
    }

    /// Links two things by a field of the team.
    ///
    /// # Errors
    /// Where they are linked so already.
    pub fn add_own_link(&mut self, field: i64, from: Thing, to: Thing) -> Result<()> {
        let values = [
            ("kind", Value::from(own_name(field))),
            ("from_kind", Value::from(from.kind.name())),
            ("from_id", Value::from(from.id)),
            ("to_kind", Value::from(to.kind.name())),
            ("to_id", Value::from(to.id)),
        ];
        self.insert(ThingKind::Link, &values.into_iter().map(|(name, value)| (name.to_owned(), value)).collect())?;
        Ok(())
    }
}

/// Makes the indexes of all fields of the team where they are missing: after an import, a restore, or an undo.
pub(crate) fn index_own(connection: &Connection) -> Result<()> {
    let mut statement = connection.prepare("SELECT id, collection, label, definition FROM field WHERE retired = 0")?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        let collection: Collection = serde_json::from_value(Value::String(row.get(1)?))?;
        let definition: String = row.get(3)?;
        let field =
            OwnField { id: row.get(0)?, rev: 1, collection, position: 0.0, label: row.get(2)?, definition, retired: 0 };
        index_one(connection, collection, &field.def().map_err(Error::Refused)?)?;
    }
    Ok(())
}

/// One value in each row, ordered as a query orders it: text with its ASCII letters folded.
fn index_one(connection: &Connection, collection: Collection, field: &FieldDef) -> Result<()> {
    let Some(id) = field.own else { return Ok(()) };
    let collate = match field.kind {
        FieldType::Text => " COLLATE NOCASE",
        FieldType::Number { .. }
        | FieldType::Money
        | FieldType::Date
        | FieldType::Choice { .. }
        | FieldType::Member => "",
        // Long texts, several values and links give no order worth an index.
        _ => return Ok(()),
    };
    let product = if collection.is_of_product() { "product_id, " } else { "" };
    connection.execute_batch(&format!(
        "CREATE INDEX IF NOT EXISTS own_f{id}{kind} ON {collection}({product}json_extract(own, '$.f{id}'){collate});",
        kind = if collate.is_empty() { "" } else { "_text" },
    ))?;
    Ok(())
}
