//! Signing in and out, the first owner, and the people of the workspace.

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::{PasswordHasher, PasswordVerifier};
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::{Right, Role};
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::ThingKind;
use iron_kite_store::Tx;
use iron_kite_store::queries::people::User;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;

use crate::call::{Actor, App, Call, fields};

/// A session lasts so long after signing in.
const SESSION: SignedDuration = SignedDuration::from_hours(24 * 14);
/// The shortest password, in characters.
const SHORTEST: usize = 10;
/// The longest, so that hashing stays cheap.
const LONGEST: usize = 200;

/// What the start page has to know.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Start {
    /// Nobody can sign in yet: the owner is to be named first.
    pub needs_owner: bool,
}

/// The first owner and what is managed.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewOwner {
    /// The address to sign in with.
    pub email: String,
    /// The owner's name.
    pub name: String,
    /// At least ten characters.
    pub password: String,
    /// The name of the first product.
    pub product: String,
    /// The name of the first team.
    pub team: String,
}

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
}

/// The columns that a new team's queue has; the team names them as it likes.
const FIRST_COLUMNS: [(&str, StoryState); 4] = [
    ("To do", StoryState::HandedOver),
    ("Building", StoryState::InBuild),
    ("Checking", StoryState::InCheck),
    ("Done", StoryState::Done),
];

/// Whether the workspace waits for its first owner.
///
/// # Errors
/// Where the store fails.
pub fn start(app: &App) -> Result<Start, Problem> {
    app.read_open(|rows| Ok(Start { needs_owner: rows.users()?.is_empty() }))
}

/// Names the first owner, product and team. Only possible while nobody can sign in.
///
/// # Errors
/// Where there is an owner already, or a field is not as it should be.
pub fn start_owner(app: &App, call: &Call, new: NewOwner) -> Result<(), Problem> {
    check_person(&new.email, &new.name)?;
    let hash = hash_password(app, &new.password)?;
    for (field, text) in [("/product", &new.product), ("/team", &new.team)] {
        if text.trim().is_empty() || text.chars().count() > 80 {
            return Err(Problem::invalid(field, "Give it a name of at most 80 characters."));
        }
    }
    app.write_open(call, move |tx| {
        if !tx.rows().users()?.is_empty() {
            return Err(Problem::refused(
                "has-owner",
                "This workspace has an owner already. Sign in, or ask the owner to add you.",
            ));
        }
        tx.add_user(new.email.trim(), new.name.trim(), Role::Owner, Some(&hash))?;
        if tx.rows().is_empty()? {
            tx.label("began the workspace");
            tx.insert(ThingKind::Product, &fields(json!({ "name": new.product.trim() })))?;
            add_team(tx, new.team.trim(), &FIRST_COLUMNS)?;
        }
        Ok(())
    })?;
    Ok(())
}

/// Adds a team with its columns.
pub(crate) fn add_team(tx: &mut Tx<'_>, name: &str, columns: &[(&str, StoryState)]) -> Result<i64, Problem> {
    let team = tx.insert(ThingKind::Team, &fields(json!({ "name": name })))?;
    for (position, (title, state)) in columns.iter().enumerate() {
        let column = json!({ "team_id": team, "position": position, "title": title, "state": state.name() });
        tx.insert(ThingKind::TeamColumn, &fields(column))?;
    }
    Ok(team)
}

/// Signs somebody in.
///
/// # Errors
/// [`Problem::WrongSignIn`], the same whether the address or the password is wrong.
pub fn sign_in(app: &App, call: &Call, email: &str, password: &str) -> Result<Session, Problem> {
    let found = app.read_open(|rows| Ok(rows.user_by_email(email.trim())?))?;
    let (user, hash) = match found {
        Some((user, Some(hash))) => (Some(user), hash),
        // As much work as for somebody who is there, so that the time tells nothing.
        _ => (None, NOBODY.to_owned()),
    };
    let right = password.chars().count() <= LONGEST && verify_password(app, password, &hash)?;
    let user = user.filter(|_| right).ok_or(Problem::WrongSignIn)?;
    let key = new_key()?;
    let (key_hash, now) = (hash_key(&key), call.now);
    let id = user.id;
    app.write_open(call, move |tx| {
        Ok(tx.begin_session(&key_hash, id, now.as_millisecond(), (now + SESSION).as_millisecond())?)
    })?;
    Ok(Session { key, actor: actor(user) })
}

