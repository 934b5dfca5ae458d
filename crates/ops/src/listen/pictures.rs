//! A finding's page: how much of it was said, by whom, when and with which colour, what is unknown, and its excerpts in parts.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::decide::{Voices, voices};
use iron_kite_core::listen::{
    FeedbackKind, Finding, Frustration, Heap, OverTime, Part, Side, Spread, Unknown, Voice, WhoSaid, compared_days,
    contrary, frustration, over_time, parts, unknown,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{AccountId, ExcerptId, FindingId, ProductId};
use iron_kite_core::workspace::Product;
use iron_kite_store::Rows;
use iron_kite_store::queries::pictures::{Mover, SaidFilter, SaidGroup, SaidRow, Unseen};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use super::findings::FindingToldView;
use super::items::{ExcerptView, place, with_findings};
use crate::call::{App, Call};

/// Which excerpts behind a finding are asked for.
#[derive(Debug, Clone, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ExcerptQuery {
    /// Said on this day or later.
    pub from: Option<String>,
    /// Said on this day or before.
    pub to: Option<String>,
    /// Of this source.
    pub source: Option<i64>,
    /// Of this segment; an empty one stands for those of none.
    pub segment: Option<String>,
    /// Of this kind.
    pub kind: Option<FeedbackKind>,
    /// On this side.
    #[param(inline)]
    pub side: Option<Side>,
    /// Where the last page ended.
    pub after: Option<String>,
    /// At most so many, 500 at the most.
    pub limit: Option<usize>,
}

/// A page of excerpts behind a finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ExcerptsPage {
    /// The excerpts, newest first.
    pub excerpts: Vec<ExcerptView>,
    /// What to ask for the next page with; none at the end.
    pub next: Option<String>,
    /// How many there are of those that are asked for.
    pub all: i64,
}

/// Pictures of what stands behind a finding or an idea, and what they leave open.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SaidPicture {
    /// Over time.
    pub over_time: OverTime,
    /// By segment.
    pub segments: Vec<Part>,
    /// By source.
    pub sources: Vec<Part>,
    /// By kind.
    pub kinds: Vec<Part>,
    /// People, accounts and revenue.
    pub voices: Voices,
    /// How much people suffer, with its parts.
    pub frustration: Frustration,
    /// What is not known, or not enough to build on, in words.
    pub unknown: Vec<String>,
    /// A few excerpts that stand for all.
    pub stands_for: Vec<ExcerptView>,
    /// Those who say the opposite of most, the strongest first.
    pub contrary: Vec<ExcerptView>,
    /// How many there are of them.
    pub contrary_count: usize,
}

const PAGE: usize = 50;
const MOST: usize = 500;
/// So many contrary voices are shown.
pub(crate) const CONTRARY: usize = 3;
/// So many excerpts stand for all.
pub(crate) const STANDS_FOR: usize = 3;

/// The excerpts behind a finding that are asked for, newest first.
///
/// # Errors
/// Where there is no such finding.
pub fn finding_excerpts(
    app: &App,
    call: &Call,
    finding: FindingId,
    query: ExcerptQuery,
) -> Result<ExcerptsPage, Problem> {
    let after = query.after.as_deref().map(place).transpose()?;
    let limit = query.limit.unwrap_or(PAGE).clamp(1, MOST);
    let filter = SaidFilter {
        from: day_asked("/from", query.from.as_deref())?.map(|day| day.to_string()),
        to: day_asked("/to", query.to.as_deref())?.map(|day| day.to_string()),
        source: query.source,
        segment: query.segment,
        kind: query.kind,
        side: query.side,
    };
    app.read(call, Right::Read, |rows| {
        rows.json(finding.thing())?;
        let mut found = rows.excerpts_behind(finding, &filter, after.as_ref(), limit + 1)?;
        let more = found.len() > limit;
        found.truncate(limit);
        let last = found.last().filter(|_| more);
        let next = last.map(|row| format!("{}_{}", row.said_on.as_deref().unwrap_or_default(), row.excerpt.id.0));
        let mut excerpts = with_findings(rows, found)?;
        let ids: Vec<ExcerptId> = excerpts.iter().map(|view| view.excerpt.id).collect();
        let sure = rows.sure_among(finding, &ids)?;
        excerpts.iter_mut().for_each(|view| view.belongs = sure.get(&view.excerpt.id).copied());
        Ok(ExcerptsPage { excerpts, next, all: rows.count_behind(finding, &filter)? })
    })
}

