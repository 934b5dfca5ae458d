//! A job while it runs.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{RecvTimeoutError, sync_channel};
use std::time::{Duration, Instant};

use iron_kite_core::jobs::{JobState, Watch};
use iron_kite_core::listen::Channel;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::ChannelId;
use iron_kite_store::queries::jobs::JobChange;
use iron_kite_store::{Committed, Rows, Tx};

use crate::call::{App, Call};

/// What ends a job before its end.
#[derive(Debug)]
pub(crate) enum Ended {
    Stopped,
    /// A person waits for something else; it begins again when that is done.
    GaveWay,
    Problem(Problem),
}

impl From<Problem> for Ended {
    fn from(problem: Problem) -> Self {
        Ended::Problem(problem)
    }
}

impl From<Ended> for Problem {
    fn from(ended: Ended) -> Self {
        match ended {
            Ended::Problem(problem) => problem,
            Ended::Stopped | Ended::GaveWay => Problem::Internal("work without a job was stopped".into()),
        }
    }
}

/// How far a job is is written at most so often.
const TOLD: Duration = Duration::from_millis(300);

/// A job while it runs: it says how far it is and hears whether it is to stop.
pub(crate) struct Running<'a> {
    app: &'a App,
    call: &'a Call,
    /// Its number; none for work that a command does at once.
    id: Option<i64>,
    stop: Arc<AtomicBool>,
    /// The right by which it asks and writes.
    right: Right,
    /// Whether it gives way to what a person waits for.
    gives_way: bool,
    done: i64,
    total: i64,
    told: Instant,
    set: Option<i64>,
    looked: Option<Looked>,
}

/// How far a channel was read by a job: noted with its end, so that nothing is lost where it does not come to it.
pub(super) struct Looked {
    pub(super) channel: ChannelId,
    /// The place that was read; a cursor of another one is worth nothing.
    pub(super) place: String,
    pub(super) cursor: Option<String>,
    pub(super) problem: Option<String>,
}

impl<'a> Running<'a> {
    /// Work that is done at once, without a job.
    pub(crate) fn at_once(app: &'a App, call: &'a Call) -> Self {
        Running::of(app, call, None, Arc::default())
    }

    /// A job that is begun, and hears by `stop`.
    pub(super) fn of(app: &'a App, call: &'a Call, id: Option<i64>, stop: Arc<AtomicBool>) -> Self {
        Running {
            app,
            call,
            id,
            stop,
            right: Right::Listen,
            gives_way: false,
            done: 0,
            total: 0,
            told: Instant::now(),
            set: None,
            looked: None,
        }
    }

    /// The same by another right than to listen.
    pub(super) fn by(self, right: Right) -> Self {
        Running { right, ..self }
    }

    /// The same, giving way to what a person waits for: it has written nothing when it does.
    pub(super) fn giving_way(self, gives_way: bool) -> Self {
        Running { gives_way, ..self }
    }

    /// It came to its end. How far a channel was read by it.
    pub(super) fn ended(self) -> Result<Option<Looked>, Problem> {
        self.note(JobChange { done: Some(self.done), total: Some(self.total), ..JobChange::default() })?;
        Ok(self.looked)
    }

    /// A channel was read so far.
    pub(crate) fn looked(&mut self, channel: &Channel, cursor: Option<String>, problem: Option<String>) {
        self.looked = Some(Looked { channel: channel.id, place: channel.place.clone(), cursor, problem });
    }

    /// There is so much more to do.
    pub(crate) fn expect(&mut self, more: usize) {
        self.total += i64::try_from(more).unwrap_or(i64::MAX);
    }

    /// So much more is done.
    pub(crate) fn advance(&mut self, by: usize) -> Result<(), Ended> {
        self.done += i64::try_from(by).unwrap_or(i64::MAX);
        if self.stop.load(Ordering::Relaxed) {
            return Err(Ended::Stopped);
        }
        if self.told.elapsed() >= TOLD {
            self.told = Instant::now();
            if self.gives_way && self.app.read_open(|rows| Ok(rows.person_waits()?))? {
                return Err(Ended::GaveWay);
            }
            self.note(JobChange { done: Some(self.done), total: Some(self.total), ..JobChange::default() })?;
        }
        Ok(())
    }

    /// Computes something of so many things in at most so many steps for each, tells how far that is, and ends it where
    /// somebody stops the job.
    pub(crate) fn watch<T: Send>(
        &mut self,
        count: usize,
        steps: usize,
        compute: impl FnOnce(&Watch) -> Option<T> + Send,
    ) -> Result<T, Ended> {
        self.expect(count);
        let watch = Watch::default();
        let outcome = std::thread::scope(|scope| {
            let (tells, hears) = sync_channel(1);
            let watch = &watch;
            let computes = scope.spawn(move || tells.send(compute(watch)));
            let mut done = 0;
            loop {
                match hears.recv_timeout(TOLD) {
                    Ok(outcome) => break outcome.map_or(Err(Ended::Stopped), |value| Ok((value, done))),
                    Err(RecvTimeoutError::Timeout) => {
                        let now = (watch.done() / steps).min(count);
                        self.advance(now - done).inspect_err(|_| watch.stop())?;
                        done = now;
                    }
                    Err(RecvTimeoutError::Disconnected) => {
                        // Its panic ends here, not with the scope.
                        drop(computes.join());
                        break Err(Ended::Problem(Problem::Internal("a computation panicked".into())));
                    }
                }
            }
        });
        let (value, done) = outcome?;
        self.advance(count - done)?;
        Ok(value)
    }

