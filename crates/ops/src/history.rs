//! History of a thing, undo and redo.

use std::collections::BTreeSet;

use iron_kite_core::decide::Idea;
use iron_kite_core::fields::{Collection, FieldDef};
use iron_kite_core::history::{Names, changed};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::fields::Catalogue;
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::people::User;
use iron_kite_store::{ChangeSet, ChangeSetId, Part, Rows, Tx, Undo, UndoRefused, Way};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved};
use crate::things::{LinkEnds, check_seen, link_words, name_of};

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
    /// By what way: person, import, undo, rule.
    pub way: String,
    /// Whether it was taken back since.
    pub undone: bool,
    /// What of it concerns the thing, as much as fits.
    pub changes: Vec<HistoryChange>,
    /// How much more of it does.
    pub more: usize,
}

/// One value of a thing, one of its links or one of its parts, as it changed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct HistoryChange {
    /// In words: "changed effort from 3 to 5".
    pub words: String,
    /// The row that changed.
    pub thing: Thing,
    /// The names of its values; none where all of it came or went.
    pub names: Vec<String>,
}

/// A part of a change that is to be taken back by itself.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct UndoPart {
    /// The row.
    pub thing: Thing,
    /// The values; all that changed where none is named.
    #[serde(default)]
    pub names: Vec<String>,
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
/// At most so many rows are told of one change.
const TOLD: usize = 20;

/// The history of a thing, newest first, with what it tells of the thing in words.
///
/// # Errors
/// Where the right is missing.
pub fn history(app: &App, call: &Call, thing: Thing) -> Result<Vec<HistoryLine>, Problem> {
    app.read(call, Right::Read, |rows| {
        check_seen(rows, call, thing)?;
        let mut all = vec![thing];
        all.extend(merged_into(rows, thing)?.into_iter().map(|id| Thing::new(thing.kind, id)));
        let (mut sets, mut changes): (Vec<ChangeSet>, Vec<RowChange>) = (Vec::new(), Vec::new());
        for one in all {
            let some = rows.history(one, LINES)?;
            if let Some(oldest) = some.last() {
                changes.extend(rows.changes_about(one, oldest.id)?);
            }
            sets.extend(some);
        }
        sets.sort_by_key(|set| std::cmp::Reverse(set.id));
        sets.dedup_by_key(|set| set.id);
        sets.truncate(LINES);
        let teller = Teller::new(rows)?;
        // Newest first, as they come; told in their order.
        let of = |set: ChangeSetId| changes.iter().rev().filter(move |change| change.set == set);
        Ok(sets.into_iter().map(|set| line(&teller, of(set.id), set)).collect())
    })
}

/// Tells changes of rows in words.
pub(crate) struct Teller<'a> {
    rows: &'a Rows<'a>,
    catalogue: Catalogue,
    people: Vec<User>,
}

impl Names for Teller<'_> {
    fn thing(&self, thing: Thing) -> String {
        name_of(self.rows, thing)
    }

    fn person(&self, id: i64) -> String {
        self.people.iter().find(|one| one.id == id).map_or_else(|| format!("person {id}"), |one| one.name.clone())
    }
}

impl<'a> Teller<'a> {
    pub(crate) fn new(rows: &'a Rows<'a>) -> Result<Self, Problem> {
        Ok(Teller { rows, catalogue: rows.catalogue()?, people: rows.users()? })
    }

    /// The fields of a collection, retired ones too.
    pub(crate) fn fields(&self, collection: Collection) -> Vec<FieldDef> {
        self.catalogue.all_of(collection)
    }

