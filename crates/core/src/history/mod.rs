//! What changed, in words.
//!
//! | file | what is in it |
//! |---|---|
//! | `words` | one change of one thing: "changed effort from 3 to 5" |
//! | `since` | what many people did to many things, in a few sentences |
//! | `visit` | since when: where a visit ends and the next one begins |

mod since;
mod visit;
mod words;

pub use since::{Done, Sentence, Verb, told};
pub use visit::{Place, REST, Visit, visited};
pub use words::{Changed, Names, changed, label_in_words};
