//! The one place that opens connections and sets their pragmas.

use std::path::{Path, PathBuf};
use std::time::Duration;

use r2d2_sqlite::SqliteConnectionManager;
use rusqlite::{Connection, OpenFlags};
use rusqlite_migration::{M, Migrations, SchemaVersion};

use crate::error::{Error, Result};
use crate::functions;

const STEPS: &[M<'_>] = &[
    M::up(include_str!("../migrations/0001_line.sql")),
    M::up(include_str!("../migrations/0002_collections.sql")),
    M::up(include_str!("../migrations/0003_bring_in.sql")),
    M::up(include_str!("../migrations/0004_studies.sql")),
    M::up(include_str!("../migrations/0005_channels.sql")),
    M::up(include_str!("../migrations/0006_engine.sql")),
    M::up(include_str!("../migrations/0007_findings.sql")),
    M::up(include_str!("../migrations/0008_checking.sql")),
    M::up(include_str!("../migrations/0009_side_by_side.sql")),
    M::up(include_str!("../migrations/0010_recordings.sql")),
    M::up(include_str!("../migrations/0011_learned.sql")),
    M::up(include_str!("../migrations/0012_passages.sql")),
    M::up(include_str!("../migrations/0013_objectives.sql")),
    M::up(include_str!("../migrations/0014_ideas.sql")),
    M::up(include_str!("../migrations/0015_requests.sql")),
    M::up(include_str!("../migrations/0016_market.sql")),
    M::up(include_str!("../migrations/0017_scores.sql")),
    M::up(include_str!("../migrations/0018_talk.sql")),
    M::up(include_str!("../migrations/0019_notices.sql")),
    M::up(include_str!("../migrations/0020_rules.sql")),
    M::up(include_str!("../migrations/0021_said_again.sql")),
    M::up(include_str!("../migrations/0022_split_anew.sql")),
    M::up(include_str!("../migrations/0023_closer.sql")),
];
const READERS: u32 = 8;
const PATIENCE: Duration = Duration::from_secs(10);

/// Makes the folder where it is missing, and brings the schema up to date.
pub(crate) fn prepare(dir: &Path) -> Result<PathBuf> {
    std::fs::create_dir_all(dir).map_err(|fault| Error::File(dir.to_owned(), fault))?;
    let path = crate::database_path(dir);
    let mut connection = Connection::open(&path)?;
    connection.busy_timeout(PATIENCE)?;
    connection.pragma_update(None, "journal_mode", "WAL")?;
    let migrations = Migrations::from_slice(STEPS);
    if let SchemaVersion::Outside(_) = migrations.current_version(&connection)? {
        return Err(Error::Newer(path));
    }
    migrations.to_latest(&mut connection)?;
    Ok(path)
}

/// The connection that writes. `FULL` so that what was answered is on the disk.
pub(crate) fn writing(path: &Path) -> Result<Connection> {
    let connection = Connection::open(path)?;
    connection.busy_timeout(PATIENCE)?;
    connection.execute_batch(
        "PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -64000;",
    )?;
    connection.set_prepared_statement_cache_capacity(256);
    functions::add(&connection)?;
    Ok(connection)
}

/// Connections that cannot write.
pub(crate) fn readers(path: &Path) -> Result<r2d2::Pool<SqliteConnectionManager>> {
    let manager = SqliteConnectionManager::file(path)
        .with_flags(OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX)
        .with_init(|connection| {
            connection.busy_timeout(PATIENCE)?;
            connection.set_prepared_statement_cache_capacity(256);
            functions::add(connection)?;
            connection.execute_batch("PRAGMA query_only = ON; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -16000;")
        });
    Ok(r2d2::Pool::builder().max_size(READERS).connection_timeout(PATIENCE).build(manager)?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_steps_are_sound_and_can_be_taken_twice() {
        Migrations::from_slice(STEPS).validate().unwrap();
        let dir = tempfile::tempdir().unwrap();
        prepare(dir.path()).unwrap();
        prepare(dir.path()).unwrap();
    }

    #[test]
    fn a_newer_file_is_left_alone() {
        let dir = tempfile::tempdir().unwrap();
        let path = prepare(dir.path()).unwrap();
        Connection::open(&path).unwrap().pragma_update(None, "user_version", 99).unwrap();
        let fault = prepare(dir.path()).unwrap_err();
        assert!(fault.to_string().contains("newer Iron Kite"), "{fault}");
    }
}
