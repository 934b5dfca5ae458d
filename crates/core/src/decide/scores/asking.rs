//! What to find out next: which uncertain estimate, were it known, would change what makes the cut, and what that is worth.
//!
//! The expected value of perfect information of one input (H. Raiffa and R. Schlaifer, 1961; for single inputs J. Felli and
//! G. Hazen, 1998), where the decision is to take the ideas with the highest expected scores.

use serde::{Deserialize, Serialize};

use super::arithmetic::Given;
use super::draws::{Stream, named, one_of_each_part};
use super::model::Scorer;
use super::ranking::{Candidate, Estimated, Ranking};
use crate::things::IdeaId;

/// In so many places of a range it is asked what knowing it would tell.
const PLACES: usize = 24;
/// From so many draws of the other estimates.
const OTHERS: usize = 512;

/// An uncertain estimate of an idea, and what knowing it is worth.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ToAsk {
    /// The idea.
    pub idea: IdeaId,
    /// The field that is uncertain.
    pub field: String,
    /// How often knowing it would change what makes the cut, 0 – 1.
    pub changes: f64,
    /// By how much the expected score of all that makes the cut would rise if it were known before deciding.
    pub worth: f64,
}

/// Asks of each uncertain estimate what knowing it is worth where the best `top` are taken, the most worthwhile first;
/// those that would change nothing are left out. Estimates are looked at one by one, as if they did not hang together.
/// O(ideas × fields × 24 × 512).
#[must_use]
pub fn questions(scorer: &Scorer, candidates: &[Candidate], ranking: &Ranking, top: usize, seed: u64) -> Vec<ToAsk> {
    let mut means: Vec<(IdeaId, f64)> =
        ranking.places.iter().filter_map(|place| Some((place.idea, place.mean?))).collect();
    means.sort_by(|a, b| b.1.total_cmp(&a.1));
    if top == 0 || top >= means.len() {
        return Vec::new();
    }
    let (last_in, first_out) = (means[top - 1].1, means[top].1);
    let mut all = Vec::new();
    for (at, (idea, mean)) in means.iter().enumerate() {
        // What it would have to pass for the cut to change.
        let line = if at < top { first_out } else { last_in };
        let Some(fields) = candidates.iter().find(|one| one.idea == *idea).and_then(complete) else { continue };
        for (field, one) in fields.iter().enumerate().filter(|(_, one)| !one.range.is_exact()) {
            let told = told_by(scorer, *idea, &fields, field, seed);
            // The draws of the ranking are many more: what is told here is set to their mean.
            let off = mean - told.iter().sum::<f64>() / number(told.len());
            let gains: Vec<f64> = told
                .iter()
                .map(|score| if at < top { line - (score + off) } else { (score + off) - line })
                .filter(|gain| *gain > 0.0)
                .collect();
            if gains.is_empty() {
                continue;
            }
            all.push(ToAsk {
                idea: *idea,
                field: scorer.fields()[field].clone(),
                changes: number(gains.len()) / number(PLACES),
                worth: gains.iter().sum::<f64>() / number(PLACES),
            });
            debug_assert!(one.range.low < one.range.high);
        }
    }
    all.sort_by(|a, b| b.worth.total_cmp(&a.worth));
    all
}

fn complete(candidate: &Candidate) -> Option<Vec<Estimated>> {
    candidate.fields.iter().copied().collect()
}

/// The expected score in each of the places of one field's range, each as likely as the others.
fn told_by(scorer: &Scorer, idea: IdeaId, fields: &[Estimated], field: usize, seed: u64) -> Vec<f64> {
    let others: Vec<Option<Vec<f64>>> = fields
        .iter()
        .enumerate()
        .map(|(at, one)| {
            let names = [u64::MAX, idea.0.cast_unsigned(), named(&scorer.fields()[at])];
            (at != field && !one.range.is_exact()).then(|| {
                let places = one_of_each_part(&mut Stream::of(seed, &names), OTHERS);
                places.into_iter().map(|u| one.range.quantile(u)).collect()
            })
        })
        .collect();
    let alone = others.iter().all(Option::is_none);
    let mut scores = vec![0.0; if alone { 1 } else { OTHERS }];
    (0..PLACES)
        .map(|place| {
            let u = (number(place) + 0.5) / number(PLACES);
            let given: Vec<Given<'_>> = fields
                .iter()
                .zip(&others)
                .enumerate()
                .map(|(at, (one, drawn))| match drawn {
                    Some(values) => Given::Each(values),
                    None if at == field => Given::Same(one.range.quantile(u)),
                    None => Given::Same(one.range.likely),
                })
                .collect();
            scorer.scores(&given, &mut scores);
            scores.iter().sum::<f64>() / number(scores.len())
        })
        .collect()
}

#[allow(clippy::cast_precision_loss, reason = "small counts")]
fn number(count: usize) -> f64 {
    count as f64
}

