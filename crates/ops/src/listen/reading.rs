//! The engine reads what people said, in the background and as far as it has not yet. What it tells follows from the words:
//! it is nobody's change, it can be told again at any time, and it leaves alone what a person said.

use std::collections::{BTreeSet, HashMap};
use std::time::{Duration, Instant};

use iron_kite_core::jobs::Job;
use iron_kite_core::listen::{
    ENGINE, FeedbackKind, Glossary, Judged, Memory, OwnKinds, REMEMBERED, Reader, Wording, learned_from,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::{DIMENSIONS, Heard, Span, TONES, Tone, Vector, language_of};
use iron_kite_core::things::{ExcerptId, PersonId, ProductId, TermId, ThingKind};
use iron_kite_core::workspace::Product;
use iron_kite_store::queries::engine::{Learned, Told, Unread};
use iron_kite_store::{Rows, Tx};
use sha2::{Digest, Sha256};

use super::closer::{look_closer, some_far};
use super::pages::{pages_wait, read_pages};
use super::placing::{place_new, some_to_place};
use super::runs::queue_first_run;
use super::splitting::{split_items, splits_wait};
use super::telling::{some_to_tell, tell_findings};
use crate::call::{App, Call};
use crate::decide::{grade_ideas, some_to_grade};
use crate::jobs::{Ended, Running, Work};

/// So many excerpts are read at once: about a second's work.
const CHUNK: usize = 128;
/// What was read is told to open windows at most so often.
const TELL: Duration = Duration::from_secs(2);

/// The key under which the meaning of words is kept.
pub(crate) fn meaning_key(words: &str) -> i64 {
    let digest = Sha256::digest(words.as_bytes());
    i64::from_be_bytes(std::array::from_fn(|at| digest[at]))
}

/// An excerpt on its way through the engine.
struct Passage {
    id: ExcerptId,
    stand: Option<i64>,
    person: Option<PersonId>,
    words: String,
    language: Option<&'static str>,
    key: i64,
    terms: Vec<TermId>,
}

/// Things are called by the team's names before anybody asks what the words mean.
fn passage(unread: Unread, glossary: &Glossary) -> Passage {
    let span = Span { from: unread.span.0, to: unread.span.1 };
    let said = span.of(&unread.text).unwrap_or_default();
    let (words, terms) = (glossary.in_our_words(said), glossary.spoken_of(said));
    let (id, person, language) = (unread.id, unread.person, language_of(&unread.text));
    Passage { id, stand: unread.stand, person, language, key: meaning_key(&words), words, terms }
}

fn reader(rows: &Rows<'_>, product: ProductId) -> Result<Reader, Problem> {
    let own = rows.learned(product)?.and_then(|learned| OwnKinds::read(&learned.weights));
    Ok(Reader { glossary: Glossary::of(&rows.terms(product)?), own })
}

/// From how many judged excerpts kinds are to be learned anew; nothing where what was learned still holds.
fn to_learn(rows: &Rows<'_>, product: ProductId) -> Result<Option<usize>, Problem> {
    let due = learned_from(rows.count_judged(product)?);
    let holds = match rows.learned(product)? {
        Some(learned) => learned.judged == due && learned.engine == ENGINE,
        None => due == 0,
    };
    Ok((!holds).then_some(due))
}

/// Learns from what people said of kinds, where enough was said since.
fn learn(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    let Some(due) = running.ask(|rows| to_learn(rows, product))? else { return Ok(()) };
    let glossary = running.ask(|rows| Ok(reader(rows, product)?.glossary))?;
    let judged = running.ask(|rows| Ok(rows.judged(product)?))?;
    let judged: Vec<Judged> = judged
        .into_iter()
        .filter_map(|(words, meaning, kind)| {
            let (meaning, kind) = (Vector::from_bytes(&meaning)?, FeedbackKind::named(&kind)?);
            Some(Judged { words: glossary.in_our_words(&words), meaning, kind })
        })
        .collect();
    let weights = OwnKinds::learned(&judged).map(|own| own.write()).unwrap_or_default();
    let learned = (due > 0).then_some(Learned { judged: due, engine: ENGINE, weights });
    Ok(running.write(move |tx| Ok(tx.learn(product, learned.as_ref())?))?)
}

/// Whether other work may come in between.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Turn {
    /// It gives way: what is left waits for its turn.
    GivesWay,
    /// Its caller needs all of it.
    Stays,
}

