//! Adding a thing to a collection by its fields. What comes with a file or takes more than its fields is added at its
//! stage.

use iron_kite_core::fields::{self, Collection};
use iron_kite_core::kind::{Adding, Initial};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{Level, ProductId, Thing, ThingKind};
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::{Map, Value};
use utoipa::ToSchema;

use super::cells::check_pointed_at;
use crate::call::{App, Call, Saved};
use crate::things::{follow, name_of};

/// A new thing.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewThing {
    /// The product that it is for.
    pub product: ProductId,
    /// For a work item: its level; a story where left out.
    pub level: Option<Level>,
    /// Its fields: what it must have, and what is known already.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// Adds a thing.
///
/// # Errors
/// Where a field is missing or not as it should be; refused where the collection's things come another way.
pub fn add_thing(app: &App, call: &Call, collection: Collection, new: NewThing) -> Result<Saved, Problem> {
    let right = addable(collection)?;
    app.save(call, right, move |tx| {
        let thing = put_in(tx, collection, new, "/set")?;
        tx.label(format!("added {}", name_of(&tx.rows(), thing)));
        Ok(Some(thing))
    })
}

/// The right that it takes to add a thing by its fields.
///
/// # Errors
/// Refused where the collection's things come another way.
pub(super) fn addable(collection: Collection) -> Result<Right, Problem> {
    match collection.kind().description().rights.add {
        Adding::ByFields(right) => Ok(right),
        Adding::Comes { code, words } => Err(Problem::refused(code, words)),
        Adding::Otherwise => {
            let words = format!("{} are not added by their fields.", capital(collection.words()));
            Err(Problem::refused("not-added-by-fields", words))
        }
    }
}

/// Adds a thing within a write. `pointer` is where its fields stand in what was sent.
pub(crate) fn put_in(tx: &mut Tx<'_>, collection: Collection, new: NewThing, pointer: &str) -> Result<Thing, Problem> {
    let (kind, level) = (collection.kind(), new.level.unwrap_or(Level::Story));
    let mut values = fields::check_new(kind, pointer, new.set).map_err(Problem::Invalid)?;
    fields::check_together(kind, pointer, &values).map_err(|fault| Problem::Invalid(vec![fault]))?;
    tx.rows().json(new.product.thing())?;
    if collection.is_of_product() {
        values.insert("product_id".into(), new.product.0.into());
    }
    for (name, value) in begins_with(tx, collection, new.product, level)? {
        values.entry(name).or_insert(value);
    }
    check_pointed_at(tx, kind, None, &values, &values, pointer)?;
    let thing = Thing::new(kind, tx.insert(kind, &values)?);
    follow(tx, thing)?;
    Ok(thing)
}

/// What a new thing begins with, by the description of its kind; a work item stands at its level.
fn begins_with(
    tx: &Tx<'_>,
    collection: Collection,
    product: ProductId,
    level: Level,
) -> Result<Map<String, Value>, Problem> {
    let kind = collection.kind();
    let mut values = Map::new();
    for (column, initial) in kind.description().begins {
        let value = match initial {
            Initial::Is(name) => Value::from(*name),
            Initial::Last => Value::from(tx.rows().next_position(kind, column, "product_id = ?1", [product.0])?),
        };
        values.insert((*column).to_owned(), value);
    }
    if kind == ThingKind::WorkItem {
        values.insert("level".into(), level.name().into());
    }
    Ok(values)
}

fn capital(words: &str) -> String {
    let mut chars = words.chars();
    chars.next().map(|first| first.to_uppercase().chain(chars).collect()).unwrap_or_default()
}
