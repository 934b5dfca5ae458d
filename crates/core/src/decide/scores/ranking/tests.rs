use proptest::prelude::*;

use super::super::first_models::first_model;
use super::super::model::{Method, ModelDefinition};
use super::*;

const DRAW: Draw = Draw { count: 10_000, seed: 7, top: 3 };

fn range(low: f64, likely: f64, high: f64) -> EstimateRange {
    EstimateRange { low, likely, high }
}

fn candidate(idea: i64, by: Option<i64>, fields: &[EstimateRange]) -> Candidate {
    let fields = fields.iter().map(|range| Some(Estimated { range: *range, by })).collect();
    Candidate { idea: IdeaId(idea), fields }
}

fn by_formula(formula: &str) -> Scorer {
    let rice = first_model(Method::Rice);
    ModelDefinition { formula: Some(formula.into()), worth: None, ..rice }.check().unwrap()
}

fn exactly(values: [f64; 4]) -> Vec<EstimateRange> {
    values.into_iter().map(EstimateRange::exactly).collect()
}

#[test]
fn numbers_alone_are_ranked_as_before_and_what_is_missing_is_named() {
    let scorer = first_model(Method::Rice).check().unwrap();
    let mut lacking = candidate(4, None, &exactly([1.0; 4]));
    lacking.fields[0] = None;
    lacking.fields[3] = None;
    let all = [
        candidate(1, None, &exactly([100.0, 1.0, 1.0, 4.0])),
        lacking,
        candidate(2, None, &exactly([500.0, 2.0, 0.8, 4.0])),
        candidate(3, None, &exactly([50.0, 1.0, 1.0, 2.0])),
    ];
    let told = ranked(&scorer, &all, Draw { top: 2, ..DRAW });
    let places: Vec<(i64, Option<usize>, Option<f64>)> =
        told.places.iter().map(|one| (one.idea.0, one.rank, one.likely)).collect();
    assert_eq!(
        places,
        [(2, Some(1), Some(200.0)), (1, Some(2), Some(25.0)), (3, Some(2), Some(25.0)), (4, None, None)]
    );
    assert_eq!(told.places[3].missing, ["reach a quarter", "effort"]);
    assert!(told.places[0].spread.unwrap().exact);
    // Two share the last place.
    assert_eq!([0, 1, 2].map(|at| told.places[at].top.unwrap()), [1.0, 0.5, 0.5]);
    assert_eq!(told.above(IdeaId(1), IdeaId(3)), Some(0.5));
    assert_eq!(told.pairs()[0], [0.5, 1.0, 1.0]);
}

#[test]
fn one_uncertain_estimate_is_told_exactly() {
    // 100 / effort over the triangle 2 – 4 – 8: its quantiles are those of the effort, turned round.
    let scorer = by_formula("reach ÷ effort");
    let effort = range(2.0, 4.0, 8.0);
    let fields = [EstimateRange::exactly(100.0), EstimateRange::exactly(1.0), EstimateRange::exactly(1.0), effort];
    let told = ranked(&scorer, &[candidate(1, Some(1), &fields)], DRAW);
    let spread = told.places[0].spread.unwrap();
    assert!(spread.exact);
    for (found, at) in [(spread.low, 0.9), (spread.median, 0.5), (spread.high, 0.1)] {
        assert!((found - 100.0 / effort.quantile(at)).abs() < 1e-9);
    }
    // What rises and falls again is drawn.
    let wave = by_formula("abs(effort − 4)");
    let told = ranked(&wave, &[candidate(1, Some(1), &fields)], DRAW);
    assert!(!told.places[0].spread.unwrap().exact);
}

/// The mean and the variance of a product of independent triangles are products of their moments.
#[test]
fn draws_agree_with_closed_forms_within_their_error() {
    let scorer = by_formula("reach × impact");
    let (reach, impact) = (range(100.0, 300.0, 800.0), range(0.5, 1.0, 3.0));
    let fields = [reach, impact, EstimateRange::exactly(1.0), EstimateRange::exactly(1.0)];
    let told = ranked(&scorer, &[candidate(1, None, &fields)], DRAW);
    let mean = reach.mean() * impact.mean();
    let square = (reach.variance() + reach.mean().powi(2)) * (impact.variance() + impact.mean().powi(2));
    let error = ((square - mean * mean) / 10_000.0).sqrt();
    assert!(
        (told.places[0].mean.unwrap() - mean).abs() < 4.0 * error,
        "{:?} for {mean} ± {error}",
        told.places[0].mean
    );
    // The sum of two even triangles 0 – 1 – 2 is even about 2, and lies below 1 with probability ∫ = 1/24.
    let sum = by_formula("reach + impact");
    let even = range(0.0, 1.0, 2.0);
    let told = ranked(
        &sum,
        &[candidate(1, None, &[even, even, EstimateRange::exactly(1.0), EstimateRange::exactly(1.0)])],
        DRAW,
    );
    let spread = told.places[0].spread.unwrap();
    assert!((spread.median - 2.0).abs() < 0.03, "{spread:?}");
    assert!((spread.low + spread.high - 4.0).abs() < 0.05, "{spread:?}");
}

