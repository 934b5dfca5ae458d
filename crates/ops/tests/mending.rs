//! Words that are chosen in an item become an excerpt or mend one, and are sent on to where they are needed.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::sync::{Arc, Mutex};

use crate::common::subjects::{Subjects, about, bring, ready, sound, take, tried, work};
use crate::common::{Workspace, command};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{CheckAbout, CheckWay};
use iron_kite_core::role::Role;
use iron_kite_core::text::{Meaning, NoMeaning, Vector};
use iron_kite_core::things::{ExcerptId, ItemId, Thing};
use iron_kite_ops::listen::{self, ChosenWords, FindingChange, ItemView, NewCheck, NewQuotes};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{Call, Saved, history};
use proptest::prelude::*;
use serde_json::json;

const WHOLE: &str = "The deck was full and the tea was cold";

/// Three findings, and one more item that the reading left as one excerpt behind one of them.
fn heard() -> (Workspace, ItemView) {
    let workspace = ready();
    work(&workspace);
    take(&workspace, &tried(&workspace), Vec::new());
    bring(&workspace, &format!("text,who,date\n{WHOLE},Somebody else,2026-06-20\n"));
    work(&workspace);
    let rows = workspace.rows(Collection::FeedbackItem, &["reference", "text"]);
    let last = rows.into_iter().find(|row| row[1] == WHOLE).unwrap();
    let id = ItemId(last[0].as_str().unwrap()[1..].parse().unwrap());
    let item = item(&workspace, id);
    (workspace, item)
}

fn item(workspace: &Workspace, id: ItemId) -> ItemView {
    listen::item(&workspace.app, &command(), id).unwrap()
}

/// All that is told of an item but its revisions: what is taken back is one more of them.
fn told(item: &ItemView) -> ItemView {
    let mut told = item.clone();
    told.parts.iter_mut().for_each(|part| part.excerpt.rev = 0);
    told
}

fn said(item: &ItemView) -> Vec<&str> {
    item.parts.iter().map(|part| part.words.as_str()).collect()
}

fn choose(workspace: &Workspace, call: &Call, item: &ItemView, words: &str, becomes: Option<ExcerptId>) -> Saved {
    let from = item.item.text.split(words).next().unwrap().chars().count();
    let to = from + words.chars().count();
    let chosen =
        ChosenWords { rev: item.item.rev, from: from.try_into().unwrap(), to: to.try_into().unwrap(), becomes };
    listen::choose_words(&workspace.app, call, item.item.id, chosen).unwrap()
}

