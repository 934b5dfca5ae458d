//! Objectives and what is under way for them.

use iron_kite_core::decide::Objective;
use iron_kite_core::fields;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, ObjectiveId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved};

/// An objective and the ideas that it asks for.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ObjectiveView {
    /// The objective.
    #[serde(flatten)]
    pub objective: Objective,
    /// The ideas.
    pub ideas: Vec<IdeaId>,
}

/// A new objective.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewObjective {
    /// The product that it is for.
    pub product_id: ProductId,
    /// Its fields: title, measure, `start_value`, `target_value`, and the optional ones.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// The objectives of a product.
///
/// # Errors
/// Where the right is missing.
pub fn objectives(app: &App, call: &Call, product: ProductId) -> Result<Vec<ObjectiveView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let links = rows.links(LinkKind::AsksFor, ThingKind::Objective, ThingKind::Idea)?;
        let all: Vec<Objective> = rows.list("WHERE product_id = ?1 ORDER BY id", [product.0])?;
        let ideas =
            |id: ObjectiveId| links.iter().filter(|link| link.from_id == id.0).map(|link| IdeaId(link.to_id)).collect();
        Ok(all.into_iter().map(|objective| ObjectiveView { ideas: ideas(objective.id), objective }).collect())
    })
}

/// Adds an objective.
///
/// # Errors
/// Where a field is missing or not as it should be.
pub fn add_objective(app: &App, call: &Call, new: NewObjective) -> Result<Saved, Problem> {
    let mut values = fields::check_new(ThingKind::Objective, "/set", new.set).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        values.insert("product_id".into(), new.product_id.0.into());
        let id = ObjectiveId(tx.insert(ThingKind::Objective, &values)?);
        tx.label(format!("added {id}"));
        Ok(Some(id.thing()))
    })
}
