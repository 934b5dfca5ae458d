//! What others offer: competitors, capabilities, pages of theirs, notes with their sources, and the comparison.

use iron_kite_core::decide::{Capability, Competitor, CompetitorNote, FoundPage, MarketRow, Offers, comparison};
use iron_kite_core::fields;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{CapabilityId, CompetitorId, FoundPageId, IdeaId, NoteId, ProductId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_documents::Held;
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::reader::Reading;

/// The market of a product.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Market {
    /// Who is in it.
    pub competitors: Vec<Competitor>,
    /// What an offer may do, in its order.
    pub capabilities: Vec<CapabilityView>,
    /// How they compare, a row for each capability.
    pub rows: Vec<MarketRow>,
    /// All notes, newest first.
    pub notes: Vec<MarketNote>,
    /// Pages of theirs, newest first, without their texts.
    pub pages: Vec<FoundPageLine>,
}

/// A capability, and the ideas that close what we lack in it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CapabilityView {
    /// The capability.
    #[serde(flatten)]
    pub capability: Capability,
    /// The ideas that close it.
    pub ideas: Vec<IdeaId>,
}

/// A note with where it comes from.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MarketNote {
    /// The note.
    #[serde(flatten)]
    pub note: CompetitorNote,
    /// Where it comes from, in words.
    pub from: String,
}

/// A page without its text.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FoundPageLine {
    /// Its number.
    pub id: FoundPageId,
    /// Its revision.
    pub rev: i64,
    /// What it is called.
    pub title: String,
    /// Where it was found.
    pub address: Option<String>,
    /// When.
    pub taken_on: String,
    /// Whose it is.
    pub competitor_id: Option<CompetitorId>,
}

/// A new competitor.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewCompetitor {
    /// The product that it competes with.
    pub product_id: ProductId,
    /// What it is called.
    pub name: String,
    /// Where it is found.
    pub address: Option<String>,
}

/// A new capability.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewCapability {
    /// The product whose market it belongs to.
    pub product_id: ProductId,
    /// What people can do with it.
    pub title: String,
    /// How far our own product does it.
    pub offers: Option<Offers>,
    /// What stands behind that.
    pub note: Option<String>,
}

/// A page that is pasted.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewFoundPage {
    /// The product whose market it speaks of.
    pub product_id: ProductId,
    /// Whose it is.
    pub competitor_id: Option<CompetitorId>,
    /// What it is called.
    pub title: String,
    /// Where it was found.
    pub address: Option<String>,
    /// Its text.
    pub text: String,
}

/// A new note.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewMarketNote {
    /// Whose offer it is about.
    pub competitor_id: CompetitorId,
    /// What of it.
    pub capability_id: Option<CapabilityId>,
    /// How far the offer does that.
    pub offers: Option<Offers>,
    /// The remark; words of the page where one is named.
    pub words: String,
    /// The page that it quotes.
    pub page_id: Option<FoundPageId>,
    /// Where it comes from, where it quotes no page.
    pub source: Option<String>,
    /// The day; today where left out.
    pub noted_on: Option<String>,
}

/// What a note is about.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NoteAbout {
    /// The revision that was seen.
    pub rev: i64,
    /// The capability; nothing where it is of none.
    pub capability_id: Option<CapabilityId>,
}

/// The longest page, in characters.
pub(super) const LONGEST_PAGE: usize = 400_000;
/// The longest remark.
const LONGEST_REMARK: usize = 4_000;

/// The market of a product: who is in it, what was noted, and how offers compare.
///
/// # Errors
/// Where the right is missing.
pub fn market(app: &App, call: &Call, product: ProductId) -> Result<Market, Problem> {
    app.read(call, Right::Read, |rows| market_of(rows, product))
}

