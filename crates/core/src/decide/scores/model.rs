//! Scoring models: criteria, each with a scale, and a formula over them.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use super::arithmetic::{Formula, Given, Known};
use super::range::EstimateRange;
use crate::problem::Fault;

/// At most so many criteria: who scores has to answer each of them.
const MOST_CRITERIA: usize = 10;
/// At most so many steps of a scale, and of the table of ease.
const MOST_STEPS: usize = 12;

/// Which way a criterion is good.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Better {
    /// More is better.
    #[default]
    More,
    /// Less is better.
    Less,
}

/// A step of a scale and what it stands for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScaleStep {
    /// The value.
    pub value: f64,
    /// When an idea has it.
    pub help: String,
}

/// How easy something is that takes at most so long.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EaseStep {
    /// Up to so much effort, in the unit of the field.
    pub up_to: f64,
    /// How easy that is.
    pub ease: f64,
}

/// One criterion of a scoring model.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScoreCriterion {
    /// The name in the formula.
    pub key: String,
    /// What people call it.
    pub label: String,
    /// The field of ideas that holds it: typed, or computed, such as the revenue behind an idea.
    pub field: String,
    /// The unit.
    #[serde(default)]
    pub unit: Option<String>,
    /// The least of its scale.
    #[serde(default)]
    pub low: Option<f64>,
    /// The most of its scale.
    #[serde(default)]
    pub high: Option<f64>,
    /// Which way it is good.
    #[serde(default)]
    pub better: Better,
    /// How much it weighs where the formula is the weighted sum.
    #[serde(default = "one")]
    pub weight: f64,
    /// What the steps of its scale stand for.
    #[serde(default)]
    pub steps: Vec<ScaleStep>,
    /// By which its value follows from the field's: the first step that is long enough, else the last. None: the value itself.
    #[serde(default)]
    pub ease: Vec<EaseStep>,
}

fn one() -> f64 {
    1.0
}

impl ScoreCriterion {
    /// The worse and the better end of its scale.
    #[must_use]
    pub fn ends(&self) -> Option<(f64, f64)> {
        let (low, high) = (self.low?, self.high?);
        Some(if self.better == Better::More { (low, high) } else { (high, low) })
    }

    /// What a value of the field means for the criterion.
    #[must_use]
    pub fn told(&self, value: f64) -> f64 {
        match self.ease.iter().find(|step| value <= step.up_to).or(self.ease.last()) {
            Some(step) => step.ease,
            None => value,
        }
    }
}

/// The sort of a scoring model.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// Reach × impact × confidence ÷ effort (S. McBride 2016).
    Rice,
    /// Impact × confidence × ease (S. Ellis, M. Brown 2017).
    Ice,
    /// Cost of delay ÷ size of the job (D. Reinertsen 2009), the cost of delay as a sum of three parts.
    Wsjf,
    /// Value ÷ effort.
    ValueEffort,
    /// The weighted sum of where each criterion lies on its scale.
    Weighted,
    /// A team's own formula.
    Own,
}

impl Method {
    /// All of them.
    pub const ALL: [Method; 6] =
        [Method::Rice, Method::Ice, Method::Wsjf, Method::ValueEffort, Method::Weighted, Method::Own];

    /// The name in the store and the API, and of the model that comes with the product.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Method::Rice => "rice",
            Method::Ice => "ice",
            Method::Wsjf => "wsjf",
            Method::ValueEffort => "value_effort",
            Method::Weighted => "weighted",
            Method::Own => "own",
        }
    }
}

/// What a scoring model is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ModelDefinition {
    /// What people call it.
    pub title: String,
    /// Its sort.
    pub method: Method,
    /// What it asks.
    pub criteria: Vec<ScoreCriterion>,
    /// The score by the keys of the criteria; nothing is the weighted sum of their places on their scales, of 100.
    #[serde(default)]
    pub formula: Option<String>,
    /// What an idea is worth without what it costs, for choosing within a budget; nothing is the score.
    #[serde(default)]
    pub worth: Option<String>,
    /// How often each criterion was said to weigh as much as each later one, row by row above the diagonal, where the
    /// weights follow from that.
    #[serde(default)]
    pub pairs: Vec<f64>,
    /// What else is to be known.
    #[serde(default)]
    pub note: Option<String>,
}

/// A model that was checked and is ready to be computed.
#[derive(Debug, Clone)]
pub struct Scorer {
    criteria: Vec<ScoreCriterion>,
    fields: Vec<String>,
    /// The field of each criterion.
    field_of: Vec<usize>,
    score: Formula,
    worth: Formula,
}

