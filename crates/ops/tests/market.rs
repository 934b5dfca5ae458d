//! What others offer: notes that quote only what stands in a page, the comparison, and a report whose quotes are all there.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::subjects::{Subjects, sound};
use crate::common::{Workspace, command, fields, made, workspace};
use iron_kite_core::decide::Offers;
use iron_kite_core::fields::Collection;
use iron_kite_core::formats::blocks::{Block, line};
use iron_kite_core::jobs::JobState;
use iron_kite_core::listen::ChannelKind;
use iron_kite_core::role::Role;
use iron_kite_core::things::{CapabilityId, CompetitorId, FoundPageId};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::decide::{self, NewCapability, NewCompetitor, NewFoundPage, NewMarketNote, NewResearch, NoteAbout};
use iron_kite_ops::outside::{Fetch, Fetched, Outside, PageFound, PagesFound};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::{history, jobs};
use serde_json::{Value, json};

/// A library of a few pages, or one that does not answer.
struct Library(Vec<PageFound>);

impl Outside for Library {
    fn fetch(&self, _: &Fetch<'_>) -> Result<Fetched, String> {
        Err("no channel here".into())
    }

    fn search(&self, _: &str) -> Result<PagesFound, String> {
        if self.0.is_empty() {
            return Err("The library is closed.".into());
        }
        Ok(PagesFound { place: "a library".into(), pages: self.0.clone() })
    }

    fn may(&self, _: ChannelKind, _: &str) -> Result<(), String> {
        Ok(())
    }
}

fn page(title: &str, address: &str, html: &str) -> PageFound {
    PageFound { title: title.into(), address: address.into(), page: format!("<html><body>{html}</body></html>") }
}

fn with(pages: Vec<PageFound>) -> Workspace {
    let Workspace { app, product, dir } = workspace();
    Workspace { app: app.with_meaning(Box::new(Subjects)).with_outside(Box::new(Library(pages))), product, dir }
}

fn competitor(w: &Workspace, name: &str, address: &str) -> CompetitorId {
    let new = NewCompetitor { product_id: w.product, name: name.into(), address: Some(address.into()) };
    CompetitorId(made(&decide::add_competitor(&w.app, &command(), new).unwrap()).id)
}

fn capability(w: &Workspace, title: &str, offers: Option<Offers>) -> CapabilityId {
    let new = NewCapability { product_id: w.product, title: title.into(), offers, note: None };
    CapabilityId(made(&decide::add_capability(&w.app, &command(), new).unwrap()).id)
}

fn note(competitor: CompetitorId, words: &str) -> NewMarketNote {
    NewMarketNote {
        competitor_id: competitor,
        capability_id: None,
        offers: None,
        words: words.into(),
        page_id: None,
        source: Some("a talk on the quay".into()),
        noted_on: None,
    }
}

fn code<T: std::fmt::Debug>(result: Result<T, iron_kite_core::problem::Problem>) -> &'static str {
    result.unwrap_err().code()
}

#[test]
fn a_note_quotes_only_what_stands_in_its_page_and_says_where_it_comes_from() {
    let w = workspace();
    let taxi = competitor(&w, "Water taxi", "taxi.example");
    let new = NewFoundPage {
        product_id: w.product,
        competitor_id: Some(taxi),
        title: "Fares".into(),
        address: Some("taxi.example/fares".into()),
        text: "A bicycle costs 4.\r\nA dog costs nothing.".into(),
    };
    let page = FoundPageId(made(&decide::add_page(&w.app, &command(), new.clone()).unwrap()).id);
    assert_eq!(made(&decide::add_page(&w.app, &command(), new).unwrap()).id, page.0, "the same is kept once");
    let add = |new: NewMarketNote| decide::add_market_note(&w.app, &command(), new);
    let quoting = |words: &str| NewMarketNote { page_id: Some(page), source: None, ..note(taxi, words) };
    add(quoting("A bicycle costs 4.\nA dog")).unwrap();
    assert_eq!(code(add(quoting("A bicycle costs 5."))), "invalid");
    assert_eq!(code(add(NewMarketNote { source: Some(" ".into()), ..note(taxi, "They are friendly.") })), "invalid");
    assert_eq!(code(add(note(taxi, "  "))), "invalid");
    assert_eq!(code(decide::add_market_note(&w.app, &w.person(Role::Contributor), note(taxi, "x"))), "not-allowed");
    let rows = w.rows(Collection::CompetitorNote, &["words", "competitor", "from"]);
    assert_eq!(rows[0], [json!("A bicycle costs 4.\nA dog"), json!("Water taxi"), json!("Fares, taxi.example/fares")]);
    // The text of a page cannot be changed under its quotes.
    let rev = things::rev_of(&w.app, &command(), page.thing()).unwrap();
    let set = fields(&json!({ "text": "other" }));
    assert_eq!(code(things::edit(&w.app, &command(), page.thing(), Edit { rev, set })), "invalid");
    sound(&w);
}

