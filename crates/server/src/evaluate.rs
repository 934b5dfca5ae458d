//! How well the engine that reads tells what people say of the same, on a file of theirs.

use iron_kite_core::formats::table::{self, Row};
use iron_kite_core::listen::{
    Confusion, Decided, FeedbackKind, Member, Strictness, ari, group, kind_of, nearest_agree, nmi, pearson,
    sentiment_of, side_of,
};
use iron_kite_core::text::{Heard, Meaning};
use serde_json::{Value, json};

/// What was measured: for people, and as one JSON object.
#[derive(Debug)]
pub(crate) struct Measured {
    pub(crate) words: String,
    pub(crate) json: Value,
}

/// A row of a file: its number, its text, and what people say of it.
type Labelled = (usize, String, String);

/// The rows of a CSV by two of its headings.
fn pairs(bytes: &[u8], what: &str) -> Result<Vec<Labelled>, String> {
    let table = table::read(bytes)?;
    let column = |name: &str| {
        let found = table.columns.iter().position(|heading| heading.trim().eq_ignore_ascii_case(name));
        found.ok_or_else(|| format!("there is no column '{name}'; the file has: {}", table.columns.join(", ")))
    };
    let (text, what) = (column("text")?, column(what)?);
    let cell = |row: &Row, at: usize| row.cells.get(at).trim().to_owned();
    let all = table.rows.iter().map(|row| (row.number, cell(row, text), cell(row, what)));
    let all: Vec<_> = all.filter(|(_, text, _)| !text.is_empty()).collect();
    if all.is_empty() { Err("the file has no rows with a text".to_owned()) } else { Ok(all) }
}

fn texts(rows: &[Labelled]) -> Vec<&str> {
    rows.iter().map(|(_, text, _)| text.as_str()).collect()
}

fn heard(rows: &[Labelled], meaning: &dyn Meaning) -> Result<Vec<Heard>, String> {
    meaning.heard(&texts(rows)).map_err(|fault| fault.to_string())
}

/// Measures kinds: `text,kind`.
///
/// # Errors
/// In words, where the file is not of this form.
pub(crate) fn kinds(bytes: &[u8], meaning: &dyn Meaning) -> Result<Measured, String> {
    let rows = pairs(bytes, "kind")?;
    let right = |(number, _, right): &Labelled| {
        let name = right.to_lowercase().replace(' ', "_");
        let known = FeedbackKind::names().join(", ");
        let unknown = || format!("row {number}: '{name}' is no kind; these are: {known}");
        FeedbackKind::named(&name).map(FeedbackKind::name).ok_or_else(unknown)
    };
    let right = rows.iter().map(right).collect::<Result<Vec<&str>, String>>()?;
    let heard = heard(&rows, meaning)?;
    let told = rows.iter().zip(&heard).map(|((_, text, _), heard)| kind_of(text, Some(&heard.meaning)).kind.name());
    Ok(confused(&Confusion::of(right.into_iter().zip(told))))
}

fn confused(confusion: &Confusion) -> Measured {
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
    Measured { words, json }
}

/// Measures sentiment: `text,score`, with scores on any scale around 0; the largest of them is taken for its end.
///
/// # Errors
/// In words, where the file is not of this form.
pub(crate) fn sentiment(bytes: &[u8], meaning: &dyn Meaning) -> Result<Measured, String> {
    let rows = pairs(bytes, "score")?;
    let mut right = Vec::with_capacity(rows.len());
    for (number, _, score) in &rows {
        let score: f64 = score.parse().map_err(|_| format!("row {number}: '{score}' is no number"))?;
        right.push(score);
    }
    let heard = heard(&rows, meaning)?;
    let told = rows.iter().zip(&heard).map(|((_, text, _), heard)| sentiment_of(text, Some(heard)));
    let told: Vec<f64> = told.collect();
    let end = right.iter().fold(0.0_f64, |end, score| end.max(score.abs()));
    let scaled = |score: &f64| if end > 0.0 { score / end } else { 0.0 };
    let confusion =
        Confusion::of(right.iter().zip(&told).map(|(right, told)| (side_of(scaled(right)), side_of(*told))));
    let (r, macro_f1, n) = (pearson(&right, &told), confusion.macro_f1(), confusion.n());
    let shown = r.map_or_else(|| "none, as nothing varies".to_owned(), |r| format!("{r:.3}"));
    let words = format!("{n} texts: Pearson r {shown}, macro F1 of against, neutral and for {macro_f1:.3}");
    Ok(Measured { words, json: json!({ "pearson": r, "macro_f1": macro_f1, "n": n }) })
}