pub(super) fn market_of(rows: &Rows<'_>, product: ProductId) -> Result<Market, Problem> {
    let competitors: Vec<Competitor> = rows.all_of(product)?;
    let mut capabilities: Vec<Capability> = rows.all_of(product)?;
    capabilities.sort_by(|a, b| a.position.total_cmp(&b.position));
    let mut notes: Vec<CompetitorNote> = rows.all_of(product)?;
    notes.sort_by(|a, b| (&b.noted_on, b.id).cmp(&(&a.noted_on, a.id)));
    let mut pages: Vec<FoundPage> = rows.all_of(product)?;
    pages.sort_by(|a, b| (&b.taken_on, b.id).cmp(&(&a.taken_on, a.id)));
    let from = |note: &CompetitorNote| {
        let page = note.page_id.and_then(|id| pages.iter().find(|page| page.id == id));
        page.map_or_else(
            || note.source.clone().unwrap_or_default(),
            |page| {
                [Some(page.title.clone()), page.address.clone()].into_iter().flatten().collect::<Vec<_>>().join(", ")
            },
        )
    };
    let closes = rows.links(LinkKind::Closes, ThingKind::Idea, ThingKind::Capability)?;
    let ideas = |id: CapabilityId| {
        closes.iter().filter(|link| link.to_id == id.0).map(|link| IdeaId(link.from_id)).collect::<Vec<_>>()
    };
    Ok(Market {
        rows: comparison(&capabilities, &competitors, &notes),
        notes: notes.into_iter().map(|note| MarketNote { from: from(&note), note }).collect(),
        capabilities: capabilities
            .into_iter()
            .map(|capability| CapabilityView { ideas: ideas(capability.id), capability })
            .collect(),
        pages: pages
            .into_iter()
            .map(|page| FoundPageLine {
                id: page.id,
                rev: page.rev,
                title: page.title,
                address: page.address,
                taken_on: page.taken_on,
                competitor_id: page.competitor_id,
            })
            .collect(),
        competitors,
    })
}

/// Adds a competitor.
///
/// # Errors
/// Where the name is missing.
pub fn add_competitor(app: &App, call: &Call, new: NewCompetitor) -> Result<Saved, Problem> {
    let values = json!({ "name": new.name, "address": new.address });
    let mut values = fields::check_new(ThingKind::Competitor, "", fields_of(values)).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        values.insert("product_id".into(), new.product_id.0.into());
        let id = CompetitorId(tx.insert(ThingKind::Competitor, &values)?);
        tx.label(format!("added the competitor {}", new.name.trim()));
        Ok(Some(id.thing()))
    })
}

/// Adds a capability at the end of the comparison.
///
/// # Errors
/// Where the title is missing.
pub fn add_capability(app: &App, call: &Call, new: NewCapability) -> Result<Saved, Problem> {
    let values = json!({ "title": new.title, "offers": new.offers, "note": new.note });
    let mut values = fields::check_new(ThingKind::Capability, "", fields_of(values)).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        let position =
            tx.rows().next_position(ThingKind::Capability, "position", "product_id = ?1", [new.product_id.0])?;
        values.extend(fields_of(json!({ "product_id": new.product_id, "position": position })));
        let id = CapabilityId(tx.insert(ThingKind::Capability, &values)?);
        tx.label(format!("added the capability \"{}\"", new.title.trim()));
        Ok(Some(id.thing()))
    })
}

/// Keeps a page of somebody else's as it was pasted.
///
/// # Errors
/// Where it has no title or no text, or is too long.
pub fn add_page(app: &App, call: &Call, new: NewFoundPage) -> Result<Saved, Problem> {
    let today = call.today.to_string();
    app.save(call, Right::Edit, move |tx| {
        let id = keep_page(tx, new, &today)?;
        Ok(Some(id.thing()))
    })
}

/// Keeps a page within a write; one with the same address and text is there already.
pub(super) fn keep_page(tx: &mut Tx<'_>, new: NewFoundPage, today: &str) -> Result<FoundPageId, Problem> {
    let text = new.text.replace("\r\n", "\n").trim().to_owned();
    let length = text.chars().count();
    if text.is_empty() || length > LONGEST_PAGE {
        return Err(Problem::invalid(
            "/text",
            format!("Give the text of the page, at most {LONGEST_PAGE} characters."),
        ));
    }
    let set = json!({ "title": new.title, "competitor_id": new.competitor_id });
    let mut values = fields::check_new(ThingKind::FoundPage, "", fields_of(set)).map_err(Problem::Invalid)?;
    tx.rows().json(new.product_id.thing())?;
    if let Some(competitor) = new.competitor_id {
        of_product(&tx.rows().get::<Competitor>(competitor)?.product_id, new.product_id, "/competitor_id")?;
    }
    if let Some(there) = tx.rows().found_page_like(new.product_id, new.address.as_deref(), &text)? {
        return Ok(there);
    }
    let address = new.address.map(|address| address.trim().to_owned()).filter(|address| !address.is_empty());
    values.extend(fields_of(json!({
        "product_id": new.product_id, "address": address, "taken_on": today, "text": text,
    })));
    tx.label(format!("kept the page \"{}\"", new.title.trim()));
    Ok(FoundPageId(tx.insert(ThingKind::FoundPage, &values)?))
}

