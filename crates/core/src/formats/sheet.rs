//! What a view shows, as a file: CSV (RFC 4180), JSON and Markdown. The XLSX of it is written by
//! the use cases: the library for it asks the machine for chance, which core does without.

use serde_json::{Map, Value, json};

use crate::fields::{FieldType, own_number, show};

/// A heading with the type of what stands below it.
#[derive(Debug, Clone)]
pub struct Column {
    /// The name in the API.
    pub name: String,
    /// What people read.
    pub label: String,
    /// What its values are.
    pub kind: FieldType,
}

/// Rows under headings. Each row has a value for each column; linked things with their labels, people by name.
#[derive(Debug, Clone)]
pub struct Sheet {
    /// What it is a table of.
    pub title: String,
    /// The headings.
    pub columns: Vec<Column>,
    /// The rows.
    pub rows: Vec<Vec<Value>>,
}

/// A cell that a spreadsheet would take for a formula (`=`, `+`, `-`, `@` at its beginning) gets an apostrophe before
/// it, so that nothing in it runs. A plain number keeps its sign.
#[must_use]
pub fn harmless(cell: String) -> String {
    if cell.starts_with(['=', '+', '-', '@', '\t', '\r']) && cell.parse::<f64>().is_err() {
        format!("'{cell}")
    } else {
        cell
    }
}

impl Sheet {
    /// As CSV with headings. No cell runs in a spreadsheet: see [`harmless`].
    ///
    /// # Errors
    /// In words; writing to memory does not fail in practice.
    pub fn csv(&self) -> Result<Vec<u8>, String> {
        let mut writer = csv::Writer::from_writer(Vec::new());
        let fault = |fault: csv::Error| fault.to_string();
        writer.write_record(self.columns.iter().map(|column| harmless(column.label.clone()))).map_err(fault)?;
        for row in &self.rows {
            let cells = self.columns.iter().zip(row).map(|(column, value)| harmless(cell_text(&column.kind, value)));
            writer.write_record(cells).map_err(fault)?;
        }
        writer.into_inner().map_err(|fault| fault.to_string())
    }

    /// As JSON: one object a row, by the names of the fields, those that a team added by their labels; choices by their label.
    ///
    /// # Errors
    /// In words; writing to memory does not fail in practice.
    pub fn json(&self) -> Result<Vec<u8>, String> {
        let keys = self.keys();
        let object = |row: &Vec<Value>| {
            let cells = self.columns.iter().zip(&keys).zip(row);
            let named = cells.map(|((column, key), value)| ((*key).to_owned(), readable(&column.kind, value)));
            Value::Object(named.collect::<Map<String, Value>>())
        };
        let rows: Vec<Value> = self.rows.iter().map(object).collect();
        serde_json::to_vec_pretty(&rows).map_err(|fault| fault.to_string())
    }

    /// What the fields are called in JSON: one that a team added by its label, unless another one has that.
    fn keys(&self) -> Vec<&str> {
        let key = |column: &Column| own_number(&column.name).is_some();
        let taken = |label: &str| {
            let same = self.columns.iter().filter(|other| other.label == label || other.name == label);
            same.count() > 1
        };
        let named = self.columns.iter().map(|column| match key(column) && !taken(&column.label) {
            true => column.label.as_str(),
            false => column.name.as_str(),
        });
        named.collect()
    }

    /// As a Markdown table.
    #[must_use]
    pub fn markdown(&self) -> String {
        let cell = |text: String| text.replace('\\', "\\\\").replace('|', "\\|").replace(['\r', '\n'], " ");
        let line = |cells: Vec<String>| format!("| {} |\n", cells.join(" | "));
        let mut text = format!("# {}\n\n", self.title.replace(['\r', '\n'], " "));
        text.push_str(&line(self.columns.iter().map(|column| cell(column.label.clone())).collect()));
        let rule = |column: &Column| if is_number(&column.kind) { "---:" } else { "---" }.to_owned();
        text.push_str(&line(self.columns.iter().map(rule).collect()));
        for row in &self.rows {
            let cells = self.columns.iter().zip(row).map(|(column, value)| cell(show(&column.kind, value)));
            text.push_str(&line(cells.collect()));
        }
        text
    }
}

