//! Links by which somebody sets a password once, and the tokens of programs that ask on somebody's behalf.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::text::is_hidden;
use iron_kite_store::queries::keys::TokenRow;
use iron_kite_store::queries::people::User;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::call::{Actor, App, Call};
use crate::passwords;
use crate::people::{check_person, hash_key, new_key};

/// A link works for so long.
const LINK: SignedDuration = SignedDuration::from_hours(24 * 7);
/// What the key of a token begins with, so that one that stands where it should not is found.
pub const TOKEN: &str = "kite_";
/// At most so many tokens of one person.
const MOST_TOKENS: usize = 50;
/// That a token is used is noted so often.
const NOTED: SignedDuration = SignedDuration::from_mins(5);

/// Somebody who is to join.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewMember {
    /// The address to sign in with.
    pub email: String,
    /// The name.
    pub name: String,
    /// What the person may do.
    pub role: Role,
}

/// A link that works once. It is shown once and kept nowhere.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct OnceLink {
    /// What stands in it.
    pub key: String,
    /// When it ends, in milliseconds since 1970.
    pub ends_at: i64,
}

/// Whom a link is for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Invited {
    /// The address to sign in with.
    pub email: String,
    /// The name.
    pub name: String,
}

/// A password that is set by a link.
#[derive(Deserialize, ToSchema)]
pub struct Joining {
    /// What stands in the link.
    pub key: String,
    /// The password: at least twelve characters.
    pub password: String,
}

/// A new token.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewToken {
    /// What it is for.
    pub name: String,
    /// What it may do at most, and no more than whoever makes it.
    pub role: Role,
}

/// A token that was made. Its key is shown once and kept nowhere.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct MadeToken {
    /// Its number.
    pub id: i64,
    /// What a program sends: `Authorization: Bearer …`.
    pub key: String,
}

/// A token.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct TokenView {
    /// Its number.
    pub id: i64,
    /// What it is for.
    pub name: String,
    /// What it may do at most.
    pub role: Role,
    /// Whose it is.
    pub by: String,
    /// When it was made, in milliseconds since 1970.
    pub made_at: i64,
    /// When it was used last.
    pub used_at: Option<i64>,
}

/// Adds somebody, who sets a password by the link.
///
/// # Errors
/// Where the address is taken or a field is not as it should be.
pub fn invite(app: &App, call: &Call, new: NewMember) -> Result<OnceLink, Problem> {
    call.by_no_program()?;
    check_person(&new.email, &new.name)?;
    let (key, now) = (new_key()?, call.now);
    let hash = hash_key(&key);
    app.write(call, Right::Own, move |tx| {
        let user = tx.add_user(new.email.trim(), new.name.trim(), new.role, None)?;
        Ok(tx.add_once_link(&hash, user, now.as_millisecond(), ends(now))?)
    })?;
    Ok(OnceLink { key, ends_at: ends(call.now) })
}

/// A new link for somebody: who has not joined yet, or has lost the password. Until it is used all stays as it is.
///
/// # Errors
/// Where nobody has the address, or the account is closed.
pub fn link_for(app: &App, call: &Call, email: &str) -> Result<OnceLink, Problem> {
    call.by_no_program()?;
    let (key, now, email) = (new_key()?, call.now, email.trim().to_owned());
    let hash = hash_key(&key);
    app.write(call, Right::Own, move |tx| {
        let found = tx.rows().user_by_email(&email)?.map(|(user, _)| user);
        let user = found.ok_or_else(|| Problem::NotFound(format!("person with the address {email}")))?;
        if user.closed {
            return Err(Problem::refused("closed", "This account is closed. Open it again first."));
        }
        Ok(tx.add_once_link(&hash, user.id, now.as_millisecond(), ends(now))?)
    })?;
    Ok(OnceLink { key, ends_at: ends(now) })
}

fn ends(now: Timestamp) -> i64 {
    (now + LINK).as_millisecond()
}

/// Whom a link is for.
///
/// # Errors
/// Where it was used, has ended, or never was.
pub fn invited(app: &App, call: &Call, key: &str) -> Result<Invited, Problem> {
    let user = holder(app, key, call.now)?;
    Ok(Invited { email: user.email, name: user.name })
}

fn holder(app: &App, key: &str, now: Timestamp) -> Result<User, Problem> {
    let hash = hash_key(key);
    let found = app.read_open(|rows| Ok(rows.once_link(&hash, now.as_millisecond())?))?;
    found.ok_or_else(|| {
        let words = "This link was used already, or has ended. Ask whoever sent it for another.";
        Problem::refused("link-ended", words)
    })
}

