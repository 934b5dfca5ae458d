//! Adding a thing to a collection by its fields. What comes with a file or takes more than its fields is added at its
//! stage.

use iron_kite_core::decide::{IdeaState, IncrementState};
use iron_kite_core::fields::{self, Collection};
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::{Level, ProductId, Thing};
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use super::cells::check_pointed_at;
use crate::call::{App, Call, Saved, fields as map_of};
use crate::things::{follow, name_of, right_for};

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

/// The right that it takes to add a thing by its fields. Whoever may listen may suggest an idea.
///
/// # Errors
/// Refused where the collection's things come another way.
pub(super) fn addable(collection: Collection) -> Result<Right, Problem> {
    use Collection::{CompetitorNote, Excerpt, FeedbackItem, Finding, Idea, Person, Request, RequestForm};
    match collection {
        FeedbackItem | Excerpt | Finding | Person => {
            let words = format!(
                "{} come with what people said. Bring it in, or find it, in Listen.",
                capital(collection.words())
            );
            Err(Problem::refused("comes-with-feedback", words))
        }
        CompetitorNote => {
            let words = "Notes are made in the market view, where their source is.";
            Err(Problem::refused("comes-with-source", words))
        }
        Request | RequestForm => {
            let words = "Requests come by a form, and forms are made where they are listed in Decide.";
            Err(Problem::refused("comes-by-form", words))
        }
        Idea => Ok(Right::Listen),
        _ => Ok(right_for(collection.kind())),
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

/// What the rules give a new thing.
fn begins_with(
    tx: &Tx<'_>,
    collection: Collection,
    product: ProductId,
    level: Level,
) -> Result<Map<String, Value>, Problem> {
    Ok(map_of(match collection {
        Collection::Idea => json!({ "state": IdeaState::Raw.name() }),
        Collection::Increment => {
            let position = tx.rows().next_position(collection.kind(), "position", "product_id = ?1", [product.0])?;
            json!({ "state": IncrementState::Planned.name(), "position": position })
        }
        Collection::Release => json!({ "state": ReleaseState::Planned.name() }),
        Collection::Study => json!({ "state": "planned" }),
        Collection::Document => json!({ "state": "draft" }),
        Collection::WorkItem => {
            let position = tx.rows().next_position(collection.kind(), "position", "product_id = ?1", [product.0])?;
            json!({ "level": level.name(), "position": position, "map_position": position, "state": StoryState::Draft.name() })
        }
        _ => json!({}),
    }))
}

fn capital(words: &str) -> String {
    let mut chars = words.chars();
    chars.next().map(|first| first.to_uppercase().chain(chars).collect()).unwrap_or_default()
}
