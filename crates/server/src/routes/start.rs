//! The first owner, signing in and out, who I am, and live changes.

use actix_web::cookie::time::Duration;
use actix_web::cookie::{Cookie, SameSite};
use actix_web::http::header::{ContentEncoding, USER_AGENT};
use actix_web::web::{Json, Path};
use actix_web::{HttpRequest, HttpResponse, ResponseError, delete, get, post, put};
use iron_kite_core::problem::Problem;
use iron_kite_ops::Actor;
use iron_kite_ops::people::{self, OpenSession, OwnPassword};
use iron_kite_ops::start::{self as beginning, Beginnings, NewOwner};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, answer, signed_in};
use crate::audit::DONE;
use crate::desk::{Caller, Desk};
use crate::problem::ApiProblem;
use crate::{audit, demo};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(start)
        .service(start_owner)
        .service(begin)
        .service(sign_in)
        .service(sign_out)
        .service(me)
        .service(my_sessions)
        .service(end_my_session)
        .service(change_own_password)
        .service(leave)
        .service(events);
}

/// What the start page has to know.
#[derive(Serialize, ToSchema)]
struct StartPage {
    /// Nobody can sign in yet: the owner is to be named first.
    needs_owner: bool,
    /// In the demo: the people who can be tried, all with the same password.
    demo: Option<DemoPeople>,
}

/// The people of the demo.
#[derive(Serialize, ToSchema)]
struct DemoPeople {
    /// Their password.
    password: String,
    /// Who they are.
    people: Vec<DemoPerson>,
}

/// One of them.
#[derive(Serialize, ToSchema)]
struct DemoPerson {
    /// The address to sign in with.
    email: String,
    /// The name.
    name: String,
    /// What the person may do.
    role: String,
}

/// Who begins a workspace: whoever sees the console of the server.
#[derive(Deserialize, ToSchema)]
struct FirstOwner {
    /// The code that the server showed when it was started.
    code: String,
    /// The owner, and what is managed.
    #[serde(flatten)]
    owner: NewOwner,
}

/// What a person signs in with.
#[derive(Deserialize, ToSchema)]
struct SignIn {
    /// The address.
    email: String,
    /// The password.
    password: String,
}

#[utoipa::path(tag = "start", security(()), responses((status = 200, body = StartPage)))]
#[get("/start")]
async fn start(desk: Desk) -> Answer<StartPage> {
    let demo = desk.0.demo.then(|| DemoPeople {
        password: demo::PASSWORD.to_owned(),
        people: demo::people()
            .into_iter()
            .map(|(email, name, role)| DemoPerson { email, name, role: role.name().to_owned() })
            .collect(),
    });
    let start = desk.ask(Caller::default(), |app, _| beginning::start(app)).await?;
    Ok(Json(StartPage { needs_owner: start.needs_owner, demo }))
}

#[utoipa::path(tag = "start", security(()), responses((status = 204)))]
#[post("/start")]
async fn start_owner(desk: Desk, request: HttpRequest, first: Json<FirstOwner>) -> Result<HttpResponse, ApiProblem> {
    desk.0.tries.take(&desk.from(&request), "the first owner")?;
    let FirstOwner { code, owner } = first.into_inner();
    let given: String = code.chars().filter(char::is_ascii_alphanumeric).collect::<String>().to_lowercase();
    if desk.0.first_code.as_ref().is_some_and(|code| code.replace('-', "") != given) {
        let words =
            "This is not the code that the server showed when it was started. Look there, and type it as it stands.";
        return Err(Problem::invalid("/code", words).into());
    }
    desk.hash(Caller::default(), move |app, call| beginning::start_owner(app, call, owner)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "start", security(("session" = ["owner"])), responses((status = 204)))]
#[post("/start/product")]
async fn begin(desk: Desk, caller: Caller, begins: Json<Beginnings>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| beginning::begin(app, call, begins.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "start", security(()), responses((status = 200, body = Actor)))]
#[post("/session")]
async fn sign_in(desk: Desk, request: HttpRequest, given: Json<SignIn>) -> Result<HttpResponse, ApiProblem> {
    let (from, email) = (desk.from(&request), given.email.chars().take(300).collect::<String>());
    let note = |who: Option<&Actor>, outcome: &str| {
        desk.0.audit.note("signed in", who, &from, outcome, audit::typed(&email));
    };
    if let Err(problem) = desk.0.tries.take(&from, &email) {
        note(None, "refused (429)");
        return Err(problem.into());
    }
    let browser = request.headers().get(USER_AGENT).and_then(|browser| browser.to_str().ok()).map(str::to_owned);
    let session = desk
        .hash(Caller::default(), move |app, call| {
            people::sign_in(app, call, &given.email, &given.password, browser.as_deref())
        })
        .await
        .inspect_err(|problem| note(None, &format!("refused ({})", problem.status_code().as_u16())))?;
    desk.0.tries.succeeded(&from, &email);
    note(Some(&session.actor), DONE);
    let cookie = cookie(&desk, session.key, Duration::seconds(people::SESSION.as_secs()));
    Ok(HttpResponse::Ok().cookie(cookie).json(session.actor))
}