/// Pictures of a finding.
///
/// # Errors
/// Where there is no such finding.
pub fn finding_picture(app: &App, call: &Call, id: FindingId) -> Result<SaidPicture, Problem> {
    app.read(call, Right::Read, |rows| {
        let finding: Finding = rows.get(id.0)?;
        Ok(SaidOf::read(rows, &finding, call.today, STANDS_FOR, CONTRARY)?.picture)
    })
}

/// What was said behind a finding or an idea, and its picture.
pub(crate) struct SaidOf {
    /// Every excerpt.
    pub(crate) said: Vec<SaidRow>,
    /// What they show together.
    pub(crate) picture: SaidPicture,
    /// What is not known.
    pub(crate) unknown: Vec<Unknown>,
}

impl SaidOf {
    /// Reads all of it, with so many excerpts that stand for all and so many contrary voices. What stands for all is topped up by
    /// the newest where more are asked for than the engine told.
    pub(crate) fn read(
        rows: &Rows<'_>,
        finding: &Finding,
        today: Date,
        stands_for: usize,
        contrary: usize,
    ) -> Result<Self, Problem> {
        let told = rows.finding_told(finding.id)?.map(FindingToldView::from);
        let nearest = told.map(|told| told.nearest).unwrap_or_default();
        Self::of(rows, rows.said_behind(finding.id)?, nearest, today, (stands_for, contrary))
    }

    /// The same of any excerpts, of which some are known to stand for all.
    pub(crate) fn of(
        rows: &Rows<'_>,
        said: Vec<SaidRow>,
        mut nearest: Vec<ExcerptId>,
        today: Date,
        (stands_for, contrary): (usize, usize),
    ) -> Result<Self, Problem> {
        let who: Vec<_> = said.iter().map(who).collect();
        let voices = voices(&who, &rows.revenue()?);
        let sentiments: Vec<f64> = said.iter().map(|row| row.sentiment).collect();
        let heaps: Vec<Heap> = sentiments.iter().map(|sentiment| Heap::one(*sentiment)).collect();
        let names = Names::read(rows)?;
        let days = said.iter().map(day).zip(&heaps);
        let others = strongest(&said, &sentiments);
        // Since it was told, one may have been taken out.
        nearest.retain(|id| said.iter().any(|row| row.excerpt == *id));
        let mut newest: Vec<&SaidRow> = said.iter().collect();
        newest.sort_by(|one, other| (&other.said_on, other.excerpt).cmp(&(&one.said_on, one.excerpt)));
        let more = newest.into_iter().map(|row| row.excerpt).filter(|id| !nearest.contains(id)).collect::<Vec<_>>();
        nearest.extend(more);
        nearest.truncate(stands_for);
        let voices_of: Vec<Voice<'_>> = said.iter().map(|row| voice(row, &names)).collect();
        let unknown = unknown(&voices_of, names.count_segments(), today);
        let picture = SaidPicture {
            over_time: over_time(days, today),
            segments: parts(said.iter().map(|row| names.segment(row.account)).zip(&heaps)),
            sources: parts(said.iter().map(|row| names.source(row.source)).zip(&heaps)),
            kinds: parts(said.iter().map(|row| Some((row.kind.as_str(), row.kind.as_str()))).zip(&heaps)),
            frustration: frustration(voices.people, &sentiments),
            unknown: unknown.iter().map(Unknown::words).collect(),
            contrary_count: others.len(),
            contrary: in_order(rows, others.into_iter().take(contrary).collect())?,
            stands_for: in_order(rows, nearest)?,
            voices,
        };
        Ok(SaidOf { said, picture, unknown })
    }
}

impl SaidPicture {
    /// How many speak against, neither, and for.
    pub(crate) fn spread(&self) -> Spread {
        self.kinds.iter().fold(Spread::default(), |all, part| Spread {
            against: all.against + part.spread.against,
            neutral: all.neutral + part.spread.neutral,
            for_it: all.for_it + part.spread.for_it,
        })
    }
}

