//! Long work in the background: one job after another, each with how far it is, stopped when somebody says so, and
//! taken back as a whole where it does not come to its end.

mod running;

use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, AtomicI64, Ordering};
use std::sync::{Arc, Condvar, Mutex, PoisonError};
use std::time::Duration;

use iron_kite_core::jobs::{Job, JobState};
use iron_kite_core::listen::{Channel, ChannelState, Strictness};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::role::Role;
use iron_kite_core::things::{ChannelId, ProductId};
use iron_kite_store::queries::jobs::JobChange;
use iron_kite_store::{Tx, Way};
use jiff::civil::{Date, date};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::call::{Actor, App, Call};
use crate::decide::look_into;
use crate::listen::{
    BringIn, TakeRun, bring_in, group_excerpts, look, look_through, queue_due, queue_unread, rest_from_reading, take,
};
use crate::people;

use self::running::Looked;
pub(crate) use self::running::{Ended, Running};

/// What is to be done.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub(crate) enum Work {
    /// Bring in files that wait.
    BringIn(BringIn),
    /// Look at a channel.
    Look {
        /// Which.
        channel: ChannelId,
    },
    /// Read what people said, as far as the engine has not.
    Read,
    /// Group what people said. Nothing changes before somebody takes it.
    Group {
        /// How alike excerpts must be.
        strictness: Strictness,
    },
    /// Take what a run of the grouping proposes.
    Take(TakeRun),
    /// Look into a question about the market, and draft a report.
    Research {
        /// What is asked.
        question: String,
    },
}

/// What sort of work a job is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum JobKind {
    /// It brings in files.
    BringIn,
    /// It looks at a channel.
    Look,
    /// It reads what is there.
    Read,
    /// It groups what is there.
    Group,
    /// It takes what a grouping proposes.
    Take,
    /// It looks into a question about the market.
    Research,
    /// Another version of this program knows it.
    Unknown,
}

impl JobKind {
    /// The right that it takes to ask for it and to stop it, and by which it writes.
    fn right(self) -> Right {
        match self {
            JobKind::Research | JobKind::Unknown => Right::Edit,
            JobKind::BringIn | JobKind::Look | JobKind::Read | JobKind::Group | JobKind::Take => Right::Listen,
        }
    }
}

impl Work {
    fn kind(&self) -> JobKind {
        match self {
            Work::BringIn(_) => JobKind::BringIn,
            Work::Look { .. } => JobKind::Look,
            Work::Read => JobKind::Read,
            Work::Group { .. } => JobKind::Group,
            Work::Take(_) => JobKind::Take,
            Work::Research { .. } => JobKind::Research,
        }
    }
}

/// What sort of work a job is.
fn kind_of(job: &Job) -> JobKind {
    serde_json::from_str::<Work>(&job.work).map_or(JobKind::Unknown, |work| work.kind())
}

/// A job as people look at it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JobView {
    /// Its number.
    pub id: i64,
    /// What it is, in a few words.
    pub label: String,
    /// What sort of work it is.
    pub kind: JobKind,
    /// Where it stands.
    pub state: JobState,
    /// How much of it is done.
    pub done: i64,
    /// How much there is to do; 0 while that is not known.
    pub total: i64,
    /// The change that it made, by which it can be taken back.
    pub change: Option<i64>,
    /// What went wrong, and what to do.
    pub problem: Option<String>,
    /// What came of it; only where one job is asked for.
    #[schema(value_type = Option<serde_json::Value>)]
    pub report: Option<Value>,
    /// When it was asked for, in milliseconds since 1970.
    pub asked_at: i64,
    /// When it ended.
    pub ended_at: Option<i64>,
}

/// Who waits for work, and what of it is to be stopped.
#[derive(Default)]
pub(crate) struct Bell {
    rung: Mutex<bool>,
    heard: Condvar,
    stops: Mutex<HashMap<i64, Arc<AtomicBool>>>,
    /// The day, as days since 1970, on which all that came in so far was read, or rested; 0 where something may be left.
    all_read: AtomicI64,
    /// The last excerpt that was there when somebody looked: what a command brings in beside the server rings no bell.
    newest: AtomicI64,
}

impl Bell {
    /// Wakes whoever waits.
    pub(crate) fn ring(&self) {
        *self.rung.lock().unwrap_or_else(PoisonError::into_inner) = true;
        self.heard.notify_all();
    }

    /// Excerpts came in, or back.
    pub(crate) fn something_to_read(&self) {
        self.all_read.store(0, Ordering::Relaxed);
        self.ring();
    }

    /// This is the last excerpt now.
    pub(crate) fn hear_of(&self, newest: i64) {
        if self.newest.swap(newest, Ordering::Relaxed) != newest {
            self.all_read.store(0, Ordering::Relaxed);
        }
    }

