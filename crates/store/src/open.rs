//! The one place that opens connections and sets their pragmas.

use std::fs::{self, DirBuilder, OpenOptions, Permissions};
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt, PermissionsExt};
use std::path::{Path, PathBuf};
use std::time::Duration;

use r2d2_sqlite::SqliteConnectionManager;
use rusqlite::{Connection, ErrorCode, OpenFlags};
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
    M::up(include_str!("../migrations/0024_safe.sql")),
    M::up(include_str!("../migrations/0025_outsiders.sql")),
    M::up(include_str!("../migrations/0026_files.sql")),
    M::up(include_str!("../migrations/0027_listed.sql")),
    M::up(include_str!("../migrations/0028_read_as.sql")),
    M::up(include_str!("../migrations/0029_workspace.sql")),
    M::up(include_str!("../migrations/0030_narrowed.sql")),
    M::up(include_str!("../migrations/0031_went_out.sql")),
    M::up(include_str!("../migrations/0032_work_listed.sql")),
    M::up(include_str!("../migrations/0033_tone.sql")),
    M::up(include_str!("../migrations/0034_words.sql")),
    M::up(include_str!("../migrations/0035_work_below.sql")),
];
const READERS: u32 = 8;
const PATIENCE: Duration = Duration::from_secs(10);

/// What tells our databases from those of others, in the head of the file: "kite".
const OURS: i32 = 0x6b69_7465;

/// Makes the folder and the database where they are missing, and brings the schema up to date. Nobody but the owner of the
/// process may look into them.
pub(crate) fn prepare(dir: &Path) -> Result<PathBuf> {
    let fault = |fault| Error::File(dir.to_owned(), fault);
    DirBuilder::new().recursive(true).mode(0o700).create(dir).map_err(fault)?;
    fs::set_permissions(dir, Permissions::from_mode(0o700)).map_err(fault)?;
    let path = crate::database_path(dir);
    if path.exists() {
        check_ours(&path)?;
        up_to_date(&path)?;
    } else {
        make_new(&path)?;
    }
    for name in ["", "-wal", "-shm"] {
        let mut beside = path.clone().into_os_string();
        beside.push(name);
        // Those that are not there need nothing.
        let _ = fs::set_permissions(beside, Permissions::from_mode(0o600));
    }
    Ok(path)
}

/// A new database takes its place when it is whole, so that a file that is there is either ours or somebody else's.
fn make_new(path: &Path) -> Result<()> {
    let mut half = path.to_owned().into_os_string();
    half.push(format!(".new-{}", std::process::id()));
    let half = PathBuf::from(half);
    let fault = |fault| Error::File(half.clone(), fault);
    OpenOptions::new().write(true).create(true).truncate(true).mode(0o600).open(&half).map_err(fault)?;
    let made = up_to_date(&half).and_then(|()| {
        // Where another program made one meanwhile, that one stays.
        fs::hard_link(&half, path).or_else(|found| if path.exists() { Ok(()) } else { Err(found) }).map_err(fault)
    });
    let _ = fs::remove_file(&half);
    made
}

fn up_to_date(path: &Path) -> Result<()> {
    let mut connection = Connection::open(path)?;
    connection.busy_timeout(PATIENCE)?;
    connection.pragma_update(None, "journal_mode", "WAL")?;
    functions::add(&connection)?;
    let migrations = Migrations::from_slice(STEPS);
    if let SchemaVersion::Outside(_) = migrations.current_version(&connection)? {
        return Err(Error::Newer(path.to_owned()));
    }
    migrations.to_latest(&mut connection)?;
    if mark(&connection)? != OURS {
        connection.pragma_update(None, "application_id", OURS)?;
    }
    Ok(())
}

fn mark(connection: &Connection) -> Result<i32> {
    Ok(connection.query_row("PRAGMA application_id", [], |row| row.get(0))?)
}

/// Whether a database is a workspace: by its mark, or, from before there was one, by what it holds.
pub(crate) fn is_ours(connection: &Connection) -> Result<bool> {
    let sql = "SELECT count(*) = 3 FROM sqlite_schema WHERE type = 'table' AND name IN ('change_set', 'change', 'feedback_item')";
    Ok(match mark(connection)? {
        OURS => true,
        0 => connection.query_row(sql, [], |row| row.get(0))?,
        _ => false,
    })
}

