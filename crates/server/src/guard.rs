//! Who sends, before what is sent: nobody's body is taken in who may not send it, nor faster, larger or longer than it may be.

use std::collections::HashMap;
use std::io::ErrorKind;
use std::pin::Pin;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::web::Bytes;
use actix_web::{Error, HttpMessage, ResponseError, web};
use futures_util::stream::{Stream, StreamExt, unfold};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::ThingKind;
use iron_kite_ops::Actor;
use serde_json::Value;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use tokio::time::{sleep, timeout};

use crate::desk::{Caller, Desk};
use crate::passing::MOST_WHOLE;
use crate::problem::{ApiProblem, MOST_JSON, MOST_JSON_FROM_OUTSIDE};

/// A body may be silent for so long, and then comes at this speed at least, in bytes a second.
const SILENT: Duration = Duration::from_secs(10);
const SLOWEST: u64 = 16 * 1024;
/// So much of bodies is held at once, in kilobytes: of files, of all else that comes from those who are signed in, and of what
/// comes from anybody. Room for a file is made before it comes; of the others, who say little hold little, however long they take.
const FILES: usize = 160 * 1024;
const INSIDE: usize = 128 * 1024;
const OUTSIDE: usize = 32 * 1024;
/// So long a file waits for room.
const PATIENCE: Duration = Duration::from_secs(20);
/// So many files of one person wait for the one before.
const FILES_WAITING: usize = 32;
/// So long they wait for it: it may be one that takes its time.
const FILE_PATIENCE: Duration = Duration::from_secs(180);

/// So long waits who tried too often, and is told so only then: who goes on without a pause keeps nobody else waiting.
const SLOWED: Duration = Duration::from_millis(500);

/// How the description says that the kind of thing in the address decides about the role.
const BY_KIND: &str = "more by kind";
/// How it says that a body goes to the disk as it comes.
pub(crate) const PASSES: &str = "x-passes-to-disk";

/// What each operation of the API asks for, as its description says.
#[derive(Default)]
pub(crate) struct Asks {
    /// By method, each with the steps of its address.
    operations: HashMap<Method, Vec<(Vec<String>, Ask)>>,
}

#[derive(Clone, Copy)]
struct Ask {
    /// The least role; nobody has to be signed in where there is none.
    role: Option<Role>,
    /// Where in the address the kind of thing stands that the role follows from, if it does.
    kind: Option<usize>,
    /// The largest body, in bytes.
    most: usize,
    /// Whether it is a file as it is.
    file: bool,
    /// Whether it goes to the disk as it comes, so that no room has to be made for it.
    passes: bool,
}

impl Asks {
    /// Reads a description.
    pub(crate) fn of(description: &Value) -> Self {
        let mut operations: HashMap<Method, Vec<(Vec<String>, Ask)>> = HashMap::new();
        for (path, item) in description["paths"].as_object().into_iter().flatten() {
            for (method, operation) in item.as_object().into_iter().flatten() {
                let Ok(method) = method.to_uppercase().parse() else { continue };
                let named = operation.pointer("/security/0/session/0").and_then(Value::as_str);
                let role = named.map(|name| name.parse().unwrap_or(Role::Owner));
                let file = operation.pointer("/requestBody/content/application~1octet-stream").is_some();
                let passes = operation[PASSES] == true;
                let most = match (file, role) {
                    _ if passes => MOST_WHOLE,
                    (true, _) => iron_kite_ops::listen::MOST_BYTES,
                    (false, Some(_)) => MOST_JSON,
                    (false, None) => MOST_JSON_FROM_OUTSIDE,
                };
                let steps: Vec<String> = path.split('/').map(str::to_owned).collect();
                let by_kind = operation.pointer("/security/0/session/1").and_then(Value::as_str) == Some(BY_KIND);
                let kind = steps.iter().position(|step| by_kind && (step == "{kind}" || step == "{collection}"));
                operations.entry(method).or_default().push((steps, Ask { role, kind, most, file, passes }));
            }
        }
        Asks { operations }
    }

    /// What is asked at an address, with the role that its kind of thing takes: of the operations that it may be meant for, the one with the most words of its own.
    fn at(&self, method: &Method, path: &str) -> Option<Ask> {
        let ask = self.found(method, path).map(|(_, ask)| *ask)?;
        let kind = ask.kind.and_then(|at| path.split('/').nth(at)?.parse().ok());
        Some(match kind {
            Some(kind) => Ask { role: Some(ThingKind::right_to_change(kind).least()), ..ask },
            None => ask,
        })
    }