#[cfg(test)]
mod tests {
    use super::super::model::{Better, Method, ModelDefinition, ScoreCriterion};
    use super::super::range::EstimateRange;
    use super::super::ranking::{Draw, ranked};
    use super::*;

    fn by_value() -> Scorer {
        let criterion = ScoreCriterion {
            key: "value".into(),
            label: "Value".into(),
            field: "value".into(),
            unit: None,
            low: None,
            high: None,
            better: Better::More,
            weight: 1.0,
            steps: vec![],
            ease: vec![],
        };
        let model = ModelDefinition {
            title: "Value".into(),
            method: Method::Own,
            criteria: vec![criterion],
            formula: Some("value".into()),
            worth: None,
            pairs: vec![],
            note: None,
        };
        model.check().unwrap()
    }

    fn candidate(idea: i64, range: EstimateRange) -> Candidate {
        Candidate { idea: IdeaId(idea), fields: vec![Some(Estimated { range, by: None })] }
    }

    fn asked(candidates: &[Candidate], top: usize) -> Vec<ToAsk> {
        let scorer = by_value();
        let ranking = ranked(&scorer, candidates, Draw { count: 10_000, seed: 7, top });
        questions(&scorer, candidates, &ranking, top, 7)
    }

    /// One known value c against a triangle over 0 – 6 – 12: E[(x − c)⁺] = ∫ₓ₌꜀ (1 − F) = (12 − c)³ / 216 for c ≥ 6.
    #[test]
    fn the_worth_agrees_with_its_closed_form() {
        for c in [6.5, 7.0, 8.0, 10.0] {
            let range = EstimateRange { low: 0.0, likely: 6.0, high: 12.0 };
            let found = asked(&[candidate(1, EstimateRange::exactly(c)), candidate(2, range)], 1);
            let expected = (12.0f64 - c).powi(3) / 216.0;
            let chance = (12.0f64 - c).powi(2) / 72.0;
            assert_eq!(found.len(), 1, "{c}");
            assert!((found[0].worth - expected).abs() < 0.02, "{c}: {} for {expected}", found[0].worth);
            assert!((found[0].changes - chance).abs() < 0.045, "{c}: {} for {chance}", found[0].changes);
        }
    }

    #[test]
    fn what_cannot_change_the_cut_is_not_asked_and_the_widest_comes_first() {
        let wide = EstimateRange { low: 0.0, likely: 9.0, high: 20.0 };
        let narrow = EstimateRange { low: 8.0, likely: 9.0, high: 10.5 };
        let far = EstimateRange { low: 100.0, likely: 150.0, high: 200.0 };
        let all = [
            candidate(1, far),
            candidate(2, EstimateRange::exactly(10.0)),
            candidate(3, wide),
            candidate(4, narrow),
            candidate(5, EstimateRange { low: 0.0, likely: 0.5, high: 1.0 }),
        ];
        let found: Vec<i64> = asked(&all, 2).iter().map(|one| one.idea.0).collect();
        assert_eq!(found, [3, 4]);
        assert!(asked(&all, 5).is_empty() && asked(&all, 0).is_empty());
    }

    /// Two uncertain fields of a product: the mean given one of them is that one times the other's mean, so the worth is an
    /// integral over one triangle, here summed over a fine grid.
    #[test]
    fn a_product_of_two_agrees_with_its_integral() {
        let mut model = super::super::first_models::first_model(Method::Rice);
        model.formula = Some("reach × impact".into());
        model.worth = None;
        let scorer = model.check().unwrap();
        let (reach, impact) = (
            EstimateRange { low: 100.0, likely: 300.0, high: 800.0 },
            EstimateRange { low: 0.5, likely: 1.0, high: 3.0 },
        );
        let one = |idea: i64, reach: EstimateRange, impact: EstimateRange| Candidate {
            idea: IdeaId(idea),
            fields: [reach, impact, EstimateRange::exactly(1.0), EstimateRange::exactly(1.0)]
                .map(|range| Some(Estimated { range, by: None }))
                .to_vec(),
        };
        let rival = 700.0;
        let all = [one(1, reach, impact), one(2, EstimateRange::exactly(rival), EstimateRange::exactly(1.0))];
        let ranking = ranked(&scorer, &all, Draw { count: 10_000, seed: 7, top: 1 });
        let found = questions(&scorer, &all, &ranking, 1, 7);
        for (field, range, other) in [("reach", reach, impact), ("impact", impact, reach)] {
            let grid = (0..20_000).map(|n| range.quantile((f64::from(n) + 0.5) / 20_000.0) * other.mean());
            let expected = grid.map(|mean| (mean - rival).max(0.0)).sum::<f64>() / 20_000.0;
            let told = found.iter().find(|one| one.field == field).map_or(0.0, |one| one.worth);
            assert!((told - expected).abs() < 0.1 * expected.max(10.0), "{field}: {told} for {expected}");
        }
    }
}
