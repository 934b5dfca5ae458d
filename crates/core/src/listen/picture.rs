//! Pictures of what was said: how much of it, by whom and with which colour, in parts and over time.

use std::collections::{BTreeMap, BTreeSet};

use jiff::civil::Date;
use jiff::{ToSpan, Unit};
use serde::{Deserialize, Serialize};

use super::volume::{Spread, spread};

/// Excerpts that were said together: what a part of a picture adds up.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Heap {
    /// How many of them speak against, neither, and for.
    pub spread: Spread,
    /// The sum of their sentiments.
    pub sum: f64,
}

impl Heap {
    /// One excerpt.
    #[must_use]
    pub fn one(sentiment: f64) -> Self {
        Heap { spread: spread([sentiment]), sum: sentiment }
    }

    /// How many there are.
    #[must_use]
    pub fn excerpts(&self) -> usize {
        self.spread.against + self.spread.neutral + self.spread.for_it
    }

    fn add(&mut self, other: &Heap) {
        self.spread.against += other.spread.against;
        self.spread.neutral += other.spread.neutral;
        self.spread.for_it += other.spread.for_it;
        self.sum += other.sum;
    }

    #[expect(clippy::cast_precision_loss, reason = "counts of excerpts are far below 2^52")]
    fn mean(&self) -> f64 {
        self.sum / self.excerpts().max(1) as f64
    }
}

/// One part of a picture: a source, a segment, a kind …
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Part {
    /// What it is asked for by; nothing for what belongs to none.
    pub key: Option<String>,
    /// What people call it; nothing for what belongs to none.
    pub label: Option<String>,
    /// How many excerpts.
    pub excerpts: usize,
    /// How many of them speak against, neither, and for.
    pub spread: Spread,
    /// Their mean sentiment, worst −1 to best +1.
    pub mean: f64,
}

/// Parts of a whole, the largest first, of heaps that each belong to one of them. n log n.
#[must_use]
pub fn parts<'a>(heaps: impl IntoIterator<Item = (Option<(&'a str, &'a str)>, &'a Heap)>) -> Vec<Part> {
    let mut all: BTreeMap<Option<(&str, &str)>, Heap> = BTreeMap::new();
    for (name, heap) in heaps {
        all.entry(name).or_default().add(heap);
    }
    let part = |(name, heap): (Option<(&str, &str)>, Heap)| Part {
        key: name.map(|(key, _)| key.to_owned()),
        label: name.map(|(_, label)| label.to_owned()),
        excerpts: heap.excerpts(),
        spread: heap.spread,
        mean: heap.mean(),
    };
    let mut parts: Vec<Part> = all.into_iter().map(part).collect();
    parts.sort_by_key(|part| std::cmp::Reverse(part.excerpts));
    parts
}

/// The mean sentiment of parts together, worst −1 to best +1; nothing where they hold nothing. Linear.
#[must_use]
#[expect(clippy::cast_precision_loss, reason = "counts of excerpts are far below 2^52")]
pub fn mean_of(parts: &[Part]) -> Option<f64> {
    let all: usize = parts.iter().map(|part| part.excerpts).sum();
    let sum: f64 = parts.iter().map(|part| part.mean * part.excerpts as f64).sum();
    (all > 0).then(|| sum / all as f64)
}

/// A stretch of time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretch {
    /// Its first day.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub from: Date,
    /// Its last day.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub to: Date,
    /// How many excerpts.
    pub excerpts: usize,
    /// How many of them speak against, neither, and for.
    pub spread: Spread,
    /// Their mean sentiment, worst −1 to best +1.
    pub mean: f64,
}

/// What was said over time.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OverTime {
    /// Stretches of time, the oldest first, without a gap.
    pub stretches: Vec<Stretch>,
    /// Excerpts that are in none of them: said on no known day, before the first, or after today.
    pub left_out: usize,
}

/// Up to so many weeks are shown as weeks; what spans more, as months.
pub const MOST_WEEKS: i32 = 26;
/// At most so many months are shown.
pub const MOST_MONTHS: i32 = 36;

