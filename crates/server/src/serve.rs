//! The HTTP server: its middleware, limits and addresses.

use std::collections::BTreeMap;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, header};
use actix_web::middleware::{Compress, DefaultHeaders, Next, from_fn};
use actix_web::{App as Web, Error, HttpServer, web};
use iron_kite_core::problem::Problem;
use iron_kite_meaning::Models;
use iron_kite_ops::{App, Call, afterwards, jobs, notice};
use lettre::message::Mailbox;
use tracing_actix_web::{RootSpanBuilder, TracingLogger};

use crate::assets;
use crate::desk::{Desk, present};
use crate::outside::{Doors, MailOut, MailServer, MailWay};
use crate::problem::{ApiProblem, json_config, path_config, query_config};
use crate::routes;

/// How to serve. Never printed: it may hold a password.
#[derive(Clone)]
pub(crate) struct ServeOptions {
    pub(crate) address: String,
    pub(crate) port: u16,
    pub(crate) demo: bool,
    pub(crate) behind_tls: bool,
    pub(crate) exit_on_stdin_eof: bool,
    /// Folders below which channels may read, beside the workspace's own.
    pub(crate) watch: Vec<PathBuf>,
    /// Simulated places by their name, each with its address.
    pub(crate) stand_ins: BTreeMap<String, String>,
    /// The mail server that messages go to; where there is none, they are kept.
    pub(crate) mail: Option<MailServer>,
    /// From whom messages are.
    pub(crate) mail_from: Mailbox,
    /// The address of the application in messages.
    pub(crate) links: Option<String>,
}

/// Everything comes from here; nothing runs that did not.
const POLICY: &str = "default-src 'self'; img-src 'self' data: blob:; style-src 'self'; \
    object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";
/// The folder in that of the workspace below which channels may read.
const CHANNELS: &str = "channels";
/// The folder in that of the workspace where messages are kept.
const OUTBOX: &str = "outbox";
const WORKERS: usize = 2;
/// Use cases that run at once. Those that write wait for the disk together, so there are many.
const BLOCKING: usize = 64;

/// Serves a workspace until the program is stopped. Prints the address once it listens.
pub(crate) fn serve(dir: &Path, options: &ServeOptions) -> Result<(), String> {
    let own = dir.join(CHANNELS);
    std::fs::create_dir_all(&own).map_err(|fault| format!("{} cannot be made: {fault}", own.display()))?;
    let roots = [own].into_iter().chain(options.watch.iter().cloned()).collect();
    let way = match &options.mail {
        Some(server) => MailWay::Server(server.clone()),
        None => MailWay::Kept(dir.join(OUTBOX)),
    };
    let mail = MailOut { from: options.mail_from.clone(), links: options.links.clone(), way };
    let doors = Doors::new(roots, options.stand_ins.clone(), mail);
    let app = App::open(dir).map_err(|fault| fault.to_string())?.with_outside(Box::new(doors));
    let app = app.with_meaning(Box::new(Models::default()));
    let desk = Desk::new(app, options.demo, options.behind_tls);
    jobs::recover(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    notice::recover_outbox(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    beside(&desk, "jobs", jobs::work)?;
    beside(&desk, "afterwards", afterwards::work)?;
    beside(&desk, "post", afterwards::post)?;
    actix_web::rt::System::new().block_on(run(desk, options)).map_err(|fault| fault.to_string())
}

/// Work that goes on beside the answers, for as long as the program runs.
fn beside(desk: &Desk, name: &str, work: fn(&App, fn() -> Call)) -> Result<(), String> {
    let shared = Arc::clone(&desk.0);
    let work = move || work(&shared.app, present);
    std::thread::Builder::new().name(name.into()).spawn(work).map(drop).map_err(|fault| fault.to_string())
}

async fn run(desk: Desk, options: &ServeOptions) -> std::io::Result<()> {
    let server = HttpServer::new(move || {
        routes::mount(Web::new(), desk.clone())
            .app_data(json_config())
            .app_data(path_config())
            .app_data(query_config())
            .app_data(web::PayloadConfig::new(iron_kite_ops::listen::MOST_BYTES))
            .default_service(web::get().to(assets::page))
            .wrap(from_fn(same_origin))
            .wrap(headers())
            .wrap(Compress::default())
            .wrap(TracingLogger::<Route>::new())
    })
    .workers(WORKERS)
    .worker_max_blocking_threads(BLOCKING)
    .shutdown_timeout(2)
    .bind((options.address.as_str(), options.port))?;
    for address in server.addrs() {
        let mut out = std::io::stdout().lock();
        writeln!(out, "Iron Kite listens at http://{address}")?;
        out.flush()?;
    }
    let server = server.run();
    if options.exit_on_stdin_eof {
        let handle = server.handle();
        std::thread::spawn(move || {
            let _ = std::io::copy(&mut std::io::stdin(), &mut std::io::sink());
            drop(handle.stop(false));
            std::process::exit(0);
        });
    }
    server.await
}

/// What the log says of a request: its route and never its address, as some addresses hold a secret (calendar links).
struct Route;

impl RootSpanBuilder for Route {
    fn on_request_start(request: &ServiceRequest) -> tracing::Span {
        let route = request.match_pattern().unwrap_or_else(|| "none".into());
        tracing::info_span!("request", method = %request.method(), route)
    }

    fn on_request_end<B: MessageBody>(span: tracing::Span, outcome: &Result<ServiceResponse<B>, Error>) {
        let status = match outcome {
            Ok(response) => response.status(),
            Err(fault) => fault.as_response_error().status_code(),
        };
        tracing::debug!(parent: &span, status = status.as_u16(), "answered");
    }
}

fn headers() -> DefaultHeaders {
    DefaultHeaders::new()
        .add((header::CONTENT_SECURITY_POLICY, POLICY))
        .add((header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .add((header::REFERRER_POLICY, "same-origin"))
        .add(("Cross-Origin-Opener-Policy", "same-origin"))
        .add(("Permissions-Policy", "camera=(), geolocation=(), microphone=()"))
}

/// What changes something must come from our own pages: a browser says where a request comes from,
/// and other programs do not send a cookie by themselves.
async fn same_origin<B: MessageBody>(request: ServiceRequest, next: Next<B>) -> Result<ServiceResponse<B>, Error> {
    if ![Method::GET, Method::HEAD].contains(request.method()) && is_foreign(&request) {
        let words = "This request comes from another site. Open Iron Kite itself and try again.";
        return Err(ApiProblem(Problem::refused("other-site", words)).into());
    }
    next.call(request).await
}

fn is_foreign(request: &ServiceRequest) -> bool {
    let text = |name: &str| request.headers().get(name).and_then(|value| value.to_str().ok());
    if let Some(site) = text("sec-fetch-site") {
        return !matches!(site, "same-origin" | "none");
    }
    match (text("origin"), text("host")) {
        (Some(origin), Some(host)) => origin.split_once("://").is_none_or(|(_, from)| from != host),
        (Some(_), None) => true,
        (None, _) => false,
    }
}
