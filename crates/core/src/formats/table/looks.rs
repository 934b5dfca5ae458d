//! What cells look like, and the cells of a column together.

use std::collections::HashSet;

use crate::formats::days::{self, DayOrder};
use crate::formats::numbers;

/// What one cell looks like.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Look {
    /// A number, a share, money.
    Number,
    /// A day.
    Day,
    /// A mail address or a place in the web.
    Address,
    /// Words that say something.
    Sentence,
    /// A name, a choice, a code.
    Word,
    /// Nothing.
    Empty,
}

/// From so many words on it is a sentence.
const SENTENCE_WORDS: usize = 7;
/// From so many characters on it is one, too.
const SENTENCE_LENGTH: usize = 60;

impl Look {
    pub(crate) fn of(cell: &str) -> Self {
        let cell = cell.trim();
        if cell.is_empty() {
            return Look::Empty;
        }
        if cell.len() <= LONGEST_VALUE {
            if numbers::read(cell, None).is_some() {
                return Look::Number;
            }
            let day = |order| days::read(cell, order).is_some();
            if day(DayOrder::DayFirst) || day(DayOrder::MonthFirst) {
                return Look::Day;
            }
        }
        let no_gap = !cell.contains(char::is_whitespace);
        let mail = cell.split_once('@').is_some_and(|(name, host)| !name.is_empty() && host.contains('.'));
        if no_gap && (mail || cell.contains("://")) {
            return Look::Address;
        }
        if cell.split_whitespace().nth(SENTENCE_WORDS - 1).is_some() || cell.chars().nth(SENTENCE_LENGTH).is_some() {
            return Look::Sentence;
        }
        Look::Word
    }
}

/// Numbers and days are no longer than this, in bytes.
const LONGEST_VALUE: usize = 40;
/// So many cells of a column are looked at.
const SAMPLE: usize = 300;

/// What the first cells of a column that hold something look like.
#[derive(Debug, Default)]
pub(crate) struct Looks {
    /// How many cells were looked at, empty ones too.
    all: usize,
    filled: usize,
    counts: [usize; 6],
    asking: usize,
    /// Those with a digit behind or before a word, as a street has it.
    streets: usize,
    digits: usize,
    characters: usize,
    different: usize,
}

impl Looks {
    pub(crate) fn of<'a>(cells: impl Iterator<Item = &'a str>) -> Self {
        let mut looks = Looks::default();
        let mut seen = HashSet::new();
        for cell in cells.take(SAMPLE) {
            looks.all += 1;
            let cell = cell.trim();
            let look = Look::of(cell);
            if look == Look::Empty {
                continue;
            }
            looks.counts[look as usize] += 1;
            looks.filled += 1;
            looks.asking += usize::from(cell.ends_with('?'));
            let digits = cell.chars().any(|c| c.is_ascii_digit());
            let street = |word: &str| word.starts_with(|c: char| c.is_ascii_digit());
            looks.digits += usize::from(digits);
            looks.streets += usize::from(
                matches!(look, Look::Word | Look::Sentence)
                    && cell.contains(' ')
                    && cell.split_whitespace().any(street),
            );
            looks.characters += cell.chars().count();
            seen.insert(cell);
        }
        looks.different = seen.len();
        looks
    }

    fn share(&self, of: usize) -> f64 {
        #[expect(clippy::cast_precision_loss, reason = "a sample is small")]
        let share = |a: usize, b: usize| a as f64 / b.max(1) as f64;
        share(of, self.filled)
    }

    /// Whether no cell holds anything.
    pub(crate) fn empty(&self) -> bool {
        self.filled == 0
    }

    /// What most of them look like, where any hold something.
    pub(crate) fn most(&self) -> Option<Look> {
        const ALL: [Look; 5] = [Look::Number, Look::Day, Look::Address, Look::Sentence, Look::Word];
        ALL.into_iter().max_by_key(|look| self.counts[*look as usize]).filter(|_| self.filled > 0)
    }

    /// The share of those that hold something that look so.
    pub(crate) fn like(&self, look: Look) -> f64 {
        self.share(self.counts[look as usize])
    }

    /// The share of questions.
    pub(crate) fn asking(&self) -> f64 {
        self.share(self.asking)
    }

    /// The share of those with a digit in them.
    pub(crate) fn with_digits(&self) -> f64 {
        self.share(self.digits)
    }

    /// The share of those that look like a street with its number.
    pub(crate) fn like_streets(&self) -> f64 {
        self.share(self.streets)
    }

    /// How long they are on average, in characters.
    pub(crate) fn length(&self) -> f64 {
        self.share(self.characters)
    }

    /// Whether nearly all cells hold something, and nothing twice.
    pub(crate) fn tells_apart(&self) -> bool {
        self.filled * 10 >= self.all * 9 && self.different * 50 >= self.filled * 49
    }
}
