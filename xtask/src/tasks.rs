//! What each command does.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};
use std::time::SystemTime;

use serde_json::Value;

use crate::docs;
use crate::run::{is_there, output, run, run_with, say, top};

const DESCRIPTION: &str = "web/src/api/openapi.json";
const KINDS: &str = "web/src/api/kinds.gen.ts";
const TYPES: &str = "web/src/api/schema.gen.ts";
/// The most that a first load may weigh, in bytes of compressed script and styles.
const FIRST_LOAD: u64 = 250 * 1024;

/// What the program is built and tested with: all but the browser tests, whose crates would have it read JSON in another
/// way than what is shipped. What is depended on is compiled once for it, and anew for each other choice of crates.
/// All tests but the browser's. Each command chooses the whole workspace: with a part of it, the features of what it depends on are
/// others, and all of it is built once more.
const TESTS: [&str; 6] = ["test", "--locked", "--workspace", "--lib", "--bins", "--test=all"];
const BROWSER_TESTS: [&str; 4] = ["test", "--locked", "--workspace", "--test=browser"];

fn program() -> String {
    top().join("target/debug/iron-kite").display().to_string()
}

pub(crate) fn demo(port: u16, data: Option<PathBuf>) -> Result<(), String> {
    build(false)?;
    let port = port.to_string();
    let mut args = vec!["demo".to_owned(), "--port".to_owned(), port];
    if let Some(data) = data {
        let data = std::path::absolute(data).map_err(|fault| fault.to_string())?;
        args.extend(["--data".to_owned(), data.display().to_string()]);
    }
    run(".", &program(), &args.iter().map(String::as_str).collect::<Vec<_>>())
}

pub(crate) fn build(release: bool) -> Result<(), String> {
    web()?;
    if !release {
        return run(".", "cargo", &["build", "--locked", "--workspace", "--bin", "iron-kite"]);
    }
    // The folder of the front end is embedded when the crate is compiled, so it is compiled now.
    touch("crates/server/src/assets.rs")?;
    run(".", "cargo", &["build", "--locked", "-p", "iron-kite", "--release"])
}

fn touch(path: &str) -> Result<(), String> {
    let file = fs::File::options().append(true).open(top().join(path)).map_err(|fault| fault.to_string())?;
    file.set_modified(std::time::SystemTime::now()).map_err(|fault| fault.to_string())
}

/// The front end with its packages; each is made where what it is made of is newer.
fn web() -> Result<(), String> {
    packages()?;
    let made_of = ["src", "public", "index.html", "vite.config.ts", "tsconfig.json", "node_modules/.package-lock.json"];
    let changed = made_of.iter().filter_map(|name| changed(&top().join("web").join(name))).max();
    let built = fs::metadata(top().join("web/dist/.vite/manifest.json")).and_then(|file| file.modified()).ok();
    if built.is_some() && built > changed {
        return Ok(());
    }
    run("web", "npx", &["--no-install", "vite", "build", "--logLevel", "warn"])
}

/// When a file was changed last, or anything in a folder; what is taken out of a folder changes it, too.
fn changed(path: &Path) -> Option<SystemTime> {
    let within = fs::read_dir(path).into_iter().flatten().flatten().filter_map(|entry| changed(&entry.path()));
    within.chain(fs::metadata(path).and_then(|file| file.modified())).max()
}

fn packages() -> Result<(), String> {
    if !is_there("node") || !is_there("npm") {
        return Err("Node.js with npm is missing; install it with: apt-get install nodejs npm".into());
    }
    let changed = |path: &str| fs::metadata(top().join(path)).and_then(|file| file.modified());
    let fresh = match (changed("web/package-lock.json"), changed("web/node_modules/.package-lock.json")) {
        (Ok(lock), Ok(installed)) => installed >= lock,
        _ => false,
    };
    if fresh { Ok(()) } else { run("web", "npm", &["ci"]) }
}

