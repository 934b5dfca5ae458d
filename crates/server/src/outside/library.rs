//! A library of pages that is asked a question: `GET PLACE/pages?q=QUESTION` answers
//! `{"pages": [{"title": "…", "address": "…", "page": "<html>…"}, …]}`, what fits best first.

use iron_kite_ops::outside::PageFound;
use serde::Deserialize;

use super::far::{Reach, ask};

/// So many pages are asked for.
const MOST: usize = 12;

#[derive(Deserialize)]
struct Answer {
    pages: Vec<Page>,
}

#[derive(Deserialize)]
struct Page {
    title: String,
    address: String,
    page: String,
}

/// Pages that speak of a question.
pub(super) fn search(address: &str, question: &str) -> Result<Vec<PageFound>, String> {
    let text = ask(
        Reach::Any,
        &format!("{}/pages", address.trim_end_matches('/')),
        &[("q", question), ("limit", &MOST.to_string())],
        None,
    )?;
    let answer: Answer = serde_json::from_str(&text)
        .map_err(|_| "Its answer is not what it should be: no JSON object with a list of pages.".to_owned())?;
    let page = |page: Page| PageFound { title: page.title, address: page.address, page: page.page };
    Ok(answer.pages.into_iter().take(MOST).map(page).collect())
}
