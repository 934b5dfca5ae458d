//! A research report of findings: the question, how it was asked, who was heard, what they said, and what is not known.

use jiff::civil::Date;

use super::picture::{Frustration, Part, Unknown};
use super::volume::Spread;
use crate::decide::Voices;
use crate::formats::blocks::Block;

/// What a report is made of.
#[derive(Debug, Clone, PartialEq)]
pub struct Report {
    /// What it is called.
    pub title: String,
    /// What was to be found out.
    pub question: Option<String>,
    /// How.
    pub method: Option<String>,
    /// The day it was made.
    pub day: Date,
    /// All who stand behind any of the findings, each once.
    pub voices: Voices,
    /// The excerpts behind them, each once, by segment.
    pub segments: Vec<Part>,
    /// The same by source.
    pub sources: Vec<Part>,
    /// The first and the last day on which anything of it was said.
    pub days: Option<(Date, Date)>,
    /// The findings, in the order in which they are told.
    pub findings: Vec<Told>,
}

/// One finding of a report.
#[derive(Debug, Clone, PartialEq)]
pub struct Told {
    /// Its short reference.
    pub reference: String,
    /// What people say.
    pub title: String,
    /// What else is to be known.
    pub note: Option<String>,
    /// Whether the engine proposed it and nobody has accepted it yet.
    pub suggested: bool,
    /// Its excerpts.
    pub excerpts: usize,
    /// Who stands behind it.
    pub voices: Voices,
    /// How many speak against, neither, and for.
    pub spread: Spread,
    /// How much people suffer.
    pub frustration: Frustration,
    /// How it moves, in words; nothing where it is steady.
    pub moves: Option<String>,
    /// What stands for all.
    pub quotes: Vec<Quote>,
    /// Who says the opposite of most.
    pub contrary: Vec<Quote>,
    /// What is not known.
    pub unknown: Vec<Unknown>,
}

/// What somebody said.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Quote {
    /// Their words.
    pub words: String,
    /// Who, when and where.
    pub by: String,
}

/// Writes a report as blocks. Nothing is in it that is not in what it is made of: the words are those of people, the figures are
/// counted. Linear.
#[must_use]
pub fn report(report: &Report) -> Vec<Block> {
    let mut blocks = vec![heading(1, &report.title), paragraph(&format!("Made on {}.", report.day))];
    if let Some(question) = &report.question {
        blocks.extend([heading(2, "Question"), paragraph(question)]);
    }
    blocks.push(heading(2, "How"));
    blocks.extend(report.method.as_deref().map(paragraph));
    blocks.push(paragraph(&came_from(report)));
    blocks.extend([heading(2, "Who"), paragraph(&who(report))]);
    blocks.extend(report.segments.iter().map(|part| {
        point(&format!("{}: {}", part.label.as_deref().unwrap_or("no segment known"), excerpts(part.excerpts)))
    }));
    blocks.push(heading(2, "What they said"));
    report.findings.iter().for_each(|one| tell(one, &mut blocks));
    blocks.push(heading(2, "What is not known"));
    let open: Vec<Block> = report.findings.iter().flat_map(not_known).collect();
    if open.is_empty() {
        blocks.push(paragraph(
            "Of each finding enough people were heard, of several segments and by several sources, and lately.",
        ));
    }
    blocks.extend(open);
    blocks.push(paragraph(
        "Who was not asked and who did not write is not in it. Kinds and sentiments were told by a program where nobody has \
         checked them.",
    ));
    blocks
}

fn came_from(report: &Report) -> String {
    let names: Vec<String> = report
        .sources
        .iter()
        .map(|part| format!("{} ({})", part.label.as_deref().unwrap_or("no source"), excerpts(part.excerpts)))
        .collect();
    let days = report.days.map(|(first, last)| format!(", said from {first} to {last}")).unwrap_or_default();
    format!("From {}{days}.", names.join(", "))
}

fn who(report: &Report) -> String {
    let Voices { people: heard, accounts, items, nameless, revenue } = report.voices;
    let mut words =
        format!("{} and {} in {}", people(heard), count(accounts, "account"), count(items, "feedback item"));
    if revenue > 0 {
        words += &format!(", who pay {} a year, each account counted once", thousands(revenue));
    }
    if nameless > 0 {
        words += &format!("; {nameless} of the items bear no name");
    }
    words + "."
}

