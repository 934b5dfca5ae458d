//! Saved views, and the links by which other programs subscribe to a calendar.

use iron_kite_core::fields::{Collection, Context, SavedView, ViewDefinition, check_view};
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::Right;
use iron_kite_core::text::visible_line;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::people::{hash_key, new_key};

/// A view as it is to be kept.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ViewInput {
    /// What people call it.
    pub name: String,
    /// Whether everybody sees it.
    pub shared: bool,
    /// Whether it is what the collection opens with, for everybody.
    #[serde(default)]
    pub opens_first: bool,
    /// Its place among the views.
    pub position: Option<f64>,
    /// What it is.
    pub definition: ViewDefinition,
}

/// A saved view.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ViewView {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// What people call it.
    pub name: String,
    /// Whether everybody sees it.
    pub shared: bool,
    /// Whether it is what the collection opens with.
    pub opens_first: bool,
    /// Its place among the views.
    pub position: f64,
    /// What it is.
    pub definition: ViewDefinition,
    /// How many calendar links lead to it.
    pub calendar_links: i64,
}

/// The secret of a new calendar link. It is shown once and kept nowhere.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct CalendarKey {
    /// The path of the calendar, with the secret in it.
    pub path: String,
}

/// The views of a collection that the person may see, in their order.
///
/// # Errors
/// Where the right is missing.
pub fn views(app: &App, call: &Call, product: ProductId, collection: Collection) -> Result<Vec<ViewView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let saved = rows.views(product, collection, me(call))?;
        saved.into_iter().map(|view| view_of(rows, view)).collect()
    })
}

fn me(call: &Call) -> Option<i64> {
    call.user_id()
}

fn view_of(rows: &Rows<'_>, view: SavedView) -> Result<ViewView, Problem> {
    Ok(ViewView {
        calendar_links: rows.calendar_links(view.id)?,
        definition: read(&view)?,
        id: view.id,
        rev: view.rev,
        name: view.name,
        shared: view.owner_id.is_none(),
        opens_first: view.opens_first != 0,
        position: view.position,
    })
}

pub(super) fn read(view: &SavedView) -> Result<ViewDefinition, Problem> {
    serde_json::from_str(&view.definition).map_err(|fault| Problem::Internal(format!("view {}: {fault}", view.id)))
}

/// A private view is everybody's own affair; a shared one takes an editor.
fn right_for(shared: bool) -> Right {
    if shared { Right::Edit } else { Right::Read }
}

/// How a view is called where others hear of it: the name of a private one is nobody else's.
fn called(shared: bool, name: &str) -> String {
    if shared { format!("the view \"{}\"", name.trim()) } else { "a private view".into() }
}

/// Keeps a view.
///
/// # Errors
/// Every part at fault.
pub fn add_view(
    app: &App,
    call: &Call,
    product: ProductId,
    collection: Collection,
    input: ViewInput,
) -> Result<Saved, Problem> {
    let (today, me) = (call.today, me(call));
    app.save(call, right_for(input.shared || input.opens_first), move |tx| {
        tx.rows().json(product.thing())?;
        let mut values = check(tx, collection, &input, today, me)?;
        let name = collection.kind().name();
        let last = tx.rows().next_position(
            ThingKind::View,
            "position",
            "product_id = ?1 AND collection = ?2",
            (product.0, name),
        )?;
        values.extend(fields(json!({
            "product_id": product, "collection": name, "position": input.position.unwrap_or(last),
        })));
        if input.opens_first {
            open_no_other_first(tx, product, collection, 0)?;
        }
        let id = tx.insert(ThingKind::View, &values)?;
        tx.label(format!("added {}", called(input.shared, &input.name)));
        Ok(Some(Thing::new(ThingKind::View, id)))
    })
}

fn check(
    tx: &Tx<'_>,
    collection: Collection,
    input: &ViewInput,
    today: jiff::civil::Date,
    me: Option<i64>,
) -> Result<serde_json::Map<String, serde_json::Value>, Problem> {
    let name = visible_line(&input.name);
    let mut faults = Vec::new();
    if name.is_empty() || name.chars().count() > 80 {
        faults.push(Fault::new("/name", "Give the view a name of 1 to 80 characters."));
    }
    let known = tx.rows().catalogue()?.of(collection);
    let context = Context { fields: &known, today, me };
    if let Err(found) = check_view(&input.definition, &context) {
        faults.extend(found.into_iter().map(|fault| Fault::new(format!("/definition{}", fault.field), fault.words)));
    }
    if !faults.is_empty() {
        return Err(Problem::Invalid(faults));
    }
    let definition = serde_json::to_string(&input.definition).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let owner = if input.shared { None } else { me };
    Ok(fields(json!({
        "name": name, "owner_id": owner, "opens_first": i64::from(input.opens_first), "definition": definition,
    })))
}

