//! Backups in the folder of the workspace: made at a touch, few of them kept.

use std::path::{Path, PathBuf};
use std::time::UNIX_EPOCH;

use iron_kite_core::problem::Problem;
use iron_kite_ops::App;
use jiff::Timestamp;

/// The folder in that of the workspace where they lie.
const FOLDER: &str = "backups";
/// What their names begin and end with.
const NAMED: (&str, &str) = ("iron-kite-", ".db");
/// So many are kept.
const KEPT: usize = 10;

/// A backup.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Backup {
    pub(crate) name: String,
    pub(crate) size: u64,
    /// In milliseconds since 1970.
    pub(crate) made_at: i64,
}

fn fault(fault: std::io::Error) -> Problem {
    Problem::Internal(format!("the folder of backups: {fault}"))
}

/// All that lie there, the newest first.
pub(crate) fn all(dir: &Path) -> Result<Vec<Backup>, Problem> {
    let folder = dir.join(FOLDER);
    if !folder.exists() {
        return Ok(Vec::new());
    }
    let mut all = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(fault)? {
        let entry = entry.map_err(fault)?;
        let name = entry.file_name().to_string_lossy().into_owned();
        if name.starts_with(NAMED.0) && name.ends_with(NAMED.1) {
            all.push(of(name, &entry.path())?);
        }
    }
    all.sort_by(|a, b| b.name.cmp(&a.name));
    Ok(all)
}

fn of(name: String, path: &Path) -> Result<Backup, Problem> {
    let about = std::fs::metadata(path).map_err(fault)?;
    let made = about.modified().map_err(fault)?.duration_since(UNIX_EPOCH).unwrap_or_default();
    Ok(Backup { name, size: about.len(), made_at: i64::try_from(made.as_millis()).unwrap_or(i64::MAX) })
}

/// Makes one. It has its name when it is whole; of many the oldest go.
pub(crate) fn make(app: &App, dir: &Path, now: Timestamp) -> Result<Backup, Problem> {
    let folder = dir.join(FOLDER);
    std::fs::create_dir_all(&folder).map_err(fault)?;
    let moment = now.strftime("%Y-%m-%dT%H-%M-%SZ");
    let name = format!("{}{moment}{}", NAMED.0, NAMED.1);
    let path = folder.join(&name);
    if path.exists() {
        return Err(Problem::refused("just-made", "A backup was made this very second."));
    }
    let part: PathBuf = folder.join(format!("{name}.part"));
    let made = app.backup(&part).map_err(|fault| Problem::Internal(format!("the backup: {fault}")));
    if let Err(problem) = made {
        let _ = std::fs::remove_file(&part);
        return Err(problem);
    }
    std::fs::rename(&part, &path).map_err(fault)?;
    for old in all(dir)?.into_iter().skip(KEPT) {
        std::fs::remove_file(folder.join(old.name)).map_err(fault)?;
    }
    of(name, &path)
}
