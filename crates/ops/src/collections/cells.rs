//! Changing fields of things: one in place, several at once, or a pasted block. All of it or nothing.

use std::collections::BTreeSet;

use iron_kite_core::fields::{
    self, Collection, FieldDef, FieldType, LineLink, check_value, line_link, own_name, own_number, read_text,
    values_of_links,
};
use iron_kite_core::kind::Holds;
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::specify::{WorkItem, check_parent};
use iron_kite_core::things::{Level, ProductId, Thing, ThingKind, with_article};
use iron_kite_store::Tx;
use iron_kite_store::queries::fields::Catalogue;
use serde::Deserialize;
use serde_json::{Map, Value};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::things::{LinkEnds, check_same_product, drop_link, follow, make_link, right_to_set};

/// New values for some fields of one thing of a collection.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct CellChange {
    /// The thing's number.
    pub id: i64,
    /// The revision that was seen.
    pub rev: i64,
    /// The fields and their new values.
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    pub set: Map<String, Value>,
}

/// Several things changed at once.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct CellChanges {
    /// The product.
    pub product: ProductId,
    /// What is changed.
    pub changes: Vec<CellChange>,
}

/// A block of texts, as it is copied from a spreadsheet, and where it goes.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Paste {
    /// The product.
    pub product: ProductId,
    /// The things from above to below, each with the revision that was seen.
    pub rows: Vec<PasteRow>,
    /// The fields from left to right.
    pub fields: Vec<String>,
    /// A line of texts for each thing, a text for each field.
    pub cells: Vec<Vec<String>>,
}

/// A thing that a line of a block goes to.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct PasteRow {
    /// The thing's number.
    pub id: i64,
    /// The revision that was seen.
    pub rev: i64,
}

/// At most so many links in one field.
const MOST_LINKS: usize = 200;
/// At most so many things change at once.
const MOST: usize = 2_000;

/// What an edit changed.
#[derive(Debug, Default)]
pub(crate) struct Edited {
    /// What people call the fields that have another value now.
    pub(crate) labels: Vec<String>,
}

/// Changes several things at once: all of it or nothing, and one step to undo.
///
/// # Errors
/// Every field at fault; stale where one of them was changed since.
pub fn change_cells(app: &App, call: &Call, collection: Collection, input: CellChanges) -> Result<Saved, Problem> {
    let CellChanges { product, changes } = input;
    check_size(changes.len())?;
    let names = changes.iter().flat_map(|change| change.set.keys());
    app.save(call, right_to_set(collection.kind(), names), move |tx| {
        let catalogue = tx.rows().catalogue()?;
        let mut changed = 0;
        for (n, change) in changes.into_iter().enumerate() {
            let thing = Thing::new(collection.kind(), change.id);
            check_product(tx, collection, product, thing, &format!("/changes/{n}/id"))?;
            let edited = write_fields(tx, &catalogue, thing, change.rev, change.set, &format!("/changes/{n}/set"))?;
            changed += usize::from(!edited.labels.is_empty());
            follow(tx, thing)?;
        }
        tx.label(format!("changed {changed} {}", collection.words()));
        Ok(None)
    })
}

/// Pastes a block of texts: either exactly these cells change, or nothing does.
///
/// # Errors
/// Every cell at fault, by its line and field.
pub fn paste(app: &App, call: &Call, collection: Collection, input: &Paste) -> Result<Saved, Problem> {
    check_size(input.rows.len())?;
    if input.cells.len() != input.rows.len() || input.cells.iter().any(|line| line.len() != input.fields.len()) {
        return Err(Problem::invalid("/cells", "The block must have a line for each row and a text for each field."));
    }
    let ids: BTreeSet<i64> = input.rows.iter().map(|row| row.id).collect();
    let names: BTreeSet<&String> = input.fields.iter().collect();
    if ids.len() != input.rows.len() || names.len() != input.fields.len() {
        return Err(Problem::invalid("/rows", "Each row and each field can be pasted to once."));
    }
    let known = fields_for(app, call, collection)?;
    let mut faults = Vec::new();
    let mut changes = Vec::new();
    for (n, (row, line)) in input.rows.iter().zip(&input.cells).enumerate() {
        let mut set = Map::new();
        for (at, (name, text)) in input.fields.iter().zip(line).enumerate() {
            match cell(&known, name, text) {
                Ok(value) => drop(set.insert(name.clone(), value)),
                Err(words) => faults.push(Fault::new(format!("/cells/{n}/{at}"), format!("Line {}: {words}", n + 1))),
            }
        }
        changes.push(CellChange { id: row.id, rev: row.rev, set });
    }
    if !faults.is_empty() {
        faults.truncate(20);
        return Err(Problem::Invalid(faults));
    }
    change_cells(app, call, collection, CellChanges { product: input.product, changes })
}

