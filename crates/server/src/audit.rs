//! The security log: who did what takes an owner, who signed in, and what was refused; from where, when and with what outcome. One
//! JSON object a line, in the workspace's folder and in the program's own log. It holds no secrets: no passwords, no keys, no
//! addresses that hold one.

use std::fs::{self, File, OpenOptions};
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};
use std::sync::{Mutex, PoisonError};
use std::time::Instant;

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage, HttpRequest, web};
use iron_kite_core::role::Role;
use iron_kite_ops::Actor;
use jiff::Timestamp;
use serde_json::{Value, json};

use crate::desk::{Caller, Desk};
use crate::floods::Floods;
use crate::guard::Asks;

/// The file in the workspace's folder; a full one is kept once more beside it.
const FILE: &str = "security.log";
const FULL: u64 = 16 * 1024 * 1024;
/// So much of a typed address is noted, in characters.
const ADDRESS: usize = 100;

/// How it is said that something was done.
pub(crate) const DONE: &str = "done";

/// Where it is written.
pub(crate) struct Audit {
    path: PathBuf,
    file: Mutex<Option<File>>,
    refused: Mutex<Floods>,
}

impl Audit {
    /// The log of a workspace's folder.
    pub(crate) fn of(dir: &Path) -> Self {
        Audit { path: dir.join(FILE), file: Mutex::new(None), refused: Mutex::new(Floods::new(Instant::now())) }
    }

    /// Notes something, and of what is refused over and over how often. A log that cannot be written is told of, and stops nobody.
    pub(crate) fn note(&self, what: &str, who: Option<&Actor>, from: &str, outcome: &str, about: Value) {
        let (noted, over) = {
            let mut refused = self.refused.lock().unwrap_or_else(PoisonError::into_inner);
            let over = refused.over(Instant::now());
            (outcome == DONE || refused.note(&format!("{what}, {outcome}, from {from}")), over)
        };
        for (what, times) in over {
            self.put("refused over and over", None, "", "refused", &json!({ "what": what, "times_more": times }));
        }
        if noted {
            self.put(what, who, from, outcome, &about);
        }
    }

    fn put(&self, what: &str, who: Option<&Actor>, from: &str, outcome: &str, about: &Value) {
        let name = who.map_or("nobody", |actor| actor.name.as_str());
        tracing::info!(target: "security", what, who = name, from, outcome, %about);
        let line = json!({
            "at": Timestamp::now().to_string(), "what": what, "who": who.map(|actor| actor.name.clone()),
            "user": who.and_then(|actor| actor.user_id), "from": from, "outcome": outcome, "about": about,
        });
        if let Err(fault) = self.write(&line) {
            tracing::error!(%fault, "the security log cannot be written");
        }
    }

    fn write(&self, line: &Value) -> std::io::Result<()> {
        let mut file = self.file.lock().unwrap_or_else(PoisonError::into_inner);
        if file.as_ref().map(File::metadata).transpose()?.is_some_and(|known| known.len() > FULL) {
            *file = None;
            fs::rename(&self.path, self.path.with_extension("log.1"))?;
        }
        if file.is_none() {
            *file = Some(OpenOptions::new().create(true).append(true).mode(0o600).open(&self.path)?);
        }
        // One write, so that lines of a command beside the server are not mixed with others.
        file.as_mut().map_or(Ok(()), |file| file.write_all(format!("{line}\n").as_bytes()))
    }
}

/// What somebody typed as their address, where it is one: people type passwords into the wrong field.
pub(crate) fn typed(email: &str) -> Value {
    let shaped = email.split_once('@').is_some_and(|(name, domain)| !name.is_empty() && domain.contains('.'));
    if shaped { json!({ "address": email.trim().chars().take(ADDRESS).collect::<String>() }) } else { Value::Null }
}

/// What an operation is about, as it is noted: it is noted then whoever may do it.
#[derive(Clone)]
struct About(Value);

/// Says what an operation is about. No secrets.
pub(crate) fn about(request: &HttpRequest, what: Value) {
    request.extensions_mut().insert(About(what));
}

/// The middleware: notes what takes an owner, what says what it is about, and what was refused.
pub(crate) async fn audit<B: MessageBody>(request: ServiceRequest, next: Next<B>) -> Result<ServiceResponse<B>, Error> {
    let known = request.app_data::<web::Data<Desk>>().zip(request.app_data::<web::Data<Asks>>());
    let Some((desk, asks)) = known.map(|(desk, asks)| (desk.get_ref().clone(), asks.clone())) else {
        return next.call(request).await;
    };
    let (method, path) = (request.method().clone(), request.path().to_owned());
    let from = desk.from(request.request());
    // To look at a list is nothing; to take everything out is.
    let looks = method == Method::GET && !path.contains("/takeout/");
    let takes_owner = !looks && asks.role_of(&method, &path) == Some(Some(Role::Owner));
    let caller = Caller::of(&desk, request.request());
    let answer = next.call(request).await?;
    let status = answer.status();
    let refused = [StatusCode::FORBIDDEN, StatusCode::TOO_MANY_REQUESTS, StatusCode::MISDIRECTED_REQUEST].contains(&status)
        // Whoever opens a page is nobody at first; to send something as nobody is another matter.
        || (status == StatusCode::UNAUTHORIZED && method != Method::GET);
    let about = answer.request().extensions().get::<About>().cloned();
    // Signing in is noted where it is done, with the address.
    if (!takes_owner && !refused && about.is_none()) || path.ends_with("/session") {
        return Ok(answer);
    }
    let noted = answer.request().extensions().get::<Actor>().cloned();
    let who = match noted {
        Some(actor) => Some(actor),
        None => desk.ask(caller, |_, call| Ok(call.actor.clone())).await.ok().flatten(),
    };
    // Of an address that may hold a secret only its pattern is noted.
    let place =
        if takes_owner { path } else { asks.pattern_of(&method, &path).unwrap_or_else(|| "another address".into()) };
    let outcome = if status.is_success() { DONE.to_owned() } else { format!("refused ({})", status.as_u16()) };
    desk.0.audit.note(
        &format!("{method} {place}"),
        who.as_ref(),
        &from,
        &outcome,
        about.map_or(Value::Null, |about| about.0),
    );
    Ok(answer)
}
