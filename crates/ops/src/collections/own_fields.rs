//! The fields that a team adds: made, renamed, moved, retired, and carried to another type.

use iron_kite_core::fields::{
    Collection, Conversion, FieldDef, FieldType, OwnField, OwnFieldInput, check_own_field, convert_all, own_name,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as map_of};
use crate::things::right_to_set;

/// Where a field goes among those of its collection.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct FieldPlace {
    /// The revision that was seen.
    pub rev: i64,
    /// The field of the team that it comes before; none for the end.
    pub before: Option<i64>,
}

/// What carrying a field to another type would come to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ConversionPreview {
    /// How many things have a value.
    pub values: usize,
    /// How many of them would not be carried over whole.
    pub lost: usize,
    /// Some of those.
    pub examples: Vec<LostValue>,
    /// The type with the choices that the values need.
    #[serde(flatten)]
    pub kind: FieldType,
}

/// A value that would not be carried over whole.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LostValue {
    /// The thing.
    pub id: i64,
    /// Its value as text.
    pub text: String,
    /// What would be left of it; nothing where it would be lost whole.
    #[schema(value_type = Option<serde_json::Value>)]
    pub becomes: Value,
}

/// So many examples are shown.
const EXAMPLES: usize = 20;

/// The fields of a collection: registered ones and the team's, retired ones too.
///
/// # Errors
/// Where the right is missing.
pub fn fields(app: &App, call: &Call, collection: Collection) -> Result<Vec<FieldDef>, Problem> {
    app.read(call, Right::Read, |rows| {
        let fields = rows.catalogue()?.all_of(collection);
        Ok(fields.into_iter().map(|field| as_far_as(call, collection, field)).collect())
    })
}

/// A field as far as whoever asks may set it: nobody is offered what they would be refused.
fn as_far_as(call: &Call, collection: Collection, field: FieldDef) -> FieldDef {
    let needs = right_to_set(collection.kind(), std::iter::once(&field.name));
    if !field.editable || call.may(needs) {
        return field;
    }
    let role = needs.least().name();
    let why = format!("To change it takes the role of {role}; whoever owns the workspace gives it.");
    FieldDef { editable: false, withheld: true, governed: Some(why), ..field }
}

/// Adds a field. A link gets its opposite side in the other collection.
///
/// # Errors
/// Every part at fault.
pub fn add_field(app: &App, call: &Call, collection: Collection, input: OwnFieldInput) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let (label, kind) = check(tx, collection, &input, None)?;
        let id = match kind {
            FieldType::Link { to, many, .. } => add_link(tx, collection, &label, (to, many), &input)?,
            kind => insert(tx, collection, &label, &kind)?,
        };
        tx.label(format!("added the field \"{label}\" to {}", collection.words()));
        Ok(Some(Thing::new(ThingKind::Field, id)))
    })
}

fn check(
    tx: &Tx<'_>,
    collection: Collection,
    input: &OwnFieldInput,
    present: Option<&FieldDef>,
) -> Result<(String, FieldType), Problem> {
    let catalogue = tx.rows().catalogue()?;
    check_own_field(input, collection, present, &|of| catalogue.all_of(of)).map_err(Problem::Invalid)
}

fn insert(tx: &mut Tx<'_>, collection: Collection, label: &str, kind: &FieldType) -> Result<i64, Problem> {
    let name = collection.kind().name();
    let position = tx.rows().next_position(ThingKind::Field, "position", "collection = ?1", [name])?;
    let values = json!({
        "collection": name, "position": position, "label": label, "definition": definition(kind)?, "retired": 0,
    });
    let id = tx.insert(ThingKind::Field, &map_of(values))?;
    let field: OwnField = tx.rows().get(id)?;
    tx.index_own_field(&field)?;
    Ok(id)
}

fn definition(kind: &FieldType) -> Result<String, Problem> {
    serde_json::to_string(kind).map_err(|fault| Problem::Internal(fault.to_string()))
}

