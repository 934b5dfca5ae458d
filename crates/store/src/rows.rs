//! Rows of any kind, as typed records or as JSON. One way to read, add, change and remove them all.

use iron_kite_core::fields::check_held;
use iron_kite_core::kind::Prose;
use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::types::{ToSqlOutput, Value as Sql};
use rusqlite::{Connection, OptionalExtension, Params, ToSql};
use serde::Deserialize as _;
use serde::de::{DeserializeOwned, IgnoredAny};
use serde_json::{Map, Value};

use crate::error::{Error, Result};
use crate::shape::{OF_ITEM, Shape};

/// A record of core that a row of this kind holds.
pub trait Record: DeserializeOwned {
    /// The kind of thing, and so the table.
    const KIND: ThingKind;

    /// Whether what stands in its columns as JSON is what it should be.
    ///
    /// # Errors
    /// The first that is not.
    fn check_written(&self) -> serde_json::Result<()> {
        Ok(())
    }
}

/// A column that holds JSON as text, if anything.
trait Written {
    fn read<T: DeserializeOwned>(&self) -> serde_json::Result<()>;
}

impl Written for String {
    fn read<T: DeserializeOwned>(&self) -> serde_json::Result<()> {
        serde_json::from_str::<T>(self).map(drop)
    }
}

impl Written for Option<String> {
    fn read<T: DeserializeOwned>(&self) -> serde_json::Result<()> {
        self.as_ref().map_or(Ok(()), Written::read::<T>)
    }
}

macro_rules! records {
    ($($record:ty => $kind:ident $([$($column:ident: $holds:ty),*])?),* $(,)?) => {
        $(impl Record for $record {
            const KIND: ThingKind = ThingKind::$kind;

            $(fn check_written(&self) -> serde_json::Result<()> {
                $(self.$column.read::<$holds>()?;)*
                Ok(())
            })?
        })*

        /// Whether a row of a kind is a record of it, where there is one.
        fn check_record(kind: ThingKind, row: &Value) -> serde_json::Result<()> {
            match kind {
                $(ThingKind::$kind => <$record>::deserialize(row)?.check_written(),)*
                _ => Ok(()),
            }
        }
    };
}

use iron_kite_core::{
    decide, fields, handover, learn, listen, map, plan, rules, specify, talk, text, trace, workspace,
};
records! {
    workspace::Product => Product,
    listen::Source => Source,
    listen::Account => Account,
    listen::Person => Person,
    listen::FeedbackItem => FeedbackItem [turns: Vec<text::Turn>],
    listen::Excerpt => Excerpt,
    listen::Finding => Finding,
    listen::Study => Study,
    listen::Channel => Channel,
    listen::Term => Term,
    listen::Checking => Checking,
    decide::Objective => Objective,
    decide::Measurement => Measurement,
    decide::Idea => Idea,
    decide::Increment => Increment,
    decide::RequestForm => RequestForm [fields: Vec<decide::FormField>],
    decide::Request => Request,
    decide::Competitor => Competitor,
    decide::Capability => Capability,
    decide::FoundPage => FoundPage,
    decide::CompetitorNote => CompetitorNote,
    decide::Decision => Decision,
    decide::ScoringModel => ScoringModel [definition: decide::ModelDefinition],
    decide::Estimate => Estimate,
    decide::Prioritisation => Prioritisation [kept: decide::KeptRanking],
    specify::WorkItem => WorkItem,
    specify::Criterion => Criterion,
    map::Activity => Activity,
    map::Step => Step,
    plan::Release => Release,
    handover::Team => Team,
    handover::TeamColumn => TeamColumn,
    learn::Measured => Result,
    trace::Link => Link,
    fields::OwnField => Field [definition: fields::FieldType],
    fields::SavedView => View [definition: fields::ViewDefinition],
    talk::Comment => Comment,
    rules::Rule => Rule [definition: rules::RuleDefinition],
}