fn fields_for(app: &App, call: &Call, collection: Collection) -> Result<Vec<FieldDef>, Problem> {
    app.read(call, collection.kind().right_to_change(), |rows| Ok(rows.catalogue()?.of(collection)))
}

fn cell(known: &[FieldDef], name: &str, text: &str) -> Result<Value, String> {
    let field = known.iter().find(|field| field.name == name);
    let field = field.ok_or_else(|| format!("there is no field '{name}'."))?;
    match &field.governed {
        Some(words) => Err(format!("'{}' cannot be pasted to. {words}", field.label)),
        None if !field.editable => Err(format!("'{}' is computed and cannot be pasted to.", field.label)),
        None => read_text(&field.label, &field.kind, text),
    }
}

fn check_size(count: usize) -> Result<(), Problem> {
    if count > MOST {
        let words =
            format!("{count} rows are more than can be changed at once; take at most {MOST}. Nothing was changed.");
        return Err(Problem::TooLarge(words));
    }
    Ok(())
}

/// A thing is changed only through the product that it belongs to.
fn check_product(
    tx: &Tx<'_>,
    collection: Collection,
    product: ProductId,
    thing: Thing,
    at: &str,
) -> Result<(), Problem> {
    if !collection.is_of_product() || collection == Collection::Excerpt {
        return Ok(());
    }
    let row = tx.rows().json(thing)?;
    if row["product_id"].as_i64() == Some(product.0) {
        return Ok(());
    }
    Err(Problem::invalid(at, "This thing belongs to another product."))
}

/// Changes fields of a thing that was seen at a revision: columns of its own, fields that the team added, and links.
pub(crate) fn write_fields(
    tx: &mut Tx<'_>,
    catalogue: &Catalogue,
    thing: Thing,
    rev: i64,
    set: Map<String, Value>,
    pointer: &str,
) -> Result<Edited, Problem> {
    let (own, set): (Vec<_>, Vec<_>) = set.into_iter().partition(|(name, _)| own_number(name).is_some());
    let (links, columns): (Vec<_>, Vec<_>) = set.into_iter().partition(|(name, _)| line_link_of(thing, name).is_some());
    let columns = fields::check(thing.kind, pointer, columns.into_iter().collect()).map_err(Problem::Invalid)?;
    let known = Collection::of(thing.kind).map(|collection| catalogue.of(collection)).unwrap_or_default();
    let own = check_own(&known, own, pointer)?;
    tx.expect(thing, rev)?;
    let mut row = fields_of(tx.rows().json(thing)?);
    let mut edited = Edited::default();
    let mut changed: Map<String, Value> =
        columns.into_iter().filter(|(name, value)| row.get(name) != Some(value)).collect();
    edited.labels.extend(changed.keys().map(|name| name.trim_end_matches("_id").replace('_', " ")));
    check_pointed_at(tx, thing.kind, Some(thing.id), &row, &changed, pointer)?;
    row.extend(changed.clone());
    fields::check_together(thing.kind, pointer, &row).map_err(|fault| Problem::Invalid(vec![fault]))?;
    for (name, value) in links {
        if write_line_links(tx, thing, &name, &value, pointer)? {
            edited.labels.push(name.replace('_', " "));
        }
    }
    if let Some(own) = write_own(tx, catalogue, thing, own, pointer, &mut edited)? {
        changed.insert("own".into(), own);
    }
    if thing.kind == ThingKind::Excerpt && ["kind", "sentiment"].iter().any(|name| changed.contains_key(*name)) {
        // From now on the engine leaves it alone.
        changed.insert("chosen".into(), 1.into());
    }
    if !changed.is_empty() {
        tx.update(thing, rev, &changed)?;
    }
    if thing.kind == ThingKind::Excerpt && changed.contains_key("chosen") {
        tx.read_anew()?;
    }
    Ok(edited)
}

fn line_link_of(thing: Thing, name: &str) -> Option<LineLink> {
    Collection::of(thing.kind).and_then(|collection| line_link(collection, name)).filter(|link| link.editable)
}

/// A field shows as many links as can be edited; whoever sees only a part of them would take the rest away.
fn check_all_seen(present: usize, at: &str) -> Result<(), Problem> {
    if present <= MOST_LINKS {
        return Ok(());
    }
    let words =
        format!("There are {present} links here, more than can be edited in one field. Change them at the other end.");
    Err(Problem::invalid(at, words))
}

