//! What follows a change: people are told, rules are applied. Change by change in the order of the ledger, each once: how far
//! it got is written together with what came of it.

use std::time::Duration;

use iron_kite_core::problem::Problem;
use iron_kite_store::Way;

use crate::call::{App, Call};
use crate::{notice, rules};

/// So many changes are followed up in one write.
const STEP: usize = 500;

/// Follows up what is written, for as long as the program runs. `present` gives a call of nobody, now.
pub fn work(app: &App, present: impl Fn() -> Call) {
    const LONGEST: Duration = Duration::from_secs(30);
    loop {
        if let Err(problem) = catch_up(app, &present()) {
            tracing::error!(%problem, "what was written could not be followed up");
            app.follow_bell.wait(Duration::from_secs(1));
        }
        app.follow_bell.wait(LONGEST);
    }
}

/// Follows up all that was written so far, and what rules write on the way.
///
/// # Errors
/// Where the store fails.
pub fn catch_up(app: &App, call: &Call) -> Result<(), Problem> {
    loop {
        match step(app, call) {
            Ok(true) => {}
            Ok(false) => break,
            Err(problem @ Problem::Busy) => return Err(problem),
            // What cannot be followed up must not keep all that comes after it waiting.
            Err(problem) => {
                tracing::error!(%problem, "a change could not be followed up and is passed over");
                pass_over(app, call)?;
            }
        }
    }
    rules::look_at_days(app, call)
}

/// The next changes of one set. Whether there were any.
fn step(app: &App, call: &Call) -> Result<bool, Problem> {
    // Most of the time there is nothing, and nobody has to wait for the writer.
    if !app.read_open(|rows| Ok(rows.followed_up()? < rows.newest_change()?))? {
        return Ok(false);
    }
    let by = call.clone();
    let ((more, told), _) = app.write_open(&call.by(Way::Rule), move |tx| {
        let seen = tx.rows().followed_up()?;
        let Some((set, changes)) = tx.rows().changes_after(seen, STEP)? else { return Ok((false, 0)) };
        let told = notice::tell_of(tx, &set, &changes)? + rules::apply(tx, &by, &set, &changes)?;
        tx.set_followed_up(changes.last().map_or(seen, |change| change.id))?;
        Ok((true, told))
    })?;
    tell(app, told);
    Ok(more)
}

fn pass_over(app: &App, call: &Call) -> Result<(), Problem> {
    app.write_open(call, move |tx| {
        let seen = tx.rows().followed_up()?;
        let last = tx.rows().changes_after(seen, STEP)?.and_then(|(_, changes)| changes.last().map(|change| change.id));
        Ok(tx.set_followed_up(last.unwrap_or(seen))?)
    })
    .map(drop)
}

/// Somebody was told something: those who listen ask again, and messages go out.
pub(crate) fn tell(app: &App, told: usize) {
    if told > 0 {
        app.tell_live(notice::NOTICES, &[], told);
        app.post_bell.ring();
    }
}

/// Sends messages, for as long as the program runs.
pub fn post(app: &App, present: impl Fn() -> Call) {
    const LONGEST: Duration = Duration::from_secs(20);
    loop {
        if let Err(problem) = notice::send_due(app, &present()) {
            tracing::error!(%problem, "messages could not be sent");
        }
        app.post_bell.wait(LONGEST);
    }
}

/// Nobody is told of what was written so far: what a demo or a test begins with is no news.
///
/// # Errors
/// Where the store fails.
pub fn begin_here(app: &App, call: &Call) -> Result<(), Problem> {
    app.write_open(call, |tx| {
        let newest = tx.rows().newest_change()?;
        Ok(tx.set_followed_up(newest)?)
    })
    .map(drop)
}