    /// The least role that an operation takes; nothing where there is none.
    pub(crate) fn role_of(&self, method: &Method, path: &str) -> Option<Option<Role>> {
        self.at(method, path).map(|ask| ask.role)
    }

    /// An operation's address as it is described.
    pub(crate) fn pattern_of(&self, method: &Method, path: &str) -> Option<String> {
        self.found(method, path).map(|(steps, _)| steps.join("/"))
    }

    fn found(&self, method: &Method, path: &str) -> Option<&(Vec<String>, Ask)> {
        let given: Vec<&str> = path.split('/').collect();
        let is_open = |step: &str| step.starts_with('{');
        let fits = |steps: &[String]| {
            steps.len() == given.len() && steps.iter().zip(&given).all(|(step, given)| is_open(step) || step == given)
        };
        let all = self.operations.get(method)?.iter().filter(|(steps, _)| fits(steps));
        all.max_by_key(|(steps, _)| steps.iter().filter(|step| !is_open(step)).count())
    }
}

/// How much is taken in at once.
pub(crate) struct Intake {
    files: Arc<Semaphore>,
    inside: Arc<Semaphore>,
    outside: Arc<Semaphore>,
    /// One file at a time for each person.
    people: Mutex<HashMap<i64, Files>>,
}

#[derive(Clone)]
struct Files {
    place: Arc<Semaphore>,
    waiting: usize,
}

impl Default for Intake {
    fn default() -> Self {
        let room = |kilobytes| Arc::new(Semaphore::new(kilobytes));
        Intake { files: room(FILES), inside: room(INSIDE), outside: room(OUTSIDE), people: Mutex::default() }
    }
}

impl Intake {
    /// Waits for room for a file of so many bytes.
    async fn room(&self, length: usize) -> Result<OwnedSemaphorePermit, Problem> {
        let room = Arc::clone(&self.files).acquire_many_owned(kilobytes(length));
        timeout(PATIENCE, room).await.map_err(|_| Problem::Busy)?.map_err(|_| Problem::Busy)
    }

    /// Waits until the file before of the same person is through.
    async fn file_of(self: Arc<Self>, person: i64) -> Result<FilePlace, Problem> {
        let place = {
            let mut files = self.people.lock().unwrap_or_else(PoisonError::into_inner);
            let one = Files { place: Arc::new(Semaphore::new(1)), waiting: 0 };
            let files = files.entry(person).or_insert(one);
            if files.waiting >= FILES_WAITING {
                return Err(Problem::Busy);
            }
            files.waiting += 1;
            Arc::clone(&files.place)
        };
        let mut own = FilePlace { intake: self, person, permit: None };
        let permit = timeout(FILE_PATIENCE, place.acquire_owned()).await;
        own.permit = Some(permit.map_err(|_| Problem::Busy)?.map_err(|_| Problem::Busy)?);
        Ok(own)
    }
}

/// A person's turn to send a file, for as long as the request is worked on.
struct FilePlace {
    intake: Arc<Intake>,
    person: i64,
    permit: Option<OwnedSemaphorePermit>,
}

impl Drop for FilePlace {
    fn drop(&mut self) {
        drop(self.permit.take());
        let mut files = self.intake.people.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(own) = files.get_mut(&self.person) {
            own.waiting -= 1;
            if own.waiting == 0 {
                files.remove(&self.person);
            }
        }
    }
}

