//! What all stages share: products, the course, the trace, editing, links, history, undo.

use actix_web::web::{Json, Path, Query};
use actix_web::{delete, get, patch, post};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::workspace::Product;
use iron_kite_ops::Saved;
use iron_kite_ops::history::{self, HistoryLine, UndoPart, UndoState};
use iron_kite_ops::overview::{self, CourseNode};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::trace::{self, Trace};
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, Seen, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(products)
        .service(add_product)
        .service(course)
        .service(find_reference)
        .service(get_trace)
        .service(get_history)
        .service(edit)
        .service(remove)
        .service(link)
        .service(unlink)
        .service(undo_state)
        .service(undo)
        .service(redo)
        .service(undo_change)
        .service(undo_part);
}

/// A new product.
#[derive(Deserialize, ToSchema)]
struct NewProduct {
    /// Its name.
    name: String,
}

fn thing(path: &(ThingKind, i64)) -> Thing {
    Thing::new(path.0, path.1)
}

#[utoipa::path(tag = "line", responses((status = 200, body = Vec<Product>)))]
#[get("/products")]
async fn products(desk: Desk, caller: Caller) -> Answer<Vec<Product>> {
    answer!(desk, caller, overview::products)
}

#[utoipa::path(tag = "line", security(("session" = ["owner"])), responses((status = 200, body = Saved)))]
#[post("/products")]
async fn add_product(desk: Desk, caller: Caller, new: Json<NewProduct>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| overview::add_product(app, call, &new.name))
}

#[utoipa::path(tag = "line", params(OfProduct), responses((status = 200, body = Vec<CourseNode>)))]
#[get("/course")]
async fn course(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<CourseNode>> {
    answer!(desk, caller, move |app, call| overview::course(app, call, of.product.into()))
}

#[utoipa::path(tag = "line", responses((status = 200, body = Trace)))]
#[get("/references/{reference}")]
async fn find_reference(desk: Desk, caller: Caller, reference: Path<String>) -> Answer<Trace> {
    answer!(desk, caller, move |app, call| {
        let thing = Thing::from_reference(&reference).map_err(|words| Problem::invalid("/reference", words))?;
        trace::trace(app, call, thing)
    })
}

#[utoipa::path(tag = "line", responses((status = 200, body = Trace)))]
#[get("/trace/{kind}/{id}")]
async fn get_trace(desk: Desk, caller: Caller, path: Path<(ThingKind, i64)>) -> Answer<Trace> {
    answer!(desk, caller, move |app, call| trace::trace(app, call, thing(&path)))
}

#[utoipa::path(tag = "line", responses((status = 200, body = Vec<HistoryLine>)))]
#[get("/history/{kind}/{id}")]
async fn get_history(desk: Desk, caller: Caller, path: Path<(ThingKind, i64)>) -> Answer<Vec<HistoryLine>> {
    answer!(desk, caller, move |app, call| history::history(app, call, thing(&path)))
}

#[utoipa::path(tag = "line", security(("session" = ["contributor", "more by kind"])), responses((status = 200, body = Saved)))]
#[patch("/things/{kind}/{id}")]
async fn edit(desk: Desk, caller: Caller, path: Path<(ThingKind, i64)>, edit: Json<Edit>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| things::edit(app, call, thing(&path), edit.into_inner()))
}

#[utoipa::path(tag = "line", security(("session" = ["contributor", "more by kind"])), params(Seen), responses((status = 200, body = Saved)))]
#[delete("/things/{kind}/{id}")]
async fn remove(desk: Desk, caller: Caller, path: Path<(ThingKind, i64)>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| things::remove(app, call, thing(&path), seen.rev))
}

#[utoipa::path(tag = "line", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/links")]
async fn link(desk: Desk, caller: Caller, ends: Json<LinkEnds>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| things::link(app, call, ends.into_inner()))
}

#[utoipa::path(tag = "line", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/links/remove")]
async fn unlink(desk: Desk, caller: Caller, ends: Json<LinkEnds>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| things::unlink(app, call, ends.into_inner()))
}

#[utoipa::path(tag = "line", responses((status = 200, body = UndoState)))]
#[get("/undo")]
async fn undo_state(desk: Desk, caller: Caller) -> Answer<UndoState> {
    answer!(desk, caller, history::undo_state)
}

#[utoipa::path(tag = "line", security(("session" = ["viewer"])), responses((status = 200, body = Saved)))]
#[post("/undo")]
async fn undo(desk: Desk, caller: Caller) -> Answer<Saved> {
    answer!(desk, caller, history::undo_last)
}

#[utoipa::path(tag = "line", security(("session" = ["viewer"])), responses((status = 200, body = Saved)))]
#[post("/redo")]
async fn redo(desk: Desk, caller: Caller) -> Answer<Saved> {
    answer!(desk, caller, history::redo_last)
}

#[utoipa::path(tag = "line", security(("session" = ["viewer"])), responses((status = 200, body = Saved)))]
#[post("/changes/{id}/undo")]
async fn undo_change(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| history::undo_set(app, call, *id))
}

#[utoipa::path(tag = "line", security(("session" = ["viewer"])), responses((status = 200, body = Saved)))]
#[post("/changes/{id}/undo/part")]
async fn undo_part(desk: Desk, caller: Caller, id: Path<i64>, part: Json<UndoPart>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| history::undo_part(app, call, *id, part.into_inner()))
}