    /// What a change did to its row, a value after the other.
    pub(crate) fn told(&self, change: &RowChange) -> Vec<HistoryChange> {
        let one = |words: String, names: Vec<String>| HistoryChange { words, thing: change.thing, names };
        let called = self.called(change);
        match (&change.before, &change.after) {
            _ if change.thing.kind == ThingKind::Link => {
                self.link(change).map(|words| one(words, Vec::new())).into_iter().collect()
            }
            (Some(before), Some(after)) => {
                let kind = change.thing.kind;
                let fields = Collection::of(kind).map(|of| self.catalogue.all_of(of)).unwrap_or_default();
                let all = changed(kind, &fields, before, after, self);
                all.into_iter().map(|value| one(format!("{}{called}", value.words), value.names)).collect()
            }
            (None, _) => vec![one(format!("added{}", called.replacen(" of ", " ", 1)), Vec::new())],
            (Some(_), None) => vec![one(format!("removed{}", called.replacen(" of ", " ", 1)), Vec::new())],
        }
    }

    /// How a part of a thing is called behind what happened to it; things themselves need no word.
    fn called(&self, change: &RowChange) -> String {
        let said = |name: &str| change.value(name).as_str().unwrap_or_default().to_owned();
        let person = |name: &str| change.value(name).as_i64().map_or_else(|| "a rule".into(), |id| self.person(id));
        match change.thing.kind {
            ThingKind::Criterion => format!(" of the criterion “{}”", said("words")),
            ThingKind::Estimate => format!(" of the estimate of {}", said("field").replace('_', " ")),
            ThingKind::Decision => format!(" of the decision by {}", person("decided_by")),
            ThingKind::Measurement => format!(" of the value of {}", said("taken_on")),
            ThingKind::Comment => format!(" of the comment by {}", person("by_id")),
            _ => String::new(),
        }
    }

    fn link(&self, change: &RowChange) -> Option<String> {
        let made = change.after.is_some();
        let end = |side: &str| {
            let kind: ThingKind = change.value(&format!("{side}_kind")).as_str()?.parse().ok()?;
            Some(Thing::new(kind, change.value(&format!("{side}_id")).as_i64()?))
        };
        let (from, to) = (end("from")?, end("to")?);
        match serde_json::from_value::<LinkKind>(change.value("kind").clone()) {
            Ok(kind) => Some(link_words(self.rows, LinkEnds { kind, from, to }, made)),
            // A field of the team's own.
            Err(_) => {
                let verb = if made { "linked" } else { "took apart" };
                Some(format!("{verb} {} and {}", self.thing(from), self.thing(to)))
            }
        }
    }
}

/// What became a part of a thing: its history is told with that of the thing.
fn merged_into(rows: &Rows<'_>, thing: Thing) -> Result<Vec<i64>, Problem> {
    if thing.kind != ThingKind::Idea {
        return Ok(Vec::new());
    }
    // A thing that was removed has a history, too.
    Ok(rows.get::<Idea>(thing.id).map(|idea| idea.merged_ids()).unwrap_or_default())
}

fn line<'a>(teller: &Teller<'_>, changes: impl Iterator<Item = &'a RowChange> + Clone, set: ChangeSet) -> HistoryLine {
    let more = changes.clone().count().saturating_sub(TOLD);
    let changes = changes.take(TOLD).flat_map(|one| teller.told(one)).collect();
    let ChangeSet { id, at, user_name: who, label, way, undone } = set;
    HistoryLine { id, at, who, label, way, undone, changes, more }
}

