//! One idea with all that is known of it: what stands behind it, how well it is supported, and its steps.

use std::collections::BTreeSet;

use iron_kite_core::decide::{Delivery, Graded, Idea, Increment};
use iron_kite_core::learn::{Measured, change_words};
use iron_kite_core::listen::{Movement, Volume, compared_days, mean_of, moved, volume_of};
use iron_kite_core::plan::Progress;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{ExcerptId, FindingId, IdeaId, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use iron_kite_store::queries::pictures::SaidRow;
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;

use super::grading::evidence_of;
use super::judged::{LikelyScore, likely_score};
use super::objectives::delivery;
use crate::call::{App, Call};
use crate::learn::ResultView;
use crate::listen::{CONTRARY, FindingToldView, STANDS_FOR, SaidOf, SaidPicture, day};

/// A story in a few words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StoryBrief {
    /// Its number.
    pub id: WorkItemId,
    /// Its revision.
    pub rev: i64,
    /// Its reference.
    pub reference: String,
    /// Its title.
    pub title: String,
    /// Where it stands.
    pub state: String,
}

/// An increment with its stories and what they came to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IncrementView {
    /// The increment.
    #[serde(flatten)]
    pub increment: Increment,
    /// Its stories.
    pub stories: Vec<StoryBrief>,
    /// How far they are.
    pub delivered: Progress,
    /// Its results, newest first.
    pub results: Vec<ResultView>,
}

/// How what is behind an idea moves, against all that was said in the same days.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Trend {
    /// How.
    pub movement: Movement,
    /// How likely chance alone explains as much, 0 – 1.
    pub p: f64,
    /// Excerpts of the last four weeks.
    pub recent: u32,
    /// Excerpts of the twelve weeks before.
    pub before: u32,
}

/// An idea with all that is known of it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IdeaSheet {
    /// How well it is supported.
    pub evidence: Graded,
    /// Its score, by what somebody says of the confidence, else by the evidence.
    pub score: LikelyScore,
    /// What stands behind it: people, accounts and revenue, each once, segments, kinds, colour and time.
    pub picture: SaidPicture,
    /// The part of all yearly revenue that is behind it, 0 – 1.
    pub revenue_share: Option<f64>,
    /// The mean sentiment of what is behind it, worst −1 to best +1.
    pub sentiment: Option<f64>,
    /// How that moves.
    pub trend: Trend,
    /// How far its stories are.
    pub delivered: Progress,
    /// Its steps, in their order.
    pub increments: Vec<IncrementView>,
    /// Its stories that belong to no increment.
    pub loose: Vec<StoryBrief>,
    /// Results on the whole of it, newest first.
    pub results: Vec<ResultView>,
}

/// One idea with all that is known of it.
///
/// # Errors
/// Where there is no such idea.
pub fn idea(app: &App, call: &Call, id: IdeaId) -> Result<IdeaSheet, Problem> {
    app.read(call, Right::Read, |rows| {
        let idea: Idea = rows.get(id)?;
        let evidence = evidence_of(rows, &idea, call.today)?;
        let said = rows.said_behind_idea(id)?;
        let trend = trend(rows, &idea, &said, call.today)?;
        let picture = SaidOf::of(rows, said, nearest(rows, id)?, call.today, (STANDS_FOR, CONTRARY))?.picture;
        let all: i64 = rows.revenue()?.values().sum();
        let delivery = delivery(rows, idea.product_id)?;
        let mut results: Vec<Measured> = rows.of_idea(id)?;
        results.sort_by(|a, b| (&b.measured_on, b.id).cmp(&(&a.measured_on, a.id)));
        let mut increments: Vec<Increment> = rows.of_idea(id)?;
        increments.sort_by(|a, b| a.position.total_cmp(&b.position));
        let increments = increments
            .into_iter()
            .map(|one| increment_view(rows, &delivery, one, &results))
            .collect::<Result<Vec<_>, Problem>>()?;
        let stories = delivery.of_idea(id);
        let taken: BTreeSet<WorkItemId> =
            increments.iter().flat_map(|one| one.stories.iter().map(|story| story.id)).collect();
        Ok(IdeaSheet {
            score: likely_score(rows, idea, Some(&evidence), call.today)?,
            revenue_share: picture.voices.share_of(all),
            loose: briefs(rows, stories.difference(&taken))?,
            results: results.into_iter().filter(|one| one.increment_id.is_none()).map(view).collect(),
            delivered: delivery.work.progress(&stories),
            sentiment: mean_of(&picture.kinds),
            evidence,
            picture,
            trend,
            increments,
        })
    })
}

/// Excerpts that stand for what is behind an idea: one of each of its findings in turn.
fn nearest(rows: &Rows<'_>, id: IdeaId) -> Result<Vec<ExcerptId>, Problem> {
    let mut of_each = Vec::new();
    for (_, finding) in rows.links_of(LinkKind::Supports, id.thing(), false, ThingKind::Finding)? {
        of_each.push(rows.finding_told(FindingId(finding))?.map(FindingToldView::from).map(|told| told.nearest));
    }
    let of_each: Vec<Vec<ExcerptId>> = of_each.into_iter().flatten().collect();
    let turns = of_each.iter().map(Vec::len).max().unwrap_or_default();
    Ok((0..turns).flat_map(|turn| of_each.iter().filter_map(move |own| own.get(turn).copied())).collect())
}

fn increment_view(
    rows: &Rows<'_>,
    delivery: &Delivery,
    increment: Increment,
    results: &[Measured],
) -> Result<IncrementView, Problem> {
    let stories = delivery.in_increment(increment.id);
    let own = results.iter().filter(|one| one.increment_id == Some(increment.id)).cloned();
    Ok(IncrementView {
        stories: briefs(rows, stories.iter())?,
        delivered: delivery.work.progress(&stories),
        results: own.map(view).collect(),
        increment,
    })
}

fn briefs<'a>(rows: &Rows<'_>, stories: impl Iterator<Item = &'a WorkItemId>) -> Result<Vec<StoryBrief>, Problem> {
    let ids: Vec<i64> = stories.map(|id| id.0).collect();
    let brief = |item: WorkItem| StoryBrief {
        id: item.id,
        rev: item.rev,
        reference: item.reference(),
        title: item.title.clone(),
        state: item.state.words(),
    };
    Ok(rows.among::<WorkItem>(&ids)?.into_iter().map(brief).collect())
}

fn view(result: Measured) -> ResultView {
    ResultView { words: change_words(result.before, result.after, result.unit.as_deref()), result }
}

/// How what is behind an idea moves against all findings, by the test that they are measured with; alone, so no other is taken into
/// account.
fn trend(rows: &Rows<'_>, idea: &Idea, said: &[SaidRow], today: Date) -> Result<Trend, Problem> {
    let [recent, before] = compared_days(today);
    let mine = volume_of(said.iter().filter_map(day), today);
    let product = idea.product_id;
    let all = Volume { recent: rows.count_said(product, recent)?, before: rows.count_said(product, before)? };
    let told = moved(&[mine], all).into_iter().next();
    let (movement, p) = told.map_or((Movement::Steady, 1.0), |told| (told.movement, told.p));
    Ok(Trend { movement, p, recent: mine.recent, before: mine.before })
}
