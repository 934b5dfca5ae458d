//! Documents and pages are found by what they mean.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::subjects::{ready, sound, work};
use crate::common::{Workspace, command};
use iron_kite_core::fields::Collection;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_ops::collections;
use iron_kite_ops::listen;
use iron_kite_ops::things::{self, Edit};
use serde_json::json;

const ASKED: &str = "where may the bicycle stand";

/// What is found in other words: the thing, and the passage.
fn found(workspace: &Workspace, asked: &str, kind: Option<ThingKind>) -> Vec<(Thing, String)> {
    let result = collections::search(&workspace.app, &command(), workspace.product, asked, kind).unwrap();
    result.pages.into_iter().map(|hit| (hit.thing, hit.snippet)).collect()
}

fn write(workspace: &Workspace, thing: Thing, rev: i64, body: &str) {
    let edit = Edit { rev, set: crate::common::fields(&json!({ "body": body })) };
    things::edit(&workspace.app, &command(), thing, edit).unwrap();
    work(workspace);
}

#[test]
fn a_text_is_found_by_its_passage_as_it_is_now() {
    let workspace = ready();
    let document = workspace.add(&command(), Collection::Document, &json!({ "title": "Before the summer" }));
    let page = workspace.add(&command(), Collection::Page, &json!({ "title": "Tea", "body": "The tea is warm." }));
    assert_eq!(found(&workspace, ASKED, None), [], "nothing is understood yet");
    write(&workspace, document, 1, "# Why\n\nThe tea is cold.\n\n- A bicycle needs a rack.\n- So does a tandem.");
    let passage = [(document, "A bicycle needs a rack. So does a tandem.".to_owned())];
    assert_eq!(found(&workspace, ASKED, None), passage);
    assert_eq!(found(&workspace, ASKED, Some(ThingKind::Page)), []);
    assert_eq!(found(&workspace, ASKED, Some(ThingKind::Document)), passage);
    // One passage of each, whichever fits best.
    let both: Vec<Thing> = found(&workspace, "some tea at noon", None).into_iter().map(|(thing, _)| thing).collect();
    assert!(both.len() == 2 && both.contains(&document) && both.contains(&page), "{both:?}");
    // What has the words themselves is found by them, and not told twice.
    let words = collections::search(&workspace.app, &command(), workspace.product, "bicycle rack", None).unwrap();
    assert!(words.things.iter().any(|hit| hit.thing == document) && words.pages.is_empty());
    // No meaning is forgotten that is needed, and what is not there any more is not found.
    listen::forget_meanings(&workspace.app, &command()).unwrap();
    assert_eq!(found(&workspace, ASKED, None).len(), 1);
    write(&workspace, document, 2, "Nothing of the sort.");
    assert_eq!(found(&workspace, ASKED, None), []);
    write(&workspace, page, 1, "The bicycle went home.");
    assert_eq!(found(&workspace, ASKED, None).len(), 1);
    things::remove(&workspace.app, &command(), page, 2).unwrap();
    assert_eq!(found(&workspace, ASKED, None), []);
    sound(&workspace);
}
