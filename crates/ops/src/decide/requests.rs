//! Requests: put behind an idea in one step.

use iron_kite_core::decide::{Idea, IdeaState, Request};
use iron_kite_core::fields;
use iron_kite_core::listen::{FeedbackItem, Reading, kind_of, sentiment_of};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Span;
use iron_kite_core::things::{ExcerptId, IdeaId, RequestId, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Tx;
use serde::Deserialize;
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::listen::add_excerpt;
use crate::things::{LinkEnds, make_link};

/// The idea that a request is put behind.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct RequestBehind {
    /// The idea; a new one where left out.
    #[serde(default)]
    pub idea_id: Option<IdeaId>,
    /// What a new idea is called; the request's first words where left out.
    #[serde(default)]
    pub title: Option<String>,
}

/// So much of a request names a new idea.
const TITLE: usize = 90;

/// Puts what a request says behind an idea, or makes an idea of it: all its excerpts are evidence from then on.
///
/// # Errors
/// Where one of them is not there, or belongs to another product.
pub fn put_request_behind(app: &App, call: &Call, id: RequestId, behind: RequestBehind) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let request: Request = tx.rows().get(id)?;
        let item: FeedbackItem = tx.rows().get(request.item_id)?;
        let idea = match behind.idea_id {
            Some(idea) => tx.rows().get::<Idea>(idea)?.id,
            None => new_idea(tx, &request, behind.title.unwrap_or_else(|| first_words(&item.text)))?,
        };
        let mut excerpts: Vec<ExcerptId> = tx.rows().excerpts_of(request.item_id)?.into_iter().map(ExcerptId).collect();
        if excerpts.is_empty() {
            // What says too little to be an excerpt by itself is one because somebody stands by it.
            excerpts.push(add_excerpt(tx, request.item_id, &whole(&item.text))?);
        }
        for excerpt in excerpts {
            make_link(tx, LinkEnds { kind: LinkKind::Supports, from: excerpt.thing(), to: idea.thing() })?;
        }
        tx.label(format!("put {id} behind {idea}"));
        Ok(Some(idea.thing()))
    })
}

fn new_idea(tx: &mut Tx<'_>, request: &Request, title: String) -> Result<IdeaId, Problem> {
    let values = fields_of(json!({ "title": title }));
    let mut values = fields::check_new(ThingKind::Idea, "", values).map_err(Problem::Invalid)?;
    values.insert("product_id".into(), request.product_id.0.into());
    values.insert("state".into(), IdeaState::Raw.name().into());
    Ok(IdeaId(tx.insert(ThingKind::Idea, &values)?))
}

fn first_words(text: &str) -> String {
    let line = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().trim();
    if line.chars().count() <= TITLE {
        return line.to_owned();
    }
    let cut: String = line.chars().take(TITLE).collect();
    format!("{} …", cut.rsplit_once(' ').map_or(cut.as_str(), |(whole, _)| whole))
}

fn whole(text: &str) -> Reading {
    let span = Span { from: 0, to: text.chars().count() };
    Reading { span, kind: kind_of(text, None).kind, sentiment: sentiment_of(text, None) }
}
