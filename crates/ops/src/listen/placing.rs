//! What arrives falls into the findings that are there, without grouping everything anew.

use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::sync::PoisonError;

use iron_kite_core::listen::{Nearest, Strictness, sure_of};
use iron_kite_core::problem::Problem;
use iron_kite_core::text::Vector;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;

use super::runs::taken_strictness;
use crate::jobs::{Ended, Running};

/// So many are placed in one write.
const CHUNK: usize = 500;

/// Whether there are excerpts that were never compared with the findings of their product.
pub(crate) fn some_to_place(rows: &Rows<'_>, product: ProductId) -> Result<bool, Problem> {
    Ok(rows.count_readable(product, true)? > 0)
}

/// An excerpt and the finding that it says the same as, with how sure that is.
type Placement = (ExcerptId, FindingId, f64);

/// Puts new excerpts behind the findings that they are near to; what came before any finding was there is left to people
/// and to runs. In the ledger it is the engine's change, which anybody
/// can take back; it is not made a second time then.
pub(crate) fn place_new(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    let (all, placements) = running.ask(|rows| {
        if !some_to_place(rows, product)? {
            return Ok((Vec::new(), Vec::new()));
        }
        let new = rows.unplaced(product)?;
        let all: Vec<(ExcerptId, Vec<u8>)> = new.into_iter().map(|one| (one.id, one.meaning)).collect();
        let meanings = all.iter().filter_map(|(id, meaning)| Some((*id, Vector::from_bytes(meaning)?)));
        let placements = placements(running, rows, product, meanings.collect())?;
        Ok((all, placements))
    })?;
    let mut placed: HashMap<ExcerptId, (FindingId, f64)> =
        placements.into_iter().map(|(excerpt, finding, sure)| (excerpt, (finding, sure))).collect();
    let findings: BTreeSet<FindingId> = placed.values().map(|(finding, _)| *finding).collect();
    let label = format!("put {} new excerpts behind {} findings", placed.len(), findings.len());
    for chunk in all.chunks(CHUNK) {
        let chunk = chunk.to_vec();
        let here: Vec<Placement> =
            chunk.iter().filter_map(|(id, _)| placed.remove(id).map(|(finding, sure)| (*id, finding, sure))).collect();
        let label = label.clone();
        running.write(move |tx| {
            tx.label(label);
            // Either may have gone in the meantime, and the excerpt may have other words: then it is read and comes again.
            let mut still = Vec::with_capacity(chunk.len());
            for (id, meaning) in &chunk {
                if tx.rows().is_unplaced(*id, meaning)? {
                    still.push(*id);
                }
            }
            tx.mark_placed(&still)?;
            for (excerpt, finding, sure) in here {
                if still.binary_search(&excerpt).is_ok() && tx.rows().json(finding.thing()).is_ok() {
                    tx.place(excerpt, finding, Some(sure))?;
                }
            }
            Ok(())
        })?;
    }
    Ok(())
}

fn placements(
    running: &Running<'_>,
    rows: &Rows<'_>,
    product: ProductId,
    new: Vec<(ExcerptId, Vector)>,
) -> Result<Vec<Placement>, Problem> {
    let supports = rows.supports(product)?;
    let mind = running.app().minds.of(rows, product)?;
    let mind = mind.read().unwrap_or_else(PoisonError::into_inner);
    let mut of: BTreeMap<FindingId, Vec<ExcerptId>> = BTreeMap::new();
    supports.iter().for_each(|one| of.entry(one.finding).or_default().push(one.excerpt));
    let ids: Vec<FindingId> = of.keys().copied().collect();
    let middles = of.values().enumerate().map(|(at, all)| (at, mind.middle(all)));
    let nearest =
        Nearest::of(&mind.centre(), middles.collect(), taken_strictness(rows, product)?.unwrap_or(Strictness::Even));
    let there: BTreeSet<ExcerptId> = supports.iter().map(|one| one.excerpt).collect();
    let mut never: HashMap<i64, Vec<FindingId>> = HashMap::new();
    for link in rows.links(LinkKind::NotSame, ThingKind::Excerpt, ThingKind::Finding)? {
        never.entry(link.from_id).or_default().push(FindingId(link.to_id));
    }
    let place = |(id, meaning): &(ExcerptId, Vector)| {
        let free = |at: usize| !never.get(&id.0).is_some_and(|never| never.contains(&ids[at]));
        let (at, alike) = nearest.to(meaning, free)?;
        Some((*id, ids[at], f64::from(sure_of(alike))))
    };
    Ok(new.iter().filter(|(id, _)| !there.contains(id)).filter_map(place).collect())
}
