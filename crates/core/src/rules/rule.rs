//! A rule as it is kept, and how it is checked.

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use super::adds::way_to_add;
use crate::fields::{Collection, Condition, Context, FieldDef, FieldType, Filter, check_value};
use crate::kind::prelude::*;
use crate::problem::Fault;
use crate::role::Role;
use crate::things::{ProductId, RuleId, TeamId};

/// A rule as it is stored.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Rule {
    /// Its number.
    pub id: RuleId,
    /// Its revision.
    pub rev: i64,
    /// The product whose things it looks at.
    pub product_id: ProductId,
    /// What people call it.
    pub title: String,
    /// Its [`RuleDefinition`] as JSON in text.
    pub definition: String,
    /// 1 where it runs.
    pub runs: i64,
    /// Who made it.
    pub by_id: Option<i64>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "rule",
    singular: "rule",
    plural: "rules",
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("title"), Prose::Told("definition")],
    rights: Rights::made(Right::Edit),
    ..Description::BASE
};

/// When, if and then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RuleDefinition {
    /// The collection whose things it looks at.
    pub collection: Collection,
    /// What sets it off.
    pub when: When,
    /// What must hold for the thing; anything where nothing is said.
    #[serde(default)]
    pub only_if: Option<Filter>,
    /// What is done, in this order.
    pub then: Vec<Act>,
}

/// What sets a rule off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "sort", rename_all = "snake_case")]
pub enum When {
    /// A field of a thing that was there before has this value from now on.
    Becomes {
        /// The field.
        field: String,
        /// The value; nothing stands for "empty".
        value: Value,
    },
    /// A thing is added.
    Created,
    /// The day of a field comes, or comes within so many days, or is so many days ago.
    DayComes {
        /// The field.
        field: String,
        /// Days after it; less than nothing for before.
        #[serde(default)]
        days: i32,
    },
}

/// One step of what a rule does. In words of its own, `{reference}` and `{title}` stand for the thing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "act", rename_all = "snake_case")]
pub enum Act {
    /// Give a field a value.
    Set {
        /// The field.
        field: String,
        /// The value.
        value: Value,
    },
    /// Bring the thing to a state that only a step of its own leads to: an idea is chosen, a story goes through its team's
    /// queue, a release goes out.
    Move {
        /// The state.
        to: String,
        /// For a story that is not handed over yet: to which team.
        #[serde(default)]
        team: Option<TeamId>,
    },
    /// Add a thing that hangs on this one.
    Create {
        /// The field of this thing that shows the new one.
        field: String,
        /// What the new thing is called.
        title: String,
    },
    /// Tell people.
    Notify {
        /// Whom, by number.
        #[serde(default)]
        people: Vec<i64>,
        /// All who have one of these roles.
        #[serde(default)]
        roles: Vec<Role>,
        /// Who answers for the thing: a field that holds somebody of the team.
        #[serde(default)]
        field: Option<String>,
        /// What they are told.
        words: String,
    },
    /// Write a comment on the thing.
    Comment {
        /// What it says, in Markdown.
        words: String,
    },
}

/// At most so many steps.
pub const MOST_ACTS: usize = 10;
/// Days that a rule may look ahead or back.
const FAR: i32 = 365;
/// The longest words of a step, in characters.
const WORDS: usize = 2_000;

/// The states that things of a collection are moved to by steps of their own.
#[must_use]
pub fn moves_to(collection: Collection) -> &'static [&'static str] {
    match collection {
        Collection::Idea => &["chosen", "set_aside"],
        Collection::WorkItem => &["handed_over", "in_build", "in_check", "done"],
        Collection::Release => &["planned", "under_way", "released"],
        _ => &[],
    }
}

impl RuleDefinition {
    /// Checks a rule. `looked_at` are the fields that stand in the thing itself (see [`looks_at`](super::looks_at)), `all`
    /// those of the collection. Gives the condition for the day of `context`.
    ///
    /// # Errors
    /// Every part at fault, by a pointer below `/definition`, with what would be right.
    pub fn check(&self, looked_at: &Context<'_>, all: &[FieldDef]) -> Result<Condition, Vec<Fault>> {
        let mut faults = Vec::new();
        if !has_rules(self.collection) {
            let words = format!("Rules are not made for {}.", self.collection.words());
            faults.push(Fault::new("/definition/collection", words));
        }
        faults.extend(self.check_when(looked_at).err());
        if self.then.is_empty() || self.then.len() > MOST_ACTS {
            faults.push(Fault::new("/definition/then", format!("Say what is to be done, in 1 to {MOST_ACTS} steps.")));
        }
        for (n, act) in self.then.iter().enumerate() {
            faults.extend(self.check_act(act, all, &format!("/definition/then/{n}")).err());
        }
        let condition = match &self.only_if {
            None => Ok(Condition::All(Vec::new())),
            Some(filter) => filter.check(looked_at, "/definition/only_if"),
        };
        match condition {
            Ok(condition) if faults.is_empty() => Ok(condition),
            Ok(_) => Err(faults),
            Err(more) => Err(faults.into_iter().chain(more).collect()),
        }
    }

    fn check_when(&self, context: &Context<'_>) -> Result<(), Fault> {
        match &self.when {
            When::Created => Ok(()),
            When::Becomes { field, value } => {
                let def = context.field(field, "/definition/when/field")?;
                if value.is_null() {
                    return Ok(());
                }
                let checked = check_value(&def.label, &def.kind, value.clone());
                checked.map(drop).map_err(|words| Fault::new("/definition/when/value", words))
            }
            When::DayComes { field, days } => {
                let def = context.field(field, "/definition/when/field")?;
                if !matches!(def.kind, FieldType::Date) {
                    let words = format!("'{}' is no day. Take a field that is.", def.label);
                    return Err(Fault::new("/definition/when/field", words));
                }
                if days.abs() > FAR {
                    return Err(Fault::new("/definition/when/days", format!("At most {FAR} days before or after.")));
                }
                Ok(())
            }
        }
    }

