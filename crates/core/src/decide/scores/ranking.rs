//! Where each idea may lie by a scoring model, and how sure their order is: seeded draws over the ranges of the estimates.
//!
//! Ranges of one estimator hang together: who hopes too much of one idea does so of the next. In a share √ρ of its draws a
//! range follows the luck of its estimator in that draw, else it goes its own way; so any two ranges of one estimator
//! have the rank correlation ρ, and each keeps its own distribution exactly. `docs/methods/scores.md` says more.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::arithmetic::Given;
use super::draws::{Stream, named, one_of_each_part, unit};
use super::model::{Better, Scorer};
use super::range::EstimateRange;
use super::spread::{ScoreSpread, exact_spread, spread_of};
use crate::things::IdeaId;

/// How much ranges of one estimator hang together (rank correlation).
pub const TOGETHER: f64 = 0.25;
/// As many draws as the results are told from, where there are not too many ideas.
pub const DRAWS: usize = 10_000;
/// At most so many scores are kept at a time.
const MOST_SCORES: usize = 20_000_000;
/// Draws are looked at in such parts, so that the scores of one draw lie near one another.
const PART: usize = 64;

/// An estimate and who made it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Estimated {
    /// What it may be.
    #[serde(flatten)]
    pub range: EstimateRange,
    /// The person; nobody where it follows from what is known.
    pub by: Option<i64>,
}

/// An idea with what is estimated of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// The idea.
    pub idea: IdeaId,
    /// The estimates, in the order of [`Scorer::fields`].
    pub fields: Vec<Option<Estimated>>,
}

/// How to draw.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Draw {
    /// How often.
    pub count: usize,
    /// The same seed gives the same result.
    pub seed: u64,
    /// How many ideas make the cut.
    pub top: usize,
}

/// An idea's place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct IdeaPlace {
    /// The idea.
    pub idea: IdeaId,
    /// The score where everything is as likely.
    pub likely: Option<f64>,
    /// Where the score may lie.
    pub spread: Option<ScoreSpread>,
    /// The mean of the draws.
    pub mean: Option<f64>,
    /// The place by the median, from 1; ideas with the same median share one.
    pub rank: Option<usize>,
    /// The mean of what it is worth without what it costs.
    pub worth: Option<f64>,
    /// How likely it is among the best, 0 – 1.
    pub top: Option<f64>,
    /// How sure it is that it lies above the next one, 0 – 1.
    pub above_next: Option<f64>,
    /// The criteria that are not estimated yet.
    pub missing: Vec<String>,
}

/// The places of all ideas, best first, those that lack something last; and the draws, for what else is asked of them.
#[derive(Debug, Clone, PartialEq)]
pub struct Ranking {
    /// The places.
    pub places: Vec<IdeaPlace>,
    joint: Joint,
}

/// The scores of several ideas in the same draws.
#[derive(Debug, Clone, Default, PartialEq)]
struct Joint {
    ideas: BTreeMap<IdeaId, usize>,
    count: usize,
    /// Idea by idea.
    scores: Vec<f32>,
}