/// The middleware: looks at who sends, then takes in what is sent, bounded in size and time.
pub(crate) async fn guard<B: MessageBody>(
    mut request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<EitherBody<B>>, Error> {
    match admit(&mut request).await {
        Ok(admitted) => {
            let answer = next.call(request).await?;
            drop(admitted);
            if answer.status() == StatusCode::TOO_MANY_REQUESTS {
                sleep(SLOWED).await;
            }
            Ok(answer.map_into_left_body())
        }
        Err(problem) => Ok(refused(request, problem)),
    }
}

/// A problem as an answer like any other, with all that is put on answers.
pub(crate) fn refused<B: MessageBody>(request: ServiceRequest, problem: Problem) -> ServiceResponse<EitherBody<B>> {
    request.into_response(ApiProblem(problem).error_response()).map_into_right_body()
}

fn kilobytes(bytes: usize) -> u32 {
    u32::try_from(bytes.div_ceil(1024).max(1)).unwrap_or(u32::MAX)
}

/// What is held while a file is worked on.
struct Admitted {
    _turn: FilePlace,
    _room: Option<OwnedSemaphorePermit>,
}

async fn admit(request: &mut ServiceRequest) -> Result<Option<Admitted>, Problem> {
    if matches!(*request.method(), Method::GET | Method::HEAD) || !has_body(request) {
        // What nobody reads is not taken in.
        return Ok(None);
    }
    if request.headers().get(header::CONTENT_ENCODING).is_some_and(|coding| coding != "identity") {
        return Err(Problem::refused("packed-request", "Send what you send as it is, without packing it."));
    }
    let (Some(desk), Some(asks)) = (request.app_data::<web::Data<Desk>>(), request.app_data::<web::Data<Asks>>())
    else {
        return Err(Problem::Internal("the guard is not set up".into()));
    };
    let desk = Desk(Arc::clone(&desk.0));
    let Some(ask) = asks.at(request.method(), request.path()) else {
        // Nothing is there; the body of it is of no use to anybody.
        request.set_payload(Payload::None);
        return Ok(None);
    };
    let mut person = None;
    if let Some(role) = ask.role {
        let actor = may(&desk, request, role).await?;
        person = actor.user_id;
        request.extensions_mut().insert(actor);
    }
    let length = request.headers().get(header::CONTENT_LENGTH).and_then(|value| value.to_str().ok()?.parse().ok());
    if length.is_some_and(|length: usize| length > ask.most) {
        return Err(too_large(ask.most));
    }
    let payload = request.take_payload();
    let Some(person) = person.filter(|_| ask.file) else {
        let room = if ask.role.is_some() { &desk.0.intake.inside } else { &desk.0.intake.outside };
        request.set_payload(bounded(payload, ask.most, Some(Arc::clone(room))));
        return Ok(None);
    };
    let turn = Arc::clone(&desk.0.intake).file_of(person).await?;
    let room = match ask.passes {
        true => None,
        false => Some(desk.0.intake.room(length.unwrap_or(ask.most)).await?),
    };
    request.set_payload(bounded(payload, ask.most, None));
    Ok(Some(Admitted { _turn: turn, _room: room }))
}

fn has_body(request: &ServiceRequest) -> bool {
    let headers = request.headers();
    headers.contains_key(header::TRANSFER_ENCODING)
        || headers.get(header::CONTENT_LENGTH).is_some_and(|length| length != "0")
}

/// Who sends, if they may.
async fn may(desk: &Desk, request: &ServiceRequest, role: Role) -> Result<Actor, Problem> {
    let caller = Caller::of(desk, request.request());
    let actor = desk.ask(caller, |_, call| Ok(call.actor.clone())).await.map_err(|ApiProblem(problem)| problem)?;
    let actor = actor.ok_or(Problem::NotSignedIn)?;
    if actor.role >= role { Ok(actor) } else { Err(Problem::NotAllowed { needs: role.name() }) }
}

pub(crate) fn too_large(most: usize) -> Problem {
    let words = match most / 1024 / 1024 {
        0 => format!("At most {} KB fit into one request.", most / 1024),
        megabytes => format!("At most {megabytes} MB fit into one request. Split it."),
    };
    Problem::TooLarge(words)
}

/// A body on its way in.
struct Coming {
    payload: Payload,
    begun: Instant,
    received: usize,
    ended: bool,
    /// What is held of it.
    held: Vec<OwnedSemaphorePermit>,
}

/// The same body, ended where it is larger or slower than it may be, or where there is no room for more of it.
fn bounded(payload: Payload, most: usize, room: Option<Arc<Semaphore>>) -> Payload {
    let coming = Coming { payload, begun: Instant::now(), received: 0, ended: false, held: Vec::new() };
    let stream = unfold(coming, move |mut coming| {
        let room = room.clone();
        async move {
            if coming.ended {
                return None;
            }
            let time = SILENT + Duration::from_secs(coming.received as u64 / SLOWEST);
            let left = time.saturating_sub(coming.begun.elapsed());
            let mut part: Result<Bytes, PayloadError> = match timeout(left, coming.payload.next()).await {
                Ok(None) => return None,
                Ok(Some(part)) => part,
                Err(_) => Err(PayloadError::Io(ErrorKind::TimedOut.into())),
            };
            let length = part.as_ref().map_or(0, Bytes::len);
            coming.received += length;
            if coming.received > most {
                part = Err(PayloadError::Overflow);
            } else if let Some(room) = room.filter(|_| part.is_ok()) {
                match room.try_acquire_many_owned(kilobytes(length)) {
                    Ok(held) => coming.held.push(held),
                    Err(_) => part = Err(PayloadError::Io(ErrorKind::OutOfMemory.into())),
                }
            }
            coming.ended = part.is_err();
            Some((part, coming))
        }
    });
    let stream: Pin<Box<dyn Stream<Item = Result<Bytes, PayloadError>>>> = Box::pin(stream);
    Payload::from(stream)
}