/// Chromium and its driver, installed where that is allowed.
fn browser() -> Result<(), String> {
    if is_there("chromedriver") && is_there("chromium") {
        return Ok(());
    }
    let command = "apt-get update && apt-get install -y chromium chromium-driver";
    say("The browser tests need Chromium and its driver.");
    run("/", "sh", &["-c", command]).map_err(|_| format!("Chromium could not be installed; as root run: {command}"))
}

pub(crate) fn test() -> Result<(), String> {
    browser()?;
    build(false)?;
    // Laws are tried on the same cases each time: a change is judged by what it changes and not by luck.
    run_with(".", "cargo", &TESTS, &[("PROPTEST_RNG_SEED", "7420")])?;
    run(".", "cargo", &["test", "--locked", "--workspace", "--doc"])?;
    // A browser needs much of a small machine: two at once.
    run(".", "cargo", &[&BROWSER_TESTS[..], &["--", "--test-threads", "2"]].concat())
}

/// All tests but the browser's, the laws on more cases and on others each time.
pub(crate) fn laws(cases: u32) -> Result<(), String> {
    build(false)?;
    run_with(".", "cargo", &[&TESTS[..], &["--no-fail-fast"]].concat(), &[("PROPTEST_CASES", &cases.to_string())])
}

pub(crate) fn check() -> Result<(), String> {
    packages()?;
    run(".", "cargo", &["fmt", "--all", "--", "--check"])?;
    run("web", "npx", &["--no-install", "prettier", "--check", "--log-level", "warn", "."])?;
    web()?;
    first_load()?;
    run(".", "cargo", &["clippy", "--locked", "--workspace", "--all-targets", "--", "-D", "warnings"])?;
    run("web", "npx", &["--no-install", "eslint", ".", "--max-warnings", "0"])?;
    run("web", "npx", &["--no-install", "vue-tsc", "--noEmit", "-p", "tsconfig.json"])?;
    layers()?;
    all_tests()?;
    docs::paths_are_there()?;
    drift()
}

/// Every file of tests is a part of its crate's program of tests.
fn all_tests() -> Result<(), String> {
    for entry in fs::read_dir(top().join("crates")).map_err(|fault| fault.to_string())?.flatten() {
        let folder = entry.path().join("tests");
        let Ok(all) = fs::read_to_string(folder.join("all.rs")) else { continue };
        for file in fs::read_dir(&folder).map_err(|fault| fault.to_string())?.flatten() {
            let name = file.file_name().to_string_lossy().into_owned();
            let Some(name) = name.strip_suffix(".rs").filter(|name| *name != "all") else { continue };
            if !all.contains(&format!("mod {name};")) {
                return Err(format!(
                    "{} does not name {name}: its tests would not run",
                    folder.join("all.rs").display()
                ));
            }
        }
    }
    Ok(())
}

/// Core stays a leaf: none of these may be among what it depends on.
fn layers() -> Result<(), String> {
    let tree = output(
        "cargo",
        &["tree", "--locked", "-p", "iron-kite-core", "-e", "normal", "--prefix", "none", "--all-features"],
    )?;
    let banned = ["rusqlite", "actix-web", "tokio", "reqwest", "iron-kite-store", "iron-kite-ops", "getrandom"];
    match banned.iter().find(|name| tree.lines().any(|line| line.split(' ').next() == Some(**name))) {
        Some(name) => Err(format!("core depends on {name}; it is to stay without input, output and chance")),
        None => Ok(()),
    }
}

/// What somebody loads who opens a stage for the first time: the page, the frame, and the heaviest stage's view
/// with all that they import, compressed as gzip would send it.
fn first_load() -> Result<(), String> {
    let dist = top().join("web/dist");
    let text = fs::read_to_string(dist.join(".vite/manifest.json")).map_err(|fault| fault.to_string())?;
    let manifest: Value = serde_json::from_str(&text).map_err(|fault| fault.to_string())?;
    let views =
        manifest.as_object().into_iter().flatten().map(|(name, _)| name).filter(|name| name.ends_with("View.vue"));
    let mut most = (0, String::new());
    for view in views {
        let mut files = BTreeSet::new();
        for entry in ["index.html", "src/shell/AppShell.vue", view] {
            files_of(&manifest, entry, &mut files);
        }
        let sizes: Result<Vec<u64>, String> = files.iter().map(|file| compressed(&dist.join(file))).collect();
        most = most.max((sizes?.iter().sum(), view.clone()));
    }
    let (bytes, view) = most;
    say(&format!("first load: at most {} KB of script and styles, compressed ({view})", bytes / 1024));
    if bytes <= FIRST_LOAD {
        Ok(())
    } else {
        Err(format!("the first load is {bytes} bytes; at most {FIRST_LOAD} may be"))
    }
}

