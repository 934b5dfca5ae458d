//! What a decision or a prioritisation rested on, as it was, and what moved since.

use std::collections::BTreeMap;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use super::super::{Graded, Voices};
use super::estimate::Estimate;
use super::model::{ModelDefinition, Scorer};
use super::range::EstimateRange;
use super::ranking::{Estimated, IdeaPlace};
use crate::formats::blocks::Block;
use crate::things::IdeaId;

/// The model that was used.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UsedModel {
    /// Its number, where a team made it.
    pub id: Option<i64>,
    /// Its version; nothing for one that comes with the product.
    pub version: Option<i64>,
    /// What it was.
    pub definition: ModelDefinition,
}

/// An idea with its place and what that rested on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KeptPlace {
    /// What it was called.
    pub title: String,
    /// Its place.
    pub place: IdeaPlace,
    /// The estimates by the names of the fields.
    pub fields: BTreeMap<String, Estimated>,
}

/// What a decision rested on: numbers and evidence of that moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Frozen {
    /// The model.
    pub model: UsedModel,
    /// The idea's place.
    pub kept: KeptPlace,
    /// Among so many that had a score.
    pub of: usize,
    /// How well the idea was supported.
    pub evidence: Graded,
    /// Who stood behind it.
    pub voices: Voices,
}

/// A whole ranking as it was.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KeptRanking {
    /// The model.
    pub model: UsedModel,
    /// How many made the cut.
    pub top: usize,
    /// The places, best first.
    pub places: Vec<KeptPlace>,
    /// The report that was written of it.
    pub blocks: Vec<Block>,
}

/// The field that follows from the evidence where nobody says it.
pub const CONFIDENCE: &str = "confidence";
/// The field that is nought, and not unknown, where no account stands behind an idea.
const REVENUE: &str = "revenue";

/// What counts for a field of an idea: its value, as the likely one, with the ends that were agreed on; where it has none, the
/// confidence that the evidence gives, and no revenue where nobody pays. Nothing where nothing is known.
#[must_use]
pub fn counts(field: &str, value: Option<f64>, agreed: Option<&Estimate>, told: Option<&Graded>) -> Option<Estimated> {
    let instead = match field {
        CONFIDENCE => told.map(|told| told.confidence),
        REVENUE => Some(0.0),
        _ => None,
    };
    let Some(likely) = value else {
        return instead.map(|value| Estimated { range: EstimateRange::exactly(value), by: None });
    };
    let range = EstimateRange::around(likely, agreed.map(|one| one.low), agreed.map(|one| one.high));
    Some(Estimated { range, by: agreed.and_then(|one| one.by_id) })
}

/// So much more or less confidence is worth another look.
const SURER: f64 = 0.15;
/// So many times as many people are.
const PEOPLE: f64 = 1.5;

/// Why a decision is to be looked at again: its day has come, or what it rested on is no more so. `fields` are the present
/// estimates, by the names of the fields. Linear.
#[must_use]
pub fn look_again(
    frozen: &Frozen,
    evidence: &Graded,
    voices: &Voices,
    fields: &BTreeMap<String, Estimated>,
    due: Option<Date>,
    today: Date,
) -> Vec<String> {
    let mut reasons: Vec<String> = day_came(due, today).into_iter().collect();
    if evidence.grade != frozen.evidence.grade {
        reasons.push(format!("The evidence was: {}; now: {}.", frozen.evidence.grade.words(), evidence.grade.words()));
    } else if (evidence.confidence - frozen.evidence.confidence).abs() >= SURER - 1e-9 {
        reasons.push(format!(
            "The evidence gave a confidence of {:.2}; now {:.2}.",
            frozen.evidence.confidence, evidence.confidence
        ));
    }
    let (before, now) = (frozen.voices.people, voices.people);
    if number(now) >= PEOPLE * number(before) && now >= before + 5 {
        reasons.push(format!("{before} people stood behind it; now {now}."));
    }
    reasons.extend(moved_score(frozen, fields));
    reasons
}

/// That the day has come on which a decision was to be looked at again.
#[must_use]
pub fn day_came(due: Option<Date>, today: Date) -> Option<String> {
    due.filter(|due| *due <= today).map(|due| format!("It was to be looked at again on {due}."))
}

/// Where the score, with everything as likely, lies now outside of what it might be then.
fn moved_score(frozen: &Frozen, fields: &BTreeMap<String, Estimated>) -> Option<String> {
    let spread = frozen.kept.place.spread?;
    let scorer = frozen.model.definition.check().ok()?;
    let now = likely(&scorer, fields)?;
    let slack = 1e-6 * (1.0 + spread.median.abs());
    (now < spread.low - slack || now > spread.high + slack).then(|| {
        format!(
            "Its {} was {}, and might be {} to {}; now it is {}.",
            frozen.model.definition.title,
            shown(spread.median),
            shown(spread.low),
            shown(spread.high),
            shown(now)
        )
    })
}

