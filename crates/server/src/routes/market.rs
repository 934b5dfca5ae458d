//! Decide: the market.

use actix_web::web::{Bytes, Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::decide::FoundPage;
use iron_kite_core::things::{FoundPageId, NoteId};
use iron_kite_ops::Saved;
use iron_kite_ops::decide::{
    self, FoundPageText, Market, NewCapability, NewCompetitor, NewFoundPage, NewMarketNote, NewResearch, NoteAbout,
};
use iron_kite_ops::jobs::JobView;
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(market)
        .service(add_competitor)
        .service(add_capability)
        .service(read_page)
        .service(add_page)
        .service(found_page)
        .service(add_market_note)
        .service(note_about)
        .service(research);
}

#[utoipa::path(tag = "decide", params(OfProduct), responses((status = 200, body = Market)))]
#[get("/decide/market")]
async fn market(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Market> {
    answer!(desk, caller, move |app, call| decide::market(app, call, of.product.into()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/market/competitors")]
async fn add_competitor(desk: Desk, caller: Caller, new: Json<NewCompetitor>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_competitor(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/market/capabilities")]
async fn add_capability(desk: Desk, caller: Caller, new: Json<NewCapability>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_capability(app, call, new.into_inner()))
}

/// What a file is called.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct FileName {
    /// Its name.
    name: String,
}

#[utoipa::path(tag = "decide", params(FileName), request_body(content = String, content_type = "application/octet-stream"), responses((status = 200, body = FoundPageText)))]
#[post("/decide/market/pages/text")]
async fn read_page(desk: Desk, caller: Caller, of: Query<FileName>, bytes: Bytes) -> Answer<FoundPageText> {
    desk.with_file(caller, move |app, call| decide::page_of_file(app, call, &of.name, &bytes)).await.map(Json)
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/market/pages")]
async fn add_page(desk: Desk, caller: Caller, new: Json<NewFoundPage>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_page(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = FoundPage)))]
#[get("/decide/market/pages/{id}")]
async fn found_page(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<FoundPage> {
    answer!(desk, caller, move |app, call| decide::found_page(app, call, FoundPageId(*id)))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/market/notes")]
async fn add_market_note(desk: Desk, caller: Caller, new: Json<NewMarketNote>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::add_market_note(app, call, new.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = Saved)))]
#[post("/decide/market/notes/{id}")]
async fn note_about(desk: Desk, caller: Caller, id: Path<i64>, about: Json<NoteAbout>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| decide::note_about(app, call, NoteId(*id), about.into_inner()))
}

#[utoipa::path(tag = "decide", responses((status = 200, body = JobView)))]
#[post("/decide/market/research")]
async fn research(desk: Desk, caller: Caller, new: Json<NewResearch>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| decide::research(app, call, new.into_inner()))
}
