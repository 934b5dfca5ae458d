//! Listen.

use actix_web::web::{Bytes, Json, Path, Query};
use actix_web::{HttpResponse, delete, get, patch, post};
use iron_kite_core::things::{ChannelId, FindingId, ItemId, StudyId};
use iron_kite_ops::jobs::JobView;
use iron_kite_ops::listen::{
    self, AccountsIn, AgreementView, BringIn, BroughtIn, ChannelChange, ChannelView, CheckQuery, CheckQueue,
    ChosenWords, Counts, Erase, ErasedView, ErasureAhead, Evidence, ExcerptQuery, ExcerptsPage, FindingChange,
    FindingView, ItemQuery, ItemView, ItemsPage, LikelySame, Merge, MergeFindings, Narrower, NewChannel, NewCheck,
    NewConversation, NewFinding, NewNote, NewQuotes, NewRun, OverviewQuery, PartAsk, PutDown, ReadAnew, ReportPage,
    ReportQuery, RunLine, RunView, SaidOverview, SaidPicture, SetRecording, Split, SplitFinding, StudyTemplateView,
    StudyView, Take, WhoKind,
};
use iron_kite_ops::{App, Call, Saved};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

use super::{Answer, OfProduct, Seen, answer};
use crate::desk::{Caller, Desk};
use crate::problem::{ApiProblem, file_bytes};

pub(crate) fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(items)
        .service(item)
        .service(read_item)
        .service(choose_words)
        .service(send_quotes)
        .service(set_recording)
        .service(add_note)
        .service(channels)
        .service(add_channel)
        .service(change_channel)
        .service(remove_channel)
        .service(look_now)
        .service(study_templates)
        .service(study)
        .service(keep_conversation)
        .service(bring_in_accounts)
        .service(likely_same)
        .service(merge)
        .service(split)
        .service(erase_person)
        .service(erasure_ahead)
        .service(put_down)
        .service(read_anew)
        .service(counts)
        .service(import)
        .service(brought_in)
        .service(findings)
        .service(add_finding)
        .service(change_finding)
        .service(finding_excerpts)
        .service(finding_picture)
        .service(narrower)
        .service(merge_findings)
        .service(split_finding)
        .service(runs)
        .service(try_run)
        .service(run)
        .service(take_run)
        .service(evidence)
        .service(said_overview)
        .service(report)
        .service(to_check)
        .service(check)
        .service(agreements);
}

/// The file's name, and what it is for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct FileQuery {
    /// The product that the feedback speaks about.
    product: i64,
    /// The name of the file.
    name: String,
}

#[utoipa::path(tag = "listen", params(ItemQuery), responses((status = 200, body = ItemsPage)))]
#[get("/listen/items")]
async fn items(desk: Desk, caller: Caller, query: Query<ItemQuery>) -> Answer<ItemsPage> {
    answer!(desk, caller, move |app, call| listen::items(app, call, query.into_inner()))
}

#[utoipa::path(tag = "listen", responses((status = 200, body = ItemView)))]
#[get("/listen/items/{id}")]
async fn item(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<ItemView> {
    answer!(desk, caller, move |app, call| listen::item(app, call, ItemId(*id)))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/items/{id}/excerpts")]
async fn choose_words(desk: Desk, caller: Caller, id: Path<i64>, words: Json<ChosenWords>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::choose_words(app, call, ItemId(*id), *words))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/items/{id}/recording")]
async fn set_recording(desk: Desk, caller: Caller, id: Path<i64>, set: Json<SetRecording>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::set_recording(app, call, ItemId(*id), *set))
}

#[utoipa::path(tag = "listen", responses((status = 200, body = Saved)))]
#[post("/listen/quotes")]
async fn send_quotes(desk: Desk, caller: Caller, new: Json<NewQuotes>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::send_quotes(app, call, new.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["viewer"])), responses((status = 204)))]
#[post("/listen/items/{id}/reading")]
async fn read_item(desk: Desk, caller: Caller, id: Path<i64>) -> Result<HttpResponse, ApiProblem> {
    desk.ask(caller, move |app, call| listen::read_item(app, call, ItemId(*id))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Whether people or accounts are asked for.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct WhoQuery {
    /// People or accounts.
    kind: WhoKind,
}

#[utoipa::path(tag = "listen", params(WhoQuery), responses((status = 200, body = Vec<LikelySame>)))]
#[get("/listen/likely-same")]
async fn likely_same(desk: Desk, caller: Caller, query: Query<WhoQuery>) -> Answer<Vec<LikelySame>> {
    answer!(desk, caller, move |app, call| listen::likely_same(app, call, query.kind))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/merge")]
async fn merge(desk: Desk, caller: Caller, ask: Json<Merge>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::merge(app, call, ask.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["owner"])), responses((status = 200, body = ErasedView)))]
#[post("/listen/people/{id}/erase")]
async fn erase_person(desk: Desk, caller: Caller, id: Path<i64>, ask: Json<Erase>) -> Answer<ErasedView> {
    answer!(desk, caller, move |app, call| listen::erase_person(app, call, (*id).into(), ask.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["owner"])), responses((status = 200, body = ErasureAhead)))]
