//! Small simulated outside services: real servers on this machine alone, for the demo and the tests.
//!
//! A support desk, a review site and a library of pages, which speak what `docs/channels.md` says: pages behind a cursor, a key, and the
//! refusals of the real ones when they are told to; and a mail server.

mod post;

use std::sync::{Arc, Mutex, PoisonError, mpsc};
use std::time::{Duration, Instant};

use actix_web::dev::ServerHandle;
use actix_web::http::StatusCode;
use actix_web::http::header::RETRY_AFTER;
use actix_web::web::{self, Data, Query};
use actix_web::{App, HttpRequest, HttpResponse, HttpServer};
use serde::Deserialize;
use serde_json::{Value, json};

pub use post::{Mood, PostOffice, Taken};

/// What a simulated place holds, and how it behaves.
struct Held {
    what: &'static str,
    key: Option<String>,
    records: Vec<Value>,
    /// So many are there from the first; one more comes after each pause.
    first: usize,
    pause: Duration,
    began: Instant,
    /// The next answers, where they are no good ones.
    refusals: Vec<StatusCode>,
}

impl Held {
    /// How many of the records are there by now.
    fn there(&self) -> usize {
        let pauses = self.began.elapsed().as_millis().checked_div(self.pause.as_millis()).unwrap_or(0);
        self.records.len().min(self.first.saturating_add(usize::try_from(pauses).unwrap_or(usize::MAX)))
    }
}

/// A simulated place that runs until it is dropped.
pub struct StandIn {
    held: Arc<Mutex<Held>>,
    address: String,
    server: ServerHandle,
}

/// A place that is to be simulated.
pub struct Place {
    /// What it is asked for: `tickets`, `reviews`, or `pages` by a question.
    pub what: &'static str,
    /// The key that it asks for.
    pub key: Option<String>,
    /// What it holds, oldest first.
    pub records: Vec<Value>,
    /// So many of them are there from the first.
    pub first: usize,
    /// One more comes after each pause; with no pause, no more come.
    pub pause: Duration,
}

impl StandIn {
    /// Starts a place on a free port of this machine.
    ///
    /// # Errors
    /// In words, where no port can be had.
    pub fn start(place: Place) -> Result<Self, String> {
        let Place { what, key, records, first, pause } = place;
        let held = Held { what, key, records, first, pause, began: Instant::now(), refusals: Vec::new() };
        let held = Arc::new(Mutex::new(held));
        let (tell, told) = mpsc::channel();
        let shared = Arc::clone(&held);
        std::thread::spawn(move || {
            let run = async move {
                let data = Data::from(shared);
                let make = move || App::new().app_data(data.clone()).route("/{what}", web::get().to(page));
                let server = HttpServer::new(make).workers(1).disable_signals().bind(("127.0.0.1", 0));
                match server {
                    Ok(server) => {
                        let address = server.addrs().first().map(|at| format!("http://{at}")).unwrap_or_default();
                        let server = server.run();
                        drop(tell.send(Ok((address, server.handle()))));
                        drop(server.await);
                    }
                    Err(fault) => drop(tell.send(Err(fault.to_string()))),
                }
            };
            actix_web::rt::System::new().block_on(run);
        });
        let (address, server) = told.recv().map_err(|fault| fault.to_string())??;
        Ok(StandIn { held, address, server })
    }

    /// Where it is asked.
    #[must_use]
    pub fn address(&self) -> &str {
        &self.address
    }

    /// One more thing is there.
    pub fn add(&self, record: Value) {
        let mut held = self.held.lock().unwrap_or_else(PoisonError::into_inner);
        held.records.push(record);
        held.first = held.records.len();
    }

    /// The next question is refused with this status.
    pub fn refuse_next(&self, status: u16) {
        let status = StatusCode::from_u16(status).unwrap_or(StatusCode::SERVICE_UNAVAILABLE);
        self.held.lock().unwrap_or_else(PoisonError::into_inner).refusals.push(status);
    }
}

impl Drop for StandIn {
    fn drop(&mut self) {
        drop(self.server.stop(false));
    }
}

#[derive(Deserialize)]
struct Ask {
    #[serde(default)]
    after: String,
    limit: Option<usize>,
    #[serde(default)]
    q: String,
}

/// What a library of pages is asked for.
const PAGES: &str = "pages";
/// Shorter words of a question stand everywhere.
const SHORTEST: usize = 4;

/// The pages that hold most words of a question, those with the most first.
fn found(pages: &[Value], ask: &Ask) -> Vec<Value> {
    let lower = ask.q.to_lowercase();
    let words: Vec<&str> =
        lower.split(|c: char| !c.is_alphanumeric()).filter(|word| word.chars().count() >= SHORTEST).collect();
    let held = |page: &Value| {
        let text = page.to_string().to_lowercase();
        words.iter().filter(|word| text.contains(**word)).count()
    };
    let mut all: Vec<(usize, &Value)> =
        pages.iter().map(|page| (held(page), page)).filter(|(held, _)| *held > 0).collect();
    all.sort_by_key(|(held, _)| std::cmp::Reverse(*held));
    all.into_iter().take(ask.limit.unwrap_or(12)).map(|(_, page)| page.clone()).collect()
}

async fn page(request: HttpRequest, ask: Query<Ask>, held: Data<Mutex<Held>>) -> HttpResponse {
    let mut held = held.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(status) = held.refusals.pop() {
        return HttpResponse::build(status).insert_header((RETRY_AFTER, "30")).finish();
    }
    let said = request.headers().get("authorization").and_then(|key| key.to_str().ok()).unwrap_or_default();
    if held.key.as_ref().is_some_and(|key| said != format!("Bearer {key}")) {
        return HttpResponse::Unauthorized().finish();
    }
    if request.match_info().get("what") != Some(held.what) {
        return HttpResponse::NotFound().finish();
    }
    if held.what == PAGES {
        return HttpResponse::Ok().json(json!({ PAGES: found(&held.records, &ask) }));
    }
    let there = held.there();
    let from = ask.after.parse::<usize>().unwrap_or(0).min(there);
    let to = there.min(from + ask.limit.unwrap_or(50).clamp(1, 200));
    let records = held.records.get(from..to).unwrap_or_default();
    HttpResponse::Ok().json(json!({ held.what: records, "next": to.to_string() }))
}
