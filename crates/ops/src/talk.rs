//! Comments on anything, and on words of its texts: written, answered, changed, dealt with.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::talk::{
    Comment, Mentioned, Passage, check_body, find, follow, mentions, passage, seen, with_names,
};
use iron_kite_core::text::Span;
use iron_kite_core::things::{CommentId, ItemId, Thing, ThingKind};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::history::Teller;
use crate::things::{check_seen, name_of};
use iron_kite_core::history::Names;

/// What is said of a thing.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Talk {
    /// The comments, oldest first, each with its answers.
    pub comments: Vec<CommentView>,
    /// Whether whoever asks hears of changes of the thing.
    pub follows: bool,
}

/// A comment as people read it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CommentView {
    /// Its number.
    pub id: CommentId,
    /// Its revision.
    pub rev: i64,
    /// What is said, in Markdown.
    pub body: String,
    /// Who said it.
    pub by: String,
    /// Whether whoever asks said it.
    pub mine: bool,
    /// When, in milliseconds since 1970.
    pub written_at: i64,
    /// When it was last changed.
    pub edited_at: Option<i64>,
    /// Who dealt with it.
    pub resolved_by: Option<String>,
    /// When.
    pub resolved_at: Option<i64>,
    /// The words that it is on.
    pub passage: Option<PassageView>,
    /// What is said to it.
    #[schema(no_recursion)]
    pub answers: Vec<CommentView>,
}

/// Words of a text that somebody speaks of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PassageView {
    /// The text, by the name of its field.
    pub field: String,
    /// The words as they were when they were chosen.
    pub words: String,
    /// The first character, where they stand in the text now; nothing where they are lost.
    pub from: Option<usize>,
    /// The character after the last.
    pub to: Option<usize>,
}

/// A new comment.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewComment {
    /// The thing that it is on.
    pub on: Thing,
    /// The comment that it answers.
    #[serde(default)]
    pub reply_to: Option<CommentId>,
    /// What is said, in Markdown; people and teams are mentioned as `[name](person:1)` and `[name](team:1)`.
    pub body: String,
    /// Words of one of its texts.
    #[serde(default)]
    pub passage: Option<ChosenPassage>,
}

/// Words that somebody chose in a text of a thing.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ChosenPassage {
    /// The text, by the name of its field; `text` for what stands behind an excerpt.
    pub field: String,
    /// The revision of the thing that was seen; of the item, for an excerpt.
    pub rev: i64,
    /// The first character, from 0.
    pub from: usize,
    /// The character after the last.
    pub to: usize,
}

/// A comment's new words, by somebody who saw it at a revision.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct CommentEdit {
    /// The revision that was seen.
    pub rev: i64,
    /// What it says from now on.
    pub body: String,
}

/// Whether a comment is dealt with, by somebody who saw it at a revision.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct Resolve {
    /// The revision that was seen.
    pub rev: i64,
    /// Whether it is.
    pub resolved: bool,
}

/// What is said of a thing.
///
/// # Errors
/// Where the right is missing, or the thing is not there.
pub fn talk(app: &App, call: &Call, thing: Thing) -> Result<Talk, Problem> {
    let me = call.user_id();
    app.read(call, Right::Read, |rows| {
        check_seen(rows, call, thing)?;
        rows.json(thing)?;
        let all = rows.comments_on(thing)?;
        let teller = Teller::new(rows)?;
        let answers =
            |id| all.iter().filter(|one| one.reply_to == Some(id)).map(|one| view(one, me, &teller)).collect();
        let comments = all.iter().filter(|one| one.reply_to.is_none());
        Ok(Talk {
            comments: comments.map(|one| CommentView { answers: answers(one.id), ..view(one, me, &teller) }).collect(),
            follows: match me {
                Some(me) => rows.follows(me, thing)?,
                None => false,
            },
        })
    })
}

