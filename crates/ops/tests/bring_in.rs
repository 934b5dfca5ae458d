//! Files that wait are read as somebody says, and a source that is known by another key is not doubled.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeMap;

use crate::common::{Workspace, command, workspace};
use iron_kite_core::fields::Collection;
use iron_kite_core::formats::table::HowRead;
use iron_kite_core::listen::Columns;
use iron_kite_ops::jobs;
use iron_kite_ops::listen::{self, AtOnce, BringIn, Holds, PartAsk, PutDown, ReadAnew, TablePreview};
use serde_json::json;

fn table(file: &PutDown) -> &TablePreview {
    match &file.parts[0].holds {
        Holds::Table(table) => table,
        other => panic!("{other:?}"),
    }
}

fn counted(w: &Workspace) -> usize {
    w.rows(Collection::FeedbackItem, &["text"]).len()
}

#[test]
fn a_file_is_read_and_brought_in_as_somebody_says() {
    let w = workspace();
    let rows: String = (3..9).map(|n| format!("{n}\tThe boat {n}\tAnn {n}\n")).collect();
    let file = format!("1\tfine\tBo\n2\t\"Not closed, he said\tAnn\n{rows}");
    let down = listen::put_down(&w.app, &command(), w.product, "a.tsv", file.into_bytes()).unwrap();
    assert!(!table(&down).doubts.is_empty() && table(&down).counts.new < 8, "{:?}", table(&down));
    let how = HowRead { quotes: Some(false), headings: Some(false), ..HowRead::default() };
    let ask = ReadAnew { file: down.id, part: "a.tsv".into(), how: how.clone() };
    let anew = listen::read_anew(&w.app, &command(), ask).unwrap();
    assert_eq!((table(&anew).counts.new, table(&anew).headed, &anew.parts[0].how), (8, false, &how));
    // What says nothing of how is forgotten, and a part that is not there as well.
    for (part, how) in [("a.tsv", HowRead::default()), ("b.tsv", how.clone())] {
        let ask = ReadAnew { file: down.id, part: part.into(), how };
        assert_eq!(listen::read_anew(&w.app, &command(), ask).unwrap().parts, down.parts);
    }
    let ask = ReadAnew { file: down.id, part: "a.tsv".into(), how };
    listen::read_anew(&w.app, &command(), ask).unwrap();
    let part = PartAsk { file: down.id, part: 0, columns: None, cover: false, study: None };
    let ask = BringIn { product: w.product, parts: vec![part], take_changed: false };
    listen::start(&w.app, &command(), ask).unwrap();
    jobs::work_off(&w.app, &command()).unwrap();
    assert_eq!(counted(&w), 8);
}

#[test]
fn the_same_file_with_another_key_is_not_doubled() {
    let w = workspace();
    let file = "no,ref,text\n1,a,The boat was late\n2,b,The boat was late\n3,c,So was the bus\n";
    let bring = |key: Option<usize>, file: &str| {
        let columns = Columns { text: 2, key, ..Columns::default() };
        listen::import(&w.app, &command(), w.product, "a.csv", file.as_bytes(), &columns).unwrap().report
    };
    // Two say the same: with a key of its own each counts.
    assert_eq!(bring(Some(0), file).added, 3);
    let again = bring(Some(1), file);
    assert_eq!((again.added, again.duplicates), (0, 3));
    // From then on it is known by the other one, also where something else is said.
    let changed = bring(Some(1), &file.replace("the bus", "the train"));
    assert_eq!((changed.added, changed.duplicates, changed.changed.len()), (0, 2, 1));
    assert_eq!(counted(&w), 3);
}

#[test]
fn what_would_come_is_told_and_nothing_is_written() {
    let w = workspace();
    let file = b"Nr;Nachricht;Name\n1;Das Boot kam zu sp\xe4t;Ann\n2;;Bo\n";
    let look = |named: &[(&str, &str)], options: &AtOnce| {
        let named: BTreeMap<String, String> =
            named.iter().map(|(meaning, heading)| ((*meaning).to_owned(), (*heading).to_owned())).collect();
        listen::look_ahead(&w.app, &command(), w.product, "a.csv", file, &named, options)
    };
    let ahead = look(&[], &AtOnce::default()).unwrap().remove(0);
    assert_eq!(json!(ahead.columns), json!({ "text": "Nachricht", "person": "Name", "key": "Nr" }));
    let counts = ahead.counts.unwrap();
    assert_eq!((counts.new, counts.left_out, ahead.notes.len()), (1, 1, 1));
    assert!(look(&[("text", "Words")], &AtOnce::default()).is_err());
    let sheet = AtOnce { sheet: Some("Other".into()), ..AtOnce::default() };
    assert!(look(&[], &sheet).unwrap_err().detail().contains("no sheet called 'Other'"));
    let headless = AtOnce { how: HowRead { headings: Some(false), ..HowRead::default() }, ..AtOnce::default() };
    assert_eq!(look(&[], &headless).unwrap()[0].counts.unwrap().new, 2);
    assert_eq!(counted(&w), 0);
}
