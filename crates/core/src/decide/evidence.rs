//! How well an idea is supported: its grade of evidence, and the confidence that follows from it.
//!
//! The rule and its numbers are ours (`docs/methods/evidence.md`); what somebody did counts for more than what somebody
//! said, and what was measured for more than both.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// How well supported an idea is, from the least to the most.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Grade {
    /// Nothing stands behind it.
    Hunch,
    /// One voice or two: people of one account are one voice.
    Said,
    /// Several voices that do not depend on one another.
    SaidBySeveral,
    /// A survey's numbers.
    Surveyed,
    /// What people were seen to do.
    Observed,
    /// A test of the idea: the result of an increment.
    Tested,
    /// What was measured after it went out.
    Measured,
}

impl Grade {
    /// All of them, from the least to the most.
    pub const ALL: [Grade; 7] = [
        Grade::Hunch,
        Grade::Said,
        Grade::SaidBySeveral,
        Grade::Surveyed,
        Grade::Observed,
        Grade::Tested,
        Grade::Measured,
    ];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Grade::Hunch => "hunch",
            Grade::Said => "said",
            Grade::SaidBySeveral => "said_by_several",
            Grade::Surveyed => "surveyed",
            Grade::Observed => "observed",
            Grade::Tested => "tested",
            Grade::Measured => "measured",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(Grade::name).collect()
    }

    /// What it means, in words.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Grade::Hunch => "a hunch",
            Grade::Said => "somebody said it",
            Grade::SaidBySeveral => "several said it independently",
            Grade::Surveyed => "a survey has numbers on it",
            Grade::Observed => "people were seen doing it",
            Grade::Tested => "it was tested",
            Grade::Measured => "its result was measured",
        }
    }

    /// The confidence that it begins with, 0 – 1.
    fn begins(self) -> f64 {
        match self {
            Grade::Hunch => 0.1,
            Grade::Said => 0.2,
            Grade::SaidBySeveral => 0.35,
            Grade::Surveyed => 0.45,
            Grade::Observed => 0.55,
            Grade::Tested => 0.75,
            Grade::Measured => 0.9,
        }
    }
}

/// What a result says of what it was to show.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// It showed it.
    Held,
    /// It can be read either way.
    Unclear,
    /// It showed the contrary.
    Failed,
}

impl Verdict {
    /// The names in the store and the API.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        vec!["held", "unclear", "failed"]
    }
}

/// A result on an idea.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub struct Shown {
    /// The day.
    pub on: Date,
    /// Whether it is one increment's, and so a test of the idea, not what came of the whole.
    pub test: bool,
    /// What it says; nothing counts as unclear.
    pub verdict: Option<Verdict>,
}

/// What a study's method tells beside what people say.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// Numbers of many who were asked the same.
    Survey,
    /// What people were seen to do.
    Observation,
}

/// What a study's method tells, by the trade's words in it; nothing where people are only talked with.
#[must_use]
pub fn way_of(method: &str) -> Option<Way> {
    let method = method.to_lowercase();
    let one_of = |words: &[&str]| words.iter().any(|word| method.contains(word));
    if one_of(&["survey", "questionnaire", "poll"]) {
        Some(Way::Survey)
    } else if one_of(&["observ", "usability", "first-use", "recorded", "experiment", "field visit"]) {
        Some(Way::Observation)
    } else {
        None
    }
}

/// What stands behind an idea.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub struct Behind {
    /// Voices that do not depend on one another: accounts, and people without one.
    pub voices: usize,
    /// The newest day on which one of them spoke.
    pub newest: Option<Date>,
    /// Answers to surveys that inform it.
    pub surveyed: usize,
    /// People who were seen in the studies that inform it.
    pub observed: usize,
    /// Its results.
    pub results: Vec<Shown>,
}

/// How well an idea is supported, and why.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Graded {
    /// The grade.
    pub grade: Grade,
    /// The confidence that follows, 0 – 1, to two places.
    pub confidence: f64,
    /// How it came about, in words: each step of the rule.
    pub reasons: Vec<String>,
}

/// So many voices are several.
const SEVERAL: usize = 3;
/// A survey has numbers from so many answers on.
const ANSWERS: usize = 20;
/// What was said longer ago than this counts for less.
const OLD_DAYS: i32 = 365;

/// Grades what stands behind an idea.
///
/// ```text
/// confidence = begins(grade) + 0.15 · (1 − 3 / (voices + 2)) for more than one voice, − 0.1 where the newest is old
/// ```
///
/// Where there are results, the newest says more than all else: what failed leaves 0.05 (measured) or 0.1 (tested), what
/// is unclear 0.5. Better evidence never lowers the grade. Linear.
#[must_use]
pub fn graded(behind: &Behind, today: Date) -> Graded {
    let grade = grade_of(behind);
    let mut confidence = grade.begins();
    let mut reasons = vec![format!("{}: {:.2}", capital(grade.words()), confidence)];
    match newest_result(behind) {
        Some(result) => {
            let (value, words) = match (result.verdict, result.test) {
                (Some(Verdict::Held), _) => (confidence, "showed what it should"),
                (Some(Verdict::Failed), true) => (0.1, "showed the contrary"),
                (Some(Verdict::Failed), false) => (0.05, "showed the contrary"),
                (Some(Verdict::Unclear) | None, _) => (0.5, "can be read either way"),
            };
            confidence = value;
            let what = if result.test { "test" } else { "result" };
            reasons.push(format!("The newest {what}, of {}, {words}: {value:.2}", result.on));
        }
        None => {
            if behind.voices > 1 {
                let more = 0.15 * (1.0 - 3.0 / (number(behind.voices) + 2.0));
                confidence += more;
                reasons.push(format!("{} independent voices: +{more:.2}", behind.voices));
            }
            if let Some(newest) = behind.newest.filter(|newest| days(*newest, today) > OLD_DAYS) {
                confidence -= 0.1;
                reasons.push(format!("The newest of them is of {newest}, more than a year ago: −0.10"));
            }
        }
    }
    Graded { grade, confidence: (confidence.clamp(0.01, 0.99) * 100.0).round() / 100.0, reasons }
}

