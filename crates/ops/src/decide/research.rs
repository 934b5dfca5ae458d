//! Research of the market: a question is asked of what lies outside, and a report is drafted from the pages that were found.

use iron_kite_core::decide::{
    Capability, FoundPage, FoundPassage, PageName, Research, answering_passages, exact_passages, research_report,
};
use iron_kite_core::formats::blocks::{Block, markdown};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Vector;
use iron_kite_core::things::{FoundPageId, ProductId, ThingKind};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::market::{LONGEST_PAGE, NewFoundPage, keep_page, market_of, text_of};
use crate::call::{App, Call, fields as fields_of};
use crate::jobs::{self, Ended, JobView, Running, Work};
use crate::outside::PageFound;

/// A question about the market.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewResearch {
    /// The product whose market it is about.
    pub product: ProductId,
    /// What is asked.
    pub question: String,
}

/// What a piece of research came to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ResearchReport {
    /// The document that was drafted.
    pub document: i64,
    /// The pages that were looked through, by their numbers.
    pub pages: Vec<i64>,
    /// The report as blocks.
    pub blocks: Vec<Block>,
}

/// The longest question, in characters.
const LONGEST: usize = 300;
/// So many pages are looked through at most.
const MOST_PAGES: usize = 20;

/// Queues a piece of research.
///
/// # Errors
/// Where the question says nothing, or there is nothing that tells meanings.
pub fn research(app: &App, call: &Call, new: NewResearch) -> Result<JobView, Problem> {
    app.read(call, Right::Edit, |_| Ok(()))?;
    let question = new.question.split_whitespace().collect::<Vec<_>>().join(" ");
    if question.chars().filter(|c| c.is_alphanumeric()).count() < 4 || question.chars().count() > LONGEST {
        return Err(Problem::invalid("/question", "Ask a question in words, at most 300 characters long."));
    }
    let label = format!("looking into “{question}”");
    jobs::add(app, call, new.product, label, &Work::Research { question })
}

/// Looks for pages, keeps them, and drafts the report as a document.
pub(crate) fn look_into(
    running: &mut Running<'_>,
    product: ProductId,
    question: &str,
) -> Result<ResearchReport, Ended> {
    let found = running.app().outside().search(question);
    let found = found.map_err(|words| Problem::refused("nothing-outside", words))?;
    running.expect(2);
    let (place, pages) = (found.place, found.pages);
    let pages: Vec<FoundPage> = keep(running, product, pages)?;
    running.advance(1)?;
    let passages = passages(running.app(), question, &pages)?;
    let names: Vec<PageName> = pages.iter().map(name_of).collect();
    let market = running.ask(|rows| market_of(rows, product))?;
    let capabilities: Vec<Capability> = market.capabilities.into_iter().map(|view| view.capability).collect();
    let blocks = research_report(&Research {
        question,
        pages: &names,
        passages: &passages,
        capabilities: &capabilities,
        competitors: &market.competitors,
        rows: &market.rows,
        place: &place,
    });
    let values = fields_of(json!({
        "product_id": product, "title": format!("Market: {question}"), "state": "draft", "body": markdown(&blocks),
    }));
    let title = question.to_owned();
    let document = running.write(move |tx| {
        let id = tx.insert(ThingKind::Document, &values)?;
        tx.label(format!("drafted a report on “{title}”"));
        Ok(id)
    })?;
    running.advance(1)?;
    Ok(ResearchReport { document, pages: pages.iter().map(|page| page.id.0).collect(), blocks })
}

fn keep(running: &mut Running<'_>, product: ProductId, found: Vec<PageFound>) -> Result<Vec<FoundPage>, Problem> {
    let today = running.call().today.to_string();
    let mut reading = running.app().reading_beside();
    let mut pages = Vec::new();
    for page in found.into_iter().take(MOST_PAGES) {
        let text = text_of(reading.as_mut(), "page.html", page.page.as_bytes()).map(|read| read.text);
        // A page that holds no text says nothing, and a book is no page.
        let fits = |text: &String| !text.trim().is_empty() && text.chars().count() <= LONGEST_PAGE;
        pages.extend(text.ok().filter(fits).map(|text| (page, text)));
    }
    running.write(move |tx| {
        let mut ids: Vec<FoundPageId> = Vec::new();
        for (page, text) in pages {
            let competitor_id = tx.rows().competitor_at(product, &page.address)?;
            let address = Some(page.address);
            let new = NewFoundPage { product_id: product, competitor_id, title: page.title, address, text };
            let id = keep_page(tx, new, &today)?;
            if !ids.contains(&id) {
                ids.push(id);
            }
        }
        ids.into_iter().map(|id| Ok(tx.rows().get(id)?)).collect()
    })
}

fn name_of(page: &FoundPage) -> PageName {
    PageName { title: page.title.clone(), address: page.address.clone(), taken_on: page.taken_on.clone() }
}

fn passages(app: &App, question: &str, pages: &[FoundPage]) -> Result<Vec<FoundPassage>, Problem> {
    let all: Vec<(usize, String)> = pages
        .iter()
        .enumerate()
        .flat_map(|(at, page)| exact_passages(&page.text).into_iter().map(move |words| (at, words)))
        .collect();
    let texts: Vec<&str> = std::iter::once(question).chain(all.iter().map(|(_, words)| words.as_str())).collect();
    let vectors = app.told(|meaning| meaning.vectors(&texts))?;
    let mut vectors = vectors.into_iter();
    let asked: Vector = vectors.next().ok_or_else(|| Problem::Internal("the question has no meaning".into()))?;
    let all: Vec<(usize, String, Vector)> =
        all.into_iter().zip(vectors).map(|((page, words), meaning)| (page, words, meaning)).collect();
    Ok(answering_passages(&asked, &all))
}
