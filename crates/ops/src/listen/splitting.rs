//! What was read before is split anew where splitting has changed. It is the engine's change, in the ledger; items on whose
//! excerpts people worked are left as they are, but for what was not read of them at all.

use iron_kite_core::listen::{Excerpt, FeedbackItem, SPLIT, SplitAnew, split_anew};
use iron_kite_core::problem::Problem;
use iron_kite_core::text::Span;
use iron_kite_core::things::{ExcerptId, ItemId, ProductId};
use iron_kite_store::{Rows, Tx};

use super::mending::turns;
use super::reading::Turn;
use super::take_in::{add_excerpt, some_together};
use crate::jobs::{Ended, Running};

/// The first way of splitting read no item further than this many excerpts.
const FORMERLY_READ: usize = 400;
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
    let limit = i64::try_from(most).unwrap_or(i64::MAX);
    let items: Vec<FeedbackItem> =
        rows.list("WHERE product_id = ?1 AND id > ?2 ORDER BY id LIMIT ?3", [product.0, after.0, limit])?;
    Ok(some_together(&mut items.into_iter().peekable(), most, |item| item.text.len()))
}

/// An item that would be split otherwise now.
struct Otherwise {
    item: ItemId,
    anew: SplitAnew,
    /// Where reading seems to have ended before the text did, in characters.
    read_to: Option<usize>,
}

impl Otherwise {
    /// What may become of its excerpts; where people worked on them, only those come that stand behind all that was read.
    fn allowed(self, worked_on: bool) -> SplitAnew {
        if !worked_on {
            return self.anew;
        }
        let behind = |from: usize| self.read_to.is_some_and(|to| from >= to);
        let new = self.anew.new.into_iter().filter(|reading| behind(reading.span.from)).collect();
        SplitAnew { gone: Vec::new(), new }
    }
}

/// What becomes of the excerpts of those that would be split otherwise now.
fn anew(rows: &Rows<'_>, items: Vec<FeedbackItem>) -> Result<Vec<Otherwise>, Problem> {
    let mut found = Vec::new();
    for item in items {
        let standing: Vec<Excerpt> = rows.list("WHERE item_id = ?1", [item.id.0])?;
        let spans: Vec<(ExcerptId, Span)> = standing.iter().map(|one| (one.id, one.span())).collect();
        // Somebody may have taken some away.
        let read_to = spans.iter().map(|(_, span)| span.to).max().filter(|_| spans.len() * 10 >= FORMERLY_READ * 9);
        let anew = split_anew(&item.text, &turns(&item)?, &spans);
        found.extend(anew.map(|anew| Otherwise { item: item.id, anew, read_to }));
    }
    Ok(found)
}

/// Splits items between two numbers, as far as it takes nothing of what people did, in the meantime too. How many were split
/// with these.
fn carry_out(
    tx: &mut Tx<'_>,
    first: ItemId,
    last: ItemId,
    anew: Vec<Otherwise>,
    before: usize,
) -> Result<usize, Problem> {
    let worked_on = tx.rows().worked_on(first, last)?;
    let mut split = before;
    for one in anew {
        let item = one.item;
        let SplitAnew { gone, new } = one.allowed(worked_on.contains(&item));
        if gone.is_empty() && new.is_empty() {
            continue;
        }
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
