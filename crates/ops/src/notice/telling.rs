//! Whom a change concerns, and giving notices.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::fields::{Collection, FieldType};
use iron_kite_core::notice::{Happened, Settings, may_get, tell};
use iron_kite_core::problem::Problem;
use iron_kite_core::talk::{Comment, Mentioned, mentions, without_marks};
use iron_kite_core::things::{CommentId, Thing, ThingKind};
use iron_kite_store::queries::history::RowChange;
use iron_kite_store::queries::notices::{NewMessage, NewNotice, SetSeen};
use iron_kite_store::{Rows, Tx};
use jiff::Timestamp;
use serde_json::Value;

use super::outbox::message;
use crate::history::Teller;

/// The longest words of a notice, in characters.
const WORDS: usize = 240;

/// Something that happened to a thing, as it is told.
struct Told {
    happened: Happened,
    words: Vec<String>,
    comment: Option<CommentId>,
}

/// Tells people of the changes of a set. How many were told.
pub(crate) fn tell_of(tx: &mut Tx<'_>, set: &SetSeen, changes: &[RowChange]) -> Result<usize, Problem> {
    if set.way == "engine" {
        return Ok(0);
    }
    if let Some(undone) = set.undoes {
        tx.forget_notices(undone)?;
    }
    let all = {
        let rows = tx.rows();
        let teller = Teller::new(&rows)?;
        let mut all: BTreeMap<Thing, Told> = BTreeMap::new();
        for change in changes {
            for (thing, told) in concerns(&rows, &teller, change)? {
                let entry = all.entry(thing).or_insert_with(|| Told {
                    happened: Happened { by: set.user, ..Happened::default() },
                    words: Vec::new(),
                    comment: None,
                });
                entry.happened.mentioned.extend(told.happened.mentioned);
                entry.happened.assigned.extend(told.happened.assigned);
                entry.happened.followers.extend(told.happened.followers);
                entry.words.extend(told.words);
                entry.comment = entry.comment.or(told.comment);
            }
        }
        all
    };
    let known: BTreeSet<i64> = tx.rows().users()?.into_iter().map(|user| user.id).collect();
    let mut count = 0;
    for (thing, told) in all {
        // A text may name anybody; only who is of the workspace can follow.
        for person in told.happened.assigned.union(&told.happened.mentioned).filter(|id| known.contains(id)) {
            tx.begin_to_follow(*person, thing)?;
        }
        let words = clipped(&told.words.join("; "));
        count += give(tx, set, thing, &told.happened, told.comment, &words)?;
    }
    Ok(count)
}

/// Which things a change concerns, and whom.
fn concerns(rows: &Rows<'_>, teller: &Teller<'_>, change: &RowChange) -> Result<Vec<(Thing, Told)>, Problem> {
    let one = |happened, words, comment| Told { happened, words, comment };
    let followers =
        |thing| -> Result<BTreeSet<i64>, Problem> { Ok(rows.followers(thing, change.id)?.into_iter().collect()) };
    let words = || teller.told(change).into_iter().map(|told| told.words).collect::<Vec<_>>();
    match change.thing.kind {
        ThingKind::Comment => said(rows, change),
        ThingKind::Link => {
            let mut all = Vec::new();
            for side in ["from", "to"] {
                let kind = change.value(&format!("{side}_kind")).as_str().and_then(|kind| kind.parse().ok());
                let (Some(kind), Some(id)) = (kind, change.value(&format!("{side}_id")).as_i64()) else { continue };
                let thing = Thing::new(kind, id);
                let followers = followers(thing)?;
                if !followers.is_empty() {
                    all.push((thing, one(Happened { followers, ..Happened::default() }, words(), None)));
                }
            }
            Ok(all)
        }
        kind => {
            let thing = told_of(change);
            let (followers, assigned) = (followers(thing)?, assigned(teller, kind, change));
            if followers.is_empty() && assigned.is_empty() {
                return Ok(Vec::new());
            }
            let words = words();
            // What only the program keeps is nobody's news.
            if words.is_empty() {
                return Ok(Vec::new());
            }
            Ok(vec![(thing, one(Happened { followers, assigned, ..Happened::default() }, words, None))])
        }
    }
}

/// The thing that a change is told of: of a part, what it belongs to.
fn told_of(change: &RowChange) -> Thing {
    let part = change.thing.kind.part_of();
    let whole = part.and_then(|whole| Some(Thing::new(whole.to, change.value(whole.column).as_i64()?)));
    whole.unwrap_or(change.thing)
}

