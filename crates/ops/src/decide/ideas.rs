//! Ideas: scored, ranked, decided.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Decision, Idea, Rice, Voices, rank, rice};
use iron_kite_core::fields::Collection;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{FindingId, IdeaId, ObjectiveId, ProductId, ThingKind, WorkItemId};
use iron_kite_core::trace::{Link, LinkKind};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::decisions::behind;
use crate::call::{App, Call, Saved, fields as fields_of};
use crate::collections::{NewThing, put_in};

/// An idea with its score and what is linked to it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IdeaView {
    /// The idea.
    #[serde(flatten)]
    pub idea: Idea,
    /// Its RICE score and rank.
    pub rice: Rice,
    /// People, accounts and revenue behind its findings.
    pub voices: Voices,
    /// The findings that it stands on.
    pub findings: Vec<FindingId>,
    /// The objectives that ask for it.
    pub objectives: Vec<ObjectiveId>,
    /// The epics that it became.
    pub epics: Vec<WorkItemId>,
    /// The last decision about it.
    pub decision: Option<Decision>,
}

/// A new idea.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewIdea {
    /// The product that it is for.
    pub product_id: ProductId,
    /// The idea in a few words.
    pub title: String,
    /// The problem that it solves.
    pub problem: Option<String>,
    /// The finding that it comes from.
    pub finding_id: Option<FindingId>,
}

/// The ideas of a product from the best score to the worst, those without one last.
///
/// # Errors
/// Where the right is missing.
pub fn ideas(app: &App, call: &Call, product: ProductId) -> Result<Vec<IdeaView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let mut behind = behind(rows, product, None)?;
        let findings = rows.links(LinkKind::Supports, ThingKind::Finding, ThingKind::Idea)?;
        let objectives = rows.links(LinkKind::AsksFor, ThingKind::Objective, ThingKind::Idea)?;
        let epics = rows.links(LinkKind::Becomes, ThingKind::Idea, ThingKind::WorkItem)?;
        let decisions: BTreeMap<IdeaId, Decision> =
            rows.decisions(product)?.into_iter().map(|d| (d.idea_id, d)).collect();
        let told = rows.ideas_told(product)?;
        let all: Vec<Idea> = rows.all_of(product)?;
        let mut scored: Vec<(Idea, Rice)> = all
            .into_iter()
            .map(|idea| {
                let score = rice(&idea, told.get(&idea.id).map(|told| told.confidence));
                (idea, score)
            })
            .collect();
        rank(&mut scored);
        let upstream = |links: &[Link], id: IdeaId| {
            links.iter().filter(|l| l.to_id == id.0).map(|l| l.from_id).collect::<Vec<_>>()
        };
        Ok(scored
            .into_iter()
            .map(|(idea, rice)| IdeaView {
                rice,
                voices: behind.remove(&idea.id).unwrap_or_default(),
                findings: upstream(&findings, idea.id).into_iter().map(FindingId).collect(),
                objectives: upstream(&objectives, idea.id).into_iter().map(ObjectiveId).collect(),
                epics: epics.iter().filter(|l| l.from_id == idea.id.0).map(|l| WorkItemId(l.to_id)).collect(),
                decision: decisions.get(&idea.id).cloned(),
                idea,
            })
            .collect())
    })
}

/// Adds an idea, from a finding or from nothing.
///
/// # Errors
/// Where the title is missing or the finding is not there.
pub fn add_idea(app: &App, call: &Call, new: NewIdea) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        let set = fields_of(json!({ "title": new.title, "problem": new.problem }));
        let idea = IdeaId(put_in(tx, Collection::Idea, NewThing { product: new.product_id, level: None, set }, "")?.id);
        match new.finding_id {
            Some(finding) => {
                tx.rows().json(finding.thing())?;
                tx.add_link(LinkKind::Supports, finding.thing(), idea.thing())?;
                tx.label(format!("made {idea} from {finding}"));
            }
            None => tx.label(format!("added {idea}")),
        }
        Ok(Some(idea.thing()))
    })
}
