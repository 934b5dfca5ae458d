//! Whether it works, for whoever watches it: `/healthz` whether it answers from its store and all its threads run, `/readyz`
//! whether it can write as well. Neither says more than a word or two to somebody who is not signed in.

use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::{HttpResponse, get};
use iron_kite_core::problem::Problem;

use crate::desk::{Caller, Desk};

/// How often it is tried whether something can be written; who asks in between hears the same.
const EACH: Duration = Duration::from_secs(5);

/// What was found last, and when.
static LAST: Mutex<Option<(Instant, Option<&'static str>)>> = Mutex::new(None);

#[get("/healthz")]
pub(crate) async fn healthz(desk: Desk) -> HttpResponse {
    answer(lives(&desk).await.or(writes(&desk).await.filter(|words| *words == FULL)))
}

#[get("/readyz")]
pub(crate) async fn readyz(desk: Desk) -> HttpResponse {
    answer(match lives(&desk).await {
        None => writes(&desk).await,
        words => words,
    })
}

const FULL: &str = "the disk is full";

fn answer(words: Option<&'static str>) -> HttpResponse {
    let mut answer = if words.is_none() { HttpResponse::Ok() } else { HttpResponse::ServiceUnavailable() };
    answer.content_type("text/plain").body(format!("{}\n", words.unwrap_or("ok")))
}

/// What is wrong with the store or the threads.
async fn lives(desk: &Desk) -> Option<&'static str> {
    let ended = desk.0.beside.lock().unwrap_or_else(PoisonError::into_inner).iter().any(|(name, thread)| {
        let over = thread.is_finished();
        if over {
            tracing::error!(name, "a thread has ended");
        }
        over
    });
    if ended {
        return Some("work in the background has ended");
    }
    desk.ask(Caller::default(), |app, _| iron_kite_ops::start::start(app))
        .await
        .err()
        .map(|_| "the store does not answer")
}

/// What is wrong with writing.
async fn writes(desk: &Desk) -> Option<&'static str> {
    let last = *LAST.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some((_, words)) = last.filter(|(at, _)| at.elapsed() < EACH) {
        return words;
    }
    let tried = desk.ask(Caller::default(), |app, call| app.can_write(call)).await;
    let words = tried.err().map(|fault| match fault.0 {
        Problem::DiskFull => FULL,
        _ => "nothing can be written",
    });
    *LAST.lock().unwrap_or_else(PoisonError::into_inner) = Some((Instant::now(), words));
    words
}
