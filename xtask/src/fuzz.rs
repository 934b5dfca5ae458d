//! Every reader of files, fed with what a search for new paths through it makes of sound files.

use std::fs;
use std::path::Path;

use crate::run::{is_there, run_with, say, top};

/// Where sound files lie to begin with.
const SEEDS: [&str; 2] = ["crates/documents/tests/files", "demo"];
/// A seed is no longer than this, and nothing that is made of it.
const LONGEST: u64 = 256 * 1024;

/// Feeds each target for so many seconds, or only those that are named.
pub(crate) fn fuzz(seconds: u32, wanted: &[String]) -> Result<(), String> {
    if !is_there("cargo-fuzz") {
        return Err("cargo-fuzz is missing, and it takes a nightly compiler; install them with: cargo install cargo-fuzz --locked && \
                    rustup toolchain install nightly"
            .into());
    }
    let all = targets()?;
    if let Some(strange) = wanted.iter().find(|name| !all.iter().any(|(target, _)| target == *name)) {
        return Err(format!("there is no target {strange}; there are {}", names(&all)));
    }
    let mut fell = Vec::new();
    for (target, ending) in all.iter().filter(|(target, _)| wanted.is_empty() || wanted.contains(target)) {
        let corpus = format!("fuzz/corpus/{target}");
        seed(&top().join(&corpus), ending)?;
        let (time, longest) = (format!("-max_total_time={seconds}"), format!("-max_len={LONGEST}"));
        let args = ["fuzz", "run", target, &corpus, "--", &time, &longest, "-timeout=20", "-rss_limit_mb=1024"];
        if run_with(".", "cargo", &args, &[("RUSTUP_TOOLCHAIN", "nightly")]).is_err() {
            fell.push(target.clone());
        }
    }
    if fell.is_empty() { Ok(()) } else { Err(format!("found something: {}; see fuzz/artifacts", fell.join(", "))) }
}

/// The targets, each with the ending of the files that it reads.
fn targets() -> Result<Vec<(String, String)>, String> {
    let folder = fs::read_dir(top().join("fuzz/fuzz_targets")).map_err(|fault| fault.to_string())?;
    let mut all = Vec::new();
    for file in folder.flatten() {
        let source = fs::read_to_string(file.path()).map_err(|fault| fault.to_string())?;
        let name = file.path().file_stem().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
        let ending = source.split("\"t.").nth(1).and_then(|rest| rest.split('"').next()).unwrap_or("none");
        all.push((name, ending.to_owned()));
    }
    all.sort();
    Ok(all)
}

fn names(all: &[(String, String)]) -> String {
    all.iter().map(|(name, _)| name.as_str()).collect::<Vec<_>>().join(", ")
}

fn seed(corpus: &Path, ending: &str) -> Result<(), String> {
    fs::create_dir_all(corpus).map_err(|fault| fault.to_string())?;
    for file in SEEDS.iter().filter_map(|folder| fs::read_dir(top().join(folder)).ok()).flatten().flatten() {
        let path = file.path();
        let fits = path.extension().is_some_and(|own| own == ending);
        if fits && file.metadata().is_ok_and(|file| file.len() <= LONGEST) {
            fs::copy(&path, corpus.join(file.file_name())).map_err(|fault| fault.to_string())?;
        }
    }
    say(&format!("{}: {} files to begin with", corpus.display(), fs::read_dir(corpus).map_or(0, Iterator::count)));
    Ok(())
}
