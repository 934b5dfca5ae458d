//! JSON: a list of objects, or an object that holds one, or one object in each line. Objects within become columns
//! named by their way in, such as `customer.name`.

use iron_kite_core::formats::table::{MOST_COLUMNS, Table, of_cells};
use serde_json::{Map, Value};

/// How deep an object is looked into; what lies deeper stays JSON.
const DEEP: usize = 3;

pub(super) fn read(text: &str) -> Result<Table, String> {
    let objects = match serde_json::from_str::<Value>(text.trim_start_matches('\u{feff}')) {
        Ok(value) => {
            list_in(value).ok_or("The JSON holds no list of objects. Each thing that was said is to be one.")?
        }
        Err(fault) => lines(text).ok_or_else(|| format!("This is no JSON: {fault}."))?,
    };
    let mut columns: Vec<String> = Vec::new();
    let mut rows = Vec::with_capacity(objects.len() + 1);
    for object in &objects {
        let mut cells = vec![String::new(); columns.len()];
        flatten(object, "", DEEP, &mut |name, value| {
            let at = columns.iter().position(|column| *column == name).unwrap_or_else(|| {
                columns.push(name);
                columns.len() - 1
            });
            if cells.len() <= at {
                cells.resize_with(at + 1, String::new);
            }
            if let Some(cell) = cells.get_mut(at) {
                *cell = value;
            }
        });
        if columns.len() > MOST_COLUMNS {
            return Err(format!(
                "The objects have more than {MOST_COLUMNS} different fields. Take out what is not needed."
            ));
        }
        rows.push(cells);
    }
    rows.insert(0, columns);
    of_cells(rows, "JSON".into())
}

/// The list of objects: the value itself, or the longest that an object holds.
fn list_in(value: Value) -> Option<Vec<Map<String, Value>>> {
    match value {
        Value::Array(all) => {
            let objects: Vec<_> = all.into_iter().filter_map(object).collect();
            (!objects.is_empty()).then_some(objects)
        }
        Value::Object(map) => {
            let lists = map.into_iter().filter(|(_, value)| value.is_array());
            lists.filter_map(|(_, value)| list_in(value)).max_by_key(Vec::len)
        }
        _ => None,
    }
}

fn object(value: Value) -> Option<Map<String, Value>> {
    match value {
        Value::Object(map) => Some(map),
        _ => None,
    }
}

fn lines(text: &str) -> Option<Vec<Map<String, Value>>> {
    let lines = text.lines().map(str::trim).filter(|line| !line.is_empty());
    let objects: Vec<_> = lines.map(|line| serde_json::from_str(line).ok().and_then(object)).collect::<Option<_>>()?;
    (!objects.is_empty()).then_some(objects)
}

fn flatten(object: &Map<String, Value>, before: &str, deep: usize, give: &mut impl FnMut(String, String)) {
    for (name, value) in object {
        let name = if before.is_empty() { name.clone() } else { format!("{before}.{name}") };
        match value {
            Value::Null => {}
            Value::String(text) => give(name, text.clone()),
            Value::Object(inner) if deep > 0 => flatten(inner, &name, deep - 1, give),
            other => give(name, other.to_string()),
        }
    }
}
