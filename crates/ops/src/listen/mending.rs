//! Words that somebody chooses in an item become an excerpt, or mend one.

use iron_kite_core::listen::{Excerpt, FeedbackItem, Mending, Turn, glance, mend};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Span;
use iron_kite_core::things::{ExcerptId, ItemId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::json;
use utoipa::ToSchema;

use super::quoting::QUOTING;
use super::take_in::add_excerpt;
use crate::call::{App, Call, Saved, fields};
use crate::things::{LinkEnds, make_link};

/// Words that somebody chose in an item.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct ChosenWords {
    /// The revision of the item that was seen.
    pub rev: i64,
    /// The first character, from 0.
    pub from: u32,
    /// The character after the last.
    pub to: u32,
    /// The excerpt that is these words from now on; where nothing is given, they become one of their own.
    #[serde(default)]
    pub becomes: Option<ExcerptId>,
}

/// Makes an excerpt of chosen words. What the engine told of words that are others now is told anew, and who checked them
/// checked something else; what a person put behind a finding stays there.
///
/// # Errors
/// Where the words cannot be an excerpt, or the item was changed since.
pub fn choose_words(app: &App, call: &Call, item: ItemId, chosen: ChosenWords) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        tx.expect(item.thing(), chosen.rev)?;
        let item: FeedbackItem = tx.rows().get(item)?;
        let standing: Vec<Excerpt> = tx.rows().list("WHERE item_id = ?1 ORDER BY from_char", [item.id.0])?;
        let spans: Vec<(ExcerptId, Span)> = standing.iter().map(|one| (one.id, one.span())).collect();
        let span = Span { from: chosen.from as usize, to: chosen.to as usize };
        let mending = mend(&item.text, &turns(&item)?, &spans, span, chosen.becomes)?;
        let holder = carry_out(tx, &item, &standing, mending)?;
        tx.label(match chosen.becomes {
            Some(_) => format!("gave {holder} other words of {}", item.id),
            None => format!("made {holder} of words of {}", item.id),
        });
        tx.read_anew()?;
        Ok(Some(holder.thing()))
    })
}

/// Who speaks where in an item; nothing where nobody is told from anybody.
pub(super) fn turns(item: &FeedbackItem) -> Result<Vec<Turn>, Problem> {
    let turns = item.turns.as_deref().map_or(Ok(Vec::new()), serde_json::from_str);
    turns.map_err(|fault| Problem::Internal(fault.to_string()))
}

fn carry_out(tx: &mut Tx<'_>, item: &FeedbackItem, all: &[Excerpt], mending: Mending) -> Result<ExcerptId, Problem> {
    let mut held = Vec::new();
    for id in mending.gone {
        let by_people = tx.rows().supports_by(id)?.into_iter().filter(|support| support.sure.is_none());
        held.extend(by_people.map(|support| support.finding.thing()));
        for kind in QUOTING {
            let links = tx.rows().links_of(LinkKind::Supports, id.thing(), true, kind)?;
            held.extend(links.into_iter().map(|(_, other)| Thing::new(kind, other)));
        }
        tx.remove(id.thing())?;
    }
    let holder = match mending.holder {
        Some(id) => {
            give_words(tx, item, all, id, mending.words)?;
            id
        }
        None => add_excerpt(tx, item.id, &glance(&item.text, mending.words))?,
    };
    for (id, rest) in mending.trimmed {
        give_words(tx, item, all, id, rest)?;
    }
    for rest in mending.left {
        add_excerpt(tx, item.id, &glance(&item.text, rest))?;
    }
    for to in held {
        make_link(tx, LinkEnds { kind: LinkKind::Supports, from: holder.thing(), to })?;
    }
    Ok(holder)
}

fn give_words(
    tx: &mut Tx<'_>,
    item: &FeedbackItem,
    all: &[Excerpt],
    id: ExcerptId,
    words: Span,
) -> Result<(), Problem> {
    let before = all.iter().find(|one| one.id == id).filter(|one| one.span() != words);
    let Some(before) = before else { return Ok(()) };
    let mut values = json!({ "from_char": words.from, "to_char": words.to });
    if before.chosen.is_none() {
        let seen = glance(&item.text, words);
        values["kind"] = seen.kind.name().into();
        values["sentiment"] = seen.sentiment.into();
    }
    tx.set(id.thing(), &fields(values))?;
    for support in tx.rows().supports_by(id)?.into_iter().filter(|support| support.sure.is_some()) {
        tx.remove(Thing::new(ThingKind::Link, support.link))?;
    }
    for check in tx.rows().checks_of(id)? {
        tx.remove(Thing::new(ThingKind::Checking, check))?;
    }
    Ok(())
}