fn of_product(is: &ProductId, wanted: ProductId, at: &str) -> Result<(), Problem> {
    if *is == wanted { Ok(()) } else { Err(Problem::invalid(at, "This belongs to another product.")) }
}

/// The text of a file as a page: HTML, PDF, DOCX, Markdown or plain text.
///
/// # Errors
/// Where the file holds no document.
pub fn page_of_file(app: &App, call: &Call, name: &str, bytes: &[u8]) -> Result<FoundPageText, Problem> {
    app.read(call, Right::Edit, |_| Ok(()))?;
    text_of(app.reading(call).as_mut(), name, bytes)
}

/// The first document in a file.
pub(super) fn text_of(reading: &mut dyn Reading, name: &str, bytes: &[u8]) -> Result<FoundPageText, Problem> {
    for part in reading.read(name, bytes)? {
        match part.held {
            Held::Documents(documents) => {
                if let Some(document) = documents.into_iter().next() {
                    let title = if document.title.trim().is_empty() { part.name } else { document.title };
                    return Ok(FoundPageText { title, text: document.text });
                }
            }
            Held::Refused(words) => return Err(Problem::invalid("", words)),
            Held::Table(_) | Held::Hidden(_) | Held::Wordless { .. } => {}
        }
    }
    Err(Problem::invalid("", "There is no page of text in it. Give HTML, PDF with text, DOCX, Markdown or plain text."))
}

/// What a file holds, to be looked at before it is kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct FoundPageText {
    /// What it is called.
    pub title: String,
    /// Its text.
    pub text: String,
}

/// A page with its text.
///
/// # Errors
/// Where there is no such page.
pub fn found_page(app: &App, call: &Call, id: FoundPageId) -> Result<FoundPage, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.get(id)?))
}

/// Adds a note. One that names a page quotes it: its words stand in it word for word.
///
/// # Errors
/// Where there are no words or no source, or the words do not stand in the page.
pub fn add_market_note(app: &App, call: &Call, new: NewMarketNote) -> Result<Saved, Problem> {
    let noted_on = new.noted_on.clone().unwrap_or_else(|| call.today.to_string());
    let values = json!({ "offers": new.offers, "noted_on": noted_on });
    let mut values = fields::check_new(ThingKind::CompetitorNote, "", fields_of(values)).map_err(Problem::Invalid)?;
    app.save(call, Right::Edit, move |tx| {
        let competitor: Competitor = tx.rows().get(new.competitor_id)?;
        let words = new.words.trim().to_owned();
        if words.is_empty() || words.chars().count() > LONGEST_REMARK {
            return Err(Problem::invalid("/words", "Write the remark, in at most 4,000 characters."));
        }
        let source = new.source.as_deref().map(str::trim).filter(|source| !source.is_empty());
        match new.page_id {
            Some(page) => {
                let page: FoundPage = tx.rows().get(page)?;
                of_product(&page.product_id, competitor.product_id, "/page_id")?;
                if !page.text.contains(&words) {
                    return Err(Problem::invalid("/words", "These words do not stand in the page. Choose them there."));
                }
            }
            None if source.is_none() => {
                return Err(Problem::invalid("/source", "Say where this comes from: a page, a talk, a visit."));
            }
            None => {}
        }
        if let Some(capability) = new.capability_id {
            of_product(&tx.rows().get::<Capability>(capability)?.product_id, competitor.product_id, "/capability_id")?;
        }
        values.extend(fields_of(json!({
            "product_id": competitor.product_id, "competitor_id": competitor.id, "capability_id": new.capability_id,
            "words": words, "page_id": new.page_id, "source": source,
        })));
        let id = NoteId(tx.insert(ThingKind::CompetitorNote, &values)?);
        tx.label(format!("noted what {} offers", competitor.name));
        Ok(Some(id.thing()))
    })
}

/// Says which capability a note is about.
///
/// # Errors
/// Where it belongs to another product; stale where the note was changed since.
pub fn note_about(app: &App, call: &Call, id: NoteId, about: NoteAbout) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let note: CompetitorNote = tx.rows().get(id)?;
        if let Some(capability) = about.capability_id {
            of_product(&tx.rows().get::<Capability>(capability)?.product_id, note.product_id, "/capability_id")?;
        }
        tx.update(id.thing(), about.rev, &fields_of(json!({ "capability_id": about.capability_id })))?;
        tx.label("said what a competitor note is about");
        Ok(Some(id.thing()))
    })
}