/// What the person can take back and do again now.
///
/// # Errors
/// Where the right is missing.
pub fn undo_state(app: &App, call: &Call) -> Result<UndoState, Problem> {
    let user = user_of(call);
    app.read(call, Right::Read, |rows| {
        // What somebody may not take back is not offered.
        let offered = |set: Option<ChangeSet>| -> Result<Option<String>, Problem> {
            let Some(set) = set else { return Ok(None) };
            Ok(call.may(rows.right_of_set(set.id)?).then_some(set.label))
        };
        Ok(UndoState {
            undo: offered(rows.next_undo(user)?)?,
            redo: offered(rows.next_redo(user)?)?.map(|label| label.trim_start_matches(UNDID).to_owned()),
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

/// Takes back one change set. It takes the right that its changes needed, and that of an editor where somebody else made them.
///
/// # Errors
/// Where it is taken back already, somebody changed the same values since, or the right is missing.
pub fn undo_set(app: &App, call: &Call, set: ChangeSetId) -> Result<Saved, Problem> {
    undo_with(app, call, UNDID, move |_| Ok(Some(set)))
}

/// Takes back a part of a change set: one value of a thing, one link. What was changed since beside it stays.
///
/// # Errors
/// As [`undo_set`].
pub fn undo_part(app: &App, call: &Call, set: ChangeSetId, part: UndoPart) -> Result<Saved, Problem> {
    let user = user_of(call);
    let right = app.read(call, Right::Read, |rows| right_to_undo(rows, user, Some(set)))?;
    app.save(&call.by(Way::Undo), right, move |tx| {
        still_takes(&tx.rows(), user, set, right)?;
        let thing = part.thing;
        let names: BTreeSet<String> = part.names.into_iter().collect();
        taken_back(tx, set, |tx| Ok(tx.undo_part(set, &Part { thing, names: names.clone() })?))?;
        let undone = tx.rows().changes_in(tx.set_id())?;
        let words = {
            let rows = tx.rows();
            let teller = Teller::new(&rows)?;
            undone.iter().flat_map(|change| teller.told(change)).map(|one| one.words).collect::<Vec<_>>().join("; ")
        };
        // What a link joins stands in its words.
        let on =
            if thing.kind == ThingKind::Link { String::new() } else { format!(" on {}", name_of(&tx.rows(), thing)) };
        tx.label(format!("took back a part: {words}{on}"));
        Ok(Some(thing))
    })
}

/// The right that it takes to take back a set that is there. What somebody else keeps for themselves is as if it were not.
fn right_to_undo(rows: &Rows<'_>, user: i64, set: Option<ChangeSetId>) -> Result<Right, Problem> {
    let nothing = || refusal(rows, &UndoRefused::NothingToUndo);
    let set = set.ok_or_else(nothing)?;
    let by = rows.change_set_user(set)?.ok_or_else(nothing)?;
    if rows.is_private(set, user)? {
        return Err(nothing());
    }
    let right = rows.right_of_set(set)?;
    Ok(if by == Some(user) { right } else { right.max(Right::Edit) })
}

/// Makes sure that it takes no more now: long work may have gone on with the set since it was looked at.
fn still_takes(rows: &Rows<'_>, user: i64, set: ChangeSetId, right: Right) -> Result<(), Problem> {
    let now = right_to_undo(rows, user, Some(set))?;
    if now <= right { Ok(()) } else { Err(Problem::NotAllowed { needs: now.least().name() }) }
}

const UNDID: &str = "undid: ";
const REDID: &str = "did again: ";

fn user_of(call: &Call) -> i64 {
    call.user_id().unwrap_or_default()
}

fn undo_with(
    app: &App,
    call: &Call,
    words: &'static str,
    pick: impl Fn(&Rows<'_>) -> Result<Option<ChangeSetId>, Problem> + Send + 'static,
) -> Result<Saved, Problem> {
    let user = user_of(call);
    let right = app.read(call, Right::Read, |rows| right_to_undo(rows, user, pick(rows)?))?;
    app.save(&call.by(Way::Undo), right, move |tx| {
        let set = pick(&tx.rows())?.ok_or_else(|| refusal(&tx.rows(), &UndoRefused::NothingToUndo))?;
        still_takes(&tx.rows(), user, set, right)?;
        let undo = taken_back(tx, set, |tx| Ok(tx.undo(set)?))?;
        tx.label(format!("{words}{}", undo.label.trim_start_matches(UNDID)));
        Ok(None)
    })
}

/// Takes something back, unless it is still being written.
fn taken_back(
    tx: &mut Tx<'_>,
    set: ChangeSetId,
    undo: impl FnOnce(&mut Tx<'_>) -> Result<Result<Undo, UndoRefused>, Problem>,
) -> Result<Undo, Problem> {
    if tx.rows().is_being_written(set)? {
        return Err(Problem::refused("still-running", "This is still being written. Cancel the job instead."));
    }
    let undone = undo(tx)?.map_err(|why| refusal(&tx.rows(), &why))?;
    tx.read_anew()?;
    Ok(undone)
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
