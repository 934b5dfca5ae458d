//! What must hold of every reader, whatever it is fed with.

use std::sync::Once;

use iron_kite_documents::{check_parts, read};

static LISTEN: Once = Once::new();

/// Reads a file, and ends the process where what was read is not sound or code of ours stumbled. A library that stumbles is
/// caught by the reader and said to be a damaged file.
///
/// # Panics
/// Where a reader does not do what it must.
pub fn holds(name: &str, bytes: &[u8]) {
    LISTEN.call_once(|| {
        let before = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |stumble| {
            let at = stumble.location().map(|at| at.file().to_owned()).unwrap_or_default();
            if at.contains("crates/documents/src") || at.contains("crates/core/src") || at.contains("fuzz/src") {
                before(stumble);
            }
        }));
    });
    if let Err(fault) = check_parts(&read(name, bytes)) {
        panic!("{name}: {fault}");
    }
}
