//! Multinomial logistic regression over features with names: told from weights that are kept as text, and fitted.

use std::borrow::Cow;
use std::collections::{BTreeMap, HashMap};
use std::fmt::Write as _;

/// What is known of one thing: features by their names and how much of each there is.
pub type Features = Vec<(Cow<'static, str>, f32)>;

/// Weights of features for classes.
///
/// ```text
/// P(class k) = exp(bₖ + Σ wₖ,f · x_f) / Σⱼ exp(bⱼ + Σ wⱼ,f · x_f)
/// ```
#[derive(Debug, Clone, PartialEq)]
pub struct Logistic {
    classes: Vec<String>,
    bias: Vec<f32>,
    weights: HashMap<String, Vec<f32>>,
}

/// How weights are fitted.
#[derive(Debug, Clone, Copy)]
pub struct Fit {
    /// How much large weights cost, above 0: half of it times the sum of their squares, beside the mean loss.
    pub ridge: f32,
    /// How often all examples are gone through.
    pub rounds: usize,
    /// Features that fewer examples have are left out.
    pub least: usize,
}

/// An example to learn from.
#[derive(Debug, Clone)]
pub struct Example {
    /// What is known of it.
    pub features: Features,
    /// Its class.
    pub class: String,
    /// How much it counts, above 0.
    pub weight: f32,
}

impl Logistic {
    /// The classes, in the order of what [`Logistic::told`] gives.
    #[must_use]
    pub fn classes(&self) -> &[String] {
        &self.classes
    }

    /// The probability of each class. Features without a weight do not count. O(features · classes).
    #[must_use]
    pub fn told(&self, features: &Features) -> Vec<f32> {
        let mut scores = self.bias.clone();
        for (name, value) in features {
            if let Some(weights) = self.weights.get(name.as_ref()) {
                scores.iter_mut().zip(weights).for_each(|(score, weight)| *score += weight * value);
            }
        }
        softmax(&mut scores);
        scores
    }

    /// Fits weights by going down the gradient of the mean cross entropy with Nesterov's momentum, from 0, so that the
    /// same examples give the same weights. O(rounds · features of all examples · classes).
    ///
    /// Source: Y. Nesterov, "A method for solving the convex programming problem with convergence rate O(1/k²)" (1983).
    #[must_use]
    pub fn fit(examples: &[Example], how: Fit) -> Logistic {
        let classes: Vec<String> =
            examples.iter().map(|one| (one.class.clone(), ())).collect::<BTreeMap<_, ()>>().into_keys().collect();
        let names = names_of(examples, how.least);
        let index: HashMap<&str, usize> = names.iter().enumerate().map(|(at, name)| (name.as_str(), at)).collect();
        let rows: Vec<Row> = examples.iter().map(|one| Row::of(one, &classes, &index)).collect();
        let width = classes.len();
        let start = vec![0.0_f32; (names.len() + 1) * width];
        // The bias costs nothing.
        let slope =
            |at: &[f32]| gradient(&rows, at, width, |feature| if feature == 0 { 0.0 } else { how.ridge }, &start);
        let now = descend(&start, 1.0 / (steepest(&rows) + how.ridge), how.rounds, slope);
        Logistic::of(classes, names, &now)
    }

    /// The weights that fit further examples best without going far from these: the mean cross entropy of the examples, and
    /// beside it half of `hold` / examples times the square of the way. So `hold` says how many examples these weights are
    /// worth. Examples of a class that is not among these count for nothing. O(rounds · features of all examples · classes).
    ///
    /// Source: C. Chelba and A. Acero, "Adaptation of maximum entropy capitalizer: little data can help a lot" (2004), which
    /// takes the weights that are there for the middle of what is likely beforehand.
    #[must_use]
    pub fn adapted(&self, examples: &[Example], hold: f32, rounds: usize) -> Logistic {
        let known: Vec<&Example> = examples.iter().filter(|one| self.classes.contains(&one.class)).collect();
        if known.is_empty() {
            return self.clone();
        }
        let mut names: Vec<String> =
            known.iter().flat_map(|one| &one.features).map(|(name, _)| name.to_string()).collect();
        names.sort_unstable();
        names.dedup();
        let index: HashMap<&str, usize> = names.iter().enumerate().map(|(at, name)| (name.as_str(), at)).collect();
        let rows: Vec<Row> = known.iter().map(|one| Row::of(one, &self.classes, &index)).collect();
        let width = self.classes.len();
        let none = vec![0.0; width];
        let before = names.iter().map(|name| self.weights.get(name).unwrap_or(&none));
        let start: Vec<f32> = std::iter::once(&self.bias).chain(before).flatten().copied().collect();
        let all: f32 = rows.iter().map(|row| row.weight).sum();
        let ridge = hold / all.max(f32::MIN_POSITIVE);
        let slope = |at: &[f32]| gradient(&rows, at, width, |_| ridge, &start);
        let now = descend(&start, 1.0 / (steepest(&rows) + ridge), rounds, slope);
        let moved = Logistic::of(self.classes.clone(), names, &now);
        let mut weights = self.weights.clone();
        weights.extend(moved.weights);
        Logistic { weights, ..moved }
    }

    /// These weights as one of two experts, whose product tells: `share` of what they say, and `other` of what features say that hold
    /// the logarithm of each class's likelihood by the other expert. `name` gives the feature of a class.
    #[must_use]
    pub fn beside(mut self, share: f32, other: f32, name: impl Fn(&str) -> String) -> Logistic {
        let all = self.weights.values_mut().chain(std::iter::once(&mut self.bias));
        all.flatten().for_each(|weight| *weight *= share);
        for (at, class) in self.classes.iter().enumerate() {
            let mut weights = vec![0.0; self.classes.len()];
            weights[at] = other;
            self.weights.insert(name(class), weights);
        }
        self
    }

    /// Weights by feature, of numbers that stand in the order of features, the bias first.
    fn of(classes: Vec<String>, names: Vec<String>, numbers: &[f32]) -> Logistic {
        let width = classes.len();
        let (bias, rest) = numbers.split_at(width);
        let weights = names.into_iter().zip(rest.chunks(width).map(<[f32]>::to_vec)).collect();
        Logistic { classes, bias: bias.to_vec(), weights }
    }

    /// As text: a line of classes, a line of their biases, a line for each feature; weights that round to 0 are left.
    #[must_use]
    pub fn write(&self) -> String {
        let mut text = self.classes.join("\t");
        let mut line = |name: &str, weights: &[f32]| {
            let shown: Vec<String> = weights.iter().map(|weight| format!("{:.0}", weight * SCALE)).collect();
            if name == BIAS || shown.iter().any(|one| one != "0" && one != "-0") {
                let _ = write!(text, "\n{name}\t{}", shown.join("\t"));
            }
        };
        line(BIAS, &self.bias);
        let sorted: BTreeMap<&String, &Vec<f32>> = self.weights.iter().collect();
        sorted.into_iter().for_each(|(name, weights)| line(name, weights));
        text.push('\n');
        text
    }

    /// From text that [`Logistic::write`] made; nothing where it is not such.
    #[must_use]
    pub fn read(text: &str) -> Option<Self> {
        let mut lines = text.lines();
        let classes: Vec<String> = lines.next()?.split('\t').map(str::to_owned).collect();
        let mut bias = None;
        let mut weights = HashMap::new();
        for line in lines {
            let (name, rest) = line.split_once('\t')?;
            let values = rest.split('\t').map(|value| value.parse::<f32>().map(|value| value / SCALE).ok());
            let values = values.collect::<Option<Vec<f32>>>().filter(|values| values.len() == classes.len())?;
            if name == BIAS {
                bias = Some(values);
            } else {
                weights.insert(name.to_owned(), values);
            }
        }
        Some(Logistic { classes, bias: bias?, weights })
    }
}

/// The name of the line of biases.
const BIAS: &str = "(bias)";
/// Weights are kept as whole thousandths.
const SCALE: f32 = 1_000.0;

fn softmax(scores: &mut [f32]) {
    let most = scores.iter().copied().fold(f32::NEG_INFINITY, f32::max);
    scores.iter_mut().for_each(|score| *score = (*score - most).exp());
    let sum: f32 = scores.iter().sum();
    scores.iter_mut().for_each(|score| *score /= sum);
}

/// The features that enough examples have, in the order of their names.
fn names_of(examples: &[Example], least: usize) -> Vec<String> {
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for one in examples {
        for (name, _) in &one.features {
            *counts.entry(name).or_default() += 1;
        }
    }
    counts.into_iter().filter(|(_, count)| *count >= least).map(|(name, _)| name.to_owned()).collect()
}

/// An example in numbers. Feature 0 is the bias.
struct Row {
    features: Vec<(usize, f32)>,
    class: usize,
    weight: f32,
}

impl Row {
    fn of(one: &Example, classes: &[String], index: &HashMap<&str, usize>) -> Row {
        let known = one.features.iter().filter_map(|(name, value)| Some((index.get(name.as_ref())? + 1, *value)));
        Row {
            features: std::iter::once((0, 1.0)).chain(known).collect(),
            class: classes.iter().position(|class| *class == one.class).unwrap_or_default(),
            weight: one.weight,
        }
    }
}

/// A bound of how fast the slope can change: half the largest mean square length of an example.
fn steepest(rows: &[Row]) -> f32 {
    let all: f32 = rows.iter().map(|row| row.weight).sum();
    let squares = rows.iter().map(|row| row.weight * row.features.iter().map(|(_, x)| x * x).sum::<f32>());
    0.5 * squares.sum::<f32>() / all.max(f32::MIN_POSITIVE)
}

/// Goes down a slope from a start in so many rounds.
fn descend(start: &[f32], step: f32, rounds: usize, slope: impl Fn(&[f32]) -> Vec<f32>) -> Vec<f32> {
    let mut now = start.to_vec();
    let mut ahead = now.clone();
    let mut pace = 1.0_f32;
    for _ in 0..rounds {
        let next: Vec<f32> = ahead.iter().zip(&slope(&ahead)).map(|(at, slope)| at - step * slope).collect();
        let quicker = f32::midpoint(1.0, (1.0 + 4.0 * pace * pace).sqrt());
        let carry = (pace - 1.0) / quicker;
        ahead = next.iter().zip(&now).map(|(next, now)| next + carry * (next - now)).collect();
        (now, pace) = (next, quicker);
    }
    now
}

/// The slope at some weights: that of the mean loss, and of what it costs to be away from `from`.
fn gradient(rows: &[Row], at: &[f32], width: usize, ridge: impl Fn(usize) -> f32, from: &[f32]) -> Vec<f32> {
    let all: f32 = rows.iter().map(|row| row.weight).sum();
    let mut gradient = vec![0.0_f32; at.len()];
    let mut scores = vec![0.0_f32; width];
    for row in rows {
        scores.fill(0.0);
        for (feature, value) in &row.features {
            let weights = &at[feature * width..][..width];
            scores.iter_mut().zip(weights).for_each(|(score, weight)| *score += weight * value);
        }
        softmax(&mut scores);
        scores[row.class] -= 1.0;
        for (feature, value) in &row.features {
            let slopes = &mut gradient[feature * width..][..width];
            let by = value * row.weight / all;
            slopes.iter_mut().zip(&scores).for_each(|(slope, score)| *slope += by * score);
        }
    }
    for (place, (slope, (weight, from))) in gradient.iter_mut().zip(at.iter().zip(from)).enumerate() {
        *slope += ridge(place / width) * (weight - from);
    }
    gradient
}

#[cfg(test)]
mod tests {
    use super::*;

    const HOW: Fit = Fit { ridge: 0.01, rounds: 2_000, least: 1 };

    fn example(class: &str, features: &[(&str, f32)]) -> Example {
        let features = features.iter().map(|(name, value)| ((*name).to_owned().into(), *value)).collect();
        Example { features, class: class.to_owned(), weight: 1.0 }
    }

    #[test]
    fn without_features_the_shares_are_told() {
        let examples: Vec<Example> = ["a", "a", "a", "b"].into_iter().map(|class| example(class, &[])).collect();
        let told = Logistic::fit(&examples, HOW).told(&vec![]);
        assert!((told[0] - 0.75).abs() < 1e-3, "{told:?}");
    }

    #[test]
    fn what_two_experts_say_is_multiplied() {
        let examples: Vec<Example> = ["a", "a", "a", "b"].into_iter().map(|class| example(class, &[])).collect();
        let both = Logistic::fit(&examples, HOW).beside(1.0, 1.0, |class| format!("other {class}"));
        let other = [0.2_f32, 0.8];
        let features = ["other a", "other b"].into_iter().zip(other).map(|(name, p)| (name.into(), p.ln())).collect();
        let told = both.told(&features);
        let right = 0.75 * 0.2 / (0.75 * 0.2 + 0.25 * 0.8);
        assert!((told[0] - right).abs() < 1e-3, "{told:?}");
        assert_eq!(Logistic::read(&both.write()).unwrap().told(&features).len(), 2);
    }

    // scikit-learn 1.9.1, LogisticRegression(C=1/(0.1·6), tol=1e-10) on the same six examples, probabilities of 1.5.
    const OF_ANOTHER_PROGRAM: [f32; 3] = [0.024_55, 0.335_10, 0.640_35];

    #[test]
    fn weights_are_those_of_another_program() {
        let points = [("a", -2.0), ("a", -1.0), ("b", 0.0), ("b", 0.5), ("c", 1.0), ("c", 3.0)];
        let examples: Vec<Example> = points.iter().map(|(class, x)| example(class, &[("x", *x)])).collect();
        let fitted = Logistic::fit(&examples, Fit { ridge: 0.1, ..HOW });
        let told = fitted.told(&vec![("x".into(), 1.5)]);
        for (told, right) in told.iter().zip(OF_ANOTHER_PROGRAM) {
            assert!((told - right).abs() < 1e-3, "{told} is not {right}");
        }
    }

    #[test]
    fn weights_are_the_same_after_a_way_through_text() {
        let examples = [example("a", &[("x y", 1.0), ("?", 0.5)]), example("b", &[("z", 2.0)])];
        let fitted = Logistic::fit(&examples, HOW);
        let read = Logistic::read(&fitted.write()).unwrap();
        assert_eq!(read.write(), fitted.write());
        for one in &examples {
            assert!((read.told(&one.features)[0] - fitted.told(&one.features)[0]).abs() < 1e-2);
        }
        assert_eq!(Logistic::read("a\tb\n(bias)\t1\n"), None);
        assert_eq!(Logistic::read(""), None);
    }

    #[test]
    fn further_examples_move_the_weights_as_far_as_they_are_many() {
        let examples = [example("a", &[("x", 1.0)]), example("b", &[("x", -1.0)])];
        let fitted = Logistic::fit(&examples, HOW);
        let of_a = |weights: &Logistic| weights.told(&vec![("y".into(), 1.0)])[0];
        let others = |count: usize| vec![example("b", &[("y", 1.0)]); count];
        let shares: Vec<f32> = [0, 1, 10, 100].map(|count| of_a(&fitted.adapted(&others(count), 20.0, 500))).to_vec();
        assert!((shares[0] - 0.5).abs() < 1e-3, "{shares:?}");
        assert!(shares.is_sorted_by(|one, next| one > next) && shares[3] < 0.2, "{shares:?}");
        // What the further examples do not speak of stays, but for the bias, which they share.
        let kept = fitted.adapted(&others(10), 1e6, 500);
        assert!((kept.told(&vec![("x".into(), 1.0)])[0] - fitted.told(&vec![("x".into(), 1.0)])[0]).abs() < 1e-3);
        assert_eq!(fitted.adapted(&[example("c", &[("x", 1.0)])], 1.0, 10), fitted, "a class that there is not");
    }

    #[test]
    fn a_weight_that_was_moved_lies_where_its_slope_is_level() {
        // Two classes with the biases ±w after one example of the first: for hold = 1 the slope is level where
        // 1 / (1 + exp(2 w)) = w, which is found by bisection.
        let nothing = Logistic { classes: vec!["a".into(), "b".into()], bias: vec![0.0; 2], weights: HashMap::new() };
        let moved = nothing.adapted(&[example("a", &[("x", 0.0)])], 1.0, 4_000);
        let share = f64::from(moved.told(&vec![])[0]);
        let (mut low, mut high) = (0.0_f64, 1.0_f64);
        for _ in 0..60 {
            let middle = f64::midpoint(low, high);
            if 1.0 / (1.0 + (2.0 * middle).exp()) > middle { low = middle } else { high = middle }
        }
        assert!((share - 1.0 / (1.0 + (-2.0 * low).exp())).abs() < 1e-4, "{share} at {low}");
    }

    #[test]
    fn rare_features_are_left_out() {
        let examples = [example("a", &[("x", 1.0)]), example("b", &[])];
        let fitted = Logistic::fit(&examples, Fit { least: 2, ..HOW });
        assert!(fitted.weights.is_empty());
    }
}