#[get("/listen/people/{id}/erasure")]
async fn erasure_ahead(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<ErasureAhead> {
    answer!(desk, caller, move |app, call| listen::erasure_ahead(app, call, (*id).into()))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/split")]
async fn split(desk: Desk, caller: Caller, ask: Json<Split>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::split(app, call, ask.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/notes")]
async fn add_note(desk: Desk, caller: Caller, note: Json<NewNote>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::add_note(app, call, note.into_inner()))
}

#[utoipa::path(tag = "listen", params(OfProduct), responses((status = 200, body = Vec<ChannelView>)))]
#[get("/listen/channels")]
async fn channels(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<ChannelView>> {
    answer!(desk, caller, move |app, call| listen::channels(app, call, of.product.into()))
}

#[utoipa::path(tag = "listen", security(("session" = ["owner"])), responses((status = 200, body = Saved)))]
#[post("/listen/channels")]
async fn add_channel(desk: Desk, caller: Caller, new: Json<NewChannel>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::add_channel(app, call, new.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["owner"])), responses((status = 200, body = Saved)))]
#[patch("/listen/channels/{id}")]
async fn change_channel(desk: Desk, caller: Caller, id: Path<i64>, change: Json<ChannelChange>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::change_channel(app, call, ChannelId(*id), change.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["owner"])), params(Seen), responses((status = 200, body = Saved)))]
#[delete("/listen/channels/{id}")]
async fn remove_channel(desk: Desk, caller: Caller, id: Path<i64>, seen: Query<Seen>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::remove_channel(app, call, ChannelId(*id), seen.rev))
}

/// Looks at a channel now, as a job.
#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = JobView)))]
#[post("/listen/channels/{id}/look")]
async fn look_now(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| listen::look_now(app, call, ChannelId(*id)))
}

#[utoipa::path(tag = "listen", responses((status = 200, body = Vec<StudyTemplateView>)))]
#[get("/listen/study-templates")]
async fn study_templates(desk: Desk, caller: Caller) -> Answer<Vec<StudyTemplateView>> {
    answer!(desk, caller, listen::study_templates)
}

#[utoipa::path(tag = "listen", responses((status = 200, body = StudyView)))]
#[get("/listen/studies/{id}")]
async fn study(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<StudyView> {
    answer!(desk, caller, move |app, call| listen::study(app, call, StudyId(*id)))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/conversations")]
async fn keep_conversation(desk: Desk, caller: Caller, new: Json<NewConversation>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::keep_conversation(app, call, new.into_inner()))
}

#[utoipa::path(
    tag = "listen",
    security(("session" = ["contributor"])),
    params(FileQuery),
    request_body(content = String, description = "The file, as it is", content_type = "application/octet-stream"),
    responses((status = 200, body = PutDown))
)]
#[post("/listen/files")]
async fn put_down(
    desk: Desk,
    caller: Caller,
    query: Query<FileQuery>,
    file: Result<Bytes, actix_web::Error>,
) -> Answer<PutDown> {
    let file = file_bytes(file)?;
    let put_down =
        move |app: &App, call: &Call| listen::put_down(app, call, query.product.into(), &query.name, file.into());
    desk.with_file(caller, put_down).await.map(Json)
}