fn open_no_other_first(tx: &mut Tx<'_>, product: ProductId, collection: Collection, but: i64) -> Result<(), Problem> {
    let others: Vec<SavedView> = tx.rows().views(product, collection, None)?;
    for other in others.iter().filter(|other| other.id != but && other.opens_first != 0) {
        tx.set(Thing::new(ThingKind::View, other.id), &fields(json!({ "opens_first": 0 })))?;
    }
    Ok(())
}

/// A view that the person may change: a private one of her own, or a shared one.
fn mine(app: &App, call: &Call, id: i64) -> Result<SavedView, Problem> {
    let view: SavedView = app.read(call, Right::Read, |rows| Ok(rows.get(id)?))?;
    // Somebody else's private view is as if it were not there.
    if view.owner_id.is_some() && view.owner_id != me(call) {
        return Err(Problem::NotFound("view".into()));
    }
    app.read(call, right_for(view.owner_id.is_none()), |_| Ok(view))
}

/// Changes a view.
///
/// # Errors
/// Every part at fault; stale where it was changed since.
pub fn change_view(app: &App, call: &Call, id: i64, rev: i64, input: ViewInput) -> Result<Saved, Problem> {
    let view = mine(app, call, id)?;
    let (today, me) = (call.today, me(call));
    let right = right_for(view.owner_id.is_none() || input.shared || input.opens_first);
    app.save(call, right, move |tx| {
        let mut values = check(tx, view.collection, &input, today, me)?;
        if let Some(position) = input.position {
            values.insert("position".into(), position.into());
        }
        if input.opens_first {
            open_no_other_first(tx, view.product_id, view.collection, id)?;
        }
        let thing = Thing::new(ThingKind::View, id);
        tx.update(thing, rev, &values)?;
        tx.label(format!("changed {}", called(view.owner_id.is_none() && input.shared, &input.name)));
        Ok(Some(thing))
    })
}

/// Removes a view. What it shows is not touched; its calendar links end.
///
/// # Errors
/// Stale where it was changed since.
pub fn remove_view(app: &App, call: &Call, id: i64, rev: i64) -> Result<Saved, Problem> {
    let view = mine(app, call, id)?;
    app.save(call, right_for(view.owner_id.is_none()), move |tx| {
        let thing = Thing::new(ThingKind::View, id);
        tx.expect(thing, rev)?;
        tx.label(format!("removed {}", called(view.owner_id.is_none(), &view.name)));
        tx.remove(thing)?;
        Ok(None)
    })
}

/// Makes a link by which other programs subscribe to a view as a calendar. Whoever has the link sees what the person
/// who made it may see, until it is ended.
///
/// # Errors
/// Refused where the view has no dates.
pub fn share_calendar(app: &App, call: &Call, id: i64) -> Result<CalendarKey, Problem> {
    let view = mine(app, call, id)?;
    let me = me(call).ok_or(Problem::NotSignedIn)?;
    if read(&view)?.from.is_none() {
        let words =
            "The view says no date by which its things stand in a calendar. Choose one and save the view first.";
        return Err(Problem::refused("view-without-dates", words));
    }
    let key = new_key()?;
    let (hash, at) = (hash_key(&key), call.now.as_millisecond());
    app.write(call, right_for(view.owner_id.is_none()), move |tx| Ok(tx.add_calendar_link(&hash, id, me, at)?))?;
    Ok(CalendarKey { path: format!("/api/v1/calendars/{key}.ics") })
}

/// Ends all calendar links of a view.
///
/// # Errors
/// Where it has none.
pub fn end_calendar(app: &App, call: &Call, id: i64) -> Result<(), Problem> {
    let view = mine(app, call, id)?;
    app.write(call, right_for(view.owner_id.is_none()), move |tx| Ok(tx.end_calendar_links(id)?)).map(drop)
}
