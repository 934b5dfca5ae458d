//! Learn.

use actix_web::web::{Json, Query};
use actix_web::{get, post};
use iron_kite_ops::Saved;
use iron_kite_ops::learn::{self, Learned, NewResult};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(learned).service(add_result);
}

#[utoipa::path(tag = "learn", params(OfProduct), responses((status = 200, body = Learned)))]
#[get("/learn")]
async fn learned(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Learned> {
    answer!(desk, caller, move |app, call| learn::learned(app, call, of.product.into()))
}

#[utoipa::path(tag = "learn", responses((status = 200, body = Saved)))]
#[post("/learn/results")]
async fn add_result(desk: Desk, caller: Caller, new: Json<NewResult>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| learn::add_result(app, call, new.into_inner()))
}
