//! A whole workspace as one JSON file, written and read row by row: it may be far larger than what is held at once.
//!
//! ```json
//! {"format": "iron-kite-workspace", "version": 4, "tables": {"product": [{"id": 1, "name": "Crossing"}]}}
//! ```

use std::cell::Cell;
use std::fmt;
use std::io::{self, BufReader, Read, Write};
use std::rc::Rc;

use serde::de::{DeserializeSeed, Deserializer, Error as _, IgnoredAny, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};

/// The name that such a file carries.
pub const FORMAT: &str = "iron-kite-workspace";
/// The version that this program writes, and the newest that it reads. Since 2 bytes stand in base64; before, they stood as
/// hexadecimal digits. Since 3 those of a file stand in parts; before, they stood with the attachment. Since 4 it holds what people
/// follow and want to hear of, and calendar links by the hashes of their keys.
pub const VERSION: u32 = 4;
/// The longest row, in bytes of the file: the largest attached file has room in it.
pub const LONGEST_ROW: usize = 96 * 1024 * 1024;
/// A row has no more columns.
const MOST_COLUMNS: usize = 500;

/// Writes such a file.
pub struct Writer<W> {
    out: W,
    tables: usize,
    rows: usize,
}

impl<W: Write> Writer<W> {
    /// Begins a file.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn new(mut out: W) -> io::Result<Self> {
        write!(out, "{{\"format\":\"{FORMAT}\",\"version\":{VERSION},\"tables\":{{")?;
        Ok(Writer { out, tables: 0, rows: 0 })
    }

    /// Begins a table. A file reads fastest where its tables come in the order in which they are brought in.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn table(&mut self, name: &str) -> io::Result<()> {
        let before = if self.tables == 0 { "" } else { "]," };
        (self.tables, self.rows) = (self.tables + 1, 0);
        write!(self.out, "{before}\n\"{name}\":[")
    }

    /// Writes a row of the table, an object in JSON.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn row(&mut self, json: &str) -> io::Result<()> {
        let before = if self.rows == 0 { "\n" } else { ",\n" };
        self.rows += 1;
        write!(self.out, "{before}{json}")
    }

    /// Ends the file.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn end(mut self) -> io::Result<W> {
        let end = if self.tables == 0 { "}}" } else { "]}}" };
        writeln!(self.out, "{end}")?;
        self.out.flush()?;
        Ok(self.out)
    }
}

/// What such a file holds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Contents {
    /// The version of its form.
    pub version: u32,
    /// Its tables, in their order.
    pub tables: Vec<String>,
}

/// Looks through the whole of a file. Linear; holds nothing of it.
///
/// # Errors
/// In words, where it is another format, newer than this program, or damaged.
pub fn contents(file: impl Read) -> Result<Contents, String> {
    let mut tables = Vec::new();
    let mut begin = |name: &str| {
        tables.push(name.to_owned());
        false
    };
    let version = walk(file, &mut begin, &mut |_, _| Ok(()))?;
    let mut sorted: Vec<&String> = tables.iter().collect();
    sorted.sort_unstable();
    if let Some(twice) = sorted.windows(2).find(|pair| pair[0] == pair[1]) {
        return Err(format!("The file is damaged: it has the table '{}' twice. Nothing was imported.", twice[0]));
    }
    Ok(Contents { version, tables })
}

/// Gives the rows of the tables that are wanted, each as it comes. Linear in the file; holds one row.
///
/// # Errors
/// What `take` says of a row, else in words where the file is damaged.
pub fn rows<E: From<String>>(
    file: impl Read,
    mut wanted: impl FnMut(&str) -> bool,
    mut take: impl FnMut(&str, Map<String, Value>) -> Result<(), E>,
) -> Result<(), E> {
    let mut said = None;
    let mut each = |table: &str, row| take(table, row).map_err(|fault| said = Some(fault));
    match walk(file, &mut wanted, &mut each) {
        Ok(_) => Ok(()),
        Err(words) => Err(said.unwrap_or_else(|| E::from(words))),
    }
}

type Begin<'a> = &'a mut dyn FnMut(&str) -> bool;
type Take<'a> = &'a mut dyn FnMut(&str, Map<String, Value>) -> Result<(), ()>;

/// Walks through a file; gives its version.
fn walk(file: impl Read, begin: Begin<'_>, take: Take<'_>) -> Result<u32, String> {
    let left = Rc::new(Cell::new(LONGEST_ROW));
    let reader = BufReader::with_capacity(64 * 1024, ByRow { file, left: Rc::clone(&left) });
    let mut json = serde_json::Deserializer::from_reader(reader);
    let mut walk = Walk { begin, take, left, format: None, version: None, refused: None };
    let done = File(&mut walk).deserialize(&mut json).and_then(|()| json.end());
    match (walk.refused, done) {
        (Some(words), _) => Err(format!("{words} Nothing was imported.")),
        (None, Err(fault)) => {
            Err(format!("The file is damaged or no workspace export ({fault}). Nothing was imported."))
        }
        (None, Ok(())) => Ok(walk.version.unwrap_or_default()),
    }
}