#[test]
fn words_become_an_excerpt_that_is_read_and_placed_and_can_be_taken_back() {
    let (workspace, before) = heard();
    let wren = workspace.person(Role::Contributor);
    // However it was read, make one excerpt of it first.
    choose_all(&workspace, &wren, &before);
    work(&workspace);
    let whole = item(&workspace, before.item.id);
    assert_eq!(said(&whole), [WHOLE]);
    let saved = choose(&workspace, &wren, &whole, "tea was col", None);
    let after = item(&workspace, before.item.id);
    assert_eq!(said(&after), ["The deck was full and the", "tea was cold"]);
    assert_eq!(saved.thing, Some(after.parts[1].excerpt.id.thing()));
    assert_eq!(after.parts[0].excerpt.id, whole.parts[0].excerpt.id, "the longer part keeps its number");
    work(&workspace);
    let read = item(&workspace, before.item.id);
    assert!(read.parts.iter().all(|part| part.excerpt.sure.is_some()), "the engine has read both");
    let [deck, tea] = [about(&workspace, "deck"), about(&workspace, "tea")];
    assert_eq!(read.parts[0].findings, [deck.finding.id]);
    assert_eq!(read.parts[1].findings, [tea.finding.id]);
    sound(&workspace);
    // What the engine placed in the meantime is nobody's work.
    let undone = history::undo_set(&workspace.app, &command(), saved.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(told(&item(&workspace, before.item.id)), told(&whole));
    sound(&workspace);
    history::undo_set(&workspace.app, &command(), undone.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(told(&item(&workspace, before.item.id)), told(&read));
    sound(&workspace);
}

#[test]
fn what_somebody_says_again_is_looked_for_anew_where_the_first_of_it_is_mended() {
    let (workspace, first) = heard();
    let wren = workspace.person(Role::Contributor);
    choose_all(&workspace, &wren, &first);
    bring(&workspace, "text,who,date\nWe stood in the rain,Somebody else,2026-06-21\n");
    work(&workspace);
    let again = ItemId(first.item.id.0 + 1);
    let whole = item(&workspace, again);
    choose(&workspace, &wren, &item(&workspace, first.item.id), "The deck was full", None);
    bring(&workspace, "text,who,date\nThe deck was full,Somebody else,2026-06-22\n");
    work(&workspace);
    let third = ItemId(again.0 + 1);
    let repeats = |id| item(&workspace, id).parts[0].excerpt.repeats_id;
    let head = item(&workspace, first.item.id).parts[0].excerpt.id;
    assert_eq!(repeats(third), Some(head));

    // The words become one with what follows, and then are again what is said later.
    let mended = choose(&workspace, &wren, &item(&workspace, first.item.id), WHOLE, Some(head));
    work(&workspace);
    assert_eq!(repeats(third), None);
    history::undo_set(&workspace.app, &command(), mended.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(repeats(third), Some(head));
    assert_eq!(told(&item(&workspace, again)), told(&whole), "who says something else is left alone");
    sound(&workspace);
}

fn choose_all(workspace: &Workspace, call: &Call, item: &ItemView) {
    if item.parts.len() > 1 || item.parts[0].words != WHOLE {
        choose(workspace, call, item, WHOLE, None);
    }
}

/// What somebody does while a text is being understood.
type Meanwhile = Arc<Mutex<Option<Box<dyn FnOnce() + Send>>>>;

/// Understands as ever, and lets somebody act before it answers.
struct Interrupted(Meanwhile);

impl Meaning for Interrupted {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        let act = self.0.lock().unwrap().take();
        if let Some(act) = act {
            act();
        }
        Subjects.vectors(texts)
    }
}

#[test]
fn what_is_read_while_its_words_change_is_told_of_the_words_that_are_there() {
    let words = "deck was full and the tea";
    let read = |early: bool| {
        let meanwhile = Meanwhile::default();
        let Workspace { app, product, dir } = crate::common::workspace();
        let app = app.with_meaning(Box::new(Interrupted(meanwhile.clone())));
        let workspace = Arc::new(Workspace { app, product, dir });
        let their = Arc::clone(&workspace);
        bring(&workspace, &format!("text,who,date\n{WHOLE},Somebody,2026-06-20\n"));
        let act = move || drop(choose(&their, &command(), &item(&their, ItemId(1)), words, None));
        if early {
            act();
        } else {
            *meanwhile.lock().unwrap() = Some(Box::new(act));
        }
        work(&workspace);
        assert!(meanwhile.lock().unwrap().is_none(), "somebody acted");
        sound(&workspace);
        let parts = item(&workspace, ItemId(1)).parts;
        parts
            .into_iter()
            .map(|part| (part.words, part.excerpt.kind, part.excerpt.sentiment, part.excerpt.sure))
            .collect()
    };
    let (before, meanwhile): (Vec<_>, Vec<_>) = (read(true), read(false));
    assert!(before.iter().all(|(_, _, _, sure)| sure.is_some()), "{before:?}");
    assert_eq!(meanwhile, before);
}

#[test]
fn what_people_said_of_an_excerpt_stays_and_what_the_engine_told_is_told_anew() {
    let (workspace, before) = heard();
    let wren = workspace.person(Role::Contributor);
    choose_all(&workspace, &wren, &before);
    work(&workspace);
    let whole = item(&workspace, before.item.id);
    let part = &whole.parts[0];
    let refund = about(&workspace, "refund").finding.id;
    let put = FindingChange { add: vec![part.excerpt.id], remove: Vec::new(), move_to: None };
    listen::change_finding(&workspace.app, &wren, refund, put).unwrap();
    let new =
        NewCheck { excerpt: part.excerpt.id, about: CheckAbout::Kind, way: CheckWay::Chance, said: "praise".into() };
    listen::check(&workspace.app, &wren, new).unwrap();
    choose(&workspace, &wren, &item(&workspace, before.item.id), "the tea was cold", Some(part.excerpt.id));
    work(&workspace);
    let after = item(&workspace, before.item.id);
    assert_eq!(said(&after), ["the tea was cold"]);
    assert_eq!(after.parts[0].findings, [refund], "a person put it there");
    assert_eq!(after.parts[0].excerpt.kind.name(), "praise", "a person said so");
    assert!(
        listen::agreements(&workspace.app, &wren, workspace.product).unwrap().is_empty(),
        "other words were checked"
    );
    sound(&workspace);
}

#[test]
fn what_an_excerpt_stood_behind_goes_on_to_the_words_that_hold_it() {
    let (workspace, before) = heard();
    let wren = workspace.person(Role::Contributor);
    choose_all(&workspace, &wren, &before);
    choose(&workspace, &wren, &item(&workspace, before.item.id), "tea was cold", None);
    let two = item(&workspace, before.item.id);
    let refund = about(&workspace, "refund").finding.id;
    let small = two.parts[1].excerpt.id;
    let put = FindingChange { add: vec![small], remove: Vec::new(), move_to: None };
    listen::change_finding(&workspace.app, &wren, refund, put).unwrap();
    let idea = workspace.idea(&command(), "Warm the pot");
    quote(&workspace, &command(), &[small.0], idea).unwrap();
    choose(&workspace, &wren, &two, WHOLE, Some(two.parts[0].excerpt.id));
    let one = item(&workspace, before.item.id);
    assert_eq!(said(&one), [WHOLE]);
    assert_eq!(one.parts[0].findings, [refund]);
    let quotes = workspace.rows(Collection::Idea, &["quotes"]);
    assert_eq!(quotes[0][0][0]["id"], one.parts[0].excerpt.id.0, "the idea still stands on it");
    sound(&workspace);
}

#[test]
fn what_was_seen_before_a_change_is_not_written_over() {
    let (workspace, before) = heard();
    let stale = ChosenWords { rev: before.item.rev + 1, from: 0, to: 8, becomes: None };
    let refused = listen::choose_words(&workspace.app, &command(), before.item.id, stale).unwrap_err();
    assert_eq!(refused.code(), "stale");
    let viewer = workspace.person(Role::Viewer);
    let now = ChosenWords { rev: before.item.rev, ..stale };
    assert_eq!(listen::choose_words(&workspace.app, &viewer, before.item.id, now).unwrap_err().code(), "not-allowed");
}

#[test]
fn an_excerpt_that_says_nothing_can_be_taken_out() {
    let (workspace, before) = heard();
    let wren = workspace.person(Role::Contributor);
    let part = &before.parts[0].excerpt;
    let saved = things::remove(&workspace.app, &wren, part.id.thing(), part.rev).unwrap();
    assert!(item(&workspace, before.item.id).parts.iter().all(|one| one.excerpt.id != part.id));
    history::undo_set(&workspace.app, &wren, saved.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(item(&workspace, before.item.id), before);
    sound(&workspace);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 20))]
    /// Whatever is chosen, one after another: excerpts never overlap, what is kept side by side stays true, and undoing all
    /// of it from the last to the first brings back what was there.
    #[test]
    fn any_choices_are_undone(choices in proptest::collection::vec((0_u32..60, 1_u32..40, 0_usize..6), 1..8)) {
        let workspace = crate::common::workspace();
        let text = "The deck was full, the tea was cold and nobody told us. Why? We stood there.";
        bring(&workspace, &format!("text,who,date\n\"{text}\",Somebody,2026-06-20\n"));
        let spans = |workspace: &Workspace| -> Vec<(i64, u32, u32)> {
            let item = item(workspace, ItemId(1));
            item.parts.iter().map(|part| (part.excerpt.id.0, part.excerpt.from_char, part.excerpt.to_char)).collect()
        };
        let mut before = vec![spans(&workspace)];
        let mut sets = Vec::new();
        for (from, length, pick) in choices {
            let standing = item(&workspace, ItemId(1)).parts;
            let becomes = standing.get(pick).map(|part| part.excerpt.id);
            let chosen = ChosenWords { rev: 1, from, to: from + length, becomes };
            let Ok(saved) = listen::choose_words(&workspace.app, &command(), ItemId(1), chosen) else { continue };
            let now = spans(&workspace);
            prop_assert!(now.is_sorted_by(|one, next| one.2 <= next.1), "{now:?}");
            sets.push(saved.change.unwrap());
            before.push(now);
        }
        sound(&workspace);
        while let Some(set) = sets.pop() {
            before.pop();
            history::undo_set(&workspace.app, &command(), set).unwrap();
            prop_assert_eq!(&spans(&workspace), before.last().unwrap());
        }
        sound(&workspace);
    }
}

