//! Asking the evidence: a question gives the passages that answer it best, and the findings that they stand behind. Nothing is
//! made up, and where nothing answers, that is said.

use std::collections::BTreeSet;

use iron_kite_core::listen::{Finding, contrary};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::wholes;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId};
use iron_kite_store::Rows;
use serde::Serialize;
use utoipa::ToSchema;

use super::items::{ExcerptView, with_findings};
use super::{alike, question as understood};
use crate::call::{App, Call};

/// At most so many passages.
const PASSAGES: usize = 30;
/// What is less alike to a question than this (as a cosine) does not answer it.
const ANSWERS: f32 = 0.36;

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
        let found = match understood(app, question) {
            Some(asked) => alike(app, rows, product, &asked, ANSWERS, PASSAGES)?,
            None => Vec::new(),
        };
        let who = found.iter().map(|one| match one.who.person_id {
            Some(person) => (true, person.0),
            None => (false, one.who.item_id.0),
        });
        let people: BTreeSet<(bool, i64)> = who.collect();
        let sentiments: Vec<f64> = found.iter().map(|one| one.excerpt.sentiment).collect();
        let contrary = contrary(&sentiments).into_iter().map(|at| found[at].excerpt.id).collect();
        let passages = with_findings(rows, found)?;
        Ok(Evidence { people: people.len(), contrary, findings: answering(rows, &passages)?, passages })
    })
}

/// The findings behind which passages stand, those with more and better ones first.
pub(crate) fn answering(rows: &Rows<'_>, passages: &[ExcerptView]) -> Result<Vec<Answering>, Problem> {
    let behind: Vec<Vec<FindingId>> = passages.iter().map(|one| one.findings.clone()).collect();
    let answering = |(id, passages): (FindingId, usize)| -> Result<Answering, Problem> {
        let finding: Finding = rows.get(id.0)?;
        Ok(Answering { id, title: finding.title, passages })
    };
    wholes(&behind).into_iter().map(answering).collect()
}