/// The name of a file.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct NameQuery {
    /// The name.
    name: String,
}

#[utoipa::path(
    tag = "listen",
    security(("session" = ["contributor"])),
    params(NameQuery),
    request_body(content = String, description = "The file, as it is", content_type = "application/octet-stream"),
    responses((status = 200, body = AccountsIn))
)]
#[post("/listen/accounts")]
async fn bring_in_accounts(
    desk: Desk,
    caller: Caller,
    query: Query<NameQuery>,
    file: Result<Bytes, actix_web::Error>,
) -> Answer<AccountsIn> {
    let file = file_bytes(file)?;
    let take = move |app: &App, call: &Call| listen::bring_in_accounts(app, call, &query.name, &file);
    desk.with_file(caller, take).await.map(Json)
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Counts)))]
#[post("/listen/files/counts")]
async fn counts(desk: Desk, caller: Caller, ask: Json<PartAsk>) -> Answer<Counts> {
    desk.with_file(caller, move |app, call| listen::counts(app, call, &ask)).await.map(Json)
}

/// Looks at a file that waits anew, with a part of it read as somebody says; it is brought in so, too.
#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = PutDown)))]
#[post("/listen/files/read")]
async fn read_anew(desk: Desk, caller: Caller, ask: Json<ReadAnew>) -> Answer<PutDown> {
    desk.with_file(caller, move |app, call| listen::read_anew(app, call, ask.into_inner())).await.map(Json)
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = JobView)))]
#[post("/listen/imports")]
async fn import(desk: Desk, caller: Caller, ask: Json<BringIn>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| listen::start(app, call, ask.into_inner()))
}

