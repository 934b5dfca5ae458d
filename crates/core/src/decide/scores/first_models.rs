//! The scoring models that every product has before a team makes its own.

use super::model::{Better, EaseStep, Method, ModelDefinition, ScaleStep, ScoreCriterion};

fn criterion(key: &str, label: &str, unit: &str, scale: Option<(f64, f64)>, better: Better) -> ScoreCriterion {
    ScoreCriterion {
        key: key.into(),
        label: label.into(),
        field: key.into(),
        unit: (!unit.is_empty()).then(|| unit.into()),
        low: scale.map(|(low, _)| low),
        high: scale.map(|(_, high)| high),
        better,
        weight: 1.0,
        steps: Vec::new(),
        ease: Vec::new(),
    }
}

fn steps(criterion: ScoreCriterion, steps: &[(f64, &str)]) -> ScoreCriterion {
    let steps = steps.iter().map(|(value, help)| ScaleStep { value: *value, help: (*help).into() }).collect();
    ScoreCriterion { steps, ..criterion }
}

fn reach() -> ScoreCriterion {
    criterion("reach", "Reach a quarter", "people", None, Better::More)
}

fn impact() -> ScoreCriterion {
    let scale = criterion("impact", "Impact", "", Some((0.0, 10.0)), Better::More);
    steps(
        scale,
        &[
            (0.25, "hardly felt"),
            (0.5, "a little"),
            (1.0, "something"),
            (2.0, "much"),
            (3.0, "it changes what they do"),
        ],
    )
}

fn confidence() -> ScoreCriterion {
    criterion("confidence", "Confidence", "", Some((0.0, 1.0)), Better::More)
}

fn effort() -> ScoreCriterion {
    criterion("effort", "Effort", "person-weeks", Some((0.0, 26.0)), Better::Less)
}

fn ease() -> ScoreCriterion {
    // A day, a few days, a week, two weeks, a month, two, a quarter, half a year, a year; in weeks.
    let table = [
        (0.2, 10.0),
        (0.6, 9.0),
        (1.0, 8.0),
        (2.0, 7.0),
        (4.4, 6.0),
        (8.7, 5.0),
        (13.0, 4.0),
        (26.0, 3.0),
        (52.0, 2.0),
    ];
    let ease = table.into_iter().chain([(520.0, 1.0)]).map(|(up_to, ease)| EaseStep { up_to, ease }).collect();
    let one = criterion("ease", "Ease", "", Some((0.0, 10.0)), Better::More);
    ScoreCriterion { field: "effort".into(), ease, ..one }
}

/// A part of the cost of delay, by the steps of a row in which each is about the sum of the two before.
fn delay(key: &str, label: &str, least: &str, most: &str) -> ScoreCriterion {
    let one = criterion(key, label, "", Some((0.0, 20.0)), Better::More);
    steps(one, &[(1.0, least), (5.0, "between them"), (20.0, most)])
}

fn value() -> ScoreCriterion {
    delay("value", "Value", "least of all ideas", "most of all ideas")
}

fn weighing(weight: f64, criterion: ScoreCriterion) -> ScoreCriterion {
    ScoreCriterion { weight, ..criterion }
}

fn model(title: &str, method: Method, criteria: Vec<ScoreCriterion>, formula: &str, worth: &str) -> ModelDefinition {
    let text = |text: &str| (!text.is_empty()).then(|| text.into());
    ModelDefinition {
        title: title.into(),
        method,
        criteria,
        formula: text(formula),
        worth: text(worth),
        pairs: Vec::new(),
        note: None,
    }
}

/// The model of a sort as it comes with the product.
#[must_use]
pub fn first_model(method: Method) -> ModelDefinition {
    match method {
        Method::Rice => model(
            "RICE",
            method,
            vec![reach(), impact(), confidence(), effort()],
            "reach × impact × confidence ÷ effort",
            "reach × impact × confidence",
        ),
        Method::Ice => model(
            "ICE",
            method,
            vec![impact(), confidence(), ease()],
            "impact × 10 × confidence × ease",
            "impact × 10 × confidence",
        ),
        Method::Wsjf => model(
            "WSJF",
            method,
            vec![
                value(),
                delay("time_criticality", "Time criticality", "it can wait", "every week counts"),
                delay("opportunity", "Risk and opportunity", "it opens nothing", "much depends on it"),
                effort(),
            ],
            "(value + time_criticality + opportunity) ÷ effort",
            "value + time_criticality + opportunity",
        ),
        Method::ValueEffort => {
            model("Value against effort", method, vec![value(), effort()], "value ÷ effort", "value")
        }
        Method::Weighted | Method::Own => {
            let revenue = criterion("revenue", "Revenue a year", "€", Some((0.0, 300_000.0)), Better::More);
            let reach = ScoreCriterion { low: Some(0.0), high: Some(6_000.0), ..reach() };
            let criteria = vec![
                weighing(3.0, ScoreCriterion { high: Some(3.0), ..impact() }),
                weighing(2.0, reach),
                weighing(2.0, confidence()),
                weighing(1.0, revenue),
                weighing(2.0, effort()),
            ];
            let worth = "3 × share(impact) + 2 × share(reach) + 2 × share(confidence) + share(revenue)";
            match method {
                Method::Own => model(
                    "Our own",
                    method,
                    criteria,
                    "100 × share(impact) × sqrt(share(reach)) × confidence ÷ (1 + effort)",
                    "share(impact) × sqrt(share(reach)) × confidence",
                ),
                _ => model("Weighted criteria", method, criteria, "", worth),
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_model_can_be_computed() {
        for method in Method::ALL {
            let model = first_model(method);
            let scorer = model.check().unwrap_or_else(|faults| panic!("{method:?}: {faults:?}"));
            let values = vec![1.0; scorer.fields().len()];
            assert!(scorer.score(&values).is_some_and(|score| score > 0.0), "{method:?}");
            assert!(scorer.worth(&values).is_some_and(|worth| worth > 0.0), "{method:?}");
        }
    }

    /// Worked by hand from the published description of each method.
    #[test]
    fn the_methods_come_out_as_published() {
        let score = |method: Method, values: &[f64]| first_model(method).check().unwrap().score(values).unwrap();
        // 500 people a quarter, impact 2, 80 %, 4 weeks.
        assert_eq!(score(Method::Rice, &[500.0, 2.0, 0.8, 4.0]), 200.0);
        // 8 · 6 · 4, the last as the ease of a quarter of a year.
        assert_eq!(score(Method::Ice, &[8.0, 0.6, 13.0]), 192.0);
        // (13 + 8 + 5) / 8
        assert_eq!(score(Method::Wsjf, &[13.0, 8.0, 5.0, 8.0]), 3.25);
        assert_eq!(score(Method::ValueEffort, &[20.0, 8.0]), 2.5);
        // Three of ten at the top, two in the middle of theirs, one nowhere, no effort: (3 + 1 + 1 + 0 + 2) / 10.
        assert_eq!(score(Method::Weighted, &[3.0, 3_000.0, 0.5, 0.0, 0.0]), 70.0);
    }
}