/// Makes and takes away links of the line until they are those of the value. Tells whether anything changed.
fn write_line_links(tx: &mut Tx<'_>, thing: Thing, name: &str, value: &Value, pointer: &str) -> Result<bool, Problem> {
    let at = format!("{pointer}/{name}");
    let Some(link) = line_link_of(thing, name) else { return Ok(false) };
    let wanted: BTreeSet<i64> = values_of_links(value)
        .filter(|ids| ids.len() <= MOST_LINKS)
        .ok_or_else(|| Problem::invalid(&at, format!("'{name}' takes at most {MOST_LINKS} {}.", link.to.words())))?
        .into_iter()
        .collect();
    let present = tx.rows().links_of(link.kind, thing, link.forward, link.to.kind())?;
    check_all_seen(present.len(), &at)?;
    let mut changed = false;
    let ends = |other: Thing| {
        let (from, to) = if link.forward { (thing, other) } else { (other, thing) };
        LinkEnds { kind: link.kind, from, to }
    };
    for (_, there) in present.iter().filter(|(_, there)| !wanted.contains(there)) {
        drop_link(tx, ends(Thing::new(link.to.kind(), *there)))?;
        changed = true;
    }
    for id in wanted.iter().filter(|id| !present.iter().any(|(_, there)| there == *id)) {
        let other = Thing::new(link.to.kind(), *id);
        tx.rows().json(other).map_err(|_| {
            Problem::invalid(&at, format!("There is no {} with the number {id}.", link.to.kind().words()))
        })?;
        make_link(tx, ends(other))?;
        changed = true;
    }
    Ok(changed)
}

/// Makes and takes away the links of the team's fields, and gives the row's other own values where they change.
fn write_own(
    tx: &mut Tx<'_>,
    catalogue: &Catalogue,
    thing: Thing,
    own: Vec<(FieldDef, Value)>,
    pointer: &str,
    edited: &mut Edited,
) -> Result<Option<Value>, Problem> {
    if own.is_empty() {
        return Ok(None);
    }
    let before = tx.rows().own_of(thing)?;
    let mut kept = before.clone();
    for (field, value) in own {
        if matches!(field.kind, FieldType::Link { .. }) {
            if write_links(tx, catalogue, thing, &field, &value, pointer)? {
                edited.labels.push(field.label);
            }
            continue;
        }
        check_there(tx, &field, &value, pointer)?;
        if kept.get(&field.name).cloned().unwrap_or_default() == value {
            continue;
        }
        edited.labels.push(field.label);
        if value.is_null() { drop(kept.remove(&field.name)) } else { drop(kept.insert(field.name, value)) }
    }
    let is = if kept.is_empty() { Value::Null } else { Value::Object(kept.clone()) };
    Ok((kept != before).then_some(is))
}

fn check_own(known: &[FieldDef], own: Vec<(String, Value)>, pointer: &str) -> Result<Vec<(FieldDef, Value)>, Problem> {
    let mut faults = Vec::new();
    let mut checked = Vec::new();
    for (name, value) in own {
        let at = format!("{pointer}/{name}");
        match known.iter().find(|field| field.name == name) {
            None => faults.push(Fault::new(at, "This field was removed or retired in the meantime.")),
            Some(field) => match check_value(&field.label, &field.kind, value) {
                Ok(value) => checked.push((field.clone(), value)),
                Err(words) => faults.push(Fault::new(at, words)),
            },
        }
    }
    if faults.is_empty() { Ok(checked) } else { Err(Problem::Invalid(faults)) }
}

fn article(kind: ThingKind) -> &'static str {
    if kind.words().starts_with(['a', 'e', 'i', 'o', 'u']) { "an" } else { "a" }
}

fn check_member(tx: &Tx<'_>, id: i64, at: &str) -> Result<(), Problem> {
    if tx.rows().users()?.iter().any(|user| user.id == id) {
        return Ok(());
    }
    Err(Problem::invalid(at, "There is nobody with this number in the team."))
}

