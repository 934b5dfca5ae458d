//! How much one file that somebody gave may unpack to and hold, with all that is packed in it.

use std::cell::Cell;

/// At most so many bytes come out of all that is packed.
const MOST_UNPACKED: u64 = 256 * 1024 * 1024;
/// At most so many bytes are held at once of what came out.
const MOST_HELD: u64 = 96 * 1024 * 1024;

/// What is left for the file that is being read.
pub(super) struct Budget {
    unpacked: Cell<u64>,
    held: Cell<u64>,
}

impl Budget {
    pub(super) fn new() -> Self {
        Budget { unpacked: Cell::new(MOST_UNPACKED), held: Cell::new(MOST_HELD) }
    }

    /// How many bytes may still come out.
    pub(super) fn left(&self) -> u64 {
        self.unpacked.get()
    }

    /// How many bytes may still be held.
    pub(super) fn room(&self) -> u64 {
        self.held.get()
    }

    /// Takes what came out.
    pub(super) fn unpack(&self, bytes: u64) -> Result<(), String> {
        let left = self.unpacked.get().checked_sub(bytes);
        self.unpacked.set(left.unwrap_or(0));
        left.map(drop)
            .ok_or_else(|| format!("Unpacked it is larger than {} MB. Split it.", MOST_UNPACKED / 1024 / 1024))
    }

    /// Takes what is held.
    pub(super) fn hold(&self, bytes: usize) -> Result<(), String> {
        let left = self.held.get().checked_sub(bytes as u64);
        self.held.set(left.unwrap_or(0));
        left.map(drop)
            .ok_or_else(|| format!("It holds more than {} MB of words and cells. Split it.", MOST_HELD / 1024 / 1024))
    }
}
