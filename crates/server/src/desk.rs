//! Who asks, and use cases off the async threads.

use std::future::{Ready, ready};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;
use std::time::Duration;

use actix_web::dev::Payload;
use actix_web::http::header::AUTHORIZATION;
use actix_web::{FromRequest, HttpMessage, HttpRequest, web};
use iron_kite_core::problem::Problem;
use iron_kite_ops::keys::TOKEN;
use iron_kite_ops::{Actor, App, Call, people};
use iron_kite_store::Way;
use jiff::{Timestamp, ZonedDateTime};

use crate::audit::Audit;
use crate::guard::Intake;
use crate::live::Live;
use crate::problem::ApiProblem;
use crate::tries::{Limit, SignInLimits, place_of};
use crate::workers::{FILES, HASHING, Workers};

/// The name of the session's cookie; behind TLS a browser sends it to this very host only.
const COOKIE: &str = "iron_kite_session";
const COOKIE_OF_HOST: &str = "__Host-iron_kite_session";

/// So many requests a minute from one address to what is open to outsiders.
const OPEN: u32 = 60;
/// So many forms a minute from one address.
const SENT: u32 = 10;
/// So many answers by one form from all addresses, and then one after each time.
const SENT_BY_FORM: (u32, Duration) = (120, Duration::from_secs(6));

/// What every request shares.
#[derive(Clone)]
pub(crate) struct Desk(pub(crate) Arc<Shared>);

pub(crate) struct Shared {
    pub(crate) app: App,
    /// Where the workspace lies.
    pub(crate) dir: PathBuf,
    pub(crate) live: Live,
    pub(crate) tries: SignInLimits,
    open: Limit,
    sent: Limit,
    sent_by_form: Limit,
    hashers: Workers,
    files: Workers,
    pub(crate) audit: Audit,
    /// What is taken in at once.
    pub(crate) intake: Arc<Intake>,
    /// What goes on beside the answers.
    pub(crate) beside: Mutex<Vec<(String, JoinHandle<()>)>>,
    /// What the console showed to whoever is to be the first owner, while there is none.
    pub(crate) first_code: Option<String>,
    pub(crate) demo: bool,
    pub(crate) behind_tls: bool,
    /// Whether messages go out by a mail server.
    pub(crate) mails: bool,
}

/// The key that a request brought, not yet looked up.
#[derive(Clone, Default)]
pub(crate) struct Caller {
    pub(crate) key: Option<String>,
    /// Who it is, where that was looked up a moment ago.
    known: Option<Actor>,
}

impl Caller {
    /// The same to be looked up anew each time.
    pub(crate) fn looked_up_anew(self) -> Self {
        Caller { known: None, ..self }
    }

    /// The key that a request brought.
    pub(crate) fn of(desk: &Desk, request: &HttpRequest) -> Self {
        let cookie = || request.cookie(desk.cookie()).map(|cookie| cookie.value().to_owned());
        // What is no token opens nothing: a session's key comes as a cookie, which other places cannot send along.
        let token = request.headers().get(AUTHORIZATION).and_then(|value| value.to_str().ok()?.strip_prefix("Bearer "));
        let key = match token {
            Some(token) => Some(token.trim().to_owned()).filter(|token| token.starts_with(TOKEN)),
            None => cookie(),
        };
        Caller { key, known: request.extensions().get::<Actor>().cloned() }
    }
}

impl FromRequest for Caller {
    type Error = actix_web::Error;
    type Future = Ready<Result<Self, Self::Error>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let desk = request.app_data::<web::Data<Desk>>();
        ready(Ok(desk.map(|desk| Caller::of(desk, request)).unwrap_or_default()))
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
    /// # Errors
    /// In words, where the system gives no threads.
    pub(crate) fn new(
        app: App,
        dir: &Path,
        demo: bool,
        behind_tls: bool,
        mails: bool,
        first_code: Option<String>,
    ) -> Result<Self, String> {
        let live = Live::new();
        live.follow(&app);
        Ok(Desk(Arc::new(Shared {
            app,
            dir: dir.to_owned(),
            live,
            tries: SignInLimits::default(),
            open: Limit::per_minute(OPEN),
            sent: Limit::per_minute(SENT),
            sent_by_form: Limit::new(SENT_BY_FORM.0, SENT_BY_FORM.1),
            hashers: Workers::start(HASHING)?,
            files: Workers::start(FILES)?,
            audit: Audit::of(dir),
            intake: Arc::default(),
            beside: Mutex::default(),
            first_code,
            demo,
            behind_tls,
            mails,
        })))
    }

