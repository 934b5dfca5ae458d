//! A sheet as an XLSX workbook (ECMA-376) with one worksheet: numbers as numbers, days as days, the headings frozen.

use iron_kite_core::fields::FieldType;
use iron_kite_core::formats::sheet::{Column, Sheet, cell_text, is_number};
use jiff::civil::Date;
use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, Worksheet, XlsxError};
use serde_json::Value;

/// Writes the workbook. `today` is the day that it says it was made on.
///
/// # Errors
/// In words, where there are more rows than a worksheet takes (1,048,576).
pub fn write(sheet: &Sheet, today: Date) -> Result<Vec<u8>, String> {
    workbook(sheet, today).map_err(|fault| format!("The workbook could not be written: {fault}."))
}

fn workbook(sheet: &Sheet, today: Date) -> Result<Vec<u8>, XlsxError> {
    let mut workbook = Workbook::new();
    let made = excel_day(today)?;
    workbook.set_properties(&DocProperties::new().set_title(&sheet.title).set_creation_datetime(&made));
    let page = workbook.add_worksheet();
    let bold = Format::new().set_bold();
    let day = Format::new().set_num_format("yyyy-mm-dd");
    for (n, column) in sheet.columns.iter().enumerate() {
        let at = u16::try_from(n).unwrap_or(u16::MAX);
        page.write_with_format(0, at, &column.label, &bold)?;
        page.set_column_width(at, if is_number(&column.kind) { 12 } else { 24 })?;
    }
    page.set_freeze_panes(1, 0)?;
    for (n, row) in sheet.rows.iter().enumerate() {
        let line = u32::try_from(n + 1).unwrap_or(u32::MAX);
        for (at, (column, value)) in sheet.columns.iter().zip(row).enumerate() {
            write_cell(page, (line, u16::try_from(at).unwrap_or(u16::MAX)), column, value, &day)?;
        }
    }
    workbook.save_to_buffer()
}

fn write_cell(
    sheet: &mut Worksheet,
    (line, at): (u32, u16),
    column: &Column,
    value: &Value,
    day: &Format,
) -> Result<(), XlsxError> {
    match (&column.kind, value) {
        (_, Value::Null) => {}
        (FieldType::YesNo, value) => {
            sheet.write(line, at, value.as_bool() == Some(true) || value.as_i64() == Some(1))?;
        }
        (kind, Value::Number(number)) if is_number(kind) => {
            sheet.write(line, at, number.as_f64().unwrap_or_default())?;
        }
        (FieldType::Date, Value::String(text)) => match text.parse().ok().map(excel_day) {
            Some(Ok(date)) => {
                sheet.write_with_format(line, at, &date, day)?;
            }
            // Before 1900 there are no days in a worksheet.
            _ => {
                sheet.write(line, at, text)?;
            }
        },
        (kind, value) => {
            sheet.write(line, at, fitting(cell_text(kind, value)))?;
        }
    }
    Ok(())
}

/// The most characters that a cell of a worksheet holds.
const MOST: usize = 32_767;
/// What stands at the end of a longer text.
const CUT: &str = " … (cut: a cell holds no more; CSV and JSON have all of it)";

fn fitting(text: String) -> String {
    if text.chars().nth(MOST).is_none() {
        return text;
    }
    text.chars().take(MOST - CUT.chars().count()).chain(CUT.chars()).collect()
}

fn excel_day(day: Date) -> Result<ExcelDateTime, XlsxError> {
    let part = |number: i8| u8::try_from(number).unwrap_or_default();
    ExcelDateTime::from_ymd(u16::try_from(day.year()).unwrap_or_default(), part(day.month()), part(day.day()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use calamine::{Data, Reader, Xlsx};
    use jiff::civil::date;
    use serde_json::json;

    fn sheet() -> Sheet {
        let column = |label: &str, kind| Column { name: "x".into(), label: label.into(), kind };
        Sheet {
            title: "Ideas".into(),
            columns: vec![
                column("Idea", FieldType::Text),
                column("Reach", FieldType::Number { unit: None }),
                column("By", FieldType::Date),
                column("Sure", FieldType::YesNo),
            ],
            rows: vec![
                vec![json!("=1+1\nand more"), json!(-12.5), json!("2026-03-31"), json!(true)],
                vec![json!("Ärger, \"laut\""), json!(48_000), json!("2028-02-29"), json!(false)],
            ],
        }
    }

    /// What LibreOffice 7.4 (headless, as CSV with its own number formats) reads in `ideas.xlsx`, which was written
    /// here, stands beside that file. What is written today is the same as in that file.
    #[test]
    fn libreoffice_read_the_workbook_that_is_written_today() {
        let cells = |bytes: &[u8]| {
            let mut book: Xlsx<_> = calamine::open_workbook_from_rs(std::io::Cursor::new(bytes.to_vec())).unwrap();
            let range = book.worksheet_range_at(0).unwrap().unwrap();
            range.rows().map(<[Data]>::to_vec).collect::<Vec<_>>()
        };
        let stored = include_bytes!("../../tests/data/ideas.xlsx");
        assert_eq!(cells(&write(&sheet(), date(2026, 2, 18)).unwrap()), cells(stored));
        let read = iron_kite_core::formats::table::read(include_bytes!("../../tests/data/ideas.csv")).unwrap();
        assert_eq!(read.columns, ["Idea", "Reach", "By", "Sure"]);
        let rows: Vec<_> =
            read.rows.iter().map(|row| row.cells.iter().map(str::to_owned).collect::<Vec<_>>()).collect();
        assert_eq!(rows[0], ["=1+1\nand more", "-12.5", "2026-03-31", "TRUE"]);
        assert_eq!(rows[1], ["Ärger, \"laut\"", "48000", "2028-02-29", "FALSE"]);
    }

    #[test]
    fn a_text_that_is_cut_says_so() {
        let long = "ä".repeat(MOST + 1);
        assert_eq!(fitting(long.clone()).chars().count(), MOST);
        assert!(fitting(long.clone()).ends_with("have all of it)"));
        let whole: String = long.chars().take(MOST).collect();
        assert_eq!(fitting(whole.clone()), whole);
    }

    #[test]
    fn another_program_reads_the_workbook() {
        let bytes = write(&sheet(), date(2026, 2, 18)).unwrap();
        let mut book: Xlsx<_> = calamine::open_workbook_from_rs(std::io::Cursor::new(bytes)).unwrap();
        let range = book.worksheet_range_at(0).unwrap().unwrap();
        assert_eq!(range.get((0, 1)), Some(&Data::String("Reach".into())));
        // Text stays text: what looks like a formula is none.
        assert_eq!(range.get((1, 0)), Some(&Data::String("=1+1\nand more".into())));
        assert_eq!(range.get((1, 1)), Some(&Data::Float(-12.5)));
        // 2026-03-31 is day 46112 of the 1900 system.
        assert!(matches!(range.get((1, 2)), Some(Data::DateTime(day)) if (day.as_f64() - 46_112.0).abs() < 1e-9));
        assert_eq!(range.get((1, 3)), Some(&Data::Bool(true)));
    }
}
