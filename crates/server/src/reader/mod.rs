//! Files of people are read in a process of its own: this program again, with little memory, little time and nothing else. What
//! a file does to its reader ends there.
//!
//! | file | what it does |
//! |---|---|
//! | `turns` | who reads when: few at once, one for each person |
//! | `process` | one such process from here: fed, heard, and ended |
//! | `within` | what it does itself |

mod process;
mod turns;
mod within;

use iron_kite_core::problem::Problem;
use iron_kite_documents::{DAMAGED, Hows, Part, filled, refused};
use iron_kite_ops::reader::{Reader, Reading};

pub use within::serve;

use process::{Ended, File, Process};
use turns::{Turn, Turns};

/// Up to so many bytes a file is small: two of them are read at once.
const SMALL: usize = 1024 * 1024;
/// How much memory is given to the reader of a small file, and of any other, beside what the program takes at rest. A small
/// file that needs more is read as a large one.
const MEMORY: (u64, u64) = (96 * 1024 * 1024, 352 * 1024 * 1024);

const TOO_LONG: &str =
    "The file takes too long to read; nothing of it was taken. Split it, or save it anew, and try again.";
const NOT_READ: &str = "The file could not be read here; nothing of it was taken. Try again in a moment.";

/// Reads each file in a process of its own.
#[derive(Default)]
pub struct Apart {
    turns: Turns,
}

impl Reader for Apart {
    fn begin<'a>(&'a self, whose: Option<i64>) -> Box<dyn Reading + 'a> {
        Box::new(Beside { whose, turns: &self.turns, turn: None, process: None })
    }
}

/// One person's reading. Its process is kept for more small files, and its turn while much that one held is worked on.
struct Beside<'a> {
    whose: Option<i64>,
    turns: &'a Turns,
    turn: Option<Turn<'a>>,
    process: Option<Process>,
}

impl Reading for Beside<'_> {
    fn read_as(&mut self, name: &str, bytes: &[u8], hows: &Hows) -> Result<Vec<Part>, Problem> {
        self.read_before(File { name, bytes, hows }, None)
    }

    fn read_each(
        &mut self,
        files: &[(String, Vec<u8>)],
        take: &mut dyn FnMut(Vec<Part>) -> bool,
    ) -> Result<(), Problem> {
        let hows = Hows::new();
        let mut files = files.iter().map(|(name, bytes)| File { name, bytes, hows: &hows }).peekable();
        while let Some(file) = files.next() {
            let next = files.peek().copied();
            if !take(self.read_before(file, next)?) {
                // What was sent ahead is not asked for any more.
                self.process = None;
                self.turn = None;
                break;
            }
        }
        Ok(())
    }
}

impl Beside<'_> {
    /// Reads a file; `next` is the one that is read after it.
    fn read_before(&mut self, file: File<'_>, next: Option<File<'_>>) -> Result<Vec<Part>, Problem> {
        let File { name, bytes, .. } = file;
        let mut read = self.read_as(bytes.len() <= SMALL, file, next)?;
        if bytes.len() <= SMALL && read.as_ref().is_err_and(|ended| *ended == Ended::Broken) {
            read = self.read_as(false, file, None)?;
        }
        Ok(match read {
            Ok(parts) => filled(parts, bytes),
            Err(ended) => {
                tracing::warn!(?ended, bytes = bytes.len(), whose = self.whose, "a file ended its reader");
                let words = match ended {
                    Ended::Broken => DAMAGED,
                    Ended::TooLong => TOO_LONG,
                    Ended::NotStarted(_) => NOT_READ,
                };
                vec![refused(name, words)]
            }
        })
    }

    fn read_as(
        &mut self,
        small: bool,
        file: File<'_>,
        next: Option<File<'_>>,
    ) -> Result<Result<Vec<Part>, Ended>, Problem> {
        if !self.is_ahead() {
            drop(self.turn.take());
            self.turn = Some(self.turns.take(self.whose, small)?);
        }
        if !small {
            self.process = None;
        }
        let process = match self.process.take() {
            Some(process) => Ok(process),
            None => Process::start(if small { MEMORY.0 } else { MEMORY.1 }),
        };
        // Whoever waits comes first: then the turn ends with this file.
        let next = next.filter(|_| small && !self.turns.somebody_waits());
        let read = process.and_then(|mut process| process.read(file, next).map(|answer| (process, answer)));
        let read = read.map(|(process, answer)| {
            let goes_on = process.is_ahead();
            self.process = Some(process).filter(|_| goes_on || small && answer.little);
            if small && answer.little && !goes_on {
                self.turn = None;
            }
            answer.parts
        });
        if small && read.is_err() {
            self.turn = None;
        }
        Ok(read)
    }

    fn is_ahead(&self) -> bool {
        self.process.as_ref().is_some_and(Process::is_ahead)
    }
}
