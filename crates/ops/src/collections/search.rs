//! Words in everything: feedback, findings, ideas, work, and what was decided and measured.

use std::collections::HashSet;

use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::Rows;
use iron_kite_store::queries::listen::ExcerptRow;
use iron_kite_store::queries::passages::Passage;
use iron_kite_store::queries::search::Hit;
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::listen::{Answering, alike, answering, pages_alike, question, with_findings};
use crate::things::name_of;

/// Where words were found.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SearchHit {
    /// The thing.
    pub thing: Thing,
    /// What people call it.
    pub reference: String,
    /// Its title.
    pub title: String,
    /// The words around what was found; the found ones stand between ‹ and ›.
    pub snippet: String,
}

/// What was found, what fits best first within each kind.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct SearchResult {
    /// Everything but feedback.
    pub things: Vec<SearchHit>,
    /// Feedback items in which the words stand.
    pub feedback: Vec<SearchHit>,
    /// Feedback items that mean the same in other words, with what they say.
    pub alike: Vec<SearchHit>,
    /// Findings behind which such passages stand, in which the words do not.
    pub findings: Vec<SearchHit>,
    /// Documents and pages that say the same in other words, each with the passage.
    pub pages: Vec<SearchHit>,
}

/// What is less alike than this (as a cosine) means something else.
const ALIKE: f32 = 0.3;
/// So many that mean the same.
const MOST_ALIKE: usize = 10;
/// So many findings of which they are a part.
const MOST_FINDINGS: usize = 4;
/// So many documents and pages.
const MOST_PAGES: usize = 5;
/// So many hits of each sort.
const MOST: usize = 20;
/// Fewer characters say too little.
const SHORTEST: usize = 2;

/// Looks for words in everything of a product; all of them must stand there, the last one as a beginning. Of feedback also
/// what means the same in other words.
///
/// # Errors
/// Where the right is missing.
pub fn search(
    app: &App,
    call: &Call,
    product: ProductId,
    words: &str,
    kind: Option<ThingKind>,
) -> Result<SearchResult, Problem> {
    app.read(call, Right::Read, |rows| {
        let mut result = SearchResult::default();
        if words.chars().filter(|c| c.is_alphanumeric()).count() < SHORTEST {
            return Ok(result);
        }
        if kind != Some(ThingKind::FeedbackItem) {
            let hits = rows.search_things(product, words, kind, MOST)?;
            result.things = hits.into_iter().map(|hit| found(rows, hit)).collect();
        }
        let asked = question(app, words);
        if let Some(asked) = &asked
            && kind.is_none_or(|kind| matches!(kind, ThingKind::Document | ThingKind::Page))
        {
            let met: HashSet<Thing> = result.things.iter().map(|hit| hit.thing).collect();
            let fits = |page: &Passage| kind.is_none_or(|kind| kind == page.thing.kind) && !met.contains(&page.thing);
            let pages = pages_alike(rows, product, &asked.meaning, ALIKE)?.into_iter().filter(fits);
            result.pages = pages.take(MOST_PAGES).map(passage).collect();
        }
        if kind.is_none_or(|kind| kind == ThingKind::FeedbackItem) {
            let hits = rows.search_feedback(product, words, MOST)?;
            result.feedback = hits.into_iter().map(|hit| found(rows, hit)).collect();
            let known: HashSet<i64> = result.feedback.iter().map(|hit| hit.thing.id).collect();
            let mut alike = match &asked {
                Some(asked) => alike(app, rows, product, asked, ALIKE, 2 * MOST)?,
                None => Vec::new(),
            };
            let met: HashSet<Thing> = result.things.iter().map(|hit| hit.thing).collect();
            let findings = answering(rows, &with_findings(rows, alike.clone())?)?
                .into_iter()
                .filter(|one| !met.contains(&one.id.thing()));
            result.findings = findings.take(MOST_FINDINGS).map(answer).collect();
            // Of one item, what fits best.
            let mut met = known;
            alike.retain(|row| met.insert(row.excerpt.item_id.0));
            result.alike = alike.into_iter().take(MOST_ALIKE).map(said).collect();
        }
        Ok(result)
    })
}

/// A finding, which holds none of the words itself.
fn answer(one: Answering) -> SearchHit {
    SearchHit { thing: one.id.thing(), reference: one.id.to_string(), snippet: one.title.clone(), title: one.title }
}

/// A passage of a document or page.
fn passage(one: Passage) -> SearchHit {
    let reference = reference(one.thing);
    SearchHit { thing: one.thing, reference, title: one.title, snippet: one.words }
}

/// What somebody said, as a place in their item.
fn said(row: ExcerptRow) -> SearchHit {
    let thing = row.excerpt.item_id.thing();
    let title = [row.person, row.account, row.said_on, Some(row.source)].into_iter().flatten().collect::<Vec<_>>();
    SearchHit { thing, reference: format!("F{}", thing.id), title: title.join(" · "), snippet: row.words }
}

fn found(rows: &Rows<'_>, hit: Hit) -> SearchHit {
    let thing = place_of(rows, Thing { kind: hit.kind, id: hit.id });
    let reference = match thing.kind {
        ThingKind::WorkItem => name_of(rows, thing),
        _ => reference(thing),
    };
    SearchHit { thing, reference, title: hit.title, snippet: hit.snippet }
}

fn reference(thing: Thing) -> String {
    thing.kind.letter().map_or_else(|| thing.kind.words().to_owned(), |letter| format!("{letter}{}", thing.id))
}

/// The thing where the words stand: a criterion stands on its story, a decision on its idea.
fn place_of(rows: &Rows<'_>, thing: Thing) -> Thing {
    let Some(whole) = thing.kind.part_of() else { return thing };
    let id = rows.json(thing).ok().and_then(|row| row[whole.column].as_i64());
    id.map_or(thing, |id| Thing::new(whole.to, id))
}
