//! Asking the evidence: a question gives the passages that answer it best, and the findings that they stand behind. Nothing is
//! made up, and where nothing answers, that is said.

use std::cmp::Ordering;
use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::listen::{Spread, spread};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId};
use iron_kite_store::Rows;
use iron_kite_store::queries::listen::ExcerptRow;
use serde::Serialize;
use utoipa::ToSchema;

use super::alike;
use super::items::{ExcerptView, with_findings};
use crate::call::{App, Call};

/// At most so many passages.
const PASSAGES: usize = 30;
/// What is less alike to a question than this (as a cosine) does not answer it.
const ANSWERS: f32 = 0.36;
/// The constant of reciprocal rank fusion: how fast later passages count less.
const LATER: f64 = 60.0;

/// The passages that answer a question.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Evidence {
    /// What fits best first; none where nothing that was said is near the question.
    pub passages: Vec<ExcerptView>,
    /// The findings that they stand behind, those that answer best first.
    pub findings: Vec<Answering>,
    /// How many people said them; who is not named counts once for each item.
    pub people: usize,
    /// The passages that speak against what most of them say, or for what most speak against.
    pub contrary: Vec<ExcerptId>,
}

/// A finding among what answers.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Answering {
    /// The finding.
    pub id: FindingId,
    /// What people say.
    pub title: String,
    /// How many of the passages stand behind it.
    pub passages: usize,
}

/// Answers a question from what people said.
///
/// # Errors
/// Where the right is missing.
pub fn ask(app: &App, call: &Call, product: ProductId, question: &str) -> Result<Evidence, Problem> {
    app.read(call, Right::Read, |rows| {
        let found = alike(app, rows, product, question, ANSWERS, PASSAGES)?;
        let findings = answering(rows, &found)?;
        let who = found.iter().map(|one| match one.who.person_id {
            Some(person) => (true, person.0),
            None => (false, one.who.item_id.0),
        });
        let people: BTreeSet<(bool, i64)> = who.collect();
        let contrary = contrary(&found);
        Ok(Evidence { people: people.len(), contrary, passages: with_findings(rows, found)?, findings })
    })
}

/// The passages on the side of which there are fewer.
fn contrary(passages: &[ExcerptRow]) -> Vec<ExcerptId> {
    let all = spread(passages.iter().map(|one| one.excerpt.sentiment));
    let side = match all.against.cmp(&all.for_it) {
        Ordering::Equal => return Vec::new(),
        Ordering::Greater => Spread { for_it: 1, ..Spread::default() },
        Ordering::Less => Spread { against: 1, ..Spread::default() },
    };
    let other = passages.iter().filter(|one| spread([one.excerpt.sentiment]) == side);
    other.map(|one| one.excerpt.id).collect()
}

/// The findings behind which passages stand, those with more and better ones first.
pub(crate) fn answering(rows: &Rows<'_>, passages: &[ExcerptRow]) -> Result<Vec<Answering>, Problem> {
    let mut worth: BTreeMap<FindingId, (f64, usize)> = BTreeMap::new();
    for (passage, rank) in with_findings(rows, passages.to_vec())?.iter().zip(1_u32..) {
        for finding in &passage.findings {
            let known = worth.entry(*finding).or_default();
            *known = (known.0 + 1.0 / (LATER + f64::from(rank)), known.1 + 1);
        }
    }
    let mut order: Vec<(FindingId, (f64, usize))> = worth.into_iter().collect();
    order.sort_by(|a, b| b.1.0.total_cmp(&a.1.0).then(a.0.cmp(&b.0)));
    let answering = |(id, (_, passages)): (FindingId, (f64, usize))| -> Result<Answering, Problem> {
        let title = rows.json(id.thing())?["title"].as_str().unwrap_or_default().to_owned();
        Ok(Answering { id, title, passages })
    };
    order.into_iter().map(answering).collect()
}
