//! Who is told of what, what somebody follows and wants to hear of, and the outbox.
//!
//! | file | what is in it |
//! |---|---|
//! | `mod` | notices as somebody reads them, following, and what somebody wants to hear of |
//! | `telling` | whom a change concerns, and giving notices |
//! | `outbox` | messages: written, sent, and looked at |

mod outbox;
mod telling;

use iron_kite_core::notice::{NoticeSort, Setting, Settings};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{CommentId, Thing};
use iron_kite_store::Rows;
use iron_kite_store::queries::notices::Notice;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use outbox::{MessageView, outbox, recover_outbox, send_again, send_due};
pub(crate) use telling::{give, tell_of};

use crate::call::{App, Call};
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

/// So many notices are shown.
const SHOWN: usize = 100;

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
