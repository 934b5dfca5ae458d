//! Collections: fields, rows, groups, cells, views, files, calendars, and words in everything.

use actix_web::web::{Json, Path, Query};
use actix_web::{HttpRequest, HttpResponse, delete, get, patch, post};
use iron_kite_core::fields::{Collection, FieldDef, FieldType, FirstView, OwnFieldInput, first_views};
use iron_kite_core::things::ThingKind;
use iron_kite_ops::Saved;
use iron_kite_ops::collections::{
    self, CalendarKey, CellChanges, ConversionPreview, ExportAsk, FieldPlace, GroupsPage, NewThing, Paste, RowsAsk,
    RowsPage, SearchResult, TeamMember, ThingsRead, ThingsTable, ViewInput, ViewView,
};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, Seen, answer, download};
use crate::desk::{Caller, Desk};
use crate::problem::ApiProblem;

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(list)
        .service(team)
        .service(fields)
        .service(add_field)
        .service(change_field)
        .service(move_field)
        .service(retire_field)
        .service(preview_conversion)
        .service(convert_field)
        .service(add_thing)
        .service(add_table)
        .service(rows)
        .service(groups)
        .service(change_cells)
        .service(paste)
        .service(export)
        .service(views)
        .service(add_view)
        .service(change_view)
        .service(remove_view)
        .service(share_calendar)
        .service(end_calendar)
        .service(calendar)
        .service(search);
}

/// The collection that is asked about, in the address.
#[derive(IntoParams)]
#[into_params(parameter_in = Path)]
#[expect(dead_code, reason = "it describes what the handlers take as `Path<Collection>`")]
pub(super) struct InCollection {
    /// The collection.
    collection: Collection,
}

/// A collection.
#[derive(Serialize, ToSchema)]
struct CollectionView {
    /// Its name.
    name: Collection,
    /// The word for people.
    label: &'static str,
    /// The stage where its views stand.
    stage: &'static str,
    /// The field that a thing is called by.
    title_field: &'static str,
    /// Whether its things belong to one product.
    of_product: bool,
    /// The views that come with the product; the first one is what it opens with where none is saved to.
    first_views: Vec<FirstView>,
}

#[utoipa::path(tag = "collections", responses((status = 200, body = Vec<CollectionView>)))]
#[get("/collections")]
async fn list(desk: Desk, caller: Caller) -> Answer<Vec<CollectionView>> {
    super::signed_in(&desk, caller).await?;
    let view = |one: &Collection| CollectionView {
        name: *one,
        label: one.words(),
        stage: one.stage(),
        title_field: one.title_field(),
        of_product: one.is_of_product(),
        first_views: first_views(*one),
    };
    Ok(Json(Collection::ALL.iter().map(view).collect()))
}

#[utoipa::path(tag = "collections", responses((status = 200, body = Vec<TeamMember>)))]
#[get("/team")]
async fn team(desk: Desk, caller: Caller) -> Answer<Vec<TeamMember>> {
    answer!(desk, caller, collections::team)
}

#[utoipa::path(tag = "collections", operation_id = "collection_fields", params(InCollection), responses((status = 200, body = Vec<FieldDef>)))]
#[get("/collections/{collection}/fields")]
async fn fields(desk: Desk, caller: Caller, collection: Path<Collection>) -> Answer<Vec<FieldDef>> {
    answer!(desk, caller, move |app, call| collections::fields(app, call, *collection))
}

#[utoipa::path(tag = "collections", params(InCollection), responses((status = 200, body = Saved)))]
#[post("/collections/{collection}/fields")]
async fn add_field(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    input: Json<OwnFieldInput>,
) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::add_field(app, call, *collection, input.into_inner()))
}

#[utoipa::path(tag = "collections", params(Seen), responses((status = 200, body = Saved)))]
#[patch("/fields/{id}")]
async fn change_field(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    seen: Query<Seen>,
    input: Json<OwnFieldInput>,
) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::change_field(app, call, *id, seen.rev, input.into_inner()))
}

#[utoipa::path(tag = "collections", responses((status = 200, body = Saved)))]
#[post("/fields/{id}/place")]
async fn move_field(desk: Desk, caller: Caller, id: Path<i64>, place: Json<FieldPlace>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::move_field(app, call, *id, *place))
}

/// Whether a field is shown.
#[derive(Clone, Copy, Deserialize, ToSchema)]
struct Retiring {
    /// The revision that was seen.
    rev: i64,
    /// Shown no more, or again.
    retired: bool,
}

#[utoipa::path(tag = "collections", responses((status = 200, body = Saved)))]
#[post("/fields/{id}/retired")]
async fn retire_field(desk: Desk, caller: Caller, id: Path<i64>, to: Json<Retiring>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::retire_field(app, call, *id, to.rev, to.retired))
}

#[utoipa::path(tag = "collections", responses((status = 200, body = ConversionPreview)))]
#[post("/fields/{id}/conversion/preview")]
async fn preview_conversion(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    to: Json<FieldType>,
) -> Answer<ConversionPreview> {
    answer!(desk, caller, move |app, call| collections::preview_conversion(app, call, *id, &to))
}