fn tell(one: &Told, blocks: &mut Vec<Block>) {
    blocks.push(heading(3, &format!("{} {}", one.reference, one.title)));
    let mut words = format!(
        "{}, {}, {}. {} against, {} neutral, {} for it. Frustration {:.1} ({} × {:.2}).",
        people(one.voices.people),
        count(one.voices.accounts, "account"),
        excerpts(one.excerpts),
        one.spread.against,
        one.spread.neutral,
        one.spread.for_it,
        one.frustration.frustration,
        people(one.frustration.people),
        one.frustration.negativity,
    );
    if let Some(moves) = &one.moves {
        words += &format!(" {moves}.");
    }
    if one.suggested {
        words += " Suggested by a program; nobody has accepted it yet.";
    }
    blocks.push(paragraph(&words));
    blocks.extend(one.note.as_deref().map(paragraph));
    blocks.extend(one.quotes.iter().map(quote));
    if !one.contrary.is_empty() {
        blocks.push(paragraph("Others say the opposite:"));
        blocks.extend(one.contrary.iter().map(quote));
    }
}

fn not_known(one: &Told) -> Vec<Block> {
    let said = |unknown: &Unknown| point(&format!("{} {}: {}.", one.reference, one.title, unknown.words()));
    one.unknown.iter().map(said).collect()
}

fn heading(level: u8, words: &str) -> Block {
    Block::Heading { level, words: words.to_owned() }
}

fn paragraph(words: &str) -> Block {
    Block::Paragraph { words: words.to_owned() }
}

fn point(words: &str) -> Block {
    Block::Point { words: words.to_owned() }
}

fn quote(quote: &Quote) -> Block {
    Block::Quote { words: quote.words.clone(), by: quote.by.clone() }
}

fn count(number: usize, one: &str) -> String {
    if number == 1 { format!("1 {one}") } else { format!("{number} {one}s") }
}

fn excerpts(number: usize) -> String {
    count(number, "excerpt")
}

/// With a space after each three figures (ISO 31-0).
fn thousands(number: i64) -> String {
    let figures = number.to_string();
    let parted = figures.char_indices().flat_map(|(at, figure)| {
        let space = at > 0 && (figures.len() - at).is_multiple_of(3);
        space.then_some(' ').into_iter().chain([figure])
    });
    parted.collect()
}

fn people(number: usize) -> String {
    if number == 1 { "1 person".to_owned() } else { format!("{number} people") }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::blocks::markdown;
    use jiff::civil::date;

    #[test]
    fn a_report_says_what_was_asked_heard_and_not_heard() {
        let voices = Voices { items: 3, people: 2, nameless: 1, accounts: 1, revenue: 9_000 };
        let spread = Spread { against: 2, neutral: 1, for_it: 1 };
        let part = |label: Option<&str>| Part {
            key: label.map(Into::into),
            label: label.map(Into::into),
            excerpts: 4,
            spread,
            mean: -0.2,
        };
        let told = Told {
            reference: "N2".into(),
            title: "The deck is full".into(),
            note: None,
            suggested: true,
            excerpts: 4,
            voices,
            spread,
            frustration: Frustration { people: 2, negativity: 0.25, frustration: 0.5 },
            moves: Some("Growing".into()),
            quotes: vec![Quote { words: "Full again.".into(), by: "Marit Holm, F24".into() }],
            contrary: vec![Quote { words: "There was room.".into(), by: "nameless, F25".into() }],
            unknown: vec![Unknown::FewPeople { people: 2 }],
        };
        let all = Report {
            title: "Room on the deck".into(),
            question: Some("Is there room for those who booked?".into()),
            method: None,
            day: date(2026, 6, 30),
            voices,
            segments: vec![part(Some("freight"))],
            sources: vec![part(Some("desk.csv"))],
            days: Some((date(2026, 5, 1), date(2026, 6, 2))),
            findings: vec![told],
        };
        let expected = "# Room on the deck\n\nMade on 2026-06-30.\n\n## Question\n\nIs there room for those who booked?\n\n\
            ## How\n\nFrom desk.csv (4 excerpts), said from 2026-05-01 to 2026-06-02.\n\n\
            ## Who\n\n2 people and 1 account in 3 feedback items, who pay 9 000 a year, each account counted once; \
            1 of the items bear no name.\n\n- freight: 4 excerpts\n\n## What they said\n\n### N2 The deck is full\n\n\
            2 people, 1 account, 4 excerpts. 2 against, 1 neutral, 1 for it. Frustration 0.5 (2 people × 0.25). Growing. \
            Suggested by a program; nobody has accepted it yet.\n\n> Full again.\n>\n> — Marit Holm, F24\n\n\
            Others say the opposite:\n\n> There was room.\n>\n> — nameless, F25\n\n## What is not known\n\n\
            - N2 The deck is full: only 2 people said it, which may be chance.\n\n\
            Who was not asked and who did not write is not in it. Kinds and sentiments were told by a program where nobody \
            has checked them.\n";
        assert_eq!(markdown(&report(&all)), expected);
        let sure = Told { unknown: Vec::new(), ..all.findings[0].clone() };
        let page = markdown(&report(&Report { findings: vec![sure], ..all }));
        assert!(page.contains("enough people were heard"), "{page}");
    }
}
