//! The front end inside the binary, compressed when it was built.

use actix_web::http::header::{self, ContentEncoding};
use actix_web::{HttpRequest, HttpResponse};
use iron_kite_core::problem::Problem;
use rust_embed_for_web::{EmbedableFile, RustEmbed};

use crate::problem::ApiProblem;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Shipped;

/// A file of the front end, or its page for any address that the front end itself knows.
pub(crate) async fn page(request: HttpRequest) -> Result<HttpResponse, ApiProblem> {
    let path = request.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return Err(ApiProblem(Problem::NotFound("page or thing at this address".into())));
    }
    // What begins with a dot is of the build, and nobody's.
    let hidden = path.split('/').any(|step| step.starts_with('.'));
    let (name, file) = match Shipped::get(path).filter(|_| !hidden) {
        Some(file) => (path, file),
        // A missing file is missing; any other address is a place in the application.
        None if path.contains('.') => return Err(ApiProblem(Problem::NotFound("file of this name".into()))),
        None => match Shipped::get("index.html") {
            Some(file) => ("index.html", file),
            None => {
                return Ok(HttpResponse::Ok()
                    .body("The front end is not built into this program. Build it with: cargo xtask build"));
            }
        },
    };
    let mut answer = HttpResponse::Ok();
    answer.insert_header((
        header::CONTENT_TYPE,
        file.mime_type().as_deref().unwrap_or("application/octet-stream").to_owned(),
    ));
    // Names under assets/ change with their contents.
    let lasting = if name.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    answer.insert_header((header::CACHE_CONTROL, lasting));
    let takes = |coding: &str| {
        let accepted = request.headers().get(header::ACCEPT_ENCODING).and_then(|value| value.to_str().ok());
        accepted.is_some_and(|accepted| accepted.contains(coding))
    };
    if takes("br")
        && let Some(data) = file.data_br()
    {
        answer.insert_header(ContentEncoding::Brotli);
        return Ok(answer.body(bytes(data)));
    }
    if takes("gzip")
        && let Some(data) = file.data_gzip()
    {
        answer.insert_header(ContentEncoding::Gzip);
        return Ok(answer.body(bytes(data)));
    }
    answer.insert_header(ContentEncoding::Identity);
    Ok(answer.body(bytes(file.data())))
}

/// Read from disk in a debug build, a part of the program in a release.
fn bytes(data: impl AsRef<[u8]>) -> Vec<u8> {
    data.as_ref().to_vec()
}