    /// What the engine has not read is looked for, as long as some is found, and again on another day. Whether there is any.
    pub(crate) fn look_for_unread(
        &self,
        today: Date,
        look: impl FnOnce() -> Result<bool, Problem>,
    ) -> Result<bool, Problem> {
        let today = i64::from((today - date(1970, 1, 1)).get_days());
        // What comes in while somebody looks is looked for again.
        if self.all_read.swap(today, Ordering::Relaxed) == today {
            return Ok(false);
        }
        let any = look();
        if !matches!(any, Ok(false)) {
            self.all_read.store(0, Ordering::Relaxed);
        }
        any
    }

    /// Waits until somebody rings, at most so long.
    pub(crate) fn wait(&self, longest: Duration) {
        let rung = self.rung.lock().unwrap_or_else(PoisonError::into_inner);
        let waited = self.heard.wait_timeout_while(rung, longest, |rung| !*rung);
        *waited.unwrap_or_else(PoisonError::into_inner).0 = false;
    }

    fn stop_of(&self, id: i64) -> Arc<AtomicBool> {
        let mut stops = self.stops.lock().unwrap_or_else(PoisonError::into_inner);
        Arc::clone(stops.entry(id).or_default())
    }
}

/// Looks whether there is work, now.
pub(crate) fn wake(app: &App) {
    app.bell.ring();
}

/// Adds a job to those that wait.
pub(crate) fn add(app: &App, call: &Call, product: ProductId, label: String, work: &Work) -> Result<JobView, Problem> {
    let right = work.kind().right();
    let work = serde_json::to_string(work).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let (user, at) = (call.user_id(), call.now.as_millisecond());
    let (id, _) = app.write(call, right, move |tx| {
        tx.rows().json(product.thing())?;
        Ok(tx.add_job(product, user, &label, &work, at)?)
    })?;
    app.bell.ring();
    job(app, call, id)
}

/// The newest jobs of a product, without their reports.
///
/// # Errors
/// Where the right is missing.
pub fn jobs(app: &App, call: &Call, product: ProductId) -> Result<Vec<JobView>, Problem> {
    const SHOWN: usize = 30;
    app.read(call, Right::Read, |rows| {
        let all = rows.jobs(product, SHOWN)?;
        Ok(all.into_iter().map(|job| JobView { report: None, ..view(job) }).collect())
    })
}

/// A job with its report.
///
/// # Errors
/// Where there is none with this number.
pub fn job(app: &App, call: &Call, id: i64) -> Result<JobView, Problem> {
    app.read(call, Right::Read, |rows| Ok(view(rows.job(id)?)))
}

fn view(job: Job) -> JobView {
    let kind = kind_of(&job);
    let report: Option<Value> = job.report.and_then(|report| serde_json::from_str(&report).ok());
    JobView {
        problem: report.as_ref().and_then(|report| report["problem"].as_str()).map(str::to_owned),
        id: job.id,
        kind,
        label: job.label,
        state: job.state,
        done: job.done,
        total: job.total,
        change: job.change_set_id,
        report,
        asked_at: job.asked_at,
        ended_at: job.ended_at,
    }
}

/// Stops a job. What it had written is taken back.
///
/// # Errors
/// Refused where it is over; where it is somebody else's, it takes an editor.
pub fn cancel(app: &App, call: &Call, id: i64) -> Result<JobView, Problem> {
    let found = app.read(call, Right::Listen, |rows| Ok(rows.job(id)?))?;
    let right = kind_of(&found).right();
    app.read(call, right, |_| Ok(()))?;
    if found.state.is_over() {
        return Err(Problem::refused("job-is-over", "This is over. Undo it instead."));
    }
    let me = call.user_id();
    if found.user_id != me {
        app.read(call, Right::Edit, |_| Ok(()))?;
    }
    app.bell.stop_of(id).store(true, Ordering::Relaxed);
    if found.state == JobState::Queued {
        let ended_at = Some(call.now.as_millisecond());
        let change = JobChange { state: Some(JobState::Cancelled), ended_at, ..JobChange::default() };
        app.write(call, right, move |tx| Ok(tx.change_job(id, change)?))?;
    }
    job(app, call, id)
}

/// Takes back what jobs had written that ran when the program ended. To be called before any work is done.
///
/// # Errors
/// Where the store fails.
pub fn recover(app: &App, call: &Call) -> Result<(), Problem> {
    while let Some(job) = app.read_open(|rows| Ok(rows.first_job(JobState::Running)?))? {
        if reads(&job) {
            // It goes on by itself where it was.
            app.write_open(call, move |tx| Ok(tx.remove_job(job.id)?))?;
            continue;
        }
        tracing::warn!(job = job.id, "a job was interrupted; what it had written is taken back");
        end(app, call, job.id, JobState::Interrupted, None, After::default())?;
    }
    Ok(())
}

