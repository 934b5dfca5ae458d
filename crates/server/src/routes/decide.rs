//! Decide.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, patch, post};
use iron_kite_core::things::{FormId, IdeaId, ObjectiveId, RequestId, Thing, ThingKind};
use iron_kite_ops::Saved;
use iron_kite_ops::decide::{
    self, ConfirmSender, DecisionInput, FormChange, FormView, IdeaSheet, IdeaView, LikelySameIdeas, MeasurementTable,
    MeasurementsRead, MergeIdeas, NewForm, NewIdea, NewMeasurement, ObjectiveSheet, ObjectiveView, RequestBehind,
    ServedView, Serving,
};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(ideas)
        .service(likely_same_ideas)
        .service(merge_ideas)
        .service(idea)
        .service(add_idea)
        .service(decide_idea)
        .service(objectives)
        .service(objective)
        .service(measure)
        .service(measure_table)
        .service(serve_objective)
        .service(serves)
        .service(add_form)
        .service(form)
        .service(change_form)
        .service(put_request_behind)
        .service(confirm_sender);
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<IdeaView>)))]
#[get("/decide/ideas")]
async fn ideas(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<IdeaView>> {
    answer!(desk, caller, move |app, call| decide::ideas(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<LikelySameIdeas>)))]
#[get("/decide/ideas/likely-same")]
async fn likely_same_ideas(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<LikelySameIdeas>> {
    answer!(desk, caller, move |app, call| decide::likely_same_ideas(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/ideas/merge")]
async fn merge_ideas(desk: Desk, caller: Caller, ask: Json<MergeIdeas>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::merge_ideas(app, call, ask.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = IdeaSheet)))]
#[get("/decide/ideas/{id}")]
async fn idea(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<IdeaSheet> {
    answer!(desk, caller, move |app, call| decide::idea(app, call, IdeaId(*id)))
}

#[utoipa::path(tag = "decide", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/decide/ideas")]
async fn add_idea(desk: Desk, caller: Caller, new: Json<NewIdea>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_idea(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/ideas/{id}/decision")]
async fn decide_idea(desk: Desk, caller: Caller, id: Path<i64>, input: Json<DecisionInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::decide(app, call, IdeaId(*id), input.into_inner()))
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Vec<ObjectiveView>)))]
#[get("/decide/objectives")]
async fn objectives(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<ObjectiveView>> {
    answer!(desk, caller, move |app, call| decide::objectives(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = ObjectiveSheet)))]
#[get("/decide/objectives/{id}")]
async fn objective(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<ObjectiveSheet> {
    answer!(desk, caller, move |app, call| decide::objective(app, call, ObjectiveId(*id)))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/objectives/{id}/measurements")]
async fn measure(desk: Desk, caller: Caller, id: Path<i64>, new: Json<NewMeasurement>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::measure(app, call, ObjectiveId(*id), new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = MeasurementsRead)))]
#[post("/decide/objectives/{id}/measurements/table")]
async fn measure_table(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    table: Json<MeasurementTable>,
) -> Answer<MeasurementsRead> {
    answer!(desk, caller, move |app, call| decide::measure_table(app, call, ObjectiveId(*id), table.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/objectives/{id}/serving")]
async fn serve_objective(desk: Desk, caller: Caller, id: Path<i64>, serving: Json<Serving>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::serve(app, call, ObjectiveId(*id), serving.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Vec<ServedView>)))]
#[get("/decide/serves/{kind}/{id}")]
async fn serves(desk: Desk, caller: Caller, of: Path<(ThingKind, i64)>) -> Answer<Vec<ServedView>> {
    let thing = Thing::new(of.0, of.1);
    answer!(desk, caller, move |app, call| decide::serves(app, call, thing))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/forms")]
async fn add_form(desk: Desk, caller: Caller, new: Json<NewForm>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_form(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = FormView)))]
#[get("/decide/forms/{id}")]
async fn form(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<FormView> {
    answer!(desk, caller, move |app, call| decide::form(app, call, FormId(*id)))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[patch("/decide/forms/{id}")]
async fn change_form(desk: Desk, caller: Caller, id: Path<i64>, change: Json<FormChange>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::change_form(app, call, FormId(*id), change.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/requests/{id}/sender")]
async fn confirm_sender(desk: Desk, caller: Caller, id: Path<i64>, seen: Json<ConfirmSender>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::confirm_sender(app, call, RequestId(*id), *seen))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/requests/{id}/idea")]
async fn put_request_behind(desk: Desk, caller: Caller, id: Path<i64>, behind: Json<RequestBehind>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::put_request_behind(app, call, RequestId(*id), behind.into_inner()))
}
