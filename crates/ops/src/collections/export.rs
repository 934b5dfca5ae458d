//! What a view shows as a file, and a view as a calendar that other programs subscribe to.

use std::collections::BTreeMap;

use iron_kite_core::fields::{Collection, FieldDef, FieldRef, FieldType, Query, SavedView, Shape};
use iron_kite_core::formats::calendar::{self as ics, Event};
use iron_kite_core::formats::sheet::{Column, Sheet};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ProductId;
use iron_kite_store::queries::collections::{RowValues, Slice};
use iron_kite_store::{Rows, Way};
use jiff::civil::Date;
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;

use super::asked::Asked;
use super::{views, xlsx};
use crate::call::{App, Call};
use crate::people::{actor, hash_key};

/// The kinds of files.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum FileKind {
    Csv,
    Xlsx,
    Json,
    Markdown,
}

/// What is to be taken out.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ExportAsk {
    /// The product.
    pub product: ProductId,
    /// What the view asks for; all its rows are taken, with its fields.
    pub query: Query,
    /// The kind of file.
    pub kind: FileKind,
}

/// A file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Exported {
    /// Its name.
    pub name: String,
    /// Its media type.
    pub media_type: &'static str,
    /// Its bytes.
    pub bytes: Vec<u8>,
}

/// At most so many rows in one file; the number of a worksheet's lines is a little more than a million.
const MOST: usize = 200_000;
/// At most so many things in a calendar.
const MOST_EVENTS: usize = 5_000;

/// What a view shows, as a file.
///
/// # Errors
/// Every part of the query at fault; too large where there are more rows than fit.
pub fn export(app: &App, call: &Call, collection: Collection, ask: &ExportAsk) -> Result<Exported, Problem> {
    app.read(call, Right::Read, |rows| {
        let asked = Asked::check(rows, call, collection, ask.product, &ask.query)?;
        let sheet = sheet(rows, &asked, collection)?;
        let (ending, media_type, bytes) = match ask.kind {
            FileKind::Csv => ("csv", "text/csv; charset=utf-8", sheet.csv().map_err(Problem::Internal)?),
            FileKind::Json => ("json", "application/json", sheet.json().map_err(Problem::Internal)?),
            FileKind::Markdown => ("md", "text/markdown; charset=utf-8", sheet.markdown().into_bytes()),
            FileKind::Xlsx => (
                "xlsx",
                "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
                xlsx::write(&sheet, call.today).map_err(Problem::Internal)?,
            ),
        };
        let name = format!("{} {}.{ending}", collection.words(), call.today).replace(' ', "-");
        Ok(Exported { name, media_type, bytes })
    })
}

fn sheet(rows: &Rows<'_>, asked: &Asked, collection: Collection) -> Result<Sheet, Problem> {
    let checked = &asked.checked;
    let slice = Slice { skip: 0, limit: MOST + 1 };
    let found = rows.page_of(asked.of(), &checked.condition, &checked.order, &checked.fields, slice)?;
    if found.len() > MOST {
        return Err(Problem::TooLarge(format!("There are more than {MOST} rows. Filter first; nothing was written.")));
    }
    let members: BTreeMap<i64, String> = rows.users()?.into_iter().map(|user| (user.id, user.name)).collect();
    let defs: Vec<&FieldDef> =
        checked.fields.iter().filter_map(|field| asked.fields.iter().find(|def| def.name == field.name)).collect();
    let columns =
        defs.iter().map(|def| Column { name: def.name.clone(), label: def.label.clone(), kind: def.kind.clone() });
    let cell = |def: &FieldDef, row: &RowValues| match (row.values.get(&def.name), &def.kind) {
        (Some(value), FieldType::Member) => {
            value.as_i64().and_then(|id| members.get(&id)).map_or(Value::Null, |name| Value::from(name.as_str()))
        }
        (Some(value), _) => value.clone(),
        (None, _) => Value::Null,
    };
    Ok(Sheet {
        title: collection.words().to_owned(),
        columns: columns.collect(),
        rows: found.iter().map(|row| defs.iter().map(|def| cell(def, row)).collect()).collect(),
    })
}

/// A view as a calendar, by the secret of a link. It shows what the person who made the link may see now, and each event leads back
/// to its thing below the address `base` by which this program is reached.
///
/// # Errors
/// Not found where the link was ended or the view removed.
pub fn calendar(app: &App, call: &Call, key: &str, base: &str) -> Result<String, Problem> {
    let gone = || Problem::NotFound("calendar".into());
    let (view, owner): (SavedView, _) = app.read_open(|rows| {
        let (view, user) = rows.calendar_link(&hash_key(key))?.ok_or_else(gone)?;
        let owner = rows.users()?.into_iter().find(|one| one.id == user).ok_or_else(gone)?;
        Ok((rows.get(view).map_err(|_| gone())?, owner))
    })?;
    if view.owner_id.is_some_and(|id| id != owner.id) {
        return Err(gone());
    }
    let call = Call { actor: Some(actor(owner)), way: Way::Person, ..call.clone() };
    let definition = views::read(&view)?;
    let from = definition.from.clone().ok_or_else(gone)?;
    let names: Vec<String> = [Some(from.clone()), definition.to.clone()].into_iter().flatten().collect();
    let query = Query { fields: names, ..definition.query() };
    app.read(&call, Right::Read, |rows| {
        let asked = Asked::check(rows, &call, view.collection, view.product_id, &query)?;
        let slice = Slice { skip: 0, limit: MOST_EVENTS };
        let checked = &asked.checked;
        let found = rows.page_of(asked.of(), &checked.condition, &checked.order, &checked.fields, slice)?;
        let events: Vec<Event> = found.iter().filter_map(|row| event(&view, &checked.fields, row, base)).collect();
        Ok(ics::write(&view.name, &events, call.now))
    })
}

/// A thing on its days; nothing where it has none.
fn event(view: &SavedView, fields: &[FieldRef], row: &RowValues, base: &str) -> Option<Event> {
    let days = |field: &FieldRef| -> Option<(Date, Date)> {
        let text = row.values.get(&field.name)?.as_str()?;
        let (first, last) = if field.shape == Shape::Days { text.split_once('/')? } else { (text, text) };
        Some((first.parse().ok()?, last.parse().ok()?))
    };
    let (first, last) = days(fields.first()?)?;
    let last = fields.get(1).and_then(days).map_or(last, |(_, last)| last);
    let summary = format!("{} {}", row.reference, row.title);
    Some(Event {
        uid: format!("{}-{}@iron-kite", view.collection, row.id),
        summary: summary.trim().to_owned(),
        description: String::new(),
        url: format!("{base}/p/{}/at/{}/{}", view.product_id.0, view.collection.kind(), row.id),
        first,
        last: last.max(first),
    })
}
