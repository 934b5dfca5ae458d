//! What somebody wants to hear of, and how.

use serde::{Deserialize, Serialize};

use super::told::NoticeSort;

/// How somebody hears of one sort.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Setting {
    /// Which sort.
    pub sort: NoticeSort,
    /// Whether it stands among the notices.
    pub here: bool,
    /// Whether a message goes out.
    pub by_mail: bool,
}

/// How somebody hears of every sort.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Settings([Setting; 4]);

impl Settings {
    /// What stands of somebody's own choice, over what holds for everybody: all of it is shown, and what changed on things
    /// that somebody follows is not sent.
    #[must_use]
    pub fn with(own: &[Setting]) -> Self {
        Settings(NoticeSort::ALL.map(|sort| {
            let chosen = own.iter().find(|one| one.sort == sort).copied();
            chosen.unwrap_or(Setting { sort, here: true, by_mail: sort != NoticeSort::Followed })
        }))
    }

    /// How one sort is heard of.
    #[must_use]
    pub fn of(&self, sort: NoticeSort) -> Setting {
        self.0.into_iter().find(|one| one.sort == sort).unwrap_or(Setting { sort, here: true, by_mail: false })
    }

    /// All of them.
    #[must_use]
    pub fn all(&self) -> &[Setting] {
        &self.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_persons_own_choice_stands_over_what_holds_for_everybody() {
        let own = Setting { sort: NoticeSort::Assigned, here: false, by_mail: false };
        let settings = Settings::with(&[own]);
        assert_eq!(settings.of(NoticeSort::Assigned), own);
        assert!(settings.of(NoticeSort::Mentioned).by_mail);
        assert!(!settings.of(NoticeSort::Followed).by_mail);
        assert!(settings.all().iter().filter(|one| one.sort != NoticeSort::Assigned).all(|one| one.here));
    }
}
