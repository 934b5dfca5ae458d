//! Channels: set up by an owner, looked at in their time by a job, and never twice for the same.

use iron_kite_core::listen::{Channel, ChannelKind, ChannelState, check_channel, is_due};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ChannelId, ProductId, Thing, ThingKind};
use iron_kite_documents::Part;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::bring_in::{BroughtIn, BroughtPart, prepare};
use super::recordings::join;
use super::take_in::{How, take_rows};
use crate::call::{App, Call, Saved, fields};
use crate::jobs::{self, Ended, JobView, Running, Work};
use crate::outside::Fetch;
use crate::sealed::Seal;

/// At most so many parts in one look; the next one goes on.
const MOST_PARTS: usize = 2_000;

/// A channel, and how it stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChannelView {
    /// The channel.
    #[serde(flatten)]
    pub channel: Channel,
    /// When it was looked at last, in milliseconds since 1970.
    pub looked_at: Option<i64>,
    /// What went wrong then, and what to do.
    pub problem: Option<String>,
    /// Whether it has a key.
    pub has_key: bool,
    /// How many items came through it; for a folder, each file is a source of its own.
    pub items: Option<i64>,
}

/// A new channel.
#[derive(Clone, Deserialize, ToSchema)]
pub struct NewChannel {
    /// The product that it speaks about.
    pub product: ProductId,
    /// What it is called.
    pub name: String,
    /// What it is connected to.
    pub kind: ChannelKind,
    /// Where it is.
    pub place: String,
    /// The key that the place asks for.
    pub key: Option<String>,
    /// How often it is looked at, in minutes.
    pub every_minutes: i64,
    /// Whether what tells who somebody is is covered in the words.
    #[serde(default)]
    pub covers: bool,
}

/// What changes of a channel; what is left out stays.
#[derive(Clone, Deserialize, ToSchema)]
pub struct ChannelChange {
    /// The revision that was seen.
    pub rev: i64,
    /// Where it is.
    pub place: Option<String>,
    /// The key that the place asks for.
    pub key: Option<String>,
    /// How often it is looked at, in minutes.
    pub every_minutes: Option<i64>,
    /// Whether what tells who somebody is is covered in the words.
    pub covers: Option<bool>,
    /// Whether it is left alone for now.
    pub paused: Option<bool>,
}

/// The channels of a product.
///
/// # Errors
/// Where the right is missing.
pub fn channels(app: &App, call: &Call, product: ProductId) -> Result<Vec<ChannelView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let all: Vec<Channel> = rows.list("WHERE product_id = ?1 ORDER BY id", [product.0])?;
        let view = |channel: Channel| {
            let state = rows.channel_state(channel.id.0)?;
            Ok(ChannelView {
                items: (channel.kind != ChannelKind::Folder)
                    .then(|| rows.items_of_source(product, &channel.name))
                    .transpose()?,
                has_key: state.key_for(&channel.place).is_some(),
                looked_at: state.looked_at,
                problem: state.problem,
                channel,
            })
        };
        all.into_iter().map(view).collect()
    })
}

/// Sets a channel up. It is looked at within half a minute.
///
/// # Errors
/// Every field at fault; where the place may not be looked at.
pub fn add_channel(app: &App, call: &Call, new: NewChannel) -> Result<Saved, Problem> {
    app.read(call, Right::Own, |rows| Ok(rows.json(new.product.thing()).map(drop)?))?;
    let (name, place) = (new.name.trim().to_owned(), new.place.trim().to_owned());
    check(app, &name, new.kind, &place, new.every_minutes)?;
    let secret = new.key.filter(|key| !key.is_empty()).map(|key| app.seal.seal(&key)).transpose()?;
    let saved = app.save(call, Right::Own, move |tx| {
        let same: Vec<Channel> =
            tx.rows().list("WHERE product_id = ?1 AND name = ?2 COLLATE NOCASE", (new.product.0, name.clone()))?;
        if !same.is_empty() {
            return Err(Problem::invalid("/name", "There is a channel of this name already. Take another."));
        }
        let values = json!({
            "product_id": new.product, "name": name, "kind": new.kind, "place": &place,
            "every_minutes": new.every_minutes, "covers": i64::from(new.covers),
        });
        let id = tx.insert(ThingKind::Channel, &fields(values))?;
        let secret_for = secret.is_some().then_some(place);
        tx.set_channel_state(id, &ChannelState { secret, secret_for, ..ChannelState::default() })?;
        tx.label(format!("connected {name}"));
        Ok(Some(Thing::new(ThingKind::Channel, id)))
    })?;
    jobs::wake(app);
    Ok(saved)
}