#[utoipa::path(tag = "collections", params(Seen), responses((status = 200, body = Saved)))]
#[post("/fields/{id}/conversion")]
async fn convert_field(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    seen: Query<Seen>,
    to: Json<FieldType>,
) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::convert_field(app, call, *id, seen.rev, to.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["contributor"])), params(InCollection), responses((status = 200, body = Saved)))]
#[post("/collections/{collection}/things")]
async fn add_thing(desk: Desk, caller: Caller, collection: Path<Collection>, new: Json<NewThing>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::add_thing(app, call, *collection, new.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["contributor"])), params(InCollection), responses((status = 200, body = ThingsRead)))]
#[post("/collections/{collection}/things/table")]
async fn add_table(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    table: Json<ThingsTable>,
) -> Answer<ThingsRead> {
    answer!(desk, caller, move |app, call| collections::add_table(app, call, *collection, table.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(InCollection), responses((status = 200, body = RowsPage)))]
#[post("/collections/{collection}/rows")]
async fn rows(desk: Desk, caller: Caller, collection: Path<Collection>, ask: Json<RowsAsk>) -> Answer<RowsPage> {
    answer!(desk, caller, move |app, call| collections::rows(app, call, *collection, &ask))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(InCollection), responses((status = 200, body = GroupsPage)))]
#[post("/collections/{collection}/groups")]
async fn groups(desk: Desk, caller: Caller, collection: Path<Collection>, ask: Json<RowsAsk>) -> Answer<GroupsPage> {
    answer!(desk, caller, move |app, call| collections::groups(app, call, *collection, &ask))
}

#[utoipa::path(tag = "collections", security(("session" = ["contributor", "more by kind"])), params(InCollection), responses((status = 200, body = Saved)))]
#[post("/collections/{collection}/cells")]
async fn change_cells(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    changes: Json<CellChanges>,
) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::change_cells(app, call, *collection, changes.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["contributor", "more by kind"])), params(InCollection), responses((status = 200, body = Saved)))]
#[post("/collections/{collection}/paste")]
async fn paste(desk: Desk, caller: Caller, collection: Path<Collection>, block: Json<Paste>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::paste(app, call, *collection, &block))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(InCollection), responses((status = 200, description = "A file", content_type = "*/*", body = Vec<u8>)))]
#[post("/collections/{collection}/export")]
async fn export(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    ask: Json<ExportAsk>,
) -> Result<HttpResponse, ApiProblem> {
    let file = desk.ask(caller, move |app, call| collections::export(app, call, *collection, &ask)).await?;
    Ok(download(&file.name, file.media_type, file.bytes))
}

#[utoipa::path(tag = "collections", operation_id = "collection_views", params(InCollection, OfProduct), responses((status = 200, body = Vec<ViewView>)))]
#[get("/collections/{collection}/views")]
async fn views(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    of: Query<OfProduct>,
) -> Answer<Vec<ViewView>> {
    answer!(desk, caller, move |app, call| collections::views(app, call, of.product.into(), *collection))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(InCollection, OfProduct), responses((status = 200, body = Saved)))]
#[post("/collections/{collection}/views")]
async fn add_view(
    desk: Desk,
    caller: Caller,
    collection: Path<Collection>,
    of: Query<OfProduct>,
    input: Json<ViewInput>,
) -> Answer<Saved> {
    let product = of.product.into();
    answer!(desk, caller, move |app, call| collections::add_view(app, call, product, *collection, input.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(Seen), responses((status = 200, body = Saved)))]
#[patch("/views/{id}")]
async fn change_view(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    seen: Query<Seen>,
    input: Json<ViewInput>,
) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::change_view(app, call, *id, seen.rev, input.into_inner()))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), params(Seen), responses((status = 200, body = Saved)))]
#[delete("/views/{id}")]
async fn remove_view(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| collections::remove_view(app, call, *id, seen.rev))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), responses((status = 200, body = CalendarKey)))]
#[post("/views/{id}/calendar")]
async fn share_calendar(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<CalendarKey> {
    answer!(desk, caller, move |app, call| collections::share_calendar(app, call, *id))
}

#[utoipa::path(tag = "collections", security(("session" = ["viewer"])), responses((status = 204)))]
#[delete("/views/{id}/calendar")]
async fn end_calendar(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| collections::end_calendar(app, call, *id)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Open to whoever has the secret of the link: programs that subscribe to a calendar do not sign in.
#[utoipa::path(tag = "collections", security(()), responses((status = 200, description = "iCalendar (RFC 5545)", content_type = "text/calendar", body = String)))]
#[get("/calendars/{key}.ics")]
async fn calendar(desk: Desk, request: HttpRequest, key: Path<String>) -> Result<HttpResponse, ApiProblem> {
    desk.not_too_often(&request)?;
    let base = {
        let reached = request.connection_info();
        format!("{}://{}", reached.scheme(), reached.host())
    };
    let text = desk.ask(Caller::default(), move |app, call| collections::calendar(app, call, &key, &base)).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/calendar; charset=utf-8")
        .insert_header(("Cache-Control", "private, max-age=300"))
        .body(text))
}

/// What is looked for.
#[derive(Debug, Clone, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct SearchQuery {
    /// The product.
    product: i64,
    /// Words that must all stand there, the last one as a beginning.
    words: String,
    /// Only things of this kind.
    kind: Option<ThingKind>,
}

#[utoipa::path(tag = "collections", params(SearchQuery), responses((status = 200, body = SearchResult)))]
#[get("/search")]
async fn search(desk: Desk, caller: Caller, query: Query<SearchQuery>) -> Answer<SearchResult> {
    answer!(desk, caller, move |app, call| {
        collections::search(app, call, query.product.into(), &query.words, query.kind)
    })
}
