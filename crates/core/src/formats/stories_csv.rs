//! Stories as a table (RFC 4180).

use super::sheet::harmless;
use crate::specify::{Criterion, WorkItem};

/// One story with what belongs to it.
#[derive(Debug, Clone)]
pub struct StoryRow<'a> {
    /// The story.
    pub story: &'a WorkItem,
    /// Its epic's reference and title.
    pub epic: Option<String>,
    /// Its release's title.
    pub release: Option<String>,
    /// Its team's name.
    pub team: Option<String>,
    /// Its acceptance criteria.
    pub criteria: Vec<&'a Criterion>,
    /// The references of the stories that it depends on.
    pub depends_on: Vec<String>,
}

const HEADINGS: [&str; 14] = [
    "reference",
    "title",
    "epic",
    "as a",
    "i want",
    "so that",
    "acceptance criteria",
    "points",
    "moscow",
    "state",
    "release",
    "team",
    "depends on",
    "note",
];

/// Writes stories as CSV with headings, one row each, criteria on lines of their own in one cell.
///
/// No cell runs in a spreadsheet: see [`harmless`].
///
/// # Errors
/// In words; writing to memory does not fail in practice.
pub fn write(rows: &[StoryRow<'_>]) -> Result<String, String> {
    let mut writer = csv::Writer::from_writer(Vec::new());
    let fault = |fault: csv::Error| fault.to_string();
    writer.write_record(HEADINGS).map_err(fault)?;
    for row in rows {
        let story = row.story;
        let text = |text: &Option<String>| text.clone().unwrap_or_default();
        let moscow =
            story.moscow.and_then(|m| serde_json::to_value(m).ok()).and_then(|v| v.as_str().map(str::to_owned));
        let criteria: Vec<&str> = row.criteria.iter().map(|c| c.words.as_str()).collect();
        let cells = [
            story.reference(),
            story.title.clone(),
            text(&row.epic),
            text(&story.as_a),
            text(&story.i_want),
            text(&story.so_that),
            criteria.join("\n"),
            story.points.map(|points| points.to_string()).unwrap_or_default(),
            text(&moscow),
            story.state.words(),
            text(&row.release),
            text(&row.team),
            row.depends_on.join(" "),
            text(&story.note),
        ];
        writer.write_record(cells.map(harmless)).map_err(fault)?;
    }
    let bytes = writer.into_inner().map_err(|fault| fault.to_string())?;
    String::from_utf8(bytes).map_err(|fault| fault.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::table;
    use crate::specify::tests_support::story;

    #[test]
    fn what_is_written_is_read_back_and_no_cell_runs() {
        let mut one = story(14);
        one.title = "=SUM(A1), \"quoted\"\nand more".into();
        one.points = Some(3.0);
        let rows = [StoryRow {
            story: &one,
            epic: None,
            release: None,
            team: None,
            criteria: vec![],
            depends_on: vec!["S3".into()],
        }];
        let table = table::read(write(&rows).unwrap().as_bytes()).unwrap();
        assert_eq!(table.columns, HEADINGS);
        assert_eq!(table.rows[0].cells.get(1), "'=SUM(A1), \"quoted\"\nand more");
        assert_eq!(table.rows[0].cells.get(7), "3");
        assert_eq!(table.rows[0].cells.get(12), "S3");
    }
}