/// P(X > Y) of two triangles that do not hang together, against an integral over a grid.
#[test]
fn how_sure_an_order_is_agrees_with_its_integral() {
    let scorer = by_formula("reach");
    let (one, other) = (range(0.0, 4.0, 10.0), range(2.0, 3.0, 9.0));
    let alone = |range| [range, EstimateRange::exactly(1.0), EstimateRange::exactly(1.0), EstimateRange::exactly(1.0)];
    let all = [candidate(1, None, &alone(one)), candidate(2, None, &alone(other))];
    let told = ranked(&scorer, &all, Draw { top: 1, ..DRAW });
    let below = |value: f64| (0..4_000).filter(|n| other.quantile((f64::from(*n) + 0.5) / 4_000.0) < value).count();
    let grid: usize = (0..1_000).map(|n| below(one.quantile((f64::from(n) + 0.5) / 1_000.0))).sum();
    let expected = f64::from(u32::try_from(grid).unwrap()) / 4_000_000.0;
    let found = told.above(IdeaId(1), IdeaId(2)).unwrap();
    assert!((found - expected).abs() < 4.0 * (0.25f64 / 10_000.0).sqrt(), "{found} for {expected}");
    let top = told.places.iter().find(|place| place.idea == IdeaId(1)).unwrap().top.unwrap();
    assert!((top - found).abs() < 1e-9, "in the top one is to lie above the other");
}

/// Ranges of one estimator hang together by the rank correlation that is stated, those of two do not.
#[test]
fn ranges_of_one_estimator_hang_together() {
    let scorer = by_formula("reach");
    let alone =
        [range(0.0, 0.5, 1.0), EstimateRange::exactly(1.0), EstimateRange::exactly(1.0), EstimateRange::exactly(1.0)];
    let correlation = |by: [i64; 2]| {
        let all = [candidate(1, Some(by[0]), &alone), candidate(2, Some(by[1]), &alone)];
        let told = ranked(&scorer, &all, DRAW);
        // Ranks, so that the shape of the ranges does not matter.
        let ranks = |at: usize| {
            let mut order: Vec<usize> = (0..told.joint.count).collect();
            order.sort_by(|a, b| told.joint.of(at)[*a].total_cmp(&told.joint.of(at)[*b]));
            let mut ranks = vec![0.0; order.len()];
            for (rank, n) in (0u32..).zip(order) {
                ranks[n] = f64::from(rank) - 4_999.5;
            }
            ranks
        };
        let (a, b) = (ranks(0), ranks(1));
        a.iter().zip(&b).map(|(x, y)| x * y).sum::<f64>() / a.iter().map(|x| x * x).sum::<f64>()
    };
    assert!((correlation([5, 5]) - TOGETHER).abs() < 0.04, "{}", correlation([5, 5]));
    assert!(correlation([5, 6]).abs() < 0.04, "{}", correlation([5, 6]));
}

#[test]
fn the_chances_of_the_top_sum_to_its_size() {
    let scorer = first_model(Method::Rice).check().unwrap();
    let some = |n: i64| {
        let reach = 100.0 * f64::from(i32::try_from(n).unwrap() + 1);
        candidate(
            n,
            Some(n % 3),
            &[
                range(reach / 2.0, reach, reach * 3.0),
                range(0.5, 1.0, 3.0),
                EstimateRange::exactly(0.5),
                range(1.0, 4.0, 9.0),
            ],
        )
    };
    let all: Vec<Candidate> = (0..40).map(some).collect();
    let told = ranked(&scorer, &all, Draw { count: 2_000, seed: 1, top: 7 });
    let sum: f64 = told.places.iter().filter_map(|place| place.top).sum();
    assert!((sum - 7.0).abs() < 1e-9, "{sum}");
    let spread = told.places[0].spread.unwrap();
    assert!(spread.low < spread.quarter && spread.quarter < spread.median && spread.three_quarters < spread.high);
}

