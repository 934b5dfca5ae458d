//! The bytes of files, on their way into the store.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_store::Tx;
use iron_kite_store::queries::files::{FileHead, PART};

use crate::call::{App, Call};

/// Keeps bytes, a part a write, so that the writes of others come in between. `hold` comes with the last: it says what the
/// file, which it gets the number of, is from then on. Where it fails nothing is held, and the bytes go after a day.
///
/// # Errors
/// Where the right is not given, or `hold` fails.
pub(crate) fn keep<T: Send + 'static>(
    app: &App,
    call: &Call,
    right: Right,
    bytes: &[u8],
    hold: impl FnOnce(&mut Tx<'_>, i64) -> Result<T, Problem> + Send + 'static,
) -> Result<T, Problem> {
    let head = FileHead::of(bytes, call.user_id(), call.now.as_millisecond());
    let add = |file: Option<i64>, begins: usize, part: &[u8]| {
        let (head, part) = (head.clone(), part.to_vec());
        move |tx: &mut Tx<'_>| -> Result<i64, Problem> {
            let file = file.map_or_else(|| tx.begin_file(&head), Ok)?;
            tx.add_part(file, begins, &part)?;
            Ok(file)
        }
    };
    let last = bytes.len().saturating_sub(1) / PART * PART;
    let (early, end) = bytes.split_at(last);
    let mut file = None;
    for (n, part) in early.chunks(PART).enumerate() {
        file = Some(app.write(call, right, add(file, n * PART, part))?.0);
    }
    let add_last = add(file, last, end);
    let (held, _) = app.write(call, right, move |tx| {
        let file = add_last(tx)?;
        hold(tx, file)
    })?;
    Ok(held)
}
