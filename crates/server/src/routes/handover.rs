//! Hand over.

use actix_web::web::{Json, Path, Query};
use actix_web::{delete, get, post, put};
use iron_kite_core::handover::Roadmap;
use iron_kite_core::things::{TeamId, WorkItemId};
use iron_kite_ops::Saved;
use iron_kite_ops::handover::{self, HandOver, NewTeam, Queue, QueuePlace, TeamChange, TeamPeople, TeamView};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, Seen, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(teams)
        .service(add_team)
        .service(change_team)
        .service(remove_team)
        .service(set_team_people)
        .service(queue)
        .service(hand_over)
        .service(move_in_queue)
        .service(roadmap);
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Vec<TeamView>)))]
#[get("/handover/teams")]
async fn teams(desk: Desk, caller: Caller) -> Answer<Vec<TeamView>> {
    answer!(desk, caller, handover::teams)
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Saved)))]
#[post("/handover/teams")]
async fn add_team(desk: Desk, caller: Caller, new: Json<NewTeam>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::add_team(app, call, new.into_inner()))
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Saved)))]
#[put("/handover/teams/{id}")]
async fn change_team(desk: Desk, caller: Caller, id: Path<i64>, to: Json<TeamChange>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::change_team(app, call, TeamId(*id), to.into_inner()))
}

#[utoipa::path(tag = "handover", params(Seen), security(("session" = ["owner"])), responses((status = 200, body = Saved)))]
#[delete("/handover/teams/{id}")]
async fn remove_team(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::remove_team(app, call, TeamId(*id), seen.rev))
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Saved)))]
#[put("/handover/teams/{id}/people")]
async fn set_team_people(desk: Desk, caller: Caller, id: Path<i64>, to: Json<TeamPeople>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::set_team_people(app, call, TeamId(*id), to.into_inner()))
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Queue)))]
#[get("/handover/teams/{id}/queue")]
async fn queue(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<Queue> {
    answer!(desk, caller, move |app, call| handover::queue(app, call, TeamId(*id)))
}

#[utoipa::path(tag = "handover", responses((status = 200, body = Saved)))]
#[post("/handover/stories/{id}")]
async fn hand_over(desk: Desk, caller: Caller, id: Path<i64>, to: Json<HandOver>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::hand_over(app, call, WorkItemId(*id), to.into_inner()))
}

/// Whoever edits moves stories in any queue, and a contributor in those of the teams that they belong to.
#[utoipa::path(tag = "handover", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/handover/stories/{id}/column")]
async fn move_in_queue(desk: Desk, caller: Caller, id: Path<i64>, to: Json<QueuePlace>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| handover::move_in_queue(app, call, WorkItemId(*id), to.into_inner()))
}

#[utoipa::path(tag = "handover", params(OfProduct), responses((status = 200, body = Roadmap)))]
#[get("/handover/roadmap")]
async fn roadmap(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Roadmap> {
    answer!(desk, caller, move |app, call| handover::roadmap(app, call, of.product.into()))
}
