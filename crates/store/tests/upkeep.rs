//! `verify` finds what is wrong, and the trace is what a search step by step would find.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::attachments::Attachment;
use iron_kite_store::queries::files::FileHead;
use iron_kite_store::queries::trace::Direction;
use iron_kite_store::{Connection, Error, Store, Way, WriteContext, verify};
use serde_json::{Map, Value, json};

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

/// A workspace with a product, a source, an item and a linked finding.
fn workspace() -> tempfile::TempDir {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    store
        .write(context(), |tx| -> Result<(), Error> {
            tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
            tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": "x", "brought_on": "2026-01-01" })))?;
            let item = json!({ "product_id": 1, "source_id": 1, "text": "The boat was off", "digest": "d" });
            tx.insert(ThingKind::FeedbackItem, &map(item))?;
            let excerpt = json!({ "item_id": 1, "from_char": 0, "to_char": 16, "kind": "defect", "sentiment": 0.0 });
            tx.insert(ThingKind::Excerpt, &map(excerpt))?;
            tx.insert(ThingKind::Finding, &map(json!({ "product_id": 1, "title": "Off" })))?;
            let file = tx.begin_file(&FileHead::of(b"words", None, 0))?;
            tx.add_part(file, 0, b"words")?;
            tx.add_attachment(&Attachment { name: "x".into(), media_type: "text/plain".into(), file }, None, 0)?;
            tx.add_link(LinkKind::Supports, Thing::new(ThingKind::Excerpt, 1), Thing::new(ThingKind::Finding, 1))
        })
        .unwrap();
    dir
}

#[test]
fn a_sound_workspace_is_sound_and_each_harm_is_named() {
    assert_eq!(verify(workspace().path()).unwrap().faults, Vec::<String>::new());
    for (harm, words) in [
        ("UPDATE finding SET title = 'On'", "1 rows of finding stand otherwise than the ledger says"),
        ("DELETE FROM link", "1 rows of link are gone without the ledger saying so"),
        ("DELETE FROM finding", "1 links lead to a finding that is not there"),
        ("DELETE FROM feedback_words_data WHERE id > 10", "full-text index feedback_words"),
        ("DELETE FROM item_letters_data WHERE id > 10", "full-text index item_letters"),
        ("UPDATE excerpt SET account_id = 77", "rows of what stands with excerpts of their items do not match"),
        ("PRAGMA foreign_keys = OFF; DELETE FROM source", "points at a source that is not there"),
        ("DELETE FROM change WHERE kind = 'excerpt'", "1 rows of excerpt stand otherwise"),
        ("UPDATE excerpt SET kind = 'raw'", "1 rows of excerpt hold what a excerpt does not: 1: unknown variant `raw`"),
        ("UPDATE file_part SET bytes = CAST('other' AS BLOB)", "the file “x” (attachment 1) is not as it came"),
        ("UPDATE file_part SET bytes = CAST('word' AS BLOB)", "the file “x” (attachment 1) is not as it came"),
        ("DELETE FROM file_part", "the file “x” (attachment 1) is not as it came"),
        ("UPDATE attachment SET file_id = NULL", "the file “x” (attachment 1) has no bytes"),
    ] {
        let dir = workspace();
        Connection::open(iron_kite_store::database_path(dir.path())).unwrap().execute_batch(harm).unwrap();
        let faults = verify(dir.path()).unwrap().faults;
        assert!(faults.iter().any(|fault| fault.contains(words)), "{harm}: {faults:?}");
    }
    assert!(verify(tempfile::tempdir().unwrap().path()).is_err());
    // Several at once in one process do not stand in one another's way.
    let (one, other) = (workspace(), workspace());
    std::thread::scope(|scope| {
        for dir in [&one, &other, &one, &other] {
            scope.spawn(|| (0..10).for_each(|_| assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new())));
        }
    });
}

/// Ideas and epics joined at random, and the reach of each by a search step by step.
#[test]
fn the_reach_is_what_a_step_by_step_search_finds() {
    let dir = workspace();
    let store = Store::open(dir.path()).unwrap();
    let mut seed = 7_u64;
    let mut chance = move |below: i64| {
        // Knuth's multiplier: any order will do, as long as it is the same each time.
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        i64::try_from(seed >> 33).unwrap() % below + 1
    };
    let kinds = [ThingKind::Excerpt, ThingKind::Finding, ThingKind::Idea, ThingKind::WorkItem];
    let mut edges: Vec<(Thing, Thing)> = Vec::new();
    for _ in 0..120 {
        let step = usize::try_from(chance(3)).unwrap() - 1;
        edges.push((Thing::new(kinds[step], 100 + chance(12)), Thing::new(kinds[step + 1], 100 + chance(12))));
    }
    let made = edges.clone();
    store
        .write(context(), move |tx| made.iter().try_for_each(|(from, to)| tx.add_link(LinkKind::Supports, *from, *to)))
        .unwrap();
    for direction in [Direction::Down, Direction::Up] {
        let mut next: BTreeMap<Thing, Vec<Thing>> = BTreeMap::new();
        for (from, to) in &edges {
            let (from, to) = if direction == Direction::Down { (from, to) } else { (to, from) };
            next.entry(*from).or_default().push(*to);
        }
        for start in edges.iter().flat_map(|(from, to)| [*from, *to]) {
            let mut seen = BTreeSet::new();
            let mut open = vec![start];
            while let Some(at) = open.pop() {
                open.extend(next.get(&at).into_iter().flatten().filter(|to| seen.insert(**to)));
            }
            let found = store.read(|rows| rows.reach(start, direction)).unwrap();
            assert_eq!(found, seen.into_iter().collect::<Vec<_>>(), "{start:?}");
        }
    }
}