/// What was said over time: in weeks that end today where all of it fits into [`MOST_WEEKS`], else in months of the calendar,
/// the last [`MOST_MONTHS`] of them. What that leaves out is counted. n log n.
#[must_use]
pub fn over_time<'a>(heaps: impl IntoIterator<Item = (Option<Date>, &'a Heap)>, today: Date) -> OverTime {
    let mut by_day: BTreeMap<Date, Heap> = BTreeMap::new();
    let mut all = 0;
    for (day, heap) in heaps {
        all += heap.excerpts();
        if let Some(day) = day.filter(|day| *day <= today) {
            by_day.entry(day).or_default().add(heap);
        }
    }
    let Some((first, _)) = by_day.first_key_value() else { return OverTime { left_out: all, ..OverTime::default() } };
    let stretch = |(from, to)| {
        let mut within = Heap::default();
        by_day.range(from..=to).for_each(|(_, heap)| within.add(heap));
        Stretch { from, to, excerpts: within.excerpts(), spread: within.spread, mean: within.mean() }
    };
    let stretches: Vec<Stretch> = stretches(*first, today).into_iter().map(stretch).collect();
    let shown: usize = stretches.iter().map(|one| one.excerpts).sum();
    OverTime { stretches, left_out: all - shown }
}

fn stretches(first: Date, today: Date) -> Vec<(Date, Date)> {
    let days = (today - first).get_days();
    if days < MOST_WEEKS * 7 {
        return (0..=days / 7)
            .rev()
            .map(|ago| {
                let to = today.saturating_sub((ago * 7).days());
                (to.saturating_sub(6.days()), to)
            })
            .collect();
    }
    let (start, end) = (first.first_of_month(), today.first_of_month());
    let months = start.until((Unit::Month, end)).map_or(0, |span| span.get_months()).min(MOST_MONTHS - 1);
    (0..=months)
        .rev()
        .map(|ago| {
            let from = end.saturating_sub(ago.months());
            (from, from.last_of_month())
        })
        .collect()
}

/// Frustration, with its parts.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Frustration {
    /// How many distinct people.
    pub people: usize,
    /// How bad it is for them: the mean over the excerpts of how far each lies below zero, 0 to 1.
    pub negativity: f64,
    /// People × negativity.
    pub frustration: f64,
}

/// How much many people suffer from something: one who is desperate weighs as much as ten who are slightly put out, and praise
/// takes nothing from anybody's trouble. Linear.
///
/// ```text
/// frustration = people · Σ max(0, −sentiment) / excerpts
/// ```
#[must_use]
#[expect(clippy::cast_precision_loss, reason = "counts of people are far below 2^52")]
pub fn frustration(people: usize, sentiments: &[f64]) -> Frustration {
    let sum: f64 = sentiments.iter().map(|sentiment| (-sentiment).max(0.0)).sum();
    let negativity = sum / sentiments.len().max(1) as f64;
    Frustration { people, negativity, frustration: people as f64 * negativity }
}

/// What of the people behind a finding is not known, or is not enough to build on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Unknown {
    /// Fewer than [`FEW_PEOPLE`] people said it.
    FewPeople {
        /// So many.
        people: usize,
    },
    /// All whose segment is known are of one, though the product has others.
    OneSegment {
        /// Which.
        segment: String,
    },
    /// Of nobody is it known to what segment they belong.
    NoSegment,
    /// All of it came by one source.
    OneSource {
        /// Which.
        source: String,
    },
    /// Nobody has said it for more than [`OLD_DAYS`] days.
    Old {
        /// The day when it was said last.
        last: Date,
    },
    /// More than half of it was said by people whose names are not known; they may be few.
    Nameless {
        /// So many excerpts.
        excerpts: usize,
    },
}