fn cookie(desk: &Desk, value: String, lasts: Duration) -> Cookie<'static> {
    Cookie::build(desk.cookie(), value)
        .path("/")
        .http_only(true)
        .same_site(SameSite::Lax)
        .secure(desk.0.behind_tls)
        .max_age(lasts)
        .finish()
}

#[utoipa::path(tag = "start", security(()), responses((status = 204)))]
#[delete("/session")]
async fn sign_out(desk: Desk, caller: Caller, request: HttpRequest) -> Result<HttpResponse, ApiProblem> {
    if let Some(key) = caller.key.clone() {
        let who = desk.ask(caller, |_, call| Ok(call.actor.clone())).await?;
        desk.0.audit.note("signed out", who.as_ref(), &desk.from(&request), DONE, Value::Null);
        desk.ask(Caller::default(), move |app, call| people::sign_out(app, call, &key)).await?;
    }
    Ok(HttpResponse::NoContent().cookie(cookie(&desk, String::new(), Duration::ZERO)).finish())
}

#[utoipa::path(tag = "start", responses((status = 200, body = Actor)))]
#[get("/me")]
async fn me(desk: Desk, caller: Caller) -> Answer<Actor> {
    answer!(desk, caller, |_, call| call.actor.clone().ok_or(Problem::NotSignedIn))
}

#[utoipa::path(tag = "start", responses((status = 200, body = Vec<OpenSession>)))]
#[get("/me/sessions")]
async fn my_sessions(desk: Desk, caller: Caller) -> Answer<Vec<OpenSession>> {
    let key = caller.key.clone().unwrap_or_default();
    answer!(desk, caller, move |app, call| people::my_sessions(app, call, &key))
}

#[utoipa::path(tag = "start", security(("session" = ["viewer"])), responses((status = 204)))]
#[delete("/me/sessions/{session}")]
async fn end_my_session(desk: Desk, caller: Caller, session: Path<String>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| people::end_my_session(app, call, &session)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "start", security(("session" = ["viewer"])), responses((status = 204)))]
#[put("/me/password")]
async fn change_own_password(
    desk: Desk,
    caller: Caller,
    request: HttpRequest,
    new: Json<OwnPassword>,
) -> Result<HttpResponse, ApiProblem> {
    // Whoever has found an open window guesses no faster than at the door.
    let (key, from) = (caller.key.clone().unwrap_or_default(), desk.from(&request));
    desk.0.tries.take(&from, &format!("password of {key}"))?;
    let who = desk.ask(caller.clone(), |_, call| Ok(call.actor.clone())).await?;
    let done = desk.hash(caller, move |app, call| people::change_own_password(app, call, &key, &new)).await;
    let outcome = if done.is_ok() { DONE } else { "refused" };
    desk.0.audit.note("own password", who.as_ref(), &from, outcome, Value::Null);
    done?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "start", security(("session" = ["viewer"])), responses((status = 204)))]
#[delete("/me")]
async fn leave(desk: Desk, caller: Caller, request: HttpRequest) -> Result<HttpResponse, ApiProblem> {
    let who = desk.ask(caller.clone(), |_, call| Ok(call.actor.clone())).await?;
    desk.ask(caller, people::leave).await?;
    desk.0.audit.note("left", who.as_ref(), &desk.from(&request), DONE, Value::Null);
    Ok(HttpResponse::NoContent().cookie(cookie(&desk, String::new(), Duration::ZERO)).finish())
}

#[utoipa::path(tag = "start", responses((status = 200, description = "Changes as they happen", content_type = "text/event-stream", body = String)))]
#[get("/events")]
async fn events(desk: Desk, caller: Caller) -> Result<HttpResponse, ApiProblem> {
    signed_in(&desk, caller.clone()).await?;
    let live = desk.0.live.stream(desk.clone(), caller);
    Ok(HttpResponse::Ok()
        .content_type("text/event-stream")
        .insert_header(ContentEncoding::Identity)
        .insert_header(("Cache-Control", "no-cache"))
        .streaming(live))
}
