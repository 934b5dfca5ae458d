//! Decide: scoring models, estimates, the ranking, budgets, decisions and prioritisations.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::decide::{Prioritisation, Weighed};
use iron_kite_core::things::IdeaId;
use iron_kite_ops::Saved;
use iron_kite_ops::decide::{
    self, AffordAsk, BudgetView, DecisionView, EstimateInput, IdeaEstimates, ModelInput, ModelView, NewPrioritisation,
    Pairs, PrioritisationView, Scores, ScoresAsk, UseModel, Why, WhyAsk,
};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, Seen, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(models)
        .service(add_model)
        .service(weights)
        .service(use_model)
        .service(change_model)
        .service(scores)
        .service(why)
        .service(budget)
        .service(estimates)
        .service(estimate)
        .service(decisions)
        .service(prioritisations)
        .service(add_prioritisation)
        .service(prioritisation)
        .service(agree);
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<ModelView>)))]
#[get("/decide/models")]
async fn models(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<ModelView>> {
    answer!(desk, caller, move |app, call| decide::models(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/models")]
async fn add_model(desk: Desk, caller: Caller, input: Json<ModelInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::keep_model(app, call, None, input.into_inner()))
}

#[utoipa::path(tag = "decide", security(("session" = ["viewer"])), responses((status = 200, body = Weighed)))]
#[post("/decide/models/weights")]
async fn weights(desk: Desk, caller: Caller, pairs: Json<Pairs>) -> Answer<Weighed> {
    answer!(desk, caller, move |app, call| decide::weights(app, call, &pairs))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/models/use")]
async fn use_model(desk: Desk, caller: Caller, ask: Json<UseModel>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::use_model(app, call, ask.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/models/{id}")]
async fn change_model(desk: Desk, caller: Caller, id: Path<i64>, input: Json<ModelInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::keep_model(app, call, Some(*id), input.into_inner()))
}

#[utoipa::path(tag = "decide", security(("session" = ["viewer"])), responses((status = 200, body = Scores)))]
#[post("/decide/scores")]
async fn scores(desk: Desk, caller: Caller, ask: Json<ScoresAsk>) -> Answer<Scores> {
    answer!(desk, caller, move |app, call| decide::scores(app, call, &ask))
}

#[utoipa::path(tag = "decide", security(("session" = ["viewer"])), responses((status = 200, body = Option<Why>)))]
#[post("/decide/scores/why")]
async fn why(desk: Desk, caller: Caller, ask: Json<WhyAsk>) -> Answer<Option<Why>> {
    answer!(desk, caller, move |app, call| decide::why(app, call, &ask))
}

#[utoipa::path(tag = "decide", security(("session" = ["viewer"])), responses((status = 200, body = BudgetView)))]
#[post("/decide/budget")]
async fn budget(desk: Desk, caller: Caller, ask: Json<AffordAsk>) -> Answer<BudgetView> {
    answer!(desk, caller, move |app, call| decide::budget(app, call, &ask))
}

/// By which model.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct ByModel {
    /// The model's key; that of the product where nothing is said.
    model: Option<String>,
}

#[utoipa::path(tag = "decide", params(ByModel), responses((status = 200, body = IdeaEstimates)))]
#[get("/decide/ideas/{id}/estimates")]
async fn estimates(desk: Desk, caller: Caller, id: Path<i64>, by: Query<ByModel>) -> Answer<IdeaEstimates> {
    answer!(desk, caller, move |app, call| decide::estimates(app, call, IdeaId(*id), by.model.as_deref()))
}

#[utoipa::path(tag = "decide", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/decide/ideas/{id}/estimates")]
async fn estimate(desk: Desk, caller: Caller, id: Path<i64>, input: Json<EstimateInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::estimate(app, call, IdeaId(*id), input.into_inner()))
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<DecisionView>)))]
#[get("/decide/decisions")]
async fn decisions(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<DecisionView>> {
    answer!(desk, caller, move |app, call| decide::decisions(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<Prioritisation>)))]
#[get("/decide/prioritisations")]
async fn prioritisations(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<Prioritisation>> {
    answer!(desk, caller, move |app, call| decide::prioritisations(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/prioritisations")]
async fn add_prioritisation(desk: Desk, caller: Caller, new: Json<NewPrioritisation>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_prioritisation(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = PrioritisationView)))]
#[get("/decide/prioritisations/{id}")]
async fn prioritisation(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<PrioritisationView> {
    answer!(desk, caller, move |app, call| decide::prioritisation(app, call, *id))
}

#[utoipa::path(tag = "decide", params(Seen), responses((status = 200, body = Saved)))]
#[post("/decide/prioritisations/{id}/agreement")]
async fn agree(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::agree(app, call, *id, seen.rev))
}