fn files_of(manifest: &Value, entry: &str, files: &mut BTreeSet<String>) {
    let chunk = &manifest[entry];
    let Some(file) = chunk["file"].as_str() else { return };
    if files.insert(file.to_owned()) {
        files.extend(chunk["css"].as_array().into_iter().flatten().filter_map(Value::as_str).map(str::to_owned));
        for import in chunk["imports"].as_array().into_iter().flatten().filter_map(Value::as_str) {
            files_of(manifest, import, files);
        }
    }
}

fn compressed(file: &Path) -> Result<u64, String> {
    let size = output("sh", &["-c", &format!("gzip -9 -c '{}' | wc -c", file.display())])?;
    size.trim().parse().map_err(|fault| format!("{}: {fault}", file.display()))
}

pub(crate) fn generate() -> Result<(), String> {
    build(false)?;
    let description = output(&program(), &["openapi"])?;
    fs::write(top().join(DESCRIPTION), description).map_err(|fault| fault.to_string())?;
    let kinds = output(&program(), &["kinds"])?;
    fs::write(top().join(KINDS), kinds).map_err(|fault| fault.to_string())?;
    packages()?;
    run("web", "npx", &["--no-install", "openapi-typescript", "src/api/openapi.json", "-o", "src/api/schema.gen.ts"])
}

/// What is generated must be what is committed.
fn drift() -> Result<(), String> {
    let read = |path: &str| fs::read(top().join(path)).map_err(|fault| format!("{path}: {fault}"));
    let before = [DESCRIPTION, TYPES, KINDS].map(read);
    generate()?;
    let after = [DESCRIPTION, TYPES, KINDS].map(read);
    if before == after {
        Ok(())
    } else {
        Err("the API or a kind of thing changed: commit what `cargo xtask generate` has just written".into())
    }
}

pub(crate) fn screenshots() -> Result<(), String> {
    browser()?;
    build(false)?;
    let folder = top().join("target/pictures");
    fs::create_dir_all(&folder).map_err(|fault| fault.to_string())?;
    let pictures = folder.display().to_string();
    run_with(".", "cargo", &[&BROWSER_TESTS[..], &["--", "views::"]].concat(), &[("IRON_KITE_PICTURES", &pictures)])?;
    for entry in fs::read_dir(&folder).map_err(|fault| fault.to_string())?.flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        // One for each main view, and one of them dark: the rest is for looking at.
        const KEPT: [&str; 19] = [
            "listen-findings.png",
            "opening.png",
            "listen-suggestions.png",
            "listen-feedback.png",
            "listen-overview.png",
            "decide-ranking.png",
            "decide-budget.png",
            "decide-requests.png",
            "decide-market.png",
            "decide-tree.png",
            "specify-stories.png",
            "map.png",
            "plan-releases.png",
            "handover-roadmap.png",
            "handover-queue.png",
            "all-table.png",
            "all-timeline.png",
            "all-chart.png",
            "learn-results.png",
        ];
        if KEPT.contains(&name.as_str()) {
            fs::copy(entry.path(), top().join("docs/screenshots").join(&name)).map_err(|fault| fault.to_string())?;
        }
    }
    Ok(())
}

pub(crate) fn bench(what: &[String]) -> Result<(), String> {
    build(true)?;
    let mut args = vec!["run", "--locked", "--release", "-p", "iron-kite-bench", "--"];
    args.extend(what.iter().map(String::as_str));
    run(".", "cargo", &args)
}
