//! The views that every workspace has before anybody saves one: what each stage opens with.

use serde::{Deserialize, Serialize};
use serde_json::{Value, json};

use super::collection::Collection;
use super::view::ViewDefinition;

/// A view that comes with the product.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FirstView {
    /// How the address names it.
    pub key: String,
    /// What people call it.
    pub name: String,
    /// What it is.
    pub definition: ViewDefinition,
}

/// The fields of a table: name and width, the first ones pinned.
fn table(pinned: usize, columns: &[(&str, u32)]) -> Value {
    let field =
        |(n, (name, width)): (usize, &(&str, u32))| json!({ "name": name, "width": width, "pinned": n < pinned });
    Value::from(columns.iter().enumerate().map(field).collect::<Vec<_>>())
}

/// The views of a collection that come with the product; the first one is what it opens with.
#[must_use]
pub fn first_views(collection: Collection) -> Vec<FirstView> {
    let views = match collection {
        Collection::FeedbackItem => feedback(),
        Collection::Finding => findings(),
        Collection::Term => terms(),
        Collection::Study => studies(),
        Collection::Objective => objectives(),
        Collection::Idea => ideas(),
        Collection::Increment => increments(),
        Collection::Request => requests(),
        Collection::CompetitorNote => competitor_notes(),
        Collection::WorkItem => work_items(),
        Collection::Release => releases(),
        _ => Vec::new(),
    };
    let read = |(key, name, definition): (&str, &str, Value)| {
        let definition = serde_json::from_value(definition).ok()?;
        Some(FirstView { key: key.to_owned(), name: name.to_owned(), definition })
    };
    views.into_iter().filter_map(read).collect()
}

type Views = Vec<(&'static str, &'static str, Value)>;

fn feedback() -> Views {
    let fields = json!([{ "name": "read" }, { "name": "said_on" }, { "name": "person" }, { "name": "source" }]);
    let newest = json!([{ "field": "said_on", "descending": true }]);
    vec![
        ("reading", "Reading", json!({ "kind": "list", "order": newest, "fields": fields })),
        (
            "unread",
            "Unread",
            json!({ "kind": "list", "order": newest, "fields": fields,
                "filter": { "field": "read", "operator": "is", "value": false } }),
        ),
    ]
}

fn findings() -> Views {
    let columns = table(
        1,
        &[
            ("title", 310),
            ("people", 80),
            ("accounts", 88),
            ("revenue", 126),
            ("frustration", 110),
            ("weeks", 110),
            ("movement", 96),
            ("state", 116),
            ("spread", 180),
            ("kinds", 150),
            ("phrases", 220),
            ("ideas", 200),
        ],
    );
    let most = json!([{ "field": "people", "descending": true }, { "field": "excerpt_count", "descending": true }]);
    let by = |field: &str| json!([{ "field": field, "descending": true }]);
    // What somebody threw out says nothing.
    let heard = json!({ "field": "state", "operator": "none_of", "value": ["thrown_out"] });
    vec![
        ("people", "Most people", json!({ "order": most, "fields": columns, "filter": heard })),
        ("frustration", "Most frustrating", json!({ "order": by("frustration"), "fields": columns, "filter": heard })),
        ("revenue", "Most revenue", json!({ "order": by("revenue"), "fields": columns, "filter": heard })),
        ("growing", "Growing fastest", json!({ "order": by("growth"), "fields": columns, "filter": heard })),
        (
            "suggested",
            "Suggested",
            json!({ "order": most, "fields": columns,
                "filter": { "field": "state", "operator": "any_of", "value": ["suggested"] } }),
        ),
        (
            "moving",
            "Moving",
            json!({ "order": most, "fields": columns,
                "filter": { "field": "movement", "operator": "any_of", "value": ["new", "growing", "fading"] } }),
        ),
        (
            "open",
            "Not behind an idea",
            json!({ "order": most, "fields": columns, "filter": { "field": "ideas", "operator": "empty" } }),
        ),
    ]
}

fn terms() -> Views {
    let columns =
        table(1, &[("name", 200), ("synonyms", 300), ("note", 300), ("excerpt_count", 90), ("sentiment", 120)]);
    vec![("terms", "All terms", json!({ "order": [{ "field": "name" }], "fields": columns }))]
}

fn studies() -> Views {
    let columns = table(
        1,
        &[
            ("title", 240),
            ("method", 150),
            ("state", 110),
            ("starts_on", 110),
            ("ends_on", 110),
            ("participants", 200),
            ("item_count", 90),
            ("findings", 200),
            ("ideas", 200),
            ("question", 300),
        ],
    );
    let newest = json!([{ "field": "starts_on", "descending": true }]);
    vec![
        ("studies", "All studies", json!({ "order": newest, "fields": columns })),
        ("by_method", "By method", json!({ "order": newest, "fields": columns, "group": [{ "field": "method" }] })),
    ]
}

fn objectives() -> Views {
    let columns = table(
        1,
        &[
            ("title", 240),
            ("measure", 150),
            ("unit", 80),
            ("start_value", 70),
            ("present_value", 70),
            ("target_value", 74),
            ("path", 196),
            ("due_on", 110),
            ("owner_id", 120),
            ("state", 110),
            ("ideas", 240),
        ],
    );
    vec![("path", "On the way", json!({ "order": [{ "field": "due_on" }], "fields": columns }))]
}

