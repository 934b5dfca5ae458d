//! What people said, looked at more closely before it is grouped. It takes several times as long as reading, so it is done for
//! the first groups, and from then on behind all else that is read; what was looked at once is kept.

use std::collections::HashMap;

use iron_kite_core::listen::Glossary;
use iron_kite_core::problem::Problem;
use iron_kite_core::text::Vector;
use iron_kite_core::things::{ExcerptId, ProductId};
use iron_kite_store::Rows;

use super::reading::Turn;
use crate::call::{App, Call};
use crate::jobs::{Ended, Running};

/// So many texts are looked at together: about a second's work.
const CHUNK: usize = 128;

/// Whether there is something to look at more closely behind all else.
pub(crate) fn some_far(rows: &Rows<'_>, product: ProductId) -> Result<bool, Problem> {
    Ok(rows.some_not_closer(product)?)
}

/// Looks more closely at what was not looked at so yet. It goes on where it was stopped.
pub(crate) fn look_closer(running: &mut Running<'_>, product: ProductId, turn: Turn) -> Result<(), Ended> {
    let (far, glossary) = running.ask(|rows| Ok((rows.not_closer(product)?, Glossary::of(&rows.terms(product)?))))?;
    running.expect(far.len());
    for some in far.chunks(CHUNK) {
        let ids: Vec<ExcerptId> = some.iter().map(|(_, id)| *id).collect();
        let said = running.ask(|rows| Ok(rows.readable_among(&ids)?))?;
        let texts: Vec<String> = said.iter().map(|one| glossary.in_our_words(&one.words)).collect();
        let texts: Vec<&str> = texts.iter().map(String::as_str).collect();
        let vectors = running.app().told(|meaning| meaning.closer(&texts))?;
        let of: HashMap<ExcerptId, i64> = some.iter().map(|(key, id)| (*id, *key)).collect();
        let keys = said.iter().filter_map(|one| of.get(&one.id).copied());
        let kept: Vec<(i64, Vec<u8>)> = keys.zip(vectors.iter().map(Vector::to_bytes)).collect();
        running.write(move |tx| Ok(kept.iter().try_for_each(|(key, vector)| tx.keep_closer(*key, vector))?))?;
        running.advance(some.len())?;
        if turn == Turn::GivesWay && running.others_wait()? {
            break;
        }
    }
    Ok(())
}

/// Looks more closely at once, for what is loaded by a command.
///
/// # Errors
/// Where the store or the model fails.
pub fn look_closer_now(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    Ok(look_closer(&mut Running::at_once(app, call), product, Turn::Stays)?)
}
