//! Who asks, and use cases off the async threads.

use std::future::{Ready, ready};
use std::num::NonZeroU32;
use std::sync::Arc;

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};
use governor::clock::{Clock, DefaultClock};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use iron_kite_core::problem::Problem;
use iron_kite_ops::{App, Call, people};
use iron_kite_store::Way;
use jiff::{Timestamp, ZonedDateTime};

use crate::live::Live;
use crate::problem::ApiProblem;

/// The name of the session's cookie.
pub(crate) const COOKIE: &str = "iron_kite_session";
/// So many sign-ins a minute from one address for one name.
const TRIES: NonZeroU32 = NonZeroU32::new(10).unwrap();

/// So many requests a minute from one address to what is open to outsiders.
const OPEN: NonZeroU32 = NonZeroU32::new(60).unwrap();

/// So many forms a minute from one address.
const SENT: NonZeroU32 = NonZeroU32::new(10).unwrap();

/// What every request shares.
#[derive(Clone)]
pub(crate) struct Desk(pub(crate) Arc<Shared>);

pub(crate) struct Shared {
    pub(crate) app: App,
    pub(crate) live: Live,
    tries: DefaultKeyedRateLimiter<String>,
    open: DefaultKeyedRateLimiter<String>,
    sent: DefaultKeyedRateLimiter<String>,
    pub(crate) demo: bool,
    pub(crate) behind_tls: bool,
}

/// The key that a request brought, not yet looked up.
#[derive(Clone, Default)]
pub(crate) struct Caller {
    pub(crate) key: Option<String>,
}

impl FromRequest for Caller {
    type Error = actix_web::Error;
    type Future = Ready<Result<Self, Self::Error>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        ready(Ok(Caller { key: request.cookie(COOKIE).map(|cookie| cookie.value().to_owned()) }))
    }
}

impl FromRequest for Desk {
    type Error = actix_web::Error;
    type Future = Ready<Result<Self, Self::Error>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let desk = request.app_data::<web::Data<Desk>>();
        ready(
            desk.map(|desk| Desk(Arc::clone(&desk.0)))
                .ok_or_else(|| ApiProblem(Problem::Internal("the desk is not set up".into())).into()),
        )
    }
}

impl Desk {
    pub(crate) fn new(app: App, demo: bool, behind_tls: bool) -> Self {
        let live = Live::new();
        live.follow(&app);
        let tries = RateLimiter::keyed(Quota::per_minute(TRIES));
        let open = RateLimiter::keyed(Quota::per_minute(OPEN));
        let sent = RateLimiter::keyed(Quota::per_minute(SENT));
        Desk(Arc::new(Shared { app, live, tries, open, sent, demo, behind_tls }))
    }

    /// Where a request comes from: behind a proxy that ends TLS, the address that the proxy saw.
    pub(crate) fn from(&self, request: &HttpRequest) -> String {
        let forwarded = request.headers().get("x-forwarded-for").filter(|_| self.0.behind_tls);
        let last = forwarded.and_then(|value| value.to_str().ok()).and_then(|value| value.rsplit(',').next());
        let peer = || request.peer_addr().map(|peer| peer.ip().to_string()).unwrap_or_default();
        last.map_or_else(peer, |address| address.trim().to_owned())
    }

    /// Refuses whoever asks too often for what is open to outsiders.
    pub(crate) fn not_too_often(&self, request: &HttpRequest) -> Result<(), ApiProblem> {
        within(&self.0.open, &self.from(request))
    }

    /// Refuses whoever sends too many forms.
    pub(crate) fn not_sent_too_often(&self, request: &HttpRequest) -> Result<(), ApiProblem> {
        within(&self.0.sent, &self.from(request))
    }

    /// Refuses whoever tries too often to sign in under a name.
    pub(crate) fn not_tried_too_often(&self, request: &HttpRequest, name: &str) -> Result<(), ApiProblem> {
        within(&self.0.tries, &format!("{} {}", self.from(request), name.to_lowercase()))
    }

    /// Carries out a use case for whoever asks, on a thread that may wait.
    pub(crate) async fn ask<T: Send + 'static>(
        &self,
        caller: Caller,
        use_case: impl FnOnce(&App, &Call) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, ApiProblem> {
        let shared = Arc::clone(&self.0);
        let done = web::block(move || {
            let mut call = present();
            if let Some(key) = &caller.key {
                call.actor = people::who(&shared.app, key, call.now)?;
            }
            use_case(&shared.app, &call)
        });
        done.await.map_err(|fault| ApiProblem(Problem::Internal(fault.to_string())))?.map_err(ApiProblem)
    }
}

fn within(limiter: &DefaultKeyedRateLimiter<String>, key: &String) -> Result<(), ApiProblem> {
    // Who was not heard of for a minute is forgotten, so that many addresses do not fill the memory.
    if limiter.len() > MOST_ADDRESSES {
        limiter.retain_recent();
    }
    limiter.check_key(key).map_err(|wait| {
        let seconds = wait.wait_time_from(DefaultClock::default().now()).as_secs() + 1;
        ApiProblem(Problem::TooManyTries(seconds))
    })
}

/// So many addresses are remembered before old ones are forgotten.
const MOST_ADDRESSES: usize = 10_000;

/// A call of nobody, now.
pub(crate) fn present() -> Call {
    Call { actor: None, now: Timestamp::now(), today: ZonedDateTime::now().date(), way: Way::Person }
}