fn view(comment: &Comment, me: Option<i64>, names: &dyn Names) -> CommentView {
    let passage = comment.field.clone().zip(comment.words.clone());
    CommentView {
        id: comment.id,
        rev: comment.rev,
        body: comment.body.clone(),
        by: comment.by_id.map_or_else(|| "a rule".into(), |id| names.person(id)),
        mine: comment.by_id.is_some() && comment.by_id == me,
        written_at: comment.written_at,
        edited_at: comment.edited_at,
        resolved_by: comment.resolved_by.map(|id| names.person(id)),
        resolved_at: comment.resolved_at,
        passage: passage.map(|(field, words)| PassageView {
            field,
            words,
            from: comment.from_char,
            to: comment.to_char,
        }),
        answers: Vec::new(),
    }
}

/// Writes a comment. Whoever writes follows the thing from then on.
///
/// # Errors
/// Where nothing is said, or the words that it is on are not there.
pub fn add_comment(app: &App, call: &Call, new: NewComment) -> Result<Saved, Problem> {
    let (by, at) = (call.user_id(), call.now.as_millisecond());
    app.read(call, Right::Listen, |rows| check_seen(rows, call, new.on))?;
    app.save(call, Right::Listen, move |tx| {
        let id = write_comment(tx, &new, by, at)?;
        let called = name_of(&tx.rows(), new.on);
        tx.label(match new.reply_to {
            Some(_) => format!("answered a comment on {called}"),
            None => format!("commented on {called}"),
        });
        Ok(Some(id.thing()))
    })
}

/// A text with the names of those whom it mentions as they are.
fn named(rows: &Rows<'_>, body: &str) -> Result<String, Problem> {
    if mentions(body).is_empty() {
        return Ok(body.to_owned());
    }
    let (people, teams) = (rows.users()?, rows.teams()?);
    Ok(with_names(body, |one| match one {
        Mentioned::Person(id) => people.iter().find(|person| person.id == id).map(|person| person.name.clone()),
        Mentioned::Team(id) => teams.iter().find(|team| team.id == id).map(|team| team.name.clone()),
    }))
}

/// Writes a comment within a write.
pub(crate) fn write_comment(tx: &mut Tx<'_>, new: &NewComment, by: Option<i64>, at: i64) -> Result<CommentId, Problem> {
    let rows = tx.rows();
    let body = named(&rows, &check_body(&new.body)?)?;
    rows.json(new.on)?;
    if let Some(answered) = new.reply_to {
        let answered: Comment = rows.get(answered)?;
        if answered.on() != new.on || answered.reply_to.is_some() || new.passage.is_some() {
            return Err(Problem::invalid("/reply_to", "Answer the comment that the talk began with."));
        }
    }
    let chosen = new.passage.as_ref().map(|chosen| choose(tx, new.on, chosen)).transpose()?;
    let mut values = json!({
        "on_kind": new.on.kind.name(), "on_id": new.on.id, "reply_to": new.reply_to, "body": body,
        "by_id": by, "written_at": at,
    });
    if let Some((field, passage)) = &chosen {
        values["field"] = field.as_str().into();
        values["words"] = passage.words.as_str().into();
        values["words_before"] = passage.before.as_str().into();
        values["words_after"] = passage.after.as_str().into();
        values["from_char"] = passage.span.from.into();
        values["to_char"] = passage.span.to.into();
    }
    let id = CommentId(tx.insert(ThingKind::Comment, &fields(values))?);
    if let Some(by) = by {
        tx.begin_to_follow(by, new.on)?;
    }
    Ok(id)
}

fn choose(tx: &Tx<'_>, on: Thing, chosen: &ChosenPassage) -> Result<(String, Passage), Problem> {
    let holder = holder_of(&tx.rows(), on)?;
    tx.expect(holder, chosen.rev)?;
    let text = text_of(&tx.rows(), on, &chosen.field)?;
    let text = text.ok_or_else(|| Problem::invalid("/passage/field", "There is no such text here."))?;
    Ok((chosen.field.clone(), passage(&text, Span { from: chosen.from, to: chosen.to })?))
}

/// The row that holds the texts of a thing: itself, or the item that an excerpt is of.
fn holder_of(rows: &Rows<'_>, on: Thing) -> Result<Thing, Problem> {
    if on.kind != ThingKind::Excerpt {
        return Ok(on);
    }
    let item = rows.json(on)?["item_id"].as_i64();
    Ok(ItemId(item.unwrap_or_default()).thing())
}