fn check_ours(path: &Path) -> Result<()> {
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    let ours =
        Connection::open_with_flags(path, flags).map_err(Error::from).and_then(|connection| is_ours(&connection));
    match ours {
        Ok(true) => Ok(()),
        Ok(false) => Err(Error::Strange(path.to_owned())),
        Err(Error::Sqlite(fault)) if fault.sqlite_error_code() == Some(ErrorCode::NotADatabase) => {
            Err(Error::Strange(path.to_owned()))
        }
        Err(fault) => Err(fault),
    }
}

/// Whether something was erased here of which the file was not cleaned yet.
pub(crate) fn was_left_unclean(path: &Path) -> Result<bool> {
    let connection = Connection::open(path)?;
    let sql = "SELECT EXISTS (SELECT 1 FROM unfinished WHERE what = 'clean')";
    Ok(connection.query_row(sql, [], |row| row.get(0))?)
}

/// A connection that only looks, also where nothing can be written.
///
/// # Errors
/// Where the file is no workspace of ours, or of another version.
pub(crate) fn looking(path: &Path) -> Result<Connection> {
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX | OpenFlags::SQLITE_OPEN_URI;
    let open = |more: &str| -> Result<Connection> {
        let place = path.to_string_lossy().replace('%', "%25").replace('?', "%3f").replace('#', "%23");
        let connection = Connection::open_with_flags(format!("file:{place}{more}"), flags)?;
        connection.query_row("SELECT count(*) FROM sqlite_schema", [], |_| Ok(()))?;
        Ok(connection)
    };
    // Beside a log that cannot be made, the file is taken as it stands.
    let connection = match open("") {
        Err(Error::Sqlite(fault)) if fault.sqlite_error_code() == Some(ErrorCode::NotADatabase) => {
            return Err(Error::Strange(path.to_owned()));
        }
        Err(Error::Sqlite(fault))
            if matches!(fault.sqlite_error_code(), Some(ErrorCode::CannotOpen | ErrorCode::ReadOnly)) =>
        {
            open("?immutable=1")?
        }
        opened => opened?,
    };
    if !is_ours(&connection)? {
        return Err(Error::Strange(path.to_owned()));
    }
    functions::add(&connection)?;
    match Migrations::from_slice(STEPS).current_version(&connection)? {
        SchemaVersion::Inside(at) if at.get() == STEPS.len() => Ok(connection),
        SchemaVersion::Outside(_) => Err(Error::Newer(path.to_owned())),
        _ => Err(Error::Older(path.to_owned())),
    }
}

