//! What ARCHITECTURE.md names is there.

use std::fs;
use std::path::Path;

use crate::run::top;

const PAGE: &str = "ARCHITECTURE.md";

/// Every path between backquotes leads to a file or a folder: from the top, or in a crate (`core/kind`), where `src` is left out.
pub(crate) fn paths_are_there() -> Result<(), String> {
    let page = fs::read_to_string(top().join(PAGE)).map_err(|fault| format!("{PAGE}: {fault}"))?;
    let words = page.split('`').skip(1).step_by(2);
    let named = words.filter(|word| is_path(word)).flat_map(alternatives);
    let gone: Vec<String> = named.filter(|path| !is_there(&top(), path)).collect();
    if gone.is_empty() { Ok(()) } else { Err(format!("{PAGE} names what is not there: {}", gone.join(", "))) }
}

/// Names in capitals stand for any (`STAGE`), and what begins with a slash is an address.
fn is_path(word: &str) -> bool {
    let any =
        word.split(['/', '.']).any(|part| part.len() > 1 && part.chars().all(|letter| letter.is_ascii_uppercase()));
    word.contains('/') && !word.starts_with('/') && !word.contains(' ') && !any
}

/// `a/{b,c}.rs` is `a/b.rs` and `a/c.rs`.
fn alternatives(word: &str) -> Vec<String> {
    let Some((before, rest)) = word.split_once('{') else { return vec![word.to_owned()] };
    let Some((inside, after)) = rest.split_once('}') else { return vec![word.to_owned()] };
    inside.split(',').map(|one| format!("{before}{}{after}", one.trim())).collect()
}

fn is_there(top: &Path, path: &str) -> bool {
    if let Some((folder, name)) = path.split_once("/.../") {
        return below(&top.join(folder), name);
    }
    let (first, rest) = path.split_once('/').unwrap_or((path, ""));
    let crates = top.join("crates");
    [top.join(path), crates.join(path), crates.join(first).join("src").join(rest)]
        .iter()
        .any(|place| place.exists() || place.with_extension("rs").exists())
}

fn below(folder: &Path, name: &str) -> bool {
    let Ok(entries) = fs::read_dir(folder) else { return false };
    entries.flatten().any(|entry| {
        let path = entry.path();
        if path.is_dir() { !path.ends_with("node_modules") && below(&path, name) } else { path.ends_with(name) }
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn paths_are_told_from_other_words() {
        assert!(is_path("core/kind") && is_path("web/.../{A,b}.vue") && is_path("store/queries/trace.rs"));
        assert!(!is_path("server/routes/STAGE.rs") && !is_path("/") && !is_path("Tx::expect") && !is_path("a / b"));
        assert_eq!(alternatives("core/{a, b}.rs"), ["core/a.rs", "core/b.rs"]);
        assert!(is_there(&top(), "core/kind") && !is_there(&top(), "core/nothing"));
    }
}
