//! The SQL expression of each field. Registered fields have one by their name; those that a team added are read
//! from the row's `own` object or from the links.

use iron_kite_core::fields::{Collection, FieldDef, FieldType, Measure, RollUp, own_name};

use crate::error::{Error, Result};
use crate::queries::fields::Catalogue;

/// How a field's values are had from a row behind an alias.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Expr {
    /// One value.
    One(String),
    /// Several keys, as a JSON array.
    Keys(String),
    /// One linked thing, by a column that holds its number.
    Column(String),
    /// Linked things: a SELECT of their numbers.
    Set(String),
}

/// How a link leads on: by a column, or by a SELECT in which `{from}` stands for the row or rows that it leads from.
enum Leads {
    Column(&'static str),
    Select(String),
}

impl Leads {
    fn select(text: &str) -> Self {
        Leads::Select(text.to_owned())
    }
}

const EXCERPTS_OF_ITEM: &str = "SELECT e.id FROM excerpt e WHERE e.item_id {from}";

fn links(kind: &str, from: &str, to: &str, down: bool) -> Leads {
    let (here, there, here_kind, there_kind) = if down { ("from", "to", from, to) } else { ("to", "from", to, from) };
    Leads::Select(format!(
        "SELECT l.{there}_id FROM link l WHERE l.{here}_kind = '{here_kind}' AND l.{here}_id {{from}} \
         AND l.kind = '{kind}' AND l.{there}_kind = '{there_kind}'"
    ))
}

/// Where a registered link leads.
fn registered_link(collection: Collection, name: &str) -> Option<Leads> {
    use Collection::{Account, Excerpt, FeedbackItem, Finding, Idea, Objective, Page, Person, Release, WorkItem};
    Some(match (collection, name) {
        (FeedbackItem, "person") => Leads::Column("person_id"),
        (FeedbackItem, "account") | (Person, "account") => Leads::Column("account_id"),
        (FeedbackItem, "excerpts") => Leads::select(EXCERPTS_OF_ITEM),
        (Excerpt, "item") => Leads::Column("item_id"),
        (Excerpt, "findings") => links("supports", "excerpt", "finding", true),
        (Finding, "excerpts") => links("supports", "excerpt", "finding", false),
        (Finding, "ideas") => links("supports", "finding", "idea", true),
        (Person, "items") => Leads::select("SELECT i.id FROM feedback_item i WHERE i.person_id {from}"),
        (Account, "people") => Leads::select("SELECT p.id FROM person p WHERE p.account_id {from}"),
        (Account, "items") => Leads::select("SELECT i.id FROM feedback_item i WHERE i.account_id {from}"),
        (Objective, "ideas") => links("asks_for", "objective", "idea", true),
        (Idea, "objectives") => links("asks_for", "objective", "idea", false),
        (Idea, "findings") => links("supports", "finding", "idea", false),
        (Idea, "epics") => links("becomes", "idea", "work_item", true),
        (WorkItem | Page, "parent_id") => Leads::Column("parent_id"),
        (Page, "children") => Leads::select("SELECT p.id FROM page p WHERE p.parent_id {from}"),
        (WorkItem, "release_id") => Leads::Column("release_id"),
        (WorkItem, "children") => Leads::select("SELECT w.id FROM work_item w WHERE w.parent_id {from}"),
        (WorkItem, "needs") => links("needed_by", "work_item", "work_item", false),
        (WorkItem, "needed_by") => links("needed_by", "work_item", "work_item", true),
        (Release, "stories") => {
            Leads::select("SELECT w.id FROM work_item w WHERE w.release_id {from} AND w.level = 'story'")
        }
        _ => return None,
    })
}

/// The expression of a registered field that is no plain column; `{t}` stands for the alias.
fn registered_one(collection: Collection, name: &str) -> Option<&'static str> {
    use Collection::{Document, Excerpt, FeedbackItem, Finding, Idea, Objective, Release, WorkItem};
    Some(match (collection, name) {
        (FeedbackItem, "reference") => "'F' || {t}.id",
        (FeedbackItem, "source") => "(SELECT s.name FROM source s WHERE s.id = {t}.source_id)",
        (FeedbackItem, "read") => "EXISTS (SELECT 1 FROM reading r WHERE r.item_id = {t}.id)",
        (Excerpt, "reference") => "'X' || {t}.id",
        (Excerpt, "words") => {
            "(SELECT substr(i.text, {t}.from_char + 1, {t}.to_char - {t}.from_char) FROM feedback_item i WHERE i.id = {t}.item_id)"
        }
        (Excerpt, "said_on") => "(SELECT i.said_on FROM feedback_item i WHERE i.id = {t}.item_id)",
        (Finding, "reference") => "'N' || {t}.id",
        (Finding, "people") => {
            "(SELECT count(DISTINCT i.person_id) FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
              WHERE l.to_kind = 'finding' AND l.to_id = {t}.id AND l.kind = 'supports' AND l.from_kind = 'excerpt')"
        }
        (Finding, "accounts") => {
            "(SELECT count(DISTINCT i.account_id) FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
              WHERE l.to_kind = 'finding' AND l.to_id = {t}.id AND l.kind = 'supports' AND l.from_kind = 'excerpt')"
        }
        (Finding, "last_said_on") => {
            "(SELECT max(i.said_on) FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
              WHERE l.to_kind = 'finding' AND l.to_id = {t}.id AND l.kind = 'supports' AND l.from_kind = 'excerpt')"
        }
        (Objective, "reference") => "'O' || {t}.id",
        (Idea, "reference") => "'I' || {t}.id",
        // The rule is core's `decide::rice`; a test compares the two.
        (Idea, "score") => "CASE WHEN {t}.effort > 0 THEN {t}.reach * {t}.impact * {t}.confidence / {t}.effort END",
        (Idea, "decided_on") => "(SELECT max(d.decided_on) FROM decision d WHERE d.idea_id = {t}.id)",
        // The letters are core's `Level::letter`; a test compares the two.
        (WorkItem, "reference") => {
            "CASE {t}.level WHEN 'initiative' THEN 'V' WHEN 'epic' THEN 'E' WHEN 'feature' THEN 'B' WHEN 'story' THEN 'S' ELSE 'T' END || {t}.id"
        }
        (WorkItem, "team") => "(SELECT m.name FROM team m WHERE m.id = {t}.team_id)",
        (WorkItem, "starts_on") => "(SELECT r.starts_on FROM release r WHERE r.id = {t}.release_id)",
        (WorkItem, "ends_on") => "(SELECT r.ends_on FROM release r WHERE r.id = {t}.release_id)",
        (Release, "reference") => "'R' || {t}.id",
        (Document, "reference") => "'D' || {t}.id",
        _ => return None,
    })
}

