//! Who is told of what, what somebody follows and wants to hear of, and the outbox.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::fields::{Collection, FieldType};
use iron_kite_core::notice::{Attempt, Happened, MessageState, NoticeSort, Setting, Settings, after_attempt, tell};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::talk::{Comment, Mentioned, mentions, without_marks};
use iron_kite_core::things::{CommentId, Thing, ThingKind};
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::notices::{Message, NewNotice, Notice, SetSeen};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::history::Teller;
use crate::outside::Letter;
use crate::things::{name_of, title_of};

/// What somebody was told.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Notices {
    /// How much of it is unread.
    pub unread: usize,
    /// What is unread first, then the newest.
    pub notices: Vec<NoticeView>,
}

/// One notice as somebody reads it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NoticeView {
    /// Its number.
    pub id: i64,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// Why.
    pub sort: NoticeSort,
    /// Of what.
    pub thing: Thing,
    /// The product that it belongs to, where it belongs to one.
    pub product: Option<i64>,
    /// What people call it.
    pub reference: String,
    /// What it says of itself.
    pub title: String,
    /// The comment, where it is one.
    pub comment: Option<CommentId>,
    /// Who did it; nobody where a rule or a command did.
    pub by: Option<String>,
    /// What happened.
    pub words: String,
    /// How often since it was read last.
    pub times: i64,
    /// Whether it was read.
    pub read: bool,
}

/// Which notices were read; all where none is named.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct ReadNotices {
    /// By number.
    #[serde(default)]
    pub ids: Vec<i64>,
}

/// Whether somebody hears of a thing.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct Following {
    /// Whether.
    pub follows: bool,
}

/// A message of the outbox.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MessageView {
    /// Its number.
    pub id: i64,
    /// To whom.
    pub to: String,
    /// What it is about.
    pub subject: String,
    /// Where it stands.
    pub state: MessageState,
    /// How often it was tried.
    pub tries: u32,
    /// When it was written, in milliseconds since 1970.
    pub made_at: i64,
    /// When it is tried next, where it waits.
    pub next_at: Option<i64>,
    /// What went wrong.
    pub problem: Option<String>,
}

/// So many notices are shown.
const SHOWN: usize = 100;
/// The longest words of a notice, in characters.
const WORDS: usize = 240;

/// Who asks, by number: commands are told nothing.
fn reader(call: &Call) -> Result<i64, Problem> {
    call.actor
        .as_ref()
        .ok_or(Problem::NotSignedIn)?
        .user_id
        .ok_or_else(|| Problem::refused("nobody", "A command is told nothing. Sign in as somebody."))
}

/// What whoever asks was told.
///
/// # Errors
/// Where nobody is signed in.
pub fn notices(app: &App, call: &Call) -> Result<Notices, Problem> {
    let me = reader(call)?;
    app.read(call, Right::Read, |rows| {
        let found = rows.notices(me, SHOWN)?;
        Ok(Notices {
            unread: rows.unread_notices(me)?,
            notices: found.into_iter().map(|one| view(rows, one)).collect::<Result<_, Problem>>()?,
        })
    })
}

pub(crate) fn view(rows: &Rows<'_>, one: Notice) -> Result<NoticeView, Problem> {
    Ok(NoticeView {
        // A thing that is gone belongs nowhere.
        product: rows.product_of(one.thing).unwrap_or_default(),
        reference: name_of(rows, one.thing),
        title: title_of(rows, one.thing),
        id: one.id,
        at: one.at,
        sort: one.sort,
        thing: one.thing,
        comment: one.comment,
        by: one.by,
        words: one.words,
        times: one.times,
        read: one.read_at.is_some(),
    })
}

/// Marks notices of whoever asks as read.
///
/// # Errors
/// Where nobody is signed in.
pub fn read_notices(app: &App, call: &Call, read: ReadNotices) -> Result<usize, Problem> {
    let (me, at) = (reader(call)?, call.now.as_millisecond());
    let (count, _) = app.write(call, Right::Read, move |tx| Ok(tx.read_notices(me, &read.ids, at)?))?;
    app.tell_live(NOTICES, &[], count);
    Ok(count)
}

/// What is said to those who listen when notices changed: nothing else did.
pub(crate) const NOTICES: &str = "notices";

/// Whether whoever asks hears of a thing from now on.
///
/// # Errors
/// Where nobody is signed in, or the thing is not there.
pub fn follow(app: &App, call: &Call, thing: Thing, to: Following) -> Result<(), Problem> {
    let me = reader(call)?;
    app.write(call, Right::Read, move |tx| {
        tx.rows().json(thing)?;
        Ok(tx.set_follow(me, thing, to.follows)?)
    })
    .map(drop)
}

