//! A simulated mail server: it speaks SMTP (RFC 5321) on this machine alone, keeps what it is given, and refuses, breaks the
//! line or falls silent when it is told to.

use std::collections::VecDeque;
use std::io::{BufRead, BufReader, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::thread::JoinHandle;

/// A message that the server took.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Taken {
    /// From which address.
    pub from: String,
    /// To which addresses.
    pub to: Vec<String>,
    /// The message as it came, without the dots of the transfer.
    pub bytes: Vec<u8>,
}

/// How the server behaves the next time that somebody connects.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mood {
    /// It says 421 instead of hello.
    Busy,
    /// It says 554 instead of hello: nobody is let in.
    NoService,
    /// It knows no such box.
    NoSuchBox,
    /// It asks to come again when the message is there (greylisting).
    LaterAfterWords,
    /// It takes the message and breaks the line before it says so.
    SilentAfterWords,
}

#[derive(Default)]
struct Held {
    taken: Vec<Taken>,
    moods: VecDeque<Mood>,
    connections: usize,
}

/// A simulated mail server that runs until it is dropped.
pub struct PostOffice {
    held: Arc<Mutex<Held>>,
    stops: Arc<AtomicBool>,
    address: String,
    thread: Option<JoinHandle<()>>,
}

impl PostOffice {
    /// Starts it on a free port of this machine.
    ///
    /// # Errors
    /// In words, where no port can be had.
    pub fn start() -> Result<Self, String> {
        let listener = TcpListener::bind(("127.0.0.1", 0)).map_err(|fault| fault.to_string())?;
        let address = listener.local_addr().map_err(|fault| fault.to_string())?.to_string();
        let held: Arc<Mutex<Held>> = Arc::default();
        let stops: Arc<AtomicBool> = Arc::default();
        let (shared, ends) = (Arc::clone(&held), Arc::clone(&stops));
        let thread = std::thread::spawn(move || {
            for stream in listener.incoming() {
                if ends.load(Ordering::Relaxed) {
                    return;
                }
                if let Ok(stream) = stream {
                    // Whoever hangs up in the middle has said nothing.
                    drop(serve(&stream, &shared));
                }
            }
        });
        Ok(PostOffice { held, stops, address, thread: Some(thread) })
    }

    /// Where it is, as `smtp://host:port`.
    #[must_use]
    pub fn address(&self) -> String {
        format!("smtp://{}", self.address)
    }

    /// What it took so far.
    #[must_use]
    pub fn taken(&self) -> Vec<Taken> {
        lock(&self.held).taken.clone()
    }

    /// How often somebody connected.
    #[must_use]
    pub fn connections(&self) -> usize {
        lock(&self.held).connections
    }

    /// It behaves so the next time, and the times after it as it was told before.
    pub fn next(&self, mood: Mood) {
        lock(&self.held).moods.push_back(mood);
    }
}

impl Drop for PostOffice {
    fn drop(&mut self) {
        self.stops.store(true, Ordering::Relaxed);
        // Wakes the thread that waits for somebody.
        drop(TcpStream::connect(&self.address));
        if let Some(thread) = self.thread.take() {
            drop(thread.join());
        }
    }
}

fn lock(held: &Mutex<Held>) -> std::sync::MutexGuard<'_, Held> {
    held.lock().unwrap_or_else(PoisonError::into_inner)
}

fn serve(stream: &TcpStream, held: &Mutex<Held>) -> std::io::Result<()> {
    let mood = {
        let mut held = lock(held);
        held.connections += 1;
        held.moods.pop_front()
    };
    let mut out = stream;
    let mut say = |line: &str| out.write_all(format!("{line}\r\n").as_bytes());
    if mood == Some(Mood::Busy) {
        return say("421 4.3.2 too busy, come again later");
    }
    if mood == Some(Mood::NoService) {
        return say("554 5.3.2 no service here");
    }
    say("220 post.example ready")?;
    let mut lines = BufReader::new(stream);
    let (mut from, mut to) = (String::new(), Vec::new());
    let mut line = Vec::new();
    loop {
        line.clear();
        if lines.read_until(b'\n', &mut line)? == 0 {
            return Ok(());
        }
        let said = String::from_utf8_lossy(&line).trim().to_owned();
        let upper = said.to_uppercase();
        match upper.split([' ', ':']).next().unwrap_or_default() {
            "EHLO" => {
                say("250-post.example")?;
                say("250 8BITMIME")?;
            }
            "HELO" | "NOOP" | "RSET" => say("250 fine")?,
            "MAIL" => {
                from = address(&said);
                say("250 2.1.0 fine")?;
            }
            "RCPT" if mood == Some(Mood::NoSuchBox) => say("550 5.1.1 no such box here")?,
            "RCPT" => {
                to.push(address(&said));
                say("250 2.1.5 fine")?;
            }
            "DATA" if to.is_empty() => say("503 5.5.1 to whom?")?,
            "DATA" => {
                say("354 go on, and end with a dot")?;
                let bytes = words(&mut lines)?;
                if mood == Some(Mood::LaterAfterWords) {
                    say("451 4.7.1 come again in a while")?;
                    continue;
                }
                lock(held).taken.push(Taken { from: from.clone(), to: std::mem::take(&mut to), bytes });
                if mood == Some(Mood::SilentAfterWords) {
                    return Ok(());
                }
                say("250 2.0.0 taken")?;
            }
            "QUIT" => return say("221 2.0.0 farewell"),
            _ => say("502 5.5.2 not here")?,
        }
    }
}

/// The address between the angle brackets of a command.
fn address(said: &str) -> String {
    said.split_once('<')
        .and_then(|(_, rest)| rest.split_once('>'))
        .map(|(address, _)| address.to_owned())
        .unwrap_or_default()
}

/// A message up to the line with a single dot; dots that the transfer put at the beginning of lines are taken away.
fn words(lines: &mut impl BufRead) -> std::io::Result<Vec<u8>> {
    let mut all = Vec::new();
    loop {
        let mut line = Vec::new();
        if lines.read_until(b'\n', &mut line)? == 0 {
            return Err(std::io::ErrorKind::UnexpectedEof.into());
        }
        if line == b".\r\n" || line == b".\n" {
            return Ok(all);
        }
        let dotted = line.first() == Some(&b'.');
        all.extend_from_slice(&line[usize::from(dotted)..]);
    }
}
