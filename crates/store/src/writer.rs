//! One thread writes. Writes that wait are put into one transaction, each behind a savepoint of its
//! own, and are answered after the commit: one sync of the disk serves them all.

use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::mpsc::{Receiver, SyncSender, TrySendError, sync_channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;

use iron_kite_core::kind::{OnRemoval, Relation};
use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use rusqlite::{Connection, params};
use serde::Serialize;
use serde_json::{Map, Value};

use crate::error::{Error, Result, is_full};
use crate::ledger::{self, ChangeSetId, Part, Present, Undo, UndoRefused, Way};
use crate::rows::Rows;
use crate::shape::Shape;
use crate::words;

/// So many writes may wait; one more is refused as busy.
const QUEUE: usize = 1_024;
/// So many share a transaction.
const BATCH: usize = 128;

/// Who writes, when, why and by what way.
#[derive(Debug, Clone)]
pub struct WriteContext {
    /// Who; nobody for what a command does.
    pub user_id: Option<i64>,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// Why, in a few words; a write can say it better by [`Tx::label`].
    pub label: String,
    /// By what way.
    pub way: Way,
    /// The right that it takes, and so what it takes to take it back.
    pub needs: Right,
}

/// A change set that is on the disk.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Committed {
    /// Its number.
    pub set: ChangeSetId,
    /// What was done.
    pub label: String,
    /// Who did it.
    pub user_id: Option<i64>,
    /// The kinds of things that changed.
    pub kinds: Vec<ThingKind>,
    /// How many rows changed.
    pub rows: u64,
}

/// A write in progress. Reads see what it has written so far.
pub struct Tx<'a> {
    rows: Rows<'a>,
    present: &'a Present,
    label: String,
}