/// What whoever asks wants to hear of, and how.
///
/// # Errors
/// Where nobody is signed in.
pub fn settings(app: &App, call: &Call) -> Result<Vec<Setting>, Problem> {
    let me = reader(call)?;
    app.read(call, Right::Read, |rows| Ok(Settings::with(&rows.notice_settings(me)?).all().to_vec()))
}

/// Whoever asks wants to hear of one sort so from now on.
///
/// # Errors
/// Where nobody is signed in.
pub fn set_setting(app: &App, call: &Call, setting: Setting) -> Result<(), Problem> {
    let me = reader(call)?;
    app.write(call, Right::Read, move |tx| Ok(tx.set_notice_setting(me, setting)?)).map(drop)
}

/// Something that happened to a thing, as it is told.
struct Told {
    happened: Happened,
    words: Vec<String>,
    comment: Option<CommentId>,
}

/// Tells people of the changes of a set. How many were told.
pub(crate) fn tell_of(tx: &mut Tx<'_>, set: &SetSeen, changes: &[RowChange]) -> Result<usize, Problem> {
    if set.way == "engine" {
        return Ok(0);
    }
    if let Some(undone) = set.undoes {
        tx.forget_notices(undone)?;
    }
    let all = {
        let rows = tx.rows();
        let teller = Teller::new(&rows)?;
        let mut all: BTreeMap<Thing, Told> = BTreeMap::new();
        for change in changes {
            for (thing, told) in concerns(&rows, &teller, change)? {
                let entry = all.entry(thing).or_insert_with(|| Told {
                    happened: Happened { by: set.user, ..Happened::default() },
                    words: Vec::new(),
                    comment: None,
                });
                entry.happened.mentioned.extend(told.happened.mentioned);
                entry.happened.assigned.extend(told.happened.assigned);
                entry.happened.followers.extend(told.happened.followers);
                entry.words.extend(told.words);
                entry.comment = entry.comment.or(told.comment);
            }
        }
        all
    };
    let mut count = 0;
    for (thing, told) in all {
        for assigned in &told.happened.assigned {
            tx.begin_to_follow(*assigned, thing)?;
        }
        for mentioned in &told.happened.mentioned {
            tx.begin_to_follow(*mentioned, thing)?;
        }
        let words = clipped(&told.words.join("; "));
        count += give(tx, set, thing, &told.happened, told.comment, &words)?;
    }
    Ok(count)
}

/// Which things a change concerns, and whom.
fn concerns(rows: &Rows<'_>, teller: &Teller<'_>, change: &RowChange) -> Result<Vec<(Thing, Told)>, Problem> {
    let one = |happened, words, comment| Told { happened, words, comment };
    let followers =
        |thing| -> Result<BTreeSet<i64>, Problem> { Ok(rows.followers(thing, change.id)?.into_iter().collect()) };
    let words = || teller.told(change).into_iter().map(|told| told.words).collect::<Vec<_>>();
    match change.thing.kind {
        ThingKind::Comment => said(rows, change),
        ThingKind::Link => {
            let mut all = Vec::new();
            for side in ["from", "to"] {
                let kind = change.value(&format!("{side}_kind")).as_str().and_then(|kind| kind.parse().ok());
                let (Some(kind), Some(id)) = (kind, change.value(&format!("{side}_id")).as_i64()) else { continue };
                let thing = Thing::new(kind, id);
                let followers = followers(thing)?;
                if !followers.is_empty() {
                    all.push((thing, one(Happened { followers, ..Happened::default() }, words(), None)));
                }
            }
            Ok(all)
        }
        kind => {
            let thing = match part_of(change) {
                Some(whole) => whole,
                None => change.thing,
            };
            let (followers, assigned) = (followers(thing)?, assigned(rows, teller, kind, change)?);
            if followers.is_empty() && assigned.is_empty() {
                return Ok(Vec::new());
            }
            let words = words();
            // What only the program keeps is nobody's news.
            if words.is_empty() {
                return Ok(Vec::new());
            }
            Ok(vec![(thing, one(Happened { followers, assigned, ..Happened::default() }, words, None))])
        }
    }
}

/// The thing that a part belongs to.
fn part_of(change: &RowChange) -> Option<Thing> {
    let (whole, column) = match change.thing.kind {
        ThingKind::Criterion => (ThingKind::WorkItem, "story_id"),
        ThingKind::Estimate | ThingKind::Decision => (ThingKind::Idea, "idea_id"),
        ThingKind::Measurement => (ThingKind::Objective, "objective_id"),
        _ => return None,
    };
    Some(Thing::new(whole, change.value(column).as_i64()?))
}