/// The reference and the title by which a thing of a collection is named elsewhere.
pub(crate) fn label(collection: Collection, alias: &str) -> (String, String) {
    let reference = registered_one(collection, "reference").unwrap_or("''").replace("{t}", alias);
    let title = match registered_one(collection, collection.title_field()) {
        Some(expr) => expr.replace("{t}", alias),
        None => format!("{alias}.{}", collection.title_field()),
    };
    (reference, format!("substr({title}, 1, 160)"))
}

/// The expression of a field on a row behind an alias.
///
/// # Errors
/// Where a roll-up leads along a link that is not there any more.
pub(crate) fn expr(catalogue: &Catalogue, collection: Collection, field: &FieldDef, alias: &str) -> Result<Expr> {
    match &field.kind {
        FieldType::Link { .. } => Ok(match leads(collection, field)? {
            Leads::Column(column) => Expr::Column(format!("{alias}.{column}")),
            Leads::Select(select) => Expr::Set(select.replace("{from}", &format!("= {alias}.id"))),
        }),
        FieldType::RolledUp { roll_up: over } => Ok(Expr::One(roll_up(catalogue, collection, over, alias)?)),
        FieldType::Choices { .. } => Ok(Expr::Keys(own_or_column(collection, field, alias))),
        FieldType::YesNo if field.own.is_some() => {
            Ok(Expr::One(format!("COALESCE({}, 0)", own_or_column(collection, field, alias))))
        }
        _ => Ok(Expr::One(own_or_column(collection, field, alias))),
    }
}