fn grade_of(behind: &Behind) -> Grade {
    if behind.results.iter().any(|result| !result.test) {
        Grade::Measured
    } else if !behind.results.is_empty() {
        Grade::Tested
    } else if behind.observed > 0 {
        Grade::Observed
    } else if behind.surveyed >= ANSWERS {
        Grade::Surveyed
    } else if behind.voices >= SEVERAL {
        Grade::SaidBySeveral
    } else if behind.voices > 0 {
        Grade::Said
    } else {
        Grade::Hunch
    }
}

/// The newest result; of one day, that of the whole idea before that of a step, and what failed before what held.
fn newest_result(behind: &Behind) -> Option<&Shown> {
    let bad = |result: &Shown| match result.verdict {
        Some(Verdict::Failed) => 2,
        Some(Verdict::Unclear) | None => 1,
        Some(Verdict::Held) => 0,
    };
    behind.results.iter().max_by_key(|result| (result.on, !result.test, bad(result)))
}

fn days(from: Date, to: Date) -> i32 {
    to.since(from).map_or(0, |span| span.get_days())
}

fn number(count: usize) -> f64 {
    f64::from(u32::try_from(count).unwrap_or(u32::MAX))
}

fn capital(words: &str) -> String {
    let mut chars = words.chars();
    chars.next().map(|first| first.to_uppercase().chain(chars).collect()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    const TODAY: Date = date(2026, 11, 27);

    fn shown(on: Date, test: bool, verdict: Verdict) -> Shown {
        Shown { on, test, verdict: Some(verdict) }
    }

    #[test]
    fn each_step_of_the_ladder_is_reached() {
        let said = |voices| Behind { voices, newest: Some(TODAY), ..Behind::default() };
        let told = |behind: &Behind| {
            let told = graded(behind, TODAY);
            (told.grade, told.confidence)
        };
        assert_eq!(told(&Behind::default()), (Grade::Hunch, 0.1));
        assert_eq!(told(&said(1)), (Grade::Said, 0.2));
        assert_eq!(told(&said(3)), (Grade::SaidBySeveral, 0.41));
        assert_eq!(told(&Behind { surveyed: 19, ..said(1) }).0, Grade::Said);
        assert_eq!(told(&Behind { surveyed: 20, ..said(1) }), (Grade::Surveyed, 0.45));
        assert_eq!(told(&Behind { observed: 5, ..said(1) }), (Grade::Observed, 0.55));
        let tested = Behind { results: vec![shown(TODAY, true, Verdict::Held)], ..said(4) };
        assert_eq!(told(&tested), (Grade::Tested, 0.75));
        let measured = Behind { results: vec![shown(TODAY, false, Verdict::Held)], ..said(4) };
        assert_eq!(told(&measured), (Grade::Measured, 0.9));
    }

    #[test]
    fn methods_are_known_by_the_words_of_the_trade() {
        assert_eq!(way_of("Usability test"), Some(Way::Observation));
        assert_eq!(way_of("observation"), Some(Way::Observation));
        assert_eq!(way_of("customer survey"), Some(Way::Survey));
        assert_eq!(way_of("interview"), None);
    }

    #[test]
    fn a_result_that_shows_the_contrary_takes_the_confidence_away() {
        let mut behind = Behind { voices: 40, newest: Some(TODAY), ..Behind::default() };
        let before = graded(&behind, TODAY).confidence;
        behind.results.push(shown(date(2026, 10, 1), true, Verdict::Held));
        assert!(graded(&behind, TODAY).confidence > before);
        behind.results.push(shown(date(2026, 11, 1), true, Verdict::Failed));
        let after = graded(&behind, TODAY);
        assert_eq!((after.grade, after.confidence), (Grade::Tested, 0.1));
        assert_eq!(after.reasons.last().unwrap(), "The newest test, of 2026-11-01, showed the contrary: 0.10");
    }

    #[test]
    fn what_was_said_long_ago_counts_for_less() {
        let old = Behind { voices: 1, newest: Some(date(2025, 11, 1)), ..Behind::default() };
        assert_eq!(graded(&old, TODAY).confidence, 0.1);
        assert_eq!(graded(&old, TODAY).reasons.len(), 2);
    }

    proptest! {
        #[test]
        fn more_voices_never_lower_it_and_it_stays_between_nought_and_one(
            voices in 0..500usize, surveyed in 0..50usize, observed in 0..5usize, age in 0..800i64,
        ) {
            let newest = Some(TODAY.saturating_sub(jiff::Span::new().days(age)));
            let behind = Behind { voices, surveyed, observed, newest, ..Behind::default() };
            let told = graded(&behind, TODAY);
            let more = graded(&Behind { voices: voices + 1, ..behind.clone() }, TODAY);
            prop_assert!((0.0..=1.0).contains(&told.confidence));
            prop_assert!(more.confidence >= told.confidence && more.grade >= told.grade);
            // Without a result, talk alone is never as good as a test.
            prop_assert!(told.confidence < Grade::Tested.begins());
        }
    }
}
