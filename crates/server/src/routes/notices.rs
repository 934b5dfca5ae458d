//! What people are told and follow, the outbox, and the opening page.

use actix_web::web::{Json, Path, Query};
use actix_web::{HttpResponse, get, post, put};
use iron_kite_core::notice::Setting;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_ops::notice::{self, Following, MessageView, Notices, ReadNotices};
use iron_kite_ops::opening::{self, Opening, VisitInput};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};
use crate::problem::ApiProblem;

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(get_notices)
        .service(read_notices)
        .service(follow)
        .service(settings)
        .service(set_setting)
        .service(outbox)
        .service(send_again)
        .service(get_opening)
        .service(visit);
}

#[utoipa::path(tag = "notices", responses((status = 200, body = Notices)))]
#[get("/notices")]
async fn get_notices(desk: Desk, caller: Caller) -> Answer<Notices> {
    answer!(desk, caller, notice::notices)
}

#[utoipa::path(tag = "notices", security(("session" = ["viewer"])), responses((status = 200, body = usize)))]
#[post("/notices/read")]
async fn read_notices(desk: Desk, caller: Caller, read: Json<ReadNotices>) -> Answer<usize> {
    answer!(desk, caller, move |app, call| notice::read_notices(app, call, read.into_inner()))
}

#[utoipa::path(tag = "notices", security(("session" = ["viewer"])), responses((status = 204)))]
#[put("/following/{kind}/{id}")]
async fn follow(
    desk: Desk,
    caller: Caller,
    path: Path<(ThingKind, i64)>,
    to: Json<Following>,
) -> Result<HttpResponse, ApiProblem> {
    let thing = Thing::new(path.0, path.1);
    desk.ask(caller, move |app, call| notice::follow(app, call, thing, to.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "notices", responses((status = 200, body = Vec<Setting>)))]
#[get("/notices/settings")]
async fn settings(desk: Desk, caller: Caller) -> Answer<Vec<Setting>> {
    answer!(desk, caller, notice::settings)
}

#[utoipa::path(tag = "notices", security(("session" = ["viewer"])), responses((status = 204)))]
#[put("/notices/settings")]
async fn set_setting(desk: Desk, caller: Caller, setting: Json<Setting>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| notice::set_setting(app, call, setting.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[utoipa::path(tag = "notices", security(("session" = ["owner"])), responses((status = 200, body = Vec<MessageView>)))]
#[get("/outbox")]
async fn outbox(desk: Desk, caller: Caller) -> Answer<Vec<MessageView>> {
    answer!(desk, caller, notice::outbox)
}

#[utoipa::path(tag = "notices", security(("session" = ["owner"])), responses((status = 200, body = MessageView)))]
#[post("/outbox/{id}/again")]
async fn send_again(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<MessageView> {
    answer!(desk, caller, move |app, call| notice::send_again(app, call, *id))
}

#[utoipa::path(tag = "notices", params(OfProduct), responses((status = 200, body = Opening)))]
#[get("/opening")]
async fn get_opening(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Opening> {
    answer!(desk, caller, move |app, call| opening::opening(app, call, of.product.into()))
}

#[utoipa::path(tag = "notices", security(("session" = ["viewer"])), responses((status = 204)))]
#[put("/visit")]
async fn visit(desk: Desk, caller: Caller, input: Json<VisitInput>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| opening::visit(app, call, input.into_inner())).await?;
    Ok(HttpResponse::NoContent().finish())
}
