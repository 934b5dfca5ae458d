//! Signing in and out, and the people of the workspace.

use std::sync::PoisonError;

use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::{Right, Role};
use iron_kite_core::text::is_hidden;
use iron_kite_store::Tx;
use iron_kite_store::queries::people::{LinkRow, NewSession, SessionRow, User};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;

use crate::call::{Actor, App, Call};
use crate::keys;
use crate::passwords;

/// A session lasts so long after signing in, whatever happens.
pub const SESSION: SignedDuration = SignedDuration::from_hours(24 * 7);
/// And so long where nobody uses it, in milliseconds: twelve hours.
const IDLE: i64 = 12 * 60 * 60 * 1_000;
/// That it is used is noted so often.
const NOTED: SignedDuration = SignedDuration::from_mins(5);
/// So much is kept of what a browser says that it is, in characters.
const BROWSER: usize = 200;
/// The longest address, in bytes (RFC 5321).
const LONGEST_EMAIL: usize = 254;

/// A new session. The key goes into the cookie and is kept nowhere.
pub struct Session {
    /// The secret key.
    pub key: String,
    /// Who is signed in.
    pub actor: Actor,
}

/// Somebody of the workspace.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Member {
    /// The address.
    pub email: String,
    /// The name.
    pub name: String,
    /// What the person may do.
    pub role: Role,
    /// Whether the account was closed: what was done stays that person's.
    pub closed: bool,
    /// Whether the person has a password: who was invited and has not joined has none.
    pub joined: bool,
    /// When the link ends by which the person sets a password, in milliseconds since 1970, where there is one.
    pub link_ends_at: Option<i64>,
}

/// Where somebody is signed in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct OpenSession {
    /// What it is called by.
    pub id: String,
    /// Whether it is the one that asks.
    pub this: bool,
    /// When it began, in milliseconds since 1970, where that is known.
    pub began_at: Option<i64>,
    /// When it was used last.
    pub seen_at: Option<i64>,
    /// What the browser says that it is.
    pub browser: Option<String>,
}

/// A link by which another program subscribes to a calendar.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct CalendarLink {
    /// Its number.
    pub id: i64,
    /// The view that it shows.
    pub view: String,
    /// Who made it.
    pub by: String,
    /// When, in milliseconds since 1970.
    pub made_at: i64,
}

/// A new password of one's own.
#[derive(Deserialize, ToSchema)]
pub struct OwnPassword {
    /// The one until now.
    pub present: String,
    /// The new one: at least twelve characters.
    pub password: String,
}

/// Signs somebody in.
///
/// # Errors
/// [`Problem::WrongSignIn`], the same whether the address or the password is wrong.
pub fn sign_in(app: &App, call: &Call, email: &str, password: &str, browser: Option<&str>) -> Result<Session, Problem> {
    // What is longer is nobody's, and not looked at.
    let fits = email.len() <= LONGEST_EMAIL && password.chars().count() <= passwords::LONGEST;
    if !fits {
        return Err(Problem::WrongSignIn);
    }
    let found = app.read_open(|rows| Ok(rows.user_by_email(email.trim())?))?;
    let (user, hash) = match found {
        Some((user, Some(hash))) if !user.closed => (Some(user), hash),
        // As much work as for somebody who is there, so that the time tells nothing.
        _ => (None, passwords::NOBODY.to_owned()),
    };
    let right = passwords::verify(password, &hash)?;
    let user = user.filter(|_| right).ok_or(Problem::WrongSignIn)?;
    let key = new_key()?;
    let (key_hash, now) = (hash_key(&key), call.now);
    let id = user.id;
    let ends = now + SESSION;
    let browser = browser.map(|browser| browser.chars().filter(|c| !is_hidden(*c)).take(BROWSER).collect::<String>());
    let hash = key_hash.clone();
    let written = app.write_open(call, move |tx| {
        let (now, ends_at) = (now.as_millisecond(), ends.as_millisecond());
        Ok(tx.begin_session(&NewSession {
            key_hash: &key_hash,
            user: id,
            now,
            ends_at,
            browser: browser.as_deref(),
        })?)
    });
    match written {
        Ok(_) => {}
        // Whoever is to make room has to be let in.
        Err(Problem::DiskFull) => remember(app, hash, id, now),
        Err(problem) => return Err(problem),
    }
    Ok(Session { key, actor: actor(user) })
}

/// A session that could not be written lasts for an hour, and no longer than the program.
const UNWRITTEN: SignedDuration = SignedDuration::from_hours(1);
/// So many of them.
const MOST_UNWRITTEN: usize = 1_000;

fn remember(app: &App, hash: String, user: i64, now: Timestamp) {
    let mut unwritten = app.unwritten.lock().unwrap_or_else(PoisonError::into_inner);
    unwritten.retain(|_, (_, ends)| *ends > now);
    if unwritten.len() < MOST_UNWRITTEN {
        unwritten.insert(hash, (user, now + UNWRITTEN));
    }
}

