//! Map: the backbone, and where stories lie on it.

use iron_kite_core::fields;
use iron_kite_core::map::{Activity, Place, Step, place};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{ActivityId, Level, ProductId, ReleaseId, StepId, Thing, ThingKind, WorkItemId};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};

/// The backbone of a product's map.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Backbone {
    /// The activities from left to right, each with its steps.
    pub activities: Vec<ActivityView>,
}

/// An activity with its steps.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ActivityView {
    /// The activity.
    #[serde(flatten)]
    pub activity: Activity,
    /// Its steps from left to right.
    pub steps: Vec<Step>,
}

/// A new activity or step.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewTitled {
    /// A few words.
    pub title: String,
}

/// Where a story goes on the map.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct MapPlace {
    /// The revision of the story that was seen.
    pub rev: i64,
    /// The step that it hangs below; none takes it off the map.
    pub step_id: Option<StepId>,
    /// The slice; none for "not in a release yet".
    pub release_id: Option<ReleaseId>,
    /// The story that it goes before; none for the end of the cell.
    pub before: Option<WorkItemId>,
}

/// The backbone of a product's map.
///
/// # Errors
/// Where the right is missing.
pub fn backbone(app: &App, call: &Call, product: ProductId) -> Result<Backbone, Problem> {
    app.read(call, Right::Read, |rows| {
        let activities: Vec<Activity> = rows.list("WHERE product_id = ?1 ORDER BY position, id", [product.0])?;
        let steps: Vec<Step> = rows.list(
            "WHERE activity_id IN (SELECT id FROM activity WHERE product_id = ?1) ORDER BY position, id",
            [product.0],
        )?;
        let of = |activity: ActivityId| steps.iter().filter(|step| step.activity_id == activity).cloned().collect();
        let view = |activity: Activity| ActivityView { steps: of(activity.id), activity };
        Ok(Backbone { activities: activities.into_iter().map(view).collect() })
    })
}

/// Adds an activity at the right end.
///
/// # Errors
/// Where the title is missing.
pub fn add_activity(app: &App, call: &Call, product: ProductId, new: NewTitled) -> Result<Saved, Problem> {
    add_titled(app, call, ThingKind::Activity, product.thing(), new)
}

/// Adds a step at the right end of an activity.
///
/// # Errors
/// Where the title is missing or the activity is none.
pub fn add_step(app: &App, call: &Call, activity: ActivityId, new: NewTitled) -> Result<Saved, Problem> {
    add_titled(app, call, ThingKind::Step, activity.thing(), new)
}

fn add_titled(app: &App, call: &Call, kind: ThingKind, parent: Thing, new: NewTitled) -> Result<Saved, Problem> {
    let mut values = fields::check_new(kind, "", fields_of(json!({ "title": new.title }))).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(parent)?;
        let column = format!("{}_id", parent.kind);
        let position = tx.rows().next_position(kind, "position", &format!("{column} = ?1"), [parent.id])?;
        values.insert(column, parent.id.into());
        values.insert("position".into(), position.into());
        let id = tx.insert(kind, &values)?;
        tx.label(format!("added {} \"{}\"", article(kind), new.title.trim()));
        Ok(Some(Thing::new(kind, id)))
    })
}

fn article(kind: ThingKind) -> String {
    let words = kind.words();
    let an = words.starts_with(['a', 'e', 'i', 'o', 'u']);
    format!("{} {words}", if an { "an" } else { "a" })
}

/// Puts a story in a cell of the map: below a step, in a release, before another story.
///
/// # Errors
/// Where it was changed since, or step and release belong to another product.
pub fn place_story(app: &App, call: &Call, id: WorkItemId, to: MapPlace) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        tx.expect(id.thing(), to.rev)?;
        let rows = tx.rows();
        let story: WorkItem = rows.get(id)?;
        if story.level != Level::Story {
            return Err(Problem::refused("no-story", format!("{} is no story. Only stories lie on the map.", story.reference())));
        }
        check_cell(&rows, story.product_id, to)?;
        let cell: Vec<WorkItem> = rows.list(
            "WHERE product_id = ?1 AND level = 'story' AND step_id IS ?2 AND release_id IS ?3 AND id <> ?4 ORDER BY map_position, id",
            (story.product_id.0, to.step_id.map(i64::from), to.release_id.map(i64::from), id.0),
        )?;
        let cell: Vec<(Thing, f64)> = cell.iter().map(|other| (other.id.thing(), other.map_position)).collect();
        let own = make_room(tx, "map_position", &cell, to.before.map(WorkItemId::thing))?;
        let values = json!({ "step_id": to.step_id, "release_id": to.release_id, "map_position": own });
        tx.set(id.thing(), &fields_of(values))?;
        tx.label(format!("moved {} on the map", story.reference()));
        Ok(Some(id.thing()))
    })
}

/// The position of a thing that goes before another in an ordered list, or to its end. Where the list
/// has no room left there, all of it is numbered anew. `others` are the list without the thing.
pub(crate) fn make_room(
    tx: &mut Tx<'_>,
    column: &str,
    others: &[(Thing, f64)],
    before: Option<Thing>,
) -> Result<f64, Problem> {
    let positions: Vec<f64> = others.iter().map(|(_, position)| *position).collect();
    let at = before.and_then(|before| others.iter().position(|(other, _)| *other == before));
    match place(&positions, at) {
        Place::At(own) => Ok(own),
        Place::Anew { others: anew, own } => {
            for ((other, _), position) in others.iter().zip(anew) {
                tx.set(*other, &fields_of(json!({ column: position })))?;
            }
            Ok(own)
        }
    }
}

fn check_cell(rows: &Rows<'_>, product: ProductId, to: MapPlace) -> Result<(), Problem> {
    if let Some(step) = to.step_id {
        let step: Step = rows.get(step)?;
        let activity: Activity = rows.get(step.activity_id)?;
        if activity.product_id != product {
            return Err(Problem::invalid("/step_id", "This step belongs to another product's map."));
        }
    }
    if let Some(release) = to.release_id {
        let release: iron_kite_core::plan::Release = rows.get(release)?;
        if release.product_id != product {
            return Err(Problem::invalid("/release_id", "This release belongs to another product."));
        }
    }
    Ok(())
}