fn likely(scorer: &Scorer, fields: &BTreeMap<String, Estimated>) -> Option<f64> {
    let values: Option<Vec<f64>> =
        scorer.fields().iter().map(|name| fields.get(name).map(|one| one.range.likely)).collect();
    scorer.score(&values?)
}

/// An idea that stands elsewhere than before, and what of it changed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MovedIdea {
    /// The idea.
    pub idea: IdeaId,
    /// Where it stood; nothing where it was not ranked.
    pub from: Option<usize>,
    /// Where it stands; nothing where it is not ranked.
    pub to: Option<usize>,
    /// What changed of it, in words: its estimates, from and to. Empty where only others moved.
    pub because: Vec<String>,
}

/// What moved between two rankings, in the order of the later one; those that only left come last. O(n log n).
#[must_use]
pub fn moved_ideas(before: &[KeptPlace], now: &[KeptPlace]) -> Vec<MovedIdea> {
    let by_idea = |places: &[KeptPlace]| -> BTreeMap<IdeaId, usize> {
        places.iter().enumerate().map(|(at, one)| (one.place.idea, at)).collect()
    };
    let (was, is) = (by_idea(before), by_idea(now));
    let mut moved = Vec::new();
    for one in now {
        let old = was.get(&one.place.idea).map(|at| &before[*at]);
        let from = old.and_then(|old| old.place.rank);
        if from != one.place.rank {
            let because = old.map_or_else(Vec::new, |old| changed(&old.fields, &one.fields));
            moved.push(MovedIdea { idea: one.place.idea, from, to: one.place.rank, because });
        }
    }
    let gone = before.iter().filter(|one| !is.contains_key(&one.place.idea) && one.place.rank.is_some());
    moved.extend(gone.map(|one| MovedIdea {
        idea: one.place.idea,
        from: one.place.rank,
        to: None,
        because: vec!["it is no longer among those to be ranked".into()],
    }));
    moved
}

fn changed(before: &BTreeMap<String, Estimated>, now: &BTreeMap<String, Estimated>) -> Vec<String> {
    let names: std::collections::BTreeSet<&String> = before.keys().chain(now.keys()).collect();
    let told = |one: Option<&Estimated>| one.map_or("nothing".to_owned(), range_words);
    names
        .into_iter()
        .filter(|name| before.get(*name).map(|one| one.range) != now.get(*name).map(|one| one.range))
        .map(|name| {
            let (from, to) = (told(before.get(name)), told(now.get(name)));
            format!("{} from {from} to {to}", name.replace('_', " "))
        })
        .collect()
}

/// An estimate in words: one number, or low, likely and high.
#[must_use]
pub fn range_words(one: &Estimated) -> String {
    let range = one.range;
    if range.is_exact() {
        return shown(range.likely);
    }
    format!("{} ({} to {})", shown(range.likely), shown(range.low), shown(range.high))
}

/// A number as people write it: three places that count, thousands apart.
#[must_use]
pub fn shown(value: f64) -> String {
    let size = value.abs();
    if size == 0.0 {
        return "0".into();
    }
    let places = if size >= 100.0 {
        0
    } else if size >= 10.0 {
        1
    } else {
        2
    };
    let text = format!("{value:.places$}");
    let text = if places > 0 { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text };
    let (sign, digits) = text.strip_prefix('-').map_or(("", text.as_str()), |rest| ("−", rest));
    let (whole, rest) = digits.split_at(digits.find('.').unwrap_or(digits.len()));
    let mut grouped = String::new();
    for (n, digit) in whole.chars().enumerate() {
        if n > 0 && (whole.len() - n) % 3 == 0 {
            grouped.push(',');
        }
        grouped.push(digit);
    }
    format!("{sign}{grouped}{rest}")
}

#[allow(clippy::cast_precision_loss, reason = "counts of people")]
fn number(count: usize) -> f64 {
    count as f64
}

#[cfg(test)]
mod tests {
    use super::super::super::Grade;
    use super::super::first_models::first_model;
    use super::super::model::Method;
    use super::super::ranking::{Candidate, Draw, ranked};
    use super::*;
    use jiff::civil::date;

    fn known(value: f64) -> Estimated {
        Estimated { range: EstimateRange::exactly(value), by: None }
    }

    fn fields(reach: f64) -> BTreeMap<String, Estimated> {
        let all = [("reach", reach), ("impact", 2.0), ("confidence", 0.5), ("effort", 4.0)];
        all.into_iter().map(|(name, value)| (name.to_owned(), known(value))).collect()
    }