/// Ends a session.
///
/// # Errors
/// Where the store fails.
pub fn sign_out(app: &App, call: &Call, key: &str) -> Result<(), Problem> {
    let key_hash = hash_key(key);
    app.unwritten.lock().unwrap_or_else(PoisonError::into_inner).remove(&key_hash);
    app.write_open(call, move |tx| Ok(tx.end_session(&key_hash)?)).map(drop)
}

/// Who has this session, if it has not ended.
///
/// # Errors
/// Where the store fails.
pub fn who(app: &App, key: &str, now: Timestamp) -> Result<Option<Actor>, Problem> {
    if key.starts_with(keys::TOKEN) {
        return keys::who(app, key, now);
    }
    let key_hash = hash_key(key);
    let unwritten = app.unwritten.lock().unwrap_or_else(PoisonError::into_inner).get(&key_hash).copied();
    let unwritten = unwritten.filter(|(_, ends)| *ends > now).map(|(user, _)| user);
    if let Some(id) = unwritten {
        let all = app.read_open(|rows| Ok(rows.users()?))?;
        return Ok(all.into_iter().find(|user| user.id == id && !user.closed).map(actor));
    }
    let found = app.read_open(|rows| Ok(rows.session_user(&key_hash, now.as_millisecond(), IDLE)?))?;
    let Some((user, seen)) = found else { return Ok(None) };
    let noted = Timestamp::from_millisecond(seen.unwrap_or_default()).is_ok_and(|seen| now < seen + NOTED);
    if !noted {
        // Where it cannot be noted now, it is the next time.
        let _ = app.write_open(&Call::nobody(now), move |tx| Ok(tx.see_session(&key_hash, now.as_millisecond())?));
    }
    Ok(Some(actor(user)))
}

/// Where whoever asks is signed in; `key` is that of the session that asks.
///
/// # Errors
/// Where nobody is signed in.
pub fn my_sessions(app: &App, call: &Call, key: &str) -> Result<Vec<OpenSession>, Problem> {
    let (me, hash) = (call.themselves()?, hash_key(key));
    let sessions = app.read(call, Right::Read, |rows| Ok(rows.sessions_of(me, call.now.as_millisecond(), IDLE)?))?;
    let view = |one: SessionRow| OpenSession {
        this: one.key_hash == hash,
        id: one.id,
        began_at: one.began_at,
        seen_at: one.seen_at,
        browser: one.browser,
    };
    Ok(sessions.into_iter().map(view).collect())
}

/// Ends a session of whoever asks.
///
/// # Errors
/// Where there is none of this name.
pub fn end_my_session(app: &App, call: &Call, id: &str) -> Result<(), Problem> {
    let me = call.themselves()?;
    let (id, now) = (id.to_owned(), call.now.as_millisecond());
    app.write(call, Right::Read, move |tx| {
        let all = tx.rows().sessions_of(me, now, IDLE)?;
        let one =
            all.into_iter().find(|one| one.id == id).ok_or_else(|| Problem::NotFound("session of this name".into()))?;
        Ok(tx.end_session(&one.key_hash)?)
    })
    .map(drop)
}

/// Changes the password of whoever asks. Their other sessions end, and so do their calendar links.
///
/// # Errors
/// Where the present one is wrong, or the new one is easily guessed.
pub fn change_own_password(app: &App, call: &Call, key: &str, new: &OwnPassword) -> Result<(), Problem> {
    let me = call.themselves()?;
    let (email, hash) = app.read(call, Right::Read, |rows| {
        let user = rows.users()?.into_iter().find(|user| user.id == me).ok_or(Problem::NotSignedIn)?;
        let hash = rows.user_by_email(&user.email)?.and_then(|(_, hash)| hash);
        Ok((user.email, hash))
    })?;
    let fits = new.present.chars().count() <= passwords::LONGEST;
    if !fits || !passwords::verify(&new.present, hash.as_deref().unwrap_or(passwords::NOBODY))? {
        return Err(Problem::invalid("/present", "This is not your present password. Nothing was changed."));
    }
    let (hash, this) = (passwords::hash(&new.password, &email)?, hash_key(key));
    app.write(call, Right::Read, move |tx| Ok(tx.set_password(&email, &hash, Some(&this))?)).map(drop)
}

/// Closes the account of whoever asks. What they did stays theirs.
///
/// # Errors
/// Where no owner would be left.
pub fn leave(app: &App, call: &Call) -> Result<(), Problem> {
    let me = call.themselves()?;
    app.write(call, Right::Read, move |tx| {
        let user = tx.rows().users()?.into_iter().find(|user| user.id == me).ok_or(Problem::NotSignedIn)?;
        tx.set_closed(&user.email, true)?;
        needs_owner(tx)
    })
    .map(drop)
}

/// Closes somebody's account, or opens it again.
///
/// # Errors
/// Where nobody has the address, or no owner would be left.
pub fn set_closed(app: &App, call: &Call, email: &str, closed: bool) -> Result<(), Problem> {
    call.by_no_program()?;
    let email = email.trim().to_owned();
    app.write(call, Right::Own, move |tx| {
        tx.set_closed(&email, closed)?;
        needs_owner(tx)
    })
    .map(drop)
}

