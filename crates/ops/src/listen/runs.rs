//! Runs of the grouping: one says beforehand what it would change, can be compared with others, and is taken or left.

use std::collections::HashMap;

use iron_kite_core::jobs::{Job, JobState};
use iron_kite_core::listen::Strictness;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId};
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use super::taking::TakeRun;
use crate::call::{App, Call};
use crate::jobs::{self, JobView, Running, Work};

/// Without findings, and with so many excerpts, a first run is tried by itself.
const FIRST: i64 = 30;
/// So many runs are listed, the newest first.
const LISTED: usize = 8;

/// What came of a run: it is kept as the report of its job.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct Run {
    pub(crate) strictness: Strictness,
    /// Excerpts that were grouped.
    pub(crate) excerpts: usize,
    /// Those of them that belong nowhere.
    pub(crate) outside: usize,
    /// Of the pairs that stand together now, the share that would.
    pub(crate) kept_together: Option<f64>,
    pub(crate) findings: Vec<RunFinding>,
    /// Suggested findings that would go, with their titles.
    pub(crate) gone: Vec<(FindingId, String)>,
}

#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct RunFinding {
    /// The finding that it is already.
    pub(crate) finding: Option<FindingId>,
    /// Whether people have to do with it, so that nothing is taken from it.
    pub(crate) kept: bool,
    pub(crate) title: String,
    pub(crate) phrases: Vec<String>,
    pub(crate) nearest: Vec<ExcerptId>,
    /// The excerpts, with how sure each is; nothing where a person put it there.
    pub(crate) members: Vec<(ExcerptId, Option<f64>)>,
    /// Excerpts that would come to it.
    pub(crate) added: usize,
    /// Excerpts that would leave it.
    pub(crate) left: usize,
}

impl RunFinding {
    /// Whether the run would change anything of it.
    pub(crate) fn changes(&self) -> bool {
        self.finding.is_none() || self.added > 0 || self.left > 0
    }
}

/// What a new run is asked for.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct NewRun {
    /// The product whose excerpts are grouped.
    pub product: ProductId,
    /// How alike they must be.
    #[serde(default)]
    pub strictness: Strictness,
}

/// What is taken of a run.
#[derive(Debug, Clone, Default, Deserialize, ToSchema)]
pub struct Take {
    /// The findings that are left as they are, by their place in the run.
    #[serde(default)]
    pub leave: Vec<usize>,
}

/// A run as a list shows it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunLine {
    /// The number of its job.
    pub id: i64,
    /// Where it stands.
    pub state: JobState,
    /// So much of its work is done.
    pub done: i64,
    /// So much is known to be done in all.
    pub total: i64,
    /// What went wrong.
    pub problem: Option<String>,
    /// When it was asked for, in milliseconds since 1970.
    pub asked_at: i64,
    /// How alike excerpts had to be.
    pub strictness: Strictness,
    /// Excerpts that were grouped.
    pub excerpts: usize,
    /// Those of them that belong nowhere.
    pub outside: usize,
    /// The findings that there would be.
    pub findings: usize,
    /// Those of them that are new.
    pub new: usize,
    /// Findings that are there and would change.
    pub changed: usize,
    /// Suggested findings that would go.
    pub gone: usize,
    /// Of the pairs of excerpts that stood together when it was tried, the share that would still.
    pub kept_together: Option<f64>,
    /// The change by which it was taken.
    pub taken: Option<i64>,
}

/// A run, and all that it would change.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunView {
    /// What the list shows of it.
    #[serde(flatten)]
    pub line: RunLine,
    /// The findings that would be new or other than now, the largest first.
    pub changes: Vec<RunFindingView>,
    /// The titles of those that would go.
    pub going: Vec<String>,
}

/// What a run would make of a finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunFindingView {
    /// Its place in the run.
    pub place: usize,
    /// The finding that it is; nothing for a new one.
    pub finding: Option<FindingId>,
    /// Its title.
    pub title: String,
    /// Its key phrases.
    pub phrases: Vec<String>,
    /// Excerpts that it would have.
    pub excerpts: usize,
    /// Those that would come to it.
    pub added: usize,
    /// Those that would leave it.
    pub left: usize,
    /// A few words that stand for all.
    pub says: Vec<String>,
}

/// Asks for a run. Nothing changes before it is taken.
///
/// # Errors
/// Where the right is missing, or there is nothing that tells meanings.
pub fn try_run(app: &App, call: &Call, new: NewRun) -> Result<JobView, Problem> {
    if app.meaning().is_none() {
        return Err(Problem::refused("no-engine", "This program was started without what tells meanings."));
    }
    jobs::add(app, call, new.product, "grouping what people said".into(), &Work::Group { strictness: new.strictness })
}

/// A first run is tried by itself where much was read and there are no findings yet.
pub(crate) fn queue_first_run(running: &Running<'_>, product: ProductId) -> Result<(), Problem> {
    let first = running.ask(|rows| {
        let none = rows.standings(product)?.is_empty() && rows.grouping_jobs(product, 1)?.is_empty();
        Ok(none && rows.supports(product)?.is_empty() && rows.count_readable(product, false)? >= FIRST)
    })?;
    if first {
        let work = Work::Group { strictness: Strictness::default() };
        jobs::add(running.app(), running.call(), product, "grouping what people said".into(), &work)?;
    }
    Ok(())
}

/// How strict the run was that was taken last.
pub(crate) fn taken_strictness(rows: &Rows<'_>, product: ProductId) -> Result<Option<Strictness>, Problem> {
    let jobs = rows.grouping_jobs(product, LISTED * 4)?;
    let Some(take) = jobs.iter().find_map(taken) else { return Ok(None) };
    Ok(jobs.iter().find(|job| job.id == take.run).and_then(strictness))
}