impl Unknown {
    /// In words, to stand behind what people say.
    #[must_use]
    pub fn words(&self) -> String {
        match self {
            Unknown::FewPeople { people: 1 } => "only 1 person said it, which may be chance".into(),
            Unknown::FewPeople { people } => format!("only {people} people said it, which may be chance"),
            Unknown::OneSegment { segment } => {
                format!("all whose segment is known are {segment}; nobody else was heard")
            }
            Unknown::NoSegment => "of nobody is the segment known".into(),
            Unknown::OneSource { source } => format!("all of it came by one source, {source}"),
            Unknown::Old { last } => format!("nobody has said it since {last}"),
            Unknown::Nameless { excerpts: 1 } => "1 excerpt bears no name".into(),
            Unknown::Nameless { excerpts } => format!("{excerpts} excerpts bear no name and may be of few people"),
        }
    }
}

/// Fewer people may be chance.
pub const FEW_PEOPLE: usize = 5;
/// What was not said for so many days may be over.
pub const OLD_DAYS: i32 = 180;

/// One voice behind a finding, as far as it matters to what is unknown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Voice<'a> {
    /// Who, where known.
    pub person: Option<i64>,
    /// The segment, where known.
    pub segment: Option<&'a str>,
    /// The source's name.
    pub source: &'a str,
    /// The day, where known.
    pub said_on: Option<Date>,
}

