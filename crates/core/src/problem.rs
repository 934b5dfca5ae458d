//! What can go wrong, sorted once by whose fault it is and what to do about it.

use serde::Serialize;
use serde_json::Value;

/// One field at fault.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fault {
    /// JSON pointer (RFC 6901) to the field in what was sent, such as `/set/points`.
    pub field: String,
    /// What is wrong and what would be right.
    pub words: String,
}

impl Fault {
    /// A fault of the field at this pointer.
    pub fn new(field: impl Into<String>, words: impl Into<String>) -> Self {
        Fault { field: field.into(), words: words.into() }
    }
}

/// A use case that could not be carried out. Nothing was changed.
#[derive(Debug, Clone, PartialEq)]
pub enum Problem {
    /// Nobody is signed in, or the session is over.
    NotSignedIn,
    /// The address or the password is wrong.
    WrongSignIn,
    /// Too many tries; how many seconds to wait.
    TooManyTries(u64),
    /// The person's role does not allow it; the role that would.
    NotAllowed {
        /// The least role that may.
        needs: &'static str,
    },
    /// There is no such thing (any more).
    NotFound(String),
    /// Somebody changed it since it was read; how it is now.
    Stale {
        /// The present row, with its `rev`.
        present: Value,
    },
    /// Fields that do not hold what they should.
    Invalid(Vec<Fault>),
    /// A rule says no.
    Refused {
        /// A stable name of the rule.
        code: &'static str,
        /// What is the matter and what to do.
        words: String,
    },
    /// More than can be taken at once.
    TooLarge(String),
    /// So much is being written that this could not be queued.
    Busy,
    /// There is no room left where things are kept.
    DiskFull,
    /// Our fault. The words go to the log, never to a client.
    Internal(String),
}

impl Problem {
    /// One field at fault.
    pub fn invalid(field: impl Into<String>, words: impl Into<String>) -> Self {
        Problem::Invalid(vec![Fault::new(field, words)])
    }

    /// A rule that says no.
    pub fn refused(code: &'static str, words: impl Into<String>) -> Self {
        Problem::Refused { code, words: words.into() }
    }

    /// The stable code that programs can rely on.
    #[must_use]
    pub fn code(&self) -> &'static str {
        match self {
            Problem::NotSignedIn => "not-signed-in",
            Problem::WrongSignIn => "wrong-sign-in",
            Problem::TooManyTries(_) => "too-many-tries",
            Problem::NotAllowed { .. } => "not-allowed",
            Problem::NotFound(_) => "not-found",
            Problem::Stale { .. } => "stale",
            Problem::Invalid(_) => "invalid",
            Problem::Refused { code, .. } => code,
            Problem::TooLarge(_) => "too-large",
            Problem::Busy => "busy",
            Problem::DiskFull => "disk-full",
            Problem::Internal(_) => "internal",
        }
    }

    /// A short sentence: what happened.
    #[must_use]
    pub fn title(&self) -> &'static str {
        match self {
            Problem::NotSignedIn => "You are not signed in",
            Problem::WrongSignIn => "Address or password is wrong",
            Problem::TooManyTries(_) => "Too many tries",
            Problem::NotAllowed { .. } => "Your role does not allow this",
            Problem::NotFound(_) => "Not found",
            Problem::Stale { .. } => "Somebody changed this in the meantime",
            Problem::Invalid(_) => "Something is not filled in as it should be",
            Problem::Refused { .. } => "This cannot be done",
            Problem::TooLarge(_) => "Too large",
            Problem::Busy => "Very busy",
            Problem::DiskFull => "The disk is full",
            Problem::Internal(_) => "Something went wrong here",
        }
    }

    /// What to do about it, in a sentence or two.
    #[must_use]
    pub fn detail(&self) -> String {
        match self {
            Problem::NotSignedIn => "Sign in and try again. What you typed is still on the page.".into(),
            Problem::WrongSignIn => "Check both and try again.".into(),
            Problem::TooManyTries(wait) => format!("Wait {wait} seconds and try again."),
            Problem::NotAllowed { needs } => {
                format!("It takes the role {needs}. Ask an owner of the workspace. Nothing was changed.")
            }
            Problem::NotFound(what) => {
                format!("There is no {what} here. It may have been removed; its history is kept.")
            }
            Problem::Stale { .. } => "Look at both versions and pick one. Nothing was overwritten.".into(),
            Problem::Invalid(faults) => faults.iter().map(|f| f.words.as_str()).collect::<Vec<_>>().join(" "),
            Problem::Refused { words, .. } | Problem::TooLarge(words) => words.clone(),
            Problem::Busy => "Nothing was changed. Try again in a moment.".into(),
            Problem::DiskFull => {
                "There is no room left where Iron Kite keeps its data. Nothing was changed, and what you typed is still on the page. Tell whoever runs it to make room.".into()
            }
            Problem::Internal(_) => {
                "Nothing was changed. Try again; if it stays so, the server's log says more.".into()
            }
        }
    }
}

impl std::fmt::Display for Problem {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Problem::Internal(words) => write!(f, "{}: {words}", self.title()),
            _ => write!(f, "{}. {}", self.title(), self.detail()),
        }
    }
}

impl std::error::Error for Problem {}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_words_of_an_internal_fault_stay_inside() {
        let problem = Problem::Internal("no such table: idea in /var/x".into());
        assert!(!problem.detail().contains("table"));
        assert!(!problem.title().contains("table"));
    }

    #[test]
    fn several_faults_are_told_together() {
        let problem = Problem::Invalid(vec![Fault::new("/a", "A is missing."), Fault::new("/b", "B is too long.")]);
        assert_eq!(problem.detail(), "A is missing. B is too long.");
    }
}
