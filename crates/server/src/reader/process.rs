//! A reading process, from here.

use std::io::{BufReader, Read, Write};
use std::os::unix::process::ExitStatusExt;
use std::path::{Path, PathBuf};
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{RecvTimeoutError, Sender, channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread;
use std::time::Duration;

use iron_kite_documents::{Hows, Part, check_parts};

/// So long one file may take.
const LONGEST: Duration = Duration::from_secs(60);
/// So much goes through a pipe at once.
const AT_ONCE: usize = 64 * 1024;
/// The most that a file may hold, as it comes back.
const MOST_ANSWER: u64 = 192 * 1024 * 1024;
/// Up to so many bytes what comes back is little.
const LITTLE: u64 = 2 * 1024 * 1024;
/// A file of up to so many bytes, its name beside it, goes into an empty pipe without waiting for whoever reads there.
const AHEAD: usize = 48 * 1024;
/// This program, also where its file was replaced by a newer one since it was started.
const ITSELF: &str = "/proc/self/exe";
/// The signal that ends who used up the processor time that was given.
const SIGXCPU: i32 = 24;

/// A file, and how it is to be read.
#[derive(Clone, Copy)]
pub(super) struct File<'a> {
    pub(super) name: &'a str,
    pub(super) bytes: &'a [u8],
    pub(super) hows: &'a Hows,
}

/// What a file holds.
pub(super) struct Answer {
    pub(super) parts: Vec<Part>,
    /// Whether it is so little that who works on it need not wait for others.
    pub(super) little: bool,
}

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
    watch: Watch,
    ahead: bool,
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
        let child = Arc::new(Mutex::new(child));
        let watch = Watch::start(Arc::clone(&child));
        Ok(Process { child, to, from: BufReader::with_capacity(AT_ONCE, from), watch, ahead: false })
    }

    /// Has a file read, and where it is small sends the one that is read next along, so that the process has it at once. After
    /// a fault the process is of no more use.
    pub(super) fn read(&mut self, file: File<'_>, next: Option<File<'_>>) -> Result<Answer, Ended> {
        self.watch.tell(Told::Begun);
        let next = next.filter(|next| next.name.len() + next.bytes.len() <= AHEAD);
        let read = self.send_both(file, next).ok().and_then(|()| self.hear());
        self.watch.tell(Told::Done);
        read.ok_or_else(|| if self.watch.was_late() || self.used_up() { Ended::TooLong } else { Ended::Broken })
    }

    /// What comes back. A file may have turned its reader, so it is not trusted.
    fn hear(&mut self) -> Option<Answer> {
        let mut from = Read::take(&mut self.from, MOST_ANSWER);
        let parts: Vec<Part> = rmp_serde::from_read(&mut from).ok()?;
        check_parts(&parts).ok()?;
        Some(Answer { parts, little: MOST_ANSWER - from.limit() <= LITTLE })
    }

    /// Whether it has the file already that is read next.
    pub(super) fn is_ahead(&self) -> bool {
        self.ahead
    }

    /// Waits for nothing but that the file itself is taken: the process answers what is before it first, and then has an empty
    /// pipe, in which the next one has room.
    fn send_both(&mut self, file: File<'_>, next: Option<File<'_>>) -> std::io::Result<()> {
        if !std::mem::take(&mut self.ahead) {
            self.send(file)?;
        }
        self.ahead = next.is_some();
        next.map_or(Ok(()), |next| self.send(next))
    }

    fn send(&mut self, File { name, bytes, hows }: File<'_>) -> std::io::Result<()> {
        let asked = rmp_serde::to_vec_named(&(name, hows)).map_err(std::io::Error::other)?;
        let length = u32::try_from(asked.len()).map_err(std::io::Error::other)?;
        self.to.write_all(&length.to_le_bytes())?;
        self.to.write_all(&(bytes.len() as u64).to_le_bytes())?;
        self.to.write_all(&asked)?;
        self.to.write_all(bytes)
    }

    /// Whether it was ended for taking all the processor time that it was given.
    fn used_up(&self) -> bool {
        end(&self.child).is_some_and(|status| status.signal() == Some(SIGXCPU))
    }
}

/// Ends the process where a file takes too long; what waits for it here ends with it.
struct Watch {
    to: Sender<Told>,
    late: Arc<AtomicBool>,
}

/// What the one who watches is told of a file.
enum Told {
    Begun,
    Done,
}

impl Watch {
    fn start(child: Arc<Mutex<Child>>) -> Self {
        let (to, told) = channel();
        let late = Arc::new(AtomicBool::new(false));
        let was = Arc::clone(&late);
        // It ends with whom it watches for.
        thread::spawn(move || {
            while let Ok(Told::Begun) = told.recv() {
                match told.recv_timeout(LONGEST) {
                    Ok(_) => {}
                    Err(RecvTimeoutError::Disconnected) => return,
                    Err(RecvTimeoutError::Timeout) => {
                        was.store(true, Ordering::SeqCst);
                        end(&child);
                        return;
                    }
                }
            }
        });
        Watch { to, late }
    }

    /// A watch that has ended has nothing left to do.
    fn tell(&self, told: Told) {
        let _ = self.to.send(told);
    }

    fn was_late(&self) -> bool {
        self.late.load(Ordering::SeqCst)
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
