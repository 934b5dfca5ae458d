//! What the descriptions of the kinds say holds for every kind: a row of each is put into two products, and looked for, traced,
//! removed and brought back.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;

use iron_kite_core::kind::{Line, OnRemoval, WayToProduct};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_store::queries::trace::Direction;
use iron_kite_store::{Connection, Error, Store, Tx, Way, WriteContext, verify};
use serde_json::{Map, Value};

fn context() -> WriteContext {
    WriteContext { user_id: None, at: 0, label: "set up".into(), way: Way::Person, needs: Right::Edit }
}

fn write<T: Send + 'static>(
    store: &Store,
    write: impl FnOnce(&mut Tx<'_>) -> Result<T, Error> + Send + 'static,
) -> (T, Option<i64>) {
    let (value, set) = store.write(context(), write).unwrap();
    (value, set.map(|set| set.set))
}

/// The columns of a table: name, type, whether something must stand in it.
fn columns(connection: &Connection, kind: ThingKind) -> Vec<(String, String, bool)> {
    let sql = "SELECT name, type, \"notnull\" FROM pragma_table_info(?1)";
    let mut statement = connection.prepare(sql).unwrap();
    let all = statement.query_map([kind.name()], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?))).unwrap();
    all.collect::<Result<_, _>>().unwrap()
}

/// A word that stands in every text of a kind and in no other.
fn word(kind: ThingKind) -> String {
    format!("word{}", kind.name().replace('_', ""))
}

/// A row of a kind that points to the things with the number `n`, and to the first of its own kind where `below` says so.
fn row(connection: &Connection, kind: ThingKind, n: i64, below: bool) -> Map<String, Value> {
    let mut row = Map::new();
    for (name, of, must) in columns(connection, kind) {
        let value = match (name.as_str(), kind.description().relation(&name)) {
            ("id" | "rev" | "own" | "set_id", _) => continue,
            (_, Some(relation)) if relation.to == kind => {
                if below {
                    Value::from(1)
                } else {
                    continue;
                }
            }
            (_, Some(_)) => Value::from(n),
            ("product_id", None) => Value::from(n),
            ("from_kind" | "to_kind" | "on_kind", _) => Value::from("idea"),
            ("from_id" | "to_id" | "on_id", _) => Value::from(n),
            ("user_id", _) => Value::from(1),
            ("turns" | "extra", _) => continue,
            // It follows from the item.
            ("said_on", _) if kind == ThingKind::Excerpt => continue,
            _ if name.ends_with("_id") || name.ends_with("_by") || name == "recording" => continue,
            _ if of == "TEXT" => Value::from(format!("{} {n} {}", word(kind), if below { "below" } else { "" })),
            _ if must => Value::from(n),
            _ => continue,
        };
        row.insert(name, value);
    }
    row
}

/// A workspace with a thing of each kind in each of two products, numbered as these, and a third below the first where things of
/// the kind lie below one another.
fn workspace() -> (tempfile::TempDir, Store) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(dir.path()).unwrap();
    write(&store, |tx| {
        let connection = tx.rows().connection;
        connection.execute_batch(
            "PRAGMA ignore_check_constraints = ON;
             INSERT INTO user(name, email, role) VALUES ('Wren', 'wren@crossing.example', 'owner');",
        )?;
        for kind in ThingKind::ALL.iter().copied() {
            for n in [1, 2] {
                assert_eq!(tx.insert(kind, &row(tx.rows().connection, kind, n, false))?, n, "{kind}");
            }
            if kind.description().relations.iter().any(|relation| relation.to == kind) {
                tx.insert(kind, &row(tx.rows().connection, kind, 1, true))?;
            }
        }
        Ok(())
    });
    (dir, store)
}

#[test]
fn the_tables_are_as_the_descriptions_say() {
    let (_dir, store) = workspace();
    store
        .read(|rows| {
            for kind in ThingKind::ALL.iter().copied() {
                let told = kind.description();
                let names: BTreeSet<String> = columns(rows.connection, kind).into_iter().map(|one| one.0).collect();
                let sql = "SELECT \"from\", \"table\" FROM pragma_foreign_key_list(?1)";
                let mut statement = rows.connection.prepare(sql)?;
                let keys = statement.query_map([kind.name()], |row| Ok((row.get(0)?, row.get(1)?)))?;
                let keys: BTreeSet<(String, String)> = keys.collect::<Result<_, _>>()?;
                let to_things = keys.into_iter().filter(|(_, table)| table.parse::<ThingKind>().is_ok());
                let relations =
                    told.relations.iter().map(|relation| (relation.column.to_owned(), relation.to.name().to_owned()));
                assert_eq!(to_things.collect::<BTreeSet<_>>(), relations.collect(), "what {kind} points to");
                let told_of = told
                    .prose
                    .iter()
                    .map(|prose| prose.column())
                    .chain(told.editable.iter().map(|field| field.name))
                    .chain(told.begins.iter().map(|(column, _)| *column))
                    .chain(told.searched.iter().flat_map(|searched| searched.body.iter().copied()));
                for column in told_of {
                    assert!(names.contains(column), "{kind} has no column {column}");
                }
                let own = names.contains("product_id") && told.product == WayToProduct::Workspace;
                assert!(!own, "{kind} has a product that its description does not know");
            }
            Ok::<_, Error>(())
        })
        .unwrap();
}

