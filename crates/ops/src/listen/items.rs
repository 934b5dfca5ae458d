//! Reading what people gave us.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::listen::{
    Excerpt, FeedbackItem, ItemLine, Source, has_key_points, key_phrases, key_points, rating_contradicts, telling_words,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Vector;
use iron_kite_core::things::{ExcerptId, FindingId, ItemId, ProductId, ThingKind};
use iron_kite_core::trace::{Link, LinkKind};
use iron_kite_store::Rows;
use iron_kite_store::queries::listen::{ExcerptRow, ItemFilter};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use super::recordings::recording_of;
use crate::attachments::PutIn;
use crate::call::{App, Call};

/// Which items are asked for.
#[derive(Debug, Clone, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ItemQuery {
    /// The product.
    pub product: i64,
    /// Words that must stand in the text.
    pub words: Option<String>,
    /// Only from this source.
    pub source: Option<i64>,
    /// Only those that nobody has read.
    pub unread: Option<bool>,
    /// Where the last page ended.
    pub after: Option<String>,
    /// At most so many, 200 at the most.
    pub limit: Option<usize>,
}

/// A page of items.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ItemsPage {
    /// The items, newest first.
    pub items: Vec<ItemLine>,
    /// What to ask for the next page with; none at the end.
    pub next: Option<String>,
    /// All items of the product.
    pub all: i64,
    /// All their excerpts.
    pub excerpts: i64,
    /// Excerpts that stand behind no finding.
    pub outside: i64,
}

/// An excerpt with its words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ExcerptView {
    /// The excerpt.
    #[serde(flatten)]
    pub excerpt: Excerpt,
    /// How many later excerpts say the same again, by the same person.
    pub again: u32,
    /// Its words.
    pub words: String,
    /// Who said it.
    pub person: Option<String>,
    /// For which account.
    pub account: Option<String>,
    /// The day it was said.
    pub said_on: Option<String>,
    /// The source's name.
    pub source: String,
    /// What stands before it in its item, and after it.
    pub around: [String; 2],
    /// What it is about, in a few of its words, the most telling first.
    pub phrases: Vec<String>,
    /// The findings that it stands behind.
    pub findings: Vec<FindingId>,
    /// Where the excerpts of one finding are asked for: how sure the engine is that it belongs there, 0 to 1; nothing where a
    /// person put it there.
    pub belongs: Option<f64>,
}

/// An item with its excerpts.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ItemView {
    /// The item.
    #[serde(flatten)]
    pub item: FeedbackItem,
    /// Who said it.
    pub person: Option<String>,
    /// For which account.
    pub account: Option<String>,
    /// Who its sender says to be, where nobody proved it.
    pub unproved: Option<String>,
    /// The source's name.
    pub source: String,
    /// Its excerpts in the order of the text.
    pub parts: Vec<ExcerptView>,
    /// Whether its rating says the opposite of its words.
    pub contradicts: bool,
    /// The file with the sound or the picture of it.
    pub recorded: Option<PutIn>,
    /// The excerpts that cover what a long one says; none of a short one, or before it is read.
    pub key_points: Vec<ExcerptId>,
}

const PAGE: usize = 100;
const MOST: usize = 200;

/// A page of a product's items.
///
/// # Errors
/// Where the place to go on from is none, or the right is missing.
pub fn items(app: &App, call: &Call, query: ItemQuery) -> Result<ItemsPage, Problem> {
    let after = query.after.as_deref().map(place).transpose()?;
    let product = ProductId(query.product);
    let limit = query.limit.unwrap_or(PAGE).clamp(1, MOST);
    let filter = ItemFilter {
        words: query.words,
        source_id: query.source,
        unread: query.unread.unwrap_or_default(),
        after,
        limit: limit + 1,
    };
    app.read(call, Right::Read, |rows| {
        let mut found = rows.items(product, &filter)?;
        let more = found.len() > limit;
        found.truncate(limit);
        let last = found.last().filter(|_| more);
        let next = last.map(|item| format!("{}_{}", item.said_on.as_deref().unwrap_or_default(), item.id.0));
        let (all, excerpts, outside) = rows.listen_counts(product)?;
        Ok(ItemsPage { items: found, next, all, excerpts, outside })
    })
}

/// The place in a list by day and number where a page goes on.
pub(crate) fn place(text: &str) -> Result<(String, i64), Problem> {
    text.rsplit_once('_')
        .and_then(|(day, id)| Some((day.to_owned(), id.parse().ok()?)))
        .ok_or_else(|| Problem::invalid("/after", "Take 'after' from the 'next' of the page before."))
}

