//! Taking it out, and a whole workspace in.

use std::io::{BufWriter, Seek};

use actix_web::web::{Json, Path, Payload, Query};
use actix_web::{HttpResponse, get, post};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::ReleaseId;
use iron_kite_ops::decide;
use iron_kite_ops::listen::{self, ReportQuery};
use iron_kite_ops::takeout::{self, Brought};
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, download, download_head};
use crate::desk::{Caller, Desk};
use crate::passing::{file_in, given_out, taken_in};
use crate::problem::ApiProblem;

const DOCX: &str = "application/vnd.openxmlformats-officedocument.wordprocessingml.document";

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(release_markdown)
        .service(report_markdown)
        .service(report_docx)
        .service(decisions_markdown)
        .service(prioritisation_markdown)
        .service(prioritisation_docx)
        .service(stories_csv)
        .service(export_all)
        .service(import_all);
}

#[utoipa::path(tag = "takeout", responses((status = 200, content_type = "text/markdown", body = String)))]
#[get("/takeout/releases/{id}.md")]
async fn release_markdown(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    let id = ReleaseId(*id);
    let page = desk.ask(caller, move |app, call| takeout::release_markdown(app, call, id)).await?;
    Ok(download(&format!("release-{id}.md"), "text/markdown; charset=utf-8", page))
}

#[utoipa::path(tag = "takeout", params(ReportQuery), responses((status = 200, content_type = "text/markdown", body = String)))]
#[get("/takeout/report.md")]
async fn report_markdown(desk: Desk, caller: Caller, query: Query<ReportQuery>) -> Result<HttpResponse, ApiProblem> {
    let page = desk.ask(caller, move |app, call| listen::report_markdown(app, call, &query)).await?;
    Ok(download("report.md", "text/markdown; charset=utf-8", page))
}

#[utoipa::path(tag = "takeout", params(ReportQuery), responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.wordprocessingml.document", body = Vec<u8>)))]
#[get("/takeout/report.docx")]
async fn report_docx(desk: Desk, caller: Caller, query: Query<ReportQuery>) -> Result<HttpResponse, ApiProblem> {
    let file = desk.ask(caller, move |app, call| listen::report_docx(app, call, &query)).await?;
    Ok(download("report.docx", DOCX, file))
}

#[utoipa::path(tag = "takeout", params(OfProduct), responses((status = 200, content_type = "text/markdown", body = String)))]
#[get("/takeout/decisions.md")]
async fn decisions_markdown(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Result<HttpResponse, ApiProblem> {
    let page = desk.ask(caller, move |app, call| decide::decisions_markdown(app, call, of.product.into())).await?;
    Ok(download("decisions.md", "text/markdown; charset=utf-8", page))
}

#[utoipa::path(tag = "takeout", responses((status = 200, content_type = "text/markdown", body = String)))]
#[get("/takeout/prioritisations/{id}.md")]
async fn prioritisation_markdown(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    let page = desk.ask(caller, move |app, call| decide::prioritisation_markdown(app, call, *id)).await?;
    Ok(download("priorities.md", "text/markdown; charset=utf-8", page))
}

#[utoipa::path(tag = "takeout", responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.wordprocessingml.document", body = Vec<u8>)))]
#[get("/takeout/prioritisations/{id}.docx")]
async fn prioritisation_docx(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    let file = desk.ask(caller, move |app, call| decide::prioritisation_docx(app, call, *id)).await?;
    Ok(download("priorities.docx", DOCX, file))
}

#[utoipa::path(tag = "takeout", params(OfProduct), responses((status = 200, content_type = "text/csv", body = String)))]
#[get("/takeout/stories.csv")]
async fn stories_csv(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Result<HttpResponse, ApiProblem> {
    let table = desk.ask(caller, move |app, call| takeout::stories_csv(app, call, of.product.into())).await?;
    Ok(download("stories.csv", "text/csv; charset=utf-8", table))
}

#[utoipa::path(tag = "takeout", security(("session" = ["owner"])), responses((status = 200, content_type = "application/json", body = Object)))]
#[get("/takeout/workspace.json")]
async fn export_all(desk: Desk, caller: Caller) -> Result<HttpResponse, ApiProblem> {
    let dir = desk.0.dir.clone();
    let written = desk.ask(caller, move |app, call| {
        let mut file = file_in(&dir)?;
        takeout::export_all(app, call, &mut BufWriter::new(&mut file))?;
        let length = file.stream_position().and_then(|length| file.rewind().map(|()| length));
        Ok((file, length.map_err(|fault| Problem::Internal(fault.to_string()))?))
    });
    let (file, length) = written.await?;
    Ok(download_head("workspace.json", "application/json").body(given_out(file, length)))
}

#[utoipa::path(
    tag = "takeout",
    security(("session" = ["owner"])),
    request_body(content = String, description = "The file, as it is", content_type = "application/octet-stream"),
    responses((status = 200, body = Brought)),
    extensions(("x-passes-to-disk" = json!(true)))
)]
#[post("/takeout/workspace")]
async fn import_all(desk: Desk, caller: Caller, body: Payload) -> Answer<Brought> {
    let file = taken_in(&desk.0.dir, body).await.map_err(ApiProblem)?;
    desk.with_file(caller, move |app, call| takeout::import_all(app, call, file)).await.map(Json)
}