    fn place(idea: i64, reach: f64, rank: usize) -> KeptPlace {
        let definition = first_model(Method::Rice);
        let scorer = definition.check().unwrap();
        let fields = fields(reach);
        let candidate = Candidate {
            idea: IdeaId(idea),
            fields: scorer.fields().iter().map(|name| fields.get(name).copied()).collect(),
        };
        let place = ranked(&scorer, &[candidate], Draw { count: 100, seed: 7, top: 1 }).places.remove(0);
        KeptPlace { title: format!("Idea {idea}"), place: IdeaPlace { rank: Some(rank), ..place }, fields }
    }

    fn frozen() -> Frozen {
        Frozen {
            model: UsedModel { id: None, version: None, definition: first_model(Method::Rice) },
            kept: place(1, 400.0, 1),
            of: 3,
            evidence: Graded { grade: Grade::Said, confidence: 0.2, reasons: vec![] },
            voices: Voices { people: 4, ..Voices::default() },
        }
    }

    #[test]
    fn a_decision_is_looked_at_again_when_its_day_comes_or_what_it_rested_on_is_gone() {
        let today = date(2026, 11, 27);
        let was = frozen();
        let (evidence, voices) = (was.evidence.clone(), was.voices);
        let look = |evidence: &Graded, voices: &Voices, reach: f64, due| {
            look_again(&was, evidence, voices, &fields(reach), due, today)
        };
        assert!(look(&evidence, &voices, 400.0, Some(date(2026, 11, 28))).is_empty());
        assert_eq!(look(&evidence, &voices, 400.0, Some(today)).len(), 1);
        let tested = Graded { grade: Grade::Tested, confidence: 0.1, reasons: vec![] };
        assert_eq!(look(&tested, &voices, 400.0, None), ["The evidence was: somebody said it; now: it was tested."]);
        let surer = Graded { confidence: 0.35, ..evidence.clone() };
        assert_eq!(look(&surer, &voices, 400.0, None), ["The evidence gave a confidence of 0.20; now 0.35."]);
        let more = Voices { people: 9, ..voices };
        assert_eq!(look(&evidence, &more, 400.0, None), ["4 people stood behind it; now 9."]);
        assert!(look(&evidence, &Voices { people: 8, ..voices }, 400.0, None).is_empty());
        let told = look(&evidence, &voices, 800.0, None);
        assert_eq!(told, ["Its RICE was 100, and might be 100 to 100; now it is 200."]);
    }

    #[test]
    fn what_nobody_says_follows_from_what_is_known() {
        let told = Graded { grade: Grade::Said, confidence: 0.2, reasons: vec![] };
        let agreed = Estimate {
            id: 1,
            rev: 1,
            idea_id: IdeaId(1),
            field: CONFIDENCE.into(),
            by_id: Some(4),
            agreed: 1,
            low: 0.4,
            likely: 0.5,
            high: 0.7,
            reason: None,
        };
        let said = counts(CONFIDENCE, Some(0.8), Some(&agreed), Some(&told)).unwrap();
        assert_eq!((said.range, said.by), (EstimateRange { low: 0.4, likely: 0.8, high: 0.8 }, Some(4)));
        assert_eq!(counts(CONFIDENCE, None, Some(&agreed), Some(&told)), Some(known(0.2)));
        assert_eq!(counts("revenue", None, None, None), Some(known(0.0)));
        assert_eq!(counts("reach", None, None, Some(&told)), None);
    }

    #[test]
    fn what_moved_says_why() {
        let before = [place(1, 400.0, 1), place(2, 300.0, 2), place(3, 200.0, 3)];
        let now = [place(2, 500.0, 1), place(1, 400.0, 2), place(4, 100.0, 3)];
        let moved = moved_ideas(&before, &now);
        let told: Vec<(i64, Option<usize>, Option<usize>, usize)> =
            moved.iter().map(|one| (one.idea.0, one.from, one.to, one.because.len())).collect();
        assert_eq!(
            told,
            [(2, Some(2), Some(1), 1), (1, Some(1), Some(2), 0), (4, None, Some(3), 0), (3, Some(3), None, 1)]
        );
        assert_eq!(moved[0].because, ["reach from 300 to 500"]);
        assert!(moved_ideas(&now, &now).is_empty());
    }

    #[test]
    fn numbers_are_written_as_people_do() {
        for (value, text) in [
            (0.0, "0"),
            (0.256, "0.26"),
            (1.5, "1.5"),
            (41.25, "41.2"),
            (1_234.4, "1,234"),
            (-1_234_567.0, "−1,234,567"),
            (100.0, "100"),
            (2.0, "2"),
        ] {
            assert_eq!(shown(value), text);
        }
    }
}