/// One item with its excerpts.
///
/// # Errors
/// Where there is no such item.
pub fn item(app: &App, call: &Call, id: ItemId) -> Result<ItemView, Problem> {
    app.read(call, Right::Read, |rows| {
        let item: FeedbackItem = rows.get(id)?;
        let source: Source = rows.get(item.source_id)?;
        let name = |kind, id: Option<i64>| -> Result<Option<String>, Problem> {
            let Some(id) = id else { return Ok(None) };
            Ok(rows.json(iron_kite_core::things::Thing::new(kind, id))?["name"].as_str().map(str::to_owned))
        };
        let parts = with_findings(rows, rows.excerpts("e.item_id = ?1 ORDER BY e.from_char", [id.0])?)?;
        let sentiments: Vec<f64> = parts.iter().map(|part| part.excerpt.sentiment).collect();
        let contradicts = match item.rating {
            Some(rating) => {
                rating_contradicts(rating, rows.highest_rating(item.source_id)?.unwrap_or(rating), &sentiments)
            }
            None => false,
        };
        Ok(ItemView {
            contradicts,
            key_points: if has_key_points(parts.len()) { points_of(rows, id)? } else { Vec::new() },
            person: name(ThingKind::Person, item.person_id.map(i64::from))?,
            account: name(ThingKind::Account, item.account_id.map(i64::from))?,
            unproved: rows.request_of(id)?.and_then(|request| request.unproved()),
            source: source.name,
            recorded: recording_of(rows, &item)?,
            parts,
            item,
        })
    })
}

/// The key points of a document, as far as it is read.
fn points_of(rows: &Rows<'_>, item: ItemId) -> Result<Vec<ExcerptId>, Problem> {
    let said = rows.readable_in(item)?;
    let known: Vec<(ExcerptId, (&str, Vector))> =
        said.iter().filter_map(|one| Some((one.id, (one.words.as_str(), Vector::from_bytes(&one.meaning)?)))).collect();
    let (ids, excerpts): (Vec<ExcerptId>, Vec<(&str, Vector)>) = known.into_iter().unzip();
    Ok(key_points(&excerpts).into_iter().map(|at| ids[at]).collect())
}

/// Adds to each excerpt the findings that it stands behind.
pub(crate) fn with_findings(rows: &Rows<'_>, excerpts: Vec<ExcerptRow>) -> Result<Vec<ExcerptView>, Problem> {
    let ids: Vec<i64> = excerpts.iter().map(|row| row.excerpt.id.0).collect();
    let ids = serde_json::to_string(&ids).map_err(|fault| Problem::Internal(fault.to_string()))?;
    let links: Vec<Link> = rows.list(
        "WHERE from_kind = 'excerpt' AND from_id IN (SELECT value FROM json_each(?1)) AND kind = ?2 AND to_kind = 'finding'",
        [ids, LinkKind::Supports.name().to_owned()],
    )?;
    let mut findings: BTreeMap<i64, Vec<FindingId>> = BTreeMap::new();
    for link in links {
        findings.entry(link.from_id).or_default().push(FindingId(link.to_id));
    }
    let phrases = phrases_of(rows, &excerpts)?;
    let view = |(row, phrases): (ExcerptRow, Vec<String>)| ExcerptView {
        findings: findings.remove(&row.excerpt.id.0).unwrap_or_default(),
        excerpt: row.excerpt,
        again: row.again,
        phrases,
        words: row.words,
        around: row.around,
        person: row.person,
        account: row.account,
        said_on: row.said_on,
        source: row.source,
        belongs: None,
    };
    Ok(excerpts.into_iter().zip(phrases).map(view).collect())
}

/// An excerpt is about so many things at most.
const PHRASES: usize = 3;

/// What each excerpt is about, by the words that stand in few items.
fn phrases_of(rows: &Rows<'_>, excerpts: &[ExcerptRow]) -> Result<Vec<Vec<String>>, Problem> {
    let words: BTreeSet<String> = excerpts.iter().flat_map(|row| telling_words(&row.words)).collect();
    let (with, all) = rows.items_with(words.iter().map(String::as_str))?;
    let held = |word: &str| with.get(word).copied().unwrap_or_default();
    Ok(excerpts.iter().map(|row| key_phrases(&row.words, PHRASES, all, held)).collect())
}

/// Notes that the person has read an item. No change of the item, so nothing to undo.
///
/// # Errors
/// Where there is no such item.
pub fn read_item(app: &App, call: &Call, id: ItemId) -> Result<(), Problem> {
    let user = call.user_id();
    app.write(call, Right::Read, move |tx| {
        let _: FeedbackItem = tx.rows().get(id)?;
        Ok(user.map_or(Ok(()), |user| tx.mark_read(id, user))?)
    })
    .map(drop)
}
