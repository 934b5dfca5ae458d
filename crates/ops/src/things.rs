//! Editing, removing and linking anything along the line: one way for all kinds.

use iron_kite_core::decide::{Idea, after_estimate};
use iron_kite_core::fields::{Collection, line_link};
use iron_kite_core::plan::would_close;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{IdeaId, Level, Thing, ThingKind, WorkItemId, changed, with_article};
use iron_kite_core::trace::{LinkKind, check_link};
use iron_kite_store::{Rows, Tx};
use serde::Deserialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::collections::write_fields;

/// New values for some fields of a thing, by a person who saw it at a revision.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Edit {
    /// The revision that was seen.
    pub rev: i64,
    /// The fields and their new values; nothing or empty text clears an optional one.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// Two things and how they are linked.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct LinkEnds {
    /// What the link says.
    pub kind: LinkKind,
    /// The end nearer to the words.
    pub from: Thing,
    /// The end nearer to the result.
    pub to: Thing,
}

/// The right that it takes to set some fields. A link takes the right to change what it leads to: to put a finding behind an
/// idea is more than to listen.
pub(crate) fn right_to_set<'a>(kind: ThingKind, names: impl Iterator<Item = &'a String>) -> Right {
    let collection = Collection::of(kind);
    let right = |name: &String| match collection.and_then(|collection| line_link(collection, name)) {
        Some(link) if link.forward => link.to.kind().right_to_change(),
        _ => kind.right_to_change(),
    };
    names.map(right).max().unwrap_or(kind.right_to_change())
}

/// Makes sure that whoever asks may know of a thing: what somebody else keeps for themselves is as if it were not there.
pub(crate) fn check_seen(rows: &Rows<'_>, call: &Call, thing: Thing) -> Result<(), Problem> {
    if thing.kind != ThingKind::View {
        return Ok(());
    }
    // Of a view that was removed, the history is its owner's, too.
    let owner = match rows.json(thing) {
        Ok(view) => view["owner_id"].as_i64(),
        Err(_) => rows.last_owner(thing)?,
    };
    if owner.is_none() || owner == call.user_id() { Ok(()) } else { Err(Problem::NotFound("view".into())) }
}

/// Changes fields of a thing.
///
/// # Errors
/// Faults of the fields; [`Problem::Stale`] with the present values where it was changed since.
pub fn edit(app: &App, call: &Call, thing: Thing, edit: Edit) -> Result<Saved, Problem> {
    app.save(call, right_to_set(thing.kind, edit.set.keys()), move |tx| {
        let catalogue = tx.rows().catalogue()?;
        let edited = write_fields(tx, &catalogue, thing, edit.rev, edit.set, "/set")?;
        if edited.labels.is_empty() {
            return Ok(Some(thing));
        }
        tx.label(changed(&edited.labels, &name_of(&tx.rows(), thing)));
        follow(tx, thing)?;
        Ok(Some(thing))
    })
}

/// What follows from an edit by a rule.
pub(crate) fn follow(tx: &mut Tx<'_>, thing: Thing) -> Result<(), Problem> {
    if thing.kind == ThingKind::Idea {
        let idea: Idea = tx.rows().get(IdeaId(thing.id))?;
        let state = after_estimate(&idea);
        if state != idea.state {
            tx.set(thing, &fields_of(json!({ "state": state.name() })))?;
        }
    }
    Ok(())
}

/// Removes a thing with what cannot be without it: an epic's stories, an idea's decisions. Undo brings all of it back.
///
/// # Errors
/// Where the kind cannot be removed by hand, or the thing was changed since.
pub fn remove(app: &App, call: &Call, thing: Thing, rev: i64) -> Result<Saved, Problem> {
    let Some(right) = thing.kind.description().rights.remove else {
        let words =
            format!("{} is not removed by itself. Undo the change that brought it.", with_article(thing.kind.words()));
        return Err(Problem::refused("not-removable", words));
    };
    app.save(call, right, move |tx| {
        tx.expect(thing, rev)?;
        tx.label(format!("removed {}", name_of(&tx.rows(), thing)));
        tx.remove(thing)?;
        Ok(None)
    })
}

/// Links two things.
///
/// # Errors
/// Where they do not go together, one is not there, or dependencies would run in a circle.
pub fn link(app: &App, call: &Call, ends: LinkEnds) -> Result<Saved, Problem> {
    app.save(call, link_right(ends), move |tx| {
        tx.label(link_words(&tx.rows(), ends, true));
        make_link(tx, ends)?;
        Ok(Some(ends.to))
    })
}

/// Links two things under the rules of the line. Whoever puts an excerpt behind a finding overrules who said that it does not
/// belong there.
pub(crate) fn make_link(tx: &mut Tx<'_>, ends: LinkEnds) -> Result<(), Problem> {
    check_link(ends.kind, ends.from, ends.to)?;
    let rows = tx.rows();
    check_same_product(&rows, ends.from, ends.to)?;
    if ends.kind == LinkKind::AsksFor && ends.to.kind == ThingKind::WorkItem {
        check_initiative(&rows, WorkItemId(ends.to.id))?;
    }
    if ends.kind == LinkKind::NeededBy {
        check_circle(&rows, ends.from, ends.to)?;
    }
    if is_evidence(ends)
        && let Some(never) = rows.link(LinkKind::NotSame, ends.from, ends.to)?
    {
        tx.remove(Thing::new(ThingKind::Link, never))?;
    }
    Ok(tx.add_link(ends.kind, ends.from, ends.to)?)
}