fn ideas() -> Views {
    let best = json!([{ "field": "score", "descending": true }]);
    let ranking = table(
        2,
        &[
            ("rank", 56),
            ("title", 270),
            ("state", 104),
            ("reach", 76),
            ("impact", 76),
            ("confidence", 96),
            ("told_confidence", 96),
            ("grade", 130),
            ("effort", 76),
            ("score", 70),
            ("people", 76),
            ("accounts", 88),
            ("revenue", 96),
            ("findings", 200),
        ],
    );
    let decisions = table(
        1,
        &[("title", 240), ("outcome", 96), ("decided_on", 112), ("reason", 300), ("score_then", 96), ("score", 70)],
    );
    let waiting = table(1, &[("title", 280), ("decided_on", 112), ("score", 76), ("reason", 300)]);
    vec![
        ("ranking", "By RICE", json!({ "order": best, "fields": ranking })),
        (
            "effort_impact",
            "Effort and impact",
            json!({ "kind": "chart", "fields": [], "chart": { "kind": "scatter", "x": "effort", "y": "impact",
                "size": "revenue", "colour": "grade", "label": "title" } }),
        ),
        (
            "decisions",
            "Decisions",
            json!({ "order": [{ "field": "decided_on", "descending": true }], "fields": decisions,
                "filter": { "field": "decided_on", "operator": "filled" } }),
        ),
        (
            "unwritten",
            "Chosen, not written yet",
            json!({ "order": best, "fields": waiting, "filter": { "and": [
                { "field": "state", "operator": "is", "value": "chosen" },
                { "field": "epics", "operator": "empty" },
            ] } }),
        ),
    ]
}

fn competitor_notes() -> Views {
    let columns = table(
        1,
        &[("words", 360), ("competitor", 140), ("capability", 200), ("offers", 90), ("from", 240), ("noted_on", 110)],
    );
    let newest = json!([{ "field": "noted_on", "descending": true }]);
    vec![
        ("notes", "All notes", json!({ "order": newest, "fields": columns })),
        (
            "open",
            "Of no capability yet",
            json!({ "order": newest, "fields": columns,
            "filter": { "field": "capability", "operator": "empty" } }),
        ),
    ]
}

fn requests() -> Views {
    let columns = table(
        1,
        &[
            ("words", 330),
            ("became", 120),
            ("came_on", 106),
            ("sender", 150),
            ("proof", 90),
            ("person", 120),
            ("account", 120),
            ("revenue", 100),
            ("ideas", 220),
            ("reply", 220),
            ("form_id", 150),
        ],
    );
    let newest = json!([{ "field": "came_on", "descending": true }]);
    vec![
        (
            "open",
            "Behind no idea yet",
            json!({ "order": newest, "fields": columns,
                "filter": { "and": [{ "field": "ideas", "operator": "empty" }, { "field": "state", "operator": "empty" }] } }),
        ),
        ("requests", "All requests", json!({ "order": newest, "fields": columns })),
    ]
}

fn increments() -> Views {
    let columns = table(
        2,
        &[
            ("reference", 70),
            ("title", 260),
            ("idea_id", 200),
            ("shows", 240),
            ("measure", 180),
            ("effort", 80),
            ("quarter", 90),
            ("state", 110),
            ("stories", 160),
            ("done", 124),
        ],
    );
    let first = json!([{ "field": "quarter" }]);
    vec![
        ("quarters", "By quarter", json!({ "order": first, "fields": columns, "group": [{ "field": "quarter" }] })),
        ("ideas", "By idea", json!({ "order": first, "fields": columns, "group": [{ "field": "idea_id" }] })),
    ]
}

fn work_items() -> Views {
    let stories = json!({ "field": "level", "operator": "is", "value": "story" });
    let columns = table(
        2,
        &[
            ("reference", 96),
            ("title", 270),
            ("points", 70),
            ("moscow", 90),
            ("state", 116),
            ("missing", 220),
            ("release_id", 120),
            ("needs", 160),
        ],
    );
    let epics = table(2, &[("reference", 96), ("title", 300), ("points_below", 110), ("done", 124), ("ideas", 220)]);
    vec![
        (
            "stories",
            "Stories by epic",
            json!({ "filter": stories, "group": [{ "field": "parent_id" }], "fields": columns,
                "totals": [{ "field": "points", "measure": "sum" }] }),
        ),
        (
            "epics",
            "Epics",
            json!({ "filter": { "field": "level", "operator": "is", "value": "epic" }, "fields": epics }),
        ),
    ]
}

fn releases() -> Views {
    let columns = table(
        1,
        &[
            ("title", 150),
            ("state", 116),
            ("starts_on", 110),
            ("ends_on", 110),
            ("capacity", 80),
            ("load", 190),
            ("trouble", 140),
            ("points", 70),
            ("done", 124),
        ],
    );
    vec![("plan", "What goes out", json!({ "order": [{ "field": "ends_on" }], "fields": columns }))]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::{Context, check_view, registered};
    use jiff::civil::date;
    use std::collections::BTreeSet;

    #[test]
    fn each_asks_only_for_what_is_there() {
        let mut count = 0;
        for collection in Collection::ALL.iter().copied() {
            let fields = registered(collection);
            let context = Context { fields: &fields, today: date(2026, 2, 18), me: None };
            let views = first_views(collection);
            let keys: BTreeSet<&str> = views.iter().map(|view| view.key.as_str()).collect();
            assert_eq!(keys.len(), views.len(), "{collection}");
            for view in &views {
                assert_eq!(check_view(&view.definition, &context), Ok(()), "{collection} {}", view.key);
                count += 1;
            }
        }
        assert_eq!(count, 26, "a definition that cannot be read is left out");
    }
}
