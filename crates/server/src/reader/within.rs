//! What the reading process does: limits for itself, then a file after the other, until nobody asks any more.
//!
//! A file comes as the length of what is asked (four bytes), its own length (eight bytes, both with the lowest first), what is
//! asked, which is its name and how it is to be read, and its bytes. What is asked comes and what it holds goes as one
//! MessagePack value.

use std::io::{BufWriter, ErrorKind, Read, Write};

use iron_kite_documents::{Hows, read_parts};
use rustix::process::{Resource, Rlimit, Signal, getrlimit, nice, set_parent_process_death_signal, setrlimit};

/// So long one file may keep the processor busy, in seconds.
const BUSY: u64 = 40;
/// So much goes through a pipe at once.
const AT_ONCE: usize = 64 * 1024;
/// It gives way to everybody who works.
const GIVES_WAY: i32 = 10;

/// Reads what comes on standard input. `memory` is how many bytes it may take beside what it has.
///
/// # Errors
/// In words, where the limits cannot be set, or what comes is no file.
pub fn serve(memory: u64) -> Result<(), String> {
    limit(memory)?;
    let (mut from, mut to) = (std::io::stdin().lock(), BufWriter::with_capacity(AT_ONCE, std::io::stdout().lock()));
    loop {
        let mut head = [0; 12];
        match from.read_exact(&mut head) {
            Err(fault) if fault.kind() == ErrorKind::UnexpectedEof => return Ok(()),
            read => read.map_err(words)?,
        }
        let [a, b, c, d, length @ ..] = head;
        let asked = take(&mut from, u32::from_le_bytes([a, b, c, d]).into())?;
        let (name, hows): (String, Hows) = rmp_serde::from_slice(&asked).map_err(|fault| fault.to_string())?;
        let bytes = take(&mut from, u64::from_le_bytes(length))?;
        set(Resource::Cpu, processor_time()? + BUSY)?;
        rmp_serde::encode::write(&mut to, &read_parts(&name, &bytes, &hows)).map_err(|fault| fault.to_string())?;
        to.flush().map_err(words)?;
    }
}

fn take(from: &mut impl Read, length: u64) -> Result<Vec<u8>, String> {
    let mut bytes = Vec::with_capacity(usize::try_from(length).map_err(|fault| fault.to_string())?);
    from.take(length).read_to_end(&mut bytes).map_err(words)?;
    Ok(bytes)
}

/// Little memory, no files of its own, no traces of a crash.
fn limit(memory: u64) -> Result<(), String> {
    // Whoever asked may have ended: then nobody hears what is read.
    set_parent_process_death_signal(Some(Signal::KILL)).map_err(|fault| fault.to_string())?;
    set(Resource::As, at_rest()? + memory)?;
    set(Resource::Core, 0)?;
    set(Resource::Fsize, 0)?;
    set(Resource::Nofile, 16)?;
    nice(GIVES_WAY).map(drop).map_err(|fault| fault.to_string())
}

/// Sets what may be used; what may be set at the most stays, so that each file gets its own time.
fn set(what: Resource, most: u64) -> Result<(), String> {
    let maximum = getrlimit(what).maximum;
    let current = Some(maximum.map_or(most, |maximum| most.min(maximum)));
    setrlimit(what, Rlimit { current, maximum }).map_err(|fault| format!("a limit cannot be set: {fault}"))
}

/// The size of this process's memory as it is mapped, in bytes.
fn at_rest() -> Result<u64, String> {
    let pages = field("/proc/self/statm", 0)?;
    Ok(pages.saturating_mul(rustix::param::page_size() as u64))
}

/// The processor time that this process took so far, in seconds, rounded up.
fn processor_time() -> Result<u64, String> {
    // Time for itself and for the system on its behalf (proc(5), fields 14 and 15; the name in brackets has no spaces).
    let (own, system) = (field("/proc/self/stat", 13)?, field("/proc/self/stat", 14)?);
    Ok((own + system) / rustix::param::clock_ticks_per_second() + 1)
}

fn field(path: &str, at: usize) -> Result<u64, String> {
    let text = std::fs::read_to_string(path).map_err(words)?;
    let found = text.split_whitespace().nth(at).and_then(|number| number.parse().ok());
    found.ok_or_else(|| format!("{path} does not say what it should"))
}

fn words(fault: std::io::Error) -> String {
    fault.to_string()
}
