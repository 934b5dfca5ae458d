//! Formulas in ordinary arithmetic over criteria: read once, with the place of each fault, then computed over many draws.

/// The longest formula, in characters.
pub const LONGEST_FORMULA: usize = 1_000;
/// Brackets within brackets, at most.
const DEEPEST: usize = 64;
/// Draws that are computed at a time: what one step works on stays near the processor.
const AT_A_TIME: usize = 512;

/// A name that a formula may use, and the ends of its scale from worse to better where it has one.
#[derive(Debug, Clone, PartialEq)]
pub struct Known<'a> {
    /// The name.
    pub name: &'a str,
    /// The worse and the better end of its scale.
    pub ends: Option<(f64, f64)>,
}

/// What is wrong with a formula, and where.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FormulaFault {
    /// The place, in characters from the beginning.
    pub at: usize,
    /// What is wrong, in words.
    pub detail: String,
}

/// The values of one name: the same in each draw, or one for each.
#[derive(Debug, Clone, Copy)]
pub enum Given<'a> {
    /// The same in each.
    Same(f64),
    /// One for each draw.
    Each(&'a [f64]),
}

impl Given<'_> {
    fn fill(self, from: usize, into: &mut [f64]) {
        match self {
            Given::Same(value) => into.fill(value),
            Given::Each(values) => into.copy_from_slice(&values[from..from + into.len()]),
        }
    }
}

#[derive(Debug, Clone, Copy)]
enum Step {
    Number(f64),
    Name(usize),
    /// The place on its scale of what is on top, by the worse and the better end; beyond an end counts as the end.
    Share(f64, f64),
    One(fn(f64) -> f64),
    Two(Sign),
}

/// What makes one of two.
#[derive(Debug, Clone, Copy)]
enum Sign {
    Plus,
    Minus,
    Times,
    Over,
    /// Any other.
    With(fn(f64, f64) -> f64),
}

impl Sign {
    /// One loop for each sign, so that several draws are computed at once.
    fn each(self, into: &mut [f64], other: &[f64]) {
        let both = into.iter_mut().zip(other);
        match self {
            Sign::Plus => both.for_each(|(a, b)| *a += b),
            Sign::Minus => both.for_each(|(a, b)| *a -= b),
            Sign::Times => both.for_each(|(a, b)| *a *= b),
            Sign::Over => both.for_each(|(a, b)| *a /= b),
            Sign::With(function) => both.for_each(|(a, b)| *a = function(*a, *b)),
        }
    }
}

/// A formula that was read without a fault.
#[derive(Debug, Clone)]
pub struct Formula {
    steps: Vec<Step>,
}

