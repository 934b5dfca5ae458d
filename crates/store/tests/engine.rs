//! What the engine tells is told of the words that it read, and of no others.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, ProductId, Thing, ThingKind};
use iron_kite_store::queries::engine::Told;
use iron_kite_store::{Error, Store, Tx, Way, WriteContext};
use serde_json::{Map, Value, json};

const EXCERPT: ExcerptId = ExcerptId(1);

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

fn write<T: Send + 'static>(store: &Store, act: impl FnOnce(&mut Tx<'_>) -> Result<T, Error> + Send + 'static) -> T {
    let context = WriteContext { user_id: None, at: 0, label: "a step".into(), way: Way::Person, needs: Right::Edit };
    store.write(context, act).unwrap().0
}

/// One excerpt, whose words the engine has not read yet.
fn said() -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    write(&store, |tx| {
        tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
        tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": "Desk", "brought_on": "2026-01-01" })))?;
        let text = "The boat was late and cold";
        tx.insert(
            ThingKind::FeedbackItem,
            &map(json!({ "product_id": 1, "source_id": 1, "text": text, "digest": "a" })),
        )?;
        let excerpt = json!({ "item_id": 1, "from_char": 0, "to_char": 26, "kind": "habit", "sentiment": 0.0 });
        tx.insert(ThingKind::Excerpt, &map(excerpt))
    });
    (dir, store)
}

/// Reads the one excerpt: with a key and a meaning of its words. Whether it was noted, where something happens in between.
fn read(store: &Store, key: i64, meanwhile: impl FnOnce()) -> bool {
    let unread = store.read(|rows| rows.next_unread(ProductId(1), 7, 0, 9)).unwrap();
    meanwhile();
    let (kind, sure, sentiment, language, repeats) = ("defect", 0.9, -0.5, Some("English"), None);
    let told = Told { id: EXCERPT, stand: unread[0].stand, kind, sure, sentiment, language, meaning_key: key, repeats };
    write(store, move |tx| {
        tx.keep_meaning(key, &key.to_be_bytes(), &[])?;
        tx.tell(7, &[told])
    })
    .contains(&EXCERPT)
}

/// Gives the excerpt fewer words.
fn shorten(store: &Store, to: i64) {
    write(store, move |tx| {
        tx.set(Thing::new(ThingKind::Excerpt, 1), &map(json!({ "to_char": to })))?;
        tx.read_anew()
    });
}

#[test]
fn what_was_read_before_the_words_changed_is_not_noted() {
    let (_dir, store) = said();
    let unread = || store.read(|rows| rows.unread_by(ProductId(1), 7)).unwrap();
    assert!(!read(&store, 100, || shorten(&store, 17)));
    assert_eq!(unread(), 1);
    // Again in between, and then in peace.
    assert!(!read(&store, 100, || shorten(&store, 12)));
    assert!(read(&store, 200, || ()));
    assert_eq!(unread(), 0);
}

#[test]
fn a_finding_is_looked_for_only_for_what_is_meant_still() {
    let (_dir, store) = said();
    let unplaced = |key: i64| store.read(move |rows| rows.is_unplaced(EXCERPT, &key.to_be_bytes())).unwrap();
    assert!(!unplaced(100), "it is not read yet");
    read(&store, 100, || ());
    assert!(unplaced(100) && !unplaced(200));
    shorten(&store, 17);
    assert!(!unplaced(100), "it has other words");
    read(&store, 200, || ());
    assert!(unplaced(200) && !unplaced(100));
    write(&store, |tx| tx.mark_placed(&[EXCERPT]));
    assert!(!unplaced(200), "it was looked for");
}

#[test]
fn what_was_understood_before_its_tone_was_heard_is_understood_again() {
    let (dir, store) = said();
    let keep = || write(&store, |tx| tx.keep_meaning(7, b"meaning", b"tone"));
    let heard = || store.read(|rows| rows.heard(7)).unwrap();
    keep();
    let connection = rusqlite::Connection::open(iron_kite_store::database_path(dir.path())).unwrap();
    connection.execute("UPDATE meaning SET tone = NULL, closer = CAST('closer' AS BLOB)", []).unwrap();
    assert_eq!(heard(), None);
    keep();
    assert_eq!(heard(), Some((b"meaning".to_vec(), b"tone".to_vec())));
    let mut closer = None;
    store.read(|rows| rows.all_meanings(|_, _, _, found| closer = found.map(<[u8]>::to_vec))).unwrap();
    assert_eq!(closer, Some(b"closer".to_vec()), "what took long stays");
}