/// A text of a thing as it is now.
fn text_of(rows: &Rows<'_>, on: Thing, field: &str) -> Result<Option<String>, Problem> {
    let row = rows.json(holder_of(rows, on)?)?;
    Ok(row.get(field).and_then(|value| value.as_str()).map(str::to_owned))
}

/// Lets the words of comments follow the texts that this write has changed after `from`: one place for edits, imports,
/// undo and whatever else writes.
pub(crate) fn follow_words(tx: &mut Tx<'_>, from: i64) -> Result<(), Problem> {
    for one in tx.rows().unsettled_passages(from)? {
        let (comment, on) = (&one.comment, one.comment.on());
        let now = text_of(&tx.rows(), on, comment.field.as_deref().unwrap_or_default())?.unwrap_or_default();
        let span = match (comment.span(), &one.before) {
            (Some(span), Some(before)) => follow(before, &now, span),
            _ => Passage::of(comment).and_then(|passage| find(&now, &passage)),
        };
        // What stands around the words is noted anew, too: it may have changed though their place did not.
        tx.place_passage(comment.id, span.map(|span| seen(&now, span)).as_ref())?;
    }
    Ok(())
}

/// Changes what a comment says. Only its author may.
///
/// # Errors
/// Where it is somebody else's, was changed since, or says nothing.
pub fn edit_comment(app: &App, call: &Call, id: CommentId, edit: CommentEdit) -> Result<Saved, Problem> {
    let (me, at) = (call.user_id(), call.now.as_millisecond());
    app.save(call, Right::Listen, move |tx| {
        let comment: Comment = tx.rows().get(id)?;
        check_own(&comment, me)?;
        let body = named(&tx.rows(), &check_body(&edit.body)?)?;
        tx.expect(id.thing(), edit.rev)?;
        if body != comment.body {
            tx.update(id.thing(), edit.rev, &fields(json!({ "body": body, "edited_at": at })))?;
        }
        tx.label(format!("changed a comment on {}", name_of(&tx.rows(), comment.on())));
        Ok(Some(id.thing()))
    })
}

/// Says that what a comment speaks of is dealt with, or that it is not.
///
/// # Errors
/// Where it is an answer, or was changed since.
pub fn resolve_comment(app: &App, call: &Call, id: CommentId, to: Resolve) -> Result<Saved, Problem> {
    let (me, at) = (call.user_id(), call.now.as_millisecond());
    app.save(call, Right::Listen, move |tx| {
        let comment: Comment = tx.rows().get(id)?;
        if comment.reply_to.is_some() {
            return Err(Problem::refused("an-answer", "Answers are dealt with together with what they answer."));
        }
        let by = to.resolved.then_some(me).flatten();
        let values = json!({ "resolved_by": by, "resolved_at": to.resolved.then_some(at) });
        tx.update(id.thing(), to.rev, &fields(values))?;
        let called = name_of(&tx.rows(), comment.on());
        tx.label(if to.resolved {
            format!("dealt with a comment on {called}")
        } else {
            format!("opened a comment on {called} again")
        });
        Ok(Some(id.thing()))
    })
}

/// Removes a comment with its answers. Its author may, and an editor.
///
/// # Errors
/// Where it is somebody else's, or was changed since.
pub fn remove_comment(app: &App, call: &Call, id: CommentId, rev: i64) -> Result<Saved, Problem> {
    let me = call.user_id();
    let may_all = call.actor.as_ref().is_some_and(|actor| actor.role >= Role::Editor);
    app.save(call, Right::Listen, move |tx| {
        let comment: Comment = tx.rows().get(id)?;
        if !may_all {
            check_own(&comment, me)?;
        }
        tx.expect(id.thing(), rev)?;
        tx.label(format!("removed a comment on {}", name_of(&tx.rows(), comment.on())));
        tx.remove(id.thing())?;
        Ok(None)
    })
}

fn check_own(comment: &Comment, me: Option<i64>) -> Result<(), Problem> {
    if comment.by_id.is_some() && comment.by_id == me {
        return Ok(());
    }
    Err(Problem::refused("not-yours", "Somebody else said this. Answer it instead."))
}
