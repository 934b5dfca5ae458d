//! A run is taken: what it proposes goes into the findings, as far as people have not decided otherwise since.

use std::collections::BTreeSet;

use iron_kite_core::listen::FindingState;
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};

use super::runs::{RunFinding, read_run};
use crate::call::fields;
use crate::jobs::{Ended, Running};

/// About so many excerpts are put behind findings in one write.
const CHUNK: usize = 400;

/// A run that is to be taken, as a job.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct TakeRun {
    pub(crate) run: i64,
    pub(crate) leave: Vec<usize>,
}

/// Puts into the findings what a run proposes, as far as people have not decided otherwise since. Gives what was left out.
pub(crate) fn take(running: &mut Running<'_>, take: &TakeRun) -> Result<Value, Ended> {
    let (product, run) = running.ask(|rows| {
        let job = rows.job(take.run)?;
        let product = job.product_id.ok_or_else(|| Problem::NotFound("run".into()))?;
        Ok((product, read_run(&job)?))
    })?;
    let leave: BTreeSet<usize> = take.leave.iter().copied().collect();
    running.expect(run.findings.iter().map(|one| one.members.len()).sum());
    let changed = run.findings.iter().enumerate().filter(|(at, one)| one.changes() && !leave.contains(at)).count();
    let label = format!("took {changed} findings from a run");
    let all: Vec<ExcerptId> =
        running.ask(|rows| Ok(rows.unplaced(product)?.into_iter().map(|one| one.id).collect()))?;
    for chunk in all.chunks(CHUNK * 10) {
        let chunk = chunk.to_vec();
        running.write(move |tx| Ok(tx.mark_placed(&chunk)?))?;
    }
    let mut left_out = 0;
    // What goes or leaves makes room first, so that nothing is behind two findings in between.
    let (gone, named) = (run.gone.clone(), label.clone());
    running.write(move |tx| remove_untouched(tx, product, &gone, &named))?;
    let taken: Vec<RunFinding> =
        run.findings.into_iter().enumerate().filter(|(at, _)| !leave.contains(at)).map(|(_, one)| one).collect();
    for one in taken.iter().filter(|one| !one.kept && one.left > 0) {
        let (id, named) = (one.finding, label.clone());
        let members: BTreeSet<ExcerptId> = one.members.iter().map(|(id, _)| *id).collect();
        running.write(move |tx| {
            tx.label(named);
            id.map_or(Ok(()), |id| take_away(tx, product, id, &members))
        })?;
    }
    let mut some: Vec<RunFinding> = Vec::new();
    for one in taken {
        some.push(one);
        // So many that it is worth a write, and not so many that others wait for it.
        if some.iter().map(|one| one.members.len()).sum::<usize>() >= CHUNK {
            left_out += take_some(running, product, std::mem::take(&mut some), &label)?;
        }
    }
    left_out += take_some(running, product, some, &label)?;
    Ok(json!({ "left_out": left_out }))
}

fn remove_untouched(
    tx: &mut Tx<'_>,
    product: ProductId,
    gone: &[(FindingId, String)],
    label: &str,
) -> Result<(), Problem> {
    tx.label(label);
    let standing: BTreeSet<FindingId> =
        tx.rows().standings(product)?.into_iter().filter(|one| !one.touched).map(|one| one.id).collect();
    for (id, _) in gone.iter().filter(|(id, _)| standing.contains(id)) {
        tx.remove(id.thing())?;
    }
    Ok(())
}

/// Takes some findings of a run, and gives how many excerpts were left out.
fn take_some(
    running: &mut Running<'_>,
    product: ProductId,
    some: Vec<RunFinding>,
    label: &str,
) -> Result<usize, Ended> {
    let (label, count) = (label.to_owned(), some.iter().map(|one| one.members.len()).sum());
    let left_out = running.write(move |tx| {
        tx.label(label);
        let mut left_out = 0;
        for one in some {
            left_out += match taken_into(tx, product, &one)? {
                Some(finding) => place_some(tx, finding, one.members)?,
                None => one.members.len(),
            };
        }
        Ok(left_out)
    })?;
    running.advance(count)?;
    Ok(left_out)
}

/// The finding that one of a run is, made where it is new; nothing where it has gone since.
fn taken_into(tx: &mut Tx<'_>, product: ProductId, one: &RunFinding) -> Result<Option<FindingId>, Problem> {
    match one.finding {
        Some(id) => Ok(tx.rows().json(id.thing()).is_ok().then_some(id)),
        None => {
            let state = FindingState::Suggested.name();
            let values = fields(json!({ "product_id": product.0, "title": one.title, "state": state }));
            Ok(Some(FindingId(tx.insert(ThingKind::Finding, &values)?)))
        }
    }
}

/// Takes from a finding that nobody touched what the engine put there and the run does not.
fn take_away(tx: &mut Tx<'_>, product: ProductId, id: FindingId, members: &BTreeSet<ExcerptId>) -> Result<(), Problem> {
    let still = tx.rows().standings(product)?.into_iter().any(|one| one.id == id && !one.touched);
    for link in tx.rows().supports_of(id)?.into_iter().filter(|_| still) {
        if link.sure.is_some() && !members.contains(&link.excerpt) {
            tx.remove(Thing::new(ThingKind::Link, link.link))?;
        }
    }
    Ok(())
}

/// Puts excerpts behind a finding, but for those that are gone, that a person took out of it, or that stand elsewhere by
/// now. Gives how many were left out.
fn place_some(tx: &mut Tx<'_>, finding: FindingId, members: Vec<(ExcerptId, Option<f64>)>) -> Result<usize, Problem> {
    let mut left_out = 0;
    for (excerpt, sure) in members {
        let elsewhere = || -> Result<bool, Problem> {
            let of = tx.rows().links_of(LinkKind::Supports, excerpt.thing(), true, ThingKind::Finding)?;
            Ok(of.iter().any(|(_, other)| *other != finding.0))
        };
        let refused = tx.rows().json(excerpt.thing()).is_err()
            || tx.rows().link(LinkKind::NotSame, excerpt.thing(), finding.thing())?.is_some()
            || sure.is_some() && elsewhere()?;
        if refused {
            left_out += 1;
        } else {
            tx.place(excerpt, finding, sure)?;
        }
    }
    Ok(left_out)
}
