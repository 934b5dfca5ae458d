//! What lies outside, for real: folders and mail boxes on the disk, and places that are asked over the network.

mod far;
mod folder;
mod library;
mod mail;
mod mailbox;
mod public;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use iron_kite_core::listen::ChannelKind;
use iron_kite_core::notice::Attempt;
use iron_kite_ops::outside::{Fetch, Fetched, Letter, Outside, PagesFound};

use far::Reach;
pub(crate) use mail::{MailOut, MailServer, MailWay};

/// The way out of this machine's server.
pub(crate) struct Doors {
    /// Folders below which files may be read.
    roots: Vec<PathBuf>,
    /// Simulated places by their name, each with its address.
    stand_ins: BTreeMap<String, String>,
    /// Where messages go.
    mail: MailOut,
    /// Which places may be asked over the network.
    reach: Reach,
}

/// The simulated place that stands in for searching the web.
const LIBRARY: &str = "library";
/// How a simulated place is written.
const STAND_IN: &str = "stand-in:";

impl Doors {
    /// Files may be read below these folders. Those that are not there may come later.
    pub(crate) fn new(roots: Vec<PathBuf>, stand_ins: BTreeMap<String, String>, mail: MailOut, nearby: bool) -> Self {
        Doors { roots, stand_ins, mail, reach: if nearby { Reach::Any } else { Reach::Public } }
    }

    /// A path below one of the folders, with links followed: nothing leads out of them.
    fn inside(&self, place: &str) -> Result<PathBuf, String> {
        let path = Path::new(place);
        let real = path.canonicalize().map_err(|fault| format!("{place} cannot be read: {}.", plain(&fault)))?;
        let below = |root: &PathBuf| root.canonicalize().is_ok_and(|root| real.starts_with(root));
        if self.roots.iter().any(below) {
            return Ok(real);
        }
        let known: Vec<String> = self.roots.iter().map(|root| root.display().to_string()).collect();
        Err(format!(
            "{place} is not below a folder that the server may read: {}. Start it with --watch for another.",
            known.join(", ")
        ))
    }

    /// Simulated places are on this machine.
    fn reach(&self, place: &str) -> Reach {
        if place.starts_with(STAND_IN) { Reach::Any } else { self.reach }
    }

    fn address<'a>(&'a self, place: &'a str) -> Result<&'a str, String> {
        let Some(name) = place.strip_prefix(STAND_IN) else { return Ok(place) };
        let known = self.stand_ins.get(name).map(String::as_str);
        known.ok_or_else(|| format!("There is no simulated place '{name}' here; it comes with the demo."))
    }
}

impl Outside for Doors {
    fn fetch(&self, ask: &Fetch<'_>) -> Result<Fetched, String> {
        match ask.kind {
            ChannelKind::Folder => folder::fetch(&self.inside(ask.place)?, ask.cursor),
            ChannelKind::Mailbox => mailbox::fetch(&self.inside(ask.place)?, ask.cursor),
            ChannelKind::Desk => {
                far::fetch(self.reach(ask.place), self.address(ask.place)?, "tickets", ask.secret, ask.cursor)
            }
            ChannelKind::Reviews => {
                far::fetch(self.reach(ask.place), self.address(ask.place)?, "reviews", ask.secret, ask.cursor)
            }
        }
    }

    fn search(&self, question: &str) -> Result<PagesFound, String> {
        let nowhere =
            || "There is no library of pages to look in; one comes with the demo. Paste or upload pages.".to_owned();
        let address = self.stand_ins.get(LIBRARY).ok_or_else(nowhere)?;
        let pages = library::search(address, question)?;
        Ok(PagesFound { place: "a simulated library of made-up pages".into(), pages })
    }

    fn post(&self, letter: &Letter) -> Attempt {
        self.mail.send(letter)
    }

    fn leads_back(&self) -> bool {
        self.mail.leads_back()
    }

    fn forget_letters(&self, ids: &[i64]) -> Result<(), String> {
        self.mail.forget(ids)
    }

    fn may(&self, kind: ChannelKind, place: &str) -> Result<(), String> {
        if kind.is_far() {
            return self.address(place).map(drop);
        }
        let real = self.inside(place)?;
        match kind {
            ChannelKind::Folder if !real.is_dir() => Err(format!("{place} is no folder.")),
            ChannelKind::Mailbox if !real.is_file() => Err(format!("{place} is no file.")),
            _ => Ok(()),
        }
    }
}

/// Why a file cannot be read, in words that lead on.
fn plain(fault: &std::io::Error) -> &'static str {
    match fault.kind() {
        std::io::ErrorKind::NotFound => "it is not there",
        std::io::ErrorKind::PermissionDenied => "the server may not read it",
        _ => "the disk does not give it",
    }
}
