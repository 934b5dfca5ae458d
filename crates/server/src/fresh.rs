//! What is begun and fails leaves nothing behind where nothing was before.

use std::fs;
use std::io::ErrorKind;
use std::path::{Path, PathBuf};
use std::thread;
use std::time::Duration;

/// So often it is tried, so long apart.
const TRIES: usize = 20;
const PAUSE: Duration = Duration::from_millis(50);

/// What is made by a command that may fail: nothing of it stays then where nothing was before.
pub(crate) struct Fresh {
    dir: PathBuf,
    was: Was,
}

/// What was there before.
enum Was {
    Nothing,
    Empty,
    /// It stays whatever happens.
    There,
}

impl Fresh {
    pub(crate) fn in_folder(dir: &Path) -> Self {
        let was = match fs::read_dir(dir).map(Iterator::count) {
            Ok(0) => Was::Empty,
            Err(fault) if fault.kind() == ErrorKind::NotFound => Was::Nothing,
            _ => Was::There,
        };
        Fresh { dir: dir.to_owned(), was }
    }

    /// What was made stays.
    pub(crate) fn stays(mut self) {
        self.was = Was::There;
    }
}

impl Drop for Fresh {
    fn drop(&mut self) {
        // Connections that are just being closed may hold a file for a moment.
        for _ in 0..TRIES {
            if self.clear() {
                return;
            }
            thread::sleep(PAUSE);
        }
    }
}

impl Fresh {
    /// Takes away what was made; whether all of it is gone. What cannot be taken away is in nobody's way.
    fn clear(&self) -> bool {
        match self.was {
            Was::There => true,
            Was::Nothing => fs::remove_dir_all(&self.dir).is_ok() || !self.dir.exists(),
            Was::Empty => {
                let entries = fs::read_dir(&self.dir).into_iter().flatten().flatten();
                entries.fold(true, |gone, entry| {
                    let path = entry.path();
                    let removed = if path.is_dir() { fs::remove_dir_all(&path) } else { fs::remove_file(&path) };
                    gone && removed.is_ok()
                })
            }
        }
    }
}
