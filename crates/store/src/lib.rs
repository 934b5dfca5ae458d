//! SQLite behind Iron Kite. SQL belongs here; ops still passes some conditions (`WHERE …`) to
//! [`Rows::list`], which are to become questions with a name of their own in `queries/`.
//!
//! | file | what it does |
//! |---|---|
//! | `open` | connections, pragmas, migrations |
//! | `writer` | the one writing thread, group commit |
//! | `ledger` | triggers that record every row before and after; undo |
//! | `functions` | what SQL may call of core: folding of text, the median |
//! | `rows` | rows of any kind as typed records or JSON |
//! | `queries/` | what the stages ask for, one file each |
//! | `upkeep` | backup, whole workspaces |
//! | `verify` | whether a workspace is sound |
//! | `lock` | one server for one workspace |

mod erase;
mod error;
mod functions;
mod ledger;
mod lock;
mod open;
pub mod queries;
mod rows;
mod shape;
mod upkeep;
mod verify;
mod words;
mod writer;

use std::path::{Path, PathBuf};
use std::sync::Arc;

use iron_kite_core::things::ThingKind;

pub use erase::{Erased, Erasing, NamePlace, holds_any};
pub use error::{Error, Result};
pub use ledger::{ChangeSet, ChangeSetId, Part, Undo, UndoRefused, Way};
pub use lock::Lock;
pub use rows::{Record, Rows};
pub use rusqlite::Connection;
pub use shape::Shape;
pub use upkeep::brought_whole;
pub use verify::{VerifyReport, verify};
pub use writer::{Committed, Tx, WriteContext};

/// A workspace's database: one writer, several readers.
pub struct Store {
    dir: PathBuf,
    shape: Arc<Shape>,
    readers: r2d2::Pool<r2d2_sqlite::SqliteConnectionManager>,
    writer: writer::Writer,
}

impl Store {
    /// Opens the workspace in a folder, or makes a new one there.
    ///
    /// # Errors
    /// Where the folder cannot be used, or its database is newer than this program.
    pub fn open(dir: &Path) -> Result<Self> {
        let path = open::prepare(dir)?;
        if open::was_left_unclean(&path)? {
            clean(dir)?;
        }
        let writing = open::writing(&path)?;
        queries::fields::index_own(&writing)?;
        let shape = Arc::new(Shape::read(&writing)?);
        let readers = open::readers(&path)?;
        let writer = writer::Writer::start(writing, Arc::clone(&shape))?;
        Ok(Store { dir: dir.to_owned(), shape, readers, writer })
    }

    /// Asks something. The connection cannot write.
    ///
    /// # Errors
    /// What the question returns, or that no connection could be had.
    pub fn read<T, E: From<Error>>(
        &self,
        ask: impl FnOnce(&Rows<'_>) -> std::result::Result<T, E>,
    ) -> std::result::Result<T, E> {
        let connection = self.readers.get().map_err(Error::from)?;
        ask(&Rows::new(&connection, &self.shape))
    }

    /// Writes something: all of it or nothing. Returns after it is on the disk.
    ///
    /// # Errors
    /// What the write returns (then nothing was changed), [`Error::Busy`] where the queue is full.
    pub fn write<T, E>(
        &self,
        context: WriteContext,
        write: impl FnOnce(&mut Tx<'_>) -> std::result::Result<T, E> + Send + 'static,
    ) -> std::result::Result<(T, Option<Committed>), E>
    where
        T: Send + 'static,
        E: From<Error> + Send + 'static,
    {
        self.writer.write(context, None, write)
    }

    /// Goes on writing into a change set: long work in several steps, so that others can write between them, and one
    /// step to take back. Otherwise as [`Store::write`].
    ///
    /// # Errors
    /// As [`Store::write`].
    pub fn write_on<T, E>(
        &self,
        set: Option<ChangeSetId>,
        context: WriteContext,
        write: impl FnOnce(&mut Tx<'_>) -> std::result::Result<T, E> + Send + 'static,
    ) -> std::result::Result<(T, Option<Committed>), E>
    where
        T: Send + 'static,
        E: From<Error> + Send + 'static,
    {
        self.writer.write(context, set, write)
    }

    /// Erases a person, names that may be any word in these places as well, and cleans the file so that nothing of them is left in it. Takes as long as the file is large.
    ///
    /// # Errors
    /// Where there is no such person, or the file cannot be cleaned; then it says so, and the rows are gone already.
    pub fn erase(&self, context: WriteContext, person: i64, also: Vec<NamePlace>) -> Result<Erased> {
        let user_id = context.user_id;
        let ((erased, set), _) = self.write(context, move |tx| tx.erase(person, &also))?;
        clean(&self.dir)?;
        // The ledger keeps nothing of it, so it is told here: what was covered may stand anywhere.
        let kinds = ThingKind::ALL.to_vec();
        let rows = u64::try_from(erased.items + erased.excerpts + 1).unwrap_or(1);
        self.writer.tell(&Committed { set, label: "erased a person".into(), user_id, kinds, rows });
        Ok(erased)
    }

    /// Tells those who listen of rows that changed without the ledger: what follows from other rows.
    pub fn tell_live(&self, label: &str, kinds: &[ThingKind], rows: usize) {
        let rows = u64::try_from(rows).unwrap_or(u64::MAX);
        self.writer.tell(&Committed { set: 0, label: label.into(), user_id: None, kinds: kinds.to_vec(), rows });
    }

    /// Calls this after every commit that changed something, in the order of the commits.
    pub fn on_commit(&self, listener: impl Fn(&Committed) + Send + 'static) {
        self.writer.on_commit(Box::new(listener));
    }

    /// Copies the database while it runs, into a new file.
    ///
    /// # Errors
    /// Where the file is there already or cannot be written.
    pub fn backup(&self, to: &Path) -> Result<()> {
        upkeep::backup(&self.dir, to)
    }

    /// The folder of the workspace.
    #[must_use]
    pub fn dir(&self) -> &Path {
        &self.dir
    }
}

/// Cleans the file of what was erased, and notes that it is done.
fn clean(dir: &Path) -> Result<()> {
    let connection = open::writing(&database_path(dir))?;
    connection.execute_batch("PRAGMA wal_checkpoint(TRUNCATE); VACUUM;")?;
    connection.execute("DELETE FROM unfinished WHERE what = 'clean'", [])?;
    Ok(connection.execute_batch("PRAGMA wal_checkpoint(TRUNCATE);")?)
}

/// The path of the database in a workspace's folder.
#[must_use]
pub fn database_path(dir: &Path) -> PathBuf {
    dir.join("iron-kite.sqlite")
}

/// Puts a backup in the place of a workspace that is not running.
///
/// # Errors
/// Where the backup is no sound database of ours, or a workspace is there already.
pub fn restore(backup: &Path, dir: &Path) -> Result<()> {
    upkeep::restore(backup, dir)
}
