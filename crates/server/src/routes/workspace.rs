//! The workspace itself: who is in it, its products, the keys of programs, its size and its backups.

use actix_web::web::{Json, Path, Query};
use actix_web::{HttpRequest, HttpResponse, delete, get, post, put};
use iron_kite_core::role::Role;
use iron_kite_ops::Saved;
use iron_kite_ops::keys::{self, Invited, Joining, MadeToken, NewMember, NewToken, OnceLink, TokenView};
use iron_kite_ops::people::{self, CalendarLink, Member};
use iron_kite_ops::workspace::{self, Removable, SizeView};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, Seen, answer};
use crate::audit::{about, typed};
use crate::backups;
use crate::desk::{Caller, Desk};
use crate::problem::ApiProblem;

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(members)
        .service(invite)
        .service(link_for)
        .service(set_role)
        .service(close_member)
        .service(invited)
        .service(join)
        .service(my_tokens)
        .service(all_tokens)
        .service(add_token)
        .service(end_token)
        .service(remove_product)
        .service(state)
        .service(back_up)
        .service(calendar_links)
        .service(end_calendar_link);
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = Vec<Member>)))]
#[get("/members")]
async fn members(desk: Desk, caller: Caller) -> Answer<Vec<Member>> {
    answer!(desk, caller, people::members)
}

/// Whether an account is closed.
#[derive(Deserialize, ToSchema)]
struct Closed {
    /// The address of the account.
    email: String,
    /// Whether it is.
    closed: bool,
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 204)))]
#[put("/members/closed")]
async fn close_member(
    desk: Desk,
    caller: Caller,
    request: HttpRequest,
    ask: Json<Closed>,
) -> Result<HttpResponse, ApiProblem> {
    about(&request, json!({ "account": typed(&ask.email), "closed": ask.closed }));
    desk.ask(caller, move |app, call| people::set_closed(app, call, &ask.email, ask.closed)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = Vec<CalendarLink>)))]
#[get("/calendar-links")]
async fn calendar_links(desk: Desk, caller: Caller) -> Answer<Vec<CalendarLink>> {
    answer!(desk, caller, people::calendar_links)
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 204)))]
#[delete("/calendar-links/{id}")]
async fn end_calendar_link(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| people::end_calendar_link(app, call, *id)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Adds somebody, who sets a password by the link.
#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = OnceLink)))]
#[post("/members")]
async fn invite(desk: Desk, caller: Caller, request: HttpRequest, new: Json<NewMember>) -> Answer<OnceLink> {
    about(&request, json!({ "account": typed(&new.email), "role": new.role }));
    answer!(desk, caller, move |app, call| keys::invite(app, call, new.into_inner()))
}

/// Whose link it is to be.
#[derive(Deserialize, ToSchema)]
struct LinkFor {
    /// The address of the account.
    email: String,
}

/// A link by which somebody sets a password anew.
#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = OnceLink)))]
#[post("/members/link")]
async fn link_for(desk: Desk, caller: Caller, request: HttpRequest, ask: Json<LinkFor>) -> Answer<OnceLink> {
    about(&request, typed(&ask.email));
    answer!(desk, caller, move |app, call| keys::link_for(app, call, &ask.email))
}

/// What somebody is from now on.
#[derive(Deserialize, ToSchema)]
struct RoleOf {
    /// The address of the account.
    email: String,
    /// What the person may do.
    role: Role,
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 204)))]
#[put("/members/role")]
async fn set_role(
    desk: Desk,
    caller: Caller,
    request: HttpRequest,
    ask: Json<RoleOf>,
) -> Result<HttpResponse, ApiProblem> {
    about(&request, json!({ "account": typed(&ask.email), "role": ask.role }));
    desk.ask(caller, move |app, call| people::set_role(app, call, &ask.email, ask.role)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// A link that somebody opened.
#[derive(Deserialize, ToSchema)]
struct LinkKey {
    /// What stands in it.
    key: String,
}

/// Whom a link is for, that works once. Its key stands in no address, as addresses are written down on their way.
#[utoipa::path(tag = "workspace", security(()), responses((status = 200, body = Invited)))]
#[post("/joining/look")]
async fn invited(desk: Desk, request: HttpRequest, link: Json<LinkKey>) -> Answer<Invited> {
    desk.not_too_often(&request)?;
    desk.ask(Caller::default(), move |app, call| keys::invited(app, call, &link.key)).await.map(Json)
}

/// Sets a password by a link, which ends with it.
#[utoipa::path(tag = "workspace", security(()), responses((status = 204)))]
#[post("/joining")]
async fn join(desk: Desk, request: HttpRequest, joining: Json<Joining>) -> Result<HttpResponse, ApiProblem> {
    desk.0.tries.take(&desk.from(&request), &joining.key)?;
    let who = desk.hash(Caller::default(), move |app, call| keys::join(app, call, &joining)).await?;
    about(&request, json!({ "name": who.name, "user": who.user_id }));
    Ok(HttpResponse::NoContent().finish())
}

/// The tokens of whoever asks.
#[utoipa::path(tag = "workspace", responses((status = 200, body = Vec<TokenView>)))]
#[get("/me/tokens")]
async fn my_tokens(desk: Desk, caller: Caller) -> Answer<Vec<TokenView>> {
    answer!(desk, caller, keys::my_tokens)
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = Vec<TokenView>)))]
#[get("/tokens")]
async fn all_tokens(desk: Desk, caller: Caller) -> Answer<Vec<TokenView>> {
    answer!(desk, caller, keys::all_tokens)
}

