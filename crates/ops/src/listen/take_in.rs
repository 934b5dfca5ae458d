//! Rows on their way into the store: what is new, what is there already, and what is there with other words.

use std::collections::HashMap;
use std::iter::Peekable;

use iron_kite_core::listen::{
    ChangedRow, FeedbackItem, ImportReport, ImportRow, LeftOut, Reading, SPLIT, Study, Turn, cover, digest_text,
    read_feedback,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{AccountId, ExcerptId, ItemId, PersonId, ProductId, StudyId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Rows, Tx};
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};

use crate::call::fields;
use crate::jobs::{Ended, Running};
use crate::people::hex;

/// So many rows are written at once; between them others can write.
const CHUNK: usize = 250;
/// So much of a changed text is shown.
const SHOWN: usize = 160;
/// At most so many rows of each sort are named in a report; all are counted.
const MOST_NAMED: usize = 2_000;

/// How a row stands to what is there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Standing {
    /// It is new; what tells it from its duplicates.
    New(String),
    /// It is there already.
    Same,
    /// It is there already, and its source knows it by another key from now on.
    Renamed {
        /// The item.
        item: ItemId,
        /// What tells it from its duplicates now.
        digest: String,
    },
    /// Its source knows it by its key, and it says something else now.
    Changed {
        /// The item.
        item: ItemId,
        /// The words that are there.
        before: String,
        /// What tells it from its duplicates now.
        digest: String,
    },
}

/// What tells a row from its duplicates.
pub(super) fn digest_of(row: &ImportRow) -> String {
    hex(&Sha256::digest(digest_text(row).as_bytes())[..16])
}

/// How a row stands to what is there of its product and source.
pub(super) fn standing(
    rows: &Rows<'_>,
    product: ProductId,
    source: Option<i64>,
    row: &ImportRow,
) -> Result<Standing, Problem> {
    let digest = digest_of(row);
    if let (Some(source), Some(key)) = (source, &row.key)
        && let Some((item, before, was)) = rows.item_of_key(source, key)?
    {
        return Ok(if was == digest { Standing::Same } else { Standing::Changed { item, before, digest } });
    }
    if let Some(found) = standing_formerly(rows, product, source, row, &digest)? {
        return Ok(found);
    }
    Ok(if rows.has_item(product, &digest)? { Standing::Same } else { Standing::New(digest) })
}

/// How a row stands to what is there by the key that it had when its source last came.
fn standing_formerly(
    rows: &Rows<'_>,
    product: ProductId,
    source: Option<i64>,
    row: &ImportRow,
    digest: &str,
) -> Result<Option<Standing>, Problem> {
    let (Some(source), Some(former)) = (source, &row.former_key) else { return Ok(None) };
    let formerly = digest_of(&ImportRow { key: former.clone(), ..row.clone() });
    let digest = digest.to_owned();
    Ok(match former {
        Some(key) => rows.item_of_key(source, key)?.map(|(item, before, was)| match was == formerly {
            true => Standing::Renamed { item, digest },
            false => Standing::Changed { item, before, digest },
        }),
        None => rows.item_of_digest(product, &formerly)?.map(|item| Standing::Renamed { item, digest }),
    })
}

/// A row with what was read in it.
struct Prepared {
    row: ImportRow,
    readings: Vec<Reading>,
}

/// What goes on from one part of the rows to the next.
#[derive(Default)]
struct State {
    source: Option<i64>,
    /// Whether the source remembers by now which column is what.
    remembered: bool,
    who: Who,
    report: Option<ImportReport>,
}

/// How rows are taken in.
#[derive(Debug, Clone, Default)]
pub(super) struct How {
    /// Which heading means what, to be remembered for the source.
    pub(super) mapping: Option<String>,
    /// Whether rows that are there already with other words get the new ones.
    pub(super) take_changed: bool,
    /// Whether what tells who somebody is is covered in the words.
    pub(super) cover: bool,
    /// The study that it was said in.
    pub(super) study: Option<StudyId>,
}

