//! Rows per second of an import, beside a bare insert of the same rows.

use std::path::Path;
use std::process::Command;
use std::time::Instant;

use iron_kite_core::formats::table;
use iron_kite_core::listen::{ImportRow, propose_columns, rows_of};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, ThingKind};
use iron_kite_store::{Error, Store, Tx, Way, WriteContext};
use iron_kite_testkit::{Server, binary, reviews_csv};
use rusqlite::functions::FunctionFlags;
use rusqlite::{Connection, params};
use serde_json::{Value, json};

use crate::tell;

/// The best of so many runs: what disturbs a run only makes it slower.
const RUNS: usize = 3;

/// Imports by the interface's route and by the command, and inserts the same rows bare.
pub(crate) fn measure(rows: usize) {
    let text = reviews_csv(rows);
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("reviews.csv");
    std::fs::write(&file, &text).expect("a file");
    let best = |run: &dyn Fn() -> f64| (0..RUNS).map(|_| run()).fold(f64::MAX, f64::min);
    let bare = best(&|| bare(&text));
    let ledger = best(&|| with_ledger(&text));
    let route = best(&|| by_route(&text));
    let command = best(&|| by_command(&file));
    let count = f64::from(u32::try_from(rows).expect("not that many"));
    tell(&format!("import of {rows} reviews, best of {RUNS}"));
    tell(&format!("  bare insert, same table, same indexes and full-text index    : {:>7.0} rows/s", count / bare));
    for (name, seconds) in [
        ("the same rows with people, accounts and ledger, no excerpts", ledger),
        ("all of it by the interface's route", route),
        ("all of it by iron-kite import", command),
    ] {
        tell(&format!("  {name:<60}: {:>7.0} rows/s, {:.2} of bare", count / seconds, bare / seconds));
    }
}

/// The plainest way: one transaction, one prepared statement, no ledger, no excerpts, no look for duplicates.
fn bare(text: &str) -> f64 {
    let dir = tempfile::tempdir().expect("a folder");
    drop(Store::open(dir.path()).expect("a workspace"));
    let connection = Connection::open(iron_kite_store::database_path(dir.path())).expect("the database");
    // The index of letters asks for it.
    connection
        .create_scalar_function("kite_fold", 1, FunctionFlags::SQLITE_DETERMINISTIC, |context| {
            Ok(context.get::<String>(0)?.to_lowercase())
        })
        .expect("a function");
    connection
        .execute_batch(
            "PRAGMA synchronous = FULL; INSERT INTO product(name) VALUES ('x');
        INSERT INTO source(product_id, name, brought_on) VALUES (1, 'x', '2026-01-01');",
        )
        .expect("its start");
    let table = table::read(text.as_bytes()).expect("a table");
    let (rows, _) = rows_of(&table, &propose_columns(&table)).expect("rows");
    let start = Instant::now();
    connection.execute_batch("BEGIN").expect("a transaction");
    {
        let sql = "INSERT INTO feedback_item(product_id, source_id, text, said_on, rating, digest) VALUES (1, 1, ?1, ?2, ?3, ?4)";
        let mut statement = connection.prepare(sql).expect("a statement");
        for row in &rows {
            let digest = format!("{:032}", row.number);
            statement.execute(params![row.text, row.said_on, row.rating, digest]).expect("a row");
        }
    }
    connection.execute_batch("COMMIT").expect("a commit");
    start.elapsed().as_secs_f64()
}

/// What an import writes for each row but its excerpts: the look for duplicates, account, person, item, and the
/// ledger of all of them.
fn with_ledger(text: &str) -> f64 {
    let dir = tempfile::tempdir().expect("a folder");
    let store = Store::open(dir.path()).expect("a workspace");
    let table = table::read(text.as_bytes()).expect("a table");
    let (rows, _) = rows_of(&table, &propose_columns(&table)).expect("rows");
    let start = Instant::now();
    let context = WriteContext { user_id: None, at: 0, label: "measured".into(), way: Way::Import, needs: Right::Edit };
    store.write(context, move |tx| take(tx, &rows)).expect("an import");
    start.elapsed().as_secs_f64()
}

fn take(tx: &mut Tx<'_>, rows: &[ImportRow]) -> Result<(), Error> {
    let values = |value: Value| value.as_object().cloned().unwrap_or_default();
    let product = ProductId(tx.insert(ThingKind::Product, &values(json!({ "name": "x" })))?);
    let source = json!({ "product_id": product, "name": "x", "brought_on": "2026-01-01" });
    let source = tx.insert(ThingKind::Source, &values(source))?;
    for row in rows {
        let digest = format!("{:032}", row.number);
        assert!(!tx.rows().has_item(product, &digest)?);
        let account = row.account.as_deref().map(|name| tx.account_named(name)).transpose()?;
        let person = row.person.as_deref().map(|name| tx.person_named(name, account)).transpose()?;
        let item = json!({
            "product_id": product, "source_id": source, "text": row.text, "said_on": row.said_on,
            "person_id": person, "account_id": account, "rating": row.rating, "extra": row.extra, "digest": digest,
        });
        tx.insert(ThingKind::FeedbackItem, &values(item))?;
    }
    Ok(())
}

/// The whole way of the interface: put down, looked at, counted, and the job to its end.
fn by_route(text: &str) -> f64 {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let start = Instant::now();
    let file = client.put_down(2, "reviews.csv", text);
    let job = client.over(&client.bring_in(2, &file));
    assert_eq!(job["state"], "done");
    start.elapsed().as_secs_f64()
}

/// The whole command, from its start to its end.
fn by_command(file: &Path) -> f64 {
    let server = Server::demo();
    let start = Instant::now();
    let done = Command::new(binary())
        .args(["import", "feedback"])
        .arg(file)
        .args(["--product", "Gangway", "--data"])
        .arg(server.dir())
        .output()
        .expect("the command");
    assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
    start.elapsed().as_secs_f64()
}
