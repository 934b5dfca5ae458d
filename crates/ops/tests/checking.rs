//! What the engine told is checked one excerpt after another: what is said is done, kept, learned and measured.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use crate::common::subjects::{all, behind, bring, file, ready, sound, take, tried, work};
use crate::common::{Workspace, command};
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{CheckAbout, CheckWay, LEAST_JUDGED, Strength};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::FindingId;
use iron_kite_ops::listen::{self, CheckQuery, CheckQueue, CheckView, NewCheck, agreements};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{Call, Saved, history};

fn queue(workspace: &Workspace, call: &Call, about: CheckAbout, way: CheckWay) -> CheckQueue {
    listen::to_check(&workspace.app, call, CheckQuery { product: workspace.product.0, about, way }).unwrap()
}

fn say(workspace: &Workspace, call: &Call, about: CheckAbout, way: CheckWay, one: &CheckView, said: &str) -> Saved {
    let new = NewCheck { excerpt: one.id, about, way, said: said.into() };
    listen::check(&workspace.app, call, new).unwrap()
}

fn kind_of(workspace: &Workspace, id: i64) -> String {
    let rows = workspace.rows(Collection::Excerpt, &["reference", "kind"]);
    let row = rows.into_iter().find(|row| row[0] == format!("X{id}")).unwrap();
    row[1].as_str().unwrap().to_owned()
}

/// Three findings of eight excerpts each, all put there by the engine.
fn grouped() -> Workspace {
    let workspace = ready();
    work(&workspace);
    take(&workspace, &tried(&workspace), Vec::new());
    workspace
}

#[test]
fn what_is_said_of_a_kind_holds_and_can_be_taken_back() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let before = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure);
    assert_eq!(before.excerpts.len(), 20);
    assert!(before.excerpts.is_sorted_by(|one, next| one.sure <= next.sure), "the least sure first");
    let first = &before.excerpts[0];
    let other = if first.told.as_deref() == Some("habit") { "praise" } else { "habit" };
    let saved = say(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure, first, other);
    assert_eq!(kind_of(&workspace, first.id.0), other);
    let after = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure);
    assert!(after.excerpts.iter().all(|one| one.id != first.id));
    history::undo_set(&workspace.app, &wren, saved.change.unwrap()).unwrap();
    assert_eq!(queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure), before);
    assert!(agreements(&workspace.app, &wren, workspace.product).unwrap().is_empty());
}

#[test]
fn what_is_said_of_words_holds_wherever_they_stand() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let first = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Chance).excerpts.remove(0);
    // The same words come in again, from somebody else.
    bring(&workspace, &format!("text,who,date\n{},Somebody else,2026-06-20\n", first.words));
    work(&workspace);
    let twin = |workspace: &Workspace| {
        let rows = workspace.rows(Collection::Excerpt, &["words", "kind", "sure", "reference"]);
        rows.into_iter().rfind(|row| row[0] == first.words).unwrap()
    };
    let told = twin(&workspace);
    assert_ne!(told[1], "leaving");
    let saved = say(&workspace, &wren, CheckAbout::Kind, CheckWay::Chance, &first, "leaving");
    work(&workspace);
    assert_eq!((twin(&workspace)[1].as_str(), twin(&workspace)[2].as_f64()), (Some("leaving"), Some(1.0)));
    history::undo_set(&workspace.app, &wren, saved.change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!(twin(&workspace), told);
}

