//! The API, one file for each stage. Every handler calls one use case.

mod attachments;
mod collections;
mod decide;
mod handover;
mod jobs;
mod learn;
mod line;
mod listen;
mod map;
mod market;
mod notices;
mod open;
mod plan;
mod rules;
mod scores;
mod specify;
mod start;
mod takeout;
mod talk;
mod workspace;

use actix_web::dev::{ServiceFactory, ServiceRequest};
use actix_web::http::header::{CACHE_CONTROL, HeaderName, HeaderValue};
use actix_web::web::Json;
use actix_web::{App as Web, Error, HttpResponse, HttpResponseBuilder, Responder, get, web};
use iron_kite_core::fields::Period;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use serde::Deserialize;
use utoipa::openapi::security::{ApiKey, ApiKeyValue, SecurityRequirement, SecurityScheme};
use utoipa::openapi::{ContentBuilder, OpenApi as Description, Ref, RefOr, ResponseBuilder};
use utoipa::{IntoParams, OpenApi, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;
use utoipa_actix_web::{AppExt, scope};

use crate::desk::{Caller, Desk};
use crate::guard::Asks;
use crate::health;
use crate::problem::{ApiProblem, ProblemBody};

/// What a handler answers.
pub(crate) type Answer<T> = Result<Json<T>, ApiProblem>;

/// Which product is asked about.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct OfProduct {
    /// The product.
    pub(crate) product: i64,
}

/// The revision that was seen.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Seen {
    /// The revision.
    pub(crate) rev: i64,
}

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Iron Kite",
        description = "From somebody's words to what was delivered and what came of it.",
        version = "1"
    ),
    components(schemas(ProblemBody, Period))
)]
struct Head;

/// Puts the API and its description into an application.
pub(crate) fn mount<T>(app: Web<T>, desk: Desk) -> Web<T>
where
    T: ServiceFactory<ServiceRequest, Config = (), Error = Error, InitError = ()>,
{
    app.app_data(web::Data::new(desk))
        .app_data(web::Data::new(Described(openapi().unwrap_or_default())))
        .app_data(web::Data::new(asks()))
        .service(health::healthz)
        .service(health::readyz)
        // Before the scope, which answers for every address below its own.
        .service(described)
        .into_utoipa_app()
        .service(scope::scope("/api/v1").configure(all))
        .into_app()
}

fn all(config: &mut ServiceConfig<'_>) {
    config
        .configure(start::routes)
        .configure(workspace::routes)
        .configure(line::routes)
        .configure(collections::routes)
        .configure(talk::routes)
        .configure(notices::routes)
        .configure(rules::routes)
        .configure(attachments::routes)
        .configure(listen::routes)
        .configure(decide::routes)
        .configure(scores::routes)
        .configure(market::routes)
        .configure(open::routes)
        .configure(specify::routes)
        .configure(map::routes)
        .configure(plan::routes)
        .configure(handover::routes)
        .configure(jobs::routes)
        .configure(learn::routes)
        .configure(takeout::routes);
}

/// Every operation may answer with a problem.
fn with_problems(description: &mut Description) {
    let content = ContentBuilder::new().schema(Some(Ref::from_schema_name(ProblemBody::name()))).build();
    let problem = ResponseBuilder::new()
        .description("A problem (RFC 9457); nothing was changed")
        .content("application/problem+json", content)
        .build();
    for item in description.paths.paths.values_mut() {
        let operations = [&mut item.get, &mut item.post, &mut item.patch, &mut item.put, &mut item.delete];
        for operation in operations.into_iter().flatten() {
            operation.responses.responses.insert("default".into(), RefOr::T(problem.clone()));
        }
    }
}

struct Described(String);

#[get("/api/v1/openapi.json")]
async fn described(text: web::Data<Described>) -> impl Responder {
    HttpResponse::Ok().content_type("application/json").body(text.0.clone())
}

/// The description of the API, as it is committed for the front end.
///
/// # Errors
/// Where it cannot be written as JSON.
pub fn openapi() -> Result<String, String> {
    let description = describe();
    description.to_pretty_json().map(|text| text + "\n").map_err(|fault| fault.to_string())
}

fn describe() -> Description {
    let (_, mut description) = Web::new()
        .into_utoipa_app()
        .openapi(Head::openapi())
        .service(scope::scope("/api/v1").configure(all))
        .split_for_parts();
    with_problems(&mut description);
    with_roles(&mut description);
    description
}

/// What each operation asks for of whoever sends something.
fn asks() -> Asks {
    let description = openapi().ok().and_then(|text| serde_json::from_str(&text).ok());
    Asks::of(&description.unwrap_or_default())
}

/// Where nothing else is said, who is signed in may ask, and it takes an editor to change something.
fn with_roles(description: &mut Description) {
    let session = ApiKey::Cookie(ApiKeyValue::with_description(
        "iron_kite_session",
        "The session of somebody who is signed in; with the least role that it takes",
    ));
    let components = description.components.get_or_insert_default();
    components.security_schemes.insert(SESSION.into(), RefOr::T(SecurityScheme::ApiKey(session)));
    for item in description.paths.paths.values_mut() {
        for (operation, role) in [
            (&mut item.get, Role::Viewer),
            (&mut item.post, Role::Editor),
            (&mut item.patch, Role::Editor),
            (&mut item.put, Role::Editor),
            (&mut item.delete, Role::Editor),
        ] {
            if let Some(operation) = operation {
                operation.security.get_or_insert_with(|| vec![SecurityRequirement::new(SESSION, [role.name()])]);
            }
        }
    }
}

/// How a session is called in the description.
const SESSION: &str = "session";

/// Runs a use case and answers with what it gives.
macro_rules! answer {
    ($desk:expr, $caller:expr, $use_case:expr) => {
        $desk.ask($caller, $use_case).await.map(actix_web::web::Json)
    };
}
pub(crate) use answer;

/// A file for the person to keep.
pub(crate) fn download(name: &str, kind: &str, body: impl Into<Vec<u8>>) -> HttpResponse {
    let body: Vec<u8> = body.into();
    download_head(name, kind).body(body)
}

/// The beginning of an answer that is a file to keep.
pub(crate) fn download_head(name: &str, kind: &str) -> HttpResponseBuilder {
    let mut head = HttpResponse::Ok();
    head.content_type(kind.to_owned())
        .insert_header((HeaderName::from_static("content-disposition"), format!("attachment; filename=\"{name}\"")))
        .insert_header((CACHE_CONTROL, HeaderValue::from_static("no-store")));
    head
}

/// Makes sure that somebody is signed in, for what is no use case.
pub(crate) async fn signed_in(desk: &Desk, caller: Caller) -> Result<(), ApiProblem> {
    desk.ask(caller, |_, call| call.actor.as_ref().map(drop).ok_or(Problem::NotSignedIn)).await
}
