//! Conditions, orders and groups as SQL. Values are bound, never written into the text.

use std::collections::BTreeSet;

use iron_kite_core::fields::{Collection, Condition, FieldDef, FieldRef, FieldType, Order, Shape, Test, TextHow};
use jiff::civil::Date;
use rusqlite::types::Value as Sql;

use super::Of;
use super::exprs::{Expr, Pointed, expr, item_of_words, label, pointed};
use crate::error::{Error, Result};

/// So many threes of letters narrow a search; more of them would not narrow it further.
const MOST_THREES: usize = 24;

/// SQL in the making, with its bound values in order.
#[derive(Debug, Default, Clone)]
pub(crate) struct Text {
    pub(crate) sql: String,
    pub(crate) bound: Vec<Sql>,
}

impl Text {
    pub(crate) fn push(&mut self, sql: &str) {
        self.sql.push_str(sql);
    }

    /// Binds a value and writes its place.
    fn bind(&mut self, value: impl Into<Sql>) {
        self.bound.push(value.into());
        self.sql.push('?');
    }

    pub(super) fn bind_list<T: Into<Sql>>(&mut self, values: impl IntoIterator<Item = T>) {
        self.push("(");
        for (n, value) in values.into_iter().enumerate() {
            if n > 0 {
                self.push(", ");
            }
            self.bind(value);
        }
        self.push(")");
    }
}

/// The field behind a reference.
pub(crate) fn field_of(of: Of<'_>, name: &str) -> Result<FieldDef> {
    let fields = of.catalogue.all_of(of.collection);
    fields
        .into_iter()
        .find(|field| field.name == name)
        .ok_or_else(|| Error::Refused(format!("there is no field '{name}'")))
}

pub(crate) fn expr_of(of: Of<'_>, name: &str) -> Result<Expr> {
    expr(of, &field_of(of, name)?, "t")
}

/// `FROM` and `WHERE` of a collection's rows that fulfil a condition.
pub(crate) fn where_of(of: Of<'_>, condition: &Condition) -> Result<Text> {
    let mut text = Text::default();
    text.push(&format!(" FROM {} t WHERE ", of.collection));
    if of.collection.is_of_product() {
        text.push("t.product_id = ");
        text.bind(of.product.0);
        text.push(" AND ");
    }
    write(of, condition, &mut text)?;
    Ok(text)
}

/// In SQL a test of what is empty is neither true nor false. Only "not" could tell, so it asks whether what it
/// turns round is true; everywhere else an index can serve the plain test.
fn write(of: Of<'_>, condition: &Condition, text: &mut Text) -> Result<()> {
    match condition {
        Condition::All(all) if all.is_empty() => text.push("1"),
        Condition::Any(any) if any.is_empty() => text.push("0"),
        Condition::All(parts) => join(of, parts, " AND ", text)?,
        Condition::Any(parts) => join(of, parts, " OR ", text)?,
        Condition::Not(inner) => {
            text.push("NOT ((");
            write(of, inner, text)?;
            text.push(") IS TRUE)");
        }
        Condition::Test(field, test) => {
            if let Test::Text(how, wanted) = test
                && let Some(Pointed { column, table, what }) = pointed(of.collection, &field.name)
            {
                // Few are pointed to by many, so their texts are looked at first.
                text.push(&format!("t.{column} IN (SELECT n.id FROM {table} n WHERE "));
                write_text(&format!("n.{what}"), *how, wanted, text);
                text.push(")");
                return Ok(());
            }
            if let Test::Text(TextHow::Contains | TextHow::Begins, wanted) = test
                && let Some(column) = item_of_words(of.collection, &field.name)
                && let Some(letters) = letters(wanted)
            {
                text.push(&format!("t.{column} IN (SELECT rowid FROM item_letters WHERE item_letters MATCH "));
                text.bind(letters);
                text.push(") AND ");
            }
            write_test(&expr_of(of, &field.name)?, field, test, text);
        }
    }
    Ok(())
}

