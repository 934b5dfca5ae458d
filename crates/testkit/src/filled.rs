//! The demo data, played once for each build of the program: that takes longer than most tests that begin with them.

use std::fs;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::OnceLock;
use std::time::UNIX_EPOCH;

use crate::server::{Server, binary};

/// Copies a workspace with the demo data into an empty folder.
pub(crate) fn fill(dir: &Path) {
    static FILLED: OnceLock<PathBuf> = OnceLock::new();
    copy(FILLED.get_or_init(filled), dir).expect("the demo data are copied");
}

/// The folder of the demo data of this build and this day, made where it is not there yet.
fn filled() -> PathBuf {
    let program = binary();
    let built = fs::metadata(&program).and_then(|file| file.modified()).expect("the program has a time");
    let built = built.duration_since(UNIX_EPOCH).expect("a time after 1970").as_nanos();
    // The days of the demo are told from today.
    let day = UNIX_EPOCH.elapsed().expect("a time after 1970").as_secs() / 86_400;
    let all = program.with_file_name("demo-for-tests");
    let folder = all.join(format!("{built}-{day}"));
    if !folder.exists() {
        let _ = fs::remove_dir_all(&all);
        let beside = all.join(format!("made-by-{}", std::process::id()));
        fs::create_dir_all(&beside).expect("a folder");
        Server::play(&beside).kill();
        // Where another test has made it meanwhile, that one is as good.
        let _ = fs::rename(&beside, &folder);
    }
    folder
}

fn copy(from: &Path, to: &Path) -> io::Result<()> {
    fs::create_dir_all(to)?;
    for entry in fs::read_dir(from)? {
        let entry = entry?;
        let to = to.join(entry.file_name());
        if entry.file_type()?.is_dir() {
            copy(&entry.path(), &to)?;
        } else {
            fs::copy(entry.path(), to)?;
        }
    }
    Ok(())
}
