//! Groups of a collection's rows with their counts and figures. The rows are read once, in the order in which they lie,
//! and put together here: the database would sort all of them first, which costs several times as much.

use std::collections::HashMap;

use iron_kite_core::fields::{Collection, Condition, Group, Running, Shape, Total, day_part};
use rusqlite::types::ValueRef;
use rusqlite::{Row, params_from_iter};
use serde_json::Value;

use super::Of;
use super::compile::{expr_of, where_of};
use super::exprs::{Expr, label};
use crate::error::Result;
use crate::rows::Rows;

/// At most so many groups of one field are given.
pub const MOST_GROUPS: usize = 500;
/// At most so many groups of groups.
pub const MOST_CELLS: usize = 5_000;

/// A group, or with two fields one of the first within one of the second.
#[derive(Debug, Clone, PartialEq)]
pub struct GroupRow {
    /// One key for each field: what its things have in common; null for what is empty.
    pub keys: Vec<Value>,
    /// How many things.
    pub count: i64,
    /// The figures, in the order of the totals; none where there is nothing to compute.
    pub totals: Vec<Option<f64>>,
}

/// All groups, and the whole.
#[derive(Debug, Clone, PartialEq)]
pub struct Grouped {
    /// The groups, in no order. Where there are more than [`MOST_CELLS`] it is one more than that, and the reading
    /// ended there.
    pub groups: Vec<GroupRow>,
    /// Over all rows; one that is in several groups counts once.
    pub all: GroupRow,
}

/// What things of a group have in common.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
enum Key {
    None,
    Yes(bool),
    Id(i64),
    /// The bits of a number.
    Number(u64),
    Text(String),
}

impl Key {
    fn value(&self) -> Value {
        match self {
            Key::None => Value::Null,
            Key::Yes(yes) => Value::Bool(*yes),
            Key::Id(id) => Value::from(*id),
            Key::Number(bits) => Value::from(f64::from_bits(*bits)),
            Key::Text(text) => Value::from(text.as_str()),
        }
    }
}

/// The keys of one field. Each text is looked at once, however many rows hold it: most rows cost one look-up, and where the same
/// text comes in a row, as from an index, one comparison.
struct Axis<'a> {
    group: &'a Group,
    keys: Vec<Key>,
    places: HashMap<Key, usize>,
    texts: HashMap<String, usize>,
    /// The places of the keys of each text.
    of_texts: Vec<Vec<usize>>,
    /// The text that came last, and which one it is.
    last: (String, Option<usize>),
    single: [usize; 1],
}

impl<'a> Axis<'a> {
    fn new(group: &'a Group) -> Self {
        Axis {
            group,
            keys: Vec::new(),
            places: HashMap::new(),
            texts: HashMap::new(),
            of_texts: Vec::new(),
            last: (String::new(), None),
            single: [0],
        }
    }

    /// The places of the keys that a row's value gives.
    fn places_of(&mut self, value: ValueRef<'_>) -> Result<&[usize]> {
        let ValueRef::Text(text) = value else {
            self.single = [self.place(number_key(value, self.group.field.shape))];
            return Ok(&self.single);
        };
        let at = match self.last.1 {
            Some(at) if self.last.0.as_bytes() == text => at,
            _ => self.text(std::str::from_utf8(text).unwrap_or_default())?,
        };
        Ok(self.of_texts.get(at).map_or(&[], Vec::as_slice))
    }

    /// Which text it is.
    fn text(&mut self, text: &str) -> Result<usize> {
        let at = match self.texts.get(text) {
            Some(at) => *at,
            None => {
                let places = text_keys(text, self.group)?.into_iter().map(|key| self.place(key)).collect();
                self.of_texts.push(places);
                self.texts.insert(text.to_owned(), self.of_texts.len() - 1);
                self.of_texts.len() - 1
            }
        };
        self.last.0.clear();
        self.last.0.push_str(text);
        self.last.1 = Some(at);
        Ok(at)
    }

    fn place(&mut self, key: Key) -> usize {
        if let Some(place) = self.places.get(&key) {
            return *place;
        }
        let place = self.keys.len();
        self.keys.push(key.clone());
        self.places.insert(key, place);
        place
    }
}

/// What is added up of each group, by the places of its keys.
#[derive(Default)]
struct Cells {
    places: HashMap<(usize, usize), usize>,
    sums: Vec<((usize, usize), Sums)>,
    last: usize,
}

impl Cells {
    fn add(&mut self, cell: (usize, usize), totals: &[Total], numbers: &[Option<f64>]) {
        if self.sums.get(self.last).is_none_or(|(last, _)| *last != cell) {
            self.last = *self.places.entry(cell).or_insert(self.sums.len());
            if self.last == self.sums.len() {
                self.sums.push((cell, Sums::new(totals)));
            }
        }
        if let Some((_, sums)) = self.sums.get_mut(self.last) {
            sums.add(numbers);
        }
    }
}

struct Sums {
    count: i64,
    totals: Vec<Running>,
}

impl Sums {
    fn new(totals: &[Total]) -> Self {
        Sums { count: 0, totals: totals.iter().map(|total| Running::new(total.measure)).collect() }
    }

    fn add(&mut self, numbers: &[Option<f64>]) {
        self.count += 1;
        for (total, number) in self.totals.iter_mut().zip(numbers) {
            if let Some(number) = number {
                total.add(*number);
            }
        }
    }

    fn row(&self, keys: Vec<Value>) -> GroupRow {
        GroupRow { keys, count: self.count, totals: self.totals.iter().map(Running::value).collect() }
    }
}