/// What the index of letters is asked for texts that contain a folded one: every three letters in a row of it. They may stand apart
/// in what is found. Nothing where it is shorter than three letters.
fn letters(folded: &str) -> Option<String> {
    let all: Vec<char> = folded.chars().collect();
    if all.contains(&'\0') {
        return None;
    }
    let threes: BTreeSet<&[char]> = all.windows(3).collect();
    let quoted = |three: &&[char]| format!("\"{}\"", three.iter().collect::<String>().replace('"', "\"\""));
    let threes: Vec<String> = threes.iter().take(MOST_THREES).map(quoted).collect();
    (!threes.is_empty()).then(|| threes.join(" AND "))
}

fn join(of: Of<'_>, parts: &[Condition], word: &str, text: &mut Text) -> Result<()> {
    text.push("(");
    for (n, part) in parts.iter().enumerate() {
        if n > 0 {
            text.push(word);
        }
        write(of, part, text)?;
    }
    text.push(")");
    Ok(())
}

fn write_test(expr: &Expr, field: &FieldRef, test: &Test, text: &mut Text) {
    match (expr, test) {
        (Expr::Set(set), Test::Empty) => text.push(&format!("NOT EXISTS ({set})")),
        (Expr::Set(set), Test::AnyId(ids)) => {
            text.push("EXISTS (SELECT 1 FROM json_each(");
            text.bind(json(ids));
            text.push(&format!(") j WHERE j.value IN ({set}))"));
        }
        (Expr::Set(set), Test::AllIds(ids)) => {
            text.push(&format!("(EXISTS ({set}) AND NOT EXISTS (SELECT 1 FROM json_each("));
            text.bind(json(ids));
            text.push(&format!(") j WHERE j.value NOT IN ({set})))"));
        }
        (Expr::Column(column), Test::AllIds(ids)) => {
            text.push(&format!("({column} IS NOT NULL AND NOT EXISTS (SELECT 1 FROM json_each("));
            text.bind(json(ids));
            text.push(&format!(") j WHERE j.value <> {column}))"));
        }
        (Expr::Keys(keys), Test::AnyKey(wanted)) => {
            text.push(&format!("EXISTS (SELECT 1 FROM json_each({keys}) k WHERE k.value IN "));
            text.bind_list(wanted.iter().cloned());
            text.push(")");
        }
        (Expr::Keys(keys), Test::AllKeys(wanted)) => {
            text.push(&format!("({keys} IS NOT NULL"));
            for key in wanted {
                text.push(&format!(" AND EXISTS (SELECT 1 FROM json_each({keys}) k WHERE k.value = "));
                text.bind(key.clone());
                text.push(")");
            }
            text.push(")");
        }
        (Expr::One(one) | Expr::Keys(one) | Expr::Column(one), test) => write_one(one, field, test, text),
        // Core gives no other test to a field of links.
        (Expr::Set(_), _) => text.push("0"),
    }
}

fn write_one(one: &str, field: &FieldRef, test: &Test, text: &mut Text) {
    match test {
        Test::Empty if field.shape == Shape::Text => text.push(&format!("({one} IS NULL OR {one} = '')")),
        Test::Empty => text.push(&format!("{one} IS NULL")),
        Test::Text(how, wanted) => write_text(one, *how, wanted, text),
        Test::Exact(wanted) => {
            text.push(&format!("{one} = "));
            text.bind(wanted.clone());
        }
        Test::Number(low, high) => between(one, (">=", *low), ("<=", *high), text),
        Test::Inside(low, high) => between(one, (">", *low), ("<", *high), text),
        Test::Days(from, to) => {
            let (first, last) = match field.shape {
                Shape::Days => (format!("substr({one}, 1, 10)"), format!("substr({one}, 12, 10)")),
                _ => (one.to_owned(), one.to_owned()),
            };
            text.push(&format!("({one} IS NOT NULL"));
            if *to < Date::MAX {
                text.push(&format!(" AND {first} <= "));
                text.bind(to.to_string());
            }
            if *from > Date::MIN {
                text.push(&format!(" AND {last} >= "));
                text.bind(from.to_string());
            }
            text.push(")");
        }
        Test::Yes => text.push(&format!("({one}) = 1")),
        Test::AnyKey(wanted) | Test::AllKeys(wanted) => {
            text.push(&format!("{one} IN "));
            text.bind_list(wanted.iter().cloned());
        }
        Test::AnyId(wanted) | Test::AllIds(wanted) => {
            text.push(&format!("{one} IN "));
            text.bind_list(wanted.iter().copied());
        }
    }
}

