//! A report on a question about the market, from pages that were found: a draft that quotes only what stands in them.

use serde::{Deserialize, Serialize};

use super::capability::Capability;
use super::competitor::Competitor;
use super::market::MarketRow;
use crate::formats::blocks::Block;
use crate::text::{Span, Vector, sentences};

/// A passage of a page that speaks of the question.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FoundPassage {
    /// Its words, exactly as they stand in the page.
    pub words: String,
    /// The page's place among those that were looked through.
    pub page: usize,
    /// How alike it is to the question, −1 to 1.
    pub alike: f32,
}

/// A passage is at least so alike to the question that it is taken for an answer.
pub const ANSWERS: f32 = 0.3;
/// At most so many passages are quoted, …
const MOST: usize = 8;
/// … and so many of one page.
const MOST_OF_PAGE: usize = 2;
/// A passage is closed when it has so many words.
const ENOUGH_WORDS: usize = 18;

/// A page in passages that stand in it word for word: whole sentences, some of them together, none over the end of a paragraph.
/// Linear.
#[must_use]
pub fn exact_passages(text: &str) -> Vec<String> {
    let mut found = Vec::new();
    for paragraph in text.split("\n\n") {
        // Where each character begins, so that a page of one long paragraph is gone through once.
        let at: Vec<usize> = paragraph.char_indices().map(|(at, _)| at).chain([paragraph.len()]).collect();
        let words = |span: Span| Some(paragraph.get(*at.get(span.from)?..*at.get(span.to)?)?.to_owned());
        let mut open: Option<Span> = None;
        for sentence in sentences(paragraph) {
            let whole = Span { from: open.map_or(sentence.from, |open| open.from), to: sentence.to };
            let passage: String = words(whole).unwrap_or_default();
            if passage.split_whitespace().count() >= ENOUGH_WORDS {
                found.push(passage);
                open = None;
            } else {
                open = Some(whole);
            }
        }
        found.extend(open.and_then(words));
    }
    found.retain(|passage| passage.split_whitespace().count() >= 3 && passage.chars().any(char::is_alphabetic));
    found
}

/// The passages that answer a question best, the best first: at most two of one page and eight in all, none of them twice.
/// `passages` are the words of each page with what they mean. O(n log n).
#[must_use]
pub fn answering_passages(question: &Vector, passages: &[(usize, String, Vector)]) -> Vec<FoundPassage> {
    let mut all: Vec<FoundPassage> = passages
        .iter()
        .map(|(page, words, meaning)| FoundPassage {
            words: words.clone(),
            page: *page,
            alike: meaning.alike(question),
        })
        .filter(|passage| passage.alike >= ANSWERS)
        .collect();
    all.sort_by(|a, b| b.alike.total_cmp(&a.alike).then(a.page.cmp(&b.page)));
    let mut taken: Vec<FoundPassage> = Vec::new();
    for one in all {
        let of_page = taken.iter().filter(|other| other.page == one.page).count();
        if taken.len() < MOST && of_page < MOST_OF_PAGE && !taken.iter().any(|other| other.words == one.words) {
            taken.push(one);
        }
    }
    taken
}

/// A page as the report names it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageName {
    /// What it is called.
    pub title: String,
    /// Where it was found.
    pub address: Option<String>,
    /// When, `YYYY-MM-DD`.
    pub taken_on: String,
}

impl PageName {
    fn words(&self) -> String {
        let address = self.address.as_ref().map(|address| format!(", {address}")).unwrap_or_default();
        format!("{}{address}, seen on {}", self.title, self.taken_on)
    }
}

/// What a report is written from.
#[derive(Debug, Clone, Copy)]
pub struct Research<'a> {
    /// What was asked.
    pub question: &'a str,
    /// The pages that were looked through.
    pub pages: &'a [PageName],
    /// What of them speaks of it.
    pub passages: &'a [FoundPassage],
    /// The market as it is known.
    pub capabilities: &'a [Capability],
    /// Who is in it.
    pub competitors: &'a [Competitor],
    /// How they compare.
    pub rows: &'a [MarketRow],
    /// Where was looked, in words.
    pub place: &'a str,
}

/// Writes the report: the question, the passages with their sources, the comparison as a table, and what is open. Every quote is a
/// passage that was given. O(passages + capabilities · competitors).
#[must_use]
pub fn research_report(of: &Research<'_>) -> Vec<Block> {
    let paragraph = |words: String| Block::Paragraph { words };
    let heading = |words: &str| Block::Heading { level: 2, words: words.into() };
    let mut blocks = vec![
        Block::Heading { level: 1, words: format!("Market: {}", of.question) },
        paragraph(format!(
            "A draft that was written by the program from {} found in {}. It quotes what stands there and judges nothing; read the pages before you rely on it.",
            counted(of.pages.len(), "page"),
            of.place
        )),
        heading("What was found"),
    ];
    if of.passages.is_empty() {
        blocks.push(paragraph("Nothing that was found speaks of it.".into()));
    }
    for passage in of.passages {
        let by = of.pages.get(passage.page).map(PageName::words).unwrap_or_default();
        blocks.push(Block::Quote { words: passage.words.clone(), by });
    }
    blocks.push(heading("Our product and others"));
    if of.rows.is_empty() || of.competitors.is_empty() {
        blocks.push(paragraph("There is no comparison yet: name competitors and capabilities.".into()));
    } else {
        blocks.push(table(of));
    }
    blocks.push(heading("What is open"));
    blocks.extend(open_points(of).into_iter().map(|words| Block::Point { words }));
    blocks
}

