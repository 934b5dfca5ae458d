//! Erasing a person leaves no trace of name, address or words anywhere in the file, except that it happened.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Error, NamePlace, Store, Tx, Way, WriteContext, database_path, verify};
use proptest::prelude::*;
use serde_json::{Map, Value, json};

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn map(value: Value) -> Map<String, Value> {
    value.as_object().unwrap().clone()
}

/// Everything on the disk, in lower case.
fn raw(dir: &std::path::Path) -> Vec<u8> {
    let path = database_path(dir);
    let beside = |ending: &str| {
        let mut name = path.clone().into_os_string();
        name.push(ending);
        std::fs::read(name).unwrap_or_default()
    };
    let all = [std::fs::read(&path).unwrap(), beside("-wal"), beside("-shm")].concat();
    String::from_utf8_lossy(&all).to_lowercase().into_bytes()
}

fn holds(all: &[u8], words: &str) -> bool {
    let words = words.to_lowercase().into_bytes();
    all.windows(words.len()).any(|window| window == words)
}

/// A workspace in which a person said something, was edited, merged, quoted by others, and is in the history.
fn workspace(name: &str, words: &str) -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    let (name, words) = (name.to_owned(), words.to_owned());
    let write = move |tx: &mut Tx<'_>| -> Result<(), Error> {
        tx.insert(ThingKind::Product, &map(json!({ "name": "Crossing" })))?;
        tx.insert(ThingKind::Source, &map(json!({ "product_id": 1, "name": "x", "brought_on": "2026-01-01" })))?;
        let person = json!({ "name": name, "address": format!("{}@hask.example", name.replace(' ', ".")) });
        tx.insert(ThingKind::Person, &map(person))?;
        tx.insert(ThingKind::Person, &map(json!({ "name": "Bo Reef" })))?;
        for (n, person, text) in [
            (1, 1, format!("The boat: {words}. Again!")),
            (2, 2, format!("{name} told me, and {} too", name.to_uppercase())),
            (3, 1, format!("Second {words}")),
        ] {
            let item =
                json!({ "product_id": 1, "source_id": 1, "text": text, "digest": n.to_string(), "person_id": person });
            let item = tx.insert(ThingKind::FeedbackItem, &map(item))?;
            let excerpt = json!({ "item_id": item, "from_char": 0, "to_char": 5, "kind": "defect", "sentiment": 0 });
            tx.insert(ThingKind::Excerpt, &map(excerpt))?;
        }
        tx.insert(ThingKind::Finding, &map(json!({ "product_id": 1, "title": "Off", "note": format!("ask {name}") })))?;
        for excerpt in [1, 2] {
            tx.add_link(
                LinkKind::Supports,
                Thing::new(ThingKind::Excerpt, excerpt),
                Thing::new(ThingKind::Finding, 1),
            )?;
        }
        // What was said of their words goes with them; what was said elsewhere names them no more.
        let on = |kind: &str, id: i64, body: String, words: Option<String>| {
            map(
                json!({ "on_kind": kind, "on_id": id, "body": body, "written_at": 0, "field": words.as_ref().map(|_| "text"),
                "words": words, "words_before": "The boat: ", "words_after": ". Again!" }),
            )
        };
        let first = on("excerpt", 1, format!("Is it so: {words}?"), Some(words.clone()));
        let first = tx.insert(ThingKind::Comment, &first)?;
        let mut answer = on("excerpt", 1, format!("{name} says so: {words}"), None);
        answer.insert("reply_to".into(), first.into());
        tx.insert(ThingKind::Comment, &answer)?;
        tx.insert(ThingKind::Comment, &on("finding", 1, format!("Ask {name} again"), None))?;
        tx.label(format!("brought in what {name} said"));
        Ok(())
    };
    store.write(context(), write).unwrap();
    // A later edit, so that the ledger holds two versions of the words.
    let edit = |tx: &mut Tx<'_>| -> Result<(), Error> {
        tx.set(Thing::new(ThingKind::FeedbackItem, 3), &map(json!({ "rating": 2.0 }))).map(drop)
    };
    store.write(context(), edit).unwrap();
    (dir, store)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 10))]

    #[test]
    fn no_trace_is_left_in_the_raw_file(
        first in "[A-Z][a-zäöë]{5,9}", last in "[A-Z][a-zß]{6,9}", words in "[a-z]{9,12}( [a-zé]{7,9}){1,3}",
    ) {
        let name = format!("{first} {last}");
        let (dir, store) = workspace(&name, &words);
        prop_assert!(holds(&raw(dir.path()), &name) && holds(&raw(dir.path()), &words));
        let erased = store.erase(context(), 1, Vec::new()).unwrap();
        prop_assert_eq!((erased.items, erased.excerpts), (2, 2));
        // The other's words, the note, the label of the change, and their versions in the ledger.
        prop_assert!(erased.mentions >= 4, "{:?}", erased);
        let all = raw(dir.path());
        let address = format!("{}@hask.example", name.replace(' ', "."));
        for trace in [name.as_str(), &address, &words].into_iter().chain(words.split(' ')) {
            prop_assert!(!holds(&all, trace), "'{}' is still in the file", trace);
        }
        // The others stay, and the file is sound.
        let rest: Vec<Value> = store.read(|rows| -> Result<_, Error> {
            Ok(vec![rows.json(Thing::new(ThingKind::FeedbackItem, 2))?, rows.json(Thing::new(ThingKind::Finding, 1))?])
        }).unwrap();
        let comments: i64 = store.read(|rows| -> Result<_, Error> {
            Ok(rows.connection.query_row("SELECT count(*) FROM comment", [], |row| row.get(0))?)
        }).unwrap();
        prop_assert_eq!(comments, 1);
        prop_assert!(rest[0]["text"].as_str().unwrap().contains(" told me, and "));
        let connection = rusqlite::Connection::open(database_path(dir.path())).unwrap();
        let last = "SELECT label FROM change_set ORDER BY id DESC LIMIT 1";
        let label: String = connection.query_row(last, [], |row| row.get(0)).unwrap();
        drop(connection);
        prop_assert_eq!(label, "erased a person");
        drop(store);
        let report = verify(dir.path()).unwrap();
        prop_assert!(report.faults.is_empty(), "{:?}", report.faults);
    }
}

