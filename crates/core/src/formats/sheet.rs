//! What a view shows, as a file: CSV (RFC 4180), JSON and Markdown. The XLSX of it is written by
//! the use cases: the library for it asks the machine for chance, which core does without.

use serde_json::{Map, Value, json};

use crate::fields::{FieldType, show};

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
            let cells = self.columns.iter().zip(row).map(|(column, value)| harmless(show(&column.kind, value)));
            writer.write_record(cells).map_err(fault)?;
        }
        writer.into_inner().map_err(|fault| fault.to_string())
    }

    /// As JSON: one object a row, by the names of the fields, choices by their label.
    ///
    /// # Errors
    /// In words; writing to memory does not fail in practice.
    pub fn json(&self) -> Result<Vec<u8>, String> {
        let rows: Vec<Value> = self
            .rows
            .iter()
            .map(|row| {
                let cells = self.columns.iter().zip(row);
                let object: Map<String, Value> =
                    cells.map(|(column, value)| (column.name.clone(), readable(&column.kind, value))).collect();
                Value::Object(object)
            })
            .collect();
        serde_json::to_vec_pretty(&rows).map_err(|fault| fault.to_string())
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
        assert_eq!(rows[0]["f1"], "Small");
        assert_eq!(rows[0]["epics"][0]["id"], 3);
        assert_eq!(rows[1]["reach"], Value::Null);
    }
}
