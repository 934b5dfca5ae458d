//! Files that fields hold.

use actix_web::http::header::{ByteRangeSpec, Range};
use actix_web::web::{Bytes, Header, Json, Path, Query};
use actix_web::{HttpResponse, get, post};
use iron_kite_core::formats::media::is_recording;
use iron_kite_ops::attachments::{self, PutIn};
use iron_kite_ops::{App, Call};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

use super::Answer;
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

#[utoipa::path(tag = "attachments", security(("session" = ["contributor"])), params(Called), request_body(content = String, description = "The file, as it is", content_type = "application/octet-stream"), responses((status = 200, body = PutIn)))]
#[post("/attachments")]
async fn put_in(
    desk: Desk,
    caller: Caller,
    called: Query<Called>,
    payload: Result<Bytes, actix_web::Error>,
) -> Answer<PutIn> {
    let bytes = file_bytes(payload)?;
    let put_in = move |app: &App, call: &Call| attachments::put_in(app, call, &called.name, bytes.into());
    desk.with_file(caller, put_in).await.map(Json)
}

/// Pictures are shown, recordings are played, everything else is kept as a file; nothing in it can run. Where the browser asks
/// for a part, it gets one, so that a long recording can be heard from anywhere.
#[utoipa::path(tag = "attachments", operation_id = "attachment", responses((status = 200, description = "The file", content_type = "*/*", body = Vec<u8>), (status = 206, description = "The part of it that the header Range asks for", content_type = "*/*", body = Vec<u8>)))]
#[get("/attachments/{id}")]
async fn take_out(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    range: Option<Header<Range>>,
) -> Result<HttpResponse, ApiProblem> {
    let asked = range.and_then(|range| first_of(&range.0));
    let (file, length, bytes, from) = desk
        .ask(caller, move |app, call| {
            let (file, length) = attachments::head(app, call, *id)?;
            let Some(asked) = asked else {
                return Ok((file, length, Some(attachments::take_out(app, call, *id)?), None));
            };
            let Some((from, to)) = asked.to_satisfiable_range(length as u64) else {
                return Ok((file, length, None, None));
            };
            let from = usize::try_from(from).unwrap_or(usize::MAX);
            let to = usize::try_from(to).unwrap_or(usize::MAX);
            let part = attachments::part(app, call, *id, from, to.saturating_sub(from).saturating_add(1))?;
            Ok((file, length, Some(part), Some(from)))
        })
        .await?;
    let Some(bytes) = bytes else {
        return Ok(HttpResponse::RangeNotSatisfiable()
            .insert_header(("Content-Range", format!("bytes */{length}")))
            .finish());
    };
    let shown = file.media_type.starts_with("image/") || is_recording(&file.media_type);
    let way = if shown { "inline" } else { "attachment" };
    let ascii: String = file.name.chars().map(|c| if c.is_ascii() { c } else { '_' }).collect();
    let mut response = match from {
        Some(_) => HttpResponse::PartialContent(),
        None => HttpResponse::Ok(),
    };
    if let Some(from) = from {
        let last = (from + bytes.len()).saturating_sub(1);
        response.insert_header(("Content-Range", format!("bytes {from}-{last}/{length}")));
    }
    Ok(response
        .content_type(file.media_type)
        .insert_header(("Accept-Ranges", "bytes"))
        .insert_header(("Content-Disposition", format!("{way}; filename=\"{ascii}\"")))
        .insert_header(("Content-Security-Policy", "default-src 'none'; sandbox"))
        .insert_header(("Cache-Control", "private, no-store"))
        .body(bytes))
}

/// The part that is asked for, where it is one: browsers ask for one at a time.
fn first_of(range: &Range) -> Option<ByteRangeSpec> {
    match range {
        Range::Bytes(parts) => match parts.as_slice() {
            [one] => Some(one.clone()),
            _ => None,
        },
        Range::Unregistered(..) => None,
    }
}
