//! What runs by itself.

use actix_web::web::{Json, Path, Query};
use actix_web::{get, patch, post};
use iron_kite_core::fields::Collection;
use iron_kite_core::things::RuleId;
use iron_kite_ops::Saved;
use iron_kite_ops::rules::{self, DryRun, RuleFields, RuleInput, RuleLine, RuleView, TryRule};
use utoipa_actix_web::service_config::ServiceConfig;

use super::collections::InCollection;
use super::{Answer, OfProduct, answer};
use crate::desk::{Caller, Desk};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(get_rules)
        .service(rule_fields)
        .service(add_rule)
        .service(change_rule)
        .service(rule_runs)
        .service(try_rule);
}

#[utoipa::path(tag = "rules", params(OfProduct), responses((status = 200, body = Vec<RuleView>)))]
#[get("/rules")]
async fn get_rules(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<RuleView>> {
    answer!(desk, caller, move |app, call| rules::rules(app, call, of.product.into()))
}

#[utoipa::path(tag = "rules", params(InCollection), responses((status = 200, body = RuleFields)))]
#[get("/rules/fields/{collection}")]
async fn rule_fields(desk: Desk, caller: Caller, collection: Path<Collection>) -> Answer<RuleFields> {
    answer!(desk, caller, move |app, call| rules::rule_fields(app, call, *collection))
}

#[utoipa::path(tag = "rules", responses((status = 200, body = Saved)))]
#[post("/rules")]
async fn add_rule(desk: Desk, caller: Caller, input: Json<RuleInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| rules::add_rule(app, call, input.into_inner()))
}

#[utoipa::path(tag = "rules", responses((status = 200, body = Saved)))]
#[patch("/rules/{id}")]
async fn change_rule(desk: Desk, caller: Caller, id: Path<i64>, input: Json<RuleInput>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| rules::change_rule(app, call, RuleId(*id), input.into_inner()))
}

#[utoipa::path(tag = "rules", responses((status = 200, body = Vec<RuleLine>)))]
#[get("/rules/{id}/runs")]
async fn rule_runs(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<Vec<RuleLine>> {
    answer!(desk, caller, move |app, call| rules::rule_runs(app, call, RuleId(*id)))
}

#[utoipa::path(tag = "rules", security(("session" = ["viewer"])), responses((status = 200, body = DryRun)))]
#[post("/rules/try")]
async fn try_rule(desk: Desk, caller: Caller, ask: Json<TryRule>) -> Answer<DryRun> {
    answer!(desk, caller, move |app, call| rules::dry_run(app, call, ask.into_inner()))
}