pub(crate) fn who(row: &SaidRow) -> WhoSaid {
    WhoSaid { item_id: row.item, person_id: row.person, account_id: row.account }
}

/// The names of sources and the segments of accounts.
pub(crate) struct Names {
    sources: BTreeMap<i64, (String, String)>,
    segments: BTreeMap<AccountId, String>,
}

impl Names {
    pub(crate) fn read(rows: &Rows<'_>) -> Result<Self, Problem> {
        let keyed = |(id, name): (i64, String)| (id, (id.to_string(), name));
        Ok(Names { sources: rows.source_names()?.into_iter().map(keyed).collect(), segments: rows.segments()? })
    }

    /// A source's key and name.
    pub(crate) fn source(&self, id: i64) -> Option<(&str, &str)> {
        self.sources.get(&id).map(|(key, name)| (key.as_str(), name.as_str()))
    }

    /// The segment of an account, as key and name.
    pub(crate) fn segment(&self, account: Option<AccountId>) -> Option<(&str, &str)> {
        self.segments.get(&account?).map(|name| (name.as_str(), name.as_str()))
    }

    /// Of how many segments people are.
    fn count_segments(&self) -> usize {
        self.segments.values().collect::<BTreeSet<_>>().len()
    }
}

fn voice<'a>(row: &SaidRow, names: &'a Names) -> Voice<'a> {
    Voice {
        person: row.person.map(|id| id.0),
        segment: names.segment(row.account).map(|(_, name)| name),
        source: names.source(row.source).map_or("", |(_, name)| name),
        said_on: day(row),
    }
}

pub(crate) fn day(row: &SaidRow) -> Option<Date> {
    day_of(row.said_on.as_deref())
}

fn day_of(said_on: Option<&str>) -> Option<Date> {
    said_on?.parse().ok()
}

/// A day that is asked for.
fn day_asked(pointer: &str, text: Option<&str>) -> Result<Option<Date>, Problem> {
    let wrong = |_| Problem::invalid(pointer, "Give a day as YYYY-MM-DD.");
    text.filter(|text| !text.is_empty()).map(|text| text.parse().map_err(wrong)).transpose()
}

/// Contrary voices, those with the strongest sentiment first.
fn strongest(said: &[SaidRow], sentiments: &[f64]) -> Vec<ExcerptId> {
    let mut places = contrary(sentiments);
    places.sort_by(|one, other| sentiments[*other].abs().total_cmp(&sentiments[*one].abs()));
    places.into_iter().map(|at| said[at].excerpt).collect()
}

/// Excerpts with their words, in the order in which they are named.
fn in_order(rows: &Rows<'_>, ids: Vec<ExcerptId>) -> Result<Vec<ExcerptView>, Problem> {
    let mut views = with_findings(rows, rows.excerpts_among(&ids)?)?;
    views.sort_by_key(|view| ids.iter().position(|id| *id == view.excerpt.id));
    Ok(views)
}

/// What an overview is asked of; all where nothing is said.
#[derive(Debug, Clone, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct OverviewQuery {
    /// The product.
    pub product: i64,
    /// Said on this day or later.
    pub from: Option<String>,
    /// Said on this day or before.
    pub to: Option<String>,
    /// Only from this source.
    pub source: Option<i64>,
    /// Only for accounts of this segment; of none where it is empty.
    pub segment: Option<String>,
}

/// What is asked of all that was said. A picture of parts shows all of them, whichever is picked.
struct Asked<'a> {
    from: Option<Date>,
    to: Option<Date>,
    source: Option<i64>,
    segment: Option<&'a str>,
}

impl Asked<'_> {
    /// What was said on no known day lies within no days.
    fn days(&self, day: Option<Date>) -> bool {
        (self.from.is_none() || day >= self.from) && (self.to.is_none() || day.is_some_and(|day| Some(day) <= self.to))
    }

    fn source(&self, group: &SaidGroup) -> bool {
        self.source.is_none_or(|source| group.source == source)
    }

    fn segment(&self, group: &SaidGroup, names: &Names) -> bool {
        self.segment.is_none_or(|asked| names.segment(group.account).map_or("", |(_, segment)| segment) == asked)
    }
}

