//! The HTTP server: its middleware, limits and addresses.

use std::collections::BTreeMap;
use std::fs::Permissions;
use std::io::Write;
use std::os::unix::fs::PermissionsExt;
use std::path::{Path, PathBuf};
use std::sync::{Arc, PoisonError};
use std::time::Duration;

use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, header};
use actix_web::middleware::{Compress, DefaultHeaders, Next, from_fn};
use actix_web::{App as Web, Error, HttpServer, web};
use iron_kite_core::problem::Problem;
use iron_kite_meaning::Models;
use iron_kite_ops::{App, Call, afterwards, jobs, listen, notice, people};
use iron_kite_store::Lock;
use lettre::message::Mailbox;
use rustix::process::{Resource, Rlimit, getrlimit, setrlimit};
use tracing_actix_web::{RootSpanBuilder, TracingLogger};

use crate::assets;
use crate::audit::audit;
use crate::desk::{Desk, present};
use crate::fresh::Fresh;
use crate::guard::{guard, refused};
use crate::outside::{Doors, MailOut, MailServer, MailWay};
use crate::problem::{json_config, path_config, query_config};
use crate::reader::Apart;
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
    /// Whether channels may ask places on this machine and in its own network.
    pub(crate) nearby: bool,
    /// Simulated places by their name, each with its address.
    pub(crate) stand_ins: BTreeMap<String, String>,
    /// The mail server that messages go to; where there is none, they are kept.
    pub(crate) mail: Option<MailServer>,
    /// From whom messages are.
    pub(crate) mail_from: Mailbox,
    /// The address of the application in messages.
    pub(crate) links: Option<String>,
    /// The names that it is asked by; any where none is given.
    pub(crate) hosts: Vec<String>,
}

/// Everything comes from here; nothing runs that did not.
const POLICY: &str = "default-src 'self'; img-src 'self' data: blob:; style-src 'self'; \
    object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";
/// The folder in that of the workspace below which channels may read.
const CHANNELS: &str = "channels";
/// The folder in that of the workspace where messages are kept.
const OUTBOX: &str = "outbox";
const WORKERS: usize = 2;
/// The most connections that are worth having, and how many descriptors are kept for files.
const CONNECTIONS: u64 = 8_192;
const KEPT_FOR_FILES: u64 = 256;
/// So long a connection may be silent between two requests, and until a first one is whole.
const SILENT: Duration = Duration::from_secs(15);
const FIRST: Duration = Duration::from_secs(8);
/// Browsers that saw it behind TLS ask for it so for a year.
const TLS_ONLY: &str = "max-age=31536000";
/// Long work gives way to everybody who works, so far.
const JOBS_GIVE_WAY: i32 = 15;
/// Use cases that run at once. Those that write wait for the disk together, so there are many.
const BLOCKING: usize = 64;

