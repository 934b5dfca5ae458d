//! Problems as `application/problem+json` (RFC 9457).

use actix_web::error::PayloadError;
use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError, web};
use iron_kite_core::problem::{Fault, Problem};
use serde::Serialize;
use utoipa::ToSchema;

use crate::guard::too_large;

/// A problem on its way out.
#[derive(Debug)]
pub(crate) struct ApiProblem(pub(crate) Problem);

/// What a client gets.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ProblemBody {
    /// A stable address made of the code.
    #[serde(rename = "type")]
    kind: String,
    /// A stable code that programs can rely on.
    code: String,
    /// What happened.
    title: String,
    /// What to do about it.
    detail: String,
    /// The HTTP status.
    status: u16,
    /// The fields at fault, each by a JSON pointer into what was sent.
    faults: Vec<Fault>,
    /// How the thing is now, where somebody changed it in the meantime.
    #[schema(value_type = Option<std::collections::HashMap<String, serde_json::Value>>)]
    present: Option<serde_json::Value>,
}

impl std::fmt::Display for ApiProblem {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

impl From<Problem> for ApiProblem {
    fn from(problem: Problem) -> Self {
        ApiProblem(problem)
    }
}

impl ResponseError for ApiProblem {
    fn status_code(&self) -> StatusCode {
        match &self.0 {
            Problem::NotSignedIn | Problem::WrongSignIn => StatusCode::UNAUTHORIZED,
            Problem::NotAllowed { .. } => StatusCode::FORBIDDEN,
            Problem::NotFound(_) => StatusCode::NOT_FOUND,
            Problem::Stale { .. } | Problem::Refused { code: "received-already", .. } => StatusCode::CONFLICT,
            Problem::Refused { code: "other-site", .. } => StatusCode::FORBIDDEN,
            Problem::Refused { code: "packed-request", .. } => StatusCode::UNSUPPORTED_MEDIA_TYPE,
            Problem::Refused { code: "other-host", .. } => StatusCode::MISDIRECTED_REQUEST,
            Problem::Refused { code: "too-slow", .. } => StatusCode::REQUEST_TIMEOUT,
            Problem::Invalid(_) | Problem::Refused { .. } => StatusCode::UNPROCESSABLE_ENTITY,
            Problem::TooLarge(_) => StatusCode::PAYLOAD_TOO_LARGE,
            Problem::TooManyTries(_) => StatusCode::TOO_MANY_REQUESTS,
            Problem::Busy => StatusCode::SERVICE_UNAVAILABLE,
            Problem::DiskFull => StatusCode::INSUFFICIENT_STORAGE,
            Problem::Internal(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        if let Problem::Internal(words) = &self.0 {
            tracing::error!("{words}");
        }
        let status = self.status_code();
        let body = ProblemBody {
            kind: format!("urn:iron-kite:problem:{}", self.0.code()),
            code: self.0.code().to_owned(),
            title: self.0.title().to_owned(),
            detail: self.0.detail(),
            status: status.as_u16(),
            faults: if let Problem::Invalid(faults) = &self.0 { faults.clone() } else { Vec::new() },
            present: if let Problem::Stale { present } = &self.0 { Some(present.clone()) } else { None },
        };
        let mut response = HttpResponse::build(status);
        if let Problem::TooManyTries(seconds) = &self.0 {
            response.insert_header((header::RETRY_AFTER, seconds.to_string()));
        }
        response.content_type("application/problem+json").body(serde_json::to_string(&body).unwrap_or_default())
    }
}

/// What cannot be decoded becomes a problem like any other.
pub(crate) fn json_config() -> web::JsonConfig {
    json_up_to(MOST_JSON)
}

/// The same for what outsiders send.
pub(crate) fn small_json_config() -> web::JsonConfig {
    json_up_to(MOST_JSON_FROM_OUTSIDE)
}

fn json_up_to(most: usize) -> web::JsonConfig {
    web::JsonConfig::default().limit(most).error_handler(move |fault, _: &HttpRequest| {
        use actix_web::error::JsonPayloadError::{Overflow, OverflowKnownLength, Payload};
        let problem = match &fault {
            Overflow { .. } | OverflowKnownLength { .. } | Payload(PayloadError::Overflow) => too_large(most),
            Payload(fault) => not_arrived(fault),
            _ => Problem::invalid("", format!("What was sent does not fit: {fault}.")),
        };
        ApiProblem(problem).into()
    })
}

pub(crate) const MOST_JSON: usize = 1024 * 1024;
/// A form with long answers is far smaller.
pub(crate) const MOST_JSON_FROM_OUTSIDE: usize = 64 * 1024;

/// The same for what stands in the address.
pub(crate) fn path_config() -> web::PathConfig {
    web::PathConfig::default()
        .error_handler(|_, _| ApiProblem(Problem::NotFound("page or thing at this address".into())).into())
}

/// The same for what stands behind the question mark.
pub(crate) fn query_config() -> web::QueryConfig {
    web::QueryConfig::default().error_handler(|fault, _| {
        ApiProblem(Problem::invalid("", format!("The address does not fit: {fault}."))).into()
    })
}

/// The bytes of a file that was sent, or a problem where it is too large.
pub(crate) fn file_bytes(payload: Result<web::Bytes, actix_web::Error>) -> Result<web::Bytes, ApiProblem> {
    payload.map_err(|fault| {
        ApiProblem(match fault.as_error::<PayloadError>() {
            Some(PayloadError::Overflow) | None => too_large(iron_kite_ops::listen::MOST_BYTES),
            Some(fault) => not_arrived(fault),
        })
    })
}

/// What was sent did not come, or not in time.
pub(crate) fn not_arrived(fault: &PayloadError) -> Problem {
    match fault {
        PayloadError::Io(fault) if fault.kind() == std::io::ErrorKind::TimedOut => Problem::refused(
            "too-slow",
            "What was sent came too slowly and was not waited for. Try again on a better line.",
        ),
        PayloadError::Io(fault) if fault.kind() == std::io::ErrorKind::OutOfMemory => Problem::Busy,
        _ => Problem::invalid("", "What was sent did not arrive whole. Send it again."),
    }
}
