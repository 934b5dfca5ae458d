//! What is open to outsiders: filling in a form, and seeing by a private link what became of it.

use actix_web::web::{Json, Path};
use actix_web::{HttpRequest, get, post};
use iron_kite_ops::decide::{self, FilledForm, OpenForm, Sent, SentView, WasItYou};
use utoipa_actix_web::scope;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, answer};
use crate::desk::{Caller, Desk};
use crate::problem::{ApiProblem, small_json_config};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config.service(scope::scope("/open").app_data(small_json_config()).configure(open));
}

fn open(config: &mut ServiceConfig<'_>) {
    config.service(form_to_fill).service(send_form).service(sent).service(was_it_you).service(it_was_me);
}

#[utoipa::path(tag = "open", security(()), responses((status = 200, body = OpenForm)))]
#[get("/forms/{key}")]
async fn form_to_fill(desk: Desk, caller: Caller, request: HttpRequest, key: Path<String>) -> Answer<OpenForm> {
    desk.not_too_often(&request)?;
    answer!(desk, caller, move |app, call| decide::form_to_fill(app, call, &key))
}

#[utoipa::path(tag = "open", security(()), responses((status = 200, body = Sent)))]
#[post("/forms/{key}")]
async fn send_form(
    desk: Desk,
    caller: Caller,
    request: HttpRequest,
    key: Path<String>,
    filled: Json<FilledForm>,
) -> Result<Json<Sent>, ApiProblem> {
    desk.not_sent_too_often(&request, &key)?;
    answer!(desk, caller, move |app, call| decide::send_form(app, call, &key, &filled))
}

#[utoipa::path(tag = "open", security(()), responses((status = 200, body = SentView)))]
#[get("/requests/{key}")]
async fn sent(desk: Desk, request: HttpRequest, key: Path<String>) -> Answer<SentView> {
    desk.not_too_often(&request)?;
    answer!(desk, Caller::default(), move |app, _| decide::sent(app, &key))
}

#[utoipa::path(tag = "open", security(()), responses((status = 200, body = WasItYou)))]
#[get("/senders/{key}")]
async fn was_it_you(desk: Desk, request: HttpRequest, key: Path<String>) -> Answer<WasItYou> {
    desk.not_too_often(&request)?;
    answer!(desk, Caller::default(), move |app, _| decide::was_it_you(app, &key))
}

#[utoipa::path(tag = "open", security(()), responses((status = 200, body = WasItYou)))]
#[post("/senders/{key}")]
async fn it_was_me(desk: Desk, request: HttpRequest, key: Path<String>) -> Answer<WasItYou> {
    desk.not_too_often(&request)?;
    answer!(desk, Caller::default(), move |app, call| decide::it_was_me(app, call, &key))
}