/// A value in one cell of a file. What there are several of is separated by semicolons, which none of them has, so that it can be
/// taken apart again.
#[must_use]
pub fn cell_text(kind: &FieldType, value: &Value) -> String {
    match value {
        Value::Array(all) => {
            let one = |value: &Value| show(kind, &Value::from(vec![value.clone()])).replace(';', ",");
            all.iter().map(one).collect::<Vec<_>>().join("; ")
        }
        value => show(kind, value),
    }
}

/// Whether values of this type are figures, which stand at the right.
#[must_use]
pub fn is_number(kind: &FieldType) -> bool {
    matches!(kind, FieldType::Number { .. } | FieldType::Money | FieldType::RolledUp { .. })
}

/// Choices by their label, linked things and all else as they are.
fn readable(kind: &FieldType, value: &Value) -> Value {
    match (kind, value) {
        (FieldType::Choice { .. }, Value::String(_)) => Value::from(show(kind, value)),
        (FieldType::Choices { .. }, Value::Array(all)) => all.iter().map(|one| json!(show(kind, one))).collect(),
        _ => value.clone(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Choice, Collection};
    use crate::formats::table;

    fn sheet() -> Sheet {
        let column = |name: &str, label: &str, kind| Column { name: name.into(), label: label.into(), kind };
        Sheet {
            title: "Ideas".into(),
            columns: vec![
                column("title", "Idea", FieldType::Text),
                column("reach", "Reach", FieldType::Number { unit: None }),
                column("f1", "Size", FieldType::Choice { choices: vec![Choice::new("c1", "Small")] }),
                column("due", "By", FieldType::Date),
                column("f2", "Sure", FieldType::YesNo),
                column(
                    "epics",
                    "Epics",
                    FieldType::Link { to: Collection::WorkItem, many: true, back: None, forward: true },
                ),
            ],
            rows: vec![
                vec![
                    json!("=1+1 | \"quoted\"\nand more"),
                    json!(-12.5),
                    json!("c1"),
                    json!("2026-03-31"),
                    json!(true),
                    json!([{"id": 3, "label": "E3 Early warnings"}]),
                ],
                vec![json!("Ärger"), Value::Null, Value::Null, Value::Null, json!(false), Value::Null],
            ],
        }
    }

    #[test]
    fn csv_is_read_back_and_no_cell_runs() {
        let table = table::read(&sheet().csv().unwrap()).unwrap();
        assert_eq!(table.columns, ["Idea", "Reach", "Size", "By", "Sure", "Epics"]);
        assert_eq!(table.rows[0].cells.get(0), "'=1+1 | \"quoted\"\nand more");
        assert_eq!(
            table.rows[0].cells.iter().skip(1).take(4).collect::<Vec<_>>(),
            ["-12.5", "Small", "2026-03-31", "yes"]
        );
        assert_eq!(table.rows[1].cells.get(0), "Ärger");
    }

    #[test]
    fn what_there_are_several_of_is_taken_apart_again() {
        let kind = FieldType::Link { to: Collection::Person, many: true, back: None, forward: true };
        let links = json!([{ "id": 1, "label": "Lee, Ann" }, { "id": 2, "label": "Bo; or Bob" }]);
        let cell = cell_text(&kind, &links);
        assert_eq!(cell.split("; ").collect::<Vec<_>>(), ["Lee, Ann", "Bo, or Bob"]);
        // Two fields of one label keep their own names.
        let mut twice = sheet();
        twice.columns[4].label = "Size".into();
        assert_eq!(twice.keys(), ["title", "reach", "f1", "due", "f2", "epics"]);
    }

    #[test]
    fn markdown_keeps_a_row_on_its_line() {
        let text = sheet().markdown();
        let lines: Vec<&str> = text.lines().collect();
        assert_eq!(lines[2], "| Idea | Reach | Size | By | Sure | Epics |");
        assert_eq!(lines[3], "| --- | ---: | --- | --- | --- | --- |");
        assert_eq!(lines[4], "| =1+1 \\| \"quoted\" and more | -12.5 | Small | 2026-03-31 | yes | E3 Early warnings |");
    }

    #[test]
    fn json_names_choices_by_their_label() {
        let rows: Value = serde_json::from_slice(&sheet().json().unwrap()).unwrap();
        assert_eq!((&rows[0]["Size"], &rows[0]["Sure"]), (&json!("Small"), &json!(true)));
        assert_eq!(rows[0]["epics"][0]["id"], 3);
        assert_eq!(rows[1]["reach"], Value::Null);
    }
}
