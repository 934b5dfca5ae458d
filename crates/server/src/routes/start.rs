//! The first owner, signing in and out, who I am, and live changes.

use actix_web::cookie::time::Duration;
use actix_web::cookie::{Cookie, SameSite};
use actix_web::http::header::ContentEncoding;
use actix_web::web::Json;
use actix_web::{HttpRequest, HttpResponse, delete, get, post};
use iron_kite_core::problem::Problem;
use iron_kite_ops::people::{self, NewOwner};
use iron_kite_ops::{Actor, people::Member};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, answer, signed_in};
use crate::demo;
use crate::desk::{COOKIE, Caller, Desk, present};
use crate::problem::ApiProblem;

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(start)
        .service(start_owner)
        .service(sign_in)
        .service(sign_out)
        .service(me)
        .service(members)
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

/// What a person signs in with.
#[derive(Deserialize, ToSchema)]
struct SignIn {
    /// The address.
    email: String,
    /// The password.
    password: String,
}

#[utoipa::path(tag = "start", responses((status = 200, body = StartPage)))]
#[get("/start")]
async fn start(desk: Desk) -> Answer<StartPage> {
    let demo = desk.0.demo.then(|| DemoPeople {
        password: demo::PASSWORD.to_owned(),
        people: demo::people()
            .into_iter()
            .map(|(email, name, role)| DemoPerson { email, name, role: role.name().to_owned() })
            .collect(),
    });
    let start = desk.ask(Caller::default(), |app, _| people::start(app)).await?;
    Ok(Json(StartPage { needs_owner: start.needs_owner, demo }))
}

#[utoipa::path(tag = "start", responses((status = 204)))]
#[post("/start")]
async fn start_owner(desk: Desk, new: Json<NewOwner>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(Caller::default(), move |app, call| people::start_owner(app, call, new.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "start", responses((status = 200, body = Actor)))]
#[post("/session")]
async fn sign_in(desk: Desk, request: HttpRequest, given: Json<SignIn>) -> Result<HttpResponse, ApiProblem> {
    desk.not_tried_too_often(&request, &given.email)?;
    let session = desk
        .ask(Caller::default(), move |app, _| people::sign_in(app, &present(), &given.email, &given.password))
        .await?;
    let cookie = cookie(session.key, Duration::days(14), desk.0.behind_tls);
    Ok(HttpResponse::Ok().cookie(cookie).json(session.actor))
}

fn cookie(value: String, lasts: Duration, behind_tls: bool) -> Cookie<'static> {
    Cookie::build(COOKIE, value)
        .path("/")
        .http_only(true)
        .same_site(SameSite::Lax)
        .secure(behind_tls)
        .max_age(lasts)
        .finish()
}

#[utoipa::path(tag = "start", responses((status = 204)))]
#[delete("/session")]
async fn sign_out(desk: Desk, caller: Caller) -> Result<HttpResponse, ApiProblem> {
    if let Some(key) = caller.key {
        desk.ask(Caller::default(), move |app, call| people::sign_out(app, call, &key)).await?;
    }
    Ok(HttpResponse::NoContent().cookie(cookie(String::new(), Duration::ZERO, desk.0.behind_tls)).finish())
}

#[utoipa::path(tag = "start", responses((status = 200, body = Actor)))]
#[get("/me")]
async fn me(desk: Desk, caller: Caller) -> Answer<Actor> {
    answer!(desk, caller, |_, call| call.actor.clone().ok_or(Problem::NotSignedIn))
}

#[utoipa::path(tag = "start", responses((status = 200, body = Vec<Member>)))]
#[get("/members")]
async fn members(desk: Desk, caller: Caller) -> Answer<Vec<Member>> {
    answer!(desk, caller, people::members)
}

#[utoipa::path(tag = "start", responses((status = 200, description = "Changes as they happen", content_type = "text/event-stream", body = String)))]
#[get("/events")]
async fn events(desk: Desk, caller: Caller) -> Result<HttpResponse, ApiProblem> {
    signed_in(&desk, caller).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/event-stream")
        .insert_header(ContentEncoding::Identity)
        .insert_header(("Cache-Control", "no-cache"))
        .streaming(desk.0.live.stream()))
}
