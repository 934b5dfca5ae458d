//! A mail box in one file (mbox) that grows at its end: the mails behind the place where the last look ended.

use std::fs::File;
use std::io::{Read, Seek, SeekFrom};
use std::path::Path;

use iron_kite_ops::outside::Fetched;
use serde::{Deserialize, Serialize};

use super::plain;

/// So much is read at once.
const CHUNK: u64 = 16 * 1024 * 1024;
/// So much of the beginning tells whether it is the same box.
const HEAD: u64 = 4096;
/// What stands in front of every mail but the first.
const BETWEEN: &[u8] = b"\nFrom ";

/// How far a box was read.
#[derive(Serialize, Deserialize, Default)]
struct Mark {
    at: u64,
    head: String,
}

/// The mails that are new, in parts that end with a whole mail. A box that was written anew is read from its beginning;
/// its mails are known by their own numbers.
pub(super) fn fetch(path: &Path, cursor: Option<&str>) -> Result<Fetched, String> {
    let unreadable = |fault: std::io::Error| format!("{} cannot be read: {}.", path.display(), plain(&fault));
    let mut file = File::open(path).map_err(unreadable)?;
    let length = file.metadata().map_err(unreadable)?.len();
    let known: Mark = cursor.and_then(|cursor| serde_json::from_str(cursor).ok()).unwrap_or_default();
    let mut head = String::new();
    if known.at > 0 {
        head = digest(&take(&mut file, 0, HEAD.min(known.at)).map_err(unreadable)?);
    }
    let mut at = if known.at <= length && head == known.head { known.at } else { 0 };
    let mut bytes = take(&mut file, at, CHUNK).map_err(unreadable)?;
    let more = at + (bytes.len() as u64) < length;
    if more {
        // The last mail of the part may not be whole.
        match bytes.windows(BETWEEN.len()).rposition(|window| window == BETWEEN) {
            Some(end) => bytes.truncate(end + 1),
            None => return Err(format!("A mail in {} is larger than 16 MB. Take it out.", path.display())),
        }
    }
    at += bytes.len() as u64;
    let head = digest(&take(&mut file, 0, HEAD.min(at)).map_err(unreadable)?);
    let cursor = serde_json::to_string(&Mark { at, head }).map_err(|fault| fault.to_string())?;
    let name = path.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
    let files = if bytes.iter().all(u8::is_ascii_whitespace) { vec![] } else { vec![(format!("{name}.mbox"), bytes)] };
    Ok(Fetched { files, left_out: vec![], cursor, more })
}

fn take(file: &mut File, from: u64, most: u64) -> std::io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    file.seek(SeekFrom::Start(from))?;
    file.take(most).read_to_end(&mut bytes)?;
    Ok(bytes)
}

fn digest(bytes: &[u8]) -> String {
    use sha2::{Digest, Sha256};
    Sha256::digest(bytes).iter().take(8).fold(String::new(), |text, byte| format!("{text}{byte:02x}"))
}