/// Takes a link away as a person does: an excerpt that was taken from a finding does not come back to it by itself.
pub(crate) fn drop_link(tx: &mut Tx<'_>, ends: LinkEnds) -> Result<(), Problem> {
    let link = tx.rows().link(ends.kind, ends.from, ends.to)?;
    let link = link.ok_or_else(|| Problem::NotFound("link of this sort".into()))?;
    tx.remove(Thing::new(ThingKind::Link, link))?;
    if is_evidence(ends) {
        tx.add_link(LinkKind::NotSame, ends.from, ends.to)?;
    }
    Ok(())
}

/// Whether a link puts an excerpt behind a finding.
fn is_evidence(ends: LinkEnds) -> bool {
    (ends.kind, ends.from.kind, ends.to.kind) == (LinkKind::Supports, ThingKind::Excerpt, ThingKind::Finding)
}

/// Things of two products are not linked; people and accounts belong to all of them.
pub(crate) fn check_same_product(rows: &Rows<'_>, one: Thing, other: Thing) -> Result<(), Problem> {
    match (rows.product_of(one)?, rows.product_of(other)?) {
        (Some(a), Some(b)) if a != b => Err(Problem::refused(
            "other-product",
            format!("{} and {} belong to different products.", name_of(rows, one), name_of(rows, other)),
        )),
        _ => Ok(()),
    }
}

/// Takes a link away.
///
/// # Errors
/// Where the two are not linked so.
pub fn unlink(app: &App, call: &Call, ends: LinkEnds) -> Result<Saved, Problem> {
    app.save(call, link_right(ends), move |tx| {
        tx.label(link_words(&tx.rows(), ends, false));
        drop_link(tx, ends)?;
        Ok(Some(ends.to))
    })
}

/// A link takes the right to change what it leads to.
fn link_right(ends: LinkEnds) -> Right {
    ends.to.kind.right_to_change()
}

fn check_initiative(rows: &Rows<'_>, id: WorkItemId) -> Result<(), Problem> {
    let item: WorkItem = rows.get(id)?;
    if item.level == Level::Initiative {
        return Ok(());
    }
    let words = format!("{} is no initiative. Work below one serves an objective by its idea.", item.reference());
    Err(Problem::refused("no-initiative", words))
}

fn check_circle(rows: &Rows<'_>, needed: Thing, dependent: Thing) -> Result<(), Problem> {
    let edges: Vec<(i64, i64)> = rows
        .links(LinkKind::NeededBy, needed.kind, dependent.kind)?
        .into_iter()
        .map(|link| (link.from_id, link.to_id))
        .collect();
    let Some(circle) = would_close(&edges, needed.id, dependent.id) else { return Ok(()) };
    let names: Vec<String> = circle.iter().map(|id| name_of(rows, Thing::new(needed.kind, *id))).collect();
    let words =
        format!("This would run in a circle: {}. Take one of these dependencies away first.", names.join(" → "));
    Err(Problem::refused("dependency-circle", words))
}

pub(crate) fn link_words(rows: &Rows<'_>, ends: LinkEnds, made: bool) -> String {
    let (from, to) = (name_of(rows, ends.from), name_of(rows, ends.to));
    match (ends.kind, made) {
        (LinkKind::NeededBy, true) => format!("made {to} depend on {from}"),
        (LinkKind::NeededBy, false) => format!("made {to} no longer depend on {from}"),
        (LinkKind::Same, true) => format!("noted that {from} and {to} say the same"),
        (LinkKind::Same, false) => format!("took back that {from} and {to} say the same"),
        (LinkKind::NotSame, true) if ends.from.kind == ThingKind::Excerpt => format!("kept {from} and {to} apart"),
        (LinkKind::NotSame, false) if ends.from.kind == ThingKind::Excerpt => {
            format!("let {from} and {to} stand together")
        }
        (LinkKind::NotSame, true) => format!("marked {from} and {to} as two"),
        (LinkKind::NotSame, false) => format!("took back that {from} and {to} are two"),
        (LinkKind::Closes, true) => format!("noted that {from} closes {to}"),
        (LinkKind::Closes, false) => format!("noted that {from} does not close {to}"),
        (LinkKind::TakesPart, true) => format!("noted that {from} takes part in {to}"),
        (LinkKind::TakesPart, false) => format!("noted that {from} takes no part in {to}"),
        (_, true) => format!("put {from} behind {to}"),
        (_, false) => format!("took {from} away from {to}"),
    }
}

/// What people call a thing: its reference, or its kind and name.
pub(crate) fn name_of(rows: &Rows<'_>, thing: Thing) -> String {
    if thing.kind == ThingKind::WorkItem {
        let item = rows.get::<WorkItem>(thing.id);
        return item.map_or_else(|_| format!("work item {}", thing.id), |item| item.reference());
    }
    match thing.kind.letter() {
        Some(letter) => format!("{letter}{}", thing.id),
        None => {
            let row = rows.json(thing).unwrap_or_default();
            let name =
                row["title"].as_str().or(row["name"].as_str()).map(|name| format!(" \"{name}\"")).unwrap_or_default();
            format!("the {}{name}", thing.kind.words())
        }
    }
}

/// What a thing says of itself: its title, its name, or the beginning of its words.
pub(crate) fn title_of(rows: &Rows<'_>, thing: Thing) -> String {
    const LONGEST: usize = 90;
    let row = rows.json(thing).unwrap_or_default();
    let text = ["title", "name", "words", "text"].iter().find_map(|name| row[*name].as_str()).unwrap_or_default();
    let begun: String = text.chars().take(LONGEST).collect();
    if begun.len() < text.len() { format!("{} …", begun.trim_end()) } else { begun }
}

/// The revision of a thing now.
///
/// # Errors
/// Where it is not there.
pub fn rev_of(app: &App, call: &Call, thing: Thing) -> Result<i64, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.json(thing)?["rev"].as_i64().unwrap_or_default()))
}
