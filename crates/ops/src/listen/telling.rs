//! What the engine tells of findings: key phrases, a few excerpts that stand for all, what is related, and how it moves. It
//! follows from the excerpts and the day, and is told anew where they changed.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use iron_kite_core::listen::{
    Candidate, MARK, Member, Moved, Phrases, Volume, compared_days, fragment, kind_of, moved, standing_for, title_of,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::text::{Vector, middle, says_too_little};
use iron_kite_core::things::{ExcerptId, FindingId, ProductId, ThingKind};
use iron_kite_store::Rows;
use iron_kite_store::queries::findings::{FindingTold, Readable};
use jiff::civil::Date;
use serde_json::{Map, Value, json};

use crate::jobs::{Ended, Running};

/// So many phrases are told of a finding.
pub(crate) const PHRASES: usize = 5;
/// So many excerpts stand for all.
pub(crate) const NEAREST: usize = 3;
/// So many findings are related, and at least so alike.
const RELATED: usize = 4;
const ALIKE: f32 = 0.6;
/// Phrases are counted over at most about so many excerpts, taken evenly.
const COUNTED: usize = 20_000;

/// Whether a finding changed since it was told of, or the day did.
pub(crate) fn some_to_tell(rows: &Rows<'_>, product: ProductId, today: Date) -> Result<bool, Problem> {
    Ok(!stale(rows, product, today)?.is_empty())
}

/// The findings that are to be told anew, with by what.
fn stale(rows: &Rows<'_>, product: ProductId, today: Date) -> Result<BTreeMap<FindingId, String>, Problem> {
    let told = rows.findings_told(product)?;
    let mut stamps = rows.finding_stamps(product, &today.to_string())?;
    stamps.retain(|id, stamp| told.get(id).is_none_or(|told| told.stamp != *stamp));
    Ok(stamps)
}

/// Excerpts with what they mean, and the phrases in them.
pub(crate) struct Said {
    pub(crate) all: Vec<Readable>,
    /// As the grouping takes them; their kinds are told only where they are to be grouped.
    members: Vec<Member>,
    phrases: Phrases,
    /// Where each excerpt stands among those whose phrases were counted.
    counted: HashMap<usize, usize>,
}

impl Said {
    /// All excerpts of a product that can be read.
    pub(crate) fn of(rows: &Rows<'_>, product: ProductId) -> Result<Said, Problem> {
        Ok(Said::those(rows.readable(product)?))
    }

    /// All excerpts of a product that can be read, to be grouped.
    pub(crate) fn to_group(rows: &Rows<'_>, product: ProductId) -> Result<Said, Problem> {
        Ok(Said::seen_closer(rows.readable_closer(product)?))
    }

    /// The excerpts behind a finding that can be read, to be grouped.
    pub(crate) fn of_finding(rows: &Rows<'_>, finding: FindingId) -> Result<Said, Problem> {
        Ok(Said::seen_closer(rows.readable_behind(finding)?))
    }

    /// These excerpts, as far as they can be read.
    pub(crate) fn of_excerpts(rows: &Rows<'_>, excerpts: &[ExcerptId]) -> Result<Said, Problem> {
        Ok(Said::those(rows.readable_among(excerpts)?))
    }

    /// The sentence under which all of them stand.
    pub(crate) fn sentence(&self) -> String {
        self.title(&(0..self.all.len()).collect::<Vec<_>>())
    }

    fn those(all: Vec<Readable>) -> Said {
        Said::by(all, |one| Member::new(&vector(&one.meaning), [0.0; 7]))
    }

    /// Their meaning seen more closely, where it is known of all of them: the two are not to be compared with each other.
    fn seen_closer(all: Vec<Readable>) -> Said {
        let closer = all.iter().all(|one| one.closer.is_some());
        Said::by(all, |one| {
            let meaning = vector(&one.meaning);
            let kinds = kind_of(&one.words, Some(&meaning)).likely;
            let closer = one.closer.as_deref().filter(|_| closer).map(vector);
            Member::new(&closer.unwrap_or(meaning), kinds)
        })
    }