fn quote(workspace: &Workspace, call: &Call, excerpts: &[i64], to: Thing) -> Result<Saved, String> {
    let excerpts = excerpts.iter().copied().map(ExcerptId).collect();
    listen::send_quotes(&workspace.app, call, NewQuotes { excerpts, to }).map_err(|problem| problem.code().to_owned())
}

#[test]
fn a_quoted_voice_counts_once_behind_an_idea() {
    let (workspace, _) = heard();
    let idea = workspace.idea(&command(), "Count the deck as it fills");
    let people = |workspace: &Workspace| workspace.rows(Collection::Idea, &["people"])[0][0].as_i64().unwrap();
    let deck = about(&workspace, "deck");
    let edit = Edit { rev: 1, set: crate::common::fields(&json!({ "findings": [deck.finding.id] })) };
    things::edit(&workspace.app, &command(), idea, edit).unwrap();
    let behind: Vec<i64> =
        crate::common::subjects::behind(&workspace, deck.finding.id).into_iter().map(|id| id.0).collect();
    let before = people(&workspace);
    assert_eq!(before, i64::try_from(deck.voices.people).unwrap());
    quote(&workspace, &command(), &behind[..2], idea).unwrap();
    assert_eq!(people(&workspace), before, "they stood behind it already");
    let tea: Vec<i64> = crate::common::subjects::behind(&workspace, about(&workspace, "tea").finding.id)
        .into_iter()
        .map(|id| id.0)
        .collect();
    let saved = quote(&workspace, &command(), &[tea[0], tea[0], behind[0]], idea).unwrap();
    assert!(saved.label.starts_with("quoted 1 excerpt in "), "{}", saved.label);
    assert_eq!(people(&workspace), before + 1);
    let ranked = iron_kite_ops::decide::ideas(&workspace.app, &command(), workspace.product).unwrap();
    assert_eq!(i64::try_from(ranked[0].voices.people).unwrap(), before + 1, "the ranking counts the same");
    // The item that was quoted stands behind its own finding only.
    let found = listen::ask(&workspace.app, &command(), workspace.product, "tea").unwrap();
    assert!(found.findings.iter().all(|one| one.id != deck.finding.id || one.passages < behind.len() + 1));
    history::undo_set(&workspace.app, &command(), saved.change.unwrap()).unwrap();
    assert_eq!(people(&workspace), before);
    sound(&workspace);
}

