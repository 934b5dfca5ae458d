//! Who asks, when, and the two ways in to the store.

use std::collections::HashMap;
use std::path::Path;
use std::sync::{Arc, Mutex};

use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::text::{Meaning, NoMeaning};
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_store::{Committed, Erased, NamePlace, Rows, Store, Tx, Way, WriteContext};
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use utoipa::ToSchema;

use crate::decide::Rankings;
use crate::jobs::Bell;
use crate::listen::Minds;
use crate::outside::{Nothing, Outside};
use crate::reader::{Inside, Reader, Reading};
use crate::sealed::Seal;
use crate::talk::follow_words;

/// The application: a workspace and what guards it.
pub struct App {
    store: Store,
    /// Sessions that could not be written, as the disk was full when they began: by the hash of their key.
    pub(crate) unwritten: Mutex<HashMap<String, (i64, Timestamp)>>,
    /// Tells that there is work to do in the background.
    pub(crate) bell: Arc<Bell>,
    /// Tells that something was written that people may have to hear of, and rules to follow.
    pub(crate) follow_bell: Arc<Bell>,
    /// Tells that there are messages to send.
    pub(crate) post_bell: Arc<Bell>,
    /// The meanings of excerpts, to be looked through.
    pub(crate) minds: Minds,
    /// Rankings that were drawn lately.
    pub(crate) rankings: Rankings,
    outside: Box<dyn Outside>,
    meaning: Option<Box<dyn Meaning>>,
    reader: Box<dyn Reader>,
    /// Seals the keys of places outside.
    pub(crate) seal: Seal,
}

/// Somebody who asks.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Actor {
    /// The person; none for a command on the machine itself.
    pub user_id: Option<i64>,
    /// The name.
    pub name: String,
    /// What the person may do.
    pub role: Role,
}

/// One request: who, when, and by what way.
#[derive(Debug, Clone)]
pub struct Call {
    /// Who asks; nobody where not signed in.
    pub actor: Option<Actor>,
    /// The moment.
    pub now: Timestamp,
    /// The day where the server stands.
    pub today: Date,
    /// By what way.
    pub way: Way,
}

/// What a write came to.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Saved {
    /// The change set, by which it can be taken back; none where nothing changed.
    pub change: Option<i64>,
    /// What was done, in a few words.
    pub label: String,
    /// The thing that was made or changed, where it is one.
    pub thing: Option<Thing>,
    /// Its revision now.
    pub rev: Option<i64>,
    /// The kinds of things that changed: what reads these is to be asked again. Empty where that is not known.
    #[serde(default)]
    pub kinds: Vec<ThingKind>,
}

impl Call {
    /// A command on the machine itself: it may do anything, and no person's name is on it.
    #[must_use]
    pub fn command(now: Timestamp, today: Date) -> Self {
        let actor = Actor { user_id: None, name: "command".into(), role: Role::Owner };
        Call { actor: Some(actor), now, today, way: Way::Person }
    }

    /// Who asks, by number; nobody where not signed in, and for a command.
    pub(crate) fn user_id(&self) -> Option<i64> {
        self.actor.as_ref().and_then(|actor| actor.user_id)
    }

    /// A call of nobody, at a moment, for what is noted of whoever comes.
    pub(crate) fn nobody(now: Timestamp) -> Self {
        Call { actor: None, now, today: Date::ZERO, way: Way::Person }
    }

    /// Who asks, where it is the person and no program on their behalf: for what concerns who they are.
    pub(crate) fn themselves(&self) -> Result<i64, Problem> {
        self.by_no_program()?;
        self.user_id().ok_or(Problem::NotSignedIn)
    }

    /// Makes sure that no program asks on somebody's behalf.
    pub(crate) fn by_no_program(&self) -> Result<(), Problem> {
        if self.way == Way::Program {
            let words = "A program does not do this on your behalf. Sign in, and do it yourself.";
            return Err(Problem::refused("not-by-program", words));
        }
        Ok(())
    }

    /// The same call by another way.
    #[must_use]
    pub fn by(&self, way: Way) -> Self {
        Call { way, ..self.clone() }
    }

    /// Whether whoever asks has a right: for what is only offered to those who do.
    pub(crate) fn may(&self, right: Right) -> bool {
        self.actor.as_ref().is_some_and(|actor| actor.role.may(right))
    }