/// A file that is read as long as no row of it is too long.
struct ByRow<R> {
    file: R,
    left: Rc<Cell<usize>>,
}

impl<R: Read> Read for ByRow<R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let got = self.file.read(buffer)?;
        let left = self.left.get().checked_sub(got);
        self.left.set(left.ok_or_else(|| io::Error::other("a row is longer than any may be"))?);
        Ok(got)
    }
}

struct Walk<'a> {
    begin: Begin<'a>,
    take: Take<'a>,
    left: Rc<Cell<usize>>,
    format: Option<String>,
    version: Option<u32>,
    refused: Option<String>,
}

impl Walk<'_> {
    /// Whether what stands beside the tables, wherever it does, says that it is a file of ours.
    fn look_at_head(&mut self) -> bool {
        self.refused = match (self.format.as_deref(), self.version) {
            (Some(FORMAT), Some(1..=VERSION)) => None,
            (Some(FORMAT), None) => Some("The file has no version.".into()),
            (Some(FORMAT), Some(version)) => Some(format!(
                "The file was written by a newer Iron Kite (version {version} of the format; this one reads up to \
                 {VERSION}). Update this one first."
            )),
            _ => Some(format!("This is no workspace export: its \"format\" is not \"{FORMAT}\".")),
        };
        self.refused.is_none()
    }
}

/// Expects an object or a list, and hands its parts on.
macro_rules! seed {
    ($name:ident, $deserialize:ident) => {
        impl<'de> DeserializeSeed<'de> for $name<'_, '_> {
            type Value = ();

            fn deserialize<D: Deserializer<'de>>(self, deserializer: D) -> Result<(), D::Error> {
                deserializer.$deserialize(self)
            }
        }
    };
}

struct File<'a, 'b>(&'a mut Walk<'b>);
seed!(File, deserialize_map);

impl<'de> Visitor<'de> for File<'_, '_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a workspace")
    }

    fn visit_map<M: MapAccess<'de>>(self, mut map: M) -> Result<(), M::Error> {
        while let Some(key) = map.next_key::<String>()? {
            match key.as_str() {
                "format" => self.0.format = map.next_value::<Option<String>>()?,
                "version" => self.0.version = map.next_value::<Option<u32>>()?,
                "tables" => map.next_value_seed(Tables(&mut *self.0))?,
                _ => drop(map.next_value::<IgnoredAny>()?),
            }
        }
        if self.0.look_at_head() { Ok(()) } else { Err(M::Error::custom("it is no file of ours")) }
    }
}

struct Tables<'a, 'b>(&'a mut Walk<'b>);
seed!(Tables, deserialize_map);

impl<'de> Visitor<'de> for Tables<'_, '_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("tables by their names")
    }

    fn visit_map<M: MapAccess<'de>>(self, mut map: M) -> Result<(), M::Error> {
        while let Some(table) = map.next_key::<String>()? {
            let wanted = (self.0.begin)(&table);
            map.next_value_seed(Rows { walk: &mut *self.0, table: &table, wanted })?;
        }
        Ok(())
    }
}

struct Rows<'a, 'b> {
    walk: &'a mut Walk<'b>,
    table: &'a str,
    wanted: bool,
}
seed!(Rows, deserialize_seq);

impl<'de> Visitor<'de> for Rows<'_, '_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of rows")
    }

    fn visit_seq<S: SeqAccess<'de>>(self, mut rows: S) -> Result<(), S::Error> {
        loop {
            self.walk.left.set(LONGEST_ROW);
            let Some(row) = rows.next_element_seed(Row { keep: self.wanted })? else { return Ok(()) };
            if self.wanted && (self.walk.take)(self.table, row).is_err() {
                return Err(S::Error::custom("a row was refused"));
            }
        }
    }
}

/// A row: its columns hold texts, numbers, yes, no or nothing, and no lists, which would take far more room than they have in
/// the file.
struct Row {
    keep: bool,
}

impl<'de> DeserializeSeed<'de> for Row {
    type Value = Map<String, Value>;

    fn deserialize<D: Deserializer<'de>>(self, deserializer: D) -> Result<Self::Value, D::Error> {
        deserializer.deserialize_map(self)
    }
}