#[test]
fn a_document_holds_the_words_that_are_quoted_in_it() {
    let (workspace, before) = heard();
    let document = workspace.add(&command(), Collection::Document, &json!({ "title": "Why", "body": "So far." }));
    let part = &before.parts[0];
    quote(&workspace, &command(), &[part.excerpt.id.0], document).unwrap();
    let rows = workspace.rows(Collection::Document, &["body", "quotes"]);
    let body = rows[0][0].as_str().unwrap();
    let item = before.item.id;
    assert_eq!(body, format!("So far.\n\n> {}\n>\n> — Somebody else, 2026-06-20, voices.csv, {item}", part.words));
    assert_eq!(rows[0][1][0]["id"], part.excerpt.id.0);
    assert_eq!(quote(&workspace, &command(), &[part.excerpt.id.0], document).unwrap_err(), "quoted-already");
    // The line leads from the words to the document.
    let trace = iron_kite_ops::trace::trace(&workspace.app, &command(), part.excerpt.id.thing()).unwrap();
    let reached = serde_json::to_string(&trace).unwrap();
    assert!(reached.contains("\"document\""), "{reached}");
    let finding = about(&workspace, "tea").finding.id.thing();
    assert_eq!(quote(&workspace, &command(), &[part.excerpt.id.0], finding).unwrap_err(), "invalid");
    let joss = workspace.person(Role::Contributor);
    assert_eq!(quote(&workspace, &joss, &[part.excerpt.id.0], document).unwrap_err(), "not-allowed");
}
