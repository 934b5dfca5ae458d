//! Writing epics, stories and criteria.

use iron_kite_core::decide::{Idea, IdeaState};
use iron_kite_core::fields;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::{StoryState, WorkItem};
use iron_kite_core::things::{IdeaId, Level, ProductId, Thing, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};

/// A new epic.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewEpic {
    /// The product that it is for.
    pub product_id: ProductId,
    /// The epic in a few words; the idea's words where left out.
    pub title: Option<String>,
    /// The chosen idea that becomes this epic.
    pub idea_id: Option<IdeaId>,
}

/// A new story.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewStory {
    /// The product that it is for.
    pub product_id: ProductId,
    /// Its epic.
    pub epic_id: Option<WorkItemId>,
    /// Its fields: title, and what is known already.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// Adds an epic, from a chosen idea or from nothing.
///
/// # Errors
/// Where the idea is not chosen, or the title is missing.
pub fn add_epic(app: &App, call: &Call, new: NewEpic) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let epic = put_epic(tx, new.product_id, new.idea_id, new.title)?;
        tx.label(match new.idea_id {
            Some(idea) => format!("made E{} of {idea}", epic.0),
            None => format!("added E{}", epic.0),
        });
        Ok(Some(epic.thing()))
    })
}

/// Adds an epic within a write.
pub(crate) fn put_epic(
    tx: &mut Tx<'_>,
    product: ProductId,
    idea: Option<IdeaId>,
    title: Option<String>,
) -> Result<WorkItemId, Problem> {
    tx.rows().json(product.thing())?;
    let idea: Option<Idea> = idea.map(|id| tx.rows().get(id)).transpose()?;
    if let Some(idea) = &idea
        && !matches!(idea.state, IdeaState::Chosen | IdeaState::Shipped)
    {
        let words = format!("{} is not chosen yet. Take the decision first.", idea.id);
        return Err(Problem::refused("idea-not-chosen", words));
    }
    let title = title.or_else(|| idea.as_ref().map(|idea| idea.title.clone()));
    let values = check(json!({ "title": title }), "")?;
    let epic = add(tx, product, Level::Epic, None, values)?;
    if let Some(idea) = &idea {
        tx.add_link(LinkKind::Becomes, idea.id.thing(), epic.thing())?;
    }
    Ok(epic)
}

/// Adds a story.
///
/// # Errors
/// Where a field is missing or not as it should be, or the epic is none.
pub fn add_story(app: &App, call: &Call, new: NewStory) -> Result<Saved, Problem> {
    let values = check(Value::Object(new.set), "/set")?;
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        if let Some(epic) = new.epic_id {
            let epic: WorkItem = tx.rows().get(epic)?;
            if epic.level != Level::Epic || epic.product_id != new.product_id {
                return Err(Problem::invalid("/epic_id", format!("{} is no epic of this product.", epic.reference())));
            }
        }
        let story = add(tx, new.product_id, Level::Story, new.epic_id, values)?;
        tx.label(format!("added S{}", story.0));
        Ok(Some(story.thing()))
    })
}

fn check(values: Value, pointer: &str) -> Result<Map<String, Value>, Problem> {
    fields::check_new(ThingKind::WorkItem, pointer, fields_of(values)).map_err(Problem::Invalid)
}

fn add(
    tx: &mut Tx<'_>,
    product: ProductId,
    level: Level,
    parent: Option<WorkItemId>,
    mut values: Map<String, Value>,
) -> Result<WorkItemId, Problem> {
    let position = tx.rows().next_position(ThingKind::WorkItem, "position", "product_id = ?1", [product.0])?;
    values.extend(fields_of(json!({
        "product_id": product, "level": level.name(), "parent_id": parent, "position": position,
        "map_position": position, "state": StoryState::Draft.name(),
    })));
    Ok(WorkItemId(tx.insert(ThingKind::WorkItem, &values)?))
}

/// Adds an acceptance criterion at the end of a story's.
///
/// # Errors
/// Where there are no words, or the story is none.
pub fn add_criterion(app: &App, call: &Call, story: WorkItemId, words: &str) -> Result<Saved, Problem> {
    let mut values =
        fields::check_new(ThingKind::Criterion, "", fields_of(json!({ "words": words }))).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        let item: WorkItem = tx.rows().get(story)?;
        if item.level != Level::Story {
            return Err(Problem::refused(
                "no-story",
                format!("{} is no story. Write criteria on its stories.", item.reference()),
            ));
        }
        let position = tx.rows().next_position(ThingKind::Criterion, "position", "story_id = ?1", [story.0])?;
        values.extend(fields_of(json!({ "story_id": story, "position": position })));
        let id = tx.insert(ThingKind::Criterion, &values)?;
        tx.label(format!("added a criterion to {}", item.reference()));
        Ok(Some(Thing::new(ThingKind::Criterion, id)))
    })
}