/// The connection that writes. `FULL` so that what was answered is on the disk. Pages that many writes change, as an import does, go
/// into the database once for 32 MB of the log, and not after each.
pub(crate) fn writing(path: &Path) -> Result<Connection> {
    let connection = Connection::open(path)?;
    connection.busy_timeout(PATIENCE)?;
    connection.execute_batch(
        "PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -64000;
         PRAGMA wal_autocheckpoint = 8192;",
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
    use crate::rows::Rows;
    use crate::shape::Shape;

    #[test]
    fn the_steps_are_sound_and_can_be_taken_twice() {
        let mut connection = Connection::open("").unwrap();
        functions::add(&connection).unwrap();
        Migrations::from_slice(STEPS).to_latest(&mut connection).unwrap();
        let dir = tempfile::tempdir().unwrap();
        prepare(dir.path()).unwrap();
        prepare(dir.path()).unwrap();
    }

    #[test]
    fn files_of_a_workspace_from_before_parts_are_all_there() {
        let mut connection = Connection::open("").unwrap();
        functions::add(&connection).unwrap();
        Migrations::from_slice(&STEPS[..25]).to_latest(&mut connection).unwrap();
        let large: Vec<u8> =
            (0..2_500_000_u32).map(|n| (n.wrapping_mul(2_654_435_761) >> 13).to_le_bytes()[0]).collect();
        let put = "INSERT INTO attachment(name, media_type, bytes, made_at) VALUES ('x', 'y', ?1, 0)";
        for bytes in [&large[..], b"words", b""] {
            connection.execute(put, [bytes]).unwrap();
        }
        connection
            .execute_batch(
                "INSERT INTO product(name) VALUES ('Crossing');
                 INSERT INTO incoming(product_id, name, bytes, at) VALUES (1, 'z', CAST('text' AS BLOB), 0)",
            )
            .unwrap();
        Migrations::from_slice(STEPS).to_latest(&mut connection).unwrap();
        let shape = Shape::read(&connection).unwrap();
        let rows = Rows::new(&connection, &shape);
        for (id, bytes) in [(1, &large[..]), (2, b"words"), (3, b"")] {
            assert!(rows.file_bytes(rows.attachment(id).unwrap().file, 0, usize::MAX).unwrap() == bytes, "{id}");
        }
        assert_eq!(rows.file_bytes(rows.incoming(1).unwrap().file, 0, usize::MAX).unwrap(), b"text");
        let faults = crate::verify::found_in(&rows).faults;
        assert!(faults.iter().all(|fault| !fault.contains("the file")), "{faults:?}");
    }

    #[test]
    fn what_is_kept_beside_is_made_for_a_workspace_from_before_it() {
        let dir = tempfile::tempdir().unwrap();
        let mut connection = Connection::open(crate::database_path(dir.path())).unwrap();
        functions::add(&connection).unwrap();
        Migrations::from_slice(&STEPS[..33]).to_latest(&mut connection).unwrap();
        connection
            .execute_batch(
                "INSERT INTO product(name) VALUES ('Crossing'), ('Harbour');
                 INSERT INTO work_item(product_id, level, parent_id, position, title, state, map_position, points) VALUES
                   (1, 'epic', NULL, 1, 'Early warnings', 'draft', 1, NULL), (1, 'feature', 1, 1, 'By text', 'draft', 1, 40),
                   (1, 'story', 2, 1, 'Warn', 'done', 1, 3), (1, 'story', 1, 2, 'Choose', 'draft', 2, 5),
                   (1, 'task', 3, 1, 'Send', 'done', 1, 9);
                 INSERT INTO idea(product_id, title, state) VALUES (2, 'Early boats', 'raw');",
            )
            .unwrap();
        drop(connection);
        let store = crate::Store::open(dir.path()).unwrap();
        store
            .read(|rows| {
                let below = "SELECT json_group_array(json_array(item_id, stories, stories_done, points, points_done)) FROM work_below";
                let below: String = rows.connection.query_row(below, [], |row| row.get(0))?;
                assert_eq!(below, "[[1,2,1,8.0,3.0],[2,1,1,3.0,3.0],[3,1,1,3.0,3.0],[4,1,0,5.0,0.0],[5,0,0,0.0,0.0]]");
                for (product, title) in [(1, "Early warnings"), (2, "Early boats")] {
                    let found = rows.search_things(product.into(), "early", None, 9)?;
                    assert_eq!(found.iter().map(|hit| hit.title.as_str()).collect::<Vec<_>>(), [title]);
                }
                Ok::<_, Error>(())
            })
            .unwrap();
    }

    #[test]
    fn what_is_not_ours_is_refused_and_left_as_it_is() {
        let dir = tempfile::tempdir().unwrap();
        let path = crate::database_path(dir.path());
        let theirs = || {
            let connection = Connection::open(&path).unwrap();
            connection.execute_batch("CREATE TABLE letters(id INTEGER PRIMARY KEY, words TEXT)").unwrap();
        };
        let makes: [(&str, &dyn Fn()); 3] = [
            ("an empty file", &|| fs::write(&path, b"").unwrap()),
            ("a text", &|| fs::write(&path, b"hello there, this is no database at all").unwrap()),
            ("a stranger's database", &theirs),
        ];
        for (what, make) in makes {
            make();
            let before = fs::read(&path).unwrap();
            for fault in [prepare(dir.path()).unwrap_err(), looking(&path).unwrap_err()] {
                assert!(fault.to_string().contains("no workspace of Iron Kite"), "{what}: {fault}");
            }
            assert_eq!(fs::read(&path).unwrap(), before, "{what}");
            fs::remove_file(&path).unwrap();
        }
    }

    #[test]
    fn nobody_else_may_look_into_it_and_what_was_open_is_closed() {
        let dir = tempfile::tempdir().unwrap();
        let place = dir.path().join("new");
        let mode = |path: &Path| fs::metadata(path).unwrap().permissions().mode() & 0o777;
        let path = prepare(&place).unwrap();
        assert_eq!((mode(&place), mode(&path)), (0o700, 0o600));
        fs::set_permissions(&place, Permissions::from_mode(0o755)).unwrap();
        fs::set_permissions(&path, Permissions::from_mode(0o644)).unwrap();
        prepare(&place).unwrap();
        assert_eq!((mode(&place), mode(&path)), (0o700, 0o600));
        assert_eq!(fs::read_dir(&place).unwrap().count(), 1, "nothing half made is left");
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
