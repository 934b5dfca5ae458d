//! A folder that is watched: every file that is new or changed since the last look.

use std::collections::BTreeMap;
use std::path::Path;
use std::time::{Duration, SystemTime, UNIX_EPOCH};

use iron_kite_ops::listen::MOST_BYTES;
use iron_kite_ops::outside::Fetched;

use super::plain;

/// What tells that a file changed: its size and its last change in milliseconds since 1970.
type Mark = (u64, u128);

/// A file that changed just now is perhaps still being written.
const SETTLED: Duration = Duration::from_secs(2);
/// At most so many files at once.
const MOST_FILES: usize = 50;

/// What is new in a folder. The cursor is the mark of every file that was given.
pub(super) fn fetch(folder: &Path, cursor: Option<&str>) -> Result<Fetched, String> {
    let unreadable = |fault: &std::io::Error| format!("{} cannot be read: {}.", folder.display(), plain(fault));
    let mut known: BTreeMap<String, Mark> =
        cursor.and_then(|cursor| serde_json::from_str(cursor).ok()).unwrap_or_default();
    let mut there: Vec<(String, Mark)> = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(|fault| unreadable(&fault))? {
        let entry = entry.map_err(|fault| unreadable(&fault))?;
        let name = entry.file_name().to_string_lossy().into_owned();
        // Only files themselves: what a link leads to may lie anywhere.
        let Ok(meta) = entry.metadata() else { continue };
        if !meta.is_file() || name.starts_with('.') || name.ends_with('~') || name.ends_with(".part") {
            continue;
        }
        let changed = meta.modified().unwrap_or(UNIX_EPOCH);
        if SystemTime::now().duration_since(changed).is_ok_and(|age| age < SETTLED) {
            continue;
        }
        let at = changed.duration_since(UNIX_EPOCH).unwrap_or_default().as_millis();
        there.push((name, (meta.len(), at)));
    }
    known.retain(|name, _| there.iter().any(|(other, _)| other == name));
    let mut fresh: Vec<(String, Mark)> =
        there.into_iter().filter(|(name, mark)| known.get(name) != Some(mark)).collect();
    fresh.sort_unstable_by(|a, b| (a.1.1, &a.0).cmp(&(b.1.1, &b.0)));
    let mut found = Fetched::default();
    let mut bytes = 0;
    for (name, mark) in fresh {
        let size = usize::try_from(mark.0).unwrap_or(usize::MAX);
        if found.files.len() == MOST_FILES || bytes > 0 && bytes + size.min(MOST_BYTES) > MOST_BYTES {
            found.more = true;
            break;
        }
        if size > MOST_BYTES {
            let why = format!("The file is larger than {} MB. Split it.", MOST_BYTES / 1024 / 1024);
            found.left_out.push((name.clone(), why));
        } else {
            match std::fs::read(folder.join(&name)) {
                Ok(read) => {
                    bytes += read.len();
                    found.files.push((name.clone(), read));
                }
                Err(fault) => {
                    found.left_out.push((name.clone(), format!("The file was not taken: {}.", plain(&fault))))
                }
            }
        }
        known.insert(name, mark);
    }
    found.cursor = serde_json::to_string(&known).map_err(|fault| fault.to_string())?;
    Ok(found)
}
