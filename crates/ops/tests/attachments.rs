//! Files that fields hold.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::{command, workspace};
use iron_kite_core::role::Role;
use iron_kite_ops::{Call, attachments, listen};
use jiff::SignedDuration;

#[test]
fn one_person_puts_in_so_much_within_a_day_and_others_as_before() {
    let w = workspace();
    let (joss, tamar) = (w.person(Role::Contributor), w.person(Role::Editor));
    let user = joss.actor.as_ref().unwrap().user_id.unwrap();
    let beside = iron_kite_store::Connection::open(iron_kite_store::database_path(w.dir.path())).unwrap();
    let earlier = "WITH RECURSIVE n(at) AS (SELECT 1 UNION ALL SELECT at + 1 FROM n WHERE at < 4999)
        INSERT INTO attachment(name, media_type, bytes, user_id, made_at) SELECT 'x', 'text/plain', x'00', ?1, ?2 FROM n";
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