/// What is unknown of a finding, beside what it says. `segments` is the number of segments that the product's people are of.
/// n log n.
#[must_use]
pub fn unknown(voices: &[Voice<'_>], segments: usize, today: Date) -> Vec<Unknown> {
    let people: BTreeSet<i64> = voices.iter().filter_map(|voice| voice.person).collect();
    let nameless = voices.iter().filter(|voice| voice.person.is_none()).count();
    let mut found = Vec::new();
    if nameless * 2 > voices.len() {
        found.push(Unknown::Nameless { excerpts: nameless });
    } else if people.len() < FEW_PEOPLE {
        found.push(Unknown::FewPeople { people: people.len() });
    }
    let known: BTreeSet<&str> = voices.iter().filter_map(|voice| voice.segment).collect();
    match (known.len(), known.first()) {
        (0, _) if segments > 0 => found.push(Unknown::NoSegment),
        (1, Some(segment)) if segments > 1 => found.push(Unknown::OneSegment { segment: (*segment).to_owned() }),
        _ => {}
    }
    let sources: BTreeSet<&str> = voices.iter().map(|voice| voice.source).collect();
    if let (1, Some(source)) = (sources.len(), sources.first()) {
        found.push(Unknown::OneSource { source: (*source).to_owned() });
    }
    if let Some(last) = voices.iter().filter_map(|voice| voice.said_on).max()
        && (today - last).get_days() > OLD_DAYS
    {
        found.push(Unknown::Old { last });
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    const TODAY: Date = date(2026, 6, 30);

    #[test]
    fn the_mean_of_parts_is_that_of_all_they_hold() {
        let heaps = [Heap::one(-1.0), Heap::one(0.5), Heap::one(0.5)];
        let parts = parts([Some(("a", "a")), Some(("b", "b")), Some(("b", "b"))].into_iter().zip(&heaps));
        assert_eq!(mean_of(&parts), Some(0.0));
        assert_eq!(mean_of(&[]), None);
    }

    #[test]
    fn parts_add_up_what_belongs_to_each() {
        let heaps = [Heap::one(-0.5), Heap::one(0.5), Heap::one(-0.1), Heap::one(-0.9)];
        let names = [Some(("1", "Store")), None, Some(("2", "Desk")), Some(("1", "Store"))];
        let found = parts(names.into_iter().zip(&heaps));
        let labels: Vec<_> = found.iter().map(|part| (part.label.as_deref(), part.excerpts)).collect();
        assert_eq!(labels, [(Some("Store"), 2), (None, 1), (Some("Desk"), 1)]);
        assert_eq!(found[0].spread, Spread { against: 2, neutral: 0, for_it: 0 });
        assert!((found[0].mean + 0.7).abs() < 1e-12);
    }

    #[test]
    fn what_is_young_is_shown_in_weeks_that_end_today() {
        let one = Heap::one(0.0);
        let days = [Some(date(2026, 6, 9)), Some(TODAY), Some(date(2026, 7, 1)), None];
        let found = over_time(days.map(|day| (day, &one)), TODAY);
        assert_eq!(found.left_out, 2, "of the future, and of no known day");
        let days: Vec<_> = found.stretches.iter().map(|one| (one.from, one.to, one.excerpts)).collect();
        assert_eq!(days.len(), 4);
        assert_eq!(days[0], (date(2026, 6, 3), date(2026, 6, 9), 1));
        assert_eq!(days[3], (date(2026, 6, 24), TODAY, 1));
    }

    #[test]
    fn what_is_older_is_shown_in_months_of_the_calendar() {
        let one = Heap::one(0.0);
        let of = |days: &[Date]| over_time(days.iter().map(|day| (Some(*day), &one)), TODAY);
        let found = of(&[date(2025, 10, 31), date(2026, 2, 28)]);
        let days: Vec<_> = found.stretches.iter().map(|one| (one.from, one.to, one.excerpts)).collect();
        assert_eq!(days.len(), 9);
        assert_eq!(days[0], (date(2025, 10, 1), date(2025, 10, 31), 1));
        assert_eq!(days[4], (date(2026, 2, 1), date(2026, 2, 28), 1));
        assert_eq!(days[8].1, date(2026, 6, 30));
        let old = of(&[date(1999, 1, 1)]);
        assert_eq!((old.stretches.len(), old.stretches[0].from, old.left_out), (36, date(2023, 7, 1), 1));
    }

    proptest! {
        #[test]
        fn every_day_of_the_shown_time_lies_in_one_period(ago in proptest::collection::vec(0..1000_i32, 1..60)) {
            let one = Heap::one(-0.4);
            let days: Vec<Date> = ago.iter().map(|ago| TODAY.saturating_sub(ago.days())).collect();
            let OverTime { stretches: found, left_out } = over_time(days.iter().map(|day| (Some(*day), &one)), TODAY);
            for pair in found.windows(2) {
                prop_assert_eq!(pair[0].to.tomorrow().unwrap(), pair[1].from);
            }
            prop_assert!(found.last().unwrap().to >= TODAY);
            let counted: usize = found.iter().map(|one| one.excerpts).sum();
            prop_assert_eq!(counted, days.iter().filter(|day| **day >= found[0].from).count());
            prop_assert_eq!(counted + left_out, days.len());
        }
    }

    #[test]
    fn frustration_is_people_times_how_bad_it_is() {
        let found = frustration(4, &[-0.5, -0.1, 0.8, 0.0]);
        assert!((found.negativity - 0.15).abs() < 1e-12 && (found.frustration - 0.6).abs() < 1e-12);
        assert_eq!(frustration(3, &[]), Frustration { people: 3, ..Frustration::default() });
    }

    #[test]
    fn what_is_not_known_is_said() {
        let voice = |person, segment, source, said_on| Voice { person, segment, source, said_on };
        let few = [voice(Some(1), Some("Freight"), "desk", Some(date(2025, 12, 1)))];
        assert_eq!(
            unknown(&few, 3, TODAY),
            [
                Unknown::FewPeople { people: 1 },
                Unknown::OneSegment { segment: "Freight".into() },
                Unknown::OneSource { source: "desk".into() },
                Unknown::Old { last: date(2025, 12, 1) },
            ]
        );
        let many: Vec<_> = (0..6)
            .map(|n| {
                voice(
                    Some(n),
                    Some(["Freight", "Commuters"][n as usize % 2]),
                    ["desk", "store"][n as usize % 2],
                    Some(TODAY),
                )
            })
            .collect();
        assert_eq!(unknown(&many, 3, TODAY), []);
        let nameless = [voice(None, None, "desk", None), voice(None, None, "store", None)];
        assert_eq!(unknown(&nameless, 2, TODAY), [Unknown::Nameless { excerpts: 2 }, Unknown::NoSegment]);
        assert_eq!(unknown(&nameless, 0, TODAY), [Unknown::Nameless { excerpts: 2 }]);
    }
}
