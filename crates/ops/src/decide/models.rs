//! Scoring models: those that come with the product, those that a team made, and which one a product ranks by.

use iron_kite_core::decide::{Method, ModelDefinition, Scorer, ScoringModel, UsedModel, Weighed, first_model, weigh};
use iron_kite_core::fields::{Collection, FieldDef, Shape};
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_core::workspace::Product;
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};

/// A scoring model as it can be chosen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ModelView {
    /// How it is named where it is used: `rice`, or its number.
    pub key: String,
    /// Its number, where the team made it.
    pub id: Option<i64>,
    /// Its revision, which is its version.
    pub rev: Option<i64>,
    /// What it is.
    pub definition: ModelDefinition,
    /// The formula as it is computed.
    pub formula: String,
    /// Whether the product ranks by it.
    pub used: bool,
}

/// A new model, or a model's new definition.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ModelInput {
    /// The product.
    pub product: ProductId,
    /// The revision that was seen, where it is there already.
    pub rev: Option<i64>,
    /// What it is to be.
    pub definition: ModelDefinition,
}

/// Which model a product is to rank by.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct UseModel {
    /// The product.
    pub product: ProductId,
    /// The model's key.
    pub key: String,
}

/// Comparisons of criteria by pairs.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Pairs {
    /// How many criteria there are.
    pub count: usize,
    /// How often each weighs as much as each later one, row by row.
    pub pairs: Vec<f64>,
}

/// What a product ranks by before anybody chose.
const FIRST: Method = Method::Rice;

/// The models of a product.
///
/// # Errors
/// Where the right is missing.
pub fn models(app: &App, call: &Call, product: ProductId) -> Result<Vec<ModelView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let used = used_key(rows, product)?;
        let first = Method::ALL.into_iter().filter(|method| *method != Method::Own).map(|method| {
            (method.name().to_owned(), UsedModel { id: None, version: None, definition: first_model(method) })
        });
        let own = rows.all_of::<ScoringModel>(product)?.into_iter().map(|row| Ok((row.id.to_string(), read(&row)?)));
        let all = first.map(Ok).chain(own).collect::<Result<Vec<_>, Problem>>()?;
        Ok(all
            .into_iter()
            .map(|(key, model)| ModelView {
                used: key == used,
                formula: model.definition.formula_text(),
                id: model.id,
                rev: model.version,
                definition: model.definition,
                key,
            })
            .collect())
    })
}

/// Keeps a model of a team's own: a new one, or a new version.
///
/// # Errors
/// Every fault at its place; where it was changed since.
pub fn keep_model(app: &App, call: &Call, id: Option<i64>, input: ModelInput) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        check(&tx.rows(), &input.definition)?;
        let title = input.definition.title.clone();
        let text = serde_json::to_string(&input.definition).map_err(|fault| Problem::Internal(fault.to_string()))?;
        let thing = match id {
            Some(id) => {
                let thing = Thing::new(ThingKind::ScoringModel, id);
                tx.update(thing, input.rev.unwrap_or_default(), &fields_of(json!({ "definition": text })))?;
                tx.label(format!("changed the scoring model {title}"));
                thing
            }
            None => {
                tx.rows().get::<Product>(input.product)?;
                let values = fields_of(json!({ "product_id": input.product, "definition": text }));
                let id = tx.insert(ThingKind::ScoringModel, &values)?;
                tx.label(format!("added the scoring model {title}"));
                Thing::new(ThingKind::ScoringModel, id)
            }
        };
        Ok(Some(thing))
    })
}

/// Says by which model a product ranks.
///
/// # Errors
/// Where there is no such model.
pub fn use_model(app: &App, call: &Call, ask: UseModel) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let model = model_of(&tx.rows(), ask.product, Some(&ask.key))?;
        let product = Thing::new(ThingKind::Product, ask.product.0);
        tx.set(product, &fields_of(json!({ "model": ask.key })))?;
        tx.label(format!("ranked by {}", model.definition.title));
        Ok(Some(product))
    })
}

/// The weights that follow from comparisons by pairs.
///
/// # Errors
/// Where a comparison is missing or beyond the scale.
pub fn weights(app: &App, call: &Call, ask: &Pairs) -> Result<Weighed, Problem> {
    app.read(call, Right::Read, |_| weigh(ask.count, &ask.pairs).map_err(|words| Problem::invalid("/pairs", words)))
}

fn used_key(rows: &Rows<'_>, product: ProductId) -> Result<String, Problem> {
    let product: Product = rows.get(product)?;
    // A model that was taken away is no more used.
    let there = |key: &String| match key.parse::<i64>() {
        Ok(id) => rows.get::<ScoringModel>(id).is_ok(),
        Err(_) => true,
    };
    Ok(product.model.filter(there).unwrap_or_else(|| FIRST.name().to_owned()))
}

/// The model of this key; the one that the product ranks by where none is named.
pub(super) fn model_of(rows: &Rows<'_>, product: ProductId, key: Option<&str>) -> Result<UsedModel, Problem> {
    let key = match key {
        Some(key) => key.to_owned(),
        None => used_key(rows, product)?,
    };
    if let Some(method) = Method::ALL.into_iter().find(|method| method.name() == key) {
        return Ok(UsedModel { id: None, version: None, definition: first_model(method) });
    }
    let id: i64 = key.parse().map_err(|_| Problem::NotFound(format!("scoring model {key}")))?;
    let row: ScoringModel = rows.get(id)?;
    if row.product_id != product.0 {
        return Err(Problem::NotFound(format!("scoring model {key}")));
    }
    read(&row)
}

/// The key under which a model is used.
pub(super) fn key_of(model: &UsedModel) -> String {
    model.id.map_or_else(|| model.definition.method.name().to_owned(), |id| id.to_string())
}

fn read(row: &ScoringModel) -> Result<UsedModel, Problem> {
    let definition = serde_json::from_str(&row.definition)
        .map_err(|fault| Problem::Internal(format!("model {}: {fault}", row.id)))?;
    Ok(UsedModel { id: Some(row.id), version: Some(row.rev), definition })
}

/// Checks a model against itself and the fields of ideas.
pub(super) fn check(rows: &Rows<'_>, definition: &ModelDefinition) -> Result<Scorer, Problem> {
    let within = |fault: Fault| Fault::new(format!("/definition{}", fault.field), fault.words);
    let scorer = definition.check().map_err(|faults| Problem::Invalid(faults.into_iter().map(within).collect()))?;
    let catalogue = rows.catalogue()?;
    let fields = catalogue.of(Collection::Idea);
    let faults: Vec<Fault> = definition
        .criteria
        .iter()
        .enumerate()
        .filter(|(_, one)| !fields.iter().any(|field| is_number(field) && field.name == one.field))
        .map(|(n, one)| {
            let words = format!("Ideas have no field '{}' that holds a number. Choose another.", one.field);
            Fault::new(format!("/definition/criteria/{n}/field"), words)
        })
        .collect();
    if faults.is_empty() { Ok(scorer) } else { Err(Problem::Invalid(faults)) }
}

/// Whether a field can be a criterion.
pub(super) fn is_number(field: &FieldDef) -> bool {
    field.shape == Shape::Number
}
