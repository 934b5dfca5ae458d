//! Looking for what people said by what it means, and by its words.

use std::collections::{HashMap, HashSet};
use std::sync::PoisonError;

use iron_kite_core::problem::Problem;
use iron_kite_core::text::{fused, words};
use iron_kite_core::things::{ExcerptId, ProductId};
use iron_kite_store::Rows;
use iron_kite_store::queries::listen::ExcerptRow;

use crate::call::App;

/// So many are taken of each order.
const TAKEN: usize = 60;
/// What is less alike than this (as a cosine) means something else.
const LEAST: f32 = 0.3;
/// A word of so many letters or less says little by itself.
const SHORT_WORD: usize = 3;
/// Shorter questions mean too little.
const SHORTEST: usize = 4;

/// Excerpts that mean what is asked, or say it in the same words, what fits best first: the orders by meaning and by words
/// made one. Nothing where nothing is alike, or where the engine has read nothing yet.
pub(crate) fn alike(
    app: &App,
    rows: &Rows<'_>,
    product: ProductId,
    asked: &str,
    most: usize,
) -> Result<Vec<ExcerptRow>, Problem> {
    let Some(meaning) = app.meaning() else { return Ok(Vec::new()) };
    if asked.chars().filter(|c| c.is_alphanumeric()).count() < SHORTEST {
        return Ok(Vec::new());
    }
    let mind = app.minds.of(rows, product)?;
    // Where the model cannot be used, words are still found.
    let vector = meaning.vectors(&[asked]).unwrap_or_else(|fault| {
        tracing::error!(%fault, "a question could not be understood");
        Vec::new()
    });
    let Some(vector) = vector.first() else { return Ok(Vec::new()) };
    let near = mind.read().unwrap_or_else(PoisonError::into_inner).nearest(vector, TAKEN);
    let by_meaning: Vec<ExcerptId> = near.into_iter().filter(|(_, alike)| *alike >= LEAST).map(|(id, _)| id).collect();
    let by_words = by_words(rows, product, asked)?;
    // Words alone may stand anywhere; what means nothing alike is left to the search for words.
    let order: Vec<i64> = fused(&[by_meaning.clone(), by_words]).into_iter().map(|(id, _)| id.0).collect();
    let wanted: HashSet<i64> = by_meaning.iter().map(|id| id.0).collect();
    let order: Vec<i64> = order.into_iter().filter(|id| wanted.contains(id)).take(most).collect();
    let ids = serde_json::to_string(&order).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let found = rows.excerpts("e.id IN (SELECT value FROM json_each(?1))", [ids])?;
    let mut by_id: HashMap<i64, ExcerptRow> = found.into_iter().map(|row| (row.excerpt.id.0, row)).collect();
    // What was removed in the meantime is not there any more.
    Ok(order.iter().filter_map(|id| by_id.remove(id)).collect())
}

/// Of each item in which any of the words stand, what fits best first, the excerpt that holds most of them.
fn by_words(rows: &Rows<'_>, product: ProductId, asked: &str) -> Result<Vec<ExcerptId>, Problem> {
    let all: HashSet<String> = words(asked).into_iter().collect();
    // Short words stand everywhere and say little, but where there are no others.
    let long: HashSet<String> = all.iter().filter(|word| word.chars().count() > SHORT_WORD).cloned().collect();
    let asked = if long.is_empty() { all } else { long };
    let items = rows.items_with_any(product, &asked.iter().cloned().collect::<Vec<_>>(), TAKEN)?;
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