impl Rows<'_> {
    /// Groups with their counts and figures, and the whole. Linear in the rows that fulfil the condition.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn groups_of(&self, of: Of<'_>, condition: &Condition, group: &[Group], totals: &[Total]) -> Result<Grouped> {
        let mut columns = Vec::new();
        for by in group {
            columns.push(key_expr(of, by)?);
        }
        for total in totals {
            columns.push(match expr_of(of, &total.field.name)? {
                Expr::One(one) if total.field.shape == Shape::Yes => format!("NULLIF({one}, 0)"),
                Expr::One(one) | Expr::Keys(one) | Expr::Column(one) => one,
                Expr::Set(set) => format!("CASE WHEN EXISTS ({set}) THEN 1 END"),
            });
        }
        if columns.is_empty() {
            columns.push("1".into());
        }
        let text = where_of(of, condition)?;
        let mut statement = self.connection.prepare_cached(&format!("SELECT {}{}", columns.join(", "), text.sql))?;
        let mut rows = statement.query(params_from_iter(text.bound))?;
        let mut all = Sums::new(totals);
        let mut found = Cells::default();
        let mut axes: Vec<Axis<'_>> = group.iter().map(Axis::new).collect();
        let mut numbers = Vec::new();
        while let Some(row) = rows.next()? {
            numbers.clear();
            for n in 0..totals.len() {
                numbers.push(figure(row, group.len() + n)?);
            }
            all.add(&numbers);
            let mut add = |cell| found.add(cell, totals, &numbers);
            match axes.as_mut_slice() {
                [] => {}
                [one] => one.places_of(row.get_ref(0)?)?.iter().for_each(|place| add((*place, 0))),
                [one, other, ..] => {
                    let others = other.places_of(row.get_ref(1)?)?;
                    for place in one.places_of(row.get_ref(0)?)? {
                        others.iter().for_each(|other| add((*place, *other)));
                    }
                }
            }
            if found.sums.len() > MOST_CELLS {
                break;
            }
        }
        let key = |axis: usize, place: usize| axes.get(axis).and_then(|axis| axis.keys.get(place)).map(Key::value);
        let row = |((first, second), sums): ((usize, usize), Sums)| {
            sums.row([key(0, first), key(1, second)].into_iter().flatten().collect())
        };
        Ok(Grouped { groups: found.sums.into_iter().map(row).collect(), all: all.row(Vec::new()) })
    }

    /// The names of some things of a collection, by their numbers.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn labels_of(&self, collection: Collection, ids: &[i64]) -> Result<Vec<(i64, String)>> {
        let (reference, title) = label(collection, "t");
        let sql = format!(
            "SELECT t.id, trim({reference} || ' ' || {title}) FROM {collection} t WHERE t.id IN (SELECT value FROM json_each(?1))"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let rows = statement.query_map([serde_json::to_string(ids)?], |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}

/// What a group's key is made of: the value itself, or for linked things a JSON array of their numbers.
fn key_expr(of: Of<'_>, group: &Group) -> Result<String> {
    Ok(match expr_of(of, &group.field.name)? {
        Expr::One(one) | Expr::Keys(one) | Expr::Column(one) => one,
        // The first SELECT gives the column its name and nothing else.
        Expr::Set(set) => format!("(SELECT json_group_array(s.id) FROM (SELECT 0 AS id WHERE 0 UNION ALL {set}) s)"),
    })
}

fn text_keys(text: &str, group: &Group) -> Result<Vec<Key>> {
    Ok(match group.field.shape {
        Shape::Choices => several(serde_json::from_str::<Vec<String>>(text)?.into_iter().map(Key::Text)),
        Shape::Links => several(serde_json::from_str::<Vec<i64>>(text)?.into_iter().map(Key::Id)),
        Shape::Day => vec![day_part(text, group.part).map_or(Key::None, Key::Text)],
        _ if text.is_empty() => vec![Key::None],
        _ => vec![Key::Text(text.to_owned())],
    })
}

fn several(keys: impl Iterator<Item = Key>) -> Vec<Key> {
    let keys: Vec<Key> = keys.collect();
    if keys.is_empty() { vec![Key::None] } else { keys }
}

fn number_key(value: ValueRef<'_>, shape: Shape) -> Key {
    match (value, shape) {
        (ValueRef::Null, Shape::Yes) => Key::Yes(false),
        (ValueRef::Integer(number), Shape::Yes) => Key::Yes(number != 0),
        (ValueRef::Integer(number), Shape::Member | Shape::Links) => Key::Id(number),
        #[expect(clippy::cast_precision_loss, reason = "numbers of a field are far below 2^53")]
        (ValueRef::Integer(number), _) => Key::Number((number as f64).to_bits()),
        // Minus zero is zero.
        (ValueRef::Real(number), _) => Key::Number((number + 0.0).to_bits()),
        (ValueRef::Null | ValueRef::Text(_) | ValueRef::Blob(_), _) => Key::None,
    }
}

/// A number; what is none counts as one that is there.
fn figure(row: &Row<'_>, n: usize) -> Result<Option<f64>> {
    Ok(match row.get_ref(n)? {
        ValueRef::Null => None,
        #[expect(clippy::cast_precision_loss, reason = "counts and sums are far below 2^53")]
        ValueRef::Integer(number) => Some(number as f64),
        ValueRef::Real(number) => Some(number),
        ValueRef::Text(_) | ValueRef::Blob(_) => Some(0.0),
    })
}