/// Covers what tells who somebody is in all that a row holds; the name stays.
pub(super) fn covered(row: ImportRow) -> ImportRow {
    ImportRow { text: cover(&row.text).0, extra: row.extra.map(|extra| cover(&extra).0), address: None, ..row }
}

/// So many bytes of text are read for one write, where several texts come together.
const TOGETHER: usize = 500_000;

/// The next of some that are read for one write: at most so many, and of long ones fewer, but at least one.
pub(super) fn some_together<T>(
    from: &mut Peekable<impl Iterator<Item = T>>,
    most: usize,
    length: impl Fn(&T) -> usize,
) -> Vec<T> {
    let (mut some, mut all) = (Vec::new(), 0);
    while some.len() < most
        && let Some(one) = from.next_if(|one| some.is_empty() || all + length(one) <= TOGETHER)
    {
        all += length(&one);
        some.push(one);
    }
    some
}

/// Takes rows in, some at a time. The words are read outside of the writing thread.
pub(super) fn take_rows(
    running: &mut Running<'_>,
    product: ProductId,
    name: &str,
    rows: Vec<ImportRow>,
    mut report: ImportReport,
    how: How,
) -> Result<ImportReport, Ended> {
    let How { mapping, take_changed, cover: how_covers, study } = how;
    report.left_out.truncate(MOST_NAMED);
    report.notes.truncate(MOST_NAMED);
    let today = running.call().today.to_string();
    let source = running.ask(|store| Ok(store.source_named(product, name)?.map(|source| source.id.0)))?;
    let mut state = State { source, report: Some(report), ..State::default() };
    let mut rows = rows.into_iter().peekable();
    while rows.peek().is_some() {
        let chunk = some_together(&mut rows, CHUNK, |row| row.text.len());
        let chunk: Vec<ImportRow> = if how_covers { chunk.into_iter().map(covered).collect() } else { chunk };
        let count = chunk.len();
        let prepared = running.ask(|store| prepare(store, product, state.source, chunk, take_changed))?;
        let (name, today, mapping) = (name.to_owned(), today.clone(), mapping.clone());
        state = running.write(move |tx| {
            let source =
                Source { product, name: &name, today: &today, mapping: mapping.as_deref(), covers: how_covers, study };
            if tx.rows().list::<FeedbackItem>("WHERE product_id = ?1 LIMIT 1", [product.0])?.is_empty() {
                // All that there will be is split the present way.
                tx.note_split(product, SPLIT)?;
            }
            for one in prepared {
                take(tx, &source, one, take_changed, &mut state)?;
            }
            let added = state.report.as_ref().map_or(0, |report| report.added);
            tx.label(format!("brought in {added} items from {name}"));
            Ok(state)
        })?;
        running.advance(count)?;
    }
    state.report.ok_or_else(|| Problem::Internal("the report was lost".into()).into())
}

/// Takes one row in, within a write of somebody else's. Nothing where it is there already.
pub(crate) fn take_one(
    tx: &mut Tx<'_>,
    product: ProductId,
    name: &str,
    row: ImportRow,
    today: &str,
) -> Result<Option<ItemId>, Problem> {
    let source = tx.rows().source_named(product, name)?.map(|source| source.id.0);
    let mut state = State { source, ..State::default() };
    let from = Source { product, name, today, mapping: None, covers: false, study: None };
    let (readings, digest) = (read_row(&row), digest_of(&row));
    take(tx, &from, Prepared { row, readings }, false, &mut state)?;
    if report(&mut state).added == 0 {
        return Ok(None);
    }
    Ok(tx.rows().item_of_digest(product, &digest)?)
}

fn prepare(
    store: &Rows<'_>,
    product: ProductId,
    source: Option<i64>,
    chunk: Vec<ImportRow>,
    take_changed: bool,
) -> Result<Vec<Prepared>, Problem> {
    let one = |row: ImportRow| {
        let standing = standing(store, product, source, &row)?;
        let wanted = match standing {
            Standing::New(_) => true,
            Standing::Changed { .. } => take_changed,
            Standing::Same | Standing::Renamed { .. } => false,
        };
        let readings = if wanted { read_row(&row) } else { Vec::new() };
        Ok(Prepared { row, readings })
    };
    chunk.into_iter().map(one).collect()
}