fn write_text(one: &str, how: TextHow, folded: &str, text: &mut Text) {
    match how {
        TextHow::Is => text.push(&format!("kite_fold({one}) = ")),
        TextHow::Contains => text.push(&format!("kite_contains({one}, ")),
        TextHow::Begins => text.push(&format!("1 = instr(kite_fold({one}), ")),
    }
    text.bind(folded.to_owned());
    if how != TextHow::Is {
        text.push(")");
    }
}

fn between(one: &str, low: (&str, f64), high: (&str, f64), text: &mut Text) {
    text.push(&format!("({one} IS NOT NULL"));
    for (sign, bound) in [low, high].into_iter().filter(|(_, bound)| bound.abs() < f64::MAX) {
        text.push(&format!(" AND {one} {sign} "));
        text.bind(bound);
    }
    text.push(")");
}

fn json(ids: &[i64]) -> String {
    let ids: Vec<String> = ids.iter().map(i64::to_string).collect();
    format!("[{}]", ids.join(","))
}

/// What comes after `ORDER BY`: what is empty comes last, and within the same by number, the largest first where it goes backwards, so that a page
/// never moves.
pub(crate) fn write_order(of: Of<'_>, order: &[Order], backwards: bool, text: &mut Text) -> Result<()> {
    for by in order {
        if by.field.name == "reference" && of.collection != Collection::WorkItem {
            // Its letter is the same for all, so it goes by the number, of which each has its own.
            text.push(if by.descending { "t.id DESC" } else { "t.id" });
            return Ok(());
        }
        let one = match expr_of(of, &by.field.name)? {
            Expr::One(one) | Expr::Keys(one) => one,
            Expr::Column(column) if !goes_by_title(of, &by.field.name)? => {
                text.push(&column);
                text.push(way(by));
                continue;
            }
            Expr::Column(column) => {
                let title = title_of_linked(of, &by.field.name, &format!("({column})"))?;
                text.push(&format!("{title} COLLATE NOCASE{}{column}{}", way(by), way(by)));
                continue;
            }
            Expr::Set(set) => title_of_linked(of, &by.field.name, &format!("({set})"))?,
        };
        match by.field.shape {
            Shape::Choice => {
                text.push(&format!("CASE {one}"));
                for (n, key) in by.keys.iter().enumerate() {
                    text.push(" WHEN ");
                    text.bind(key.clone());
                    text.push(&format!(" THEN {n}"));
                }
                text.push(&format!(" ELSE CASE WHEN {one} IS NOT NULL THEN {} END END", by.keys.len()));
            }
            Shape::Text | Shape::Days | Shape::Links => text.push(&format!("{one} COLLATE NOCASE")),
            _ => text.push(&one),
        }
        text.push(way(by));
    }
    text.push(if backwards { "t.id DESC" } else { "t.id" });
    Ok(())
}

fn way(by: &Order) -> &'static str {
    if by.descending { " DESC NULLS LAST, " } else { " ASC NULLS LAST, " }
}

/// Whether a link is ordered by the title of what it leads to. What people said has none but its words, and goes by number.
pub(super) fn goes_by_title(of: Of<'_>, name: &str) -> Result<bool> {
    let FieldType::Link { to, .. } = field_of(of, name)?.kind else { return Ok(false) };
    Ok(!matches!(to, Collection::FeedbackItem | Collection::Excerpt))
}

/// The title of the one thing that a field links to.
pub(super) fn title_of_linked(of: Of<'_>, name: &str, ids: &str) -> Result<String> {
    let FieldType::Link { to, .. } = field_of(of, name)?.kind else { return Ok("NULL".into()) };
    let (_, title) = label(to, "u");
    Ok(format!("(SELECT {title} FROM {to} u WHERE u.id IN {ids} LIMIT 1)"))
}