/// A link has two sides, each a field that knows the other; the links run from the first.
fn add_link(
    tx: &mut Tx<'_>,
    collection: Collection,
    label: &str,
    (to, many): (Collection, bool),
    input: &OwnFieldInput,
) -> Result<i64, Problem> {
    let back_label = input.back_label.clone().unwrap_or_else(|| format!("{} ({label})", collection.words()));
    let back_many = input.back_many.unwrap_or(true);
    let side = |to, many, back, forward| FieldType::Link { to, many, back, forward };
    let back_input = OwnFieldInput {
        label: back_label,
        kind: side(collection, back_many, None, false),
        back_label: None,
        back_many: None,
    };
    let (back_label, _) = check(tx, to, &back_input, None).map_err(|problem| match problem {
        Problem::Invalid(mut faults) => {
            faults.iter_mut().for_each(|fault| fault.field = "/back_label".into());
            Problem::Invalid(faults)
        }
        other => other,
    })?;
    let id = insert(tx, collection, label, &side(to, many, None, true))?;
    let back = insert(tx, to, &back_label, &side(collection, back_many, Some(id), false))?;
    let values = json!({ "definition": definition(&side(to, many, Some(back), true))? });
    tx.set(Thing::new(ThingKind::Field, id), &map_of(values))?;
    Ok(id)
}

/// Renames a field, and changes its choices, its unit or what it rolls up. Its type stays: see [`convert_field`].
///
/// # Errors
/// Every part at fault; refused where the type would be another.
pub fn change_field(app: &App, call: &Call, id: i64, rev: i64, input: OwnFieldInput) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let (thing, field, present) = stored(&tx.rows(), id)?;
        if std::mem::discriminant(&present.kind) != std::mem::discriminant(&input.kind) {
            let words = "Another type may lose values. Look at what it would lose first, then carry the field over.";
            return Err(Problem::refused("field-type-changes", words));
        }
        let (label, kind) = check(tx, field.collection, &input, Some(&present))?;
        // What joins the two sides of a link stays as it is.
        let kind = if matches!(kind, FieldType::Link { .. }) { present.kind } else { kind };
        tx.label(format!("changed the field \"{label}\" of {}", field.collection.words()));
        tx.update(thing, rev, &map_of(json!({ "label": label, "definition": definition(&kind)? })))?;
        Ok(Some(thing))
    })
}

fn stored(rows: &Rows<'_>, id: i64) -> Result<(Thing, OwnField, FieldDef), Problem> {
    let field: OwnField = rows.get(id)?;
    let def = field.def().map_err(Problem::Internal)?;
    Ok((Thing::new(ThingKind::Field, id), field, def))
}

/// Moves a field before another of its collection, or to the end.
///
/// # Errors
/// Where it was changed since, or the other one is not there.
pub fn move_field(app: &App, call: &Call, id: i64, place: FieldPlace) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let (thing, field, _) = stored(&tx.rows(), id)?;
        let mut others: Vec<OwnField> =
            tx.rows().list("WHERE collection = ?1 ORDER BY position, id", [field.collection.kind().name()])?;
        others.retain(|other| other.id != id);
        let at = match place.before {
            None => others.len(),
            Some(before) => others
                .iter()
                .position(|other| other.id == before)
                .ok_or_else(|| Problem::invalid("/before", "There is no such field of the team here."))?,
        };
        let position = |n: usize| others.get(n).map(|other| other.position);
        let position = match (at.checked_sub(1).and_then(position), position(at)) {
            (Some(low), Some(high)) => f64::midpoint(low, high),
            (Some(low), None) => low + 1.0,
            (None, Some(high)) => high - 1.0,
            (None, None) => 1.0,
        };
        tx.label(format!("moved the field \"{}\"", field.label));
        tx.update(thing, place.rev, &map_of(json!({ "position": position })))?;
        Ok(Some(thing))
    })
}

