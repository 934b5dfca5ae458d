//! Hashing a password takes long and much memory, so few threads of its own do it, and few wait for them: who floods the sign-in
//! holds up nobody who works.

use std::sync::mpsc::{Receiver, SyncSender, TrySendError, sync_channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;

use iron_kite_core::problem::Problem;
use tokio::sync::oneshot;

/// So many at once.
const THREADS: usize = 2;
/// So many wait.
const WAITING: usize = 12;
/// So long whoever comes then is asked to wait, in seconds.
const LATER: u64 = 5;

type Work = Box<dyn FnOnce() + Send>;

/// The threads.
pub(crate) struct Hashers {
    queue: SyncSender<Work>,
}

impl Hashers {
    /// Starts them.
    ///
    /// # Errors
    /// In words, where the system gives no threads.
    pub(crate) fn start() -> Result<Self, String> {
        let (queue, work) = sync_channel::<Work>(WAITING);
        let work = Arc::new(Mutex::new(work));
        for at in 0..THREADS {
            let work = Arc::clone(&work);
            let started = thread::Builder::new().name(format!("hashing-{at}")).spawn(move || run(&work));
            started.map_err(|fault| fault.to_string())?;
        }
        Ok(Hashers { queue })
    }

    /// Has something done that hashes a password.
    ///
    /// # Errors
    /// [`Problem::TooManyTries`] where too many wait, and what is done returns.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<T, Problem> {
        let (told, hears) = oneshot::channel();
        let work = move || drop(told.send(work()));
        self.queue.try_send(Box::new(work)).map_err(|fault| match fault {
            TrySendError::Full(_) => Problem::TooManyTries(LATER),
            TrySendError::Disconnected(_) => Problem::Busy,
        })?;
        hears.await.map_err(|_| Problem::Internal("hashing ended without an answer".into()))?
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