/// Reads what is not read yet of a product, some at a time. Whether all of it is read.
pub(crate) fn read_unread(running: &mut Running<'_>, product: ProductId, turn: Turn) -> Result<bool, Ended> {
    learn(running, product)?;
    let reader = running.ask(|rows| reader(rows, product))?;
    let mut memories = Memories::new();
    let engine = reader.engine();
    let all = running.ask(|rows| Ok(rows.unread_by(product, engine)?))?;
    running.expect(usize::try_from(all).unwrap_or_default());
    let (mut after, mut all_hold) = (0, true);
    let (mut told_at, mut untold, mut ended) = (Instant::now(), 0, true);
    loop {
        let unread = running.ask(|rows| Ok(rows.next_unread(product, engine, after, CHUNK)?))?;
        let Some(last) = unread.last().map(|last| last.id.0) else {
            if all_hold {
                break;
            }
            // From the beginning, with what people said heard anew.
            (after, all_hold, memories) = (0, true, Memories::new());
            let again = running.ask(|rows| Ok(rows.unread_by(product, engine)?))?;
            running.expect(usize::try_from(again).unwrap_or_default());
            continue;
        };
        let count = unread.len();
        after = last;
        let passages = unread.into_iter().map(|one| passage(one, &reader.glossary)).collect();
        all_hold &= read_some(running, product, &reader, &mut memories, passages)?;
        untold += count;
        if told_at.elapsed() >= TELL {
            tell_live(running.app(), untold);
            (told_at, untold) = (Instant::now(), 0);
        }
        running.advance(count)?;
        if turn == Turn::GivesWay && running.others_wait()? {
            ended = false;
            break;
        }
    }
    if untold > 0 {
        tell_live(running.app(), untold);
    }
    Ok(ended)
}

fn tell_live(app: &App, rows: usize) {
    app.tell_live("read what people said", &[ThingKind::Excerpt, ThingKind::FeedbackItem], rows);
}

/// Reads some. Whether what was told holds of all of them: what is to be read anew since then is not told of.
fn read_some(
    running: &mut Running<'_>,
    product: ProductId,
    reader: &Reader,
    memories: &mut Memories,
    passages: Vec<Passage>,
) -> Result<bool, Ended> {
    let known = running.ask(|rows| kept(rows, passages.iter().map(|one| one.key)))?;
    let first = running.ask(|rows| memories.hear(rows, product, &passages))?;
    let words: Vec<(i64, &str)> = passages.iter().map(|one| (one.key, one.words.as_str())).collect();
    let fresh = understood(running.app(), &words, &known)?;
    let heard = |key: &i64| known.get(key).or_else(|| fresh.get(key));
    let mut told = Vec::with_capacity(passages.len());
    let mut minds = Vec::with_capacity(passages.len());
    for one in &passages {
        let Some(heard) = heard(&one.key) else { continue };
        let said = reader.tell(&one.words, heard, one.language);
        told.push(Told {
            id: one.id,
            stand: one.stand,
            kind: said.kind.name(),
            sure: said.sure,
            sentiment: said.sentiment,
            language: one.language,
            meaning_key: one.key,
            repeats: first.get(&one.id).copied(),
        });
        minds.push((one.id, heard.meaning.to_bytes()));
    }
    let mut terms: Vec<_> = passages.iter().map(|one| (one.id, one.terms.clone())).collect();
    let (engine, count) = (reader.engine(), told.len());
    let noted = running.write(move |tx| {
        keep_heard(tx, &fresh)?;
        let noted = tx.tell(engine, &told)?;
        terms.retain(|(id, _)| noted.contains(id));
        tx.tell_terms(&terms)?;
        Ok(noted)
    })?;
    minds.retain(|(id, _)| noted.contains(id));
    running.app().minds.add(product, &minds);
    Ok(noted.len() == count)
}