/// Does what waits, one job after another, for as long as the program runs. `present` gives a call of nobody, now.
pub fn work(app: &App, present: impl Fn() -> Call) {
    const LONGEST: Duration = Duration::from_secs(5);
    loop {
        match work_next(app, &present()) {
            Ok(true) => {}
            Ok(false) => app.bell.wait(LONGEST),
            Err(problem) => {
                tracing::error!(%problem, "the work that waits could not be done");
                app.bell.wait(Duration::from_secs(1));
            }
        }
    }
}

/// Does all that waits now, and comes back when nothing is left.
///
/// # Errors
/// Where the store fails. Work that fails itself is reported by its job.
pub fn work_off(app: &App, call: &Call) -> Result<(), Problem> {
    while work_next(app, call)? {}
    Ok(())
}

/// Does the job that waits longest, or looks for more that is to be done. Whether there was any.
fn work_next(app: &App, call: &Call) -> Result<bool, Problem> {
    match app.read_open(|rows| Ok(rows.first_job(JobState::Queued)?))? {
        Some(job) => run(app, call, job).map(|()| true),
        None => Ok(queue_due(app, call)? || queue_unread(app, call)?),
    }
}

fn run(app: &App, call: &Call, job: Job) -> Result<(), Problem> {
    let change = JobChange { state: Some(JobState::Running), ..JobChange::default() };
    let id = job.id;
    app.write_open(call, move |tx| Ok(tx.change_job(id, change)?))?;
    let mut after = After::default();
    let outcome = std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| carry_out(app, call, &job, &mut after)));
    let outcome = outcome.unwrap_or_else(|_| Err(Ended::Problem(Problem::Internal("the work panicked".into()))));
    let (state, report) = match outcome {
        Err(Ended::GaveWay) => {
            // It waits for its turn again, behind what a person asked for.
            let again =
                JobChange { state: Some(JobState::Queued), done: Some(0), total: Some(0), ..JobChange::default() };
            return app.write_open(call, move |tx| Ok(tx.change_job(id, again)?)).map(drop);
        }
        Ok(report) => (JobState::Done, report),
        Err(Ended::Stopped) if reads(&job) => (JobState::Cancelled, Some(told(RESTS))),
        Err(Ended::Stopped) => (JobState::Cancelled, None),
        Err(Ended::Problem(problem)) => {
            tracing::warn!(job = id, %problem, "a job failed");
            let kept = if reads(&job) { RESTS } else { "Nothing of it was kept." };
            after.fault = Some(problem.detail());
            (JobState::Failed, Some(told(&format!("{} {kept}", problem.detail()))))
        }
    };
    if reads(&job) && state != JobState::Done {
        rest_from_reading(app, &job);
    }
    end(app, call, id, state, report, after)
}

/// What is told of reading that somebody stopped.
const RESTS: &str = "What was read stays. The rest is read when more comes in, or when Iron Kite starts again.";

fn reads(job: &Job) -> bool {
    kind_of(job) == JobKind::Read
}

/// What is to be done with the end of a job.
#[derive(Default)]
struct After {
    /// How far a channel was read.
    looked: Option<Looked>,
    /// What went wrong.
    fault: Option<String>,
}

/// The work of a job, by the rights that whoever asked for it has now. No report where it came to nothing that anybody
/// would want to know.
fn carry_out(app: &App, call: &Call, job: &Job, after: &mut After) -> Result<Option<String>, Ended> {
    let work: Work = serde_json::from_str(&job.work).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let actor = match (&work, job.user_id) {
        (Work::Read, _) => Some(Actor { user_id: None, name: "engine".into(), role: Role::Contributor }),
        // A channel was set up by an owner and goes on when that person has left.
        (Work::Look { .. }, user_id) => Some(Actor { user_id, name: "channel".into(), role: Role::Contributor }),
        (_, Some(user)) => {
            app.read_open(|rows| Ok(rows.users()?.into_iter().find(|one| one.id == user)))?.map(people::actor)
        }
        // A command asked for it, or the engine itself, by the right that it takes.
        (work, None) => Some(Actor { user_id: None, name: "engine".into(), role: work.kind().right().least() }),
    };
    let way = match work.kind() {
        JobKind::BringIn | JobKind::Look => Way::Import,
        JobKind::Read | JobKind::Group => Way::Engine,
        // Somebody looked at it and took it.
        JobKind::Take => Way::Person,
        // Somebody asked for the draft.
        JobKind::Research | JobKind::Unknown => Way::Person,
    };
    let call = Call { actor, way, ..call.clone() };
    let stop = app.bell.stop_of(job.id);
    // Nobody waits for what the program groups by itself.
    let own = job.user_id.is_none() && work.kind() == JobKind::Group;
    let mut running = Running::of(app, &call, Some(job.id), stop).by(work.kind().right()).giving_way(own);
    let report = work_of(&mut running, job, work, after)?;
    after.looked = running.ended()?;
    Ok(report)
}