/// Whom a comment speaks to, and who hears of it.
fn said(rows: &Rows<'_>, change: &RowChange) -> Result<Vec<(Thing, Told)>, Problem> {
    let Ok(comment) = rows.get::<Comment>(change.thing.id) else { return Ok(Vec::new()) };
    let on = comment.on();
    let body = |values: Option<&serde_json::Map<String, Value>>| {
        values.and_then(|values| values.get("body")).and_then(Value::as_str).unwrap_or_default().to_owned()
    };
    let (before, after) = (body(change.before.as_ref()), body(change.after.as_ref()));
    let (was, is) = (mentions(&before), mentions(&after));
    let mut mentioned = BTreeSet::new();
    for one in is.difference(&was) {
        match one {
            Mentioned::Person(id) => drop(mentioned.insert(*id)),
            Mentioned::Team(team) => mentioned.extend(rows.team_people(*team)?),
        }
    }
    let known: BTreeSet<i64> = rows.users()?.into_iter().map(|user| user.id).collect();
    mentioned.retain(|id| known.contains(id));
    let new = change.before.is_none();
    let dealt_with = change.after.as_ref().is_some_and(|values| values.contains_key("resolved_at"))
        && change.before.as_ref().is_some_and(|values| !values.contains_key("resolved_at"));
    let followers =
        if new || dealt_with { rows.followers(on, change.id)?.into_iter().collect() } else { BTreeSet::new() };
    let quoted = format!("“{}”", clipped(&without_marks(&after)));
    let words = match (new, dealt_with) {
        (true, _) if comment.reply_to.is_some() => format!("answered: {quoted}"),
        (true, _) => format!("said: {quoted}"),
        (_, true) => format!("dealt with {quoted}"),
        _ => quoted,
    };
    Ok(vec![(
        on,
        Told {
            happened: Happened { mentioned, followers, ..Happened::default() },
            words: vec![words],
            comment: Some(comment.id),
        },
    )])
}

/// Who answers for a thing from now on: fields that hold somebody of the team, and hold somebody else now.
fn assigned(
    rows: &Rows<'_>,
    teller: &Teller<'_>,
    kind: ThingKind,
    change: &RowChange,
) -> Result<BTreeSet<i64>, Problem> {
    let Some(collection) = Collection::of(kind) else { return Ok(BTreeSet::new()) };
    let Some(after) = &change.after else { return Ok(BTreeSet::new()) };
    let mut people = BTreeSet::new();
    for field in teller.fields(collection).into_iter().filter(|field| matches!(field.kind, FieldType::Member)) {
        let was = change.before.as_ref().and_then(|before| before.get(&field.name));
        if let Some(now) = after.get(&field.name).filter(|now| Some(*now) != was) {
            people.extend(now.as_i64());
        }
    }
    if !people.is_empty() {
        let known: BTreeSet<i64> = rows.users()?.into_iter().map(|user| user.id).collect();
        people.retain(|id| known.contains(id));
    }
    Ok(people)
}

fn clipped(words: &str) -> String {
    let one_line = words.split_whitespace().collect::<Vec<_>>().join(" ");
    if one_line.chars().count() <= WORDS {
        return one_line;
    }
    let begun: String = one_line.chars().take(WORDS).collect();
    format!("{} …", begun.trim_end())
}

/// Gives notices, and writes messages to those who want them. How many were told.
pub(crate) fn give(
    tx: &mut Tx<'_>,
    set: &SetSeen,
    thing: Thing,
    happened: &Happened,
    comment: Option<CommentId>,
    words: &str,
) -> Result<usize, Problem> {
    let told = tell(happened);
    if told.is_empty() {
        return Ok(0);
    }
    let users = tx.rows().users()?;
    let by = happened.by.and_then(|id| users.iter().find(|user| user.id == id)).map(|user| user.name.clone());
    let mut count = 0;
    for (person, sort) in told {
        let Some(user) = users.iter().find(|user| user.id == person) else { continue };
        let setting = Settings::with(&tx.rows().notice_settings(person)?).of(sort);
        if !setting.here && !setting.by_mail {
            continue;
        }
        let new = NewNotice {
            user: person,
            at: set.at,
            sort,
            thing,
            comment,
            by: by.clone(),
            words: words.to_owned(),
            set: Some(set.id),
            here: setting.here,
        };
        let notice = tx.add_notice(&new)?;
        count += 1;
        if let Some(notice) = notice.filter(|_| setting.by_mail) {
            let message = message(&tx.rows(), &new, &user.name, &user.email);
            tx.add_message(notice, &message)?;
        }
    }
    Ok(count)
}

