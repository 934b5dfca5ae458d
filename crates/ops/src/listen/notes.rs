//! A note: what somebody heard, typed or pasted, as it was said.

use iron_kite_core::listen::{ImportReport, ImportRow, turns_of};
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::Way;
use jiff::civil::Date;
use serde::Deserialize;
use utoipa::ToSchema;

use super::take_in::{How, digest_of, take_rows};
use crate::call::{App, Call, Saved};
use crate::jobs::Running;

/// The source that all notes of a product come from.
const SOURCE: &str = "notes";
/// The longest note, in characters.
const LONGEST: usize = 200_000;

/// A note as it is typed.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewNote {
    /// The product that it speaks about.
    pub product: ProductId,
    /// The words, as they were said.
    pub text: String,
    /// Who said them.
    pub person: Option<String>,
    /// The organisation of that person.
    pub account: Option<String>,
    /// The day, `YYYY-MM-DD`; today where left out.
    pub said_on: Option<String>,
}

/// Keeps a note as a feedback item, with its excerpts.
///
/// # Errors
/// Where there are no words; refused where the same person said the same on that day already.
pub fn add_note(app: &App, call: &Call, note: NewNote) -> Result<Saved, Problem> {
    app.read(call, Right::Listen, |rows| Ok(rows.json(note.product.thing()).map(drop)?))?;
    let mut faults = Vec::new();
    let length = note.text.chars().count();
    if note.text.trim().is_empty() || length > LONGEST {
        faults.push(Fault::new("/text", format!("Write what was said, in at most {LONGEST} characters.")));
    }
    let said_on = note.said_on.as_deref().map_or(Ok(call.today), str::parse::<Date>);
    if said_on.is_err() {
        faults.push(Fault::new("/said_on", "Write the day such as 2026-03-31."));
    }
    let Ok(said_on) = said_on else { return Err(Problem::Invalid(faults)) };
    if !faults.is_empty() {
        return Err(Problem::Invalid(faults));
    }
    let turns = turns_of(&note.text);
    let row = ImportRow {
        number: 1,
        said_on: Some(said_on.to_string()),
        person: name_of(note.person),
        account: name_of(note.account),
        turns: (!turns.is_empty()).then(|| serde_json::to_string(&turns).ok()).flatten(),
        text: note.text,
        ..ImportRow::default()
    };
    keep_words(app, call, note.product, SOURCE, row, How::default(), "noted what was said")
}

/// A name as it is kept, in one line.
pub(super) fn name_of(name: Option<String>) -> Option<String> {
    let name = name.unwrap_or_default().split_whitespace().collect::<Vec<_>>().join(" ");
    (!name.is_empty()).then(|| name.chars().take(300).collect())
}

/// Keeps the words of one row at once, by a person.
pub(super) fn keep_words(
    app: &App,
    call: &Call,
    product: ProductId,
    source: &str,
    row: ImportRow,
    how: How,
    label: &str,
) -> Result<Saved, Problem> {
    let digest = digest_of(&row);
    let call = call.by(Way::Person);
    let mut running = Running::at_once(app, &call);
    let report = take_rows(&mut running, product, source, vec![row], ImportReport::empty(), how);
    let report = report?;
    if report.added == 0 {
        return Err(Problem::refused(
            "said-already",
            "The same person said the same on that day; it is there already.",
        ));
    }
    let item = app.read(&call, Right::Listen, |rows| Ok(rows.item_of_digest(product, &digest)?))?;
    let thing = item.map(|item| Thing::new(ThingKind::FeedbackItem, item));
    Ok(Saved { change: running.change(), label: label.to_owned(), thing, rev: Some(1), ..Saved::default() })
}
