//! Running other programs, with errors that say what to do.

use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

/// The folder of the project.
pub(crate) fn top() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().map_or_else(|| PathBuf::from("."), Path::to_owned)
}

/// Says something to the person at the keyboard.
pub(crate) fn say(words: &str) {
    let _ = writeln!(std::io::stderr(), "{words}");
}

/// Runs a command in a folder of the project and shows what it says.
pub(crate) fn run(folder: &str, program: &str, args: &[&str]) -> Result<(), String> {
    run_with(folder, program, args, &[])
}

/// The same with variables of the environment.
pub(crate) fn run_with(folder: &str, program: &str, args: &[&str], env: &[(&str, &str)]) -> Result<(), String> {
    say(&format!("$ {program} {}", args.join(" ")));
    let status = Command::new(program)
        .args(args)
        .envs(env.iter().copied())
        .current_dir(top().join(folder))
        .status()
        .map_err(|fault| format!("{program} cannot be run ({fault}); is it installed?"))?;
    if status.success() { Ok(()) } else { Err(format!("{program} {} failed", args.join(" "))) }
}

/// What a command prints.
pub(crate) fn output(program: &str, args: &[&str]) -> Result<String, String> {
    let done = Command::new(program)
        .args(args)
        .current_dir(top())
        .stderr(Stdio::inherit())
        .output()
        .map_err(|fault| format!("{program} cannot be run ({fault})"))?;
    if !done.status.success() {
        return Err(format!("{program} {} failed", args.join(" ")));
    }
    String::from_utf8(done.stdout).map_err(|fault| fault.to_string())
}

/// Whether a program is there.
pub(crate) fn is_there(program: &str) -> bool {
    let quiet = Command::new(program).arg("--version").stdout(Stdio::null()).stderr(Stdio::null()).status();
    quiet.is_ok_and(|status| status.success())
}
