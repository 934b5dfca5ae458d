//! What a rule waits for and does, in words.

use super::event::fill_in;
use super::rule::{Act, RuleDefinition, When};
use crate::fields::{FieldDef, show};
use crate::history::{Names, label_in_words};
use crate::things::{Thing, ThingKind};

/// The fields of a rule's collection and the names of people and things, with which it is told.
#[derive(Clone, Copy)]
pub struct Telling<'a> {
    /// The fields of the collection.
    pub fields: &'a [FieldDef],
    /// How people and things are called.
    pub names: &'a dyn Names,
}

impl Telling<'_> {
    fn label(&self, name: &str) -> String {
        self.find(name).map_or_else(|| name.replace('_', " "), |field| label_in_words(&field.label))
    }

    fn find(&self, name: &str) -> Option<&FieldDef> {
        self.fields.iter().find(|field| field.name == name)
    }

    fn value(&self, name: &str, value: &serde_json::Value) -> String {
        use crate::fields::{FieldType, values_of_links};
        let Some(field) = self.find(name) else { return value.to_string() };
        if value.is_null() {
            return "nothing".into();
        }
        let numbers = || values_of_links(value).unwrap_or_default();
        match &field.kind {
            FieldType::Member => numbers().into_iter().map(|id| self.names.person(id)).collect::<Vec<_>>().join(", "),
            FieldType::Link { to, .. } => {
                let called = numbers().into_iter().map(|id| self.names.thing(Thing::new(to.kind(), id)));
                called.collect::<Vec<_>>().join(", ")
            }
            kind => show(kind, value),
        }
    }

    /// What sets a rule off: "an idea's state becomes chosen".
    #[must_use]
    pub fn when(&self, rule: &RuleDefinition) -> String {
        let one = with_article(rule.collection.kind().words());
        match &rule.when {
            When::Created => format!("{one} is added"),
            When::Becomes { field, value } => {
                format!("{} of {one} becomes {}", self.label(field), self.value(field, value))
            }
            When::DayComes { field, days } => {
                let day = |days: u32| if days == 1 { "1 day".to_owned() } else { format!("{days} days") };
                let by = match days {
                    0 => "comes".into(),
                    after if *after > 0 => format!("is {} ago", day(after.unsigned_abs())),
                    before => format!("is {} away", day(before.unsigned_abs())),
                };
                format!("the day “{}” of {one} {by}", self.label(field))
            }
        }
    }

    /// What is done by one step, to a thing that is called so.
    #[must_use]
    pub fn act(&self, act: &Act, reference: &str, title: &str) -> String {
        let said = |words: &str| fill_in(words, reference, title);
        match act {
            Act::Set { field, value } => format!("set {} to {}", self.label(field), self.value(field, value)),
            Act::Move { to, team } => {
                let team = team.map(|team| format!(" in {}", self.names.thing(Thing::new(ThingKind::Team, team))));
                format!("move it to {}{}", to.replace('_', " "), team.unwrap_or_default())
            }
            Act::Create { field, title } => format!("add “{}” to its {}", said(title), self.label(field)),
            Act::Notify { people, roles, field, words } => {
                let people = people.iter().map(|id| self.names.person(*id));
                let roles = roles.iter().map(|role| format!("every {}", role.name()));
                let field = field.iter().map(|field| self.label(field));
                let whom: Vec<String> = people.chain(roles).chain(field).collect();
                format!("tell {}: “{}”", whom.join(", "), said(words))
            }
            Act::Comment { words } => format!("comment “{}”", said(words)),
        }
    }

    /// All that is done, to a thing that is called so.
    #[must_use]
    pub fn then(&self, rule: &RuleDefinition, reference: &str, title: &str) -> String {
        rule.then.iter().map(|act| self.act(act, reference, title)).collect::<Vec<_>>().join("; ")
    }
}

fn with_article(words: &str) -> String {
    let article = if words.starts_with(['a', 'e', 'i', 'o']) { "an" } else { "a" };
    format!("{article} {words}")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::registered;
    use serde_json::json;

    struct Called;

    impl Names for Called {
        fn thing(&self, thing: Thing) -> String {
            format!("the {} {}", thing.kind.words(), thing.id)
        }

        fn person(&self, id: i64) -> String {
            format!("person {id}")
        }
    }

    fn told(rule: serde_json::Value) -> (String, String) {
        let rule: RuleDefinition = serde_json::from_value(rule).unwrap();
        let fields = registered(rule.collection);
        let telling = Telling { fields: &fields, names: &Called };
        (telling.when(&rule), telling.then(&rule, "I6", "Quiet cabin"))
    }

    #[test]
    fn a_rule_is_told_as_people_would() {
        let (when, then) = told(json!({
            "collection": "idea", "when": { "sort": "becomes", "field": "state", "value": "set_aside" },
            "then": [
                { "act": "set", "field": "moscow", "value": "wont" },
                { "act": "notify", "people": [2], "roles": ["editor"], "words": "{title} is out." },
                { "act": "create", "field": "epics", "title": "Build {title}" },
            ],
        }));
        assert_eq!(when, "state of an idea becomes set aside");
        assert_eq!(
            then,
            "set MoSCoW to won’t; tell person 2, every editor: “Quiet cabin is out.”; add “Build Quiet cabin” to its epics"
        );
        let (when, then) = told(json!({
            "collection": "objective", "when": { "sort": "day_comes", "field": "due_on", "days": -1 },
            "then": [{ "act": "set", "field": "owner_id", "value": 3 }, { "act": "comment", "words": "Due, {reference}" }],
        }));
        assert_eq!(when, "the day “by” of an objective is 1 day away");
        assert_eq!(then, "set who answers for it to person 3; comment “Due, I6”");
        let (when, then) = told(json!({
            "collection": "work_item", "when": { "sort": "created" },
            "then": [{ "act": "move", "to": "handed_over", "team": 1 }],
        }));
        assert_eq!((when.as_str(), then.as_str()), ("a work item is added", "move it to handed over in the team 1"));
    }
}
