//! Specify.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, post};
use iron_kite_core::things::WorkItemId;
use iron_kite_ops::Saved;
use iron_kite_ops::specify::{self, Board, NewEpic, NewStory, StoryParts};
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(board).service(story).service(add_epic).service(add_story).service(add_criterion);
}

/// A new acceptance criterion.
#[derive(Deserialize, ToSchema)]
struct NewCriterion {
    /// "Given … when … then …", or a plain line.
    words: String,
}

#[utoipa::path(tag = "specify", params(OfProduct), responses((status = 200, body = Board)))]
#[get("/specify/board")]
async fn board(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Board> {
    answer!(desk, caller, move |app, call| specify::board(app, call, of.product.into()))
}

#[utoipa::path(tag = "specify", responses((status = 200, body = StoryParts)))]
#[get("/specify/stories/{id}")]
async fn story(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<StoryParts> {
    answer!(desk, caller, move |app, call| specify::story_parts(app, call, WorkItemId(*id)))
}

#[utoipa::path(tag = "specify", responses((status = 200, body = Saved)))]
#[post("/specify/epics")]
async fn add_epic(desk: Desk, caller: Caller, new: Json<NewEpic>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| specify::add_epic(app, call, new.into_inner()))
}

#[utoipa::path(tag = "specify", responses((status = 200, body = Saved)))]
#[post("/specify/stories")]
async fn add_story(desk: Desk, caller: Caller, new: Json<NewStory>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| specify::add_story(app, call, new.into_inner()))
}

#[utoipa::path(tag = "specify", responses((status = 200, body = Saved)))]
#[post("/specify/stories/{id}/criteria")]
async fn add_criterion(desk: Desk, caller: Caller, id: Path<i64>, new: Json<NewCriterion>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| specify::add_criterion(app, call, WorkItemId(*id), &new.words))
}
