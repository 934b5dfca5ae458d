//! Comments on things.

use actix_web::web::{Json, Path, Query};
use actix_web::{delete, get, patch, post};
use iron_kite_core::things::{CommentId, Thing, ThingKind};
use iron_kite_ops::Saved;
use iron_kite_ops::talk::{self, CommentEdit, NewComment, Resolve, Talk};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, Seen, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(get_talk)
        .service(add_comment)
        .service(edit_comment)
        .service(resolve_comment)
        .service(remove_comment);
}

#[utoipa::path(tag = "talk", responses((status = 200, body = Talk)))]
#[get("/talk/{kind}/{id}")]
async fn get_talk(desk: Desk, caller: Caller, path: Path<(ThingKind, i64)>) -> Answer<Talk> {
    answer!(desk, caller, move |app, call| talk::talk(app, call, Thing::new(path.0, path.1)))
}

#[utoipa::path(tag = "talk", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/comments")]
async fn add_comment(desk: Desk, caller: Caller, new: Json<NewComment>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| talk::add_comment(app, call, new.into_inner()))
}

#[utoipa::path(tag = "talk", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[patch("/comments/{id}")]
async fn edit_comment(desk: Desk, caller: Caller, id: Path<i64>, edit: Json<CommentEdit>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| talk::edit_comment(app, call, CommentId(*id), edit.into_inner()))
}

#[utoipa::path(tag = "talk", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/comments/{id}/resolved")]
async fn resolve_comment(desk: Desk, caller: Caller, id: Path<i64>, to: Json<Resolve>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| talk::resolve_comment(app, call, CommentId(*id), to.into_inner()))
}

#[utoipa::path(tag = "talk", security(("session" = ["contributor"])), params(Seen), responses((status = 200, body = Saved)))]
#[delete("/comments/{id}")]
async fn remove_comment(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| talk::remove_comment(app, call, CommentId(*id), seen.rev))
}
