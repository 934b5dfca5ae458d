//! The SQL expression of each field. Registered fields have one by their name; those that a team added are read
//! from the row's `own` object or from the links.

use iron_kite_core::fields::{Collection, FieldDef, FieldType, LineLink, Measure, RollUp, line_link, own_name};
use iron_kite_core::things::ThingKind;

use super::Of;
use crate::error::{Error, Result};
use crate::queries::hierarchy::{stories_below, work_of_ideas, work_of_objectives};

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

/// How a link leads on.
enum Leads {
    /// By a column that holds the number of the other thing.
    Column(&'static str),
    /// To those whose column holds the number of this one.
    Back(&'static str),
    /// By a SELECT in which `{from}` stands for the row or rows that it leads from.
    Select(String),
}

impl Leads {
    fn select(text: &str) -> Self {
        Leads::Select(text.to_owned())
    }
}

fn links(kind: &str, from: &str, to: &str, down: bool) -> Leads {
    let (here, there, here_kind, there_kind) = if down { ("from", "to", from, to) } else { ("to", "from", to, from) };
    Leads::Select(format!(
        "SELECT l.{there}_id FROM link l WHERE l.{here}_kind = '{here_kind}' AND l.{here}_id {{from}} \
         AND l.kind = '{kind}' AND l.{there}_kind = '{there_kind}'"
    ))
}

/// The ideas that requests are put behind: those that quote what they say.
macro_rules! asked_of {
    ($of:literal) => {
        concat!(
            "SELECT l.to_id FROM request q JOIN excerpt e ON e.item_id = q.item_id
               JOIN link l ON l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.from_id = e.id AND l.to_kind = 'idea'
             WHERE q.id ",
            $of
        )
    };
}

/// Where a registered link leads: along the line, by a column that the description of a kind names, or as it is said here.
fn registered_link(collection: Collection, name: &str) -> Option<Leads> {
    use Collection::{Excerpt, Finding, Idea, Objective, Release, Request, Term, WorkItem};
    if let Some(LineLink { kind, forward, to, .. }) = line_link(collection, name) {
        let (from, to) = if forward { (collection, to) } else { (to, collection) };
        return Some(links(kind.name(), from.kind().name(), to.kind().name(), forward));
    }
    if let Some(leads) = related(collection.kind(), name) {
        return Some(leads);
    }
    Some(match (collection, name) {
        // They follow from the item and from what the engine tells, so they are no relations that anybody makes.
        (Excerpt, "person") => Leads::Column("person_id"),
        (Excerpt, "account") => Leads::Column("account_id"),
        (Excerpt, "repeats") => Leads::Column("repeats_id"),
        (Excerpt, "terms") => Leads::select("SELECT b.term_id FROM about b WHERE b.excerpt_id {from}"),
        (Finding, "said_by") => {
            Leads::select("SELECT b.person_id FROM behind b WHERE b.person_id IS NOT NULL AND b.finding_id {from}")
        }
        (Finding, "heard_from") => {
            Leads::select("SELECT b.account_id FROM behind b WHERE b.account_id IS NOT NULL AND b.finding_id {from}")
        }
        (Term, "excerpts") => Leads::select("SELECT b.excerpt_id FROM about b WHERE b.term_id {from}"),
        (WorkItem, "stories") => Leads::Select(stories_below("SELECT w.id FROM work_item w WHERE w.parent_id {from}")),
        (Idea, "stories") => Leads::Select(stories_below(&work_of_ideas("{from}"))),
        (Objective, "stories") => Leads::Select(stories_below(&work_of_objectives("{from}"))),
        (Request, "person") => Leads::select(
            "SELECT i.person_id FROM request q JOIN feedback_item i ON i.id = q.item_id WHERE i.person_id IS NOT NULL AND q.id {from}",
        ),
        (Request, "account") => Leads::select(
            "SELECT i.account_id FROM request q JOIN feedback_item i ON i.id = q.item_id WHERE i.account_id IS NOT NULL AND q.id {from}",
        ),
        (Request, "ideas") => Leads::select(asked_of!("{from}")),
        (Release, "stories") => {
            Leads::select("SELECT w.id FROM work_item w WHERE w.release_id {from} AND w.level = 'story'")
        }
        _ => return None,
    })
}

/// Where a field leads that shows a relation, from one side or the other.
fn related(kind: ThingKind, field: &str) -> Option<Leads> {
    let mut own = kind.description().relations.iter();
    if let Some(relation) = own.find(|relation| relation.field == Some(field)) {
        return Some(Leads::Column(relation.column));
    }
    let mut others = kind.pointed_at_by();
    others.find(|(_, relation)| relation.back == Some(field)).map(|(_, relation)| Leads::Back(relation.column))
}

/// Something of the excerpts behind a finding, with what is counted of them side by side.
macro_rules! said {
    ($what:literal) => {
        concat!("(SELECT ", $what, " FROM behind b WHERE b.finding_id = {t}.id)")
    };
}

/// Something that is added up of a finding.
macro_rules! summed {
    ($what:literal) => {
        concat!("(SELECT ", $what, " FROM heard h WHERE h.finding_id = {t}.id)")
    };
}

/// Something of the excerpts behind an idea, by its findings or quoted for itself, each once.
macro_rules! heard {
    ($what:literal) => {
        concat!(
            "(SELECT ",
            $what,
            " FROM (SELECT b.excerpt_id, b.person_id, b.account_id FROM link f JOIN behind b ON b.finding_id = f.from_id
                WHERE f.to_kind = 'idea' AND f.to_id = {t}.id AND f.kind = 'supports' AND f.from_kind = 'finding'
               UNION SELECT e.id, i.person_id, i.account_id FROM link f JOIN excerpt e ON e.id = f.from_id
                JOIN feedback_item i ON i.id = e.item_id
                WHERE f.to_kind = 'idea' AND f.to_id = {t}.id AND f.kind = 'supports' AND f.from_kind = 'excerpt') b)"
        )
    };
}

