//! What is begun and fails leaves nothing behind where nothing was before.

use std::io::ErrorKind;
use std::path::{Path, PathBuf};

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
        let was = match std::fs::read_dir(dir).map(Iterator::count) {
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
        let all = match self.was {
            Was::There => return,
            Was::Nothing => vec![self.dir.clone()],
            Was::Empty => std::fs::read_dir(&self.dir)
                .map(|entries| entries.flatten().map(|entry| entry.path()).collect())
                .unwrap_or_default(),
        };
        for path in all {
            // What cannot be taken away is in nobody's way.
            let _ = if path.is_dir() { std::fs::remove_dir_all(&path) } else { std::fs::remove_file(&path) };
        }
    }
}