/// A connection and the shape of its tables: what every question goes through.
#[derive(Clone, Copy)]
pub struct Rows<'a> {
    /// The connection, for SQL of its own.
    pub connection: &'a Connection,
    pub(crate) shape: &'a Shape,
}

impl<'a> Rows<'a> {
    pub(crate) fn new(connection: &'a Connection, shape: &'a Shape) -> Self {
        Rows { connection, shape }
    }

    /// The record with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn get<R: Record>(&self, id: impl Into<i64>) -> Result<R> {
        let row = self.json(Thing::new(R::KIND, id))?;
        Ok(serde_json::from_value(row)?)
    }

    /// A thing's row as JSON, with its `rev`; the values of a team's own fields stand among the others.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn json(&self, thing: Thing) -> Result<Value> {
        let sql = format!("SELECT {} FROM {} WHERE id = ?1", self.shape.json(thing.kind), thing.kind);
        let text: Option<String> =
            self.connection.prepare_cached(&sql)?.query_row([thing.id], |row| row.get(0)).optional()?;
        match text {
            Some(text) => with_own(serde_json::from_str(&text)?),
            None => Err(Error::NotFound(format!("{} {}", thing.kind.words(), thing.id))),
        }
    }

    /// The records that some SQL behind `FROM table` picks, such as `WHERE product_id = ?1 ORDER BY id`.
    ///
    /// # Errors
    /// Where the SQL is wrong or a row does not fit.
    pub fn list<R: Record>(&self, rest: &str, params: impl Params) -> Result<Vec<R>> {
        let sql = format!("SELECT {} FROM {} {rest}", self.shape.json(R::KIND), R::KIND);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params)?;
        let mut records = Vec::new();
        while let Some(row) = rows.next()? {
            records.push(serde_json::from_str(row.get_ref(0)?.as_str().map_err(rusqlite::Error::from)?)?);
        }
        Ok(records)
    }

    /// Adds a row and returns its number. Columns that are not named take their default.
    ///
    /// # Errors
    /// Where a column does not exist or a constraint is hurt.
    pub(crate) fn insert(&self, kind: ThingKind, values: &Map<String, Value>) -> Result<i64> {
        let names: Vec<&str> = values.keys().map(String::as_str).collect();
        self.check_columns(kind, &names)?;
        let marks: Vec<String> = (1..=names.len()).map(|n| format!("?{n}")).collect();
        let columns: Vec<String> = names.iter().map(|name| format!("\"{name}\"")).collect();
        let (columns, marks) = (columns.join(", "), marks.join(", "));
        let put = |sql: &str| -> Result<usize> {
            let values = rusqlite::params_from_iter(values.values().map(Bound));
            Ok(self.connection.prepare_cached(sql)?.execute(values)?)
        };
        let item = names.iter().position(|name| kind == ThingKind::Excerpt && *name == "item_id");
        if let Some(item) = item {
            let of_item = OF_ITEM.join(", ");
            let sql = format!(
                "INSERT INTO {kind} ({columns}, {of_item}) SELECT {marks}, {of_item} FROM feedback_item WHERE id = ?{}",
                item + 1
            );
            if put(&sql)? == 1 {
                return Ok(self.connection.last_insert_rowid());
            }
        }
        put(&format!("INSERT INTO {kind} ({columns}) VALUES ({marks})"))?;
        Ok(self.connection.last_insert_rowid())
    }

    /// Changes columns of a row and raises its `rev`.
    ///
    /// # Errors
    /// [`Error::NotFound`] where the row is not there.
    pub(crate) fn update(&self, thing: Thing, values: &Map<String, Value>) -> Result<()> {
        let names: Vec<&str> = values.keys().map(String::as_str).collect();
        self.check_columns(thing.kind, &names)?;
        let mut sets: Vec<String> =
            names.iter().enumerate().map(|(n, name)| format!("\"{name}\" = ?{}", n + 2)).collect();
        sets.push("rev = rev + 1".into());
        let sql = format!("UPDATE {} SET {} WHERE id = ?1", thing.kind, sets.join(", "));
        let id = Value::from(thing.id);
        let all = std::iter::once(&id).chain(values.values()).map(Bound);
        match self.connection.prepare_cached(&sql)?.execute(rusqlite::params_from_iter(all))? {
            0 => Err(Error::NotFound(format!("{} {}", thing.kind.words(), thing.id))),
            _ => Ok(()),
        }
    }

    /// How many rows of a kind hold what could not have been written into them, and what is wrong with the first. Linear.
    pub(crate) fn strange(&self, kind: ThingKind) -> Result<Option<(usize, String)>> {
        let mut statement = self.connection.prepare(&format!("SELECT id, {} FROM {kind}", self.shape.json(kind)))?;
        let mut rows = statement.query([])?;
        let (mut count, mut first) = (0, String::new());
        while let Some(row) = rows.next()? {
            let json = row.get_ref(1)?.as_str().map_err(rusqlite::Error::from)?;
            if let Err(fault) = check_row(kind, json) {
                if count == 0 {
                    first = format!("{}: {fault}", row.get::<_, i64>(0)?);
                }
                count += 1;
            }
        }
        Ok((count > 0).then_some((count, first)))
    }

    /// Removes one row and nothing else.
    pub(crate) fn delete(&self, thing: Thing) -> Result<()> {
        let sql = format!("DELETE FROM {} WHERE id = ?1", thing.kind);
        match self.connection.prepare_cached(&sql)?.execute([thing.id])? {
            0 => Err(Error::NotFound(format!("{} {}", thing.kind.words(), thing.id))),
            _ => Ok(()),
        }
    }

    fn check_columns(&self, kind: ThingKind, names: &[&str]) -> Result<()> {
        let known = self.shape.columns(kind);
        match names.iter().find(|name| !known.iter().any(|column| column == *name)) {
            Some(name) => Err(Error::Refused(format!("a {} has no column '{name}'", kind.words()))),
            None => Ok(()),
        }
    }
}

