//! Looking for what people said by what it means, and by its words.

use std::collections::{HashMap, HashSet};
use std::sync::PoisonError;

use iron_kite_core::problem::Problem;
use iron_kite_core::text::{Vector, holds_together, rarity, stem, words, worth};
use iron_kite_core::things::{ExcerptId, ProductId};
use iron_kite_store::Rows;
use iron_kite_store::queries::listen::ExcerptRow;
use iron_kite_store::queries::search::MOST_RANKED;

use crate::call::App;

/// So many are taken of each order.
const TAKEN: usize = 60;
/// So many words of a question count.
const MOST_WORDS: usize = 12;
/// Shorter questions mean too little.
const SHORTEST: usize = 4;

/// A question, understood once for all that is looked through.
pub(crate) struct Question<'a> {
    words: &'a str,
    pub(crate) meaning: Vector,
}

/// Understands a question; nothing where it says too little, or where its meaning cannot be told: words are still found then.
pub(crate) fn question<'a>(app: &App, asked: &'a str) -> Option<Question<'a>> {
    if asked.chars().filter(|c| c.is_alphanumeric()).count() < SHORTEST {
        return None;
    }
    match app.meaning()?.vectors(&[asked]) {
        Ok(vectors) => vectors.into_iter().next().map(|meaning| Question { words: asked, meaning }),
        Err(fault) => {
            tracing::error!(%fault, "a question could not be understood");
            None
        }
    }
}

/// Excerpts that mean what is asked or hold its words, what fits best first (core's `text::worth`). What is less alike than
/// `least` (as a cosine) means something else. Nothing where nothing is alike, or where the engine has read nothing yet.
pub(crate) fn alike(
    app: &App,
    rows: &Rows<'_>,
    product: ProductId,
    asked: &Question<'_>,
    least: f32,
    most: usize,
) -> Result<Vec<ExcerptRow>, Problem> {
    let Question { words: asked, meaning: vector } = asked;
    let mind = app.minds.of(rows, product)?;
    let rare = rare_words(rows, asked)?;
    // What stands nearly everywhere finds nothing, and ranking all of it would be most of the time.
    let common = rarity(MOST_RANKED, rows.count_items()?);
    let telling: Vec<String> = rare.iter().filter(|(_, rare)| **rare > common).map(|(word, _)| word.clone()).collect();
    let mut near: HashMap<ExcerptId, f32> = {
        let held = by_words(rows, product, &telling)?;
        let mind = mind.read().unwrap_or_else(PoisonError::into_inner);
        let held = held.into_iter().filter_map(|id| Some((id, mind.alike(id, vector)?)));
        mind.nearest(vector, TAKEN).into_iter().chain(held).collect()
    };
    // Words alone may stand anywhere; what means nothing alike is left to the search for words.
    near.retain(|_, alike| *alike >= least);
    let ids: Vec<i64> = near.keys().map(|id| id.0).collect();
    let ids = serde_json::to_string(&ids).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let all: f64 = rare.values().sum();
    let weighed = |row: ExcerptRow| {
        let stems: HashSet<String> = words(&row.words).iter().map(|word| stem(word)).collect();
        let held: f64 = rare.iter().filter(|(word, _)| stems.contains(&stem(word))).map(|(_, rare)| rare).sum();
        let alike = near.get(&row.excerpt.id).copied().unwrap_or_default();
        (worth(alike, held, all), row)
    };
    // What was removed in the meantime is not there any more.
    let found = rows.excerpts("e.id IN (SELECT value FROM json_each(?1))", [ids])?;
    let mut found: Vec<(f64, ExcerptRow)> = found.into_iter().map(weighed).collect();
    found.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.excerpt.id.cmp(&b.1.excerpt.id)));
    Ok(found.into_iter().take(most).map(|(_, row)| row).collect())
}

/// The words of a question that say what it is about, with how rare each is.
fn rare_words(rows: &Rows<'_>, asked: &str) -> Result<HashMap<String, f64>, Problem> {
    let all: HashSet<String> = words(asked).into_iter().collect();
    // Words that only hold a sentence together stand everywhere and say little, but where there are no others.
    let telling: HashSet<String> = all.iter().filter(|word| !holds_together(word)).cloned().collect();
    let telling = if telling.is_empty() { all } else { telling };
    let items = rows.count_items()?;
    telling
        .into_iter()
        .take(MOST_WORDS)
        .map(|word| {
            let rare = rarity(rows.count_items_with(&word)?, items);
            Ok((word, rare))
        })
        .collect()
}

/// Of each item in which any of the words stand, what fits best first, the excerpt that holds most of them.
fn by_words(rows: &Rows<'_>, product: ProductId, asked: &[String]) -> Result<Vec<ExcerptId>, Problem> {
    let items = rows.items_with_any(product, asked, TAKEN)?;
    let ids = serde_json::to_string(&items).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let excerpts = rows.excerpts("e.item_id IN (SELECT value FROM json_each(?1)) ORDER BY e.id", [ids])?;
    let mut best: HashMap<i64, (usize, ExcerptId)> = HashMap::new();
    for row in excerpts {
        let held = words(&row.words).iter().filter(|word| asked.contains(*word)).count();
        let known = best.entry(row.excerpt.item_id.0).or_insert((held, row.excerpt.id));
        if held > known.0 {
            *known = (held, row.excerpt.id);
        }
    }
    Ok(items.iter().filter_map(|item| best.get(item).map(|(_, id)| *id)).collect())
}
