//! What many people did to many things, in a few sentences.

use serde::Serialize;

use crate::things::ThingKind;

/// What was done to a thing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Verb {
    /// It came.
    Added,
    /// It changed.
    Changed,
    /// It went.
    Removed,
}

/// How many things of a kind somebody did one thing to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Done {
    /// Who; nobody where a command or a rule did it.
    pub who: Option<String>,
    /// By what way: person, import, undo, rule, engine.
    pub way: String,
    /// To what.
    pub kind: ThingKind,
    /// What.
    pub verb: Verb,
    /// To how many, each once.
    pub things: usize,
    /// What people call the newest of them.
    pub example: String,
}

/// A sentence about what one person did.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sentence {
    /// Who.
    pub who: String,
    /// What the person did, with the full stop: "added 2 ideas and changed I6."
    pub words: String,
}

/// So many things are told of one person; the rest is counted.
const PARTS: usize = 4;

/// Tells what was done, whoever did most first, and of each what was done to most things first. Links, columns and whatever
/// else people do not speak of are left out. O(n log n).
#[must_use]
pub fn told(done: &[Done]) -> Vec<Sentence> {
    let who_of = |one: &Done| match (one.way.as_str(), &one.who) {
        ("rule", _) => "Rules".to_owned(),
        ("engine", _) => "The engine".to_owned(),
        (_, Some(who)) => who.clone(),
        _ => "A command".to_owned(),
    };
    let spoken: Vec<(&Done, String)> =
        done.iter().filter(|one| one.kind.description().spoken_of).map(|one| (one, who_of(one))).collect();
    let mut people: Vec<(String, usize)> = Vec::new();
    for (one, who) in &spoken {
        match people.iter_mut().find(|(name, _)| name == who) {
            Some((_, things)) => *things += one.things,
            None => people.push((who.clone(), one.things)),
        }
    }
    people.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    people.into_iter().map(|(who, _)| sentence(&who, &spoken)).collect()
}

fn sentence(who: &str, spoken: &[(&Done, String)]) -> Sentence {
    let mut own: Vec<&Done> = spoken.iter().filter(|(_, name)| name == who).map(|(one, _)| *one).collect();
    own.sort_by(|a, b| b.things.cmp(&a.things).then_with(|| (a.verb, a.kind).cmp(&(b.verb, b.kind))));
    let mut parts: Vec<String> = own.iter().take(PARTS).map(|one| part(one)).collect();
    let rest: usize = own.iter().skip(PARTS).map(|one| one.things).sum();
    if rest > 0 {
        parts.push(format!("{rest} more {}", if rest == 1 { "change" } else { "changes" }));
    }
    let words = match parts.split_last() {
        Some((last, before)) if !before.is_empty() => format!("{} and {last}.", before.join(", ")),
        _ => format!("{}.", parts.concat()),
    };
    Sentence { who: who.to_owned(), words }
}

fn part(one: &Done) -> String {
    let verb = match (one.verb, one.way.as_str(), one.kind) {
        (Verb::Added, "import", _) => "brought in",
        (Verb::Added, _, ThingKind::Comment | ThingKind::Decision) => "wrote",
        (Verb::Added, ..) => "added",
        (Verb::Changed, ..) => "changed",
        (Verb::Removed, ..) => "removed",
    };
    if one.things == 1 {
        format!("{verb} {}", one.example)
    } else {
        format!("{verb} {} {}", one.things, one.kind.description().plural)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn done(who: &str, way: &str, kind: ThingKind, verb: Verb, things: usize) -> Done {
        let example = format!("{}7", kind.letter().unwrap_or('?'));
        Done { who: (!who.is_empty()).then(|| who.to_owned()), way: way.into(), kind, verb, things, example }
    }

    #[test]
    fn each_person_has_one_sentence_and_whoever_did_most_comes_first() {
        let all = [
            done("Tamar", "person", ThingKind::Idea, Verb::Changed, 3),
            done("Joss", "import", ThingKind::FeedbackItem, Verb::Added, 42),
            done("Joss", "import", ThingKind::Excerpt, Verb::Added, 90),
            done("Tamar", "person", ThingKind::Release, Verb::Added, 1),
            done("Tamar", "person", ThingKind::Link, Verb::Added, 9),
            done("", "rule", ThingKind::WorkItem, Verb::Changed, 2),
        ];
        let told: Vec<String> = told(&all).into_iter().map(|one| format!("{} {}", one.who, one.words)).collect();
        assert_eq!(
            told,
            [
                "Joss brought in 42 feedback items.",
                "Tamar changed 3 ideas and added R7.",
                "Rules changed 2 work items."
            ]
        );
    }

    #[test]
    fn what_is_too_much_to_tell_is_counted() {
        let kinds = [
            ThingKind::Idea,
            ThingKind::Release,
            ThingKind::WorkItem,
            ThingKind::Study,
            ThingKind::Page,
            ThingKind::Term,
        ];
        let all: Vec<Done> =
            kinds.into_iter().enumerate().map(|(n, kind)| done("Wren", "person", kind, Verb::Changed, 7 - n)).collect();
        assert_eq!(
            told(&all)[0].words,
            "changed 7 ideas, changed 6 releases, changed 5 work items, changed 4 studies and 5 more changes."
        );
        assert_eq!(told(&[]), []);
    }
}