/// What people said last, as far as a job has come: each of them once they said something that it reads.
struct Memories {
    of: HashMap<PersonId, Memory<ExcerptId>>,
    /// Up to here all of them are heard.
    upto: ExcerptId,
}

impl Memories {
    fn new() -> Self {
        Memories { of: HashMap::new(), upto: ExcerptId(0) }
    }

    /// For those of some excerpts in a row that say something again: where their people said it first.
    fn hear(
        &mut self,
        rows: &Rows<'_>,
        product: ProductId,
        passages: &[Passage],
    ) -> Result<HashMap<ExcerptId, ExcerptId>, Problem> {
        let Some(last) = passages.last().map(|one| one.id) else { return Ok(HashMap::new()) };
        let people = passages.iter().filter_map(|one| one.person);
        let new: BTreeSet<PersonId> = people.filter(|who| !self.of.contains_key(who)).collect();
        let mut said = Vec::new();
        if !self.of.is_empty() {
            said = rows.said_between(product, self.upto, last)?;
            said.retain(|one| self.of.contains_key(&one.person));
        }
        said.extend(rows.said_by(product, &new.into_iter().collect::<Vec<_>>(), last, REMEMBERED)?);
        self.upto = last;
        let mut first = HashMap::new();
        for one in said {
            let memory = self.of.entry(one.person).or_default();
            first.extend(memory.hear(one.id, Wording::of(&one.words)).map(|first| (one.id, first)));
        }
        Ok(first)
    }
}

/// What was understood of words, by their keys, as far as it is kept.
pub(crate) fn kept(rows: &Rows<'_>, keys: impl Iterator<Item = i64>) -> Result<HashMap<i64, Heard>, Problem> {
    let mut known = HashMap::new();
    for key in keys {
        let Some((meaning, tone)) = rows.heard(key)? else { continue };
        if let (Some(meaning), Some(tone)) = (Vector::from_bytes(&meaning), Tone::from_bytes(&tone)) {
            known.insert(key, Heard { meaning, tone });
        }
    }
    Ok(known)
}

/// Keeps what was understood of words.
pub(crate) fn keep_heard(tx: &mut Tx<'_>, all: &HashMap<i64, Heard>) -> Result<(), Problem> {
    for (key, Heard { meaning, tone }) in all {
        tx.keep_meaning(*key, &meaning.to_bytes(), &tone.to_bytes())?;
    }
    Ok(())
}

/// What is understood of words that are not known yet, each once. It is rounded as it is kept, so that what is told does not
/// depend on whether the words were known.
pub(crate) fn understood(
    app: &App,
    words: &[(i64, &str)],
    known: &HashMap<i64, Heard>,
) -> Result<HashMap<i64, Heard>, Problem> {
    let fresh: HashMap<i64, &str> = words.iter().filter(|(key, _)| !known.contains_key(key)).copied().collect();
    if fresh.is_empty() {
        return Ok(HashMap::new());
    }
    let (keys, texts): (Vec<i64>, Vec<&str>) = fresh.into_iter().unzip();
    let heard = app.told(|meaning| meaning.heard(&texts))?;
    let rounded = |heard: Heard| Some(Heard { meaning: Vector::from_bytes(&heard.meaning.to_bytes())?, ..heard });
    Ok(keys.into_iter().zip(heard).filter_map(|(key, heard)| Some((key, rounded(heard)?))).collect())
}

/// Queues the reading of one product that has something that is not read yet. Whether there was any.
pub(crate) fn queue_unread(app: &App, call: &Call) -> Result<bool, Problem> {
    if app.meaning().is_none() {
        return Ok(false);
    }
    app.bell.hear_of(app.read_open(|rows| Ok(rows.newest_excerpt()?))?);
    app.bell.look_for_unread(call.today, || {
        let Some(product) = app.read_open(|rows| first_unread(app, rows, call))? else { return Ok(false) };
        let now = call.now.as_millisecond();
        let work = serde_json::to_string(&Work::Read).map_err(|fault| Problem::Internal(fault.to_string()))?;
        app.write_open(call, move |tx| Ok(tx.add_job(product, None, "reading what people said", &work, now)?))?;
        Ok(true)
    })
}