/// The schema before objectives had measurements.
const BEFORE: [&str; 12] = [
    include_str!("../migrations/0001_line.sql"),
    include_str!("../migrations/0002_collections.sql"),
    include_str!("../migrations/0003_bring_in.sql"),
    include_str!("../migrations/0004_studies.sql"),
    include_str!("../migrations/0005_channels.sql"),
    include_str!("../migrations/0006_engine.sql"),
    include_str!("../migrations/0007_findings.sql"),
    include_str!("../migrations/0008_checking.sql"),
    include_str!("../migrations/0009_side_by_side.sql"),
    include_str!("../migrations/0010_recordings.sql"),
    include_str!("../migrations/0011_learned.sql"),
    include_str!("../migrations/0012_passages.sql"),
];

#[test]
fn where_an_objective_stood_becomes_its_first_measurement_and_what_was_done_before_can_be_undone() {
    let dir = tempfile::tempdir().unwrap();
    let old = Connection::open(iron_kite_store::database_path(dir.path())).unwrap();
    BEFORE.iter().for_each(|sql| old.execute_batch(sql).unwrap());
    old.execute_batch(
        r#"PRAGMA user_version = 12;
        INSERT INTO product(name) VALUES ('Crossing');
        INSERT INTO objective(product_id, title, measure, start_value, target_value, present_value)
          VALUES (1, 'Fewer left behind', 'Left behind', 31, 10, 24);
        INSERT INTO change_set(at, way, label) VALUES (1, 'person', 'made'), (2, 'person', 'changed');
        INSERT INTO change(set_id, kind, row_id, before, after) VALUES
          (1, 'product', 1, NULL, json_object('id', 1, 'name', 'Crossing')),
          (1, 'objective', 1, NULL, json_object('id', 1, 'product_id', 1, 'title', 'Fewer', 'measure', 'Left behind',
            'start_value', 31.0, 'target_value', 10.0, 'present_value', 30.0)),
          (2, 'objective', 1,
            json_object('id', 1, 'product_id', 1, 'title', 'Fewer', 'measure', 'Left behind',
              'start_value', 31.0, 'target_value', 10.0, 'present_value', 30.0),
            json_object('id', 1, 'product_id', 1, 'title', 'Fewer left behind', 'measure', 'Left behind',
              'start_value', 31.0, 'target_value', 10.0, 'present_value', 24.0));"#,
    )
    .unwrap();
    drop(old);
    let store = Store::open(dir.path()).unwrap();
    assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
    let value = || store.read(|rows| rows.json(Thing::new(ThingKind::Measurement, 1)).map(|row| row["value"].clone()));
    assert_eq!(value().unwrap(), json!(24.0));
    let undone = store.write(context(), |tx| -> Result<_, Error> { tx.undo(2) }).unwrap().0;
    assert!(undone.is_ok(), "{undone:?}");
    let title = store.read(|rows| rows.json(Thing::new(ThingKind::Objective, 1)).map(|row| row["title"].clone()));
    assert_eq!(title.unwrap(), json!("Fewer"));
    assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn to_look_writes_nothing_and_works_where_nothing_can_be_written() {
    let dir = workspace();
    let path = iron_kite_store::database_path(dir.path());
    let state = || (std::fs::read(&path).unwrap(), std::fs::metadata(&path).unwrap().modified().unwrap());
    let before = state();
    assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
    assert_eq!(state(), before);
    // Damage in one table is told with its name, and the others are looked at all the same.
    let connection = Connection::open(&path).unwrap();
    let root: i64 =
        connection.query_row("SELECT rootpage FROM sqlite_schema WHERE name = 'link'", [], |row| row.get(0)).unwrap();
    let size: i64 = connection.query_row("PRAGMA page_size", [], |row| row.get(0)).unwrap();
    connection.execute_batch("UPDATE finding SET title = 'On'; PRAGMA wal_checkpoint(TRUNCATE)").unwrap();
    drop(connection);
    let mut bytes = std::fs::read(&path).unwrap();
    let at = usize::try_from((root - 1) * size).unwrap();
    bytes[at..at + 64].fill(0xa5);
    std::fs::write(&path, bytes).unwrap();
    let faults = verify(dir.path()).unwrap().faults;
    for words in ["link", "1 rows of finding stand otherwise"] {
        assert!(faults.iter().any(|fault| fault.contains(words)), "{words}: {faults:?}");
    }
}