/// The yearly revenue of some accounts, each counted once, however many of its people spoke.
macro_rules! revenue {
    ($($accounts:tt)*) => {
        concat!("(SELECT sum(a.yearly_revenue) FROM account a WHERE a.id IN ", $($accounts)*, ")")
    };
}

/// Something of the last decision about an idea.
macro_rules! decided {
    ($what:literal) => {
        concat!("(SELECT d.", $what, " FROM decision d WHERE d.idea_id = {t}.id ORDER BY d.id DESC LIMIT 1)")
    };
}

/// The RICE score of an idea that has an effort. What somebody says of the confidence stands before what the evidence tells.
macro_rules! scored {
    ($t:literal) => {
        concat!(
            $t,
            ".reach * ",
            $t,
            ".impact * COALESCE(",
            $t,
            ".confidence, (SELECT d.confidence FROM idea_told d WHERE d.idea_id = ",
            $t,
            ".id)) / ",
            $t,
            ".effort"
        )
    };
}

/// How far an offer does something, as a number.
macro_rules! offered {
    ($t:literal) => {
        concat!("CASE ", $t, ".offers WHEN 'fully' THEN 1.0 WHEN 'partly' THEN 0.5 ELSE 0.0 END")
    };
}

/// Something of what was measured last of an objective.
macro_rules! measured {
    ($what:literal) => {
        concat!("(SELECT ", $what, " FROM measured d WHERE d.objective_id = {t}.id ORDER BY d.taken_on DESC LIMIT 1)")
    };
}

/// A field that stands with what a column of the row points to.
pub(super) struct Pointed {
    /// The column.
    pub(super) column: &'static str,
    /// The table that it points into.
    pub(super) table: &'static str,
    /// The column there.
    pub(super) what: &'static str,
}

/// Where a registered field is text of what a column points to, such as the name of the source.
pub(super) fn pointed(collection: Collection, name: &str) -> Option<Pointed> {
    use Collection::{CompetitorNote, Excerpt, FeedbackItem, WorkItem};
    let (column, table, what) = match (collection, name) {
        (FeedbackItem | Excerpt, "source") => ("source_id", "source", "name"),
        (FeedbackItem | Excerpt, "segment") => ("account_id", "account", "segment"),
        (WorkItem, "team") => ("team_id", "team", "name"),
        (CompetitorNote, "competitor") => ("competitor_id", "competitor", "name"),
        _ => return None,
    };
    Some(Pointed { column, table, what })
}

