//! The way to what lies outside of the workspace: a port, with a real implementation in the server and simulated
//! places behind it in the demo and the tests.

use iron_kite_core::listen::ChannelKind;
use iron_kite_core::notice::Attempt;
use jiff::Timestamp;

/// What is asked of a place outside.
#[derive(Debug, Clone)]
pub struct Fetch<'a> {
    /// What it is.
    pub kind: ChannelKind,
    /// Where it is.
    pub place: &'a str,
    /// The key that it asks for.
    pub secret: Option<&'a str>,
    /// Where to go on; from the beginning where nothing is given.
    pub cursor: Option<&'a str>,
}

/// What a place gave, a part at a time.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Fetched {
    /// Files as they are: name and bytes.
    pub files: Vec<(String, Vec<u8>)>,
    /// What could not be had, by its name, and why.
    pub left_out: Vec<(String, String)>,
    /// Where to go on the next time.
    pub cursor: String,
    /// Whether there is more at once.
    pub more: bool,
}

/// A page that was found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageFound {
    /// What it is called.
    pub title: String,
    /// Where it is.
    pub address: String,
    /// The page as it is, in HTML or as plain text.
    pub page: String,
}

/// What was found of a question.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct PagesFound {
    /// Where was looked, in words.
    pub place: String,
    /// What fits best first.
    pub pages: Vec<PageFound>,
}

/// A message that is to go out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Letter {
    /// Its number in the outbox: the same at every try, so that whoever receives it knows it again.
    pub id: i64,
    /// To whom.
    pub to_name: String,
    /// Where.
    pub to_address: String,
    /// What it is about.
    pub subject: String,
    /// What it says.
    pub body: String,
    /// Where in the application it leads.
    pub path: String,
    /// Now.
    pub at: Timestamp,
}

/// What lies outside. An answer of words says what went wrong and what to do.
pub trait Outside: Send + Sync {
    /// What is new at a place since the cursor. A part of it, so that no part is too large.
    ///
    /// # Errors
    /// In words, where the place does not answer as it should.
    fn fetch(&self, ask: &Fetch<'_>) -> Result<Fetched, String>;

    /// Pages of others that speak of a question.
    ///
    /// # Errors
    /// In words, where there is nowhere to look, or it does not answer as it should.
    fn search(&self, question: &str) -> Result<PagesFound, String>;

    /// Sends a message, or keeps it as a file where no mail server is set. Where there is no way out, it waits.
    fn post(&self, letter: &Letter) -> Attempt {
        Attempt::Later(format!("There is no way out for message {}. Start the server.", letter.id))
    }

    /// Whether what is sent can carry a link that leads back here.
    fn leads_back(&self) -> bool {
        false
    }

    /// Forgets messages that were kept as files, by their numbers. Those that are not there are gone already.
    ///
    /// # Errors
    /// In words, where a file cannot be removed.
    fn forget_letters(&self, ids: &[i64]) -> Result<(), String> {
        let _ = ids;
        Ok(())
    }

    /// Whether a place may be looked at at all.
    ///
    /// # Errors
    /// In words, why not.
    fn may(&self, kind: ChannelKind, place: &str) -> Result<(), String>;
}

/// Nothing outside: what a command has that only works on the file.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Nothing;

impl Outside for Nothing {
    fn fetch(&self, _: &Fetch<'_>) -> Result<Fetched, String> {
        Err("This program has no way out. Start the server.".to_owned())
    }

    fn search(&self, _: &str) -> Result<PagesFound, String> {
        Err("This program has no way out. Start the server.".to_owned())
    }

    // The server looks again before it reads.
    fn may(&self, _: ChannelKind, _: &str) -> Result<(), String> {
        Ok(())
    }
}
