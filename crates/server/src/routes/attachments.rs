//! Files that fields hold.

use actix_web::web::{Bytes, Path, Query};
use actix_web::{HttpResponse, get, post};
use iron_kite_ops::attachments::{self, PutIn};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, answer};
use crate::desk::{Caller, Desk};
use crate::problem::{ApiProblem, file_bytes};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(put_in).service(take_out);
}

/// What the file is called.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Called {
    /// Its name.
    name: String,
}

#[utoipa::path(tag = "attachments", params(Called), request_body(content = String, description = "The file, as it is", content_type = "application/octet-stream"), responses((status = 200, body = PutIn)))]
#[post("/attachments")]
async fn put_in(
    desk: Desk,
    caller: Caller,
    called: Query<Called>,
    payload: Result<Bytes, actix_web::Error>,
) -> Answer<PutIn> {
    let bytes = file_bytes(payload)?;
    answer!(desk, caller, move |app, call| attachments::put_in(app, call, &called.name, bytes.to_vec()))
}

/// Pictures are shown, everything else is kept as a file; nothing in it can run.
#[utoipa::path(tag = "attachments", operation_id = "attachment", responses((status = 200, description = "The file", content_type = "application/octet-stream", body = Vec<u8>)))]
#[get("/attachments/{id}")]
async fn take_out(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    let file = desk.ask(caller, move |app, call| attachments::take_out(app, call, *id)).await?;
    let way = if file.media_type.starts_with("image/") { "inline" } else { "attachment" };
    let ascii: String = file.name.chars().map(|c| if c.is_ascii() { c } else { '_' }).collect();
    Ok(HttpResponse::Ok()
        .content_type(file.media_type)
        .insert_header(("Content-Disposition", format!("{way}; filename=\"{ascii}\"")))
        .insert_header(("Content-Security-Policy", "default-src 'none'; sandbox"))
        .insert_header(("Cache-Control", "private, max-age=31536000, immutable"))
        .body(file.bytes))
}
