//! History of a thing, undo and redo.

use iron_kite_core::decide::Idea;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_store::{ChangeSet, ChangeSetId, Rows, UndoRefused, Way};
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved};
use crate::things::name_of;

/// One change in a thing's history.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct HistoryLine {
    /// The change set.
    pub id: ChangeSetId,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// Who; nobody where a command did it.
    pub who: Option<String>,
    /// What was done.
    pub label: String,
    /// By what way: person, import, undo.
    pub way: String,
    /// Whether it was taken back since.
    pub undone: bool,
}

/// What the person can take back and do again now.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct UndoState {
    /// What undo would take back.
    pub undo: Option<String>,
    /// What redo would do again.
    pub redo: Option<String>,
}

/// At most so many lines of history at once.
const LINES: usize = 100;

/// The history of a thing, newest first.
///
/// # Errors
/// Where the right is missing.
pub fn history(app: &App, call: &Call, thing: Thing) -> Result<Vec<HistoryLine>, Problem> {
    app.read(call, Right::Read, |rows| {
        let mut sets = rows.history(thing, LINES)?;
        for id in merged_into(rows, thing)? {
            sets.extend(rows.history(Thing::new(thing.kind, id), LINES)?);
        }
        sets.sort_by_key(|set| std::cmp::Reverse(set.id));
        sets.dedup_by_key(|set| set.id);
        sets.truncate(LINES);
        Ok(sets.into_iter().map(line).collect())
    })
}

/// What became a part of a thing: its history is told with that of the thing.
fn merged_into(rows: &Rows<'_>, thing: Thing) -> Result<Vec<i64>, Problem> {
    if thing.kind != ThingKind::Idea {
        return Ok(Vec::new());
    }
    // A thing that was removed has a history, too.
    Ok(rows.get::<Idea>(thing.id).map(|idea| idea.merged_ids()).unwrap_or_default())
}

fn line(set: ChangeSet) -> HistoryLine {
    HistoryLine { id: set.id, at: set.at, who: set.user_name, label: set.label, way: set.way, undone: set.undone }
}

/// What the person can take back and do again now.
///
/// # Errors
/// Where the right is missing.
pub fn undo_state(app: &App, call: &Call) -> Result<UndoState, Problem> {
    let user = user_of(call);
    app.read(call, Right::Read, |rows| {
        Ok(UndoState {
            undo: rows.next_undo(user)?.map(|set| set.label),
            redo: rows.next_redo(user)?.map(|set| set.label.trim_start_matches(UNDID).to_owned()),
        })
    })
}

/// Takes back the person's newest change.
///
/// # Errors
/// Where there is none, or somebody changed the same rows since.
pub fn undo_last(app: &App, call: &Call) -> Result<Saved, Problem> {
    let user = user_of(call);
    undo_with(app, call, UNDID, move |rows| Ok(rows.next_undo(user)?.map(|set| set.id)))
}

/// Does again what the person took back last.
///
/// # Errors
/// Where there is nothing, or somebody changed the same rows since.
pub fn redo_last(app: &App, call: &Call) -> Result<Saved, Problem> {
    let user = user_of(call);
    undo_with(app, call, REDID, move |rows| Ok(rows.next_redo(user)?.map(|set| set.id)))
}

/// Takes back one change set. A person's own, or anybody's by an editor.
///
/// # Errors
/// Where it is taken back already, somebody changed the same rows since, or the right is missing.
pub fn undo_set(app: &App, call: &Call, set: ChangeSetId) -> Result<Saved, Problem> {
    let user = user_of(call);
    let may_all = call.actor.as_ref().is_some_and(|actor| actor.role >= Role::Editor);
    undo_with(app, call, UNDID, move |rows| match rows.change_set_user(set)? {
        None => Ok(None),
        Some(by) if may_all || by == Some(user) => Ok(Some(set)),
        Some(_) => Err(Problem::NotAllowed { needs: Role::Editor.name() }),
    })
}

const UNDID: &str = "undid: ";
const REDID: &str = "did again: ";

fn user_of(call: &Call) -> i64 {
    call.actor.as_ref().and_then(|actor| actor.user_id).unwrap_or_default()
}

fn undo_with(
    app: &App,
    call: &Call,
    words: &'static str,
    pick: impl FnOnce(&Rows<'_>) -> Result<Option<ChangeSetId>, Problem> + Send + 'static,
) -> Result<Saved, Problem> {
    app.save(&call.by(Way::Undo), Right::Listen, move |tx| {
        let set = pick(&tx.rows())?.ok_or_else(|| refusal(&tx.rows(), &UndoRefused::NothingToUndo))?;
        if tx.rows().is_being_written(set)? {
            return Err(Problem::refused("still-running", "This is still being written. Cancel the job instead."));
        }
        match tx.undo(set)? {
            Ok(undo) => {
                tx.read_anew()?;
                tx.label(format!("{words}{}", undo.label.trim_start_matches(UNDID)));
                Ok(None)
            }
            Err(why) => Err(refusal(&tx.rows(), &why)),
        }
    })
}

fn refusal(rows: &Rows<'_>, why: &UndoRefused) -> Problem {
    match why {
        UndoRefused::NothingToUndo => {
            Problem::refused("nothing-to-undo", "There is nothing here to take back or do again.")
        }
        UndoRefused::ChangedSince(thing) => Problem::refused(
            "changed-since",
            format!("{} was changed since. Take that change back first; its history shows it.", name_of(rows, *thing)),
        ),
        UndoRefused::InUse(thing) => Problem::refused(
            "in-use",
            format!("Something that came later hangs on {}. Take that away first.", name_of(rows, *thing)),
        ),
    }
}
