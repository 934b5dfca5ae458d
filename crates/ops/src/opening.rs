//! The opening page: what waits for somebody, what changed since the last visit, and where the person was.

use iron_kite_core::decide::{Objective, ObjectiveState};
use iron_kite_core::history::{Done, Place, Sentence, Verb, told, visited};
use iron_kite_core::notice::NoticeSort;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::specify::StoryState;
use iron_kite_core::talk::Comment;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::Rows;
use iron_kite_store::queries::opening::DoneRow;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::decide::decisions_of;
use crate::learn;
use crate::notice::{NoticeView, view};
use crate::plan;
use crate::specify::board_of;
use crate::things::{name_of, title_of};

/// The opening page of somebody.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Opening {
    /// What waits, in the order in which it is worth looking at; nothing of what there is none.
    pub waiting: Vec<Waiting>,
    /// When the visit before ended, in milliseconds since 1970. None at the first visit.
    pub since: Option<i64>,
    /// What others did since then.
    pub changes: Vec<Sentence>,
    /// Whether so much changed that only the newest changes are told.
    pub cut: bool,
    /// Where the person was, the newest place first.
    pub places: Vec<Place>,
}

/// One sort of thing that waits.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Waiting {
    /// What it is.
    pub sort: WaitingSort,
    /// How many.
    pub count: usize,
    /// The first of them.
    pub lines: Vec<WaitingLine>,
    /// Notices, where that is what waits.
    pub notices: Vec<NoticeView>,
}

/// What waits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WaitingSort {
    /// Somebody spoke to the person, gave something to them, or a rule told them.
    Told,
    /// Objectives that the person answers for and that are open.
    Yours,
    /// Decisions that ask to be looked at again.
    Decisions,
    /// Ideas with a score that nobody has decided about.
    Undecided,
    /// Feedback that nobody has read.
    Unread,
    /// Stories that fail the ready check.
    NotReady,
    /// Releases in trouble.
    Trouble,
    /// Ideas that are out and not measured.
    ToMeasure,
    /// Rules that were stopped or could not do a step in the last week.
    Rules,
    /// Messages that did not go out.
    Outbox,
}

/// One thing that waits.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WaitingLine {
    /// The thing.
    pub thing: Thing,
    /// What people call it.
    pub reference: String,
    /// What it says of itself.
    pub title: String,
    /// Why it waits.
    pub words: String,
}

/// Where somebody is.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct VisitInput {
    /// The product.
    pub product: ProductId,
    /// The place, where it is worth coming back to.
    #[serde(default)]
    pub place: Option<Place>,
}

/// So many changes are told; more would take longer than somebody waits.
const MOST_CHANGES: i64 = 20_000;
/// So many are named of each sort.
const NAMED: usize = 4;
/// The longest title of a place, in characters.
const LONGEST: usize = 500;
/// The longest address of a place, in bytes: it may hold a view with a long filter.
const LONGEST_PATH: usize = 16_000;

/// Notes that somebody is there. A visit ends when nothing was done for half an hour.
///
/// # Errors
/// Where nobody is signed in, or the place is none of the application's.
pub fn visit(app: &App, call: &Call, input: VisitInput) -> Result<(), Problem> {
    let Some(me) = call.user_id() else { return Err(Problem::NotSignedIn) };
    let now = call.now;
    let place = input.place.map(|place| Place { at: now.as_millisecond(), ..place });
    if place.as_ref().is_some_and(|place| {
        !place.path.starts_with("/p/") || place.path.len() > LONGEST_PATH || place.title.chars().count() > LONGEST
    }) {
        return Err(Problem::invalid("/place/path", "A place lies within a product."));
    }
    app.write(call, Right::Read, move |tx| {
        tx.rows().json(input.product.thing())?;
        let visit = tx.rows().visit(me, input.product)?;
        let newest = tx.rows().newest_change()?;
        Ok(tx.set_visit(me, input.product, &visited(visit, now, newest, place))?)
    })
    .map(drop)
}

/// The opening page of whoever asks.
///
/// # Errors
/// Where the right is missing.
pub fn opening(app: &App, call: &Call, product: ProductId) -> Result<Opening, Problem> {
    app.read(call, Right::Read, |rows| {
        rows.json(product.thing())?;
        let visit = match call.user_id() {
            Some(me) => rows.visit(me, product)?,
            None => None,
        };
        let newest = rows.newest_change()?;
        let visit = visited(visit, call.now, newest, None);
        let from = visit.before.map(|(_, change)| change);
        Ok(Opening {
            cut: from.is_some_and(|change| change < newest - MOST_CHANGES),
            waiting: waiting(rows, call, product)?,
            since: visit.before.map(|(at, _)| at.as_millisecond()),
            changes: changes(rows, call, product, from.map(|change| change.max(newest - MOST_CHANGES)))?,
            places: visit.places,
        })
    })
}

/// What others did after a change.
fn changes(rows: &Rows<'_>, call: &Call, product: ProductId, after: Option<i64>) -> Result<Vec<Sentence>, Problem> {
    let Some(after) = after else { return Ok(Vec::new()) };
    let done: Vec<Done> =
        rows.done_since(product, after, call.user_id())?.into_iter().map(|one| done(rows, one)).collect();
    Ok(told(&done))
}