fn read_row(row: &ImportRow) -> Vec<Reading> {
    let turns: Vec<Turn> = row.turns.as_deref().and_then(|turns| serde_json::from_str(turns).ok()).unwrap_or_default();
    read_feedback(&row.text, &turns)
}

/// Where rows come from.
struct Source<'a> {
    product: ProductId,
    name: &'a str,
    today: &'a str,
    mapping: Option<&'a str>,
    covers: bool,
    study: Option<StudyId>,
}

fn take(
    tx: &mut Tx<'_>,
    from: &Source<'_>,
    one: Prepared,
    take_changed: bool,
    state: &mut State,
) -> Result<(), Problem> {
    let Prepared { row, readings } = one;
    // Rows before this one, and others who write, may have brought it in the meantime.
    match standing(&tx.rows(), from.product, state.source, &row)? {
        Standing::Same => report(state).duplicates += 1,
        Standing::Renamed { item, digest } => {
            source_of(tx, from, state)?;
            tx.set(item.thing(), &fields(json!({ "source_key": row.key, "digest": digest })))?;
            report(state).duplicates += 1;
        }
        Standing::New(digest) => {
            let source = source_of(tx, from, state)?;
            let values = item_row(tx, from.product, source, &row, digest, &mut state.who)?;
            let item = tx.insert(ThingKind::FeedbackItem, &values)?;
            if let Some(study) = from.study {
                put_into_study(tx, study, ItemId(item), values["person_id"].as_i64().map(PersonId))?;
            }
            add_excerpts(tx, item, &readings)?;
            let report = report(state);
            report.added += 1;
            report.excerpts += readings.len();
        }
        Standing::Changed { item, before, digest } => {
            let why_not = match () {
                () if !take_changed => None,
                () if tx.rows().item_is_used(item)? => {
                    Some("has other words now; it was left as it is, as a finding rests on what it said")
                }
                () if tx.rows().has_item(from.product, &digest)? => {
                    Some("has other words now, which another item says already; it was left as it is")
                }
                () => None,
            };
            let taken = take_changed && why_not.is_none();
            if taken {
                let source = source_of(tx, from, state)?;
                let values = item_row(tx, from.product, source, &row, digest, &mut state.who)?;
                for excerpt in tx.rows().excerpts_of(item)? {
                    tx.remove(Thing::new(ThingKind::Excerpt, excerpt))?;
                }
                tx.set(item.thing(), &values)?;
                add_excerpts(tx, item.0, &readings)?;
            }
            let short = |text: &str| text.chars().take(SHOWN).collect();
            let report = report(state);
            if taken {
                report.excerpts += readings.len();
            }
            if let Some(reason) = why_not {
                report.notes.push(LeftOut { row: row.number, reason: reason.to_owned() });
            }
            report.changed.push(ChangedRow {
                row: row.number,
                item,
                before: short(&before),
                after: short(&row.text),
                taken,
            });
        }
    }
    Ok(())
}

/// What is said in a study is part of it, and whoever says it takes part; the first of it shows that it is under way.
fn put_into_study(tx: &mut Tx<'_>, study: StudyId, item: ItemId, person: Option<PersonId>) -> Result<(), Problem> {
    let known: Study = tx.rows().get(study)?;
    tx.set(item.thing(), &fields(json!({ "study_id": study })))?;
    if known.state.as_deref().is_none_or(|state| state == "planned") {
        tx.set(study.thing(), &fields(json!({ "state": "under_way" })))?;
    }
    let Some(person) = person else { return Ok(()) };
    if tx.rows().link(LinkKind::TakesPart, person.thing(), study.thing())?.is_none() {
        tx.add_link(LinkKind::TakesPart, person.thing(), study.thing())?;
    }
    Ok(())
}

fn report(state: &mut State) -> &mut ImportReport {
    state.report.get_or_insert_with(ImportReport::empty)
}