/// Serves a workspace until the program is stopped. Prints the address once it listens.
pub(crate) fn serve(dir: &Path, options: &ServeOptions) -> Result<(), String> {
    let fresh = Fresh::in_folder(dir);
    make_private(dir)?;
    // Held until the end.
    let _lock = Lock::take(dir).map_err(|fault| fault.to_string())?;
    let own = dir.join(CHANNELS);
    std::fs::create_dir_all(&own).map_err(|fault| format!("{} cannot be made: {fault}", own.display()))?;
    let roots = [own].into_iter().chain(options.watch.iter().cloned()).collect();
    let way = match &options.mail {
        Some(server) => MailWay::Server(server.clone()),
        None => MailWay::Kept(dir.join(OUTBOX)),
    };
    let mail = MailOut { from: options.mail_from.clone(), links: options.links.clone(), way };
    let doors = Doors::new(roots, options.stand_ins.clone(), mail, options.nearby);
    let app = App::open(dir).map_err(|fault| fault.to_string())?.with_outside(Box::new(doors));
    let app = app.with_meaning(Box::new(Models::default())).with_reader(Box::new(Apart::default()));
    let waits = iron_kite_ops::start::start(&app).map_err(|problem| problem.to_string())?.needs_owner;
    let first_code = waits.then(people::new_code).transpose().map_err(|problem| problem.to_string())?;
    let desk = Desk::new(app, dir, options.demo, options.behind_tls, options.mail.is_some(), first_code)?;
    jobs::recover(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    listen::seal_keys(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    listen::finish_erasing(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    notice::recover_outbox(&desk.0.app, &present()).map_err(|problem| problem.to_string())?;
    beside(&desk, "jobs", JOBS_GIVE_WAY, jobs::work)?;
    beside(&desk, "afterwards", 0, afterwards::work)?;
    beside(&desk, "post", 0, afterwards::post)?;
    actix_web::rt::System::new().block_on(run(desk, options, fresh)).map_err(|fault| fault.to_string())
}

/// Work that goes on beside the answers, for as long as the program runs.
fn beside(desk: &Desk, name: &str, gives_way: i32, work: fn(&App, fn() -> Call)) -> Result<(), String> {
    let shared = Arc::clone(&desk.0);
    let work = move || {
        // Of this thread alone; where it may not, it is as important as all others.
        let _ = rustix::process::nice(gives_way);
        work(&shared.app, present);
    };
    let thread = std::thread::Builder::new().name(name.into()).spawn(work).map_err(|fault| fault.to_string())?;
    desk.0.beside.lock().unwrap_or_else(PoisonError::into_inner).push((name.to_owned(), thread));
    Ok(())
}

/// The folder of the workspace, made where it is missing, and all that is in it are for nobody else on the machine.
fn make_private(dir: &Path) -> Result<(), String> {
    let words = |fault: std::io::Error| format!("{} cannot be used: {fault}", dir.display());
    std::fs::create_dir_all(dir).map_err(words)?;
    std::fs::set_permissions(dir, Permissions::from_mode(0o700)).map_err(words)?;
    let mut folders = vec![dir.to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(&folder).map_err(words)?.flatten() {
            // A link may lead anywhere; what it leads to is left alone.
            let Ok(sort) = entry.file_type() else { continue };
            let mode = if sort.is_dir() { 0o700 } else { 0o600 };
            if sort.is_dir() || sort.is_file() {
                let _ = std::fs::set_permissions(entry.path(), Permissions::from_mode(mode));
            }
            folders.extend(sort.is_dir().then(|| entry.path()));
        }
    }
    Ok(())
}

/// How many connections each worker may have: below what the system gives this process, which is raised as far as it may be.
fn connections() -> usize {
    let limit = getrlimit(Resource::Nofile);
    let most = limit.maximum.unwrap_or(u64::MAX).min(CONNECTIONS + KEPT_FOR_FILES);
    let wanted = Rlimit { current: Some(most.max(limit.current.unwrap_or(most))), maximum: limit.maximum };
    if let Err(fault) = setrlimit(Resource::Nofile, wanted) {
        tracing::warn!(%fault, "the number of connections cannot be raised");
    }
    let given = getrlimit(Resource::Nofile).current.unwrap_or(most);
    let each = given.saturating_sub(KEPT_FOR_FILES).clamp(64, CONNECTIONS) / WORKERS as u64;
    usize::try_from(each).unwrap_or(64)
}

async fn run(desk: Desk, options: &ServeOptions, fresh: Fresh) -> std::io::Result<()> {
    let first_code = desk.0.first_code.clone();
    let (behind_tls, hosts) =
        (options.behind_tls, Hosts(options.hosts.iter().map(|host| host.to_lowercase()).collect()));
    let hosts = web::Data::new(hosts);
    let server = HttpServer::new(move || {
        routes::mount(Web::new(), desk.clone())
            .app_data(json_config())
            .app_data(path_config())
            .app_data(query_config())
            .app_data(web::PayloadConfig::new(iron_kite_ops::listen::MOST_BYTES))
            .default_service(web::get().to(assets::page))
            .app_data(hosts.clone())
            .wrap(from_fn(guard))
            .wrap(from_fn(from_here))
            .wrap(from_fn(audit))
            .wrap(Compress::default())
            .wrap(headers(behind_tls))
            .wrap(TracingLogger::<Route>::new())
    })
    .workers(WORKERS)
    .worker_max_blocking_threads(BLOCKING)
    .max_connections(connections())
    .client_request_timeout(FIRST)
    .keep_alive(SILENT)
    // Small answers are not held back to be sent with the next.
    .tcp_nodelay(true)
    .shutdown_timeout(2)
    .bind((options.address.as_str(), options.port))?;
    fresh.stays();
    for address in server.addrs() {
        let mut out = std::io::stdout().lock();
        if let Some(code) = &first_code {
            writeln!(out, "Nobody can sign in yet. Whoever begins is asked for this code: {code}")?;
        }
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

fn headers(behind_tls: bool) -> DefaultHeaders {
    let headers = DefaultHeaders::new()
        .add((header::CONTENT_SECURITY_POLICY, POLICY))
        .add((header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .add((header::REFERRER_POLICY, "same-origin"))
        .add(("Cross-Origin-Opener-Policy", "same-origin"))
        .add(("Permissions-Policy", "camera=(), geolocation=(), microphone=()"))
        // Where an answer does not say otherwise, nobody keeps it.
        .add((header::CACHE_CONTROL, "no-store"));
    if behind_tls { headers.add((header::STRICT_TRANSPORT_SECURITY, TLS_ONLY)) } else { headers }
}

/// The names that it is asked by; any where there is none.
struct Hosts(Vec<String>);

/// What is asked must be asked of us by our name, and what changes something must come from our own pages: a browser says where
/// a request comes from, and other programs do not send a cookie by themselves.
async fn from_here<B: MessageBody>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<EitherBody<B>>, Error> {
    if is_other_host(&request) {
        let words = "Iron Kite is not served under this name. Use the address that whoever runs it gave you.";
        return Ok(refused(request, Problem::refused("other-host", words)));
    }
    if ![Method::GET, Method::HEAD].contains(request.method()) && is_foreign(&request) {
        let words = "This request comes from another site. Open Iron Kite itself and try again.";
        return Ok(refused(request, Problem::refused("other-site", words)));
    }
    next.call(request).await.map(ServiceResponse::map_into_left_body)
}

fn is_other_host(request: &ServiceRequest) -> bool {
    let Some(hosts) = request.app_data::<web::Data<Hosts>>().filter(|hosts| !hosts.0.is_empty()) else { return false };
    let host = request.headers().get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default();
    let host = host.to_lowercase();
    // With or without the port that it listens at.
    let name = host.rsplit_once(':').filter(|(_, port)| port.bytes().all(|digit| digit.is_ascii_digit()));
    let name = name.map_or(host.as_str(), |(name, _)| name);
    !hosts.0.iter().any(|known| *known == host || known == name)
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