/// Does the work, and gives its report.
fn work_of(running: &mut Running<'_>, job: &Job, work: Work, after: &mut After) -> Result<Option<String>, Ended> {
    let product = job.product_id.ok_or_else(|| Problem::NotFound("product".into()));
    match work {
        Work::Read => {
            if let Ok(product) = product {
                look_through(running, product)?;
            }
            // What it told is nothing that anybody has to hear of.
            Ok(None)
        }
        Work::Group { strictness } => Ok(Some(text(&group_excerpts(running, product?, strictness)?)?)),
        Work::Research { question } => Ok(Some(text(&look_into(running, product?, &question)?)?)),
        Work::Take(ask) => Ok(Some(text(&take(running, &ask)?)?)),
        Work::BringIn(ask) => Ok(Some(text(&bring_in(running, &ask)?)?)),
        Work::Look { channel } => {
            after.looked = Some(Looked { channel, place: String::new(), cursor: None, problem: None });
            let report = look(running, channel)?;
            // Where nothing came, nothing has to be told.
            if report.parts.is_empty() { Ok(None) } else { Ok(Some(text(&report)?)) }
        }
    }
}

fn text(report: &impl Serialize) -> Result<String, Problem> {
    serde_json::to_string(report).map_err(|fault| Problem::Internal(fault.to_string()))
}

/// The report of a job that did not come to its end: why, and what to do.
fn told(words: &str) -> String {
    serde_json::json!({ "problem": words }).to_string()
}

/// Ends a job, and takes back what it had written where it did not come to its end. One that came to nothing goes.
fn end(app: &App, call: &Call, id: i64, state: JobState, report: Option<String>, after: After) -> Result<(), Problem> {
    let now = call.now.as_millisecond();
    let mut change = JobChange { state: Some(state), report, ended_at: Some(now), ..JobChange::default() };
    app.write_open(&call.by(Way::Undo), move |tx| {
        let written = tx.rows().job(id)?.change_set_id;
        if let Some(set) = written.filter(|_| state != JobState::Done) {
            match tx.undo(set)? {
                Ok(undo) => tx.label(format!("took back: {}", undo.label)),
                // Somebody worked with what came in before the end.
                Err(_) => {
                    let words = "What it had brought in was changed by somebody since and stays. Look at it, or undo that first.";
                    change.report = Some(told(words));
                }
            }
        }
        let came_to_nothing = state == JobState::Done && change.report.is_none();
        if let Some(looked) = after.looked {
            note_look(tx, looked, state, after.fault, now)?;
        }
        let noted = if came_to_nothing { tx.remove_job(id) } else { tx.change_job(id, change) };
        Ok(noted?)
    })?;
    app.bell.stops.lock().unwrap_or_else(PoisonError::into_inner).remove(&id);
    Ok(())
}

/// Notes how far a channel was read. A look that did not come to its end reads the same again the next time.
fn note_look(tx: &mut Tx<'_>, looked: Looked, state: JobState, fault: Option<String>, now: i64) -> Result<(), Problem> {
    let known = tx.rows().channel_state(looked.channel.0)?;
    let now_at: Option<Channel> = tx.rows().list("WHERE id = ?1", [looked.channel.0])?.pop();
    let read = state == JobState::Done && now_at.is_some_and(|channel| channel.place == looked.place);
    let cursor = if read { looked.cursor } else { known.cursor };
    let next = ChannelState { cursor, problem: looked.problem.or(fault), looked_at: Some(now), ..known };
    Ok(tx.set_channel_state(looked.channel.0, &next)?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn work_that_nobody_knows_is_not_told_as_something_else() {
        let job = |work: &str| Job {
            id: 1,
            product_id: None,
            user_id: None,
            label: "x".into(),
            work: work.into(),
            state: JobState::Queued,
            done: 0,
            total: 0,
            change_set_id: None,
            report: None,
            asked_at: 0,
            ended_at: None,
        };
        assert_eq!(kind_of(&job(r#"{"kind":"read"}"#)), JobKind::Read);
        assert_eq!(kind_of(&job(r#"{"kind":"dream"}"#)), JobKind::Unknown);
        assert_eq!(JobKind::Unknown.right(), Right::Edit);
    }
}