fn own_or_column(collection: Collection, field: &FieldDef, alias: &str) -> String {
    if field.own.is_some() {
        // Written as in the index of the field, so that the index serves.
        return format!("json_extract({alias}.own, '$.{}')", field.name);
    }
    match registered_one(collection, &field.name) {
        Some(expr) => expr.replace("{t}", alias),
        None => format!("{alias}.{}", field.name),
    }
}

fn leads(collection: Collection, field: &FieldDef) -> Result<Leads> {
    if let (Some(own), FieldType::Link { to, back, forward, .. }) = (field.own, &field.kind) {
        let primary = if *forward { own } else { back.unwrap_or(own) };
        let (from, to) = if *forward { (collection, *to) } else { (*to, collection) };
        return Ok(links(&own_name(primary), from.kind().name(), to.kind().name(), *forward));
    }
    let fault = || Error::Refused(format!("'{}' leads nowhere any more", field.label));
    registered_link(collection, &field.name).ok_or_else(fault)
}

/// A number over the things at the end of a path of links: a set of numbers within a set, so that a thing that is
/// reached by two ways counts once.
fn roll_up(catalogue: &Catalogue, collection: Collection, over: &RollUp, alias: &str) -> Result<String> {
    let mut at = collection;
    let mut from = format!("= {alias}.id");
    for step in &over.path {
        let fields = catalogue.all_of(at);
        let link = fields.iter().find(|field| field.name == *step);
        let (Some(link), Some(FieldType::Link { to, .. })) = (link, link.map(|field| &field.kind)) else {
            return Err(Error::Refused(format!("a roll-up leads along '{step}', which is not there any more")));
        };
        let set = match leads(at, link)? {
            Leads::Column(column) => {
                format!("SELECT c.{column} FROM {at} c WHERE c.id {from} AND c.{column} IS NOT NULL")
            }
            Leads::Select(select) => select.replace("{from}", &from),
        };
        from = format!("IN ({set})");
        at = *to;
    }
    let inner = format!("{alias}x");
    let value = match &over.of {
        None => None,
        Some(of) => {
            let fields = catalogue.all_of(at);
            let field = fields.iter().find(|field| field.name == *of);
            let field =
                field.ok_or_else(|| Error::Refused(format!("a roll-up is of '{of}', which is not there any more")))?;
            match expr(catalogue, at, field, &inner)? {
                Expr::One(value) | Expr::Keys(value) | Expr::Column(value) => Some(value),
                Expr::Set(set) => Some(format!("CASE WHEN EXISTS ({set}) THEN 1 END")),
            }
        }
    };
    let figure = match (over.measure, value) {
        (Measure::ShareDone, _) => share_done(&inner),
        (measure, Some(value)) => aggregate(measure, &value),
        (_, None) => "count(*)".to_owned(),
    };
    let only_stories =
        if over.measure == Measure::ShareDone { format!(" AND {inner}.level = 'story'") } else { String::new() };
    Ok(format!("(SELECT {figure} FROM {at} {inner} WHERE {inner}.id {from}{only_stories})"))
}

/// The rule is core's `plan::progress`; a test compares the two.
fn share_done(alias: &str) -> String {
    format!(
        "CASE WHEN count(*) = 0 THEN NULL
              WHEN count(*) = count({alias}.points) AND sum({alias}.points) > 0
                THEN sum(CASE WHEN {alias}.state = 'done' THEN {alias}.points ELSE 0 END) / sum({alias}.points)
              ELSE sum({alias}.state = 'done') * 1.0 / count(*) END"
    )
}

/// The figure of an expression over several rows.
pub(crate) fn aggregate(measure: Measure, value: &str) -> String {
    match measure {
        Measure::Count | Measure::ShareDone => format!("count({value})"),
        Measure::Sum => format!("sum({value})"),
        Measure::Mean => format!("avg({value})"),
        Measure::Median => format!("kite_median({value})"),
        Measure::Min => format!("min({value})"),
        Measure::Max => format!("max({value})"),
    }
}
