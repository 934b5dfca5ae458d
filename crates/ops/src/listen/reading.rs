//! The engine reads what people said, in the background and as far as it has not yet. What it tells follows from the words:
//! it is nobody's change, it can be told again at any time, and it leaves alone what a person said.

use std::collections::HashMap;
use std::time::{Duration, Instant};

use iron_kite_core::jobs::Job;
use iron_kite_core::listen::{ENGINE, tell};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::{Span, Vector, language_of};
use iron_kite_core::things::{ExcerptId, Product, ProductId, ThingKind};
use iron_kite_store::Rows;
use iron_kite_store::queries::engine::{Told, Unread};
use sha2::{Digest, Sha256};

use crate::call::{App, Call};
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
    words: String,
    language: Option<&'static str>,
    key: i64,
}

fn passage(unread: Unread) -> Passage {
    let span = Span { from: unread.span.0, to: unread.span.1 };
    let words = span.of(&unread.text).unwrap_or_default().to_owned();
    Passage { id: unread.id, language: language_of(&unread.text), key: meaning_key(&words), words }
}

/// Reads what is not read yet of a product, some at a time. It gives way to other work: what is left waits for its turn.
pub(crate) fn read_unread(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    let all = running.ask(|rows| Ok(rows.unread_by(product, ENGINE)?))?;
    running.expect(usize::try_from(all).unwrap_or_default());
    let (mut after, mut told_at, mut untold) = (0, Instant::now(), 0);
    loop {
        let unread = running.ask(|rows| Ok(rows.next_unread(product, ENGINE, after, CHUNK)?))?;
        let Some(last) = unread.last().map(|last| last.id.0) else { break };
        let count = unread.len();
        after = last;
        read_some(running, product, unread.into_iter().map(passage).collect())?;
        untold += count;
        if told_at.elapsed() >= TELL {
            tell_live(running.app(), untold);
            (told_at, untold) = (Instant::now(), 0);
        }
        running.advance(count)?;
        if running.others_wait()? {
            break;
        }
    }
    if untold > 0 {
        tell_live(running.app(), untold);
    }
    Ok(())
}

fn tell_live(app: &App, rows: usize) {
    app.tell_live("read what people said", &[ThingKind::Excerpt, ThingKind::FeedbackItem], rows);
}

fn read_some(running: &mut Running<'_>, product: ProductId, passages: Vec<Passage>) -> Result<(), Ended> {
    let known = running.ask(|rows| meanings(rows, &passages))?;
    let fresh = understood(running.app(), &passages, &known)?;
    let meaning = |key: &i64| known.get(key).or_else(|| fresh.get(key));
    let mut told = Vec::with_capacity(passages.len());
    let mut minds = Vec::with_capacity(passages.len());
    for one in &passages {
        let Some(vector) = meaning(&one.key) else { continue };
        let said = tell(&one.words, vector, one.language);
        told.push(Told {
            id: one.id,
            kind: said.kind.name(),
            sure: said.sure,
            sentiment: said.sentiment,
            language: one.language,
            meaning_key: one.key,
        });
        minds.push((one.id, vector.to_bytes()));
    }
    let kept: Vec<(i64, Vec<u8>)> = fresh.iter().map(|(key, vector)| (*key, vector.to_bytes())).collect();
    running.write(move |tx| {
        for (key, vector) in &kept {
            tx.keep_meaning(*key, vector)?;
        }
        Ok(tx.tell(ENGINE, &told)?)
    })?;
    running.app().minds.add(product, &minds);
    Ok(())
}

fn meanings(rows: &Rows<'_>, passages: &[Passage]) -> Result<HashMap<i64, Vector>, Problem> {
    let mut known = HashMap::new();
    for one in passages {
        if let Some(vector) = rows.meaning(one.key)?.and_then(|bytes| Vector::from_bytes(&bytes)) {
            known.insert(one.key, vector);
        }
    }
    Ok(known)
}

/// The meanings of words that are not known yet, each once. They are rounded as they are kept, so that what is told does not
/// depend on whether the words were known.
fn understood(app: &App, passages: &[Passage], known: &HashMap<i64, Vector>) -> Result<HashMap<i64, Vector>, Problem> {
    let fresh: HashMap<i64, &str> =
        passages.iter().filter(|one| !known.contains_key(&one.key)).map(|one| (one.key, one.words.as_str())).collect();
    if fresh.is_empty() {
        return Ok(HashMap::new());
    }
    let meaning = app.meaning().ok_or_else(|| Problem::Internal("there is nothing that tells meanings".into()))?;
    let (keys, texts): (Vec<i64>, Vec<&str>) = fresh.into_iter().unzip();
    let vectors = meaning.vectors(&texts).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let rounded = vectors.into_iter().filter_map(|vector| Vector::from_bytes(&vector.to_bytes()));
    Ok(keys.into_iter().zip(rounded).collect())
}

/// Queues the reading of one product that has something that is not read yet. Whether there was any.
pub(crate) fn queue_unread(app: &App, call: &Call) -> Result<bool, Problem> {
    if app.meaning().is_none() {
        return Ok(false);
    }
    app.bell.look_for_unread(|| {
        let Some(product) = app.read_open(|rows| first_unread(app, rows))? else { return Ok(false) };
        let now = call.now.as_millisecond();
        let work = serde_json::to_string(&Work::Read).map_err(|fault| Problem::Internal(fault.to_string()))?;
        app.write_open(call, move |tx| Ok(tx.add_job(product, None, "reading what people said", &work, now)?))?;
        Ok(true)
    })
}

/// The first product with something to read whose reading does not rest.
fn first_unread(app: &App, rows: &Rows<'_>) -> Result<Option<ProductId>, Problem> {
    for product in rows.list::<Product>("ORDER BY id", [])? {
        if rows.unread_by(product.id, ENGINE)? > 0 && !app.minds.rests(product.id, rows.last_excerpt(product.id)?) {
            return Ok(Some(product.id));
        }
    }
    Ok(None)
}

/// Somebody stopped the reading, or it failed: it rests until more comes in.
pub(crate) fn rest_from_reading(app: &App, job: &Job) {
    let Some(product) = job.product_id else { return };
    match app.read_open(|rows| Ok(rows.last_excerpt(product)?)) {
        Ok(last) => app.minds.rest(product, last),
        Err(problem) => tracing::error!(%problem, "the reading could not be put to rest"),
    }
}

/// Reads at once what is not read yet, for what is loaded by a command.
///
/// # Errors
/// Where the store or the model fails.
pub fn read_now(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    match read_unread(&mut Running::at_once(app, call), product) {
        Ok(()) => Ok(()),
        Err(Ended::Problem(problem)) => Err(problem),
        Err(Ended::Stopped) => Err(Problem::Internal("nobody can stop this".into())),
    }
}

/// Keeps meanings of words that were told before, so that they need not be told again: keys of eight bytes, each followed
/// by its vector.
///
/// # Errors
/// Where the right is missing.
pub fn keep_meanings(app: &App, call: &Call, bytes: &'static [u8]) -> Result<(), Problem> {
    app.write(call, Right::Own, move |tx| {
        for one in bytes.chunks_exact(8 + iron_kite_core::text::DIMENSIONS) {
            let (key, vector) = one.split_at(8);
            let key = i64::from_be_bytes(std::array::from_fn(|at| key[at]));
            tx.keep_meaning(key, vector)?;
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
        rows.all_meanings(|key, vector| {
            bytes.extend(key.to_be_bytes());
            bytes.extend(vector);
        })?;
        Ok(bytes)
    })
}