/// Ideas that are the same but for their draws are as likely in the top as any other: n of them, n / all each.
#[test]
fn the_same_ideas_have_the_same_chance() {
    let scorer = by_formula("reach ÷ effort");
    let fields =
        [range(1.0, 5.0, 20.0), EstimateRange::exactly(1.0), EstimateRange::exactly(1.0), range(1.0, 2.0, 6.0)];
    let all: Vec<Candidate> = (1..=8).map(|id| candidate(id, None, &fields)).collect();
    let told = ranked(&scorer, &all, Draw { top: 3, ..DRAW });
    // Within four standard errors of 3/8.
    let error = (0.375f64 * 0.625 / 10_000.0).sqrt();
    for place in &told.places {
        assert!((place.top.unwrap() - 0.375).abs() < 4.0 * error, "{place:?}");
        assert_eq!(
            (place.rank, place.spread),
            (Some(1), told.places[0].spread),
            "their spread is the same to the last digit"
        );
    }
    for row in told.pairs() {
        assert!(row.iter().all(|above| (above - 0.5).abs() < 4.0 * (0.25f64 / 10_000.0).sqrt()));
    }
}

#[test]
fn another_seed_tells_the_same_within_its_error() {
    let scorer = first_model(Method::Rice).check().unwrap();
    let fields = [range(100.0, 300.0, 800.0), range(0.5, 1.0, 3.0), EstimateRange::exactly(0.5), range(2.0, 4.0, 9.0)];
    let all = [candidate(1, Some(1), &fields), candidate(2, Some(2), &fields)];
    let [one, other] = [1, 2].map(|seed| ranked(&scorer, &all, Draw { seed, ..DRAW }).places[0].spread.unwrap());
    assert_ne!(one, other);
    for (a, b) in [(one.low, other.low), (one.median, other.median), (one.high, other.high)] {
        assert!((a / b - 1.0).abs() < 0.05, "{a} {b}");
    }
}

fn ranges() -> impl Strategy<Value = [EstimateRange; 4]> {
    prop::array::uniform4(prop::array::uniform3(0.1..100.0f64)).prop_map(|all| {
        all.map(|mut ends| {
            ends.sort_by(f64::total_cmp);
            range(ends[0], ends[1], ends[2])
        })
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 5))]

    #[test]
    fn what_is_better_in_each_criterion_is_never_ranked_below(
        worse in ranges(), by in prop::array::uniform4(prop::array::uniform3(0.0..20.0f64)), method in 0..5usize,
    ) {
        let method = Method::ALL[method];
        let scorer = first_model(method).check().unwrap();
        let count = scorer.fields().len();
        let mut lower = Vec::new();
        let mut upper = Vec::new();
        for at in 0..count {
            let one = worse[at % 4];
            let up = by[at % 4];
            let mut ends = [one.low + up[0], one.likely + up[1], one.high + up[2]];
            ends.sort_by(f64::total_cmp);
            let more = range(ends[0], ends[1], ends[2]);
            let (low, high) = if scorer.better(at) == Better::More { (one, more) } else { (more, one) };
            lower.push(low);
            upper.push(high);
        }
        let all = [candidate(1, Some(1), &lower), candidate(2, Some(1), &upper)];
        let told = ranked(&scorer, &all, Draw { count: 500, seed: 3, top: 1 });
        let place = |idea: i64| told.places.iter().find(|one| one.idea.0 == idea).unwrap();
        prop_assert!(place(2).rank <= place(1).rank, "{method:?} {told:?}");
        prop_assert!(place(2).likely >= place(1).likely);
    }

    #[test]
    fn the_order_in_which_ideas_and_criteria_come_changes_nothing(all in prop::collection::vec(ranges(), 1..6)) {
        let model = first_model(Method::Rice);
        let scorer = model.check().unwrap();
        let ideas: Vec<Candidate> = (1..).zip(&all).map(|(id, fields)| candidate(id, Some(id % 2), fields)).collect();
        let draw = Draw { count: 300, seed: 3, top: 2 };
        let told = ranked(&scorer, &ideas, draw);
        // The other way round: ideas, criteria, and the names of the criteria.
        let mut turned = model.clone();
        turned.criteria.reverse();
        turned.criteria.iter_mut().for_each(|one| one.label = format!("{} anew", one.label));
        let other = turned.check().unwrap();
        let ideas: Vec<Candidate> = ideas.into_iter().rev().map(|mut one| { one.fields.reverse(); one }).collect();
        let mut again = ranked(&other, &ideas, draw);
        prop_assert_eq!(&told.places, &again.places);
        again = ranked(&other, &ideas, draw);
        prop_assert_eq!(told.places, again.places);
    }
}