#[test]
fn search_finds_each_kind_in_its_product_only() {
    let (dir, store) = workspace();
    store
        .read(|rows| {
            for kind in ThingKind::ALL.iter().copied().filter(|kind| kind.description().searched.is_some()) {
                let everywhere = kind.description().product == WayToProduct::Workspace;
                for product in [1, 2] {
                    // A request is called by what it says, and that stands in its item.
                    let said = if kind == ThingKind::Request { ThingKind::FeedbackItem } else { kind };
                    let found = rows.search_things(ProductId(product), &word(said), Some(kind), 10)?;
                    for hit in &found {
                        let of = rows.product_of(Thing::new(hit.kind, hit.id))?;
                        assert!(everywhere || of == Some(product), "{kind} of {of:?} is found in {product}");
                    }
                    assert!(found.iter().any(|hit| hit.id == product), "{kind} is not found in {product}");
                }
            }
            Ok::<_, Error>(())
        })
        .unwrap();
    drop(store);
    let faults = verify(dir.path()).unwrap().faults;
    assert!(!faults.iter().any(|fault| fault.contains("full-text")), "{faults:?}");
}

#[test]
fn every_thing_knows_its_product() {
    let (_dir, store) = workspace();
    store
        .read(|rows| {
            for kind in ThingKind::ALL.iter().copied() {
                for n in [1, 2] {
                    let of = (kind.description().product != WayToProduct::Workspace).then_some(n);
                    assert_eq!(rows.product_of(Thing::new(kind, n))?, of, "{kind} {n}");
                }
            }
            Ok::<_, Error>(())
        })
        .unwrap();
}

#[test]
fn the_trace_goes_along_every_relation_of_the_line() {
    let (_dir, store) = workspace();
    store
        .read(|rows| {
            for kind in ThingKind::ALL.iter().copied() {
                for relation in kind.description().relations {
                    let Some(line) = relation.line else { continue };
                    let holder = Thing::new(kind, if relation.to == kind { 3 } else { 1 });
                    let other = Thing::new(relation.to, 1);
                    let (nearer, further) = if line == Line::Above { (holder, other) } else { (other, holder) };
                    assert!(rows.reach(nearer, Direction::Down)?.contains(&further), "from {nearer:?} to {further:?}");
                    let back = rows.reach(further, Direction::Up)?.contains(&nearer);
                    assert!(back || line == Line::OnlyBelow, "from {further:?} back to {nearer:?}");
                }
            }
            Ok::<_, Error>(())
        })
        .unwrap();
}

/// Every row of every kind, without what the program tells of them by itself.
fn everything(connection: &Connection) -> BTreeSet<String> {
    let mut all = BTreeSet::new();
    for kind in ThingKind::ALL {
        let told = ["rev", "engine", "meaning_key", "placed", "language", "near_before", "near_after"];
        let names = columns(connection, *kind).into_iter().map(|one| one.0);
        let names: Vec<String> = names.filter(|name| !told.contains(&name.as_str())).collect();
        let mut statement =
            connection.prepare(&format!("SELECT quote({}) FROM {kind}", names.join(") || ',' || quote("))).unwrap();
        let rows = statement.query_map([], |row| row.get::<_, String>(0)).unwrap();
        all.extend(rows.map(|row| format!("{kind}: {}", row.unwrap())));
    }
    all
}

#[test]
fn what_is_removed_by_hand_takes_along_what_cannot_be_without_it_and_comes_back() {
    for kind in ThingKind::ALL.iter().copied().filter(|kind| kind.description().rights.remove.is_some()) {
        let (_dir, store) = workspace();
        let before = store.read(|rows| Ok::<_, Error>(everything(rows.connection))).unwrap();
        let thing = Thing::new(kind, 1);
        let ((), set) = write(&store, move |tx| tx.remove(thing));
        store
            .read(|rows| {
                let broken: i64 =
                    rows.connection.query_row("SELECT count(*) FROM pragma_foreign_key_check", [], |row| row.get(0))?;
                assert_eq!(broken, 0, "after {kind} was removed");
                for (child, relation) in kind.pointed_at_by().filter(|(child, _)| *child != kind) {
                    let stays = rows.json(Thing::new(child, 1)).is_ok();
                    assert!(!stays || relation.on_removal == OnRemoval::Stays, "{child} stays without its {kind}");
                }
                Ok::<_, Error>(())
            })
            .unwrap();
        let set = set.unwrap();
        write(&store, move |tx| tx.undo(set)).0.unwrap();
        let after = store.read(|rows| Ok::<_, Error>(everything(rows.connection))).unwrap();
        let differs: Vec<&String> = after.symmetric_difference(&before).collect();
        assert!(differs.is_empty(), "{kind} was removed and brought back otherwise: {differs:?}");
    }
}

#[test]
fn a_change_of_every_kind_is_told_of_by_its_kind() {
    let (_dir, store) = workspace();
    // What a link says is never changed; it is another link then.
    for kind in ThingKind::ALL.iter().copied().filter(|kind| *kind != ThingKind::Link) {
        let column = store.read(|rows| Ok::<_, Error>(columns(rows.connection, kind))).unwrap();
        let text = column.into_iter().find(|(name, of, _)| of == "TEXT" && !name.ends_with("_kind") && name != "own");
        let Some((name, ..)) = text else { continue };
        let values = Map::from_iter([(name, Value::from("otherwise"))]);
        let told = store.write(context(), move |tx| tx.set(Thing::new(kind, 2), &values)).unwrap().1.unwrap();
        assert!(told.kinds.contains(&kind), "{kind}: {:?}", told.kinds);
    }
}