/// The first product with something to read, or to tell of its findings, where that does not rest.
fn first_unread(app: &App, rows: &Rows<'_>, call: &Call) -> Result<Option<ProductId>, Problem> {
    for product in rows.list::<Product>("ORDER BY id", [])? {
        let waits = splits_wait(rows, product.id)?
            || rows.unread_by(product.id, reader(rows, product.id)?.engine())? > 0
            || to_learn(rows, product.id)?.is_some()
            || some_to_place(rows, product.id)?
            || pages_wait(rows, product.id)?
            || some_far(rows, product.id)?
            || some_to_tell(rows, product.id, call.today)?
            || some_to_grade(rows, product.id, call.today)?;
        if waits && !app.minds.rests(product.id, rows.last_excerpt(product.id)?) {
            return Ok(Some(product.id));
        }
    }
    Ok(None)
}

/// All that is read in the background, one after another: the words, then what they make of the findings.
pub(crate) fn look_through(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    if split_items(running, product, Turn::GivesWay)? && read_unread(running, product, Turn::GivesWay)? {
        read_pages(running, product)?;
        place_new(running, product)?;
        tell_findings(running, product)?;
        grade_ideas(running, product)?;
        queue_first_run(running, product)?;
        if running.ask(|rows| some_far(rows, product))? {
            look_closer(running, product, Turn::GivesWay)?;
        }
    }
    Ok(())
}

/// Somebody stopped the reading, or it failed: it rests until more comes in.
pub(crate) fn rest_from_reading(app: &App, job: &Job) {
    let Some(product) = job.product_id else { return };
    match app.read_open(|rows| Ok(rows.last_excerpt(product)?)) {
        Ok(last) => app.minds.rest(product, last),
        Err(problem) => tracing::error!(%problem, "the reading could not be put to rest"),
    }
}

/// Reads at once what is not read yet, and tells what it makes of the findings, for what is loaded by a command.
///
/// # Errors
/// Where the store or the model fails.
pub fn read_now(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    let mut running = Running::at_once(app, call);
    split_items(&mut running, product, Turn::Stays)?;
    read_unread(&mut running, product, Turn::Stays)?;
    place_new(&mut running, product)?;
    tell_findings(&mut running, product)?;
    grade_ideas(&mut running, product)?;
    Ok(read_pages(&mut running, product)?)
}

/// Keeps meanings of words that were told before, so that they need not be told again: keys of eight bytes, each followed
/// by its vector, by how the words are said, and by the vector seen more closely, which is all 0 where it is not known.
///
/// # Errors
/// Where the right is missing.
pub fn keep_meanings(app: &App, call: &Call, bytes: &'static [u8]) -> Result<(), Problem> {
    app.write(call, Right::Own, move |tx| {
        for one in bytes.chunks_exact(8 + 2 * DIMENSIONS + TONES) {
            let (key, rest) = one.split_at(8);
            let (vector, rest) = rest.split_at(DIMENSIONS);
            let (tone, closer) = rest.split_at(TONES);
            let key = i64::from_be_bytes(std::array::from_fn(|at| key[at]));
            tx.keep_meaning(key, vector, tone)?;
            if closer.iter().any(|byte| *byte != 0) {
                tx.keep_closer(key, closer)?;
            }
        }
        Ok(())
    })
    .map(drop)
}

/// Forgets the meanings of words that stand nowhere any more.
///
/// # Errors
/// Where the store fails.
pub fn forget_meanings(app: &App, call: &Call) -> Result<(), Problem> {
    app.write(call, Right::Own, |tx| Ok(tx.forget_meanings()?)).map(drop)
}

/// All meanings that are kept, as [`keep_meanings`] takes them.
///
/// # Errors
/// Where the right is missing.
pub fn kept_meanings(app: &App, call: &Call) -> Result<Vec<u8>, Problem> {
    app.read(call, Right::Own, |rows| {
        let mut bytes = Vec::new();
        rows.all_meanings(|key, vector, tone, closer| {
            bytes.extend(key.to_be_bytes());
            bytes.extend(vector);
            bytes.extend(tone.unwrap_or(&[0; TONES]));
            bytes.extend(closer.unwrap_or(&[0; DIMENSIONS]));
        })?;
        Ok(bytes)
    })
}