    /// The one place where rights are checked.
    fn require(&self, right: Right) -> Result<&Actor, Problem> {
        let actor = self.actor.as_ref().ok_or(Problem::NotSignedIn)?;
        if actor.role.may(right) { Ok(actor) } else { Err(Problem::NotAllowed { needs: right.least().name() }) }
    }
}

impl App {
    /// Opens the workspace in a folder, or makes a new one there.
    ///
    /// # Errors
    /// Where the folder cannot be used, or its workspace is newer than this program.
    pub fn open(dir: &Path) -> Result<Self, iron_kite_store::Error> {
        let store = Store::open(dir)?;
        let seal = Seal::of(dir)?;
        let bell: Arc<Bell> = Arc::default();
        let (follow_bell, post_bell): (Arc<Bell>, Arc<Bell>) = Default::default();
        let written = Arc::clone(&follow_bell);
        store.on_commit(move |change| {
            if !change.kinds.is_empty() {
                written.ring();
            }
        });
        let rung = Arc::clone(&bell);
        store.on_commit(move |change| {
            const READ: [ThingKind; 9] = [
                ThingKind::Excerpt,
                ThingKind::Link,
                ThingKind::Finding,
                ThingKind::Term,
                ThingKind::Document,
                ThingKind::Page,
                ThingKind::Idea,
                ThingKind::Result,
                ThingKind::Study,
            ];
            if change.kinds.iter().any(|kind| READ.contains(kind)) {
                rung.something_to_read();
            }
        });
        let (unwritten, minds, rankings) = (Mutex::default(), Minds::default(), Rankings::default());
        Ok(App {
            store,
            unwritten,
            bell,
            follow_bell,
            post_bell,
            minds,
            rankings,
            outside: Box::new(Nothing),
            meaning: None,
            reader: Box::new(Inside),
            seal,
        })
    }

    /// The same application with what tells the meaning of words. Without it, words are only glanced at.
    #[must_use]
    pub fn with_meaning(self, meaning: Box<dyn Meaning>) -> Self {
        App { meaning: Some(meaning), ..self }
    }

    /// What tells the meaning of words, where there is anything.
    pub(crate) fn meaning(&self) -> Option<&dyn Meaning> {
        self.meaning.as_deref()
    }

    /// What the model tells, where it is needed.
    pub(crate) fn told<T>(
        &self,
        tell: impl FnOnce(&dyn Meaning) -> Result<Vec<T>, NoMeaning>,
    ) -> Result<Vec<T>, Problem> {
        let meaning = self.meaning().ok_or_else(|| Problem::Internal("there is nothing that tells meanings".into()))?;
        tell(meaning).map_err(|fault| Problem::Internal(fault.to_string()))
    }

    /// Tells those who listen of rows that changed without the ledger.
    pub(crate) fn tell_live(&self, label: &str, kinds: &[ThingKind], rows: usize) {
        self.store.tell_live(label, kinds, rows);
    }

    /// The same application with a way to what lies outside.
    #[must_use]
    pub fn with_outside(self, outside: Box<dyn Outside>) -> Self {
        App { outside, ..self }
    }

    /// The same application with files read by something else than this process.
    #[must_use]
    pub fn with_reader(self, reader: Box<dyn Reader>) -> Self {
        App { reader, ..self }
    }