/// A workspace in which a name is an ordinary word: of people, of states and of definitions.
fn ordinary(name: &str) -> (tempfile::TempDir, Store) {
    let (dir, store) = workspace(name, "nobody told us that the boat was off");
    let more = |tx: &mut Tx<'_>| -> Result<(), Error> {
        let idea = json!({ "product_id": 1, "title": "The raw idea is 1 of the best", "state": "raw", "own": r#"{"raw":"the raw 1"}"# });
        tx.insert(ThingKind::Idea, &map(idea))?;
        let filter =
            json!({ "kind": "table", "filter": { "field": "state", "operator": "is", "value": "raw" } }).to_string();
        tx.insert(ThingKind::View, &map(json!({ "product_id": 1, "collection": "idea", "name": "Raw ideas", "position": 1, "definition": filter })))?;
        Ok(())
    };
    store.write(context(), more).unwrap();
    (dir, store)
}

#[test]
fn a_name_that_is_any_word_harms_nothing_and_is_covered_where_somebody_says_so() {
    for name in ["raw", "the", "idea", "1", "table", "state"] {
        let (dir, store) = ordinary(name);
        let ahead = store.read(|rows| rows.erasing(1)).unwrap();
        assert!(ahead.any.contains(&name.to_owned()), "{name}: {ahead:?}");
        let idea = Thing::new(ThingKind::Idea, 1);
        let place = |column: &str| NamePlace { thing: idea, column: column.into() };
        let listed = ahead.places.iter().any(|(one, _)| *one == place("title"));
        assert_eq!(listed, ["raw", "the", "idea", "1"].contains(&name), "{name}");
        let definitions = ahead.places.iter().filter(|(one, _)| one.column == "definition").count();
        assert_eq!(definitions, 0, "{name}: what the program says is nobody's to decide");
        let wrong = NamePlace { thing: Thing::new(ThingKind::View, 1), column: "definition".into() };
        assert!(store.erase(context(), 1, vec![wrong]).is_err(), "{name}");
        store.erase(context(), 1, if listed { vec![place("title")] } else { Vec::new() }).unwrap();
        let row = |kind, id| store.read(|rows| rows.json(Thing::new(kind, id))).unwrap();
        let idea = row(ThingKind::Idea, 1);
        assert_eq!(idea["state"], "raw", "{name}");
        assert_eq!(idea["title"].as_str().unwrap().contains('•'), listed, "{name}: {idea}");
        assert!(idea["raw"] == "the raw 1", "{name}: {idea}");
        assert_eq!(row(ThingKind::View, 1)["name"], "Raw ideas", "{name}");
        drop(store);
        assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new(), "{name}");
    }
}

