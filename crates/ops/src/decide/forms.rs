//! Forms by which customers and colleagues ask for something: chosen by the team, filled in by anybody with the link, or by
//! whoever is signed in.

use std::collections::BTreeMap;

use iron_kite_core::decide::{
    Filled, FormField, Idea, IdeaState, Request, RequestForm, RequestState, TRAP, became, check_form, fill,
    first_fields,
};
use iron_kite_core::fields;
use iron_kite_core::listen::{FeedbackItem, ImportRow};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::things::{FormId, ProductId, ThingKind};
use iron_kite_core::workspace::Product;
use iron_kite_store::{Rows, Way};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use super::senders::{Claim, ask_by_letter};
use crate::call::{Actor, App, Call, Saved, fields as fields_of};
use crate::listen::take_one;
use crate::people::{hash_key, new_key};
use crate::things::name_of;

/// A new form.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewForm {
    /// The product that it is about.
    pub product_id: ProductId,
    /// What it is called.
    pub title: String,
}

/// A form with its fields.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FormView {
    /// Its number.
    pub id: FormId,
    /// Its revision.
    pub rev: i64,
    /// What it is called.
    pub title: String,
    /// What the sender reads first.
    pub intro: Option<String>,
    /// Its fields.
    pub fields: Vec<FormField>,
    /// Whether anybody with its link may fill it in.
    pub open: bool,
    /// What its link ends with.
    pub key: String,
}

/// What is changed of a form.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct FormChange {
    /// The revision that was seen.
    pub rev: i64,
    /// Its fields, all of them.
    pub fields: Vec<FormField>,
    /// Whether anybody with its link may fill it in.
    pub open: bool,
}

/// A form as its sender sees it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OpenForm {
    /// What it is called.
    pub title: String,
    /// What the sender reads first.
    pub intro: Option<String>,
    /// What it is about.
    pub product: String,
    /// Its fields.
    pub fields: Vec<FormField>,
}

/// A form that was filled in.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct FilledForm {
    /// The answers, by the key of their field.
    pub answers: BTreeMap<String, String>,
}

/// What the sender keeps.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Sent {
    /// What the sender's link ends with. It is told once.
    pub key: String,
}

/// A request as its sender sees it by the private link.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SentView {
    /// What it is about.
    pub product: String,
    /// The sender's words.
    pub words: String,
    /// The day it came in, `YYYY-MM-DD`.
    pub came_on: String,
    /// What became of it.
    pub became: RequestState,
    /// What the team answers.
    pub reply: Option<String>,
}

/// Adds a form, with fields to begin with. Nobody outside can fill it in before somebody says so.
///
/// # Errors
/// Where the title is missing.
pub fn add_form(app: &App, call: &Call, new: NewForm) -> Result<Saved, Problem> {
    let values = json!({ "title": new.title });
    let mut values = fields::check_new(ThingKind::RequestForm, "", fields_of(values)).map_err(Problem::Invalid)?;
    values.extend(fields_of(json!({
        "product_id": new.product_id, "fields": written(&first_fields())?, "open": 0, "key": short_key()?,
    })));
    app.save(call, Right::Edit, move |tx| {
        tx.rows().json(new.product_id.thing())?;
        let id = FormId(tx.insert(ThingKind::RequestForm, &values)?);
        tx.label(format!("added {}", name_of(&tx.rows(), id.thing())));
        Ok(Some(id.thing()))
    })
}

fn written(fields: &[FormField]) -> Result<String, Problem> {
    serde_json::to_string(fields).map_err(|fault| Problem::Internal(fault.to_string()))
}

/// Short enough for a link on paper, and far from being guessed: 80 bits.
fn short_key() -> Result<String, Problem> {
    Ok(new_key()?.chars().take(20).collect())
}

fn fields_in(form: &RequestForm) -> Vec<FormField> {
    serde_json::from_str(&form.fields).unwrap_or_default()
}

/// A form with its fields.
///
/// # Errors
/// Where there is no such form.
pub fn form(app: &App, call: &Call, id: FormId) -> Result<FormView, Problem> {
    app.read(call, Right::Read, |rows| {
        let form: RequestForm = rows.get(id)?;
        Ok(FormView {
            fields: fields_in(&form),
            id: form.id,
            rev: form.rev,
            title: form.title,
            intro: form.intro,
            open: form.open == 1,
            key: form.key,
        })
    })
}

/// Chooses the fields of a form, and who may fill it in.
///
/// # Errors
/// Faults of the fields; stale where it was changed since.
pub fn change_form(app: &App, call: &Call, id: FormId, change: FormChange) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        check_form(&change.fields).map_err(Problem::Invalid)?;
        let form: RequestForm = tx.rows().get(id)?;
        let values = json!({ "fields": written(&change.fields)?, "open": i64::from(change.open) });
        tx.update(id.thing(), change.rev, &fields_of(values))?;
        let name = name_of(&tx.rows(), id.thing());
        tx.label(match (form.open == 1, change.open) {
            (false, true) => format!("opened {name} to anybody with its link"),
            (true, false) => format!("closed {name} to outsiders"),
            _ => format!("changed the questions of {name}"),
        });
        Ok(Some(id.thing()))
    })
}