/// The source of the rows, made with the first of them; it remembers which column is what.
fn source_of(tx: &mut Tx<'_>, from: &Source<'_>, state: &mut State) -> Result<i64, Problem> {
    if let Some(source) = state.source {
        if !std::mem::replace(&mut state.remembered, true) {
            let thing = Thing::new(ThingKind::Source, source);
            let known = tx.rows().json(thing)?;
            let mapping = from.mapping.or(known["mapping"].as_str());
            let remembered = json!({ "mapping": mapping, "covers": i64::from(from.covers) });
            if (&known["mapping"], &known["covers"]) != (&remembered["mapping"], &remembered["covers"]) {
                tx.set(thing, &fields(remembered))?;
            }
        }
        return Ok(source);
    }
    let values = json!({
        "product_id": from.product, "name": from.name, "brought_on": from.today, "mapping": from.mapping,
        "covers": i64::from(from.covers),
    });
    let source = tx.insert(ThingKind::Source, &fields(values))?;
    (state.source, state.remembered) = (Some(source), true);
    Ok(source)
}

fn add_excerpts(tx: &mut Tx<'_>, item: i64, readings: &[Reading]) -> Result<(), Problem> {
    readings.iter().try_for_each(|part| add_excerpt(tx, ItemId(item), part).map(drop))
}

/// Adds an excerpt as it was read at a glance; the engine reads it in the background.
pub(crate) fn add_excerpt(tx: &mut Tx<'_>, item: ItemId, part: &Reading) -> Result<ExcerptId, Problem> {
    let excerpt = json!({
        "item_id": item, "from_char": part.span.from, "to_char": part.span.to,
        "kind": part.kind.name(), "sentiment": part.sentiment,
    });
    Ok(ExcerptId(tx.insert(ThingKind::Excerpt, &fields(excerpt))?))
}

fn item_row(
    tx: &mut Tx<'_>,
    product: ProductId,
    source: i64,
    row: &ImportRow,
    digest: String,
    who: &mut Who,
) -> Result<Map<String, Value>, Problem> {
    let (person, account) = who.of(tx, row)?;
    Ok(fields(json!({
        "product_id": product, "source_id": source, "text": row.text, "said_on": row.said_on,
        "person_id": person, "account_id": account, "rating": row.rating, "extra": row.extra, "digest": digest,
        "source_key": row.key, "turns": row.turns,
    })))
}

/// A person's name, address and account, as far as a row says them.
type KnownBy = (Option<String>, Option<String>, Option<AccountId>);

/// Names that were met in these rows, so that each is looked up once.
#[derive(Default)]
struct Who {
    accounts: HashMap<String, AccountId>,
    people: HashMap<KnownBy, PersonId>,
}

impl Who {
    fn of(&mut self, tx: &mut Tx<'_>, row: &ImportRow) -> Result<(Option<PersonId>, Option<AccountId>), Problem> {
        if row.unproved {
            return Ok((None, None));
        }
        let account = match &row.account {
            None => None,
            Some(name) => Some(match self.accounts.get(name) {
                Some(id) => *id,
                None => {
                    let id = tx.account_named(name)?;
                    self.accounts.insert(name.clone(), id);
                    id
                }
            }),
        };
        let known_by = (row.person.clone(), row.address.clone(), account);
        let person = match self.people.get(&known_by) {
            Some(id) => Some(*id),
            None => {
                let found = tx.person_known(row.person.as_deref(), row.address.as_deref(), account)?;
                self.people.extend(found.map(|id| (known_by, id)));
                found
            }
        };
        Ok((person, account))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn long_texts_come_together_with_fewer_others() {
        let mut lengths = [400_000, 100_000, 1, 2_000_000, 3, 4, 5, 6].into_iter().peekable();
        let mut next = || some_together(&mut lengths, 3, |length| *length);
        assert_eq!(next(), [400_000, 100_000]);
        assert_eq!(next(), [1]);
        assert_eq!(next(), [2_000_000], "one is always taken, however long");
        assert_eq!(next(), [3, 4, 5]);
        assert_eq!(next(), [6]);
        assert!(next().is_empty());
    }
}
