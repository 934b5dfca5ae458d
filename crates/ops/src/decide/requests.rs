//! Requests: put behind an idea in one step.

use iron_kite_core::decide::{Idea, Request, called};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{FeedbackItem, glance};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::text::Span;
use iron_kite_core::things::{ExcerptId, IdeaId, RequestId};
use iron_kite_core::trace::LinkKind;
use serde::Deserialize;
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::collections::{NewThing, put_in};
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
            None => {
                let title = behind.title.unwrap_or_else(|| called(&item.text));
                let set = fields_of(json!({ "title": title }));
                let new = NewThing { product: request.product_id, level: None, set };
                IdeaId(put_in(tx, Collection::Idea, new, "")?.id)
            }
        };
        let mut excerpts: Vec<ExcerptId> = tx.rows().excerpts_of(request.item_id)?.into_iter().map(ExcerptId).collect();
        if excerpts.is_empty() {
            // What says too little to be an excerpt by itself is one because somebody stands by it.
            let whole = Span { from: 0, to: item.text.chars().count() };
            excerpts.push(add_excerpt(tx, request.item_id, &glance(&item.text, whole))?);
        }
        for excerpt in excerpts {
            make_link(tx, LinkEnds { kind: LinkKind::Supports, from: excerpt.thing(), to: idea.thing() })?;
        }
        tx.label(format!("put {id} behind {idea}"));
        Ok(Some(idea.thing()))
    })
}