/// The column that holds the number of the feedback item in whose words a field's text stands, where it is such text.
pub(super) fn item_of_words(collection: Collection, name: &str) -> Option<&'static str> {
    match (collection, name) {
        (Collection::FeedbackItem, "text") => Some("id"),
        (Collection::Excerpt, "words") => Some("item_id"),
        _ => None,
    }
}

/// The expression of a registered field that is no plain column; `{t}` stands for the alias, `{today}` for the
/// present day.
fn registered_one(collection: Collection, name: &str) -> Option<&'static str> {
    use Collection::{
        CompetitorNote, Document, Excerpt, FeedbackItem, Finding, Idea, Increment, Objective, Release, Request,
        WorkItem,
    };
    Some(match (collection, name) {
        (FeedbackItem, "reference") => "'F' || {t}.id",
        (FeedbackItem, "tags") => {
            "(SELECT group_concat(tag, ', ') FROM (SELECT DISTINCT g.value AS tag
               FROM json_each({t}.turns) u, json_each(u.value, '$.tags') g ORDER BY tag))"
        }
        (FeedbackItem, "read") => "EXISTS (SELECT 1 FROM reading r WHERE r.item_id = {t}.id)",
        (Excerpt, "reference") => "'X' || {t}.id",
        (Excerpt, "words") => {
            "(SELECT substr(i.text, {t}.from_char + 1, {t}.to_char - {t}.from_char) FROM feedback_item i WHERE i.id = {t}.item_id)"
        }
        (Finding, "reference") => "'N' || {t}.id",
        // What a person made, that person stands by: core's `FindingState`.
        (Finding, "state") => "COALESCE({t}.state, 'accepted')",
        (Finding, "movement") => "(SELECT d.movement FROM finding_told d WHERE d.finding_id = {t}.id)",
        (Finding, "phrases") => {
            "(SELECT group_concat(value, ', ') FROM (SELECT j.value FROM finding_told d, json_each(d.phrases) j
               WHERE d.finding_id = {t}.id ORDER BY j.key))"
        }
        (Finding, "people") => concat!("COALESCE(", summed!("h.people"), ", 0)"),
        (Finding, "accounts") => concat!("COALESCE(", summed!("h.accounts"), ", 0)"),
        (Finding, "excerpt_count") => concat!("COALESCE(", summed!("h.excerpts"), ", 0)"),
        (Finding, "sentiment") => said!("avg(b.sentiment)"),
        (Finding, "last_said_on") => said!("max(b.said_on)"),
        (Finding, "revenue") => revenue!(said!("b.account_id")),
        // The rule is core's `listen::frustration`; a test compares the two.
        (Finding, "negativity") => summed!("h.negative / NULLIF(h.excerpts, 0)"),
        (Finding, "frustration") => summed!("h.people * h.negative / NULLIF(h.excerpts, 0)"),
        // The rule is core's `listen::growth`; a test compares the two.
        (Finding, "growth") => {
            "(SELECT (d.recent + 1.0) / (d.before / 3.0 + 1.0) FROM finding_told d WHERE d.finding_id = {t}.id)"
        }
        // The rules are core's `listen::volume`.
        (Finding, "weeks") => {
            "COALESCE((SELECT kite_weeks(b.said_on, '{today}') FROM behind b
               WHERE b.finding_id = {t}.id AND b.said_on > date('{today}', '-57 days')), '[0,0,0,0,0,0,0,0]')"
        }
        (Finding, "spread") => {
            summed!(
                "iif(h.excerpts > 0, json_object('against', h.against, 'neutral', h.neutral, 'for_it', h.for_it), NULL)"
            )
        }
        (Finding, "kinds") => {
            "(SELECT group_concat(kind, ', ') FROM (SELECT k.value ->> 0 AS kind FROM heard h, json_each(json_array(
                json_array('request', h.request), json_array('defect', h.defect), json_array('friction', h.friction),
                json_array('help needed', h.help_needed), json_array('praise', h.praise), json_array('habit', h.habit),
                json_array('leaving', h.leaving))) k
               WHERE h.finding_id = {t}.id AND k.value ->> 1 > 0 ORDER BY k.value ->> 1 DESC, kind LIMIT 2))"
        }
        (Finding, "segments") => {
            "(SELECT group_concat(segment, '; ') FROM (SELECT DISTINCT a.segment FROM behind b JOIN account a ON a.id = b.account_id
               WHERE b.finding_id = {t}.id AND a.segment IS NOT NULL ORDER BY a.segment COLLATE NOCASE))"
        }
        (Finding, "sources") => {
            "(SELECT group_concat(name, '; ') FROM (SELECT DISTINCT s.name FROM behind b JOIN source s ON s.id = b.source_id
               WHERE b.finding_id = {t}.id ORDER BY s.name COLLATE NOCASE))"
        }
        (Objective, "reference") => "'O' || {t}.id",
        (Objective, "present_value") => measured!("d.value"),
        (Objective, "measured_on") => measured!("d.taken_on"),
        (Objective, "path") => {
            concat!("json_object('start', {t}.start_value, 'present', ", measured!("d.value"), ", 'target', {t}.target_value)")
        }
        (Idea, "reference") => "'I' || {t}.id",
        // The rule is core's `decide::rice`; a test compares the two.
        (Idea, "score") => concat!("CASE WHEN {t}.effort > 0 THEN ", scored!("{t}"), " END"),
        (Idea, "rank") => {
            concat!(
                "CASE WHEN {t}.effort > 0 AND ",
                scored!("{t}"),
                " IS NOT NULL THEN (SELECT 1 + count(*) FROM idea b WHERE b.product_id = {t}.product_id AND b.effort > 0 AND ",
                scored!("b"),
                " > ",
                scored!("{t}"),
                ") END"
            )
        }
        (Idea, "grade") => "COALESCE((SELECT d.grade FROM idea_told d WHERE d.idea_id = {t}.id), 'hunch')",
        (Idea, "told_confidence") => "(SELECT d.confidence FROM idea_told d WHERE d.idea_id = {t}.id)",
        (Increment, "reference") => "'K' || {t}.id",
        // The rule is core's `decide::comparison`; a test compares the two.
        (Idea, "gap") => concat!(
            "(SELECT max((SELECT avg(max(0.0, ",
            offered!("n"),
            " - ",
            offered!("c"),
            ")) FROM competitor_note n WHERE n.capability_id = c.id AND n.offers IS NOT NULL AND NOT EXISTS (
                 SELECT 1 FROM competitor_note m WHERE m.capability_id = n.capability_id AND m.competitor_id = n.competitor_id
                   AND m.offers IS NOT NULL AND (m.noted_on, m.id) > (n.noted_on, n.id))))
              FROM link l JOIN capability c ON c.id = l.to_id AND c.offers IS NOT NULL
              WHERE l.kind = 'closes' AND l.from_kind = 'idea' AND l.from_id = {t}.id AND l.to_kind = 'capability')"
        ),
        (CompetitorNote, "capability") => "(SELECT c.title FROM capability c WHERE c.id = {t}.capability_id)",
        (CompetitorNote, "from") => {
            "COALESCE((SELECT concat_ws(', ', p.title, p.address) FROM found_page p WHERE p.id = {t}.page_id), {t}.source)"
        }
        (Request, "reference") => "'Q' || {t}.id",
        (Request, "words") => "(SELECT i.text FROM feedback_item i WHERE i.id = {t}.item_id)",
        (Request, "sender") => {
            "NULLIF(concat_ws(', ', {t}.sender_name, {t}.sender_address, {t}.sender_account), '')"
        }
        (Request, "revenue") => {
            "(SELECT a.yearly_revenue FROM feedback_item i JOIN account a ON a.id = i.account_id WHERE i.id = {t}.item_id)"
        }
        // The rule is core's `decide::became`; a test compares the two.
        (Request, "became") => {
            concat!(
                "COALESCE({t}.state, CASE (SELECT max(CASE d.state WHEN 'shipped' THEN 3 WHEN 'chosen' THEN 2 WHEN 'set_aside' THEN 0 ELSE 1 END)
                   FROM idea d WHERE d.id IN (",
                asked_of!("= {t}.id"),
                ")) WHEN 3 THEN 'done' WHEN 2 THEN 'planned' WHEN 1 THEN 'weighed' WHEN 0 THEN 'declined' END, 'received')"
            )
        }
        (Idea, "people") => heard!("count(DISTINCT b.person_id)"),
        (Idea, "accounts") => heard!("count(DISTINCT b.account_id)"),
        (Idea, "revenue") => revenue!(heard!("b.account_id")),
        (Idea, "decided_on") => decided!("decided_on"),
        (Idea, "outcome") => decided!("outcome"),
        (Idea, "reason") => decided!("reason"),
        (Idea, "score_then") => decided!("score"),
        // The letters are core's `Level::letter`; a test compares the two.
        (WorkItem, "reference") => {
            "CASE {t}.level WHEN 'initiative' THEN 'V' WHEN 'epic' THEN 'E' WHEN 'feature' THEN 'B' WHEN 'story' THEN 'S' ELSE 'T' END || {t}.id"
        }
        // Added up beside: stories and tasks have no stories below. The rule is core's `plan::add_up`; a test compares the two.
        (WorkItem, "points_below") => {
            "(SELECT round(d.points, 6) FROM work_below d WHERE d.item_id = {t}.id AND d.stories > d.without_points
               AND {t}.level NOT IN ('story', 'task'))"
        }
        (WorkItem, "done") => {
            "(SELECT CASE WHEN d.without_points = 0 AND round(d.points, 6) > 0 THEN d.points_done / d.points
               ELSE d.stories_done * 1.0 / d.stories END
              FROM work_below d WHERE d.item_id = {t}.id AND d.stories > 0 AND {t}.level NOT IN ('story', 'task'))"
        }
        // The rule is core's `handover::ready`.
        (WorkItem, "missing") => {
            "CASE WHEN {t}.level = 'story' AND {t}.state = 'draft' THEN kite_missing(json_object(
                'persona', json(iif({t}.as_a IS NULL, 'false', 'true')),
                'reason', json(iif({t}.so_that IS NULL, 'false', 'true')),
                'criteria', (SELECT count(*) FROM criterion c WHERE c.story_id = {t}.id),
                'estimate', json(iif({t}.points IS NULL, 'false', 'true')), 'release', {t}.release_id,
                'needed', (SELECT json_group_array(json_object('reference', 'S' || w.id, 'state', w.state, 'release', w.release_id))
                  FROM link l JOIN work_item w ON w.id = l.from_id
                  WHERE l.to_kind = 'work_item' AND l.to_id = {t}.id AND l.kind = 'needed_by' AND l.from_kind = 'work_item'))) END"
        }
        (WorkItem, "starts_on") => "(SELECT r.starts_on FROM release r WHERE r.id = {t}.release_id)",
        (WorkItem, "ends_on") => "(SELECT r.ends_on FROM release r WHERE r.id = {t}.release_id)",
        (Release, "reference") => "'R' || {t}.id",
        (Release, "load") => {
            "(SELECT json_object('done', total(iif(w.state = 'done', w.points, 0)), 'points', total(w.points), 'capacity', {t}.capacity)
              FROM work_item w WHERE w.release_id = {t}.id AND w.level = 'story')"
        }
        // The rule is core's `handover::roadmap`.
        (Release, "trouble") => {
            "(SELECT kite_trouble({t}.id, {t}.state, {t}.ends_on, total(w.points), {t}.capacity, total(w.state <> 'done') > 0, '{today}',
                (SELECT json_group_array(json_object('id', o.id, 'from', o.starts_on, 'to', o.ends_on, 'teams', json(
                    (SELECT json_group_array(DISTINCT s.team_id) FROM work_item s
                     WHERE s.release_id = o.id AND s.level = 'story' AND s.team_id IS NOT NULL))))
                 FROM release o WHERE o.product_id = {t}.product_id AND o.state <> 'released' AND o.starts_on <= o.ends_on))
              FROM work_item w WHERE w.release_id = {t}.id AND w.level = 'story')"
        }
        (Document, "reference") => "'D' || {t}.id",
        _ => return None,
    })
}