/// Ends a session.
///
/// # Errors
/// Where the store fails.
pub fn sign_out(app: &App, call: &Call, key: &str) -> Result<(), Problem> {
    let key_hash = hash_key(key);
    app.write_open(call, move |tx| Ok(tx.end_session(&key_hash)?)).map(drop)
}

/// Who has this session, if it has not ended.
///
/// # Errors
/// Where the store fails.
pub fn who(app: &App, key: &str, now: Timestamp) -> Result<Option<Actor>, Problem> {
    let key_hash = hash_key(key);
    app.read_open(|rows| Ok(rows.session_user(&key_hash, now.as_millisecond())?.map(actor)))
}

/// Everybody of the workspace.
///
/// # Errors
/// Where the right is missing.
pub fn members(app: &App, call: &Call) -> Result<Vec<Member>, Problem> {
    app.read(call, Right::Own, |rows| {
        let users = rows.users()?;
        Ok(users.into_iter().map(|user| Member { email: user.email, name: user.name, role: user.role }).collect())
    })
}

/// Adds somebody.
///
/// # Errors
/// Where the address is taken or a field is not as it should be.
pub fn add_member(app: &App, call: &Call, email: &str, name: &str, role: Role, password: &str) -> Result<i64, Problem> {
    check_person(email, name)?;
    let hash = hash_password(app, password)?;
    let (email, name) = (email.trim().to_owned(), name.trim().to_owned());
    Ok(app.write(call, Right::Own, move |tx| Ok(tx.add_user(&email, &name, role, Some(&hash))?))?.0)
}

/// Sets somebody's role.
///
/// # Errors
/// Where nobody has the address, or no owner would be left.
pub fn set_role(app: &App, call: &Call, email: &str, role: Role) -> Result<(), Problem> {
    let email = email.trim().to_owned();
    app.write(call, Right::Own, move |tx| {
        tx.set_role(&email, role)?;
        if tx.rows().users()?.iter().all(|user| user.role != Role::Owner) {
            return Err(Problem::refused(
                "last-owner",
                "A workspace needs an owner. Make somebody else an owner first.",
            ));
        }
        Ok(())
    })
    .map(drop)
}

/// Sets somebody's password and ends that person's sessions.
///
/// # Errors
/// Where nobody has the address, or the password is too short.
pub fn set_password(app: &App, call: &Call, email: &str, password: &str) -> Result<(), Problem> {
    let hash = hash_password(app, password)?;
    let email = email.trim().to_owned();
    app.write(call, Right::Own, move |tx| Ok(tx.set_password(&email, &hash)?)).map(drop)
}

pub(crate) fn actor(user: User) -> Actor {
    Actor { user_id: Some(user.id), name: user.name, role: user.role }
}

fn check_person(email: &str, name: &str) -> Result<(), Problem> {
    let mut faults = Vec::new();
    let email = email.trim();
    let shaped =
        email.split_once('@').is_some_and(|(who, at)| !who.is_empty() && at.contains('.') && !at.ends_with('.'));
    if !shaped || email.chars().any(char::is_whitespace) || email.len() > 254 {
        faults.push(Fault::new("/email", "Write an address such as wren@crossing.example."));
    }
    if name.trim().is_empty() || name.chars().count() > 120 {
        faults.push(Fault::new("/name", "Write a name of at most 120 characters."));
    }
    if faults.is_empty() { Ok(()) } else { Err(Problem::Invalid(faults)) }
}

/// A hash of no password that anybody has.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

fn hash_password(app: &App, password: &str) -> Result<String, Problem> {
    let length = password.chars().count();
    if !(SHORTEST..=LONGEST).contains(&length) {
        return Err(Problem::invalid("/password", format!("Take a password of {SHORTEST} to {LONGEST} characters.")));
    }
    let _one = app.hashing.lock().map_err(|_| Problem::Busy)?;
    let hash =
        Argon2::default().hash_password(password.as_bytes()).map_err(|fault| Problem::Internal(fault.to_string()))?;
    Ok(hash.to_string())
}

fn verify_password(app: &App, password: &str, hash: &str) -> Result<bool, Problem> {
    let hash = PasswordHash::new(hash).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let _one = app.hashing.lock().map_err(|_| Problem::Busy)?;
    Ok(Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
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
