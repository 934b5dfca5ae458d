//! Prioritisations: a report that follows the present numbers until it is agreed, and keeps them then.

use iron_kite_core::decide::{KeptRanking, Priorities, Prioritisation, priorities_report};
use iron_kite_core::formats::blocks::{Block, markdown};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_documents::write_docx;
use iron_kite_store::Rows;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::decisions::set_aside;
use super::models::model_of;
use super::scores::{ScoresAsk, kept_places, scores_of};
use crate::call::{App, Call, Saved, fields as fields_of};

/// A new prioritisation.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewPrioritisation {
    /// The product.
    pub product: ProductId,
    /// What it is called.
    pub title: String,
    /// What is asked.
    pub question: Option<String>,
    /// The model's key; that of the product where nothing is said.
    pub model: Option<String>,
    /// How many make the cut.
    pub top: i64,
}

/// A prioritisation with its report.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PrioritisationView {
    /// It.
    #[serde(flatten)]
    pub prioritisation: Prioritisation,
    /// The report: of the present, or as it was agreed.
    pub blocks: Vec<Block>,
    /// By whom it was agreed.
    pub by: Option<String>,
}

/// The prioritisations of a product, newest first.
///
/// # Errors
/// Where the right is missing.
pub fn prioritisations(app: &App, call: &Call, product: ProductId) -> Result<Vec<Prioritisation>, Problem> {
    app.read(call, Right::Read, |rows| {
        let mut all: Vec<Prioritisation> = rows.all_of(product)?;
        all.reverse();
        Ok(all)
    })
}

/// Begins a prioritisation.
///
/// # Errors
/// Faults of its fields; where there is no such model.
pub fn add_prioritisation(app: &App, call: &Call, new: NewPrioritisation) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let model = model_of(&tx.rows(), new.product, new.model.as_deref())?;
        let set = json!({
            "title": new.title, "question": new.question, "top": new.top, "model": super::models::key_of(&model),
        });
        let mut values = iron_kite_core::fields::check_new(ThingKind::Prioritisation, "", fields_of(set))
            .map_err(Problem::Invalid)?;
        values.insert("product_id".into(), new.product.0.into());
        let id = tx.insert(ThingKind::Prioritisation, &values)?;
        tx.label("began a prioritisation");
        Ok(Some(Thing::new(ThingKind::Prioritisation, id)))
    })
}

/// A prioritisation with its report.
///
/// # Errors
/// Where there is none, or its model is gone.
pub fn prioritisation(app: &App, call: &Call, id: i64) -> Result<PrioritisationView, Problem> {
    app.read(call, Right::Read, |rows| {
        let one: Prioritisation = rows.get(id)?;
        let by = name(rows, one.agreed_by)?;
        let blocks = match read_kept(&one)? {
            Some(kept) => kept.blocks,
            None => match present(app, rows, call, &one, None) {
                // The report stays open, so that another model can be chosen for it.
                Err(Problem::NotFound(_)) => no_model(&one),
                told => told?.blocks,
            },
        };
        Ok(PrioritisationView { prioritisation: one, blocks, by })
    })
}

/// Agrees on a prioritisation: its numbers are kept as they are now, and later rankings say what moved since.
///
/// # Errors
/// Where it was changed since, or is agreed already.
pub fn agree(app: &App, call: &Call, id: i64, rev: i64) -> Result<Saved, Problem> {
    let by = call.user_id();
    let today = call.today.to_string();
    let kept = app.read(call, Right::Edit, |rows| {
        let one: Prioritisation = rows.get(id)?;
        if one.agreed_on.is_some() {
            return Err(Problem::refused("already-agreed", "This was agreed already. Begin another one."));
        }
        let who = name(rows, by)?.unwrap_or_else(|| "the command line".into());
        present(app, rows, call, &one, Some((&who, &today)))
    })?;
    let text = serde_json::to_string(&kept).map_err(|fault| Problem::Internal(fault.to_string()))?;
    app.save(call, Right::Edit, move |tx| {
        let thing = Thing::new(ThingKind::Prioritisation, id);
        tx.update(thing, rev, &fields_of(json!({ "agreed_on": today, "agreed_by": by, "kept": text })))?;
        tx.label("agreed on a prioritisation");
        Ok(Some(thing))
    })
}

/// The report as Markdown.
///
/// # Errors
/// As [`prioritisation`].
pub fn prioritisation_markdown(app: &App, call: &Call, id: i64) -> Result<String, Problem> {
    Ok(markdown(&prioritisation(app, call, id)?.blocks))
}

/// The report as DOCX.
///
/// # Errors
/// As [`prioritisation`].
pub fn prioritisation_docx(app: &App, call: &Call, id: i64) -> Result<Vec<u8>, Problem> {
    write_docx(&prioritisation(app, call, id)?.blocks).map_err(Problem::Internal)
}

/// What stands in a report whose model somebody took away.
fn no_model(one: &Prioritisation) -> Vec<Block> {
    let words = "The model that it was scored by is there no more. Choose another one for this report.";
    vec![Block::Heading { level: 1, words: one.title.clone() }, Block::Paragraph { words: words.into() }]
}

/// The last one of a product that was agreed, with its day.
pub(super) fn last_agreed(rows: &Rows<'_>, product: ProductId) -> Result<Option<(String, KeptRanking)>, Problem> {
    let all: Vec<Prioritisation> = rows.all_of(product)?;
    let last = all
        .into_iter()
        .filter(|one| one.agreed_on.is_some())
        .max_by(|a, b| (&a.agreed_on, a.id).cmp(&(&b.agreed_on, b.id)));
    let Some(last) = last else { return Ok(None) };
    Ok(read_kept(&last)?.zip(last.agreed_on).map(|(kept, on)| (on, kept)))
}

fn read_kept(one: &Prioritisation) -> Result<Option<KeptRanking>, Problem> {
    let read = |text: &String| {
        serde_json::from_str(text).map_err(|fault| Problem::Internal(format!("prioritisation {}: {fault}", one.id)))
    };
    one.kept.as_ref().map(read).transpose()
}

fn name(rows: &Rows<'_>, user: Option<i64>) -> Result<Option<String>, Problem> {
    Ok(rows.users()?.into_iter().find(|one| Some(one.id) == user).map(|one| one.name))
}

/// The ranking and its report as they are now.
fn present(
    app: &App,
    rows: &Rows<'_>,
    call: &Call,
    one: &Prioritisation,
    agreed: Option<(&str, &str)>,
) -> Result<KeptRanking, Problem> {
    let ask = ScoresAsk {
        product: one.product_id,
        model: Some(one.model.clone()),
        definition: None,
        top: usize::try_from(one.top).ok(),
    };
    let scores = scores_of(app, rows, call, &ask)?;
    let places = kept_places(&scores.ideas);
    let set_aside = set_aside(rows, one.product_id)?;
    let today = call.today.to_string();
    let blocks = priorities_report(&Priorities {
        title: &one.title,
        question: one.question.as_deref().unwrap_or_default(),
        recommendation: one.recommendation.as_deref().unwrap_or_default(),
        model: &scores.model,
        draw: scores.draw,
        places: &places,
        to_ask: &scores.to_ask,
        set_aside: &set_aside,
        agreed,
        today: &today,
    });
    Ok(KeptRanking { model: scores.model, top: scores.draw.top, places, blocks })
}
