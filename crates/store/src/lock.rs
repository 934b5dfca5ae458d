//! One server for one workspace. Commands work beside it, as the database itself keeps writes apart.

use std::fs::{File, OpenOptions, TryLockError};
use std::io::{Read, Seek, Write};
use std::path::Path;

use crate::error::{Error, Result};

/// Held for as long as the server runs; the system lets go of it however that ends.
#[derive(Debug)]
pub struct Lock {
    _file: File,
}

impl Lock {
    /// Takes the lock of a workspace's folder.
    ///
    /// # Errors
    /// [`Error::Refused`] where another server has it.
    pub fn take(dir: &Path) -> Result<Self> {
        let path = dir.join("iron-kite.lock");
        let fault = |fault| Error::File(path.clone(), fault);
        let mut file =
            OpenOptions::new().read(true).write(true).create(true).truncate(false).open(&path).map_err(fault)?;
        match file.try_lock() {
            Ok(()) => {}
            Err(TryLockError::WouldBlock) => {
                let mut process = String::new();
                let _ = file.read_to_string(&mut process);
                return Err(Error::Refused(format!(
                    "the workspace in {} is served already (process {}); stop that one first, or name another folder with --data",
                    dir.display(),
                    process.trim(),
                )));
            }
            Err(TryLockError::Error(found)) => return Err(fault(found)),
        }
        let written =
            file.set_len(0).and_then(|()| file.rewind()).and_then(|()| writeln!(file, "{}", std::process::id()));
        written.map_err(fault)?;
        Ok(Lock { _file: file })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_second_server_is_refused_in_words_until_the_first_is_gone() {
        let dir = tempfile::tempdir().unwrap();
        let first = Lock::take(dir.path()).unwrap();
        let words = Lock::take(dir.path()).unwrap_err().to_string();
        assert!(words.contains("served already") && words.contains(&std::process::id().to_string()), "{words}");
        drop(first);
        Lock::take(dir.path()).unwrap();
    }
}
