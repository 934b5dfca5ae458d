//! What a command says when it is done: words for people, or JSON for programs.

use std::io::Write;
use std::process::ExitCode;

use serde_json::Value;

/// How a command ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Outcome {
    /// All was done.
    Done,
    /// Something was refused, and the rest done.
    Partly,
    /// Nothing was done, or something is not as it should be.
    Failed,
}

impl From<Outcome> for ExitCode {
    fn from(outcome: Outcome) -> Self {
        ExitCode::from(match outcome {
            Outcome::Done => 0,
            Outcome::Partly => 3,
            Outcome::Failed => 1,
        })
    }
}

/// What a command says.
pub(super) struct Told {
    pub(super) words: String,
    pub(super) json: Value,
    pub(super) outcome: Outcome,
}

impl Told {
    pub(super) fn done(words: impl Into<String>, json: Value) -> Self {
        Told { words: words.into(), json, outcome: Outcome::Done }
    }

    /// Nothing that has to be said.
    pub(super) fn nothing() -> Self {
        Told::done("", Value::Null)
    }

    /// Says it.
    pub(super) fn say(&self, json: bool) {
        if json {
            if !self.json.is_null() {
                tell(&self.json.to_string());
            }
        } else if !self.words.is_empty() {
            tell(self.words.trim_end());
        }
    }
}

pub(super) fn tell(words: &str) {
    say(&mut std::io::stdout(), words);
}

pub(super) fn say(to: &mut impl Write, words: &str) {
    // Nobody reads any more: nothing is left to say.
    let _ = writeln!(to, "{words}");
}