/// Changes a channel. A place that is another one is read from its beginning.
///
/// # Errors
/// Every field at fault; stale where it was changed since.
pub fn change_channel(app: &App, call: &Call, id: ChannelId, change: ChannelChange) -> Result<Saved, Problem> {
    let known: Channel = app.read(call, Right::Own, |rows| Ok(rows.get(id)?))?;
    let place = change.place.map_or(known.place.clone(), |place| place.trim().to_owned());
    let every_minutes = change.every_minutes.unwrap_or(known.every_minutes);
    if place != known.place || every_minutes != known.every_minutes {
        check(app, &known.name, known.kind, &place, every_minutes)?;
    }
    let key = change.key.as_deref().map(|key| if key.is_empty() { Ok(None) } else { app.seal.seal(key).map(Some) });
    let key = key.transpose()?;
    let saved = app.save(call, Right::Own, move |tx| {
        let values = json!({
            "place": &place, "every_minutes": every_minutes,
            "covers": change.covers.map_or(known.covers, i64::from),
            "paused": change.paused.map_or(known.paused, i64::from),
        });
        tx.update(id.thing(), change.rev, &fields(values))?;
        let mut state = tx.rows().channel_state(id.0)?;
        if place != known.place {
            // The key stays that of the place that it was given for, in case this is taken back.
            let ChannelState { secret, secret_for, .. } = state;
            state = ChannelState { secret, secret_for, ..ChannelState::default() };
        }
        if let Some(key) = key {
            state.secret = key;
            state.secret_for = state.secret.is_some().then_some(place);
        }
        tx.set_channel_state(id.0, &state)?;
        tx.label(format!("changed the channel {}", known.name));
        Ok(Some(id.thing()))
    })?;
    jobs::wake(app);
    Ok(saved)
}

/// Takes a channel away. What came through it stays.
///
/// # Errors
/// Stale where it was changed since.
pub fn remove_channel(app: &App, call: &Call, id: ChannelId, rev: i64) -> Result<Saved, Problem> {
    app.save(call, Right::Own, move |tx| {
        let known: Channel = tx.rows().get(id)?;
        tx.expect(id.thing(), rev)?;
        tx.label(format!("disconnected {}", known.name));
        tx.remove(id.thing())?;
        Ok(None)
    })
}

/// Looks at a channel now.
///
/// # Errors
/// Where there is none; refused where it is being looked at.
pub fn look_now(app: &App, call: &Call, id: ChannelId) -> Result<JobView, Problem> {
    let channel: Channel = app.read(call, Right::Listen, |rows| Ok(rows.get(id)?))?;
    if app.read(call, Right::Listen, |rows| Ok(rows.has_work(&work_of(id)?)?))? {
        return Err(Problem::refused("looking-already", "It is being looked at right now."));
    }
    jobs::add(app, call, channel.product_id, label(&channel), &Work::Look { channel: id })
}

fn check(app: &App, name: &str, kind: ChannelKind, place: &str, every_minutes: i64) -> Result<(), Problem> {
    check_channel(name, kind, place, every_minutes).map_err(Problem::Invalid)?;
    app.outside().may(kind, place).map_err(|words| Problem::invalid("/place", words))
}

fn work_of(channel: ChannelId) -> Result<String, Problem> {
    serde_json::to_string(&Work::Look { channel }).map_err(|fault| Problem::Internal(fault.to_string()))
}

fn label(channel: &Channel) -> String {
    format!("look at {}", channel.name)
}

/// Queues a look at every channel whose time has come, and tells whether there is one.
pub(crate) fn queue_due(app: &App, call: &Call) -> Result<bool, Problem> {
    let now = call.now.as_millisecond();
    let due: Vec<Channel> = app.read_open(|rows| {
        let mut due = Vec::new();
        for channel in rows.list::<Channel>("WHERE paused = 0 ORDER BY id", [])? {
            let looked_at = rows.channel_state(channel.id.0)?.looked_at;
            if is_due(&channel, looked_at, now) && !rows.has_work(&work_of(channel.id)?)? {
                due.push(channel);
            }
        }
        Ok(due)
    })?;
    let any = !due.is_empty();
    for channel in due {
        let (work, label) = (work_of(channel.id)?, label(&channel));
        app.write_open(call, move |tx| Ok(tx.add_job(channel.product_id, None, &label, &work, now)?))?;
    }
    Ok(any)
}

