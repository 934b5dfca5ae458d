//! One idea with all that is known of it: what stands behind it, how well it is supported, and its steps.

use std::collections::BTreeSet;

use iron_kite_core::decide::{Delivery, Graded, Idea, Increment, Rice, rice};
use iron_kite_core::learn::{Measured, change_words};
use iron_kite_core::listen::{BEFORE_DAYS, Movement, RECENT_DAYS, Volume, moved};
use iron_kite_core::plan::Progress;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::WorkItem;
use iron_kite_core::things::{IdeaId, WorkItemId};
use iron_kite_store::Rows;
use iron_kite_store::queries::pictures::SaidRow;
use jiff::ToSpan;
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;

use super::grading::evidence_of;
use super::objectives::delivery;
use crate::call::{App, Call};
use crate::learn::ResultView;
use crate::listen::{CONTRARY, STANDS_FOR, SaidOf, SaidPicture, day};

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
    pub rice: Rice,
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
        let sentiment = mean(&said);
        let picture = SaidOf::of(rows, said, Vec::new(), call.today, (STANDS_FOR, CONTRARY))?.picture;
        let all: i64 = rows.revenue()?.values().sum();
        let delivery = delivery(rows, idea.product_id)?;
        let results: Vec<Measured> = rows.list("WHERE idea_id = ?1 ORDER BY measured_on DESC, id DESC", [id.0])?;
        let increments: Vec<Increment> = rows.list("WHERE idea_id = ?1 ORDER BY position, id", [id.0])?;
        let increments = increments
            .into_iter()
            .map(|one| increment_view(rows, &delivery, one, &results))
            .collect::<Result<Vec<_>, Problem>>()?;
        let stories = delivery.of_idea(id);
        let taken: BTreeSet<WorkItemId> =
            increments.iter().flat_map(|one| one.stories.iter().map(|story| story.id)).collect();
        Ok(IdeaSheet {
            rice: rice(&idea, Some(evidence.confidence)),
            revenue_share: (all > 0).then(|| share(picture.voices.revenue, all)),
            loose: briefs(rows, stories.difference(&taken))?,
            results: results.into_iter().filter(|one| one.increment_id.is_none()).map(view).collect(),
            delivered: delivery.progress(&stories),
            evidence,
            picture,
            sentiment,
            trend,
            increments,
        })
    })
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
        delivered: delivery.progress(&stories),
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

#[expect(clippy::cast_precision_loss, reason = "revenue is far below 2^52")]
fn share(part: i64, all: i64) -> f64 {
    part as f64 / all as f64
}

#[expect(clippy::cast_precision_loss, reason = "counts of excerpts are far below 2^52")]
fn mean(said: &[SaidRow]) -> Option<f64> {
    let sum: f64 = said.iter().map(|row| row.sentiment).sum();
    (!said.is_empty()).then(|| sum / said.len() as f64)
}

/// How what is behind an idea moves against all findings, by the test that they are measured with; alone, so no other is taken into
/// account.
fn trend(rows: &Rows<'_>, idea: &Idea, said: &[SaidRow], today: Date) -> Result<Trend, Problem> {
    let ago = |days: i64| today.saturating_sub(days.days());
    let (recent, before) = (ago(RECENT_DAYS - 1), ago(RECENT_DAYS + BEFORE_DAYS - 1));
    let within = |from: Date, to: Date| {
        let count = said.iter().filter_map(day).filter(|day| (from..=to).contains(day)).count();
        u32::try_from(count).unwrap_or(u32::MAX)
    };
    let mine = Volume { recent: within(recent, today), before: within(before, ago(RECENT_DAYS)) };
    let count = |from: Date, to: Date| -> Result<u32, Problem> {
        let all = rows.said_within(idea.product_id, &from.to_string(), &to.to_string())?;
        Ok(all.get(&None).copied().unwrap_or_default())
    };
    let all = Volume { recent: count(recent, today)?, before: count(before, ago(RECENT_DAYS))? };
    let told = moved(&[mine], all).into_iter().next();
    let (movement, p) = told.map_or((Movement::Steady, 1.0), |told| (told.movement, told.p));
    Ok(Trend { movement, p, recent: mine.recent, before: mine.before })
}