/// Ranks ideas by a model.
///
/// The spread of an idea follows from itself alone: it is told from draws of each field that are the same for all ideas, so
/// that an idea whose estimates are better throughout never has the lower median. How they lie to one another is told
/// from draws of their own. Where at most one estimate is uncertain and the score only rises or falls with it, the
/// spread is computed exactly. O(ideas × fields × draws).
#[must_use]
pub fn ranked(scorer: &Scorer, candidates: &[Candidate], draw: Draw) -> Ranking {
    let count = draw.count.clamp(1, (MOST_SCORES / candidates.len().max(1)).max(1));
    let draw = Draw { count, ..draw };
    let complete: Vec<(&Candidate, Vec<Estimated>)> =
        candidates.iter().filter_map(|one| Some((one, whole(scorer, one)?))).collect();
    let alone = Alone::new(scorer, &complete, draw);
    let joint = joint(scorer, &complete, draw);
    let top = joint.in_the_top(draw.top);
    let (spreads, worths): (Vec<_>, Vec<_>) = complete.iter().map(|(_, fields)| alone.told(scorer, fields)).unzip();
    let mut places: Vec<IdeaPlace> = complete
        .iter()
        .enumerate()
        .map(|(at, (candidate, fields))| IdeaPlace {
            idea: candidate.idea,
            likely: scorer.score(&fields.iter().map(|one| one.range.likely).collect::<Vec<f64>>()),
            spread: Some(spreads[at]),
            mean: Some(joint.mean(at)),
            worth: Some(worths[at]),
            rank: None,
            top: Some(top[at]),
            above_next: None,
            missing: Vec::new(),
        })
        .collect();
    let median = |place: &IdeaPlace| place.spread.map_or(f64::NEG_INFINITY, |spread| spread.median);
    // Of the same median, the one with the higher mean; else as they came.
    places
        .sort_by(|a, b| median(b).total_cmp(&median(a)).then(b.mean.unwrap_or(0.0).total_cmp(&a.mean.unwrap_or(0.0))));
    let medians: Vec<f64> = places.iter().map(median).collect();
    for at in 0..places.len() {
        places[at].rank = Some(medians.partition_point(|other| *other > medians[at]) + 1);
        if let Some(next) = places.get(at + 1).map(|next| next.idea) {
            places[at].above_next = joint.above(places[at].idea, next);
        }
    }
    let lacking = candidates.iter().filter(|one| !joint.ideas.contains_key(&one.idea));
    places.extend(lacking.map(|one| IdeaPlace {
        idea: one.idea,
        likely: None,
        spread: None,
        mean: None,
        worth: None,
        rank: None,
        top: None,
        above_next: None,
        missing: missing(scorer, one),
    }));
    Ranking { places, joint }
}

impl Ranking {
    /// How sure it is that one idea lies above another, 0 – 1; a draw in which they are the same counts half. O(draws).
    #[must_use]
    pub fn above(&self, one: IdeaId, other: IdeaId) -> Option<f64> {
        self.joint.above(one, other)
    }

    /// The same for all pairs of places that have a score, row by row. O(ideas² × draws).
    #[must_use]
    pub fn pairs(&self) -> Vec<Vec<f64>> {
        let scored: Vec<IdeaId> = self.places.iter().filter(|one| one.rank.is_some()).map(|one| one.idea).collect();
        let mut all = vec![vec![0.5; scored.len()]; scored.len()];
        for row in 0..scored.len() {
            for column in row + 1..scored.len() {
                let above = self.joint.above(scored[row], scored[column]).unwrap_or(0.5);
                all[row][column] = above;
                all[column][row] = 1.0 - above;
            }
        }
        all
    }
}

/// The estimates of all fields; those that the score does not need count as nought where they are missing.
fn whole(scorer: &Scorer, candidate: &Candidate) -> Option<Vec<Estimated>> {
    let needed: Vec<usize> = scorer.needs().into_iter().map(|at| scorer.field_of()[at]).collect();
    let nought = Estimated { range: EstimateRange::exactly(0.0), by: None };
    candidate
        .fields
        .iter()
        .enumerate()
        .map(|(at, one)| one.or_else(|| (!needed.contains(&at)).then_some(nought)))
        .collect()
}

fn missing(scorer: &Scorer, candidate: &Candidate) -> Vec<String> {
    scorer.missing(&candidate.fields.iter().map(|one| one.map(|one| one.range)).collect::<Vec<_>>())
}

/// What a stream is for.
enum For {
    Field,
    FollowsLuck,
    Luck,
    Idea,
    JointLuck,
}

fn stream(draw: Draw, what: For, names: &[u64]) -> Stream {
    let names: Vec<u64> = std::iter::once(what as u64).chain(names.iter().copied()).collect();
    Stream::of(draw.seed, &names)
}

/// 1 where a range follows its estimator in a draw, else 0.
fn follows(bits: u64) -> f64 {
    // The lowest twelve bits, which the number itself does not use.
    #[allow(clippy::cast_precision_loss, reason = "below 2^12")]
    let place = (bits & 0xFFF) as f64;
    f64::from(u8::from(place * place < TOGETHER * 4_096.0 * 4_096.0))
}