#[test]
fn what_was_copied_of_their_words_goes_and_what_others_said_stays() {
    let said = "nobody told us that the boat was off. We waited on the pier for an hour in the rain.";
    let (dir, store) = workspace("Ann Lee-Harbour", said);
    let copies = |tx: &mut Tx<'_>| -> Result<(), Error> {
        let title = "Nobody told us that the boat was off";
        tx.insert(ThingKind::Idea, &map(json!({ "product_id": 1, "title": title, "state": "raw" })))?;
        let frozen =
            json!({ "kept": { "findings": [{ "title": "x", "quotes": ["We waited on the pier for an hour"] }] } });
        let decision = json!({ "idea_id": 1, "outcome": "chosen", "reason": "because", "decided_on": "2026-01-01", "frozen": frozen.to_string() });
        tx.insert(ThingKind::Decision, &map(decision))?;
        let body = "# Why\n\n> the boat was off. We\n> waited on the pier for\n\nAnd so on.";
        tx.insert(
            ThingKind::Document,
            &map(json!({ "product_id": 1, "title": "Why", "body": body, "state": "draft" })),
        )?;
        let same = json!({ "product_id": 1, "source_id": 1, "text": format!("{title}, I say too"), "digest": "9", "person_id": 2 });
        tx.insert(ThingKind::FeedbackItem, &map(same))?;
        tx.label(format!("made an idea of \"{title}\""));
        Ok(())
    };
    store.write(context(), copies).unwrap();
    store.erase(context(), 1, Vec::new()).unwrap();
    let row = |kind, id| store.read(|rows| rows.json(Thing::new(kind, id))).unwrap();
    assert_eq!(row(ThingKind::Idea, 1)["title"], "•••••• •••• •• •••• ••• •••• ••• •••");
    assert_eq!(
        row(ThingKind::Decision, 1)["frozen"],
        json!({ "kept": { "findings": [{ "title": "x", "quotes": ["•• •••••• •• ••• •••• ••• •• ••••"] }] } })
            .to_string()
    );
    let body = row(ThingKind::Document, 1)["body"].as_str().unwrap().to_owned();
    assert_eq!(body, "# Why\n\n> ••• •••• ••• •••. ••\n> •••••• •• ••• •••• •••\n\nAnd so on.");
    assert_eq!(row(ThingKind::FeedbackItem, 4)["text"], "Nobody told us that the boat was off, I say too");
    drop(store);
    let all = raw(dir.path());
    assert!(
        !holds(&all, "waited on the pier") && !holds(&all, "made an idea of \"nobody"),
        "a copy is still in the file"
    );
    assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
}

#[test]
fn a_file_that_was_left_unclean_is_cleaned_at_the_next_start() {
    let (dir, store) = workspace("Ann Lee-Harbour", "zanzibar zanzibar");
    drop(store);
    let connection = rusqlite::Connection::open(database_path(dir.path())).unwrap();
    // As if the program had ended between the two steps: the rows are gone, and their bytes are still there.
    connection
        .execute_batch(
            "PRAGMA secure_delete = OFF; PRAGMA foreign_keys = OFF; CREATE TABLE x(words TEXT);
             INSERT INTO x SELECT 'quagmire ' || hex(zeroblob(3000)); DROP TABLE x;
             INSERT INTO unfinished(what) VALUES ('clean'); PRAGMA wal_checkpoint(TRUNCATE);",
        )
        .unwrap();
    drop(connection);
    assert!(holds(&raw(dir.path()), "quagmire"));
    drop(Store::open(dir.path()).unwrap());
    assert!(!holds(&raw(dir.path()), "quagmire"));
    assert_eq!(verify(dir.path()).unwrap().faults, Vec::<String>::new());
}
