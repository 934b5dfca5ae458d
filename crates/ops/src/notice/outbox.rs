//! Messages: written, sent, and looked at.

use iron_kite_core::notice::{MessageState, NoticeSort, after_attempt};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use iron_kite_store::Rows;
use iron_kite_store::queries::notices::{Message, NewMessage, NewNotice};
use serde::Serialize;
use utoipa::ToSchema;

use super::SHOWN;
use crate::call::{App, Call};
use crate::outside::Letter;
use crate::things::{name_of, title_of};

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

/// The message of a notice. Words that somebody outside said stay in the workspace: where a message is kept, nobody can
/// erase them any more.
pub(super) fn message(rows: &Rows<'_>, new: &NewNotice, name: &str, address: &str) -> NewMessage {
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
    // What belongs to the whole workspace is looked at from any product.
    let product =
        rows.product_of(new.thing).ok().flatten().or_else(|| rows.first_product().ok().flatten()).unwrap_or_default();
    NewMessage {
        to_name: name.to_owned(),
        to_address: address.to_owned(),
        subject,
        body: format!("{about}\n\n{by}: {}\n", new.words),
        path: format!("/p/{product}/at/{}/{}", new.thing.kind, new.thing.id),
        made_at: new.at,
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
        to: format!("{} <{}>", one.to_name, one.to_address).trim().to_owned(),
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
        let attempt = app.outside().post(&letter);
        let next = after_attempt(attempt, message.tries + 1, now);
        app.write_open(call, move |tx| Ok(tx.end_sending(id, &next, now.as_millisecond())?))?;
        tried += 1;
    }
    Ok(tried)
}