#[test]
fn the_comparison_and_the_gap_of_an_idea_are_the_same_in_the_list_and_in_core() {
    let w = workspace();
    let (taxi, bus) = (competitor(&w, "Water taxi", "taxi.example"), competitor(&w, "Bridge bus", "bus.example"));
    let (bicycle, text) = (capability(&w, "Book a bicycle", Some(Offers::None)), capability(&w, "A text", None));
    let add = |competitor, capability, offers, on: &str| {
        let new = NewMarketNote {
            capability_id: Some(capability),
            offers,
            noted_on: Some(on.into()),
            ..note(competitor, "heard")
        };
        made(&decide::add_market_note(&w.app, &command(), new).unwrap())
    };
    add(taxi, bicycle, Some(Offers::Fully), "2026-03-01");
    add(taxi, bicycle, Some(Offers::Partly), "2026-05-01");
    add(bus, bicycle, Some(Offers::Fully), "2026-05-01");
    let loose = add(bus, text, Some(Offers::Fully), "2026-05-01");
    let market = decide::market(&w.app, &command(), w.product).unwrap();
    assert_eq!(market.rows[0].gap, Some(0.75));
    assert_eq!(market.rows[1].gap, None);
    let idea = w.idea(&command(), "Say what comes along");
    let gap = || w.rows(Collection::Idea, &["gap"]).remove(0).remove(0);
    assert_eq!(gap(), Value::Null);
    for capability in [bicycle, text] {
        let ends = LinkEnds { kind: LinkKind::Closes, from: idea, to: capability.thing() };
        things::link(&w.app, &command(), ends).unwrap();
    }
    assert_eq!(gap(), json!(0.75));
    // A note is said to be about something else; what is unknown is not taken for none.
    let rev = things::rev_of(&w.app, &command(), loose).unwrap();
    let about = NoteAbout { rev, capability_id: None };
    decide::note_about(&w.app, &command(), loose.id.into(), about).unwrap();
    let market = decide::market(&w.app, &command(), w.product).unwrap();
    assert_eq!(market.rows[1].cells[1].offers, None);
    things::remove(&w.app, &command(), bus.thing(), 1).unwrap();
    assert_eq!(gap(), json!(0.5));
    sound(&w);
}

#[test]
fn a_report_quotes_only_what_stands_in_its_pages_each_with_its_source() {
    let w = with(vec![
        page(
            "Fares",
            "taxi.example/fares",
            "<h1>Fares</h1><p>A *bicycle* rides along for 4 &amp; a dog for nothing. <script>alert('bicycle')</script>Tell us about your bicycle when you book.</p>",
        ),
        page("Deck", "bus.example/deck", "<p>The deck is full on Fridays. Nobody books a deck there.</p>"),
        page("Empty", "bus.example/nothing", ""),
    ]);
    competitor(&w, "Water taxi", "taxi.example");
    capability(&w, "Book a bicycle", Some(Offers::None));
    let ask = |question: &str| {
        let new = NewResearch { product: w.product, question: question.into() };
        let job = decide::research(&w.app, &command(), new).unwrap();
        jobs::work_off(&w.app, &command()).unwrap();
        jobs::job(&w.app, &command(), job.id).unwrap()
    };
    let job = ask("What does a bicycle cost elsewhere?");
    assert_eq!(job.state, JobState::Done, "{:?}", job.problem);
    let report: decide::ResearchReport = serde_json::from_value(job.report.unwrap()).unwrap();
    let pages: Vec<_> =
        report.pages.iter().map(|id| decide::found_page(&w.app, &command(), FoundPageId(*id)).unwrap()).collect();
    assert_eq!(pages.len(), 2, "a page without text says nothing");
    assert_eq!(pages[0].competitor_id, Some(CompetitorId(1)), "it is known whose page it is");
    let body = w.rows(Collection::Document, &["body", "state"]).remove(0);
    assert_eq!(body[1], json!("draft"));
    let mut quotes = 0;
    for block in &report.blocks {
        let Block::Quote { words, by } = block else { continue };
        let source = pages.iter().find(|page| by.starts_with(&page.title)).unwrap();
        assert!(source.text.contains(words), "{words:?} is not in {:?}", source.text);
        assert!(by.contains(source.address.as_deref().unwrap()) && by.ends_with("2026-06-30"), "{by}");
        assert!(body[0].as_str().unwrap().contains(&line(words)));
        quotes += 1;
    }
    assert!(quotes >= 1 && !body[0].as_str().unwrap().contains("alert("), "{}", body[0]);
    assert!(report.blocks.iter().any(|block| matches!(block, Block::Table { lines, .. } if lines[0][2] == "unknown")));
    // It wrote as an editor, so it takes one to take it back; then one undo takes the draft and its pages away again.
    let contributor = w.person(Role::Contributor);
    assert_eq!(history::undo_set(&w.app, &contributor, job.change.unwrap()).unwrap_err().code(), "not-allowed");
    history::undo_set(&w.app, &command(), job.change.unwrap()).unwrap();
    assert_eq!(w.rows(Collection::Document, &["title"]).len(), 0);
    let nothing = ask("Where is the tea?");
    let report: decide::ResearchReport = serde_json::from_value(nothing.report.unwrap()).unwrap();
    assert!(
        !report.blocks.iter().any(|block| matches!(block, Block::Quote { .. })),
        "nothing that was found speaks of it"
    );
    sound(&w);
}

#[test]
fn a_library_that_does_not_answer_is_told_and_nothing_is_kept() {
    let w = with(Vec::new());
    let new = NewResearch { product: w.product, question: "What do others offer?".into() };
    let job = decide::research(&w.app, &command(), new).unwrap();
    jobs::work_off(&w.app, &command()).unwrap();
    let job = jobs::job(&w.app, &command(), job.id).unwrap();
    assert_eq!(job.state, JobState::Failed);
    assert!(job.problem.unwrap().contains("The library is closed."));
    let new = NewResearch { product: w.product, question: "?!".into() };
    assert_eq!(code(decide::research(&w.app, &command(), new)), "invalid");
    assert!(decide::market(&w.app, &command(), w.product).unwrap().pages.is_empty());
}