fn done(rows: &Rows<'_>, one: DoneRow) -> Done {
    let verb = match one.verb.as_str() {
        "added" => Verb::Added,
        "removed" => Verb::Removed,
        _ => Verb::Changed,
    };
    let thing = Thing::new(one.kind, one.newest);
    let example = match one.kind {
        ThingKind::Comment => match rows.get::<Comment>(one.newest) {
            Ok(comment) => format!("a comment on {}", name_of(rows, comment.on())),
            Err(_) => "a comment".into(),
        },
        // Whoever said it may be anybody; the words are read in their place.
        ThingKind::FeedbackItem => name_of(rows, thing),
        kind if kind.letter().is_some() || kind == ThingKind::WorkItem => {
            format!("{} {}", name_of(rows, thing), title_of(rows, thing)).trim().to_owned()
        }
        ThingKind::Estimate | ThingKind::Decision | ThingKind::Measurement => {
            format!("a {}", one.kind.words()).replace("a e", "an e")
        }
        _ => name_of(rows, thing),
    };
    let things = usize::try_from(one.things).unwrap_or_default();
    Done { who: one.who, way: one.way, kind: one.kind, verb, things, example }
}

fn waiting(rows: &Rows<'_>, call: &Call, product: ProductId) -> Result<Vec<Waiting>, Problem> {
    let mut all = Vec::new();
    all.extend(spoken_to(rows, call)?);
    all.extend(yours(rows, call, product)?);
    all.extend(decisions(rows, call, product)?);
    let unread = usize::try_from(rows.unread(product)?).unwrap_or_default();
    all.extend(group(WaitingSort::Unread, unread, Vec::new()));
    let board = board_of(rows, product)?;
    let not_ready: Vec<WaitingLine> = board
        .stories
        .iter()
        .filter(|story| story.item.state == StoryState::Draft && !story.check.ready)
        .map(|story| {
            let missing = story.check.checks.iter().filter_map(|check| check.to_do.clone());
            line(rows, story.item.id.thing(), missing.collect::<Vec<_>>().join("; "))
        })
        .collect();
    all.extend(group(WaitingSort::NotReady, not_ready.len(), not_ready));
    let troubled: Vec<WaitingLine> = plan::in_trouble(rows, product, &board, call.today)?
        .into_iter()
        .map(|(release, words)| line(rows, release.thing(), words))
        .collect();
    all.extend(group(WaitingSort::Trouble, troubled.len(), troubled));
    let due: Vec<WaitingLine> = learn::out_of(rows, product)?
        .into_iter()
        .filter(|out| out.results == 0)
        .map(|out| line(rows, out.idea_id.thing(), "out, and nothing measured yet".into()))
        .collect();
    all.extend(group(WaitingSort::ToMeasure, due.len(), due));
    let role = call.actor.as_ref().map_or(Role::Viewer, |actor| actor.role);
    if role >= Role::Editor {
        all.extend(group(WaitingSort::Rules, rows.rules_in_trouble(product, week_ago(call.now))?, Vec::new()));
    }
    if role >= Role::Owner {
        all.extend(group(WaitingSort::Outbox, rows.messages_in_trouble()?, Vec::new()));
    }
    Ok(all)
}

fn week_ago(now: Timestamp) -> i64 {
    now.as_millisecond() - 7 * 24 * 3_600 * 1_000
}

fn group(sort: WaitingSort, count: usize, mut lines: Vec<WaitingLine>) -> Option<Waiting> {
    lines.truncate(NAMED);
    (count > 0).then_some(Waiting { sort, count, lines, notices: Vec::new() })
}

fn line(rows: &Rows<'_>, thing: Thing, words: String) -> WaitingLine {
    WaitingLine { thing, reference: name_of(rows, thing), title: title_of(rows, thing), words }
}

/// What is unread of what somebody was told, but for changes of things that they follow.
fn spoken_to(rows: &Rows<'_>, call: &Call) -> Result<Option<Waiting>, Problem> {
    const LOOKED_AT: usize = 200;
    let Some(me) = call.user_id() else { return Ok(None) };
    let unread: Vec<_> = rows
        .notices(me, LOOKED_AT)?
        .into_iter()
        .filter(|one| one.read_at.is_none() && one.sort != NoticeSort::Followed)
        .collect();
    let count = unread.len();
    let notices = unread.into_iter().take(NAMED + 2).map(|one| view(rows, one)).collect::<Result<_, Problem>>()?;
    Ok((count > 0).then_some(Waiting { sort: WaitingSort::Told, count, lines: Vec::new(), notices }))
}

fn yours(rows: &Rows<'_>, call: &Call, product: ProductId) -> Result<Option<Waiting>, Problem> {
    let Some(me) = call.user_id() else { return Ok(None) };
    let all: Vec<Objective> = rows.objectives_of(product, me)?;
    let lines: Vec<WaitingLine> = all
        .into_iter()
        .filter(|one| one.state.is_none_or(ObjectiveState::is_open))
        .map(|one| {
            let due = one.due_on.map(|day| format!("by {day}"));
            line(rows, one.id.thing(), due.unwrap_or_default())
        })
        .collect();
    Ok(group(WaitingSort::Yours, lines.len(), lines))
}

fn decisions(rows: &Rows<'_>, call: &Call, product: ProductId) -> Result<Vec<Waiting>, Problem> {
    let again: Vec<WaitingLine> = decisions_of(rows, call, product)?
        .into_iter()
        .filter(|one| !one.look_again.is_empty())
        .map(|one| line(rows, one.idea.thing(), one.look_again.join("; ")))
        .collect();
    let undecided = usize::try_from(rows.undecided(product)?).unwrap_or_default();
    let mut all: Vec<Waiting> = group(WaitingSort::Decisions, again.len(), again).into_iter().collect();
    all.extend(group(WaitingSort::Undecided, undecided, Vec::new()));
    Ok(all)
}