    fn by(mut all: Vec<Readable>, member: impl Fn(&Readable) -> Member) -> Said {
        let most = most_frequent(all.iter().filter_map(|one| one.language.as_deref())).map(str::to_owned);
        let member = |one: &mut Readable| {
            let foreign = one.language.is_some() && one.language != most;
            let weak = foreign || says_too_little(&one.words);
            let mut member = member(one);
            (member.weak, member.voice) = (weak, one.voice);
            // The bytes are not needed beside the vector: there may be a hundred thousand.
            (one.meaning, one.closer) = (Vec::new(), None);
            member
        };
        let members = all.iter_mut().map(member).collect();
        let every = all.len().div_ceil(COUNTED).max(1);
        let counted: Vec<usize> = (0..all.len()).step_by(every).collect();
        let phrases = Phrases::of(counted.iter().map(|at| all[*at].words.as_str()));
        let counted = counted.into_iter().enumerate().map(|(number, at)| (at, number)).collect();
        Said { all, members, phrases, counted }
    }

    /// As the grouping takes them.
    pub(crate) fn members(&self) -> &[Member] {
        &self.members
    }

    /// The key phrases of some excerpts by their places.
    pub(crate) fn phrases(&self, places: &[usize]) -> Vec<String> {
        let counted: Vec<usize> = places.iter().filter_map(|at| self.counted.get(at).copied()).collect();
        self.phrases.telling(&counted, PHRASES)
    }

    /// The places of a few that stand for all.
    pub(crate) fn nearest(&self, places: &[usize]) -> Vec<usize> {
        let Some(middle) = self.middle(places) else { return Vec::new() };
        let near = |at: &usize| self.meaning(*at).alike(&middle) - fragment(&self.all[*at].words);
        let near: Vec<f32> = places.iter().map(near).collect();
        standing_for(&near, |at| self.meaning(places[at]), NEAREST).into_iter().map(|at| places[at]).collect()
    }

    /// The sentence under which they stand.
    pub(crate) fn title(&self, places: &[usize]) -> String {
        let Some(middle) = self.middle(places) else { return String::new() };
        let language = |at: usize| self.all[at].language.as_deref();
        let most = most_frequent(places.iter().filter_map(|at| language(*at)));
        let candidates = places.iter().map(|at| Candidate {
            words: &self.all[*at].words,
            alike: self.meaning(*at).alike(&middle),
            foreign: language(*at).is_some() && language(*at) != most,
        });
        title_of(candidates, &self.phrases(places))
    }

    fn meaning(&self, at: usize) -> Vector {
        self.members[at].meaning()
    }

    fn middle(&self, places: &[usize]) -> Option<Vector> {
        middle(places.iter().map(|at| self.meaning(*at)))
    }
}

fn vector(bytes: &[u8]) -> Vector {
    Vector::from_bytes(bytes).unwrap_or_else(|| Vector::pointing(Vec::new()))
}

/// What there is most of.
fn most_frequent<'a>(all: impl Iterator<Item = &'a str>) -> Option<&'a str> {
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    all.for_each(|one| *counts.entry(one).or_default() += 1);
    counts.into_iter().max_by_key(|(_, count)| *count).map(|(one, _)| one)
}

/// Tells of the findings of a product what changed.
pub(crate) fn tell_findings(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    let today = running.call().today;
    let (told, titles) = running.ask(|rows| {
        let stale = stale(rows, product, today)?;
        if stale.is_empty() { Ok(Default::default()) } else { told(rows, product, today, stale) }
    })?;
    if told.is_empty() {
        return Ok(());
    }
    let count = told.len();
    running.write(move |tx| {
        tx.label("gave findings another name, since theirs were the words of somebody who was erased");
        tx.tell_findings(&told)?;
        for (finding, title) in titles {
            tx.set(finding.thing(), &Map::from_iter([("title".to_owned(), Value::from(title))]))?;
        }
        Ok(())
    })?;
    running.app().tell_live("looked at the findings", &[ThingKind::Finding], count);
    Ok(())
}

