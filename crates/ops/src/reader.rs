//! The way to what files hold that people gave: a port, as files of strangers are read in a process of their own, which may
//! end as it likes.

use iron_kite_core::problem::Problem;
use iron_kite_documents::{Hows, Part, read_as};

/// Reads files.
pub trait Reader: Send + Sync {
    /// Begins to read for somebody; nobody where the program itself does. Several files one after the other are read faster by
    /// one of these than each by its own.
    fn begin<'a>(&'a self, whose: Option<i64>) -> Box<dyn Reading + 'a>;
}

/// Somebody's turn to read.
pub trait Reading {
    /// What a file holds, read as somebody said where they did. What cannot be read, whatever it did to its reader, is a refused
    /// part.
    ///
    /// # Errors
    /// Busy, where too many wait for their turn.
    fn read_as(&mut self, name: &str, bytes: &[u8], hows: &Hows) -> Result<Vec<Part>, Problem>;

    /// The same where nobody said how.
    ///
    /// # Errors
    /// Busy, where too many wait for their turn.
    fn read(&mut self, name: &str, bytes: &[u8]) -> Result<Vec<Part>, Problem> {
        self.read_as(name, bytes, &Hows::new())
    }

    /// What several files hold, each taken as it is read, until `take` says that it is enough. Small ones are read faster so:
    /// the next is read while one is taken.
    ///
    /// # Errors
    /// Busy, where too many wait for their turn.
    fn read_each(
        &mut self,
        files: &[(String, Vec<u8>)],
        take: &mut dyn FnMut(Vec<Part>) -> bool,
    ) -> Result<(), Problem> {
        for (name, bytes) in files {
            if !take(self.read(name, bytes)?) {
                break;
            }
        }
        Ok(())
    }
}

/// Reads files in this process: for tests and for what the program itself brings.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Inside;

impl Reader for Inside {
    fn begin<'a>(&'a self, _: Option<i64>) -> Box<dyn Reading + 'a> {
        Box::new(Inside)
    }
}

impl Reading for Inside {
    fn read_as(&mut self, name: &str, bytes: &[u8], hows: &Hows) -> Result<Vec<Part>, Problem> {
        Ok(read_as(name, bytes, hows))
    }
}