impl<'de> Visitor<'de> for Row {
    type Value = Map<String, Value>;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a row with its columns")
    }

    fn visit_map<M: MapAccess<'de>>(self, mut columns: M) -> Result<Self::Value, M::Error> {
        let mut row = Map::new();
        if !self.keep {
            while columns.next_entry::<IgnoredAny, IgnoredAny>()?.is_some() {}
            return Ok(row);
        }
        while let Some(name) = columns.next_key::<String>()? {
            row.insert(name, columns.next_value_seed(Held)?);
            if row.len() > MOST_COLUMNS {
                return Err(M::Error::custom("a row has more columns than any may have"));
            }
        }
        Ok(row)
    }
}

/// What a column holds.
struct Held;

impl<'de> DeserializeSeed<'de> for Held {
    type Value = Value;

    fn deserialize<D: Deserializer<'de>>(self, deserializer: D) -> Result<Value, D::Error> {
        deserializer.deserialize_any(self)
    }
}

impl Visitor<'_> for Held {
    type Value = Value;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a text, a number, yes, no or nothing")
    }

    fn visit_bool<E>(self, value: bool) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_i64<E>(self, value: i64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_u64<E>(self, value: u64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_f64<E>(self, value: f64) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_str<E>(self, value: &str) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_string<E>(self, value: String) -> Result<Value, E> {
        Ok(value.into())
    }

    fn visit_unit<E>(self) -> Result<Value, E> {
        Ok(Value::Null)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn strangers_and_newer_files_are_refused_in_words() {
        for (file, words) in [
            ("{", "damaged"),
            ("[]", "damaged"),
            (r#"{"format":"other","version":1,"tables":{}}"#, "no workspace export"),
            (r#"{"format":"iron-kite-workspace","version":9,"tables":{}}"#, "newer Iron Kite"),
            (r#"{"format":"iron-kite-workspace","tables":{}}"#, "no version"),
            (r#"{"format":"iron-kite-workspace","version":2,"tables":{"idea":[3]}}"#, "damaged"),
            (r#"{"format":"iron-kite-workspace","version":2,"tables":{"idea":[],"idea":[]}}"#, "twice"),
            (r#"{"format":"iron-kite-workspace","version":2,"tables":{}} and more"#, "damaged"),
        ] {
            assert!(contents(file.as_bytes()).unwrap_err().contains(words), "{file}");
        }
        for empty in [
            r#"{"format":"iron-kite-workspace","version":1,"tables":{}}"#,
            r#"{"format":"iron-kite-workspace","tables":{},"version":1}"#,
        ] {
            assert_eq!(contents(empty.as_bytes()), Ok(Contents { version: 1, tables: Vec::new() }));
        }
    }

    #[test]
    fn what_is_written_is_read_and_only_what_is_wanted() {
        let mut writer = Writer::new(Vec::new()).unwrap();
        for (table, rows) in
            [("a", vec![r#"{"id":1,"x":null}"#, r#"{"id":2,"x":"y"}"#]), ("b", vec![]), ("c", vec!["{}"])]
        {
            writer.table(table).unwrap();
            rows.iter().for_each(|row| writer.row(row).unwrap());
        }
        let file = writer.end().unwrap();
        assert_eq!(contents(&file[..]).unwrap().tables, ["a", "b", "c"]);
        let all: Value = serde_json::from_slice(&file).unwrap();
        let mut read = Vec::new();
        let wanted = |table: &str| table == "a";
        rows(&file[..], wanted, |table, row| -> Result<(), String> {
            read.push((table.to_owned(), Value::Object(row)));
            Ok(())
        })
        .unwrap();
        let of_a = all["tables"]["a"].as_array().unwrap().iter().map(|row| ("a".to_owned(), row.clone()));
        assert_eq!(read, of_a.collect::<Vec<_>>());
        let stopped = rows(&file[..], |_| true, |_, _| Err("enough".to_owned()));
        assert_eq!(stopped, Err("enough".to_owned()));
    }

    #[test]
    fn what_would_take_more_room_than_it_has_in_the_file_is_damaged() {
        let head = r#"{"format":"iron-kite-workspace","version":2,"tables":{"idea":["#;
        let all = |row: &str| rows(format!("{head}{row}]}}}}").as_bytes(), |_| true, |_, _| Ok::<(), String>(()));
        let columns: Vec<String> = (0..=MOST_COLUMNS).map(|n| format!("\"c{n}\":0")).collect();
        for row in [r#"{"x":[0,0,0]}"#.to_owned(), r#"{"x":{"y":1}}"#.into(), format!("{{{}}}", columns.join(","))] {
            assert!(all(&row).unwrap_err().contains("damaged"), "{row}");
        }
        assert_eq!(all(r#"{"x":1.5,"y":true}"#), Ok(()));
        // A text without an end is not read to the end.
        let endless = head.as_bytes().chain(&b"{\"x\":\""[..]).chain(io::repeat(b'a'));
        assert!(contents(endless).unwrap_err().contains("longer than any may be"));
    }
}
