//! How well the engine that reads tells what people say of the same, on a file of theirs.

use iron_kite_core::formats::table;
use iron_kite_core::listen::{Confusion, FeedbackKind, kind_of, pearson, sentiment_of};
use serde_json::{Value, json};

/// Scores this near to the middle of their scale are neutral.
const NEUTRAL: f64 = 0.05;

/// What was measured: for people, and as one JSON object.
#[derive(Debug)]
pub(crate) struct Measured {
    pub(crate) words: String,
    pub(crate) json: Value,
}

/// The rows of a CSV by two of its headings.
fn pairs(bytes: &[u8], what: &str) -> Result<Vec<(usize, String, String)>, String> {
    let table = table::read(bytes)?;
    let column = |name: &str| {
        let found = table.columns.iter().position(|heading| heading.trim().eq_ignore_ascii_case(name));
        found.ok_or_else(|| format!("there is no column '{name}'; the file has: {}", table.columns.join(", ")))
    };
    let (text, what) = (column("text")?, column(what)?);
    let cell = |cells: &[String], at: usize| cells.get(at).map(|cell| cell.trim().to_owned()).unwrap_or_default();
    let all = table.rows.iter().map(|row| (row.number, cell(&row.cells, text), cell(&row.cells, what)));
    let all: Vec<_> = all.filter(|(_, text, _)| !text.is_empty()).collect();
    if all.is_empty() { Err("the file has no rows with a text".to_owned()) } else { Ok(all) }
}

/// Measures kinds: `text,kind`.
///
/// # Errors
/// In words, where the file is not of this form.
pub(crate) fn kinds(bytes: &[u8]) -> Result<Measured, String> {
    let rows = pairs(bytes, "kind")?;
    let name = |kind: FeedbackKind| json!(kind).as_str().unwrap_or_default().to_owned();
    let mut told = Vec::with_capacity(rows.len());
    for (number, text, right) in rows {
        let right = right.to_lowercase().replace(' ', "_");
        if !FeedbackKind::names().contains(&right.as_str()) {
            let known = FeedbackKind::names().join(", ");
            return Err(format!("row {number}: '{right}' is no kind; these are: {known}"));
        }
        told.push((right, name(kind_of(&text, sentiment_of(&text)))));
    }
    let confusion = Confusion::of(told.iter().map(|(right, told)| (right.as_str(), told.as_str())));
    let (accuracy, macro_f1, n) = (confusion.accuracy(), confusion.macro_f1(), confusion.n());
    let mut by_right = serde_json::Map::new();
    let mut words = format!("{n} texts: accuracy {accuracy:.3}, macro F1 {macro_f1:.3}\nright, and what was told:");
    for right in confusion.classes() {
        let mut row: Vec<(usize, &str)> = confusion
            .classes()
            .into_iter()
            .map(|told| (confusion.count(right, told), told))
            .filter(|(count, _)| *count > 0)
            .collect();
        row.sort_unstable_by(|a, b| b.cmp(a));
        let told: Vec<String> = row.iter().map(|(count, told)| format!("{told} {count}")).collect();
        words = format!("{words}\n  {right}: {}", told.join(", "));
        by_right.insert(right.to_owned(), row.iter().map(|(count, told)| ((*told).to_owned(), json!(count))).collect());
    }
    let json = json!({ "accuracy": accuracy, "macro_f1": macro_f1, "confusion": by_right, "n": n });
    Ok(Measured { words, json })
}

/// Measures sentiment: `text,score`, with scores on any scale around 0; the largest of them is taken for its end.
///
/// # Errors
/// In words, where the file is not of this form.
pub(crate) fn sentiment(bytes: &[u8]) -> Result<Measured, String> {
    let rows = pairs(bytes, "score")?;
    let mut right = Vec::with_capacity(rows.len());
    for (number, _, score) in &rows {
        let score: f64 = score.parse().map_err(|_| format!("row {number}: '{score}' is no number"))?;
        right.push(score);
    }
    let told: Vec<f64> = rows.iter().map(|(_, text, _)| sentiment_of(text)).collect();
    let end = right.iter().fold(0.0_f64, |end, score| end.max(score.abs()));
    let class = |score: f64| match score {
        score if score > NEUTRAL => "for",
        score if score < -NEUTRAL => "against",
        _ => "neutral",
    };
    let scaled = |score: &f64| if end > 0.0 { score / end } else { 0.0 };
    let confusion = Confusion::of(right.iter().zip(&told).map(|(right, told)| (class(scaled(right)), class(*told))));
    let (r, macro_f1, n) = (pearson(&right, &told), confusion.macro_f1(), confusion.n());
    let shown = r.map_or_else(|| "none, as nothing varies".to_owned(), |r| format!("{r:.3}"));
    let words = format!("{n} texts: Pearson r {shown}, macro F1 of against, neutral and for {macro_f1:.3}");
    Ok(Measured { words, json: json!({ "pearson": r, "macro_f1": macro_f1, "n": n }) })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn kinds_are_measured_on_our_own_set() {
        let measured = kinds(include_bytes!("../../../evaluation/kinds.csv")).unwrap();
        assert_eq!(measured.json["n"], 84);
        // Seven kinds in equal numbers: by chance one in seven is right.
        assert!(measured.json["macro_f1"].as_f64().unwrap() > 0.3, "{}", measured.words);
    }

    #[test]
    fn sentiment_is_measured_on_any_scale() {
        let file = "text,score\nI love it\u{2c} it is wonderful,4\nA terrible and awful mess,-3.5\nThe box is on the table,0\n";
        let measured = sentiment(file.replace("it\u{2c} it", "it. It").as_bytes()).unwrap();
        assert_eq!(measured.json["n"], 3);
        assert!(measured.json["pearson"].as_f64().unwrap() > 0.8, "{}", measured.words);
    }

    #[test]
    fn what_is_wrong_with_a_file_is_said() {
        assert!(kinds(b"text,label\na,b\n").unwrap_err().contains("no column 'kind'"));
        assert!(kinds(b"text,kind\nThe boat,ship\n").unwrap_err().contains("'ship' is no kind"));
        assert!(sentiment(b"text,score\nThe boat,much\n").unwrap_err().contains("row 2"));
        assert!(sentiment(b"text,score\n,1\n").unwrap_err().contains("no rows"));
    }
}