fn table(of: &Research<'_>) -> Block {
    let heads = ["Capability".to_owned(), "Our product".to_owned()].into_iter();
    let heads = heads.chain(of.competitors.iter().map(|one| one.name.clone())).collect();
    let offers = |offers: Option<super::Offers>| offers.map_or("unknown", super::Offers::words).to_owned();
    let lines = of.rows.iter().filter_map(|row| {
        let capability = of.capabilities.iter().find(|one| one.id == row.capability)?;
        let mut line = vec![capability.title.clone(), offers(capability.offers)];
        line.extend(row.cells.iter().map(|cell| offers(cell.offers)));
        Some(line)
    });
    Block::Table { heads, lines: lines.collect() }
}

fn open_points(of: &Research<'_>) -> Vec<String> {
    let mut points = Vec::new();
    let silent: Vec<&str> = (0..of.pages.len())
        .filter(|page| !of.passages.iter().any(|passage| passage.page == *page))
        .map(|page| of.pages[page].title.as_str())
        .collect();
    if !silent.is_empty() {
        points.push(format!("Nothing of these pages answers the question: {}.", silent.join("; ")));
    }
    for row in of.rows {
        let Some(capability) = of.capabilities.iter().find(|one| one.id == row.capability) else { continue };
        let unknown: Vec<&str> = row
            .cells
            .iter()
            .filter(|cell| cell.offers.is_none())
            .filter_map(|cell| of.competitors.iter().find(|one| one.id == cell.competitor))
            .map(|one| one.name.as_str())
            .collect();
        if !unknown.is_empty() {
            points.push(format!("{}: nobody noted what {} offers.", capability.title, unknown.join(" and ")));
        }
        if capability.offers.is_none() {
            points.push(format!("{}: nobody said how far our own product does it.", capability.title));
        }
    }
    if of.passages.len() == 1 {
        points.push("One passage alone speaks of it.".into());
    }
    if points.is_empty() {
        points.push("Nothing that the program could see.".into());
    }
    points
}

fn counted(count: usize, one: &str) -> String {
    if count == 1 { format!("{count} {one}") } else { format!("{count} {one}s") }
}

#[cfg(test)]
mod tests {
    use super::super::market::tests::{capability, competitor};
    use super::super::{Offers, comparison};
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_report_has_its_parts_and_says_what_is_open() {
        let pages = [
            PageName {
                title: "Fares".into(),
                address: Some("taxi.example/fares".into()),
                taken_on: "2026-06-01".into(),
            },
            PageName { title: "About".into(), address: None, taken_on: "2026-06-02".into() },
        ];
        let passages = [FoundPassage { words: "A bicycle costs 4.".into(), page: 0, alike: 0.6 }];
        let (capabilities, competitors) =
            ([capability(1, "Book a bicycle", Some(Offers::None))], [competitor(1, "Water taxi")]);
        let rows = comparison(&capabilities, &competitors, &[]);
        let blocks = research_report(&Research {
            question: "What do others take for bicycles?",
            pages: &pages,
            passages: &passages,
            capabilities: &capabilities,
            competitors: &competitors,
            rows: &rows,
            place: "a library",
        });
        let by = "Fares, taxi.example/fares, seen on 2026-06-01".to_owned();
        assert!(blocks.contains(&Block::Quote { words: "A bicycle costs 4.".into(), by }));
        let table = Block::Table {
            heads: vec!["Capability".into(), "Our product".into(), "Water taxi".into()],
            lines: vec![vec!["Book a bicycle".into(), "none".into(), "unknown".into()]],
        };
        assert!(blocks.contains(&table), "{blocks:?}");
        let points: Vec<&str> = blocks
            .iter()
            .filter_map(|block| if let Block::Point { words } = block { Some(words.as_str()) } else { None })
            .collect();
        assert_eq!(
            points,
            [
                "Nothing of these pages answers the question: About.",
                "Book a bicycle: nobody noted what Water taxi offers.",
                "One passage alone speaks of it."
            ]
        );
    }

    #[test]
    fn the_best_passages_are_taken_few_of_one_page() {
        let at = |x: f32| Vector::pointing(vec![1.0, x]);
        let all: Vec<(usize, String, Vector)> = (0..20_usize)
            .map(|n| (n % 2, format!("passage {n}"), at(f32::from(u8::try_from(n).unwrap()) / 10.0)))
            .collect();
        let taken = answering_passages(&at(0.0), &all);
        assert_eq!(
            taken.iter().map(|one| one.words.as_str()).collect::<Vec<_>>(),
            ["passage 0", "passage 1", "passage 2", "passage 3"]
        );
        assert!(answering_passages(&Vector::pointing(vec![-1.0, 0.0]), &all).is_empty());
    }

    proptest! {
        #[test]
        fn every_passage_stands_in_its_page_word_for_word(text in "([A-Za-zäß,;:!?. \n-]{0,40}(\\. |\n\n)?){0,12}") {
            for passage in exact_passages(&text) {
                prop_assert!(text.contains(&passage), "{passage:?}");
                prop_assert!(!passage.contains("\n\n"));
            }
        }
    }
}