fn strictness(job: &Job) -> Option<Strictness> {
    match serde_json::from_str(&job.work) {
        Ok(Work::Group { strictness }) => Some(strictness),
        _ => None,
    }
}

/// The run that a job took, where it came to its end.
fn taken(job: &Job) -> Option<TakeRun> {
    match serde_json::from_str(&job.work) {
        Ok(Work::Take(take)) if job.state == JobState::Done => Some(take),
        _ => None,
    }
}

/// Takes a run, as a job: one change, which is taken back as one.
///
/// # Errors
/// Refused where it did not come to its end, or was taken already.
pub fn take_run(app: &App, call: &Call, id: i64, take: Take) -> Result<JobView, Problem> {
    let (product, count) = app.read(call, Right::Listen, |rows| {
        let job = rows.job(id)?;
        let (Some(product), Some(_)) = (job.product_id, strictness(&job)) else {
            return Err(no_run());
        };
        if line(&job, &rows.grouping_jobs(product, LISTED * 4)?).and_then(|line| line.taken).is_some() {
            return Err(Problem::refused(
                "run-is-taken",
                "This run was taken already. Undo that first, or try another.",
            ));
        }
        Ok((product, read_run(&job)?.findings.iter().filter(|one| one.changes()).count()))
    })?;
    let label = format!("taking {count} suggested findings");
    jobs::add(app, call, product, label, &Work::Take(TakeRun { run: id, leave: take.leave }))
}

fn no_run() -> Problem {
    Problem::NotFound("run".into())
}

/// The run that is the outcome of a job.
pub(crate) fn read_run(job: &Job) -> Result<Run, Problem> {
    let over = job.report.as_deref().filter(|_| job.state == JobState::Done);
    let run = over.and_then(|report| serde_json::from_str(report).ok());
    run.ok_or_else(|| Problem::refused("run-has-no-outcome", "This run has no outcome. Try another one."))
}

/// The newest runs of a product.
///
/// # Errors
/// Where the right is missing.
pub fn runs(app: &App, call: &Call, product: ProductId) -> Result<Vec<RunLine>, Problem> {
    app.read(call, Right::Read, |rows| {
        let jobs = rows.grouping_jobs(product, LISTED * 4)?;
        Ok(jobs.iter().filter_map(|job| line(job, &jobs)).take(LISTED).collect())
    })
}

/// A run, and all that it would change.
///
/// # Errors
/// Where there is none with this number.
pub fn run(app: &App, call: &Call, id: i64) -> Result<RunView, Problem> {
    app.read(call, Right::Read, |rows| {
        let job = rows.job(id)?;
        let product = job.product_id.ok_or_else(no_run)?;
        let jobs = rows.grouping_jobs(product, LISTED * 4)?;
        let line = line(&job, &jobs).ok_or_else(no_run)?;
        if line.state != JobState::Done {
            return Ok(RunView { line, changes: Vec::new(), going: Vec::new() });
        }
        let run = read_run(&job)?;
        let left = jobs.iter().filter_map(taken).find(|take| take.run == id).map(|take| take.leave).unwrap_or_default();
        let changes = run.findings.iter().enumerate().filter(|(place, one)| one.changes() && !left.contains(place));
        let changes: Vec<(usize, &RunFinding)> = changes.collect();
        let wanted: Vec<i64> = changes.iter().flat_map(|(_, one)| &one.nearest).map(|id| id.0).collect();
        let wanted = serde_json::to_string(&wanted).map_err(|fault| Problem::Internal(fault.to_string()))?;
        let excerpts = rows.excerpts("e.id IN (SELECT value FROM json_each(?1))", [wanted])?;
        let words: HashMap<ExcerptId, String> = excerpts.into_iter().map(|row| (row.excerpt.id, row.words)).collect();
        let changes = changes.into_iter().map(|(place, one)| RunFindingView {
            place,
            finding: one.finding,
            title: one.title.clone(),
            phrases: one.phrases.clone(),
            excerpts: one.members.len(),
            added: one.added,
            left: one.left,
            says: one.nearest.iter().filter_map(|id| words.get(id).cloned()).collect(),
        });
        Ok(RunView { line, changes: changes.collect(), going: run.gone.into_iter().map(|(_, title)| title).collect() })
    })
}

/// A run among other jobs; nothing where the job is none.
fn line(job: &Job, all: &[Job]) -> Option<RunLine> {
    let strictness = strictness(job)?;
    let run = read_run(job).ok();
    let count = |which: fn(&&RunFinding) -> bool| run.iter().flat_map(|run| &run.findings).filter(which).count();
    let problem: Option<Value> =
        job.report.as_deref().filter(|_| run.is_none()).and_then(|report| serde_json::from_str(report).ok());
    Some(RunLine {
        id: job.id,
        state: job.state,
        done: job.done,
        total: job.total,
        problem: problem.and_then(|report| report["problem"].as_str().map(str::to_owned)),
        asked_at: job.asked_at,
        strictness,
        excerpts: run.as_ref().map_or(0, |run| run.excerpts),
        outside: run.as_ref().map_or(0, |run| run.outside),
        findings: count(|_| true),
        new: count(|one| one.finding.is_none()),
        changed: count(|one| one.finding.is_some() && one.changes()),
        gone: run.as_ref().map_or(0, |run| run.gone.len()),
        kept_together: run.as_ref().and_then(|run| run.kept_together),
        taken: all
            .iter()
            .find(|other| taken(other).is_some_and(|take| take.run == job.id))
            .and_then(|job| job.change_set_id),
    })
}