/// The message of a notice. Words that somebody outside said stay in the workspace: where a message is kept, nobody can
/// erase them any more.
fn message(rows: &Rows<'_>, new: &NewNotice, name: &str, address: &str) -> Message {
    let called = name_of(rows, new.thing);
    let by = new.by.as_deref().unwrap_or("A rule");
    let subject = match new.sort {
        NoticeSort::Mentioned => format!("{by} speaks to you on {called}"),
        NoticeSort::Assigned => format!("{called} is yours to answer for"),
        NoticeSort::Rule => format!("A rule tells you of {called}"),
        NoticeSort::Followed => format!("{called} changed"),
    };
    let theirs =
        matches!(new.thing.kind, ThingKind::Excerpt | ThingKind::FeedbackItem | ThingKind::Request | ThingKind::Person);
    let title = if theirs { String::new() } else { title_of(rows, new.thing) };
    let about = if title.is_empty() { called } else { format!("{called} {title}") };
    let product = rows.product_of(new.thing).ok().flatten().unwrap_or(1);
    Message {
        id: 0,
        to_name: name.to_owned(),
        to_address: address.to_owned(),
        subject,
        body: format!("{about}\n\n{by}: {}\n", new.words),
        path: format!("/p/{product}/at/{}/{}", new.thing.kind, new.thing.id),
        state: MessageState::Waiting,
        tries: 0,
        made_at: new.at,
        next_at: new.at,
        ended_at: None,
        problem: None,
    }
}

/// The newest messages of the outbox: for an owner.
///
/// # Errors
/// Where the right is missing.
pub fn outbox(app: &App, call: &Call) -> Result<Vec<MessageView>, Problem> {
    app.read(call, Right::Own, |rows| Ok(rows.messages(SHOWN)?.into_iter().map(message_view).collect()))
}

fn message_view(one: Message) -> MessageView {
    MessageView {
        id: one.id,
        to: format!("{} <{}>", one.to_name, one.to_address),
        subject: one.subject,
        state: one.state,
        tries: one.tries,
        made_at: one.made_at,
        next_at: (one.state == MessageState::Waiting).then_some(one.next_at),
        problem: one.problem,
    }
}

/// Lets a message that was given up, or may have arrived, go out again: for an owner.
///
/// # Errors
/// Where there is none, or it went out.
pub fn send_again(app: &App, call: &Call, id: i64) -> Result<MessageView, Problem> {
    let now = call.now.as_millisecond();
    app.write(call, Right::Own, move |tx| {
        tx.rows().message(id)?;
        if tx.send_again(id, now)? {
            return Ok(());
        }
        Err(Problem::refused("not-given-up", "This message waits, or went out already."))
    })?;
    app.post_bell.ring();
    app.read(call, Right::Own, |rows| Ok(message_view(rows.message(id)?)))
}

/// What was going out when the program ended may have arrived. To be called before anything is sent.
///
/// # Errors
/// Where the store fails.
pub fn recover_outbox(app: &App, call: &Call) -> Result<(), Problem> {
    const WHY: &str = "The program ended while it went out. It may have arrived, so it is not sent again by itself.";
    let now = call.now.as_millisecond();
    app.write_open(call, move |tx| Ok(tx.unsure_messages(now, WHY)?)).map(drop)
}

/// Sends what is due, one message after another. How many were tried.
///
/// # Errors
/// Where the store fails. What a mail server says is noted with the message.
pub fn send_due(app: &App, call: &Call) -> Result<usize, Problem> {
    let now = call.now;
    let mut tried = 0;
    while let Some(message) = app.read_open(|rows| Ok(rows.due_message(now.as_millisecond())?))? {
        let id = message.id;
        let (ours, _) = app.write_open(call, move |tx| Ok(tx.begin_to_send(id)?))?;
        if !ours {
            continue;
        }
        let letter = Letter {
            id,
            to_name: message.to_name,
            to_address: message.to_address,
            subject: message.subject,
            body: message.body,
            path: message.path,
            at: now,
        };
        let attempt: Attempt = app.outside().post(&letter);
        let next = after_attempt(attempt, message.tries + 1, now);
        app.write_open(call, move |tx| Ok(tx.end_sending(id, &next, now.as_millisecond())?))?;
        tried += 1;
    }
    Ok(tried)
}