#[test]
fn what_is_said_of_a_finding_is_kept_by_later_runs() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let asked = queue(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure).excerpts;
    let [stays, leaves, moves] = &asked[..3] else { panic!("{asked:?}") };
    let finding = |one: &CheckView| FindingId(one.told.as_deref().unwrap().parse().unwrap());
    assert_eq!(stays.answers.last().unwrap().said, "none");
    say(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure, stays, stays.told.as_deref().unwrap());
    say(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure, leaves, "none");
    let to = all(&workspace).iter().map(|one| one.finding.id).find(|id| *id != finding(moves)).unwrap();
    say(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure, moves, &to.0.to_string());
    bring(&workspace, &file(&["bicycle"], 500));
    work(&workspace);
    take(&workspace, &tried(&workspace), Vec::new());
    assert!(behind(&workspace, finding(stays)).contains(&stays.id));
    assert!(!behind(&workspace, finding(leaves)).contains(&leaves.id));
    assert!(behind(&workspace, to).contains(&moves.id) && !behind(&workspace, finding(moves)).contains(&moves.id));
    // Nothing that was decided is asked again.
    let again = queue(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure).excerpts;
    assert!([stays, leaves, moves].iter().all(|one| again.iter().all(|other| other.id != one.id)));
}

#[test]
fn how_far_engine_and_people_agree_is_measured_without_their_seeing_each_other() {
    let workspace = grouped();
    let (wren, joss) = (workspace.person(Role::Contributor), workspace.person(Role::Editor));
    let asked = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Chance).excerpts;
    assert!(asked.iter().all(|one| one.told.is_none() && one.sure.is_none()), "it is out of sight");
    let told: Vec<String> = asked.iter().map(|one| kind_of(&workspace, one.id.0)).collect();
    for (at, one) in asked.iter().enumerate() {
        let said = if at == 0 { "leaving" } else { told[at].as_str() };
        say(&workspace, &wren, CheckAbout::Kind, CheckWay::Chance, one, said);
    }
    assert!(queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Second).excerpts.is_empty(), "not one's own");
    let second = queue(&workspace, &joss, CheckAbout::Kind, CheckWay::Second).excerpts;
    assert_eq!(second.len(), asked.len());
    for one in &second {
        let said = if one.id == asked[0].id { "praise".into() } else { kind_of(&workspace, one.id.0) };
        say(&workspace, &joss, CheckAbout::Kind, CheckWay::Second, one, &said);
    }
    assert_eq!(kind_of(&workspace, asked[0].id.0), "leaving", "a second look changes nothing");
    let found = agreements(&workspace.app, &wren, workspace.product).unwrap();
    let [engine, people] = &found[..] else { panic!("{found:?}") };
    assert_eq!((engine.way, engine.people.as_ref(), engine.agreement.judged), (CheckWay::Chance, None, LEAST_JUDGED));
    assert_eq!((engine.agreement.alike, engine.differs.len()), (LEAST_JUDGED - 1, 1));
    assert_eq!((engine.differs[0].one.as_str(), engine.differs[0].other.as_str()), (told[0].as_str(), "leaving"));
    assert_eq!(people.people, Some(["contributor".to_owned(), "editor".to_owned()]));
    assert_eq!((people.agreement.alike, people.differs[0].other.as_str()), (LEAST_JUDGED - 1, "praise"));
    assert_ne!(engine.agreement.means, Strength::Unknown);
}

#[test]
fn what_cannot_be_said_is_refused() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let one = queue(&workspace, &wren, CheckAbout::Finding, CheckWay::Unsure).excerpts.remove(0);
    let ask = |call: &Call, about, said: &str| {
        let new = NewCheck { excerpt: one.id, about, way: CheckWay::Unsure, said: said.into() };
        listen::check(&workspace.app, call, new).unwrap_err()
    };
    assert!(matches!(ask(&wren, CheckAbout::Kind, "wish"), Problem::Invalid(_)));
    assert!(matches!(ask(&wren, CheckAbout::Finding, "habit"), Problem::Invalid(_)));
    assert!(matches!(ask(&wren, CheckAbout::Finding, "999"), Problem::NotFound(_)));
    assert!(matches!(ask(&command(), CheckAbout::Kind, "habit"), Problem::Refused { .. }));
    assert!(matches!(ask(&workspace.person(Role::Viewer), CheckAbout::Kind, "habit"), Problem::NotAllowed { .. }));
}

