//! What a rule does: the steps that people take, in its name.

use std::collections::BTreeSet;

use iron_kite_core::decide::Outcome;
use iron_kite_core::fields::Collection;
use iron_kite_core::notice::Happened;
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::rules::{Act, WayToAdd, fill_in, level_of, way_to_add};
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{IdeaId, Level, ReleaseId, TeamId, Thing, ThingKind, WorkItemId};
use iron_kite_store::Tx;
use iron_kite_store::queries::notices::SetSeen;
use serde_json::{Map, Value, json};

use super::apply::Ready;
use crate::call::Call;
use crate::collections::{NewThing, put_in, write_fields};
use crate::decide::put_decision;
use crate::handover::{put_in_column, put_in_queue};
use crate::notice::give;
use crate::plan::put_release;
use crate::specify::put_epic;
use crate::talk::{NewComment, write_comment};
use crate::things::{LinkEnds, follow, make_link, name_of, title_of};

/// One step. How many people were told something.
pub(super) fn step(tx: &mut Tx<'_>, call: &Call, rule: &Ready, thing: Thing, act: &Act) -> Result<usize, Problem> {
    let (reference, title) = (name_of(&tx.rows(), thing), title_of(&tx.rows(), thing));
    match act {
        Act::Set { field, value } => {
            let catalogue = tx.rows().catalogue()?;
            let rev = tx.rows().json(thing)?["rev"].as_i64().unwrap_or_default();
            write_fields(tx, &catalogue, thing, rev, Map::from_iter([(field.clone(), value.clone())]), "/set")?;
            follow(tx, thing)?;
        }
        Act::Move { to, team } => move_to(tx, call, rule, thing, to, *team)?,
        Act::Create { field, title: new } => create(tx, rule, thing, field, &fill_in(new, &reference, &title))?,
        Act::Comment { words } => {
            let body = fill_in(words, &reference, &title);
            let new = NewComment { on: thing, reply_to: None, body, passage: None };
            write_comment(tx, &new, None, call.now.as_millisecond())?;
        }
        Act::Notify { people, roles, field, words } => {
            let row = tx.rows().json(thing)?;
            let mut whom: BTreeSet<i64> = people.iter().copied().collect();
            whom.extend(field.as_ref().and_then(|field| row[field].as_i64()));
            whom.extend(tx.rows().users()?.into_iter().filter(|user| roles.contains(&user.role)).map(|user| user.id));
            let happened = Happened { by_rule: whom, ..Happened::default() };
            let now = call.now.as_millisecond();
            let set = SetSeen { id: tx.set_id(), at: now, user: None, way: "rule".into(), undoes: None };
            return give(tx, &set, thing, &happened, None, &fill_in(words, &reference, &title));
        }
    }
    Ok(0)
}

/// Brings a thing to a state by the step that leads there.
fn move_to(
    tx: &mut Tx<'_>,
    call: &Call,
    rule: &Ready,
    thing: Thing,
    to: &str,
    team: Option<TeamId>,
) -> Result<(), Problem> {
    let no_state = || Problem::refused("no-state", format!("Nothing is moved to “{to}” here."));
    match rule.definition.collection {
        Collection::Idea => {
            let outcome: Outcome = serde_json::from_value(to.into()).map_err(|_| no_state())?;
            let why = format!("By the rule “{}”.", rule.rule.title);
            put_decision(tx, IdeaId(thing.id), outcome, &why, call.today, json!({}))
        }
        Collection::Release => {
            let state: ReleaseState = serde_json::from_value(to.into()).map_err(|_| no_state())?;
            put_release(tx, ReleaseId(thing.id), &state.into(), call.today)
        }
        Collection::WorkItem => {
            let story: WorkItem = tx.rows().get(WorkItemId(thing.id))?;
            let Some(own) = story.team_id else {
                let words = format!("{} belongs to no team yet. Say in the rule to which it goes.", story.reference());
                return put_in_queue(tx, story.id, team.ok_or_else(|| Problem::refused("no-team", words))?);
            };
            let column = tx.rows().team_columns(own)?.into_iter().find(|column| column.state.name() == to);
            let column = column.ok_or_else(|| {
                Problem::refused("no-column", format!("The team has no column for “{}”.", to.replace('_', " ")))
            })?;
            put_in_column(tx, story.id, column.id, None)
        }
        _ => Err(no_state()),
    }
}

fn create(tx: &mut Tx<'_>, rule: &Ready, thing: Thing, name: &str, title: &str) -> Result<(), Problem> {
    let (of, product) = (rule.definition.collection, rule.rule.product_id);
    let all = tx.rows().catalogue()?.of(of);
    let way = all.iter().find(|field| field.name == name).and_then(|field| way_to_add(of, field));
    let (to, way) = way.ok_or_else(|| Problem::refused("no-way", "Things are not added through this field."))?;
    let mut set = Map::from_iter([(to.title_field().to_owned(), Value::from(title))]);
    match way {
        WayToAdd::Epic => drop(put_epic(tx, product, Some(IdeaId(thing.id)), Some(title.to_owned()))?),
        WayToAdd::Link(link) => {
            let level = level_of(name, None);
            let new = put_in(tx, to, NewThing { product, level, set }, "/set")?;
            let (from, to) = if link.forward { (thing, new) } else { (new, thing) };
            make_link(tx, LinkEnds { kind: link.kind, from, to })?;
        }
        WayToAdd::Column(column) => {
            set.insert(column.into(), thing.id.into());
            let level = level_of(name, level_here(tx, thing)?);
            put_in(tx, to, NewThing { product, level, set }, "/set")?;
        }
    }
    Ok(())
}

/// The level of a work item; nothing else has one.
fn level_here(tx: &Tx<'_>, thing: Thing) -> Result<Option<Level>, Problem> {
    if thing.kind != ThingKind::WorkItem {
        return Ok(None);
    }
    let item: WorkItem = tx.rows().get(WorkItemId(thing.id))?;
    Ok(Some(item.level))
}