/// A form is there for whoever may fill it in, and for nobody else: closed, for those who may bring in what people say anyway.
fn open_form(rows: &Rows<'_>, call: &Call, key: &str) -> Result<RequestForm, Problem> {
    let form = rows.form_by_key(key)?.filter(|form| form.open == 1 || call.may(Right::Listen));
    form.ok_or_else(|| Problem::NotFound("form at this address, or it is closed".into()))
}

/// A form as its sender sees it: by its link alone where it is open, else for whoever may bring in what people say.
///
/// # Errors
/// Where there is none at this address.
pub fn form_to_fill(app: &App, call: &Call, key: &str) -> Result<OpenForm, Problem> {
    app.read_open(|rows| {
        let form = open_form(rows, call, key)?;
        let product: Product = rows.get(form.product_id)?;
        Ok(OpenForm { fields: fields_in(&form), title: form.title, intro: form.intro, product: product.name })
    })
}

/// Takes a filled form in: what was said becomes a feedback item with its excerpts, and the sender gets the key of a private
/// link. What outsiders say of themselves is kept as their word: nobody is recognised by it before it is proved, for which a
/// letter goes to their address. All of it or nothing.
///
/// # Errors
/// Faults of the answers; refused where a program filled in what nobody sees, or the same came in already.
pub fn send_form(app: &App, call: &Call, key: &str, filled: &FilledForm) -> Result<Sent, Problem> {
    if filled.answers.get(TRAP).is_some_and(|answer| !answer.is_empty()) {
        return Err(Problem::refused("looks-automatic", "This looks as if a program had sent it. Nothing was kept."));
    }
    let form = app.read_open(|rows| open_form(rows, call, key))?;
    let filled = fill(&fields_in(&form), &filled.answers).map_err(Problem::Invalid)?;
    let sender = new_key()?;
    let (hash, today) = (hash_key(&sender), call.today.to_string());
    // Whoever may bring in what people say stands for what they write; of everybody else it is only their word.
    let claim = (!call.may(Right::Listen)).then(|| Claim::of(&filled)).flatten();
    let (call, now, leads_back) = (by_form(call), call.now, app.outside().leads_back());
    app.write(&call, Right::Listen, move |tx| {
        let account = match (&filled.account, &filled.address) {
            (None, Some(address)) => tx.rows().account_of_address(address)?,
            _ => None,
        };
        let row = ImportRow { unproved: claim.is_some(), ..row_of(filled, account, &today)? };
        let item = take_one(tx, form.product_id, &form.title, row, &today)?;
        let item = item.ok_or_else(|| {
            Problem::refused(
                "received-already",
                "We have this already; the link that you were given tells what became of it.",
            )
        })?;
        let mut values = fields_of(json!({
            "product_id": form.product_id, "form_id": form.id, "item_id": item, "came_on": today, "key_hash": hash,
        }));
        if let Some(claim) = claim {
            values.extend(claim.values());
            if leads_back {
                values.extend(ask_by_letter(tx, &claim, form.product_id, now)?);
            }
        }
        tx.insert(ThingKind::Request, &values)?;
        tx.label(format!("took in a request by the form \"{}\"", form.title));
        Ok(())
    })?;
    app.post_bell.ring();
    Ok(Sent { key: sender })
}

/// Whoever has a form's link, or that of a letter, may do what it takes, and nothing else; no person of the team did it.
pub(super) fn by_form(call: &Call) -> Call {
    let actor = Actor { user_id: call.user_id(), name: "form".into(), role: Role::Contributor };
    Call { actor: Some(actor), way: Way::Import, ..call.clone() }
}

fn row_of(filled: Filled, account: Option<String>, today: &str) -> Result<ImportRow, Problem> {
    let beside: serde_json::Map<_, _> =
        filled.beside.into_iter().map(|(question, answer)| (question, answer.into())).collect();
    let extra = (!beside.is_empty()).then(|| serde_json::to_string(&beside)).transpose();
    Ok(ImportRow {
        number: 1,
        text: filled.text,
        said_on: Some(today.to_owned()),
        person: filled.name,
        address: filled.address,
        account: filled.account.or(account),
        extra: extra.map_err(|fault| Problem::Internal(fault.to_string()))?,
        ..ImportRow::default()
    })
}

/// What became of a request, for whoever has its private link. Nothing of the inside is told but the state and the answer.
///
/// # Errors
/// Where there is none at this address.
pub fn sent(app: &App, key: &str) -> Result<SentView, Problem> {
    app.read_open(|rows| {
        let request: Option<Request> = rows.request_by_key(&hash_key(key))?;
        let request = request.ok_or_else(|| Problem::NotFound("request at this address".into()))?;
        let product: Product = rows.get(request.product_id)?;
        let item: FeedbackItem = rows.get(request.item_id)?;
        Ok(SentView {
            product: product.name,
            words: item.text,
            became: became(request.state, &ideas_of(rows, &request)?),
            came_on: request.came_on,
            reply: request.reply,
        })
    })
}

/// Where the ideas stand that a request is put behind.
fn ideas_of(rows: &Rows<'_>, request: &Request) -> Result<Vec<IdeaState>, Problem> {
    let ideas: Vec<Idea> = rows.among(&rows.ideas_asked_for(request.id)?)?;
    Ok(ideas.into_iter().map(|idea| idea.state).collect())
}
