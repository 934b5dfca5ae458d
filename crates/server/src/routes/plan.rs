//! Plan.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::things::ReleaseId;
use iron_kite_ops::Saved;
use iron_kite_ops::plan::{self, ReleaseStep, ReleaseView};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(releases).service(step_release);
}

#[utoipa::path(tag = "plan", params(OfProduct), responses((status = 200, body = Vec<ReleaseView>)))]
#[get("/plan/releases")]
async fn releases(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<ReleaseView>> {
    answer!(desk, caller, move |app, call| plan::releases(app, call, of.product.into()))
}

#[utoipa::path(tag = "plan", responses((status = 200, body = Saved)))]
#[post("/plan/releases/{id}/state")]
async fn step_release(desk: Desk, caller: Caller, id: Path<i64>, step: Json<ReleaseStep>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| plan::step_release(app, call, ReleaseId(*id), step.into_inner()))
}
