//! What each kind of thing is, as the interface knows it: a TypeScript module, made from the descriptions in core.

use std::collections::BTreeMap;

use iron_kite_core::fields::Collection;
use iron_kite_core::kind::Adding;
use iron_kite_core::role::Right;
use iron_kite_core::things::ThingKind;
use serde::Serialize;

const HEAD: &str = "\
/** What each kind of thing is: its words, its place, and the least role that may add, change or remove one by hand. */
";

/// The module. It is written by `cargo xtask generate`.
pub(crate) fn kinds() -> Result<String, serde_json::Error> {
    let all: BTreeMap<&str, Shown> = ThingKind::ALL.iter().map(|kind| (kind.name(), shown(*kind))).collect();
    let collections: Vec<&str> = Collection::ALL.iter().map(|one| one.kind().name()).collect();
    Ok(format!(
        "{HEAD}export const KINDS = {} as const\n\n/** The kinds whose things are listed, in the order of the line. */\nexport const COLLECTIONS = {} as const\n",
        serde_json::to_string_pretty(&all)?,
        serde_json::to_string(&collections)?,
    ))
}

/// A kind as the interface knows it.
#[derive(Serialize)]
struct Shown {
    singular: &'static str,
    plural: &'static str,
    letter: Option<char>,
    stage: &'static str,
    heading: Option<&'static str>,
    title: Option<&'static str>,
    states: Option<BTreeMap<&'static str, &'static [&'static str]>>,
    add: Option<&'static str>,
    change: &'static str,
    remove: Option<&'static str>,
}

fn shown(kind: ThingKind) -> Shown {
    let told = kind.description();
    let role = |right: Right| right.least().name();
    Shown {
        singular: told.singular,
        plural: told.plural,
        letter: told.letter,
        stage: told.stage.name(),
        heading: told.list.map(|list| list.heading),
        title: told.list.map(|list| list.title),
        states: told.states.map(|states| states.steps.iter().copied().collect()),
        add: match told.rights.add {
            Adding::ByFields(right) => Some(role(right)),
            Adding::Otherwise | Adding::Comes { .. } => None,
        },
        change: role(told.rights.change),
        remove: told.rights.remove.map(role),
    }
}