/// All that was said of a product, in parts.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SaidOverview {
    /// Feedback items.
    pub items: usize,
    /// Of them, how many nobody has read.
    pub unseen: i64,
    /// Over time.
    pub over_time: OverTime,
    /// By source.
    pub sources: Vec<Part>,
    /// By segment.
    pub segments: Vec<Part>,
    /// By product, this one beside the others.
    pub products: Vec<Part>,
    /// The findings that move, those that chance explains least first, whatever days are asked for.
    pub movers: Vec<MoverView>,
    /// All excerpts of the last four weeks, against which findings move.
    pub recent: usize,
    /// All excerpts of the twelve weeks before.
    pub before: usize,
}

/// A finding that moves.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MoverView {
    /// The finding.
    pub id: FindingId,
    /// What people say.
    pub title: String,
    /// How it moves.
    #[schema(value_type = iron_kite_core::listen::Movement)]
    pub movement: String,
    /// How likely chance alone explains as much, 0 to 1.
    pub p: f64,
    /// Excerpts of the last four weeks.
    pub recent: u32,
    /// Excerpts of the twelve weeks before.
    pub before: u32,
}

/// So many movers are shown.
const MOVERS: usize = 12;

/// All that was said of a product, within days, from a source or for a segment: by source, segment, product and over time, and
/// what moves.
///
/// # Errors
/// Where a day is none, or the right is missing.
pub fn said_overview(app: &App, call: &Call, query: &OverviewQuery) -> Result<SaidOverview, Problem> {
    let product = ProductId(query.product);
    let asked = Asked {
        from: day_asked("/from", query.from.as_deref())?,
        to: day_asked("/to", query.to.as_deref())?,
        source: query.source,
        segment: query.segment.as_deref(),
    };
    app.read(call, Right::Read, |rows| {
        let ever: Vec<(Option<Date>, SaidGroup)> =
            rows.said_in_groups()?.into_iter().map(|group| (day_of(group.said_on.as_deref()), group)).collect();
        let within = |(from, to): (Date, Date)| -> usize {
            let here = ever
                .iter()
                .filter(|(day, group)| group.product == product && day.is_some_and(|day| (from..=to).contains(&day)));
            here.map(|(_, group)| group.heap.excerpts()).sum()
        };
        let text = |day: Option<Date>| day.map(|day| day.to_string());
        let [recent, before] = compared_days(call.today);
        let names = Names::read(rows)?;
        let products: Vec<(String, Product)> =
            rows.list::<Product>("", [])?.into_iter().map(|one| (one.id.0.to_string(), one)).collect();
        let of = |group: &SaidGroup| {
            let (id, product) = products.iter().find(|(_, product)| product.id == group.product)?;
            Some((id.as_str(), product.name.as_str()))
        };
        let said: Vec<&(Option<Date>, SaidGroup)> = ever.iter().filter(|(day, _)| asked.days(*day)).collect();
        let said = || said.iter().map(|(day, group)| (*day, group));
        let here = || said().filter(|(_, group)| group.product == product);
        let for_segment = |(_, group): &(Option<Date>, &SaidGroup)| asked.segment(group, &names);
        let from_source = |(_, group): &(Option<Date>, &SaidGroup)| asked.source(group);
        let left = || here().filter(for_segment).filter(from_source);
        let days = left().map(|(day, group)| (day, &group.heap));
        Ok(SaidOverview {
            items: left().map(|(_, group)| group.items).sum(),
            unseen: rows.count_unseen(
                product,
                &Unseen { from: text(asked.from), to: text(asked.to), source: asked.source, segment: asked.segment },
            )?,
            over_time: over_time(days, asked.to.map_or(call.today, |to| to.min(call.today))),
            sources: parts(here().filter(for_segment).map(|(_, group)| (names.source(group.source), &group.heap))),
            segments: parts(here().filter(from_source).map(|(_, group)| (names.segment(group.account), &group.heap))),
            products: parts(said().filter(for_segment).map(|(_, group)| (of(group), &group.heap))),
            movers: rows.movers(product, MOVERS)?.into_iter().map(MoverView::from).collect(),
            recent: within(recent),
            before: within(before),
        })
    })
}

impl From<Mover> for MoverView {
    fn from(one: Mover) -> Self {
        MoverView {
            id: one.finding,
            title: one.title,
            movement: one.movement,
            p: one.p,
            recent: one.recent,
            before: one.before,
        }
    }
}
