//! Documents and pages are understood in the background, and found by what they mean.

use std::collections::HashSet;

use iron_kite_core::problem::Problem;
use iron_kite_core::text::{Vector, passages};
use iron_kite_core::things::{ProductId, Thing};
use iron_kite_store::Rows;
use iron_kite_store::queries::passages::Passage;

use super::reading::{keep_heard, kept, meaning_key, understood};
use crate::jobs::{Ended, Running};

/// So many are read at once.
const CHUNK: usize = 8;

/// Whether there are documents or pages whose text is not understood yet.
pub(crate) fn pages_wait(rows: &Rows<'_>, product: ProductId) -> Result<bool, Problem> {
    Ok(!rows.pages_to_understand(product, 1)?.is_empty())
}

/// Understands what was written since.
pub(crate) fn read_pages(running: &mut Running<'_>, product: ProductId) -> Result<(), Ended> {
    loop {
        let pages = running.ask(|rows| Ok(rows.pages_to_understand(product, CHUNK)?))?;
        if pages.is_empty() {
            return Ok(());
        }
        let all: Vec<Vec<(String, i64)>> = pages
            .iter()
            .map(|page| {
                let keyed = |words: String| {
                    let key = meaning_key(&words);
                    (words, key)
                };
                passages(&page.title, &page.body).into_iter().map(keyed).collect()
            })
            .collect();
        let words: Vec<(i64, &str)> = all.iter().flatten().map(|(words, key)| (*key, words.as_str())).collect();
        let known = running.ask(|rows| kept(rows, words.iter().map(|(key, _)| *key)))?;
        let fresh = understood(running.app(), &words, &known)?;
        running.write(move |tx| {
            keep_heard(tx, &fresh)?;
            for (page, passages) in pages.iter().zip(&all) {
                tx.understand(page, passages)?;
            }
            Ok(())
        })?;
        running.advance(0)?;
    }
}

/// The passages of documents and pages that mean most alike, one of each, the likest first; what is less alike than `least` (as
/// a cosine) means something else. O(passages).
pub(crate) fn pages_alike(
    rows: &Rows<'_>,
    product: ProductId,
    asked: &Vector,
    least: f32,
) -> Result<Vec<Passage>, Problem> {
    let near = |passage: Passage| {
        let alike = Vector::from_bytes(&passage.meaning)?.alike(asked);
        (alike >= least).then_some((alike, passage))
    };
    let mut found: Vec<(f32, Passage)> = rows.passages(product)?.into_iter().filter_map(near).collect();
    found.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut met: HashSet<Thing> = HashSet::new();
    Ok(found.into_iter().map(|(_, passage)| passage).filter(|passage| met.insert(passage.thing)).collect())
}
