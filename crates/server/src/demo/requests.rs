//! The requests of the demo come in by its form, as those of customers do, and some are put behind ideas and answered.

use std::collections::BTreeMap;

use iron_kite_core::decide::{Asks, FormField};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{FormId, IdeaId, ProductId, RequestId, Thing, ThingKind};
use iron_kite_ops::decide::{self, ConfirmSender, FilledForm, FormChange, NewForm, RequestBehind};
use iron_kite_ops::things::rev_of;
use iron_kite_ops::{Call, Saved};
use jiff::civil::Date;
use serde::Deserialize;
use serde_json::json;

use super::days::shift;
use super::{Player, internal, made};

const REQUESTS: &str = include_str!("../../../../demo/form-requests.jsonl");

#[derive(Deserialize)]
pub(super) struct DemoForm {
    title: String,
    intro: String,
    fields: Vec<FormField>,
    /// Requests that are put behind ideas, by their keys and the ideas' titles.
    behind: BTreeMap<String, String>,
    /// Answers by the keys of the requests.
    answers: BTreeMap<String, String>,
}

/// A line of the file.
#[derive(Deserialize)]
struct DemoRequest {
    id: String,
    sent: Date,
    name: String,
    organisation: String,
    island: String,
    wish: String,
}

impl Player<'_> {
    /// Makes the form and sends each request on its day. The requests are told by their keys.
    pub(super) fn requests(&mut self, product: ProductId, form: &DemoForm) -> Result<(), Problem> {
        let new = NewForm { product_id: product, title: form.title.clone() };
        let id = FormId(made(&decide::add_form(self.app, &self.call, new)?)?.id);
        self.edit(id.thing(), json!({ "intro": form.intro }))?;
        let view = decide::form(self.app, &self.call, id)?;
        let change = FormChange { rev: view.rev, fields: form.fields.clone(), open: true };
        decide::change_form(self.app, &self.call, id, change)?;
        for (line, number) in shift(REQUESTS, self.today).lines().zip(1..) {
            let request: DemoRequest = serde_json::from_str(line).map_err(|fault| internal(&fault.to_string()))?;
            let outside = Call { actor: None, today: request.sent, ..self.call.clone() };
            let filled = filled(&form.fields, &request);
            decide::send_form(self.app, &outside, &view.key, &filled)?;
            self.keys.insert(request.id, Thing::new(ThingKind::Request, number));
        }
        Ok(())
    }

    /// Puts requests behind the ideas that they ask for, once it is confirmed who sent them, and answers some.
    pub(super) fn answer(&self, form: &DemoForm) -> Result<(), Problem> {
        for (key, idea) in &form.behind {
            let request = self.thing(key)?;
            let seen = ConfirmSender { rev: rev_of(self.app, &self.call, request)? };
            decide::confirm_sender(self.app, &self.call, RequestId(request.id), seen)?;
            let behind = RequestBehind { idea_id: Some(IdeaId(self.thing(idea)?.id)), title: None };
            let saved: Saved = decide::put_request_behind(self.app, &self.call, RequestId(request.id), behind)?;
            made(&saved)?;
        }
        form.answers.iter().try_for_each(|(key, reply)| self.edit(self.thing(key)?, json!({ "reply": reply })))
    }
}

fn filled(fields: &[FormField], request: &DemoRequest) -> FilledForm {
    let answer = |field: &FormField| match field.asks {
        Asks::Words => request.wish.clone(),
        Asks::Name => request.name.clone(),
        Asks::Account => request.organisation.clone(),
        Asks::Choice => request.island.clone(),
        Asks::More | Asks::Address | Asks::Line => String::new(),
    };
    FilledForm { answers: fields.iter().map(|field| (field.key.clone(), answer(field))).collect() }
}