type Told = (Vec<(FindingId, FindingTold)>, Vec<(FindingId, String)>);

fn told(rows: &Rows<'_>, product: ProductId, today: Date, stale: BTreeMap<FindingId, String>) -> Result<Told, Problem> {
    let said = Said::of(rows, product)?;
    let place: HashMap<i64, usize> = said.all.iter().enumerate().map(|(at, one)| (one.id.0, at)).collect();
    let mut places: BTreeMap<FindingId, Vec<usize>> = BTreeMap::new();
    for support in rows.supports(product)? {
        places.entry(support.finding).or_default().extend(place.get(&support.excerpt.0));
    }
    let middles: BTreeMap<FindingId, Vector> =
        places.iter().filter_map(|(id, places)| Some((*id, said.middle(places)?))).collect();
    let before = rows.findings_told(product)?;
    let titles: BTreeMap<FindingId, String> =
        rows.standings(product)?.into_iter().map(|one| (one.id, one.title)).collect();
    let moves = moves(rows, product, today)?;
    let none = Vec::new();
    let (mut told, mut renamed) = (Vec::new(), Vec::new());
    for (id, (volume, moved)) in moves {
        let mut one = before.get(&id).cloned();
        if let Some(stamp) = stale.get(&id) {
            let places = places.get(&id).unwrap_or(&none);
            let nearest: Vec<i64> = said.nearest(places).into_iter().map(|at| said.all[at].id.0).collect();
            one = Some(FindingTold {
                stamp: stamp.clone(),
                phrases: json!(said.phrases(places)).to_string(),
                nearest: json!(nearest).to_string(),
                related: json!(related(&middles, id)).to_string(),
                movement: String::new(),
                p: 1.0,
                recent: 0,
                before: 0,
            });
            if titles.get(&id).is_some_and(|title| is_covered(title)) {
                let title = said.title(places);
                renamed.extend((!title.is_empty()).then_some((id, title)));
            }
        }
        let Some(mut one) = one else { continue };
        (one.recent, one.before, one.p) = (volume.recent, volume.before, moved.p);
        one.movement = moved.movement.name().to_owned();
        told.push((id, one));
    }
    Ok((told, renamed))
}

/// Whether nothing of it can be read any more.
fn is_covered(title: &str) -> bool {
    title.contains(MARK) && !title.chars().any(char::is_alphanumeric)
}

/// The findings that are nearest to one, the nearest first.
fn related(middles: &BTreeMap<FindingId, Vector>, id: FindingId) -> Vec<i64> {
    let Some(mine) = middles.get(&id) else { return Vec::new() };
    let others = middles.iter().filter(|(other, _)| **other != id).map(|(other, middle)| (mine.alike(middle), other.0));
    let mut near: Vec<(f32, i64)> = others.filter(|(alike, _)| *alike >= ALIKE).collect();
    near.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
    near.into_iter().take(RELATED).map(|(_, id)| id).collect()
}

/// How each finding of a product moves.
fn moves(rows: &Rows<'_>, product: ProductId, today: Date) -> Result<BTreeMap<FindingId, (Volume, Moved)>, Problem> {
    let within = |(from, to): (Date, Date)| rows.said_within(product, &from.to_string(), &to.to_string());
    let [recent, before] = compared_days(today);
    let (recent, before) = (within(recent)?, within(before)?);
    let of = |id: Option<FindingId>| Volume {
        recent: recent.get(&id).copied().unwrap_or_default(),
        before: before.get(&id).copied().unwrap_or_default(),
    };
    let ids: BTreeSet<FindingId> = rows.standings(product)?.into_iter().map(|one| one.id).collect();
    let volumes: Vec<Volume> = ids.iter().map(|id| of(Some(*id))).collect();
    let all = moved(&volumes, of(None));
    Ok(ids.into_iter().zip(volumes.into_iter().zip(all)).collect())
}
