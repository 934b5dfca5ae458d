//! What was read before is split anew where splitting has changed. It is the engine's change, in the ledger; items on whose
//! excerpts people worked are left as they are.

use iron_kite_core::listen::{Excerpt, FeedbackItem, SPLIT, SplitAnew, split_anew};
use iron_kite_core::problem::Problem;
use iron_kite_core::text::Span;
use iron_kite_core::things::{ExcerptId, ItemId, ProductId};
use iron_kite_store::{Rows, Tx};

use super::mending::turns;
use super::reading::Turn;
use super::take_in::add_excerpt;
use crate::jobs::{Ended, Running};

/// So many items are looked at between two writes.
const CHUNK: usize = 250;

/// Whether there are items that may be split otherwise than they would be now.
pub(crate) fn splits_wait(rows: &Rows<'_>, product: ProductId) -> Result<bool, Problem> {
    Ok(rows.split_way(product)? != Some(SPLIT) && !some_items(rows, product, ItemId(0), 1)?.is_empty())
}

/// Splits items the present way, some at a time. Whether all are. Where it begins anew, what is split already stays as it is.
pub(crate) fn split_items(running: &mut Running<'_>, product: ProductId, turn: Turn) -> Result<bool, Ended> {
    if !running.ask(|rows| splits_wait(rows, product))? {
        return Ok(true);
    }
    running.expect(running.ask(|rows| Ok(rows.count_items_of(product)?))?);
    let (mut after, mut split) = (ItemId(0), 0);
    loop {
        let items = running.ask(|rows| some_items(rows, product, after, CHUNK))?;
        let (Some(first), Some(last)) = (items.first().map(|item| item.id), items.last().map(|item| item.id)) else {
            break;
        };
        let count = items.len();
        let anew = running.ask(|rows| anew(rows, items))?;
        if !anew.is_empty() {
            split = running.write(move |tx| carry_out(tx, first, last, anew, split))?;
        }
        after = last;
        running.advance(count)?;
        if turn == Turn::GivesWay && running.others_wait()? {
            return Ok(false);
        }
    }
    running.write(move |tx| Ok(tx.note_split(product, SPLIT)?))?;
    running.stands();
    Ok(true)
}

fn some_items(rows: &Rows<'_>, product: ProductId, after: ItemId, most: usize) -> Result<Vec<FeedbackItem>, Problem> {
    let most = i64::try_from(most).unwrap_or(i64::MAX);
    Ok(rows.list("WHERE product_id = ?1 AND id > ?2 ORDER BY id LIMIT ?3", [product.0, after.0, most])?)
}

/// What becomes of the excerpts of those that would be split otherwise now.
fn anew(rows: &Rows<'_>, items: Vec<FeedbackItem>) -> Result<Vec<(ItemId, SplitAnew)>, Problem> {
    let mut found = Vec::new();
    for item in items {
        let standing: Vec<Excerpt> = rows.list("WHERE item_id = ?1", [item.id.0])?;
        let spans: Vec<(ExcerptId, Span)> = standing.iter().map(|one| (one.id, one.span())).collect();
        found.extend(split_anew(&item.text, &turns(&item)?, &spans).map(|anew| (item.id, anew)));
    }
    Ok(found)
}

/// Splits items between two numbers, but for those on whose excerpts people worked, in the meantime too. How many were split
/// with these.
fn carry_out(
    tx: &mut Tx<'_>,
    first: ItemId,
    last: ItemId,
    anew: Vec<(ItemId, SplitAnew)>,
    before: usize,
) -> Result<usize, Problem> {
    let worked_on = tx.rows().worked_on(first, last)?;
    let mut split = before;
    for (item, SplitAnew { gone, new }) in anew.into_iter().filter(|(item, _)| !worked_on.contains(item)) {
        if tx.rows().list::<FeedbackItem>("WHERE id = ?1", [item.0])?.is_empty() {
            continue;
        }
        for id in gone {
            tx.remove(id.thing())?;
        }
        for reading in &new {
            add_excerpt(tx, item, reading)?;
        }
        split += 1;
    }
    tx.label(format!("split {split} items anew"));
    tx.read_anew()?;
    Ok(split)
}
