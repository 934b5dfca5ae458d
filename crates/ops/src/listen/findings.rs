//! Findings: excerpts that mean the same.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Idea, IdeaState, Voices, voices};
use iron_kite_core::fields;
use iron_kite_core::listen::{Finding, Spread, WEEKS, spread, weekly};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, FindingId, IdeaId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use iron_kite_store::queries::findings::FindingTold;
use iron_kite_store::queries::listen::VoiceRow;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::things::{LinkEnds, drop_link, make_link};

/// A finding and who stands behind it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FindingView {
    /// The finding.
    #[serde(flatten)]
    pub finding: Finding,
    /// Its excerpts.
    pub excerpts: usize,
    /// People, accounts and revenue.
    pub voices: Voices,
    /// The kinds of its excerpts, the most frequent first.
    pub kinds: Vec<String>,
    /// Excerpts of each of the last eight weeks, oldest first.
    pub weeks: [usize; WEEKS],
    /// How many speak against and for.
    pub spread: Spread,
    /// The ideas that stand on it.
    pub ideas: Vec<StandingIdea>,
    /// What the engine tells of it; nothing before it has looked.
    pub told: Option<FindingToldView>,
}

/// An idea that stands on a finding.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct StandingIdea {
    /// Its number.
    pub id: IdeaId,
    /// The idea in a few words.
    pub title: String,
    /// Where it stands.
    pub state: IdeaState,
}

/// What the engine tells of a finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FindingToldView {
    /// What tells it from all else that is said.
    pub phrases: Vec<String>,
    /// A few excerpts that stand for all.
    pub nearest: Vec<ExcerptId>,
    /// The findings that are nearest to it.
    pub related: Vec<FindingId>,
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

impl From<FindingTold> for FindingToldView {
    fn from(told: FindingTold) -> Self {
        // They are written by the engine itself.
        FindingToldView {
            phrases: serde_json::from_str(&told.phrases).unwrap_or_default(),
            nearest: serde_json::from_str(&told.nearest).unwrap_or_default(),
            related: serde_json::from_str(&told.related).unwrap_or_default(),
            movement: told.movement,
            p: told.p,
            recent: told.recent,
            before: told.before,
        }
    }
}

/// A new finding.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewFinding {
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// A sentence that a person could say aloud.
    pub title: String,
    /// The excerpts that say it.
    pub excerpts: Vec<ExcerptId>,
}

/// Excerpts that come to a finding or leave it.
#[derive(Debug, Clone, Default, Deserialize, ToSchema)]
pub struct FindingChange {
    /// Excerpts that say it too.
    #[serde(default)]
    pub add: Vec<ExcerptId>,
    /// Excerpts that say something else.
    #[serde(default)]
    pub remove: Vec<ExcerptId>,
    /// The finding behind which those go that say something else.
    #[serde(default)]
    pub move_to: Option<FindingId>,
}