/// The reference and the title by which a thing of a collection is named elsewhere.
pub(crate) fn label(collection: Collection, alias: &str) -> (String, String) {
    let reference = registered_one(collection, "reference").unwrap_or("''").replace("{t}", alias);
    let title = match registered_one(collection, collection.title_field()) {
        // A document and a mail go by what they are called, a review by its words.
        _ if collection == Collection::FeedbackItem => {
            format!(
                "COALESCE(iif(json_valid({alias}.extra), NULLIF(json_extract({alias}.extra, '$.title'), ''), NULL), {alias}.text)"
            )
        }
        Some(expr) => expr.replace("{t}", alias),
        None => format!("{alias}.{}", collection.title_field()),
    };
    (reference, format!("substr({title}, 1, 160)"))
}

/// The expression of a field on a row behind an alias.
///
/// # Errors
/// Where a roll-up leads along a link that is not there any more.
pub(crate) fn expr(of: Of<'_>, field: &FieldDef, alias: &str) -> Result<Expr> {
    match &field.kind {
        FieldType::Link { to, .. } => Ok(match leads(of.collection, field)? {
            Leads::Column(column) => Expr::Column(format!("{alias}.{column}")),
            Leads::Back(column) => Expr::Set(format!("SELECT b.id FROM {to} b WHERE b.{column} = {alias}.id")),
            Leads::Select(select) => Expr::Set(select.replace("{from}", &format!("= {alias}.id"))),
        }),
        // What is added up beside costs less than to go there.
        FieldType::RolledUp { .. } if registered_one(of.collection, &field.name).is_some() => {
            Ok(Expr::One(own_or_column(of, field, alias)))
        }
        FieldType::RolledUp { roll_up: over } => Ok(Expr::One(roll_up(of, over, alias)?)),
        FieldType::Choices { .. } => Ok(Expr::Keys(own_or_column(of, field, alias))),
        FieldType::YesNo if field.own.is_some() => {
            Ok(Expr::One(format!("COALESCE({}, 0)", own_or_column(of, field, alias))))
        }
        _ => Ok(Expr::One(own_or_column(of, field, alias))),
    }
}

