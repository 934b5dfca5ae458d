//! What people decide about findings: later runs of the grouping keep to it.

use iron_kite_core::fields;
use iron_kite_core::listen::{Decided, Finding, FindingState, LEAST_EXCERPTS, Strictness, group};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, FindingId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::findings::{counted, evidence};
use super::telling::Said;
use crate::call::{App, Call, Saved, fields as fields_of};
use crate::things::make_link;

/// Findings that say the same.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct MergeFindings {
    /// The one that stays, with its title.
    pub keep: FindingId,
    /// Those that become a part of it.
    pub others: Vec<FindingId>,
}

/// Excerpts of a finding that say something of their own.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct SplitFinding {
    /// What they say; where nothing is given, a sentence of theirs.
    #[serde(default)]
    pub title: Option<String>,
    /// The excerpts that leave the finding.
    pub excerpts: Vec<ExcerptId>,
}

/// A narrower group within a finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Narrower {
    /// The sentence under which it could stand.
    pub title: String,
    /// What tells it from all else.
    pub phrases: Vec<String>,
    /// Its excerpts.
    pub excerpts: Vec<ExcerptId>,
}

/// Makes one finding of several. Their excerpts, ideas and studies come to the one that stays, and a person stands by it
/// from then on.
///
/// # Errors
/// Where one is not there or is of another product.
pub fn merge_findings(app: &App, call: &Call, ask: MergeFindings) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        let kept: Finding = tx.rows().get(ask.keep)?;
        let mut others: Vec<Finding> = Vec::new();
        for id in ask.others.iter().filter(|id| **id != ask.keep) {
            others.push(tx.rows().get(*id)?);
        }
        if others.is_empty() {
            return Err(Problem::invalid("/others", "Name at least one other finding."));
        }
        if others.iter().any(|one| one.product_id != kept.product_id) {
            return Err(Problem::refused("other-product", "Findings of two products cannot be made one."));
        }
        tx.label(format!("made {} findings one: {}", others.len() + 1, kept.id));
        for one in others {
            move_links(tx, one.id, kept.id)?;
            tx.remove(one.id.thing())?;
        }
        accept(tx, kept.id)?;
        Ok(Some(kept.id.thing()))
    })
}

fn accept(tx: &mut Tx<'_>, id: FindingId) -> Result<(), Problem> {
    Ok(tx.set(id.thing(), &fields_of(json!({ "state": FindingState::Accepted.name() })))?)
}

/// Moves what hangs on one finding to another.
fn move_links(tx: &mut Tx<'_>, from: FindingId, to: FindingId) -> Result<(), Problem> {
    for one in tx.rows().supports_of(from)? {
        match one.sure {
            Some(sure) => drop(tx.place(one.excerpt, to, Some(sure))?),
            None => tx.add_link(LinkKind::Supports, one.excerpt.thing(), to.thing())?,
        }
    }
    let rest = [
        (LinkKind::Supports, true, ThingKind::Idea),
        (LinkKind::Informs, false, ThingKind::Study),
        (LinkKind::NotSame, false, ThingKind::Excerpt),
    ];
    for (kind, forward, other) in rest {
        for (_, id) in tx.rows().links_of(kind, from.thing(), forward, other)? {
            let other = Thing::new(other, id);
            let ends = if forward { (to.thing(), other) } else { (other, to.thing()) };
            // What somebody took out of the one may be behind the other.
            if kind == LinkKind::NotSame && tx.rows().link(LinkKind::Supports, ends.0, ends.1)?.is_some() {
                continue;
            }
            tx.add_link(kind, ends.0, ends.1)?;
        }
    }
    Ok(())
}

/// Makes a finding of its own of some excerpts of another. A person stands by both from then on, so no run makes them one.
///
/// # Errors
/// Where the title is missing, or an excerpt is not behind the finding.
pub fn split_finding(app: &App, call: &Call, of: FindingId, ask: SplitFinding) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        let whole: Finding = tx.rows().get(of)?;
        if ask.excerpts.is_empty() {
            return Err(Problem::invalid("/excerpts", "Choose at least one excerpt."));
        }
        let title = match ask.title {
            Some(title) => title,
            None => Said::of_excerpts(&tx.rows(), &ask.excerpts)?.sentence(),
        };
        let mut values = fields::check_new(ThingKind::Finding, "", fields_of(json!({ "title": title })))
            .map_err(Problem::Invalid)?;
        values.insert("product_id".into(), whole.product_id.0.into());
        values.insert("state".into(), FindingState::Accepted.name().into());
        let part = FindingId(tx.insert(ThingKind::Finding, &values)?);
        tx.label(format!("made {part} of {} of {of}", counted(ask.excerpts.len())));
        for excerpt in &ask.excerpts {
            let Some(link) = tx.rows().link(LinkKind::Supports, excerpt.thing(), of.thing())? else {
                return Err(Problem::invalid("/excerpts", format!("{excerpt} is not behind {of}.")));
            };
            // It is no judgement of what it leaves: both are kept, so it stays where it goes.
            tx.remove(Thing::new(ThingKind::Link, link))?;
            make_link(tx, evidence(*excerpt, part))?;
        }
        accept(tx, of)?;
        Ok(Some(part.thing()))
    })
}

/// The narrower groups that a finding opens into, the largest first; none where it says one thing only.
///
/// # Errors
/// Where there is no such finding.
pub fn narrower(app: &App, call: &Call, id: FindingId) -> Result<Vec<Narrower>, Problem> {
    app.read(call, Right::Read, |rows| {
        rows.json(id.thing())?;
        let said = Said::of_finding(rows, id)?;
        let groups = group(said.members(), &Decided::default(), Strictness::Strict);
        let mut places: Vec<Vec<usize>> = vec![Vec::new(); groups.iter().max().map_or(0, |most| most + 1)];
        groups.iter().enumerate().for_each(|(at, group)| places[*group].push(at));
        places.retain(|all| all.len() >= LEAST_EXCERPTS);
        places.sort_by_key(|all| std::cmp::Reverse(all.len()));
        let narrower = |places: &Vec<usize>| Narrower {
            title: said.title(places),
            phrases: said.phrases(places),
            excerpts: places.iter().map(|at| said.all[*at].id).collect(),
        };
        Ok(if places.len() < 2 { Vec::new() } else { places.iter().map(narrower).collect() })
    })
}
