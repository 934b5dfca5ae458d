//! The prioritisation report: what is asked, how it was scored, the ranked table, what it recommends with its doubt, what
//! is set aside and why, and what to find out next.

use super::asking::ToAsk;
use super::kept::{KeptPlace, UsedModel, range_words, shown};
use super::ranking::{Draw, TOGETHER};
use crate::formats::blocks::Block;

/// An idea that is set aside, and why.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SetAside {
    /// The idea, in words.
    pub idea: String,
    /// The reason that was given.
    pub reason: String,
    /// The day.
    pub on: String,
}

/// What a prioritisation report is written from.
#[derive(Debug, Clone)]
pub struct Priorities<'a> {
    /// What it is called.
    pub title: &'a str,
    /// What is asked.
    pub question: &'a str,
    /// What somebody recommends, in their words.
    pub recommendation: &'a str,
    /// The model.
    pub model: &'a UsedModel,
    /// How it was drawn.
    pub draw: Draw,
    /// The places, best first.
    pub places: &'a [KeptPlace],
    /// What to find out next, the most worthwhile first.
    pub to_ask: &'a [ToAsk],
    /// What is set aside.
    pub set_aside: &'a [SetAside],
    /// By whom and when it was agreed; nothing while it follows the present numbers.
    pub agreed: Option<(&'a str, &'a str)>,
    /// The day of the numbers.
    pub today: &'a str,
}

/// So many questions are written down.
const QUESTIONS: usize = 5;

/// Writes the report. O(places × criteria).
#[must_use]
pub fn priorities_report(of: &Priorities<'_>) -> Vec<Block> {
    let heading = |words: &str| Block::Heading { level: 2, words: words.into() };
    let mut blocks = vec![
        Block::Heading { level: 1, words: of.title.into() },
        paragraph(match of.agreed {
            Some((by, on)) => format!("Agreed by {by} on {on}. Its numbers are those of that day."),
            None => format!(
                "Not agreed yet: its numbers are those of today, {}, and move with what they rest on.",
                of.today
            ),
        }),
        heading("The question"),
        paragraph(or(of.question, "Nobody wrote the question down yet.")),
        heading("How it was scored"),
    ];
    blocks.extend(method(of));
    blocks.push(heading("The ranking"));
    blocks.push(table(of));
    blocks.push(heading("What we recommend"));
    if !of.recommendation.trim().is_empty() {
        blocks.push(paragraph(of.recommendation.trim().into()));
    }
    blocks.extend(recommended(of));
    blocks.push(heading("What is set aside, and why"));
    if of.set_aside.is_empty() {
        blocks.push(paragraph("Nothing.".into()));
    }
    blocks.extend(of.set_aside.iter().map(|one| point(format!("{}: {} ({})", one.idea, one.reason, one.on))));
    blocks.push(heading("What to find out next"));
    blocks.extend(open(of));
    blocks
}

fn paragraph(words: String) -> Block {
    Block::Paragraph { words }
}

fn point(words: String) -> Block {
    Block::Point { words }
}

fn or(words: &str, instead: &str) -> String {
    if words.trim().is_empty() { instead.into() } else { words.trim().into() }
}

fn method(of: &Priorities<'_>) -> Vec<Block> {
    let model = &of.model.definition;
    let version = of.model.version.map(|version| format!(", version {version}")).unwrap_or_default();
    let mut blocks = vec![paragraph(format!("By {}{version}: {}.", model.title, model.formula_text()))];
    blocks.extend(model.criteria.iter().map(|one| {
        let unit = one.unit.as_deref().map(|unit| format!(", in {unit}")).unwrap_or_default();
        let weight = if model.formula.is_none() { format!(", weight {}", shown(one.weight)) } else { String::new() };
        point(format!("{}{unit}{weight}", one.label))
    }));
    blocks.push(paragraph(format!(
        "Estimates are numbers or ranges, which are taken as triangles; ranges of one person hang together by {TOGETHER}. From {} draws (seed {}): the median, and where the score lies in 80 of 100 cases.",
        shown(f64::from(u32::try_from(of.draw.count).unwrap_or(u32::MAX))),
        of.draw.seed
    )));
    blocks
}

fn table(of: &Priorities<'_>) -> Block {
    let model = &of.model.definition;
    let mut heads =
        vec![String::new(), "Idea".into(), model.title.clone(), "80 %".into(), format!("In the top {}", of.draw.top)];
    heads.extend(model.criteria.iter().map(|one| one.label.clone()));
    let lines = of.places.iter().map(|one| {
        let place = &one.place;
        let mut line = vec![
            place.rank.map(|rank| rank.to_string()).unwrap_or_default(),
            format!("{} {}", place.idea, one.title),
            place.spread.map_or("–".into(), |spread| shown(spread.median)),
            place.spread.map_or(format!("lacks {}", place.missing.join(", ")), |spread| {
                format!("{} to {}", shown(spread.low), shown(spread.high))
            }),
            place.top.map(percent).unwrap_or_default(),
        ];
        let field = |name: &String| one.fields.get(name).map_or("–".into(), range_words);
        line.extend(model.criteria.iter().map(|criterion| field(&criterion.field)));
        line
    });
    Block::Table { heads, lines: lines.collect() }
}