    /// Begins to read files for whoever asks.
    pub(crate) fn reading(&self, call: &Call) -> Box<dyn Reading + '_> {
        self.reader.begin(call.user_id())
    }

    /// Begins to read files beside the answers, where nobody waits: its turn comes however many wait.
    pub(crate) fn reading_beside(&self) -> Box<dyn Reading + '_> {
        self.reader.begin(None)
    }

    /// The way to what lies outside.
    pub(crate) fn outside(&self) -> &dyn Outside {
        self.outside.as_ref()
    }

    /// Calls this after every change, in the order of the changes.
    pub fn on_change(&self, listener: impl Fn(&Committed) + Send + 'static) {
        self.store.on_commit(listener);
    }

    /// Copies the workspace's database while it runs.
    ///
    /// # Errors
    /// Where the file is there already or cannot be written.
    pub fn backup(&self, to: &Path) -> Result<(), iron_kite_store::Error> {
        self.store.backup(to)
    }

    /// Tries whether something can be written: a note that is taken away again.
    ///
    /// # Errors
    /// [`Problem::DiskFull`] or what else is in the way.
    pub fn can_write(&self, call: &Call) -> Result<(), Problem> {
        self.store.write(context(call, None, Right::Edit), |tx| Ok(tx.try_to_write()?)).map(drop)
    }

    /// Asks something, with this right.
    pub(crate) fn read<T>(
        &self,
        call: &Call,
        right: Right,
        ask: impl FnOnce(&Rows<'_>) -> Result<T, Problem>,
    ) -> Result<T, Problem> {
        call.require(right)?;
        self.store.read(ask)
    }

    /// Asks something that anybody may know: the start page and the sign-in.
    pub(crate) fn read_open<T>(&self, ask: impl FnOnce(&Rows<'_>) -> Result<T, Problem>) -> Result<T, Problem> {
        self.store.read(ask)
    }

    /// Writes something, with this right: all of it or nothing.
    pub(crate) fn write<T: Send + 'static>(
        &self,
        call: &Call,
        right: Right,
        write: impl FnOnce(&mut Tx<'_>) -> Result<T, Problem> + Send + 'static,
    ) -> Result<(T, Option<Committed>), Problem> {
        let actor = call.require(right)?;
        self.store.write(context(call, actor.user_id, right), |tx| with_its_words(tx, write))
    }

    /// Goes on writing into a change set: a part of long work.
    pub(crate) fn write_on<T: Send + 'static>(
        &self,
        call: &Call,
        right: Right,
        set: Option<i64>,
        write: impl FnOnce(&mut Tx<'_>) -> Result<T, Problem> + Send + 'static,
    ) -> Result<(T, Option<Committed>), Problem> {
        let actor = call.require(right)?;
        self.store.write_on(set, context(call, actor.user_id, right), |tx| with_its_words(tx, write))
    }

    /// Erases a person from the file: for an owner only.
    pub(crate) fn erase(&self, call: &Call, person: i64, also: Vec<NamePlace>) -> Result<Erased, Problem> {
        let actor = call.require(Right::Own)?;
        Ok(self.store.erase(context(call, actor.user_id, Right::Own), person, also)?)
    }

    /// Writes something that nobody does who is signed in: the first owner, the sign-in itself, how far a job is.
    pub(crate) fn write_open<T: Send + 'static>(
        &self,
        call: &Call,
        write: impl FnOnce(&mut Tx<'_>) -> Result<T, Problem> + Send + 'static,
    ) -> Result<(T, Option<Committed>), Problem> {
        self.store.write(context(call, None, Right::Edit), |tx| with_its_words(tx, write))
    }

    /// Writes something that makes or changes one thing.
    pub(crate) fn save(
        &self,
        call: &Call,
        right: Right,
        write: impl FnOnce(&mut Tx<'_>) -> Result<Option<Thing>, Problem> + Send + 'static,
    ) -> Result<Saved, Problem> {
        let ((thing, rev), committed) = self.write(call, right, move |tx| {
            let thing = write(tx)?;
            // A thing that was removed has no revision any more.
            let rev = thing.and_then(|thing| tx.rows().json(thing).ok()).and_then(|row| row["rev"].as_i64());
            Ok((thing, rev))
        })?;
        Ok(match committed {
            Some(committed) => {
                Saved { change: Some(committed.set), label: committed.label, thing, rev, kinds: committed.kinds }
            }
            None => Saved { label: "Nothing changed".into(), thing, rev, ..Saved::default() },
        })
    }
}

/// Writes something; the words of comments follow the texts that it changed, so that nobody who writes has to think of them.
fn with_its_words<T>(tx: &mut Tx<'_>, write: impl FnOnce(&mut Tx<'_>) -> Result<T, Problem>) -> Result<T, Problem> {
    let from = tx.rows().newest_change()?;
    let value = write(tx)?;
    // A whole workspace brings its own ledger, and its comments are where they are.
    if tx.set_id() > 0 {
        follow_words(tx, from)?;
    }
    Ok(value)
}

fn context(call: &Call, user_id: Option<i64>, needs: Right) -> WriteContext {
    WriteContext { user_id, at: call.now.as_millisecond(), label: String::new(), way: call.way, needs }
}

/// A JSON object's fields; anything else has none.
pub(crate) fn fields(value: Value) -> Map<String, Value> {
    match value {
        Value::Object(map) => map,
        _ => Map::new(),
    }
}
