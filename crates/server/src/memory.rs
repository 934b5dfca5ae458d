//! Memory that is let go of goes back to the system. The C library keeps large pieces for later, in a heap for each thread, by
//! default: after a few large files the program would hold several times what it needs.

use std::os::unix::process::CommandExt;
use std::process::Command;

/// What the C library reads before the program begins: few heaps, and pieces of a megabyte and more apart from them.
const SETTINGS: [(&str, &str); 2] = [("MALLOC_ARENA_MAX", "2"), ("MALLOC_MMAP_THRESHOLD_", "1048576")];

/// Starts the program anew with those settings, in the place of this one, unless they are set. Where that cannot be, it goes on
/// as it is.
pub(crate) fn give_back() {
    if SETTINGS.iter().any(|(name, _)| std::env::var_os(name).is_some()) {
        return;
    }
    if let Ok(program) = std::env::current_exe() {
        let fault = Command::new(program).args(std::env::args_os().skip(1)).envs(SETTINGS).exec();
        tracing::warn!(%fault, "memory that is let go of may stay with the program");
    }
}
