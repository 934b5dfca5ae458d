//! Rows by what many of them share, such as their state or their study: how many share each is counted, from an index alone
//! where there is one, and only the rows of the page are looked at. To sort all of them would take several times as long.
//! People and accounts are too many to count what is of each; they stand in the order of their names in an index, along which
//! one goes as far as the page.

use std::cmp::Ordering;

use iron_kite_core::fields::{Collection, Condition, FieldType, Order, Shape};
use rusqlite::params_from_iter;
use rusqlite::types::Value as Sql;

use super::Of;
use super::compile::{Text, expr_of, field_of, goes_by_title, title_of_linked, where_of, write_order};
use super::exprs::{Expr, Pointed, pointed};
use super::page::Slice;
use crate::error::Result;
use crate::rows::Rows;

/// Where a run stands among the others.
#[derive(Debug, Clone, PartialEq)]
enum Place {
    Rank(usize),
    /// By title; of the same title, those that are linked by their numbers.
    Title(String, i64),
    /// What is empty comes last, whichever way round.
    Last,
}

impl Place {
    fn cmp(&self, other: &Place, descending: bool) -> Ordering {
        let order = match (self, other) {
            (Place::Rank(one), Place::Rank(other)) => one.cmp(other),
            (Place::Title(one, id), Place::Title(other, other_id)) => (one, id).cmp(&(other, other_id)),
            (one, other) => return (*one == Place::Last).cmp(&(*other == Place::Last)),
        };
        if descending { order.reverse() } else { order }
    }
}

/// Rows that stand at the same place.
struct Run {
    place: Place,
    keys: Vec<Sql>,
    count: usize,
}

/// ` AND` that rows have one of these keys; nothing is a key, too.
fn write_keys(key: &str, keys: Vec<Sql>, text: &mut Text) {
    let (nothing, some): (Vec<Sql>, Vec<Sql>) = keys.into_iter().partition(|key| *key == Sql::Null);
    match (nothing.is_empty(), some.is_empty()) {
        (false, true) => return text.push(&format!(" AND {key} IS NULL")),
        (false, false) => text.push(&format!(" AND ({key} IS NULL OR {key} IN ")),
        (true, _) => text.push(&format!(" AND ({key} IN ")),
    }
    text.bind_list(some);
    text.push(")");
}

/// What the rows are told apart by, and its title where that is what they are ordered by.
struct Key {
    key: String,
    title: Option<String>,
}

fn key_of(of: Of<'_>, by: &Order) -> Result<Option<Key>> {
    if let Some(Pointed { column, table, what }) = pointed(of.collection, &by.field.name) {
        let key = format!("t.{column}");
        let title = format!("(SELECT u.{what} FROM {table} u WHERE u.id = {key})");
        return Ok(Some(Key { key, title: Some(title) }));
    }
    Ok(match (expr_of(of, &by.field.name)?, by.field.shape) {
        (Expr::One(key), Shape::Choice) => Some(Key { key, title: None }),
        (Expr::Column(key), _) if goes_by_title(of, &by.field.name)? => {
            let title = title_of_linked(of, &by.field.name, &format!("({key})"))?;
            Some(Key { key, title: Some(title) })
        }
        _ => None,
    })
}

/// A link to things that stand in the order of their names in an index.
struct Named {
    column: String,
    to: Collection,
}

fn named(of: Of<'_>, by: &Order) -> Result<Option<Named>> {
    let FieldType::Link { to: to @ (Collection::Person | Collection::Account), .. } =
        field_of(of, &by.field.name)?.kind
    else {
        return Ok(None);
    };
    let Expr::Column(column) = expr_of(of, &by.field.name)? else { return Ok(None) };
    Ok(Some(Named { column, to }))
}