/// The first where `follows` is 1, the second where it is 0: without a branch, which would be guessed wrong every other time.
fn either(follows: f64, theirs: f64, own: f64) -> f64 {
    follows * theirs + (1.0 - follows) * own
}

/// The luck of an estimator for a field: who hopes too much takes what is good for more and what is bad for less.
fn directed(luck: f64, better: Better) -> f64 {
    if better == Better::More { luck } else { 1.0 - luck }
}

fn estimators(complete: &[(&Candidate, Vec<Estimated>)]) -> Vec<i64> {
    let mut all: Vec<i64> = complete
        .iter()
        .flat_map(|(_, fields)| fields.iter().filter(|one| !one.range.is_exact()).filter_map(|one| one.by))
        .collect();
    all.sort_unstable();
    all.dedup();
    all
}

/// The draws by which each idea's spread is told: the same for all.
struct Alone {
    count: usize,
    /// By field: where in its range it lies, and whether it follows the estimator.
    fields: Vec<(Vec<f64>, Vec<f64>)>,
    luck: BTreeMap<i64, Vec<f64>>,
}

impl Alone {
    fn new(scorer: &Scorer, complete: &[(&Candidate, Vec<Estimated>)], draw: Draw) -> Self {
        let of_field = |field: &String| {
            let name = named(field);
            let places = one_of_each_part(&mut stream(draw, For::Field, &[name]), draw.count);
            let mut mask = stream(draw, For::FollowsLuck, &[name]);
            (places, (0..draw.count).map(|_| follows(mask.bits())).collect())
        };
        let luck = estimators(complete)
            .into_iter()
            .map(|by| (by, one_of_each_part(&mut stream(draw, For::Luck, &[by.cast_unsigned()]), draw.count)))
            .collect();
        Alone { count: draw.count, fields: scorer.fields().iter().map(of_field).collect(), luck }
    }

    /// Where the score lies, and the mean of the worth.
    fn told(&self, scorer: &Scorer, fields: &[Estimated]) -> (ScoreSpread, f64) {
        let columns: Vec<Option<Vec<f64>>> =
            fields.iter().enumerate().map(|(at, one)| self.column(scorer, at, one)).collect();
        let given = given(fields, &columns);
        let certain = columns.iter().all(Option::is_none);
        let mut draws = vec![0.0; if certain { 1 } else { self.count }];
        scorer.worths(&given, &mut draws);
        let worth = mean(&draws);
        let spread = exact_spread(scorer, fields).unwrap_or_else(|| {
            scorer.scores(&given, &mut draws);
            spread_of(&mut draws)
        });
        (spread, worth)
    }

    fn column(&self, scorer: &Scorer, at: usize, one: &Estimated) -> Option<Vec<f64>> {
        if one.range.is_exact() {
            return None;
        }
        let (places, mask) = &self.fields[at];
        let mut drawn = places.clone();
        if let Some(luck) = one.by.and_then(|by| self.luck.get(&by)) {
            let better = scorer.better(at);
            for ((place, luck), follows) in drawn.iter_mut().zip(luck).zip(mask) {
                *place = either(*follows, directed(*luck, better), *place);
            }
        }
        one.range.quantiles(&mut drawn);
        Some(drawn)
    }
}

fn given<'a>(fields: &[Estimated], columns: &'a [Option<Vec<f64>>]) -> Vec<Given<'a>> {
    let one = |(one, column): (&Estimated, &'a Option<Vec<f64>>)| match column {
        Some(values) => Given::Each(values),
        None => Given::Same(one.range.likely),
    };
    fields.iter().zip(columns).map(one).collect()
}

#[allow(clippy::cast_precision_loss, reason = "counts of draws")]
fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / values.len() as f64
}

