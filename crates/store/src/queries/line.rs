//! Links, and the lists that several stages share.

use iron_kite_core::decide::Decision;
use iron_kite_core::kind::WayToProduct;
use iron_kite_core::listen::WhoSaid;
use iron_kite_core::specify::{Criterion, WorkItem};
use iron_kite_core::things::{
    AccountId, ExcerptId, FindingId, IdeaId, ItemId, PersonId, ProductId, Thing, ThingKind, WorkItemId,
};
use iron_kite_core::trace::{Link, LinkKind};
use rusqlite::{OptionalExtension, params};
use serde_json::{Map, Value};

use crate::error::Result;
use crate::rows::{Record, Rows};
use crate::writer::Tx;

/// The product of a thing of a kind as SQL, by an expression for its number; nothing where it belongs to none, or to that of
/// another thing of any kind.
pub(crate) fn product_sql(kind: ThingKind, id: &str) -> Option<String> {
    let column = |name: &str| format!("(SELECT x.{name} FROM {kind} x WHERE x.id = {id})");
    match kind.description().product {
        WayToProduct::Itself => Some(id.to_owned()),
        WayToProduct::Column => Some(column("product_id")),
        WayToProduct::Through(name) => {
            kind.description().relation(name).and_then(|relation| product_sql(relation.to, &column(name)))
        }
        WayToProduct::Of { .. } | WayToProduct::Workspace => None,
    }
}

