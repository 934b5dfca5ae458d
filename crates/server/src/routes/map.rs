//! Map.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::things::{ActivityId, WorkItemId};
use iron_kite_ops::Saved;
use iron_kite_ops::map::{self, Backbone, MapPlace, NewTitled};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(backbone).service(add_activity).service(add_step).service(place_story);
}

#[utoipa::path(tag = "map", params(OfProduct), responses((status = 200, body = Backbone)))]
#[get("/map/backbone")]
async fn backbone(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Backbone> {
    answer!(desk, caller, move |app, call| map::backbone(app, call, of.product.into()))
}

#[utoipa::path(tag = "map", params(OfProduct), responses((status = 200, body = Saved)))]
#[post("/map/activities")]
async fn add_activity(desk: Desk, caller: Caller, of: Query<OfProduct>, new: Json<NewTitled>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| map::add_activity(app, call, of.product.into(), new.into_inner()))
}

#[utoipa::path(tag = "map", responses((status = 200, body = Saved)))]
#[post("/map/activities/{id}/steps")]
async fn add_step(desk: Desk, caller: Caller, id: Path<i64>, new: Json<NewTitled>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| map::add_step(app, call, ActivityId(*id), new.into_inner()))
}

#[utoipa::path(tag = "map", responses((status = 200, body = Saved)))]
#[post("/map/stories/{id}/place")]
async fn place_story(desk: Desk, caller: Caller, id: Path<i64>, to: Json<MapPlace>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| map::place_story(app, call, WorkItemId(*id), to.into_inner()))
}
