//! Files that fields hold.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{command, workspace};
use iron_kite_core::role::Role;
use iron_kite_ops::{Call, attachments, listen};
use iron_kite_store::queries::files::PART;
use jiff::SignedDuration;

#[test]
fn one_person_puts_in_so_much_within_a_day_and_others_as_before() {
    let w = workspace();
    let (joss, tamar) = (w.person(Role::Contributor), w.person(Role::Editor));
    let user = joss.actor.as_ref().unwrap().user_id.unwrap();
    let beside = iron_kite_store::Connection::open(iron_kite_store::database_path(w.dir.path())).unwrap();
    let earlier = "WITH RECURSIVE n(at) AS (SELECT 1 UNION ALL SELECT at + 1 FROM n WHERE at < 4999)
        INSERT INTO file(user_id, length, made_at) SELECT ?1, 1, ?2 FROM n";
    beside.execute(earlier, [user, joss.now.as_millisecond() - 1_000]).unwrap();
    let put_in = |call: &Call| attachments::put_in(&w.app, call, "x.txt", b"words".to_vec()).map_err(|one| one.code());
    put_in(&joss).unwrap();
    assert_eq!(put_in(&joss).unwrap_err(), "too-much-put-in");
    let waiting = listen::put_down(&w.app, &joss, w.product, "x.csv", b"text\nLate.\n".to_vec());
    assert_eq!(waiting.unwrap_err().code(), "too-much-put-in");
    for other in [&tamar, &command(), &Call { now: joss.now + SignedDuration::from_hours(25), ..joss.clone() }] {
        put_in(other).unwrap();
    }
}

#[test]
fn a_large_file_stands_in_parts_and_is_read_from_anywhere() {
    let w = workspace();
    let joss = w.person(Role::Contributor);
    let beside = iron_kite_store::Connection::open(iron_kite_store::database_path(w.dir.path())).unwrap();
    let number = |sql: &str| beside.query_row(sql, [], |row| row.get::<_, i64>(0)).unwrap();
    for length in [1, PART - 1, PART, PART + 1, 3 * PART, 3 * PART + 5] {
        let bytes: Vec<u8> = (0..u32::try_from(length).unwrap())
            .map(|n| (n.wrapping_mul(2_654_435_761) >> 13).to_le_bytes()[0])
            .collect();
        let file = attachments::put_in(&w.app, &joss, "visit.bin", bytes.clone()).unwrap();
        assert_eq!(attachments::take_out(&w.app, &joss, file.id).unwrap(), bytes);
        assert_eq!(attachments::head(&w.app, &joss, file.id).unwrap().1, length);
        let parts = "SELECT count(*) FROM file_part WHERE file_id = (SELECT max(file_id) FROM file_part)";
        assert_eq!(number(parts), i64::try_from(length.div_ceil(PART)).unwrap());
        for from in [0, 1, PART - 1, PART, 2 * PART + 3, length - 1, length, length + 9] {
            for long in [0, 1, 5, PART] {
                let expected = bytes.get(from.min(length)..(from + long).min(length)).unwrap_or_default();
                let part = attachments::part(&w.app, &joss, file.id, from, long).unwrap();
                assert!(part == expected, "{long} bytes from {from} of {length}");
            }
        }
    }
    assert_eq!(number("SELECT max(length(bytes)) FROM file_part"), 256 * 1024);
}

#[test]
fn what_was_left_half_way_or_waited_in_vain_goes_after_a_day() {
    let w = workspace();
    let joss = w.person(Role::Contributor);
    let put_in = |call: &Call| attachments::put_in(&w.app, call, "x.txt", b"words".to_vec()).unwrap();
    let kept = put_in(&joss);
    listen::put_down(&w.app, &joss, w.product, "x.csv", b"text\nLate.\n".to_vec()).unwrap();
    let beside = iron_kite_store::Connection::open(iron_kite_store::database_path(w.dir.path())).unwrap();
    let at = joss.now.as_millisecond();
    let half = "INSERT INTO file(length, made_at) VALUES (9, ?1) RETURNING id";
    let half: i64 = beside.query_row(half, [at], |row| row.get(0)).unwrap();
    beside.execute("INSERT INTO file_part VALUES (?1, 0, x'00')", [half]).unwrap();
    let files = || beside.query_row("SELECT count(*) FROM file", [], |row| row.get::<_, i64>(0)).unwrap();
    assert_eq!(files(), 3);
    let tomorrow = Call { now: joss.now + SignedDuration::from_hours(25), ..joss.clone() };
    // One more that waits takes the place of the one that nobody wanted; then one more is attached.
    listen::put_down(&w.app, &tomorrow, w.product, "y.csv", b"text\nEarly.\n".to_vec()).unwrap();
    assert_eq!(files(), 2);
    put_in(&tomorrow);
    assert_eq!(files(), 3);
    assert_eq!(attachments::take_out(&w.app, &joss, kept.id).unwrap(), b"words");
    let parts = "SELECT count(*) FROM file_part WHERE file_id NOT IN (SELECT id FROM file)";
    assert_eq!(beside.query_row(parts, [], |row| row.get::<_, i64>(0)).unwrap(), 0);
    assert_eq!(iron_kite_store::verify(w.dir.path()).unwrap().faults, Vec::<String>::new());
}
