//! A research report of chosen findings: gathered here, told by core, written as a page, as Markdown or as DOCX.

use std::collections::BTreeSet;

use iron_kite_core::decide::voices;
use iron_kite_core::formats::blocks::{Block, markdown};
use iron_kite_core::listen::{
    Finding, FindingState, Heap, Movement, Quote, Report, Study, ToldFinding, Unknown, parts, plain, report as tell,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{FindingId, ProductId, StudyId};
use iron_kite_documents::write_docx;
use iron_kite_store::Rows;
use iron_kite_store::queries::pictures::SaidRow;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use super::items::ExcerptView;
use super::pictures::{Names, SaidOf, SaidPicture, day, who};
use crate::call::{App, Call};

/// What a report is asked of.
#[derive(Debug, Clone, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ReportQuery {
    /// The product.
    pub product: i64,
    /// The numbers of the findings, parted by commas, in the order in which they are told.
    pub findings: String,
    /// What it is called.
    pub title: Option<String>,
    /// What was to be found out; that of the study where nothing is given.
    pub question: Option<String>,
    /// How; that of the study where nothing is given.
    pub method: Option<String>,
    /// The study that it reports of.
    pub study: Option<i64>,
    /// How many quotes of each finding, 10 at the most.
    pub quotes: Option<usize>,
}

/// A report as a page.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ReportPage {
    /// What it is called.
    pub title: String,
    /// The page.
    pub blocks: Vec<Block>,
}

/// A report tells of at most so many findings.
const MOST_FINDINGS: usize = 60;
const QUOTES: usize = 3;
const MOST_QUOTES: usize = 10;
/// So many of the contrary voices are quoted.
const CONTRARY: usize = 2;

/// A report of findings.
///
/// # Errors
/// Where a finding is not there or is of another product, or none is named.
pub fn report(app: &App, call: &Call, query: &ReportQuery) -> Result<ReportPage, Problem> {
    let made = gather(app, call, query)?;
    Ok(ReportPage { blocks: tell(&made), title: made.title })
}

/// The same as Markdown.
///
/// # Errors
/// As [`report`].
pub fn report_markdown(app: &App, call: &Call, query: &ReportQuery) -> Result<String, Problem> {
    Ok(markdown(&report(app, call, query)?.blocks))
}

/// The same as DOCX.
///
/// # Errors
/// As [`report`].
pub fn report_docx(app: &App, call: &Call, query: &ReportQuery) -> Result<Vec<u8>, Problem> {
    write_docx(&report(app, call, query)?.blocks).map_err(Problem::Internal)
}

fn gather(app: &App, call: &Call, query: &ReportQuery) -> Result<Report, Problem> {
    let product = ProductId(query.product);
    let quotes = query.quotes.unwrap_or(QUOTES).min(MOST_QUOTES);
    let ids = numbers(&query.findings)?;
    app.read(call, Right::Read, |rows| {
        let study = query.study.map(|id| rows.get::<Study>(StudyId(id))).transpose()?;
        let mut told = Vec::new();
        let mut said: Vec<SaidRow> = Vec::new();
        for id in ids {
            let finding: Finding = rows.get(id.0)?;
            if finding.product_id != product {
                return Err(Problem::refused("other-product", format!("{id} belongs to another product.")));
            }
            let of = SaidOf::read(rows, &finding, call.today, quotes, CONTRARY)?;
            told.push(told_finding(rows, finding, of.picture, of.unknown)?);
            said.extend(of.said);
        }
        let mut seen = BTreeSet::new();
        said.retain(|row| seen.insert(row.excerpt));
        let names = Names::read(rows)?;
        let all_who: Vec<_> = said.iter().map(who).collect();
        let heaps: Vec<Heap> = said.iter().map(|row| Heap::one(row.sentiment)).collect();
        let days = said.iter().filter_map(day);
        let given =
            |own: &Option<String>, of: Option<String>| own.clone().filter(|text| !text.trim().is_empty()).or(of);
        let title = given(&query.title, study.as_ref().map(|study| study.title.clone()));
        Ok(Report {
            title: title.unwrap_or_else(|| "What people said".into()),
            question: given(&query.question, study.as_ref().and_then(|study| study.question.clone())),
            method: given(&query.method, study.and_then(|study| study.method)),
            day: call.today,
            voices: voices(&all_who, &rows.revenue()?),
            segments: parts(said.iter().map(|row| names.segment(row.account)).zip(&heaps)),
            sources: parts(said.iter().map(|row| names.source(row.source)).zip(&heaps)),
            days: days.clone().min().zip(days.max()),
            findings: told,
        })
    })
}

fn numbers(text: &str) -> Result<Vec<FindingId>, Problem> {
    let wrong = || Problem::invalid("/findings", "Name findings by their numbers, parted by commas.");
    let mut seen = BTreeSet::new();
    let all: Vec<FindingId> = text
        .split(',')
        .map(|number| number.trim().trim_start_matches('N').parse().map(FindingId).map_err(|_| wrong()))
        .collect::<Result<_, _>>()?;
    let all: Vec<FindingId> = all.into_iter().filter(|id| seen.insert(*id)).collect();
    if all.len() > MOST_FINDINGS {
        return Err(Problem::invalid("/findings", format!("A report tells of {MOST_FINDINGS} findings at the most.")));
    }
    Ok(all)
}

fn told_finding(
    rows: &Rows<'_>,
    finding: Finding,
    picture: SaidPicture,
    unknown: Vec<Unknown>,
) -> Result<ToldFinding, Problem> {
    let moves = rows.finding_told(finding.id)?.filter(|told| told.movement != Movement::Steady.name()).map(|told| {
        let p = if told.p < 0.001 { "below 0.001".to_owned() } else { format!("{:.3}", told.p) };
        let how = plain(&told.movement);
        format!("{how}: {} excerpts in the last 4 weeks, {} in the 12 weeks before (p {p})", told.recent, told.before)
    });
    let quoted = |all: Vec<ExcerptView>| all.into_iter().map(quote).collect();
    Ok(ToldFinding {
        reference: finding.id.to_string(),
        suggested: finding.state() == FindingState::Suggested,
        title: finding.title,
        note: finding.note,
        excerpts: picture.kinds.iter().map(|part| part.excerpts).sum(),
        voices: picture.voices,
        spread: picture.spread(),
        frustration: picture.frustration,
        moves,
        quotes: quoted(picture.stands_for),
        contrary: quoted(picture.contrary),
        unknown,
    })
}

pub(super) fn quote(one: ExcerptView) -> Quote {
    let item = format!("F{}", one.excerpt.item_id.0);
    let person = one.person.unwrap_or_else(|| "nameless".into());
    let by: Vec<String> =
        [Some(person), one.account, one.said_on, Some(one.source), Some(item)].into_iter().flatten().collect();
    Quote { words: one.words, by: by.join(", ") }
}