/// Makes a token, by which a program asks on behalf of whoever makes it.
#[utoipa::path(tag = "workspace", security(("session" = ["viewer"])), responses((status = 200, body = MadeToken)))]
#[post("/me/tokens")]
async fn add_token(desk: Desk, caller: Caller, request: HttpRequest, new: Json<NewToken>) -> Answer<MadeToken> {
    about(&request, json!({ "name": new.name, "role": new.role }));
    answer!(desk, caller, move |app, call| keys::add_token(app, call, new.into_inner()))
}

/// Ends a token: one's own, or for an owner anybody's.
#[utoipa::path(tag = "workspace", security(("session" = ["viewer"])), responses((status = 204)))]
#[delete("/tokens/{id}")]
async fn end_token(
    desk: Desk,
    caller: Caller,
    request: HttpRequest,
    id: Path<i64>,
) -> Result<HttpResponse, ApiProblem> {
    about(&request, json!({ "token": *id }));
    desk.ask(caller, move |app, call| keys::end_token(app, call, *id)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "workspace", params(Seen), security(("session" = ["owner"])), responses((status = 200, body = Saved)))]
#[delete("/products/{id}")]
async fn remove_product(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| workspace::remove_product(app, call, (*id).into(), seen.rev))
}

/// How the workspace is.
#[derive(Serialize, ToSchema)]
struct WorkspaceState {
    /// How large it is.
    size: SizeView,
    /// What may be taken away.
    removable: Removable,
    /// Where it lies, on the server.
    folder: String,
    /// Whether messages go out by a mail server; they are kept as files where not.
    mail: bool,
    /// Its backups, the newest first.
    backups: Vec<BackupView>,
}

/// A copy of the database in the folder of the workspace.
#[derive(Serialize, ToSchema)]
struct BackupView {
    /// The name of its file.
    name: String,
    /// Its size in bytes.
    size: u64,
    /// When it was made, in milliseconds since 1970.
    made_at: i64,
}

#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = WorkspaceState)))]
#[get("/workspace")]
async fn state(desk: Desk, caller: Caller) -> Answer<WorkspaceState> {
    let shared = desk.clone();
    answer!(desk, caller, move |app, call| {
        let size = workspace::size(app, call)?;
        let view = |one: backups::Backup| BackupView { name: one.name, size: one.size, made_at: one.made_at };
        let backups = backups::all(&shared.0.dir)?.into_iter().map(view).collect();
        let folder = shared.0.dir.display().to_string();
        let removable = workspace::removable(app, call)?;
        Ok(WorkspaceState { size, removable, folder, mail: shared.0.mails, backups })
    })
}

/// Makes a backup in the folder of the workspace; the oldest goes where there are many.
#[utoipa::path(tag = "workspace", security(("session" = ["owner"])), responses((status = 200, body = BackupView)))]
#[post("/workspace/backups")]
async fn back_up(desk: Desk, caller: Caller) -> Answer<BackupView> {
    let dir = desk.0.dir.clone();
    let made = desk.ask(caller, move |app, call| {
        // Asks for the right.
        workspace::size(app, call)?;
        backups::make(app, &dir, call.now)
    });
    let made = made.await?;
    Ok(Json(BackupView { name: made.name, size: made.size, made_at: made.made_at }))
}
