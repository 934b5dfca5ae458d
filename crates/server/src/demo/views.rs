//! The demo's own fields, their values, and its saved views, from `demo/views.json`.
//!
//! Fields stand there under keys; a name that begins with `$` stands for the field with that key.

use std::collections::{BTreeMap, HashMap};

use iron_kite_core::fields::{Collection, OwnFieldInput};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{ProductId, Thing};
use iron_kite_ops::collections::{self, CellChange, CellChanges, Paste, PasteRow, RowsAsk, ViewInput};
use iron_kite_ops::{App, Call, listen, things};
use serde::Deserialize;
use serde_json::{Map, Value, json};

#[derive(Deserialize)]
pub(crate) struct DemoViews {
    pub(crate) product: String,
    fields: Vec<DemoField>,
    ideas: BTreeMap<String, BTreeMap<String, String>>,
    stories: BTreeMap<String, BTreeMap<String, String>>,
    feedback: DemoFeedback,
    views: Vec<DemoView>,
}

#[derive(Deserialize)]
struct DemoField {
    key: String,
    collection: Collection,
    field: OwnFieldInput,
}

/// The place is one of the columns that the import did not map.
#[derive(Deserialize)]
struct DemoFeedback {
    place: Vec<String>,
}

#[derive(Deserialize)]
struct DemoView {
    collection: Collection,
    name: String,
    #[serde(default)]
    opens_first: bool,
    definition: Value,
}

/// Adds fields, values and views to a product of the demo; `thing` finds what its files name.
pub(crate) fn load(
    app: &App,
    call: &Call,
    product: ProductId,
    demo: DemoViews,
    thing: impl Fn(&str) -> Result<Thing, Problem>,
) -> Result<(), Problem> {
    let mut names: HashMap<String, String> = HashMap::new();
    for field in demo.fields {
        let saved = collections::add_field(app, call, field.collection, field.field)?;
        names.insert(field.key, format!("f{}", saved.thing.map(|thing| thing.id).unwrap_or_default()));
    }
    let team = collections::team(app, call)?;
    let text = |key: &str, text: &str| match team.iter().find(|one| key == "owner" && one.name == text) {
        Some(one) => one.id.to_string(),
        None => text.to_owned(),
    };
    for (collection, values) in [(Collection::Idea, demo.ideas), (Collection::WorkItem, demo.stories)] {
        for (key, cells) in values {
            let of = thing(&key)?;
            let rows = vec![PasteRow { id: of.id, rev: things::rev_of(app, call, of)? }];
            let fields = cells.keys().map(|key| names.get(key).cloned().unwrap_or_default()).collect();
            let cells = vec![cells.iter().map(|(key, value)| text(key, value)).collect()];
            collections::paste(app, call, collection, &Paste { product, rows, fields, cells })?;
        }
    }
    places(app, call, product, &demo.feedback.place, &names)?;
    for view in demo.views {
        let definition = serde_json::from_value(named(view.definition, &names))
            .map_err(|fault| Problem::Internal(format!("the demo's view {}: {fault}", view.name)))?;
        let input =
            ViewInput { name: view.name, shared: true, opens_first: view.opens_first, position: None, definition };
        collections::add_view(app, call, product, view.collection, input)?;
    }
    Ok(())
}

fn places(
    app: &App,
    call: &Call,
    product: ProductId,
    places: &[String],
    names: &HashMap<String, String>,
) -> Result<(), Problem> {
    let (Some(place), Some(answered)) = (names.get("place"), names.get("answered")) else { return Ok(()) };
    let query = serde_json::from_value(json!({ "fields": ["read"] })).unwrap_or_default();
    let ask = RowsAsk { product, query, within: Vec::new(), only: Vec::new(), skip: 0, limit: Some(500) };
    let mut changes = Vec::new();
    for row in collections::rows(app, call, Collection::FeedbackItem, &ask)?.rows {
        let extra = listen::item(app, call, row.id.into())?.item.extra.unwrap_or_default();
        let found = places.iter().position(|place| extra.contains(place.as_str()));
        let mut set = Map::new();
        if let Some(n) = found {
            set.insert(place.clone(), Value::from(format!("c{}", n + 1)));
        }
        if row.values.get("read") == Some(&Value::Bool(true)) && row.id % 3 == 0 {
            set.insert(answered.clone(), Value::Bool(true));
        }
        if !set.is_empty() {
            changes.push(CellChange { id: row.id, rev: row.rev, set });
        }
    }
    collections::change_cells(app, call, Collection::FeedbackItem, CellChanges { product, changes }).map(drop)
}

/// Puts the names of the fields in the place of their keys, wherever one stands.
fn named(value: Value, names: &HashMap<String, String>) -> Value {
    match value {
        Value::String(text) => {
            let name = text.strip_prefix('$').and_then(|key| names.get(key)).cloned();
            Value::String(name.unwrap_or(text))
        }
        Value::Array(all) => all.into_iter().map(|one| named(one, names)).collect(),
        Value::Object(map) => map.into_iter().map(|(key, one)| (key, named(one, names))).collect(),
        other => other,
    }
}