impl Rows<'_> {
    /// The numbers of a collection's rows in an order that begins with what many of them share; nothing where it begins with
    /// something else.
    pub(super) fn ids_by_runs(&self, of: Of<'_>, order: &[Order], slice: Slice) -> Result<Option<Vec<i64>>> {
        let Some((by, rest)) = order.split_first() else { return Ok(None) };
        if let Some(named) = named(of, by)? {
            return self.ids_by_names(of, (by, rest), &named, slice).map(Some);
        }
        let Some(key) = key_of(of, by)? else { return Ok(None) };
        let mut ids = Vec::new();
        let mut skip = slice.skip;
        for run in self.runs_of(of, by, &key)? {
            let left = slice.limit - ids.len();
            if left == 0 {
                break;
            }
            if skip >= run.count {
                skip -= run.count;
                continue;
            }
            let mut text = where_of(of, &Condition::All(Vec::new()))?;
            write_keys(&key.key, run.keys, &mut text);
            text.push(" ORDER BY ");
            write_order(of, rest, by.descending, &mut text)?;
            let sql = format!("SELECT t.id{} LIMIT {left} OFFSET {skip}", text.sql);
            let mut statement = self.connection.prepare_cached(&sql)?;
            let found = statement.query_map(params_from_iter(text.bound), |row| row.get(0))?;
            ids.extend(found.collect::<rusqlite::Result<Vec<i64>>>()?);
            skip = 0;
        }
        Ok(Some(ids))
    }

    /// The numbers of rows by the names of what they link to, and then of those that link to nothing.
    fn ids_by_names(&self, of: Of<'_>, order: (&Order, &[Order]), named: &Named, slice: Slice) -> Result<Vec<i64>> {
        let (by, rest) = order;
        let Named { column, to } = named;
        let all = where_of(of, &Condition::All(Vec::new()))?;
        let ids = |mut text: Text, slice: Slice| -> Result<Vec<i64>> {
            write_order(of, rest, by.descending, &mut text)?;
            let sql = format!("{} LIMIT {} OFFSET {}", text.sql, slice.limit, slice.skip);
            let mut statement = self.connection.prepare_cached(&sql)?;
            let ids = statement.query_map(params_from_iter(text.bound), |row| row.get(0))?;
            Ok(ids.collect::<rusqlite::Result<_>>()?)
        };
        let way = if by.descending { " DESC" } else { "" };
        // What stands outside decides the order, so it is told to go first.
        let from = all.sql.replacen(" FROM ", &format!(" FROM {to} u CROSS JOIN "), 1);
        let first = format!("SELECT t.id{from} AND {column} = u.id ORDER BY u.name COLLATE NOCASE{way}, u.id{way}, ");
        let first = Text { sql: first, bound: all.bound.clone() };
        if slice.skip == 0 {
            let found = ids(first.clone(), slice)?;
            if found.len() == slice.limit {
                return Ok(found);
            }
        }
        // To count those that link to something costs less than to pass over them.
        let filled = format!("SELECT count(*){} AND {column} IS NOT NULL", all.sql);
        let mut statement = self.connection.prepare_cached(&filled)?;
        let filled: i64 = statement.query_row(params_from_iter(all.bound.clone()), |row| row.get(0))?;
        let filled = usize::try_from(filled).unwrap_or_default();
        let mut found = if slice.skip < filled { ids(first, slice)? } else { Vec::new() };
        if found.len() < slice.limit {
            let skip = slice.skip.saturating_sub(filled);
            let nothing = format!("SELECT t.id{} AND {column} IS NULL ORDER BY ", all.sql);
            found.extend(ids(
                Text { sql: nothing, bound: all.bound },
                Slice { skip, limit: slice.limit - found.len() },
            )?);
        }
        Ok(found)
    }

    /// All runs in their order.
    fn runs_of(&self, of: Of<'_>, by: &Order, key: &Key) -> Result<Vec<Run>> {
        let Text { sql, bound } = where_of(of, &Condition::All(Vec::new()))?;
        let title = key.title.as_deref().unwrap_or("NULL");
        let sql = format!("SELECT {}, count(*), {title}{sql} GROUP BY 1", key.key);
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query(params_from_iter(bound))?;
        let mut runs: Vec<Run> = Vec::new();
        while let Some(row) = rows.next()? {
            let own: Sql = row.get(0)?;
            let place = match (&own, row.get::<_, Option<String>>(2)?) {
                (Sql::Null, _) => Place::Last,
                (Sql::Text(own), _) if by.field.shape == Shape::Choice => {
                    Place::Rank(by.keys.iter().position(|key| key == own).unwrap_or(by.keys.len()))
                }
                // As the database compares without regard to case: by ASCII letters.
                (Sql::Integer(id), Some(title)) if by.field.shape == Shape::Links => {
                    Place::Title(title.to_ascii_lowercase(), *id)
                }
                (_, Some(title)) => Place::Title(title.to_ascii_lowercase(), 0),
                (_, None) => Place::Last,
            };
            runs.push(Run {
                place,
                keys: vec![own],
                count: usize::try_from(row.get::<_, i64>(1)?).unwrap_or_default(),
            });
        }
        runs.sort_by(|one, other| one.place.cmp(&other.place, by.descending));
        runs.dedup_by(|next, run| {
            let same = run.place == next.place;
            if same {
                run.keys.append(&mut next.keys);
                run.count += next.count;
            }
            same
        });
        Ok(runs)
    }
}
