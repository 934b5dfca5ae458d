//! Decide.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::things::IdeaId;
use iron_kite_ops::Saved;
use iron_kite_ops::decide::{self, DecisionInput, IdeaView, NewIdea};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(ideas).service(add_idea).service(decide_idea);
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<IdeaView>)))]
#[get("/decide/ideas")]
async fn ideas(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<IdeaView>> {
    answer!(desk, caller, move |app, call| decide::ideas(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/ideas")]
async fn add_idea(desk: Desk, caller: Caller, new: Json<NewIdea>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_idea(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/ideas/{id}/decision")]
async fn decide_idea(desk: Desk, caller: Caller, id: Path<i64>, input: Json<DecisionInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::decide(app, call, IdeaId(*id), input.into_inner()))
}