/// Whom a comment speaks to, and who hears of it.
fn said(rows: &Rows<'_>, change: &RowChange) -> Result<Vec<(Thing, Told)>, Problem> {
    let Ok(comment) = rows.get::<Comment>(change.thing.id) else { return Ok(Vec::new()) };
    let on = comment.on();
    let body = |values: Option<&serde_json::Map<String, Value>>| {
        values.and_then(|values| values.get("body")).and_then(Value::as_str).unwrap_or_default().to_owned()
    };
    let (before, after) = (body(change.before.as_ref()), body(change.after.as_ref()));
    let (was, is) = (mentions(&before), mentions(&after));
    let mut mentioned = BTreeSet::new();
    for one in is.difference(&was) {
        match one {
            Mentioned::Person(id) => drop(mentioned.insert(*id)),
            Mentioned::Team(team) => mentioned.extend(rows.team_people(*team)?),
        }
    }
    let new = change.before.is_none();
    let dealt_with = change.after.as_ref().is_some_and(|values| values.contains_key("resolved_at"))
        && change.before.as_ref().is_some_and(|values| !values.contains_key("resolved_at"));
    let followers =
        if new || dealt_with { rows.followers(on, change.id)?.into_iter().collect() } else { BTreeSet::new() };
    let quoted = format!("“{}”", clipped(&without_marks(&after)));
    let words = match (new, dealt_with) {
        (true, _) if comment.reply_to.is_some() => format!("answered: {quoted}"),
        (true, _) => format!("said: {quoted}"),
        (_, true) => format!("dealt with {quoted}"),
        _ => quoted,
    };
    Ok(vec![(
        on,
        Told {
            happened: Happened { mentioned, followers, ..Happened::default() },
            words: vec![words],
            comment: Some(comment.id),
        },
    )])
}

/// Who answers for a thing from now on: fields that hold somebody of the team, and hold somebody else now.
fn assigned(teller: &Teller<'_>, kind: ThingKind, change: &RowChange) -> BTreeSet<i64> {
    let (Some(collection), Some(after)) = (Collection::of(kind), &change.after) else { return BTreeSet::new() };
    let was = |name: &str| change.before.as_ref().and_then(|before| before.get(name));
    let members = teller.fields(collection).into_iter().filter(|field| matches!(field.kind, FieldType::Member));
    let now = members.filter_map(|field| after.get(&field.name).filter(|now| Some(*now) != was(&field.name))?.as_i64());
    now.collect()
}

fn clipped(words: &str) -> String {
    let one_line = words.split_whitespace().collect::<Vec<_>>().join(" ");
    if one_line.chars().count() <= WORDS {
        return one_line;
    }
    let begun: String = one_line.chars().take(WORDS).collect();
    format!("{} …", begun.trim_end())
}

/// Writes a message, unless its receiver got so many that another would only be in the way: what it tells stands among the
/// notices anyway. The last one says so.
fn write_to(tx: &mut Tx<'_>, notice: i64, mut message: NewMessage) -> Result<(), Problem> {
    let now = Timestamp::from_millisecond(message.made_at).unwrap_or(Timestamp::UNIX_EPOCH);
    let lately = tx.rows().written_to(&message.to_address, now)?;
    if !may_get(lately) {
        return Ok(());
    }
    if !may_get(lately.and_one()) {
        message.body.push_str(
            "\nYou got many messages lately. What else happens stands among your notices only, for a while.\n",
        );
    }
    tx.add_message(Some(notice), &message)?;
    Ok(())
}

/// Gives notices, and writes messages to those who want them. How many were told.
pub(crate) fn give(
    tx: &mut Tx<'_>,
    set: &SetSeen,
    thing: Thing,
    happened: &Happened,
    comment: Option<CommentId>,
    words: &str,
) -> Result<usize, Problem> {
    let told = tell(happened);
    if told.is_empty() {
        return Ok(0);
    }
    let users = tx.rows().users()?;
    let by = happened.by.and_then(|id| users.iter().find(|user| user.id == id)).map(|user| user.name.clone());
    let mut count = 0;
    for (person, sort) in told {
        let Some(user) = users.iter().find(|user| user.id == person) else { continue };
        let setting = Settings::with(&tx.rows().notice_settings(person)?).of(sort);
        if !setting.here && !setting.by_mail {
            continue;
        }
        let new = NewNotice {
            user: person,
            at: set.at,
            sort,
            thing,
            comment,
            by: by.clone(),
            words: words.to_owned(),
            set: Some(set.id),
            here: setting.here,
        };
        let notice = tx.add_notice(&new)?;
        count += 1;
        if let Some(notice) = notice.filter(|_| setting.by_mail) {
            write_to(tx, notice, message(&tx.rows(), &new, &user.name, &user.email))?;
        }
    }
    Ok(count)
}