/// What makes the cut, and how sure that is.
fn recommended(of: &Priorities<'_>) -> Vec<Block> {
    let scored: Vec<&KeptPlace> = of.places.iter().filter(|one| one.place.rank.is_some()).collect();
    let cut: Vec<&&KeptPlace> = scored.iter().take(of.draw.top).collect();
    if cut.is_empty() {
        return vec![paragraph("No idea has a score yet.".into())];
    }
    let mut blocks = vec![paragraph(format!("By the numbers, the first {} of {}:", cut.len(), scored.len()))];
    blocks.extend(cut.iter().map(|one| {
        let top = one.place.top.unwrap_or(0.0);
        point(format!("{} {}: among them in {} of all cases", one.place.idea, one.title, percent(top)))
    }));
    if let (Some(last), Some(next)) = (cut.last(), scored.get(cut.len())) {
        let sure = last.place.above_next.unwrap_or(0.5);
        let words = if sure >= 0.9 {
            "the cut is clear"
        } else if sure >= 0.7 {
            "the cut is likely right"
        } else {
            "the numbers do not settle it"
        };
        blocks.push(paragraph(format!(
            "Between {} and {}, which just misses it, {words}: {} above {} in {} of all cases.",
            last.place.idea,
            next.place.idea,
            last.place.idea,
            next.place.idea,
            percent(sure)
        )));
    }
    blocks
}

fn open(of: &Priorities<'_>) -> Vec<Block> {
    let mut blocks: Vec<Block> = of
        .to_ask
        .iter()
        .take(QUESTIONS)
        .map(|one| {
            point(format!(
                "The {} of {}: knowing it would change the cut in {} of all cases, and is worth {} of score.",
                of.model.definition.label_of(&one.field).to_lowercase(),
                one.idea,
                percent(one.changes),
                shown(one.worth)
            ))
        })
        .collect();
    let lacking = of.places.iter().filter(|one| !one.place.missing.is_empty());
    blocks.extend(
        lacking.map(|one| point(format!("{} has no {} yet.", one.place.idea, one.place.missing.join(" and no ")))),
    );
    if blocks.is_empty() {
        blocks.push(paragraph("Nothing that is uncertain would change the cut.".into()));
    }
    blocks
}

fn percent(part: f64) -> String {
    // The sign stays with its number.
    format!("{:.0}\u{a0}%", part * 100.0)
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeMap;

    use super::super::first_models::first_model;
    use super::super::model::Method;
    use super::super::range::EstimateRange;
    use super::super::ranking::{Candidate, Estimated, ranked};
    use super::*;
    use crate::formats::blocks::markdown;
    use crate::things::IdeaId;

    #[test]
    fn it_says_all_that_was_asked_of_it() {
        let model = UsedModel { id: Some(3), version: Some(2), definition: first_model(Method::Rice) };
        let scorer = model.definition.check().unwrap();
        let draw = Draw { count: 2_000, seed: 7, top: 1 };
        let some = |idea: i64, reach: EstimateRange| Candidate {
            idea: IdeaId(idea),
            fields: [reach, EstimateRange::exactly(2.0), EstimateRange::exactly(0.5), EstimateRange::exactly(4.0)]
                .map(|range| Some(Estimated { range, by: Some(1) }))
                .to_vec(),
        };
        let mut lacking = some(3, EstimateRange::exactly(1.0));
        lacking.fields[3] = None;
        let all = [
            some(1, EstimateRange { low: 300.0, likely: 400.0, high: 700.0 }),
            some(2, EstimateRange { low: 350.0, likely: 420.0, high: 500.0 }),
            lacking,
        ];
        let ranking = ranked(&scorer, &all, draw);
        let to_ask = super::super::asking::questions(&scorer, &all, &ranking, 1, 7);
        let places: Vec<KeptPlace> = ranking
            .places
            .iter()
            .map(|place| {
                let candidate = all.iter().find(|one| one.idea == place.idea).unwrap();
                let fields: BTreeMap<String, Estimated> = scorer
                    .fields()
                    .iter()
                    .zip(&candidate.fields)
                    .filter_map(|(name, one)| Some((name.clone(), (*one)?)))
                    .collect();
                KeptPlace { title: format!("Title {}", place.idea.0), place: place.clone(), fields }
            })
            .collect();
        let set_aside =
            [SetAside { idea: "I9 A queue by phone".into(), reason: "Too few ask".into(), on: "2026-10-01".into() }];
        let of = Priorities {
            title: "Quarter 1",
            question: "What do we build first?",
            recommendation: "Begin with *I1*.",
            model: &model,
            draw,
            places: &places,
            to_ask: &to_ask,
            set_aside: &set_aside,
            agreed: None,
            today: "2026-11-27",
        };
        let page = markdown(&priorities_report(&of));
        for part in [
            "# Quarter 1\n",
            "Not agreed yet: its numbers are those of today, 2026-11-27",
            "What do we build first?",
            "By RICE, version 2: reach × impact × confidence ÷ effort.",
            "From 2,000 draws \\(seed 7\\)",
            "| I1 Title 1 |",
            "lacks effort",
            "Begin with \\*I1\\*.",
            "the numbers do not settle it",
            "- I9 A queue by phone: Too few ask \\(2026-10-01\\)",
            "The reach a quarter of I1: knowing it would change the cut in",
            "I3 has no effort yet.",
        ] {
            assert!(page.contains(part) || page.contains(&part.replace('\\', "")), "{part}\n{page}");
        }
        let agreed = priorities_report(&Priorities { agreed: Some(("Wren Oduya", "2026-11-26")), ..of });
        assert!(markdown(&agreed).contains("Agreed by Wren Oduya on 2026-11-26."));
    }
}