/// Measures grouping: `text,label`, where texts with the same label belong together. What is like no other text is a group
/// of its own.
///
/// # Errors
/// In words, where the file is not of this form.
pub(crate) fn grouping(bytes: &[u8], meaning: &dyn Meaning) -> Result<Measured, String> {
    let rows = pairs(bytes, "label")?;
    let mut names: Vec<&str> = rows.iter().map(|(_, _, label)| label.as_str()).collect();
    names.sort_unstable();
    names.dedup();
    let labels = rows.iter().map(|(_, _, label)| names.iter().position(|name| name == label).unwrap_or_default());
    let labels: Vec<usize> = labels.collect();
    let closer = meaning.closer(&texts(&rows)).map_err(|fault| fault.to_string())?;
    let members = rows.iter().zip(heard(&rows, meaning)?).zip(closer).map(|(((_, text, _), heard), closer)| {
        let kinds = kind_of(text, Some(&heard.meaning)).likely;
        Member::new(&closer, kinds)
    });
    let members: Vec<Member> = members.collect();
    let told = group(&members, &Decided::default(), Strictness::Even);
    let groups = told.iter().max().map_or(0, |most| most + 1);
    let (nmi, ari) = (nmi(&labels, &told).unwrap_or_default(), ari(&labels, &told).unwrap_or_default());
    let (agree, n) = (nearest_agree(&members, &labels), rows.len());
    let shown = agree.map_or_else(|| "none".to_owned(), |agree| format!("{agree:.3}"));
    let words = format!(
        "{n} texts in {} groups, told {groups}: NMI {nmi:.3}, ARI {ari:.3}, nearest neighbour in the same group {shown}",
        names.len()
    );
    Ok(Measured {
        words,
        json: json!({ "nmi": nmi, "ari": ari, "nearest_neighbour": agree, "groups": groups, "n": n }),
    })
}

#[cfg(test)]
mod tests {
    use std::sync::LazyLock;

    use iron_kite_meaning::Models;

    use super::*;

    static MODEL: LazyLock<Models> = LazyLock::new(|| Models::on(2));

    /// What must hold lies below what `docs/methods` reports, so that a small change of a library does not fail, and a
    /// broken engine does.
    fn least(measured: &Measured, wanted: &[(&str, f64)]) {
        for (name, least) in wanted {
            assert!(measured.json[name].as_f64().unwrap() >= *least, "{name}: {}", measured.words);
        }
    }

    #[test]
    fn kinds_of_subjects_never_seen_are_told() {
        let measured = kinds(include_bytes!("../../../evaluation/kinds.csv"), &*MODEL).unwrap();
        assert_eq!(measured.json["n"], 229);
        least(&measured, &[("macro_f1", 0.82), ("accuracy", 0.82)]);
    }

    #[test]
    fn what_means_the_same_is_grouped() {
        let measured = grouping(include_bytes!("../../../evaluation/groups.csv"), &*MODEL).unwrap();
        assert_eq!(measured.json["n"], 100);
        least(&measured, &[("nmi", 0.79), ("ari", 0.46), ("nearest_neighbour", 0.62)]);
    }

    #[test]
    fn sentiment_is_measured_on_any_scale() {
        let file = "text,score\nI love it\u{2c} it is wonderful,4\nA terrible and awful mess,-3.5\nThe box is on the table,0\n";
        let measured = sentiment(file.replace("it\u{2c} it", "it. It").as_bytes(), &*MODEL).unwrap();
        assert_eq!(measured.json["n"], 3);
        least(&measured, &[("pearson", 0.8)]);
    }

    #[test]
    fn what_is_wrong_with_a_file_is_said() {
        let model: &dyn Meaning = &*MODEL;
        assert!(kinds(b"text,label\na,b\n", model).unwrap_err().contains("no column 'kind'"));
        assert!(kinds(b"text,kind\nThe boat,ship\n", model).unwrap_err().contains("'ship' is no kind"));
        assert!(sentiment(b"text,score\nThe boat,much\n", model).unwrap_err().contains("row 2"));
        assert!(sentiment(b"text,score\n,1\n", model).unwrap_err().contains("no rows"));
        assert!(grouping(b"text,kind\na,b\n", model).unwrap_err().contains("no column 'label'"));
    }
}