    /// The name of the session's cookie here.
    pub(crate) fn cookie(&self) -> &'static str {
        if self.0.behind_tls { COOKIE_OF_HOST } else { COOKIE }
    }

    /// Where a request comes from: behind a proxy that ends TLS, the address that the proxy saw.
    pub(crate) fn from(&self, request: &HttpRequest) -> String {
        let forwarded = request.headers().get("x-forwarded-for").filter(|_| self.0.behind_tls);
        let last = forwarded.and_then(|value| value.to_str().ok()).and_then(|value| value.rsplit(',').next());
        let peer = || request.peer_addr().map(|peer| peer.ip().to_string()).unwrap_or_default();
        place_of(&last.map_or_else(peer, |address| address.trim().to_owned()))
    }

    /// Refuses whoever asks too often for what is open to outsiders.
    pub(crate) fn not_too_often(&self, request: &HttpRequest) -> Result<(), ApiProblem> {
        self.0.open.take(&self.from(request)).map_err(ApiProblem)
    }

    /// Refuses whoever sends too many forms, and a form that is sent too often by all together.
    pub(crate) fn not_sent_too_often(&self, request: &HttpRequest, form: &str) -> Result<(), ApiProblem> {
        self.0.sent.take(&self.from(request)).and_then(|()| self.0.sent_by_form.take(form)).map_err(ApiProblem)
    }

    /// Carries out a use case that hashes a password, on one of the few threads for that.
    pub(crate) async fn hash<T: Send + 'static>(
        &self,
        caller: Caller,
        use_case: impl FnOnce(&App, &Call) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, ApiProblem> {
        let desk = self.clone();
        self.0.hashers.run(move || carry_out(&desk.0.app, caller, use_case)).await.map_err(ApiProblem)
    }

    /// Carries out a use case that works on a file, on one of the few threads for that.
    pub(crate) async fn with_file<T: Send + 'static>(
        &self,
        caller: Caller,
        use_case: impl FnOnce(&App, &Call) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, ApiProblem> {
        let desk = self.clone();
        self.0.files.run(move || carry_out(&desk.0.app, caller, use_case)).await.map_err(ApiProblem)
    }

    /// Carries out a use case for whoever asks, on a thread that may wait.
    pub(crate) async fn ask<T: Send + 'static>(
        &self,
        caller: Caller,
        use_case: impl FnOnce(&App, &Call) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, ApiProblem> {
        let shared = Arc::clone(&self.0);
        let done = web::block(move || carry_out(&shared.app, caller, use_case));
        done.await.map_err(|fault| ApiProblem(Problem::Internal(fault.to_string())))?.map_err(ApiProblem)
    }
}

fn carry_out<T>(
    app: &App,
    caller: Caller,
    use_case: impl FnOnce(&App, &Call) -> Result<T, Problem>,
) -> Result<T, Problem> {
    let mut call = present();
    if caller.key.as_deref().is_some_and(|key| key.starts_with(TOKEN)) {
        call.way = Way::Program;
    }
    call.actor = match (caller.known, &caller.key) {
        (Some(actor), _) => Some(actor),
        (None, Some(key)) => people::who(app, key, call.now)?,
        (None, None) => None,
    };
    use_case(app, &call)
}

/// A call of nobody, now.
pub(crate) fn present() -> Call {
    Call { actor: None, now: Timestamp::now(), today: ZonedDateTime::now().date(), way: Way::Person }
}
