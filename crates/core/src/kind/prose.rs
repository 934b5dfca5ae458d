//! Where people's words stand in a thing.

/// A column of a thing in which people's words stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Prose {
    /// The whole of it is words.
    Text(&'static str),
    /// It is JSON, and words are what it holds: no names of fields.
    Values(&'static str),
    /// It is JSON that the program wrote, with words of people among its own, such as states: a name that may be any word is left
    /// alone there.
    Told(&'static str),
}

impl Prose {
    /// The column's name.
    #[must_use]
    pub fn column(self) -> &'static str {
        match self {
            Prose::Text(column) | Prose::Values(column) | Prose::Told(column) => column,
        }
    }

    /// Whether a name that may be any word may be covered in it.
    #[must_use]
    pub fn is_of_people(self) -> bool {
        !matches!(self, Prose::Told(_))
    }
}