/// The findings of a product, those with the most people first.
///
/// # Errors
/// Where the right is missing.
pub fn findings(app: &App, call: &Call, product: ProductId) -> Result<Vec<FindingView>, Problem> {
    let today = call.today;
    app.read(call, Right::Read, |rows| {
        let all: Vec<Finding> = rows.list("WHERE product_id = ?1 ORDER BY id", [product.0])?;
        let revenue = rows.revenue()?;
        let mut by_finding: BTreeMap<i64, Vec<VoiceRow>> = BTreeMap::new();
        for voice in rows.finding_voices(product)? {
            by_finding.entry(voice.finding_id).or_default().push(voice);
        }
        let named: BTreeMap<i64, Idea> = rows
            .list::<Idea>("WHERE product_id = ?1", [product.0])?
            .into_iter()
            .map(|idea| (idea.id.0, idea))
            .collect();
        let mut ideas: BTreeMap<i64, Vec<StandingIdea>> = BTreeMap::new();
        for link in rows.links(LinkKind::Supports, ThingKind::Finding, ThingKind::Idea)? {
            if let Some(Idea { id, title, state, .. }) = named.get(&link.to_id) {
                let idea = StandingIdea { id: *id, title: title.clone(), state: *state };
                ideas.entry(link.from_id).or_default().push(idea);
            }
        }
        let mut told = rows.findings_told(product)?;
        let mut views: Vec<FindingView> = all
            .into_iter()
            .map(|finding| {
                let said = by_finding.remove(&finding.id.0).unwrap_or_default();
                let who: Vec<_> = said.iter().map(|voice| voice.who).collect();
                let days = said.iter().filter_map(|voice| voice.said_on.as_deref()?.parse::<Date>().ok());
                FindingView {
                    excerpts: said.len(),
                    voices: voices(&who, &revenue),
                    kinds: kinds(&said),
                    weeks: weekly(days, today),
                    spread: spread(said.iter().map(|voice| voice.sentiment)),
                    ideas: ideas.remove(&finding.id.0).unwrap_or_default(),
                    told: told.remove(&finding.id).map(FindingToldView::from),
                    finding,
                }
            })
            .collect();
        views.sort_by_key(|view| std::cmp::Reverse((view.voices.people, view.excerpts)));
        Ok(views)
    })
}

fn kinds(said: &[VoiceRow]) -> Vec<String> {
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for voice in said {
        *counts.entry(&voice.kind).or_default() += 1;
    }
    let mut kinds: Vec<_> = counts.into_iter().collect();
    kinds.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
    kinds.into_iter().map(|(kind, _)| kind.to_owned()).collect()
}

/// Makes a finding of excerpts.
///
/// # Errors
/// Where the title is missing or an excerpt is not there.
pub fn add_finding(app: &App, call: &Call, new: NewFinding) -> Result<Saved, Problem> {
    let mut values = fields::check_new(ThingKind::Finding, "", fields_of(json!({ "title": new.title })))
        .map_err(Problem::Invalid)?;
    app.save(call, Right::Listen, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        values.insert("product_id".into(), new.product_id.0.into());
        let finding = FindingId(tx.insert(ThingKind::Finding, &values)?);
        tx.label(format!("made {finding} of {}", counted(new.excerpts.len())));
        put_behind(tx, finding, &new.excerpts)?;
        Ok(Some(finding.thing()))
    })
}

/// Puts excerpts behind a finding or takes them away.
///
/// # Errors
/// Where the finding or an excerpt is not there.
pub fn change_finding(app: &App, call: &Call, finding: FindingId, change: FindingChange) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        tx.rows().json(finding.thing())?;
        tx.label(match (change.add.len(), change.remove.len()) {
            (0, moved) if change.move_to.is_some() => format!("moved {} away from {finding}", counted(moved)),
            (added, 0) => format!("put {} behind {finding}", counted(added)),
            (0, taken) => format!("took {} from {finding}", counted(taken)),
            (added, taken) => format!("put {} behind {finding} and took {taken} away", counted(added)),
        });
        put_behind(tx, finding, &change.add)?;
        for excerpt in change.remove {
            if tx.rows().link(LinkKind::Supports, excerpt.thing(), finding.thing())?.is_some() {
                drop_link(tx, evidence(excerpt, finding))?;
            }
            if let Some(to) = change.move_to {
                make_link(tx, evidence(excerpt, to))?;
            }
        }
        Ok(Some(finding.thing()))
    })
}

/// So many excerpts, in words.
pub(super) fn counted(excerpts: usize) -> String {
    if excerpts == 1 { "1 excerpt".into() } else { format!("{excerpts} excerpts") }
}

fn put_behind(tx: &mut Tx<'_>, finding: FindingId, excerpts: &[ExcerptId]) -> Result<(), Problem> {
    for excerpt in excerpts {
        make_link(tx, evidence(*excerpt, finding))?;
    }
    Ok(())
}

/// An excerpt behind a finding.
pub(crate) fn evidence(excerpt: ExcerptId, finding: FindingId) -> LinkEnds {
    LinkEnds { kind: LinkKind::Supports, from: excerpt.thing(), to: finding.thing() }
}