fn own_or_column(of: Of<'_>, field: &FieldDef, alias: &str) -> String {
    if field.own.is_some() {
        // Written as in the index of the field, so that the index serves.
        return format!("json_extract({alias}.own, '$.{}')", field.name);
    }
    if let Some(Pointed { column, table, what }) = pointed(of.collection, &field.name) {
        return format!("(SELECT n.{what} FROM {table} n WHERE n.id = {alias}.{column})");
    }
    match registered_one(of.collection, &field.name) {
        Some(expr) => expr.replace("{t}", alias).replace("{today}", &of.today.to_string()),
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
fn roll_up(of: Of<'_>, over: &RollUp, alias: &str) -> Result<String> {
    let inner = format!("{alias}x");
    let mut at = of.collection;
    let mut from = format!("= {alias}.id");
    let mut reached = format!("{inner}.id {from}");
    for step in &over.path {
        let fields = of.catalogue.all_of(at);
        let link = fields.iter().find(|field| field.name == *step);
        let (Some(link), Some(FieldType::Link { to, .. })) = (link, link.map(|field| &field.kind)) else {
            return Err(Error::Refused(format!("a roll-up leads along '{step}', which is not there any more")));
        };
        let (set, directly) = match leads(at, link)? {
            Leads::Column(column) => {
                (format!("SELECT c.{column} FROM {at} c WHERE c.id {from} AND c.{column} IS NOT NULL"), None)
            }
            // Those that lead here are asked for by that, and not by their numbers first.
            Leads::Back(column) => {
                (format!("SELECT b.id FROM {to} b WHERE b.{column} {from}"), Some(format!("{inner}.{column} {from}")))
            }
            Leads::Select(select) => (select.replace("{from}", &from), None),
        };
        from = format!("IN ({set})");
        reached = directly.unwrap_or_else(|| format!("{inner}.id {from}"));
        at = *to;
    }
    let value = match &over.of {
        None => None,
        Some(name) => {
            let fields = of.catalogue.all_of(at);
            let field = fields.iter().find(|field| field.name == *name);
            let field = field
                .ok_or_else(|| Error::Refused(format!("a roll-up is of '{name}', which is not there any more")))?;
            match expr(Of { collection: at, ..of }, field, &inner)? {
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
    Ok(format!("(SELECT {figure} FROM {at} {inner} WHERE {reached}{only_stories})"))
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