/// Retires a field or brings it back. Its values are kept either way; the opposite side of a link goes with it.
///
/// # Errors
/// Where it was changed since, or its name has been given to another in the meantime.
pub fn retire_field(app: &App, call: &Call, id: i64, rev: i64, retired: bool) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let (thing, field, def) = stored(&tx.rows(), id)?;
        if !retired {
            let input =
                OwnFieldInput { label: def.label.clone(), kind: def.kind.clone(), back_label: None, back_many: None };
            check(tx, field.collection, &input, Some(&def))?;
        }
        let values = map_of(json!({ "retired": i64::from(retired) }));
        tx.update(thing, rev, &values)?;
        if let FieldType::Link { back: Some(back), .. } = def.kind {
            tx.set(Thing::new(ThingKind::Field, back), &values)?;
        }
        let what = if retired { "retired" } else { "brought back" };
        tx.label(format!("{what} the field \"{}\" of {}", field.label, field.collection.words()));
        Ok(Some(thing))
    })
}

/// What carrying a field to another type would come to. Nothing is changed.
///
/// # Errors
/// Refused where its values are not kept in the rows: links and roll-ups.
pub fn preview_conversion(app: &App, call: &Call, id: i64, to: &FieldType) -> Result<ConversionPreview, Problem> {
    app.read(call, Right::Edit, |rows| {
        let (_, _, conversion) = conversion(rows, id, to)?;
        let lost = conversion.lost.len();
        let example =
            |lost: iron_kite_core::fields::Lost| LostValue { id: lost.id, text: lost.text, becomes: lost.becomes };
        Ok(ConversionPreview {
            values: conversion.values.len(),
            lost,
            examples: conversion.lost.into_iter().take(EXAMPLES).map(example).collect(),
            kind: conversion.kind,
        })
    })
}

fn conversion(rows: &Rows<'_>, id: i64, to: &FieldType) -> Result<(OwnField, FieldDef, Conversion), Problem> {
    let (_, field, def) = stored(rows, id)?;
    if !def.kind.is_kept() || !to.is_kept() {
        let words = "Links and roll-ups are not carried to another type. Add a field of the other type instead.";
        return Err(Problem::refused("field-not-convertible", words));
    }
    let mut to = to.clone();
    // Choices of a new type are made of what is there; keys from outside are not taken.
    if let FieldType::Choice { choices } | FieldType::Choices { choices } = &mut to {
        *choices = def.kind.choices().to_vec();
    }
    let values = rows.own_values(field.collection, id)?;
    let members: Vec<(i64, String)> = rows.users()?.into_iter().map(|user| (user.id, user.name)).collect();
    let conversion = convert_all(&def.kind, &to, &values, &members);
    Ok((field, def, conversion))
}

/// Carries a field and all its values to another type, as one change that can be undone.
///
/// # Errors
/// Where the field was changed since it was looked at.
pub fn convert_field(app: &App, call: &Call, id: i64, rev: i64, to: FieldType) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let (field, _, conversion) = conversion(&tx.rows(), id, &to)?;
        let mut kind = conversion.kind;
        if let FieldType::Choice { choices } | FieldType::Choices { choices } = &mut kind
            && choices.is_empty()
        {
            choices.push(iron_kite_core::fields::Choice::new("c1", "New"));
        }
        let thing = Thing::new(ThingKind::Field, id);
        tx.update(thing, rev, &map_of(json!({ "definition": definition(&kind)? })))?;
        let name = own_name(id);
        for (row, value) in conversion.values {
            let of = Thing::new(field.collection.kind(), row);
            let mut own: Map<String, Value> = tx.rows().own_of(of)?;
            let before = own.clone();
            if value.is_null() {
                drop(own.remove(&name))
            } else {
                drop(own.insert(name.clone(), value))
            }
            if own != before {
                let own = if own.is_empty() { Value::Null } else { Value::Object(own) };
                tx.set(of, &Map::from_iter([("own".to_owned(), own)]))?;
            }
        }
        let stored: OwnField = tx.rows().get(id)?;
        tx.index_own_field(&stored)?;
        tx.label(format!("made the field \"{}\" a {}", field.label, kind.words()));
        Ok(Some(thing))
    })
}
