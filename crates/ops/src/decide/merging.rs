//! Ideas that may be one, and making them one.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Decision, Estimate, Idea, IdeaMeaning, Increment, likely_same, merged};
use iron_kite_core::learn::Measured;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Vector;
use iron_kite_core::things::{IdeaId, ProductId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};

/// Ideas that say the same.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct MergeIdeas {
    /// The one that stays, with its title.
    pub keep: IdeaId,
    /// Those that become a part of it.
    pub others: Vec<IdeaId>,
}

/// Two ideas that may be the same.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LikelySameIdeas {
    /// The one that came first.
    pub one: IdeaId,
    /// Its title.
    pub one_title: String,
    /// The other.
    pub other: IdeaId,
    /// Its title.
    pub other_title: String,
    /// How alike they are, 0 – 1.
    pub alike: f32,
}

/// So many pairs are told.
const TOLD: usize = 50;

/// Pairs of ideas of a product that may be the same by what they mean, the likest first. O(n²) in the number of ideas.
///
/// # Errors
/// Where the right is missing.
pub fn likely_same_ideas(app: &App, call: &Call, product: ProductId) -> Result<Vec<LikelySameIdeas>, Problem> {
    app.read(call, Right::Read, |rows| {
        let mut titles: BTreeMap<IdeaId, String> = BTreeMap::new();
        let mut passages: BTreeMap<IdeaId, Vec<Vector>> = BTreeMap::new();
        for passage in rows.passages(product)?.into_iter().filter(|one| one.thing.kind == ThingKind::Idea) {
            let id = IdeaId(passage.thing.id);
            passages.entry(id).or_default().extend(Vector::from_bytes(&passage.meaning));
            titles.insert(id, passage.title);
        }
        let ideas: Vec<IdeaMeaning> =
            passages.iter().filter_map(|(id, passages)| IdeaMeaning::of(*id, passages)).collect();
        let apart = rows.links(LinkKind::NotSame, ThingKind::Idea, ThingKind::Idea)?;
        let apart: Vec<_> = apart.iter().map(|link| (IdeaId(link.from_id), IdeaId(link.to_id))).collect();
        let title = |id: &IdeaId| titles.get(id).cloned().unwrap_or_default();
        let pairs = likely_same(&ideas, &apart).into_iter().take(TOLD);
        Ok(pairs
            .map(|(one, other, alike)| LikelySameIdeas {
                one_title: title(&one),
                other_title: title(&other),
                one,
                other,
                alike: (alike * 100.0).round() / 100.0,
            })
            .collect())
    })
}

/// Makes one idea of several. What stands behind the others, what became of them, their steps, results and decisions come to
/// the one that stays; its history is told with theirs. One undo brings all of them back.
///
/// # Errors
/// Where one is not there, is of another product, or was decided the other way.
pub fn merge_ideas(app: &App, call: &Call, ask: MergeIdeas) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let mut others: Vec<IdeaId> = ask.others.iter().copied().filter(|id| *id != ask.keep).collect();
        others.sort_unstable();
        others.dedup();
        if others.is_empty() {
            return Err(Problem::invalid("/others", "Name at least one other idea."));
        }
        tx.label(format!("made {} ideas one: {}", others.len() + 1, ask.keep));
        for id in others {
            let (kept, other): (Idea, Idea) = (tx.rows().get(ask.keep)?, tx.rows().get(id)?);
            if kept.product_id != other.product_id {
                return Err(Problem::refused("other-product", "Ideas of two products cannot be made one."));
            }
            let set = merged(&kept, &other)?;
            tx.move_links(id.thing(), ask.keep.thing())?;
            for thing in hanging_on(&tx.rows(), id, ask.keep)? {
                tx.set(thing, &fields_of(json!({ "idea_id": ask.keep })))?;
            }
            tx.set(ask.keep.thing(), &set)?;
            tx.remove(id.thing())?;
        }
        Ok(Some(ask.keep.thing()))
    })
}

/// What belongs to an idea by its number, and is to belong to another. Of estimates, what the other has of its own stands.
fn hanging_on(rows: &Rows<'_>, idea: IdeaId, keep: IdeaId) -> Result<Vec<Thing>, Problem> {
    let decisions = rows.of_idea::<Decision>(idea)?.into_iter().map(|one| Thing::new(ThingKind::Decision, one.id));
    let increments = rows.of_idea::<Increment>(idea)?.into_iter().map(|one| one.id.thing());
    let results = rows.of_idea::<Measured>(idea)?.into_iter().map(|one| Thing::new(ThingKind::Result, one.id));
    let own: Vec<Estimate> = rows.of_idea(keep)?;
    let same = |a: &Estimate, b: &Estimate| {
        a.field == b.field && a.agreed == b.agreed && (a.agreed == 1 || a.by_id == b.by_id)
    };
    let estimates = rows.of_idea::<Estimate>(idea)?.into_iter().filter(|one| !own.iter().any(|other| same(one, other)));
    let estimates = estimates.map(|one| Thing::new(ThingKind::Estimate, one.id));
    Ok(decisions.chain(increments).chain(results).chain(estimates).collect())
}
