//! What people said is sent on to where it is needed: behind an idea, into a document, onto a page.

use std::collections::BTreeSet;

use iron_kite_core::listen::with_quotes;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::{Map, json};
use utoipa::ToSchema;

use super::findings::counted;
use super::items::with_findings;
use super::report::quote;
use crate::call::{App, Call, Saved};
use crate::collections::write_fields;
use crate::things::{LinkEnds, make_link, name_of};

/// What quotes excerpts.
pub(super) const QUOTING: [ThingKind; 3] = [ThingKind::Idea, ThingKind::Document, ThingKind::Page];

/// Excerpts that are quoted somewhere.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewQuotes {
    /// Which.
    pub excerpts: Vec<ExcerptId>,
    /// The idea, the document or the page.
    pub to: Thing,
}

/// Quotes excerpts. An idea stands on them from then on, beside its findings; in a document and on a page their words are
/// written below its text, with who said them. What is quoted there already stays as it is.
///
/// # Errors
/// Where it is nothing that quotes, all is quoted there already, or one is not there.
pub fn send_quotes(app: &App, call: &Call, ask: NewQuotes) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        if !QUOTING.contains(&ask.to.kind) {
            return Err(Problem::invalid("/to", "Choose an idea, a document or a page."));
        }
        let there = tx.rows().links_of(LinkKind::Supports, ask.to, false, ThingKind::Excerpt)?;
        let there: BTreeSet<i64> = there.into_iter().map(|(_, id)| id).collect();
        let mut seen = BTreeSet::new();
        let new: Vec<ExcerptId> =
            ask.excerpts.into_iter().filter(|id| !there.contains(&id.0) && seen.insert(id.0)).collect();
        if new.is_empty() {
            return Err(Problem::refused("quoted-already", "Nothing of this is new there. Choose other excerpts."));
        }
        for id in &new {
            make_link(tx, LinkEnds { kind: LinkKind::Supports, from: id.thing(), to: ask.to })?;
        }
        if ask.to.kind != ThingKind::Idea {
            write_below(tx, ask.to, &new)?;
        }
        tx.label(format!("quoted {} in {}", counted(new.len()), name_of(&tx.rows(), ask.to)));
        Ok(Some(ask.to))
    })
}

fn write_below(tx: &mut Tx<'_>, page: Thing, excerpts: &[ExcerptId]) -> Result<(), Problem> {
    let rows = tx.rows();
    let mut said = with_findings(&rows, rows.excerpts_among(excerpts)?)?;
    said.sort_by_key(|one| excerpts.iter().position(|id| *id == one.excerpt.id));
    let quotes: Vec<_> = said.into_iter().map(quote).collect();
    let present = rows.json(page)?;
    let text = with_quotes(present["body"].as_str().unwrap_or_default(), &quotes);
    let catalogue = rows.catalogue()?;
    let set = Map::from_iter([("body".to_owned(), json!(text))]);
    let rev = present["rev"].as_i64().unwrap_or_default();
    write_fields(tx, &catalogue, page, rev, set, "/to").map(drop)
}