/// What a column points at must be there, and be of the same product.
pub(super) fn check_pointed_at(
    tx: &Tx<'_>,
    of: ThingKind,
    id: Option<i64>,
    row: &Map<String, Value>,
    changed: &Map<String, Value>,
    pointer: &str,
) -> Result<(), Problem> {
    for column in of.description().editable {
        if let (Holds::Member, Some(id)) = (column.holds, changed.get(column.name).and_then(Value::as_i64)) {
            check_member(tx, id, &format!("{pointer}/{}", column.name))?;
        }
        let (Holds::Thing(kind), Some(there_id)) = (column.holds, changed.get(column.name).and_then(Value::as_i64))
        else {
            continue;
        };
        let at = format!("{pointer}/{}", column.name);
        let there = tx.rows().json(Thing::new(kind, there_id));
        let there = there.map_err(|_| Problem::invalid(&at, format!("There is no such {}.", kind.words())))?;
        if there["product_id"] != row.get("product_id").cloned().unwrap_or_default() {
            return Err(Problem::invalid(at, format!("This {} belongs to another product.", kind.words())));
        }
        if kind == of {
            check_below(tx, of, id, row, there_id).map_err(|words| Problem::invalid(&at, words))?;
        } else if of == ThingKind::WorkItem && row.get("level") != Some(&Value::from(Level::Story.name())) {
            let words = format!("Only stories belong to {} {}. Put those below it there.", article(kind), kind.words());
            return Err(Problem::invalid(at, words));
        }
    }
    Ok(())
}

/// A thing stands below one that is above it: a work item below a larger one, a page or an objective not below itself.
fn check_below(
    tx: &Tx<'_>,
    kind: ThingKind,
    id: Option<i64>,
    row: &Map<String, Value>,
    parent: i64,
) -> Result<(), String> {
    if kind == ThingKind::WorkItem {
        let parent = tx.rows().get::<WorkItem>(parent).map_err(|fault| fault.to_string())?;
        let own = Level::ALL.into_iter().find(|level| row.get("level") == Some(&Value::from(level.name())));
        return own.map_or(Ok(()), |own| check_parent(own, parent.level));
    }
    let mut at = Some(parent);
    while let Some(above) = at {
        if Some(above) == id {
            return Err(format!("{} cannot stand below itself. Pick another.", with_article(kind.words())));
        }
        at = tx.rows().json(Thing::new(kind, above)).ok().and_then(|row| row["parent_id"].as_i64());
    }
    Ok(())
}

/// The person or the file that a field is to hold must be there.
fn check_there(tx: &Tx<'_>, field: &FieldDef, value: &Value, pointer: &str) -> Result<(), Problem> {
    let Some(id) = value.as_i64() else { return Ok(()) };
    let (there, takes) = match field.kind {
        FieldType::Member => (tx.rows().users()?.iter().any(|user| user.id == id), "somebody of the team"),
        FieldType::File => (tx.rows().has_attachment(id)?, "a file that was put in"),
        _ => return Ok(()),
    };
    if there {
        return Ok(());
    }
    let words = format!("'{}' takes {takes}.", field.label);
    Err(Problem::invalid(format!("{pointer}/{}", field.name), words))
}

/// Makes and takes away links until they are those of the value. Where the other side takes one only, a link from
/// elsewhere moves here. Tells whether anything changed.
fn write_links(
    tx: &mut Tx<'_>,
    catalogue: &Catalogue,
    thing: Thing,
    field: &FieldDef,
    value: &Value,
    pointer: &str,
) -> Result<bool, Problem> {
    let FieldType::Link { to, back, forward, .. } = field.kind else { return Ok(false) };
    let own = field.own.unwrap_or_default();
    let primary = if forward { own } else { back.unwrap_or(own) };
    let wanted: BTreeSet<i64> = values_of_links(value).unwrap_or_default().into_iter().collect();
    let present = tx.rows().own_links(primary, thing, forward)?;
    check_all_seen(present.len(), &format!("{pointer}/{}", field.name))?;
    let mut changed = false;
    for (link, _) in present.iter().filter(|(_, there)| !wanted.contains(there)) {
        tx.remove(Thing::new(ThingKind::Link, *link))?;
        changed = true;
    }
    let back_name = own_name(back.unwrap_or_default());
    let single = catalogue
        .all_of(to)
        .iter()
        .any(|other| other.name == back_name && matches!(other.kind, FieldType::Link { many: false, .. }));
    for id in wanted.iter().filter(|id| !present.iter().any(|(_, there)| there == *id)) {
        let other = Thing::new(to.kind(), *id);
        if tx.rows().json(other).is_err() {
            let words = format!("There is no {} with the number {id}.", to.kind().words());
            return Err(Problem::invalid(format!("{pointer}/{}", field.name), words));
        }
        check_same_product(&tx.rows(), thing, other)?;
        if single {
            for (link, _) in tx.rows().own_links(primary, other, !forward)? {
                tx.remove(Thing::new(ThingKind::Link, link))?;
            }
        }
        let (from, to) = if forward { (thing, other) } else { (other, thing) };
        tx.add_own_link(primary, from, to)?;
        changed = true;
    }
    Ok(changed)
}