/// Draws the scores of all ideas together: each idea by its own draws, the luck of an estimator the same for all.
fn joint(scorer: &Scorer, complete: &[(&Candidate, Vec<Estimated>)], draw: Draw) -> Joint {
    let luck: BTreeMap<i64, Vec<f64>> = estimators(complete)
        .into_iter()
        .map(|by| {
            let mut stream = stream(draw, For::JointLuck, &[by.cast_unsigned()]);
            (by, (0..draw.count).map(|_| stream.unit()).collect())
        })
        .collect();
    let mut scores = Vec::with_capacity(complete.len() * draw.count);
    let mut own = vec![0.0; draw.count];
    for (candidate, fields) in complete {
        let columns: Vec<Option<Vec<f64>>> = fields
            .iter()
            .enumerate()
            .map(|(at, one)| {
                let names = [candidate.idea.0.cast_unsigned(), named(&scorer.fields()[at])];
                (!one.range.is_exact()).then(|| {
                    let luck = one.by.and_then(|by| luck.get(&by)).map(|luck| (luck.as_slice(), scorer.better(at)));
                    drawn(one.range, stream(draw, For::Idea, &names), draw.count, luck)
                })
            })
            .collect();
        scorer.scores(&given(fields, &columns), &mut own);
        #[allow(clippy::cast_possible_truncation, reason = "seven places are enough to order by")]
        scores.extend(own.iter().map(|score| *score as f32));
    }
    let ideas = complete.iter().enumerate().map(|(at, (candidate, _))| (candidate.idea, at)).collect();
    Joint { ideas, count: draw.count, scores }
}

/// Draws of a range; `luck` is that of its estimator in each draw, and which way the field is good.
pub(super) fn drawn(
    range: EstimateRange,
    mut stream: Stream,
    count: usize,
    luck: Option<(&[f64], Better)>,
) -> Vec<f64> {
    let mut places: Vec<f64> = match luck {
        Some((luck, better)) => {
            let place = |luck: &f64| {
                let bits = stream.bits();
                either(follows(bits), directed(*luck, better), unit(bits))
            };
            luck.iter().map(place).collect()
        }
        None => (0..count).map(|_| stream.unit()).collect(),
    };
    range.quantiles(&mut places);
    places
}

impl Joint {
    fn of(&self, at: usize) -> &[f32] {
        &self.scores[at * self.count..(at + 1) * self.count]
    }

    #[allow(clippy::cast_precision_loss, reason = "counts of draws")]
    fn mean(&self, at: usize) -> f64 {
        self.of(at).iter().map(|score| f64::from(*score)).sum::<f64>() / self.count as f64
    }

    #[allow(clippy::cast_precision_loss, reason = "counts of draws")]
    fn above(&self, one: IdeaId, other: IdeaId) -> Option<f64> {
        let (one, other) = (self.of(*self.ideas.get(&one)?), self.of(*self.ideas.get(&other)?));
        let above: u32 = one.iter().zip(other).map(|(a, b)| u32::from(a > b) + u32::from(a >= b)).sum();
        Some(f64::from(above) / 2.0 / self.count as f64)
    }

    /// How likely each idea is among the best so many; those that share the last place share its chance.
    #[allow(clippy::cast_precision_loss, reason = "counts of draws and ideas")]
    fn in_the_top(&self, top: usize) -> Vec<f64> {
        let ideas = self.ideas.len();
        if top >= ideas {
            return vec![1.0; ideas];
        }
        if top == 0 {
            return vec![0.0; ideas];
        }
        let mut chance = vec![0.0; ideas];
        let mut part = vec![0.0f32; PART * ideas];
        let mut ordered = vec![0.0f32; ideas];
        for from in (0..self.count).step_by(PART) {
            let size = PART.min(self.count - from);
            for at in 0..ideas {
                for n in 0..size {
                    part[n * ideas + at] = self.scores[at * self.count + from + n];
                }
            }
            for scores in part.chunks(ideas).take(size) {
                ordered.copy_from_slice(scores);
                let (_, last, _) = ordered.select_nth_unstable_by(top - 1, |a, b| b.total_cmp(a));
                let last = *last;
                let above = scores.iter().filter(|score| **score > last).count();
                let same = scores.iter().filter(|score| **score >= last).count() - above;
                let shared = (top - above) as f64 / same as f64;
                for (chance, score) in chance.iter_mut().zip(scores) {
                    *chance += if *score > last {
                        1.0
                    } else if *score >= last {
                        shared
                    } else {
                        0.0
                    };
                }
            }
        }
        chance.iter().map(|chance| chance / self.count as f64).collect()
    }
}

#[cfg(test)]
mod tests;
