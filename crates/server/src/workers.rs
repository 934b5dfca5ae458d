//! Work that takes long or much memory is done by few threads of its own, and few wait for them: who floods the sign-in or sends
//! one large file after the other holds up nobody who works.

use std::sync::mpsc::{Receiver, SyncSender, TrySendError, sync_channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;

use iron_kite_core::problem::Problem;
use rustix::process::nice;
use tokio::sync::oneshot;

/// What sort of work some threads do.
pub(crate) struct Sort {
    /// What they are called.
    name: &'static str,
    /// So many at once.
    threads: usize,
    /// So many wait.
    waiting: usize,
    /// How far they give way to everybody else.
    gives_way: i32,
    /// What whoever comes then is told.
    full: Problem,
}

/// Hashing passwords. Whoever comes too late may try again in some seconds.
pub(crate) const HASHING: Sort =
    Sort { name: "hashing", threads: 2, waiting: 12, gives_way: 0, full: Problem::TooManyTries(5) };
/// Working on files as they come.
pub(crate) const FILES: Sort = Sort { name: "files", threads: 4, waiting: 32, gives_way: 10, full: Problem::Busy };

type Work = Box<dyn FnOnce() + Send>;

/// The threads.
pub(crate) struct Workers {
    queue: SyncSender<Work>,
    full: Problem,
}

impl Workers {
    /// Starts them.
    ///
    /// # Errors
    /// In words, where the system gives no threads.
    pub(crate) fn start(sort: Sort) -> Result<Self, String> {
        let (queue, work) = sync_channel::<Work>(sort.waiting);
        let work = Arc::new(Mutex::new(work));
        for at in 0..sort.threads {
            let work = Arc::clone(&work);
            let started = thread::Builder::new().name(format!("{}-{at}", sort.name)).spawn(move || {
                // Of this thread alone; where it may not, it is as important as all others.
                let _ = nice(sort.gives_way);
                run(&work);
            });
            started.map_err(|fault| fault.to_string())?;
        }
        Ok(Workers { queue, full: sort.full })
    }

    /// Has something done.
    ///
    /// # Errors
    /// What whoever comes is told where too many wait, and what is done returns.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let (told, hears) = oneshot::channel();
        let work = move || drop(told.send(work()));
        self.queue.try_send(Box::new(work)).map_err(|fault| match fault {
            TrySendError::Full(_) => self.full.clone(),
            TrySendError::Disconnected(_) => Problem::Busy,
        })?;
        hears.await.map_err(|_| Problem::Internal("the work ended without an answer".into()))?
    }
}

fn run(work: &Mutex<Receiver<Work>>) {
    loop {
        // The lock is let go of before the work begins.
        let next = work.lock().unwrap_or_else(PoisonError::into_inner).recv();
        let Ok(next) = next else { return };
        // A fault in one must not end the thread for all.
        let _ = std::panic::catch_unwind(std::panic::AssertUnwindSafe(next));
    }
}