/// Looks at a channel: what is new there comes in, and the place to go on from is noted with the end of the job.
pub(crate) fn look(running: &mut Running<'_>, id: ChannelId) -> Result<BroughtIn, Ended> {
    let (channel, state) = running.ask(|rows| Ok((rows.get::<Channel>(id)?, rows.channel_state(id.0)?)))?;
    let sealed = state.key_for(&channel.place);
    let key = sealed.and_then(|sealed| running.app().seal.open(sealed));
    if sealed.is_some() && key.is_none() {
        let words = "Its key cannot be opened: the file iron-kite.key is not the one that it was sealed with. Give the key anew.";
        running.looked(&channel, state.cursor, Some(words.to_owned()));
        return Ok(BroughtIn::default());
    }
    let mut cursor = state.cursor.clone();
    let mut problem = None;
    let mut done = BroughtIn::default();
    let mut reading = running.app().reading_beside();
    while done.parts.len() < MOST_PARTS {
        running.advance(0)?;
        let ask =
            Fetch { kind: channel.kind, place: &channel.place, secret: key.as_deref(), cursor: cursor.as_deref() };
        match running.app().outside().fetch(&ask) {
            Ok(found) => {
                let left_out = found.left_out.into_iter().map(|(name, why)| BroughtPart::refused(name, why));
                done.parts.extend(left_out);
                let mut taken = Ok(());
                reading.read_each(&found.files, &mut |parts| {
                    taken = take_file(running, &channel, parts, &mut done);
                    taken.is_ok()
                })?;
                taken?;
                cursor = Some(found.cursor);
                if !found.more {
                    break;
                }
            }
            // What came before it is kept; the next look goes on from there.
            Err(words) => {
                problem = Some(words);
                break;
            }
        }
    }
    running.looked(&channel, cursor, problem);
    join(running, channel.product_id, &done.parts)?;
    done.parts.retain(|part| part.refused.is_some() || part.kept.is_some() || part.report.as_ref().is_some_and(told));
    Ok(done)
}

/// Seals keys that are from before keys were sealed.
///
/// # Errors
/// Where the store fails.
pub fn seal_keys(app: &App, call: &Call) -> Result<(), Problem> {
    let open = app.read_open(|rows| {
        let mut open = Vec::new();
        for channel in rows.list::<Channel>("ORDER BY id", [])? {
            let state = rows.channel_state(channel.id.0)?;
            if state.secret.as_deref().is_some_and(|key| !Seal::is_sealed(key)) {
                open.push((channel.id.0, state));
            }
        }
        Ok(open)
    })?;
    for (channel, state) in open {
        let secret = state.secret.as_deref().map(|key| app.seal.seal(key)).transpose()?;
        let state = ChannelState { secret, ..state };
        app.write_open(call, move |tx| Ok(tx.set_channel_state(channel, &state)?))?;
    }
    Ok(())
}

fn told(report: &iron_kite_core::listen::ImportReport) -> bool {
    report.added > 0 || !report.changed.is_empty() || !report.left_out.is_empty()
}

fn take_file(
    running: &mut Running<'_>,
    channel: &Channel,
    parts: Vec<Part>,
    done: &mut BroughtIn,
) -> Result<(), Ended> {
    for mut part in parts {
        // A file of a folder is a source of its own; all that comes from one box or desk is one.
        if channel.kind != ChannelKind::Folder {
            part.name.clone_from(&channel.name);
        }
        match prepare(running.app(), running.call(), channel.product_id, part, None)? {
            Ok(ready) => {
                running.expect(ready.rows.len());
                let how = How { mapping: ready.mapping, take_changed: true, cover: channel.covers != 0, study: None };
                let report = take_rows(running, channel.product_id, &ready.name, ready.rows, ready.report, how)?;
                done.parts.push(BroughtPart { name: ready.name, report: Some(report), kept: None, refused: None });
            }
            Err(part) => done.parts.push(part),
        }
    }
    Ok(())
}
