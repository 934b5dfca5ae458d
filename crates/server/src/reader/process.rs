//! A reading process, from here.

use std::io::{BufReader, Read, Write};
use std::os::unix::process::ExitStatusExt;
use std::path::{Path, PathBuf};
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};
use std::sync::mpsc::{RecvTimeoutError, channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;
use std::time::Duration;

use iron_kite_documents::Part;

/// So long one file may take.
const LONGEST: Duration = Duration::from_secs(60);
/// The most that a file may hold, as it comes back.
const MOST_ANSWER: u64 = 192 * 1024 * 1024;
/// This program, also where its file was replaced by a newer one since it was started.
const ITSELF: &str = "/proc/self/exe";
/// The signal that ends who used up the processor time that was given.
const SIGXCPU: i32 = 24;

/// Why a file was not read.
#[derive(Debug, PartialEq, Eq)]
pub(super) enum Ended {
    /// The process ended, or answered what is no answer.
    Broken,
    /// It took longer than it may.
    TooLong,
    /// There was no process.
    NotStarted(String),
}

/// A process that waits for files. It ends when this is dropped.
pub(super) struct Process {
    child: Arc<Mutex<Child>>,
    to: ChildStdin,
    from: BufReader<ChildStdout>,
}

impl Process {
    pub(super) fn start(memory: u64) -> Result<Self, Ended> {
        let not_started = |fault: std::io::Error| Ended::NotStarted(fault.to_string());
        let itself = Path::new(ITSELF);
        let program = if itself.exists() { Ok(PathBuf::from(itself)) } else { std::env::current_exe() };
        let mut child = Command::new(program.map_err(not_started)?)
            .args(["read-files", "--memory", &memory.to_string()])
            .env_clear()
            // One thread needs one heap.
            .env("MALLOC_ARENA_MAX", "1")
            .current_dir("/")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .map_err(not_started)?;
        let pipes = child.stdin.take().zip(child.stdout.take());
        let (to, from) = pipes.ok_or_else(|| Ended::NotStarted("it has no pipes".into()))?;
        Ok(Process { child: Arc::new(Mutex::new(child)), to, from: BufReader::new(from) })
    }

    /// Has a file read. After a fault the process is of no more use.
    pub(super) fn read(&mut self, name: &str, bytes: &[u8]) -> Result<Vec<Part>, Ended> {
        let child = Arc::clone(&self.child);
        let (done, ends) = channel::<()>();
        // Ends the process where it takes too long; what waits for it here ends with it.
        let watch = thread::spawn(move || {
            let late = ends.recv_timeout(LONGEST) == Err(RecvTimeoutError::Timeout);
            if late {
                end(&child);
            }
            late
        });
        let read = self
            .send(name, bytes)
            .ok()
            .and_then(|()| rmp_serde::from_read(Read::take(&mut self.from, MOST_ANSWER)).ok());
        drop(done);
        let late = watch.join().unwrap_or(false);
        read.ok_or_else(|| if late || self.used_up() { Ended::TooLong } else { Ended::Broken })
    }

    fn send(&mut self, name: &str, bytes: &[u8]) -> std::io::Result<()> {
        let length = u32::try_from(name.len()).unwrap_or(0);
        self.to.write_all(&length.to_le_bytes())?;
        self.to.write_all(&(bytes.len() as u64).to_le_bytes())?;
        self.to.write_all(name.get(..length as usize).unwrap_or_default().as_bytes())?;
        self.to.write_all(bytes)
    }

    /// Whether it was ended for taking all the processor time that it was given.
    fn used_up(&self) -> bool {
        end(&self.child).is_some_and(|status| status.signal() == Some(SIGXCPU))
    }
}

/// Ends a process, if it has not ended by itself, and tells how it did.
fn end(child: &Mutex<Child>) -> Option<std::process::ExitStatus> {
    let mut child = child.lock().unwrap_or_else(PoisonError::into_inner);
    let _ = child.kill();
    child.wait().ok()
}

impl Drop for Process {
    fn drop(&mut self) {
        end(&self.child);
    }
}