impl Formula {
    /// Reads a formula: numbers with a point, names, `+ − × ÷` (also `* /`), powers (`^`), brackets, `min` and `max` of
    /// two or more, `abs`, `sqrt`, `ln`, `log` to base 10 or `log(x, base)`; of a name with a scale `worst(name)`,
    /// `best(name)` and `share(name)`, which is 0 at the worse end and 1 at the better one. Linear.
    ///
    /// # Errors
    /// The first fault with its place.
    pub fn read(text: &str, known: &[Known<'_>]) -> Result<Self, FormulaFault> {
        let chars: Vec<char> = text.chars().collect();
        if chars.len() > LONGEST_FORMULA {
            let detail = format!("A formula has at most {LONGEST_FORMULA} characters.");
            return Err(FormulaFault { at: LONGEST_FORMULA, detail });
        }
        let mut reader = Reader { chars, at: 0, deep: 0, known, steps: Vec::new() };
        reader.sum()?;
        match reader.next() {
            None => Ok(Formula { steps: reader.steps }),
            Some(')') => reader.fault("There is no open bracket that this one closes."),
            Some(',') => {
                reader.fault("A comma only stands between the values of min, max or log; write 1.5 with a point.")
            }
            Some(other) => reader.fault(&format!("Nothing fits here that begins with '{other}'; is a sign missing?")),
        }
    }

    /// The places of the names that it uses, in the order of `known`, each once.
    #[must_use]
    pub fn names(&self) -> Vec<usize> {
        let mut all: Vec<usize> =
            self.steps.iter().filter_map(|step| if let Step::Name(at) = step { Some(*at) } else { None }).collect();
        all.sort_unstable();
        all.dedup();
        all
    }

    /// Its value where each name has one; nothing where that is no number (a division by nought, the root of less).
    #[must_use]
    pub fn value(&self, given: &[f64]) -> Option<f64> {
        let given: Vec<Given<'_>> = given.iter().map(|value| Given::Same(*value)).collect();
        let mut one = [0.0];
        self.values(&given, &mut one);
        one[0].is_finite().then_some(one[0])
    }

    /// Its values over the draws, which may be no numbers. O(steps × draws).
    pub fn values(&self, given: &[Given<'_>], into: &mut [f64]) {
        let mut stack: Vec<[f64; AT_A_TIME]> = Vec::new();
        let mut from = 0;
        for part in into.chunks_mut(AT_A_TIME) {
            let size = part.len();
            let mut top = 0;
            for step in &self.steps {
                match step {
                    Step::Number(_) | Step::Name(_) => {
                        if stack.len() == top {
                            stack.push([0.0; AT_A_TIME]);
                        }
                        let given = match step {
                            Step::Name(at) => given[*at],
                            Step::Number(value) => Given::Same(*value),
                            _ => Given::Same(0.0),
                        };
                        given.fill(from, &mut stack[top][..size]);
                        top += 1;
                    }
                    Step::Share(worst, best) => {
                        let width = best - worst;
                        stack[top - 1][..size].iter_mut().for_each(|v| *v = ((*v - worst) / width).clamp(0.0, 1.0));
                    }
                    Step::One(function) => stack[top - 1][..size].iter_mut().for_each(|v| *v = function(*v)),
                    Step::Two(sign) => {
                        let (lower, upper) = stack.split_at_mut(top - 1);
                        sign.each(&mut lower[top - 2][..size], &upper[0][..size]);
                        top -= 1;
                    }
                }
            }
            part.copy_from_slice(&stack[0][..size]);
            from += size;
        }
    }
}

struct Reader<'a> {
    chars: Vec<char>,
    at: usize,
    deep: usize,
    known: &'a [Known<'a>],
    steps: Vec<Step>,
}

type Read = Result<(), FormulaFault>;

