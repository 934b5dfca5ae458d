//! The cells of a row, kept together: a table of a million short cells takes little more room than its text, and cells
//! that a row does not have take none.

use std::ops::Index;

use serde::{Deserialize, Serialize};

/// The cells of one row. Behind the last one all are empty, however many columns the table has.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Cells {
    text: String,
    /// Where each cell ends, in bytes of the text.
    ends: Vec<u32>,
}

impl Cells {
    /// A cell; empty where the row has none. Constant time.
    #[must_use]
    pub fn get(&self, at: usize) -> &str {
        let end = |at: usize| self.ends.get(at).map(|end| *end as usize);
        let from = if at == 0 { Some(0) } else { end(at - 1) };
        from.zip(end(at)).and_then(|(from, to)| self.text.get(from..to)).unwrap_or_default()
    }

    /// How many cells there are up to the last one that was put in.
    #[must_use]
    pub fn len(&self) -> usize {
        self.ends.len()
    }

    /// Whether there is no cell at all.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.ends.is_empty()
    }

    /// The cells in their order.
    pub fn iter(&self) -> impl Iterator<Item = &str> + Clone {
        (0..self.len()).map(|at| self.get(at))
    }

    /// Whether nothing but white space is in any of them.
    #[must_use]
    pub fn is_blank(&self) -> bool {
        self.text.chars().all(char::is_whitespace)
    }

    /// Adds a cell behind the last one. What does not fit into four gigabytes is left out.
    pub fn push(&mut self, cell: &str) {
        if let Ok(end) = u32::try_from(self.text.len() + cell.len()) {
            self.text.push_str(cell);
            self.ends.push(end);
        }
    }

    /// Puts a cell at a place: those between it and the last one are empty. Constant time where places grow, as readers
    /// give them; linear in the row else.
    pub fn put(&mut self, at: usize, cell: &str) {
        if at < self.len() {
            let others: Vec<String> = self.iter().map(str::to_owned).collect();
            *self = others.iter().enumerate().map(|(n, old)| if n == at { cell } else { old }).collect();
            return;
        }
        let end = u32::try_from(self.text.len()).unwrap_or(u32::MAX);
        self.ends.resize(at, end);
        self.push(cell);
    }

    /// Gives back the room that was made for more.
    pub fn shrink(&mut self) {
        self.text.shrink_to_fit();
        self.ends.shrink_to_fit();
    }
}

impl Index<usize> for Cells {
    type Output = str;

    fn index(&self, at: usize) -> &str {
        self.get(at)
    }
}

/// The same cells in the same order.
impl<T: AsRef<str>, const N: usize> PartialEq<[T; N]> for Cells {
    fn eq(&self, others: &[T; N]) -> bool {
        self.iter().eq(others.iter().map(AsRef::as_ref))
    }
}

impl<T: AsRef<str>> FromIterator<T> for Cells {
    fn from_iter<I: IntoIterator<Item = T>>(all: I) -> Self {
        let mut cells = Cells::default();
        all.into_iter().for_each(|cell| cells.push(cell.as_ref()));
        cells
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Beside a plain list of strings.
        #[test]
        fn cells_are_where_they_were_put(put in prop::collection::vec((0..9_usize, "[aé ]{0,3}"), 0..20)) {
            let (mut cells, mut plain) = (Cells::default(), Vec::<String>::new());
            for (at, cell) in put {
                cells.put(at, &cell);
                if plain.len() <= at {
                    plain.resize(at + 1, String::new());
                }
                plain[at] = cell;
            }
            prop_assert_eq!(cells.iter().collect::<Vec<_>>(), plain.iter().map(String::as_str).collect::<Vec<_>>());
            prop_assert_eq!(cells.get(plain.len()), "");
            prop_assert_eq!(cells.is_blank(), plain.iter().all(|cell| cell.trim().is_empty()));
        }
    }
}