/// All calendar links of the workspace.
///
/// # Errors
/// Where the right is missing.
pub fn calendar_links(app: &App, call: &Call) -> Result<Vec<CalendarLink>, Problem> {
    let all = app.read(call, Right::Own, |rows| Ok(rows.all_calendar_links()?))?;
    let view = |one: LinkRow| CalendarLink { id: one.id, view: one.view, by: one.by, made_at: one.made_at };
    Ok(all.into_iter().map(view).collect())
}

/// Ends a calendar link.
///
/// # Errors
/// Where there is none of this number.
pub fn end_calendar_link(app: &App, call: &Call, id: i64) -> Result<(), Problem> {
    app.write(call, Right::Own, move |tx| Ok(tx.end_calendar_link(id)?)).map(drop)
}

fn needs_owner(tx: &Tx<'_>) -> Result<(), Problem> {
    if tx.rows().users()?.iter().any(|user| user.role == Role::Owner && !user.closed) {
        return Ok(());
    }
    Err(Problem::refused("last-owner", "A workspace needs an owner. Make somebody else an owner first."))
}

/// Everybody of the workspace.
///
/// # Errors
/// Where the right is missing.
pub fn members(app: &App, call: &Call) -> Result<Vec<Member>, Problem> {
    app.read(call, Right::Own, |rows| {
        let (users, joined) = (rows.users()?, rows.with_password()?);
        let links = rows.once_links(call.now.as_millisecond())?;
        let view = |user: User| Member {
            joined: joined.contains(&user.id),
            link_ends_at: links.iter().find(|(id, _)| *id == user.id).map(|(_, ends_at)| *ends_at),
            email: user.email,
            name: user.name,
            role: user.role,
            closed: user.closed,
        };
        Ok(users.into_iter().map(view).collect())
    })
}

/// Adds somebody.
///
/// # Errors
/// Where the address is taken or a field is not as it should be.
pub fn add_member(app: &App, call: &Call, email: &str, name: &str, role: Role, password: &str) -> Result<i64, Problem> {
    call.by_no_program()?;
    check_person(email, name)?;
    let hash = passwords::hash(password, email)?;
    let (email, name) = (email.trim().to_owned(), name.trim().to_owned());
    Ok(app.write(call, Right::Own, move |tx| Ok(tx.add_user(&email, &name, role, Some(&hash))?))?.0)
}

/// Sets somebody's role.
///
/// # Errors
/// Where nobody has the address, or no owner would be left.
pub fn set_role(app: &App, call: &Call, email: &str, role: Role) -> Result<(), Problem> {
    call.by_no_program()?;
    let email = email.trim().to_owned();
    app.write(call, Right::Own, move |tx| {
        tx.set_role(&email, role)?;
        needs_owner(tx)
    })
    .map(drop)
}

/// Sets somebody's password and ends that person's sessions and calendar links.
///
/// # Errors
/// Where nobody has the address, or the password is too short.
pub fn set_password(app: &App, call: &Call, email: &str, password: &str) -> Result<(), Problem> {
    call.by_no_program()?;
    let hash = passwords::hash(password, email)?;
    let email = email.trim().to_owned();
    app.write(call, Right::Own, move |tx| Ok(tx.set_password(&email, &hash, None)?)).map(drop)
}

pub(crate) fn actor(user: User) -> Actor {
    Actor { user_id: Some(user.id), name: user.name, role: user.role }
}

pub(crate) fn check_person(email: &str, name: &str) -> Result<(), Problem> {
    let mut faults = Vec::new();
    let email = email.trim();
    let shaped =
        email.split_once('@').is_some_and(|(who, at)| !who.is_empty() && at.contains('.') && !at.ends_with('.'));
    if !shaped || email.chars().any(char::is_whitespace) || email.len() > LONGEST_EMAIL {
        faults.push(Fault::new("/email", "Write an address such as wren@crossing.example."));
    }
    if name.trim().is_empty() || name.chars().count() > 120 {
        faults.push(Fault::new("/name", "Write a name of at most 120 characters."));
    }
    if faults.is_empty() { Ok(()) } else { Err(Problem::Invalid(faults)) }
}

/// A code that is easily typed: four times four digits and letters of a hexadecimal number.
///
/// # Errors
/// Where the system gives no chance.
pub fn new_code() -> Result<String, Problem> {
    let key = new_key()?;
    Ok(key.as_bytes().chunks(4).take(4).map(|four| String::from_utf8_lossy(four)).collect::<Vec<_>>().join("-"))
}

pub(crate) fn new_key() -> Result<String, Problem> {
    let mut bytes = [0; 32];
    getrandom::fill(&mut bytes).map_err(|fault| Problem::Internal(fault.to_string()))?;
    Ok(hex(&bytes))
}

pub(crate) fn hash_key(key: &str) -> String {
    hex(&Sha256::digest(key.as_bytes()))
}

/// Bytes as hexadecimal digits.
pub(crate) fn hex(bytes: &[u8]) -> String {
    use std::fmt::Write;
    bytes.iter().fold(String::new(), |mut text, byte| {
        let _ = write!(text, "{byte:02x}");
        text
    })
}
