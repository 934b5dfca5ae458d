//! Groups of a product's excerpts, and what they would make of its findings.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use iron_kite_core::jobs::Watch;
use iron_kite_core::listen::{Known, Pairs, STEPS, Strictness, kept_together, propose};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{FindingId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use iron_kite_store::queries::findings::{Standing, Support};

use super::closer::look_closer;
use super::reading::{Turn, read_unread};
use super::runs::{Run, RunFinding};
use super::telling::Said;
use crate::jobs::{Ended, Running};

/// Groups what was said of a product. Nothing changes by it.
pub(crate) fn group_excerpts(
    running: &mut Running<'_>,
    product: ProductId,
    strictness: Strictness,
) -> Result<Run, Ended> {
    read_unread(running, product, Turn::Stays)?;
    look_closer(running, product, Turn::Stays)?;
    let (said, standing) = running.ask(|rows| Ok((Said::to_group(rows, product)?, Standings::of(rows, product)?)))?;
    let place: HashMap<i64, usize> = said.all.iter().enumerate().map(|(at, one)| (one.id.0, at)).collect();
    let (known, pairs) = (standing.known(&place), standing.pairs(&place));
    let members = said.members();
    let propose = |watch: &Watch| propose(members, &known, &pairs, strictness, watch);
    let proposal = running.watch(members.len(), STEPS, propose)?;
    let now = groups(said.all.len(), known.iter().map(|one| one.members.iter().map(|(at, _)| *at).collect()));
    let then =
        groups(said.all.len(), proposal.findings.iter().map(|one| one.members.iter().map(|(at, _)| *at).collect()));
    let findings = proposal.findings.iter().map(|one| {
        let places: Vec<usize> = one.members.iter().map(|(at, _)| *at).collect();
        let there = standing.findings.iter().find(|known| Some(known.id) == one.finding);
        let kept = there.is_some_and(|one| one.touched);
        let before: BTreeSet<usize> = known
            .iter()
            .filter(|known| Some(known.id) == one.finding)
            .flat_map(|one| &one.members)
            .map(|(at, _)| *at)
            .collect();
        let left = if kept { 0 } else { before.iter().filter(|at| !places.contains(at)).count() };
        RunFinding {
            finding: one.finding,
            kept,
            title: there.map_or_else(|| said.title(&places), |one| one.title.clone()),
            phrases: said.phrases(&places),
            nearest: said.nearest(&places).into_iter().map(|at| said.all[at].id).collect(),
            members: one.members.iter().map(|(at, sure)| (said.all[*at].id, sure.map(f64::from))).collect(),
            added: places.iter().filter(|at| !before.contains(at)).count(),
            left,
        }
    });
    let title = |id: &FindingId| standing.findings.iter().find(|one| one.id == *id).map(|one| one.title.clone());
    Ok(Run {
        strictness,
        excerpts: said.all.len(),
        outside: proposal.outside.len(),
        kept_together: kept_together(&now, &then),
        findings: findings.collect(),
        gone: proposal.gone.iter().map(|id| (*id, title(id).unwrap_or_default())).collect(),
    })
}

/// The group of each place; what is in none stands alone.
fn groups(count: usize, all: impl Iterator<Item = Vec<usize>>) -> Vec<usize> {
    let mut groups: Vec<usize> = (0..count).collect();
    for (number, places) in all.enumerate() {
        places.into_iter().for_each(|at| groups[at] = count + number);
    }
    groups
}

/// What people decided, by the numbers of things.
struct Standings {
    findings: Vec<Standing>,
    supports: Vec<Support>,
    never: Vec<(i64, i64)>,
    same: Vec<(i64, i64)>,
    apart: Vec<(i64, i64)>,
}

impl Standings {
    fn of(rows: &Rows<'_>, product: ProductId) -> Result<Self, Problem> {
        use ThingKind::{Excerpt, Finding};
        let pairs = |kind: LinkKind, to: ThingKind| -> Result<Vec<(i64, i64)>, Problem> {
            Ok(rows.links(kind, Excerpt, to)?.into_iter().map(|link| (link.from_id, link.to_id)).collect())
        };
        Ok(Standings {
            findings: rows.standings(product)?,
            supports: rows.supports(product)?,
            never: pairs(LinkKind::NotSame, Finding)?,
            same: pairs(LinkKind::Same, Excerpt)?,
            apart: pairs(LinkKind::NotSame, Excerpt)?,
        })
    }

    fn known(&self, place: &HashMap<i64, usize>) -> Vec<Known> {
        let mut members: BTreeMap<FindingId, Vec<(usize, bool)>> = BTreeMap::new();
        for one in &self.supports {
            let at = place.get(&one.excerpt.0).map(|at| (*at, one.sure.is_none()));
            members.entry(one.finding).or_default().extend(at);
        }
        let mut never: BTreeMap<i64, Vec<usize>> = BTreeMap::new();
        for (excerpt, finding) in &self.never {
            never.entry(*finding).or_default().extend(place.get(excerpt));
        }
        let known = |one: &Standing| Known {
            id: one.id,
            kept: one.touched,
            members: members.remove(&one.id).unwrap_or_default(),
            never: never.remove(&one.id.0).unwrap_or_default(),
        };
        self.findings.iter().map(known).collect()
    }

    fn pairs(&self, place: &HashMap<i64, usize>) -> Pairs {
        let of = |all: &[(i64, i64)]| {
            all.iter().filter_map(|(one, other)| Some((*place.get(one)?, *place.get(other)?))).collect()
        };
        Pairs { same: of(&self.same), apart: of(&self.apart) }
    }
}