    /// Writes a part of the work. All parts are one change, which is taken back as one.
    pub(crate) fn write<T: Send + 'static>(
        &mut self,
        write: impl FnOnce(&mut Tx<'_>) -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let first = self.set.is_none();
        let (value, committed) = self.app.write_on(self.call, self.right, self.set, write)?;
        if let Some(Committed { set, .. }) = committed {
            self.set = Some(set);
            if first {
                self.note(JobChange { change_set_id: Some(set), ..JobChange::default() })?;
            }
        }
        Ok(value)
    }

    pub(crate) fn app(&self) -> &'a App {
        self.app
    }

    pub(crate) fn call(&self) -> &'a Call {
        self.call
    }

    /// Asks something of the store.
    pub(crate) fn ask<T>(&self, ask: impl FnOnce(&Rows<'_>) -> Result<T, Problem>) -> Result<T, Problem> {
        self.app.read(self.call, self.right, ask)
    }

    /// Whether other work waits.
    pub(crate) fn others_wait(&self) -> Result<bool, Problem> {
        Ok(self.app.read_open(|rows| Ok(rows.first_job(JobState::Queued)?))?.is_some())
    }

    /// What was written so far stands by itself: what comes after is another change.
    pub(crate) fn stands(&mut self) {
        self.set = None;
    }

    /// The change that was written so far.
    pub(crate) fn change(&self) -> Option<i64> {
        self.set
    }

    fn note(&self, change: JobChange) -> Result<(), Problem> {
        let Some(id) = self.id else { return Ok(()) };
        self.app.write_open(self.call, move |tx| Ok(tx.change_job(id, change)?)).map(drop)
    }
}

#[cfg(test)]
mod tests {
    use iron_kite_core::role::Role;
    use jiff::civil::date;
    use tempfile::TempDir;

    use super::*;

    fn workspace() -> (App, Call, TempDir) {
        let dir = tempfile::tempdir().unwrap();
        let call = Call::command("2026-06-30T12:00:00Z".parse().unwrap(), date(2026, 6, 30));
        (App::open(dir.path()).unwrap(), call, dir)
    }

    #[test]
    fn a_computation_is_told_to_its_end() {
        let (app, call, _dir) = workspace();
        let mut running = Running::at_once(&app, &call);
        running.expect(2);
        running.advance(2).unwrap();
        // It takes fewer steps than it may, and ends whole all the same.
        let outcome = running.watch(10, 3, |watch| {
            watch.advance(11);
            std::thread::sleep(TOLD * 3 / 2);
            Some(watch.done())
        });
        assert_eq!(outcome.unwrap(), 11);
        assert_eq!((running.done, running.total), (12, 12));
    }

    #[test]
    fn a_computation_ends_where_its_job_is_stopped() {
        let (app, call, _dir) = workspace();
        let mut running = Running::at_once(&app, &call);
        let stop = Arc::clone(&running.stop);
        let outcome = running.watch(10, 3, move |watch| {
            stop.store(true, Ordering::Relaxed);
            while watch.goes_on().is_some() {
                std::thread::sleep(Duration::from_millis(1));
            }
            None::<()>
        });
        assert!(matches!(outcome, Err(Ended::Stopped)));
    }

    #[test]
    fn what_the_program_does_for_itself_gives_way_to_a_person() {
        let (app, call, _dir) = workspace();
        let id =
            crate::people::add_member(&app, &call, "ada@hask.example", "Ada", Role::Editor, "ferry-at-noon").unwrap();
        let product = crate::overview::add_product(&app, &call, "Crossing").unwrap().thing.unwrap().id;
        let add = |user: Option<i64>| {
            let work = r#"{"kind":"group","strictness":"even"}"#;
            app.write_open(&call, move |tx| Ok(tx.add_job(product.into(), user, "x", work, 0)?)).unwrap();
        };
        let watch = |gives_way: bool| {
            let mut running = Running::of(&app, &call, None, Arc::default()).giving_way(gives_way);
            running.watch(10, 3, |watch| {
                let end = Instant::now() + TOLD * 2;
                while Instant::now() < end && watch.goes_on().is_some() {
                    std::thread::sleep(Duration::from_millis(1));
                }
                watch.goes_on().map(drop)
            })
        };
        // The program's own work waits behind it, and is no reason.
        add(None);
        assert!(watch(true).is_ok());
        add(Some(id));
        assert!(watch(false).is_ok());
        assert!(matches!(watch(true), Err(Ended::GaveWay)));
        // And it is done first, though it came later.
        let first = app.read_open(|rows| Ok(rows.first_job(JobState::Queued)?)).unwrap().unwrap();
        assert_eq!(first.user_id, Some(id));
    }

    #[test]
    fn a_computation_that_panics_is_a_problem_of_its_job() {
        let (app, call, _dir) = workspace();
        let mut running = Running::at_once(&app, &call);
        let outcome = running.watch(10, 3, |_| -> Option<()> { panic!("a fault") });
        assert!(matches!(outcome, Err(Ended::Problem(Problem::Internal(_)))));
    }
}
