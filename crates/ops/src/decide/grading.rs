//! How well ideas are supported. It follows from what stands behind them and from the day: told in the background where that
//! changed, and at once where somebody notes a result.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Graded, Idea, graded};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{IdeaId, ProductId, ThingKind};
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;

use crate::jobs::{Ended, Running};

/// The ideas of a product whose evidence changed since it was told.
fn changed(rows: &Rows<'_>, product: ProductId, today: Date) -> Result<BTreeMap<IdeaId, Graded>, Problem> {
    let told = rows.ideas_told(product)?;
    let all = rows.behind_ideas(product, None)?.into_iter().map(|(id, behind)| (id, graded(&behind, today)));
    Ok(all.filter(|(id, now)| told.get(id) != Some(now)).collect())
}

/// Whether the evidence of an idea changed since it was told.
pub(crate) fn some_to_grade(rows: &Rows<'_>, product: ProductId, today: Date) -> Result<bool, Problem> {
    Ok(!changed(rows, product, today)?.is_empty())
}

/// Tells how well the ideas of a product are supported, where that changed.
pub(crate) fn grade_ideas(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    let today = running.call().today;
    let changed = running.ask(|rows| changed(rows, product, today))?;
    if changed.is_empty() {
        return Ok(());
    }
    let count = changed.len();
    running.write(move |tx| {
        for (id, told) in &changed {
            tx.grade_idea(*id, told)?;
        }
        Ok(())
    })?;
    running.app().tell_live("graded the ideas", &[ThingKind::Idea], count);
    Ok(())
}

/// Tells it of one idea at once. Gives what it was before and is now.
pub(crate) fn grade_now(tx: &mut Tx<'_>, idea: &Idea, today: Date) -> Result<(Option<Graded>, Graded), Problem> {
    let before = tx.rows().idea_told(idea.id)?;
    let now = evidence_of(&tx.rows(), idea, today)?;
    tx.grade_idea(idea.id, &now)?;
    Ok((before, now))
}

/// How well an idea is supported now.
pub(crate) fn evidence_of(rows: &Rows<'_>, idea: &Idea, today: Date) -> Result<Graded, Problem> {
    let behind = rows.behind_ideas(idea.product_id, Some(idea.id))?.remove(&idea.id).unwrap_or_default();
    Ok(graded(&behind, today))
}
