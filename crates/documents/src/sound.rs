//! What holds of whatever is read from a file, whatever the file: looked at where the reading was done by a process that the file
//! may have turned, and where readers are tried.

use crate::{Held, Part};

/// Whether what was read is what a reader may answer. O(what is held).
///
/// # Errors
/// In words, what is wrong.
pub fn check_parts(parts: &[Part]) -> Result<(), String> {
    if parts.is_empty() {
        return Err("there is no part".into());
    }
    parts.iter().try_for_each(|part| check(part).map_err(|fault| format!("{}: {fault}", part.name)))
}

fn check(part: &Part) -> Result<(), String> {
    match &part.held {
        Held::Refused(words) if !words.ends_with('.') => Err(format!("it is refused without a sentence: {words}")),
        Held::Wordless { what, .. } if what.is_empty() => Err("it is nothing".into()),
        Held::Refused(_) | Held::Wordless { .. } => Ok(()),
        Held::Table(table) | Held::Hidden(table) => {
            match table.rows.iter().find(|row| row.cells.len() > table.columns.len()) {
                Some(row) => Err(format!("row {} is wider than the headings", row.number)),
                None => Ok(()),
            }
        }
        Held::Documents(documents) => documents.iter().try_for_each(|document| {
            let length = document.text.chars().count();
            let within = document.turns.iter().all(|turn| turn.from <= turn.to && turn.to <= length);
            let apart = document.turns.windows(2).all(|pair| pair[0].to <= pair[1].from);
            if within && apart {
                Ok(())
            } else {
                Err(format!("who speaks where is beyond the words: {}", document.title))
            }
        }),
    }
}
