//! A whole workspace as one JSON file.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

/// The name that such a file carries.
pub const FORMAT: &str = "iron-kite-workspace";
/// The version that this program writes, and the newest that it reads.
pub const VERSION: u32 = 1;

/// The file: every table's rows, each row with all its columns, people without their passwords.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Workspace {
    /// Always [`FORMAT`].
    pub format: String,
    /// The version of the form.
    pub version: u32,
    /// Rows by table, in the order of their numbers.
    pub tables: BTreeMap<String, Vec<Map<String, Value>>>,
}

/// Reads such a file.
///
/// # Errors
/// In words, where it is another format, newer than this program, or damaged.
pub fn read(bytes: &[u8]) -> Result<Workspace, String> {
    #[derive(Deserialize)]
    struct Head {
        format: Option<String>,
        version: Option<u32>,
    }
    let damaged = |fault: serde_json::Error| {
        format!("The file is damaged or no workspace export ({fault}). Nothing was imported.")
    };
    let head: Head = serde_json::from_slice(bytes).map_err(damaged)?;
    if head.format.as_deref() != Some(FORMAT) {
        return Err(format!("This is no workspace export: its \"format\" is not \"{FORMAT}\". Nothing was imported."));
    }
    match head.version {
        Some(version) if version > VERSION => Err(format!(
            "The file was written by a newer Iron Kite (version {version} of the format; this one reads up to {VERSION}). \
             Update this one first. Nothing was imported."
        )),
        Some(_) => serde_json::from_slice(bytes).map_err(damaged),
        None => Err("The file has no version. Nothing was imported.".into()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn strangers_and_newer_files_are_refused_in_words() {
        for (file, words) in [
            ("{", "damaged"),
            ("[]", "damaged"),
            (r#"{"format":"other","version":1,"tables":{}}"#, "no workspace export"),
            (r#"{"format":"iron-kite-workspace","version":9,"tables":{}}"#, "newer Iron Kite"),
            (r#"{"format":"iron-kite-workspace","tables":{}}"#, "no version"),
            (r#"{"format":"iron-kite-workspace","version":1,"tables":{"idea":[3]}}"#, "damaged"),
        ] {
            assert!(read(file.as_bytes()).unwrap_err().contains(words), "{file}");
        }
        assert!(read(br#"{"format":"iron-kite-workspace","version":1,"tables":{}}"#).is_ok());
    }
}
