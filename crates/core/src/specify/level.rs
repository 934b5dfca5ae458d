//! What may stand below what: initiative > epic > feature > story > task, any level may be skipped.

use crate::things::{Level, with_article};

/// Checks that an item of one level may stand below one of another. As a parent is always above, nothing can stand
/// below itself.
///
/// # Errors
/// In words, where the parent is not above.
pub fn check_parent(level: Level, parent: Level) -> Result<(), String> {
    if parent < level {
        return Ok(());
    }
    let (item, above) = (with_article(level.name()), with_article(parent.name()).to_lowercase());
    Err(format!("{item} cannot stand below {above}. Pick something larger."))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_parent_is_above() {
        assert_eq!(check_parent(Level::Story, Level::Epic), Ok(()));
        assert_eq!(check_parent(Level::Task, Level::Initiative), Ok(()));
        for (level, parent) in [(Level::Epic, Level::Story), (Level::Story, Level::Story)] {
            assert!(check_parent(level, parent).unwrap_err().contains("Pick something larger"));
        }
    }
}