#[test]
fn what_was_said_of_words_goes_with_the_person_whose_they_are() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let first = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure).excerpts.remove(0);
    say(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure, &first, "habit");
    let person = listen::item(&workspace.app, &command(), first.item_id).unwrap().item.person_id.unwrap();
    listen::erase_person(&workspace.app, &command(), person, listen::Erase::default()).unwrap();
    assert!(agreements(&workspace.app, &wren, workspace.product).unwrap().is_empty());
    sound(&workspace);
}

#[test]
fn what_somebody_said_in_the_meantime_is_not_written_over() {
    let workspace = grouped();
    let wren = workspace.person(Role::Contributor);
    let first = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure).excerpts.remove(0);
    let thing = first.id.thing();
    let rev = things::rev_of(&workspace.app, &wren, thing).unwrap();
    let other = if first.told.as_deref() == Some("habit") { "praise" } else { "habit" };
    let set = crate::common::fields(&serde_json::json!({ "kind": other }));
    things::edit(&workspace.app, &wren, thing, Edit { rev, set }).unwrap();
    let new = NewCheck { excerpt: first.id, about: CheckAbout::Kind, way: CheckWay::Unsure, said: "leaving".into() };
    assert!(matches!(listen::check(&workspace.app, &wren, new).unwrap_err(), Problem::Refused { .. }));
    assert_eq!(kind_of(&workspace, first.id.0), other);
}

#[test]
fn where_a_team_draws_the_line_otherwise_it_is_learned_and_forgotten_again() {
    let workspace = ready();
    let mut table = String::from("text,who,date\n");
    for number in 0..60 {
        let place = ["ramp", "pier", "slip", "gangway", "kiosk", "quay"][number % 6];
        table.push_str(&format!("Buying at the {place} number {number} takes ages,Person {number},2026-06-02\n"));
    }
    bring(&workspace, &table);
    work(&workspace);
    let slow = |workspace: &Workspace| -> Vec<(i64, String)> {
        let rows = workspace.rows(Collection::Excerpt, &["reference", "words", "kind"]);
        let slow = rows.into_iter().filter(|row| row[1].as_str().unwrap().ends_with("takes ages"));
        slow.map(|row| (row[0].as_str().unwrap()[1..].parse().unwrap(), row[2].as_str().unwrap().to_owned())).collect()
    };
    let count = |workspace: &Workspace, kind: &str| slow(workspace).iter().filter(|(_, told)| told == kind).count();
    assert_eq!(count(&workspace, "friction"), 60);
    let wren = workspace.person(Role::Contributor);
    // Whatever is slow is broken here: 40 are said, one after another.
    let said: Vec<Saved> = slow(&workspace)[..40]
        .iter()
        .map(|(id, _)| {
            let excerpt = (*id).into();
            let new = NewCheck { excerpt, about: CheckAbout::Kind, way: CheckWay::Unsure, said: "defect".into() };
            listen::check(&workspace.app, &wren, new).unwrap()
        })
        .collect();
    assert_eq!(count(&workspace, "defect"), 40);
    let before = queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure);
    assert_eq!((before.judged, before.learned, before.learns_next), (40, 0, 80));
    work(&workspace);
    assert_eq!(count(&workspace, "defect"), 60, "the others follow");
    assert_eq!(queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure).learned, 40);
    let rest = workspace.rows(Collection::Excerpt, &["words", "kind"]);
    let praise = rest.iter().filter(|row| row[1] == "praise").count();
    assert!(praise < 3, "what has nothing to do with it stays: {rest:?}");
    // One less, and it is as before for all that nobody spoke of.
    history::undo_set(&workspace.app, &wren, said[39].change.unwrap()).unwrap();
    work(&workspace);
    assert_eq!((count(&workspace, "defect"), count(&workspace, "friction")), (39, 21));
    assert_eq!(queue(&workspace, &wren, CheckAbout::Kind, CheckWay::Unsure).learned, 0);
    sound(&workspace);
}
