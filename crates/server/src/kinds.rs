//! What each kind of thing is, as the interface knows it: a TypeScript module, made from the descriptions in core.

use std::collections::BTreeMap;

use iron_kite_core::fields::Collection;
use iron_kite_core::kind::{Adding, Description};
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use serde_json::{Value, json};

const HEAD: &str = "\
/** What each kind of thing is: its words, its place, and the least role that may add, change or remove one by hand. */
";

/// The module. It is written by `cargo xtask generate`.
pub(crate) fn kinds() -> Result<String, serde_json::Error> {
    let all: BTreeMap<&str, Value> = ThingKind::ALL.iter().map(|kind| (kind.name(), shown(*kind))).collect();
    let collections: Vec<&str> = Collection::ALL.iter().map(|one| one.kind().name()).collect();
    Ok(format!(
        "{HEAD}export const KINDS = {} as const\n\n/** The kinds whose things are listed, in the order of the line. */\nexport const COLLECTIONS = {} as const\n",
        serde_json::to_string_pretty(&all)?,
        serde_json::to_string(&collections)?,
    ))
}

fn shown(kind: ThingKind) -> Value {
    let Description { singular, plural, letter, stage, list, states, rights, .. } = kind.description();
    let role = |right: Right| right.least().name();
    let add = match rights.add {
        Adding::ByFields(right) => Some(role(right)),
        Adding::Otherwise | Adding::Comes { .. } => None,
    };
    let steps = states.map(|states| states.steps.iter().copied().collect::<BTreeMap<_, _>>());
    json!({
        "states": steps,
        "singular": singular,
        "plural": plural,
        "letter": letter,
        "stage": stage.name(),
        "heading": list.map(|list| list.heading),
        "title": list.map(|list| list.title),
        "add": add,
        "change": role(rights.change),
        "remove": rights.remove.map(role),
    })
}