type Reply = Box<dyn FnOnce(Result<Option<Committed>>) + Send>;
/// Runs one write; tells whether it is to be kept, and how it is answered.
type Job = Box<dyn FnOnce(&mut Tx<'_>) -> (bool, Reply) + Send>;
/// Who writes, the change set that is gone on with, and the write.
type Waiting = (WriteContext, Option<ChangeSetId>, Job);
type Listener = Box<dyn Fn(&Committed) + Send>;

pub(crate) struct Writer {
    queue: Option<SyncSender<Waiting>>,
    listeners: Arc<Mutex<Vec<Listener>>>,
    thread: Option<thread::JoinHandle<()>>,
}

impl Writer {
    pub(crate) fn start(connection: Connection, shape: Arc<Shape>) -> Result<Self> {
        let present = ledger::attach(&connection, &shape)?;
        words::attach(&connection)?;
        let (queue, jobs) = sync_channel(QUEUE);
        let listeners = Arc::new(Mutex::new(Vec::new()));
        let hears = Arc::clone(&listeners);
        let thread = thread::Builder::new()
            .name("writer".into())
            .spawn(move || run(&connection, &shape, &present, &jobs, &hears))
            .map_err(|fault| Error::Refused(format!("the writing thread could not be started: {fault}")))?;
        Ok(Writer { queue: Some(queue), listeners, thread: Some(thread) })
    }

    pub(crate) fn on_commit(&self, listener: Listener) {
        self.listeners.lock().unwrap_or_else(PoisonError::into_inner).push(listener);
    }

    /// Tells those who listen of a change that is not in the ledger.
    pub(crate) fn tell(&self, committed: &Committed) {
        let listeners = self.listeners.lock().unwrap_or_else(PoisonError::into_inner);
        listeners.iter().for_each(|listener| listener(committed));
    }

    pub(crate) fn write<T, E>(
        &self,
        context: WriteContext,
        goes_on: Option<ChangeSetId>,
        write: impl FnOnce(&mut Tx<'_>) -> std::result::Result<T, E> + Send + 'static,
    ) -> std::result::Result<(T, Option<Committed>), E>
    where
        T: Send + 'static,
        E: From<Error> + Send + 'static,
    {
        let (answer, wait) = sync_channel(1);
        let job: Job = Box::new(move |tx| {
            let outcome = write(tx);
            let keep = outcome.is_ok();
            let reply: Reply = Box::new(move |committed| {
                let all = outcome.and_then(|value| Ok((value, committed?)));
                // Nobody waits any more where the asking thread is gone.
                let _ = answer.send(all);
            });
            (keep, reply)
        });
        let queue = self.queue.as_ref().ok_or(Error::Busy)?;
        queue.try_send((context, goes_on, job)).map_err(|fault| match fault {
            TrySendError::Full(_) | TrySendError::Disconnected(_) => Error::Busy,
        })?;
        wait.recv().map_err(|_| Error::Busy)?
    }
}

impl Drop for Writer {
    fn drop(&mut self) {
        drop(self.queue.take());
        if let Some(thread) = self.thread.take() {
            let _ = thread.join();
        }
    }
}

fn run(
    connection: &Connection,
    shape: &Shape,
    present: &Present,
    jobs: &Receiver<Waiting>,
    hears: &Mutex<Vec<Listener>>,
) {
    while let Ok(first) = jobs.recv() {
        let batch: Vec<Waiting> =
            std::iter::once(first).chain(std::iter::from_fn(|| jobs.try_recv().ok())).take(BATCH).collect();
        let alone = batch.len() == 1;
        let answers = match connection.execute_batch("BEGIN IMMEDIATE") {
            Ok(()) => batch.into_iter().map(|waiting| run_one(connection, shape, present, waiting, alone)).collect(),
            Err(fault) => {
                tracing::error!(%fault, "a transaction could not begin");
                // Dropping the jobs unanswered tells those who wait that nothing was written.
                drop(batch);
                Vec::new()
            }
        };
        if answers.is_empty() {
            continue;
        }
        finish(connection, answers, hears);
    }
}

type Answer = (Reply, Result<Option<Committed>>);

/// Runs one write. Alone in its transaction it needs no savepoint: within one, SQLite goes through all that was saved
/// so far after each statement, which makes a large write several times slower.
fn run_one(connection: &Connection, shape: &Shape, present: &Present, waiting: Waiting, alone: bool) -> Answer {
    let (context, goes_on, job) = waiting;
    let begin = || -> Result<ChangeSetId> {
        if !alone {
            connection.execute_batch("SAVEPOINT one")?;
        }
        let needs = context.needs.rank();
        if let Some(set) = goes_on {
            let sql = "UPDATE change_set SET needs = ?2 WHERE id = ?1 AND coalesce(needs, 0) < ?2";
            connection.prepare_cached(sql)?.execute(params![set, needs])?;
            return Ok(set);
        }
        connection
            .prepare_cached("INSERT INTO change_set(at, user_id, way, label, needs) VALUES (?1, ?2, ?3, ?4, ?5)")?
            .execute(params![context.at, context.user_id, context.way.name(), context.label, needs])?;
        Ok(connection.last_insert_rowid())
    };
    let set = begin();
    present.begin(set.as_ref().copied().unwrap_or(0));
    let mut tx = Tx { rows: Rows::new(connection, shape), present, label: context.label };
    // A fault in one write must not end the thread that serves them all.
    let (keep, reply) = catch_unwind(AssertUnwindSafe(|| job(&mut tx))).unwrap_or_else(|_| {
        tracing::error!("a write panicked; nothing of it was kept");
        (false, Box::new(drop))
    });
    let label = tx.label;
    let release = || if alone { Ok(()) } else { connection.execute_batch("RELEASE one") };
    let ended = set.and_then(|set| {
        let (changes, kinds) = present.touched();
        if keep && changes > 0 {
            connection
                .prepare_cached("UPDATE change_set SET label = ?2 WHERE id = ?1")?
                .execute(params![set, label])?;
            release()?;
            return Ok(Some(Committed { set, label, user_id: context.user_id, kinds, rows: changes }));
        }
        if keep {
            // A whole workspace brought its own sets, of which one may have this number.
            if present.set() == set && goes_on.is_none() {
                // Nothing that the ledger keeps was changed, so there is nothing to tell of.
                connection.prepare_cached("DELETE FROM change_set WHERE id = ?1")?.execute([set])?;
            }
            release()?;
        } else {
            connection.execute_batch(if alone {
                "ROLLBACK; BEGIN IMMEDIATE"
            } else {
                "ROLLBACK TO one; RELEASE one"
            })?;
        }
        Ok(None)
    });
    present.begin(0);
    (reply, ended)
}

fn finish(connection: &Connection, answers: Vec<Answer>, hears: &Mutex<Vec<Listener>>) {
    let done = connection.execute_batch("COMMIT");
    if let Err(fault) = &done {
        tracing::error!(%fault, "a transaction could not be committed");
        let _ = connection.execute_batch("ROLLBACK");
    }
    for (reply, ended) in answers {
        match (&done, ended) {
            (Ok(()), Ok(committed)) => {
                if let Some(committed) = &committed {
                    let listeners = hears.lock().unwrap_or_else(PoisonError::into_inner);
                    listeners.iter().for_each(|listener| listener(committed));
                }
                reply(Ok(committed));
            }
            (Ok(()), Err(fault)) => reply(Err(fault)),
            (Err(fault), _) => reply(Err(if is_full(fault) { Error::Full } else { Error::Busy })),
        }
    }
}

impl<'a> Tx<'a> {
    /// What was written so far and what was there before.
    #[must_use]
    pub fn rows(&self) -> Rows<'a> {
        self.rows
    }

    /// Says better why this is written.
    pub fn label(&mut self, label: impl Into<String>) {
        self.label = label.into();
    }

    /// Adds a thing and returns its number.
    ///
    /// # Errors
    /// Where a column does not exist or a constraint is hurt.
    pub fn insert(&mut self, kind: ThingKind, values: &Map<String, Value>) -> Result<i64> {
        self.rows.insert(kind, values)
    }

    /// Changes a thing that was read at revision `rev`.
    ///
    /// # Errors
    /// [`Error::Stale`] with the present row where it was changed since.
    pub fn update(&mut self, thing: Thing, rev: i64, values: &Map<String, Value>) -> Result<()> {
        self.expect(thing, rev)?;
        self.rows.update(thing, values)
    }

    /// Changes a thing whatever its revision: for what follows from another change.
    ///
    /// # Errors
    /// [`Error::NotFound`] where it is not there.
    pub fn set(&mut self, thing: Thing, values: &Map<String, Value>) -> Result<()> {
        self.rows.update(thing, values)
    }

    /// Makes sure that a thing is still at the revision that somebody saw.
    ///
    /// # Errors
    /// [`Error::Stale`] with the present row where it is not.
    pub fn expect(&self, thing: Thing, rev: i64) -> Result<()> {
        let row = self.rows.json(thing)?;
        if row["rev"].as_i64() == Some(rev) { Ok(()) } else { Err(Error::Stale(row)) }
    }

    /// Removes a thing with its links and what cannot be without it.
    ///
    /// # Errors
    /// [`Error::NotFound`] where it is not there.
    pub fn remove(&mut self, thing: Thing) -> Result<()> {
        for link in self.ids(
            "SELECT id FROM link WHERE (from_kind = ?1 AND from_id = ?2) OR (to_kind = ?1 AND to_id = ?2)",
            params![thing.kind.name(), thing.id],
        )? {
            self.rows.delete(Thing::new(ThingKind::Link, link))?;
        }
        // Answers go with what they answer.
        let talk = "SELECT id FROM comment WHERE on_kind = ?1 AND on_id = ?2 AND reply_to IS NULL";
        for comment in self.ids(talk, params![thing.kind.name(), thing.id])? {
            self.remove(Thing::new(ThingKind::Comment, comment))?;
        }
        // By hand instead of by the schema, so that each row passes through the ledger with its rev.
        for (child, Relation { column, on_removal, .. }) in thing.kind.pointed_at_by() {
            if *on_removal == OnRemoval::Forbids {
                continue;
            }
            for id in self.ids(&format!("SELECT id FROM {child} WHERE {column} = ?1"), [thing.id])? {
                let child = Thing::new(child, id);
                if *on_removal == OnRemoval::Goes {
                    self.remove(child)?;
                } else {
                    self.rows.update(child, &Map::from_iter([((*column).to_owned(), Value::Null)]))?;
                }
            }
        }
        self.rows.delete(thing)
    }

    /// Takes back a change set, as changes of this one.
    ///
    /// # Errors
    /// Where the store fails; a refusal is a value.
    pub fn undo(&mut self, set: ChangeSetId) -> Result<std::result::Result<Undo, UndoRefused>> {
        let done = ledger::undo(&self.rows, set, None)?;
        if done.is_ok() {
            let sql = "UPDATE change_set SET undoes = ?2 WHERE id = ?1";
            self.rows.connection.prepare_cached(sql)?.execute(params![self.present.set(), set])?;
        }
        Ok(done)
    }

    /// Takes back a part of a change set, as changes of this one. The set counts as not taken back.
    ///
    /// # Errors
    /// Where the store fails; a refusal is a value.
    pub fn undo_part(&mut self, set: ChangeSetId, part: &Part) -> Result<std::result::Result<Undo, UndoRefused>> {
        ledger::undo(&self.rows, set, Some(part))
    }

    /// Writes something in the place of what was written so before, to see whether that can be done.
    ///
    /// # Errors
    /// Where it cannot.
    pub fn try_to_write(&mut self) -> Result<()> {
        self.rows.connection.execute("DELETE FROM unfinished WHERE what = 'try'", [])?;
        // As much room as a common write takes. It stays: what goes again at once takes none.
        self.rows.connection.execute("INSERT INTO unfinished(what, told) VALUES ('try', hex(zeroblob(16384)))", [])?;
        Ok(())
    }

    /// The change set that this writes into.
    #[must_use]
    pub fn set_id(&self) -> ChangeSetId {
        self.present.set()
    }

    /// Writes something of which all is kept or nothing, whatever becomes of the rest.
    ///
    /// # Errors
    /// Where the store fails; a fault of the part itself is a value, and nothing of the part stays.
    pub fn attempt<T, E: From<Error>>(
        &mut self,
        write: impl FnOnce(&mut Self) -> std::result::Result<T, E>,
    ) -> Result<std::result::Result<T, E>> {
        self.rows.connection.execute_batch("SAVEPOINT part")?;
        let (label, mark) = (self.label.clone(), self.present.mark());
        let outcome = write(self);
        if outcome.is_err() {
            self.label = label;
            self.present.back_to(mark);
        }
        self.rows.connection.execute_batch(if outcome.is_ok() {
            "RELEASE part"
        } else {
            "ROLLBACK TO part; RELEASE part"
        })?;
        Ok(outcome)
    }

    /// Writes without the ledger from now on: a whole workspace that brings its own, and what is to be forgotten. Gives
    /// the change set that was begun.
    pub(crate) fn without_ledger(&mut self) -> ChangeSetId {
        let set = self.present.set();
        self.present.go_on(0);
        set
    }

    /// Writes with the ledger again, after [`Tx::without_ledger`].
    pub(crate) fn with_ledger(&mut self, set: ChangeSetId) {
        self.present.go_on(set);
    }

    fn ids(&self, sql: &str, params: impl rusqlite::Params) -> Result<Vec<i64>> {
        let mut statement = self.rows.connection.prepare_cached(sql)?;
        let ids = statement.query_map(params, |row| row.get(0))?.collect::<rusqlite::Result<Vec<i64>>>()?;
        Ok(ids)
    }
}