/// Whether a row holds what its kind of thing may hold.
fn check_row(kind: ThingKind, json: &str) -> std::result::Result<(), String> {
    let row: Value = serde_json::from_str(json).map_err(|fault| fault.to_string())?;
    check_record(kind, &row).map_err(|fault| fault.to_string())?;
    let Some(columns) = row.as_object() else { return Err("it is no row".into()) };
    for column in kind.description().prose.iter().filter(|column| !matches!(column, Prose::Text(_))) {
        if let Some(held) = columns.get(column.column()).and_then(Value::as_str) {
            serde_json::from_str::<IgnoredAny>(held).map_err(|fault| format!("{}: {fault}", column.column()))?;
        }
    }
    check_held(kind, columns)
}

/// The values of a team's own fields from the column `own`, put among the columns.
fn with_own(mut row: Value) -> Result<Value> {
    if let Some(row) = row.as_object_mut()
        && let Some(Value::String(own)) = row.remove("own")
    {
        row.extend(serde_json::from_str::<Map<String, Value>>(&own)?);
    }
    Ok(row)
}

/// A JSON value as SQLite takes it.
pub(crate) struct Bound<'a>(pub(crate) &'a Value);

impl ToSql for Bound<'_> {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok(match self.0 {
            Value::Null => ToSqlOutput::Owned(Sql::Null),
            Value::Bool(yes) => ToSqlOutput::Owned(Sql::Integer(i64::from(*yes))),
            Value::Number(number) => match number.as_i64() {
                Some(whole) => ToSqlOutput::Owned(Sql::Integer(whole)),
                None => ToSqlOutput::Owned(Sql::Real(number.as_f64().unwrap_or_default())),
            },
            Value::String(text) => ToSqlOutput::Borrowed(text.as_str().into()),
            other => ToSqlOutput::Owned(Sql::Text(other.to_string())),
        })
    }
}