/// Sets a password by a link, which ends with it; so do that person's sessions and calendar links.
///
/// # Errors
/// Where the link has ended, or the password is easily guessed.
pub fn join(app: &App, call: &Call, joining: &Joining) -> Result<Actor, Problem> {
    let user = holder(app, &joining.key, call.now)?;
    let password = passwords::hash(&joining.password, &user.email)?;
    let (hash, now) = (hash_key(&joining.key), call.now.as_millisecond());
    let (user, _) = app.write_open(call, move |tx| {
        // Only one of two who use it at once.
        let user = tx.rows().once_link(&hash, now)?.ok_or(Problem::WrongSignIn)?;
        tx.set_password(&user.email, &password, None)?;
        tx.end_once_links(user.id)?;
        Ok(user)
    })?;
    Ok(Actor { user_id: Some(user.id), name: user.name, role: user.role })
}

/// Makes a token of whoever asks.
///
/// # Errors
/// Where it has no name, or may do more than they.
pub fn add_token(app: &App, call: &Call, new: NewToken) -> Result<MadeToken, Problem> {
    let me = call.themselves()?;
    let mine = call.actor.as_ref().map_or(Role::Viewer, |actor| actor.role);
    let name: String = new.name.trim().chars().filter(|c| !is_hidden(*c)).collect();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(Problem::invalid("/name", "Say what it is for, in at most 80 characters."));
    }
    if new.role > mine {
        return Err(Problem::invalid("/role", "A token may do no more than you."));
    }
    let key = format!("{TOKEN}{}", new_key()?);
    let (hash, at) = (hash_key(&key), call.now.as_millisecond());
    let (id, _) = app.write(call, Right::Read, move |tx| {
        if tx.rows().tokens(Some(me))?.len() >= MOST_TOKENS {
            return Err(Problem::refused("too-many", format!("You have {MOST_TOKENS} tokens. End one first.")));
        }
        Ok(tx.add_token(&hash, me, &name, new.role, at)?)
    })?;
    Ok(MadeToken { id, key })
}

/// The tokens of whoever asks.
///
/// # Errors
/// Where nobody is signed in.
pub fn my_tokens(app: &App, call: &Call) -> Result<Vec<TokenView>, Problem> {
    let me = call.user_id().ok_or(Problem::NotSignedIn)?;
    views(app.read(call, Right::Read, |rows| Ok(rows.tokens(Some(me))?))?)
}

/// The tokens of everybody.
///
/// # Errors
/// Where the right is missing.
pub fn all_tokens(app: &App, call: &Call) -> Result<Vec<TokenView>, Problem> {
    views(app.read(call, Right::Own, |rows| Ok(rows.tokens(None)?))?)
}

fn views(all: Vec<TokenRow>) -> Result<Vec<TokenView>, Problem> {
    let view = |one: TokenRow| TokenView {
        id: one.id,
        name: one.name,
        role: one.role,
        by: one.by.name,
        made_at: one.made_at,
        used_at: one.used_at,
    };
    Ok(all.into_iter().map(view).collect())
}

/// Ends a token: one's own, or for an owner anybody's.
///
/// # Errors
/// Where there is none such.
pub fn end_token(app: &App, call: &Call, id: i64) -> Result<(), Problem> {
    let me = call.actor.as_ref().ok_or(Problem::NotSignedIn)?;
    let whose = if me.role.may(Right::Own) { None } else { Some(me.user_id.ok_or(Problem::NotSignedIn)?) };
    app.write(call, Right::Read, move |tx| Ok(tx.end_token(id, whose)?)).map(drop)
}

/// On whose behalf a program asks: the person whose token it is, with the lesser of both roles.
///
/// # Errors
/// Where the store fails.
pub(crate) fn who(app: &App, key: &str, now: Timestamp) -> Result<Option<Actor>, Problem> {
    let hash = hash_key(key);
    let Some(token) = app.read_open(|rows| Ok(rows.token(&hash)?))? else { return Ok(None) };
    let used = token.used_at.and_then(|at| Timestamp::from_millisecond(at).ok());
    if used.is_none_or(|used| now > used + NOTED) {
        let (id, at) = (token.id, now.as_millisecond());
        // Where it cannot be noted now, it is the next time.
        let _ = app.write_open(&Call::nobody(now), move |tx| Ok(tx.see_token(id, at)?));
    }
    let role = token.role.min(token.by.role);
    Ok(Some(Actor { user_id: Some(token.by.id), name: token.by.name, role }))
}
