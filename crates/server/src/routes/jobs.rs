//! Long work in the background.

use actix_web::web::{Path, Query};
use actix_web::{get, post};
use iron_kite_ops::jobs::{self, JobView};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(list).service(one).service(cancel);
}

#[utoipa::path(tag = "jobs", operation_id = "jobs", params(OfProduct), responses((status = 200, body = Vec<JobView>)))]
#[get("/jobs")]
async fn list(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<JobView>> {
    answer!(desk, caller, move |app, call| jobs::jobs(app, call, of.product.into()))
}

#[utoipa::path(tag = "jobs", operation_id = "job", responses((status = 200, body = JobView)))]
#[get("/jobs/{id}")]
async fn one(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| jobs::job(app, call, *id))
}

#[utoipa::path(tag = "jobs", security(("session" = ["contributor"])), operation_id = "cancel_job", responses((status = 200, body = JobView)))]
#[post("/jobs/{id}/cancel")]
async fn cancel(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| jobs::cancel(app, call, *id))
}