    fn check_act(&self, act: &Act, all: &[FieldDef], at: &str) -> Result<(), Fault> {
        let find = |name: &str| {
            let found = all.iter().find(|field| field.name == name);
            found.ok_or_else(|| {
                Fault::new(format!("{at}/field"), format!("There is no field '{name}' here; pick another."))
            })
        };
        match act {
            Act::Set { field, value } => {
                let def = find(field)?;
                if let Some(governed) = &def.governed {
                    let words = format!("'{}' is not set. {governed}", def.label);
                    return Err(Fault::new(format!("{at}/field"), words));
                }
                if !def.editable {
                    return Err(Fault::new(format!("{at}/field"), format!("'{}' is computed.", def.label)));
                }
                let checked =
                    if value.is_null() { Ok(Value::Null) } else { check_value(&def.label, &def.kind, value.clone()) };
                checked.map(drop).map_err(|words| Fault::new(format!("{at}/value"), words))
            }
            Act::Move { to, .. } if moves_to(self.collection).contains(&to.as_str()) => Ok(()),
            Act::Move { .. } => {
                let words = match moves_to(self.collection) {
                    [] => format!("{} are not moved; set a field instead.", self.collection.words()),
                    states => format!("Move it to one of: {}.", states.join(", ").replace('_', " ")),
                };
                Err(Fault::new(format!("{at}/to"), words))
            }
            Act::Create { field, title } => {
                let def = find(field)?;
                if way_to_add(self.collection, def).is_none() {
                    let words = format!("Nothing is added through '{}'; pick another field.", def.label);
                    return Err(Fault::new(format!("{at}/field"), words));
                }
                said(title, TITLE, &format!("{at}/title"))
            }
            Act::Notify { people, roles, field, words } => {
                if let Some(name) = field
                    && !matches!(find(name)?.kind, FieldType::Member)
                {
                    return Err(Fault::new(format!("{at}/field"), "Take a field that holds somebody of the team."));
                }
                if people.is_empty() && roles.is_empty() && field.is_none() {
                    return Err(Fault::new(format!("{at}/people"), "Say who is told."));
                }
                said(words, WORDS, &format!("{at}/words"))
            }
            Act::Comment { words } => said(words, WORDS, &format!("{at}/words")),
        }
    }
}

fn said(words: &str, most: usize, at: &str) -> Result<(), Fault> {
    match words.trim().chars().count() {
        0 => Err(Fault::new(at, "Say what it is to say.")),
        n if n > most => Err(Fault::new(at, format!("At most {most} characters."))),
        _ => Ok(()),
    }
}

/// Rules look at what belongs to a product as a whole; excerpts come and go with their items, people and accounts belong to
/// the workspace.
fn has_rules(collection: Collection) -> bool {
    collection.is_of_product() && collection != Collection::Excerpt
}

/// The values of a thing that a rule looks at, as they are kept. Links and members are numbers.
pub(super) type Values = Map<String, Value>;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::registered;
    use jiff::civil::date;
    use serde_json::json;

    fn faults(rule: Value) -> Vec<String> {
        let rule: RuleDefinition = serde_json::from_value(rule).unwrap();
        let fields = registered(rule.collection);
        let context = Context { fields: &fields, today: date(2026, 6, 30), me: None };
        rule.check(&context, &fields).err().unwrap_or_default().into_iter().map(|fault| fault.field).collect()
    }

    #[test]
    fn a_rule_that_can_run_passes() {
        let rule = json!({
            "collection": "idea", "when": { "sort": "becomes", "field": "state", "value": "chosen" },
            "only_if": { "field": "effort", "operator": "more", "value": 8 },
            "then": [
                { "act": "create", "field": "epics", "title": "Build {title}" },
                { "act": "notify", "roles": ["editor"], "words": "{reference} was chosen." },
                { "act": "set", "field": "moscow", "value": "must" },
                { "act": "comment", "words": "Chosen; who builds it?" },
                { "act": "move", "to": "set_aside" },
            ],
        });
        assert_eq!(faults(rule), [""; 0]);
        let day = json!({ "collection": "release", "when": { "sort": "day_comes", "field": "ends_on", "days": -7 },
            "then": [{ "act": "notify", "people": [1], "words": "{reference} ends in a week." }] });
        assert_eq!(faults(day), [""; 0]);
    }

    #[test]
    fn every_part_at_fault_is_named() {
        let wrong = json!({
            "collection": "idea", "when": { "sort": "becomes", "field": "state", "value": "shipping" },
            "only_if": { "field": "no_such", "operator": "is", "value": 8 },
            "then": [
                { "act": "set", "field": "state", "value": "chosen" },
                { "act": "set", "field": "effort", "value": "much" },
                { "act": "move", "to": "shipped" },
                { "act": "create", "field": "title", "title": "x" },
                { "act": "notify", "words": "x" },
                { "act": "notify", "field": "title", "words": "x" },
                { "act": "comment", "words": " " },
            ],
        });
        assert_eq!(
            faults(wrong),
            [
                "/definition/when/value",
                "/definition/then/0/field",
                "/definition/then/1/value",
                "/definition/then/2/to",
                "/definition/then/3/field",
                "/definition/then/4/people",
                "/definition/then/5/field",
                "/definition/then/6/words",
                "/definition/only_if/field",
            ]
        );
        let day = json!({ "collection": "excerpt", "when": { "sort": "day_comes", "field": "kind" }, "then": [] });
        assert_eq!(faults(day), ["/definition/collection", "/definition/when/field", "/definition/then"]);
    }
}