impl Reader<'_> {
    fn next(&mut self) -> Option<char> {
        while self.chars.get(self.at).is_some_and(|c| c.is_whitespace()) {
            self.at += 1;
        }
        self.chars.get(self.at).copied()
    }

    fn fault<T>(&self, detail: &str) -> Result<T, FormulaFault> {
        Err(FormulaFault { at: self.at, detail: detail.to_owned() })
    }

    fn sum(&mut self) -> Read {
        self.deep += 1;
        if self.deep > DEEPEST {
            return self.fault("There are too many brackets within brackets here.");
        }
        self.product()?;
        loop {
            let with = match self.next() {
                Some('+') => Sign::Plus,
                Some('-' | '−' | '–') => Sign::Minus,
                _ => break,
            };
            self.at += 1;
            self.product()?;
            self.steps.push(Step::Two(with));
        }
        self.deep -= 1;
        Ok(())
    }

    fn product(&mut self) -> Read {
        self.signed()?;
        loop {
            let with = match self.next() {
                Some('*' | '×' | '·') => Sign::Times,
                Some('/' | '÷') => Sign::Over,
                _ => return Ok(()),
            };
            self.at += 1;
            self.signed()?;
            self.steps.push(Step::Two(with));
        }
    }

    fn signed(&mut self) -> Read {
        match self.next() {
            Some('-' | '−' | '–') => {
                self.at += 1;
                self.deep += 1;
                if self.deep > DEEPEST {
                    return self.fault("There are too many signs here.");
                }
                self.signed()?;
                self.deep -= 1;
                self.steps.push(Step::One(|v| -v));
                Ok(())
            }
            _ => self.power(),
        }
    }

    fn power(&mut self) -> Read {
        self.one()?;
        if self.next() == Some('^') {
            self.at += 1;
            self.deep += 1;
            if self.deep > DEEPEST {
                return self.fault("There are too many powers of powers here.");
            }
            self.signed()?;
            self.deep -= 1;
            self.steps.push(Step::Two(Sign::With(f64::powf)));
        }
        Ok(())
    }

    fn one(&mut self) -> Read {
        match self.next() {
            Some('(') => {
                self.at += 1;
                self.sum()?;
                self.close()
            }
            Some(c) if c.is_ascii_digit() || c == '.' => self.number(),
            Some(c) if c.is_alphabetic() || c == '_' => self.name(),
            Some(c) => self.fault(&format!("A number, a criterion or a bracket belongs here, not '{c}'.")),
            None => self.fault("The formula ends where a number or a criterion belongs."),
        }
    }

    fn close(&mut self) -> Read {
        if self.next() == Some(')') {
            self.at += 1;
            return Ok(());
        }
        self.fault("A bracket is open; close it here.")
    }

    fn number(&mut self) -> Read {
        let from = self.at;
        while self.chars.get(self.at).is_some_and(|c| c.is_ascii_digit() || *c == '.') {
            self.at += 1;
        }
        let text: String = self.chars[from..self.at].iter().collect();
        match text.parse() {
            Ok(number) => self.steps.push(Step::Number(number)),
            Err(_) => {
                self.at = from;
                return self.fault(&format!("'{text}' is no number."));
            }
        }
        Ok(())
    }

    fn word(&mut self) -> String {
        let from = self.at;
        while self.chars.get(self.at).is_some_and(|c| c.is_alphanumeric() || *c == '_') {
            self.at += 1;
        }
        self.chars[from..self.at].iter().collect()
    }

    fn name(&mut self) -> Read {
        let from = self.at;
        let word = self.word();
        if self.next() == Some('(') {
            self.at += 1;
            return self.call(&word, from);
        }
        self.at = from + word.chars().count();
        let at = self.place_of(&word, from)?;
        self.steps.push(Step::Name(at));
        Ok(())
    }

    fn place_of(&self, word: &str, from: usize) -> Result<usize, FormulaFault> {
        self.known.iter().position(|known| known.name == word).ok_or_else(|| {
            let all: Vec<&str> = self.known.iter().map(|known| known.name).collect();
            FormulaFault {
                at: from,
                detail: format!("There is no criterion '{word}' here; there is {}.", all.join(", ")),
            }
        })
    }

    fn call(&mut self, word: &str, from: usize) -> Read {
        match word {
            "abs" => self.of_one(f64::abs),
            "sqrt" => self.of_one(f64::sqrt),
            "ln" => self.of_one(f64::ln),
            "min" => self.of_several(|a, b| if b < a || b.is_nan() { b } else { a }),
            "max" => self.of_several(|a, b| if b > a || b.is_nan() { b } else { a }),
            "log" => self.log(),
            "share" | "worst" | "best" => self.of_scale(word),
            _ => {
                self.at = from;
                self.fault(&format!(
                    "There is no '{word}(…)'; there is min, max, abs, sqrt, ln, log, share, worst and best."
                ))
            }
        }
    }

    fn of_one(&mut self, function: fn(f64) -> f64) -> Read {
        self.sum()?;
        self.steps.push(Step::One(function));
        self.close()
    }

    fn of_several(&mut self, function: fn(f64, f64) -> f64) -> Read {
        self.sum()?;
        if self.next() != Some(',') {
            return self.fault("It takes two values or more, with commas between them.");
        }
        while self.next() == Some(',') {
            self.at += 1;
            self.sum()?;
            self.steps.push(Step::Two(Sign::With(function)));
        }
        self.close()
    }

    fn log(&mut self) -> Read {
        self.sum()?;
        if self.next() == Some(',') {
            self.at += 1;
            self.sum()?;
            self.steps.push(Step::Two(Sign::With(f64::log)));
        } else {
            self.steps.push(Step::One(f64::log10));
        }
        self.close()
    }

    fn of_scale(&mut self, word: &str) -> Read {
        self.next();
        let from = self.at;
        let name = self.word();
        let at = self.place_of(&name, from)?;
        let Some((worst, best)) = self.known[at].ends else {
            self.at = from;
            return self.fault(&format!("'{name}' has no scale; say where it begins and ends."));
        };
        match word {
            "worst" => self.steps.push(Step::Number(worst)),
            "best" => self.steps.push(Step::Number(best)),
            _ => self.steps.extend([Step::Name(at), Step::Share(worst, best)]),
        }
        self.close()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const KNOWN: [Known<'static>; 3] = [
        Known { name: "reach", ends: Some((0.0, 5_000.0)) },
        Known { name: "effort", ends: Some((20.0, 0.0)) },
        Known { name: "fit", ends: None },
    ];

    fn value(text: &str) -> Option<f64> {
        Formula::read(text, &KNOWN).unwrap_or_else(|fault| panic!("{text}: {fault:?}")).value(&[500.0, 4.0, 3.0])
    }

    #[test]
    fn ordinary_arithmetic_comes_out_as_by_hand() {
        for (text, by_hand) in [
            ("1 + 2 × 3", 7.0),
            ("(1 + 2) * 3", 9.0),
            ("10 − 4 − 3", 3.0),
            ("100 ÷ 5 / 2", 10.0),
            ("2 ^ 3 ^ 2", 512.0),
            ("-2 ^ 2", -4.0),
            ("2 ^ -1", 0.5),
            ("--3", 3.0),
            ("reach × fit / effort", 375.0),
            ("min(reach, 100, 200) + max(1, effort)", 104.0),
            ("abs(effort − 10)", 6.0),
            ("sqrt(effort)", 2.0),
            ("log(1000) + log(8, 2) + ln(1)", 6.0),
            ("share(reach)", 0.1),
            ("share(effort)", 0.8),
            ("worst(effort) - best(effort)", 20.0),
            (".5 * 1.", 0.5),
        ] {
            assert!((value(text).unwrap() - by_hand).abs() < 1e-12, "{text}: {:?}", value(text));
        }
        assert_eq!(value("reach / (effort − 4)"), None);
        assert_eq!(value("sqrt(0 − reach)"), None);
    }

    #[test]
    fn a_fault_is_told_with_its_place() {
        for (text, at, word) in [
            ("reach *", 7, "ends"),
            ("", 0, "ends"),
            ("reech * 2", 0, "no criterion 'reech'"),
            ("2 * reech", 4, "reach, effort, fit"),
            ("(reach + 2", 10, "close it"),
            ("reach + 2)", 9, "no open bracket"),
            ("reach 2", 6, "sign missing"),
            ("1,5 * reach", 1, "1.5 with a point"),
            ("1.2.3", 0, "no number"),
            ("min(reach)", 9, "two values"),
            ("round(reach)", 0, "no 'round(…)'"),
            ("share(fit)", 6, "no scale"),
            ("2 * * 3", 4, "not '*'"),
            ("reach & 2", 6, "begins with '&'"),
        ] {
            let fault = Formula::read(text, &KNOWN).unwrap_err();
            assert_eq!(fault.at, at, "{text}: {}", fault.detail);
            assert!(fault.detail.contains(word), "{text}: {}", fault.detail);
        }
        for deep in ["(".repeat(5_000), "-".repeat(1_900), format!("2{}", "^2".repeat(900))] {
            assert!(Formula::read(&deep, &KNOWN).is_err());
        }
    }

    /// A formula, and what it is, computed another way.
    fn grown() -> impl Strategy<Value = (String, f64)> {
        let leaf = prop_oneof![
            (1..100u8).prop_map(|n| (n.to_string(), f64::from(n))),
            Just(("reach".to_owned(), 500.0)),
            Just(("effort".to_owned(), 4.0)),
        ];
        leaf.prop_recursive(5, 40, 3, |inner| {
            (inner.clone(), inner, 0..6u8).prop_map(|((a, x), (b, y), sign)| match sign {
                0 => (format!("({a} + {b})"), x + y),
                1 => (format!("({a} − {b})"), x - y),
                2 => (format!("({a} × {b})"), x * y),
                3 => (format!("min({a}, {b})"), x.min(y)),
                4 => (format!("max({a},{b})"), x.max(y)),
                _ => (format!("−{a}"), -x),
            })
        })
    }

    proptest! {
        #[test]
        fn what_is_written_is_what_is_computed((text, expected) in grown()) {
            prop_assume!(text.chars().count() <= LONGEST_FORMULA);
            let found = value(&text);
            prop_assert!(found.is_none_or(|found| (found - expected).abs() <= 1e-9 * expected.abs().max(1.0)), "{}", text);
            prop_assert!(found.is_some() || !expected.is_finite());
        }

        #[test]
        fn no_text_stops_it(text in "[-+*/^().,a-z0-9 ×÷−]{0,60}") {
            if let Err(fault) = Formula::read(&text, &KNOWN) {
                prop_assert!(fault.at <= text.chars().count());
            }
        }

        #[test]
        fn many_draws_are_each_computed_alone(reach in prop::collection::vec(0.0..5_000.0f64, 1..1_200)) {
            let formula = Formula::read("sqrt(reach) × fit + share(reach) / effort", &KNOWN).unwrap();
            let mut all = vec![0.0; reach.len()];
            formula.values(&[Given::Each(&reach), Given::Same(4.0), Given::Same(3.0)], &mut all);
            for (n, value) in all.iter().enumerate() {
                prop_assert_eq!(Some(*value), formula.value(&[reach[n], 4.0, 3.0]));
            }
        }
    }
}
