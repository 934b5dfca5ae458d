//! A research report of chosen findings: its figures are those of their pages, and its words are those of people.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::command;
use crate::common::subjects::{about, ready, take, tried, work};
use iron_kite_core::fields::Collection;
use iron_kite_core::formats::blocks::Block;
use iron_kite_core::problem::Problem;
use iron_kite_documents::{Held, read};
use iron_kite_ops::listen::{ReportQuery, finding_picture, report, report_docx, report_markdown};
use serde_json::json;

fn asked(product: i64, findings: &str) -> ReportQuery {
    ReportQuery {
        product,
        findings: findings.into(),
        title: None,
        question: None,
        method: None,
        study: None,
        quotes: Some(2),
    }
}

#[test]
fn a_report_tells_what_was_said_and_nothing_else() {
    let workspace = ready();
    work(&workspace);
    take(&workspace, &tried(&workspace), Vec::new());
    let study = json!({ "title": "Evenings aboard", "question": "What spoils a crossing?", "method": "interview" });
    let study = workspace.add(&command(), Collection::Study, &study);
    let (deck, tea) = (about(&workspace, "deck").finding, about(&workspace, "tea").finding);
    let query = ReportQuery {
        study: Some(study.id),
        ..asked(workspace.product.0, &format!("N{},{},{}", tea.id.0, deck.id.0, tea.id.0))
    };
    let page = report(&workspace.app, &command(), &query).unwrap();
    assert_eq!(page.title, "Evenings aboard");
    let said: Vec<String> =
        workspace.rows(Collection::Excerpt, &["words"]).iter().map(|row| row[0].as_str().unwrap().to_owned()).collect();
    let quotes: Vec<&String> = page
        .blocks
        .iter()
        .filter_map(|block| if let Block::Quote { words, .. } = block { Some(words) } else { None })
        .collect();
    assert!(quotes.len() >= 4 && quotes.iter().all(|words| said.contains(words)), "{quotes:?}");
    let text = report_markdown(&workspace.app, &command(), &query).unwrap();
    let (first, second) =
        (text.find(&format!("### {}", tea.id)).unwrap(), text.find(&format!("### {}", deck.id)).unwrap());
    assert!(first < second, "in the order in which they were named, each once");
    assert!(text.contains("## Question\n\nWhat spoils a crossing?") && text.contains("\ninterview\n"));
    let people = finding_picture(&workspace.app, &command(), tea.id).unwrap().voices.people;
    assert!(text.contains(&format!("{people} people, 0 accounts")), "{text}");
    assert!(text.contains("all of it came by one source, voices.csv"));
    // The document says the same.
    let file = report_docx(&workspace.app, &command(), &query).unwrap();
    let Held::Documents(documents) = read("report.docx", &file).remove(0).held else { panic!("no document") };
    assert!(quotes.iter().all(|words| documents[0].text.contains(words.as_str())));
}

#[test]
fn only_findings_of_the_product_are_told() {
    let workspace = ready();
    let ask = |findings: &str| report(&workspace.app, &command(), &asked(workspace.product.0, findings)).unwrap_err();
    assert!(matches!(ask(""), Problem::Invalid(_)));
    assert!(matches!(ask("tea"), Problem::Invalid(_)));
    assert!(matches!(ask("99"), Problem::NotFound(_)));
    let many: Vec<String> = (1..=61).map(|n: i32| n.to_string()).collect();
    assert!(matches!(ask(&many.join(",")), Problem::Invalid(_)));
}