impl ModelDefinition {
    /// Checks all of it. Linear.
    ///
    /// # Errors
    /// All faults, each at its place.
    pub fn check(&self) -> Result<Scorer, Vec<Fault>> {
        let mut faults = Vec::new();
        if self.title.trim().is_empty() || self.title.chars().count() > 80 {
            faults.push(Fault::new("/title", "Give the model a name of at most 80 characters."));
        }
        if self.criteria.is_empty() || self.criteria.len() > MOST_CRITERIA {
            faults.push(Fault::new("/criteria", format!("A model has 1 to {MOST_CRITERIA} criteria.")));
        }
        let mut keys = BTreeSet::new();
        for (n, criterion) in self.criteria.iter().enumerate() {
            check_criterion(criterion, &format!("/criteria/{n}"), &mut faults);
            if !keys.insert(criterion.key.as_str()) {
                faults.push(Fault::new(format!("/criteria/{n}/key"), "Two criteria have this name in the formula."));
            }
        }
        let known: Vec<Known<'_>> = self.criteria.iter().map(|c| Known { name: &c.key, ends: c.ends() }).collect();
        let text = self.formula_text();
        if self.formula.is_none() {
            for (n, criterion) in self.criteria.iter().enumerate().filter(|(_, c)| c.ends().is_none()) {
                let detail =
                    format!("Say where the scale of '{}' begins and ends: the weighted sum needs it.", criterion.label);
                faults.push(Fault::new(format!("/criteria/{n}/high"), detail));
            }
            if self.criteria.iter().map(|c| c.weight).sum::<f64>() <= 0.0 {
                faults.push(Fault::new("/criteria/0/weight", "At least one criterion has to weigh something."));
            }
        }
        if !faults.is_empty() {
            return Err(faults);
        }
        let score = read(&text, &known, "/formula", &mut faults);
        let worth = self.worth.as_deref().filter(|text| !text.trim().is_empty()).unwrap_or(&text);
        let worth = read(worth, &known, "/worth", &mut faults);
        match (score, worth) {
            (Some(score), Some(worth)) => Ok(self.scorer(score, worth)),
            _ => Err(faults),
        }
    }

    /// What people call a field of ideas, by the criterion that it holds; its name where it holds none.
    #[must_use]
    pub fn label_of(&self, field: &str) -> String {
        let criterion = self.criteria.iter().find(|one| one.field == field);
        criterion.map_or_else(|| field.replace('_', " "), |one| one.label.clone())
    }

    /// The formula as it is computed.
    #[must_use]
    pub fn formula_text(&self) -> String {
        if let Some(formula) = self.formula.as_deref().filter(|text| !text.trim().is_empty()) {
            return formula.to_owned();
        }
        let all: f64 = self.criteria.iter().map(|c| c.weight).sum();
        let parts: Vec<String> = self.criteria.iter().map(|c| format!("{} × share({})", c.weight, c.key)).collect();
        format!("100 × ({}) ÷ {all}", parts.join(" + "))
    }

    fn scorer(&self, score: Formula, worth: Formula) -> Scorer {
        let mut fields: Vec<String> = Vec::new();
        let mut field_of = Vec::new();
        for criterion in &self.criteria {
            let at = fields.iter().position(|field| *field == criterion.field).unwrap_or_else(|| {
                fields.push(criterion.field.clone());
                fields.len() - 1
            });
            field_of.push(at);
        }
        Scorer { criteria: self.criteria.clone(), fields, field_of, score, worth }
    }
}