/// What came of files that were brought in: the report of such a job.
#[utoipa::path(tag = "listen", operation_id = "brought_in", responses((status = 200, body = BroughtIn)))]
#[get("/listen/imports/{id}")]
async fn brought_in(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<BroughtIn> {
    answer!(desk, caller, move |app, call| listen::brought_in(app, call, *id))
}

#[utoipa::path(tag = "listen", params(OfProduct), responses((status = 200, body = Vec<FindingView>)))]
#[get("/listen/findings")]
async fn findings(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<FindingView>> {
    answer!(desk, caller, move |app, call| listen::findings(app, call, of.product.into()))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/findings")]
async fn add_finding(desk: Desk, caller: Caller, new: Json<NewFinding>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::add_finding(app, call, new.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/findings/{id}/excerpts")]
async fn change_finding(desk: Desk, caller: Caller, id: Path<i64>, change: Json<FindingChange>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::change_finding(app, call, FindingId(*id), change.into_inner()))
}

#[utoipa::path(tag = "listen", params(ExcerptQuery), responses((status = 200, body = ExcerptsPage)))]
#[get("/listen/findings/{id}/excerpts")]
async fn finding_excerpts(
    desk: Desk,
    caller: Caller,
    id: Path<i64>,
    query: Query<ExcerptQuery>,
) -> Answer<ExcerptsPage> {
    answer!(desk, caller, move |app, call| { listen::finding_excerpts(app, call, FindingId(*id), query.into_inner()) })
}

/// Pictures of a finding: over time, by segment, source and kind, and what is unknown.
#[utoipa::path(tag = "listen", responses((status = 200, body = SaidPicture)))]
#[get("/listen/findings/{id}/picture")]
async fn finding_picture(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<SaidPicture> {
    answer!(desk, caller, move |app, call| listen::finding_picture(app, call, FindingId(*id)))
}

/// The narrower groups that a finding opens into.
#[utoipa::path(tag = "listen", responses((status = 200, body = Vec<Narrower>)))]
#[get("/listen/findings/{id}/narrower")]
async fn narrower(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<Vec<Narrower>> {
    answer!(desk, caller, move |app, call| listen::narrower(app, call, FindingId(*id)))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/findings/merge")]
async fn merge_findings(desk: Desk, caller: Caller, ask: Json<MergeFindings>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::merge_findings(app, call, ask.into_inner()))
}

#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/findings/{id}/split")]
async fn split_finding(desk: Desk, caller: Caller, id: Path<i64>, ask: Json<SplitFinding>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::split_finding(app, call, FindingId(*id), ask.into_inner()))
}

/// The newest runs of the grouping.
#[utoipa::path(tag = "listen", params(OfProduct), responses((status = 200, body = Vec<RunLine>)))]
#[get("/listen/runs")]
async fn runs(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<RunLine>> {
    answer!(desk, caller, move |app, call| listen::runs(app, call, of.product.into()))
}

/// Tries a run of the grouping, as a job. Nothing changes before it is taken.
#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = JobView)))]
#[post("/listen/runs")]
async fn try_run(desk: Desk, caller: Caller, new: Json<NewRun>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| listen::try_run(app, call, new.into_inner()))
}

#[utoipa::path(tag = "listen", responses((status = 200, body = RunView)))]
#[get("/listen/runs/{id}")]
async fn run(desk: Desk, caller: Caller, id: Path<i64>) -> Answer<RunView> {
    answer!(desk, caller, move |app, call| listen::run(app, call, *id))
}

/// Takes what a run proposes, as a job.
#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = JobView)))]
#[post("/listen/runs/{id}/take")]
async fn take_run(desk: Desk, caller: Caller, id: Path<i64>, take: Json<Take>) -> Answer<JobView> {
    answer!(desk, caller, move |app, call| listen::take_run(app, call, *id, take.into_inner()))
}

/// A question about what people said.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Question {
    /// The product.
    product: i64,
    /// In words.
    question: String,
}

/// The passages that answer a question, and the findings behind which they stand.
#[utoipa::path(tag = "listen", params(Question), responses((status = 200, body = Evidence)))]
#[get("/listen/evidence")]
async fn evidence(desk: Desk, caller: Caller, query: Query<Question>) -> Answer<Evidence> {
    answer!(desk, caller, move |app, call| listen::ask(app, call, query.product.into(), &query.question))
}

/// What a person can check next of what the engine told.
#[utoipa::path(tag = "listen", params(CheckQuery), responses((status = 200, body = CheckQueue)))]
#[get("/listen/checks")]
async fn to_check(desk: Desk, caller: Caller, query: Query<CheckQuery>) -> Answer<CheckQueue> {
    answer!(desk, caller, move |app, call| listen::to_check(app, call, *query))
}

/// Keeps what a person says of an excerpt.
#[utoipa::path(tag = "listen", security(("session" = ["contributor"])), responses((status = 200, body = Saved)))]
#[post("/listen/checks")]
async fn check(desk: Desk, caller: Caller, new: Json<NewCheck>) -> Answer<Saved> {
    answer!(desk, caller, move |app, call| listen::check(app, call, new.into_inner()))
}

/// How far the engine and people agree, and people with each other.
#[utoipa::path(tag = "listen", params(OfProduct), responses((status = 200, body = Vec<AgreementView>)))]
#[get("/listen/agreement")]
async fn agreements(desk: Desk, caller: Caller, of: Query<OfProduct>) -> Answer<Vec<AgreementView>> {
    answer!(desk, caller, move |app, call| listen::agreements(app, call, of.product.into()))
}

/// All that was said of a product, by source, segment, product and over time, and what moves.
#[utoipa::path(tag = "listen", params(OverviewQuery), responses((status = 200, body = SaidOverview)))]
#[get("/listen/overview")]
async fn said_overview(desk: Desk, caller: Caller, query: Query<OverviewQuery>) -> Answer<SaidOverview> {
    answer!(desk, caller, move |app, call| listen::said_overview(app, call, &query))
}

/// A research report of chosen findings, as a page.
#[utoipa::path(tag = "listen", params(ReportQuery), responses((status = 200, body = ReportPage)))]
#[get("/listen/report")]
async fn report(desk: Desk, caller: Caller, query: Query<ReportQuery>) -> Answer<ReportPage> {
    answer!(desk, caller, move |app, call| listen::report(app, call, &query))
}