impl Rows<'_> {
    /// The things of a kind that belong to a product, by their numbers.
    ///
    /// # Errors
    /// Where the kind has no product.
    pub fn all_of<R: Record>(&self, product: ProductId) -> Result<Vec<R>> {
        self.list("WHERE product_id = ?1 ORDER BY id", [product.0])
    }

    /// The things of a kind that belong to an idea, by their numbers.
    ///
    /// # Errors
    /// Where the kind belongs to no idea.
    pub fn of_idea<R: Record>(&self, idea: IdeaId) -> Result<Vec<R>> {
        self.list("WHERE idea_id = ?1 ORDER BY id", [idea.0])
    }

    /// The link between two things, if there is one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn link(&self, kind: LinkKind, from: Thing, to: Thing) -> Result<Option<i64>> {
        let sql =
            "SELECT id FROM link WHERE from_kind = ?1 AND from_id = ?2 AND kind = ?3 AND to_kind = ?4 AND to_id = ?5";
        let params = params![from.kind.name(), from.id, kind.name(), to.kind.name(), to.id];
        Ok(self.connection.prepare_cached(sql)?.query_row(params, |row| row.get(0)).optional()?)
    }

    /// The links of a kind between a thing and those of another kind, from either side: the link's number, and that
    /// of the other thing.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn links_of(&self, kind: LinkKind, thing: Thing, forward: bool, other: ThingKind) -> Result<Vec<(i64, i64)>> {
        let (here, there) = if forward { ("from", "to") } else { ("to", "from") };
        let sql = format!(
            "SELECT id, {there}_id FROM link
             WHERE {here}_kind = ?1 AND {here}_id = ?2 AND kind = ?3 AND {there}_kind = ?4 ORDER BY {there}_id"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let params = params![thing.kind.name(), thing.id, kind.name(), other.name()];
        let rows = statement.query_map(params, |row| Ok((row.get(0)?, row.get(1)?)))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The product that a thing belongs to; nothing where it belongs to the whole workspace.
    ///
    /// # Errors
    /// [`Error::NotFound`](crate::Error::NotFound) where it is not there.
    pub fn product_of(&self, thing: Thing) -> Result<Option<i64>> {
        let way = thing.kind.description().product;
        if way == WayToProduct::Itself {
            return Ok(Some(thing.id));
        }
        let row = self.json(thing)?;
        let other = match way {
            WayToProduct::Column => return Ok(row["product_id"].as_i64()),
            WayToProduct::Through(column) => {
                let to = thing.kind.description().relation(column).map(|relation| relation.to);
                to.zip(row[column].as_i64())
            }
            WayToProduct::Of { kind, id } => {
                row[kind].as_str().and_then(|name| name.parse().ok()).zip(row[id].as_i64())
            }
            WayToProduct::Itself | WayToProduct::Workspace => None,
        };
        other.map_or(Ok(None), |(kind, id)| self.product_of(Thing::new(kind, id)))
    }

    /// All links of a kind between two kinds of things.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn links(&self, kind: LinkKind, from: ThingKind, to: ThingKind) -> Result<Vec<Link>> {
        self.list(
            "WHERE kind = ?1 AND from_kind = ?2 AND to_kind = ?3 ORDER BY id",
            params![kind.name(), from.name(), to.name()],
        )
    }

    /// All dependencies as (needed, dependent).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn needs(&self) -> Result<Vec<(WorkItemId, WorkItemId)>> {
        let links = self.links(LinkKind::NeededBy, ThingKind::WorkItem, ThingKind::WorkItem)?;
        Ok(links.into_iter().map(|link| (WorkItemId(link.from_id), WorkItemId(link.to_id))).collect())
    }

    /// Epics and stories of a product in their order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn work_items(&self, product: ProductId) -> Result<Vec<WorkItem>> {
        self.list("WHERE product_id = ?1 ORDER BY position, id", [product.0])
    }

    /// The acceptance criteria of a product's stories in their order.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn criteria(&self, product: ProductId) -> Result<Vec<Criterion>> {
        self.list(
            "WHERE story_id IN (SELECT id FROM work_item WHERE product_id = ?1) ORDER BY story_id, position, id",
            [product.0],
        )
    }

    /// The decisions about a product's ideas, oldest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn decisions(&self, product: ProductId) -> Result<Vec<Decision>> {
        self.list("WHERE idea_id IN (SELECT id FROM idea WHERE product_id = ?1) ORDER BY id", [product.0])
    }

    /// Who stands behind each idea of a product, or each of some of them, through its findings or quoted for itself: (idea, voice).
    ///
    /// # Errors
    /// Where the store fails.
    pub fn idea_voices(&self, product: ProductId, only: Option<&[IdeaId]>) -> Result<Vec<(i64, WhoSaid)>> {
        let only = only.map(serde_json::to_string).transpose()?;
        let mut statement = self.connection.prepare_cached(
            "SELECT d.id, i.id, i.person_id, i.account_id
             FROM idea d JOIN link f ON f.to_kind = 'idea' AND f.to_id = d.id AND f.kind = 'supports' AND f.from_kind = 'finding'
             JOIN link l ON l.to_kind = 'finding' AND l.to_id = f.from_id AND l.kind = 'supports'
             JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
             WHERE d.product_id = ?1 AND (?2 IS NULL OR d.id IN (SELECT value FROM json_each(?2)))
             UNION ALL
             SELECT d.id, i.id, i.person_id, i.account_id
             FROM idea d JOIN link f ON f.to_kind = 'idea' AND f.to_id = d.id AND f.kind = 'supports' AND f.from_kind = 'excerpt'
             JOIN excerpt e ON e.id = f.from_id JOIN feedback_item i ON i.id = e.item_id
             WHERE d.product_id = ?1 AND (?2 IS NULL OR d.id IN (SELECT value FROM json_each(?2)))",
        )?;
        let rows = statement.query_map(params![product.0, only], |row| {
            Ok((
                row.get(0)?,
                WhoSaid {
                    item_id: ItemId(row.get(1)?),
                    person_id: row.get::<_, Option<i64>>(2)?.map(PersonId),
                    account_id: row.get::<_, Option<i64>>(3)?.map(AccountId),
                },
            ))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The position behind the last of some rows, such as those `WHERE product_id = 1`.
    ///
    /// # Errors
    /// Where the condition is wrong.
    pub fn next_position(
        &self,
        kind: ThingKind,
        column: &str,
        condition: &str,
        params: impl rusqlite::Params,
    ) -> Result<f64> {
        let sql = format!("SELECT COALESCE(max({column}), 0) + 1 FROM {kind} WHERE {condition}");
        Ok(self.connection.prepare_cached(&sql)?.query_row(params, |row| row.get(0))?)
    }
}

/// A link's number and kind, and its ends by kind and number, as they are stored.
type Ends = (i64, String, (String, i64), (String, i64));

impl Tx<'_> {
    /// Leads all links of one thing to another of its kind; those that would be there twice, or lead to itself, go.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn move_links(&mut self, from: Thing, to: Thing) -> Result<()> {
        // Links of the team's fields have kinds of their own, so all of them are read as text.
        let connection = self.rows().connection;
        let sql = "SELECT id, kind, from_kind, from_id, to_kind, to_id FROM link
            WHERE (from_kind = ?1 AND from_id = ?2) OR (to_kind = ?1 AND to_id = ?2) ORDER BY id";
        let links: Vec<Ends> = connection
            .prepare_cached(sql)?
            .query_map(params![from.kind.name(), from.id], |row| {
                Ok((row.get(0)?, row.get(1)?, (row.get(2)?, row.get(3)?), (row.get(4)?, row.get(5)?)))
            })?
            .collect::<rusqlite::Result<_>>()?;
        for (id, kind, one, other) in links {
            let end = |(kind, id): &(String, i64)| if kind == from.kind.name() && *id == from.id { to.id } else { *id };
            let (one_id, other_id) = (end(&one), end(&other));
            let twice = "SELECT EXISTS (SELECT 1 FROM link WHERE kind = ?1 AND from_kind = ?2 AND from_id = ?3
                AND to_kind = ?4 AND to_id = ?5)";
            let there: bool = connection
                .prepare_cached(twice)?
                .query_row(params![kind, one.0, one_id, other.0, other_id], |row| row.get(0))?;
            // What is counted side by side hangs on a link's ends, so it is made anew with what it says.
            let this = Thing::new(ThingKind::Link, id);
            let mut values = self.rows().json(this)?.as_object().cloned().unwrap_or_default();
            self.remove(this)?;
            if there || (one.0 == other.0 && one_id == other_id) {
                continue;
            }
            values.retain(|name, value| !(name == "id" || name == "rev" || value.is_null()));
            values.insert("from_id".to_owned(), Value::from(one_id));
            values.insert("to_id".to_owned(), Value::from(other_id));
            self.insert(ThingKind::Link, &values)?;
        }
        Ok(())
    }

    /// Links two things; nothing happens where they are linked so already.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_link(&mut self, kind: LinkKind, from: Thing, to: Thing) -> Result<()> {
        match self.rows().link(kind, from, to)? {
            // What the engine put there, a person confirms.
            Some(link) => self.say_link(link),
            None => self.link_as(kind, from, to, None),
        }
    }

    /// A person says that a link which the engine made is right.
    ///
    /// # Errors
    /// Where it is not there.
    pub fn say_link(&mut self, link: i64) -> Result<()> {
        let link = Thing::new(ThingKind::Link, link);
        if self.rows().json(link)?["sure"].is_null() {
            return Ok(());
        }
        self.set(link, &Map::from_iter([("sure".to_owned(), Value::Null)]))
    }

    /// Puts an excerpt behind a finding, as the engine does that is so sure of it. What is there stays.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn place(&mut self, excerpt: ExcerptId, finding: FindingId, sure: Option<f64>) -> Result<bool> {
        if self.rows().link(LinkKind::Supports, excerpt.thing(), finding.thing())?.is_some() {
            return Ok(false);
        }
        self.link_as(LinkKind::Supports, excerpt.thing(), finding.thing(), sure)?;
        Ok(true)
    }

    fn link_as(&mut self, kind: LinkKind, from: Thing, to: Thing, sure: Option<f64>) -> Result<()> {
        let mut values = Map::from_iter([
            ("kind".to_owned(), Value::from(kind.name())),
            ("from_kind".to_owned(), Value::from(from.kind.name())),
            ("from_id".to_owned(), Value::from(from.id)),
            ("to_kind".to_owned(), Value::from(to.kind.name())),
            ("to_id".to_owned(), Value::from(to.id)),
        ]);
        if let Some(sure) = sure.map(|sure| (sure * 1_000.0).round() / 1_000.0) {
            values.insert("sure".to_owned(), Value::from(sure));
        }
        self.insert(ThingKind::Link, &values)?;
        Ok(())
    }
}
