//! JSON: a list of objects, or an object that holds one, or one object in each line. Objects within become columns
//! named by their way in, such as `customer.name`.

use std::collections::HashMap;
use std::fmt;

use iron_kite_core::formats::cells::Cells;
use iron_kite_core::formats::table::{HowRead, MOST_COLUMNS, MOST_ROWS, Table, of_cells};
use serde::Deserializer;
use serde::de::{DeserializeSeed, Error, IgnoredAny, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};

use super::budget::Budget;

/// How deep an object is looked into; what lies deeper stays JSON.
const DEEP: usize = 3;

pub(super) fn read(text: &str, budget: &Budget) -> Result<Table, String> {
    let text = text.trim_start_matches('\u{feff}');
    let mut read = serde_json::Deserializer::from_str(text);
    let rows = match (List { within: false, budget }).deserialize(&mut read).and_then(|rows| read.end().map(|()| rows))
    {
        Ok(rows) => rows.ok_or("The JSON holds no list of objects. Each thing that was said is to be one.")?,
        Err(fault) if fault.is_data() => return Err(told(&fault)),
        Err(fault) => lines(text, budget)?.ok_or_else(|| format!("This is no JSON: {fault}."))?,
    };
    let mut all = vec![rows.columns.iter().collect()];
    all.extend(rows.rows);
    of_cells(all, "JSON".into(), &HowRead::headed())
}

/// What was said of a list that cannot be taken, without the place that is put behind it.
fn told(fault: &serde_json::Error) -> String {
    let words = fault.to_string();
    words.split(" at line ").next().unwrap_or(&words).to_owned()
}

/// The objects of a list as rows.
struct Rows<'a> {
    columns: Vec<String>,
    /// The place of each column.
    places: HashMap<String, usize>,
    rows: Vec<Cells>,
    budget: &'a Budget,
}

impl<'a> Rows<'a> {
    fn new(budget: &'a Budget) -> Self {
        Rows { columns: Vec::new(), places: HashMap::new(), rows: Vec::new(), budget }
    }

    fn add(&mut self, object: &Map<String, Value>) -> Result<(), String> {
        let mut cells = Cells::default();
        self.flatten(object, "", DEEP, &mut cells)?;
        if self.rows.len() >= MOST_ROWS {
            return Err(format!("The list has more than {MOST_ROWS} objects. Split it."));
        }
        self.budget.hold(size_of::<Cells>())?;
        self.rows.push(cells);
        Ok(())
    }

    fn flatten(
        &mut self,
        object: &Map<String, Value>,
        before: &str,
        deep: usize,
        cells: &mut Cells,
    ) -> Result<(), String> {
        for (name, value) in object {
            let name = if before.is_empty() { name.clone() } else { format!("{before}.{name}") };
            match value {
                Value::Null => {}
                Value::String(text) => self.put(cells, name, text)?,
                Value::Object(inner) if deep > 0 => self.flatten(inner, &name, deep - 1, cells)?,
                other => self.put(cells, name, &other.to_string())?,
            }
        }
        Ok(())
    }

    fn put(&mut self, cells: &mut Cells, name: String, value: &str) -> Result<(), String> {
        let at = match self.places.get(&name) {
            Some(at) => *at,
            None if self.columns.len() == MOST_COLUMNS => {
                return Err(format!(
                    "The objects have more than {MOST_COLUMNS} different fields. Take out what is not needed."
                ));
            }
            None => {
                self.columns.push(name.clone());
                self.places.insert(name, self.columns.len() - 1);
                self.columns.len() - 1
            }
        };
        self.budget.hold(value.len() + (at + 1).saturating_sub(cells.len()) * size_of::<u32>())?;
        cells.put(at, value);
        Ok(())
    }
}

/// Finds the list of objects: the value itself, or the longest that an object holds right within it. One object at a time is
/// in memory.
#[derive(Clone, Copy)]
struct List<'a> {
    within: bool,
    budget: &'a Budget,
}

impl<'de, 'a> DeserializeSeed<'de> for List<'a> {
    type Value = Option<Rows<'a>>;

    fn deserialize<D: Deserializer<'de>>(self, read: D) -> Result<Self::Value, D::Error> {
        read.deserialize_any(self)
    }
}

impl<'de, 'a> Visitor<'de> for List<'a> {
    type Value = Option<Rows<'a>>;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of objects")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Self::Value, A::Error> {
        let mut rows = Rows::new(self.budget);
        while let Some(value) = list.next_element::<Value>()? {
            if let Value::Object(object) = value {
                rows.add(&object).map_err(A::Error::custom)?;
            }
        }
        Ok((!rows.rows.is_empty()).then_some(rows))
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<Self::Value, A::Error> {
        let mut longest: Self::Value = None;
        while map.next_key::<IgnoredAny>()?.is_some() {
            if self.within {
                map.next_value::<IgnoredAny>()?;
                continue;
            }
            let rows = map.next_value_seed(List { within: true, ..self })?;
            if rows.as_ref().map(|rows| rows.rows.len()) > longest.as_ref().map(|rows| rows.rows.len()) {
                longest = rows;
            }
        }
        Ok(longest)
    }

    fn visit_bool<E: Error>(self, _: bool) -> Result<Self::Value, E> {
        Ok(None)
    }

    fn visit_i64<E: Error>(self, _: i64) -> Result<Self::Value, E> {
        Ok(None)
    }

    fn visit_u64<E: Error>(self, _: u64) -> Result<Self::Value, E> {
        Ok(None)
    }

    fn visit_f64<E: Error>(self, _: f64) -> Result<Self::Value, E> {
        Ok(None)
    }

    fn visit_str<E: Error>(self, _: &str) -> Result<Self::Value, E> {
        Ok(None)
    }

    fn visit_unit<E: Error>(self) -> Result<Self::Value, E> {
        Ok(None)
    }
}

fn lines<'a>(text: &str, budget: &'a Budget) -> Result<Option<Rows<'a>>, String> {
    let mut rows = Rows::new(budget);
    for line in text.lines().map(str::trim).filter(|line| !line.is_empty()) {
        let Ok(Value::Object(object)) = serde_json::from_str(line) else { return Ok(None) };
        rows.add(&object)?;
    }
    Ok((!rows.rows.is_empty()).then_some(rows))
}