fn read(text: &str, known: &[Known<'_>], pointer: &str, faults: &mut Vec<Fault>) -> Option<Formula> {
    Formula::read(text, known)
        .map_err(|fault| faults.push(Fault::new(pointer, format!("At character {}: {}", fault.at + 1, fault.detail))))
        .ok()
}

fn check_criterion(criterion: &ScoreCriterion, pointer: &str, faults: &mut Vec<Fault>) {
    let mut fault = |part: &str, detail: &str| faults.push(Fault::new(format!("{pointer}/{part}"), detail));
    let mut chars = criterion.key.chars();
    let plain = chars.next().is_some_and(char::is_alphabetic) && chars.all(|c| c.is_alphanumeric() || c == '_');
    if !plain || criterion.key.chars().count() > 40 {
        fault("key", "The name in the formula begins with a letter and has letters, digits and _ only.");
    }
    if criterion.label.trim().is_empty() || criterion.label.chars().count() > 80 {
        fault("label", "Give the criterion a name of at most 80 characters.");
    }
    if criterion.field.is_empty() {
        fault("field", "Choose the field of ideas that holds it.");
    }
    let ends = [criterion.low, criterion.high];
    if ends.iter().flatten().any(|end| !end.is_finite())
        || criterion.low.zip(criterion.high).is_some_and(|(low, high)| low >= high)
    {
        fault("high", "A scale ends above where it begins.");
    }
    if !(0.0..=1_000_000.0).contains(&criterion.weight) {
        fault("weight", "A weight is a number from 0 up.");
    }
    let rising = criterion.ease.windows(2).all(|pair| pair[0].up_to < pair[1].up_to && pair[0].ease >= pair[1].ease);
    if !rising || criterion.ease.len() > MOST_STEPS {
        fault("ease", "Each step of the table takes longer than the one before, and is no easier.");
    }
    if criterion.steps.len() > MOST_STEPS {
        fault("steps", "A scale has at most twelve steps.");
    }
}

impl Scorer {
    /// The fields of ideas that it needs, each once.
    #[must_use]
    pub fn fields(&self) -> &[String] {
        &self.fields
    }

    /// What it asks.
    #[must_use]
    pub fn criteria(&self) -> &[ScoreCriterion] {
        &self.criteria
    }

    /// The field of each criterion, as a place in [`Scorer::fields`].
    #[must_use]
    pub fn field_of(&self) -> &[usize] {
        &self.field_of
    }

    /// Which way a field is good: that of its first criterion, turned round where the value follows from a table that falls.
    #[must_use]
    pub fn better(&self, field: usize) -> Better {
        let criterion = self.field_of.iter().position(|of| *of == field).map(|at| &self.criteria[at]);
        match criterion {
            Some(one) if !one.ease.is_empty() => Better::Less,
            Some(one) => one.better,
            None => Better::More,
        }
    }

    /// The criteria that the score needs, as places.
    #[must_use]
    pub fn needs(&self) -> Vec<usize> {
        self.score.names()
    }

    /// The score where each field has this value; nothing where it cannot be computed.
    #[must_use]
    pub fn score(&self, by_field: &[f64]) -> Option<f64> {
        self.score.value(&self.told(by_field))
    }

    /// What an idea is worth where each field has this value.
    #[must_use]
    pub fn worth(&self, by_field: &[f64]) -> Option<f64> {
        self.worth.value(&self.told(by_field))
    }

    fn told(&self, by_field: &[f64]) -> Vec<f64> {
        self.criteria.iter().zip(&self.field_of).map(|(criterion, at)| criterion.told(by_field[*at])).collect()
    }

    /// The scores over draws of the fields; what is no number counts as nought, as if the idea did nothing.
    pub(super) fn scores(&self, by_field: &[Given<'_>], into: &mut [f64]) {
        self.over(&self.score, by_field, into);
    }

    fn over(&self, formula: &Formula, by_field: &[Given<'_>], into: &mut [f64]) {
        let told: Vec<Option<Vec<f64>>> = self
            .criteria
            .iter()
            .zip(&self.field_of)
            .map(|(criterion, at)| match by_field[*at] {
                Given::Each(values) if !criterion.ease.is_empty() => {
                    Some(values.iter().map(|value| criterion.told(*value)).collect())
                }
                _ => None,
            })
            .collect();
        let given: Vec<Given<'_>> = self
            .criteria
            .iter()
            .zip(&self.field_of)
            .zip(&told)
            .map(|((criterion, at), told)| match (told, by_field[*at]) {
                (Some(told), _) => Given::Each(told),
                (None, Given::Same(value)) => Given::Same(criterion.told(value)),
                (None, each) => each,
            })
            .collect();
        formula.values(&given, into);
        into.iter_mut().filter(|value| !value.is_finite()).for_each(|value| *value = 0.0);
    }

    /// What an idea is worth over the same draws.
    pub(super) fn worths(&self, by_field: &[Given<'_>], into: &mut [f64]) {
        self.over(&self.worth, by_field, into);
    }

    /// The criteria that the score needs and that nobody estimated, by what people call them.
    #[must_use]
    pub fn missing(&self, by_field: &[Option<EstimateRange>]) -> Vec<String> {
        let lacks = |at: &usize| by_field[self.field_of[*at]].is_none();
        self.needs().iter().filter(|at| lacks(at)).map(|at| self.criteria[*at].label.to_lowercase()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::super::first_models::first_model;
    use super::*;
    use proptest::prelude::*;

    fn faults(change: impl FnOnce(&mut ModelDefinition)) -> Vec<String> {
        let mut model = first_model(Method::Weighted);
        change(&mut model);
        model.check().err().unwrap_or_default().into_iter().map(|fault| fault.field).collect()
    }

    #[test]
    fn every_fault_is_told_at_its_place() {
        assert_eq!(faults(|_| {}), Vec::<String>::new());
        assert_eq!(faults(|model| model.title = " ".into()), ["/title"]);
        assert_eq!(faults(|model| model.criteria.clear()), ["/criteria", "/criteria/0/weight"]);
        assert_eq!(faults(|model| model.criteria[1].key = "impact".into()), ["/criteria/1/key"]);
        assert_eq!(faults(|model| model.criteria[0].key = "2x".into()), ["/criteria/0/key"]);
        assert_eq!(faults(|model| model.criteria[2].low = Some(5.0)), ["/criteria/2/high"]);
        assert_eq!(faults(|model| model.criteria[0].high = None), ["/criteria/0/high"]);
        assert_eq!(faults(|model| model.criteria[0].weight = -1.0), ["/criteria/0/weight"]);
        assert_eq!(faults(|model| model.criteria.iter_mut().for_each(|one| one.weight = 0.0)), ["/criteria/0/weight"]);
        assert_eq!(faults(|model| model.worth = Some("impact +".into())), ["/worth"]);
        assert_eq!(faults(|model| model.formula = Some("nothing".into())), ["/formula"]);
        let falls = [EaseStep { up_to: 2.0, ease: 7.0 }, EaseStep { up_to: 1.0, ease: 9.0 }];
        assert_eq!(faults(|model| model.criteria[0].ease = falls.to_vec()), ["/criteria/0/ease"]);
        // Two faults are both told.
        let two = faults(|model| {
            model.criteria[0].label = String::new();
            model.criteria[3].field = String::new();
        });
        assert_eq!(two, ["/criteria/0/label", "/criteria/3/field"]);
    }

    #[test]
    fn ease_follows_from_the_first_step_that_is_long_enough() {
        let ice = first_model(Method::Ice);
        let ease = &ice.criteria[2];
        // A day is the easiest; three days, two weeks, two months, a year, and longer than the table.
        assert_eq!([0.2, 0.6, 2.0, 8.0, 52.0, 9_999.0].map(|weeks| ease.told(weeks)), [10.0, 9.0, 7.0, 5.0, 2.0, 1.0]);
        let scorer = ice.check().unwrap();
        assert_eq!(scorer.better(2), Better::Less, "more effort is no better, though more ease is");
        assert_eq!(scorer.fields(), ["impact", "confidence", "effort"]);
    }

    #[test]
    fn what_the_score_does_not_need_may_be_missing() {
        let mut model = first_model(Method::Rice);
        model.formula = Some("reach ÷ effort".into());
        let scorer = model.check().unwrap();
        let known = Some(EstimateRange::exactly(2.0));
        assert!(scorer.missing(&[known, None, None, known]).is_empty());
        assert_eq!(scorer.missing(&[None, known, known, None]), ["reach a quarter", "effort"]);
    }

    #[test]
    fn a_definition_is_read_as_it_was_written() {
        for method in Method::ALL {
            let model = first_model(method);
            let text = serde_json::to_string(&model).unwrap();
            assert_eq!(serde_json::from_str::<ModelDefinition>(&text).unwrap(), model);
        }
    }

    proptest! {
        /// Only the proportions of weights count, and the sum lies between nought and a hundred.
        #[test]
        fn the_weighted_sum_is_of_a_hundred(weights in prop::array::uniform5(0.1..9.0f64), values in prop::array::uniform5(0.0..7_000.0f64), times in 0.1..50.0f64) {
            let mut model = first_model(Method::Weighted);
            model.criteria.iter_mut().zip(weights).for_each(|(one, weight)| one.weight = weight);
            let score = model.check().unwrap().score(&values).unwrap();
            model.criteria.iter_mut().for_each(|one| one.weight *= times);
            let again = model.check().unwrap().score(&values).unwrap();
            prop_assert!((0.0..=100.0 + 1e-9).contains(&score));
            prop_assert!((score - again).abs() < 1e-6, "{} {}", score, again);
        }
    }
}
