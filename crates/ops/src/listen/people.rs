//! People and accounts that came in under several names: proposed, merged, and taken apart again.

use std::collections::BTreeSet;

use iron_kite_core::listen::{Account, Likely, Named, Person, likely_accounts, likely_people};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ItemId, PersonId, Thing, ThingKind};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::things::name_of;

/// Which sort is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WhoKind {
    /// People.
    Person,
    /// Accounts.
    Account,
}

impl WhoKind {
    fn kind(self) -> ThingKind {
        match self {
            WhoKind::Person => ThingKind::Person,
            WhoKind::Account => ThingKind::Account,
        }
    }
}

/// Two that may be one.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct LikelySame {
    /// The number of the one.
    pub one: i64,
    /// Its name.
    pub one_name: String,
    /// The number of the other.
    pub other: i64,
    /// Its name.
    pub other_name: String,
    /// In words, why it may be so.
    pub why: String,
}

/// Which are merged into which.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Merge {
    /// People or accounts.
    pub kind: WhoKind,
    /// The one that stays.
    pub keep: i64,
    /// Those that become it.
    pub others: Vec<i64>,
}

/// Items that are somebody else's.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Split {
    /// Whose they are now.
    pub person: PersonId,
    /// The items.
    pub items: Vec<ItemId>,
    /// The name of whose they are.
    pub name: String,
}

/// At most so many are merged at once, and so many pairs are proposed.
const MOST: usize = 200;

/// People or accounts that may be the same, and that nobody has called two.
///
/// # Errors
/// Where the right is missing.
pub fn likely_same(app: &App, call: &Call, kind: WhoKind) -> Result<Vec<LikelySame>, Problem> {
    app.read(call, Right::Read, |rows| {
        let all = named(rows, kind)?;
        let found = match kind {
            WhoKind::Person => likely_people(&all),
            WhoKind::Account => likely_accounts(&all),
        };
        let two: BTreeSet<(i64, i64)> = rows
            .links(LinkKind::NotSame, kind.kind(), kind.kind())?
            .into_iter()
            .map(|link| (link.from_id.min(link.to_id), link.from_id.max(link.to_id)))
            .collect();
        let name = |id: i64| all.iter().find(|one| one.id == id).map(|one| one.name.clone()).unwrap_or_default();
        let open = found.into_iter().filter(|likely| !two.contains(&(likely.one, likely.other))).take(MOST);
        Ok(open
            .map(|Likely { one, other, why }| LikelySame {
                one,
                one_name: name(one),
                other,
                other_name: name(other),
                why: why.to_owned(),
            })
            .collect())
    })
}

fn named(rows: &Rows<'_>, kind: WhoKind) -> Result<Vec<Named>, Problem> {
    Ok(match kind {
        WhoKind::Person => rows
            .list::<Person>("ORDER BY id", [])?
            .into_iter()
            .map(|person| Named {
                id: person.id.0,
                name: person.name,
                address: person.address,
                account: person.account_id.map(|account| account.0),
            })
            .collect(),
        WhoKind::Account => rows
            .list::<Account>("ORDER BY id", [])?
            .into_iter()
            .map(|account| Named { id: account.id.0, name: account.name, address: None, account: None })
            .collect(),
    })
}

/// Merges people or accounts into one: what they said, what is linked to them, and what is known of them goes over to
/// the one that stays, where it knows nothing itself. One step takes it back.
///
/// # Errors
/// Where one of them is not there.
pub fn merge(app: &App, call: &Call, ask: Merge) -> Result<Saved, Problem> {
    let others: BTreeSet<i64> = ask.others.iter().copied().filter(|other| *other != ask.keep).collect();
    app.save(call, Right::Listen, move |tx| {
        if others.is_empty() || others.len() > MOST {
            return Err(Problem::invalid("/others", format!("Choose 1 to {MOST} others to merge into it.")));
        }
        let keep = Thing::new(ask.kind.kind(), ask.keep);
        let mut names = Vec::new();
        for other in others {
            let other = Thing::new(ask.kind.kind(), other);
            names.push(name_of(&tx.rows(), other));
            merge_one(tx, keep, other)?;
        }
        tx.label(format!("merged {} into {}", names.join(", "), name_of(&tx.rows(), keep)));
        tx.read_anew()?;
        Ok(Some(keep))
    })
}

fn merge_one(tx: &mut Tx<'_>, keep: Thing, other: Thing) -> Result<(), Problem> {
    let (kept, gone) = (tx.rows().json(keep)?, tx.rows().json(other)?);
    if keep.kind == ThingKind::Account {
        for person in tx.rows().people_of(other.id)? {
            // A person of the same name may be there already.
            let same = tx.rows().person_of(&person.name, keep.id)?;
            match same {
                Some(same) => merge_one(tx, same.thing(), person.id.thing())?,
                None => tx.set(person.id.thing(), &fields(json!({ "account_id": keep.id }))).map(drop)?,
            }
        }
    }
    let column = if keep.kind == ThingKind::Person { "person_id" } else { "account_id" };
    for item in tx.rows().items_of(column, other.id)? {
        tx.set(item.thing(), &fields(json!({ column: keep.id })))?;
    }
    tx.move_links(other, keep)?;
    tx.remove(other)?;
    let filled: Map<String, Value> = fields(gone)
        .into_iter()
        .filter(|(name, value)| kept[name].is_null() && !value.is_null() && name != "id" && name != "rev")
        .collect();
    if !filled.is_empty() {
        tx.set(keep, &filled)?;
    }
    Ok(())
}

/// Gives items of a person to somebody new of another name: two people came in as one.
///
/// # Errors
/// Where an item is not that person's, or there is somebody of this name already.
pub fn split(app: &App, call: &Call, ask: Split) -> Result<Saved, Problem> {
    let name: String = ask.name.split_whitespace().collect::<Vec<_>>().join(" ").chars().take(300).collect();
    app.save(call, Right::Listen, move |tx| {
        if name.is_empty() || ask.items.is_empty() || ask.items.len() > MOST {
            return Err(Problem::invalid("/name", format!("Choose 1 to {MOST} items, and say whose they are.")));
        }
        let person: Person = tx.rows().get(ask.person)?;
        let account = person.account_id;
        if tx.rows().person_of(&name, account.map_or(0, |account| account.0))?.is_some() {
            let words = "There is somebody of this name already. Take another name, or merge them afterwards.";
            return Err(Problem::invalid("/name", words));
        }
        let new = tx.insert(ThingKind::Person, &fields(json!({ "name": name, "account_id": account })))?;
        let of: BTreeSet<ItemId> = tx.rows().items_of("person_id", ask.person.0)?.into_iter().collect();
        for item in &ask.items {
            if !of.contains(item) {
                return Err(Problem::invalid("/items", format!("{item} is not of {}.", person.name)));
            }
            tx.set(item.thing(), &fields(json!({ "person_id": new })))?;
        }
        let new = Thing::new(ThingKind::Person, new);
        tx.read_anew()?;
        tx.label(format!("gave {} items of P{} to {}", ask.items.len(), ask.person.0, name_of(&tx.rows(), new)));
        Ok(Some(new))
    })
}
